"""Whether lines stand where they stood: the demo and random documents, nested by this tree and by an earlier one.

    python -m benchmarks.same_lines COMMIT [--documents 300]

Every random document is nested after each of three edits. What is compared is what `./nest set --lines` reports: ranges
and texts exactly, figures within 1e-6 pt (they are rounded there to as much).
"""

from __future__ import annotations

import argparse
import json
import random
from pathlib import Path
from typing import Any

from benchmarks.trees import ROOT, started, tree_of

NEAR = 2.1e-6
"""Two figures rounded to 1e-6, and 1e-6 between them."""
Json = dict[str, Any]

WORDS = (
    "wind string kite tower nine people hold one child lets go every late summer whole town walks up to meet it common "
    "festival’s (opening) half-built kitchen-table extraordinarily Quarrowby, 9.30 a.m. and then: “quoted "
    "words” – so on. "
    "counterclockwise photograph of unbelievable neighbourhoods, and a, the, in, at!"
).split()
GERMAN = (
    "Drachenfest Wind Windrichtungsanzeiger und die Schnur hält, über Quarrowby: Wäschetrocknergestell geht zu Ende"
).split()
HEBREW = "הרוח חוזרת כל קיץ אל הגבעה והעיר כולה עולה לפגוש אותה 12 עפיפונים".split()
OUTLINES: list[Json] = [
    {"kind": "rectangle"},
    {"kind": "rectangle"},
    {"kind": "rectangle", "radius": 24},
    {"kind": "ellipse"},
    {"kind": "heart"},
    {"kind": "polygon", "sides": 6},
    {"kind": "star", "points": 7, "depth": 0.35},
]


def some_words(dice: random.Random, count: int, of: list[str]) -> str:
    return " ".join(dice.choices(of, k=count))


def some_runs(dice: random.Random, count: int, of: list[str]) -> list[Json]:
    text = some_words(dice, count, of)
    if dice.random() < 0.6:
        return [{"text": text}]
    cut = dice.randrange(len(text))
    look = dice.choice(
        [{"weight": 700}, {"size": "15pt"}, {"tracking": "0.08em"}, {"slope": "italic"}, {"underline": True}]
    )
    end = min(len(text), cut + dice.randint(1, 30))
    return [r for r in ({"text": text[:cut]}, {"text": text[cut:end], **look}, {"text": text[end:]}) if r["text"]]


def some_paragraph(dice: random.Random) -> Json:
    """Any rule of a paragraph, each seldom enough that they meet in twos and threes."""
    german, hebrew = dice.random() < 0.12, dice.random() < 0.06
    of = GERMAN if german else HEBREW if hebrew else WORDS
    out: Json = {
        "runs": some_runs(dice, dice.choice([1, 3, 9, 25, 60, 110]), of),
        "size": dice.choice(["9pt", "10.5pt", "11pt", "14pt"]),
        "align": dice.choice(["start", "justify", "justify", "center", "end"]),
        "breaking": dice.choice(["optimal", "optimal", "first-fit", "first-fit", "balanced"]),
    }
    rare: Json = {
        "language": "de" if german else None,
        "hyphenate": dice.choice([False, {"ladder": 1}, {"least": 7}]),
        "space_before": dice.choice(["4pt", "1em"]),
        "space_after": "6pt",
        "indent": "1em",
        "first_indent": dice.choice(["1.5em", "2em"]),
        "last": dice.choice(["justify", "center"]),
        "stretch": {"least": 0.8, "greatest": 2, "letters": dice.choice([0, 0.05])},
        "list": dice.choice(["bullets", "numbers"]),
        "keep": dice.choice([{"whole": True}, {"next": True}, {"start": 3, "end": 3}]),
        "last_word_alone": False,
        "hang_punctuation": True,
        "drop_cap": dice.choice([{"lines": 2}, {"lines": 3, "letters": 2}]),
        "new_column": True,
        "grid": "13pt",
        "leading": "15pt",
        "direction": "rtl" if hebrew else None,
    }
    for name, value in rare.items():
        if value is not None and (name in ("language", "direction") or dice.random() < 0.09):
            out[name] = value
    if dice.random() < 0.05:
        out["tabs"] = [
            {"at": "60pt", "align": dice.choice(["start", "center", "end", "figure"]), "leader": "."},
            {"at": "end"},
        ]
        out["runs"] = [{"text": "Start\t12.50\tend " + some_words(dice, 12, WORDS)}]
    return out


