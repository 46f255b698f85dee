"""The kernel that shares out what lies under the surface: claims, splits, owners that come apart, polygons."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from saddle.geometry.polylines import Floats, pack
from saddle.template.columns import Columns, Part, Plane, through
from saddle.template.layers import Layer
from saddle.template.polygons import area_of, rings

ONE = np.ones(1)


def level(z: float, n: int = 1) -> Plane:
    return Plane(np.zeros(n), np.full(n, z), np.zeros(n))


def columns(*breaks: float) -> Columns:
    """One section with a level surface at 0 between the outermost breaks."""
    found = Columns(np.array([breaks]))
    found.lay_surface(min(breaks) * ONE, max(breaks) * ONE, level(0.0))
    found.begin()
    return found


def area(c: Columns, part: Part) -> float:
    ends = c.ends[:, 0, part.first : part.end]
    d = part.top[:, 0] - part.bottom[:, 0]
    return float(((d[0] + d[1]) / 2 * (ends[1] - ends[0])).sum())


def sums(c: Columns) -> dict[str, float]:
    out: dict[str, float] = {}
    for owner, part in c.claimed():
        out[str(owner)] = out.get(str(owner), 0.0) + area(c, part)
    return out


class Claims(TestCase):
    def test_what_was_claimed_is_not_claimed_again(self) -> None:
        c = columns(0, 2, 5)
        c.claim("upper", 0 * ONE, 2 * ONE, level(-0.3))
        c.claim("lower", 0 * ONE, 5 * ONE, level(-0.5))
        c.claim("late", 0 * ONE, 5 * ONE, level(-0.4))
        found = sums(c)
        self.assertAlmostEqual(found["upper"], 0.6)
        self.assertAlmostEqual(found["lower"], 2 * 0.2 + 3 * 0.5)
        self.assertNotIn("late", found)

    def test_columns_split_where_lines_cross(self) -> None:
        # A line from +0.5 at 0 to -0.5 at 4 crosses the surface at 2: a triangle of 2 m by 0.5 m.
        c = columns(0, 4)
        c.claim("wedge", 0 * ONE, 4 * ONE, through(0 * ONE, 0.5 * ONE, 4 * ONE, -0.5 * ONE))
        self.assertEqual(c.ends.shape[2], 2)
        self.assertAlmostEqual(sums(c)["wedge"], 0.5)
        self.assertEqual(float(c.ends[1, 0, 0]), 2.0)

    def test_not_below_another_line(self) -> None:
        ground = pack([(np.array([0.0, 4.0]), np.array([0.0, -0.4]))])
        c = columns(0, 4)
        c.claim("thin", 0 * ONE, 4 * ONE, level(-0.1), not_below=ground)
        # The ground rises above -0.1 on the first metre: 0.05 there, then 0.1 over 3 m.
        self.assertAlmostEqual(sums(c)["thin"], 0.05 + 0.3)

    def test_an_owner_above_and_below_something_else_comes_apart(self) -> None:
        c = columns(0, 3)
        c.claim("a", 0 * ONE, 3 * ONE, level(-0.1))
        c.claim("b", 0 * ONE, 3 * ONE, level(-0.2))
        c.claim("a", 0 * ONE, 3 * ONE, level(-0.3))
        parts = [part for owner, part in c.claimed() if owner == "a"]
        self.assertEqual(len(parts), 2)
        self.assertEqual([round(area(c, p), 9) for p in parts], [0.3, 0.3])

    def test_beside_one_another_it_stays_one(self) -> None:
        c = columns(0, 1, 2, 3)
        c.claim("a", 0 * ONE, 1 * ONE, level(-0.1))
        c.claim("b", 1 * ONE, 2 * ONE, level(-0.1))
        c.claim("a", 2 * ONE, 3 * ONE, level(-0.1))
        (part,) = (p for owner, p in c.claimed() if owner == "a")
        self.assertAlmostEqual(area(c, part), 0.2)

    def test_sections_of_other_widths_and_gaps(self) -> None:
        c = Columns(np.array([[0.0, 2.0, 4.0], [0.0, 1.0, np.inf]]))
        c.lay_surface(np.zeros(2), np.array([4.0, 1.0]), level(0.0, 2))
        c.begin()
        c.claim("a", np.zeros(2), np.array([3.0, 9.0]), level(-0.5, 2))
        offsets, surface, front = c.whole()
        self.assertTrue(np.isfinite(offsets).all() and np.isfinite(surface).all() and np.isfinite(front).all())
        (part,) = (p for _, p in c.claimed())
        width = (c.ends[1] - c.ends[0])[:, part.first : part.end]
        thick = (part.top - part.bottom).mean(axis=0)
        np.testing.assert_allclose((width * thick).sum(axis=1), [1.0, 0.5])  # a column counts when its middle lies inside

    @given(st.integers(0, 10**6))
    def test_the_front_is_the_lowest_line_claimed(self, seed: int) -> None:
        """At random places the front is the least of all lines claimed there, worked out one by one."""
        rng = np.random.default_rng(seed)
        lines = []
        cuts = np.unique(np.r_[0.0, 10.0, np.round(rng.uniform(0, 10, 8), 2)])
        c = Columns(np.tile(cuts, (2, 1)))
        c.lay_surface(np.zeros(2), np.full(2, 10.0), level(0.0, 2))
        c.begin()
        for k in range(12):
            a, b = np.sort(rng.choice(cuts, 2, replace=False))
            plane = through(np.full(2, a), rng.uniform(-2, 0.5, 2), np.full(2, b), rng.uniform(-2, 0.5, 2))
            c.claim(k, np.full(2, a), np.full(2, b), plane)
            lines.append((a, b, plane))
        at = rng.uniform(0, 10, 40)
        offsets, _, front = c.whole()
        for i in range(2):
            for u in at:
                if np.abs(cuts - u).min() < 1e-6:
                    continue
                expected = min([0.0] + [float(p.at(np.full(2, u))[i]) for a, b, p in lines if a < u < b])
                j = int(np.flatnonzero((offsets[i, :-1] <= u) & (offsets[i, 1:] > u))[-1])
                t = (u - offsets[i, j]) / (offsets[i, j + 1] - offsets[i, j])
                self.assertAlmostEqual(front[i, j] + t * (front[i, j + 1] - front[i, j]), expected, 9)
        width = np.diff(offsets, axis=1)
        whole = ((front[:, 1:] + front[:, :-1]) / 2 * width).sum(axis=1)
        claimed = np.zeros(2)
        for _, part in c.claimed():
            ends = c.ends[:, :, part.first : part.end]
            claimed += ((part.top - part.bottom).mean(axis=0) * (ends[1] - ends[0])).sum(axis=1)
        np.testing.assert_allclose(claimed, -whole, atol=1e-9)


def layer(name: str, offsets: list[float], top: list[float], bottom: list[float]) -> Layer:
    def row(values: list[float]) -> Floats:
        return np.array([values])

    return Layer(name, "rock", name, "new", row(offsets), row(top), row(bottom))


class Polygons(TestCase):
    def test_a_layer_that_thins_out_has_several(self) -> None:
        a = layer("a", [0, 1, 1, 2, 2, 3], [0] * 6, [-1, 0, 0, 0, 0, -1])
        (found,) = rings((a,), 0, 1)
        self.assertEqual([round(area_of(r), 9) for r in found], [0.5, 0.5])
        self.assertTrue(all(shapely.Polygon(r).is_valid for r in found))

    def test_corners_of_neighbours_are_shared(self) -> None:
        # b stands beside a, whose upright side has two courses: their joint becomes a vertex of b.
        a1 = layer("a1", [0, 1], [0, 0], [-0.4, -0.4])
        a2 = layer("a2", [0, 1], [-0.4, -0.4], [-1, -1])
        b = layer("b", [1, 2], [0, 0], [-1, -1])
        found = rings((a1, a2, b), 0, 1)
        self.assertIn((1.0, -0.4), found[2][0])
        self.assertEqual(len(found[2][0]), 5)

    def test_what_is_straight_needs_no_vertex(self) -> None:
        a = layer("a", [0, 1, 1, 2], [0, 0, 0, 0], [-1, -1, -1, -1])
        (found,) = rings((a,), 0, 1)
        self.assertEqual(sorted(found[0]), [(0.0, -1.0), (0.0, 0.0), (2.0, -1.0), (2.0, 0.0)])

    def test_rounding_makes_no_slivers(self) -> None:
        a = layer("a", [0, 1, 1, 2], [0, 0, 1e-13, 0], [-1, -1, -1 - 1e-13, -1])
        (found,) = rings((a,), 0, 1)
        self.assertEqual(len(found), 1)
        self.assertEqual(len(found[0]), 4)

    def test_sides_mirror(self) -> None:
        a = layer("a", [0, 2], [0, 0.5], [-1, -1])
        right, left = rings((a,), 0, 1)[0], rings((a,), 0, -1)[0]
        self.assertEqual([[(-o, z) for o, z in r] for r in left], right)
        self.assertAlmostEqual(area_of(left[0]), shapely.Polygon(right[0]).area)
