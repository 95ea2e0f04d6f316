"""Pictures: refused by content, contours against drawn shapes whose outline is known."""

import io
import math
import sys
import unittest
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFilter
from shapely.geometry import Point, Polygon, box

from nestline.errors import DocumentError, NestLineError
from nestline.pictures.contour import contour_of_mask, contour_of_picture
from nestline.pictures.files import PictureError, read_picture
from nestline.pictures.plain import plain_mask
from nestline.studio import Studio

sys.path.insert(0, str(Path(__file__).parents[2]))

from demo.pictures import draw as draw_demo  # noqa: E402
from support import STORY, document, frame, paragraph, studio  # noqa: E402


def png(image: Image.Image, kind: str = "PNG") -> bytes:
    out = io.BytesIO()
    image.save(out, kind)
    return out.getvalue()


def disc(size: int = 400, hole: bool = False) -> Image.Image:
    big = Image.new("RGBA", (4 * size, 4 * size), (0, 0, 0, 0))
    pen = ImageDraw.Draw(big)
    pen.ellipse([size, size, 3 * size, 3 * size], fill=(200, 60, 40, 255))
    if hole:
        pen.ellipse([1.75 * size, 1.75 * size, 2.25 * size, 2.25 * size], fill=(0, 0, 0, 0))
    return big.resize((size, size), Image.Resampling.LANCZOS)


class Files(unittest.TestCase):
    def test_pictures_are_known_by_their_content(self) -> None:
        for kind, media in (("PNG", "image/png"), ("JPEG", "image/jpeg"), ("WEBP", "image/webp")):
            read = read_picture(png(Image.new("RGB", (30, 20)), kind))
            self.assertEqual((read.media_type, read.width, read.height, read.transparent), (media, 30, 20, False))
        self.assertTrue(read_picture(png(disc(40))).transparent)
        self.assertFalse(read_picture(png(Image.new("RGBA", (9, 9), (1, 2, 3, 255)))).transparent)

    def test_what_is_no_picture_is_refused(self) -> None:
        whole = png(disc(60))
        for content in (b"", b"GIF89a", b"<svg/>", b"%PDF-1.4", whole[:100], png(Image.new("RGB", (3, 3)), "BMP")):
            with self.assertRaises(PictureError):
                read_picture(content)

    def test_too_many_pixels_are_refused_before_they_are_decoded(self) -> None:
        header = bytearray(png(Image.new("L", (8, 8))))
        header[16:24] = (60_000).to_bytes(4, "big") * 2
        with self.assertRaisesRegex(PictureError, "px|read"):
            read_picture(bytes(header))


class Contours(unittest.TestCase):
    def test_the_contour_of_a_disc_is_its_circle(self) -> None:
        area = contour_of_picture(read_picture(png(disc())))
        true = Point(200, 200).buffer(100, quad_segs=90)
        self.assertGreater(area.intersection(true).area / area.union(true).area, 0.99)
        self.assertLess(len(area.exterior.coords), 120)

    def test_holes_are_filled_unless_kept(self) -> None:
        picture = read_picture(png(disc(hole=True)))
        self.assertAlmostEqual(contour_of_picture(picture).area, math.pi * 100**2, delta=400)
        self.assertAlmostEqual(contour_of_picture(picture, holes=True).area, math.pi * (100**2 - 25**2), delta=400)

    def test_pixels_count_whole(self) -> None:
        mask = np.zeros((20, 20), dtype=bool)
        mask[4:9, 6:16] = True
        got = contour_of_mask(mask, holes=False)
        # OpenCV's contour runs through pixel centres: the square of pixels 6…15 × 4…8 reaches half a pixel further.
        self.assertAlmostEqual(got.symmetric_difference(box(5.5, 3.5, 15.5, 8.5)).area, 0, delta=1e-6)

    def test_the_threshold_decides_what_belongs(self) -> None:
        image = Image.new("RGBA", (100, 100), (0, 0, 0, 0))
        image.paste((255, 0, 0, 255), (10, 10, 50, 90))
        image.paste((255, 0, 0, 90), (50, 10, 90, 90))
        picture = read_picture(png(image))
        self.assertLess(contour_of_picture(picture, 0.5).bounds[2], 52)
        self.assertGreater(contour_of_picture(picture, 0.2).bounds[2], 88)

    def test_nothing_opaque_and_no_transparency_are_said(self) -> None:
        with self.assertRaisesRegex(NestLineError, "no transparency"):
            contour_of_picture(read_picture(png(Image.new("RGB", (9, 9)))), source="alpha")
        with self.assertRaisesRegex(NestLineError, "opaque"):
            contour_of_picture(read_picture(png(Image.new("RGBA", (9, 9), (0, 0, 0, 20)))))


