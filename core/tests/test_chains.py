"""Chains: copy that runs on from frame to frame and over pages; jump lines; objects that hang from it."""

import unittest
from copy import deepcopy
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from draws import cases
from nestline import rows as k
from nestline.document.reading import Document, Reader
from nestline.errors import DocumentError
from nestline.nesting.glyphs import in_line_places
from nestline.nesting.nests import settled
from nestline.scene import scene_of, whole
from support import STORY, document, frame, obstacle, paragraph, studio

BODY = {"font": "EB Garamond", "size": 11, "leading": 14}


def chained(frames: list[dict[str, Any]], *paragraphs: dict[str, Any], **more: Any) -> dict[str, Any]:
    """A document whose frames f1, f2 … are one chain."""
    raw = document(frames, *(paragraphs or (paragraph(STORY, **BODY),)))
    raw["chains"] = [[f["id"] for f in frames if "frame" in f and f["frame"]["copy"] == "story"]]
    return {**raw, **more}


def boxes(count: int, width: float = 130, height: float = 62, **rules: Any) -> list[dict[str, Any]]:
    return [
        frame(id=f"f{i + 1}", x=20 + i * (width + 20), y=20, width=width, height=height, **rules) for i in range(count)
    ]


def nests_of(raw: dict[str, Any]) -> dict[str, Any]:
    return {n.thing.id: n.nest for n in studio().nest(studio().read(raw))}


