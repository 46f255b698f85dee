"""By hand on level ground: roads that end at a guide or at each other, slopes that land nowhere but at a bound, ties made for medians,
levels that follow a line, what turns about a guide, sharp corners, an edge at an upright kerb."""

from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np

from saddle.alignment.alignment import build
from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec, Straight
from saddle.guides.evaluate import RoadLines, Sources, guide_corners, guide_line
from saddle.guides.spec import CornerCurve, GuideSpec
from saddle.pipeline import lines_of, solve
from saddle.road.model import RoadInputs
from saddle.road.spec import EndsBeside, Reconstruct, Treatment, TreatmentPlan
from saddle.template.parts import KerbProfile
from saddle.template.spec import Strip
from saddle.template.starter import LADDER_PLAIN
from saddle.template.ties import Fall, Inward, OnLine, PartWay, Point, Width
from saddle.views.section import section_view
from tests.templates import built, compiled, flat, half_with
from tests.test_mouths import NORTH, main_road
from tests.test_side_roads import level_road


def at_offset(offset: float) -> GuideSpec:
    pieces = {
        "by": "pieces",
        "start_chainage": -1.0,
        "start_offset": offset,
        "pieces": [{"kind": "hold", "end": {"by": "length", "length": 300}}],
    }
    return GuideSpec.model_validate({"name": f"At {offset:g}", "use": "other", "source": pieces})


def drawn_at(offset: float, level: float) -> GuideSpec:
    """A line beside a road that runs east from 0, 0, at a level."""
    points = [[-10.0, -offset, level], [250.0, -offset, level]]
    return GuideSpec.model_validate({"name": "Line", "use": "other", "source": {"by": "polyline", "points": points}})


def ending(inputs: RoadInputs, side: str, to: dict[str, Any], **more: Any) -> RoadInputs:
    return replace(inputs, beside=(EndsBeside.model_validate({"side": side, "to": to}),), **more)


