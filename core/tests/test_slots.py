"""Slots: against chord formulas, and what always holds of them.

Chords: a band of a circle of radius r is free between ±√(r² − y²) taken at its far end (elementary geometry).
"""

import math
import unittest

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from shapely.geometry import Polygon

from draws import cases, fair, thrown
from nestline import rows as k
from nestline.nesting.compiled.pieces import FAR, least_slot, piece_width
from nestline.nesting.compiled.space import slots_in_band, vertex_above, vertex_below
from nestline.nesting.compiled.usable import next_usable, previous_usable
from nestline.nesting.frame_space import WrapRegion, frame_row, geometry_of, slots_of_band
from nestline.outlines import placing
from nestline.outlines.polygons import Region
from support import KINDS, STORY, area, document, frame, nest_of, obstacle, paragraph, thing_of

EXACT = 0.02
"""Curves are flattened within 0.01 pt, inside the true curve; a chord end moves at most twice that at a steep place."""


def region(
    kind: str = "ellipse",
    x: float = 0,
    y: float = 0,
    w: float = 200,
    h: float = 200,
    padding: float = 0,
    **more: object,
) -> Region:
    thing = thing_of({"id": "o", "x": x, "y": y, "width": w, "height": h, "outline": {"kind": kind}, **more})
    return placing.on_page(placing.padded(thing, padding), thing)


def wrap(kind: str, x: float, y: float, w: float, h: float, clearance: float = 0, sides: str = "both") -> WrapRegion:
    thing = thing_of({"id": "w", "x": x, "y": y, "width": w, "height": h, "outline": {"kind": kind}})
    return WrapRegion(placing.on_page(placing.cleared_outline(thing, clearance), thing), "w", sides)


class Chords(unittest.TestCase):
    def test_slots_of_a_circle_are_its_chords_at_the_far_end_of_the_band(self) -> None:
        for top in range(5, 185, 10):
            bottom = top + 11.5
            far = max(abs(top - 100), abs(bottom - 100))
            half = math.sqrt(100**2 - far**2)
            ((left, right),) = slots_of_band(region(), (), top, bottom)
            self.assertAlmostEqual(left, 100 - half, delta=EXACT * 100 / half)
            self.assertAlmostEqual(right, 100 + half, delta=EXACT * 100 / half)
            # Inside the true circle, as far as cubics are one (kinds.arc: off by less than 5e-6 of the radius).
            self.assertGreaterEqual(left, 100 - half - 5e-6 * 100, "inside the true circle")

    def test_padding_makes_the_circle_smaller_by_itself(self) -> None:
        half = math.sqrt(80**2 - 40**2)
        ((left, right),) = slots_of_band(region(padding=20), (), 60, 70)
        self.assertAlmostEqual(right - left, 2 * half, delta=2 * EXACT * 80 / half)

    def test_slots_of_an_ellipse(self) -> None:
        half = 150 * math.sqrt(1 - (30 / 50) ** 2)
        ((left, right),) = slots_of_band(region(w=300, h=100), (), 20, 40)
        self.assertAlmostEqual(right - left, 2 * half, delta=0.08)

    def test_slots_of_a_triangle(self) -> None:
        triangle = region("path", outline={"kind": "path", "d": "M100 0L200 200L0 200Z", "box": [200, 200]})
        ((left, right),) = slots_of_band(triangle, (), 100, 120)
        self.assertAlmostEqual(left, 50, places=7)
        self.assertAlmostEqual(right, 150, places=7)

    def test_a_circle_in_the_way_leaves_the_chords_on_both_sides(self) -> None:
        page = region("rectangle", w=400, h=400)
        (a, b), (c, d) = slots_of_band(page, (wrap("ellipse", 150, 150, 100, 100, clearance=10),), 180, 195)
        self.assertEqual((a, d), (0, 400))
        half = math.sqrt(60**2 - 5**2)
        self.assertAlmostEqual(b, 200 - half, delta=EXACT)
        self.assertAlmostEqual(c, 200 + half, delta=EXACT)

    def test_the_band_passes_a_circle_at_its_nearest_point(self) -> None:
        page = region("rectangle", w=400, h=400)
        (_, b), (c, _) = slots_of_band(page, (wrap("ellipse", 150, 150, 100, 100),), 190, 210)
        self.assertAlmostEqual(b, 150, delta=EXACT)
        self.assertAlmostEqual(c, 250, delta=EXACT)


