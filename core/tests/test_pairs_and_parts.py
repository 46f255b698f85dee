"""Two sections at one chainage are one station, and whatever is measured between two chainages is cut exactly there: on random roads."""

from contextlib import suppress
from dataclasses import replace
from itertools import pairwise
from unittest import TestCase

import numpy as np
from hypothesis import example, given, settings
from hypothesis import strategies as st

from saddle import tolerances
from saddle.errors import GeometryError, SaddleError
from saddle.figures import slack
from saddle.overlay.best_levels import best_levels
from saddle.overlay.level_needs import Limits
from saddle.overlay.spec import MillingPlan
from saddle.pipeline import solve
from saddle.quantities.adopted import judge, taken
from saddle.quantities.takeoff import Quantities, take_off
from saddle.quantities.variants import courses_between
from saddle.road.levels import best_on, cover_of, in_range, levels_of, needs_of
from saddle.road.model import RoadModel
from saddle.road.spec import Treatment, TreatmentPlan
from saddle.stages.run import Run
from tests.cases import demo_inputs, demo_model
from tests.depth import ROADS, SAME_ONES
from tests.random_roads import random_road

SEEDS = st.integers(0, 2**32 - 1)
FIELDS = ("volume", "mass", "length", "area", "unknown_length")


def milled_at_depth() -> RoadModel:
    """Fennick Vale overlaid from 760 to 1330 with 50 mm of cover, milled 40 mm from 800 to 900, where the milling ends at depth."""
    inputs = demo_inputs()
    work = next(r.work for r in inputs.treatments.ranges if r.from_chainage <= 850 < r.to_chainage)
    rest = [r for r in inputs.treatments.ranges if r.to_chainage <= 760 or r.from_chainage >= 1330]
    whole = Treatment(from_chainage=760, to_chainage=1330, work=work.changed(least_cover_mm=50.0, begin=None, end=None))
    plan = TreatmentPlan(ranges=sorted([*rest, whole], key=lambda r: r.from_chainage))
    rows = [{"chainage": 800, "depth_mm": 40}, {"chainage": 900, "depth_mm": 40}]
    milling = MillingPlan.model_validate({"stretches": [{"rows": rows}]})
    return solve(replace(inputs, treatments=plan, milling=milling))


def short(model: RoadModel, low: float, high: float) -> float:
    """By how much cover is short in a range, both of every pair judged, m."""
    here = model.stations.within(low, high) & (model.lines.tied >= 1)
    return float(np.nanmax(np.where(here, cover_of(model) - model.depth.least, np.nan), initial=-np.inf))


