"""What the eye sees of columns, for `./nest quality`: rivers and evenness by the pixels of the page, the rag, columns'
feet."""

from __future__ import annotations

import random
import sys
from copy import deepcopy
from typing import Any

import numpy as np
import pypdfium2
from numpy.typing import NDArray

from benchmarks.browser import ROOT
from benchmarks.sheets import FONTS, LANGUAGES, LETTER, by_breaking, set_by, sheets, words_of

sys.path[:0] = [str(ROOT / "core" / "tests")]

from nestline import rows as k  # noqa: E402
from nestline.nesting.frame_nest import FrameNest  # noqa: E402
from nestline.output.pdf import write_pdf  # noqa: E402

DPI = 216
GAP, OVERLAP, LINES = 0.5, 0.5, 3
"""A river by pixels: white in the x-height of so many lines below one another, each so much wider than the white of a
word space as the font has it, and over the next by so much, in word spaces of the font."""
Runs = list[tuple[float, float]]


def ink_of(raw: dict[str, Any]) -> tuple[FrameNest, NDArray[np.bool_]]:
    """A document's first nest, and where its page has ink, in pixels."""
    from support import no_pictures, studio

    made = studio()
    raw = deepcopy(raw)
    page, thing = raw["pages"][0], raw["pages"][0]["objects"][0]
    page["width"], page["height"] = (
        thing["x"] + thing["width"] + 20,
        float(made.nest(made.read(raw))[0].nest.stand_y) + 20,
    )
    document = made.read(raw)
    placed = made.nest(document)
    pdf = write_pdf(document, placed, no_pictures)
    drawn = pypdfium2.PdfDocument(pdf)[0].render(scale=DPI / 72).to_pil()
    return placed[0].nest, np.asarray(drawn.convert("L")) < 140


def white_runs(ink: NDArray[np.bool_], nest: FrameNest, number: int) -> tuple[Runs, float]:
    """The stretches of a line's x-height without ink, between its letters, in points; and its share of ink."""
    row, scale = nest.records[number], DPI / 72
    size = float(nest.copy.rules[int(nest.copy.pieces[int(row[k.FIRST]), k.PARAGRAPH]), k.SIZE])
    top, bottom = round((row[k.BASELINE] - 0.42 * size) * scale), round(row[k.BASELINE] * scale)
    left, right = round(row[k.LEFT] * scale), round(row[k.RIGHT] * scale)
    band = ink[top:bottom, left:right]
    dark = np.flatnonzero(band.any(axis=0))
    if len(dark) < 2:
        return [], 0.0
    steps = np.flatnonzero(np.diff(dark) > 1)
    runs = [((left + dark[i] + 1) / scale, (left + dark[i + 1]) / scale) for i in steps]
    return runs, float(band[:, dark[0] : dark[-1] + 1].mean())


def white_of_a_space(raw: dict[str, Any]) -> float:
    """The white between two words as the font has it, by the pixels of the same copy set ragged, in points."""
    plain = deepcopy(raw)
    for version in plain["copies"]["story"]["versions"].values():
        version["paragraphs"] = [{**p, "align": "start"} for p in version["paragraphs"]]
    nest, ink = ink_of(plain)
    white: list[float] = []
    for number, (begin, end) in enumerate(nest.ranges):
        spaces = nest.copy.text[int(begin) : int(end)].strip().count(" ")
        runs = sorted((right - left for left, right in white_runs(ink, nest, number)[0]), reverse=True)
        white += runs[:spaces]
    return float(np.median(white))


def rivers_and_ink(nest: FrameNest, ink: NDArray[np.bool_], natural: float) -> tuple[int, list[float]]:
    """How many rivers there are, and each justified line's share of ink; `natural` is the white of a word space."""
    chains: list[tuple[float, float, int]] = []
    found, shares, before = 0, [], -1
    for number, row in enumerate(nest.records):
        first, last = int(row[k.FIRST]), int(row[k.LAST])
        rule = nest.copy.rules[int(nest.copy.pieces[first, k.PARAGRAPH])]
        if row[k.PAST]:
            break
        ends = nest.copy.pieces[last, k.FORCED] > 0
        runs, share = white_runs(ink, nest, number)
        if not ends:
            shares.append(share)
        space, line = float(rule[k.SPACE_WIDTH]), int(row[k.LINE])
        wide = [] if ends else [run for run in runs if run[1] - run[0] >= natural + GAP * space]
        above = chains if line == before + 1 else []
        chains = []
        for left, right in wide:
            length = max(
                (n for a, b, n in above if min(b, right) - max(a, left) >= OVERLAP * space),
                default=0,
            )
            chains.append((left, right, length + 1))
            found += length + 1 == LINES
        before = line
    return found, shares


