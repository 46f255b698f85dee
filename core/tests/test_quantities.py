"""Volumes, masses and the bill, against textbook formulas, solids in trimesh and sums."""

import csv
import io
from dataclasses import replace
from unittest import TestCase

import numpy as np
import trimesh
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from demo.documents import TREATMENTS
from saddle.exchange.tables import SUMMARY, quantities_csv, quantities_xlsx
from saddle.figures import FIGURES
from saddle.geometry.areas import polygon
from saddle.geometry.polylines import pack
from saddle.geometry.volumes import end_areas, prismoidal_along, transitions
from saddle.pipeline import solve
from saddle.quantities.bill import as_printed
from saddle.quantities.check import check_volumes
from saddle.quantities.takeoff import items_of, take_off
from saddle.road.model import RoadInputs
from saddle.road.spec import Leave, TreatmentPlan
from saddle.template.parts import Coat
from saddle.views.depth_map import depth_bands, depth_triangles
from tests.cases import demo_inputs, demo_model, own_width


def prismoid(length: float, first: float, middle: float, second: float) -> float:
    return float(prismoidal_along(*(np.array([v]) for v in (length, first, middle, second)))[0])


def volume(length: float, a1: float, a2: float) -> float:
    return float(end_areas(np.array([length]), np.array([a1, a2]))[0])


class Formulas(TestCase):
    """Surveying textbooks; numbers constructed in checks.md section 5."""

    def test_average_end_area(self) -> None:
        self.assertAlmostEqual(volume(20.0, 12.5, 18.3), 308.0, 9)  # 5.1
        self.assertAlmostEqual(volume(100.0, 135.0, 197.0) / 27, 614.815, 3)  # 5.1, in cubic yards from feet

    def test_prismoidal(self) -> None:
        self.assertAlmostEqual(prismoid(20.0, 12.5, 15.2, 18.3), 305.3333, 4)  # 5.2

    def test_prismoidal_correction(self) -> None:
        # 5.3: triangles 2 x 8 and 4 x 14 m, 20 m apart: end areas 360, prismoidal 340 with the middle at mean dimensions.
        self.assertAlmostEqual(volume(20.0, 8.0, 28.0), 360.0, 9)
        self.assertAlmostEqual(prismoid(20.0, 8.0, 3.0 * 11.0 / 2, 28.0), 340.0, 9)

    def test_error_of_end_areas_on_frustum_and_pyramid(self) -> None:
        # 5.7: frustum 100 to 25 m2 over 20 m is 1166.667 m3 exactly; end areas say 1250; a pyramid is over by half.
        exact = 20 / 3 * (100 + 25 + np.sqrt(100 * 25))
        self.assertAlmostEqual(exact, 1166.6667, 3)
        self.assertAlmostEqual(volume(20.0, 100.0, 25.0), 1250.0, 9)
        self.assertAlmostEqual(prismoid(20.0, 100.0, 7.5**2, 25.0), exact, 9)
        self.assertAlmostEqual(volume(20.0, 100.0, 0.0) / (20 * 100 / 3), 1.5, 9)

    def test_curvature_correction(self) -> None:
        # 5.10 (Pappus-Guldin): 20 and 30 m2, centroids 4 and 6 m inside a curve of 150 m, 25 m apart.
        length, area = np.array([25.0]), np.array([20.0, 30.0])
        moment = area * np.array([4.0, 6.0])
        self.assertAlmostEqual(float(end_areas(length, area)[0]), 625.0, 9)
        self.assertAlmostEqual(float(end_areas(length, area, moment, np.array([1 / 150]))[0]), 603.3333, 4)
        self.assertAlmostEqual(float(end_areas(length, area, moment, np.array([-1 / 150]))[0]), 646.6667, 4)

    def test_curved_block_against_an_exact_solid(self) -> None:
        # A 3 x 0.5 m block from 2 to 5 m inside a curve of 60 m radius, swept 1 radian.
        angles = np.linspace(0, 1, 2001)
        ring = np.array([(r, z) for r, z in ((55.0, 0.0), (58.0, 0.0), (58.0, 0.5), (55.0, 0.5))])
        points = np.vstack([np.column_stack([ring[:, 0] * np.cos(a), ring[:, 0] * np.sin(a), ring[:, 1]]) for a in angles])
        faces = []
        for k in range(len(angles) - 1):
            for i in range(4):
                a, b = 4 * k + i, 4 * k + (i + 1) % 4
                faces += [[a, b, b + 4], [a, b + 4, a + 4]]
        last = len(points) - 4
        faces += [[0, 2, 1], [0, 3, 2], [last, last + 1, last + 2], [last, last + 2, last + 3]]
        solid = abs(trimesh.Trimesh(points, faces, process=False).volume)
        area = np.full(11, 1.5)
        ours = end_areas(np.full(10, 6.0), area, area * 3.5, np.full(10, 1 / 60)).sum()
        self.assertAlmostEqual(float(ours) / solid, 1.0, 5)

    @given(st.lists(st.floats(0, 50), min_size=3, max_size=12))
    def test_parts_equal_the_whole(self, areas: list[float]) -> None:
        a = np.array(areas)
        length = np.linspace(5, 20, len(a) - 1)
        split = len(a) // 2
        parts = end_areas(length[:split], a[: split + 1]).sum() + end_areas(length[split:], a[split:]).sum()
        self.assertAlmostEqual(float(parts), float(end_areas(length, a).sum()), 6)

    def test_unknown_stays_unknown_and_no_length_no_volume(self) -> None:
        found = end_areas(np.array([10.0, 0.0, 10.0]), np.array([1.0, np.nan, 5.0, 5.0]))
        np.testing.assert_array_equal(found, [np.nan, 0.0, 50.0])


