"""The whole road: stations, the demo solved, balance, cover, caching."""

import subprocess
import sys
from dataclasses import replace
from pathlib import Path
from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from demo import road as truth
from demo.documents import TREATMENTS
from saddle.alignment.alignment import build
from saddle.alignment.spec import Arc
from saddle.geometry.areas import cut_and_fill
from saddle.geometry.polylines import Polylines
from saddle.guides.evaluate import Sources, line_of
from saddle.guides.spec import AtOffset, LineSource, NearestLine
from saddle.pipeline import solve
from saddle.road.model import RoadInputs
from saddle.road.spec import (
    Leave,
    Overlay,
    Reconstruct,
    SectionSettings,
    TemplatePlan,
    TemplateRange,
    Treatment,
    TreatmentPlan,
    put_range,
)
from saddle.road.stations import AFTER, BEFORE, merged, place_stations, spans_of, station_rules
from saddle.stages.keys import digest
from saddle.stages.run import Run
from saddle.template.compiled import surface_columns
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.tin import Tin
from saddle.views.section import section_view
from tests.cases import demo_inputs, demo_model
from tests.templates import areas, imbalance

ON_EDGES = Overlay(left_edge=NearestLine(code="EP"), right_edge=NearestLine(code="EP"))


def treatment(low: float, high: float, cover: float = 50.0) -> Treatment:
    return Treatment(from_chainage=low, to_chainage=high, work=ON_EDGES.changed(least_cover_mm=cover))


class Ranges(TestCase):
    def test_laid_over_cuts_splits_and_joins(self) -> None:
        plan = [treatment(0, 100), treatment(100, 200, 60)]
        found = put_range(plan, treatment(40, 120, 70), 40, 120)
        self.assertEqual([(r.from_chainage, r.to_chainage) for r in found], [(0, 40), (40, 120), (120, 200)])
        back = put_range(found, treatment(40, 100), 40, 100)
        self.assertEqual([(r.from_chainage, r.to_chainage) for r in back], [(0, 100), (100, 120), (120, 200)])
        inside = put_range([treatment(0, 100)], None, 30, 40)
        self.assertEqual([(r.from_chainage, r.to_chainage) for r in inside], [(0, 30), (40, 100)])

    @given(st.lists(st.tuples(st.integers(0, 50), st.integers(1, 30), st.integers(1, 3)), max_size=12))
    def test_the_last_laid_shows_everywhere(self, laid: list[tuple[int, int, int]]) -> None:
        plan: list[Treatment] = []
        painted = np.zeros(200, dtype=int)
        for start, length, cover in laid:
            plan = put_range(plan, treatment(start, start + length, cover), start, start + length)
            painted[start : start + length] = cover
        again = np.zeros(200, dtype=int)
        for r in TreatmentPlan(ranges=plan).ranges:
            assert isinstance(r.work, Overlay)
            again[int(r.from_chainage) : int(r.to_chainage)] = int(r.work.least_cover_mm)
        np.testing.assert_array_equal(painted, again)

    def test_backward_and_overlapping_ranges_are_refused(self) -> None:
        with self.assertRaisesRegex(ValidationError, "must end after it begins"):
            treatment(10, 10)
        with self.assertRaisesRegex(ValidationError, "overlap near chainage 5"):
            TreatmentPlan(ranges=[treatment(0, 10), treatment(5, 20)])
        for bad in (float("nan"), float("inf")):
            with self.assertRaises(ValidationError):
                treatment(0, bad)


