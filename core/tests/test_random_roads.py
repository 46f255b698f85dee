"""Whole random roads, judged by a slow second opinion (tests/slow_road.py) and by laws that hold on any road.

ROADS in the environment says how many; a run by hand takes thousands.
"""

from dataclasses import replace
from itertools import combinations, pairwise
from typing import Any
from unittest import TestCase

import numpy as np
import shapely
from hypothesis import example, given, settings
from hypothesis import strategies as st

from saddle.pipeline import solve
from saddle.quantities.check import balance
from saddle.quantities.takeoff import Quantities, layer_areas, take_off
from saddle.road.model import RoadInputs, RoadModel
from saddle.stages.run import Run
from saddle.template.polygons import rings
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.tin import Tin
from saddle.views.depth_map import depth_bands, depth_triangles
from tests.depth import ROADS, SAME_ONES
from tests.random_roads import random_road
from tests.slow_road import Section, Unknown, Unsure, place
from tests.templates import imbalance

SEEDS = st.integers(0, 2**32 - 1)
#: Faults that say that something is not known on a section.
UNKNOWN = {
    "no_edge",
    "no_hinge",
    "no_crossfall",
    "no_level",
    "no_surface",
    "no_point",
    "no_catch",
    "no_template",
    "template",
    "not_measured",
}


def road(seed: int) -> tuple[RoadInputs, RoadModel]:
    inputs = random_road(np.random.default_rng(seed))
    return inputs, solve(inputs)


def some(seed: int, n: int, most: int) -> list[int]:
    return [int(i) for i in np.random.default_rng(seed + 1).permutation(n)[:most]]