def by_pixels() -> list[str]:
    """Rows of rivers and evenness on the column sheets, by half."""
    out = []
    for half in ("tuning", "fresh"):
        rivers, uneven = {"optimal": 0, "first-fit": 0}, {"optimal": [], "first-fit": []}
        for one in sheets(200, half):
            if one.kind != "column":
                continue
            natural = white_of_a_space(one.raw)
            for breaking in rivers:
                nest, ink = ink_of(by_breaking(one, breaking))
                found, shares = rivers_and_ink(nest, ink, natural)
                rivers[breaking] += found
                if len(shares) > 2:
                    uneven[breaking].append(float(np.std(shares) / np.mean(shares)))
        spread = {name: float(np.mean(values)) for name, values in uneven.items()}
        out.append(
            f"| {half} | {rivers['optimal']} : {rivers['first-fit']} | ±{spread['optimal']:.1%} : "
            f"±{spread['first-fit']:.1%} |"
        )
    return out


def ragged(count: int = 150) -> list[str]:
    """Rows of ragged columns: steps, wedges, hyphens, last words alone."""
    from support import document, frame, nest_of, paragraph

    out = []
    for breaking in ("optimal", "first-fit"):
        lines = steps = wedges = hyphens = lone = 0
        for number in range(count):
            dice = random.Random(f"rag {number}")
            language, letters = dice.choice(LANGUAGES), dice.randint(18, 60)
            copy = paragraph(
                words_of(dice, language, dice.randint(30, 90)),
                align="start",
                breaking=breaking,
                size=11,
                leading="1.3em",
                hyphenate=dice.random() < 0.5,
                font=dice.choice(FONTS),
            )
            raw = document([frame(width=letters * LETTER * 11, height=3000)], copy)
            raw["copies"]["story"]["versions"]["en"]["language"] = language
            nest = nest_of(raw).nest
            rows = nest.records
            short = (rows[:, k.RIGHT] - rows[:, k.LEFT] - nest.width)[:-1] / 11
            lines += len(short)
            hyphens += int(nest.hyphens.sum())
            begin, end = nest.ranges[-1]
            lone += len(rows) > 1 and " " not in nest.copy.text[int(begin) : int(end)].strip()
            for ends in zip(short, short[1:], short[2:], strict=False):
                a, b, c = ends
                steps += max(ends) - min(ends) < 0.5 and min(ends) >= 1
                wedges += (b - a >= 1 and c - b >= 1) or (a - b >= 1 and b - c >= 1)
        out.append(f"| {breaking.replace('-', ' ')} | {lines} | {steps} | {wedges} | {hyphens} | {lone} of {count} |")
    return out


def feet(count: int = 80) -> list[str]:
    """Rows of columns that copy goes on from: how many end short of the others, and in a hyphen."""
    from support import document, frame, nest_of, paragraph

    out = []
    for breaking in ("optimal", "first-fit"):
        columns = short = hyphens = 0
        for seed in range(count):
            dice = random.Random(seed)
            parts = [
                paragraph(
                    words_of(dice, "en", dice.randint(20, 70)),
                    align="justify",
                    hyphenate=True,
                    size=10,
                    leading="13pt",
                    keep={"start": 2, "end": 2},
                    breaking=breaking,
                )
                for _ in range(14)
            ]
            of = dice.choice([3, 4])
            box = {"width": of * dice.uniform(120, 190), "height": dice.uniform(130, 260), "columns": of, "gutter": 12}
            nest = nest_of(document([frame(**box)], *parts)).nest
            rows = nest.records[~nest.past]
            foot = rows[:, k.BASELINE].max()
            for number in np.flatnonzero(rows[1:, k.COLUMN] != rows[:-1, k.COLUMN]):
                columns += 1
                short += rows[number, k.BASELINE] < foot - 6
                hyphens += int(nest.hyphens[number])
        out.append(f"| {breaking.replace('-', ' ')} | {columns} | {short} | {hyphens} |")
    return out


def worse_than_first_fit() -> str:
    """On how many sheets the best breaks have more of what is a fault than first fit."""
    found = []
    for number, one in enumerate(sheets(200, "all")):
        best, first = set_by(one, "optimal"), set_by(one, "first-fit")
        found += [
            f"sheet {number}, {name}"
            for name in ("unfilled", "across", "ladders")
            if getattr(best, name) > getattr(first, name)
        ]
    return (
        f"Sheets with more unfilled lines, hyphens across gaps or ladders than first fit: {', '.join(found) or 'none'}."
    )