class Ends(TestCase):
    def test_a_guide_cuts_through_the_template(self) -> None:
        """Lanes 3.25 m wide, overlaid 50 mm up to the old edge at 3 m less the saw cut: of a road that ends at 2 m on the right 50 mm over
        2 m are left, and nothing of lane, shoulder and slope beyond; on the left all stays."""
        whole, cut = level_road(), ending(level_road(), "right", {"by": "guide", "guide": "g"}, guides={"g": at_offset(2.0)})
        one, other = solve(whole), solve(cut)
        i = 10
        self.assertAlmostEqual(other.depth.right[i], 2.0)
        self.assertAlmostEqual(other.depth.left[i], one.depth.left[i])
        self.assertAlmostEqual(other.earthworks.high[i], 2.0)
        group, k = other.group_of(i)  # type: ignore[misc]
        self.assertAlmostEqual(float(np.nanmax(group.right.layers.offsets[k])), 2.0)
        area = sum(float(np.trapezoid((v.top - v.bottom)[k], v.offsets[k])) for v in group.right.layers.layers)
        self.assertAlmostEqual(area, 2.0 * 0.05, delta=1e-9)
        self.assertAlmostEqual(other.earthworks.cut[i], one.earthworks.cut[i] / 2, delta=1e-9)
        # What is drawn ends there too.
        view = section_view(other, i)
        self.assertAlmostEqual(view.design[-1][0], 2.0)
        self.assertAlmostEqual(view.design[-1][1], other.hinge_level[i])
        self.assertLess(view.design[0][0], -4.0)
        self.assertEqual([p.name for p in view.points if p.side == "right"], [])
        self.assertIsNone(view.slopes[1].catch)

    def test_a_guide_on_the_other_side_of_the_hinge_bounds_nothing(self) -> None:
        whole, cut = level_road(), ending(level_road(), "right", {"by": "guide", "guide": "g"}, guides={"g": at_offset(-2.0)})
        np.testing.assert_array_equal(solve(cut).earthworks.cut, solve(whole).earthworks.cut)

    def test_a_slope_that_lands_nowhere_lands_at_the_bound(self) -> None:
        """10 m above the ground a slope of 1 in 2 needs 20 m; another road's ground begins 3 m beyond the shoulder: it ends there, 1.5 m
        lower, and all of it is known."""
        plan = TreatmentPlan(
            ranges=[Treatment(from_chainage=0, to_chainage=200, work=Reconstruct.model_validate({"governs": {"kind": "profile", "profile": "p"},
                    "left_crossfall": {"by": "given", "pct": 0}, "right_crossfall": {"by": "given", "pct": 0}}))]
        )  # fmt: skip
        high = ProfileSpec.model_validate({"points": [{"chainage": -1.0, "level": 65.0}, {"chainage": 201.0, "level": 65.0}]})
        road = replace(level_road(), treatments=plan, profiles={"p": high})
        shoulder = 3.25 + 1.0
        bounded = ending(road, "right", {"by": "guide", "guide": "g"}, guides={"g": at_offset(shoulder + 3.0)})
        alone, model = solve(road), solve(bounded)
        self.assertTrue(np.isnan(alone.earthworks.fill[10]))  # 30 m are more than the slope's 25
        group, k = model.group_of(10)  # type: ignore[misc]
        self.assertAlmostEqual(group.right.slopes.catch_offset[k], shoulder + 3.0)
        self.assertAlmostEqual(group.right.slopes.catch_level[k], 65.0 - 0.05 - 1.5)

    def test_a_floor_that_runs_to_the_slope_runs_to_the_bound(self) -> None:
        """A subgrade that is to run out to the slope of a cutting, which rises, comes out nowhere, and that is told; where the road ends
        0.3 m beyond the shoulder it is dug up to there, upright."""
        work = {"kind": "reconstruct", "governs": {"kind": "profile", "profile": "p"}, "left_crossfall": {"by": "given", "pct": 0},
                "right_crossfall": {"by": "given", "pct": 0}}  # fmt: skip
        plan = TreatmentPlan.model_validate({"ranges": [{"from_chainage": 0, "to_chainage": 200, "work": work}]})
        low = ProfileSpec.model_validate({"points": [{"chainage": -1.0, "level": 49.5}, {"chainage": 201.0, "level": 49.5}]})
        boxed = level_road().template_plan.changed(ranges=[{"from_chainage": 0, "to_chainage": 200, "template": "boxed"}])
        at = 3.25 + 1.5 + 0.3
        right = level_road().templates["boxed"].right
        plain = (
            level_road()
            .templates["boxed"]
            .changed(right=right.changed(ladder=[r.model_dump() for r in LADDER_PLAIN]).model_dump())
        )
        road = replace(
            level_road(),
            treatments=plan,
            template_plan=boxed,
            profiles={"p": low},
            guides={"g": at_offset(at)},
            templates={"boxed": plain},
        )
        alone, j = solve(road).group_of(10)  # type: ignore[misc]
        self.assertTrue(alone.right.layers.astray[j])
        model = solve(ending(road, "right", {"by": "guide", "guide": "g"}))
        group, k = model.group_of(10)  # type: ignore[misc]
        layers = group.right.layers
        self.assertFalse(layers.astray[k])
        self.assertAlmostEqual(float(layers.offsets[k][-1]), at)
        self.assertGreater(layers.top[k][-1] - layers.floor[k][-1], 0.2)

    def test_templates_on_each_other_are_told_and_keep_what_is_theirs(self) -> None:
        """Two roads 7.5 m apart, 4.25 m wide on the side of each other: they lie on each other by 1 m."""
        road = level_road()
        there = lines_of(replace(road, alignment=road.alignment.changed(start_north=-7.5))).value
        model = solve(ending(road, "right", {"by": "middle", "road": "b"}, neighbours={"b": there}))
        (told,) = [p for p in model.problems if p.code == "roads_overlap"]
        self.assertAlmostEqual(told.measured or 0.0, 1.0, delta=1e-6)
        self.assertAlmostEqual(model.bounds[1][10], 4.25, delta=1e-9)
        apart = lines_of(replace(road, alignment=road.alignment.changed(start_north=-10.0))).value
        model = solve(ending(road, "right", {"by": "middle", "road": "b"}, neighbours={"b": apart}))
        self.assertAlmostEqual(model.bounds[1][10], 5.0, delta=1e-6)
        self.assertIn("no_neighbour", {p.code for p in solve(ending(road, "right", {"by": "middle", "road": "b"})).problems})


class Ties(TestCase):
    def test_part_way_inward_and_on_a_line(self) -> None:
        """From the hinge to a point 5 m out and 0.2 m up: 40 % of the way, 0.5 m in from the end, on the line and 0.3 m above it."""
        far = Point(name="Far", offset=Width(parent="hinge", width=5.0), level=Fall(parent="hinge", crossfall_pct=4.0))
        line = {"parent": "hinge", "through": "Far"}
        points = [
            far,
            Point(name="Part", offset=PartWay(**line, pct=40.0), level=OnLine(**line)),
            Point(name="In", offset=Inward(parent="Far", width=0.5), level=OnLine(**line, plus=0.3)),
        ]
        strips = [
            Strip(name=a, kind="median", from_point=a, to_point=b, new="verge")
            for a, b in (("hinge", "Part"), ("Part", "In"), ("In", "Far"))
        ]
        half = compiled(half_with(*points, strips=strips))
        made = built(half, np.zeros(1), np.array([10.0]), flat(9.0))
        where = {n: (float(made.u[0, k]), float(made.z[0, k])) for k, n in enumerate(half.names)}
        for name, wanted in (("Part", (2.0, 10.08)), ("In", (4.5, 10.48)), ("Far", (5.0, 10.2))):
            np.testing.assert_allclose(where[name], wanted, atol=1e-12, err_msg=name)


