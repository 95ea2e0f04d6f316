"""What is found: planted faults are, clean documents have none, contrast is that of the exported page's pixels.

The planter writes documents by figures of its own and shares nothing with what finds. The W3C's worked examples of
contrast are in WCAG 2.2's "Understanding 1.4.3" (from memory); pixels are those of the PDF as pdfium paints it.
"""

import io
import random
import unittest
from collections.abc import Callable
from dataclasses import replace
from typing import Any

import numpy as np
import pypdfium2
from numpy.typing import NDArray
from PIL import Image

from demo.documents import DEMO
from demo.pictures import draw
from draws import fair, seeds
from nestline.document.contrast import contrast
from nestline.findings.finder import Finder, faults_in, findings_report, open_ones
from nestline.findings.finding import KINDS, Finding
from nestline.fonts.library import FontLibrary, shipped_fonts
from nestline.pictures.files import PictureFile, read_picture
from nestline.studio import Studio

READ: dict[str, PictureFile] = {}


def picture(file: str) -> PictureFile:
    if file not in READ:
        READ[file] = read_picture(FILES[file])
    return READ[file]


def png(pixels: NDArray[Any]) -> bytes:
    out = io.BytesIO()
    Image.fromarray(pixels.astype(np.uint8)).save(out, "PNG")
    return out.getvalue()


def noise(seed: int) -> bytes:
    """A disc that hardly differs from what is round it."""
    draws, (y, x) = np.random.default_rng(seed), np.mgrid[0:300, 0:300]
    disc = (((x - 150) ** 2 + (y - 150) ** 2) < 70**2)[..., None]
    return png(np.where(disc, draws.integers(120, 200, (300, 300, 3)), draws.integers(90, 170, (300, 300, 3))))


FILES = {**draw(), "flat.png": png(np.full((300, 300, 3), 140)), **{f"noise{n}.png": noise(n) for n in range(3)}}
FACES = list(shipped_fonts().faces.values())
CLOSED = [replace(face, family="Closed", may_embed=False) for face in FACES if face.family == "Lato"]
"""A font whose maker forbids it to be embedded."""
STUDIO = Studio(picture, FontLibrary([*FACES, *CLOSED], stands_in=True))
FINDER = Finder(STUDIO)
WORDS = (
    "the wind on the common comes when it comes and lifts what is light and leaves the rest for the people with string"
).split()


def found(raw: dict[str, Any]) -> list[Finding]:
    document = STUDIO.read(raw)
    return FINDER.find(document, STUDIO.nest(document))


def words(draws: random.Random, count: int) -> str:
    return " ".join(draws.choices(WORDS, k=count)) + " indeed altogether."


def clean(draws: random.Random) -> dict[str, Any]:
    """A page that no one would object to: dark copy of some size, flush left in roomy frames that hold it, apart from
    each other."""
    objects, copies = [], {}
    for n in range(draws.randint(1, 4)):
        size = draws.choice([11, 12, 14])
        copies[f"c{n}"] = {
            "versions": {
                "en": {
                    "language": "en",
                    "paragraphs": [{"size": size, "runs": [{"text": words(draws, draws.randint(4, 8))}]}],
                }
            }
        }
        fill = draws.choice([None, {"color": "#f6dfa4"}, {"color": "#dcebe9", "opacity": 0.5}])
        objects.append(
            {
                "id": f"f{n}",
                "x": 40,
                "y": 40 + 130 * n,
                "width": 330,
                "height": 110,
                "frame": {"copy": f"c{n}", "padding": 14},
            }
            | ({"fill": fill} if fill else {})
        )
    if draws.random() < 0.5:
        objects.append(
            {"id": "kite", "x": 40, "y": 600, "width": 80, "height": 80, "picture": {"file": "pictures/box-kite.png"}}
        )
    pages = [{"width": 420, "height": 720, "objects": objects}]
    return {"format": "nest-line", "version": 1, "language": "en", "copies": copies, "pages": pages}


