"""Objects in line: they stand in the copy like letters, move with it, and are never lost."""

import random
import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st
from shapely.geometry import box

from draws import cases, fair, seeds
from nestline import rows as k
from nestline.acts import ActError
from nestline.document.reading import Reader
from nestline.errors import DocumentError
from nestline.nesting.anchors import hang_of_line
from nestline.nesting.glyphs import in_line_places
from nestline.nesting.nests import settled
from nestline.nesting.wrapping import wrap_region
from nestline.outlines.polygons import shape_of
from nestline.output.lines import frame_report
from support import STORY, document, frame, nest_of, paragraph, studio
from test_acts import done

ICON = {"id": "icon", "x": 0, "y": 0, "width": 12, "height": 9, "anchor": {"place": "in-line"}}


def label(text: list[Any], icon: dict[str, Any] | None = None, **rules: Any) -> dict[str, Any]:
    """A frame whose copy has objects where `text` has a dict."""
    runs = [{"text": t} if isinstance(t, str) else t for t in text]
    return document(
        [frame(**rules), {**ICON, **(icon or {})}], {"runs": runs, "size": 12, "leading": 15, "font": "Lato"}
    )


def placed(raw: dict[str, Any]) -> tuple[Any, dict[str, Any]]:
    """The frame's nest, and every object as it came to stand."""
    read = studio().read(raw)
    nests = studio().nest(read)
    return next(n.nest for n in nests if n.thing.id == "f"), {t.id: t for _, t in settled(read, nests).objects()}


def settled_of(raw: dict[str, Any]) -> list[tuple[int, Any]]:
    """Every object of a document as it came to stand, with its page."""
    own = studio()
    read = own.read(raw)
    return list(settled(read, own.nest(read)).objects())


