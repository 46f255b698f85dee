"""Best levels: the closed form, optimality by the dual, limits kept, conflicts named; change of grade as published."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.errors import GeometryError
from saddle.geometry.polylines import interpolate
from saddle.overlay.best_levels import Conflict, best_levels
from saddle.overlay.governing import kerb_to_kerb
from saddle.overlay.level_needs import Ends, Limits, Needs, station_weights, volume_of
from saddle.overlay.spec import LevelRow, LevelTable, MillingPlan
from saddle.pipeline import solve
from saddle.road.grades import changes_along
from saddle.road.levels import best_on, levels_of
from saddle.standards.grade_change import speed_for
from saddle.standards.published import GRADE_CHANGE
from tests.cases import demo_inputs, demo_model
from tests.depth import many

Side = tuple[np.ndarray, np.ndarray]


def straight(
    chainage: np.ndarray,
    hinge: np.ndarray,
    width: np.ndarray,
    sides: tuple[Side, Side],
    pct: np.ndarray,
    fixed: np.ndarray | None = None,
    lip: np.ndarray | None = None,
) -> Needs:
    """Sections that fall straight from hinge to limit: z(o) = zh + s/100 * |o - h|. sides: of each the distances (n, k) of what
    must be kept from the hinge and its level above the existing hinge; width: (n, 2); lip: (n, 2) levels of the ends."""  # fmt: skip
    n, far = len(chainage), [d for d, _ in sides]
    short = np.concatenate([need - pct[:, k : k + 1] / 100 * d for k, (d, need) in enumerate(sides)], axis=1)
    left, right = np.concatenate([far[0], 0 * far[1]], axis=1) / 100, np.concatenate([0 * far[0], far[1]], axis=1) / 100
    area = np.column_stack([width.sum(axis=1), width**2 / 200])
    ends = None if lip is None else Ends(lip - hinge[:, None] - pct / 100 * width, np.ones((n, 2)), width / 100)
    nothing = np.full(n, np.nan)
    return Needs(chainage, hinge, pct, short, np.ones_like(short), left, right, area, nothing if fixed is None else fixed, ends)


def needs(chainage: np.ndarray, hinge: np.ndarray, need: np.ndarray, fixed: np.ndarray | None = None) -> Needs:
    """Sections whose only needs are at the hinge, 1 m wide on both sides, level crossfalls."""
    n = len(chainage)
    one = np.zeros((n, 1)), (need - hinge)[:, None]
    return straight(chainage, hinge, np.ones((n, 2)), (one, one), np.zeros((n, 2)), fixed)


class MillimetresApart(TestCase):
    """Sections that stand millimetres apart share one level of the program: the old hinge between them bends, and either may need more."""

    def test_what_the_second_needs_is_kept_as_well(self) -> None:
        for rise in (0.03, -0.03):
            x, z = np.array([0.0, 10.0, 10.002, 20.0]), np.array([0.0, 0.0, rise, 0.0])
            found = best_levels(needs(x, z, z + 0.04), Limits(50.0, written=True))
            over = found.level - z
            self.assertGreaterEqual(over.min(), 0.04 - 1e-6)
            self.assertAlmostEqual(over[1:3].min(), 0.04, 6)  # and nothing more than the higher of both asks for


class ClosedForm(TestCase):
    """Checks 12.6: one bump of 60 mm, least thickness 40 mm, 0.5 % change of grade at 10 m. Constructed; the split between
    the two neighbours is not unique, so their sum is tested."""

    def setUp(self) -> None:
        self.x = np.arange(11) * 10.0
        self.z = np.where(np.arange(11) == 5, 0.06, 0.0)

    def test_sum_peak_and_neighbours(self) -> None:
        found = best_levels(needs(self.x, self.z, self.z + 0.04), Limits(0.5))
        self.assertAlmostEqual(found.level.sum(), 0.57, 6)
        self.assertAlmostEqual((found.level - self.z).sum(), 0.51, 6)
        self.assertAlmostEqual(found.level[5], 0.10, 6)
        self.assertAlmostEqual(found.level[4] + found.level[6], 0.15, 6)
        self.assertLess(found.gap, 1e-6)
        self.assertIn(5, found.binding["cover"])
        self.assertIn(5, found.binding["grade"])

    def test_at_national_levels_nothing_is_lost(self) -> None:
        high = best_levels(needs(self.x, self.z + 1234.567, self.z + 1234.607), Limits(0.5))
        self.assertAlmostEqual((high.level - 1234.567).sum(), 0.57, 6)

    def test_a_pin_is_kept_or_named(self) -> None:
        fixed = np.full(11, np.nan)
        fixed[3] = 0.075
        found = best_levels(needs(self.x, self.z, self.z + 0.04, fixed), Limits(0.5))
        self.assertAlmostEqual(found.level[3], 0.075, 9)
        self.assertEqual(found.binding["pin"], [3])
        fixed[5] = 0.08  # 20 mm short of what the bump needs
        with self.assertRaises(Conflict) as caught:
            best_levels(needs(self.x, self.z, self.z + 0.04, fixed), Limits(0.5))
        self.assertEqual(caught.exception.places[0][:2], (50.0, "cover"))
        self.assertAlmostEqual(caught.exception.places[0][2], 20.0, 3)
        self.assertIn("cover at 50.0 by 20 mm", caught.exception.message)

    def test_unknown_levels_are_refused(self) -> None:
        with self.assertRaises(GeometryError):
            best_levels(needs(self.x, np.where(self.x == 30, np.nan, self.z), self.z), Limits(0.5))


class KerbLips(TestCase):
    """Both lips fixed: the crossfalls take what is left between lip and crown, as kerb to kerb does on one section."""

    def asked(self, left: float, right: float, milled: float = 0.1) -> Needs:
        """Five sections, 3 m wide on both sides, old road level at 50, milled, 40 mm of cover at hinge and lips."""
        x, hinge = np.arange(5) * 10.0, np.full(5, 50.0)
        side = np.tile([0.0, 3.0], (5, 1)), np.full((5, 2), 0.04 - milled)
        lip = np.tile([left, right], (5, 1))
        return straight(x, hinge, np.full((5, 2), 3.0), (side, side), np.full((5, 2), -2.5), lip=lip)

    def test_by_hand_and_as_kerb_to_kerb(self) -> None:
        found = best_levels(self.asked(50.0, 49.99), Limits(0.5, (-5.0, -1.5), 0.1))
        np.testing.assert_allclose(found.level, 50.045, atol=1e-6)  # 1.5 % over 3 m up from the higher lip
        np.testing.assert_allclose(found.pct, np.tile([-1.5, -(0.055 / 3) * 100], (5, 1)), atol=1e-5)
        crown, left, right = kerb_to_kerb(
            np.zeros(1),
            np.array([-3.0]),
            np.array([3.0]),
            np.array([50.0]),
            np.array([49.99]),
            np.array([-1.5]),
            np.array([True]),
        )
        np.testing.assert_allclose([found.level[0], *found.pct[0]], [crown[0], left[0], right[0]], atol=1e-5)
        self.assertLess(found.gap, 1e-6)
        self.assertEqual(found.binding["lip"], [0, 1, 2, 3, 4])

    def test_lips_that_leave_no_cover_are_named(self) -> None:
        with self.assertRaises(Conflict) as caught:
            best_levels(self.asked(50.0, 50.0, milled=0.0), Limits(0.5, (-5.0, -1.5)))
        self.assertTrue({what for _, what, _ in caught.exception.places} & {"cover", "kerb lip"})
        with self.assertRaisesRegex(GeometryError, "crossfalls that may change"):
            best_levels(self.asked(50.0, 50.0), Limits(0.5))

    def test_on_a_milled_street(self) -> None:
        """The demo's village, milled 60 mm between its lips: lips keep their level, cover and limits hold."""
        rows = [{"chainage": 40, "depth_mm": 60}, {"chainage": 200, "depth_mm": 60}]
        model = solve(replace(demo_inputs(), milling=MillingPlan.model_validate({"stretches": [{"rows": rows}]})))
        saving = best_on(model, 60.0, 180.0, Limits(0.8, (-6.0, 6.0), 0.3), fix_ends=False, keep_lips=True)
        here = np.isin(model.chainage, saving.chainage) & model.stations.first
        d = model.depth
        for k, (offset, out) in enumerate(((d.left, -1), (d.right, 1))):
            lip = saving.best.level + saving.best.pct[:, k] / 100 * np.abs(offset - model.lines.hinge)[here]
            old = interpolate(model.existing, offset[:, None])[here, 0]
            np.testing.assert_allclose(lip, old, atol=5e-4, err_msg=str(out))  # written to 3 decimals and 0.01 %