class Stations(TestCase):
    ROAD = build(truth.ALIGNMENT)

    def place(self, **settings: object):  # type: ignore[no-untyped-def]
        plan = TreatmentPlan(ranges=[treatment(0, 100), treatment(100, 205)])
        return place_stations(self.ROAD, station_rules(SectionSettings(**settings)), spans_of(plan), ())  # type: ignore[arg-type]

    def test_interval_key_points_and_changes(self) -> None:
        s = self.place(interval=50.0, extra=[72.5, 50.0004])
        head = s.chainage[s.chainage <= 250]
        np.testing.assert_allclose(head, [0, 50.0004, 72.5, 100, 100, 150, 200, 205, 205, 210, 250])
        np.testing.assert_array_equal(s.side[3:5], [BEFORE, AFTER])
        np.testing.assert_array_equal(s.treatment[2:6], [0, 0, 1, 1])
        np.testing.assert_array_equal(s.treatment[7:9], [1, -1])
        self.assertEqual(s.chainage[-1], self.ROAD.end)

    def test_ranges_that_all_but_meet_do(self) -> None:
        """Figures of tables are rounded: 5 mm are the end, more is not."""
        end = self.ROAD.end
        for short, meets in ((0.0004, True), (0.0049, True), (0.0051, False), (0.4, False)):
            spans = ((0.0003, 100.0), (100.0 + short, end - short))
            s = place_stations(self.ROAD, station_rules(SectionSettings(interval=50.0)), spans, ())
            self.assertEqual((s.treatment[0], s.chainage[-1]), (0, end))
            self.assertEqual(s.treatment[-1], 1 if meets else -1, short)
            self.assertEqual(bool((s.treatment == -1).any()), not meets)
            self.assertEqual((np.abs(s.chainage - end) < 1).sum(), 1 if meets else 3)

    def test_without_key_points_tangents_get_none(self) -> None:
        self.assertNotIn(440.0, self.place(interval=25.0, key_points=False).chainage.tolist())
        self.assertIn(440.0, self.place(interval=25.0).chainage.tolist())

    def test_close_ones_are_merged(self) -> None:
        np.testing.assert_array_equal(merged(np.array([5.0, 1.0, 1.0005, 1.0011])), [1.0, 1.0011, 5.0])


class SurveyLinesMet(TestCase):
    FRAMES = build(truth.ALIGNMENT).frames(np.array([20.0, 50.0, 100.0]))

    def line(self, *at: tuple[float, float]) -> SurveyLines:
        a = build(truth.ALIGNMENT)
        c, o = np.array(at).T
        p = np.column_stack([a.frames(c).plan(np.arange(len(c)), o), np.zeros(len(c))])
        return SurveyLines(p[:-1], p[1:])

    def offsets(self, source: LineSource, lines: SurveyLines | None, side: int) -> np.ndarray:
        sources = Sources(build(truth.ALIGNMENT), {"EP": lines} if lines else {}, {})
        return line_of(source, self.FRAMES, sources, side).offset

    def test_nearest_on_the_side_within_reach(self) -> None:
        near, far = self.line((10, 3.0), (60, 4.0)), self.line((10, 9.0), (120, 9.0))
        both = SurveyLines(np.vstack([near.start, far.start]), np.vstack([near.end, far.end]))
        source = NearestLine(code="EP", within=10.0)
        np.testing.assert_allclose(self.offsets(source, both, 1), [3.2, 3.8, 9.0], atol=1e-6)
        self.assertTrue(np.isnan(self.offsets(source, both, -1)).all())
        self.assertTrue(np.isnan(self.offsets(NearestLine(code="EP", within=5.0), both, 1)[2]))
        self.assertTrue(np.isnan(self.offsets(source, None, 1)).all())
        np.testing.assert_array_equal(self.offsets(AtOffset(offset=-2.0), both, -1), -2.0)

    def test_a_line_rounded_short_of_the_section_still_meets_it(self) -> None:
        line = self.line((20.004, 3.0), (40.0, 3.0))
        self.assertAlmostEqual(self.offsets(NearestLine(code="EP"), line, 1)[0], 3.0, 6)


