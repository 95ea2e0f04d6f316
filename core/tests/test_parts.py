"""Small parts of the document's floor, from both sides: what an edit touches, how two are joined, colours, ties, lengths."""

from __future__ import annotations

import copy
import random
import unittest
from typing import Any

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from nestline.document import edits, lengths, limits
from nestline.document.lengths import Length, LengthError, Sides
from nestline.document.model import FIGURES_OF_KIND, Head, Outline, Picture, Subject
from nestline.document.reading import color_figure, tinted
from nestline.document.schema import defaults
from nestline.errors import DocumentError, NestLineError
from nestline.outlines import kinds
from support import studio
from test_spreading import document, things

Raw = dict[str, Any]


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


class Joined(unittest.TestCase):
    @settings(max_examples=80, deadline=None)
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
    @settings(max_examples=150, deadline=None)
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
    @settings(max_examples=60, deadline=None)
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
            "format": "nest-line", "version": 1, "copies": {"a": copy}, "chains": [["f0", "f2", "f1"]],
            "pages": [{"width": 300, "height": 300, "objects": frames}],
        }  # fmt: skip

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
            raw = {"format": "nest-line", "version": 1, "pages": [{"width": 99, "height": 99, "objects": [
                {"id": "p", "x": 0, "y": 0, "width": 80, "height": 40, "outline": outline}]}]}  # fmt: skip
            self.assertEqual(studio().read(raw).pages[0].objects[0].outline.box, wanted)

    def test_names_may_be_as_long_as_is_said_and_no_longer(self) -> None:
        for length, may in ((80, True), (81, False)):
            raw = {"format": "nest-line", "version": 1, "pages": [{"width": 99, "height": 99, "objects": [
                {"id": "i" * length, "x": 0, "y": 0, "width": 8, "height": 4}]}]}  # fmt: skip
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


if __name__ == "__main__":
    unittest.main()
