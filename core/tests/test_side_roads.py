"""Edges at points of templates, tapered milling and side roads, by hand on level ground."""

from collections.abc import Mapping
from dataclasses import replace
from functools import cache
from typing import Any
from unittest import TestCase

import numpy as np

from saddle.alignment.profile import ProfilePoint, ProfileSpec
from saddle.alignment.spec import AlignmentSpec, Straight
from saddle.errors import GeometryError
from saddle.guides.spec import AtOffset, AtPoint
from saddle.overlay.spec import CrossfallRow, CrossfallTable, MillingPlan, ProfileGoverns
from saddle.pipeline import solve
from saddle.quantities.takeoff import take_off
from saddle.road.measured import measured_at
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.side_roads import Around, SideRoad, tie_in_side_road
from saddle.road.spec import Overlay, SectionSettings, TemplatePlan, TemplateRange, Treatment, TreatmentPlan
from saddle.template import starter
from saddle.terrain.spec import Pipe, PipeEnd, Structures
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.tin import Tin, plane_over, triangulate
from saddle.views.depth_map import depth_triangles, surface_triangles

#: A straight road of 200 m on level ground at 50 m: cover 50 mm, level crossfall, lanes of the rural template.
OVERLAY = Overlay.model_validate(
    {
        "left_edge": {"by": "offset", "offset": -3.0},
        "right_edge": {"by": "offset", "offset": 3.0},
        "left_crossfall": {"by": "given", "pct": 0},
        "right_crossfall": {"by": "given", "pct": 0},
        "saw_cut": 0.1,
    }
)


@cache
def level_road() -> RoadInputs:
    return RoadInputs(
        AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=90, elements=[Straight(length=200)]),
        plane_over(np.array([-50.0, -50.0, 250.0, 50.0]), 50.0),
        {},
        SectionSettings(left=-20, right=20),
        TreatmentPlan(ranges=[Treatment(from_chainage=0, to_chainage=200, work=OVERLAY)]),
        TemplatePlan(ranges=[TemplateRange(from_chainage=0, to_chainage=200, template="rural")]),
        dict(starter.TEMPLATES), dict(starter.MAKE_UPS), dict(starter.KERBS), dict(starter.MATERIALS),
    )  # fmt: skip


def tied(ground: Tin | None = None, **asked: Any) -> RoadModel:
    i = level_road() if ground is None else replace(level_road(), surface=ground)
    road = SideRoad.model_validate(
        {"name": "Mill Lane", "side": "right", "from_chainage": 80, "to_chainage": 100, "length": 8} | asked
    )
    docs: Mapping[tuple[str, str], Any] = tie_in_side_road(
        road, Around("main", i.templates, i.make_ups, i.template_plan, i.treatments, i.milling)
    )
    return solve(
        replace(
            i,
            templates=i.templates | {k: d for (kind, k), d in docs.items() if kind == "template"},
            make_ups=i.make_ups | {k: d for (kind, k), d in docs.items() if kind == "make_up"},
            template_plan=docs["template_plan", "main"],
            treatments=docs["treatments", "main"],
            milling=docs.get(("milling", "main"), i.milling),
        )
    )


def row(model: RoadModel, chainage: float) -> int:
    return int(np.flatnonzero(np.abs(model.chainage - chainage) < 1e-6)[0])


def areas(model: RoadModel, chainage: float, side: str) -> dict[str, float]:
    """Area of every course of the strip "Side road", m2."""
    found = model.group_of(row(model, chainage))
    assert found
    group, k = found
    half = getattr(group, side)
    out: dict[str, float] = {}
    for layer in half.layers.layers:
        if layer.element == "Side road":
            thick, o = (layer.top - layer.bottom)[k], layer.offsets[k]
            out[layer.name] = float(np.nansum(np.diff(o) * (thick[1:] + thick[:-1]) / 2))
    return out


