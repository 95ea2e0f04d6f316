"""The structure of a PDF, read back by poppler's pdfinfo and gone through operator by operator."""

import io
import random
import re
import subprocess
import unittest
from typing import Any

import pikepdf

from demo.documents import DEMO
from demo.pictures import draw
from draws import seeds
from nestline.copy.breaks import SOFT_HYPHEN
from nestline.fonts.library import shipped_fonts
from nestline.pictures.files import read_picture
from nestline.studio import Studio

FILES = draw()
STUDIO = Studio(lambda file: read_picture(FILES[file]), shipped_fonts())
WORDS = "kite string tail paste cane wind hill lantern dragon tent patience afternoon neighbourhood".split()
PAINTS = {"f", "f*", "S", "B", "Tj", "TJ", "Do"}


def random_document(seed: int) -> dict[str, Any]:
    """A page or two with frames of several paragraphs, some in a chain, and pictures with and without a description."""
    draws = random.Random(seed)

    def copy() -> dict[str, Any]:
        paragraphs = [
            {
                "runs": [{"text": " ".join(draws.choices(WORDS, k=draws.randint(3, 30)))}],
                "align": draws.choice(["start", "center", "justify"]),
                "hyphenate": draws.random() < 0.5,
            }
            for _ in range(draws.randint(1, 4))
        ]
        return {"versions": {"en": {"language": "en", "paragraphs": paragraphs}}}

    copies, pages, chain = {}, [], []
    for page in range(draws.randint(1, 2)):
        objects: list[dict[str, Any]] = []
        for n in range(draws.randint(1, 4)):
            id = f"f{page}{n}"
            box = {
                "x": draws.randint(10, 200),
                "y": draws.randint(10, 500),
                "width": 180,
                "height": draws.randint(40, 200),
            }
            if draws.random() < 0.3:
                alt = draws.choice(["", "A box kite over the hill"])
                objects.append({"id": id, **box, "picture": {"file": "pictures/box-kite.png", "alt": alt}})
                continue
            name = "run" if draws.random() < 0.5 else id
            copies.setdefault(name, copy())
            chain += [id] if name == "run" else []
            objects.append({"id": id, **box, "fill": {"color": "paper"}, "frame": {"copy": name}})
        pages.append({"width": 400, "height": 700, "bleed": 9, "objects": objects})
    chains = [chain] if len(chain) > 1 else []
    return {"format": "nest-line", "version": 1, "copies": copies, "pages": pages, "chains": chains}


def read_by_poppler(pdf: bytes) -> list[str]:
    """The paragraphs in order."""
    said = subprocess.run(["pdfinfo", "-struct-text", "-"], input=pdf, capture_output=True, check=True).stdout.decode()
    paragraphs: list[str] = []
    for line in said.splitlines():
        if re.fullmatch(r"\s*P \(block\)", line):
            paragraphs.append("")
        elif paragraphs and (text := re.fullmatch(r'\s*"(.*)"', line)):
            paragraphs[-1] += text[1]
    return paragraphs


class StructureRead(unittest.TestCase):
    def check(self, raw: dict[str, Any]) -> None:
        document = STUDIO.read(raw)
        pdf = STUDIO.pdf(document)
        set_: list[str] = []
        groups: dict[str, dict[int, str]] = {}
        places: dict[str, tuple[int, float, float]] = {}
        first = {id: chain[0] for chain in document.head.chains for id in chain}
        for placed in STUDIO.nest(document):
            run, nest = first.get(placed.thing.id, placed.thing.id), placed.nest
            x, y, _, _ = placed.thing.box
            for number, (start, end) in enumerate(nest.ranges.tolist()):
                places.setdefault(run, (placed.page, y, x))
                found = groups.setdefault(run, {})
                at = nest.paragraph_of(number)
                found[at] = found.get(at, "") + nest.copy.text[start:end].replace(SOFT_HYPHEN, "") + " "
        for run in sorted(groups, key=lambda run: places[run]):
            set_ += [text for _, text in sorted(groups[run].items())]
        read = [re.sub(r"[\s\u00ad\u2010]", "", text) for text in read_by_poppler(pdf)]
        self.assertEqual(read, [re.sub(r"\s", "", text) for text in set_])
        with pikepdf.open(io.BytesIO(pdf)) as opened:
            self.all_is_marked(opened)
            self.assertTrue(opened.Root.MarkInfo.Marked)
            described = sorted(
                o.picture.alt for p in document.pages for o in p.objects if o.picture and o.picture.alt and not o.hidden
            )
            self.assertEqual(sorted(str(f.Alt) for f in opened.Root.StructTreeRoot.K.K if f.S == "/Figure"), described)

    def all_is_marked(self, pdf: pikepdf.Pdf) -> None:
        """All that paints is content of the structure, or an artifact; every number is there once."""
        for page in pdf.pages:
            depth, numbers = 0, []
            for operands, operator in pikepdf.parse_content_stream(page):
                name = str(operator)
                if name in ("BDC", "BMC"):
                    depth += 1
                    if name == "BDC" and isinstance(operands[1], pikepdf.Dictionary) and "/MCID" in operands[1]:
                        numbers.append(int(operands[1].MCID))
                        self.assertEqual(depth, 1)
                elif name == "EMC":
                    depth -= 1
                elif name in PAINTS:
                    self.assertGreater(depth, 0, operands)
            self.assertEqual(depth, 0)
            self.assertEqual(numbers, list(range(len(numbers))))

    def test_random_documents_are_read_as_they_are_set(self) -> None:
        for seed in seeds(25):
            with self.subTest(seed=seed):
                self.check(random_document(seed))

    def test_words_at_line_ends_are_parted(self) -> None:
        text = "Nobody flies alone here and the line that crosses yours belongs to a neighbour"
        copy = {"versions": {"en": {"language": "en", "paragraphs": [{"runs": [{"text": text}]}]}}}
        thing = {"id": "f", "x": 10, "y": 10, "width": 90, "height": 200, "frame": {"copy": "c"}}
        raw = {
            "format": "nest-line",
            "version": 1,
            "copies": {"c": copy},
            "pages": [{"width": 200, "height": 300, "objects": [thing]}],
        }
        self.assertEqual(read_by_poppler(STUDIO.pdf(STUDIO.read(raw))), [text])

    def test_the_demo_is_marked_throughout(self) -> None:
        for made in DEMO:
            with pikepdf.open(io.BytesIO(STUDIO.pdf(STUDIO.read(made())))) as opened:
                self.all_is_marked(opened)