class Flow(unittest.TestCase):
    def test_copy_runs_on_from_frame_to_frame_and_none_is_lost(self) -> None:
        nests = nests_of(chained(boxes(3, height=40)))
        first, second, third = (nests[f"f{i}"] for i in (1, 2, 3))
        self.assertEqual(first.held[1], second.held[0])
        self.assertEqual(second.held[1], third.held[0])
        self.assertEqual((first.leftover_words, second.leftover_words), (0, 0))
        held = sum(n.words_held for n in nests.values())
        self.assertEqual(held + third.leftover_words, len(STORY.split()))
        self.assertFalse(first.past.any() or second.past.any())
        self.assertTrue(third.past.any())

    def test_a_line_is_set_as_it_would_be_in_one_tall_frame(self) -> None:
        """With first fit, frames of one width hold the lines of one frame of that width, cut in order."""
        words = paragraph(STORY, **BODY, breaking="first-fit")
        tall = nests_of(document([frame(id="f1", width=130, height=2000)], words))["f1"]
        parts = nests_of(chained(boxes(4), words))
        lines = [tuple(r) for i in range(1, 5) for r in parts[f"f{i}"].ranges.tolist()]
        self.assertEqual(lines[: len(tall.ranges)], [tuple(r) for r in tall.ranges.tolist()])

    def test_the_rest_of_a_paragraph_is_not_indented_again(self) -> None:
        nests = nests_of(chained(boxes(2), paragraph(STORY, **BODY, first_indent=20)))
        self.assertAlmostEqual(float(nests["f1"].left[0]), 40.0, places=3)
        self.assertAlmostEqual(float(nests["f2"].left[0]), 170.0, places=3)

    def test_a_list_mark_stands_only_where_its_paragraph_begins(self) -> None:
        from nestline.nesting.glyphs import marks

        item = paragraph(STORY, **BODY, list={"kind": "bullets"})
        nests = nests_of(chained(boxes(2), item))
        self.assertEqual([len(list(marks(nests[f]))) for f in ("f1", "f2")], [1, 0])

    def test_frames_after_the_end_stand_empty(self) -> None:
        nests = nests_of(chained(boxes(3), paragraph("Bring string, bring friends.", **BODY)))
        self.assertEqual(len(nests["f2"].records), 0)
        self.assertEqual(nests["f3"].fill, 0.0)
        self.assertEqual(nests["f3"].leftover_words, 0)

    def test_a_hidden_frame_is_passed_over(self) -> None:
        frames = boxes(3)
        frames[1]["hidden"] = True
        nests = nests_of(chained(frames))
        self.assertEqual(nests["f1"].held[1], nests["f3"].held[0])

    def test_too_few_lines_of_a_paragraph_take_lines_with_them(self) -> None:
        words = " ".join(STORY.split()[:24])
        kept = paragraph(words, **BODY, breaking="first-fit", keep={"start": 2, "end": 1})
        plain = {**kept, "keep": None}
        heights = range(20, 90, 3)
        moved = 0
        for height in heights:
            frames = boxes(2, height=height)
            loose, tight = nests_of(chained(frames, plain)), nests_of(chained(frames, kept))
            if len(loose["f2"].records) == 1 and len(loose["f1"].records) > 1:
                moved += 1
                self.assertEqual(len(tight["f2"].records), 2)
                self.assertEqual(len(tight["f1"].records), len(loose["f1"].records) - 1)
                self.assertEqual(tight["f1"].held[1], tight["f2"].held[0])
        self.assertGreater(moved, 0)

    def test_only_frames_after_the_change_are_nested_again(self) -> None:
        long = [paragraph(STORY, **BODY) for _ in range(4)]
        raw = chained(boxes(5, height=90), *long)
        before = nests_of(raw)
        changed = chained(boxes(5, height=90), *long[:3], paragraph("Another end.", **BODY))
        changed["copies"]["story"]["versions"]["en"]["paragraphs"][:3] = raw["copies"]["story"]["versions"]["en"][
            "paragraphs"
        ][:3]
        after = nests_of(changed)
        self.assertIs(before["f1"].records, after["f1"].records)
        self.assertIsNot(before["f1"].copy, after["f1"].copy)

    @settings(max_examples=cases(60))
    @given(
        sizes=st.lists(st.tuples(st.floats(40, 200), st.floats(10, 120)), min_size=2, max_size=5),
        kinds=st.lists(st.sampled_from(["rectangle", "ellipse", "leaf", "kite"]), min_size=5, max_size=5),
        sit=st.sampled_from(["top", "middle", "bottom", "leaded"]),
        align=st.sampled_from(["start", "justify"]),
        hyphenate=st.booleans(),
        words=st.integers(0, 120),
    )
    def test_every_character_is_in_one_line_or_left_over(
        self, sizes: list[tuple[float, float]], kinds: list[str], sit: str, align: str, hyphenate: bool, words: int
    ) -> None:
        text = " ".join((STORY.split() * 9)[:words])
        frames = [
            frame(id=f"f{i}", x=20 + 210 * i, y=20, width=w, height=h, outline={"kind": kinds[i]}, sit=sit, padding=3)
            for i, (w, h) in enumerate(sizes)
        ]
        raw = chained(frames, paragraph(text, **BODY, align=align, hyphenate=hyphenate, keep={"start": 2, "end": 2}))
        nests = nests_of(raw)
        at = 0
        for identity in (f["id"] for f in frames):
            nest = nests[identity]
            self.assertEqual(nest.held[0], at)
            for start, end in nest.ranges[~nest.past]:
                self.assertEqual(nest.copy.text[at:start].strip(" \u00a0\n"), "")
                at = int(end)
            if nest.held[1] > at:
                self.assertEqual(nest.copy.text[at : nest.held[1]].strip(), "")
            at = nest.held[1]
            inside = nest.records[~nest.past]
            self.assertTrue((nest.left[~nest.past] >= inside[:, k.LEFT] - 0.01).all())
            self.assertTrue((nest.right[~nest.past] <= inside[:, k.RIGHT] + 0.01).all())
        last = nests[frames[-1]["id"]]
        self.assertEqual(last.leftover_start, at if last.leftover_words else len(last.copy.text))


class OverPages(unittest.TestCase):
    def pages(self, order: tuple[int, ...] = (0, 1, 2), words: str = STORY) -> dict[str, Any]:
        raw = chained(boxes(3), paragraph(words, **BODY))
        page = raw["pages"][0]
        raw["pages"] = [{**page, "objects": [{**page["objects"][i], "x": 20}]} for i in order]
        return raw

    def test_copy_runs_on_over_pages_forwards_and_backwards(self) -> None:
        forwards, backwards = nests_of(self.pages()), nests_of(self.pages((2, 0, 1)))
        for identity in ("f1", "f2", "f3"):
            self.assertEqual(forwards[identity].held, backwards[identity].held)
            self.assertTrue((forwards[identity].records == backwards[identity].records).all())

    def test_one_page_alone_is_nested_with_what_comes_to_it(self) -> None:
        document = studio().read(self.pages())
        whole = {n.thing.id: n.nest for n in studio().nest(document)}
        (only,) = studio().nest(document, None, [1])
        self.assertEqual(only.nest.held, whole["f2"].held)


def as_told(document: Document) -> dict[str, Any]:
    """The nests as a screen is told of them."""
    return dict(whole(studio(), scene_of(studio(), document))["nests"])


