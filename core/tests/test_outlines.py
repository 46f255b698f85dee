"""Outlines of many polygons, against shapely's unions and the clipping of single ones."""

from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from saddle.geometry import loops
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
    @given(st.integers(0, 2**32 - 1))
    def test_bands_of_triangles_against_shapely(self, seed: int) -> None:
        """Coordinates and limits of one decimal, so that corners and whole sides lie at a limit."""
        rng = np.random.default_rng(seed)
        plan = np.round(rng.uniform(-1, 1, (12, 3, 2)), 1)
        plan = plan[shapely.area(shapely.polygons(plan)) > 1e-9]
        a, b, c = np.round(rng.uniform(-1, 1, 3), 1)
        if abs(a) + abs(b) < 0.05:
            return
        low, high = np.sort(np.round(rng.uniform(-0.5, 0.5, 2), 1))
        across, along = np.array([-b, a]) * 1e3, np.array([a, b]) / (a * a + b * b)
        strip = shapely.Polygon([(v - c) * along + w * across for v, w in ((low, 1), (low, -1), (high, -1), (high, 1))])
        corner = np.concatenate([plan, (plan @ [a, b] + c)[:, :, None]], axis=2)
        theirs = shapely.area(shapely.intersection(shapely.polygons(plan), strip)).sum()
        rings = loops.within_band(corner, low, high)
        ours = shapely.area(shapely.polygons(rings.transpose(2, 1, 0))).sum() if rings.shape[2] else 0.0
        self.assertAlmostEqual(ours, theirs, delta=1e-9)

    def test_what_lies_at_a_limit_is_below_it(self) -> None:
        flat = np.array([[[0, 0, 0.05], [1, 0, 0.05], [0, 1, 0.05]]])
        found = [loops.within_band(flat, a, b).shape[2] for a, b in ((-np.inf, 0.05), (0.05, 0.1), (0.1, np.inf))]
        self.assertEqual(found, [1, 0, 0])

    @given(st.integers(0, 2**32 - 1))
    def test_what_triangles_share_against_shapely(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        a, b = (np.round(rng.uniform(-1, 1, (8, 3, 2)), 1) for _ in range(2))
        a, b = (
            np.array([c if shapely.LinearRing(c).is_ccw else c[::-1] for c in t if shapely.Polygon(c).area > 1e-9])
            for t in (a, b)
        )
        i, j = (v.ravel() for v in np.meshgrid(np.arange(len(a)), np.arange(len(b))))
        plane_a, plane_b = rng.normal(size=(len(a), 3)), rng.normal(size=(len(b), 3))
        shared = shapely.intersection(shapely.polygons(a)[i], shapely.polygons(b)[j])
        found = loops.pieces(a, b, plane_a, plane_b, i, j)
        ours = shapely.area(shapely.polygons(found[:, :, :2]))
        self.assertAlmostEqual(ours.sum(), shapely.area(shared).sum(), delta=1e-9)
        some = shapely.area(shared) > 0
        middle = shapely.get_coordinates(shapely.centroid(shared[some]))
        planes = (plane_b[j] - plane_a[i])[some]
        net = ((planes[:, :2] * middle).sum(axis=1) + planes[:, 2]) @ shapely.area(shared[some])
        self.assertAlmostEqual((ours * found[:, :, 2].mean(axis=1)).sum(), net, delta=1e-8)
        cut, fill, area, *_ = loops.volumes(a, b, plane_a, plane_b, i, j)
        self.assertAlmostEqual(area, ours.sum(), delta=1e-12)
        self.assertAlmostEqual(fill - cut, net, delta=1e-8)
