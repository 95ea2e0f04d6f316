"""The engine against headless Chromium's own layout of the same words in the same font files.

First fit against CSS Text's line breaking; slots against `shape-outside` with `shape-margin` (CSS Shapes 1), frames by
line box; cap-height middle against `text-box: trim-both cap alphabetic` in a centred flex box (CSS Inline 3).
Sizes are those that Chromium does not quantise (whole and quarter px).
"""

import io
import unittest
from pathlib import Path
from typing import Any

from PIL import Image, ImageDraw

from chromium import CHROMIUM, chromium_page, lines_in_chromium, show
from nestline import rows as k
from nestline.nesting.nests import settled
from nestline.outlines.polygons import area_of
from nestline.pictures.files import read_picture
from nestline.studio import Studio
from support import document, frame, nest_of, paragraph, studio

WORDS = (
    "Every year in late summer the wind comes back to Quarrowby Common, and the whole town walks up to meet it. Bring "
    "string, bring friends, and bring whatever you built at the kitchen table: a diamond of brown paper, a box of cane "
    "and silk, or something with too many tails. At noon the long dragon goes up from the signal tower; it takes nine "
    "people to hold and one child to let go. AVAST, Toffee! The officers fly a waffle-board kite."
)
FAMILIES = ["EB Garamond", "Vollkorn", "Source Sans 3", "Lato", "Oswald", "Abril Fatface"]
PX = 0.75
BY_BOX = {"band": "line-box", "hang": "line-box", "stand": "line-box", "least_slot": 0}


def engine_lines(raw: dict[str, Any]) -> list[tuple[int, int, float, float]]:
    """Lines as start, end, left, right in CSS px from the frame's left edge."""
    nest = nest_of(raw).nest
    return [
        (int(a), int(b), (left - 100) / PX, (right - 100) / PX)
        for (a, b), left, right in zip(nest.ranges, nest.left, nest.right, strict=True)
    ]


