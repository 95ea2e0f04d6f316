"""Outlines, offsets, and path data."""

import math
import random
import unittest

import numpy as np
from shapely import get_coordinates, get_rings, union_all
from shapely.geometry import Point, Polygon, box

from draws import fair, seeds, thrown
from nestline import rows as k
from nestline.document.model import Outline
from nestline.outlines import kinds, placing
from nestline.outlines.path import PathError, bounds, flattened, from_svg, to_svg
from nestline.outlines.polygons import Region, area_of, inset, outset, region_of, shape_of, simplified
from support import KINDS, STORY, document, frame, nest_of, obstacle, paragraph, thing_of


class ReadyOutlines(unittest.TestCase):
    def test_every_kind_fills_its_box(self) -> None:
        for kind in KINDS:
            for width, height in ((100, 100), (300, 40), (7, 900)):
                with self.subTest(kind):
                    for a, b in zip(
                        bounds(kinds.path_of(Outline(kind=kind), width, height)), (0, 0, width, height), strict=True
                    ):
                        self.assertAlmostEqual(a, b, places=6)

    def test_a_radius_that_does_not_fit_is_shrunk_with_the_others(self) -> None:
        path = kinds.path_of(Outline(kind="rectangle", radius=[80, 80, 0, 0]), 100, 200)
        self.assertAlmostEqual(area_of(path).area, 100 * 200 - 2 * (1 - math.pi / 4) * 50**2, delta=1)

    def test_one_radius_rounds_four_corners(self) -> None:
        area = area_of(kinds.path_of(Outline(kind="rectangle", radius="10pt"), 100, 60)).area
        self.assertAlmostEqual(area, 100 * 60 - (4 - math.pi) * 100, delta=0.3)

    def test_an_ellipse_has_its_area(self) -> None:
        self.assertAlmostEqual(
            area_of(kinds.path_of(Outline(kind="ellipse"), 200, 100)).area, math.pi * 100 * 50, delta=4
        )


class Offsets(unittest.TestCase):
    """Steiner's formula for a convex polygon: area + perimeter·d + π·d² (Jakob Steiner, 1840)."""

    def test_clearance_follows_steiner(self) -> None:
        for corners in ([(0, 0), (100, 0), (100, 60), (0, 60)], [(0, 0), (90, 20), (40, 80)]):
            shape = Polygon(corners)
            for d in (0.5, 3, 12, 80):
                expected = shape.area + shape.length * d + math.pi * d * d
                self.assertAlmostEqual(outset(shape, d).area, expected, delta=0.02 * (shape.length + 7 * d))

    def test_padding_is_the_opposite(self) -> None:
        self.assertAlmostEqual(inset(Polygon([(0, 0), (100, 0), (100, 60), (0, 60)]), 10).area, 80 * 40, places=6)
        self.assertTrue(inset(Polygon([(0, 0), (10, 0), (10, 10), (0, 10)]), 6).is_empty)

    def test_padding_starts_at_the_inner_edge_of_the_stroke_and_clearance_at_the_outer(self) -> None:
        for position, inner, outer in (("inside", 4, 0), ("centred", 2, 2), ("outside", 0, 4)):
            thing = thing_of(
                {"id": "o", "x": 0, "y": 0, "width": 100, "height": 100, "stroke": {"width": 4, "position": position}}
            )
            self.assertAlmostEqual(placing.padded(thing, 10).bounds[0], 10 + inner)
            self.assertAlmostEqual(placing.cleared_outline(thing, 10).bounds[0], -10 - outer, places=2)


class LevelSides(unittest.TestCase):
    """A side that is level in an outline is level in what is padded or cleared: a line below it has all its width."""

    def test_they_stay_level_and_upright_where_they_were(self) -> None:
        seen = 0
        for seed in seeds(120):
            dice = random.Random(f"level {seed}")
            kind = dice.choice(["rectangle", "rectangle", "bubble", "arch", "ticket", "flag"])
            outline = {"kind": kind, **({"radius": dice.choice([3, 8, 20])} if kind == "rectangle" else {})}
            size = {"width": dice.randint(60, 400), "height": dice.randint(40, 300)}
            thing = thing_of({"id": "a", "x": 0, "y": 0, **size, "outline": outline})
            by = dice.choice([1, 3, 6.5, 12, 20])
            area = placing.area(thing)
            own = region_of(area).edges
            for found, distance in ((placing.padded(thing, by), -by), (placing.cleared_outline(thing, by), by)):
                edges = found.edges
                across, down = np.abs(edges[:, :2] - edges[:, 2:]).T
                inclined = (
                    (np.maximum(across, down) > 5)
                    & (np.minimum(across, down) < 0.02)
                    & (np.minimum(across, down) > 1e-9)
                )
                self.assertFalse(inclined.any(), (seed, edges[inclined]))
                # Where the outline's own level sides are, they are so far out or in.
                level = own[(np.abs(own[:, 1] - own[:, 3]) < 1e-9) & (np.abs(own[:, 0] - own[:, 2]) > 5 + 2 * by)]
                there = edges[(down < 1e-9) & (across > 1)][:, 1]
                for y in level[:, 1] if not found.empty else ():
                    seen += 1
                    self.assertLess(np.abs(np.abs(there - y) - abs(distance)).min(), 1e-9, seed)
        self.assertGreaterEqual(seen, fair(120))

    def test_of_areas_of_several_parts_and_with_holes_too(self) -> None:
        for seed in seeds(40):
            dice = random.Random(f"parts {seed}")
            boxes = [
                box(x, y, x + dice.randint(30, 90), y + dice.randint(30, 90)) for x, y in ((0, 0), (200, 10), (30, 220))
            ]
            holed = box(400, 0, 700, 300).difference(box(440 + dice.random(), 50, 600, 200))
            area = union_all([*boxes, holed]).buffer(dice.uniform(2, 15), quad_segs=64)
            simple = simplified(area, 0.01)
            self.assertTrue(simple.is_valid)
            self.assertEqual(len(simple.geoms), len(area.geoms))
            self.assertLess(len(get_coordinates(simple)), len(get_coordinates(area)))
            self.assertLess(simple.hausdorff_distance(area), 0.011)
            for one, other in zip(get_rings(simple.geoms), get_rings(area.geoms), strict=True):
                self.assertEqual(one.bounds, other.bounds)
                ends = np.diff(get_coordinates(one), axis=0)
                long = np.abs(ends).max(axis=1) > 5
                self.assertEqual(np.abs(ends[long]).min(axis=1).max(), 0.0)

    def test_a_line_below_an_obstacle_has_all_its_width(self) -> None:
        for seed in seeds(30):
            dice = random.Random(seed)
            bottom = dice.uniform(180, 260)
            clearance = dice.choice([3, 9, 14.5])
            wrap = obstacle(x=140, y=150, width=320, height=bottom - 150, kind="rectangle", clearance=clearance)
            wrap["outline"]["radius"] = dice.choice([0, 6])
            body = frame(x=80, y=100, width=230, height=500)
            nest = nest_of(document([body, wrap], paragraph(STORY * 3, size=16))).nest
            below = nest.records[nest.records[:, k.TOP] > bottom + clearance - 0.01][0]
            self.assertEqual((below[k.LEFT], below[k.RIGHT]), (80, 310), seed)