class Bands(unittest.TestCase):
    def test_a_line_does_not_see_through_a_thin_tooth(self) -> None:
        """The whole band is free, not only its middle: a tooth that ends above mid-height still pushes."""
        tooth = region(
            "path",
            outline={"kind": "path", "d": "M0 0L90 0L100 14L110 0L200 0L200 100L0 100Z", "box": [200, 100]},
            h=100,
        )
        self.assertEqual(len(slots_of_band(tooth, (), 10, 30)), 2)
        self.assertEqual(len(slots_of_band(tooth, (), 14, 34)), 1)

    def test_a_hole_of_the_outline_holds_no_copy(self) -> None:
        ring = region("path", outline={"kind": "path", "d": "M0 0H200V200H0Z M50 50V150H150V50Z", "box": [200, 200]})
        self.assertEqual([(round(a), round(b)) for a, b in slots_of_band(ring, (), 90, 100)], [(0, 50), (150, 200)])

    def test_inside_a_wrap_there_is_no_slot(self) -> None:
        page = region("rectangle", x=100, y=100, w=50, h=50)
        self.assertEqual(slots_of_band(page, (wrap("rectangle", 0, 0, 400, 400),), 110, 120), [])

    def test_sides_leave_one_side_only(self) -> None:
        page = region("rectangle", w=400, h=400)
        for sides, expected in [("left", [(0, 100)]), ("right", [(160, 400)]), ("widest", [(160, 400)])]:
            found = slots_of_band(page, (wrap("rectangle", 100, 100, 60, 60, sides=sides),), 110, 120)
            self.assertEqual(found, expected)

    def test_narrow_slots_are_left_out(self) -> None:
        self.assertEqual(slots_of_band(region(), (), 1, 10, least=100), [])


bands = st.tuples(st.integers(0, 180), st.integers(4, 24))


class Always(unittest.TestCase):
    @settings(max_examples=cases(200))
    @given(st.sampled_from(KINDS), st.integers(0, 30), st.integers(1, 20), bands)
    def test_more_padding_never_makes_slots_wider(
        self, kind: str, padding: int, more: int, band: tuple[int, int]
    ) -> None:
        top, height = band
        self.assertWithin(
            slots_of_band(region(kind, padding=padding + more), (), top, top + height),
            slots_of_band(region(kind, padding=padding), (), top, top + height),
        )

    @settings(max_examples=cases(200))
    @given(st.sampled_from(KINDS), st.integers(0, 30), st.integers(1, 20), bands, st.integers(-20, 160))
    def test_more_clearance_never_makes_slots_wider(
        self, kind: str, clearance: int, more: int, band: tuple[int, int], x: int
    ) -> None:
        top, height = band
        page = region("rectangle")
        near, far = (wrap(kind, x, 60, 90, 70, c) for c in (clearance, clearance + more))
        self.assertWithin(
            slots_of_band(page, (far,), top, top + height), slots_of_band(page, (near,), top, top + height)
        )

    @given(st.sampled_from(KINDS), st.integers(0, 20), bands, st.sampled_from([0, 25, -70]))
    def test_no_slot_leaves_the_outline_or_enters_a_wrap(
        self, kind: str, padding: int, band: tuple[int, int], turn: int
    ) -> None:
        top, height = band
        outline = region(kind, padding=padding, turn=turn)
        obstacle = wrap("heart", 60, 60, 70, 80, 5)
        if outline.empty:
            return
        inside, outside = area(outline), area(obstacle.region)
        for left, right in slots_of_band(outline, (obstacle,), top, top + height):
            box = Polygon([(left, top), (right, top), (right, top + height), (left, top + height)])
            self.assertLess(box.difference(inside).area, 1e-6)
            self.assertLess(box.intersection(outside).area, 1e-6)

    def assertWithin(self, narrow: list[tuple[float, float]], wide: list[tuple[float, float]]) -> None:
        for a, b in narrow:
            self.assertTrue(any(c <= a + 0.03 and b <= d + 0.03 for c, d in wide), f"{(a, b)} in none of {wide}")


