"""Figures that were wrong once, on roads unlike the demo; each test is named after what went wrong."""

import csv
import io
import re
from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np
from openpyxl import load_workbook

from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Arc, Straight
from saddle.drawings.sections.rows import Column, Reach, rows_at
from saddle.drawings.spec import section_rows
from saddle.exchange.level_sheet import read_levels, write_levels
from saddle.exchange.tables import quantities_csv, rows_csv
from saddle.figures import rounded_up, written
from saddle.guides.spec import GuideSpec
from saddle.overlay.level_needs import Limits
from saddle.overlay.spec import LevelRow, LevelTable, MillingPlan
from saddle.pipeline import solve
from saddle.quantities.takeoff import QuantityRow, distinct, take_off
from saddle.road.beneath import beneath
from saddle.road.levels import best_on, levels_of
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import SectionSettings, TemplatePlan, TemplateRange, Treatment, TreatmentPlan
from saddle.standards.published import GRADE_CHANGE, SUPERELEVATION
from saddle.standards.superelevation import Curve, Turns, report
from saddle.template import starter
from saddle.template.compiled import Parts
from saddle.template.parts import CarryOn, Course, MakeUp
from saddle.terrain.spec import Pit, Structures
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.tin import triangulate
from saddle.views.section import section_view
from tests.cases import demo_inputs
from tests.templates import areas, built, compiled, flat, half_with, imbalance
from tests.test_side_roads import level_road

LENGTH = 1118.3
OVERLAY = {
    "kind": "overlay", "hinge": {"by": "line", "code": "CROWN"}, "left_edge": {"by": "line", "code": "EDGE"},
    "right_edge": {"by": "line", "code": "EDGE"},
}  # fmt: skip


def surveyed(crown_to: float = LENGTH, edge: float = 3.4, **work: Any) -> RoadInputs:
    """A bent road whose crown wanders, with lines CROWN and EDGE; the crown may end early."""
    spec = AlignmentSpec(start_east=3e5, start_north=5e6, start_bearing_deg=37, elements=[Straight(length=LENGTH)])
    a = build(spec)

    def line(offset: np.ndarray, to: float = LENGTH) -> SurveyLines:
        c = np.unique(np.r_[np.arange(0, to, 7.3), to])
        o = np.interp(c, np.linspace(0, LENGTH, len(offset)), offset)
        xyz = np.column_stack([a.frames(c).plan(np.arange(len(c)), o), 80 + 0.01 * c - 0.025 * np.abs(o)])
        return SurveyLines(xyz[:-1], xyz[1:])

    rng = np.random.default_rng(8)
    c, o = (m.ravel() for m in np.meshgrid(np.linspace(0, LENGTH, 160), [-19, -7, -3.4, -0.1, 3.3, 7, 19], indexing="ij"))
    level = 80 + 0.01 * c - 0.025 * np.abs(o) + rng.normal(0, 0.01, len(c))
    ground = triangulate(np.column_stack([a.frames(c).plan(np.arange(len(c)), o), level]), np.empty((0, 2), dtype=int))
    edges = [line(np.full(2, side * edge)) for side in (-1, 1)]
    return RoadInputs(
        spec, ground,
        {"CROWN": line(rng.uniform(-0.2, 0.2, 60), crown_to),
         "EDGE": SurveyLines(np.concatenate([e.start for e in edges]), np.concatenate([e.end for e in edges]))},
        SectionSettings(interval=5, left=-18, right=18),
        TreatmentPlan(ranges=[Treatment.model_validate({"from_chainage": 0, "to_chainage": LENGTH, "work": OVERLAY | work})]),
        TemplatePlan(ranges=[TemplateRange(from_chainage=0, to_chainage=LENGTH, template="rural")]),
        dict(starter.TEMPLATES), dict(starter.MAKE_UPS), dict(starter.KERBS), dict(starter.MATERIALS),
    )  # fmt: skip


def row(model: RoadModel, name: str) -> QuantityRow:
    return next(r for r in take_off(model).total.rows if r.name == name)