class NoLongerApplies(TestCase):
    """What says nothing any more is a problem that names it; once seven problems became none."""

    def found(self, **changes: Any) -> dict[str, tuple[str, str]]:
        problems = solve(replace(level_road(), **changes)).problems
        return {
            p.code: (p.severity, p.message) for p in problems if p.code in ("outside", "unknown_template", "unknown_dimension")
        }

    def test_a_road_without_any(self) -> None:
        self.assertEqual(self.found(), {})

    def test_a_dimension_nobody_knows(self) -> None:
        plan = TemplatePlan(
            ranges=[TemplateRange(from_chainage=0, to_chainage=200, template="rural", dimensions={"BayWidth": 3})]
        )
        severity, words = self.found(template_plan=plan)["unknown_dimension"]
        self.assertEqual(severity, "caution")
        self.assertIn("has no dimension BayWidth", words)

    def test_a_template_that_is_gone(self) -> None:
        plan = TemplatePlan(ranges=[TemplateRange(from_chainage=0, to_chainage=200, template="gone")])
        self.assertEqual(self.found(template_plan=plan)["unknown_template"][0], "fault")

    def test_rows_beyond_the_road(self) -> None:
        """A row just beyond the end is not idle: the line to it runs onto the road."""
        rows = [CrossfallRow(chainage=c, left_pct=-2, right_pct=-2) for c in (100, 300, 400)]
        self.assertEqual(self.found(crossfalls=CrossfallTable(rows=rows[:2])), {})
        severity, words = self.found(crossfalls=CrossfallTable(rows=rows))["outside"]
        self.assertEqual(severity, "caution")
        self.assertIn("1 of 3 chainages of the adopted crossfalls lie beyond the road", words)
        severity, words = self.found(crossfalls=CrossfallTable(rows=rows[1:]))["outside"]
        self.assertEqual(severity, "fault")
        self.assertIn("all chainages of the adopted crossfalls", words)

    def test_a_profile_beyond_the_road(self) -> None:
        """IPs before the start and behind the end are common practice; a profile wholly beyond gives no level."""
        work = OVERLAY.changed(governs=ProfileGoverns(profile="p"))
        plan = TreatmentPlan(ranges=[Treatment(from_chainage=0, to_chainage=200, work=work)])

        def profile(*chainages: float) -> dict[str, ProfileSpec]:
            return {"p": ProfileSpec(points=[ProfilePoint(chainage=c, level=50.1) for c in chainages])}

        self.assertNotIn("outside", self.found(treatments=plan, profiles=profile(-40, -20, 220, 260)))
        severity, words = self.found(treatments=plan, profiles=profile(220, 260))["outside"]
        self.assertEqual(severity, "fault")
        self.assertIn("all chainages of profile", words)