class SecondOpinion(TestCase):
    @settings(max_examples=ROADS // 2, deadline=None, derandomize=SAME_ONES)
    @example(73392490)  # kerb to kerb over a side without width: its crossfall was -inf
    @example(144)  # milling whose limit lies in a hole beyond all that is overlaid
    @example(287)  # a side without width and without a crossfall, on which nothing needs one
    @example(15018)  # the edge over a hole, its crossfall from the table: nothing of the hole is asked
    @given(SEEDS)
    def test_sections_come_out_as_a_slow_reckoning_says(self, seed: int) -> None:
        inputs, model = road(seed)
        overlay = sum(
            (laid.area for (kind, _, _), laid in layer_areas(model).items() if kind == "over_existing"),
            np.zeros(len(model.chainage)),
        )
        for i in some(seed, len(model.chainage), 6):
            with self.subTest(seed=seed, section=i, chainage=float(model.chainage[i])):
                self.judge(inputs, model, i, float(overlay[i]))

    def judge(self, inputs: RoadInputs, model: RoadModel, i: int, overlay: float) -> None:
        at = place(inputs, float(model.chainage[i]), int(model.stations.side[i]))
        np.testing.assert_allclose([at.east, at.north], model.frames.origin[i], atol=1e-6)
        try:
            section = Section(inputs, at)
            lines = model.lines
            self.assertAlmostEqual(section.hinge, float(lines.hinge[i]), delta=1e-5)
            for side, edge, pct in ((-1, lines.left_edge, lines.left_pct), (1, lines.right_edge, lines.right_pct)):
                if side in section.edges:
                    self.assertAlmostEqual(section.edges[side], float(edge[i]), delta=1e-5)
                np.testing.assert_allclose(section.pct[side], pct[i], rtol=0, atol=1e-4)
            level = section.hinge_level()
            area = section.overlay_area(level)
        except Unsure:
            return
        except Unknown:
            work = model.work_at(i)
            # A given level may stand where an edge is missing; nothing is measured there all the same.
            if np.isfinite(model.hinge_level[i]) and getattr(work, "kind", "") == "overlay":
                found = model.group_of(i)
                if found is None:
                    return  # no template is applied: only depths are looked at
                group, k = found
                # Where a template overlays nothing its courses are known all the same, and what is dug for them is not.
                solved = group.left.layers.solved[k] and group.right.layers.solved[k]
                self.assertTrue(not solved or np.isnan(model.earthworks.cut[i]))
            return
        self.assertAlmostEqual(level, float(model.hinge_level[i]), delta=1e-5)
        self.assertAlmostEqual(area, overlay, delta=2e-5)
        self.points(section, model, i)

    def points(self, section: Section, model: RoadModel, i: int) -> None:
        found = model.group_of(i)
        assert found is not None
        group, k = found
        for half in (group.left, group.right):
            for name, (u, z) in section.points(half.side).items():
                column = half.half.column(name)
                self.assertAlmostEqual(u, float(half.u[k, column]), delta=1e-5)
                self.assertAlmostEqual(z, float(half.z[k, column] - model.hinge_level[i]), delta=1e-5)


class Layers(TestCase):
    @settings(max_examples=ROADS // 4, deadline=None, derandomize=SAME_ONES)
    @given(SEEDS)
    def test_layers_neither_overlap_nor_leave_gaps(self, seed: int) -> None:
        _, model = road(seed)
        for group in model.groups:
            for half in (group.left, group.right):
                there = half.layers.solved
                off = np.where(there, np.abs(imbalance(half)), 0.0)
                with self.subTest(seed=seed, template=group.key):
                    self.assertLess(float(np.nan_to_num(off).max(initial=0.0)), 1e-6)
                for k in some(seed, len(group.rows), 2):
                    if there[k]:
                        self.apart(half, k)
        self.cut_and_fill(model, seed)

    def apart(self, half: Any, k: int) -> None:
        """As shapely sees the polygons that are drawn: no two share an area, and together they have that of their sum."""
        polygons = [shapely.Polygon(ring) for found in rings(half.layers.layers, k, half.side) for ring in found]
        polygons = [p for p in polygons if p.is_valid and np.isfinite(shapely.get_coordinates(p)).all()]
        for a, b in combinations(polygons, 2):
            self.assertLess(shapely.intersection(a, b).area, 1e-6)

    def cut_and_fill(self, model: RoadModel, seed: int) -> None:
        e = model.earthworks
        for i in some(seed, len(model.chainage), 3):
            if not np.isfinite(e.cut[i]) or e.high[i] - e.low[i] < 1e-6:
                continue
            low, high, base = e.low[i], e.high[i], float(np.nanmin(e.formation.levels[i])) - 50

            def beneath(o: np.ndarray, z: np.ndarray, low: float = low, high: float = high, base: float = base) -> Any:
                keep = (o > low) & (o < high)
                first, last = np.flatnonzero(o <= low)[-1], np.flatnonzero(o >= high)[0]
                ends = [
                    np.interp(x, o[j : j + 2], z[j : j + 2]) for x, j in ((low, min(first, len(o) - 2)), (high, max(last - 1, 0)))
                ]
                line = [(low, ends[0]), *zip(o[keep], z[keep], strict=True), (high, ends[1])]
                return shapely.make_valid(shapely.Polygon([*line, (high, base), (low, base)]))

            ground, dug = beneath(*model.milling.surface.row(i)), beneath(*e.formation.row(i))
            self.assertAlmostEqual(shapely.difference(ground, dug).area, float(e.cut[i]), delta=1e-5)
            self.assertAlmostEqual(shapely.difference(dug, ground).area, float(e.fill[i]), delta=1e-5)


class Laws(TestCase):
    @settings(max_examples=ROADS // 4, deadline=None, derandomize=SAME_ONES)
    @given(SEEDS)
    @example(462)  # a band of depth so thin that nothing of its outline was left
    def test_parts_are_the_whole_and_what_is_not_known_is_told(self, seed: int) -> None:
        inputs, model = road(seed)
        bill = take_off(model)
        self.parts_are_the_whole(inputs, bill)
        self.assertLess(abs(balance(model).open), 1e-6, "what is built, dug and milled lies between old and new")
        told = np.zeros(len(model.chainage), dtype=bool)
        for p in model.problems:
            if p.code in UNKNOWN:
                told |= (model.chainage >= p.chainage_from - 1e-6) & (model.chainage <= p.chainage_to + 1e-6)
        for (kind, name, _), laid in layer_areas(model).items():
            self.assertTrue(told[np.isnan(laid.area)].all(), f"{kind} {name} is not known where nothing is said")
        self.assertTrue(told[np.isnan(model.earthworks.cut) & np.isin(np.arange(len(told)), _designed(model))].all())
        d = model.depth
        known = np.isfinite(d.least)
        triangles = depth_triangles(model)
        bands = depth_bands(triangles, inputs.settings.depth_bands_mm)
        self.assertAlmostEqual(
            sum(b.area for b in bands), float(triangles.area.sum()), delta=1e-6 * max(1.0, float(triangles.area.sum()))
        )
        cover = np.array([getattr(model.work_at(i), "least_cover_mm", np.nan) for i in range(len(known))]) / 1000
        governed = np.array(
            [getattr(getattr(model.work_at(i), "governs", None), "kind", "") == "cover" for i in range(len(known))]
        )
        held = known & governed & (model.lines.tied >= 1)
        self.assertTrue((d.least[held] >= cover[held] - 1e-9).all(), "cover that governs is kept")

    def parts_are_the_whole(self, inputs: RoadInputs, bill: Quantities) -> None:
        for total in bill.total.rows:
            parts = [r for g in bill.groups for r in g.rows if (r.kind, r.name, r.key) == (total.kind, total.name, total.key)]
            for field in ("volume", "mass", "length", "area"):
                whole = getattr(total, field)
                if whole is not None and len(bill.groups) and _gapless(inputs):
                    self.assertAlmostEqual(sum(getattr(r, field) for r in parts), whole, delta=1e-6 * max(1.0, abs(whole)))

    @settings(max_examples=ROADS // 10, deadline=None, derandomize=SAME_ONES)
    @given(SEEDS)
    def test_moving_turning_and_counting_from_elsewhere_change_nothing(self, seed: int) -> None:
        inputs, model = road(seed)
        rng = np.random.default_rng(seed + 2)
        angle, shift, up = float(rng.uniform(0, 360)), rng.uniform(-3e5, 3e5, 2), float(rng.uniform(-200, 200))
        other = solve(_moved(inputs, angle, shift, up))
        np.testing.assert_allclose(other.hinge_level - up, model.hinge_level, atol=1e-5)
        self.same_bill(take_off(other), take_off(model), 3e-5)

    @settings(max_examples=ROADS // 20, deadline=None, derandomize=SAME_ONES)
    @given(SEEDS)
    def test_every_edit_comes_out_as_if_fresh(self, seed: int) -> None:
        """A road and parts of another, put in one by one and taken back, with one memory and with none."""
        inputs, _ = road(seed)
        rng, run = np.random.default_rng(seed + 3), Run()
        now = inputs
        for _ in range(5):
            now = replace(now, **_edit(rng, now, inputs))
            kept, fresh = solve(now, run), solve(now)
            for name in ("hinge_level", "candidates"):
                np.testing.assert_array_equal(getattr(kept, name), getattr(fresh, name))
            for name in ("least", "greatest", "mean", "left", "right"):
                np.testing.assert_array_equal(getattr(kept.depth, name), getattr(fresh.depth, name))
            self.assertEqual(kept.problems, fresh.problems)
            self.assertEqual(take_off(kept), take_off(fresh))

    def same_bill(self, a: Quantities, b: Quantities, share: float) -> None:
        ours, theirs = ({(r.kind, r.name, r.key): r for r in q.total.rows} for q in (a, b))
        for key in set(ours) & set(theirs):
            for field in ("volume", "length", "area", "unknown_length"):
                x, y = getattr(ours[key], field), getattr(theirs[key], field)
                if x is not None:
                    self.assertAlmostEqual(x, y, delta=share * max(10.0, abs(y)), msg=f"{key} {field}")
        for key in set(ours) ^ set(theirs):
            row = ours.get(key) or theirs[key]
            self.assertLess(abs(row.volume or row.length or 0.0), share * 10, f"{key} is on one side only")


def _designed(model: RoadModel) -> np.ndarray:
    return np.concatenate([g.rows for g in model.groups]) if model.groups else np.empty(0, dtype=int)


def _gapless(inputs: RoadInputs) -> bool:
    """Whether treatments cover the road without gaps, so that nothing lies outside of them."""
    ranges = inputs.treatments.ranges
    end = inputs.alignment.start_chainage + sum(e.length for e in inputs.alignment.elements)
    return (
        len(ranges) > 0
        and abs(ranges[0].from_chainage - inputs.alignment.start_chainage) < 1e-6
        and abs(ranges[-1].to_chainage - end) < 1e-6
        and all(abs(b.from_chainage - a.to_chainage) < 1e-9 for a, b in pairwise(ranges))
    )


def _moved(inputs: RoadInputs, angle: float, shift: np.ndarray, up: float) -> RoadInputs:
    """The same road elsewhere: turned clockwise, shifted and raised."""
    t, a = np.radians(angle), inputs.alignment
    turn = np.array([[np.cos(t), -np.sin(t)], [np.sin(t), np.cos(t)]])
    base = np.array([a.start_east, a.start_north])

    def points(p: np.ndarray) -> np.ndarray:
        return np.column_stack([(p[:, :2] - base) @ turn + base + shift, p[:, 2] + up])

    levels = inputs.levels.changed(rows=[r.changed(level=r.level + up).model_dump() for r in inputs.levels.rows])
    profiles = {
        k: p.changed(points=[q.changed(level=q.level + up).model_dump() for q in p.points]) for k, p in inputs.profiles.items()
    }
    return replace(
        inputs,
        alignment=a.changed(
            start_east=float(base[0] + shift[0]), start_north=float(base[1] + shift[1]), start_bearing_deg=a.start_bearing_deg + angle
        ),
        surface=Tin(points(inputs.surface.points), inputs.surface.triangles.copy()),
        lines={code: SurveyLines(points(x.start), points(x.end)) for code, x in inputs.lines.items()},
        levels=levels,
        profiles=profiles,
    )  # fmt: skip


def _edit(rng: np.random.Generator, now: RoadInputs, first: RoadInputs) -> dict[str, Any]:
    """A change of one field, or back to what it was at first."""
    field = str(
        rng.choice(
            ["settings", "treatments", "template_plan", "templates", "make_ups", "milling", "crossfalls", "levels", "lines"]
        )
    )
    if rng.random() < 0.25:
        return {field: getattr(first, field)}
    if field == "settings":
        return {field: now.settings.changed(interval=float(rng.choice([10, 13, 20])))}
    if field == "treatments" and now.treatments.ranges:
        k = int(rng.integers(0, len(now.treatments.ranges)))
        ranges = list(now.treatments.ranges)
        work = ranges[k].work
        if work.kind == "overlay":
            ranges[k] = ranges[k].changed(work=work.changed(least_cover_mm=float(rng.uniform(20, 90))).model_dump())
        return {field: now.treatments.changed(ranges=[r.model_dump() for r in ranges])}
    if field == "template_plan" and now.template_plan.ranges:
        ranges = [r.changed(template=str(rng.choice(list(now.templates)))) for r in now.template_plan.ranges]
        return {field: now.template_plan.changed(ranges=[r.model_dump() for r in ranges])}
    if field == "milling":
        return {field: first.milling.changed(stretches=[])}
    if field == "crossfalls":
        return {
            field: now.crossfalls.changed(
                rows=[r.changed(left_pct=float(rng.uniform(-4, 0))).model_dump() for r in now.crossfalls.rows]
            )
        }
    if field == "lines":
        gone = str(rng.choice(list(now.lines))) if now.lines else ""
        return {field: {k: v for k, v in now.lines.items() if k != gone}}
    return {}
