"""What `./nest quality` works out: how well justified lines are filled, optimal against first fit and Chromium's own.

Chromium sets the same words in the same font as `text-align: justify`, with soft hyphens at the engine's points. The
table goes to docs/quality.md.
"""

from __future__ import annotations

import sys
from copy import deepcopy
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from benchmarks.browser import ROOT

sys.path[:0] = [str(ROOT / "core" / "tests")]

from benchmarks.look import by_pixels, feet, ragged, worse_than_first_fit  # noqa: E402
from benchmarks.sheets import CLASSES, LETTER, WORD_SPACES, set_by, sheets, sums  # noqa: E402
from benchmarks.torn import torn  # noqa: E402
from nestline import rows as k  # noqa: E402
from nestline.copy.dummy import dummy_paragraphs  # noqa: E402
from nestline.copy.hyphenation import Hyphenation, hyphen_places  # noqa: E402
from nestline.fonts.library import Face  # noqa: E402
from nestline.fonts.shaping import shape  # noqa: E402
from nestline.nesting.frame_nest import FrameNest  # noqa: E402
from nestline.nesting.quality import Faults, Quality, quality_of  # noqa: E402

LIMITS = {"before": 2, "after": 3, "least": 5, "ladder": 1000}
SIZE, LEADING = 16, 22
PX = 0.75


def nest(kind: str, width: float, height: float, text: str, breaking: str, padding: float = 0) -> FrameNest:
    from support import document, frame, nest_of, paragraph

    raw = document(
        [
            frame(
                kind,
                width=width,
                height=height,
                padding=padding,
                band="line-box",
                hang="line-box",
                stand="line-box",
                least_slot="4em",
            )
        ],
        paragraph(
            text,
            align="justify",
            breaking=breaking,
            hyphenate=LIMITS,
            size=SIZE * PX,
            leading=LEADING * PX,
            font="EB Garamond",
            **({"stretch": WORD_SPACES} if breaking == "first-fit" else {}),
        ),
    )
    return nest_of(raw).nest


def chromium_breaks(cases: list[tuple[float, str]]) -> list[list[int]]:
    """Where Chromium's lines start, counted in the text without soft hyphens."""
    from chromium import chromium_page, lines_in_chromium
    from support import studio

    face = studio().fonts.face("EB Garamond")
    out = []
    with chromium_page() as page:
        for width, text in cases:
            places = set(hyphen_places(text, "en", Hyphenation(**{**LIMITS, "capitals": False})))  # type: ignore[arg-type]
            soft = "".join(("\u00ad" if i in places else "") + c for i, c in enumerate(text))
            html = (
                f"<div id=frame><p class=copy lang=en "
                f"style='width:{width}px;font-size:{SIZE}px;line-height:{LEADING}px;"
                f"text-align:justify;hyphens:manual'>{soft}</p></div>"
            )
            lines = lines_in_chromium(page, face.path, "", html)[0]
            out.append([int(start) - soft[: int(start)].count("\u00ad") for start, *_ in lines])
    return out


def columns() -> list[tuple[float, str]]:
    """Rectangles: widths in px with copies."""
    texts = [" ".join(dummy_paragraphs("en", words)) for words in (90, 180)]
    return [(width, text) for text in texts for width in range(200, 480, 20)]


def worked_out(with_chromium: bool = True) -> dict[str, Any]:
    """All cases: quality by breaking, and whether first fit breaks as Chromium does in every column."""
    rows: list[tuple[str, Quality, Quality]] = []
    alike = 0
    cases = columns()
    breaks = chromium_breaks(cases) if with_chromium else []
    for number, (width, text) in enumerate(cases):
        best, first = (nest("rectangle", width * PX, 4000, text, b) for b in ("optimal", "first-fit"))
        rows.append((f"column {width:g} px, {len(text.split())} words", quality_of(best), quality_of(first)))
        if breaks:
            # After a soft hyphen the browser's first letter has two boxes: its line is seen to start a letter later.
            ours = [int(a) for a, _ in first.ranges]
            alike += len(ours) == len(breaks[number]) and all(
                0 <= b - a <= 1 for a, b in zip(ours, breaks[number], strict=True)
            )
    return {"rows": rows, "alike": alike, "columns": len(cases)}


