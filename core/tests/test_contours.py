"""Contours against closed forms and against the surface itself."""

from itertools import pairwise, product
from unittest import TestCase

import numpy as np
import shapely

from saddle.terrain.contours import contours, interval_for
from saddle.terrain.tin import Tin, triangulate


def all_of(tin: Tin, interval: float) -> list[tuple[float, np.ndarray]]:
    return [(c.level, c.points) for c in contours(tin, np.arange(len(tin.triangles)), interval)]


class Contours(TestCase):
    def test_of_a_plane_are_straight_and_apart_by_interval_over_slope(self) -> None:
        east, north = np.meshgrid(np.arange(0.0, 51.0, 5.0), np.arange(0.0, 31.0, 5.0))
        plane = triangulate(
            np.column_stack([east.ravel(), north.ravel(), 100 + 0.04 * east.ravel()]), np.empty((0, 2), dtype=int)
        )
        drawn = all_of(plane, 0.5)
        self.assertEqual([level for level, _ in drawn], [100.5, 101.0, 101.5, 102.0])
        for level, line in drawn:
            np.testing.assert_allclose(line[:, 0], (level - 100) / 0.04, atol=1e-9)
            self.assertAlmostEqual(np.ptp(line[:, 1]), 30.0)

    def test_of_a_cone_are_rings_of_their_radius(self) -> None:
        angles = np.linspace(0, 2 * np.pi, 360, endpoint=False)
        rings = [np.column_stack([r * np.cos(angles), r * np.sin(angles), np.full(360, 50 - r)]) for r in (10.0, 20.0)]
        cone = triangulate(np.vstack([[[0, 0, 50.0]], *rings]), np.empty((0, 2), dtype=int))
        drawn = {level: line for level, line in all_of(cone, 5.0) if level in (45.0, 35.0)}
        for level, line in drawn.items():
            ring = shapely.LineString(line)
            self.assertTrue(ring.is_ring)
            # A polygon of 360 sides lies within r (1 - cos(pi / 360)) of the circle.
            np.testing.assert_allclose(np.hypot(*line.T), 50 - level, rtol=4e-5)
        self.assertEqual(sorted(drawn), [35.0, 45.0])

    def test_flat_ground_at_a_level_has_none(self) -> None:
        flat = Tin(np.array([[0, 0, 5.0], [9, 0, 5], [0, 9, 5]]), np.array([[0, 1, 2]]))
        self.assertEqual(all_of(flat, 1.0), [])

    def test_every_line_lies_on_the_ground_and_ends_at_its_rim(self) -> None:
        """Or where a corner lies at the level itself."""
        for seed, interval in product(range(4), (0.1, 0.5, 2.0)):
            rng = np.random.default_rng(seed)
            points = np.column_stack([rng.uniform(0, 40, (60, 2)), np.round(rng.uniform(95, 99, 60), 1)])
            tin = triangulate(points, np.empty((0, 2), dtype=int))
            rim = shapely.unary_union([shapely.Polygon(tin.points[t, :2]) for t in tin.triangles]).boundary
            corner = tin.points[tin.triangles, :2]
            low, high = corner.min(axis=1), corner.max(axis=1)
            for level, line in all_of(tin, interval):
                corners = shapely.MultiPoint(points[np.abs(points[:, 2] - level) < 1e-9, :2])
                ends = [] if shapely.LineString(line).is_closed else [shapely.Point(line[0]), shapely.Point(line[-1])]
                for end in ends:
                    self.assertLess(min(rim.distance(end), end.distance(corners) if corners.geoms else np.inf), 1e-6)
                for a, b in list(pairwise(line))[::4]:
                    middle = (a + b) / 2
                    near = ((low <= middle + 1e-6) & (middle - 1e-6 <= high)).all(axis=1)
                    self.assertLess(min(abs(self.level_on(tin.points[t], middle) - level) for t in tin.triangles[near]), 1e-6)

    def level_on(self, corner: np.ndarray, at: np.ndarray) -> float:
        """Level of a triangle's plane at a place within it, far off outside of it."""
        share = np.linalg.solve(np.vstack([corner[:, :2].T, np.ones(3)]), np.array([*at, 1.0]))
        return float(share @ corner[:, 2]) if (share > -1e-6).all() else np.inf

    def test_interval_suits_the_height(self) -> None:
        self.assertEqual([interval_for(h) for h in (0.0, 3.9, 4.1, 40.0, 1e5)], [0.05, 0.1, 0.2, 1.0, 50.0])
