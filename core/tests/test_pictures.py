"""Pictures: refused by content, contours against drawn shapes whose outline is known."""

import io
import json
import math
import sys
import unittest
from pathlib import Path
from typing import Any
from unittest.mock import patch

import cv2
import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFilter
from shapely.geometry import Point, Polygon, box

from draws import thrown
from nestline.acts import ActError, expanded
from nestline.document import edits
from nestline.document.model import Contour, Subject
from nestline.errors import DocumentError, NestLineError
from nestline.outlines.points import knots_of
from nestline.outlines.polygons import area_of
from nestline.pictures.busy import SURE, busy_mask
from nestline.pictures.colours import cells_of, made_exact, shared
from nestline.pictures.contour import contour_of_mask, curves_of, traced
from nestline.pictures.files import SMALL, PictureError, read_picture, small_picture
from nestline.pictures.placed import Contours as Tracer
from nestline.pictures.plain import plain_mask, refined, run_through
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

    def test_a_small_one_is_upright_of_its_proportions_and_as_clear(self) -> None:
        rng = np.random.default_rng(21)
        for kind in ("PNG", "JPEG", "WEBP"):
            for _ in range(8):
                width, height = (int(v) for v in rng.integers(1, 1500, 2))
                mode = "CMYK" if kind == "JPEG" and rng.random() < 0.4 else "RGB"
                image = Image.new("RGB", (width, height), (20, 90, 60))
                image.paste((230, 40, 30), (0, 0, width, height // 2))
                exif = Image.Exif()
                exif[0x0112] = 6  # turned: the camera lay on its side (Exif 2.3, orientation)
                out = io.BytesIO()
                image.convert(mode).save(out, kind, exif=exif, **({"lossless": True} if kind == "WEBP" else {}))
                with (
                    Image.open(io.BytesIO(small_picture(out.getvalue()))) as small,
                    self.subTest(kind, size=image.size),
                ):
                    whole = read_picture(out.getvalue())
                    self.assertEqual((small.format, small.mode), ("WEBP", "RGB"))
                    self.assertLessEqual(max(small.size), SMALL)
                    self.assertEqual(max(small.size) == SMALL or small.size == (whole.width, whole.height), True)
                    if min(small.size) > 30:  # turned to the right: what lay above is on the right
                        self.assertAlmostEqual(
                            small.width / small.height,
                            whole.width / whole.height,
                            delta=0.1 * whole.width / whole.height,
                        )
                        left, right = (
                            small.getpixel((4, small.height // 2)),
                            small.getpixel((small.width - 5, small.height // 2)),
                        )
                        self.assertLess(left[0], 130)
                        self.assertGreater(right[0], 160)
        with Image.open(io.BytesIO(small_picture(png(disc(600))))) as clear:
            self.assertEqual(
                (clear.size, clear.getpixel((0, 0))[3], clear.getpixel((160, 160))[3]), ((320, 320), 0, 255)
            )
        with self.assertRaises(PictureError):
            small_picture(b"GIF89a")


class Contours(unittest.TestCase):
    def test_the_contour_of_a_disc_is_its_circle(self) -> None:
        area = area_in(read_picture(png(disc())))
        true = Point(200, 200).buffer(100, quad_segs=90)
        self.assertGreater(area.intersection(true).area / area.union(true).area, 0.99)
        self.assertLess(len(area.exterior.coords), 160)

    def test_holes_are_filled_unless_kept(self) -> None:
        picture = read_picture(png(disc(hole=True)))
        self.assertAlmostEqual(area_in(picture).area, math.pi * 100**2, delta=400)
        self.assertAlmostEqual(area_in(picture, holes=True).area, math.pi * (100**2 - 25**2), delta=400)

    def test_pixels_count_whole(self) -> None:
        mask = np.zeros((20, 20), dtype=bool)
        mask[4:9, 6:16] = True
        got = contour_of_mask(mask, holes=False)
        # OpenCV's contour runs through pixel centres: the square of pixels 6…15 × 4…8 reaches half a pixel further.
        self.assertAlmostEqual(got.symmetric_difference(box(6, 4, 16, 9)).area, 0, delta=1e-6)

    def test_the_threshold_decides_what_belongs(self) -> None:
        image = Image.new("RGBA", (100, 100), (0, 0, 0, 0))
        image.paste((255, 0, 0, 255), (10, 10, 50, 90))
        image.paste((255, 0, 0, 90), (50, 10, 90, 90))
        picture = read_picture(png(image))
        self.assertLess(area_in(picture, threshold=0.5).bounds[2], 52)
        self.assertGreater(area_in(picture, threshold=0.2).bounds[2], 88)

    def test_nothing_opaque_and_no_transparency_are_said(self) -> None:
        with self.assertRaisesRegex(NestLineError, "no transparency"):
            area_in(read_picture(png(Image.new("RGB", (9, 9)))), **{"from": "alpha"})
        with self.assertRaisesRegex(NestLineError, "opaque"):
            area_in(read_picture(png(Image.new("RGBA", (9, 9), (0, 0, 0, 20)))))


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


def area_in(picture: Any, **contour: Any) -> Any:
    """The area of a picture's contour, in pixels."""
    return run_through(traced(picture, Contour.model_validate(contour))).area


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
            found = run_through(plain_mask(read_picture(content)))
            share = (found & truth).sum() / (found | truth).sum()
            self.assertGreater(share, 0.995, case)

    def test_the_demos_box_kite_on_white_is_as_its_drawing_with_transparency(self) -> None:
        pictures = draw_demo()
        drawn = area_in(read_picture(pictures["pictures/box-kite.png"]))
        traced = area_in(read_picture(pictures["pictures/box-kite-on-white.jpg"]))
        # The copy on white has a margin about it: only sizes are compared.
        self.assertAlmostEqual(traced.area / drawn.area, 1, delta=0.02)

    def test_a_busy_border_and_an_empty_picture_are_refused(self) -> None:
        dice = np.random.default_rng(3)
        busy = Image.fromarray(dice.integers(0, 255, (200, 200, 3)).astype("uint8"))
        for image, said in ((busy, "not plain"), (Image.new("RGB", (200, 200), "white"), "nothing")):
            with self.assertRaisesRegex(NestLineError, said):
                run_through(plain_mask(read_picture(png(image))))


def on_busy(shape: Image.Image, seed: int) -> tuple[Image.Image, NDArray[np.bool_]]:
    """A drawing with transparency on a made, busy ground, with noise; and where it truly is."""
    width, height = shape.size
    size = (round(1.4 * width), round(1.4 * height))
    dice = np.random.default_rng(seed)
    layers = [
        np.asarray(
            Image.fromarray((dice.random((size[1] // n, size[0] // n)) * 255).astype("uint8")).resize(size), float
        )
        for n in (7, 45)
    ]
    ground = np.stack(
        [40 + 0.3 * layers[0] + 0.2 * layers[1], 80 + 0.35 * layers[0] + 0.2 * layers[1], 40 + 0.4 * layers[0]], -1
    )
    image = Image.fromarray(np.clip(ground, 0, 255).astype("uint8")).convert("RGBA")
    at = (round(0.2 * width), round(0.2 * height))
    image.alpha_composite(shape, at)
    truth = np.zeros(size[::-1], bool)
    truth[at[1] : at[1] + height, at[0] : at[0] + width] = np.asarray(shape.getchannel("A")) >= 128
    return image.convert("RGB"), truth


class BusyBackground(unittest.TestCase):
    def test_a_made_picture_is_traced_to_its_known_outline(self) -> None:
        for name, share in (("box-kite", 0.96), ("tower", 0.99)):
            shape = Image.open(io.BytesIO(draw_demo()[f"pictures/{name}.png"]))
            image, truth = on_busy(shape, 5)
            found, confidence = run_through(busy_mask(read_picture(png(image))))
            self.assertGreater((found & truth).sum() / (found | truth).sum(), share, name)
            self.assertGreater(confidence, SURE, name)

    def test_the_same_picture_gives_the_same_contour(self) -> None:
        image, _ = on_busy(disc().resize((200, 200)), 3)
        one, two = (run_through(busy_mask(read_picture(png(image))))[0] for _ in range(2))
        self.assertTrue((one == two).all())

    def test_a_rectangle_marks_which_of_two_is_the_subject(self) -> None:
        image, _ = on_busy(Image.new("RGBA", (500, 300)), 4)
        for x, color in ((60, (220, 60, 50)), (460, (235, 225, 90))):
            ImageDraw.Draw(image).ellipse((x, 120, x + 160, 280), fill=color)
        for around, side in (((0.02, 0.2, 0.4, 0.6), 0), ((0.6, 0.2, 0.38, 0.6), 1)):
            found, _ = run_through(busy_mask(read_picture(png(image)), subject=Subject(box=around)))
            halves = found[:, : image.width // 2].sum(), found[:, image.width // 2 :].sum()
            self.assertGreater(halves[side], 15_000)
            self.assertLess(halves[1 - side], 600)

    def test_what_cannot_be_told_apart_is_unsure_or_refused(self) -> None:
        dice = np.random.default_rng(3)
        noise = Image.fromarray(dice.integers(0, 255, (200, 200, 3)).astype("uint8"))
        try:
            _, confidence = run_through(busy_mask(read_picture(png(noise))))
        except NestLineError as error:
            self.assertIn("mark it", str(error))
        else:
            self.assertLess(confidence, SURE)


PICTURES = Path(__file__).parent / "pictures"
"""Pictures of the package scikit-image (see the README there)."""
HEIGHT, WIDTH = 600, 800


def grey(name: str) -> NDArray[np.float64]:
    return np.asarray(Image.open(PICTURES / name).convert("L"), float)


def ground(name: str, dark: tuple[int, int, int], light: tuple[int, int, int]) -> NDArray[np.float64]:
    """A texture repeated over a picture, in a colour."""
    tile = grey(name)
    tile = (tile - tile.min()) / np.ptp(tile)
    part = np.tile(tile, (2, 2))[:HEIGHT, :WIDTH, None]
    return np.asarray(np.array(dark) * (1 - part) + np.array(light) * part)


def horse_on(back: NDArray[np.float64], coat: NDArray[np.float64]) -> tuple[Any, NDArray[np.bool_]]:
    """The horse's silhouette filled with a coat on a ground, with noise, as a JPEG file; and where it truly is."""
    height = 492
    small = Image.fromarray(((grey("horse.png") < 128) * 255).astype("uint8")).resize(
        (round(400 / 328 * height), height), Image.Resampling.BOX
    )
    cover = np.zeros((HEIGHT, WIDTH))
    cover[54 : 54 + height, 100 : 100 + small.width] = np.asarray(small, float) / 255
    mixed = back * (1 - cover[..., None]) + coat * cover[..., None]
    noisy = mixed + np.random.default_rng(8).normal(0, 4, mixed.shape)
    file = io.BytesIO()
    Image.fromarray(np.clip(noisy, 0, 255).astype("uint8")).save(file, "JPEG", quality=88)
    return read_picture(file.getvalue()), cover >= 0.5


def plain_coat(*color: int) -> NDArray[np.float64]:
    return np.full((HEIGHT, WIDTH, 3), color, float)


class HorseOnTextures(unittest.TestCase):
    """A subject whose outline is known, on backgrounds that were not made for it. Source: pictures that ship with the
    package scikit-image (pictures/README.md). Common practice: an IoU over 0.96 is a usable cut-out."""

    def share(self, picture: Any, truth: NDArray[np.bool_], subject: Subject | None = None) -> tuple[float, float]:
        found, confidence = run_through(busy_mask(picture, subject=subject))
        return float((found & truth).sum() / (found | truth).sum()), confidence

    def test_it_is_found_on_grass_and_gravel(self) -> None:
        green = ground("grass.png", (20, 45, 10), (170, 200, 110))
        stones = ground("gravel.png", (40, 36, 34), (215, 205, 195))
        for back, coat in (
            (green, plain_coat(120, 72, 40)),
            (green, ground("gravel.png", (70, 35, 18), (150, 90, 50))),
            (ground("grass.png", (0, 0, 0), (255, 255, 255)), plain_coat(22, 20, 22)),
            (stones, plain_coat(238, 234, 226)),
        ):
            share, confidence = self.share(*horse_on(back, coat))
            self.assertGreater(share, 0.96)
            self.assertGreaterEqual(confidence, SURE)

    def test_where_it_is_not_found_so_it_says_that_it_is_unsure(self) -> None:
        coffee = np.asarray(Image.open(PICTURES / "coffee.png").convert("RGB").resize((WIDTH, HEIGHT)), float)
        for coat in (plain_coat(120, 72, 40), plain_coat(22, 20, 22)):
            picture, truth = horse_on(coffee, coat)
            share, confidence = self.share(picture, truth)
            self.assertLess(share, 0.96)
            self.assertLess(confidence, SURE)
            keep = (((0.3, 0.38), (0.5, 0.42), (0.62, 0.35), (0.72, 0.25)), ((0.25, 0.7), (0.3, 0.5)))
            drop = (((0.15, 0.55), (0.2, 0.85), (0.5, 0.93), (0.72, 0.7)), ((0.3, 0.2), (0.45, 0.12), (0.6, 0.15)))
            marked, _ = self.share(picture, truth, Subject(keep=keep, drop=drop))
            self.assertGreater(marked, 0.7)

    def test_a_higher_threshold_keeps_less(self) -> None:
        picture, _ = horse_on(ground("grass.png", (20, 45, 10), (170, 200, 110)), plain_coat(110, 100, 60))
        sizes = [run_through(busy_mask(picture, threshold))[0].sum() for threshold in (0.2, 0.5, 0.8)]
        self.assertEqual(sizes, sorted(sizes, reverse=True))
        self.assertGreater(sizes[0], sizes[2])

    def test_a_picture_refined_in_pieces_is_refined_as_a_whole(self) -> None:
        dice = np.random.default_rng(4)
        image = dice.integers(150, 200, (300, 420, 3)).astype("uint8")
        truth = np.zeros((300, 420), np.uint8)
        cv2.ellipse(truth, (210, 150), (170, 110), 20, 0, 360, 1, -1)
        image[truth > 0] = dice.integers(30, 90, (int(truth.sum()), 3))
        rough = cv2.resize(truth, (105, 75), interpolation=cv2.INTER_AREA) > 0
        whole = refined(image, rough, 0.25)
        with patch("nestline.pictures.plain.TILE", 64):
            self.assertTrue((refined(image, rough, 0.25) == whole).all())
        self.assertGreater((whole & (truth > 0)).sum() / (whole | (truth > 0)).sum(), 0.98)

    def test_what_was_marked_stays_marked(self) -> None:
        lab = np.zeros((80, 80, 3), np.float32)
        lab[..., 0] = 80
        lab[20:60, 20:60, 0] = 30
        truth = lab[..., 0] < 50
        rough = np.zeros((80, 80), bool)
        rough[15:70, 25:55] = True
        cells = cells_of(lab)
        self.assertGreater(shared(made_exact(lab, cells, rough), truth), 0.95)
        marks = np.full((80, 80), 2, np.uint8)
        marks[:8], marks[30:40, 30:40] = 1, 0
        kept = made_exact(lab, cells, rough, marks)
        self.assertTrue(kept[:8].all())
        self.assertFalse(kept[30:40, 30:40].any())

    def test_it_tells_how_far_it_has_come(self) -> None:
        picture, _ = horse_on(ground("grass.png", (20, 45, 10), (170, 200, 110)), plain_coat(22, 20, 22))
        steps = list(busy_mask(picture))
        self.assertEqual(steps, sorted(steps))
        self.assertGreater(len(steps), 6)


class OtherContours(unittest.TestCase):
    def picture(self) -> Any:
        return read_picture(png(Image.new("RGB", (200, 100), "white")))

    def test_a_mask_picture_is_stretched_to_the_picture(self) -> None:
        mask = Image.new("L", (100, 100))
        ImageDraw.Draw(mask).rectangle((25, 25, 74, 74), fill=255)
        contour = Contour.model_validate({"from": "mask", "mask": "m.png"})
        area = run_through(traced(self.picture(), contour, read_picture(png(mask)))).area
        self.assertEqual(tuple(round(v) for v in area.bounds), (50, 25, 150, 75))

    def test_a_path_is_in_fractions_of_the_picture(self) -> None:
        contour = Contour.model_validate({"from": "path", "d": "M0.5 0L1 1L0 1Z"})
        self.assertAlmostEqual(run_through(traced(self.picture(), contour)).area.area, 100 * 100, delta=1)

    def test_smooth_contours_have_few_points_and_stay_near(self) -> None:
        picture = read_picture(png(disc()))
        found = run_through(traced(picture, Contour()))
        before = 10**9
        for smoothness, away in ((0.05, 0.01), (0.4, 0.02), (1.0, 0.08)):
            contour = Contour(smoothness=smoothness)
            path = curves_of(found, contour, picture)
            points = sum(len(c) for c in path)
            self.assertLessEqual(points, before)
            before = points
            area = area_of(path)
            self.assertLess(area.symmetric_difference(found.area).area / found.area.area, away)
        self.assertLessEqual(before, 6)
        few = curves_of(found, Contour(points=3), picture)
        self.assertLessEqual(max(len(c) for c in few), 3)

    def test_contours_are_kept_with_their_pictures(self) -> None:
        shelf: dict[tuple[str, str], bytes] = {}

        class Shelf:
            def get(self, file: str, key: str) -> bytes | None:
                return shelf.get((file, key))

            def put(self, file: str, key: str, content: bytes) -> None:
                shelf[file, key] = content

        file = read_picture(png(disc()))
        steps = list(Tracer(lambda _: file, Shelf()).trace("disc.png", Contour()))
        self.assertTrue(steps and all(0 <= s <= 1 for s in steps))
        self.assertEqual(len(shelf), 1)
        self.assertEqual(list(Tracer(lambda _: file, Shelf()).trace("disc.png", Contour())), [])


class ContoursByHand(unittest.TestCase):
    def raw(self, **contour: Any) -> dict[str, Any]:
        thing = {"id": "p", "x": 100, "y": 50, "width": 100, "height": 100, "picture": {"file": "disc.png"}}
        thing |= {"wrap": {"by": "contour"}, **({"contour": contour} if contour else {})}
        return document([thing])

    def studio(self) -> Studio:
        file = read_picture(png(disc()))
        return Studio(lambda _: file, studio().fonts)

    def done(self, raw: dict[str, Any], act: str, **given: Any) -> dict[str, Any]:
        own = self.studio()
        operations = expanded(own, raw, [{"do": "act", "act": act, "given": {"object": "p", **given}}])
        json.dumps(operations)
        after = edits.apply(raw, operations).document
        own.read(after)
        return after

    def area(self, raw: dict[str, Any]) -> Any:
        own = self.studio()
        (thing,) = own.read(raw).pages[0].objects
        return area_of(own.contours.found(thing).path)

    def test_what_was_traced_becomes_few_points_that_are_moved(self) -> None:
        raw = self.done(self.raw(), "contour-by-hand")
        self.assertEqual(raw["pages"][0]["objects"][0]["contour"]["from"], "path")
        self.assertAlmostEqual(self.area(raw).area, math.pi * 25**2, delta=20)
        (knots,) = knots_of(self.studio().contours.found(self.studio().read(raw).pages[0].objects[0]).path)
        self.assertLess(len(knots), 12)
        moved = self.done(raw, "move-points", of="contour", points=[[0, 0]], by=[30, 0])
        self.assertNotAlmostEqual(self.area(moved).area, self.area(raw).area, delta=50)
        self.assertEqual(moved["pages"][0]["objects"][0].get("outline"), None)

    def test_a_point_is_added_and_taken_away(self) -> None:
        raw = self.done(self.raw(), "contour-by-hand")
        more = self.done(raw, "add-point", of="contour", at=[150, 50])
        count = [
            sum(map(len, knots_of(self.studio().contours.found(self.studio().read(r).pages[0].objects[0]).path)))
            for r in (raw, more)
        ]
        self.assertEqual(count[1], count[0] + 1)
        self.assertAlmostEqual(self.area(more).area, self.area(raw).area, delta=1)

    def test_drawn_round_the_subject(self) -> None:
        knots = [{"at": spot} for spot in ([110, 60], [190, 60], [190, 140], [110, 140])]
        raw = self.done(self.raw(), "draw-contour", page=0, knots=knots)
        self.assertAlmostEqual(self.area(raw).area, 80 * 80, delta=0.5)
        self.assertEqual(tuple(round(v) for v in self.area(raw).bounds), (10, 10, 90, 90))
        # Two points with curves between them have room; one has none.
        lens = [
            {"at": [110, 100], "after": [110, 60], "before": [110, 140]},
            {"at": [190, 100], "before": [190, 60], "after": [190, 140]},
        ]
        self.assertGreater(self.area(self.done(self.raw(), "draw-contour", page=0, knots=lens)).area, 2000)
        with self.assertRaisesRegex(ActError, "two points"):
            self.done(self.raw(), "draw-contour", page=0, knots=lens[:1])

    def test_from_another_outline_and_from_an_svg_file(self) -> None:
        raw = self.raw()
        raw["pages"][0]["objects"].append(
            {"id": "k", "x": 120, "y": 70, "width": 60, "height": 60, "outline": {"kind": "kite"}}
        )
        own = self.done(raw, "contour-from-outline", outline="k")
        contour = own["pages"][0]["objects"][0]["contour"]
        self.assertTrue(contour["d"].startswith("M"))
        box = '<rect x="50" y="50" width="100" height="100"/>'
        svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="200" height="200">{box}</svg>'
        made = self.done(self.raw(), "contour-from-svg", svg=svg)
        self.assertEqual(tuple(round(v) for v in self.area(made).bounds), (25, 25, 75, 75))

    def test_an_svg_file_lies_as_it_was_drawn_or_is_centred_as_large_as_the_picture(self) -> None:
        dice = thrown(5)
        for _ in range(20):
            wide = dice.uniform(20, 400)
            high = wide if dice.random() < 0.5 else wide * dice.choice([0.4, 1.8])
            x, y, w, h = (
                wide * dice.uniform(0, 0.4),
                high * dice.uniform(0, 0.4),
                wide * dice.uniform(0.2, 0.5),
                high * dice.uniform(0.2, 0.5),
            )
            rectangle = f'<rect x="{x}" y="{y}" width="{w}" height="{h}"/>'
            svg = f'<svg xmlns="http://www.w3.org/2000/svg" width="{wide}" height="{high}">{rectangle}</svg>'
            found = self.area(self.done(self.raw(), "contour-from-svg", svg=svg)).bounds
            if wide == high:
                wanted = [v * 100 / wide for v in (x, y, x + w, y + h)]
            else:
                half = [side * min(100 / w, 100 / h) / 2 for side in (w, h)]
                wanted = [50 - half[0], 50 - half[1], 50 + half[0], 50 + half[1]]
            np.testing.assert_allclose(found, wanted, atol=0.02)

    def test_a_hand_drawn_contour_is_kept_when_another_way_is_chosen(self) -> None:
        raw = self.done(self.raw(), "contour-by-hand")
        contour = raw["pages"][0]["objects"][0]["contour"]
        self.assertEqual(
            self.studio().read(self.raw(**{**contour, "from": "alpha"})).pages[0].objects[0].contour.d, contour["d"]
        )  # type: ignore[union-attr]