class InLine(unittest.TestCase):
    def test_it_stands_on_the_baseline_between_its_words(self) -> None:
        nest, things = placed(label(["Bring ", {"object": "icon"}, " string"]))
        x, y, width, height = things["icon"].box
        self.assertAlmostEqual(y + height, float(nest.records[0, k.BASELINE]), places=3)
        words = {
            nest.copy.text[s:e]: float(v)
            for s, e, v in zip(nest.copy.segments.start, nest.copy.segments.end, nest.drawn.x, strict=True)
        }
        self.assertGreater(x, words["Bring"] + 20)
        self.assertGreater(words["string"], x + width)
        self.assertEqual(nest.copy.words, 2)

    def test_a_shift_lifts_it(self) -> None:
        for shift, by in ((3, 3.0), ("-0.25em", -3.0)):
            nest, things = placed(
                label(["Bring ", {"object": "icon"}], {"anchor": {"place": "in-line", "shift": shift}})
            )
            _, y, _, height = things["icon"].box
            self.assertAlmostEqual(y + height, float(nest.records[0, k.BASELINE]) - by, places=3)

    def test_icon_and_label_are_centred_as_one(self) -> None:
        raw = label(
            [{"object": "icon"}, "\u00a0Fly"],
            sit="middle",
            hang="cap",
            stand="baseline",
            least_slot=0,
            width=120,
            height=60,
        )
        raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["align"] = "center"
        nest, things = placed(raw)
        left, right = things["icon"].box[0], float(nest.right[0])
        self.assertAlmostEqual(left - 100, 220 - right, delta=0.02)
        # Taller than the capitals, the icon is what is centred down as well.
        raw["pages"][0]["objects"][1]["height"] = 30
        nest, things = placed(raw)
        _, y, _, height = things["icon"].box
        self.assertAlmostEqual(y - 100, 160 - (y + height), delta=0.06)

    def test_a_giving_frame_makes_room_for_it(self) -> None:
        bare = label(["Fly"], give=["right"], wrap_lines=False, least_slot=0, width=10)
        bare["pages"][0]["objects"].pop()
        without, with_ = (
            studio().nest(studio().read(bare)),
            label([{"object": "icon"}, "Fly"], give=["right"], wrap_lines=False, least_slot=0, width=10),
        )
        nest = studio().nest(studio().read(with_))
        self.assertAlmostEqual(nest[0].thing.box[2] - without[0].thing.box[2], 12, delta=0.02)

    def test_it_moves_when_copy_before_it_grows(self) -> None:
        one, two = (placed(label([text, {"object": "icon"}]))[1]["icon"].box for text in ("Bring ", STORY + " "))
        self.assertGreater(two[1], one[1] + 12)

    def test_in_the_leftover_it_waits_undrawn(self) -> None:
        rules = {"height": 30, "leftover": {"ends": "with-the-last-line"}}
        _, things = placed(label([STORY * 3, {"object": "icon"}], **rules))
        self.assertTrue(things["icon"].hidden)
        _, things = placed(label([STORY], **rules))
        self.assertTrue(things["icon"].hidden, "with no place in any copy")

    def test_a_label_in_line_in_a_label(self) -> None:
        raw = label(["Price ", {"object": "icon"}], {"frame": {"copy": "badge"}, "width": 40, "height": 20})
        raw["copies"]["badge"] = {"versions": {"en": {"language": "en", "paragraphs": [paragraph("5")]}}}
        nests = studio().nest(studio().read(raw))
        inner = next(n for n in nests if n.thing.id == "icon")
        self.assertAlmostEqual(float(inner.nest.records[0, k.LEFT]), inner.thing.box[0], places=3)
        self.assertGreater(inner.thing.box[0], 120)

    def test_words_as_set_leave_it_out(self) -> None:
        read = studio().read(label(["Bring ", {"object": "icon"}, " string"]))
        line = frame_report(studio().nest(read)[0])["lines"][0]
        self.assertEqual([w["text"] for w in line["words"]], ["Bring", "string"])
        self.assertEqual(line["range"], [0, 14])

    @given(
        st.lists(
            st.sampled_from(["Bring ", "string, ", "bring friends ", "\u05e2\u05e4\u05d9\u05e4\u05d5\u05df "]),
            max_size=30,
        ),
        st.integers(0, 30),
        st.floats(4, 60),
        st.floats(4, 60),
    )
    def test_the_room_it_takes_is_its_own(self, words: list[str], place: int, width: float, height: float) -> None:
        raw = label([*words[:place], {"object": "icon"}, *words[place:]], {"width": width, "height": height}, width=160)
        nest, things = placed(raw)
        x, _, wide, _ = things["icon"].box
        self.assertAlmostEqual(wide, width, places=3)
        record = next(i for i, (a, b) in enumerate(nest.ranges) if a <= nest.copy.text.index("\ufffc") < b)
        self.assertGreaterEqual(x, float(nest.records[record, k.LEFT]) - 0.02)
        if width < 150:
            self.assertLessEqual(x + wide, float(nest.records[record, k.RIGHT]) + 0.02)


WORDS = "Bring string, bring friends, and bring whatever you built at the kitchen table. "