class Random(TestCase):
    @settings(max_examples=many(40))
    @given(st.integers(0, 10**6), st.booleans())
    def test_limits_hold_and_the_dual_agrees(self, seed: int, free: bool) -> None:
        rng = np.random.default_rng(seed)
        n, k = int(rng.integers(4, 60)), 5
        x = np.cumsum(rng.uniform(4, 12, n))
        hinge = 250 + 0.02 * x + np.cumsum(rng.normal(0, 0.01, n))
        width = rng.uniform(2.5, 4, (n, 2))
        sides = []
        for s in (0, 1):
            d = np.sort(rng.uniform(0, 1, (n, k)), axis=1) * width[:, s : s + 1]
            need = -0.025 * d + rng.normal(0, 0.02, (n, k)) + 0.05
            sides.append((d, np.where(rng.random((n, k)) < 0.2, np.nan, need)))
        pct = np.full((n, 2), -2.5)
        given_ = straight(x, hinge, width, (sides[0], sides[1]), pct)
        limits = Limits(0.5, (-4.0, -1.5), 0.1) if free else Limits(0.5)
        found = best_levels(given_, limits)
        self.assertLess(found.gap, 1e-6)
        for s, (d, need) in enumerate(sides):
            left_over = found.level[:, None] - hinge[:, None] + found.pct[:, s : s + 1] / 100 * d - need
            self.assertGreaterEqual(np.nanmin(left_over), -1e-6)
        change = changes_along(x, found.level)
        self.assertLessEqual(np.nanmax(np.abs(change)), 0.5 + 1e-6)
        if free:
            self.assertTrue(((found.pct >= -4 - 1e-6) & (found.pct <= -1.5 + 1e-6)).all())
            rate = np.abs(np.diff(found.pct, axis=0)) / np.diff(x)[:, None]
            self.assertLessEqual(rate.max(), 0.1 + 1e-6)
            tight = best_levels(given_, Limits(0.5))
            self.assertLessEqual(found.volume, tight.volume + 1e-6)  # more freedom never costs more
        # Any other levels that keep the limits need no less: raised ones do.
        self.assertLess(found.volume, volume_of(given_, found.level + 0.01, found.pct))

    def test_weights_are_those_of_end_areas(self) -> None:
        x = np.array([0.0, 10, 17, 30])
        area = np.array([1.0, 2, 4, 3])
        self.assertAlmostEqual(float(area @ station_weights(x)), float(np.trapezoid(area, x)), 12)