class OneSection(TestCase):
    def test_one_section_without_a_hinge_removed_every_course_of_its_range(self) -> None:
        whole, early = solve(surveyed()), solve(surveyed(crown_to=LENGTH - 10))
        lost = [i for i in range(len(early.chainage)) if np.isnan(early.hinge_level[i])]
        self.assertEqual([float(early.chainage[i]) for i in lost], [1110.0, 1115.0, LENGTH])
        a, b = row(whole, "Surface course"), row(early, "Surface course")
        assert a.volume is not None and b.volume is not None
        self.assertAlmostEqual(b.unknown_length, LENGTH - 1105, 6)
        self.assertAlmostEqual(b.volume, a.volume * 1105 / LENGTH, delta=0.02 * a.volume)
        self.assertIn("no_hinge", {p.code for p in early.problems})
        self.assertLess(row(early, "Fill").volume or 0.0, (row(whole, "Fill").volume or 0.0) + 1e-6)

    def test_areas_were_lost_where_two_offsets_differ_in_the_last_place(self) -> None:
        model = solve(surveyed())
        self.assertEqual(len(model.chainage), 225)
        for item in take_off(model).total.rows:
            self.assertEqual(item.unknown_length, 0.0, item.name)

    def test_floors_of_two_zones_at_one_depth_left_the_balance_open(self) -> None:
        points = [
            {"name": "A", "offset": {"kind": "width", "parent": "hinge", "width": 3.5}, "level": {"kind": "fall", "parent": "hinge", "crossfall_pct": None}},
            {"name": "B", "offset": {"kind": "width", "parent": "A", "width": 1.0}, "level": {"kind": "fall", "parent": "A", "crossfall_pct": -5.0}},
        ]  # fmt: skip
        strips = [
            {"name": "Lane", "kind": "lane", "from_point": "hinge", "to_point": "A", "new": "lane-new"},
            {"name": "Shoulder", "kind": "shoulder", "from_point": "A", "to_point": "B", "new": "shoulder"},
        ]
        for depth in (400, 500, 750):
            zones = [{"to": {"point": "A"}, "depth_mm": depth}, {"to": {"point": "B"}, "depth_mm": depth}]
            spec = half_with(*points, strips=strips, floors=[{"name": "F", "zones": zones}], ladder=LANDS)  # type: ignore[arg-type]
            rng = np.random.default_rng(depth)
            half = built(compiled(spec), rng.uniform(-6, 6, 300), rng.uniform(48, 52, 300), flat(50.0, n=300))
            self.assertLess(float(np.abs(imbalance(half)).max()), 1e-9)

    def test_a_course_that_runs_to_the_slope_stopped_upright_in_low_fill(self) -> None:
        model = flat(50.0)
        spec = starter.TEMPLATES["wide-shoulder"]
        template = spec.changed(right=spec.right.changed(ladder=LANDS).model_dump())
        half = built(
            compiled(template), np.array([-2.5]), np.array([50.45]), model, dimensions={"lane width": 3.5, "shoulder width": 2.5}
        )
        self.assertFalse(half.layers.astray[0])
        self.assertNotIn(("", "Fill between courses"), {k for k, v in areas(half).items() if v[0] > 0.02})


LANDS = [
    {"name": "Cut", "when": "cut", "links": [{"kind": "to_ground", "one_in": 1.5, "direction": "up"}]},
    {"name": "Fill", "when": "fill", "links": [{"kind": "to_ground", "one_in": 1.5, "direction": "down"}]},
]


