"""Small parts of the document's floor, from both sides: what an edit touches, how two are joined, colours, ties,
lengths."""

from __future__ import annotations

import copy
import random
import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from jsonschema import Draft202012Validator

from draws import cases, thrown
from nestline.document import edits, lengths, limits
from nestline.document.beginning import begun
from nestline.document.colors import BUILT_IN_COLORS, LONGEST, called, color_figure, offered, tinted, typed_color
from nestline.document.contrast import contrast, enough
from nestline.document.lengths import Length, LengthError, Sides
from nestline.document.model import FIGURES_OF_KIND, Head, Outline, Picture, StretchLimits, Subject
from nestline.document.schema import defaults, document_schema
from nestline.errors import DocumentError, NestLineError
from nestline.outlines import kinds
from support import studio
from test_spreading import document, things

Raw = dict[str, Any]
PAGES: list[Raw] = [{"width": 9, "height": 9, "objects": []}]


def put(*at: Any, value: Any) -> Raw:
    return {"do": "put", "at": list(at), "value": value}


class Touched(unittest.TestCase):
    def test_an_edit_says_which_rows_it_changes(self) -> None:
        paragraph = ("copies", "a", "versions", "en", "paragraphs", 0)
        cases: list[tuple[Raw, Any]] = [
            (put("title", value="T"), ("head",)),
            (put("pages", 0, "width", value=200), ("page", 0)),
            (put("objects", "f", "x", value=3), ("page", 0)),
            (put(*paragraph, "size", value=9), ("copy", "a", "en")),
            (put("copies", "a", "versions", "en", "language", value="de"), ("copy", "a", "en")),
            # A version that comes is a matter of the whole copy.
            (put("copies", "a", "versions", "de", value={"paragraphs": []}), ("copy", "a", None)),
            (put("copies", "new", value={"versions": {"en": {"paragraphs": []}}}), ("copy", "new", None)),
        ]
        for operation, touched in cases:
            self.assertEqual(edits.apply(document(), [operation]).touched, frozenset([touched]), operation)


NAMES = st.sampled_from(["sea", "Sea", "ink", "Sand", "Sea, Coast", "sea, coast 2", "S" * 58])
FIGURES = st.sampled_from(["#0af", "#00aaff", "#00AAFF", "#1a1a1a", "#123456"])
OTHERS = st.lists(st.tuples(NAMES, FIGURES, st.sampled_from(["Coast", "Hill", "T" * 60])), max_size=8)


class Typed(unittest.TestCase):
    def test_colours_as_people_write_them(self) -> None:
        # CMYK by the plain conversion of CSS Color 5 (from memory): r = 255 · (1 − min(1, c · (1 − k) + k)).
        colors = {"Straw": "#f6e3b4", "12 34": "#123456"}
        for text, wanted in (
            ("#1d3a33", "#1d3a33"),
            ("1D3A33", "#1d3a33"),
            ("fc0", "#ffcc00"),
            ("rgb(29, 58, 51)", "#1d3a33"),
            ("29 58 51", "#1d3a33"),
            ("100% 0% 0%", "#ff0000"),
            ("0 100 100 0", "#ff0000"),
            ("cmyk(0 0 0 100)", "#000000"),
            ("50 % 0 % 0 % 0 %", "#80ffff"),
            ("straw", "Straw"),
            (" INK ", "ink"),
            ("12 34", "12 34"),
            ("red", None),
            ("300 0 0", None),
            ("0 0 0 120", None),
            ("0 -1 0", None),
            ("1 2", None),
            ("", None),
            ("rgb(1 2 3 4 5)", None),
            ("0,5 0 0", "#010000"),
        ):
            self.assertEqual(typed_color(text, colors), wanted, text)

    @given(st.tuples(*[st.integers(0, 255)] * 3))
    def test_whatever_is_typed_of_one_colour_is_that(self, rgb: tuple[int, int, int]) -> None:
        figure = "#" + "".join(f"{part:02x}" for part in rgb)
        black = 1 - max(rgb) / 255
        inks = [0.0 if black == 1 else 100 * (1 - part / 255 - black) / (1 - black) for part in rgb]
        for text in (
            figure,
            figure[1:].upper(),
            "{} {} {}".format(*rgb),
            "cmyk({} {} {} {})".format(*inks, 100 * black),
        ):
            self.assertEqual(typed_color(text, {}), figure, text)
        self.assertEqual(called([part / 255 for part in rgb], {"Mine": figure}), "Mine")

    def test_enough_to_be_read(self) -> None:
        for ratio, said in (
            (21, "any size"),
            (4.5, "any size"),
            (4.49, "large"),
            (3, "large"),
            (2.99, "too little"),
            (1, "too little"),
        ):
            self.assertIn(said, enough(ratio), ratio)