def mirrored(inputs: RoadInputs) -> RoadInputs:
    """The same road seen in a mirror that stands north to south."""
    turn = np.array([-1.0, 1.0, 1.0])
    a = inputs.alignment
    elements = [e.changed(radius=-e.radius) if isinstance(e, Arc) else e for e in a.elements]
    ranges = [
        r
        if isinstance(r.work, Leave)
        else r.changed(
            work=r.work.changed(
                left_edge=r.work.right_edge,
                right_edge=r.work.left_edge,
                left_crossfall=r.work.right_crossfall,
                right_crossfall=r.work.left_crossfall,
            )
        )
        for r in inputs.treatments.ranges
    ]
    return replace(
        inputs,
        alignment=a.changed(start_east=-a.start_east, start_bearing_deg=-a.start_bearing_deg, elements=elements),
        surface=Tin(inputs.surface.points * turn, inputs.surface.triangles[:, ::-1].copy()),
        lines={code: SurveyLines(x.start * turn, x.end * turn) for code, x in inputs.lines.items()},
        treatments=TreatmentPlan(ranges=ranges),
    )


class DemoSolved(TestCase):
    """The made-up road. Its truth is known, so the survey must lead back to it."""

    def test_hinge_and_edges_come_back_from_the_survey(self) -> None:
        model = demo_model()
        rows = np.flatnonzero(np.isfinite(model.lines.left_edge))
        expected = -truth.half_width(model.chainage[rows], -1)
        np.testing.assert_allclose(model.lines.left_edge[rows], expected, atol=0.1)  # chords between shots
        np.testing.assert_allclose(model.lines.existing_hinge[rows], truth.crown_level(model.chainage[rows]), atol=0.03)

    def test_cover_holds_everywhere_and_is_met_somewhere(self) -> None:
        model = demo_model()
        overlay = np.array([isinstance(model.work_at(i), Overlay) for i in range(len(model.chainage))])
        self.assertGreater(overlay.sum(), 100)
        depth = model.depth.design[overlay] - model.depth.existing[overlay]
        np.testing.assert_allclose(np.nanmin(depth, axis=1), 0.05, atol=1e-6)
        self.assertTrue(np.isnan(model.depth.least[~overlay]).all())

    def test_layers_balance_on_every_section(self) -> None:
        """Design surface to lowest floor equals courses, kerbs and beds, to 1e-6 m2."""
        model = demo_model()
        for group in model.groups:
            for half in (group.left, group.right):
                np.testing.assert_allclose(imbalance(half), 0, atol=1e-6)
                columns = surface_columns(half.half)
                u, z = [half.u[:, columns], half.slopes.u[:, 1:]], [half.z[:, columns], half.slopes.z[:, 1:]]
                surface = Polylines(np.concatenate(u, axis=1), np.concatenate(z, axis=1))
                floor = Polylines(half.layers.offsets, half.layers.floor)
                over, under = cut_and_fill(surface, floor, half.u[:, 0], half.slopes.catch_offset)
                np.testing.assert_allclose(over.area, sum(areas(half).values()), atol=1e-6)
                np.testing.assert_allclose(under.area, 0, atol=1e-9)

    def test_existing_to_design_differences_add_up(self) -> None:
        """Net area between design and existing = courses + kerbs + beds + fill - cut."""
        model = demo_model()
        for group in model.groups:
            layers = sum(area for h in (group.left, group.right) for area in areas(h).values())
            for k, row in enumerate(group.rows):
                view = section_view(model, int(row))
                design = np.array(view.design)
                line = Polylines(design[None, :, 0], design[None, :, 1])
                ends = np.array([design[0, 0]]), np.array([design[-1, 0]])
                below, above = cut_and_fill(model.existing.rows(slice(row, row + 1)), line, *ends)
                net = above.area[0] - below.area[0]
                self.assertAlmostEqual(net, layers[k] + model.earthworks.fill[row] - model.earthworks.cut[row], 6)

    def test_reconstruction_is_bridged_straight(self) -> None:
        model = demo_model()
        rows = [i for i in range(len(model.chainage)) if isinstance(model.work_at(i), Reconstruct)]
        c, z = model.chainage[rows], model.hinge_level[rows]
        np.testing.assert_allclose(z, np.interp(c, [c[0], c[-1]], [z[0], z[-1]]), atol=1e-12)
        self.assertEqual(z[0], model.hinge_level[rows[0] - 1])
        self.assertEqual(z[-1], model.hinge_level[rows[-1] + 1])

    def test_catch_points_lie_on_the_ground(self) -> None:
        model = demo_model()
        for group in model.groups:
            for half in (group.left, group.right):
                for k, row in enumerate(group.rows):
                    o, z = model.existing.row(int(row))
                    level = np.interp(half.side * half.slopes.catch_offset[k], o, z)
                    self.assertAlmostEqual(level, half.slopes.catch_level[k], 9)

    def test_leave_has_no_design(self) -> None:
        model = demo_model()
        last = len(model.chainage) - 1
        self.assertIsInstance(model.work_at(last), Leave)
        view = section_view(model, last)
        self.assertEqual((view.design, view.layers, view.hinge), ([], [], None))
        self.assertGreater(len(view.existing[0]), 5)

    def test_one_section_alone_is_as_in_the_whole(self) -> None:
        model = demo_model()
        for row in (12, 80, 130):
            alone = solve(demo_inputs(), pick=lambda _, row=row: np.array([row]))
            one, whole = section_view(alone, 0), section_view(model, row)
            self.assertEqual((one.points, one.slopes, one.design), (whole.points, whole.slopes, whole.design))
            assert one.depth is not None and whole.depth is not None
            np.testing.assert_allclose([*one.depth.model_dump().values()], [*whole.depth.model_dump().values()], atol=1e-12)
            self.assertAlmostEqual(one.cut or 0, whole.cut or 0, 9)

    def test_mirrored_road_gives_mirrored_sections(self) -> None:
        """East and west changed over, left and right with them: every level and area stays."""
        model = demo_model()
        twin = solve(mirrored(demo_inputs()))
        np.testing.assert_allclose(twin.hinge_level, model.hinge_level, atol=1e-6)
        np.testing.assert_allclose(twin.depth.left, -model.depth.right, atol=1e-6)
        np.testing.assert_allclose(twin.earthworks.cut, model.earthworks.cut, atol=1e-6)
        np.testing.assert_allclose(twin.earthworks.cut_moment, -model.earthworks.cut_moment, atol=1e-5)
        for a, b in zip(model.groups, twin.groups, strict=True):
            np.testing.assert_allclose(a.left.slopes.catch_offset, b.right.slopes.catch_offset, atol=1e-5)


