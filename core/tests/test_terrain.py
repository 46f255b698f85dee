"""Surfaces and sections through them, against trimesh, shapely and plain geometry."""

from unittest import TestCase

import numpy as np
import shapely
import trimesh
from hypothesis import given
from hypothesis import strategies as st

from saddle.errors import GeometryError
from saddle.geometry.areas import between
from saddle.terrain.cut import cut_sections
from saddle.terrain.tin import Tin, breakline_crossings, triangulate

NONE = np.empty((0, 2), dtype=int)
EAST = np.array([[1.0, 0.0]])


def grid_points(nx: int, ny: int, level: object = lambda x, y: 0 * x) -> np.ndarray:
    assert callable(level)
    x, y = (a.ravel().astype(float) for a in np.meshgrid(np.arange(nx), np.arange(ny)))
    return np.column_stack([x, y, level(x, y)])


def section(tin: Tin, y: float, left: float = -100, right: float = 100) -> tuple[np.ndarray, np.ndarray]:
    return cut_sections(tin, np.array([[0.0, y]]), EAST, np.array([left]), np.array([right])).row(0)


class Triangulation(TestCase):
    def test_cocircular_grid(self) -> None:
        # Euler: 2n - 2 - h triangles (checks 12.5); 12 x 9 points, 38 on the hull.
        tin = triangulate(grid_points(12, 9), NONE)
        self.assertEqual(len(tin.triangles), 176)
        p = tin.points[tin.triangles, :2]
        a, b = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
        self.assertAlmostEqual(float(np.abs(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum() / 2), 88.0, 9)

    @given(st.integers(0, 5000))
    def test_no_edge_crosses_a_breakline(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        points = np.column_stack([rng.uniform(0, 100, (60, 2)), rng.normal(size=60)])
        order = np.argsort(points[:, 0])
        line = order[10:50:4]  # runs eastward, so it does not cross itself
        breaks = np.column_stack([line[:-1], line[1:]])
        edges = {tuple(e) for e in triangulate(points, breaks).edges().tolist()}
        for a, b in breaks.tolist():
            self.assertIn((min(a, b), max(a, b)), edges)

    def test_longest_edge_leaves_a_hole(self) -> None:
        points = np.vstack([grid_points(4, 4), grid_points(4, 4) + [20.0, 0.0, 0.0]])
        self.assertEqual(len(triangulate(points, NONE, longest_edge=2.0).triangles), 36)

    def test_points_on_one_line_are_refused(self) -> None:
        line = np.column_stack([np.arange(9.0), 2 * np.arange(9.0), np.zeros(9)])
        with self.assertRaisesRegex(GeometryError, "line"):
            triangulate(line, NONE)
        with self.assertRaisesRegex(GeometryError, "three points"):
            triangulate(line[:2], NONE)

    def test_breaklines_that_cross_are_refused_and_found(self) -> None:
        points = np.array([[0, 0, 1.0], [2, 2, 1.0], [0, 2, 5.0], [2, 0, 5.0], [1, 5, 0.0]])
        breaks = np.array([[0, 1], [2, 3]])
        with self.assertRaises(GeometryError):
            triangulate(points, breaks)
        (found,) = breakline_crossings(points, breaks)
        self.assertEqual((found.east, found.north), (1.0, 1.0))
        self.assertEqual((found.level_first, found.level_second), (1.0, 5.0))

    def test_breaklines_that_share_a_point_do_not_cross(self) -> None:
        points = np.array([[0, 0, 1.0], [2, 2, 1.0], [4, 0, 5.0]])
        self.assertEqual(breakline_crossings(points, np.array([[0, 1], [1, 2]])), [])


class Sections(TestCase):
    def test_volume_section_and_area_of_a_tilted_plane(self) -> None:
        # z = 0.03 x - 0.02 y + 1 over 20 m x 20 m (checks 12.3): section at x = 7.3 is side * mean height.
        points = grid_points(11, 11)
        points[:, :2] *= 2
        points[:, 2] = 0.03 * points[:, 0] - 0.02 * points[:, 1] + 1
        tin = triangulate(points, NONE)
        found = cut_sections(tin, np.array([[7.3, 0.0]]), np.array([[0.0, 1.0]]), np.array([-5.0]), np.array([30.0]))
        o, z = found.row(0)
        self.assertEqual((o[0], o[-1]), (0.0, 20.0))
        area = between(o[None, :], z[None, :], np.zeros((1, len(o)))).area[0]
        self.assertAlmostEqual(area, 20.38, 9)

    @given(st.integers(0, 5000), st.floats(0, 2 * np.pi))
    def test_agrees_with_trimesh_on_random_surfaces(self, seed: int, heading: float) -> None:
        rng = np.random.default_rng(seed)
        tin = triangulate(np.column_stack([rng.uniform(0, 30, (80, 2)), rng.normal(0, 2, 80)]), NONE)
        origin, along = rng.uniform(10, 20, 2), np.array([np.cos(heading), np.sin(heading)])
        o, z = cut_sections(tin, origin[None, :], along[None, :], np.array([-60.0]), np.array([60.0])).row(0)
        mesh = trimesh.Trimesh(tin.points, tin.triangles, process=False)
        normal = [along[1], -along[0], 0.0]
        segments = trimesh.intersections.mesh_plane(mesh, normal, [*origin, 0.0])
        theirs = np.unique(np.round((segments[:, :, :2].reshape(-1, 2) - origin) @ along, 6))
        np.testing.assert_allclose(np.unique(np.round(o, 6)), theirs, atol=3e-6)
        length = np.linalg.norm(segments[:, 1] - segments[:, 0], axis=1).sum()
        self.assertAlmostEqual(float(np.hypot(np.diff(o), np.diff(z)).sum()), float(length), 6)

    def test_through_vertices_and_along_edges(self) -> None:
        tin = triangulate(grid_points(6, 6, lambda x, y: x * y), NONE)
        o, z = section(tin, 2.0)
        np.testing.assert_allclose(o, np.arange(6.0), atol=1e-12)
        np.testing.assert_allclose(z, 2 * np.arange(6.0), atol=1e-12)

    @given(st.integers(0, 2**32 - 1), st.floats(-10, -6))
    def test_a_hair_beside_edges_leaves_no_gap(self, seed: int, power: float) -> None:
        """Edges along the section that rounding has moved by a hair, as after a file of six decimals: nothing is lost."""
        rng = np.random.default_rng(seed)
        points = grid_points(9, 5, lambda x, y: x + y)
        points[:, :2] += rng.normal(0, 10**power, (len(points), 2))
        o, z = section(triangulate(points, NONE), 2.0, 0.5, 7.5)
        self.assertFalse(np.isnan(z).any())
        np.testing.assert_allclose(z, o + 2, atol=1e-4)

    def test_along_the_boundary(self) -> None:
        o, z = section(triangulate(grid_points(5, 5, lambda x, y: x + y), NONE), 0.0)
        np.testing.assert_allclose((o[0], o[-1], z[-1]), (0.0, 4.0, 4.0))

    def test_leaving_the_surface_makes_a_gap(self) -> None:
        points = np.vstack([grid_points(4, 4), grid_points(4, 4) + [20.0, 0.0, 7.0]])
        o, z = section(triangulate(points, NONE, longest_edge=2.0), 1.5)
        (gap,) = np.flatnonzero(np.isnan(z))
        self.assertEqual((o[gap - 1], o[gap + 1]), (3.0, 20.0))
        self.assertTrue(3.0 < o[gap] < 20.0)

    def test_beside_the_surface_there_is_nothing(self) -> None:
        tin = triangulate(grid_points(4, 4), NONE)
        found = cut_sections(tin, np.array([[0.0, 9.0], [0.0, 1.5]]), np.tile(EAST, (2, 1)), np.full(2, -9.0), np.full(2, 9.0))
        self.assertEqual(len(found.row(0)[0]), 0)
        self.assertGreater(len(found.row(1)[0]), 1)

    def test_limits_cut_inside_a_triangle(self) -> None:
        o, z = section(triangulate(grid_points(5, 5, lambda x, y: 3 * x), NONE), 1.5, 0.25, 2.75)
        np.testing.assert_allclose((o[0], z[0], o[-1], z[-1]), (0.25, 0.75, 2.75, 8.25))

    @given(st.integers(0, 5000))
    def test_reversed_line_gives_the_mirrored_section(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        tin = triangulate(np.column_stack([rng.uniform(0, 12, (50, 2)), rng.normal(size=50)]), NONE)
        origins = np.full((1, 2), 6.0)
        forth = cut_sections(tin, origins, EAST, np.array([-4.0]), np.array([5.0])).row(0)
        back = cut_sections(tin, origins, -EAST, np.array([-5.0]), np.array([4.0])).row(0)
        np.testing.assert_allclose(forth[0], -back[0][::-1], atol=1e-9)
        np.testing.assert_allclose(forth[1], back[1][::-1], atol=1e-9)

    def test_national_coordinates(self) -> None:
        shift = np.array([500_000.0, 6_500_000.0, 0.0])
        near = triangulate(grid_points(8, 8, lambda x, y: np.sin(x) * y), NONE)
        far = Tin(near.points + shift, near.triangles)
        o, z = section(near, 3.3)
        o2, z2 = cut_sections(far, np.array([[500_000.0, 6_500_003.3]]), EAST, np.array([-100.0]), np.array([100.0])).row(0)
        np.testing.assert_allclose(o2, o, atol=1e-8)
        np.testing.assert_allclose(z2, z, atol=1e-8)

    def test_levels_lie_on_the_surface(self) -> None:
        rng = np.random.default_rng(5)
        tin = triangulate(np.column_stack([rng.uniform(0, 20, (100, 2)), rng.normal(size=100)]), NONE)
        o, z = section(tin, 9.0)
        for offset, level in zip(o[1:-1], z[1:-1], strict=True):
            hit = [t for t in tin.triangles if shapely.Polygon(tin.points[t, :2]).distance(shapely.Point(offset, 9.0)) < 1e-9]
            self.assertTrue(hit)
            a, b, c = tin.points[hit[0]]
            normal = np.cross(b - a, c - a)
            on_plane = a[2] - (normal[0] * (offset - a[0]) + normal[1] * (9.0 - a[1])) / normal[2]
            self.assertAlmostEqual(on_plane, level, 6)

    def test_a_limit_that_meets_an_edge_loses_nothing(self) -> None:
        """Two triangles with a diagonal that the section's left limit hits to within a rounding."""
        tin = Tin(
            np.array([[-50.0, -50, 1], [250, -50, 1], [250, 50, 1], [-50, 50, 1]]),
            np.array([[0, 1, 2], [0, 2, 3]], dtype=np.int32),
        )
        for x in (100.0, 130.0, 160.0, 190.0):
            meets = -50 + (x + 50) / 3  # northing of the diagonal there
            for slack in (0.0, 1e-15, -1e-15, 1e-12, 1e-9):
                o, z = cut_sections(
                    tin, np.array([[x, 0.0]]), np.array([[0.0, -1.0]]), np.array([-meets + slack]), np.array([meets + 30])
                ).row(0)
                self.assertAlmostEqual(o[0], -meets, 6)
                self.assertAlmostEqual(o[-1], min(meets + 30, 50), 9)
                self.assertFalse(np.isnan(z).any())
