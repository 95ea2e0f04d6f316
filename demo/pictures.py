"""Draws the demo's pictures: made-up kites, a tower, clouds. Everything here is invented.

Each is drawn four times as large as it is kept and then made smaller, so that edges are smooth. `draw()` gives their
PNG and JPEG files by the names the demo documents use.
"""

from __future__ import annotations

import io
import math
from collections.abc import Sequence

from PIL import Image, ImageDraw, ImageFilter

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
        mask = Image.new("L", self.image.size, 0)
        ImageDraw.Draw(mask).polygon(scaled, fill=255)
        ys = [y for _, y in scaled]
        low, high = min(ys), max(ys)
        shade = Image.new("RGB", (1, 256))
        for i in range(256):
            shade.putpixel((0, i), tuple(round(a + (b - a) * i / 255) for a, b in zip(top, bottom, strict=True)))
        cloth = Image.new("RGB", self.image.size)
        cloth.paste(shade.resize((self.image.width, max(1, round(high - low)))), (0, round(low)))
        self.image.paste(cloth, (0, 0), mask)

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


def on_white(picture: Image.Image) -> Image.Image:
    """A picture on white with a soft shadow, as from a table."""
    margin = 120
    sheet = Image.new("RGB", (picture.width + 2 * margin, picture.height + 2 * margin), (254, 254, 252))
    shadow = Image.new("L", sheet.size, 0)
    shadow.paste(picture.getchannel("A").point(lambda a: a * 80 // 255), (margin + 26, margin + 38))
    sheet.paste((120, 118, 112), (0, 0), shadow.filter(ImageFilter.GaussianBlur(26)))
    sheet.paste(picture, (margin, margin), picture)
    return sheet


def draw() -> dict[str, bytes]:
    """The pictures' files by name."""
    out = {}
    box_kite = box()
    for name, image in (
        ("delta", delta()),
        ("diamond", diamond()),
        ("box", box_kite),
        ("tower", tower()),
        ("cloud", cloud()),
    ):
        out[f"pictures/{name}-kite.png" if name in ("delta", "diamond", "box") else f"pictures/{name}.png"] = _file(
            image, "PNG"
        )
    out["pictures/box-kite-on-white.jpg"] = _file(on_white(box_kite), "JPEG")
    return out


def _file(image: Image.Image, kind: str) -> bytes:
    buffer = io.BytesIO()
    image.save(buffer, kind, **({"quality": 90} if kind == "JPEG" else {"optimize": True}))
    return buffer.getvalue()