class Findings(TestCase):
    """Problems with their figures, by hand on level ground: the surface at the edge lies 50 mm above the old one."""

    def codes(self, **changes: Any) -> dict[str, Any]:
        work = OVERLAY.changed(**changes)
        plan = TreatmentPlan(ranges=[Treatment(from_chainage=0, to_chainage=200, work=work)])
        kerbs = SurveyLines(
            np.array([[0.0, 3.1, 50.11], [0.0, -3.1, 50.15]]), np.array([[200.0, 3.1, 50.11], [200.0, -3.1, 50.15]])
        )
        pipe = Structures(
            pipes=[
                Pipe(
                    name="P1",
                    points=[PipeEnd(east=60, north=-9, level=49.0), PipeEnd(east=60, north=9, level=49.0)],
                    diameter_mm=600,
                )
            ]
        )
        return {p.code: p for p in solve(replace(level_road(), treatments=plan, lines={"KT": kerbs}, structures=pipe)).problems}

    def test_kerb_upstand(self) -> None:
        """110 mm on the left and 150 mm on the right less 50 mm of overlay: 60 and 100 mm are left."""
        kerb = {"by": "line", "code": "KT", "within": 8}
        found = self.codes(kerb_top=kerb, least_upstand_mm=75, saw_cut=0)["kerb_upstand"]
        self.assertAlmostEqual(found.measured, 0.06, 9)
        self.assertIn("left kerb is left standing 60 mm", found.message)
        self.assertNotIn("kerb_upstand", self.codes(kerb_top=kerb, least_upstand_mm=60, saw_cut=0))
        self.assertNotIn("kerb_upstand", self.codes(least_upstand_mm=500))

    def test_crossfalls_out_of_range(self) -> None:
        flat = self.codes()["flat"]  # no crossfall and no grade
        self.assertIn("lets water run off", flat.message)
        self.assertAlmostEqual(flat.measured, 0.0, 9)
        given = {side: {"by": "given", "pct": pct} for side, pct in (("left_crossfall", -0.6), ("right_crossfall", -0.5))}
        self.assertNotIn("flat", self.codes(**given))
        steep = self.codes(left_crossfall={"by": "given", "pct": 7.5}, right_crossfall={"by": "given", "pct": -7.0})["crossfall"]
        self.assertEqual((steep.measured, steep.limit), (7.5, 7.0))
        self.assertIn("left crossfall is 7.50 % steep", steep.message)

    def test_a_pipe_too_near(self) -> None:
        """Top at 49.6, surface at 50.05: 0.45 m, where 0.6 m is asked for."""
        found = self.codes()["pipe_cover"]
        self.assertAlmostEqual(found.measured, 0.45, 6)
        self.assertEqual((found.chainage_from, found.subject), (60.0, "Levels"))

    def test_slivers(self) -> None:
        narrow = {"right_edge": {"by": "offset", "offset": 3.2}, "saw_cut": 0, "least_new_width": 0}
        found = self.codes(**narrow)["sliver"]
        self.assertAlmostEqual(found.measured, 0.05, 6)  # 3.20 to the lane's edge at 3.25
        self.assertIn("right is only 50 mm wide", found.message)
        self.assertNotIn("sliver", self.codes(**narrow | {"least_new_width": 0.3}))


class EdgesAtPoints(TestCase):
    def test_the_overlay_reaches_to_the_point(self) -> None:
        plan = level_road().treatments.changed(
            ranges=[
                {
                    "from_chainage": 0,
                    "to_chainage": 200,
                    "work": OVERLAY.changed(right_edge=AtPoint(point="LaneEdge", beyond=-0.25).model_dump()),
                }
            ]
        )
        model = solve(replace(level_road(), treatments=plan))
        i = row(model, 50)
        self.assertAlmostEqual(model.lines.right_edge[i], 3.0, 9)  # the lane is 3.25 m wide
        self.assertAlmostEqual(model.depth.left[i], -2.9, 9)  # the saw cut counts on the other side only
        self.assertAlmostEqual(model.lines.measured_pct[i, 1], 0.0, 9)

    def test_measured_up_to_the_very_end(self) -> None:
        np.testing.assert_allclose(measured_at(solve(level_road()), np.array([0.0, 100.0, 200.0])), 0.0, atol=1e-12)

    def test_a_point_that_is_not_there_is_told(self) -> None:
        plan = level_road().treatments.changed(
            ranges=[
                {"from_chainage": 0, "to_chainage": 200, "work": OVERLAY.changed(left_edge=AtPoint(point="Nowhere").model_dump())}
            ]
        )
        model = solve(replace(level_road(), treatments=plan))
        self.assertIn("no_edge", {p.code for p in model.problems})


