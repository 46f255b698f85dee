"""Divided roads: medians by what has room, ground that is counted once. Judged by polygon clipping (shapely) of what the roads would be
without each other, and by facts that need no computation: no gap and nothing twice between the pavements."""

from collections.abc import Callable
from dataclasses import replace
from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.geometry.polylines import Floats
from saddle.pipeline import lines_of, solve
from saddle.quantities.takeoff import take_off
from saddle.road.beyond import ENDS, NONE_FITS
from saddle.road.model import RoadInputs, RoadModel
from saddle.stages.keys import digest
from saddle.template.polygons import rings
from saddle.template.starter_medians import MEDIANS
from saddle.views.section import design_line, section_view
from tests.depth import ROADS, SAME_ONES
from tests.other_views import mirrored, rechained
from tests.random_sets import LEFT, RIGHT, linked, random_divided
from tests.test_road_laws import SameBill


def sets(share: int):  # type: ignore[no-untyped-def]
    """A share of the random roads of a run."""
    some = settings(max_examples=max(4, ROADS // share), deadline=None, derandomize=SAME_ONES)
    return lambda test: given(st.integers(0, 2**32 - 1))(some(test))


def common(a: RoadModel, b: RoadModel) -> list[tuple[int, int]]:
    """Rows of sections that both roads have at one chainage, away from pairs."""
    where = {round(float(c), 6): i for i, c in enumerate(b.chainage) if b.stations.side[i] == 0}
    return [
        (i, where[key])
        for i, c in enumerate(a.chainage)
        if a.stations.side[i] == 0 and (key := round(float(c), 6)) in where
    ]  # fmt: skip


def solved(model: RoadModel, i: int) -> bool:
    group = model.group_of(i)
    return group is not None and all(h.layers.solved[group[1]] for h in (group[0].left, group[0].right))


def half_plane(at: float, side: int) -> shapely.Geometry:
    return shapely.box(-1e4, -1e5, at, 1e5) if side < 0 else shapely.box(at, -1e5, 1e4, 1e5)


def layer_areas(model: RoadModel, i: int, clip: shapely.Geometry | None = None) -> dict[tuple[str, str, str], float]:
    """Area of every layer on a section, m2, by element, name and construction; clip: only so much of it."""
    group, k = model.group_of(i)  # type: ignore[misc]
    out: dict[tuple[str, str, str], float] = {}
    for half in (group.left, group.right):
        for layer, found in zip(half.layers.layers, rings(half.layers.layers, k, half.side), strict=True):
            for ring in found:
                shape = shapely.make_valid(shapely.Polygon(ring))
                area = (shape if clip is None else shapely.intersection(shape, clip)).area
                key = (layer.element, layer.name, layer.construction)
                out[key] = out.get(key, 0.0) + area
    return out


def ground_between(line: Floats, ground: Floats, clip: shapely.Geometry) -> tuple[float, float]:
    """Area of the ground above and below a line of the design (k, 2) within a half plane, by polygons, m2."""
    low, high = line[0, 0], line[-1, 0]
    deep = min(line[:, 1].min(), ground[:, 1].min()) - 10

    def under(of: Floats) -> shapely.Geometry:
        o = np.r_[low, of[(of[:, 0] > low) & (of[:, 0] < high), 0], high]
        inner = of[(of[:, 0] > low) & (of[:, 0] < high)]
        z = np.r_[np.interp(low, *of.T), inner[:, 1], np.interp(high, *of.T)]
        return shapely.make_valid(shapely.Polygon([(low, deep), *zip(o, z, strict=True), (high, deep)]))

    a, b = (shapely.intersection(under(of), clip) for of in (line, ground))
    return shapely.difference(b, a).area, shapely.difference(a, b).area


class Medians(TestCase):
    @sets(10)
    def test_it_reaches_from_edge_to_edge_by_the_first_shape_that_has_room(self, seed: int) -> None:
        divided = random_divided(np.random.default_rng(seed), median=True)
        a, b = solve(divided.left), solve(divided.right)
        least = [s.least_width for s in MEDIANS["median"].shapes]
        for i, j in common(a, b):
            if not (solved(a, i) and solved(b, j)):
                continue
            near, far = np.array(design_line(a, i)), np.array(design_line(b, j))
            where = {p.name: p for p in section_view(a, i).points if p.side == "right"}
            gap = far[0, 0] - where["MarginEdge"].offset
            at = f"{a.chainage[i]:.3f}, {gap:.4f} m"
            fits = [k for k, w in enumerate(least) if gap >= (w - 0.0005 if w > 0 else -0.02)]
            self.assertEqual(a.taken.shape[1][i], fits[0] if fits else NONE_FITS, at)
            self.assertEqual(b.taken.shape[-1][j], ENDS)
            if fits:
                # No gap, no step: the median's surface ends where the other pavement begins.
                self.assertTrue(np.isfinite(a.taken.level[1][i]), at)
                np.testing.assert_allclose(near[-1], far[0] - [gap if abs(gap) <= 0.02 else 0.0, 0.0], atol=2e-6, err_msg=at)
            self.assertAlmostEqual(a.earthworks.high[i], near[-1, 0], delta=1e-9)
            self.assertAlmostEqual(b.earthworks.low[j], far[0, 0], delta=1e-9)

    def test_two_sections_stand_where_the_shape_changes(self) -> None:
        """A median that runs straight from 6 m to nothing over 300 m: every shape stands as long as its widths do, so that its kerbs are as
        long as that to the last digit, and a line across the road finds nothing unknown."""
        for seed in range(12):
            divided = random_divided(np.random.default_rng(seed), median=True)
            low, high = divided.left.template_plan.ranges[0].from_chainage, divided.left.template_plan.ranges[0].to_chainage
            roads = {}
            for key, road, side in ((LEFT, divided.left, -1), (RIGHT, divided.right, 1)):
                pieces = {"by": "pieces", "start_chainage": low - 1e-6, "start_offset": side * 7.0, "pieces": [
                    {"kind": "taper", "to_offset": side * 4.0, "end": {"by": "chainage", "chainage": high + 1e-6}}]}  # fmt: skip
                hinge = road.guides["hinge"].changed(source=pieces)
                roads[key] = replace(road, guides={**road.guides, "hinge": hinge}, roads={}, neighbours={})
            model = solve(linked(roads)[LEFT])
            changes = [i for i in range(len(model.chainage) - 1) if model.taken.shape[1][i] != model.taken.shape[1][i + 1]]
            at = [high - w / 6 * (high - low) for w in (4.0, 1.0, 0.65)]
            straight = abs(model.frames.curvature).max() == 0
            # On a curve the other edge is one of chords: the place is another one, but there are two sections there all the same.
            np.testing.assert_allclose(model.chainage[changes], at, atol=1e-4 if straight else 6.0)
            np.testing.assert_allclose(model.chainage[[i + 1 for i in changes]], model.chainage[changes], atol=1e-9)
            if all(solved(model, i) for i in range(len(model.chainage))) and straight:
                kerbs = [r for r in take_off(model).total.rows if r.kind == "length" and "Sloping" in r.name]
                # Two kerbs over half of the length, askew as the edges are.
                self.assertAlmostEqual(sum(r.length or 0.0 for r in kerbs), float(np.hypot(high - low, 3.0)), delta=1e-3)

    def test_some_of_its_sections_are_as_all_of_them(self) -> None:
        """What is tried on one section at a time shows the shapes that the whole road has, on either section of a pair too."""
        for seed in (0, 4, 8):
            road = random_divided(np.random.default_rng(seed), median=True).left
            whole = solve(road)
            for i in [*np.flatnonzero(whole.stations.side != 0), len(whole.chainage) // 2]:
                one = solve(road, pick=lambda _, i=int(i): np.array([i]))
                self.assertEqual(one.taken.shape[1][0], whole.taken.shape[1][i])
                np.testing.assert_allclose(design_line(one, 0), design_line(whole, int(i)), atol=1e-9)

    def test_kerbs_and_strips_vanish_where_it_gets_narrow(self) -> None:
        """The law of the issue: no section that cannot be solved, whatever the width."""
        for seed in range(6):
            divided = random_divided(np.random.default_rng(seed), median=True)
            alone = solve(replace(divided.left, template_plan=divided.left.template_plan.changed(
                ranges=[r.changed(right_beyond=None).model_dump() for r in divided.left.template_plan.ranges])))  # fmt: skip
            model = solve(divided.left)
            # Where its shape changes the median has sections of its own: the road around them is solved without it.
            first = np.searchsorted(alone.chainage, model.chainage + 1e-6) - 1
            last = np.searchsorted(alone.chainage, model.chainage - 1e-6)
            around = [solved(alone, int(a)) and solved(alone, int(b)) for a, b in zip(first, last, strict=True)]
            unsolved = [i for i in range(len(model.chainage)) if around[i] and not solved(model, i)]
            self.assertEqual(unsolved, [], seed)

    def test_without_a_line_the_slopes_of_the_template_hold_and_it_is_told(self) -> None:
        divided = random_divided(np.random.default_rng(4), median=True)
        model, plain = solve(replace(divided.left, roads={})), solve(
            replace(divided.left, template_plan=divided.left.template_plan.changed(
                ranges=[r.changed(right_beyond=None).model_dump() for r in divided.left.template_plan.ranges]))
        )  # fmt: skip
        np.testing.assert_array_equal(model.earthworks.cut, plain.earthworks.cut)
        self.assertIn("no_far_side", {p.code for p in model.problems})


class CountedOnce(TestCase):
    @sets(10)
    def test_what_is_built_is_cut_off_at_the_middle(self, seed: int) -> None:
        """Layers and earthworks of either road are those of the road alone, clipped by polygons at the middle between both pavements."""
        divided = random_divided(np.random.default_rng(seed), median=False)
        a, b = solve(divided.left), solve(divided.right)
        for inputs, model, other, side in ((divided.left, a, b, 1), (divided.right, b, a, -1)):
            alone = solve(replace(inputs, beside=(), neighbours={}))
            for i, j in common(model, other):
                if not (solved(model, i) and solved(other, j) and solved(alone, i)):
                    continue
                own, its = self.inner(model, i, side), self.inner(other, j, -side)
                if not any(solved(other, k) for k in (j - 1, j + 1) if 0 <= k < len(other.chainage)):
                    continue  # a line of one place is met nowhere
                bound = side * max(side * (own + its) / 2, side * own)
                at = f"{model.chainage[i]:.3f} at {bound:.4f}"
                self.assertAlmostEqual(side * model.bounds[side][i], bound, delta=2e-6, msg=at)
                half = alone.group_of(i)[0].right if side > 0 else alone.group_of(i)[0].left  # type: ignore[index]
                if half.slopes.rung[alone.group_of(i)[1]] < -1:  # type: ignore[index]
                    continue  # alone its slope lands nowhere: there is nothing to clip
                clip = half_plane(bound, -side)
                wanted, found = layer_areas(alone, i, clip), layer_areas(model, i)
                for key in wanted | found:
                    self.assertAlmostEqual(found.get(key, 0.0), wanted.get(key, 0.0), delta=1e-6, msg=f"{key} {at}")
                formation = np.column_stack(alone.earthworks.formation.row(i))
                ground = np.column_stack(model.milling.surface.row(i))
                if np.isnan(ground).any() or np.isnan(formation).any() or np.isnan(alone.earthworks.cut[i]):
                    continue
                cut, fill = ground_between(formation, ground, clip)
                self.assertAlmostEqual(model.earthworks.cut[i], cut, delta=1e-6, msg=at)
                self.assertAlmostEqual(model.earthworks.fill[i], fill, delta=1e-6, msg=at)

    @staticmethod
    def inner(model: RoadModel, i: int, side: int) -> float:
        """Offset of the outermost point of a template."""
        group, k = model.group_of(i)  # type: ignore[misc]
        half = group.right if side > 0 else group.left
        return side * float(half.u[k, half.half.outer])

    @sets(20)
    def test_nothing_lies_on_both(self, seed: int) -> None:
        divided = random_divided(np.random.default_rng(seed), median=False)
        a, b = solve(divided.left), solve(divided.right)
        for i, j in common(a, b):
            if solved(a, i) and solved(b, j) and np.isfinite(a.earthworks.high[i] + b.earthworks.low[j]):
                self.assertLessEqual(a.earthworks.high[i], b.earthworks.low[j] + 1e-6, a.chainage[i])

    def test_what_others_follow_does_not_depend_on_where_it_ends(self) -> None:
        divided = random_divided(np.random.default_rng(3), median=False)
        alone = replace(divided.left, beside=(), neighbours={})
        self.assertEqual(digest(lines_of(divided.left).value), digest(lines_of(alone).value))
        self.assertNotEqual(solve(divided.left).key, solve(alone).key)
        self.assertEqual({LEFT, RIGHT}, set(divided.left.neighbours) | set(divided.right.neighbours))


class ToldOtherwise(SameBill):
    """The same two roads in a mirror, and under other chainages: what is built of either is the same."""

    def both(self, seed: int, change: Callable[[RoadInputs], RoadInputs]) -> None:
        divided = random_divided(np.random.default_rng(seed))
        roads = {LEFT: divided.left, RIGHT: divided.right}
        told = linked({key: replace(change(road), roads={}, neighbours={}) for key, road in roads.items()})
        for key in roads:
            one, other = solve(roads[key]), solve(told[key])
            self.same(take_off(other), take_off(one), 3e-5)
            self.assertEqual(self.findings(other), self.findings(one))

    @sets(20)
    def test_in_a_mirror(self, seed: int) -> None:
        self.both(seed, mirrored)

    @sets(20)
    def test_under_other_chainages(self, seed: int) -> None:
        self.both(seed, lambda road: rechained(road, 60.0 * (seed % 400 - 200)))
