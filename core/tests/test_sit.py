"""Where lines sit: hang, stand, top, middle, bottom."""

import unittest
from random import Random
from typing import Any

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as st
from numba import njit

from draws import cases
from nestline import rows as k
from nestline.nesting.compiled.lines import Rows, Written
from nestline.nesting.compiled.middle import Aim, off_middle, usable_height
from nestline.nesting.compiled.pieces import FAR
from nestline.nesting.frame_nest import FrameNest
from nestline.nesting.frame_space import frame_row
from support import KINDS, STORY, document, frame, nest_of, obstacle, paragraph, studio, texts


@njit
def nearest_by_scan(space, copy, row, aim, out):  # type: ignore[no-untyped-def]
    """How near to where it should sit a nest comes from any start on a 0.01 pt scan."""
    nearest, at = FAR, aim.top
    y = aim.top
    while y < aim.bottom:
        off = off_middle(space, copy, row, y, aim, out)
        if abs(off) < nearest and (not aim.bottom_only or off <= 1e-7):
            nearest, at = abs(off), y
        y += 0.01
    return nearest, at


def searched(nest: FrameNest) -> tuple[tuple[Any, ...], tuple[float, float], Written]:
    """What the search for a nest's start reads, the usable height, and where a nest is written."""
    row = frame_row(nest.rules, nest.geometry.bounds)
    space, copy, slots = nest.geometry.space, Rows(nest.copy.pieces, nest.copy.rules), np.empty((256, k.SLOT_COLUMNS))
    out = Written(np.empty((4000, k.RECORD_COLUMNS)), np.zeros(k.ENDS), slots, np.zeros((k.RECKONED, k.PIECE_COLUMNS)))
    return (space, copy, row), usable_height(space, copy, row, slots), out


class LeadedOnAGrid(unittest.TestCase):
    def test_leading_opens_by_whole_steps_of_the_grid(self) -> None:
        """Lines of a paragraph stay apart alike; without a grid the last line stands at the foot, with one no step is
        left out."""
        opened = 0
        for height in range(150, 420, 7):
            for grid in (0, 4, 6.5):
                rules = {"size": 10, "leading": 13, **({"grid": grid} if grid else {})}
                given = paragraph(STORY, **rules)
                limits = {"leading": "3em", "space": 0}
                nest = nest_of(document([frame(width=260, height=height, sit="leaded", leaded=limits)], given)).nest
                steps = np.diff(nest.records[:, k.BASELINE])
                if nest.leftover_words or not len(steps):
                    continue
                self.assertLess(np.ptp(steps), 1e-6, (height, grid))
                opened += steps[0] > 16.5
                if not grid:
                    continue
                self.assertAlmostEqual(steps[0] / grid, round(steps[0] / grid), places=6)
                # One step more would not fit, or is more than is allowed.
                bottom = 100 + height - float(nest.records[-1, k.BASELINE]) - 2.63
                self.assertTrue(
                    bottom < grid * len(steps) + 1e-6 or steps[0] + grid > 30 + 1e-6, (height, grid, bottom)
                )
        self.assertGreater(opened, 40)