class OpenedLines(unittest.TestCase):
    """An object taller than the leading opens its own line, and no other."""

    def steps(self, nest: Any) -> tuple[list[float], list[int]]:
        """The steps from line to line of a nest, and the lines that hold objects."""
        rows: dict[int, float] = {int(r[k.LINE]): float(r[k.BASELINE]) for r in nest.records}
        text = nest.copy.text
        held = [int(r[k.LINE]) for r, (a, b) in zip(nest.records, nest.ranges, strict=True) if "\ufffc" in text[a:b]]
        return [rows[n + 1] - rows[n] for n in range(len(rows) - 1)], held

    def test_only_its_own_line_is_opened(self) -> None:
        for breaking in ("first-fit", "optimal", "balanced"):
            raw = label([WORDS * 3, {"object": "icon"}, WORDS * 3], {"height": 30}, width=200, height=600)
            raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["breaking"] = breaking
            nest, things = placed(raw)
            steps, held = self.steps(nest)
            with self.subTest(breaking=breaking):
                self.assertGreater(len(steps), 10)
                descender = studio().fonts.face("Lato").metrics.descender * 12
                for n, step in enumerate(steps):
                    self.assertAlmostEqual(step, 30 + descender if n + 1 in held else 15, places=4)
                _, y, _, height = things["icon"].box
                self.assertAlmostEqual(
                    y + height, [float(r[k.BASELINE]) for r in nest.records if r[k.LINE] == held[0]][0], places=4
                )

    def test_one_that_reaches_below_opens_the_step_to_the_next_line(self) -> None:
        for breaking in ("first-fit", "optimal"):
            raw = label(
                [WORDS * 3, {"object": "icon"}, WORDS * 3],
                {"height": 14, "anchor": {"place": "in-line", "shift": -10}},
                width=200,
                height=600,
            )
            raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["breaking"] = breaking
            nest, _ = placed(raw)
            steps, held = self.steps(nest)
            ascender = studio().fonts.face("Lato").metrics.ascender * 12
            for n, step in enumerate(steps):
                self.assertAlmostEqual(step, 10 + ascender if n in held else 15, places=4, msg=breaking)

    def test_past_the_edge_too(self) -> None:
        for breaking in ("first-fit", "optimal"):
            raw = label([WORDS * 3, {"object": "icon"}, WORDS], {"height": 30}, width=200, height=60)
            raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["breaking"] = breaking
            nest, _ = placed(raw)
            steps, held = self.steps(nest)
            self.assertTrue(nest.past[-1])
            self.assertEqual(
                [round(step, 2) > 15 for step in steps], [n + 1 in held for n in range(len(steps))], breaking
            )

    def test_several_of_different_heights(self) -> None:
        raw = label(
            [WORDS, {"object": "icon"}, WORDS * 2, {"object": "tall"}, WORDS * 2], {"height": 24}, width=200, height=600
        )
        raw["pages"][0]["objects"].append({**ICON, "id": "tall", "height": 50})
        for breaking in ("first-fit", "optimal"):
            raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["breaking"] = breaking
            steps, held = self.steps(placed(raw)[0])
            opened = [round(step, 2) for step in steps if round(step, 2) > 15]
            descender = studio().fonts.face("Lato").metrics.descender * 12
            self.assertEqual(opened, [round(24 + descender, 2), round(50 + descender, 2)], breaking)
            self.assertEqual(len(held), 2)

    @given(
        st.lists(st.tuples(st.integers(0, 60), st.floats(2, 44), st.floats(-20, 20)), min_size=1, max_size=4),
        st.sampled_from(["first-fit", "optimal", "balanced"]),
        st.sampled_from(["rectangle", "ellipse", "heart"]),
        st.sampled_from(["top", "middle"]),
        st.booleans(),
    )
    def test_no_letters_run_into_one(
        self, icons: list[tuple[int, float, float]], breaking: str, kind: str, sit: str, boxes: bool
    ) -> None:
        words: list[Any] = (WORDS * 5).split()[:60]
        things = []
        for n, (place, height, shift) in enumerate(icons):
            words.insert(min(place, len(words)), {"object": f"i{n}"})
            things.append({**ICON, "id": f"i{n}", "height": height, "anchor": {"place": "in-line", "shift": shift}})
        text: list[Any] = [w if isinstance(w, dict) else f"{w} " for w in words]
        rules = {"band": "line-box", "hang": "line-box", "stand": "line-box"} if boxes else {}
        raw = label(text, width=260, height=420, outline={"kind": kind}, sit=sit, least_slot=0, **rules)
        raw["pages"][0]["objects"] = [raw["pages"][0]["objects"][0], *things]
        raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["breaking"] = breaking
        nest, after = placed(raw)
        rows = sorted({(int(r[k.LINE]), float(r[k.BASELINE])) for r in nest.records})
        metrics = studio().fonts.face("Lato").metrics
        for r, (a, b) in zip(nest.records, nest.ranges, strict=True):
            if "\ufffc" not in nest.copy.text[a:b]:
                continue
            for id in [t["id"] for t in things]:
                _, y, _, height = after[id].box
                up, down = float(r[k.BASELINE]) - y, y + height - float(r[k.BASELINE])
                at = nest.copy.text[a:b]
                stands_here = (
                    id in {s.object for p in nest.copy.paragraphs for s in p.stretches if a <= s.start < b} and at
                )
                if not stands_here or after[id].hidden:
                    continue
                above = [y0 for n, y0 in rows if n == int(r[k.LINE]) - 1]
                below = [y0 for n, y0 in rows if n == int(r[k.LINE]) + 1]
                if above:
                    self.assertLessEqual(above[0] + metrics.descender * 12, float(r[k.BASELINE]) - up + 0.01)
                if below:
                    self.assertGreaterEqual(below[0] - metrics.ascender * 12, float(r[k.BASELINE]) + down - 0.01)