class Wraps(unittest.TestCase):
    def raw(self, **thing: object) -> dict:
        picture = {
            "id": "p",
            "x": 200,
            "y": 110,
            "width": 200,
            "height": 200,
            "picture": {"file": "disc.png"},
            "wrap": {"by": "contour", "clearance": 10},
            **thing,
        }
        return document([frame(width=400), picture], paragraph(STORY * 3))

    def nest(self, raw: dict, image: Image.Image | None = None):  # type: ignore[no-untyped-def]
        file = read_picture(png(image or disc()))
        own = Studio(lambda name: file, studio().fonts)
        return own.nest(own.read(raw))[0].nest

    def test_copy_runs_round_the_contour_at_its_clearance(self) -> None:
        circle = Point(300, 210)
        nest = self.nest(self.raw())
        for row in nest.records:
            slot = Polygon([(row[6], row[4]), (row[7], row[4]), (row[7], row[5]), (row[6], row[5])])
            self.assertGreater(slot.distance(circle), 50 + 10 - 0.6)
        inner = min(abs(end - 300) for row in nest.records if row[4] < 217 and row[5] > 203 for end in row[6:8])
        self.assertAlmostEqual(inner, 60, delta=1)

    def test_the_contour_turns_and_grows_with_its_picture(self) -> None:
        half = disc()
        half.paste((0, 0, 0, 0), (0, 0, 200, 400))
        upright, turned = self.nest(self.raw(), half), self.nest(self.raw(turn=180), half)
        self.assertNotEqual(upright.ranges.tolist(), turned.ranges.tolist())

    def test_a_contour_that_is_not_there_is_refused_by_its_path(self) -> None:
        for contour, said in (({}, "differs"), ({"from": "alpha"}, "no transparency"), ({"from": "plain"}, "differs")):
            with self.assertRaises(DocumentError) as caught:
                self.nest(self.raw(contour=contour), Image.new("RGB", (20, 20)))
            self.assertEqual(caught.exception.path, "$.pages[0].objects[1].contour")
            self.assertIn(said, caught.exception.message)

    def test_copy_runs_round_a_subject_on_white_and_stays_inside_one(self) -> None:
        white = Image.new("RGB", (400, 400), "white")
        white.paste((190, 60, 40), mask=disc().getchannel("A"))
        circle = Point(300, 210)
        for inside in (False, True):
            wrap = {"by": "contour", "clearance": 10, "inside": inside}
            nest = self.nest(self.raw(wrap=wrap), white)
            self.assertGreater(len(nest.records[~nest.past]), 2)
            for row in nest.records[~nest.past]:
                slot = Polygon([(row[6], row[4]), (row[7], row[4]), (row[7], row[5]), (row[6], row[5])])
                if inside:
                    self.assertTrue(circle.buffer(50 - 10 + 0.8).contains(slot))
                else:
                    self.assertGreater(slot.distance(circle), 50 + 10 - 0.8)


def on_plain(
    shape: str, size: tuple[int, int], noise: float, gradient: float, fill: tuple[int, int, int]
) -> tuple[bytes, NDArray[np.bool_]]:
    """A made picture whose outline is known: on near-white, with a soft shadow, as JPEG; and its true mask."""
    width, height = size
    large = Image.new("L", (3 * width, 3 * height))
    draw = ImageDraw.Draw(large)
    if shape == "star":
        radii = [0.42 if i % 2 == 0 else 0.2 for i in range(10)]
        draw.polygon(
            [
                (
                    3 * width * (0.5 + r * math.cos(i * math.pi / 5 - 1.57)),
                    3 * height * (0.5 + r * math.sin(i * math.pi / 5 - 1.57)),
                )
                for i, r in enumerate(radii)
            ],
            fill=255,
        )
    else:
        draw.ellipse((0.6 * width, 0.45 * height, 2.25 * width, 2.7 * height), fill=255)
    mask = large.resize(size, Image.Resampling.LANCZOS)
    share = np.asarray(mask, float)[..., None] / 255
    x, y = np.linspace(0, 1, width)[None, :, None], np.linspace(0, 1, height)[:, None, None]
    ground = np.full((height, width, 3), 245.0) - gradient * x
    shadow = np.asarray(mask.filter(ImageFilter.GaussianBlur(width / 60)), float) / 255
    ground *= 1 - 0.25 * np.roll(shadow, (height // 50, width // 50), (0, 1))[..., None]
    pixels = ground * (1 - share) + np.array(fill, float) * (0.75 + 0.25 * y) * share
    pixels += np.random.default_rng(1).normal(0, noise, pixels.shape)
    out = io.BytesIO()
    Image.fromarray(np.clip(pixels, 0, 255).astype("uint8")).save(out, "JPEG", quality=85)
    return out.getvalue(), np.asarray(mask) >= 128


class PlainBackground(unittest.TestCase):
    def test_made_pictures_are_traced_to_their_known_outlines(self) -> None:
        cases = [
            ("star", (900, 900), 2, 0, (200, 60, 50)),
            ("disc", (1400, 1000), 2, 40, (60, 90, 160)),
            ("disc", (800, 800), 2, 0, (40, 40, 42)),
            ("star", (1000, 700), 1, 20, (225, 225, 80)),
        ]
        for case in cases:
            content, truth = on_plain(*case)  # type: ignore[arg-type]
            found = plain_mask(read_picture(content))
            share = (found & truth).sum() / (found | truth).sum()
            self.assertGreater(share, 0.995, case)

    def test_the_demos_box_kite_on_white_is_as_its_drawing_with_transparency(self) -> None:
        pictures = draw_demo()
        drawn = contour_of_picture(read_picture(pictures["pictures/box-kite.png"]))
        traced = contour_of_picture(read_picture(pictures["pictures/box-kite-on-white.jpg"]))
        # The copy on white has a margin about it: only sizes are compared.
        self.assertAlmostEqual(traced.area / drawn.area, 1, delta=0.02)

    def test_a_busy_border_and_an_empty_picture_are_refused(self) -> None:
        dice = np.random.default_rng(3)
        busy = Image.fromarray(dice.integers(0, 255, (200, 200, 3)).astype("uint8"))
        for image, said in ((busy, "not plain"), (Image.new("RGB", (200, 200), "white"), "nothing")):
            with self.assertRaisesRegex(NestLineError, said):
                plain_mask(read_picture(png(image)))
