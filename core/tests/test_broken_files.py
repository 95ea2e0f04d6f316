"""Files that are damaged: whatever is brought is read or refused in words, and nothing else is raised."""

from __future__ import annotations

import io
import random
import unittest
import zipfile
from collections.abc import Callable

import docx
from odfdo import Document, Paragraph

from demo.pictures import draw
from nestline.copy.imports import read_text
from nestline.errors import NestLineError
from nestline.fonts.library import SHIPPED
from nestline.fonts.own import read_own_font
from nestline.outlines.svg_import import read_svg
from nestline.pictures.files import read_picture

SVG = b"""<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 100 100'><path d='M0 0L50 0 50 50Z'/>
<g transform='rotate(3)'><rect x='3' width='30' height='20'/></g></svg>"""


def a_docx() -> bytes:
    out, made = io.BytesIO(), docx.Document()
    made.add_heading("Kites", 1)
    made.add_paragraph("Bring ").add_run("string").bold = True
    made.save(out)
    return out.getvalue()


def an_odt() -> bytes:
    out, made = io.BytesIO(), Document("text")
    made.body.append(Paragraph("Bring string"))
    made.save(out)
    return out.getvalue()


def damaged(content: bytes, dice: random.Random) -> bytes:
    """Cut off, overwritten, with a part missing or with one too many."""
    out, kind = bytearray(content), dice.random()
    if kind < 0.3:
        return bytes(out[: dice.randint(0, len(out))])
    if kind < 0.7:
        for _ in range(dice.randint(1, 20)):
            out[dice.randrange(len(out))] = dice.randrange(256)
        return bytes(out)
    at = dice.randrange(len(out))
    if kind < 0.85:
        del out[at : at + dice.randint(1, 200)]
    else:
        out[at:at] = bytes(dice.randrange(256) for _ in range(dice.randint(1, 60)))
    return bytes(out)


def damaged_inside(content: bytes, dice: random.Random) -> bytes:
    """A sound archive, one of its parts damaged or missing."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(content)) as whole, zipfile.ZipFile(out, "w") as archive:
        hit = dice.choice(whole.namelist())
        for name in whole.namelist():
            part = whole.read(name)
            if name != hit:
                archive.writestr(name, part)
            elif part and dice.random() > 0.15:
                archive.writestr(name, damaged(part, dice))
    return out.getvalue()


class BrokenFiles(unittest.TestCase):
    def test_every_kind_is_read_or_refused_in_words(self) -> None:
        kinds: list[tuple[bytes, Callable[[bytes], object], int]] = [
            (a_docx(), lambda content: read_text("a.docx", content), 90),
            (an_odt(), lambda content: read_text("a.odt", content), 90),
            (draw()["pictures/delta-kite.png"], read_picture, 40),
            (SVG, read_svg, 90),
            ((SHIPPED / "Lato-Regular.ttf").read_bytes(), read_own_font, 12),
        ]
        refused = 0
        for content, read, count in kinds:
            read(content)
            for seed in range(count):
                dice = random.Random(seed)
                broken = damaged_inside if content[:2] == b"PK" and seed % 2 else damaged
                try:
                    read(broken(content, dice))
                except NestLineError as error:
                    refused += 1
                    self.assertNotIn("\n", str(error))
        self.assertGreater(refused, 100)

    def test_entities_are_refused_in_utf_16_too(self) -> None:
        sound, out = a_docx(), io.BytesIO()
        with zipfile.ZipFile(io.BytesIO(sound)) as whole, zipfile.ZipFile(out, "w") as archive:
            for name in whole.namelist():
                part = whole.read(name)
                if name == "word/document.xml":
                    text = (
                        part.decode()
                        .replace('encoding="UTF-8"', 'encoding="UTF-16"')
                        .replace("encoding='UTF-8'", "encoding='UTF-16'")
                    )
                    head, _, rest = text.partition("?>")
                    part = f'{head}?><!DOCTYPE a [<!ENTITY b "c">]>{rest}'.encode("utf-16")
                archive.writestr(name, part)
        with self.assertRaisesRegex(NestLineError, "entities"):
            read_text("a.docx", out.getvalue())


if __name__ == "__main__":
    unittest.main()