class Hanging(unittest.TestCase):
    """Objects put beside their line or in the middle of their frame (where they hang: test_chains)."""

    def page(self, **icon: Any) -> dict[str, Any]:
        thing = {
            **{k: v for k, v in ICON.items() if k != "anchor"},
            "x": 70,
            "y": 160,
            "width": 20,
            "height": 14,
            **icon,
        }
        return document([frame(x=100, y=100, width=200, height=200), thing], paragraph(STORY))

    def box(self, raw: dict[str, Any]) -> tuple[float, float, float, float]:
        return placed(raw)[1]["icon"].box  # type: ignore[no-any-return]

    def test_put_beside_its_line_it_stays_where_it_stood(self) -> None:
        for x, side, out in (
            (70, "left", True),
            (110, "left", False),
            (95, "left", False),
            (270, "right", False),
            (330, "right", True),
        ):
            raw = self.page(x=x)
            after = done(raw, "anchor", object="icon", frame="f", place="beside")
            anchor = after["pages"][0]["objects"][1]["anchor"]
            self.assertEqual(anchor["side"], side)
            self.assertEqual(anchor.get("out", anchor["x"] < 0), out)
            self.assertFalse(placed(after)[1]["icon"].hidden)
            for a, b in zip(self.box(after), (x, 160, 20, 14), strict=True):
                self.assertAlmostEqual(a, b, places=3)

    def test_it_goes_to_the_nearest_line(self) -> None:
        after = done(self.page(), "anchor", object="icon", frame="f", place="beside")
        nest, things = placed(after)
        self.assertLess(abs(after["pages"][0]["objects"][1]["anchor"]["y"]), 7.5)
        line = int(next(i for i, (a, b) in enumerate(nest.ranges) if a <= nest.copy.text.index("\ufffc") < b))
        tops = abs(nest.records[:, k.TOP] - things["icon"].box[1])
        self.assertLessEqual(tops[line], tops.min() + 0.5)

    def test_moved_by_hand_its_distance_changes_and_its_words_do_not(self) -> None:
        raw = done(self.page(), "anchor", object="icon", frame="f", place="beside")
        for by in ((-3.0, 4.0), (12.0, -2.0), (200.0, 30.0)):
            moved = done(raw, "move", objects=["icon"], by=by)
            self.assertEqual(moved["copies"], raw["copies"])
            self.assertAlmostEqual(self.box(moved)[0], 70 + by[0], places=3)
            self.assertAlmostEqual(self.box(moved)[1], 160 + by[1], places=3)
        placed_ = done(raw, "place", object="icon", field="y", value=181)
        self.assertAlmostEqual(self.box(placed_)[1], 181, places=3)

    def test_centred_and_moved_off_the_middle(self) -> None:
        raw = done(self.page(), "anchor", object="icon", frame="f", place="centred")
        self.assertEqual(self.box(raw)[:2], (190, 193))
        self.assertAlmostEqual(self.box(done(raw, "move", objects=["icon"], by=(5, -6)))[0], 195, places=3)
        back = done(raw, "anchor", object="icon", frame="f", place="in-line", at=0)
        self.assertEqual(back["pages"][0]["objects"][1]["anchor"], {"place": "in-line"})

    def test_in_the_middle_it_pushes_the_copy_unless_it_has_a_wrap_already(self) -> None:
        made = done(self.page(), "anchor", object="icon", frame="f", place="centred")
        self.assertEqual(made["pages"][0]["objects"][1]["wrap"], {"by": "outline", "clearance": 9})
        own = {"by": "box", "clearance": 2}
        kept = done(self.page(wrap=own), "anchor", object="icon", frame="f", place="centred")
        self.assertEqual(kept["pages"][0]["objects"][1]["wrap"], own)
        beside = done(self.page(), "anchor", object="icon", frame="f", place="beside")
        self.assertNotIn("wrap", beside["pages"][0]["objects"][1])

    def test_without_a_frame_it_is_the_nearest_that_is_no_jump_line(self) -> None:
        number = {**paragraph(""), "runs": [{"text": "page "}, {"field": "page"}]}
        for x, nearest in ((320, "story"), (425, "far")):  # a jump line stands between
            raw = self.page(x=x, y=110)
            for name, left, content in (("jump", 345, number), ("far", 450, paragraph("Far away"))):
                other = {**frame(x=left, y=110, width=60, height=40), "id": name, "frame": {"copy": name}}
                raw["pages"][0]["objects"].append(other)
                raw["copies"][name] = {"versions": {"en": {"language": "en", "paragraphs": [content]}}}
            after = done(raw, "anchor", object="icon", place="beside")
            self.assertEqual([n for n, copy in after["copies"].items() if "icon" in str(copy)], [nearest])

    def test_without_copy_on_its_page_it_cannot_belong_to_any(self) -> None:
        raw = self.page()
        del raw["pages"][0]["objects"][0]
        with self.assertRaisesRegex(ActError, "no copy on this page"):
            done({**raw, "copies": {}}, "anchor", object="icon")

    def test_how_it_stands_changes_and_its_words_do_not(self) -> None:
        for first in ({"text": "Bring "}, {"field": "page"}):  # a page number is as long as it is set
            raw = label([first, "string ", {"object": "icon"}, " and a friend"])
            for place in ("beside", "centred", "in-line"):
                raw = done(raw, "anchor", object="icon", place=place)
                runs = raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"]
                self.assertEqual(raw["pages"][0]["objects"][1]["anchor"]["place"], place)
                self.assertEqual(runs[-2:], [{"object": "icon"}, {"text": " and a friend"}])

    def test_fit_to_the_measure_in_proportion(self) -> None:
        raw = label(["Bring ", {"object": "icon"}, " string"], {"width": 400, "height": 100}, width=160)
        _, things = placed(done(raw, "fit-in-line", object="icon"))
        self.assertEqual(things["icon"].box[2:], (160, 40))
        with self.assertRaisesRegex(ActError, "stands in no line"):
            done(self.page(), "fit-in-line", object="icon")

    def test_duplicated_without_its_words_it_belongs_to_the_page(self) -> None:
        raw = done(self.page(), "anchor", object="icon", frame="f", place="beside")
        after = done(raw, "duplicate", objects=["icon"], by=(5, 7), ids=["two"])
        self.assertNotIn("anchor", after["pages"][0]["objects"][2])
        self.assertAlmostEqual(placed(after)[1]["two"].box[1], 160 + 7, places=3)
        kept = done(raw, "duplicate", objects=["icon"], by=(0, 0), ids=["two"], anchored=True)
        self.assertIn("anchor", kept["pages"][0]["objects"][2])

    def test_let_go_it_stays(self) -> None:
        raw = done(self.page(x=330), "anchor", object="icon", frame="f", place="beside")
        after = done(raw, "release", object="icon")
        self.assertAlmostEqual(self.box(after)[0], 330, places=3)
        self.assertNotIn("object", str(after["copies"]))