class HangAndStand(unittest.TestCase):
    def test_each_metric_touches_the_top(self) -> None:
        m = studio().fonts.face("EB Garamond").metrics
        half = (1.25 - m.ascent - m.descent) / 2
        for hang, height in (("ascender", m.ascender), ("cap", m.cap), ("ex", m.ex), ("line-box", m.ascent + half)):
            nest = nest_of(document([frame(hang=hang, padding=10)], paragraph("Kite", size=20))).nest
            self.assertAlmostEqual(nest.records[0, k.BASELINE], 110 + 20 * height, places=6)

    def test_a_length_is_the_first_baselines_distance(self) -> None:
        nest = nest_of(document([frame(hang="0.5in", padding=10)], paragraph("Kite"))).nest
        self.assertAlmostEqual(nest.records[0, k.BASELINE], 146)

    def test_hang_least(self) -> None:
        nest = nest_of(document([frame(hang="cap", hang_least=30)], paragraph("Kite"))).nest
        self.assertAlmostEqual(nest.records[0, k.BASELINE], 130)

    def test_each_metric_stands_on_the_bottom(self) -> None:
        m = studio().fonts.face("EB Garamond").metrics
        half = (1.25 - m.ascent - m.descent) / 2
        for stand, depth in (("baseline", 0.0), ("descender", m.descender), ("line-box", m.descent + half)):
            nest = nest_of(document([frame(sit="bottom", stand=stand, padding=10)], paragraph("Kite", size=20))).nest
            self.assertAlmostEqual(nest.records[0, k.BASELINE], 370 - 20 * depth, places=4)

    def test_a_last_line_may_stand_where_only_its_baseline_fits(self) -> None:
        rules = {"hang": "cap", "stand": "baseline", "least_slot": 0}
        cap = studio().fonts.face("EB Garamond").metrics.cap * 20
        fits = nest_of(document([frame(height=cap + 0.01, **rules)], paragraph("Kite", size=20))).nest
        self.assertEqual(fits.leftover_words, 0)
        over = nest_of(document([frame(height=cap - 0.05, **rules)], paragraph("Kite", size=20))).nest
        self.assertEqual(over.leftover_words, 1)


RINGED = "vfhsdddvald cap rpfofahgp a lg a ulptlgdpfct lodswfwwscs a iodemowlesg tctafw a ipcuebro tctafw a"
"""Copy that leaves many starts at which it may or may not be left over."""