class OldEdge(TestCase):
    """Edges surveyed at 3.58 m, a lane of 3.25 m by its template."""

    def wide(self, **work: Any) -> RoadModel:
        return solve(surveyed(edge=3.58, **work))

    def test_the_lane_stopped_short_of_the_edge_without_a_word(self) -> None:
        model = self.wide()
        np.testing.assert_allclose(model.depth.right, 3.58, atol=1e-6)
        np.testing.assert_allclose(model.depth.left, -3.58, atol=1e-6)
        self.assertNotIn("uncovered", {p.code for p in model.problems})

    def test_its_own_width_is_said_where_it_leaves_pavement_uncovered(self) -> None:
        model = self.wide(reach="own_width")
        found = [p for p in model.problems if p.code == "uncovered"]
        self.assertEqual({p.mend for p in found}, {"reach_edge"})
        self.assertEqual({"left", "right"}, {p.message.split()[2] for p in found})
        area = sum(float(re.search(r"([\d.]+) m²", p.message)[1]) for p in found)  # type: ignore[index]
        # Both sides together: twice the edges less twice the lane, whatever the crown does.
        self.assertAlmostEqual(area, LENGTH * 2 * (3.58 - 3.25), delta=0.01 * area)

    def test_a_wider_template_builds_new_beyond_the_edge(self) -> None:
        inputs = surveyed(edge=2.6)
        model = solve(inputs)
        np.testing.assert_allclose(model.depth.right, 2.6, atol=1e-6)
        self.assertGreater(row(model, "Base").volume or 0.0, 0.0) if any(
            r.name == "Base" for r in take_off(model).total.rows
        ) else self.assertTrue([r for r in take_off(model).total.rows if r.kind == "course"])

    def test_exactly_the_edge_narrows_the_lane(self) -> None:
        model = solve(surveyed(edge=2.9, reach="exactly_edge"))
        for half in (model.groups[0].left, model.groups[0].right):
            at = half.half.column("LaneEdge")
            np.testing.assert_allclose(half.u[:, at], 2.9, atol=1e-6)

    def test_kerb_to_kerb_ended_elsewhere_than_at_its_lips(self) -> None:
        model = solve(surveyed(edge=2.9, governs={"kind": "kerb_to_kerb", "side": "left", "plus": 0.05}))
        group = model.groups[0]
        for half, edge in ((group.left, -model.lines.left_edge), (group.right, model.lines.right_edge)):
            at = half.half.column("LaneEdge")
            np.testing.assert_allclose(half.u[:, at], edge[group.rows], atol=1e-6)
            lip = (
                np.array(
                    [np.interp(o, *model.existing.row(i)) for i, o in zip(group.rows, half.side * half.u[:, at], strict=True)]
                )
                + 0.05
            )
            np.testing.assert_allclose(half.z[:, at], lip, atol=1e-6)


class Bill(TestCase):
    def test_two_materials_of_one_name_lost_the_tonnage_of_one(self) -> None:
        inputs = demo_inputs()
        twin = inputs.materials["surface"].changed(density=1.0)
        lane = inputs.make_ups["lane-new"]
        courses = [c.changed(material="surface-2") if c.material == "surface" else c for c in lane.courses]
        make_ups = inputs.make_ups | {"lane-new": lane.changed(courses=[c.model_dump() for c in courses])}
        model = solve(replace(inputs, materials=inputs.materials | {"surface-2": twin}, make_ups=make_ups))
        before, after = take_off(solve(inputs)).total.rows, take_off(model).total.rows
        volumes = [sum(r.volume or 0.0 for r in rows if r.name == "Surface course") for rows in (before, after)]
        self.assertAlmostEqual(volumes[0], volumes[1], 6)
        ours = [r for r in after if r.name == "Surface course"]
        self.assertEqual({r.key for r in ours}, {"surface", "surface-2"})
        self.assertEqual(len({r.material for r in ours}), 2)
        self.assertEqual(distinct({"a": "X", "b": "X", "c": "Y"}), {"a": "X (a)", "b": "X (b)", "c": "Y"})

    def test_milled_area_depended_on_the_interval(self) -> None:
        # 100 m at full depth and 25 m running out at either end, 4.2 m wide: milled in plan over 150 m whatever the sections.
        rows = [{"chainage": c, "depth_mm": d} for c, d in ((200, 0), (225, 40), (325, 40), (350, 0))]
        limits = {"left": {"by": "offset", "offset": -2.1}, "right": {"by": "offset", "offset": 2.1}}
        plan = MillingPlan.model_validate({"stretches": [{"rows": rows, **limits}]})
        for interval, key_points in ((5.0, True), (20.0, True), (50.0, False)):
            inputs = surveyed()
            settings = inputs.settings.changed(interval=interval, key_points=key_points)
            self.assertAlmostEqual(
                row(solve(replace(inputs, milling=plan, settings=settings)), "Milling").area or 0, 4.2 * 150, 6
            )

    def test_a_notch_is_milled_up_to_where_it_runs_out(self) -> None:
        model = solve(surveyed(begin={"length": 30, "notch_mm": 40}, edge=3.4))
        self.assertAlmostEqual(row(model, "Milling").area or 0, 6.8 * 30, delta=0.01)

    def test_csv_lost_millimetres(self) -> None:
        text = rows_csv([("Chainage m", "chainage"), ("Depth mm", "depth")], [[1234.567, 49.6], [0.1, None]])
        self.assertEqual(list(csv.reader(io.StringIO(text)))[1:], [["1234.567", "50"], ["0.100", ""]])

    def test_the_material_of_a_kerb_row_was_an_apostrophe(self) -> None:
        text = quantities_csv(take_off(solve(demo_inputs())))
        self.assertNotIn(",',", text)