class Pairs(TestCase):
    def test_two_sections_stand_where_milling_ends_at_depth_and_one_where_it_runs_out(self) -> None:
        for depths, ends in (((0, 40, 0), []), ((0, 40), [200.0]), ((40, 40), [100.0, 200.0])):
            rows = [
                {"chainage": c, "depth_mm": d}
                for c, d in zip((100, 150, 200) if len(depths) > 2 else (100, 200), depths, strict=True)
            ]
            self.assertEqual(MillingPlan.model_validate({"stretches": [{"rows": rows}]}).abrupt(), ends)

    def test_best_levels_across_the_end_of_a_milling_were_short_of_cover(self) -> None:
        """One of two sections at 900 was asked, and on the other one 10 mm of 50 were left."""
        model = milled_at_depth()
        saving = best_on(model, 780.0, 950.0, Limits(0.8))
        self.assertEqual(len(np.unique(saving.chainage)), len(saving.chainage))
        road = solve(taken(model.inputs, saving, crossfalls=False))
        self.assertEqual(len(np.flatnonzero(np.abs(road.chainage - 900) < 1e-6)), 2)
        self.assertLessEqual(short(road, 780, 950), slack("depth"))
        judged = judge(model, saving, Run(), crossfalls=False)
        before, after = (courses_between(m, 780, 950)[0] for m in (model, road))
        self.assertAlmostEqual(judged.volume, before - after, 9)

    def test_the_lowest_level_of_a_pair_is_that_of_the_one_that_needs_more(self) -> None:
        model = milled_at_depth()
        levels = levels_of(model)
        at = int(np.argmin(np.abs(levels.chainage - 900)))
        pair = np.flatnonzero(np.abs(model.chainage - 900) < 1e-6)
        lowest = (model.hinge_level - model.depth.least + cover_of(model))[pair]
        self.assertGreater(abs(lowest[0] - lowest[1]), 0.02)
        self.assertAlmostEqual(float(levels.lowest[at]), float(lowest.max()), 9)

    def test_at_the_ends_of_a_range_only_the_section_inside_counts(self) -> None:
        model = milled_at_depth()
        rows = np.flatnonzero(in_range(model, 800, 900))
        self.assertEqual(model.stations.side[rows[[0, -1]]].tolist(), [1, -1])

    def test_levels_in_whole_millimetres_come_near_the_least(self) -> None:
        """Rounded up one by one they were metres of asphalt above it: every level by half a millimetre."""
        saving = best_on(demo_model(), 500.0, 680.0, Limits(0.5), fix_ends=False)
        np.testing.assert_allclose(saving.best.level * 1000, np.round(saving.best.level * 1000), atol=1e-6)
        self.assertGreaterEqual(saving.best.off, 0.0)
        width = 7.0
        self.assertLess(saving.best.off, 0.0005 * 180 * width)

    @settings(max_examples=max(4, ROADS // 8), deadline=None, derandomize=SAME_ONES)
    @example(842341)  # no width on the left and no crossfall either: what was found had no volume
    @given(SEEDS)
    def test_adopted_levels_keep_the_cover_on_both_sections_of_every_pair(self, seed: int) -> None:
        model = solve(random_road(np.random.default_rng(seed)))
        overlaid = np.isfinite(model.depth.least)
        runs = np.split(np.flatnonzero(overlaid), np.flatnonzero(np.diff(np.flatnonzero(overlaid)) > 1) + 1)
        longest = max(runs, key=len)
        if len(longest) < 5:
            return
        low, high = float(model.chainage[longest[0]]), float(model.chainage[longest[-1]])
        free = seed % 3 == 0
        limits = Limits(2.0, crossfall=(-4.0, 4.0) if free else None)
        try:
            saving = best_on(model, low, high, limits, fix_ends=bool(seed % 2))
            judge(model, saving, Run(), crossfalls=free)
        except GeometryError:
            return  # refused with the reason: nothing is offered
        if not saving.best.binding["grade"]:
            # Rounding costs at most one digit of a level and what crossfalls are rounded by, over the widest overlay of the road.
            width = float(np.nanmax(model.depth.right - model.depth.left))
            needs = needs_of(model, in_range(model, low, high), fix_ends=bool(seed % 2))
            with suppress(GeometryError):  # with room for rounding there may be none
                exact = best_levels(needs, replace(limits, written=True))
                self.assertLess(saving.best.volume - exact.volume, 0.0015 * width * (high - low))
        road = solve(taken(model.inputs, saving, crossfalls=free))
        self.assertLessEqual(short(road, low, high), tolerances.SHORT_COVER)


class Parts(TestCase):
    def sums(self, bills: list[Quantities]) -> dict[tuple[str, str, str, str], float]:
        out: dict[tuple[str, str, str, str], float] = {}
        for bill in bills:
            for r in bill.total.rows:
                for field in FIELDS:
                    out[r.kind, r.name, r.key, field] = out.get((r.kind, r.name, r.key, field), 0.0) + (getattr(r, field) or 0.0)
        return out

    @settings(max_examples=max(4, ROADS // 8), deadline=None, derandomize=SAME_ONES)
    @given(SEEDS, st.lists(st.floats(0, 1), min_size=1, max_size=3))
    def test_totals_between_any_chainages_add_up_to_the_whole(self, seed: int, shares: list[float]) -> None:
        model = solve(random_road(np.random.default_rng(seed)))
        a = model.alignment
        cuts = [None, *sorted(a.start + s * (a.end - a.start) for s in shares), None]
        whole = self.sums([take_off(model)])
        parts = self.sums([take_off(model, low, high) for low, high in pairwise(cuts)])
        for key, value in whole.items():
            self.assertAlmostEqual(parts.get(key, 0.0), value, delta=1e-7 * max(1.0, abs(value)), msg=str(key))
        pieces = [courses_between(model, a.start if x is None else x, a.end if y is None else y) for x, y in pairwise(cuts)]
        for k, total in enumerate(courses_between(model, a.start, a.end)):
            self.assertAlmostEqual(sum(p[k] for p in pieces), total, delta=1e-7 * max(1.0, abs(total)))

    def test_half_an_interval_of_even_section_is_half_of_it(self) -> None:
        """And of one that grows from one area to another the trapezium up to the cut: 10 m, 2 to 4 m2, up to 5 m: 5 * (2 + 3) / 2."""
        model = demo_model()
        row = int(np.flatnonzero(model.chainage == 520.0)[0])
        bill, item = take_off(model, 520.0, 525.0), "Surface course"
        areas = [sum(s.areas[k] or 0.0 for k, name in enumerate(bill.columns) if name.startswith(item)) for s in bill.sections]
        first, second = areas[row], areas[row + 1]
        found = next(r.volume for r in bill.total.rows if r.name == item)
        assert found is not None
        straight = 5 * (first + (first + second) / 2) / 2
        self.assertAlmostEqual(found, straight, delta=0.01 * straight)  # the alignment bends a little

    def test_variants_are_compared_over_one_length(self) -> None:
        """A range that ends between two sections: each road counted its own whole intervals, and the difference was of lengths."""
        model = demo_model()
        one = courses_between(model, 503.0, 637.0)
        other = solve(replace(model.inputs, settings=model.inputs.settings.changed(extra=[503.0, 637.0])))
        self.assertAlmostEqual(one[0], courses_between(other, 503.0, 637.0)[0], delta=0.02 * one[0])

    def test_beyond_the_road_there_is_nothing(self) -> None:
        self.assertEqual(take_off(demo_model(), 9000.0, 9100.0).total.rows, [])
        with self.assertRaises(SaddleError):
            best_on(demo_model(), 9000.0, 9100.0, Limits(0.5))
