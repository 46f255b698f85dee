"""Side roads that meet another road: where they begin, how they run out of its surface, and their corners. By hand on planes, and as laws on
turned and curved roads: what is tied lies on the other road's surface, an arc touches both edges."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from saddle.alignment.alignment import build
from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec, Arc, Straight
from saddle.guides.evaluate import RoadLines, Sources, guide_corners, guide_line
from saddle.guides.spec import CornerCurve, GuideSpec, ThreeCentred
from saddle.pipeline import solve
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import SectionSettings, TemplatePlan, TreatmentPlan
from saddle.template import starter
from saddle.terrain.tin import triangulate
from tests.depth import many

GRADE, FALL, EDGE = 0.02, -0.025, 3.5


def main_road(alignment: AlignmentSpec, *, grade: float = GRADE) -> RoadLines:
    """A road of one width that rises along its line and falls to both edges."""
    line = build(alignment)
    c = np.arange(line.start, line.end + 0.1, 2.0)
    frames, level = line.frames(c), 100 + grade * c

    def at(offset: float) -> np.ndarray:
        return np.column_stack([frames.plan(np.arange(len(c)), np.full(len(c), offset)), level + FALL * abs(offset)])

    return RoadLines(at(0.0), at(-EDGE), at(EDGE), at(-EDGE), at(EDGE), frames.to_right)


NORTH = AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Straight(length=200)])


def side_road(
    bearing: float, lines: RoadLines, *, begins: float = 5.0, north: float = 50.0, governs: str = "profile"
) -> RoadInputs:
    """A road that leaves to the right, built anew by a profile of its own, with a mouth of 20 m."""
    spec = AlignmentSpec(start_east=0, start_north=north, start_bearing_deg=bearing, elements=[Straight(length=80)])
    x, y = (v.ravel() for v in np.meshgrid(np.arange(-60, 140, 10.0), np.arange(-60, 200, 10.0)))
    surface = triangulate(np.column_stack([x, y, 99.0 + 0.001 * x + 1e-4 * y]), np.empty((0, 2), dtype=int))
    guide = GuideSpec.model_validate({"name": "Edge", "source": {"by": "road", "road": "main", "line": "right_edge"}})
    work = {"kind": "reconstruct", "hinge": {"by": "offset", "offset": 0.0}, "left_crossfall": {"by": "given", "pct": -3.0},
            "right_crossfall": {"by": "given", "pct": -3.0}, "governs": {"kind": "profile", "profile": "p"},
            "begin": {"length": 20.0, "guide": "edge"}}  # fmt: skip
    profile = ProfileSpec.model_validate({"points": [{"chainage": -1.0, "level": 100.4}, {"chainage": 81.0, "level": 97.0}]})
    return RoadInputs(
        spec, surface, {}, SectionSettings(interval=5.0, left=-20, right=20),
        TreatmentPlan.model_validate({"ranges": [{"from_chainage": begins, "to_chainage": 80.0, "work": work}]}),
        TemplatePlan.model_validate({"ranges": [{"from_chainage": 0.0, "to_chainage": 80.0, "template": "rural"}]}),
        dict(starter.TEMPLATES), dict(starter.MAKE_UPS), dict(starter.KERBS), dict(starter.MATERIALS), {"edge": guide},
        profiles={"p": profile}, roads={"main": lines},
    )  # fmt: skip


def first_built(model: RoadModel) -> int:
    return int(np.flatnonzero(model.worked_on())[0])


class Mouths(TestCase):
    def test_it_begins_at_the_edge_and_runs_out_of_the_other_roads_surface(self) -> None:
        """By hand: the edge lies 3.5 m east of the middle and rises to the north; the side road looks east, its right is the south."""
        model = solve(side_road(90.0, main_road(NORTH)))
        i = first_built(model)
        self.assertAlmostEqual(model.chainage[i], EDGE, delta=1e-6)
        self.assertAlmostEqual(model.hinge_level[i], 100 + GRADE * 50 + FALL * EDGE, delta=1e-6)
        self.assertAlmostEqual(model.lines.right_pct[i], -100 * GRADE, delta=1e-6)
        self.assertAlmostEqual(model.lines.left_pct[i], 100 * GRADE, delta=1e-6)
        # The other road's crossfall goes on: halfway through the smooth change it is still felt, at its end not at all.
        closer = solve(replace(side_road(90.0, main_road(NORTH)), settings=SectionSettings(interval=0.5, left=-20, right=20)))
        j = first_built(closer)
        grade = (closer.hinge_level[j + 1] - closer.hinge_level[j]) / (closer.chainage[j + 1] - closer.chainage[j])
        self.assertAlmostEqual(grade, FALL, delta=3e-3)
        own = model.chainage >= EDGE + 20
        np.testing.assert_allclose(model.lines.right_pct[own], -3.0)
        np.testing.assert_allclose(model.hinge_level[own], 100.4 - (model.chainage[own] + 1) * 3.4 / 82, atol=1e-6)
        np.testing.assert_array_equal(model.worked_on()[: i - 1], False)

    def test_it_follows_where_the_other_road_goes(self) -> None:
        """Moved 20 m along and with another width, nothing is written anew: the mouth is there."""
        for north, grade in ((70.0, GRADE), (50.0, 0.05)):
            model = solve(side_road(90.0, main_road(NORTH, grade=grade), north=north))
            self.assertAlmostEqual(model.hinge_level[first_built(model)], 100 + grade * north + FALL * EDGE, delta=1e-6)

    def test_where_it_does_not_cross_the_line_what_is_written_holds_and_it_is_told(self) -> None:
        for inputs in (side_road(90.0, main_road(NORTH), begins=70.0), replace(side_road(90.0, main_road(NORTH)), roads={})):
            model = solve(inputs)
            self.assertAlmostEqual(model.chainage[first_built(model)], inputs.treatments.ranges[0].from_chainage, delta=1e-6)
            self.assertIn("no_mouth", {p.code for p in model.problems})

    @given(st.floats(55, 125), st.floats(-300, 300).filter(lambda r: abs(r) > 120), st.floats(-0.05, 0.05), st.floats(30, 90))
    @settings(max_examples=many(30), deadline=None, derandomize=True)
    def test_what_is_tied_lies_on_the_other_road(self, bearing: float, radius: float, grade: float, north: float) -> None:
        """Turned, on a curve: the hinge of the first section lies on the edge in plan and level, and the whole width of its lanes on the
        plane that touches the other road's surface there."""
        bend = AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Arc(length=110, radius=radius)])
        lines = main_road(bend, grade=grade)
        place, turn = build(bend).frames(np.array([north])).origin[0], np.degrees(north / radius)
        inputs = side_road(bearing, lines)
        spec = inputs.alignment.changed(
            start_east=float(place[0]), start_north=float(place[1]), start_bearing_deg=float(bearing + turn) % 360
        )
        model = solve(replace(inputs, alignment=spec))
        i = first_built(model)
        p = model.frames.plan(np.array([i]), model.lines.hinge[i : i + 1])[0]
        c, o = build(bend).locate(p[None, :])
        self.assertAlmostEqual(float(o[0]), EDGE, delta=0.01)  # the line is one of chords
        self.assertAlmostEqual(model.hinge_level[i], 100 + grade * float(c[0]) + FALL * EDGE, delta=0.002)
        t = np.radians(bearing)  # between the other road's heading and ours
        edge_grade = grade / (1 - EDGE / radius)
        self.assertAlmostEqual(model.lines.right_pct[i], 100 * (-edge_grade * np.sin(t) + FALL * np.cos(t)), delta=0.25)
        self.assertAlmostEqual(model.lines.left_pct[i], -model.lines.right_pct[i], delta=1e-9)