def some_frame(dice: random.Random, copy: str) -> Json:
    out: Json = {"copy": copy, "padding": dice.choice([0, 0, 8, "1em"])}
    rare: Json = {
        "sit": dice.choice(["middle", "middle", "bottom", "leaded"]),
        "lift": "0.1em",
        "columns": dice.choice([2, 3]),
        "balance": True,
        "hang": dice.choice(["cap", "ex", "line-box", "ink", "9pt"]),
        "stand": dice.choice(["baseline", "line-box", "ink"]),
        "band": "line-box",
        "give": dice.choice([["bottom"], ["right"], ["bottom", "top"], ["in-proportion"]]),
        "leftover": dice.choice([{"ends": "at-the-edge"}, {"ends": "with-the-last-line", "mark": "…"}]),
        "wrap_lines": False,
        "least_slot": dice.choice(["0pt", "5em"]),
        "setting": "turned",
        "hang_least": "20pt",
        "fit_type": {"grow": True},
    }
    for name, value in rare.items():
        if dice.random() < {"sit": 0.45, "columns": 0.2}.get(name, 0.09):
            out[name] = value
    if "fit_type" in out:
        out.pop("give", None)
    return out


def some_document(seed: int) -> Json:
    dice = random.Random(seed)
    copies, objects = {}, []
    chain = []
    for number in range(dice.randint(1, 3)):
        copies[f"c{number}"] = {
            "versions": {
                "en": {"language": "en", "paragraphs": [some_paragraph(dice) for _ in range(dice.choice([1, 1, 2, 4]))]}
            }
        }
        thing: Json = {
            "id": f"f{number}", "x": 30 + 260 * number, "y": dice.randint(30, 120), "width": dice.randint(90, 260),
            "height": dice.randint(60, 420), "outline": dice.choice(OUTLINES), "turn": dice.choice([0, 0, 0, 0, 12,
              -90]),
            "frame": some_frame(dice, f"c{number}"),
        }  # fmt: skip
        objects.append(thing)
    if dice.random() < 0.25 and not {"fit_type", "wrap_lines"} & objects[0]["frame"].keys():
        after = {
            "id": "next",
            "x": 60,
            "y": 520,
            "width": 200,
            "height": dice.randint(60, 240),
            "outline": dice.choice(OUTLINES),
            "frame": some_frame(dice, "c0") | {"copy": "c0"},
        }
        for rule in ("fit_type", "wrap_lines"):
            after["frame"].pop(rule, None)
        objects.append(after)
        chain = [["f0", "next"]]
    for number in range(dice.randint(0, 2)):
        objects.append(
            {
                "id": f"w{number}",
                "x": dice.randint(0, 600),
                "y": dice.randint(40, 500),
                "width": dice.randint(30, 140),
                "height": dice.randint(30, 140),
                "outline": dice.choice(OUTLINES),
                "turn": dice.choice([0, 0, 30]),
                "wrap": {
                    **dice.choice(
                        [
                            {"by": "outline", "clearance": 6},
                            {"by": "outline", "clearance": "1em"},
                            {"by": "outline"},
                            {"by": "box", "clearance": [3, 12, 6, 0]},
                            {"by": "below", "clearance": 4},
                        ]
                    ),
                    "sides": dice.choice(["both", "both", "left", "right", "widest"]),
                },
            }
        )
    if dice.random() < 0.3:
        paragraph = copies["c0"]["versions"]["en"]["paragraphs"][0]
        paragraph["runs"].insert(dice.randrange(len(paragraph["runs"]) + 1), {"object": "a"})
        place = dice.choice(
            [{}, {"place": "beside", "x": 6, "side": dice.choice(["left", "right"])}, {"place": "centred"}]
        )
        objects.append(
            {"id": "a", "x": 0, "y": 0, "width": dice.randint(8, 40), "height": dice.randint(8, 30), "anchor": place}
        )
    return {
        "format": "nest-line",
        "version": 1,
        "copies": copies,
        "chains": chain,
        "pages": [{"width": 842, "height": 842, "objects": objects}],
    }