class TaperedMilling(TestCase):
    def milled(self, full_at: str) -> RoadModel:
        stretch = {
            "left": AtOffset(offset=1).model_dump(), "right": AtOffset(offset=3).model_dump(), "full_at": full_at,
            "rows": [{"chainage": 40, "depth_mm": 40}, {"chainage": 60, "depth_mm": 40}],
        }  # fmt: skip
        return solve(replace(level_road(), milling=MillingPlan.model_validate({"stretches": [stretch]})))

    def test_a_wedge_has_half_the_area_and_its_centre_at_a_third(self) -> None:
        for full_at, area, centre in (("both", 0.08, 2.0), ("right", 0.04, 1 + 2 * 2 / 3), ("left", 0.04, 1 + 2 / 3)):
            m = self.milled(full_at).milling
            i = row(self.milled(full_at), 50)
            self.assertAlmostEqual(m.area[i], area, 12)
            self.assertAlmostEqual(m.moment[i] / m.area[i], centre, 9)
            o, z = m.surface.row(i)
            self.assertAlmostEqual(float(np.trapezoid(50 - z, o)), area, 9)

    def test_between_surfaces_milling_counts(self) -> None:
        """The survey's triangles know nothing of milling: its volume of 40 mm over 2 m and 20 m is added, less the saw cut."""
        plain, milled = solve(level_road()), self.milled("both")
        volumes = [float(t.area @ t.depth.mean(axis=1)) for t in (surface_triangles(plain), surface_triangles(milled))]
        self.assertAlmostEqual(volumes[0], 200 * 5.8 * 0.05, 6)
        self.assertAlmostEqual(volumes[1] - volumes[0], 0.04 * 1.9 * 20, delta=0.01)

    def test_the_overlay_lies_in_the_wedge(self) -> None:
        model = self.milled("right")
        i = row(model, 50)
        # 50 mm of cover and 1.9 of 2 m of the wedge's 40 mm, at the saw cut.
        self.assertAlmostEqual(model.depth.greatest[i], 0.05 + 0.04 * 1.9 / 2, 9)
        self.assertAlmostEqual(model.depth.greatest_offset[i], 2.9, 9)


