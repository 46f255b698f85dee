"""What governs the overlay, against brute force and hand calculation."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from saddle.geometry.areas import polygon
from saddle.geometry.polylines import Floats, Polylines, mirror, pack
from saddle.overlay.governing import bridge, cover_governs, measured_crossfall
from saddle.views.depth_map import DRAWN, DepthTriangles, depth_bands, share_below
from tests.cases import random_ground


def straight_shape(n: int, hinge: Floats, left_pct: Floats, right_pct: Floats) -> Polylines:
    """Crossfall lines 20 m out from the hinge on both sides."""
    offsets = np.column_stack([hinge - 20, hinge, hinge + 20])
    levels = np.column_stack([left_pct * 0.2, np.zeros(n), right_pct * 0.2])
    return Polylines(offsets, levels)


def brute_force_depths(
    ground: Polylines, i: int, h: float, zh: float, pct: tuple[float, float], ends: tuple[float, float]
) -> Floats:
    """Depths at every vertex between the ends, at the ends and at the hinge, one by one."""
    o, z = ground.row(i)
    low, high = ends
    checked: list[tuple[float, float]] = [(v, e) for v, e in zip(o, z, strict=True) if low <= v <= high]
    checked += [(at, float(np.interp(at, o, z))) for at in (low, h, high)]
    return np.array([zh + (pct[0] if v < h else pct[1]) / 100 * abs(v - h) - e for v, e in checked])


class NothingOverlaid(TestCase):
    def test_of_two_grounds_at_a_step_the_higher_counts_and_so_it_does_in_the_mirror(self) -> None:
        """Milled 50 mm left of the hinge, and neither side has any width: a section and its mirror asked different grounds."""
        h = np.array([1.0])
        ground = Polylines(np.array([[-9.0, 1.0, 1.0, 9.0]]), np.array([[0.95, 0.95, 1.0, 1.0]]))
        shape = straight_shape(1, h, np.array([-2.5]), np.array([-2.5]))
        found = cover_governs(ground, shape, h, h, h, np.array([0.06]))
        other = cover_governs(
            mirror(ground), straight_shape(1, -h, np.array([-2.5]), np.array([-2.5])), -h, -h, -h, np.array([0.06])
        )
        np.testing.assert_allclose([found.level[0], other.level[0]], 1.06)


class CoverGoverns(TestCase):
    N = 1000

    def setUp(self) -> None:
        rng = np.random.default_rng(11)
        self.ground = random_ground(rng, self.N)
        self.h = rng.uniform(-1, 1, self.N)
        self.pct = rng.uniform(-6, 5, (2, self.N))
        self.left, self.right = self.h - rng.uniform(0.5, 6, self.N), self.h + rng.uniform(0.5, 6, self.N)
        self.cover = rng.uniform(0.0, 0.12, self.N)
        shape = straight_shape(self.N, self.h, *self.pct)
        self.found = cover_governs(self.ground, shape, self.h, self.left, self.right, self.cover)

    def test_thousand_sections_against_brute_force(self) -> None:
        for i in range(self.N):
            depths = brute_force_depths(
                self.ground, i, self.h[i], self.found.level[i], (self.pct[0, i], self.pct[1, i]), (self.left[i], self.right[i])
            )
            self.assertGreaterEqual(depths.min(), self.cover[i] - 1e-6)
            self.assertAlmostEqual(depths.min(), self.cover[i], delta=1e-6)

    def test_the_higher_candidate_is_taken(self) -> None:
        np.testing.assert_array_equal(self.found.level, np.maximum(self.found.left, self.found.right))
        self.assertTrue((self.found.left != self.found.right).any())

    def test_mirrored_road_gives_the_same_level(self) -> None:
        shape = mirror(straight_shape(self.N, self.h, *self.pct))
        again = cover_governs(mirror(self.ground), shape, -self.h, -self.right, -self.left, self.cover)
        np.testing.assert_allclose(again.level, self.found.level, atol=1e-12)
        np.testing.assert_allclose(again.left, self.found.right, atol=1e-12)

    def test_by_hand(self) -> None:
        # Flat old road at 10.000 with a bump of 30 mm at 2 m right, -2.5 % both sides, 50 mm cover, edges at 3 m:
        # left edge needs 10.05 + 0.075 = 10.125; the bump 10.03 + 0.05 + 0.05 = 10.13; the right edge 10.125.
        ground = pack([(np.array([-3.0, 0.0, 1.9, 2.0, 2.1, 3.0]), np.array([10, 10, 10, 10.03, 10, 10]))])
        shape = straight_shape(1, np.zeros(1), np.array([-2.5]), np.array([-2.5]))
        found = cover_governs(ground, shape, np.zeros(1), np.array([-3.0]), np.array([3.0]), np.array([0.05]))
        self.assertAlmostEqual(found.left[0], 10.125, 12)
        self.assertAlmostEqual(found.right[0], 10.13, 12)
        self.assertAlmostEqual(found.level[0], 10.13, 12)

    def test_a_kerb_face_counts_with_both_its_vertices(self) -> None:
        ground = pack([(np.array([-3.0, 1.0, 1.0, 3.0]), np.array([10, 10, 10.1, 10.1]))])
        shape = straight_shape(1, np.zeros(1), np.zeros(1), np.zeros(1))
        found = cover_governs(ground, shape, np.zeros(1), np.array([-3.0]), np.array([1.0]), np.array([0.05]))
        self.assertAlmostEqual(found.level[0], 10.05, 12)  # up to the face only its foot counts
        found = cover_governs(ground, shape, np.zeros(1), np.array([-3.0]), np.array([1.5]), np.array([0.05]))
        self.assertAlmostEqual(found.level[0], 10.15, 12)

    def test_a_gap_under_the_pavement_gives_no_level(self) -> None:
        ground = pack([(np.array([-3.0, 1.0, 1.5, 2.0, 3.0]), np.array([10, 10, np.nan, 10, 10]))])
        shape = straight_shape(1, np.zeros(1), np.zeros(1), np.zeros(1))
        found = cover_governs(ground, shape, np.zeros(1), np.array([-3.0]), np.array([3.0]), np.array([0.05]))
        self.assertTrue(np.isnan(found.level[0]))

    @given(st.floats(-300, 300), st.floats(-100, 900))
    def test_translation_moves_the_level_along(self, across: float, up: float) -> None:
        part = self.ground.rows(slice(0, 5))
        moved = Polylines(part.offsets + across, part.levels + up)
        shape = straight_shape(5, self.h[:5] + across, self.pct[0, :5], self.pct[1, :5])
        found = cover_governs(moved, shape, self.h[:5] + across, self.left[:5] + across, self.right[:5] + across, self.cover[:5])
        np.testing.assert_allclose(found.level, self.found.level[:5] + up, atol=1e-9)


class CrossfallAndBridge(TestCase):
    def test_measured_crossfall_has_the_sign_of_the_fall_outward(self) -> None:
        # 100.00 at the crown, 99.91 at 3 m left, 100.06 at 3 m right: -3 % and +2 %.
        at = np.array([100.0]), np.array([0.0])
        self.assertAlmostEqual(measured_crossfall(at[0], np.array([99.91]), at[1], np.array([-3.0]))[0], -3.0)
        self.assertAlmostEqual(measured_crossfall(at[0], np.array([100.06]), at[1], np.array([3.0]))[0], 2.0)
        self.assertTrue(np.isnan(measured_crossfall(at[0], at[0], at[1], at[1])[0]))

    def test_bridge_is_a_straight_grade_between_neighbours(self) -> None:
        c = np.array([0.0, 10, 10, 15, 30, 30, 40])
        z = np.array([1.0, 2.0, np.nan, np.nan, np.nan, 4.0, 5.0])
        found = bridge(c, z, np.isnan(z), np.full(7, -9.0))
        np.testing.assert_allclose(found, [1, 2, 2, 2.5, 4, 4, 5])

    def test_bridge_ties_to_the_old_road_where_it_has_no_neighbour(self) -> None:
        c, tie = np.array([0.0, 10, 20, 20, 30]), np.array([7.0, 8, 9, 9, 9])
        z = np.array([np.nan, np.nan, np.nan, 5.0, 5.0])
        np.testing.assert_allclose(bridge(c, z, np.array([1, 1, 1, 0, 0], bool), tie)[:3], [7, 6, 5])


class DepthBands(TestCase):
    def test_share_below_by_hand(self) -> None:
        # On the right triangle (0,0) (1,0) (0,1) with depth x, the part up to x = 0.5 is 3/4 of the area.
        depth = np.array([[0.0, 1.0, 0.0], [1.0, 1.0, 1.0], [0.0, 1.0, 1.0]])
        np.testing.assert_allclose(share_below(depth, 0.5), [0.75, 0.0, 0.25])
        np.testing.assert_allclose(share_below(depth, 1.0), [1.0, 1.0, 1.0])
        np.testing.assert_allclose(share_below(depth, 0.0), [0.0, 0.0, 0.0])

    @given(st.integers(0, 5000))
    def test_bands_add_up_and_agree_with_their_pieces(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        plan = rng.uniform(0, 10, (6, 3, 2)) + np.arange(6)[:, None, None] * 20
        triangles = DepthTriangles(plan, rng.uniform(0, 0.2, (6, 3)))
        bands = depth_bands(triangles, (50, 60, 75, 100, 150))
        self.assertAlmostEqual(sum(b.area for b in bands), float(triangles.area.sum()), 9)
        for band in bands:
            rings = [r for p in band.polygons for r in p]
            rim = sum(float(np.hypot(*np.diff(r, axis=0, append=r[:1]).T).sum()) for r in rings)
            self.assertAlmostEqual(sum(polygon(r)[0] for r in rings), band.area, delta=DRAWN * rim + len(plan) * DRAWN)