def first(raw: dict[str, Any]) -> dict[str, Any]:
    return next(o for o in raw["pages"][0]["objects"] if "frame" in o)


def paragraph(raw: dict[str, Any]) -> dict[str, Any]:
    return raw["copies"]["c0"]["versions"]["en"]["paragraphs"][0]


def plant_lid(raw: dict[str, Any], draws: random.Random) -> None:
    frame = first(raw)
    lid = {
        "id": "lid",
        "x": frame["x"],
        "y": frame["y"],
        "width": 330,
        "height": 70,
        "fill": {"color": draws.choice(["#1d3a33", "#ffffff"])},
    }
    raw["pages"][0]["objects"].append(lid)


def plant_pale(raw: dict[str, Any], draws: random.Random) -> None:
    paragraph(raw)["color"] = draws.choice(["#c9c5b8", "#bfe0dc", "#e8b9a8"])


def plant_small(raw: dict[str, Any], draws: random.Random) -> None:
    paragraph(raw)["size"] = draws.choice([3.5, 4, 5])


def plant_too_much(raw: dict[str, Any], draws: random.Random) -> None:
    paragraph(raw)["runs"][0]["text"] = words(draws, 300)


def plant_off(raw: dict[str, Any], draws: random.Random) -> None:
    first(raw)["x"] = draws.choice([-60, 220])


def plant_cut(raw: dict[str, Any], draws: random.Random) -> None:
    first(raw)["x"] = -40


def plant_letter(raw: dict[str, Any], draws: random.Random) -> None:
    paragraph(raw)["runs"][0]["text"] += draws.choice([" ⽤", " 𓀀"])


def plant_coarse(raw: dict[str, Any], draws: random.Random) -> None:
    thing = {
        "id": "big",
        "x": 0,
        "y": 0,
        "width": 420,
        "height": 720,
        "picture": {"file": "pictures/reel.png", "scale": 12},
    }
    raw["pages"][0]["objects"].insert(0, thing | {"wrap": {"by": "none"}})


def plant_last_word(raw: dict[str, Any], draws: random.Random) -> None:
    frame = first(raw)
    frame["frame"]["padding"] = 0
    frame["width"], frame["height"] = 200, 110
    raw["copies"]["c0"]["versions"]["en"]["paragraphs"] = [
        {
            "size": 12,
            "breaking": "first-fit",
            "runs": [{"text": "nine bound reels of red twine for a kite \u2028indeed"}],
        }
    ]


def plant_widow(raw: dict[str, Any], draws: random.Random) -> None:
    frame = first(raw)
    frame |= {"height": 60}
    frame["frame"] |= {"columns": 2, "padding": 0}
    lines = "one two three\u2028four five six\u2028seven eight nine\u2028ten eleven"
    raw["copies"]["c0"]["versions"]["en"]["paragraphs"] = [
        {"size": 14, "leading": 20, "keep": {"start": 1, "end": 1}, "runs": [{"text": lines}]}
    ]


def plant_stand_in(raw: dict[str, Any], draws: random.Random) -> None:
    paragraph(raw)["font"] = "Quarrow Grotesque"


def plant_empty(raw: dict[str, Any], draws: random.Random) -> None:
    paragraph(raw)["runs"][0]["text"] = " " * draws.randint(0, 2)


def plant_tight(raw: dict[str, Any], draws: random.Random) -> None:
    first(raw)["fill"] = {"color": "#f6dfa4"}
    first(raw)["frame"]["padding"] = draws.choice([0, 1, 3])


def plant_curved(raw: dict[str, Any], draws: random.Random) -> None:
    first(raw)["outline"] = {"kind": draws.choice(["heart", "ellipse", "leaf"])}
    first(raw).update({"y": 40, "height": 600})
    paragraph(raw).update({"size": 8, "runs": [{"text": words(draws, 250)}]})


