"""Pictures placed: in the way of the copy, in it, or as background; objects that go under others; guides; dashes."""

from __future__ import annotations

import io
import random
import unittest
from typing import Any

import numpy as np
import shapely
from PIL import Image, ImageDraw, ImageFilter

from draws import fair, seeds, thrown
from nestline import rows as k
from nestline.acts import ActError, expanded
from nestline.document import edits
from nestline.document.model import LetterStroke, Stroke
from nestline.errors import NestLineError
from nestline.nesting.nests import settled
from nestline.nesting.wrapping import wrap_region
from nestline.outlines.polygons import shape_of
from nestline.output.pdf import write_pdf
from nestline.pictures.files import read_picture
from nestline.scene import object_json
from nestline.studio import Studio
from support import STORY, document, frame, paragraph, studio
from test_acts import done, things

Raw = dict[str, Any]


def png(image: Image.Image) -> bytes:
    out = io.BytesIO()
    image.save(out, "PNG")
    return out.getvalue()


def on_white() -> bytes:
    """A thing on white with a soft shadow."""
    image = Image.new("RGB", (400, 300), "white")
    shadow = Image.new("L", image.size, 0)
    ImageDraw.Draw(shadow).ellipse((120, 210, 300, 250), fill=60)
    image.paste((120, 120, 120), mask=shadow.filter(ImageFilter.GaussianBlur(12)))
    ImageDraw.Draw(image).polygon([(200, 40), (290, 150), (200, 240), (110, 150)], fill="#b03020")
    return png(image)


def busy() -> bytes:
    noise = np.random.default_rng(3).integers(0, 255, (300, 400, 3), dtype=np.uint8)
    return png(Image.fromarray(noise).filter(ImageFilter.GaussianBlur(3)))


def cut_out() -> bytes:
    image = Image.new("RGBA", (400, 300), (0, 0, 0, 0))
    ImageDraw.Draw(image).ellipse((100, 50, 300, 250), fill="#1e8a8f")
    return png(image)


def corners_clear(content: bytes) -> bytes:
    """A picture whose corners alone are not opaque, as of a window photographed from the screen."""
    image = Image.open(io.BytesIO(content)).convert("RGBA")
    for corner in ((0, 0), (399, 0), (0, 299), (399, 299)):
        image.putpixel(corner, (255, 255, 255, 60))
    return png(image)


FILES = {
    "white.png": on_white(),
    "busy.png": busy(),
    "cut.png": cut_out(),
    "white-corners.png": corners_clear(on_white()),
    "busy-corners.png": corners_clear(busy()),
}
OWN = Studio(lambda file: read_picture(FILES[file]))


def acted(raw: Raw, act: str, **given: Any) -> Raw:
    OWN.read(raw)
    made = edits.apply(raw, expanded(OWN, raw, [{"do": "act", "act": act, "given": given}])).document
    OWN.read(made)
    return made