class Problems(TestCase):
    def codes(self, **change: object) -> set[str]:
        return {p.code for p in solve(replace(demo_inputs(), **change)).problems}  # type: ignore[arg-type]

    def with_work(self, work: Overlay) -> TreatmentPlan:
        return TreatmentPlan(ranges=[Treatment(from_chainage=800, to_chainage=900, work=work)])

    def test_the_demo_shows_what_it_should(self) -> None:
        self.assertEqual({p.code for p in demo_model().problems}, {"deep", "level_step", "grade_change", "flat"})

    def test_missing_lines_templates_and_ground(self) -> None:
        lost = ON_EDGES.changed(left_edge=NearestLine(code="XX"))
        self.assertIn("no_edge", self.codes(treatments=self.with_work(lost)))
        self.assertIn("no_hinge", self.codes(treatments=self.with_work(ON_EDGES.changed(hinge=NearestLine(code="XX")))))
        self.assertIn("no_template", self.codes(treatments=self.with_work(ON_EDGES), template_plan=TemplatePlan()))
        narrow = SectionSettings(left=-4.3, right=4.3)
        self.assertIn("no_catch", self.codes(settings=narrow))
        outside = Overlay(left_edge=AtOffset(offset=-60.0), right_edge=AtOffset(offset=60.0))
        self.assertNotIn("no_edge", self.codes(treatments=self.with_work(outside)))

    def test_a_broken_template_is_told_and_the_rest_stands(self) -> None:
        gone = TemplateRange(from_chainage=0, to_chainage=400, template="gone")
        rural = TemplateRange(from_chainage=400, to_chainage=1610, template="rural")
        plan = TemplatePlan(ranges=[gone, rural])
        model = solve(replace(demo_inputs(), template_plan=plan))
        (found,) = [p for p in model.problems if p.code == "template"]
        self.assertIn("gone", found.message)
        self.assertTrue(np.isfinite(model.hinge_level[(model.chainage > 500) & (model.chainage < 600)]).all())

    def test_thin_courses_and_rising_crossfall(self) -> None:
        thin = Overlay(
            least_cover_mm=10.0, left_crossfall={"by": "given", "pct": 2.0}, right_crossfall={"by": "given", "pct": 2.0}
        )  # type: ignore[arg-type]
        found = self.codes(treatments=self.with_work(thin))
        self.assertIn("thin_courses", found)
        self.assertIn("rises_outward", found)

    def test_a_gap_under_the_road_is_told(self) -> None:
        inputs = demo_inputs()
        tin = inputs.surface
        middle = tin.points[tin.triangles, :2].mean(axis=1)
        a = build(truth.ALIGNMENT)
        c, o = a.locate(middle)
        keep = ~((c > 840) & (c < 860) & (np.abs(o) < 2))
        hole = type(tin)(tin.points.copy(), tin.triangles[keep].copy())
        model = solve(replace(inputs, surface=hole, treatments=self.with_work(ON_EDGES)))
        self.assertIn("no_surface", {p.code for p in model.problems})
        self.assertTrue(np.isnan(model.hinge_level[model.chainage == 850.0]).all())


