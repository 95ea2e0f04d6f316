"""Where tabs end."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from nestline.copy.breaks import MANDATORY
from nestline.copy.stretches import Stretch
from nestline.copy.styles import Rules
from nestline.document.lengths import Length

Floats = NDArray[np.float64]


DEFAULT_TAB = 3.0
"""Where no tabs are set, one leads to the next multiple of so many ems."""
LEAST_TAB = 0.25
"""The least room of a tab, in ems."""


def set_tabs(text: str, rules: Rules, stretches: list[Stretch], x: Floats, fills: Floats) -> None:
    """Give every tab the width that leads to its place, counted from the start of its line in the copy."""
    places = sorted(
        ((t.at.points(rules.size), t) for t in rules.tabs if isinstance(t.at, Length)), key=lambda place: place[0]
    )
    to_end = next((t for t in rules.tabs if t.at == "end"), None)
    least = LEAST_TAB * rules.size
    line_start = 0
    for number, stretch in enumerate(stretches):
        if stretch.role != "tab":
            continue
        at = stretch.start
        for i in range(line_start, at):
            if text[i] in MANDATORY:
                line_start = i + 1
        indent = rules.indent + (rules.first_indent if line_start == 0 else 0.0)
        here = indent + float(x[at] - x[line_start])
        stop = at + 1
        while stop < len(text) and text[stop] != "\t" and text[stop] not in MANDATORY:
            stop += 1
        following = float(x[stop] - x[at + 1])
        wanted, leader = -1.0, ""
        for place, tab in places:
            width = place - here - _share_before(tab.align, text, at + 1, stop, x, following)
            if place > here + 1e-6 and width >= 0:
                wanted, leader = max(width, least if tab.align != "start" else width), tab.leader
                break
        if wanted < 0 and to_end is not None:
            wanted, leader = least, to_end.leader
            fills[at + 1 :] += 1
        elif wanted < 0:
            step = DEFAULT_TAB * rules.size
            wanted = (int(here / step + 1e-9) + 1) * step - here
        stretches[number] = replace(stretch, advance=wanted, leader=leader)
        x[at + 1 :] += wanted


def _share_before(align: str, text: str, start: int, stop: int, x: Floats, following: float) -> float:
    """How much of what follows a tab stands before its place."""
    if align == "center":
        return following / 2
    if align == "end":
        return following
    if align == "figure":
        mark = next((i for i in range(start, stop) if text[i] in ".,"), stop)
        return float(x[mark] - x[start])
    return 0.0