class Usable(unittest.TestCase):
    """The first and the last usable baseline are found in leaps; here every twentieth of a point is tried."""

    STEP = 0.05

    @settings(max_examples=cases(25))
    @given(
        st.sampled_from(KINDS),
        st.floats(20, 180),
        st.floats(20, 180),
        st.floats(30, 120),
        st.floats(0, 60),
    )
    def test_no_baseline_before_it_does(self, kind: str, x: float, y: float, least: float, from_: float) -> None:
        geometry, _ = geometry_of(region(kind), (wrap("ellipse", x, y, 70, 60, 5),))
        space, out = geometry.space, np.empty((256, 4))
        above, below, last = 9.0, 3.0, 197.0

        def does(baseline: float) -> bool:
            return slots_in_band(space, baseline - above, baseline + below, least, out) > 0

        def tried(first: float, last: float) -> list[float]:
            return [float(b) for b in np.arange(first, last, self.STEP) if does(float(b))]

        found = next_usable(space, from_, above, below, least, last, out)
        doing = tried(from_, min(found, last))
        self.assertEqual([b for b in doing if b < found - 1e-6], [])
        if found < FAR:
            self.assertTrue(does(found))
        before = previous_usable(space, last, from_, above, below, least, out)
        doing = tried(max(before, from_), last)
        self.assertEqual([b for b in doing if b > before + 1e-6], [])
        if before > -FAR:
            self.assertTrue(does(before))
            self.assertLessEqual(found, before + 1e-6)

    @given(st.sampled_from(KINDS), st.floats(-20, 220))
    def test_the_next_vertex_is_the_nearest_of_all(self, kind: str, y: float) -> None:
        geometry, _ = geometry_of(region(kind), (wrap("ellipse", 50, 60, 70, 60, 5),))
        ys = geometry.space.edges[:, [1, 3]].ravel()
        self.assertEqual(vertex_below(geometry.space, y), min((v for v in ys if v > y), default=FAR))
        self.assertEqual(vertex_above(geometry.space, y), max((v for v in ys if v < y), default=-FAR))


class Moved(unittest.TestCase):
    def test_a_region_moved_twice_is_where_its_edges_say(self) -> None:
        still = region("heart")
        moved = still.moved(3, 4).moved(10, -2)
        self.assertTrue(np.allclose(moved.edges, still.edges + [13, 2, 13, 2]))
        self.assertTrue(
            np.allclose(
                moved.bounds,
                (moved.edges[:, 0].min(), moved.edges[:, 1].min(), moved.edges[:, 0].max(), moved.edges[:, 1].max()),
            )
        )
        self.assertEqual(slots_of_band(moved, (), 62, 72), slots_of_band(Region(moved.edges, moved.starts), (), 62, 72))
        self.assertTrue(np.allclose(moved.turned(90, (0, 0)).edges[:, 0], -moved.edges[:, 1]))