class OfOthers(unittest.TestCase):
    @given(st.dictionaries(NAMES, FIGURES, max_size=5), OTHERS)
    def test_each_can_be_brought_and_takes_no_other_ones_name(
        self, colors: dict[str, str], others: list[tuple[str, str, str]]
    ) -> None:
        def seen(figure: str) -> tuple[float, ...]:
            return color_figure(Head(format="nest-line", version=1), figure)

        before, mine = dict(colors), {**BUILT_IN_COLORS, **colors}
        first = offered(colors, others)
        self.assertEqual(len({one.name.lower() for one in first}), len(first))
        for _ in range(len(first)):
            one = offered(colors, others)[0]
            self.assertNotIn(one.name.lower(), [name.lower() for name in (*colors, *BUILT_IN_COLORS)])
            self.assertLessEqual(len(one.name), LONGEST)
            self.assertTrue(any(one.said == f"{name}, of {whose}" for name, _, whose in others))
            colors = {**colors, one.name: one.figure}
        self.assertEqual(offered(colors, others), [])
        self.assertEqual({name: colors[name] for name in before}, before)
        there = [(name.lower(), seen(figure)) for name, figure in {**mine, **colors}.items()]
        for name, figure, _ in others:
            self.assertTrue(any(n.startswith(name.lower()) and f == seen(figure) for n, f in there), (name, figure))

    def test_what_they_are_called(self) -> None:
        colors = {"Sea": "#001122", "Sea, Coast": "#112233", "Sand": "#0af"}
        got = offered(colors, [("sea", "#445566", "Coast"), ("Sand", "#00aaff", "Coast"), ("Hay", "#ffee00", "Hill")])
        self.assertEqual([(o.name, o.said) for o in got], [("sea, Coast 2", "sea, of Coast"), ("Hay", "Hay, of Hill")])


class Joined(unittest.TestCase):
    @settings(max_examples=cases(80), deadline=None)
    @given(st.integers(0, 10_000))
    def test_two_edits_as_one_do_and_undo_the_same(self, seed: int) -> None:
        dice = random.Random(seed)

        def some() -> list[Raw]:
            places = [
                ("objects", dice.choice("fg"), dice.choice("xy")),
                ("copies", "a", "versions", "en", "paragraphs", 0, "size"),
            ]
            out = [put(*dice.choice(places), value=dice.randint(1, 99)) for _ in range(dice.choice((1, 1, 2)))]
            if dice.random() < 0.2:
                out.append({"do": "cut", "at": ["styles", "Loud"]})
            return out

        raw = document()
        first = edits.apply(raw, one := some())
        second = edits.apply(first.document, other := some()) if "styles" in first.document else None
        if second is None or (other[-1]["do"] == "cut" and "Loud" not in first.document["styles"]):
            return
        operations, inverse = edits.joined(one, first.inverse, other, second.inverse)
        whole = edits.apply(raw, operations)
        self.assertEqual(whole.document, second.document)
        self.assertEqual(edits.apply(second.document, inverse).document, raw)

    def test_only_the_last_of_what_is_typed_in_one_place_is_kept(self) -> None:
        place = ("copies", "a", "versions", "en", "paragraphs", 0, "runs")
        elsewhere = put("objects", "f", "x", value=1)
        a, b = put(*place, value=[{"text": "O"}]), put(*place, value=[{"text": "On"}])
        self.assertEqual(edits.joined([a], ["back"], [b], ["other"]), ([b], ["back"]))  # type: ignore[list-item]
        self.assertEqual(edits.joined([elsewhere, a], ["back"], [b], ["other"]), ([elsewhere, b], ["back"]))  # type: ignore[list-item]
        for first, then in (([elsewhere], [b]), ([a], [elsewhere]), ([a], [b, b]), ([a, elsewhere], [b]), ([], [b])):
            joined, inverse = edits.joined(first, ["back"], then, ["other"])  # type: ignore[list-item]
            self.assertEqual((joined, inverse), ([*first, *then], ["other", "back"]))
        cut = {"do": "cut", "at": list(place)}
        self.assertEqual(edits.joined([cut], [], [cut], [])[0], [cut, cut], "what is taken away is not put")