class Rules(unittest.TestCase):
    def test_a_frame_before_the_last_gives_only_up_to_its_greatest(self) -> None:
        for greatest, wanted in ((None, 62.0), ({"height": 90}, 90.0), ({"height": 2000}, None)):
            frames = boxes(2)
            frames[0]["frame"] |= {"give": ["bottom"], **({"greatest": greatest} if greatest else {})}
            raw = chained(frames)
            read = studio().read(raw)
            nests = studio().nest(read)
            first, second = nests[0], nests[1]
            self.assertIs(as_told(read)["f1"]["gives"], greatest is not None)
            if wanted is not None:
                # Up to a greatest that does not hold all it is as high as the lines that stand in it.
                self.assertTrue(wanted - (13.75 if greatest else 0.05) < first.thing.box[3] <= wanted + 0.05)
                self.assertGreater(second.nest.words_held, 0)
            else:
                self.assertEqual(second.nest.words_held, 0)
                self.assertEqual(first.nest.words_held, len(STORY.split()))

    def test_the_last_frame_gives_for_what_is_left(self) -> None:
        frames = boxes(2)
        frames[1]["frame"]["give"] = ["bottom"]
        nests = studio().nest(studio().read(chained(frames)))
        self.assertEqual(nests[1].nest.leftover_words, 0)
        self.assertGreater(nests[1].thing.box[3], 62)

    def test_a_chain_has_one_factor(self) -> None:
        frames = boxes(3, height=40, fit_type={"least": 4})
        nests = studio().nest(studio().read(chained(frames)))
        self.assertEqual(len({n.factor for n in nests}), 1)
        self.assertLess(nests[0].factor, 1)
        self.assertEqual(nests[2].nest.leftover_words, 0)
        self.assertGreater(nests[2].nest.words_held, 0)

    def test_what_will_not_do_is_refused_by_its_path(self) -> None:
        cases: list[tuple[dict[str, Any], str]] = [
            ({"chains": [["f1", "nowhere"]]}, "$.chains[0][1]"),
            ({"chains": [["f1", "f2"], ["f2", "f3"]]}, "$.chains[1][0]"),
            ({"chains": [["f1"]]}, "$.chains[0]"),
        ]
        for change, path in cases:
            with self.assertRaises(DocumentError) as caught:
                Reader().read({**chained(boxes(3)), **change})
            self.assertEqual(str(caught.exception).split(":")[0], path)
        frames = boxes(2)
        frames[1]["frame"]["wrap_lines"] = False
        with self.assertRaisesRegex(DocumentError, "does not wrap its lines"):
            Reader().read(chained(frames))


class JumpLines(unittest.TestCase):
    def jumping(self, order: tuple[int, ...] = (0, 1)) -> dict[str, Any]:
        raw = chained(boxes(2))
        raw["copies"] |= {
            "to": {
                "versions": {
                    "en": {
                        "paragraphs": [
                            {**BODY, "runs": [{"text": "more kites on page "}, {"field": "next-page", "of": "f1"}]}
                        ]
                    }
                }
            },
            "from": {
                "versions": {
                    "en": {
                        "paragraphs": [
                            {**BODY, "runs": [{"text": "from page "}, {"field": "previous-page", "of": "f2"}]}
                        ]
                    }
                }
            },
        }
        page = raw["pages"][0]
        first, second = page["objects"]
        to = frame(id="to", x=20, y=120, width=150, height=30, copy="to")
        come = frame(id="from", x=20, y=120, width=150, height=30, copy="from")
        sheets = [{**page, "objects": [first, to]}, {**page, "objects": [second, come]}]
        raw["pages"] = [sheets[i] for i in order]
        return raw

    def test_it_knows_the_page_after_pages_move(self) -> None:
        for order, to, come in (((0, 1), "2", "1"), ((1, 0), "1", "2")):
            nests = nests_of(self.jumping(order))
            self.assertEqual(nests["to"].copy.text, f"more kites on page {to}")
            self.assertEqual(nests["from"].copy.text, f"from page {come}")

    def test_one_that_leads_nowhere_is_reported(self) -> None:
        raw = self.jumping()
        self.assertEqual(studio().nest(studio().read(raw)).nowhere, {})
        short = {
            **raw,
            "copies": {**raw["copies"], "story": {"versions": {"en": {"paragraphs": [{"runs": [{"text": "Up."}]}]}}}},
        }
        found = studio().nest(studio().read(short)).nowhere
        self.assertEqual(set(found), {"to", "from"})
        self.assertIn("ends before", found["to"])
        cut = studio().nest(studio().read({**raw, "chains": []}))
        self.assertEqual(set(cut.nowhere), {"to", "from"})
        self.assertEqual(next(n for n in cut if n.thing.id == "to").nest.copy.text, "more kites on page ?")

    def test_a_page_number_of_its_own_page(self) -> None:
        raw = document([frame()], {**BODY, "runs": [{"text": "page "}, {"field": "page"}]})
        self.assertEqual(nests_of(raw)["f"].copy.text, "page 1")


