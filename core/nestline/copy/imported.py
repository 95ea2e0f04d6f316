"""What a text file comes to: paragraphs of the open format, and what of the file they leave out."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from typing import Any

from nestline.document.model import OBJECT
from nestline.errors import NestLineError

LINE_BREAK = "\u2028"
LETTER, APART = 0.48, 1.0
"""How wide a letter of a table is taken to be, and how far its columns stand apart, in ems."""
Raw = dict[str, Any]
RAISED = str.maketrans("0123456789+-=()n", "⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁼⁽⁾ⁿ")
LOWERED = str.maketrans("0123456789+-=()", "₀₁₂₃₄₅₆₇₈₉₊₋₌₍₎")
OF_MANY = {"picture": "pictures", "footnote": "footnotes", "formula": "formulas", "symbol": "symbols"}
"""What is left out of a file, one and more of it."""


class TextError(NestLineError):
    """The file cannot be read as text."""

    code = "text"


@dataclass
class Imported:
    """Paragraphs in the open format, and the names of heading levels they use."""

    paragraphs: list[Raw] = field(default_factory=list)
    headings: set[int] = field(default_factory=set)
    looks: dict[int, Raw] = field(default_factory=dict)
    """What the styles of its headings look like in the file, by level."""
    rows: list[tuple[int, Raw, list[int]]] = field(default_factory=list)
    """Rows of its tables: which table's, the paragraph, how many letters are in each cell."""
    missing: Counter[str] = field(default_factory=Counter)
    """What of the file is no copy and stays behind (`OF_MANY`), and how much of it."""

    def add(self, runs: list[Raw], heading: int = 0, listed: str = "", rules: Raw | None = None) -> None:
        paragraph: Raw = {"runs": _joined(runs), **(rules or {})}
        if heading:
            level = min(heading, 3)
            self.headings.add(level)
            paragraph["style"] = f"Heading {level}"
        if listed:
            paragraph["list"] = {"kind": listed}
        self.paragraphs.append(paragraph)

    def add_row(self, cells: list[list[Raw]], table: int, rules: Raw | None = None) -> None:
        """A row of a table as a paragraph, its cells apart by tabs; nothing where all are empty."""
        while cells and not "".join(run["text"] for run in cells[-1]).strip():
            cells.pop()
        if cells:
            self.add(
                [run for number, cell in enumerate(cells) for run in ([{"text": "\t"}] if number else []) + cell],
                rules=rules,
            )
            self.rows.append((table, self.paragraphs[-1], [sum(len(run["text"]) for run in cell) for cell in cells]))

    def align_rows(self) -> None:
        """Cells of a table stand below one another: tabs lead as far as the longest of those before is wide,
        roughly."""
        for table in {number for number, _, _ in self.rows}:
            rows = [(paragraph, cells) for number, paragraph, cells in self.rows if number == table]
            count = max(len(cells) for _, cells in rows)
            widest = [
                max((cells[place] for _, cells in rows if len(cells) > place), default=0) for place in range(count - 1)
            ]
            ems = [round(LETTER * letters + APART, 1) for letters in widest]
            for paragraph, cells in rows:
                stops = [{"at": f"{sum(ems[: place + 1]):.4g}em"} for place in range(len(cells) - 1)]
                if stops:
                    paragraph["tabs"] = stops

    def plain(self) -> list[Raw]:
        """The same words without any formatting."""
        return [{"runs": _joined([{"text": r["text"]} for r in p["runs"]])} for p in self.paragraphs]

    @property
    def left_out(self) -> list[str]:
        """What stays behind, in words."""
        return [
            f"{count} {OF_MANY[what]}" if count > 1 else f"a {what}"
            for what, count in sorted(self.missing.items())
            if count
        ]


def scripted(text: str, raised: bool) -> str:
    """Superior or inferior figures, by their own letters where Unicode has them: m² is not m2."""
    table = RAISED if raised else LOWERED
    return text.translate(table) if all(ord(c) in table or c.isspace() for c in text) else text


def _joined(runs: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Runs of one look made one; empty ones go."""
    out: list[dict[str, Any]] = []
    for run in runs:
        run = {**run, "text": run["text"].replace(OBJECT, "")}
        if not run["text"]:
            continue
        if out and {**out[-1], "text": ""} == {**run, "text": ""}:
            out[-1] = {**out[-1], "text": out[-1]["text"] + run["text"]}
        else:
            out.append(run)
    return out
