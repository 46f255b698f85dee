"""Template points that follow: what is tied to them moves along, layers stay closed, sides mirror."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.guides.spec import AtChainage, FollowPlan, FollowRule, GuideSpec, Hold, OnGuide, Pieces, Taper
from saddle.pipeline import solve
from saddle.road.model import RoadModel, TemplateSections
from saddle.template import starter
from saddle.template.compiled import Parts, compile_template
from saddle.template.solve import plain, solve_points
from saddle.template.spec import Strip
from saddle.template.ties import Point, Rise, Width
from tests.cases import demo_inputs, own_width
from tests.depth import many
from tests.templates import imbalance

PARTS = Parts(dict(starter.MAKE_UPS), dict(starter.KERBS))


class Solving(TestCase):
    HALF = compile_template(starter.TEMPLATES["village"], PARTS).right

    def column(self, name: str) -> int:
        return self.HALF.names.index(name)

    def test_kerb_and_path_move_with_the_lane(self) -> None:
        pct = np.full(3, -2.5)
        own, _ = solve_points(self.HALF, plain(pct))
        wide = np.array([4.0, np.nan, 6.0])
        moved, rise = solve_points(self.HALF, plain(pct, instead={"LaneEdge": (wide, np.full(3, np.nan))}))
        for name in ("LaneEdge", "Kerb.back", "PathBack"):
            by = moved[:, self.column(name)] - own[:, self.column(name)]
            np.testing.assert_allclose(by, [0.8, 0.0, 2.8], atol=1e-12)
        # The lane keeps its crossfall, so its edge lies lower the further out it is.
        np.testing.assert_allclose(rise[:, self.column("LaneEdge")], [-0.1, -0.08, -0.15], atol=1e-12)

    def test_a_followed_level_lifts_what_stands_on_it(self) -> None:
        pct = np.full(2, -2.5)
        _, own = solve_points(self.HALF, plain(pct))
        _, rise = solve_points(self.HALF, plain(pct, instead={"LaneEdge": (np.full(2, np.nan), np.array([0.05, np.nan]))}))
        by = rise - own
        np.testing.assert_allclose(by[0, [self.column(n) for n in ("LaneEdge", "Kerb.back", "PathBack")]], 0.13, atol=1e-12)
        np.testing.assert_allclose(by[1], 0, atol=1e-12)

    def test_nothing_followed_changes_nothing(self) -> None:
        pct = np.linspace(-5, 3, 7)
        none = {"LaneEdge": (np.full(7, np.nan), np.full(7, np.nan))}
        for a, b in zip(solve_points(self.HALF, plain(pct)), solve_points(self.HALF, plain(pct, instead=none)), strict=True):
            np.testing.assert_array_equal(a, b)


class Median(TestCase):
    """A median whose two edges part over a length: the lanes move out with them and keep their width."""

    def test_lanes_move_with_the_edges(self) -> None:
        rural = starter.TEMPLATES["rural"]
        edge = Point(name="MedianEdge", offset=Width(parent="hinge", width=0.0), level=Rise(parent="hinge", rise=0.0))
        lane = rural.right.points[0].changed(
            offset={"kind": "width", "parent": "MedianEdge", "width": 3.25},
            level={"kind": "fall", "parent": "MedianEdge", "crossfall_pct": None},
        )
        strips = [
            Strip(name="Median", kind="verge", from_point="hinge", to_point="MedianEdge", new="verge"),
            rural.right.strips[0].changed(from_point="MedianEdge"),
            rural.right.strips[1],
        ]
        half = rural.right.changed(
            points=[p.model_dump() for p in (edge, lane, rural.right.points[1])], strips=[s.model_dump() for s in strips]
        )
        template = rural.changed(right=half.model_dump())
        parting = [Taper(to_offset=1.5, end=AtChainage(chainage=840)), Hold(end=AtChainage(chainage=900))]
        guides = {
            side: GuideSpec(
                name=side,
                source=Pieces(
                    start_chainage=800,
                    start_offset=0.0,
                    pieces=[p.changed(to_offset=sign * 1.5) if isinstance(p, Taper) else p for p in parting],
                ),
            )
            for side, sign in (("left", -1), ("right", 1))
        }
        rules = [
            FollowRule.model_validate(
                {
                    "side": side,
                    "point": "MedianEdge",
                    "source": {"by": "guide", "guide": side},
                    "from_chainage": 800,
                    "to_chainage": 900,
                }
            )
            for side in guides
        ]
        inputs = demo_inputs()
        model = solve(
            replace(inputs, templates={**inputs.templates, "rural": template}, guides=guides, follow=FollowPlan(rules=rules))
        )
        group = next(g for g in model.groups if g.key == "rural")
        for c, parted in ((780.0, 0.0), (820.0, 0.75), (870.0, 1.5)):
            row = int(np.flatnonzero(np.isclose(model.chainage[group.rows], c))[0])
            for side in (group.left, group.right):
                names = side.half.names
                at = {n: side.u[row, names.index(n)] for n in ("MedianEdge", "LaneEdge", "ShoulderEdge")}
                self.assertAlmostEqual(at["MedianEdge"], parted, 9)
                self.assertAlmostEqual(at["LaneEdge"], parted + 3.25, 9)
                self.assertAlmostEqual(at["ShoulderEdge"], parted + 4.25, 9)
        self.assertLess(balance(group).max(), 1e-6)


def following(offset: float, side: str = "right", what: str = "plan") -> RoadModel:
    """The demo with one lane edge held at an offset over the village and what comes after it."""
    guide = GuideSpec(name="G", source=Pieces(start_chainage=0, start_offset=offset, pieces=[Hold(end=AtChainage(chainage=900))]))
    rule = FollowRule.model_validate(
        {
            "side": side,
            "point": "LaneEdge",
            "source": OnGuide(guide="g").model_dump(),
            "from_chainage": 50,
            "to_chainage": 650,
            "what": what,
        }
    )
    return solve(replace(own_width(demo_inputs()), guides={"g": guide}, follow=FollowPlan(rules=[rule])))


def balance(group: TemplateSections) -> np.ndarray:
    """Of every section of a template: greatest difference between design to floor and the sum of its layers, m2."""
    worst = np.zeros(len(group.rows))
    for half in (group.left, group.right):
        worst = np.fmax(worst, np.abs(imbalance(half)))
    return worst


class OnTheDemo(TestCase):
    @settings(max_examples=many(5), deadline=None)
    @given(st.floats(3.3, 7.5))
    def test_layers_stay_closed_whatever_is_followed(self, offset: float) -> None:
        model = following(offset)
        for group in model.groups:
            self.assertLess(balance(group).max(), 1e-6)

    def test_only_the_side_and_stretch_of_the_rule_change(self) -> None:
        model, before = following(4.5), solve(own_width(demo_inputs()))
        inside = (model.chainage >= 50) & (model.chainage <= 650)
        (followed,) = model.followed
        np.testing.assert_array_equal(np.isfinite(followed.offset), inside)
        for a, b in zip(model.groups, before.groups, strict=True):
            if len(a.rows) == len(b.rows):
                np.testing.assert_allclose(a.left.u, b.left.u, atol=1e-12)

    def test_cover_holds_under_the_wider_lane(self) -> None:
        model = following(4.5)
        known = np.isfinite(model.depth.least)
        self.assertGreaterEqual(model.depth.least[known].min(), 0.05 - 1e-6)

    def test_left_and_right_are_told_apart(self) -> None:
        right, left = following(4.5), following(-4.5, "left")
        for a, b in zip(right.groups, left.groups, strict=True):
            np.testing.assert_allclose(a.right.u, b.left.u, atol=1e-9)

    def test_a_guide_without_levels_gives_none(self) -> None:
        model = following(4.5, what="level")
        (followed,) = model.followed
        self.assertFalse(np.isfinite(followed.level).any())
        self.assertIn("not_followed", {p.code for p in model.problems})