def plant_near(raw: dict[str, Any], draws: random.Random) -> None:
    raw["copies"]["beside"] = {
        "versions": {"en": {"language": "en", "paragraphs": [{"size": 12, "runs": [{"text": "Bring string"}]}]}}
    }
    edge = first(raw)["x"] + draws.choice([0.4, 1.0, 1.8])
    thing = {"id": "beside", "x": edge, "y": 600, "width": 200, "height": 60, "frame": {"copy": "beside"}}
    raw["pages"][0]["objects"].append(thing)


def plant_unlike(raw: dict[str, Any], draws: random.Random) -> None:
    odd = draws.randrange(4)
    for n in range(4):
        raw["copies"][f"b{n}"] = {
            "versions": {"en": {"language": "en", "paragraphs": [{"size": 11, "runs": [{"text": "Buy"}]}]}}
        }
        frame = {"copy": f"b{n}", "padding": 9 if n == odd else 8}
        raw["pages"][0]["objects"].append(
            {
                "id": f"b{n}",
                "x": 20 + 95 * n,
                "y": 660,
                "width": 80,
                "height": 40,
                "fill": {"color": "#f6dfa4"},
                "frame": frame,
            }
        )


def plant_version(raw: dict[str, Any], draws: random.Random) -> None:
    raw["showing"] = draws.choice(["de", "fi"])


def plant_ladder(raw: dict[str, Any], draws: random.Random) -> None:
    first(raw).update({"width": 90, "height": 110})
    first(raw)["frame"]["padding"] = 0
    text = " ".join(["un\u00adfor\u00adget\u00adta\u00adbly"] * 8)
    paragraph(raw).update(
        {"size": 13, "breaking": "first-fit", "hyphenate": {"ladder": 9}, "align": "justify", "runs": [{"text": text}]}
    )


def only(raw: dict[str, Any], width: float, height: float, **rules: Any) -> None:
    """The first frame without padding, of a size; its copy as said."""
    frame = first(raw)
    frame |= {"width": width, "height": height}
    frame["frame"]["padding"] = 0
    text = rules.pop("text")
    paragraph(raw).update({"runs": [{"text": text}], **rules})


def plant_river(raw: dict[str, Any], draws: random.Random) -> None:
    only(raw, draws.choice([96, 98, 130]), 110, text="wind " * draws.randint(24, 40), size=14, align="justify")


def plant_unfilled(raw: dict[str, Any], draws: random.Random) -> None:
    only(raw, draws.choice([135, 140, 145]), 100, text="extraordinary ab " * 5 + "end", size=12, align="justify")


def plant_loose(raw: dict[str, Any], draws: random.Random) -> None:
    only(raw, draws.choice([97, 98, 99]), 100, text="extraordinary ab " * 5 + "end", size=12, align="justify")


def plant_lone_slot(raw: dict[str, Any], draws: random.Random) -> None:
    only(
        raw, draws.choice([90, 95, 100]), 110, text="extraordinary " * 6, size=12, align="justify", breaking="first-fit"
    )


def plant_measure(raw: dict[str, Any], draws: random.Random) -> None:
    only(raw, 370, 110, text=words(draws, draws.randint(140, 170)), size=6.5)


def plant_orphan(raw: dict[str, Any], draws: random.Random) -> None:
    frame = first(raw)
    frame |= {"height": 62}
    frame["frame"] |= {"columns": 2, "padding": 0}
    rules = {"size": 14, "leading": 20, "keep": {"start": 1, "end": 1}}
    texts = ["one two\u2028three four", "five six\u2028seven eight\u2028nine ten"]
    raw["copies"]["c0"]["versions"]["en"]["paragraphs"] = [{**rules, "runs": [{"text": text}]} for text in texts]


def plant_no_room(raw: dict[str, Any], draws: random.Random) -> None:
    frame = first(raw)
    paragraph(raw)["runs"][0]["text"] = words(draws, 40)
    x, y = frame["x"], frame["y"]
    raw["pages"][0]["objects"].append(
        {"id": "stone", "x": x + 12, "y": y + 8, "width": 312, "height": draws.randint(90, 98), "wrap": {"by": "box"}}
    )