class CutThatTurnsToFill(TestCase):
    def off(
        self, first: list[tuple[float, float]], second: list[tuple[float, float]], length: float, curvature: float = 0.0
    ) -> float:
        lines = pack([(np.array([o for o, _ in line]), np.array([d for _, d in line])) for line in (first, second)])
        return float(transitions(lines, np.array([length]), np.array([curvature]))[0])

    def test_by_hand(self) -> None:
        # 2 m wide: 1 m of cut turns to 0.5 m of fill over 20 m, the change after 13.33 m. Cut is 2 x 13.33 / 2 = 13.33 m3 where end
        # areas say 20, fill 2 x 0.5 x 6.67 / 2 = 3.33 where they say 10: 6.67 too much of both.
        self.assertAlmostEqual(self.off([(0, -1), (2, -1)], [(0, 0.5), (2, 0.5)], 20.0), 20 / 3, 9)
        self.assertEqual(self.off([(0, -1), (2, -1)], [(0, -0.5), (2, -0.5)], 20.0), 0.0)
        # The same between 3 and 5 m inside a curve of 100 m radius counts as on its own line, which is 4 % shorter.
        self.assertAlmostEqual(self.off([(3, -1), (5, -1)], [(3, 0.5), (5, 0.5)], 20.0, 1 / 100), 0.96 * 20 / 3, 6)

    def test_beside_each_other_nothing_turns(self) -> None:
        # Cut on the left of both sections and fill on the right: end areas are right as they are.
        line: list[tuple[float, float]] = [(-3, -1), (0, 0), (3, 1)]
        self.assertEqual(self.off(line, [(o, 2 * d) for o, d in line], 15.0), 0.0)

    @given(st.integers(0, 10**6))
    def test_against_plain_summing(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        lines = []
        for _ in range(2):
            o = np.sort(rng.uniform(-5, 5, 6))
            d = np.r_[0.0, rng.uniform(-1, 1, 4), 0.0]
            zero = [o[k] - d[k] * (o[k + 1] - o[k]) / (d[k + 1] - d[k]) for k in range(5) if d[k] * d[k + 1] < 0]
            every = np.sort(np.r_[o, zero])
            lines.append((every, np.interp(every, o, d)))
        x, t = np.linspace(-5, 5, 4001), (np.arange(200) + 0.5) / 200
        d1, d2 = (np.interp(x, o, d, left=0, right=0) for o, d in lines)
        straight = np.maximum(d1[:, None] * (1 - t) + d2[:, None] * t, 0).mean(axis=1)
        ends = (np.maximum(d1, 0) + np.maximum(d2, 0)) / 2
        off = float(np.trapezoid(ends - straight, x)) * 10
        found = float(transitions(pack(lines), np.array([10.0]), np.zeros(1))[0])
        self.assertAlmostEqual(found, off, delta=2e-3)

    def test_on_the_road_more_sections_need_it_less(self) -> None:
        model, halved = solve(demo_inputs()), solve(demo_inputs(), middles=True)
        found = check_volumes(model, halved)
        self.assertGreater(take_off(model).transition, take_off(halved).transition)
        for row in found.rows:
            self.assertAlmostEqual(row.prismoidal, (4 * row.halved - row.end_areas) / 3, delta=2e-3 * max(1.0, row.halved))
        self.assertLess(abs(found.balance.open), 1e-9)
        self.assertTrue(found.middles)
        self.assertEqual({r.name for r in found.rows}, {r.name for r in take_off(model).total.rows if r.kind != "length"})


class Middles(TestCase):
    def test_sections_where_it_differs_most_bring_the_bill_nearer_to_the_truth(self) -> None:
        """The truth: sections every 2.5 m."""
        inputs = demo_inputs()

        def at(interval: float, extra: list[float]) -> RoadInputs:
            return replace(inputs, settings=inputs.settings.changed(interval=interval, extra=extra))

        def bill(of: RoadInputs) -> dict[str, float]:
            return {r.name: r.volume for r in take_off(solve(of)).total.rows if r.volume is not None}

        truth, plain = bill(at(2.5, [])), at(40.0, [])
        found = check_volumes(solve(plain), solve(plain, middles=True))
        self.assertEqual(found.middles, sorted(found.middles))
        before, after = bill(plain), bill(at(40.0, found.middles))
        for name in ("Regulating course", "Fill"):
            self.assertLess(abs(after[name] - truth[name]), 0.7 * abs(before[name] - truth[name]), name)


class Bill(TestCase):
    def test_masses(self) -> None:
        # 1200 m3 of crushed rock at 2.2 t/m3 are 2640 t (checks 9.5, common practice): every row obeys volume x density.
        bill = take_off(demo_model())
        densities = {m.name: m.density for m in demo_inputs().materials.values()}
        weighed = [r for r in bill.total.rows if r.mass is not None]
        self.assertGreater(len(weighed), 6)
        for r in weighed:
            self.assertAlmostEqual(r.mass or 0, (r.volume or 0) * densities[r.material], 9)

    def test_treatments_add_up_to_the_total(self) -> None:
        bill = take_off(demo_model())
        for total in bill.total.rows:
            parts = [
                r for g in bill.groups for r in g.rows if (r.kind, r.name, r.material) == (total.kind, total.name, total.material)
            ]
            for field in ("volume", "mass", "length"):
                whole = getattr(total, field)
                if whole is not None:
                    self.assertAlmostEqual(sum(getattr(r, field) for r in parts), whole, 8)

    def test_splitting_a_treatment_changes_no_total(self) -> None:
        first, *rest = TREATMENTS.ranges
        halves = [first.changed(to_chainage=155.0), first.changed(from_chainage=155.0)]
        split = solve(replace(demo_inputs(), treatments=TreatmentPlan(ranges=[*halves, *rest])))
        # The extra section at 155 measures the ground better, so compare with the same section in both.
        extra = demo_inputs().settings.changed(extra=[155.0, 872.0])
        whole = solve(replace(demo_inputs(), settings=extra))
        for a, b in zip(take_off(split).total.rows, take_off(whole).total.rows, strict=True):
            np.testing.assert_allclose([a.volume or 0, a.length or 0], [b.volume or 0, b.length or 0], atol=1e-7)

    def test_kerbs_of_both_sides(self) -> None:
        # 420 m of village street on both sides: lengths left and right of the curve balance about the axis.
        (kerb,) = [r for r in take_off(solve(own_width(demo_inputs()))).total.rows if r.kind == "length"]
        self.assertAlmostEqual(kerb.length or 0, 840.0, 6)

    def test_surface_course_volume_by_hand(self) -> None:
        # 40 mm over 2 x 3.2 m for 420 m of village; the axis correction of both sides cancels.
        (village,) = [r for r in take_off(solve(own_width(demo_inputs()))).groups[0].rows if r.name == "Surface course"]
        self.assertAlmostEqual(village.volume or 0, 0.04 * 6.4 * 420, 6)

    def test_leave_holds_nothing(self) -> None:
        bill = take_off(demo_model())
        self.assertEqual(bill.groups[-1].title, "Leave")
        self.assertEqual(bill.groups[-1].rows, [])

    def test_a_side_slope_that_finds_no_ground_is_told_as_unknown(self) -> None:
        settings = demo_inputs().settings.changed(left=-4.5, right=4.5)
        bill = take_off(solve(replace(demo_inputs(), settings=settings)))
        cut = next(r for r in bill.total.rows if r.kind == "cut")
        self.assertGreater(cut.unknown_length, 100)
        self.assertTrue(any(a is None for s in bill.sections for a in s.areas))

    def test_sections_list_every_area(self) -> None:
        model = demo_model()
        bill = take_off(model)
        items = [i for i in items_of(model) if i.kind != "length"]
        self.assertEqual(len(bill.columns), len(items))
        for s, i in zip(bill.sections, range(len(model.chainage)), strict=True):
            self.assertEqual(s.chainage, model.chainage[i])
            np.testing.assert_allclose([np.nan if a is None else a for a in s.areas], [item.area[i] for item in items])


class AreaOfCourses(TestCase):
    def test_a_flush_course_has_its_volume_by_its_thickness(self) -> None:
        """Prism and Pappus-Guldin: a course of one thickness that is cut upright has volume = area in plan times thickness, on
        straights and arcs alike."""
        for corrected in (True, False):
            inputs = demo_inputs()
            inputs = replace(inputs, settings=inputs.settings.changed(curvature_correction=corrected))
            rows = {r.name: r for r in take_off(solve(inputs)).total.rows if r.kind == "course"}
            for name, thickness in (("Surface course", 0.040), ("Binder course", 0.060), ("Path surface", 0.030)):
                self.assertAlmostEqual(rows[name].volume or 0.0, thickness * (rows[name].area or 0.0), 6, name)


class SprayedAndSet(TestCase):
    def test_a_coat_is_as_wide_as_the_course_on_it_and_weighs_by_its_rate(self) -> None:
        """0.3 kg/m2 of tack coat beneath the surface course: its square metres are that course's."""
        inputs = demo_inputs()
        coat = Coat(name="Tack coat", rate=0.3)
        make_ups = {
            key: m.changed(courses=[c.changed(coat=coat) if c.name == "Surface course" else c for c in m.courses])
            for key, m in inputs.make_ups.items()
        }
        rows = {(r.kind, r.name): r for r in take_off(solve(replace(inputs, make_ups=make_ups))).total.rows}
        tack, surface = rows["coat", "Tack coat"], rows["course", "Surface course"]
        self.assertAlmostEqual(tack.area or 0.0, surface.area or 0.0, 6)
        self.assertAlmostEqual(tack.mass or 0.0, 0.0003 * (surface.area or 0.0), 9)
        self.assertIsNone(tack.volume)
        # Nothing else changed by it.
        plain = {(r.kind, r.name): r for r in take_off(demo_model()).total.rows}
        for key, row in plain.items():
            self.assertEqual(row, rows[key])
        check = check_volumes(*(solve(replace(inputs, make_ups=make_ups), middles=m) for m in (False, True)))
        self.assertNotIn("Tack coat", {r.name for r in check.rows})

    def test_two_rates_of_one_name_are_one_row(self) -> None:
        inputs = demo_inputs()
        make_ups = {
            key: m.changed(courses=[c.changed(coat=Coat(name="Tack coat", rate=0.2 + 0.1 * k)) for k, c in enumerate(m.courses)])
            for key, m in inputs.make_ups.items()
        }
        (tack,) = (r for r in take_off(solve(replace(inputs, make_ups=make_ups))).total.rows if r.kind == "coat")
        courses = [r for r in take_off(demo_model()).total.rows if r.kind == "course"]
        self.assertAlmostEqual(tack.area or 0.0, sum(r.area or 0.0 for r in courses), 6)
        self.assertTrue(0.0002 * (tack.area or 0) < (tack.mass or 0) < 0.0006 * (tack.area or 0))

    def test_kerbs_are_counted_in_whole_pieces_of_every_treatment(self) -> None:
        inputs = demo_inputs()
        kerbs = {key: k.changed(piece_mm=915.0) for key, k in inputs.kerbs.items()}
        bill = take_off(solve(replace(inputs, kerbs=kerbs)))
        (total,) = (r for r in bill.total.rows if r.kind == "length")
        self.assertEqual(total.pieces, int(np.ceil((total.length or 0) / 0.915)))
        (printed,) = (r for r in as_printed(bill).total.rows if r.kind == "length")
        parts = [r for g in bill.groups for r in g.rows if r.kind == "length"]
        self.assertEqual(printed.pieces, sum(int(np.ceil((r.length or 0) / 0.915)) for r in parts))
        self.assertIsNone(next(r for r in take_off(demo_model()).total.rows if r.kind == "length").pieces)


class DepthInPlan(TestCase):
    def test_bands_add_up_to_the_overlay(self) -> None:
        triangles = depth_triangles(demo_model())
        bands = depth_bands(triangles, (50, 60, 75, 100, 150))
        total = float(triangles.area.sum())
        self.assertAlmostEqual(sum(b.area for b in bands), total, delta=1e-6 * total)
        self.assertLess(bands[0].area, 1e-6)  # nowhere less than the cover
        for band in bands:
            self.assertAlmostEqual(sum(polygon(r)[0] for p in band.polygons for r in p), band.area, delta=1e-4 * total)

    def test_plan_area_is_width_times_length(self) -> None:
        d, c = demo_model().depth, demo_model().chainage
        width = np.where(np.isfinite(d.left), d.right - d.left, 0.0)
        same = demo_model().stations.treatment[1:] == demo_model().stations.treatment[:-1]
        expected = (np.diff(c) * (width[1:] + width[:-1]) / 2)[same].sum()
        self.assertAlmostEqual(float(depth_triangles(demo_model()).area.sum()) / expected, 1.0, 3)

    def test_no_overlay_no_map(self) -> None:
        plan = TreatmentPlan(ranges=[TREATMENTS.ranges[0].changed(work=Leave())])
        triangles = depth_triangles(solve(replace(demo_inputs(), treatments=plan)))
        self.assertEqual(sum(b.area for b in depth_bands(triangles, (50, 60, 75, 100, 150))), 0.0)

    def test_volume_in_plan_agrees_with_end_areas(self) -> None:
        """The same asphalt twice: prisms under the map's triangles (checks 5.8) and average end areas."""
        triangles = depth_triangles(demo_model())
        prisms = float((triangles.area * triangles.depth.mean(axis=1)).sum())
        d, c = demo_model().depth, demo_model().chainage
        area = np.where(np.isfinite(d.mean), d.mean * (d.right - d.left), 0.0)
        same = demo_model().stations.treatment[1:] == demo_model().stations.treatment[:-1]
        ends = float((np.diff(c) * (area[1:] + area[:-1]) / 2)[same].sum())
        self.assertAlmostEqual(prisms / ends, 1.0, 2)


class Tables(TestCase):
    def test_csv_and_xlsx_hold_the_same_figures(self) -> None:
        bill = take_off(demo_model())
        rows = list(csv.reader(io.StringIO(quantities_csv(bill))))
        book = load_workbook(io.BytesIO(quantities_xlsx(bill)))
        summary = [[c.value for c in r] for r in book["Summary"].iter_rows()]
        blank = rows.index([])
        self.assertEqual(len(summary), blank)
        for ours, theirs in zip(rows[:blank], summary, strict=True):
            for text, value, (_, kind) in zip(ours, theirs, SUMMARY, strict=True):
                if isinstance(value, str) and value.startswith("=SUM("):
                    cells = [
                        c
                        for part in value[5:-1].split(",")
                        for row in book["Summary"][part if ":" in part else f"{part}:{part}"]
                        for c in row
                    ]
                    self.assertAlmostEqual(float(text), sum(float(c.value or 0) for c in cells), 6)  # type: ignore[arg-type]
                elif isinstance(value, int | float) and kind is not None:
                    self.assertEqual(text, f"{value:.{FIGURES[kind].decimals}f}")
                else:
                    self.assertEqual(text, value or "")
        sections = list(book["Sections"].iter_rows(values_only=True))
        self.assertEqual(len(sections) - 1, len(bill.sections))
        self.assertAlmostEqual(sections[5][2], bill.sections[4].areas[0], 12)

    def test_a_name_is_never_a_formula(self) -> None:
        bill = take_off(demo_model())
        evil = bill.total.rows[0].model_copy(update={"name": "=1+1"})
        bill = bill.model_copy(update={"total": bill.total.model_copy(update={"rows": [evil]})})
        self.assertIn("'=1+1", quantities_csv(bill))