class BelowAndInside(unittest.TestCase):
    def lines(self, wrap: dict[str, object], **rules: object) -> list[tuple[float, ...]]:
        """Top, bottom, left, right of the slots of a frame with an object at 180–240 × 160–220 in it."""
        thing = obstacle(x=180, y=160, width=60, height=60, kind="ellipse")
        raw = document([frame(width=200, height=240, **rules), {**thing, "wrap": wrap}], paragraph(STORY * 4))
        nest = nest_of(raw).nest
        return [(r[k.TOP], r[k.BOTTOM], r[k.LEFT], r[k.RIGHT]) for r in nest.records[~nest.past]]

    def test_below_leaves_all_of_the_column_beside_free(self) -> None:
        for clearance, above, under in ((0, 160, 220), (8, 152, 228), ([4, 0, 20, 0], 156, 240)):
            rows = self.lines({"by": "below", "clearance": clearance})
            self.assertTrue(all(bottom <= above + 0.01 or top >= under - 0.01 for top, bottom, _, _ in rows))
            self.assertTrue(any(bottom <= above for _, bottom, _, _ in rows) and any(top >= under for top, *_ in rows))
            self.assertTrue(all(left == 100 and right == 300 for _, _, left, right in rows))

    def test_below_keeps_to_the_columns_it_touches(self) -> None:
        rows = self.lines({"by": "below"}, columns=2, gutter=10)
        first, second = ([r for r in rows if (r[2] < 200) == left] for left in (True, False))
        # The object reaches from 180 to 240: into both columns.
        for column in (first, second):
            self.assertTrue(column and all(b <= 160.01 or t >= 219.99 for t, b, _, _ in column))
        narrow = [r for r in self.lines({"by": "below"}, columns=3, gutter=2) if r[2] < 165]
        self.assertTrue(any(160 < (t + b) / 2 < 220 for t, b, _, _ in narrow), "the column left of it goes on")

    def test_inside_slots_are_the_chords_of_its_outline(self) -> None:
        rows = self.lines({"by": "outline", "inside": True, "clearance": 4}, least_slot=0)
        self.assertGreater(len(rows), 1)
        for top, bottom, left, right in rows:
            far = max(abs(top - 190), abs(bottom - 190))
            half = math.sqrt(26**2 - far**2)
            self.assertAlmostEqual(left, 210 - half, delta=0.05)
            self.assertAlmostEqual(right, 210 + half, delta=0.05)

    def test_inside_leaves_frames_alone_that_it_does_not_meet(self) -> None:
        thing = {**obstacle(x=500, y=160, width=60, height=60), "wrap": {"by": "outline", "inside": True}}
        alone, beside = document([frame()], paragraph(STORY)), document([frame(), thing], paragraph(STORY))
        self.assertEqual(nest_of(alone).nest.records.tolist(), nest_of(beside).nest.records.tolist())


class TooNarrow(unittest.TestCase):
    """Slots too narrow for justified copy: left empty, or set ragged, as chosen."""

    def lines(self, least_slot: str, x: float, breaking: str) -> tuple[np.ndarray, np.ndarray, np.ndarray]:
        thing = frame(width=320, height=330, least_slot=least_slot)
        text = paragraph(STORY * 4, size=11, leading=14, align="justify", hyphenate=True, breaking=breaking)
        nest = nest_of(document([thing, obstacle(x=x, y=150, width=100, height=150, kind="rectangle")], text)).nest
        inside = ~nest.past
        widths = (nest.records[:, k.RIGHT] - nest.records[:, k.LEFT])[inside]
        return widths, nest.space_more[inside], nest.loose[inside]

    def test_lines_there_are_set_ragged_where_chosen(self) -> None:
        narrow = 0
        for x in range(172, 190, 2):
            for breaking in ("optimal", "first-fit"):
                empty, _, _ = self.lines("by-copy", x, breaking)
                self.assertGreater(empty.min(), 8.4 * 11 - 1e-6)
                widths, more, loose = self.lines("ragged-by-copy", x, breaking)
                ragged = widths < 8.4 * 11 - 1e-6
                narrow += int(ragged.sum())
                self.assertTrue((more[ragged] == 0).all() and not loose[ragged].any())
                self.assertGreater((np.abs(more[~ragged]) > 0.01).sum(), 5)
                self.assertGreater(widths.min(), 5 * 11 - 1e-6)
        self.assertGreater(narrow, 40)