class Levels(TestCase):
    def governed(self, chainage: np.ndarray, level: np.ndarray, pct: np.ndarray | None = None) -> RoadModel:
        """The surveyed road with adopted levels (and given crossfalls) that govern."""
        inputs = surveyed(governs={"kind": "level_table"}, **self.WORK)
        table = LevelTable(rows=[LevelRow(chainage=float(c), level=float(z)) for c, z in zip(chainage, level, strict=True)])
        if pct is None:
            return solve(replace(inputs, levels=table, template_plan=self.plan()))
        return solve(replace(inputs, levels=table, template_plan=self.plan()))

    WORK = {"edge": 3.4}

    def plan(self) -> TemplatePlan:
        return TemplatePlan(ranges=[TemplateRange(from_chainage=0, to_chainage=LENGTH, template="wedge")])

    def test_best_levels_ignored_the_shape_of_the_template(self) -> None:
        """Lane and wedge have falls of their own: what best levels adopt keeps the cover as the solver judges it, and needs no
        more than cover that governs."""
        by_cover = solve(replace(surveyed(**self.WORK), template_plan=self.plan()))
        found = best_on(by_cover, 0.0, LENGTH, Limits(100.0), fix_ends=False)
        model = self.governed(found.chainage, found.best.level)
        self.assertEqual([p for p in model.problems if p.code == "short_cover"], [])
        self.assertGreaterEqual(float(np.nanmin(model.depth.least)), 0.05 - 1e-9)
        over = found.best.level - by_cover.hinge_level[np.isin(by_cover.chainage, found.chainage)]
        self.assertTrue(((over > -1e-9) & (over < 1.001e-3)).all())
        smooth = best_on(by_cover, 0.0, LENGTH, Limits(0.5), fix_ends=False)
        model = self.governed(smooth.chainage, smooth.best.level)
        self.assertEqual([p for p in model.problems if p.code in ("short_cover", "grade_change")], [])

    def test_what_was_adopted_broke_its_own_limits(self) -> None:
        by_cover = solve(surveyed())
        found = best_on(by_cover, 100.0, 600.0, Limits(0.5, (-4.0, -1.0), 0.05), fix_ends=False)
        np.testing.assert_allclose(found.best.level, np.round(found.best.level, 3), atol=1e-12)
        np.testing.assert_allclose(found.best.pct, np.round(found.best.pct, 2), atol=1e-12)
        rate = np.abs(np.diff(found.best.pct, axis=0)) / np.diff(found.chainage)[:, None]
        self.assertLessEqual(float(rate.max()), 0.05 + 1e-9)

    def test_the_untouched_round_trip_through_a_spreadsheet_made_faults(self) -> None:
        model = solve(surveyed())
        data = write_levels(levels_of(model), GRADE_CHANGE, 60)
        table, _ = read_levels(data, LevelTable())
        again = solve(replace(surveyed(governs={"kind": "level_table"}), levels=table))
        self.assertEqual([p.message for p in again.problems if p.code == "short_cover"], [])
        self.assertEqual(read_levels(data, table)[1], [])

    def test_limits_stood_in_the_formulas(self) -> None:
        sheet = load_workbook(io.BytesIO(write_levels(levels_of(solve(surveyed())), GRADE_CHANGE, 60)))["Levels"]
        for column in "EFGH":
            formula = re.sub(r"\$?[A-Z]\$?\d+", "", str(sheet[f"{column}6"].value))
            numbers = set(re.findall(r"\d+\.?\d*", formula))
            self.assertLessEqual(numbers, {"100", "0"}, column)

    def test_a_message_said_50_mm_where_at_least_50_mm_is_asked_for(self) -> None:
        model = solve(surveyed(governs={"kind": "level_table"}))
        by_cover = solve(surveyed())
        for down, short in ((0.0004, False), (0.0006, True)):
            first = by_cover.stations.first
            table = LevelTable(
                rows=[
                    LevelRow(chainage=float(c), level=float(z - down))
                    for c, z in zip(by_cover.chainage[first], by_cover.hinge_level[first], strict=True)
                ]
            )
            model = solve(replace(surveyed(governs={"kind": "level_table"}), levels=table))
            said = [p.message for p in model.problems if p.code == "short_cover"]
            self.assertEqual(bool(said), short)
            self.assertFalse(any("is 50 mm" in m for m in said))

    def test_written_and_rounded(self) -> None:
        self.assertEqual(
            [written(v, k) for v, k in ((0.0496, "depth"), (-0.0004, "offset"), (None, "level"), (1.23456, "grade"))],
            ["50", "0.000", "", "1.235"],
        )  # type: ignore[arg-type]
        np.testing.assert_allclose(rounded_up(np.array([1.2340, 1.2341, -0.0004]), "level"), [1.234, 1.235, 0.0], atol=1e-12)


