"""The whole road walked from its other end: the same places, the same levels, the same quantities."""

from dataclasses import replace
from typing import ClassVar
from unittest import TestCase

import numpy as np

from saddle.alignment.parts import reversed_spec
from saddle.guides.spec import AfterLength as After
from saddle.guides.spec import AtOffset, FollowPlan, FollowRule, GuideSpec, Hold, OnGuide, Pieces, Taper
from saddle.pipeline import solve
from saddle.quantities.takeoff import take_off
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import Leave, TemplatePlan, TemplateRange, Treatment, TreatmentPlan, Work
from tests.cases import demo_inputs

END = 1610.0
#: A widening on the right between 600 and 690, and the same seen from the other end.
BAY = Pieces(
    start_chainage=600.0,
    start_offset=3.25,
    pieces=[Taper(to_offset=5.25, end=After(length=20)), Hold(end=After(length=40)), Taper(to_offset=3.25, end=After(length=30))],
)
BAY_BACK = Pieces(
    start_chainage=END - 690.0,
    start_offset=-3.25,
    pieces=[
        Taper(to_offset=-5.25, end=After(length=30)),
        Hold(end=After(length=40)),
        Taper(to_offset=-3.25, end=After(length=20)),
    ],
)


def turned(work: Work) -> Work:
    """A work with its sides exchanged."""
    if isinstance(work, Leave):
        return work
    assert isinstance(work.hinge, AtOffset) and work.hinge.offset == 0
    return work.changed(
        left_edge=work.right_edge.model_dump(),
        right_edge=work.left_edge.model_dump(),
        left_crossfall=work.right_crossfall.model_dump(),
        right_crossfall=work.left_crossfall.model_dump(),
    )


def backward(inputs: RoadInputs) -> RoadInputs:
    """The same road with its chainages counted from the other end."""
    treatments = [
        Treatment(from_chainage=END - r.to_chainage, to_chainage=END - r.from_chainage, work=turned(r.work))
        for r in reversed(inputs.treatments.ranges)
    ]
    templates = [
        TemplateRange(from_chainage=END - r.to_chainage, to_chainage=END - r.from_chainage, template=r.template)
        for r in reversed(inputs.template_plan.ranges)
    ]
    extra = [END - c for c in inputs.settings.extra]
    return replace(
        inputs,
        alignment=reversed_spec(inputs.alignment),
        treatments=TreatmentPlan(ranges=treatments),
        template_plan=TemplatePlan(ranges=templates),
        settings=inputs.settings.changed(extra=extra),
    )


def rule(side: str, start: float, end: float) -> FollowPlan:
    return FollowPlan(
        rules=[
            FollowRule.model_validate(
                {
                    "side": side,
                    "point": "LaneEdge",
                    "source": OnGuide(guide="bay").model_dump(),
                    "from_chainage": start,
                    "to_chainage": end,
                }
            )
        ]
    )


class BothWays(TestCase):
    forth: ClassVar[RoadModel]
    back: ClassVar[RoadModel]

    @classmethod
    def setUpClass(cls) -> None:
        # The interval divides the length, so that sections stand in the same places seen from either end.
        # A transition belongs to the start of its range, so that it is left out here.
        plan = TemplatePlan(ranges=[r.changed(dimensions={}, transition=0.0) for r in demo_inputs().template_plan.ranges])
        inputs = replace(demo_inputs(), settings=demo_inputs().settings.changed(interval=10.0), template_plan=plan)
        bay = GuideSpec(name="Bay", source=BAY)
        cls.forth = solve(replace(inputs, guides={"bay": bay}, follow=rule("right", 600, 690)))
        other = backward(inputs)
        bay_back = GuideSpec(name="Bay", side="left", source=BAY_BACK)
        cls.back = solve(replace(other, guides={"bay": bay_back}, follow=rule("left", END - 690, END - 600)))

    def test_sections_stand_in_the_same_places(self) -> None:
        self.assertEqual(len(self.forth.chainage), len(self.back.chainage))
        np.testing.assert_allclose(self.forth.chainage, END - self.back.chainage[::-1], atol=1e-6)
        np.testing.assert_allclose(self.forth.frames.origin, self.back.frames.origin[::-1], atol=1e-6)

    def test_hinge_levels_and_depths_are_the_same(self) -> None:
        np.testing.assert_allclose(self.forth.hinge_level, self.back.hinge_level[::-1], atol=1e-6)
        for field in ("least", "greatest", "mean"):
            np.testing.assert_allclose(getattr(self.forth.depth, field), getattr(self.back.depth, field)[::-1], atol=1e-6)
        np.testing.assert_allclose(self.forth.depth.left, -self.back.depth.right[::-1], atol=1e-6)

    def test_edges_and_crossfalls_change_sides(self) -> None:
        np.testing.assert_allclose(self.forth.lines.left_edge, -self.back.lines.right_edge[::-1], atol=1e-6)
        np.testing.assert_allclose(self.forth.lines.left_pct, self.back.lines.right_pct[::-1], atol=1e-6)

    def test_what_is_followed_changes_sides(self) -> None:
        (right,), (left,) = self.forth.followed, self.back.followed
        np.testing.assert_allclose(right.offset, -left.offset[::-1], atol=1e-9)
        self.assertTrue(np.isfinite(right.offset).any())

    def test_side_slopes_land_in_the_same_places(self) -> None:
        for a in self.forth.groups:
            b = next(g for g in self.back.groups if g.key == a.key)
            np.testing.assert_allclose(a.left.slopes.catch_offset, b.right.slopes.catch_offset[::-1], atol=1e-6)
            np.testing.assert_allclose(a.right.slopes.catch_level, b.left.slopes.catch_level[::-1], atol=1e-6)

    def test_quantities_are_the_same(self) -> None:
        forth, back = take_off(self.forth), take_off(self.back)
        rows = [{(r.kind, r.name, r.material): r for r in q.total.rows} for q in (forth, back)]
        self.assertEqual(set(rows[0]), set(rows[1]))
        for key, row in rows[0].items():
            other = rows[1][key]
            for field in ("volume", "mass", "length"):
                a, b = getattr(row, field), getattr(other, field)
                self.assertEqual(a is None, b is None)
                if a is not None and b is not None:
                    self.assertAlmostEqual(a, b, delta=1e-5 * max(1.0, abs(a)))

    def test_the_same_is_found_wrong(self) -> None:
        codes = [sorted(p.code for p in m.problems) for m in (self.forth, self.back)]
        self.assertEqual(codes[0], codes[1])