class OnTheDemo(TestCase):
    def test_never_worse_than_cover_with_the_same_limits(self) -> None:
        model = demo_model()
        c = model.chainage
        tight = best_on(model, 500.0, 680.0, Limits(100.0), fix_ends=False)
        rows = np.isin(c, tight.chainage)
        # Without a limit on grades the least volume is what cover governs gives.
        over = tight.best.level - model.hinge_level[rows][: len(tight.best.level)]
        self.assertTrue(((over >= -1e-9) & (over < 0.001)).all())  # rounded up to the millimetre
        smooth = best_on(model, 500.0, 680.0, Limits(0.5), fix_ends=False)
        self.assertGreaterEqual(smooth.best.volume, tight.best.volume - 1e-9)
        free = best_on(model, 500.0, 680.0, Limits(0.5, (-4.0, -1.0), 0.05), fix_ends=False)
        self.assertLess(free.best.volume, smooth.best.volume)

    def test_adopted_levels_govern_and_keep_the_cover(self) -> None:
        inputs = demo_inputs()
        saving = best_on(demo_model(), 500.0, 680.0, Limits(0.5), fix_ends=True)
        table = LevelTable(
            rows=[LevelRow(chainage=float(c), level=float(z)) for c, z in zip(saving.chainage, saving.best.level, strict=True)]
        )
        ranges = [
            r.changed(work={**r.work.model_dump(), "governs": {"kind": "level_table"}}) if r.from_chainage == 480 else r
            for r in inputs.treatments.ranges
        ]
        model = solve(
            replace(inputs, levels=table, treatments=inputs.treatments.changed(ranges=[r.model_dump() for r in ranges]))
        )
        here = (model.chainage >= 500) & (model.chainage <= 680)
        np.testing.assert_allclose(
            model.hinge_level[here], np.interp(model.chainage[here], saving.chainage, saving.best.level), atol=1e-9
        )
        self.assertGreaterEqual(model.depth.least[here].min(), 0.05 - 1e-9)
        levels = levels_of(model)
        inner = (levels.chainage > 500) & (levels.chainage < 680)
        self.assertLessEqual(np.nanmax(np.abs(levels.change_pct[inner])), 0.5 + 5e-4)
        self.assertGreaterEqual(np.nanmin(levels.speed_kmh[inner]), 90)
        outside = (model.chainage > 480) & (model.chainage < 500)
        self.assertTrue(np.isnan(model.hinge_level[outside]).all())  # the table says nothing there, and nothing is made up
        self.assertTrue(any(p.code == "no_level" for p in model.problems))

    def test_a_range_without_overlay_is_refused(self) -> None:
        with self.assertRaises(GeometryError) as caught:
            best_on(demo_model(), 650.0, 780.0, Limits(0.5))
        self.assertIn("no overlay at chainage", caught.exception.message)