class Levels(TestCase):
    def test_a_line_governs(self) -> None:
        work = {"kind": "reconstruct", "governs": {"kind": "line", "guide": "g", "plus": -0.088}}
        plan = TreatmentPlan.model_validate({"ranges": [{"from_chainage": 0, "to_chainage": 200, "work": work}]})
        model = solve(replace(level_road(), treatments=plan, guides={"g": drawn_at(-4.0, 52.3)}))
        np.testing.assert_allclose(model.hinge_level, 52.3 - 0.088, atol=1e-9)
        lost = solve(replace(level_road(), treatments=plan, guides={"g": at_offset(-4.0)}))
        self.assertTrue(np.isnan(lost.hinge_level).all())
        self.assertIn("no_level", {p.code for p in lost.problems})

    def test_a_road_turns_about_a_guide(self) -> None:
        """The middle of the median 6 m left of the hinge keeps its level: turned from -2.5 % to +4 % on the left, the hinge sinks by 6.5 %
        of 6 m; 6 m to the right it is the right crossfall that counts."""
        profile = ProfileSpec.model_validate({"points": [{"chainage": -1.0, "level": 60.0}, {"chainage": 201.0, "level": 60.0}]})
        for offset, shift in ((-6.0, -0.39), (6.0, 0.09)):
            work = {"kind": "reconstruct", "governs": {"kind": "profile", "profile": "p", "about": "guide", "guide": "g", "normal_pct": -2.5},
                    "left_crossfall": {"by": "given", "pct": 4.0}, "right_crossfall": {"by": "given", "pct": -4.0}}  # fmt: skip
            plan = TreatmentPlan.model_validate({"ranges": [{"from_chainage": 0, "to_chainage": 200, "work": work}]})
            model = solve(replace(level_road(), treatments=plan, profiles={"p": profile}, guides={"g": at_offset(offset)}))
            np.testing.assert_allclose(model.hinge_level, 60.0 + shift, atol=1e-9, err_msg=str(offset))


class Lines(TestCase):
    def test_an_edge_at_an_upright_kerb_lies_at_its_foot(self) -> None:
        """A kerb whose face stands upright on the edge of the lane: who follows the edge follows the lane, not the kerb's top."""
        upright = KerbProfile.model_validate(
            {"name": "Upright", "top": [{"name": "lip", "out_mm": 0, "up_mm": 0}, {"name": "face", "out_mm": 0, "up_mm": 100},
                                        {"name": "back", "out_mm": 150, "up_mm": 100}], "base_mm": 200, "material": "concrete"}
        )  # fmt: skip
        road = level_road()
        village = road.templates["village"].right
        kerbs = [k.changed(profile="upright").model_dump() for k in village.kerbs]
        template = road.templates["village"].changed(right=village.changed(kerbs=kerbs).model_dump())
        plan = road.template_plan.changed(ranges=[r.changed(template="t").model_dump() for r in road.template_plan.ranges])
        point = {"by": "point", "point": "LaneEdge"}
        treatments = road.treatments.changed(
            ranges=[
                r.changed(work={**r.work.model_dump(), "left_edge": point, "right_edge": point}).model_dump()
                for r in road.treatments.ranges
            ]
        )
        inputs = replace(
            road, templates={"t": template}, template_plan=plan, treatments=treatments, kerbs={**road.kerbs, "upright": upright}
        )
        model, found = solve(inputs), lines_of(inputs).value
        for line, end in ((found.left_edge, found.left_end), (found.right_edge, found.right_end)):
            np.testing.assert_allclose(line[:, 2], model.hinge_level, atol=1e-9)
            self.assertTrue((end[:, 2] > model.hinge_level + 0.05).all())

    def test_of_a_sharp_corner_the_part_next_to_the_side_road_is_there(self) -> None:
        """The side road leaves at 45° to the north-east: on its left the arc turns back. It begins one radius before its end, where its
        offset is greater by the radius."""
        line = build(AlignmentSpec(start_east=0, start_north=20, start_bearing_deg=45, elements=[Straight(length=120)]))
        guide = GuideSpec(name="C", source=CornerCurve(road="main", base_offset=-3.0, radius=8.0))
        sources = Sources(line, {}, {}, {"main": self.long()})
        corners = guide_corners(guide, sources)
        self.assertAlmostEqual(corners[-1] - corners[0], 8.0, delta=1e-6)
        frames = line.frames(corners[[0, -1]])
        np.testing.assert_allclose(guide_line(guide, frames, sources).offset, [-11.0, -3.0], atol=1e-3)

    @staticmethod
    def long() -> RoadLines:
        return main_road(NORTH)