class Hanging(unittest.TestCase):
    def hanging(self, at: int, anchor: dict[str, Any], frames: int = 1, **more: Any) -> dict[str, Any]:
        """A picture box anchored before the word number `at` of the story."""
        words = STORY.split()
        runs = [{"text": " ".join(words[:at]) + " "}, {"object": "pic"}, {"text": " ".join(words[at:])}]
        pic = {
            "id": "pic",
            "x": 900,
            "y": 900,
            "width": 30,
            "height": 20,
            "anchor": {"place": "beside", **anchor},
            **more,
        }
        raw = document(
            [*boxes(frames, height=200 if frames == 1 else 62), pic], {**BODY, "runs": runs, "breaking": "first-fit"}
        )
        raw["pages"][0] |= {"width": 600, "height": 400}
        if frames > 1:
            raw["chains"] = [[f"f{i + 1}" for i in range(frames)]]
        return raw

    def solved(self, raw: dict[str, Any]) -> tuple[dict[str, Any], dict[str, Any]]:
        read = studio().read(raw)
        nests = studio().nest(read)
        return {n.thing.id: n for n in nests}, {t.id: t for _, t in settled(read, nests).objects()}

    def test_its_place_changes_no_line(self) -> None:
        plain = nests_of(document(boxes(1, height=200), paragraph(STORY, **BODY, breaking="first-fit")))["f1"]
        for at in (1, 5, 9, 20):
            nest = self.solved(self.hanging(at, {}))[0]["f1"].nest
            self.assertEqual(len(nest.records), len(plain.records))
            self.assertTrue((abs(nest.right - plain.right) < 1e-6).all())
            self.assertEqual(nest.copy.words, plain.copy.words)

    def test_its_top_meets_the_hang_metric_of_its_line(self) -> None:
        nests, things = self.solved(self.hanging(20, {"side": "left", "x": 9}))
        nest, pic = nests["f1"].nest, things["pic"]
        line = next(i for i, (a, b) in enumerate(nest.ranges) if a <= nest.copy.text.index("\ufffc") < b)
        self.assertGreater(line, 1)
        ascender = float(nest.copy.pieces[0, k.ASC])
        self.assertAlmostEqual(pic.box[1], float(nest.records[line, k.BASELINE]) - ascender, places=3)
        self.assertAlmostEqual(pic.box[0], 20 + 9, places=3)

    def test_where_it_hangs(self) -> None:
        cases = [
            ({"side": "right", "x": -9}, 150 + 9),
            ({"side": "right", "x": 9}, 150 - 9 - 30),
            ({"x": 5}, 25.0),
            ({"side": "right", "x": 0, "out": True}, 150.0),
            ({"across": "page", "side": "right", "x": 12}, 600 - 12 - 30.0),
            ({"across": "column", "x": 4}, 24.0),
            ({"side": "edge", "across": "page", "x": 10}, 560.0),
        ]
        for anchor, x in cases:
            _, things = self.solved(self.hanging(5, anchor))
            self.assertAlmostEqual(things["pic"].box[0], x, places=3, msg=str(anchor))

    def test_it_is_kept_on_the_page(self) -> None:
        _, things = self.solved(self.hanging(5, {"side": "left", "x": -300, "y": 900}))
        self.assertEqual(things["pic"].box[:2], (0.0, 380.0))

    def test_it_moves_when_copy_before_it_grows_and_pushes_its_own_frame(self) -> None:
        wrap = {"by": "box", "clearance": 6}
        raw = self.hanging(12, {"side": "right", "x": 0}, wrap=wrap)
        nests, things = self.solved(raw)
        y = things["pic"].box[1]
        beside = [r for r in nests["f1"].nest.records if r[k.TOP] < y + 20 and r[k.BOTTOM] > y]
        self.assertTrue(beside)
        self.assertTrue(all(r[k.RIGHT] <= 150 - 30 - 6 + 0.01 for r in beside))
        grown = self.hanging(12, {"side": "right", "x": 0}, wrap=wrap)
        runs = grown["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"]
        runs[0] = {"text": STORY[:120] + " " + runs[0]["text"]}
        self.assertGreater(self.solved(grown)[1]["pic"].box[1], y + 20)

    def test_it_goes_with_its_words_to_another_page(self) -> None:
        raw = self.hanging(40, {"x": 3}, frames=2)
        page = raw["pages"][0]
        first, second, pic = page["objects"]
        raw["pages"] = [{**page, "objects": [first, pic]}, {**page, "objects": [second]}]
        read = studio().read(raw)
        nests = studio().nest(read)
        self.assertEqual(nests.page_of, {"pic": 1})
        self.assertEqual([t.id for t in settled(read, nests).pages[1].objects], ["f2", "pic"])
        self.assertAlmostEqual(settled(read, nests).pages[1].objects[1].box[0], 170 + 3, places=3)

    def test_it_goes_to_a_page_behind_one_that_the_copy_comes_back_to(self) -> None:
        raw = self.hanging(40, {"x": 3}, frames=3)
        page = raw["pages"][0]
        first, second, third, pic = page["objects"]
        for one in (first, second, third):
            one["height"] = 60
        text, pages_seen = STORY.split(), set()
        for at in range(0, len(text), 3):
            runs = [{"text": " ".join(text[:at]) + " "}, {"object": "pic"}, {"text": " ".join(text[at:])}]
            copies = deepcopy(raw["copies"])
            copies["story"]["versions"]["en"]["paragraphs"][0]["runs"] = runs
            pages = [{**page, "objects": [first, third, pic]}, {**page, "objects": [second]}]
            read = studio().read({**raw, "copies": copies, "pages": pages})
            nests = studio().nest(read)
            held = next((n for n in nests if any(p.object == "pic" for p in in_line_places(n.nest))), None)
            there = {t.id: (p, t.hidden) for p, t in settled(read, nests).objects()}["pic"]
            self.assertEqual(there, (0, True) if held is None else (held.page, False), at)
            pages_seen.add(there[0])
        self.assertEqual(pages_seen, {0, 1})

    def test_in_the_middle_of_its_frame_copy_runs_round_it(self) -> None:
        for words in (30, 45):
            raw = self.hanging(3, {"place": "centred"}, wrap={"by": "box", "clearance": 5})
            runs = raw["copies"]["story"]["versions"]["en"]["paragraphs"][0]["runs"]
            runs[2] = {"text": " ".join(STORY.split()[3:words])}
            nests, things = self.solved(raw)
            self.assertEqual(things["pic"].box[:2], (20 + (130 - 30) / 2, 20 + (200 - 20) / 2))
            self.assertFalse(nests["f1"].unsettled)

    def test_one_whose_words_are_left_over_waits(self) -> None:
        raw = self.hanging(40, {"x": 3})
        raw["pages"][0]["objects"][0] |= {"height": 20}
        raw["pages"][0]["objects"][0]["frame"]["leftover"] = {"ends": "with-the-last-line"}
        _, things = self.solved(raw)
        self.assertTrue(things["pic"].hidden)

    def test_what_will_not_rest_is_said_to_be_unsettled(self) -> None:
        """An object as tall as its frame pushes its own words out of it, and comes back for that."""
        raw = self.hanging(6, {"place": "centred"}, frames=2, wrap={"by": "below", "clearance": 60})
        nests, _ = self.solved(raw)
        self.assertTrue(any(n.unsettled for n in nests.values()))
        again, _ = self.solved(raw)
        self.assertEqual([n.unsettled for n in nests.values()], [n.unsettled for n in again.values()])


