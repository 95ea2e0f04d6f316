"""What `./nest quality` works out: how well justified lines are filled, optimal against first fit and Chromium's own.

Chromium sets the same words in the same font as `text-align: justify`, with soft hyphens at the engine's points. The
table goes to docs/quality.md.
"""

from __future__ import annotations

import sys
from typing import Any

from benchmarks.browser import ROOT

sys.path[:0] = [str(ROOT / "core" / "tests")]

from nestline.copy.dummy import dummy_paragraphs  # noqa: E402
from nestline.copy.hyphenation import Hyphenation, hyphen_places  # noqa: E402
from nestline.nesting.frame_nest import FrameNest  # noqa: E402
from nestline.nesting.quality import Quality, quality_of  # noqa: E402

LIMITS = {"before": 2, "after": 3, "least": 5, "ladder": 1000}
SIZE, LEADING = 16, 22
PX = 0.75


def nest(kind: str, width: float, height: float, text: str, breaking: str, padding: float = 0) -> FrameNest:
    from support import document, frame, nest_of, paragraph

    raw = document(
        [frame(kind, width=width, height=height, padding=padding, band="line-box", hang="line-box", stand="line-box", least_slot="4em")],
        paragraph(
            text, align="justify", breaking=breaking, hyphenate=LIMITS, size=SIZE * PX, leading=LEADING * PX, font="EB Garamond"
        ),
    )  # fmt: skip
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
                f"<div id=frame><p class=copy lang=en style='width:{width}px;font-size:{SIZE}px;line-height:{LEADING}px;"
                f"text-align:justify;hyphens:manual'>{soft}</p></div>"
            )
            lines = lines_in_chromium(page, face.path, "", html)[0]
            out.append([int(start) - soft[: int(start)].count("\u00ad") for start, *_ in lines])
    return out


def columns() -> list[tuple[float, str]]:
    """Rectangles: widths in px with copies."""
    texts = [" ".join(dummy_paragraphs("en", words)) for words in (90, 180)]
    return [(width, text) for text in texts for width in range(200, 480, 20)]


OUTLINES = [
    ("ellipse", 300, 260),
    ("heart", 340, 320),
    ("leaf", 300, 380),
    ("arch", 240, 340),
    ("bubble", 320, 300),
    ("drop", 300, 380),
]


def shaped() -> list[tuple[str, float, float, str]]:
    """Outlines, each with a short copy and another, longer one."""
    words = " ".join(dummy_paragraphs("en", 400)).split()
    texts = [" ".join(words[start : start + count]) for start, count in ((60, 80), (150, 120))]
    return [(kind, w, h, text) for kind, w, h in OUTLINES for text in texts]


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
    for kind, w, h, text in shaped():
        best, first = (nest(kind, w, h, text, b, 6) for b in ("optimal", "first-fit"))
        rows.append((f"{kind}, {len(text.split())} words", quality_of(best), quality_of(first)))
    return {"rows": rows, "alike": alike, "columns": len(cases)}


def totals(rows: list[tuple[str, Quality, Quality]]) -> dict[str, float]:
    """Optimal over first fit: mean stretch, mean of the worst lines, hyphens; and the rivers of both."""
    best, first = [r[1] for r in rows], [r[2] for r in rows]

    def ratio(figure: str) -> float:
        return sum(getattr(q, figure) for q in best) / max(sum(getattr(q, figure) for q in first), 1e-9)

    return {
        "mean": ratio("mean"), "worst": ratio("worst"), "hyphens": ratio("hyphens"),
        "single": sum(q.single for q in best), "single_first": sum(q.single for q in first),
        "rivers": sum(q.rivers for q in best), "rivers_first": sum(q.rivers for q in first),
        "hyphens_best": sum(q.hyphens for q in best), "hyphens_first": sum(q.hyphens for q in first),
    }  # fmt: skip


def main() -> None:
    found = worked_out()
    rows = found["rows"]
    in_columns, in_outlines, all_ = (totals(r) for r in (rows[: found["columns"]], rows[found["columns"] :], rows))
    lines = [
        "# How well lines are filled", "",
        "Written by `./nest quality`. Justified copy, EB Garamond 16 / 22 px, hyphenated (2 letters before, 3 after). A line's",
        "stretch is how much its word spaces grew or shrank, as a share of the font's own. Chromium sets the same words with",
        f"soft hyphens at the same points: in {found['alike']} of {found['columns']} columns its lines are those of first fit,",
        "so that the figures of first fit are its own. A river is three or more gaps below one another within half an em, none",
        "of them narrower than the font's own word space. A line of one word has no space to stretch: those that leave room",
        "open are counted by themselves (the first slots below a tip hold no more).", "",
        "| optimal over first fit | mean stretch | worst lines | lines of one word | hyphens | rivers |",
        "| --- | --- | --- | --- | --- | --- |",
    ]  # fmt: skip
    for name, t in (("columns", in_columns), ("outlines", in_outlines), (f"all {len(rows)} cases", all_)):
        lines.append(
            f"| {name} | {t['mean']:.2f} × | {t['worst']:.2f} × | {t['single']:g} : {t['single_first']:g} | {t['hyphens_best']:g} : {t['hyphens_first']:g} | "
            f"{t['rivers']:g} : {t['rivers_first']:g} |"
        )
    lines += [
        "",
        "| case | optimal: mean, worst | first fit: mean, worst | lines of one word | hyphens | rivers |",
        "| --- | --- | --- | --- | --- | --- |",
    ]
    for name, best, first in rows:
        lines.append(
            f"| {name} | {best.mean:.2f}, {best.worst:.2f} | {first.mean:.2f}, {first.worst:.2f} | {best.single} : {first.single} | "
            f"{best.hyphens} : {first.hyphens} | {best.rivers} : {first.rivers} |"
        )
    (ROOT / "docs" / "quality.md").write_text("\n".join(lines) + "\n")
    print("\n".join(lines[11:16]))


if __name__ == "__main__":
    main()
