"""Dimensions along the road: values of ranges, by chainage, and the transition between two ranges; coverage of ladders."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from pydantic import ValidationError

from saddle.pipeline import solve
from saddle.road.coverage import coverage
from saddle.road.model import RoadModel
from saddle.road.spec import TemplatePlan, TemplateRange
from saddle.template import starter
from saddle.views.section import section_view
from tests.cases import demo_inputs, demo_model


def road(*ranges: dict[str, object]) -> RoadModel:
    plan = TemplatePlan(ranges=[TemplateRange.model_validate({"template": "wide-shoulder", **r}) for r in ranges])
    return solve(replace(demo_inputs(), template_plan=plan))


def widths(model: RoadModel, name: str) -> tuple[np.ndarray, np.ndarray]:
    group = next(g for g in model.groups if g.key == "wide-shoulder")
    return model.chainage[group.rows], group.dimensions[name]


class Ranges(TestCase):
    def test_own_values_and_those_of_the_template(self) -> None:
        model = road(
            {"from_chainage": 420, "to_chainage": 600},
            {"from_chainage": 600, "to_chainage": 700, "dimensions": {"shoulder width": 1.0}},
        )
        c, w = widths(model, "shoulder width")
        np.testing.assert_allclose(w[c < 600], 2.5)
        np.testing.assert_allclose(w[c > 600], 1.0)
        view = section_view(model, int(np.flatnonzero(model.chainage == 650)[0]))
        self.assertEqual(view.dimensions, {"lane width": 3.5, "shoulder width": 1.0})
        edge = next(p for p in view.points if p.name == "ShoulderEdge" and p.side == "right")
        self.assertAlmostEqual(edge.offset, 4.5, 9)

    def test_transition_runs_straight_from_the_range_before(self) -> None:
        model = road(
            {"from_chainage": 420, "to_chainage": 600, "dimensions": {"shoulder width": 2.0}},
            {"from_chainage": 600, "to_chainage": 700, "dimensions": {"shoulder width": 1.0}, "transition": 40},
        )
        c, w = widths(model, "shoulder width")
        self.assertIn(640.0, c)  # a section stands where the transition ends
        np.testing.assert_allclose(w, np.interp(c, [600, 640], [2.0, 1.0]), atol=1e-12)

    def test_no_transition_across_a_gap_or_from_another_template(self) -> None:
        gap = road(
            {"from_chainage": 420, "to_chainage": 590},
            {"from_chainage": 600, "to_chainage": 700, "dimensions": {"shoulder width": 1.0}, "transition": 40},
        )
        c, w = widths(gap, "shoulder width")
        np.testing.assert_allclose(w[c >= 600], 1.0)
        other = road(
            {"from_chainage": 420, "to_chainage": 600, "template": "rural"},
            {"from_chainage": 600, "to_chainage": 700, "dimensions": {"shoulder width": 1.0}, "transition": 40},
        )
        _, w = widths(other, "shoulder width")
        np.testing.assert_allclose(w, 1.0)

    def test_by_chainage(self) -> None:
        rows = [[420, 1.0], [520, 3.0]]
        c, w = widths(road({"from_chainage": 420, "to_chainage": 700, "dimensions": {"shoulder width": rows}}), "shoulder width")
        np.testing.assert_allclose(w, np.interp(c, [420, 520], [1, 3]))
        with self.assertRaises(ValidationError):
            TemplateRange(from_chainage=0, to_chainage=9, template="t", dimensions={"w": [(5.0, 1.0), (5.0, 2.0)]})


class Coverage(TestCase):
    def test_every_section_is_counted_once(self) -> None:
        model = demo_model()
        found = coverage(model)
        for side, taken in (("left", found.left), ("right", found.right)):
            designed = np.isfinite(model.hinge_level)
            self.assertTrue((taken[designed] >= 0).all() and (taken[~designed] == -1).all())
            on_rungs = int((taken >= 2).sum())
            self.assertEqual(on_rungs, sum(u.sections for u in found.uses if u.side == side))

    def test_idle_rungs_are_told(self) -> None:
        uses = {(u.template, u.side, u.rung): u.sections for u in coverage(demo_model()).uses}
        self.assertEqual(uses["wide-shoulder", "left", "Benched cut"], 0)
        self.assertGreater(uses["wide-shoulder", "left", "Toe drain"], 0)
        self.assertEqual({r.name for r in starter.LADDER}, {rung for t, _, rung in uses if t == "wide-shoulder"})