class Structure(TestCase):
    def test_a_pit_of_unknown_invert_was_shown_with_one(self) -> None:
        inputs = surveyed()
        a = build(inputs.alignment)
        east, north = (float(v) for v in a.frames(np.array([100.0])).plan(np.array([0]), np.array([2.0]))[0])
        structures = Structures(pits=[Pit(name="P", east=east, north=north, cover=81.0)])
        model = solve(replace(inputs, structures=structures))
        i = int(np.flatnonzero(model.chainage == 100.0)[0])
        (shown,) = section_view(model, i).structures
        self.assertEqual((shown.top, shown.bottom), (81.0, None))
        (deep,) = beneath(structures, a)
        self.assertTrue(np.isnan(deep.bottom))


class WhatNoTestSaw(TestCase):
    """Breaks that every test passed once."""

    def on_the_level(self, **work: Any) -> RoadInputs:
        inputs = level_road()
        old = inputs.treatments.ranges[0]
        return replace(inputs, treatments=TreatmentPlan(ranges=[old.changed(work=old.work.changed(**work).model_dump())]))

    def at(self, model: RoadModel, chainage: float) -> int:
        return int(np.flatnonzero(model.chainage == chainage)[0])

    def test_the_ramp_of_a_tie_is_straight_and_cover_is_not_asked_for_on_it(self) -> None:
        model = solve(self.on_the_level(begin={"length": 40, "notch_mm": 0}))
        for c, t in ((0.0, 0.0), (10.0, 0.25), (20.0, 0.5), (30.0, 0.75), (40.0, 1.0)):
            self.assertAlmostEqual(float(model.hinge_level[self.at(model, c)]), 50 + 0.05 * t, 9)
        self.assertEqual([p for p in model.problems if p.code == "short_cover"], [])

    def test_a_notch_as_deep_as_the_cover_keeps_the_courses_thickness(self) -> None:
        model = solve(self.on_the_level(begin={"length": 40, "notch_mm": 50}))
        np.testing.assert_allclose(model.depth.least, 0.05, atol=1e-9)
        np.testing.assert_allclose(model.depth.greatest, 0.05, atol=1e-9)

    def test_the_difference_on_sheets_is_design_less_existing(self) -> None:
        (row,) = rows_at(section_rows("difference"), Reach(9, 100, ""), 1.8, [])
        columns = [
            Column(0.0, "", existing, None, existing, design, 0.0)
            for existing, design in ((50.0, 50.05), (50.05, 50.0), (50.0, 50.0))
        ]
        self.assertEqual([row.at(c) for c in columns], ["+50", "-50", "0"])

    def test_a_kerb_inside_a_curve_is_shorter(self) -> None:
        # Hinge 1 m right of the axis, lips 3.2 m from it: at 4.2 m inside a right-hand curve of 100 m radius, 2.2 m outside.
        inputs = self.on_the_level(hinge={"by": "offset", "offset": 1.0}, reach="own_width")
        arc = AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=90, elements=[Arc(length=40, radius=100)])
        ranges = [r.changed(to_chainage=40) for r in inputs.treatments.ranges]
        plan = TemplatePlan(ranges=[TemplateRange(from_chainage=0, to_chainage=40, template="village")])
        model = solve(replace(inputs, alignment=arc, treatments=TreatmentPlan(ranges=ranges), template_plan=plan))
        (kerb,) = [r for r in take_off(model).total.rows if r.kind == "length"]
        self.assertAlmostEqual(kerb.length or 0.0, 40 * (1 - 0.042) + 40 * (1 + 0.022), 6)

    def test_a_course_is_carried_inward_too(self) -> None:
        # A shoulder's 150 mm, carried 0.4 m inward under a lane of 50 mm: 0.15 m2 of its own and 0.4 x 0.1 under the lane.
        thin = MakeUp(name="Thin", courses=[Course(name="Top", material="surface", thickness_mm=50)])
        shoulder = MakeUp(
            name="S", courses=[Course(name="Gravel", material="gravel", thickness_mm=150, inner=CarryOn(distance=0.4))]
        )
        points = [
            {"name": "A", "offset": {"kind": "width", "parent": "hinge", "width": 3}, "level": {"kind": "fall", "parent": "hinge", "crossfall_pct": 0}},
            {"name": "B", "offset": {"kind": "width", "parent": "A", "width": 1}, "level": {"kind": "fall", "parent": "A", "crossfall_pct": 0}},
        ]  # fmt: skip
        strips = [
            {"name": "Lane", "kind": "lane", "from_point": "hinge", "to_point": "A", "new": "thin"},
            {"name": "Shoulder", "kind": "shoulder", "from_point": "A", "to_point": "B", "new": "s"},
        ]
        parts = Parts({"thin": thin, "s": shoulder}, dict(starter.KERBS))
        spec = half_with(*points, strips=strips, ladder=LANDS)  # type: ignore[arg-type]
        half = built(compiled(spec, parts), np.zeros(1), np.array([51.0]), flat(50.0))
        self.assertAlmostEqual(float(areas(half)["Shoulder", "Gravel"][0]), 0.15 + 0.04, 9)

    def test_a_guide_counts_on_its_side_of_the_hinge(self) -> None:
        # The hinge stands 1 m right of the axis; a guide half a metre right of the axis lies left of it.
        inputs = self.on_the_level(hinge={"by": "offset", "offset": 1.0}, reach="own_width")
        hold = {
            "by": "pieces",
            "start_chainage": 0,
            "start_offset": 0.5,
            "pieces": [{"kind": "hold", "end": {"by": "chainage", "chainage": 300}}],
        }
        rural = inputs.templates["rural"]
        points = [p.model_dump() for p in rural.right.points]
        points[0]["offset"] = {"kind": "follow", "source": {"by": "guide", "guide": "g"}, "parent": "hinge", "width": 3.25}
        follows = rural.changed(right=rural.right.changed(points=points).model_dump())
        guide = GuideSpec.model_validate({"name": "G", "source": hold})
        model = solve(replace(inputs, templates=inputs.templates | {"rural": follows}, guides={"g": guide}))
        (group,) = model.groups
        at = group.left.half.column("LaneEdge")
        np.testing.assert_allclose(group.left.u[:, at], -0.5, atol=1e-9)
        np.testing.assert_allclose(group.right.u[:, at], 1.0 + 3.25, atol=1e-9)

    def test_turning_that_stays_level_for_long_is_told(self) -> None:
        for per_metre, told in ((1.0, True), (0.001, False)):
            turns = Turns(SUPERELEVATION["uk"].changed(flat_grade_per_metre=per_metre), 100, 6, 2.5, 3.5)
            (found,) = report([Curve(500, 900, 1 / 900, 200, 200)], turns)
            self.assertEqual(any("lets water run off" in r for r in found.remarks), told, found.remarks)