def plant_waiting(raw: dict[str, Any], draws: random.Random) -> None:
    raw["pages"][0]["objects"].append(
        {
            "id": "reel",
            "x": 0,
            "y": 0,
            "width": 20,
            "height": 20,
            "fill": {"color": "#1d3a33"},
            "anchor": {"place": draws.choice(["beside", "in-line", "centred"])},
        }
    )


def plant_nowhere(raw: dict[str, Any], draws: random.Random) -> None:
    paragraph(raw)["runs"].append({"field": draws.choice(["next-page", "previous-page"])})


def plant_stale(raw: dict[str, Any], draws: random.Random) -> None:
    versions = raw["copies"]["c0"]["versions"]
    versions["de"] = {
        "language": "de",
        "paragraphs": [{**paragraph(raw), "runs": [{"text": "Bring Schnur"}]}],
        "source": {"version": "en", "paragraphs": ["bring string"]},
    }
    raw["showing"] = "de"
    for name, copy in raw["copies"].items():
        if name != "c0":
            copy["versions"]["de"] = {"language": "de", "paragraphs": copy["versions"]["en"]["paragraphs"]}


def plant_untranslated(raw: dict[str, Any], draws: random.Random) -> None:
    for copy in raw["copies"].values():
        english = copy["versions"]["en"]["paragraphs"]
        copy["versions"]["de"] = {
            "language": "de",
            "paragraphs": english,
            "source": {"version": "en", "paragraphs": ["".join(r["text"] for r in p["runs"]) for p in english]},
        }
    raw["showing"] = "de"


def plant_across(raw: dict[str, Any], draws: random.Random) -> None:
    frame = first(raw)
    only(
        raw,
        330,
        110,
        text="un\u00adfor\u00adget\u00adta\u00adbly " * 14,
        size=13,
        breaking="first-fit",
        hyphenate={"ladder": 9},
        align="justify",
    )
    raw["pages"][0]["objects"].append(
        {
            "id": "stone",
            "x": frame["x"] + draws.randint(120, 150),
            "y": frame["y"],
            "width": 60,
            "height": 110,
            "wrap": {"by": "box"},
        }
    )


def plant_restless(raw: dict[str, Any], draws: random.Random) -> None:
    """On a page of its own: an object as tall as its frame pushes its own words out of it, and comes back for that."""
    at, deep = draws.randint(3, 6), draws.randint(56, 66)
    told = (WORDS * 2)[:24]
    runs = [{"text": " ".join(told[:at]) + " "}, {"object": "bell"}, {"text": " ".join(told[at:])}]
    raw["copies"]["restless"] = {
        "versions": {"en": {"language": "en", "paragraphs": [{"size": 11, "breaking": "first-fit", "runs": runs}]}}
    }
    objects: list[dict[str, Any]] = [
        {"id": f"r{n}", "x": 40 + 180 * n, "y": 40, "width": 130, "height": deep, "frame": {"copy": "restless"}}
        for n in range(2)
    ]
    bell = {"x": 40, "y": 300, "width": 30, "height": 20, "fill": {"color": "#dcebe9"}}
    wrap = {"by": "below", "clearance": draws.randint(55, 65)}
    objects.append({"id": "bell", **bell, "anchor": {"place": "centred"}, "wrap": wrap})
    raw["pages"].append({"width": 420, "height": 720, "objects": objects})
    raw["chains"] = [["r0", "r1"]]


def plant_no_contour(raw: dict[str, Any], draws: random.Random) -> None:
    raw["pages"][0]["objects"].append(
        {
            "id": "flat",
            "x": 40,
            "y": 600,
            "width": 80,
            "height": 80,
            "picture": {"file": "flat.png", "clip": "contour"},
            "wrap": {"by": "none"},
        }
    )


