"""Outlines of many polygons, against shapely's unions and the clipping of single ones."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from saddle.geometry.clip import fans, kept_side, twice_area
from saddle.geometry.outlines import outlines
from saddle.limits import LONGEST_ROAD
from saddle.terrain.tin import triangulate


def as_polygon(rings: list[np.ndarray]) -> shapely.Polygon:
    return shapely.Polygon(rings[0], rings[1:])


class Outlines(TestCase):
    @given(st.integers(0, 2**32 - 1), st.floats(0.1, 0.95))
    def test_some_triangles_of_a_surface(self, seed: int, share: float) -> None:
        """Islands, lakes and islands in lakes, at national coordinates; the triangles run either way round."""
        rng = np.random.default_rng(seed)
        xyz = np.column_stack([rng.uniform(0, 30, (60, 2)) + [412_300, 286_540], np.zeros(60)])
        triangles = triangulate(xyz, np.empty((0, 2), dtype=int)).triangles
        corners = xyz[triangles, :2][rng.random(len(triangles)) < share]
        turned = np.where((rng.random(len(corners)) < 0.5)[:, None, None], corners[:, ::-1], corners)
        found = outlines(turned.transpose(2, 1, 0), 0.0, 1e-6)
        whole = shapely.union_all(shapely.polygons(corners), grid_size=1e-6)
        ours = [as_polygon(p) for p in found]
        self.assertAlmostEqual(sum(p.area for p in ours), whole.area, delta=2e-3)
        self.assertLess(sum(shapely.difference(p, whole.buffer(1e-3)).area for p in ours if p.is_valid), 1e-3)
        for rings in found:
            left = [shapely.LinearRing(r).is_ccw for r in rings]
            self.assertTrue(left[0] and not any(left[1:]), "outer rings run to the left, holes to the right")

    def test_a_square_with_a_hole_by_hand(self) -> None:
        squares = [[(x, y), (x + 1, y), (x + 1, y + 1), (x, y + 1)] for x in range(3) for y in range(3) if (x, y) != (1, 1)]
        ((outer, hole),) = outlines(np.array(squares, dtype=float).transpose(2, 1, 0), 1e-6, 0.0)
        self.assertEqual(sorted(map(tuple, np.round(outer, 4).tolist())), [(0, 0), (0, 3), (3, 0), (3, 3)])
        self.assertEqual(sorted(map(tuple, np.round(hole, 4).tolist())), [(1, 1), (1, 2), (2, 1), (2, 2)])

    def test_the_longest_road(self) -> None:
        """Squares at both ends of 200 km each way: the numbers of the corners once ran over beyond 21 km, in silence."""
        far = LONGEST_ROAD
        squares = [
            [(x, y), (x + 1, y), (x + 1, y + 1), (x, y + 1)] for x, y in ((0, 0), (far, 0), (0, far), (far, far), (far + 1, far))
        ]
        found = outlines(np.array(squares, dtype=float).transpose(2, 1, 0), 1e-6, 0.0)
        self.assertEqual(sorted(round(as_polygon(p).area, 6) for p in found), [1, 1, 1, 2])
        self.assertEqual({tuple(np.round(p[0].min(axis=0), 3)) for p in found}, {(0, 0), (far, 0), (0, far), (far, far)})

    def test_nothing(self) -> None:
        self.assertEqual(outlines(np.empty((2, 3, 0)), 0.0, 0.0), [])


class Clipping(TestCase):
    @given(st.integers(0, 2**32 - 1), st.integers(1, 3))
    def test_triangles_by_lines_against_shapely(self, seed: int, lines: int) -> None:
        rng = np.random.default_rng(seed)
        corners = np.round(rng.uniform(-1, 1, (12, 3, 2)), 1)
        area = twice_area(corners.transpose(2, 1, 0))
        corners = corners[area != 0]
        ring, which = corners.transpose(2, 1, 0), np.arange(len(corners))
        half = [shapely.Polygon(c) for c in corners]
        for _ in range(lines):
            a, b, c = np.round(rng.uniform(-1, 1, 3), 1)
            if a == b == 0:
                continue
            ring, some = kept_side(ring, a * ring[0] + b * ring[1] + c)
            which = which[some]
            far = np.array([a, b]) * 1e3
            across, foot = np.array([-b, a]) * 1e3, -c * np.array([a, b]) / (a * a + b * b)
            plane = shapely.Polygon([foot - across, foot + across, foot + across + far, foot - across + far])
            half = [shapely.intersection(p, plane) for p in half]
        fan, owner = fans(ring)
        ours = np.zeros(len(corners))
        np.add.at(ours, which[owner], np.abs(twice_area(fan)) / 2)
        np.testing.assert_allclose(ours, [p.area for p in half], atol=1e-9)