class Placed(unittest.TestCase):
    def test_copy_runs_round_what_a_picture_shows(self) -> None:
        raw = document([frame()], paragraph(STORY))
        for file, by, source, clip in (
            ("white.png", "contour", "plain", "contour"),
            ("cut.png", "contour", None, None),
            ("busy.png", "outline", None, None),
            ("white-corners.png", "contour", "plain", "contour"),
            ("busy-corners.png", "outline", None, None),
        ):
            made = things(acted(raw, "place-picture", page=0, file=file, id="p"))["p"]
            self.assertEqual(made["wrap"]["by"], by)
            self.assertEqual((made.get("contour") or {}).get("from"), source)
            self.assertEqual(made["picture"].get("clip"), clip)

    def test_a_picture_painted_inside_its_contour_covers_no_word_on_screen_or_in_the_pdf(self) -> None:
        raw = acted(document([]), "place-picture", page=0, file="white.png", id="p")
        raw = edits.apply(raw, [{"do": "put", "at": ["pages", 0, "background"], "value": "#00ff00"}]).document
        read = OWN.read(raw)
        pdf = write_pdf(read, OWN.nest(read), OWN.pictures, OWN.contours)
        import pypdfium2

        page = pypdfium2.PdfDocument(pdf)[0].render(scale=1).to_numpy()
        thing = things(raw)["p"]
        # A corner of the picture shows the page, its middle the thing.
        x, y = int(thing["x"] + 4), int(thing["y"] + 4)
        middle = int(thing["x"] + thing["width"] / 2), int(thing["y"] + thing["height"] / 2)
        self.assertGreater(int(page[y, x, 1]) - int(page[y, x, 0]), 200)
        self.assertGreater(abs(int(page[middle[1], middle[0], 1]) - 255), 100)
        told = object_json(OWN, read, 0, read.pages[0].objects[0])
        self.assertTrue(told["picture"]["clip"].startswith("M"))

    def test_another_picture_where_one_stands_keeps_its_place_and_finds_its_own_contour(self) -> None:
        place = ("x", "y", "width", "height")
        for old in ("white.png", "cut.png", "busy.png"):
            for new in ("white.png", "cut.png", "busy.png"):
                raw = acted(document([frame()], paragraph(STORY)), "place-picture", page=0, file=old, id="p")
                raw = acted(raw, "contour-by-hand", object="p") if old == "cut.png" else raw
                was = things(raw)["p"]
                was["picture"].update(scale=1.5, x=4)
                now = things(acted(raw, "replace-picture", object="p", file=new))["p"]
                self.assertEqual([now[k] for k in place], [was[k] for k in place])
                self.assertEqual((now["picture"]["file"], now["picture"]["scale"], now["picture"]["x"]), (new, 1.5, 4))
                self.assertEqual(now["wrap"]["clearance"], 9)
                contour = was["wrap"]["by"] == "contour" and new != "busy.png"
                self.assertEqual(now["wrap"]["by"], "contour" if contour else "outline")
                self.assertEqual(now.get("contour"), {"from": "plain"} if contour and new == "white.png" else None)
                self.assertEqual(now["picture"].get("clip"), "contour" if contour and new == "white.png" else None)

    def test_how_its_contour_is_found_stays_as_it_was_set_with_another_picture(self) -> None:
        raw = acted(document([frame()], paragraph(STORY)), "place-picture", page=0, file="white.png", id="p")
        things(raw)["p"]["contour"].update(threshold=0.3, smoothness=0.7, points=40)
        now = things(acted(raw, "replace-picture", object="p", file="white.png"))["p"]
        self.assertEqual(now["contour"], {"from": "plain", "threshold": 0.3, "smoothness": 0.7, "points": 40})
        self.assertNotIn(
            "threshold", things(acted(raw, "replace-picture", object="p", file="cut.png"))["p"].get("contour", {})
        )

    def test_into_an_outline_and_out_again(self) -> None:
        dice = thrown(5)
        for file in ("white.png", "cut.png", "busy.png"):
            star = {
                "id": "s",
                "x": dice.uniform(0, 300),
                "y": dice.uniform(0, 300),
                "width": dice.uniform(40, 300),
                "height": 120,
                "outline": {"kind": "star"},
                "fill": {"color": "ink"},
                "turn": 20,
                "wrap": {"by": "outline", "clearance": 3},
            }
            raw = acted(document([frame(), star], paragraph(STORY)), "place-picture", page=0, file=file, id="p")
            into = acted(raw, "into-outline", picture="p", outline="s")
            self.assertEqual(things(into).keys(), {"f", "s"})
            now = things(into)["s"]
            self.assertEqual(now, {**star, "picture": {"file": file, "alt": ""}})
            out = things(acted(into, "out-of-outline", object="s", id="q"))
            self.assertEqual(out["s"], star)
            was, again = OWN.pictures(file), out["q"]
            self.assertAlmostEqual(again["width"] / again["height"], was.width / was.height, 3)
            self.assertGreaterEqual(again["width"] + 1e-3, star["width"])
            self.assertGreaterEqual(again["height"] + 1e-3, star["height"])
            for side, size in (("x", "width"), ("y", "height")):
                self.assertAlmostEqual(again[side] + again[size] / 2, star[side] + star[size] / 2, 2)
        with self.assertRaises(NestLineError):
            acted(raw, "into-outline", picture="p", outline="f")

    def test_with_a_caret_it_stands_there(self) -> None:
        raw = document([frame()], paragraph("One two three"))
        made = acted(raw, "place-picture", page=0, file="cut.png", id="p", frame="f", place=4)
        runs = made["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"]
        self.assertEqual([r.get("text") or r.get("object") for r in runs], ["One ", "p", "two three"])

    def test_put_behind_most_of_a_frame_or_page_it_starts_as_background(self) -> None:
        for seed in seeds(60):
            dice = random.Random(seed)
            width, height = dice.uniform(60, 900), dice.uniform(60, 900)
            photo = {
                "id": "p",
                "x": dice.uniform(-50, 300),
                "y": dice.uniform(-50, 300),
                "width": width,
                "height": height,
                "picture": {"file": "busy.png"},
                "wrap": {"by": "outline", "clearance": 9},
            }
            host = frame(x=100, y=100, width=300, height=280)
            raw = document([host, photo], paragraph(STORY))
            made = things(acted(raw, "stack", objects=["p"], to="back"))["p"]
            across = min(400, photo["x"] + width) - max(100, photo["x"])
            down = min(380, photo["y"] + height) - max(100, photo["y"])
            of_frame = max(across, 0) * max(down, 0) / (300 * 280)
            on_page = (
                (min(900, photo["x"] + width) - max(0, photo["x"]))
                * (min(900, photo["y"] + height) - max(0, photo["y"]))
                / 810_000
            )
            self.assertEqual(made["wrap"]["by"], "none" if of_frame >= 0.6 or on_page >= 0.6 else "outline", seed)
            self.assertEqual(made["wrap"]["clearance"], 9)