class Grafted(unittest.TestCase):
    @settings(max_examples=cases(150), deadline=None)
    @given(st.integers(0, 10_000))
    def test_it_is_the_new_value_with_every_part_that_is_the_same_of_the_old(self, seed: int) -> None:
        dice = random.Random(seed)
        old = document()
        new = copy.deepcopy(old)
        changed: list[Any] = []
        for _ in range(dice.randint(0, 3)):
            paragraphs = new["copies"][dice.choice("ab")]["versions"]["en"]["paragraphs"]
            kind, at = dice.randrange(3), dice.randrange(len(paragraphs) or 1)
            if kind == 0 or not paragraphs:
                paragraphs.insert(at, {"runs": [{"text": f"New {dice.random()}"}]})
            elif kind == 1 and len(paragraphs) > 1:
                del paragraphs[at]
            else:
                paragraphs[at] = {**paragraphs[at], "size": dice.randint(5, 50)}
                changed.append(paragraphs[at])
        made = edits.grafted(old, new)
        self.assertEqual(made, new)
        self.assertIs(made["pages"], old["pages"])
        for name in "ab":
            before, after = (raw["copies"][name]["versions"]["en"]["paragraphs"] for raw in (old, made))
            kept = {id(p) for p in before}
            for number, paragraph in enumerate(after):
                # At the beginning and at the end, what is the same is the same object.
                if before[: number + 1] == after[: number + 1] or before[number - len(after) :] == after[number:]:
                    self.assertIn(id(paragraph), kept)

    def test_figures_of_another_kind_are_another_value(self) -> None:
        self.assertEqual(repr(edits.grafted({"x": 1}, {"x": 1.0})), "{'x': 1.0}")
        self.assertEqual(edits.grafted([1], {"x": 1}), {"x": 1})
        self.assertEqual(edits.grafted({"x": 1}, [1]), [1])


