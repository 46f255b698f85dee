"""Boxing: floors under kerbs, zones that meet, sides without a kerb; by hand."""

from typing import Any
from unittest import TestCase

import numpy as np

from saddle.template import starter
from saddle.template.compiled import Parts, compile_template
from saddle.template.half import HalfSections
from saddle.template.parts import MakeUp
from saddle.template.spec import TemplateSpec
from tests.templates import areas, built, flat, imbalance

ONE = np.ones(1)
THIN = MakeUp.model_validate({"name": "Thin", "courses": [{"name": "Base", "material": "rock", "thickness_mm": 50}]})


def boxed(spec: TemplateSpec, floors: list[dict[str, Any]], pct: float = 0.0, ground: float = -3.0) -> HalfSections:
    """The right half with these floors, the hinge at level 1, every make-up 50 mm thin."""
    parts = Parts(dict.fromkeys(starter.MAKE_UPS, THIN), starter.KERBS)
    half = compile_template(spec.changed(right=spec.right.changed(floors=floors)), parts).right
    return built(half, pct * ONE, ONE, flat(ground))


def lowest(half: HalfSections, at: float) -> float:
    """Level of the lowest line just outside an offset."""
    o, z = half.layers.offsets[0], half.layers.floor[0]
    j = int(np.flatnonzero((o[:-1] <= at + 1e-9) & (o[1:] > at + 1e-9))[-1])
    return float(z[j] + (at - o[j]) / (o[j + 1] - o[j]) * (z[j + 1] - z[j]))


class AtAKerb(TestCase):
    """The worked case (common practice): 165 mm under the lip, level to under the back of the kerb, then up; the subgrade
    starts 150 mm behind it."""

    SPEC = starter.kerbed("K", 3.0)

    def test_drops_under_the_lip_level_to_the_back_then_up(self) -> None:
        floor = {
            "name": "KerbBed", "start": {"point": "LaneEdge"},
            "zones": [{"to": {"point": "Kerb.back"}, "depth_mm": 265, "lie": {"kind": "level"}, "vertex": "UnderBack"}],
        }  # fmt: skip
        half = boxed(self.SPEC, [floor], pct=-2.5)
        lip = 1 - 0.075
        self.assertAlmostEqual(lowest(half, 3.0), lip - 0.265, 12)
        self.assertAlmostEqual(lowest(half, 3.2), lip - 0.265, 12)
        self.assertAlmostEqual(lowest(half, 3.3), lip + 0.095 + 0.03 * 0.05 / 1.5 - 0.05, 12)  # up again behind the kerb
        self.assertAlmostEqual(lowest(half, 2.9), 1 - 0.0725 - 0.05, 12)
        (vertex,) = half.layers.vertices
        self.assertEqual((vertex.name, float(vertex.u[0])), ("UnderBack", 3.25))
        self.assertAlmostEqual(float(imbalance(half)[0]), 0.0, 12)
        # Kerb and bed reach 260 mm below the lip: 5 mm of fill under 250 mm of kerb.
        self.assertAlmostEqual(float(areas(half)["KerbBed", "Fill above KerbBed"][0]), 0.25 * 0.005, 12)

    def test_165_under_the_lip_is_too_high_for_a_bed_of_100(self) -> None:
        floor = {
            "name": "KerbBed",
            "start": {"point": "LaneEdge"},
            "zones": [{"to": {"point": "Kerb.back"}, "depth_mm": 165, "lie": {"kind": "level"}}],
        }
        half = boxed(self.SPEC, [floor])
        self.assertAlmostEqual(float(half.layers.too_high[0][0]), 0.26 - 0.165, 12)
        bare = starter.KERBS["half-battered"].changed(bed_mm=0.0)  # base 160 mm below the lip
        parts = Parts(dict.fromkeys(starter.MAKE_UPS, THIN), starter.KERBS | {"half-battered": bare})
        spec = self.SPEC.changed(right=self.SPEC.right.changed(floors=[floor]))
        half = built(compile_template(spec, parts).right, 0 * ONE, ONE, flat(-3.0))
        self.assertAlmostEqual(float(half.layers.too_high[0][0]), 0.0, 12)
        self.assertAlmostEqual(lowest(half, 3.1), 1 - 0.165, 12)

    def test_subgrade_150_behind_the_kerb(self) -> None:
        floor = {
            "name": "Subgrade",
            "zones": [{"to": {"point": "LaneEdge"}, "depth_mm": 400, "joins": "step"}, {"to": {"point": "Kerb.back", "plus": 0.15}, "depth_mm": 400, "lie": {"kind": "level"}}],
        }  # fmt: skip
        half = boxed(self.SPEC, [floor], pct=-2.5)
        self.assertAlmostEqual(lowest(half, 0.0), 0.6, 12)
        self.assertAlmostEqual(lowest(half, 3.0), 0.525, 12)
        self.assertAlmostEqual(lowest(half, 3.39), 0.525, 12)  # level to 3.40
        self.assertGreater(lowest(half, 3.41), 0.9)

    def test_climbs_at_the_lip(self) -> None:
        floor = {
            "name": "Subgrade",
            "zones": [{"to": {"point": "LaneEdge", "plus": -0.3}, "depth_mm": 350}],
            "end": {"kind": "rise", "one_in": 1.0},
        }
        half = boxed(self.SPEC, [floor])
        self.assertAlmostEqual(lowest(half, 2.7), 0.65, 12)
        self.assertAlmostEqual(lowest(half, 2.85), 0.80, 12)
        self.assertAlmostEqual(lowest(half, 2.99), 0.94, 12)  # meets the 50 mm course 3.0 m out