def totals(rows: list[tuple[str, Quality, Quality]]) -> dict[str, float]:
    """Optimal over first fit: mean stretch, mean of the worst lines, hyphens; and the rivers of both."""
    best, first = [r[1] for r in rows], [r[2] for r in rows]

    def ratio(figure: str) -> float:
        return sum(getattr(q, figure) for q in best) / max(sum(getattr(q, figure) for q in first), 1e-9)

    return {
        "mean": ratio("mean_drawn"),
        "worst": ratio("worst_drawn"),
        "hyphens": ratio("hyphens"),
        "mean_before": ratio("mean"),
        "worst_before": ratio("worst"),
        "single": sum(q.single for q in best),
        "single_first": sum(q.single for q in first),
        "rivers": sum(q.rivers for q in best),
        "rivers_first": sum(q.rivers for q in first),
        "hyphens_best": sum(q.hyphens for q in best),
        "hyphens_first": sum(q.hyphens for q in first),
    }


def judged() -> list[str]:
    """Rows of the faults of 200 varied sheets: by class, in the half for tuning and in the other."""
    out = []
    for half in ("tuning", "fresh"):
        found: dict[str, list[tuple[Faults, Faults]]] = {kind: [] for kind in CLASSES}
        for one in sheets(200, half):
            found[one.kind].append((set_by(one, "optimal"), set_by(one, "first-fit")))
        for kind, pairs in found.items():
            best, first = (sums([pair[place] for pair in pairs]) for place in (0, 1))
            pair = [f"{best[name]:g} : {first[name]:g}" for name in ("unfilled", "across", "alone", "hyphens")]
            lines = f"{best['lines']:g}"
            out.append(
                f"| {kind}, {half} | {len(pairs)} | {lines} | {' | '.join(pair)} | {best['stretch']:.2f} : "
                f"{first['stretch']:.2f} |"
            )
    return out


@dataclass
class Set:
    """What paragraphs come to, set in one way."""

    lines: int = 0
    paragraphs: int = 0
    stretches: list[float] = field(default_factory=list)
    worst: list[float] = field(default_factory=list)
    before: list[float] = field(default_factory=list)
    hyphens: int = 0
    alone: int = 0

    def add(self, drawn: list[float], before: list[float], hyphens: int, last_line: str) -> None:
        self.lines += len(drawn) + 1
        self.paragraphs += 1
        self.stretches += [abs(v) for v in drawn]
        self.before += [abs(v) for v in before]
        self.worst.append(max((abs(v) for v in drawn), default=0.0))
        self.hyphens += hyphens
        self.alone += " " not in last_line.strip()

    def row(self, name: str) -> str:
        unfilled = sum(v > 2.0 + 1e-6 for v in self.stretches)
        return (
            f"| {name} | {self.lines} | {np.mean(self.stretches):.2f} | {np.mean(self.worst):.2f} | "
            f"{np.mean(self.before):.2f} | "
            f"{unfilled} | {self.hyphens} | {self.alone} of {self.paragraphs} |"
        )