class SideRoads(TestCase):
    def test_a_ramp_by_hand(self) -> None:
        model = tied()
        i = row(model, 90)
        self.assertAlmostEqual(model.hinge_level[i], 50.05, 9)  # the cover counts on the road, not on the ramp
        self.assertAlmostEqual(areas(model, 90, "right")["Surface course"], 0.05 * 8 / 2, 9)
        self.assertEqual([p.code for p in model.problems if 80 <= p.chainage_from <= 100 and p.code == "short_cover"], [])
        outside = model.group_of(row(model, 70))
        assert outside
        self.assertEqual(outside[0].name, "Rural, shoulders")

    def test_an_old_edge_beyond_the_road_is_no_reason_to_overlay_further(self) -> None:
        """The old pavement reaches 9 m out, into the side road: the overlay that the cover counts for ends with the lane."""
        road = tied()
        wide = [
            t.changed(work=t.work.changed(right_edge={"by": "offset", "offset": 9.0}).model_dump())
            if t.from_chainage == 80
            else t
            for t in road.inputs.treatments.ranges
        ]
        plan = TreatmentPlan.model_validate({"ranges": [t.model_dump() for t in wide]})
        model = solve(replace(road.inputs, treatments=plan))
        self.assertAlmostEqual(model.depth.right[row(model, 90)], 3.25, 9)

    def test_a_notch_keeps_the_thickness(self) -> None:
        """Depth of 50 mm at the edge and a notch of 50 mm at the end: 50 mm all along, 40 of them surface course."""
        model = tied(notch_mm=50)
        found = areas(model, 90, "right")
        self.assertAlmostEqual(found["Surface course"], 0.04 * 8, 9)
        self.assertAlmostEqual(found["Regulating course"], 0.01 * 8, 9)
        self.assertAlmostEqual(model.milling.area[row(model, 90)], 0.05 * 8 / 2, 9)
        self.assertNotIn("thin_courses", {p.code for p in model.problems if 80 < p.chainage_from < 100})
        milled = next(
            r for r in take_off(model).total.rows if "mill" in r.kind or "mill" in r.name.lower() or "pavement" in r.name.lower()
        )
        self.assertAlmostEqual(milled.volume or 0, 0.2 * 20, 6)

    def test_a_ramp_that_would_be_dug_into_the_old_road_is_named(self) -> None:
        """The side road comes down onto ours over a brow 0.3 m high, 7 m out: a straight ramp of 8 m cuts through it. On a flat one, and
        with a notch milled, nothing is said; mirrored the same is."""
        for side, out in (("right", -1.0), ("left", 1.0)):
            lines = [
                (-50.0, 50.0),
                (4.0 * out, 50.0),
                (7.0 * out, 50.3),
                (11.0 * out, 50.0),
                (50.0 * out, 50.0),
                (-50.0 * out, 50.0),
            ]
            points = np.array([(x, y, z) for x in (-50.0, 50.0, 150.0, 250.0) for y, z in sorted(set(lines))])
            model = tied(ground=triangulate(points, np.empty((0, 2), dtype=int)), side=side)
            (problem,) = (p for p in model.problems if p.code == "ramp_dug")
            self.assertEqual((problem.chainage_from, problem.chainage_to, problem.severity), (80.0, 100.0, "fault"))
            # The edge lies 3.25 m out on 50.05 m; the ramp ends 11.25 m out on 50 m.
            ramp = 50.05 - 0.05 * (7.0 - 3.25) / 8
            self.assertAlmostEqual(problem.measured or 0.0, 50.3 - ramp, 3)
        for quiet in (tied(), tied(notch_mm=50)):
            self.assertNotIn("ramp_dug", {p.code for p in quiet.problems})

    def test_left_is_the_mirror_of_right(self) -> None:
        left, right = tied(side="left", notch_mm=30), tied(side="right", notch_mm=30)
        for name, area in areas(left, 90, "left").items():
            self.assertAlmostEqual(area, areas(right, 90, "right")[name], 9)
        np.testing.assert_allclose(left.milling.area, right.milling.area, atol=1e-12)
        np.testing.assert_allclose(left.milling.moment, -right.milling.moment, atol=1e-12)
        self.assertAlmostEqual(float(depth_triangles(left).area.sum()), float(depth_triangles(right).area.sum()), 6)

    def test_a_kerbed_street_has_no_kerb_over_the_mouth(self) -> None:
        i = replace(
            level_road(), template_plan=TemplatePlan(ranges=[TemplateRange(from_chainage=0, to_chainage=200, template="village")])
        )
        docs = tie_in_side_road(
            SideRoad(name="Yard", side="left", from_chainage=80, to_chainage=100),
            Around("main", i.templates, i.make_ups, i.template_plan, i.treatments, i.milling),
        )
        mouth: Any = docs["template", "village-yard"]
        self.assertEqual(mouth.left.kerbs, [])
        self.assertEqual(len(mouth.right.kerbs), 1)
        self.assertIn(("make_up", "lane-overlay-run-out"), docs)

    def test_what_cannot_be_tied_in_says_why(self) -> None:
        i = level_road()
        road = SideRoad(name="X", side="left", from_chainage=80, to_chainage=100)
        bare = Around("main", i.templates, i.make_ups, TemplatePlan(), i.treatments, i.milling)
        leave = Around("main", i.templates, i.make_ups, i.template_plan, TreatmentPlan(), i.milling)
        gone = Around("main", {}, i.make_ups, i.template_plan, i.treatments, i.milling)
        unmade = Around("main", i.templates, {}, i.template_plan, i.treatments, i.milling)
        for around, words in (
            (replace(leave, templates=i.templates | {"rural-x": i.templates["rural"]}), "tied in already"),
            (bare, "no template is applied"), (leave, "not overlaid all along"), (gone, "no template “rural”"), (unmade, "no make-up"),
        ):  # fmt: skip
            with self.subTest(words), self.assertRaisesRegex(GeometryError, words):
                tie_in_side_road(road, around)
