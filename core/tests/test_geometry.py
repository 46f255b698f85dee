"""Polylines and areas against hand calculation, numpy and shapely."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from saddle.geometry.areas import between, cut_and_fill, polygon
from saddle.geometry.polylines import (
    Polylines,
    crossings,
    first_descent,
    interpolate,
    merge_offsets,
    mirror,
    pack,
    sample,
)
from tests.cases import random_ground

SEEDS = st.integers(0, 10_000)


class Polygons(TestCase):
    # Area by coordinates, any surveying textbook (checks 5.4); numbers constructed, centroid by exact fractions.
    RING = np.array([[-5.0, 0.0], [5.0, 0.0], [9.5, 3.0], [0.0, 2.0], [-6.8, 1.2]])

    def test_area_and_centroid(self) -> None:
        area, centroid = polygon(self.RING)
        self.assertAlmostEqual(area, 26.8, 10)
        np.testing.assert_allclose(centroid, [1.4597, 1.1861], atol=1e-4)

    def test_reversed_area_changes_sign(self) -> None:
        self.assertAlmostEqual(polygon(self.RING[::-1])[0], -26.8, 10)

    def test_national_coordinates_lose_no_digits(self) -> None:
        area, centroid = polygon(self.RING + np.array([500_000.0, 6_500_000.0]))
        self.assertAlmostEqual(area, 26.8, 6)
        np.testing.assert_allclose(centroid - [500_000, 6_500_000], [1.4597, 1.1861], atol=1e-4)

    def test_degenerate_polygon_has_no_area(self) -> None:
        self.assertEqual(polygon(np.array([[0.0, 0.0], [1.0, 1.0], [2.0, 2.0]]))[0], 0.0)


class LevelSections(TestCase):
    """Closed forms of level and three-level sections, surveying textbooks (checks 5.5)."""

    def test_level_section(self) -> None:
        # A = d (b + s d) with b = 10, s = 2, d = 2.5
        ground = pack([(np.array([-20.0, 20.0]), np.array([2.5, 2.5]))])
        formation = pack([(np.array([-10.0, -5.0, 5.0, 10.0]), np.array([2.5, 0.0, 0.0, 2.5]))])
        cut, fill = cut_and_fill(ground, formation, np.array([-10.0]), np.array([10.0]))
        self.assertAlmostEqual(cut.area[0], 37.5, 9)
        self.assertAlmostEqual(fill.area[0], 0.0, 9)
        self.assertAlmostEqual(cut.moment[0], 0.0, 9)

    def test_three_level_section(self) -> None:
        # b = 10, s = 1.5, c = 2.0, hl = 1.2, hr = 3.0: wl = 6.8, wr = 9.5, A = 26.8
        ground = pack([(np.array([-6.8, 0.0, 9.5]), np.array([1.2, 2.0, 3.0]))])
        formation = pack([(np.array([-6.8, -5.0, 5.0, 9.5]), np.array([1.2, 0.0, 0.0, 3.0]))])
        cut, _ = cut_and_fill(ground, formation, np.array([-6.8]), np.array([9.5]))
        self.assertAlmostEqual(cut.area[0], 26.8, 9)


class Lines(TestCase):
    STEP = pack([(np.array([0.0, 2.0, 2.0, 5.0]), np.array([1.0, 1.0, 3.0, 3.0]))])

    def test_interpolation_agrees_with_numpy(self) -> None:
        rng = np.random.default_rng(1)
        o = np.sort(rng.uniform(-5, 5, 9))
        z = rng.normal(size=9)
        at = rng.uniform(o[0], o[-1], 40)
        np.testing.assert_allclose(interpolate(pack([(o, z)]), at[None, :])[0], np.interp(at, o, z), atol=1e-12)

    def test_step_has_an_inner_and_an_outer_level(self) -> None:
        at = np.array([[2.0]])
        self.assertEqual(interpolate(self.STEP, at, "inner")[0, 0], 1.0)
        self.assertEqual(interpolate(self.STEP, at, "outer")[0, 0], 3.0)

    def test_no_level_beyond_the_ends_or_in_a_gap(self) -> None:
        gap = pack([(np.array([0.0, 1.0, 2.0, 3.0, 4.0]), np.array([1.0, 1.0, np.nan, 5.0, 5.0]))])
        found = interpolate(gap, np.array([[-0.1, 0.0, 1.0, 1.5, 2.0, 3.0, 4.0, 4.1]]))[0]
        np.testing.assert_array_equal(np.isnan(found), [True, False, False, True, True, False, False, True])

    def test_mirror_twice_is_the_same(self) -> None:
        lines = random_ground(np.random.default_rng(2), 30)
        twice = mirror(mirror(lines))
        np.testing.assert_array_equal(twice.offsets, lines.offsets)
        np.testing.assert_array_equal(twice.levels, lines.levels)

    def test_mirror_swaps_the_sides_of_a_step(self) -> None:
        m = mirror(self.STEP)
        self.assertEqual(interpolate(m, np.array([[-2.0]]), "inner")[0, 0], 3.0)
        self.assertEqual(interpolate(m, np.array([[-2.0]]), "outer")[0, 0], 1.0)

    def test_merged_grid_holds_ends_and_steps_once(self) -> None:
        grid = merge_offsets(np.array([1.0]), np.array([4.0]), self.STEP.offsets)
        np.testing.assert_array_equal(np.unique(grid), [1.0, 2.0, 4.0])
        self.assertEqual(int((grid == 2.0).sum()), 2)
        np.testing.assert_array_equal(sample(self.STEP, grid)[0][grid[0] == 2.0], [1.0, 3.0])

    def test_crossings_are_where_the_difference_is_zero(self) -> None:
        grid = np.array([[0.0, 1.0, 3.0]])
        found = crossings(grid, np.array([[-1.0, 1.0, 1.0]]))
        self.assertEqual(found[0, 0], 0.5)
        self.assertTrue(np.isnan(found[0, 1]))

    def test_first_descent_counts_touching_a_vertex(self) -> None:
        u = np.array([[0.0, 1.0, 2.0, 3.0]])
        for f, expected in (([2.0, 1.0, 0.0, 1.0], 2.0), ([2.0, 1.0, -1.0, 1.0], 1.5), ([0.0, 1.0, 1.0, 1.0], 0.0)):
            self.assertAlmostEqual(first_descent(u, np.array([f]))[0], expected)
        self.assertTrue(np.isnan(first_descent(u, np.array([[2.0, 1.0, 0.5, 0.1]]))[0]))
        self.assertTrue(np.isnan(first_descent(u, np.array([[2.0, np.nan, -1.0, -1.0]]))[0]))


def shapely_cut_and_fill(ground: Polylines, formation: Polylines, i: int, low: float, high: float) -> tuple[float, float]:
    """The same areas by polygon clipping: both lines closed far above and far below."""
    g, f = (np.column_stack(line.row(i)) for line in (ground, formation))

    def half_plane(line: np.ndarray, level: float) -> shapely.Polygon:
        return shapely.Polygon([*line, (line[-1, 0], level), (line[0, 0], level)]).buffer(0)

    window = shapely.box(low, -1e3, high, 1e3)
    cut = half_plane(g, -1e3).intersection(half_plane(f, 1e3)).intersection(window)
    fill = half_plane(f, -1e3).intersection(half_plane(g, 1e3)).intersection(window)
    return cut.area, fill.area


class CutAndFill(TestCase):
    def test_agrees_with_shapely_on_random_lines(self) -> None:
        rng = np.random.default_rng(3)
        ground, formation = random_ground(rng, 120), random_ground(rng, 120)
        low, high = rng.uniform(-11, -1, 120), rng.uniform(1, 11, 120)
        cut, fill = cut_and_fill(ground, formation, low, high)
        for i in range(120):
            expected = shapely_cut_and_fill(ground, formation, i, low[i], high[i])
            np.testing.assert_allclose([cut.area[i], fill.area[i]], expected, atol=1e-7)

    @given(SEEDS, st.floats(-500, 500), st.floats(-500, 500))
    def test_translation_changes_nothing(self, seed: int, across: float, up: float) -> None:
        rng = np.random.default_rng(seed)
        g, f = random_ground(rng, 3), random_ground(rng, 3)
        low, high = np.full(3, -9.0), np.full(3, 9.0)
        cut, fill = cut_and_fill(g, f, low, high)
        moved = [Polylines(line.offsets + across, line.levels + up) for line in (g, f)]
        cut2, fill2 = cut_and_fill(*moved, low + across, high + across)
        np.testing.assert_allclose([cut.area, fill.area], [cut2.area, fill2.area], atol=1e-8)
        np.testing.assert_allclose(cut2.moment - across * cut2.area, cut.moment, atol=1e-6)

    @given(SEEDS)
    def test_mirroring_keeps_areas_and_turns_moments(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        g, f = random_ground(rng, 3), random_ground(rng, 3)
        cut, fill = cut_and_fill(g, f, np.full(3, -8.0), np.full(3, 10.0))
        cut2, fill2 = cut_and_fill(mirror(g), mirror(f), np.full(3, -10.0), np.full(3, 8.0))
        np.testing.assert_allclose([cut.area, fill.area], [cut2.area, fill2.area], atol=1e-10)
        np.testing.assert_allclose(cut.moment, -cut2.moment, atol=1e-9)

    @given(SEEDS, st.floats(-7.5, 7.5))
    def test_splitting_adds_up(self, seed: int, at: float) -> None:
        rng = np.random.default_rng(seed)
        g, f = random_ground(rng, 2), random_ground(rng, 2)
        whole = cut_and_fill(g, f, np.full(2, -8.0), np.full(2, 8.0))
        first = cut_and_fill(g, f, np.full(2, -8.0), np.full(2, at))
        second = cut_and_fill(g, f, np.full(2, at), np.full(2, 8.0))
        for k in range(2):
            np.testing.assert_allclose(whole[k].area, first[k].area + second[k].area, atol=1e-9)

    def test_a_gap_in_the_ground_gives_no_number(self) -> None:
        ground = pack([(np.array([0.0, 1.0, 2.0, 3.0, 4.0]), np.array([1.0, 1.0, np.nan, 1.0, 1.0]))])
        flat = pack([(np.array([0.0, 4.0]), np.array([0.0, 0.0]))])
        cut, _ = cut_and_fill(ground, flat, np.array([0.0]), np.array([4.0]))
        self.assertTrue(np.isnan(cut.area[0]))
        cut, _ = cut_and_fill(ground, flat, np.array([0.0]), np.array([1.0]))
        self.assertAlmostEqual(cut.area[0], 1.0)

    def test_moment_of_a_triangle(self) -> None:
        # Triangle on [0, 3] of height 2 at 3: area 3, centroid at 2.
        found = between(np.array([[0.0, 3.0]]), np.array([[0.0, 2.0]]), np.zeros((1, 2)))
        self.assertAlmostEqual(found.area[0], 3.0)
        self.assertAlmostEqual(found.moment[0], 6.0)