class Tips(unittest.TestCase):
    """A first line of justified copy in an outline that opens downwards begins where its words fill its slot."""

    def test_its_words_fill_it_and_elsewhere_it_stands_as_high_as_by_first_fit(self) -> None:
        dice = thrown(18)
        words = STORY.split()
        lower = level = loose = 0
        for _ in range(160):
            begin, kind, size = dice.randrange(len(words)), dice.choice(KINDS), dice.choice((9, 11, 14))
            text = " ".join((words[begin:] + words) * 3)
            held = frame(kind, width=size * dice.uniform(24, 45), height=size * dice.uniform(30, 60))
            rules = {"align": "justify", "hyphenate": dice.random() < 0.5, "size": size, "leading": "1.3em"}
            plain, best = (
                nest_of(document([held], paragraph(text, breaking=breaking, **rules))).nest
                for breaking in ("first-fit", "optimal")
            )
            if not len(plain.records) or plain.records[0, k.PAST] or plain.records[1, k.LINE] == 0:
                continue  # two slots, or none
            before, row = plain.records[0], best.records[0]
            if before[k.WHY] != k.BY_GEOMETRY:
                level += 1
                self.assertAlmostEqual(row[k.BASELINE], before[k.BASELINE], delta=1e-6)
                continue
            need = least_slot(best.copy.rules, 0, frame_row(best.rules, best.geometry.bounds))
            pieces = best.copy.pieces
            grades = [(k.NO_GRADE, k.WEAK), (k.NO_GRADE,)]
            weak, strong = (
                [
                    piece_width(pieces, 0, p)
                    for p in range(30)
                    if pieces[p, k.HYPHEN] == k.NO_HYPHEN and pieces[p, k.GRADE] in some
                ]
                for some in grades
            )
            weak, strong = ([room for room in some if need <= room <= 1.5 * need] for some in (weak, strong))
            if not weak:
                self.assertAlmostEqual(row[k.BASELINE], before[k.BASELINE], delta=1e-6)
                continue
            if abs(row[k.BASELINE] - before[k.BASELINE]) < 1e-6:
                level += 1  # no slot is as wide within two lines' height, or this one is already
                continue
            lower += 1
            self.assertAlmostEqual(row[k.RIGHT] - row[k.LEFT], (strong or weak)[0], delta=1e-4)
            self.assertLess(0, row[k.BASELINE] - before[k.BASELINE])
            self.assertLessEqual(row[k.BASELINE] - before[k.BASELINE], 2 * 1.3 * size + 1e-6)
            loose += bool(best.loose[0])
        self.assertGreaterEqual(lower, fair(60))
        self.assertGreaterEqual(level, fair(10))
        # Where the lines below are worse off else.
        self.assertLess(loose, 0.05 * lower)

    def test_no_words_are_left_over_for_it(self) -> None:
        dice = thrown(19)
        words = STORY.split()
        full = over = 0
        for _ in range(120):
            kind, width = dice.choice(KINDS), dice.uniform(240, 400)
            text = " ".join(words[dice.randrange(len(words)) :] + words * 2)
            height = dice.uniform(0.7, 1.1) * 11 * 14.3 * len(text) * 0.42 / width * 1.5
            held = frame(kind, width=width, height=height)
            rules = {"align": "justify", "hyphenate": True, "size": 11, "leading": "1.3em"}
            plain, best = (
                nest_of(document([held], paragraph(text, breaking=breaking, **rules))).nest
                for breaking in ("first-fit", "optimal")
            )
            if plain.past.any() or plain.next_piece < len(plain.copy.pieces):
                over += 1
            else:
                full += 1
                self.assertFalse(best.past.any() or best.next_piece < len(best.copy.pieces), (kind, text[:30]))
        self.assertGreater(min(full, over), 15, (full, over))
