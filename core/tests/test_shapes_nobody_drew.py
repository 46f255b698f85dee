"""Figures that were wrong where rules met shapes that nobody draws: a half without width, a hole in the survey, two lines of one code.
Each test is named after what went wrong."""

from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np

from saddle.geometry.polylines import pack
from saddle.guides.spec import GuideSpec
from saddle.overlay.governing import cover_governs
from saddle.overlay.spec import LevelTable, MillingPlan, TieIn
from saddle.pipeline import solve
from saddle.problem import Problem
from saddle.quantities.takeoff import layer_areas, take_off
from saddle.road.lines import LineRules, tie_factor
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import RoadLines, Treatment, TreatmentPlan
from saddle.template import starter
from saddle.terrain.tin import Tin
from tests.other_views import mirrored
from tests.test_wrong_figures import LENGTH, OVERLAY, surveyed


def found(model: RoadModel, code: str) -> list[Problem]:
    return [p for p in model.problems if p.code == code]


def holed(inputs: RoadInputs, low: float, high: float, left: float, right: float) -> RoadInputs:
    """The road without the triangles whose middles lie between two chainages and two offsets."""
    tin = inputs.surface
    c, o = solve(inputs).alignment.locate(tin.points[tin.triangles].mean(axis=1)[:, :2])
    return replace(inputs, surface=Tin(tin.points, tin.triangles[~((c > low) & (c < high) & (o > left) & (o < right))]))


def carriageway(**work: Any) -> RoadInputs:
    """A left carriageway: hinge and right edge on one guide, milled between its edges."""
    guide = {
        "by": "pieces",
        "start_chainage": 0,
        "start_offset": 0.5,
        "pieces": [{"kind": "hold", "end": {"by": "chainage", "chainage": LENGTH}}],
    }
    one = {"by": "guide", "guide": "middle"}
    falls = {"left_crossfall": {"by": "given", "pct": -2.5}, "right_crossfall": {"by": "given", "pct": -2.5}}
    inputs = surveyed(hinge=one, right_edge=one, least_cover_mm=90, **falls, **work)
    stretch = {"left": None, "right": None, "rows": [{"chainage": 100, "depth_mm": 40}, {"chainage": 1000, "depth_mm": 40}]}
    return replace(
        inputs,
        guides={"middle": GuideSpec.model_validate({"name": "Middle", "source": guide})},
        milling=MillingPlan.model_validate({"stretches": [stretch]}),
    )


class NoWidth(TestCase):
    def test_a_side_without_width_read_the_ground_beyond_the_step(self) -> None:
        """Milled 40 mm from -3 to 0, hinge and right edge at 0: 90 mm of cover lie on the milled ground, not on what stands beside it."""
        step = pack([(np.array([-5.0, -3, -3, 0, 0, 5]), np.array([10.0, 10, 9.96, 9.96, 10, 10]))])
        flat = pack([(np.array([-5.0, 5]), np.zeros(2))])
        at = (np.zeros(1), np.full(1, -3.0), np.zeros(1), np.full(1, 0.09))
        levels = cover_governs(step, flat, *at)
        self.assertAlmostEqual(float(levels.level[0]), 10.05)
        self.assertTrue(np.isnan(levels.right[0]))
        levels = cover_governs(step, flat, np.full(1, -3.0), np.full(1, -3.0), np.zeros(1), np.full(1, 0.09))
        self.assertAlmostEqual(float(levels.level[0]), 10.05)
        self.assertTrue(np.isnan(levels.left[0]))

    def test_the_cover_asked_for_is_the_cover_that_there_is(self) -> None:
        model = solve(carriageway())
        inside = (model.chainage > 101) & (model.chainage < 999) & np.isfinite(model.depth.least)
        self.assertGreater(inside.sum(), 100)
        np.testing.assert_allclose(model.depth.least[inside], 0.09, atol=1e-9)

    def test_it_is_the_same_road_in_a_mirror(self) -> None:
        one, other = solve(carriageway()), solve(mirrored(carriageway()))
        np.testing.assert_allclose(other.hinge_level, one.hinge_level, atol=1e-6)


class NothingOverlaid(TestCase):
    def test_a_template_that_overlays_nothing_was_no_fault(self) -> None:
        """Its first strip has no make-up over the old pavement: all of it was built new, in silence."""
        right = starter.TEMPLATES["rural"].right
        strips = [s.changed(over_existing=None) if s.from_point == "hinge" else s for s in right.strips]
        bare = starter.TEMPLATES["rural"].changed(right=right.changed(strips=[s.model_dump() for s in strips]).model_dump())
        inputs = surveyed()
        model = solve(replace(inputs, templates={**inputs.templates, "rural": bare}))
        faults = [p for p in found(model, "uncovered") if p.severity == "fault"]
        self.assertEqual({p.message.split(" overlays nothing on the ")[1].split(",")[0] for p in faults}, {"left", "right"})
        self.assertTrue(all("make-up over the old pavement" in p.message and "m²" in p.message for p in faults))
        self.assertFalse(found(solve(inputs), "uncovered"))