@st.composite
def pages(draw: st.DrawFn) -> dict[str, Any]:
    """Chains, wraps, an object that hangs from the copy, ties and edges that give, at random on one or two pages."""
    kinds = ["rectangle", "ellipse", "leaf", "kite", "heart"]
    number = st.integers
    frames = [
        frame(
            id=f"f{i}", x=20 + 230 * i, y=draw(number(20, 60)), width=draw(number(70, 210)), height=draw(number(50,
              200)),
            outline={"kind": draw(st.sampled_from(kinds))}, padding=draw(number(0, 8)),
              sit=draw(st.sampled_from(["top", "middle"])),
            least_slot=draw(st.sampled_from([0, "2em"])),
        )
        for i in range(draw(number(2, 4)))
    ]  # fmt: skip
    if draw(st.booleans()):
        frames[-1]["frame"]["give"] = ["bottom"]
    wraps = [
        obstacle(
            f"w{i}", draw(number(10, 700)), draw(number(10, 200)), draw(number(20, 90)), draw(number(20, 90)),
            draw(st.sampled_from(kinds)), clearance=draw(number(0, 12)), sides=draw(st.sampled_from(["both", "left",
              "widest"])),
        )
        for i in range(draw(number(0, 4)))
    ]  # fmt: skip
    if len(wraps) > 1:
        wraps[1]["ties"] = [{"edge": "top", "to": "w0", "its": "bottom", "gap": 5}]
    pic = obstacle("pic", 0, 0, draw(number(15, 50)), draw(number(15, 50)), clearance=draw(number(0, 8)))
    place = draw(st.sampled_from(["beside", "centred"]))
    pic["anchor"] = {"place": place, "side": draw(st.sampled_from(["left", "right"])), "x": draw(number(-9, 20))}
    words = STORY.split() * 2
    at = draw(number(0, len(words)))
    runs = [{"text": " ".join(words[:at]) + " "}, {"object": "pic"}, {"text": " ".join(words[at:])}]
    breaking = draw(st.sampled_from(["optimal", "first-fit"]))
    raw = document(
        [*frames, *wraps, pic],
        {**BODY, "runs": runs, "breaking": breaking, "align": draw(st.sampled_from(["start", "justify"]))},
    )
    raw["chains"] = [[f["id"] for f in frames]]
    if draw(st.booleans()):
        sheet = raw["pages"][0]
        raw["pages"] = [{**sheet, "objects": sheet["objects"][:1]}, {**sheet, "objects": sheet["objects"][1:]}]
    return raw