class OnPictures(unittest.TestCase):
    def test_copy_on_a_photograph_runs_round_what_it_shows(self) -> None:
        """Frames that lie wholly on a picture in whose contour they are not: no letter stands in the contour."""
        pushed = lying = 0
        for seed in seeds(60):
            dice = random.Random(seed)
            file = dice.choice(["white.png", "cut.png"])
            photo = {
                "id": "p",
                "x": 20,
                "y": 20,
                "width": 800,
                "height": 600,
                "picture": {"file": file},
                "wrap": {"by": "contour", "clearance": dice.uniform(0, 20)},
                **({"contour": {"from": "plain"}} if "w" in file else {}),
            }
            width, height = dice.uniform(60, 500), dice.uniform(60, 400)
            at = {"x": dice.uniform(20, 820 - width), "y": dice.uniform(20, 620 - height)}
            raw = document([photo, frame(**at, width=width, height=height, least_slot=0)], paragraph(STORY))
            read = OWN.read(raw)
            [placed] = OWN.nest(read)
            region = shape_of(wrap_region(read.pages[0].objects[0], OWN.contours))
            box = shapely.box(at["x"], at["y"], at["x"] + width, at["y"] + height)
            share = region.intersection(box).area / box.area
            if share >= 0.95:  # a label on the thing itself
                lying += 1
                self.assertGreater(len(placed.nest.records), 0, seed)
                continue
            pushed += share > 0.02
            for record in placed.nest.records:
                if record[k.PAST] == 0:
                    line = shapely.box(
                        record[k.LEFT] + 0.2, record[k.TOP] + 0.2, record[k.RIGHT] - 0.2, record[k.BOTTOM] - 0.2
                    )
                    self.assertLess(region.intersection(line).area, 0.5, seed)
        self.assertGreaterEqual(pushed, fair(20))
        self.assertGreater(lying, 0)