class Acts(unittest.TestCase):
    def loose(self) -> dict[str, Any]:
        raw = document(
            [frame(), {k: v for k, v in ICON.items() if k != "anchor"}], paragraph("Bring string"), paragraph("Fly")
        )
        raw["copies"]["story"]["versions"]["de"] = {"language": "de", "paragraphs": [paragraph("Schnur")]}
        return raw

    def text(self, raw: dict[str, Any], version: str = "en") -> str:
        return "\n".join(p.text for p in Reader().read(raw).copies["story"][version].paragraphs)

    def test_put_in_line_at_a_place_and_moved_to_another(self) -> None:
        raw = done(self.loose(), "anchor", object="icon", frame="f", at=6, version="en")
        self.assertEqual(self.text(raw), "Bring \ufffcstring\nFly")
        self.assertEqual(self.text(raw, "de"), "Schnur\ufffc")
        for at, text in (
            (0, "\ufffcBring string\nFly"),
            (14, "Bring string\n\ufffcFly"),
            (99, "Bring string\nFly\ufffc"),
            (13, "Bring string\ufffc\nFly"),
        ):
            moved = done(raw, "anchor", object="icon", frame="f", at=at, version="en")
            self.assertEqual(self.text(moved), text)

    def test_it_comes_before_a_frame_whose_fill_would_hide_it(self) -> None:
        raw = self.loose()
        raw["pages"][0]["objects"].reverse()
        after = done(raw, "anchor", object="icon", frame="f")
        self.assertEqual([o["id"] for o in after["pages"][0]["objects"]], ["f", "icon"])
        self.assertEqual(after["pages"][0]["objects"][1]["anchor"], {"place": "in-line"})

    def test_let_go_it_stays_where_it_stood(self) -> None:
        raw = done(self.loose(), "anchor", object="icon", frame="f", at=6)
        stood = placed(raw)[1]["icon"].box
        after = done(raw, "release", object="icon")
        self.assertEqual(self.text(after), "Bring string\nFly")
        self.assertIsNone(after["pages"][0]["objects"][1].get("anchor"))
        for a, b in zip(placed(after)[1]["icon"].box, stood, strict=True):
            self.assertAlmostEqual(a, b, places=3)

    def test_deleted_its_place_in_the_copy_goes_too(self) -> None:
        raw = done(self.loose(), "anchor", object="icon", frame="f", at=6)
        self.assertEqual(self.text(done(raw, "delete", objects=["icon"])), "Bring string\nFly")

    def test_page_numbers_beside_its_place_stay_two(self) -> None:
        raw = label([{"object": "icon"}])
        number = {"field": "page"}
        raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"] = [number, {"object": "icon"}, number]
        for after in (done(raw, "delete", objects=["icon"]), done(raw, "release", object="icon")):
            runs = after["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"]
            self.assertEqual([run["field"] for run in runs], ["page", "page"])

    def test_a_duplicate_of_a_frame_brings_what_belongs_to_its_copy(self) -> None:
        for place in ("in-line", "beside", "centred"):
            raw = done(self.loose(), "anchor", object="icon", frame="f", at=6, place=place)
            for chosen in (["f"], ["f", "icon"], ["icon", "f"]):
                after = done(raw, "duplicate", objects=chosen, ids=["n1", "n2"][: len(chosen)])
                things = Reader().read(after).by_id
                new = things.keys() - {"f", "icon"}
                self.assertEqual(len(new), 2, chosen)
                frame_ = next(i for i in new if things[i].frame)
                self.assertIn(frame_, {"n1", "n2"}, "what was chosen has the ids that were given")
                copy = things[frame_].frame.copy_name  # type: ignore[union-attr]
                runs = [r for p in after["copies"][copy]["versions"]["en"]["paragraphs"] for r in p["runs"]]
                (other,) = new - {frame_}
                self.assertEqual([r["object"] for r in runs if "object" in r], [other])
                was, now = placed(raw)[1], {t.id: t for _, t in settled_of(after)}
                self.assertEqual([now["icon"].box, now["f"].box], [was["icon"].box, was["f"].box])
                self.assertFalse(now[other].hidden)
                for old, fresh in zip(was["icon"].box[:2], now[other].box[:2], strict=True):
                    self.assertAlmostEqual(fresh - old, 12, places=3)

    def test_a_frame_deleted_takes_its_lines_along_and_leaves_what_hung_beside_them_where_it_was(self) -> None:
        for place in ("in-line", "beside", "centred"):
            raw = done(self.loose(), "anchor", object="icon", frame="f", at=6, place=place)
            stood = placed(raw)[1]["icon"].box
            after = done(raw, "delete", objects=["f"])
            self.assertEqual(after["copies"], {})
            left = {t.id: t for _, t in settled_of(after)}
            self.assertEqual(list(left), [] if place == "in-line" else ["icon"])
            if left:
                self.assertEqual((left["icon"].hidden, left["icon"].anchor), (False, None))
                for a, b in zip(left["icon"].box, stood, strict=True):
                    self.assertAlmostEqual(a, b, places=3)

    def test_copy_in_another_frame_too_keeps_what_belongs_to_it(self) -> None:
        loose = self.loose()
        loose["pages"][0]["objects"].append(frame(id="g", x=500))
        raw = done(loose, "anchor", object="icon", frame="f", at=6)
        after = done(raw, "delete", objects=["f"])
        self.assertEqual({t.id for _, t in settled_of(after)}, {"g", "icon"})
        self.assertIn("story", after["copies"])

    def test_copy_made_outlines_leaves_what_belonged_to_it_where_it_was(self) -> None:
        for place in ("in-line", "beside", "centred"):
            raw = done(self.loose(), "anchor", object="icon", frame="f", at=6, place=place)
            stood = placed(raw)[1]["icon"].box
            after = {t.id: t for _, t in settled_of(done(raw, "copy-to-outlines", object="f"))}
            self.assertFalse(after["icon"].hidden)
            self.assertIsNone(after["icon"].anchor)
            for a, b in zip(after["icon"].box, stood, strict=True):
                self.assertAlmostEqual(a, b, places=3)

    def test_what_cannot_be_is_refused(self) -> None:
        raw = self.loose()
        for given_ in (
            {"object": "icon", "frame": "icon"},
            {"object": "f", "frame": "f"},
            {"object": "f", "frame": "icon"},
        ):
            with self.assertRaises(ActError):
                done(raw, "anchor", **given_)
        with self.assertRaises(ActError):
            done(raw, "release", object="icon")

    def test_documents_with_wrong_places_are_refused_by_path(self) -> None:
        for runs, path, said in (
            ([{"object": "none"}], "runs[0].object", "no object"),
            ([{"object": "f"}], "runs[0].object", "anchor"),
            ([{"object": "icon"}, {"object": "icon"}], "runs[1].object", "already"),
            ([{"object": "icon", "text": "x"}], "runs[0]", "not both"),
            ([{"text": "a\ufffcb"}], "runs[0]", "U+FFFC"),
        ):
            with self.subTest(runs), self.assertRaises(DocumentError) as caught:
                Reader().read(document([frame(), ICON], {"runs": runs}))
            self.assertEqual(caught.exception.path, f"$.copies.story.versions.en.paragraphs[0].{path}")
            self.assertIn(said, caught.exception.message)


