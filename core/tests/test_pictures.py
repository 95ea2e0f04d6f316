"""Pictures: refused by content, contours against drawn shapes whose outline is known."""

import io
import math
import unittest

import numpy as np
from PIL import Image, ImageDraw
from shapely.geometry import Point, Polygon, box

from nestline.errors import DocumentError, NestLineError
from nestline.pictures.contour import contour_of_mask, contour_of_picture
from nestline.pictures.files import PictureError, read_picture
from nestline.studio import Studio
from support import STORY, document, frame, paragraph, studio


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
        with self.assertRaisesRegex(NestLineError, "not built yet"):
            contour_of_picture(read_picture(png(Image.new("RGB", (9, 9)))))
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

    def test_a_contour_without_transparency_is_refused_by_its_path(self) -> None:
        with self.assertRaises(DocumentError) as caught:
            self.nest(self.raw(), Image.new("RGB", (20, 20)))
        self.assertEqual(caught.exception.path, "$.pages[0].objects[1].contour")