class ChangeOfGrade(TestCase):
    def test_published_table(self) -> None:
        """Checks 4.1: Austroads, from memory: 1.0 % at 40 km/h down to 0.2 % at 120 km/h."""
        speeds = range(40, 121, 10)
        self.assertEqual([GRADE_CHANGE.at(v) for v in speeds], [1.0, 0.9, 0.8, 0.7, 0.6, 0.5, 0.4, 0.3, 0.2])
        np.testing.assert_allclose([GRADE_CHANGE.at(v) for v in speeds], [1.4 - v / 100 for v in speeds], atol=1e-9)

    def test_changes_between_overlay_levels(self) -> None:
        """Checks 4.4: common practice, no source; even and uneven spacing, a value at the limit is allowed."""
        x = np.arange(7) * 10.0
        z = np.array([100.00, 100.10, 100.25, 100.35, 100.45, 100.49, 100.60])
        change = changes_along(x, z)
        np.testing.assert_allclose(change[1:-1], [0.5, -0.5, 0.0, -0.6, 0.7], atol=1e-9)
        self.assertEqual((np.abs(change[1:-1]) <= 0.5 + 1e-9).tolist(), [True, True, True, False, False])
        self.assertEqual(speed_for(change[1:-1], GRADE_CHANGE).tolist(), [90, 90, 120, 80, 70])
        uneven = changes_along(np.array([0.0, 10, 17.5, 25, 50]), np.array([100.0, 100.1, 100.205, 100.2725, 100.3725]))
        np.testing.assert_allclose(uneven[1:-1], [0.4, -0.5, -0.5], atol=1e-9)


class AtChanges(TestCase):
    def test_a_range_that_begins_where_the_overlay_does(self) -> None:
        """Two sections stand at 760, one of the reconstruction that ends there: once that one was taken and refused."""
        saving = best_on(demo_model(), 760.0, 900.0, Limits(0.5))
        self.assertEqual((saving.chainage[0], saving.chainage[-1]), (760.0, 900.0))


class ProblemsOfGrade(TestCase):
    def test_changes_over_the_limit_are_listed_with_their_place(self) -> None:
        model = demo_model()
        levels = levels_of(model)
        found = [p for p in model.problems if p.code == "grade_change"]
        self.assertGreaterEqual(len(found), 1)
        for p in found:
            here = (levels.chainage >= p.chainage_from) & (levels.chainage <= p.chainage_to)
            self.assertGreater(np.nanmax(np.abs(levels.change_pct[here])), GRADE_CHANGE.at(60) * 0.9)
        plain = (levels.chainage > 490) & (levels.chainage < 690)  # no treatment changes in between
        over = plain & (np.abs(levels.change_pct) > GRADE_CHANGE.at(60) + 1e-6)
        marked = np.zeros(len(over), dtype=bool)
        for p in found:
            marked |= (levels.chainage >= p.chainage_from) & (levels.chainage <= p.chainage_to)
        np.testing.assert_array_equal(marked & plain, over)
        self.assertIn("0.8 % is allowed at 60 km/h", found[0].message)

    def test_a_faster_road_allows_less(self) -> None:
        def count(speed: float) -> int:
            inputs = replace(demo_inputs(), settings=demo_inputs().settings.changed(design_speed_kmh=speed))
            return sum(p.code == "grade_change" for p in solve(inputs).problems)

        self.assertLessEqual(count(40), count(60))
        self.assertLess(count(60), count(110))

    def test_best_levels_leave_none_inside_their_range(self) -> None:
        saving = best_on(demo_model(), 500.0, 680.0, Limits(GRADE_CHANGE.at(60)), fix_ends=False)
        change = changes_along(saving.chainage, saving.best.level)
        self.assertLessEqual(np.nanmax(np.abs(change)), GRADE_CHANGE.at(60) + 1e-6)