class NearestPlace(unittest.TestCase):
    def test_in_line_it_goes_before_the_nearest_word_of_the_nearest_line(self) -> None:
        for seed in seeds(40):
            dice = random.Random(seed)
            thing = {"id": "p", "x": dice.uniform(60, 380), "y": dice.uniform(60, 360), "width": 6, "height": 6}
            raw = document(
                [frame(turn=dice.choice([0, 0, 20]), setting="turned"), thing],
                paragraph(STORY, size=dice.choice([9, 12])),
            )
            placed = nest_of(raw)
            after = done(raw, "anchor", object="p", frame="f")
            runs = after["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"]
            at = next(sum(len(r.get("text", "")) for r in runs[:i]) for i, r in enumerate(runs) if r.get("object"))
            # Every word's start, where it stands on the page, told apart from the act.
            m = placed.matrix or (1, 0, 0, 1, 0, 0)
            middle = (thing["x"] + 3, thing["y"] + 3)
            det = m[0] * m[3] - m[1] * m[2]
            own = (
                (m[3] * (middle[0] - m[4]) - m[2] * (middle[1] - m[5])) / det,
                (m[0] * (middle[1] - m[5]) - m[1] * (middle[0] - m[4])) / det,
            )
            lines = frame_report(placed)["lines"]
            line = min(lines, key=lambda r: max(r["band"][0] - own[1], own[1] - r["band"][1], 0))
            if own[0] > line["right"]:
                self.assertEqual(at, line["range"][1], seed)
                continue
            word = min(line["words"], key=lambda w: abs(w["x"] - own[0]))
            self.assertEqual(STORY[at : at + len(word["text"].rstrip("-"))], word["text"].rstrip("-"), seed)


