"""Crossfalls and what they end in: governing rules against brute force, milling, ties to the old road, operations."""

from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from saddle.errors import GeometryError
from saddle.geometry.areas import between, cut_and_fill
from saddle.geometry.polylines import Floats, interpolate, merge_offsets, mirror, sample
from saddle.guides.spec import AtOffset, EdgeSource
from saddle.overlay.crossfalls import (
    CopySide,
    DropWithin,
    LimitRate,
    MatchNeighbour,
    OneValue,
    RunningMean,
    StraightBetween,
    TakeMeasured,
    apply,
    values_at,
)
from saddle.overlay.governing import edges_govern, kerb_to_kerb
from saddle.overlay.milling import Cuts, deepest, depth_along, lowered, milled, milled_widths
from saddle.overlay.spec import CrossfallRow, CrossfallTable, MillingPlan, MillingRow, MillingStretch
from saddle.pipeline import solve
from saddle.quantities.takeoff import take_off
from saddle.road.measured import chainages_for, measured_at
from saddle.road.model import RoadModel
from saddle.terrain.survey_lines import nearest
from tests.cases import demo_inputs, demo_model, random_ground
from tests.test_overlay import straight_shape


class EdgesGovern(TestCase):
    N = 1000

    def setUp(self) -> None:
        rng = np.random.default_rng(21)
        self.ground = random_ground(rng, self.N)
        self.h = rng.uniform(-1, 1, self.N)
        self.pct = rng.uniform(-6, 5, (2, self.N))
        self.left, self.right = self.h - rng.uniform(0.5, 6, self.N), self.h + rng.uniform(0.5, 6, self.N)
        self.cover = rng.uniform(0.0, 0.12, self.N)
        self.found = edges_govern(
            self.ground, straight_shape(self.N, self.h, *self.pct), self.h, self.left, self.right, self.cover
        )

    def test_thousand_sections_one_by_one(self) -> None:
        for i in range(self.N):
            o, z = self.ground.row(i)
            left = np.interp(self.left[i], o, z) + self.cover[i] - self.pct[0, i] / 100 * (self.h[i] - self.left[i])
            right = np.interp(self.right[i], o, z) + self.cover[i] - self.pct[1, i] / 100 * (self.right[i] - self.h[i])
            self.assertAlmostEqual(self.found.level[i], max(left, right), 9)

    def test_mirrored_and_reversed(self) -> None:
        shape = mirror(straight_shape(self.N, self.h, *self.pct))
        twin = edges_govern(mirror(self.ground), shape, -self.h, -self.right, -self.left, self.cover)
        np.testing.assert_allclose(twin.level, self.found.level, atol=1e-9)
        np.testing.assert_allclose(twin.left, self.found.right, atol=1e-9)