class Covered(unittest.TestCase):
    """Areas of random rings that cross themselves and one another against a count of edges passed, made here by
    itself."""

    def test_area_of_a_path_by_winding_and_of_a_region_by_even_and_odd(self) -> None:
        choice = thrown(11)
        both = 0
        for _ in range(150):
            rings = []
            for _ in range(choice.randint(1, 5)):
                coarse = choice.random() < 0.4
                size = [choice.randint(3, 7), 10 if coarse else 1000]
                rings.append([[choice.randint(0, size[1]) * 100 / size[1] for _ in "xy"] for _ in range(size[0])])
            path = from_svg(" ".join("M" + "L".join(f"{x} {y}" for x, y in ring) + "Z" for ring in rings))
            edges = np.array([[*a, *b] for ring in rings for a, b in zip(ring, ring[1:] + ring[:1], strict=True)])
            starts = np.array([i == 0 for ring in rings for i in range(len(ring))])
            areas = {
                True: area_of(path),
                False: shape_of(Region(edges, starts)),
            }
            self.assertTrue(all(area.is_valid for area in areas.values()))
            for _ in range(60):
                x, y = choice.uniform(0, 100), choice.uniform(0, 100)
                passed = [
                    1 if y1 > y0 else -1
                    for x0, y0, x1, y1 in edges.tolist()
                    if min(y0, y1) <= y < max(y0, y1) and x0 + (y - y0) * (x1 - x0) / (y1 - y0) > x
                ]
                covered = {True: sum(passed) != 0, False: len(passed) % 2 == 1}
                both += covered[True] != covered[False]
                for wound, area in areas.items():
                    if area.boundary.distance(Point(x, y)) > 1e-6:
                        self.assertEqual(area.contains(Point(x, y)), covered[wound], (wound, x, y, rings))
        self.assertGreaterEqual(both, fair(100))

    def test_holes_of_hundreds_of_letters_in_one_outline_stay_open(self) -> None:
        letters = " ".join(
            f"M{x} {y}h4v6h-4zM{x + 1} {y + 1}v4h2v-4z" for x in range(0, 200, 5) for y in range(0, 140, 7)
        )
        area = area_of(from_svg(letters))
        self.assertAlmostEqual(area.area, 40 * 20 * (24 - 8))


class PathData(unittest.TestCase):
    def test_what_is_written_reads_back(self) -> None:
        for kind in KINDS:
            path = kinds.path_of(Outline(kind=kind), 120, 90)
            self.assertAlmostEqual(area_of(from_svg(to_svg(path))).area, area_of(path).area, delta=0.1)

    def test_arcs_and_quadratics_become_cubics(self) -> None:
        path = from_svg("M0 50A50 50 0 1 1 100 50Q50 200 0 50Z")
        self.assertTrue(all(len(piece) in (2, 4) for contour in path for piece in contour))
        self.assertAlmostEqual(bounds(path)[1], 0, delta=0.05)

    def test_overlaps_count_by_the_non_zero_rule(self) -> None:
        same = from_svg("M0 0H100V100H0Z M50 0H150V100H50Z")
        self.assertAlmostEqual(area_of(same).area, 150 * 100)
        opposite = from_svg("M0 0H100V100H0Z M25 25V75H75V25Z")
        self.assertAlmostEqual(area_of(opposite).area, 100 * 100 - 50 * 50)

    def test_flattening_keeps_within_its_tolerance(self) -> None:
        path = kinds.path_of(Outline(kind="ellipse"), 200, 200)
        for x, y in flattened(path, 0.01)[0]:
            self.assertAlmostEqual(math.hypot(x - 100, y - 100), 100, delta=0.002)

    def test_bad_path_data_is_refused(self) -> None:
        for data in ("hello", "M0", "M0 0 L", "M 1 1 A 5", "", "M0 0Z", "M0 0L1e30 0L0 5Z"):
            with self.subTest(data), self.assertRaises(PathError):
                from_svg(data)