def against_chromium() -> list[str]:
    """Rows of the paragraphs of all column sheets: ours, Chromium line by line, and its `text-wrap: pretty`."""
    from chromium import chromium_page, lines_in_chromium
    from support import document, frame, nest_of, studio

    ours, greedy, pretty = Set(), Set(), Set()
    with chromium_page() as page:
        for one in sheets(200, "all"):
            if one.kind != "column":
                continue
            (version,) = one.raw["copies"]["story"]["versions"].values()
            language, width = version["language"], one.raw["pages"][0]["objects"][0]["width"]
            for paragraph in version["paragraphs"]:
                alone = {**paragraph, "language": language}
                nest = nest_of(document([frame(width=width, height=3000)], alone)).nest
                q, text = quality_of(nest), nest.copy.text.rstrip("\n")
                begin, end = nest.ranges[-1]
                ours.add(list(q.drawn), list(q.stretches), q.hyphens, text[begin:end])
                face, size = studio().fonts.face(paragraph["font"]), paragraph["size"]
                places = set(hyphen_places(text, language, Hyphenation()))
                soft = "".join(("\u00ad" if i in places else "") + c for i, c in enumerate(text))

                def wide(line: str, face: Face = face, size: float = size, language: str = language) -> float:
                    return shape(face, line, 0, len(line), language).width * size / face.units_per_em

                for found, css in ((greedy, ""), (pretty, "text-wrap:pretty;")):
                    html = (
                        f"<div id=frame><p class=copy lang={language} "
                        f"style='width:{width / PX}px;font-size:{size / PX}px;{css}"
                        f"text-align:justify;hyphens:manual'>{soft}</p></div>"
                    )
                    rows = lines_in_chromium(page, face.path, "", html)[0]
                    # After a soft hyphen the browser's first letter has two boxes: its line is seen to start a letter
                    # later.
                    starts = [int(a) - (a > 1 and soft[int(a) - 2] == "\u00ad") for a, *_ in rows] + [len(soft)]
                    drawn, hyphens = [], 0
                    lines = [soft[a:b] for a, b in zip(starts, starts[1:], strict=False)]
                    for line in lines[:-1]:
                        broken = line.endswith("\u00ad")
                        hyphens += broken
                        shown = line.replace("\u00ad", "").rstrip() + ("\u2010" if broken else "")
                        if gaps := shown.count(" "):
                            drawn.append((width - wide(shown)) / (gaps * wide(" ")))
                    found.add(drawn, drawn, hyphens, lines[-1].replace("\u00ad", ""))
    return [ours.row("optimal"), greedy.row("Chromium"), pretty.row("Chromium, pretty")]


def unfilled_by_width() -> str:
    """How many justified lines of all sheets are left unfilled, in slots of more than 30 letters and below."""
    from support import nest_of

    counts = {True: [0, 0], False: [0, 0]}
    for one in sheets(200, "all"):
        nest = nest_of(deepcopy(one.raw)).nest
        for number, row in enumerate(nest.records):
            if not row[k.PAST]:
                wide = bool(row[k.RIGHT] - row[k.LEFT] >= 30 * LETTER * nest.copy.size)
                counts[wide][0] += int(nest.loose[number])
                counts[wide][1] += 1
    (above, lines), (below, narrow) = counts[True], counts[False]
    return (
        f"Of lines in slots of 30 letters and more {above} of {lines} are unfilled, of narrower ones {below} "
        f"of {narrow} "
        f"({below / narrow:.1%}). Goals: none, and 3 per cent."
    )