class Corners(TestCase):
    def test_square_by_hand(self) -> None:
        """Edge 3.5 m east, own edge 3 m south of the side road's middle, radius 8: the arc begins at the edge 11 m off and ends 8 m on."""
        line = build(AlignmentSpec(start_east=0, start_north=50, start_bearing_deg=90, elements=[Straight(length=80)]))
        sources = Sources(line, {}, {}, {"main": main_road(NORTH)})
        for side in (-1, 1):
            guide = GuideSpec(name="C", source=CornerCurve(road="main", base_offset=side * 3.0, radius=8.0))
            frames = line.frames(np.array([3.0, 3.5, 3.5 + 8 * (1 - np.sqrt(0.75)), 11.5, 40.0]))
            found = guide_line(guide, frames, sources).offset
            np.testing.assert_allclose(found, side * np.array([np.nan, 11.0, 7.0, 3.0, 3.0]), atol=2e-3)
            corners = guide_corners(guide, sources)
            np.testing.assert_allclose([corners[0], corners[-1]], [3.5, 11.5], atol=1e-6)
            self.assertTrue(np.isnan(guide_line(guide, frames, sources).level).all())
            none = guide_line(guide, frames, Sources(line, {}, {}, {})).offset
            np.testing.assert_allclose(none, side * 3.0)

    def test_three_centred_square_by_hand(self) -> None:
        """Radii 16, 8, 24 through 15.75 and 20.25 degrees: what the longer arcs stand off and reach, by their sines and cosines."""
        line = build(AlignmentSpec(start_east=0, start_north=50, start_bearing_deg=90, elements=[Straight(length=80)]))
        sources = Sources(line, {}, {}, {"main": main_road(NORTH)})
        one, three = np.radians(15.75), np.radians(20.25)
        off1, off3 = 8 * (1 - np.cos(one)), 16 * (1 - np.cos(three))
        for side in (-1, 1):
            guide = GuideSpec(name="C", source=CornerCurve(road="main", base_offset=side * 3.0, radius=8.0, ends=ThreeCentred()))
            corners = guide_corners(guide, sources)
            ends = 3.5 + 8 + off1 + 16 * np.sin(three)
            np.testing.assert_allclose([corners[0], corners[-1]], [3.5, ends], atol=2e-3)
            begins = 3 + 8 + off3 + 8 * np.sin(one)
            found = guide_line(guide, line.frames(np.array([3.5, ends, 40.0])), sources).offset
            np.testing.assert_allclose(found, side * np.array([begins, 3.0, 3.0]), atol=5e-3)
            # Of the radii asked for: three places of each arc have their centre as far away.
            joins = [3.5 + 16 * (1 - np.cos(one)), 3.5 + 8 + off1 - 8 * np.sin(three)]
            for (low, high), radius in zip(((3.5, joins[0]), joins, (joins[1], ends)), (16, 8, 24), strict=True):
                c = np.linspace(low, high, 5)[1:4]
                p = np.column_stack([c, guide_line(guide, line.frames(c), sources).offset])
                a, b, d = p
                mid = np.linalg.solve(2 * np.array([b - a, d - a]), np.array([b @ b - a @ a, d @ d - a @ a]))
                self.assertAlmostEqual(float(np.hypot(*(mid - a))), radius, delta=0.02)

    @given(st.floats(60, 120), st.floats(-300, 300).filter(lambda r: abs(r) > 100), st.floats(4, 10), st.sampled_from([-1, 1]))
    @settings(max_examples=many(40), deadline=None, derandomize=True)
    def test_three_arcs_touch_both_edges_and_run_into_each_other(
        self, bearing: float, radius: float, r: float, side: int
    ) -> None:
        bend = AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Arc(length=160, radius=radius)])
        at = build(bend).frames(np.array([80.0]))
        line = build(
            AlignmentSpec(
                start_east=float(at.origin[0, 0]), start_north=float(at.origin[0, 1]),
                start_bearing_deg=float(np.degrees(80.0 / radius) + bearing) % 360,
                elements=[Straight(length=15), Arc(length=85, radius=-200)],
            )
        )  # fmt: skip
        source = CornerCurve(road="main", base_offset=side * 3.0, radius=r, ends=ThreeCentred())
        guide = GuideSpec(name="C", source=source)
        sources = Sources(line, {}, {}, {"main": main_road(bend)})
        corners = guide_corners(guide, sources)
        assume(corners.size > 0 and corners[0] > line.start)
        # Close enough together that a kink would be seen, and not where the edge runs straight out of the road's sections.
        c = np.linspace(corners[0] + 0.3, corners[-1], 600)
        frames = line.frames(c)
        found = guide_line(guide, frames, sources).offset
        p = frames.plan(np.arange(len(found)), found)
        _, offset = build(bend).locate(p)
        self.assertGreater(np.nanmin(offset), EDGE - 0.02)
        self.assertTrue((side * found >= 3.0 - 1e-3).all())
        self.assertAlmostEqual(float(found[-1]), side * 3.0, delta=2e-3)
        way = np.unwrap(np.arctan2(*np.diff(p, axis=0).T))
        turned = np.abs(np.diff(way))
        steps = np.hypot(*np.diff(p, axis=0).T)
        self.assertLess(float((turned / ((steps[1:] + steps[:-1]) / 2)).max()), 1.1 / r)

    @given(st.floats(50, 130), st.floats(-300, 300).filter(lambda r: abs(r) > 100), st.floats(3, 14), st.sampled_from([-1, 1]))
    @settings(max_examples=many(40), deadline=None, derandomize=True)
    def test_the_arc_touches_both_edges(self, bearing: float, radius: float, r: float, side: int) -> None:
        bend = AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Arc(length=100, radius=radius)])
        lines, at = main_road(bend), build(bend).frames(np.array([50.0]))
        heading = float(np.degrees(50.0 / radius) + bearing) % 360
        side_spec = AlignmentSpec(
            start_east=float(at.origin[0, 0]), start_north=float(at.origin[0, 1]), start_bearing_deg=heading,
            elements=[Straight(length=20), Arc(length=50, radius=-200)],
        )  # fmt: skip
        line = build(side_spec)
        guide = GuideSpec(name="C", source=CornerCurve(road="main", base_offset=side * 3.0, radius=r))
        sources = Sources(line, {}, {}, {"main": lines})
        corners = guide_corners(guide, sources)
        assume(corners.size > 0)
        frames = line.frames(np.linspace(corners[0], corners[-1], 40))
        found = guide_line(guide, frames, sources).offset
        p = frames.plan(np.arange(len(found)), found)
        _, offset = build(bend).locate(p)
        # Nowhere on the other road, touching its edge at the beginning; nowhere inside its own edge, touching it at the end.
        self.assertGreater(np.nanmin(offset), EDGE - 0.02)
        turns = 180 - (bearing if side < 0 else 180 - bearing)
        if corners[0] > line.start and turns < 85:
            self.assertAlmostEqual(float(offset[0]), EDGE, delta=0.06)
        self.assertTrue((side * found >= 3.0 - 1e-6).all())
        self.assertAlmostEqual(float(found[-1]), side * 3.0, delta=1e-6)
        # Of one radius: three places of it have their centre as far away.
        a, b, c = p[8], p[20], p[-1]
        mid = np.linalg.solve(2 * np.array([b - a, c - a]), np.array([b @ b - a @ a, c @ c - a @ a]))
        self.assertAlmostEqual(float(np.hypot(*(mid - a))), r, delta=0.01)