class Middle(unittest.TestCase):
    def test_capitals_from_cap_height_to_baseline_have_equal_room_above_and_below(self) -> None:
        for family in studio().fonts.families:
            face = studio().fonts.face(family)
            if not face.has("K"):
                continue
            raw = document(
                [frame(width=300, height=64, sit="middle", hang="cap", stand="baseline")],
                paragraph("KITES", size=22, font=family),
            )
            baseline = float(nest_of(raw).nest.records[0, k.BASELINE])
            self.assertAlmostEqual(baseline - face.metrics.cap * 22 - 100, 164 - baseline, delta=0.01)

    def test_several_lines_in_a_rectangle(self) -> None:
        nest = nest_of(document([frame(sit="middle", padding=8)], paragraph(STORY))).nest
        first, last = nest.records[0, k.TOP], nest.records[-1, k.BOTTOM]
        self.assertAlmostEqual(first - 108, 372 - last, delta=0.01)
        self.assertEqual(nest.residue, 0)

    def test_lift_raises_it(self) -> None:
        raw = [document([frame(sit="middle", lift=lift)], paragraph(STORY)) for lift in (0, 7)]
        a, b = (nest_of(r).nest.records[0, k.BASELINE] for r in raw)
        self.assertAlmostEqual(a - b, 7, delta=0.01)

    def test_with_leftover_lines_sit_at_the_top(self) -> None:
        a, b = (
            nest_of(document([frame(width=90, height=60, sit=s)], paragraph(STORY))).nest for s in ("top", "middle")
        )
        self.assertEqual(a.records.tolist(), b.records.tolist())

    def test_where_there_is_no_exact_middle_the_residue_is_stated(self) -> None:
        found = 0
        for width in range(150, 330, 12):
            thing = frame("heart", width=width, height=width, sit="middle")
            nest = nest_of(document([thing], paragraph(STORY))).nest
            if not nest.leftover_words and not nest.exact:
                found += 1
                self.assertGreater(abs(nest.residue), 0.05)
        self.assertGreater(found, 0)

    @settings(max_examples=cases(40))
    @example("heart", "aaaaaaaaa aaaaaabbww aaaabbbbbm a", 160, 160, True, "middle")
    @example("ring", RINGED, 316, 252, False, "bottom")
    @example("ring", "p oogssgbmvls", 192, 293, True, "bottom")
    @given(
        st.sampled_from(KINDS),
        texts,
        st.integers(160, 360),
        st.integers(160, 360),
        st.booleans(),
        st.sampled_from(["middle", "bottom"]),
    )
    def test_no_start_on_a_fine_scan_is_nearer(
        self, kind: str, text: str, width: int, height: int, wrapped: bool, sit: str
    ) -> None:
        objects: list[dict[str, Any]] = [frame(kind, width=width, height=height, sit=sit, padding=6)]
        if wrapped:
            objects.append(obstacle(x=100 + width * 0.6, y=100 + height * 0.4, width=60, height=50))
        nest = nest_of(document(objects, paragraph(text, align="center", breaking="first-fit"))).nest
        if nest.leftover_words:
            return
        both, (top, bottom), room = searched(nest)
        nearest, y = nearest_by_scan(*both, Aim(sit == "bottom", 0.0, top, bottom), room)
        self.assertGreaterEqual(nearest, abs(nest.residue) - 0.002, f"at {y}")
        if nest.exact:
            self.assertLessEqual(abs(nest.residue), 0.05)

    @settings(max_examples=cases(25))
    @example("heart", 139, "bottom", "first-fit")
    @example("cloud", 154, "bottom", "first-fit")
    @example("ring", 9999, "bottom", "optimal")
    @given(
        st.sampled_from(KINDS),
        st.integers(0, 10_000),
        st.sampled_from(["middle", "bottom"]),
        st.sampled_from(["first-fit", "optimal"]),
    )
    def test_with_objects_in_line_too(self, kind: str, seed: int, sit: str, breaking: str) -> None:
        """They may stand all above their line, or all below it."""
        dice = Random(seed)
        runs: list[dict[str, Any]] = [{"text": f"{word} "} for word in (STORY.split() * 2)[: dice.randint(4, 50)]]
        things = []
        for n in range(dice.randint(1, 3)):
            runs.insert(dice.randint(0, len(runs)), {"object": f"i{n}"})
            size = {"width": dice.uniform(3, 30), "height": dice.uniform(3, 40)}
            anchor = {"place": "in-line", "shift": dice.uniform(-12, 12)}
            things.append({"id": f"i{n}", "x": 0, "y": 0, "anchor": anchor, **size})
        thing = frame(kind, width=dice.randint(160, 360), height=dice.randint(160, 360), padding=6, sit=sit)
        raw = document(
            [thing, *things], {"runs": runs, "size": 12, "leading": 15, "font": "Lato", "breaking": breaking}
        )
        nest = next(n.nest for n in studio().nest(studio().read(raw)) if n.thing.id == "f")
        if nest.leftover_words:
            return
        both, (top, bottom), room = searched(nest)
        nearest, y = nearest_by_scan(*both, Aim(sit == "bottom", 0.0, top, bottom), room)
        near = 0.002 if breaking == "first-fit" else 0.11
        self.assertGreaterEqual(nearest, abs(nest.residue) - near, f"at {y}")

    @settings(max_examples=cases(12))
    @given(
        st.sampled_from(KINDS),
        texts,
        st.integers(160, 300),
        st.integers(160, 300),
        st.booleans(),
        st.sampled_from(["justify", "start"]),
    )
    def test_with_optimal_breaking_too(
        self, kind: str, text: str, width: int, height: int, wrapped: bool, align: str
    ) -> None:
        objects: list[dict[str, Any]] = [frame(kind, width=width, height=height, sit="middle", padding=6)]
        if wrapped:
            objects.append(obstacle(x=100 + width * 0.6, y=100 + height * 0.4, width=60, height=50))
        nest = nest_of(document(objects, paragraph(text, align=align))).nest
        if nest.leftover_words or nest.exact:
            return
        both, (top, bottom), room = searched(nest)
        tries = np.arange(top, bottom, 0.05)
        offs = [abs(off_middle(*both, y, Aim(False, 0.0, top, bottom), room)) for y in tries]
        self.assertGreaterEqual(min(offs), abs(nest.residue) - 0.11, f"at {tries[int(np.argmin(offs))]}")