def main() -> None:
    found = worked_out()
    rows = found["rows"]
    t = totals(rows)
    lines = [
        "# How well lines are filled",
        "",
        "Written by `./nest quality`. All figures are of what is drawn: optimal breaking first, then first fit.",
        "",
        "## Varied sheets",
        "",
        "200 sheets of justified, hyphenated copy by a seed (`benchmarks/sheets.py`): English, German, "
        "French; EB Garamond, Source Sans 3,",
        "Vollkorn; columns of 25 to 75 letters, outlines, pictures beside or in the copy. Weights are tuned "
        "on one half and looked at on",
        "the other; first fit is set by word spaces alone, as a browser does. A justified line is unfilled "
        "when its spaces would open beyond three times their width; a stretch is how much the",
        "spaces of a filled line grew or shrank, as a share of the font's own.",
        "",
        "| sheets | how many | lines | unfilled lines | hyphens across a gap | last words alone | hyphens | "
        "mean stretch |",
        "| --- | --- | --- | --- | --- | --- | --- | --- |",
        *judged(),
        "",
        unfilled_by_width(),
        "",
        worse_than_first_fit(),
        "",
        "Of one half of them 290 lines stayed unfilled and 46 hyphens stood across gaps before lines cost "
        "what is drawn, and 65 lines before",
        "letters shared.",
        "",
        "## All paragraphs of those columns, against Chromium",
        "",
        "The same words, fonts and hyphens. Stretch is of word spaces as drawn, its mean over lines, and "
        "over the worst of each paragraph;",
        "before letters share it is what word spaces alone would take. A line that takes more than three "
        "times its spaces is unfilled.",
        "",
        "| set by | lines | mean stretch | worst lines | before letters share | unfilled | hyphens | last "
        "words alone |",
        "| --- | --- | --- | --- | --- | --- | --- | --- |",
        *against_chromium(),
        "",
        "Goals: mean stretch at most 0.40 × Chromium's, worst lines 0.45 ×, before letters share 0.60 ×, "
        "hyphens 1.0 ×, last words alone 2 per cent.",
        "",
        "## Rivers and evenness, by the pixels of the page",
        "",
        "The column sheets drawn at 216 dpi. A river is white in the x-height of three lines below one "
        "another, each half a word space",
        "wider than the white between words as the font has it (by the pixels of the same copy set ragged) "
        "and over the next by half a space; evenness is how much the lines' shares of ink differ, as a",
        "share of their mean. Goal: rivers at most 0.30 × first fit's.",
        "",
        "| half | rivers | evenness |",
        "| --- | --- | --- |",
        *by_pixels(),
        "",
        "## The rag",
        "",
        "150 ragged columns of 18 to 60 letters. A step is three line ends within half an em of one another, "
        "an em or more short; a wedge",
        "three that get longer or shorter by an em each.",
        "",
        "| set by | lines | steps | wedges | hyphens | last words alone |",
        "| --- | --- | --- | --- | --- | --- |",
        *ragged(),
        "",
        "## What belongs together",
        "",
        "240 paragraphs of three languages, justified or ragged, with figures, dates, names and references "
        "sown in (`benchmarks/torn.py`). How many",
        "lines begin inside a figure, a range or initials, and between others that belong together. Goals: "
        "none, and 1 per cent.",
        "",
        "| set by | inside figures torn | others torn |",
        "| --- | --- | --- |",
        *torn(),
        "",
        "## Feet of columns",
        "",
        "80 frames of 3 or 4 columns with short paragraphs, two lines of each kept together.",
        "",
        "| set by | columns that go on | shorter than the others | end in a hyphen |",
        "| --- | --- | --- | --- |",
        *feet(),
        "",
        "## Columns, against Chromium",
        "",
        "EB Garamond 16 / 22 px, hyphenated (2 letters before, 3 after). Chromium sets the same words with "
        "soft hyphens at the same points:",
        f"in {found['alike']} of {found['columns']} columns its lines are those of first fit, so that the "
        f"figures of first fit are its own. A",
        "river is three or more gaps below one another, each at least 1.5 word spaces of the font wide and "
        "each above the next over half a",
        "space.",
        "",
        f"All columns: mean stretch {t['mean']:.2f} ×, worst lines {t['worst']:.2f} × (before letters share "
        f"{t['mean_before']:.2f} × and "
        f"{t['worst_before']:.2f} ×), hyphens {t['hyphens_best']:g} : {t['hyphens_first']:g}, rivers "
        f"{t['rivers']:g} : {t['rivers_first']:g}.",
        "",
        "| case | optimal: mean, worst | first fit: mean, worst | hyphens | rivers |",
        "| --- | --- | --- | --- | --- |",
    ]
    for name, best, first in rows:
        lines.append(
            f"| {name} | {best.mean_drawn:.2f}, {best.worst_drawn:.2f} | {first.mean:.2f}, {first.worst:.2f} | "
            f"{best.hyphens} : {first.hyphens} | {best.rivers} : {first.rivers} |"
        )
    (ROOT / "docs" / "quality.md").write_text("\n".join(lines) + "\n")
    print("\n".join(lines[11:34]))


if __name__ == "__main__":
    main()