def plant_doubtful(raw: dict[str, Any], draws: random.Random) -> None:
    raw["pages"][0]["objects"].append(
        {
            "id": "flat",
            "x": 40,
            "y": 600,
            "width": 80,
            "height": 80,
            "picture": {"file": f"noise{draws.randrange(3)}.png"},
            "wrap": {"by": "contour"},
            "contour": {"from": "busy"},
        }
    )


def plant_no_embed(raw: dict[str, Any], draws: random.Random) -> None:
    paragraph(raw)["font"] = "Closed"


PLANTED: dict[str, Callable[[dict[str, Any], random.Random], None]] = {
    "unsettled": plant_restless,
    "hidden": plant_lid,
    "pale": plant_pale,
    "small": plant_small,
    "leftover": plant_too_much,
    "off-page": plant_off,
    "cut-off": plant_cut,
    "no-letter": plant_letter,
    "coarse": plant_coarse,
    "last-word": plant_last_word,
    "widow": plant_widow,
    "stand-in": plant_stand_in,
    "empty": plant_empty,
    "tight-padding": plant_tight,
    "curved": plant_curved,
    "near": plant_near,
    "unlike": plant_unlike,
    "no-version": plant_version,
    "ladder": plant_ladder,
    "river": plant_river,
    "unfilled": plant_unfilled,
    "loose": plant_loose,
    "lone-slot": plant_lone_slot,
    "measure": plant_measure,
    "orphan": plant_orphan,
    "no-room": plant_no_room,
    "waiting": plant_waiting,
    "nowhere": plant_nowhere,
    "stale": plant_stale,
    "untranslated": plant_untranslated,
    "across": plant_across,
    "no-contour": plant_no_contour,
    "doubtful": plant_doubtful,
    "no-embed": plant_no_embed,
}


SEEDS, CLEAN = 14, 40
"""Documents of each kind, and clean ones: some 500 in all."""


class Planted(unittest.TestCase):
    def test_clean_documents_have_no_fault_and_each_planted_one_is_found(self) -> None:
        for seed in seeds(CLEAN):
            before = [f.message for f in faults_in(found(clean(random.Random(seed))))]
            self.assertEqual(before, [], seed)
        missed = []
        for kind, plant in PLANTED.items():
            for seed in seeds(SEEDS):
                raw = clean(random.Random(seed))
                plant(raw, random.Random(seed))
                kinds = {one.kind for one in found(raw)}
                missed += [(kind, seed, sorted(kinds))] if kind not in kinds else []
        self.assertEqual(missed, [])

    def test_it_pauses_before_each_frame_that_takes_time_and_finds_the_same(self) -> None:
        document = STUDIO.read(clean(random.Random(5)))
        nests, finder, paused = STUDIO.nest(document), Finder(STUDIO), 0

        def pause() -> None:
            nonlocal paused
            paused += 1

        first = finder.find(document, nests, pause)
        self.assertEqual(paused, len(nests))
        self.assertEqual((finder.find(document, nests, pause), paused), (first, len(nests)))
        self.assertEqual(Finder(STUDIO).find(document, nests), first)

    def test_what_is_found_says_words_figure_and_limit(self) -> None:
        raw = clean(random.Random(3))
        plant_pale(raw, random.Random(3))
        one = next(f for f in found(raw) if f.kind == "pale")
        self.assertEqual(one.limit, 4.5)
        assert one.figure is not None
        self.assertLess(one.figure, 4.5)
        self.assertIn(f"{one.figure:.1f} : 1", one.message)
        self.assertIn(one.words.split()[0], one.message)
        report = findings_report([one])[0]
        self.assertEqual(set(report), {"kind", "frame", "page", "range", "figure", "limit", "message", "fault"})

    def test_every_kind_says_itself_and_the_demo_is_clean(self) -> None:
        told: dict[str, list[str]] = {}
        for made in DEMO:
            raw = made()
            for one in found(raw):
                self.assertIn(one.kind, KINDS)
                self.assertNotIn("None", one.message)
                told.setdefault(raw["title"], []).extend([one.kind] if one.fault else [])
        self.assertEqual(told.get("Quarrowby Kite Day, poster", []), [])
        self.assertEqual(told.get("Ticket screens", []), [])
        self.assertEqual(told.get("Kite Day, flyer", []), [])
        self.assertTrue({"leftover", "pale", "unfilled", "loose", "widow"} <= set(told["Workshop sheet"]))