class Together(unittest.TestCase):
    @settings(max_examples=cases(25))
    @given(pages())
    def test_no_word_is_lost_none_leaves_its_slot_and_none_enters_a_wrap(self, raw: dict[str, Any]) -> None:
        from shapely.geometry import box

        from nestline.nesting.wrapping import only_below, page_wraps
        from support import area

        read = studio().read(raw)
        nests = studio().nest(read)
        after = settled(read, nests)
        by_id = {n.thing.id: n for n in nests}
        at = 0
        for identity in raw["chains"][0]:
            placed = by_id[identity]
            nest = placed.nest
            self.assertEqual(nest.held[0], at)
            for start, end in nest.ranges[~nest.past]:
                self.assertEqual(nest.copy.text[at:start].replace("\ufffc", "").strip(), "")
                at = int(end)
            at = nest.held[1]
            inside = nest.records[~nest.past]
            self.assertTrue((nest.left[~nest.past] >= inside[:, k.LEFT] - 0.01).all())
            self.assertTrue((nest.right[~nest.past] <= inside[:, k.RIGHT] + 0.01).all())
            if placed.unsettled:
                continue
            pushing = page_wraps(after.pages[placed.page].objects, {}, studio().contours)
            for row in inside:
                slot = box(row[k.LEFT], row[k.TOP], row[k.RIGHT], row[k.BOTTOM])
                for _, wrap in pushing:
                    if (foot := nests.below.get(wrap.object_id)) is not None:
                        wrap = only_below(wrap, foot)
                    # Objects that came to rest within the tolerance of the solver may be that far off.
                    self.assertLess(slot.intersection(area(wrap.region).buffer(-0.06)).area, 1e-3)

    @settings(max_examples=cases(12))
    @given(pages())
    def test_solving_twice_gives_the_same(self, raw: dict[str, Any]) -> None:
        from nestline.output.lines import lines_report
        from nestline.studio import Studio
        from support import no_pictures

        other = Studio(no_pictures, studio().fonts)
        mine, its = studio().nest(studio().read(raw)), other.nest(other.read(raw))
        self.assertEqual(lines_report(mine), lines_report(its))
        self.assertEqual({i: t.box for i, t in mine.moved.items()}, {i: t.box for i, t in its.moved.items()})

    @settings(max_examples=cases(12))
    @given(pages())
    def test_what_is_written_of_a_solved_page_solves_to_itself(self, raw: dict[str, Any]) -> None:
        """Where an object that hangs from the copy is written to stand says nothing: its words say it."""
        import json

        again = json.loads(json.dumps(raw))
        for sheet in again["pages"]:
            for thing in sheet["objects"]:
                if thing["id"] == "pic":
                    thing["x"], thing["y"] = 333, 77
        a, b = studio().nest(studio().read(raw)), studio().nest(studio().read(again))
        for one, two in zip(a, b, strict=True):
            self.assertEqual(one.nest.ranges.tolist(), two.nest.ranges.tolist())


if __name__ == "__main__":
    unittest.main()