class Caching(TestCase):
    def test_an_edit_recomputes_only_what_depends_on_it(self) -> None:
        run = Run()
        inputs = demo_inputs()

        def computed(inputs: RoadInputs) -> list[str]:
            before = len(run.cache.computed)
            self.assertTrue(solve(inputs, run).problems)
            return [name.split(".")[-1] for name in run.cache.computed[before:]]

        self.assertIn("build_group", computed(inputs))
        self.assertEqual(computed(inputs), [])
        first_range, *others = TREATMENTS.ranges
        warned = first_range.changed(work=first_range.work.changed(look_again_mm=60))
        changed = computed(replace(inputs, treatments=TREATMENTS.changed(ranges=[warned, *others])))
        # Where the shape comes out as it was, nothing that is built on it is built again.
        self.assertEqual(
            sorted(changed),
            [
                "bounds_at",
                "designs_for",
                "find_problems",
                *["footing_of"] * 5,
                *["group_used"] * 5,
                "guides_in_use",
                "levels_for",
                "overlay_depth",
                "rows_in_use",
            ],
        )

    def test_cached_and_fresh_are_the_same(self) -> None:
        run = Run()
        inputs = demo_inputs()
        for interval in (10.0, 20.0, 10.0):
            changed = replace(inputs, settings=inputs.settings.changed(interval=interval))
            a, b = solve(changed, run), solve(changed)
            np.testing.assert_array_equal(a.hinge_level, b.hinge_level)
            np.testing.assert_array_equal(a.earthworks.cut, b.earthworks.cut)

    def test_digest_tells_contents_apart(self) -> None:
        self.assertNotEqual(digest([1, 2], [3]), digest([1], [2, 3]))
        self.assertNotEqual(digest(np.array([1.0])), digest(np.array([1])))
        self.assertNotEqual(digest("1"), digest(1))
        self.assertNotEqual(digest({"a": [1]}, []), digest({"a": []}, [1]))
        with self.assertRaisesRegex(TypeError, "no key for a function"):
            digest(lambda: 1)


class Houses(TestCase):
    def test_the_core_needs_no_django(self) -> None:
        """Every module of the core is imported with Django barred."""
        code = (
            "import sys, pkgutil, importlib\n"
            "class Bar:\n"
            "    def find_spec(self, name, *rest):\n"
            "        if name.split('.')[0] in ('django', 'ninja'): raise ImportError('barred: ' + name)\n"
            "sys.meta_path.insert(0, Bar())\n"
            "import saddle\n"
            "for m in pkgutil.walk_packages(saddle.__path__, 'saddle.'): importlib.import_module(m.name)\n"
        )
        core = Path(__file__).resolve().parent.parent
        done = subprocess.run([sys.executable, "-c", code], cwd=core, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)