class Aside(unittest.TestCase):
    def test_one_or_all_of_a_kind_are_set_aside_and_limits_are_a_documents_own(self) -> None:
        raw = clean(random.Random(4))
        plant_pale(raw, random.Random(4))
        one = next(f for f in found(raw) if f.kind == "pale")
        for rule in (
            {"kind": "pale", "object": "f0", "words": one.words},
            {"kind": "pale", "object": "f0"},
            {"kind": "pale"},
        ):
            all_ = found({**raw, "findings": {"never_mind": [rule]}})
            self.assertTrue(next(f for f in all_ if f.kind == "pale").never_mind)
            self.assertNotIn("pale", {f.kind for f in open_ones(all_)})
        for rule in (
            {"kind": "pale", "object": "f9"},
            {"kind": "pale", "object": "f0", "words": "others"},
            {"kind": "small"},
        ):
            self.assertIn("pale", {f.kind for f in open_ones(found({**raw, "findings": {"never_mind": [rule]}}))})
        assert one.figure is not None
        self.assertNotIn("pale", {f.kind for f in found({**raw, "findings": {"limits": {"pale": one.figure - 0.1}}})})
        self.assertIn("small", {f.kind for f in found({**raw, "findings": {"limits": {"small": 20}}})})

    def test_screens_have_limits_of_their_own(self) -> None:
        raw = clean(random.Random(5))
        paragraph(raw)["size"] = 7
        self.assertNotIn("small", {f.kind for f in found(raw)})
        self.assertIn("small", {f.kind for f in found({**raw, "unit": "px"})})


class Cures(unittest.TestCase):
    def test_they_mend_what_they_are_for(self) -> None:
        for kind, mended in (("hidden", True), ("pale", True), ("small", True), ("leftover", True), ("off-page", True)):
            for seed in seeds(3):
                raw = clean(random.Random(seed))
                PLANTED[kind](raw, random.Random(seed))
                document = STUDIO.read(raw)
                all_ = FINDER.find(document, STUDIO.nest(document))
                one = next(f for f in all_ if f.kind == kind)
                tried = FINDER.tried(STUDIO, document, one, all_)
                self.assertTrue(tried, kind)
                self.assertEqual(tried[0].mends, mended, (kind, seed, [(t.cure.label, t.mends) for t in tried]))


class Contrast(unittest.TestCase):
    def test_worked_examples(self) -> None:
        def rgb(figure: str) -> tuple[float, float, float]:
            return tuple(int(figure[i : i + 2], 16) / 255 for i in (1, 3, 5))  # type: ignore[return-value]

        for one, other, ratio in (
            ("#000000", "#ffffff", 21.0),
            ("#777777", "#ffffff", 4.48),
            ("#767676", "#ffffff", 4.54),
            ("#ff0000", "#ffffff", 4.0),
            ("#0000ff", "#ffffff", 8.59),
            ("#ffffff", "#ffffff", 1.0),
        ):
            self.assertAlmostEqual(contrast(rgb(one), rgb(other)), ratio, delta=0.006)

    def test_that_of_words_is_that_of_the_pages_pixels(self) -> None:
        """Words over fills, pictures and opacities, told against the page painted without the words by pdfium."""
        off: list[float] = []
        for seed in seeds(14):
            draws = random.Random(seed)
            raw = behind_words(draws)
            document = STUDIO.read(raw)
            nests = STUDIO.nest(document)
            all_ = FINDER.find(STUDIO.read({**raw, "findings": {"limits": {"pale": 21.5}}}), nests)
            bare = {
                **raw,
                "pages": [{**raw["pages"][0], "objects": [o for o in raw["pages"][0]["objects"] if "frame" not in o]}],
            }
            pixels = painted(STUDIO.pdf(STUDIO.read(bare)))
            for one in (f for f in all_ if f.kind == "pale"):
                # Of one finding the worst word is told.
                ink = raw["copies"]["c0"]["versions"]["en"]["paragraphs"][0]["color"]
                own = np.array([int(ink[i : i + 2], 16) / 255 for i in (1, 3, 5)])
                worst = min(reckoned(pixels, box, own) for box in one.marks)
                assert one.figure is not None
                off.append(abs(one.figure / worst - 1))
        self.assertGreaterEqual(len(off), fair(250))
        self.assertLess(max(off), 0.02, sorted(off)[-12:])


