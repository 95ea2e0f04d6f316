"""Draws the demo's pictures: made-up kites, a tower, clouds. Everything here is invented.

Each is drawn four times as large as it is kept and then made smaller, so that edges are smooth. `draw()` gives their
PNG and JPEG files by the names the demo documents use; `python -m demo.pictures FOLDER` draws them all into a folder.
"""

from __future__ import annotations

import io
import math
import os
import random
import sys
from collections.abc import Callable, Iterator, Mapping, Sequence
from functools import cache
from pathlib import Path

from PIL import Image, ImageChops, ImageDraw, ImageFilter

Point = tuple[float, float]
Color = tuple[int, int, int]

RED, DARK_RED, STRAW, LAKE, DEEP, CREAM, GREEN = (
    (216, 82, 58), (176, 58, 42), (246, 214, 140), (47, 111, 143), (29, 58, 51), (255, 250, 238), (86, 140, 110),
)  # fmt: skip
FINE = 4


class Sheet:
    """A transparent drawing of `width` × `height` px."""

    def __init__(self, width: int, height: int) -> None:
        self.size = (width, height)
        self.image = Image.new("RGBA", (width * FINE, height * FINE), (0, 0, 0, 0))
        self.pen = ImageDraw.Draw(self.image)

    def sail(self, points: Sequence[Point], top: Color, bottom: Color) -> None:
        """A stretch of cloth, shaded from top to bottom."""
        scaled = [(x * FINE, y * FINE) for x, y in points]
        xs, ys = [x for x, _ in scaled], [y for _, y in scaled]
        left, low = max(0, math.floor(min(xs))), max(0, math.floor(min(ys)))
        size = (
            min(self.image.width, math.ceil(max(xs)) + 1) - left,
            min(self.image.height, math.ceil(max(ys)) + 1) - low,
        )
        if min(size) <= 0:
            return
        mask = Image.new("L", size, 0)
        ImageDraw.Draw(mask).polygon([(x - left, y - low) for x, y in scaled], fill=255)
        shade = Image.new("RGB", (1, 256))
        for i in range(256):
            shade.putpixel((0, i), tuple(round(a + (b - a) * i / 255) for a, b in zip(top, bottom, strict=True)))
        self.image.paste(shade.resize(size), (left, low), mask)

    def spar(self, points: Sequence[Point], width: float, color: Color = CREAM) -> None:
        self.pen.line([(x * FINE, y * FINE) for x, y in points], fill=color, width=round(width * FINE), joint="curve")

    def tail(self, points: Sequence[Point], bows: Sequence[Color], width: float = 5) -> None:
        """A tail through points (a Catmull-Rom curve) with bows along it."""
        curve = _curve(points)
        self.spar(curve, width, DEEP)
        for i, color in enumerate(bows, 1):
            at = curve[i * (len(curve) - 1) // (len(bows) + 1)]
            after = curve[min(len(curve) - 1, i * (len(curve) - 1) // (len(bows) + 1) + 2)]
            turn = math.atan2(after[1] - at[1], after[0] - at[0]) + math.pi / 2
            for side in (1, -1):
                c, s = math.cos(turn) * side, math.sin(turn) * side
                wing = [(0.0, 0.0), (46.0, -20.0), (40.0, 0.0), (46.0, 20.0)]
                self.sail([(at[0] + x * c - y * s, at[1] + x * s + y * c) for x, y in wing], color, color)

    def done(self) -> Image.Image:
        # Made smaller with its colours weighed by their opacity, or edges would darken.
        return self.image.convert("RGBa").resize(self.size, Image.Resampling.LANCZOS).convert("RGBA")


def _curve(points: Sequence[Point]) -> list[Point]:
    padded = [points[0], *points, points[-1]]
    out: list[Point] = []
    for a, b, c, d in zip(padded, padded[1:], padded[2:], padded[3:], strict=False):
        for i in range(24):
            t = i / 24
            out.append(
                tuple(
                    0.5 * (2 * q + (r - p) * t + (2 * p - 5 * q + 4 * r - s) * t * t + (3 * q - p - 3 * r + s) * t**3)
                    for p, q, r, s in zip(a, b, c, d, strict=True)
                )  # type: ignore[arg-type]
            )
    return [*out, points[-1]]


def delta() -> Image.Image:
    s = Sheet(1200, 1000)
    s.tail([(600, 640), (560, 760), (660, 830), (600, 930), (680, 985)], [STRAW, LAKE, RED])
    s.sail([(600, 30), (1180, 560), (600, 470)], RED, DARK_RED)
    s.sail([(600, 30), (20, 560), (600, 470)], (234, 112, 84), RED)
    s.sail([(600, 470), (1180, 560), (760, 560), (600, 660)], LAKE, (30, 78, 104))
    s.sail([(600, 470), (20, 560), (440, 560), (600, 660)], (72, 140, 172), LAKE)
    s.sail([(600, 210), (690, 400), (600, 470), (510, 400)], STRAW, (232, 186, 96))
    s.spar([(600, 30), (600, 660)], 7)
    s.spar([(600, 30), (1180, 560)], 6)
    s.spar([(600, 30), (20, 560)], 6)
    s.spar([(300, 300), (900, 300)], 5)
    return s.done()


def diamond() -> Image.Image:
    s = Sheet(800, 1300)
    s.tail(
        [(400, 800), (450, 920), (350, 1010), (440, 1120), (370, 1210), (420, 1290)], [STRAW, GREEN, STRAW, GREEN], 6
    )
    s.sail([(400, 10), (780, 300), (400, 300)], LAKE, (30, 78, 104))
    s.sail([(400, 10), (20, 300), (400, 300)], (72, 140, 172), LAKE)
    s.sail([(400, 300), (780, 300), (400, 820)], STRAW, (232, 186, 96))
    s.sail([(400, 300), (20, 300), (400, 820)], CREAM, STRAW)
    s.spar([(400, 10), (400, 820)], 7, DEEP)
    s.spar([(20, 300), (780, 300)], 7, DEEP)
    return s.done()


def box() -> Image.Image:
    s = Sheet(900, 1100)
    for top, tint in ((60, RED), (700, LAKE)):
        dark = tuple(round(c * 0.72) for c in tint)
        s.sail([(250, top), (700, top + 60), (700, top + 310), (250, top + 250)], dark, dark)  # type: ignore[arg-type]
        s.sail([(90, top + 90), (540, top + 150), (540, top + 400), (90, top + 340)], tint, tint)
        s.sail([(540, top + 150), (700, top + 60), (700, top + 310), (540, top + 400)], dark, tint)  # type: ignore[arg-type]
    for x, y in ((90, 150), (540, 210), (700, 120)):
        s.spar([(x, y - 30), (x, y + 920)], 9, DEEP)
    return s.done()


def tower() -> Image.Image:
    s = Sheet(420, 1100)
    s.sail([(110, 300), (310, 300), (360, 1095), (60, 1095)], (236, 224, 198), (204, 186, 150))
    s.sail([(250, 300), (310, 300), (360, 1095), (262, 1095)], (214, 198, 164), (178, 158, 122))
    s.sail([(80, 250), (340, 250), (330, 310), (90, 310)], DEEP, (18, 40, 35))
    s.sail([(120, 120), (300, 120), (300, 252), (120, 252)], (236, 224, 198), (220, 204, 172))
    s.sail([(210, 10), (330, 124), (90, 124)], RED, DARK_RED)
    for y in (420, 600, 780):
        s.sail([(188, y), (232, y), (234, y + 80), (186, y + 80)], DEEP, DEEP)
    s.sail([(178, 160), (242, 160), (242, 236), (178, 236)], STRAW, (240, 190, 90))
    s.sail([(176, 970), (244, 970), (248, 1095), (172, 1095)], DEEP, DEEP)
    return s.done()


def cloud() -> Image.Image:
    s = Sheet(1000, 420)
    for x, y, r in ((240, 270, 130), (420, 190, 170), (620, 230, 160), (790, 290, 110)):
        s.pen.ellipse([(x - r) * FINE, (y - r) * FINE, (x + r) * FINE, (y + r) * FINE], fill=(255, 253, 247, 235))
    s.pen.rounded_rectangle([120 * FINE, 270 * FINE, 890 * FINE, 400 * FINE], 65 * FINE, fill=(255, 253, 247, 235))
    return s.done()


def dragon() -> Image.Image:
    """A long dragon: a round face and discs on a line that winds down behind it."""
    s = Sheet(1500, 1100)
    line = _curve([(300, 250), (520, 420), (760, 360), (930, 560), (820, 760), (1010, 900), (1230, 840), (1430, 980)])
    s.spar(line, 5, DEEP)
    for i in range(11, 0, -1):
        x, y = line[i * (len(line) - 1) // 11]
        r = 108 - 7 * i
        color = (RED, STRAW, LAKE)[i % 3]
        for grow, tint in ((0, color), (-12, tuple(min(255, c + 26) for c in color))):
            box = [(x - r - grow) * FINE, (y - r - grow) * FINE, (x + r + grow) * FINE, (y + r + grow) * FINE]
            s.pen.ellipse(box, fill=tint)
        s.sail([(x - r, y), (x - r - 70, y - 26), (x - r - 60, y + 24)], CREAM, STRAW)
        s.sail([(x + r, y), (x + r + 70, y - 26), (x + r + 60, y + 24)], CREAM, STRAW)
    for x, y in ((170, 70), (430, 70)):
        s.sail([(x - 40, y + 90), (x + (x - 300) // 3, y - 64), (x + 40, y + 90)], DARK_RED, RED)
    s.pen.ellipse([110 * FINE, 90 * FINE, 490 * FINE, 430 * FINE], fill=RED)
    s.pen.ellipse([140 * FINE, 120 * FINE, 460 * FINE, 400 * FINE], fill=(234, 112, 84))
    for x in (225, 375):
        for r, tint in ((52, CREAM), (28, DEEP), (10, CREAM)):
            s.pen.ellipse([(x - r) * FINE, (220 - r) * FINE, (x + r) * FINE, (220 + r) * FINE], fill=tint)
    s.sail([(210, 310), (390, 310), (350, 370), (250, 370)], DEEP, DEEP)
    for x in (232, 276, 320):
        s.sail([(x, 310), (x + 36, 310), (x + 18, 344)], CREAM, CREAM)
    return s.done()


def parafoil() -> Image.Image:
    s = Sheet(1300, 760)
    for i in range(6):
        left, right = 60 + i * 196, 60 + (i + 1) * 196
        top = [150 - round(90 * math.sin(math.pi * k / 6)) for k in (i, i + 1)]
        color = (LAKE, STRAW, RED)[i % 3]
        dark = tuple(round(c * 0.8) for c in color)
        s.sail([(left, top[0]), (right, top[1]), (right, top[1] + 240), (left, top[0] + 240)], color, dark)  # type: ignore[arg-type]
    for i in range(7):
        x, y = 60 + i * 196, 390 - round(90 * math.sin(math.pi * i / 6))
        s.spar([(x, y), (650, 745)], 4, DEEP)
    return s.done()


def hills() -> Image.Image:
    s = Sheet(1600, 520)
    for height, points, color in (
        (0, [(0, 260), (300, 120), (640, 210), (980, 90), (1330, 190), (1600, 110)], (150, 182, 158)),
        (1, [(0, 340), (260, 250), (600, 330), (900, 230), (1250, 320), (1600, 240)], GREEN),
        (2, [(0, 430), (380, 340), (760, 420), (1180, 350), (1600, 430)], DEEP),
    ):
        s.sail([*_curve(points), (1600, 519 - height), (0, 519 - height)], color, color)
    return s.done()


def reel() -> Image.Image:
    s = Sheet(420, 520)
    s.sail([(60, 40), (360, 40), (360, 100), (60, 100)], (196, 152, 96), (160, 118, 70))
    s.sail([(100, 100), (320, 100), (320, 420), (100, 420)], RED, DARK_RED)
    for y in range(116, 420, 22):
        s.spar([(100, y), (320, y + 12)], 4, (240, 150, 120))
    s.sail([(60, 420), (360, 420), (360, 480), (60, 480)], (196, 152, 96), (160, 118, 70))
    s.spar(_curve([(318, 400), (380, 440), (350, 500), (410, 515)]), 5, RED)
    return s.done()


def lantern() -> Image.Image:
    s = Sheet(460, 640)
    s.spar([(230, 0), (230, 90)], 5, DEEP)
    s.sail([(150, 80), (310, 80), (330, 120), (130, 120)], DEEP, DEEP)
    s.pen.ellipse([60 * FINE, 110 * FINE, 400 * FINE, 520 * FINE], fill=STRAW)
    s.pen.ellipse([130 * FINE, 110 * FINE, 330 * FINE, 520 * FINE], fill=(252, 232, 176))
    for x in (130, 230, 330):
        s.spar(_curve([(230, 112), (x + (x - 230) // 2, 315), (230, 518)]), 3, (214, 160, 78))
    s.sail([(140, 508), (320, 508), (300, 552), (160, 552)], DEEP, DEEP)
    s.tail([(230, 552), (222, 590), (236, 636)], [RED], 4)
    return s.done()


def bunting() -> Image.Image:
    s = Sheet(1600, 300)
    line = _curve([(10, 30), (400, 110), (800, 60), (1200, 120), (1590, 30)])
    s.spar(line, 5, DEEP)
    colors = (RED, STRAW, LAKE, CREAM, GREEN)
    for i in range(13):
        x, y = line[(i + 1) * (len(line) - 1) // 14]
        color = colors[i % 5]
        s.sail([(x - 44, y), (x + 44, y), (x, y + 120)], color, tuple(round(c * 0.88) for c in color))  # type: ignore[arg-type]
    return s.done()


def on_sky(picture: Image.Image, seed: int = 2) -> Image.Image:
    """A picture against a busy sky: clouds in many sizes, with grain."""
    dice = random.Random(seed)
    width, height = round(1.3 * picture.width), round(1.3 * picture.height)
    sky = Image.new("RGB", (1, 256))
    for i in range(256):
        sky.putpixel(
            (0, i), tuple(round(a + (b - a) * i / 255) for a, b in zip((112, 158, 200), (214, 226, 230), strict=True))
        )
    sky = sky.resize((width, height))
    clouds = Image.new("L", (width, height), 0)
    for cells, share in ((5, 150), (11, 90), (24, 60)):
        small = Image.new("L", (cells, cells))
        small.putdata([dice.randrange(256) for _ in range(cells * cells)])
        layer = small.resize((width, height), Image.Resampling.BICUBIC).point(
            lambda v, s=share: max(0, v - 120) * s // 135
        )  # type: ignore[misc]
        clouds = ImageChops.add(clouds, layer)
    sky.paste((255, 253, 248), (0, 0), clouds.point(lambda v: min(255, v)))
    grain = Image.effect_noise((width, height), 12)
    sky = Image.blend(sky, Image.merge("RGB", [grain] * 3), 0.05)
    sky.paste(picture, (round(0.15 * picture.width), round(0.15 * picture.height)), picture)
    return sky


def on_white(picture: Image.Image) -> Image.Image:
    """A picture on white with a soft shadow, as from a table."""
    margin = 120
    sheet = Image.new("RGB", (picture.width + 2 * margin, picture.height + 2 * margin), (254, 254, 252))
    shadow = Image.new("L", sheet.size, 0)
    shadow.paste(picture.getchannel("A").point(lambda a: a * 80 // 255), (margin + 26, margin + 38))
    sheet.paste((120, 118, 112), (0, 0), shadow.filter(ImageFilter.GaussianBlur(26)))
    sheet.paste(picture, (margin, margin), picture)
    return sheet


SHELF: tuple[tuple[str, str, str, Callable[[], Image.Image]], ...] = (
    ("delta-kite.png", "Delta kite", "kite delta red blue flying tail wind", delta),
    ("diamond-kite.png", "Diamond kite", "kite diamond paper blue straw tail bows", diamond),
    ("box-kite.png", "Box kite", "kite box cells red blue cane", box),
    ("dragon-kite.png", "Dragon kite", "kite dragon long face discs red parade", dragon),
    ("parafoil.png", "Parafoil", "kite parafoil soft cells lines", parafoil),
    ("tower.png", "Signal tower", "tower signal stone building hill", tower),
    ("cloud.png", "Cloud", "cloud sky white weather", cloud),
    ("hills.png", "Hills", "hills common landscape green", hills),
    ("reel.png", "Reel of string", "reel string line winder red", reel),
    ("lantern.png", "Lantern", "lantern light evening paper", lantern),
    ("bunting.png", "Bunting", "bunting flags festival line", bunting),
    (
        "box-kite-on-white.jpg",
        "Box kite on a table",
        "kite box white plain background shadow photograph",
        lambda: on_white(box()),
    ),
    (
        "dragon-kite-in-the-sky.jpg",
        "Dragon kite in the sky",
        "kite dragon sky clouds busy background photograph",
        lambda: on_sky(dragon()),
    ),
)
"""The pictures of the shelf: file, name, words to search by, and what draws it."""


class Drawn(Mapping[str, bytes]):
    """The pictures' files by the names that documents use; each drawn when it is asked for first, and kept in a folder,
    if any."""

    def __init__(self, folder: Path | None = None) -> None:
        self.folder = folder
        self.files: dict[str, bytes] = {}
        self.makers = {f"pictures/{file}": make for file, _, _, make in SHELF}

    def __getitem__(self, name: str) -> bytes:
        if name not in self.files:
            make, kept = self.makers[name], self.folder and self.folder / Path(name).name
            if kept and kept.is_file():
                self.files[name] = kept.read_bytes()
            else:
                self.files[name] = _file(make(), "PNG" if name.endswith("png") else "JPEG")
                if kept:
                    kept.parent.mkdir(parents=True, exist_ok=True)
                    kept.write_bytes(self.files[name])
        return self.files[name]

    def __contains__(self, name: object) -> bool:
        return name in self.makers

    def __iter__(self) -> Iterator[str]:
        return iter(self.makers)

    def __len__(self) -> int:
        return len(self.makers)


@cache
def draw() -> Mapping[str, bytes]:
    """The demo's pictures, from the folder that NEST_DEMO_PICTURES names where they have been drawn before (./nest
    keeps them)."""
    folder = os.environ.get("NEST_DEMO_PICTURES")
    return Drawn(Path(folder) if folder else None)


def _file(image: Image.Image, kind: str) -> bytes:
    buffer = io.BytesIO()
    image.save(buffer, kind, **({"quality": 90} if kind == "JPEG" else {"optimize": True}))
    return buffer.getvalue()


if __name__ == "__main__":
    for picture in Drawn(Path(sys.argv[1])).values():
        assert picture