class ZonesMeet(TestCase):
    def floors(self, joins: str) -> list[dict[str, Any]]:
        zones = [
            {"to": {"point": "LaneEdge"}, "depth_mm": 400, "joins": joins},
            {"to": {"point": "ShoulderEdge"}, "depth_mm": 300, "lie": {"kind": "fall", "crossfall_pct": -20.0}, "vertex": "Edge"},
        ]
        return [{"name": "Subgrade", "zones": zones}]

    def test_planes_meet_where_they_cross(self) -> None:
        # Lane level at 1, floor at 0.6. Shoulder's plane is at 0.7 under the lane's edge (3 m) and falls 20 %: 0.6 at 3.5 m.
        half = boxed(starter.rural("R", 3.0), self.floors("cross"))
        self.assertAlmostEqual(lowest(half, 3.4), 0.6, 12)
        self.assertAlmostEqual(lowest(half, 3.5), 0.6, 12)
        self.assertAlmostEqual(lowest(half, 3.9), 0.52, 12)
        self.assertAlmostEqual(float(half.layers.vertices[0].z[0]), 0.5, 12)

    def test_or_step_where_asked(self) -> None:
        half = boxed(starter.rural("R", 3.0), self.floors("step"))
        self.assertAlmostEqual(lowest(half, 2.99), 0.6, 12)
        self.assertAlmostEqual(lowest(half, 3.0), 0.7, 12)

    def test_planes_that_meet_outside_both_zones_step(self) -> None:
        zones = self.floors("cross")
        zones[0]["zones"][1]["lie"]["crossfall_pct"] = -4.0  # would meet 2.5 m beyond the lane, outside the shoulder of 1 m
        half = boxed(starter.rural("R", 3.0), zones)
        self.assertAlmostEqual(lowest(half, 2.99), 0.6, 12)
        self.assertAlmostEqual(lowest(half, 3.0), 0.7, 12)


class WithoutAKerb(TestCase):
    def test_the_floor_runs_out_to_the_slope(self) -> None:
        # Level road, outer edge at 4 m, slope 1 in 2: a floor 300 mm down comes out at 4.6 m.
        floor = {"name": "Subgrade", "zones": [{"to": None, "depth_mm": 300}], "end": {"kind": "run"}}
        spec = starter.rural("R", 3.0)
        level = [spec.right.points[0], spec.right.points[1].changed(level={"kind": "rise", "parent": "LaneEdge", "rise": 0})]
        half = boxed(spec.changed(right=spec.right.changed(points=[p.model_dump() for p in level])), [floor])
        self.assertAlmostEqual(lowest(half, 4.5), 0.7, 12)
        self.assertAlmostEqual(lowest(half, 4.6), 0.7, 12)
        self.assertAlmostEqual(lowest(half, 4.7), 1 - 0.35, 12)  # on the slope
        # Under the surface to 4 m: 0.25 m of fill over 4 m; beyond it the triangle of 0.3 m by 0.6 m.
        self.assertAlmostEqual(float(areas(half)["Subgrade", "Fill above Subgrade"][0]), 1.0 + 0.09, 12)
        self.assertFalse(half.layers.astray[0])

    def test_under_a_course(self) -> None:
        floor = {
            "name": "Subgrade",
            "zones": [{"to": {"point": "LaneEdge"}, "depth_mm": 100, "under": {"strip": "Lane", "course": 1}}],
        }
        half = boxed(starter.rural("R", 3.0), [floor], pct=-3.0)
        self.assertAlmostEqual(lowest(half, 2.0), 1 - 0.06 - 0.15, 12)

    def test_two_floors_are_filled_one_above_the_other(self) -> None:
        floors = [
            {"name": "Upper", "zones": [{"to": {"point": "LaneEdge"}, "depth_mm": 200}], "fill": "gravel"},
            {"name": "Lower", "zones": [{"to": {"point": "ShoulderEdge"}, "depth_mm": 500}]},
        ]
        half = boxed(starter.rural("R", 3.0), floors)
        found = areas(half)
        self.assertAlmostEqual(float(found["Upper", "Fill above Upper"][0]), 3 * 0.15, 12)
        self.assertAlmostEqual(float(imbalance(half)[0]), 0.0, 12)
        self.assertEqual({x.material for x in half.layers.layers if x.element == "Upper"}, {"gravel"})


class UnderAnOverlay(TestCase):
    def test_nothing_is_dug_where_the_overlay_covers_all(self) -> None:
        spec = starter.rural("R", 3.0)
        floor = {"name": "Subgrade", "zones": [{"to": {"point": "ShoulderEdge"}, "depth_mm": 500}]}
        half = compile_template(
            spec.changed(right=spec.right.changed(floors=[floor])), Parts(starter.MAKE_UPS, starter.KERBS)
        ).right
        for limit, dug in ((3.0, False), (2.4, True), (0.0, True)):
            h = built(half, 0 * ONE, 0.1 * ONE, flat(0.0), limit=limit * ONE)
            self.assertEqual(("Subgrade", "Fill above Subgrade") in areas(h), dug)
            self.assertAlmostEqual(float(imbalance(h)[0]), 0.0, 12)
        # With a widening from 2.4 m it is dug only there: 0.6 m of lane and 1 m of shoulder.
        h = built(half, 0 * ONE, 0.1 * ONE, flat(0.0), limit=2.4 * ONE)
        self.assertAlmostEqual(lowest(h, 2.39), 0.0, 12)
        self.assertLess(lowest(h, 2.41), -0.38)