def behind_words(draws: random.Random) -> dict[str, Any]:
    """Words over a photograph or a fill, with something half opaque between."""
    objects: list[dict[str, Any]] = [
        {
            "id": "photo",
            "x": 0,
            "y": 0,
            "width": 400,
            "height": 300,
            "picture": {"file": "pictures/dragon-kite-in-the-sky.jpg"},
            "wrap": {"by": "none"},
        }
        if draws.random() < 0.6
        else {
            "id": "ground",
            "x": 0,
            "y": 0,
            "width": 400,
            "height": 300,
            "fill": {"color": draws.choice(["#cf4a32", "#2f6f8f"]), "tint": draws.randint(30, 100)},
        },
        {
            "id": "veil",
            "x": 60,
            "y": 20,
            "width": 160,
            "height": 200,
            "turn": draws.randint(-20, 20),
            "fill": {"color": "#fffdf8", "opacity": draws.uniform(0.3, 0.9)},
        },
    ]
    color, copies = draws.choice(["#1d2b27", "#fffdf8", "#b4361f"]), {}
    for n in range(20):
        # A word a frame, so that each is told by itself.
        runs = [{"text": draws.choice(WORDS)}]
        copies[f"c{n}"] = {
            "versions": {"en": {"language": "en", "paragraphs": [{"size": 13, "color": color, "runs": runs}]}}
        }
        x, y = 30 + 84 * (n % 4), 30 + 48 * (n // 4)
        objects.append({"id": f"f{n}", "x": x, "y": y, "width": 80, "height": 40, "frame": {"copy": f"c{n}"}})
    pages = [{"width": 400, "height": 300, "objects": objects}]
    return {"format": "nest-line", "version": 1, "copies": copies, "pages": pages}


DOTS = 10.0
"""Pixels a point."""


def painted(pdf: bytes) -> np.ndarray:
    with pypdfium2.PdfDocument(io.BytesIO(pdf)) as opened:
        image: Image.Image = opened[0].render(scale=DOTS).to_pil().convert("RGB")
    return np.asarray(image, float) / 255


def reckoned(pixels: np.ndarray, box: tuple[float, float, float, float], ink: np.ndarray) -> float:
    """The tenth percentile of contrast between ink and the pixels round a word, by WCAG's formula written again."""
    left, top, right, bottom = box
    ex = (bottom - top) / 1.8  # boxes reach from .4 below the baseline to 1.4 x-heights above it
    # The pixels whose middles lie there.
    rows = slice(max(round((top - 0.1 * ex) * DOTS), 0), round((bottom + 0.1 * ex) * DOTS))
    columns = slice(max(round((left - ex / 2) * DOTS), 0), round((right + ex / 2) * DOTS))

    def luminance(rgb: np.ndarray) -> np.ndarray:
        linear = np.where(rgb <= 0.04045, rgb / 12.92, ((rgb + 0.055) / 1.055) ** 2.4)
        return linear @ np.array([0.2126, 0.7152, 0.0722])

    behind, own = luminance(pixels[rows, columns].reshape(-1, 3)), luminance(ink)
    ratios = (np.maximum(behind, own) + 0.05) / (np.minimum(behind, own) + 0.05)
    return float(np.percentile(ratios, 10))