class KerbToKerb(TestCase):
    def test_by_hand(self) -> None:
        """Lips at 10.00 m 3.5 m left of the crown and 10.05 m 3.0 m right of it. 3 % on the left sets the crown at 10.105; the
        right side gets (10.05 - 10.105) / 3.0 = -1.833 %. Both cannot have 3 %."""
        one = np.ones(1)
        level, left, right = kerb_to_kerb(0 * one, -3.5 * one, 3.0 * one, 10.0 * one, 10.05 * one, -3.0 * one, one > 0)
        np.testing.assert_allclose((level[0], left[0], right[0]), (10.105, -3.0, -5.5 / 3), atol=1e-12)
        level, left, right = kerb_to_kerb(0 * one, -3.5 * one, 3.0 * one, 10.0 * one, 10.05 * one, -3.0 * one, one < 0)
        np.testing.assert_allclose((level[0], left[0], right[0]), (10.14, -4.0, -3.0), atol=1e-12)

    @given(st.integers(0, 10**6))
    def test_both_lips_are_met_and_sides_mirror(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        h, l, r = rng.uniform(-1, 1, 50), -rng.uniform(2, 5, 50), rng.uniform(2, 5, 50)  # noqa: E741
        kl, kr, pct, by = rng.normal(10, 0.1, 50), rng.normal(10, 0.1, 50), rng.uniform(-5, -1, 50), rng.random(50) < 0.5
        level, left, right = kerb_to_kerb(h, l, r, kl, kr, pct, by)
        np.testing.assert_allclose(level + left / 100 * (h - l), kl, atol=1e-9)
        np.testing.assert_allclose(level + right / 100 * (r - h), kr, atol=1e-9)
        twin, t_left, t_right = kerb_to_kerb(-h, -r, -l, kr, kl, pct, ~by)
        np.testing.assert_allclose((twin, t_left, t_right), (level, right, left), atol=1e-9)

    def test_on_the_demo_street(self) -> None:
        model = governed(0, {"kind": "kerb_to_kerb", "side": "left", "plus": 0.03}, left={"by": "given", "pct": -2.5})
        here = (model.chainage > 0) & (model.chainage < 420) & np.isfinite(model.hinge_level)
        lines = model.lines
        lip = interpolate(model.existing, np.column_stack([lines.left_edge, lines.right_edge]))
        reach = lines.right_edge - lines.hinge
        np.testing.assert_allclose((model.hinge_level + lines.right_pct / 100 * reach)[here], lip[here, 1] + 0.03, atol=1e-9)
        np.testing.assert_allclose(lines.left_pct[here], -2.5)


def governed(start: float, rule: dict[str, Any], left: dict[str, Any] | None = None, **work: Any) -> RoadModel:
    """The demo with another rule for the overlay that begins at a chainage."""
    ranges = []
    for r in demo_inputs().treatments.ranges:
        more = {"governs": rule, **({"left_crossfall": left} if left else {}), **work}
        ranges.append(r.changed(work={**r.work.model_dump(), **more}) if r.from_chainage == start else r)
    return solve(replace(demo_inputs(), treatments=demo_inputs().treatments.changed(ranges=[r.model_dump() for r in ranges])))


class Milling(TestCase):
    @given(st.integers(0, 10**6))
    def test_lowered_against_shapely(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        ground = random_ground(rng, 6)
        low, high = rng.uniform(-8, -1, 6), rng.uniform(1, 8, 6)
        depth = np.where(rng.random(6) < 0.2, 0.0, rng.uniform(0.01, 0.2, 6))
        found = lowered(ground, deepest(Cuts(low[None], high[None], depth[None], depth[None])))
        grid = merge_offsets(np.full(6, -12.0), np.full(6, 12.0), ground.offsets, found.offsets)
        gone = between(grid, sample(ground, grid), sample(found, grid)).area
        np.testing.assert_allclose(gone, (high - low) * depth, atol=1e-9)
        for i in np.flatnonzero(depth > 0):
            o, z = found.row(int(i))
            old, w = ground.row(int(i))
            ring = [*zip(old, w, strict=True), *zip(o[::-1], z[::-1], strict=True)]
            self.assertAlmostEqual(shapely.make_valid(shapely.Polygon(ring)).area, (high[i] - low[i]) * depth[i], 6)
            self.assertEqual(int((o == low[i]).sum()), 2)  # an upright step on either side

    @given(st.integers(0, 10**6))
    def test_the_deeper_of_many_counts_and_none_beside_is_lost(self, seed: int) -> None:
        """Stretches beside, on and across each other: everywhere the greatest depth that any of them has there."""
        rng = np.random.default_rng(seed)
        n, k = 5, int(rng.integers(1, 5))
        ground = random_ground(rng, n)
        low = np.round(rng.uniform(-8, 4, (k, n)), int(rng.integers(0, 4)))  # whole ones meet each other
        high = low + np.round(rng.uniform(-0.5, 6, (k, n)), int(rng.integers(0, 4)))
        depth = np.where(rng.random((k, n)) < 0.3, 0.0, rng.choice([0.03, 0.04, 0.1], (k, n)))
        share = rng.choice([[1.0, 1.0], [1.0, 0.0], [0.0, 1.0]], k)
        cuts = Cuts(low, high, depth * share[:, :1], depth * share[:, 1:])
        found = milled(ground, cuts, k)
        places = np.sort(rng.uniform(-9, 9, (n, 400)), axis=1)
        deepest_there = np.zeros(places.shape)
        for s in range(k):
            for i in range(n):
                if high[s, i] > low[s, i]:
                    here = np.interp(
                        places[i], [low[s, i], high[s, i]], [cuts.at_left[s, i], cuts.at_right[s, i]], left=0, right=0
                    )
                    deepest_there[i] = np.maximum(deepest_there[i], here)
        np.testing.assert_allclose(sample(ground, places) - sample(found.surface, places), deepest_there, atol=1e-9)
        for i in range(n):
            rings = [
                shapely.Polygon(
                    [(low[s, i], 0), (high[s, i], 0), (high[s, i], cuts.at_right[s, i]), (low[s, i], cuts.at_left[s, i])]
                )
                for s in range(k)
                if high[s, i] > low[s, i] and depth[s, i] > 0
            ]
            whole = shapely.union_all(rings)
            self.assertAlmostEqual(found.area[i], whole.area, 9)
            self.assertAlmostEqual(found.moment[i], whole.area * (whole.centroid.x if rings else 0.0), 9)
        plan = 10.0 * np.mean(milled_widths(cuts, np.zeros(n - 1)), axis=0)
        for i in range(n - 1):
            on = [s for s in range(k) if depth[s, i] > 0 or depth[s, i + 1] > 0]
            wide = [
                shapely.union_all([shapely.LineString([(low[s, e], 0), (max(high[s, e], low[s, e]), 0)]) for s in on]).length
                for e in (i, i + 1)
            ]
            self.assertAlmostEqual(plan[i], 5 * sum(wide), 9)

    def test_lanes_milled_by_their_own_depths(self) -> None:
        """The left lane 40 mm, the right one 30 mm: neither is lost for the other's sake."""
        lanes: list[tuple[EdgeSource | None, EdgeSource | None, float]] = [
            (None, AtOffset(offset=0), 40), (AtOffset(offset=0), None, 30)
        ]  # fmt: skip
        stretches = [
            MillingStretch(left=a, right=b, rows=[MillingRow(chainage=c, depth_mm=mm) for c in (500, 600)]) for a, b, mm in lanes
        ]
        model = solve(replace(demo_inputs(), milling=MillingPlan(stretches=stretches)))
        i = int(np.flatnonzero(model.chainage == 550)[0])
        left, right = model.lines.left_edge[i], model.lines.right_edge[i]
        self.assertAlmostEqual(model.milling.area[i], 0.04 * -left + 0.03 * right, 9)

    def test_depth_runs_straight_and_is_nothing_outside(self) -> None:
        # 0 to 0.1 m over 25 m, hold, back to 0: the job's own example.
        rows = [(100, 0), (125, 100), (200, 100), (225, 0)]
        stretch = MillingStretch(rows=[MillingRow(chainage=c, depth_mm=d) for c, d in rows])
        found = depth_along(stretch, np.array([90.0, 100, 112.5, 125, 160, 212.5, 240]))
        np.testing.assert_allclose(found, [0, 0, 0.05, 0.1, 0.1, 0.05, 0], atol=1e-12)
        with self.assertRaises(ValidationError):
            MillingStretch(rows=[MillingRow(chainage=5, depth_mm=1), MillingRow(chainage=5, depth_mm=2)])

    def test_milled_road(self) -> None:
        """Milled 40 mm over the full width from 500 to 600: the overlay keeps its cover over the milled surface, so that its
        hinge lies exactly that much lower where nothing but the milled part governs; quantities say what is milled."""
        rows = [MillingRow(chainage=500, depth_mm=40), MillingRow(chainage=600, depth_mm=40)]
        model = solve(replace(demo_inputs(), milling=MillingPlan(stretches=[MillingStretch(rows=rows)])))
        c, plain = model.chainage, demo_model()
        at = [int(np.flatnonzero(m.chainage == 550)[0]) for m in (model, plain)]
        self.assertAlmostEqual(model.depth.least[at[0]], 0.05, 6)
        self.assertLess(model.hinge_level[at[0]], plain.hinge_level[at[1]])
        self.assertEqual(model.stations.side[c == 500].tolist(), [-1, 1])  # it begins abruptly: two sections
        self.assertEqual([float(d) for d in model.milling.depth[c == 500]], [0.0, 0.04])
        rows_ = {r.name: r for r in take_off(model).total.rows if r.kind == "milling"}
        width = (model.lines.right_edge - model.lines.left_edge)[(c >= 500) & (c <= 600)]
        self.assertAlmostEqual(rows_["Milling"].volume or 0, 0.04 * 100 * float(width.mean()), delta=0.6)
        self.assertAlmostEqual((rows_["Milling"].area or 0) * 0.04, rows_["Milling"].volume or 0, delta=0.05)

    def test_differences_still_add_up(self) -> None:
        """Net area between design and milled surface = courses + fill - cut: milling is not counted as cut too."""
        rows = [MillingRow(chainage=500, depth_mm=40), MillingRow(chainage=600, depth_mm=40)]
        model = solve(replace(demo_inputs(), milling=MillingPlan(stretches=[MillingStretch(rows=rows)])))
        i = int(np.flatnonzero(model.chainage == 550)[0])
        found = cut_and_fill(
            model.existing.rows(slice(i, i + 1)), model.milling.surface.rows(slice(i, i + 1)), np.array([-20.0]), np.array([20.0])
        )
        self.assertAlmostEqual(found[0].area[0], model.milling.area[i], 9)


class Ties(TestCase):
    def test_ramp_meets_the_old_road(self) -> None:
        model = governed(480, {"kind": "cover"}, begin={"length": 30})
        c, lines = model.chainage, model.lines
        first = int(np.flatnonzero((c == 480) & (model.stations.side == 1))[0])
        self.assertAlmostEqual(model.hinge_level[first], lines.existing_hinge[first], 9)
        np.testing.assert_allclose((lines.left_pct[first], lines.right_pct[first]), lines.measured_pct[first], atol=1e-9)
        self.assertIn(510.0, c)
        inside = (c > 510) & (c < 690)
        plain = demo_model()
        np.testing.assert_allclose(model.hinge_level[inside], np.interp(c[inside], plain.chainage, plain.hinge_level), atol=1e-6)
        self.assertFalse(any(p.code == "short_cover" and p.chainage_from < 510 <= p.chainage_to for p in model.problems))

    def test_notch_is_milled_away_to_nothing(self) -> None:
        model = governed(480, {"kind": "cover"}, begin={"length": 30, "notch_mm": 40})
        depth = {
            float(c): float(d) for c, d, s in zip(model.chainage, model.milling.depth, model.stations.side, strict=True) if s >= 0
        }
        np.testing.assert_allclose([depth[480.0], depth[490.0], depth[510.0]], [0.04, 0.04 * 2 / 3, 0.0], atol=1e-9)


def table(*rows: tuple[float, float, float]) -> CrossfallTable:
    return CrossfallTable(rows=[CrossfallRow(chainage=c, left_pct=left, right_pct=right) for c, left, right in rows])


class Crossfalls(TestCase):
    C = np.arange(0, 201, 10.0)
    MEASURED = np.column_stack([-2.5 + np.sin(C / 17), -2.5 - np.sin(C / 23)])
    TABLE = table(*((float(c), float(a), float(b)) for c, (a, b) in zip(C, np.round(MEASURED, 4), strict=True)))

    def done(
        self, what: Any, side: Any = "both", low: float = 50, high: float = 150, start: CrossfallTable | None = None
    ) -> Floats:
        return values_at(apply(self.TABLE if start is None else start, what, side, low, high, self.C, self.MEASURED), self.C)

    def test_nothing_changes_outside_the_range(self) -> None:
        before = values_at(self.TABLE, self.C)
        outside = (self.C < 50) | (self.C > 150)
        for what in (
            OneValue(),
            StraightBetween(),
            DropWithin(),
            RunningMean(),
            LimitRate(),
            MatchNeighbour(),
            CopySide(),
            TakeMeasured(),
        ):
            np.testing.assert_allclose(self.done(what)[outside], before[outside], atol=1e-4)
            np.testing.assert_allclose(
                self.done(what, "left")[:, 1], before[:, 1], atol=0.21 if isinstance(what, DropWithin) else 1e-4
            )

    def test_what_each_does(self) -> None:
        inside = (self.C >= 50) & (self.C <= 150)
        before = values_at(self.TABLE, self.C)
        np.testing.assert_allclose(self.done(OneValue(pct=-3))[inside], -3)
        ends = before[[5, 15]]
        t = ((self.C[inside] - 50) / 100)[:, None]
        np.testing.assert_allclose(self.done(StraightBetween())[inside], ends[0] + t * (ends[1] - ends[0]), atol=1e-4)
        np.testing.assert_allclose(
            self.done(MatchNeighbour(which="after"))[inside], np.broadcast_to(ends[1], before[inside].shape), atol=1e-4
        )
        np.testing.assert_allclose(self.done(CopySide(opposite=True), "left")[inside, 0], -before[inside, 1], atol=1e-4)
        self.assertLess(np.ptp(self.done(RunningMean(length=80))[6:15, 0]), np.ptp(before[6:15, 0]))

    def test_dropped_rows_stay_within_the_tolerance(self) -> None:
        new = apply(self.TABLE, DropWithin(tolerance_pct=0.3), "both", 0, 200, self.C, self.MEASURED)
        self.assertLess(len(new.rows), len(self.TABLE.rows))
        self.assertLessEqual(np.abs(values_at(new, self.C) - values_at(self.TABLE, self.C)).max(), 0.3 + 1e-9)
        line = shapely.LineString(np.column_stack([self.C, values_at(self.TABLE, self.C)[:, 0]]))
        self.assertLess(shapely.hausdorff_distance(shapely.LineString([(r.chainage, r.left_pct) for r in new.rows]), line), 10)

    @given(st.floats(0.005, 0.2))
    def test_limited_rate_is_kept_and_nothing_that_keeps_it_changes(self, rate: float) -> None:
        new = self.done(LimitRate(pct_per_s=rate * 100 / 3.6, speed_kmh=100), low=0, high=200)
        self.assertLessEqual((np.abs(np.diff(new, axis=0)) / 10).max(), rate + 2e-5)
        gentle = (
            table((0, -2.5, -2.5), (200, -2.5 + 0.9 * rate * 200, -2.5))
            if rate * 180 < 20
            else table((0, -2.5, -2.5), (200, -2.0, -2.5))
        )
        kept = self.done(LimitRate(pct_per_s=max(rate, 0.0026) * 100 / 3.6, speed_kmh=100), low=0, high=200, start=gentle)
        np.testing.assert_allclose(kept, values_at(gentle, self.C), atol=1e-3)

    def test_an_empty_table_begins_with_what_was_measured(self) -> None:
        new = self.done(TakeMeasured(), start=CrossfallTable(), low=0, high=200)
        np.testing.assert_allclose(new, self.MEASURED, atol=1e-4)
        nothing = np.full(self.MEASURED.shape, np.nan)
        with self.assertRaises(GeometryError):
            apply(CrossfallTable(), RunningMean(), "both", 0, 200, self.C, nothing)

    def test_the_table_turns_the_road(self) -> None:
        ranges = [
            r.changed(work={**r.work.model_dump(), "left_crossfall": {"by": "table"}, "right_crossfall": {"by": "table"}})
            if r.from_chainage == 480
            else r
            for r in demo_inputs().treatments.ranges
        ]
        inputs = replace(
            demo_inputs(), crossfalls=table((480, -2, 3), (680, -4, 1)), treatments=demo_inputs().treatments.changed(ranges=[r.model_dump() for r in ranges])
        )  # fmt: skip
        model = solve(inputs)
        i = int(np.flatnonzero(model.chainage == 580)[0])
        np.testing.assert_allclose((model.lines.left_pct[i], model.lines.right_pct[i]), (-3, 2), atol=1e-9)


class MeasuredAnywhere(TestCase):
    """Crossfalls measured off the sections: the same road, looked at elsewhere."""

    def where(self, **what: Any) -> np.ndarray:
        return chainages_for(demo_model(), TakeMeasured(**what), 480, 680)

    def test_at_an_interval_at_key_points_and_at_every_survey_change(self) -> None:
        np.testing.assert_allclose(self.where(at="interval", interval=25), [480, 500, 525, 550, 575, 600, 625, 650, 675, 680])
        self.assertEqual(self.where(at="key_points").tolist(), [480, 600, 680])  # the second curve begins at 600
        changes = self.where(at="changes")
        self.assertGreater(len(changes), 15)
        lines = demo_model().inputs.lines["EP"]
        of_survey, _ = demo_model().alignment.locate(np.concatenate([lines.start, lines.end])[:, :2])
        for c in changes[1:-1]:
            self.assertLess(np.nanmin(np.abs(of_survey - c)), 2e-3)

    def test_on_the_sections_it_is_what_the_sections_say(self) -> None:
        model = demo_model()
        rows = np.flatnonzero(model.stations.first & (model.chainage > 490) & (model.chainage < 690))
        np.testing.assert_allclose(measured_at(model, model.chainage[rows]), model.lines.measured_pct[rows], atol=1e-9)

    def test_beside_the_sections_by_hand(self) -> None:
        """Levels of the survey's surface at hinge and edge, from its own triangle."""
        model = demo_model()
        c = np.array([533.3])
        left, right = measured_at(model, c)[0]
        frames = model.alignment.frames(c)
        tin = model.inputs.surface
        tree = shapely.STRtree(shapely.polygons(tin.points[tin.triangles, :2]))

        def level(offset: float) -> float:
            place = frames.plan(np.array([0]), np.array([offset]))[0]
            corner = tin.points[tin.triangles[tree.query(shapely.Point(place), predicate="intersects")[0]]]
            return float(np.linalg.solve(np.column_stack([corner[:, :2] - place, np.ones(3)]), corner[:, 2])[2])

        edges = [nearest(frames, model.inputs.lines["EP"], 8.0, side)[0][0] for side in (-1, 1)]
        for pct, edge in zip((left, right), edges, strict=True):
            self.assertAlmostEqual(pct, 100 * (level(edge) - level(0.0)) / abs(edge), 5)