def steps_of(raw: Json, seed: int) -> list[Json]:
    """A document, and how it is after a word more, a frame's new width, an object moved."""
    dice = random.Random(seed)
    out = [raw]
    for act in ("word", "width", "move"):
        raw = json.loads(json.dumps(out[-1]))
        if act == "word":
            runs = raw["copies"]["c0"]["versions"]["en"]["paragraphs"][-1]["runs"]
            runs.append({"text": " " + dice.choice(WORDS)})
        else:
            thing = dice.choice(raw["pages"][0]["objects"])
            if act == "width":
                thing["width"] += dice.uniform(-20, 40)
            else:
                thing["x"] += dice.uniform(-9, 9)
                thing["y"] += dice.uniform(-9, 9)
        out.append(raw)
    return out


def report(count: int) -> None:
    """Print what this tree makes of every document, a line of JSON each."""
    from demo.documents import flyer, poster, ticket, workshop
    from demo.pictures import draw
    from nestline.errors import NestLineError
    from nestline.output.lines import lines_report
    from nestline.pictures.files import read_picture
    from nestline.studio import Studio

    drawn = draw()
    pictures: Json = {}

    def picture(file: str) -> Any:
        if file not in pictures:
            pictures[file] = read_picture(drawn[file])
        return pictures[file]

    for made in (flyer, poster, ticket, workshop):
        studio = Studio(picture)
        print(json.dumps([made.__name__, 0, lines_report(studio.nest(studio.read(made())))]))
    for seed in range(count):
        studio = Studio(picture)
        for step, document in enumerate(steps_of(some_document(seed), seed)):
            try:
                found: Any = lines_report(studio.nest(studio.read(document)))
            except NestLineError as error:
                found = str(error)
            print(json.dumps([seed, step, found]))


def differences(a: Any, b: Any, path: str = "") -> list[str]:
    """Where two reports are not the same, in words."""
    if isinstance(a, float) or isinstance(b, float):
        return [] if abs(a - b) <= NEAR else [f"{path}: {a} is {b}"]
    if isinstance(a, dict) and isinstance(b, dict) and a.keys() == b.keys():
        return [d for key in a for d in differences(a[key], b[key], f"{path}.{key}")]
    if isinstance(a, list) and isinstance(b, list) and len(a) == len(b):
        return [d for n, (x, y) in enumerate(zip(a, b, strict=True)) for d in differences(x, y, f"{path}[{n}]")]
    return [] if a == b else [f"{path}: {str(a)[:80]} is {str(b)[:80]}"]


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("commit", nargs="?")
    parser.add_argument("--documents", type=int, default=300)
    parser.add_argument("--report", action="store_true")
    given = parser.parse_args()
    if given.report:
        return report(given.documents)
    more = ("--report", "--documents", str(given.documents))
    runs = [started(tree, Path(__file__), *more) for tree in (tree_of(given.commit), ROOT)]
    before, now = (run.stdout for run in runs)
    assert before is not None and now is not None
    states = lines = refused = other = 0
    for old, new in zip(before, now, strict=True):
        (name, step, a), (_, _, b) = json.loads(old), json.loads(new)
        states += 1
        refused += isinstance(a, str)
        lines += sum(len(f["lines"]) for f in a["frames"]) if isinstance(a, dict) else 0
        if found := differences(a, b):
            other += 1
            print(f"{name}, step {step}: {len(found)} differ, first {found[0]}")
    print(f"{states} states compared, {refused} of them refused, {lines} lines: {other} states differ")
    if any(run.wait() for run in runs) or lines == 0:
        raise SystemExit("a tree did not report")


if __name__ == "__main__":
    main()