class AcrossItsLine(unittest.TestCase):
    def test_an_object_beside_its_line_does_not_drive_that_before_it(self) -> None:
        """Hung inside its frame it may lie across its line: that stands, and copy makes way from below it."""
        restless = across = 0
        words = STORY.split()
        for seed in seeds(80):
            dice = random.Random(f"across {seed}")
            cut = dice.randint(5, 40)
            runs = [{"text": " ".join(words[:cut]) + " "}, {"object": "o"}, {"text": " " + " ".join(words[cut:])}]
            anchor = {
                "place": "beside",
                "side": dice.choice(["left", "right"]),
                "x": dice.choice([0, 12, 30]),
                "y": dice.choice([0, 0, -10, 8]),
            }
            clearance, sit = dice.choice([0, 6]), dice.choice(["top", "top", "middle"])
            thing = {
                "id": "o",
                "x": 0,
                "y": 0,
                "width": dice.choice([40, 90, 180, 240]),
                "height": dice.choice([15, 40, 90]),
                "wrap": {"by": "outline", "clearance": clearance},
                "anchor": anchor,
            }
            raw = document(
                [frame(width=260, height=500, padding=6, sit=sit), thing], {"runs": runs, "size": 11}, paragraph(STORY)
            )
            own = studio()
            read = own.read(raw)
            nests = own.nest(read)
            (host,) = nests
            if host.unsettled:
                restless += 1
                continue
            there = next(t for _, t in settled(read, nests).objects() if t.id == "o")
            place = next(p for p in in_line_places(host.nest) if p.object == "o")
            records = host.nest.records
            mine = records[place.record]
            top = float(mine[k.BASELINE]) - hang_of_line(host.nest, place.record, host.thing)
            self.assertAlmostEqual(there.box[1], top + anchor["y"], delta=0.06, msg=str(seed))
            foot = float(mine[k.BOTTOM])
            across += there.box[1] < foot and there.box[1] + there.box[3] > float(mine[k.TOP])
            region = wrap_region(there, own.contours)
            pushing = shape_of(region).intersection(box(0, foot, 1000, 2000))
            for row in records[records[:, k.TOP] > foot - 1e-6]:
                band = box(row[k.LEFT], row[k.TOP], row[k.RIGHT], row[k.BOTTOM])
                self.assertLess(band.intersection(pushing).area, 1.0, seed)
        self.assertLess(restless, 1 + cases(80) // 20)
        self.assertGreaterEqual(across, fair(26))


if __name__ == "__main__":
    unittest.main()


class Mirrored(unittest.TestCase):
    def test_where_lines_begin_is_the_other_side_where_copy_runs_from_the_right(self) -> None:
        for side, text, left in (
            ("start", "Bring string", True),
            ("end", "Bring string", False),
            ("start", "הביאו חוט וחברים", False),
            ("end", "הביאו חוט וחברים", True),
            ("left", "הביאו חוט וחברים", True),
        ):
            for out in (False, True):
                anchor = {"place": "beside", "side": side, "x": 5, "out": out, "across": "frame"}
                nest, things = placed(label([text, {"object": "icon"}], {"anchor": anchor}))
                frame_left, frame_right = 100.0, 400.0
                x, _, width, _ = things["icon"].box
                want = {
                    (True, False): frame_left + 5,
                    (True, True): frame_left - 5 - width,
                    (False, False): frame_right - 5 - width,
                    (False, True): frame_right + 5,
                }[left, out]
                self.assertAlmostEqual(x, want, 3, msg=(side, text, out))