class Colours(unittest.TestCase):
    @given(st.tuples(*[st.integers(0, 255)] * 3))
    def test_six_figures_three_and_names(self, rgb: tuple[int, int, int]) -> None:
        six = "#" + "".join(f"{c:02x}" for c in rgb)
        head = Head.model_validate({"format": "nest-line", "version": 1, "colors": {"mine": six}})
        wanted = tuple(c / 255 for c in rgb)
        self.assertEqual(color_figure(head, six), wanted)
        self.assertEqual(color_figure(head, "mine"), wanted)
        three = "#" + "".join(f"{c // 16:x}" for c in rgb)
        self.assertEqual(color_figure(head, three), tuple(c // 16 * 17 / 255 for c in rgb))

    def test_a_tint_is_a_mixture_with_white(self) -> None:
        for tint, wanted in ((100, (0.2, 0.5, 1.0)), (0, (1.0, 1.0, 1.0)), (25, (0.8, 0.875, 1.0))):
            for figure, expected in zip(tinted((0.2, 0.5, 1.0), tint), wanted, strict=True):
                self.assertAlmostEqual(figure, expected, delta=1e-12)


class Ties(unittest.TestCase):
    @settings(max_examples=cases(60), deadline=None)
    @given(st.lists(st.tuples(st.integers(0, 4), st.integers(0, 4)), max_size=4))
    def test_what_is_tied_together_is_known_from_every_side(self, pairs: list[tuple[int, int]]) -> None:
        raw, names = document(), "fghpq"
        edges = ["left", "top", "right", "bottom"]
        tied: set[tuple[int, int]] = set()
        for number, (a, b) in enumerate(pairs):
            if a == b or (b, a) in tied:
                continue
            thing = things(raw)[names[a]]
            thing.setdefault("ties", []).append({"edge": edges[number], "to": names[b]})
            tied.add((a, b))
        try:
            read = studio().read(raw)
        except DocumentError:  # ties in a ring
            return
        reached = {n: {n} for n in range(5)}
        for _ in range(5):  # written anew: whatever is reached through ties either way, again and again
            for a, b in tied:
                reached[a] = reached[b] = reached[a] | reached[b]
            for n in range(5):
                reached[n] = set().union(*(reached[m] for m in reached[n]))
        for n, name in enumerate(names):
            wanted = {names[m] for m in reached[n] - {n}}
            self.assertEqual(read.tied_with.get(name, frozenset()), wanted, (tied, name))


class Lengths(unittest.TestCase):
    @given(st.sampled_from([0, 3, 2.5, "3mm", "1em", "1p6", "2pt + 1em"]), st.floats(-50, 50, allow_nan=False))
    def test_more_of_a_length_is_so_many_points_more(self, written: Any, by: float) -> None:
        by = round(by, 2)
        more = Length.read(lengths.more(written, by))
        was = Length.read(written)
        self.assertAlmostEqual(more.pt, was.pt + by, delta=1e-9)
        self.assertEqual(more.em, was.em)
        self.assertEqual(isinstance(more.raw, str), isinstance(written, str))

    def test_only_figures_and_words_are_lengths(self) -> None:
        for wrong in (True, False, None, [], {}, object()):
            with self.assertRaises(LengthError):
                Length.read(wrong)
        for right in (0, 1.5, "2mm"):
            self.assertEqual(Length.read(right).raw, right)
        self.assertEqual(Length(3.0).raw, 3.0)
        self.assertIs(Length.read(kept := Length(1.0)), kept)

    def test_two_lengths_are_equal_that_come_to_the_same(self) -> None:
        self.assertEqual(Length.read("1in"), Length.read(72))
        self.assertNotEqual(Length.read("1em"), Length.read(1))
        self.assertEqual(len({Length.read("1in"), Length.read("72pt"), Length.read("6pc")}), 1)
        self.assertEqual(Length.read("2pt + 3em").points(10), 32)

    def test_sides_know_whether_they_were_written_apart(self) -> None:
        one, four = Sides.read("1em"), Sides.read([1, "2em", 3, 4])
        self.assertEqual((one.apart, one.points(10), one.raw), (False, (10, 10, 10, 10), "1em"))
        self.assertEqual((four.apart, four.points(10), four.raw), (True, (1, 20, 3, 4), [1, "2em", 3, 4]))
        self.assertEqual([side.raw for side in four.four], [1, "2em", 3, 4])
        self.assertNotEqual(Sides.read(0), Sides.read([0, 0, 0, 0]))
        for wrong in ([1, 2, 3], [1, 2, 3, 4, 5], -1, [0, 0, 0, -1], "-1em", "x"):
            with self.assertRaises(LengthError):
                Sides.read(wrong)


class Figures(unittest.TestCase):
    @given(st.sampled_from(sorted(kinds.UNSET)), st.floats(20, 400), st.floats(20, 400))
    def test_an_outline_with_its_figures_written_out_is_the_same(self, kind: str, width: float, height: float) -> None:
        bare = Outline.model_validate({"kind": kind})
        figures = kinds.figures_of(bare, width, height)
        self.assertEqual(set(figures), set(FIGURES_OF_KIND[kind]) - {"radius"})
        if not 0.01 <= figures.get("depth", 0.5) <= 0.99:  # a very flat arch: more than may be written
            return
        written = Outline.model_validate({"kind": kind, **figures})
        for one, other in zip(kinds.path_of(bare, width, height), kinds.path_of(written, width, height), strict=True):
            np.testing.assert_allclose(np.concatenate(one), np.concatenate(other), atol=1e-9)
        self.assertEqual(kinds.figures_of(written, width, height), figures)

    def test_its_own_figures_go_before_those_of_its_kind(self) -> None:
        star = Outline.model_validate({"kind": "star", "points": 9})
        self.assertEqual(kinds.figures_of(star, 50, 50), {"points": 9, "depth": 0.5})
        tail = Outline.model_validate({"kind": "bubble", "tail": 0})
        self.assertEqual(kinds.figures_of(tail, 50, 50), {"depth": 0.24, "tail": 0}, "nought is a figure of its own")
        self.assertEqual(kinds.figures_of(Outline(), 50, 50), {})


class Limits(unittest.TestCase):
    def test_json_that_is_too_long_is_refused_with_both_figures(self) -> None:
        with self.assertRaisesRegex(NestLineError, "the file has 2 MB of JSON; at most 1 MB"):
            kept, limits.MOST_JSON = limits.MOST_JSON, 1_000_000
            try:
                limits.parse(b" " * 2_000_000, "the file")
            finally:
                limits.MOST_JSON = kept

    def test_a_rectangle_round_a_subject_has_some_size_both_ways(self) -> None:
        Subject.model_validate({"box": [0.1, 0.1, 0.2, 0.3]})
        Subject.model_validate({"keep": [[[0, 0]]]})
        for box in ([0.1, 0.1, 0, 0.3], [0.1, 0.1, 0.2, 0], [0.9, 0.9, 0, 0]):
            with self.assertRaisesRegex(ValueError, "some width and height"):
                Subject.model_validate({"box": box})


class Neighbours(unittest.TestCase):
    def chained(self) -> Raw:
        frames = [
            {"id": f"f{n}", "x": 10 + 60 * n, "y": 10, "width": 50, "height": 50, "frame": {"copy": "a"}}
            for n in range(3)
        ]
        copy = {"versions": {"en": {"paragraphs": [{"runs": [{"text": "Kites"}]}]}}}
        return {
            "format": "nest-line",
            "version": 1,
            "copies": {"a": copy},
            "chains": [["f0", "f2", "f1"]],
            "pages": [{"width": 300, "height": 300, "objects": frames}],
        }

    def test_a_frame_of_a_chain_has_one_before_and_one_after_and_knows_the_last(self) -> None:
        read = studio().read(self.chained())
        self.assertEqual([read.beside_in_chain(f, 1) for f in ("f0", "f2", "f1")], ["f2", "f1", None])
        self.assertEqual([read.beside_in_chain(f, -1) for f in ("f0", "f2", "f1")], [None, "f0", "f2"])
        self.assertEqual([read.last_of_chain(f) for f in ("f0", "f1", "f2", "alone")], ["f1", "f1", "f1", "alone"])

    def test_the_copies_an_object_has_its_place_in_are_those_of_all_versions(self) -> None:
        raw = self.chained()
        mark = {"id": "m", "x": 0, "y": 0, "width": 5, "height": 5, "anchor": {"place": "beside"}}
        raw["pages"][0]["objects"].append(mark)
        raw["copies"]["a"]["versions"]["en"]["paragraphs"][0]["runs"].append({"object": "m"})
        read = studio().read(raw)
        self.assertEqual(dict(read.holders), {"m": frozenset({"a"})})

    def test_those_tied_together_are_the_others_never_the_one_itself(self) -> None:
        raw = self.chained()
        raw["chains"] = []
        raw["pages"][0]["objects"][1]["ties"] = [{"edge": "top", "to": "f0", "gap": 4}]
        read = studio().read(raw)
        self.assertEqual(read.tied_with["f0"], frozenset({"f1"}))
        self.assertEqual(read.tied_with["f1"], frozenset({"f0"}))

    def test_a_loop_of_ties_is_named_from_its_beginning_to_it(self) -> None:
        raw = self.chained()
        raw["chains"] = []
        for n in range(3):
            raw["pages"][0]["objects"][n] |= {
                "name": f"Box {n}",
                "ties": [{"edge": "left", "to": f"f{(n + 1) % 3}", "gap": 1}],
            }
        with self.assertRaises(DocumentError) as refused:
            studio().read(raw)
        names = [part for part in str(refused.exception).split("“")[1:]]
        self.assertEqual(len(names), 4)
        self.assertEqual(names[0].split("”")[0], names[-1].split("”")[0])

    def test_a_path_keeps_its_own_box_and_one_without_takes_its_objects(self) -> None:
        for box, wanted in ((None, (80.0, 40.0)), ([20, 10], (20.0, 10.0))):
            outline = {"kind": "path", "d": "M0 0H10V10Z", **({"box": box} if box else {})}
            raw = {
                "format": "nest-line",
                "version": 1,
                "pages": [
                    {
                        "width": 99,
                        "height": 99,
                        "objects": [{"id": "p", "x": 0, "y": 0, "width": 80, "height": 40, "outline": outline}],
                    }
                ],
            }
            self.assertEqual(studio().read(raw).pages[0].objects[0].outline.box, wanted)

    def test_names_may_be_as_long_as_is_said_and_no_longer(self) -> None:
        for length, may in ((80, True), (81, False)):
            raw = {
                "format": "nest-line",
                "version": 1,
                "pages": [
                    {
                        "width": 99,
                        "height": 99,
                        "objects": [{"id": "i" * length, "x": 0, "y": 0, "width": 8, "height": 4}],
                    }
                ],
            }
            if may:
                studio().read(raw)
            else:
                self.assertRaises(DocumentError, studio().read, raw)

    def test_what_the_client_is_told_of_parts_is_what_they_are_without_a_word(self) -> None:
        told = defaults()
        self.assertEqual(told["keep"], {"start": 2, "end": 2, "whole": False, "next": False})
        self.assertEqual(told["frame"]["least_slot"], "by-copy")
        self.assertNotIn("copy", told["frame"])
        self.assertEqual(Picture.model_fields["scale"].default, 1)


class GoingAlong(unittest.TestCase):
    """Who leads a group into copy, and who goes along."""

    def grouped(self, *anchored: str) -> Raw:
        sizes = {"flat": (250, 4), "square": (30, 30), "tall": (5, 40)}
        objects = [
            {
                "id": i,
                "x": 9,
                "y": 9,
                "width": w,
                "height": h,
                **({"anchor": {"place": "beside"}} if i in anchored else {}),
            }
            for i, (w, h) in sizes.items()
        ]
        runs = [{"text": "Kites"}, *({"object": i} for i in anchored)]
        frame = {"id": "f", "x": 0, "y": 0, "width": 99, "height": 99, "frame": {"copy": "a"}}
        return {
            "format": "nest-line",
            "version": 1,
            "copies": {"a": {"versions": {"en": {"paragraphs": [{"runs": runs}]}}}},
            "pages": [{"width": 300, "height": 300, "objects": [frame, {"id": "g", "objects": objects}]}],
        }

    def test_of_those_that_belong_to_no_copy_the_largest_by_area_would_lead(self) -> None:
        read = studio().read(self.grouped())
        self.assertEqual(read.leader_in(read.pages[0].groups[0]), "flat")

    def test_the_others_go_along_with_the_one_that_belongs_to_copy(self) -> None:
        read = studio().read(self.grouped("tall"))
        self.assertEqual(dict(read.along), {"tall": ("flat", "square")})
        self.assertEqual(dict(read.leader_of), {"flat": "tall", "square": "tall"})
        self.assertEqual(read.leader_in(read.pages[0].groups[0]), "tall")


class Bounds(unittest.TestCase):
    """What is just allowed, and what just is not."""

    def read(self, **thing: Any) -> Any:
        return studio().read(
            {
                "format": "nest-line",
                "version": 1,
                "pages": [
                    {
                        "width": 99,
                        "height": 99,
                        "objects": [{"id": "i", "x": 0, "y": 0, "width": 8, "height": 4, **thing}],
                    }
                ],
            }
        )

    def test_ids_have_letters_and_turns_a_bound_both_ways(self) -> None:
        for thing, may in (
            ({"id": "i"}, True),
            ({"id": ""}, False),
            ({"turn": -1e6}, True),
            ({"turn": -1.1e6}, False),
            ({"turn": 1e6}, True),
            ({"turn": 1.1e6}, False),
            ({"fill": {"color": "c" * 80}}, None),
            ({"fill": {"color": "c" * 81}}, None),
        ):
            try:
                self.read(**thing)
            except DocumentError as error:
                self.assertIsNot(may, True, (thing, error))
                if may is None:  # a colour that is too long is refused for that, not for being unknown
                    self.assertEqual("80" in str(error), len(thing["fill"]["color"]) > 80, (thing, error))
            else:
                self.assertIs(may, True, thing)

    def test_a_language_is_a_tag_of_35_letters_at_most(self) -> None:
        tags: list[tuple[Any, bool]] = [
            ("de", True),
            ("de-AT", True),
            ("a" * 35, True),
            ("a" * 36, False),
            ("de_AT", False),
            ("", False),
            (7, False),
        ]
        for tag, may in tags:
            raw = {
                "format": "nest-line",
                "version": 1,
                "pages": PAGES,
                "copies": {"a": {"versions": {"en": {"language": tag, "paragraphs": []}}}},
            }
            if may:
                self.assertEqual(studio().read(raw).copies["a"]["en"].language, tag)
            else:
                with self.assertRaises(DocumentError) as refused:
                    studio().read(raw)
                self.assertIn("language tag", str(refused.exception))

    def test_a_long_name_is_quoted_short_and_a_short_one_whole(self) -> None:
        for name, quoted in (("k" * 59, "k" * 59), ("k" * 60, "k" * 57 + "…")):
            with self.assertRaises(DocumentError) as refused:
                self.read(outline={"kind": name})
            self.assertIn(f"“{quoted}”", str(refused.exception))

    def test_a_copy_whose_name_is_too_long_is_told_by_its_beginning(self) -> None:
        raw = {
            "format": "nest-line",
            "version": 1,
            "pages": PAGES,
            "copies": {"n" * 201: {"versions": {"en": {"paragraphs": []}}}},
        }
        with self.assertRaises(DocumentError) as refused:
            studio().read(raw)
        self.assertIn("n" * 20 + "…", str(refused.exception))
        self.assertNotIn("n" * 21, str(refused.exception))

    def test_the_schema_takes_no_more_than_is_known(self) -> None:
        version = {"language": "en", "paragraphs": []}
        for extra, at in (({}, None), ({"mood": 1}, "version"), ({"mood": 1}, "copy")):
            raw = {
                "format": "nest-line",
                "version": 1,
                "pages": [{"width": 9, "height": 9, "objects": []}],
                "copies": {
                    "a": {
                        "versions": {"en": {**version, **(extra if at == "version" else {})}},
                        **(extra if at == "copy" else {}),
                    }
                },
            }
            self.assertEqual(Draft202012Validator(document_schema()).is_valid(raw), at is None, at)

    def test_word_spaces_open_to_three_times_their_width_if_nothing_is_said(self) -> None:
        self.assertEqual(
            (StretchLimits().greatest, StretchLimits().letter_space, StretchLimits().letter_width), (3, 0.01, 0.01)
        )


class Begun(unittest.TestCase):
    def test_with_words_it_has_a_frame_of_them_without_none(self) -> None:
        with_words = begun("T", "210mm", "297mm", "3mm", "mm", words=" Fly \n\n high")
        texts = [p["runs"][0]["text"] for p in with_words["copies"]["Copy 1"]["versions"]["en"]["paragraphs"]]
        self.assertEqual((texts, len(with_words["pages"][0]["objects"])), (["Fly", "high"], 1))
        for words in ("", " \n "):
            empty = begun("T", "210mm", "297mm", None, "mm", words=words)
            self.assertEqual((empty["copies"], empty["pages"][0]["objects"]), ({}, []))
            studio().read(empty)

    def test_what_is_printed_has_some_bleed_a_screen_none_and_what_is_said_holds(self) -> None:
        for unit, points in (("mm", 8.504), ("in", 9), ("pt", 9), ("px", 0)):
            page = studio().read(begun("T", f"9{unit}", f"9{unit}", None, unit)).pages[0].sheet
            self.assertAlmostEqual(page.bleed.pt, points, places=2, msg=unit)
        self.assertEqual(studio().read(begun("T", "9mm", "9mm", "0mm", "mm")).pages[0].sheet.bleed.pt, 0)


class Contrast(unittest.TestCase):
    """Worked by hand from the formulas of WCAG 2.2, "relative luminance" and "contrast ratio"."""

    def test_the_ratio_is_that_of_the_formula(self) -> None:
        dice = thrown(3)
        for _ in range(200):
            a, b = (tuple(dice.random() ** 3 for _ in range(3)) for _ in range(2))

            def light(rgb: tuple[float, ...]) -> float:
                parts = [v / 12.92 if v <= 0.04045 else ((v + 0.055) / 1.055) ** 2.4 for v in rgb]
                return sum(share * part for share, part in zip((0.2126, 0.7152, 0.0722), parts, strict=True))

            high, low = max(light(a), light(b)), min(light(a), light(b))
            self.assertAlmostEqual(contrast(a, b), (high + 0.05) / (low + 0.05), 9)  # type: ignore[arg-type]
        self.assertAlmostEqual(contrast((0, 0, 0), (1, 1, 1)), 21, 9)


if __name__ == "__main__":
    unittest.main()