class GoingUnder(unittest.TestCase):
    def test_a_caption_goes_under_its_picture_in_one_act_and_is_not_pushed(self) -> None:
        for side, gap in (("below", 6), ("above", "2mm"), ("left", 3), ("right", 0)):
            picture = {
                "id": "p",
                "x": 300,
                "y": 300,
                "width": 200,
                "height": 120,
                "wrap": {"by": "box", "clearance": 12},
            }
            caption = frame(width=90, height=40, give=["bottom"], least_slot=0)
            raw = document([picture, caption], paragraph(STORY, size=8))
            after = done(raw, "go-under", object="f", to="p", side=side, gap=gap)
            read = studio().read(after)
            nests = studio().nest(read)
            x, y, width, height = next(t for _, t in settled(read, nests).objects() if t.id == "f").box
            self.assertEqual(nests[0].nest.leftover_words, 0)
            points = {"2mm": 2 * 72 / 25.4}.get(gap, gap)
            if side == "below":
                self.assertEqual((round(x, 3), round(width, 3), round(y, 3)), (300, 200, 420 + points))
            elif side == "above":
                self.assertAlmostEqual(y + height, 300 - points, delta=0.05)
            elif side == "left":
                self.assertAlmostEqual(x + width, 300 - points, delta=0.05)
            else:
                self.assertAlmostEqual(x, 500 + points, delta=0.05)
            # The picture moved, the caption goes along.
            moved = things(done(after, "move", objects=["p"], by=[40, -30]))
            read = studio().read({**after, "pages": [{**after["pages"][0], "objects": list(moved.values())}]})
            there = next(t for _, t in settled(read, studio().nest(read)).objects() if t.id == "f").box
            self.assertAlmostEqual(there[0], x + 40, delta=0.05)
            self.assertAlmostEqual(there[1], y - 30, delta=0.05)

    def test_labels_in_a_row_keep_their_height(self) -> None:
        """A frame that gives at its sides alone has a height of its own; so has its duplicate, tied already."""
        labels = [frame(id="a", width=100, height=40, give=["left", "right"])]
        raw = document(
            [*labels, frame(id="b", x=90, y=300, width=100, height=40, give=["left", "right"])], paragraph("Fly")
        )
        after = done(raw, "go-under", object="b", to="a")
        after = done(after, "duplicate", objects=["b"], ids=["c"])
        after = done(after, "go-under", object="c", to="b")
        read = studio().read(after)
        a, b, c = (t.box for _, t in settled(read, studio().nest(read)).objects())
        for upper, lower in ((a, b), (b, c)):
            self.assertAlmostEqual(lower[1], upper[1] + upper[3] + 6, delta=0.01)
            self.assertEqual(
                [round(v, 2) for v in (lower[0], *lower[2:])], [round(v, 2) for v in (upper[0], *upper[2:])]
            )

    def test_what_cannot_go_there_is_said(self) -> None:
        with self.assertRaisesRegex(ActError, "itself"):
            done(document([frame()], paragraph("x")), "go-under", object="f", to="f")


class Guides(unittest.TestCase):
    def test_they_add_up_whatever_was_done_meanwhile(self) -> None:
        raw = document([])
        first = done(raw, "guide", page=0, axis="x", new=40)
        second = done(first, "guide", page=0, axis="x", new=90)
        moved = done(second, "guide", page=0, axis="x", old=40, new=50)
        self.assertEqual(sorted(moved["pages"][0]["guides"]["x"]), [50, 90])
        gone = done(moved, "guide", page=0, axis="x", old=90)
        self.assertEqual(gone["pages"][0]["guides"]["x"], [50])


class Dashes(unittest.TestCase):
    def test_an_em_of_them_is_the_width_of_the_stroke(self) -> None:
        for width in (0.5, 3, 12):
            self.assertEqual(Stroke(width=width, dash=("0em", "2.5em")).dashes, [0, 2.5 * width])
            self.assertEqual(LetterStroke(width=width, dash=(4, "1em")).dashes, [4, width])
        self.assertEqual(Stroke(dash=(6, 3)).dashes, [6, 3])


if __name__ == "__main__":
    unittest.main()