@unittest.skipUnless(Path(CHROMIUM).exists(), "Debian's Chromium is not installed")
class Chromium(unittest.TestCase):
    def compare(
        self, ours: list[tuple[int, int, float, float]], theirs: list[list[float]], what: str, within: float
    ) -> None:
        self.assertEqual([line[0] for line in ours], [line[0] for line in theirs], f"line starts of {what}")
        for (_, _, left, right), (_, _, its_left, its_right) in zip(ours, theirs, strict=True):
            self.assertAlmostEqual(left, its_left, delta=within, msg=what)
            self.assertAlmostEqual(right, its_right, delta=within, msg=what)

    def test_first_fit_breaks_where_chromium_breaks(self) -> None:
        cases = [(size, width) for size in (13, 16.5, 22.25) for width in (170, 243, 318, 420, 600)]
        with chromium_page() as page:
            for family in FAMILIES:
                face = studio().fonts.face(family)
                html = (
                    "<div id=frame>"
                    + "".join(
                        f"<p class=copy style='width:{width}px;font-size:{size}px;line-height:1.3'>{WORDS}</p>"
                        for size, width in cases
                    )
                    + "</div>"
                )
                for (size, width), theirs in zip(cases, lines_in_chromium(page, face.path, "", html), strict=True):
                    raw = document(
                        [frame(width=width * PX, height=2000, **BY_BOX)],
                        paragraph(WORDS, breaking="first-fit", font=family, size=f"{size}px", leading="1.3em"),
                    )
                    self.compare(engine_lines(raw), theirs, f"{family} {size}px in {width}px", 0.08)

    def test_an_object_in_line_opens_its_line_box_as_in_chromium(self) -> None:
        """CSS 2, 10.8.1: an inline-block's margin box counts in the height of its own line box, and of no other. Within
        a px: Chromium rounds the ascent and descent of a font to whole px."""
        icons = ((30, 0.0), (44, -12.0), (20, 6.0), (18, -20.0))
        words = WORDS.split()[:60]
        texts = [" ".join(words[i : i + 12]) + " " for i in range(0, 60, 12)]
        inner = "".join(
            text
            + (
                f"<i "
                f"style='display:inline-block;width:16px;height:{icons[n][0]}px;vertical-align:{icons[n][1]}px'></i> "
                if n < 4
                else ""
            )
            for n, text in enumerate(texts)
        )
        tops = """() => [...document.querySelectorAll('i')].map((i) =>
          i.getBoundingClientRect().top - document.querySelector('p').getBoundingClientRect().top)
          .concat([document.querySelector('p').getBoundingClientRect().height])"""
        with chromium_page() as page:
            for family in ("Lato", "EB Garamond"):
                show(
                    page,
                    studio().fonts.face(family).path,
                    "",
                    f"<p style='width:260px;font-size:16px;line-height:20px'>{inner}</p>",
                )
                theirs = page.evaluate(tops)
                runs: list[dict[str, Any]] = []
                things = []
                for n, text in enumerate(texts):
                    runs.append({"text": text})
                    if n < 4:
                        high, shift = icons[n]
                        runs += [{"object": f"i{n}"}, {"text": " "}]
                        anchor = {"place": "in-line", "shift": f"{shift}px"}
                        things.append(
                            {"id": f"i{n}", "x": 0, "y": 0, "width": "16px", "height": f"{high}px", "anchor": anchor}
                        )
                rules = {"breaking": "first-fit", "font": family, "size": "16px", "leading": "20px"}
                raw = document(
                    [frame(width=260 * PX, give=["bottom"], height=10, **BY_BOX), *things], {"runs": runs, **rules}
                )
                read = studio().read(raw)
                nests = studio().nest(read)
                placed = {t.id: t for _, t in settled(read, nests).objects()}
                ours = [(placed[f"i{n}"].box[1] - 100) / PX for n in range(4)] + [placed["f"].box[3] / PX]
                for mine, its in zip(ours, theirs, strict=True):
                    self.assertAlmostEqual(mine, its, delta=1, msg=f"{family}: {ours} {theirs}")

    def test_slots_round_a_shape_are_chromiums(self) -> None:
        shapes = [
            ("circle(70px at 100px 100px)", {"kind": "ellipse"}, (30, 30, 140, 140)),
            ("ellipse(90px 50px at 110px 90px)", {"kind": "ellipse"}, (20, 40, 180, 100)),
            (
                "polygon(20px 30px, 150px 10px, 190px 120px, 90px 190px)",
                {"kind": "path", "d": "M20 30L150 10L190 120L90 190Z", "box": [220, 220]},
                (0, 0, 220, 220),
            ),
        ]
        with chromium_page() as page:
            for margin in (0, 12):
                for css, outline, (x, y, w, h) in shapes:
                    if margin and css.startswith("ellipse"):
                        continue  # Chromium grows an ellipse's radii by the margin, which is not its offset
                    for family, size in (("EB Garamond", 16), ("Lato", 14.5)):
                        face = studio().fonts.face(family)
                        html = (
                            f"<div id=frame style='width:480px'><div "
                            f"style='float:left;width:240px;height:240px;shape-outside:{css};"
                            f"shape-margin:{margin}px'></div><p class=copy "
                            f"style='font-size:{size}px;line-height:22px'>{WORDS}</p></div>"
                        )
                        (theirs,) = lines_in_chromium(page, face.path, "", html)
                        thing = {
                            "id": "w",
                            "x": 100 + x * PX,
                            "y": 100 + y * PX,
                            "width": w * PX,
                            "height": h * PX,
                            "outline": outline,
                            "wrap": {"by": "outline", "clearance": f"{margin}px", "sides": "right"},
                        }
                        raw = document(
                            [frame(width=480 * PX, height=2000, **BY_BOX), thing],
                            paragraph(WORDS, breaking="first-fit", font=family, size=f"{size}px", leading="22px"),
                        )
                        self.compare(engine_lines(raw), theirs, f"{css} + {margin}px, {family} {size}px", 0.05)

    def test_slots_round_a_traced_contour_are_chromiums(self) -> None:
        """A contour traced from a picture's transparency, given to Chromium as a polygon with a margin."""
        large = Image.new("RGBA", (880, 880), (0, 0, 0, 0))
        pen = ImageDraw.Draw(large)
        pen.ellipse((60, 120, 700, 760), fill=(190, 60, 40, 255))
        pen.polygon([(400, 40), (820, 300), (620, 860), (300, 620)], fill=(40, 90, 160, 255))
        content = io.BytesIO()
        large.save(content, "PNG")
        file = read_picture(content.getvalue())
        own = Studio(lambda _: file, studio().fonts)
        face = studio().fonts.face("EB Garamond")
        with chromium_page() as page:
            for margin in (0, 10):
                for smoothness in (0, 0.3):
                    thing = {
                        "id": "w",
                        "x": 100,
                        "y": 100,
                        "width": 220 * PX,
                        "height": 220 * PX,
                        "picture": {"file": "p.png"},
                        "contour": {"from": "alpha", "smoothness": smoothness},
                        "wrap": {"by": "contour", "clearance": f"{margin}px", "sides": "right"},
                    }
                    raw = document(
                        [frame(width=480 * PX, height=2000, **BY_BOX), thing],
                        paragraph(WORDS, breaking="first-fit", font="EB Garamond", size="16px", leading="22px"),
                    )
                    read = own.read(raw)
                    ring = area_of(own.contours.found(read.pages[0].objects[1]).path, 0.02).exterior
                    css = "polygon(" + ", ".join(f"{x / PX:.3f}px {y / PX:.3f}px" for x, y in ring.coords) + ")"
                    html = (
                        f"<div id=frame style='width:480px'><div "
                        f"style='float:left;width:240px;height:240px;shape-outside:{css};"
                        f"shape-margin:{margin}px'></div><p class=copy "
                        f"style='font-size:16px;line-height:22px'>{WORDS}</p></div>"
                    )
                    (theirs,) = lines_in_chromium(page, face.path, "", html)
                    nest = own.nest(read)[0].nest
                    ours = [
                        (int(a), int(b), (left - 100) / PX, (right - 100) / PX)
                        for (a, b), left, right in zip(nest.ranges, nest.left, nest.right, strict=True)
                    ]
                    self.compare(ours, theirs, f"contour + {margin}px, smooth {smoothness}", 0.12)

    def test_capitals_centred_by_cap_height_are_where_chromium_trims_them_to(self) -> None:
        with chromium_page() as page:
            for family in FAMILIES:
                face = studio().fonts.face(family)
                for size, height in ((16, 48), (20, 57), (31, 90)):
                    show(
                        page,
                        face.path,
                        "",
                        f"<div id=frame style='display:flex;align-items:center;height:{height}px;width:400px'>"
                        f"<div id=label style='font-size:{size}px;line-height:1.3;text-box:trim-both cap "
                        f"alphabetic'>KITES</div></div>",
                    )
                    top, bottom = page.evaluate(
                        "() => { const f = document.querySelector('#frame').getBoundingClientRect(), l = "
                        "document.querySelector('#label').getBoundingClientRect(); return [l.top - f.top, "
                        "l.bottom - f.top] }"
                    )
                    raw = document(
                        [
                            frame(
                                width=300, height=height * PX, sit="middle", hang="cap", stand="baseline", least_slot=0
                            )
                        ],
                        paragraph("KITES", font=family, size=f"{size}px", leading="1.3em"),
                    )
                    baseline = (float(nest_of(raw).nest.records[0, k.BASELINE]) - 100) / PX
                    self.assertAlmostEqual(baseline, bottom, delta=0.03, msg=family)
                    self.assertAlmostEqual(baseline - face.metrics.cap * size, top, delta=0.03, msg=family)

    def test_a_frame_that_gives_is_as_wide_and_high_as_max_content_with_padding(self) -> None:
        labels = ("Fly", "Reserve a place on the hill", "AVAST, Toffee!", "Kites & strings 1845")
        with chromium_page() as page:
            for family in FAMILIES:
                face = studio().fonts.face(family)
                for size, padding in ((16, (7, 21, 9, 15)), (20.25, (12, 12, 12, 12))):
                    sides = " ".join(f"{p}px" for p in padding)
                    html = "".join(
                        f"<div><span class=label "
                        f"style='display:inline-block;width:max-content;padding:{sides};font-size:{size}px;"
                        f"line-height:24px'>{label.replace('&', '&amp;')}</span></div>"
                        for label in labels
                    )
                    show(page, face.path, "", f"<div id=frame>{html}</div>")
                    theirs = page.evaluate(
                        "() => [...document.querySelectorAll('.label')].map((l) => { const b = "
                        "l.getBoundingClientRect(); return [b.width, b.height] })"
                    )
                    for label, (width, height) in zip(labels, theirs, strict=True):
                        rules = {
                            "give": ["right", "bottom"],
                            "wrap_lines": False,
                            "padding": [f"{p}px" for p in padding],
                        }
                        raw = document(
                            [frame(width=20, height=20, **rules, **BY_BOX)],
                            paragraph(label, font=family, size=f"{size}px", leading="24px"),
                        )
                        box = nest_of(raw).thing.box
                        self.assertAlmostEqual(box[2] / PX, width, delta=0.06, msg=f"{family}: {label}")
                        self.assertAlmostEqual(box[3] / PX, height, delta=0.06, msg=f"{family}: {label}")

    def test_a_label_trimmed_to_its_capitals_gives_its_frame_the_height_of_chromiums(self) -> None:
        with chromium_page() as page:
            for family in FAMILIES:
                face = studio().fonts.face(family)
                for size in (16, 31):
                    show(
                        page,
                        face.path,
                        "",
                        f"<div id=label style='padding:10px 14px;width:max-content;font-size:{size}px;line-height:1.3;"
                        "text-box:trim-both cap alphabetic'>KITES</div>",
                    )
                    height = page.evaluate("document.querySelector('#label').getBoundingClientRect().height")
                    rules = {
                        "give": ["bottom"],
                        "padding": ["10px", "14px", "10px", "14px"],
                        "hang": "cap",
                        "stand": "baseline",
                    }
                    raw = document(
                        [frame(width=300, height=4, least_slot=0, **rules)],
                        paragraph("KITES", font=family, size=f"{size}px", leading="1.3em"),
                    )
                    self.assertAlmostEqual(nest_of(raw).thing.box[3] / PX, height, delta=0.06, msg=family)

    def test_balanced_columns_are_chromiums(self) -> None:
        with chromium_page() as page:
            for family in FAMILIES[:4]:
                face = studio().fonts.face(family)
                for columns, width, gap, repeat in ((2, 480, 24, 1), (3, 620, 16, 2), (4, 900, 20, 2), (3, 540, 12, 1)):
                    text = " ".join([WORDS] * repeat)
                    html = (
                        f"<div id=frame "
                        f"style='width:{width}px;columns:{columns};column-gap:{gap}px;column-fill:balance;widows:1;"
                        f"orphans:1'><p class=copy style='font-size:16px;line-height:22px'>{text}</p></div>"
                    )
                    (theirs,) = lines_in_chromium(page, face.path, "", html)
                    raw = document(
                        [
                            frame(
                                width=width * PX,
                                height=3000,
                                columns=columns,
                                gutter=f"{gap}px",
                                balance=True,
                                **BY_BOX,
                            )
                        ],
                        paragraph(text, breaking="first-fit", font=family, size="16px", leading="22px"),
                    )
                    self.compare(engine_lines(raw), theirs, f"{family}, {columns} columns in {width}px", 0.08)