class Sides(TestCase):
    def test_a_hinge_on_a_line_of_two_sides_went_to_and_fro(self) -> None:
        """Both edges have one code: the nearer one of each section was the hinge, and nothing was said."""
        jumping = solve(surveyed(hinge={"by": "line", "code": "EDGE", "within": 12.0}))
        self.assertGreater(np.nanmax(np.abs(np.diff(jumping.lines.hinge))), 5)
        self.assertIn("which side", found(jumping, "line_jumps")[0].message)
        for side, sign in (("left", -1), ("right", 1)):
            model = solve(surveyed(hinge={"by": "line", "code": "EDGE", "within": 12.0, "side": side}))
            np.testing.assert_allclose(model.lines.hinge, sign * 3.4, atol=0.01)
            self.assertFalse(found(model, "line_jumps"))

    def test_an_edge_may_lie_on_the_other_side_of_the_alignment(self) -> None:
        edge = {"by": "line", "code": "EDGE", "within": 12.0, "side": "left"}
        model = solve(
            surveyed(hinge={"by": "offset", "offset": -6.0}, left_edge={"by": "offset", "offset": -9.0}, right_edge=edge)
        )
        np.testing.assert_allclose(model.lines.right_edge, -3.4, atol=0.01)


class Holes(TestCase):
    LEVELS = LevelTable.model_validate(
        {"rows": [{"chainage": 0, "level": 80.3}, {"chainage": LENGTH, "level": 80.3 + 0.01 * LENGTH}]}
    )

    def judged(self, inputs: RoadInputs) -> RoadModel:
        """What is not known of any layer has a problem that names the place."""
        model = solve(inputs)
        told = np.zeros(len(model.chainage), dtype=bool)
        for p in found(model, "no_surface"):
            told |= (model.chainage >= p.chainage_from - 1e-6) & (model.chainage <= p.chainage_to + 1e-6)
        unknown = np.isnan(model.earthworks.cut)
        for area in (laid.area for laid in layer_areas(model).values()):
            unknown |= np.isnan(area)
        self.assertTrue(unknown.any())
        self.assertTrue(told[unknown].all())
        self.assertEqual({p.subject for p in found(model, "no_surface")}, {"Survey"})
        return model

    def test_a_hole_under_given_levels_was_no_problem(self) -> None:
        inputs = holed(surveyed(governs={"kind": "level_table"}), 400, 700, -2.5, -0.5)
        model = self.judged(replace(inputs, levels=self.LEVELS))
        over = (model.chainage > 420) & (model.chainage < 680)
        self.assertTrue(np.isnan(model.depth.least[over]).all(), "the least of what is known was shown as the section's")
        self.assertTrue(np.isfinite(model.depth.least[(model.chainage < 380)]).all())

    def test_a_hole_where_edges_govern_or_a_reconstruction_is_milled(self) -> None:
        self.judged(holed(surveyed(governs={"kind": "edges"}), 400, 700, -2.5, -0.5))
        lines = {k: v for k, v in OVERLAY.items() if k != "kind"}
        work = {"kind": "reconstruct", **lines, "governs": {"kind": "level_table"}}
        plan = TreatmentPlan(ranges=[Treatment.model_validate({"from_chainage": 0, "to_chainage": LENGTH, "work": work})])
        self.judged(replace(holed(surveyed(), 400, 700, -2.5, -0.5), treatments=plan, levels=self.LEVELS))

    def test_short_cover_beside_a_hole_is_still_told(self) -> None:
        low = LevelTable(rows=[r.changed(level=r.level - 0.29) for r in self.LEVELS.rows])
        model = solve(replace(holed(surveyed(governs={"kind": "level_table"}), 400, 700, -2.5, -0.5), levels=low))
        self.assertTrue(any(p.chainage_from < 500 < p.chainage_to for p in found(model, "short_cover")))

    def test_kerbs_over_a_hole_counted_as_none(self) -> None:
        """420 m of 480, and nothing unknown."""
        inputs = surveyed()
        plan = inputs.template_plan.changed(ranges=[inputs.template_plan.ranges[0].changed(template="village").model_dump()])
        kerbed = replace(inputs, template_plan=plan)
        self.assertIn("village", inputs.templates)
        whole = {(r.name, r.key): r for r in take_off(solve(kerbed)).total.rows if r.kind == "length"}
        part = {(r.name, r.key): r for r in take_off(solve(holed(kerbed, 400, 700, -3.2, 3.2))).total.rows if r.kind == "length"}
        self.assertTrue(whole)
        for key, row in part.items():
            assert row.length is not None and whole[key].length is not None
            self.assertGreater(row.unknown_length, 250)
            # Two kerbs, on either side one: what is known of both and what is not make up all of them.
            self.assertAlmostEqual(row.length + 2 * row.unknown_length, whole[key].length, delta=0.05 * whole[key].length)

    def test_two_kerbs_of_one_kind_of_which_one_is_not_known(self) -> None:
        """The length that is not known is that of the road on which either is not, not that of the one that is known better."""
        inputs = surveyed()
        plan = inputs.template_plan.changed(ranges=[inputs.template_plan.ranges[0].changed(template="village").model_dump()])
        model = solve(holed(replace(inputs, template_plan=plan), 400, 700, -3.2, -1.0))
        lost = [model.chainage[g.rows][~g.left.layers.solved] for g in model.groups]
        known = [g.right.layers.solved.all() for g in model.groups]
        row = next(r for r in take_off(model).total.rows if r.kind == "length")
        if all(known) and any(len(c) for c in lost):
            self.assertGreaterEqual(row.unknown_length, float(np.ptp(np.concatenate(lost))))


class Ties(TestCase):
    def test_a_tie_at_the_end_runs_out_toward_the_end(self) -> None:
        """From 100 to 300 with 20 m at its start and 50 m at its end: half of it is left 10 m in, and 25 m before the end."""
        rule = LineRules(100.0, 300.0, RoadLines(), None, None, TieIn(length=20.0), TieIn(length=50.0), None)
        found = tie_factor(rule, np.array([100.0, 110.0, 120.0, 200.0, 250.0, 275.0, 290.0, 300.0]))
        np.testing.assert_allclose(found, [0.0, 0.5, 1.0, 1.0, 1.0, 0.5, 0.2, 0.0])
