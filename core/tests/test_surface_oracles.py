"""Surfaces against general libraries: trimesh solids and edges, shapely areas, scipy interpolation."""

from unittest import TestCase

import numpy as np
import shapely
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.interpolate import LinearNDInterpolator

from saddle.terrain.compare import compare
from saddle.terrain.cut import cut_sections
from saddle.terrain.spec import CodeList, FromSurvey
from saddle.terrain.spikes import heights_above_mean
from saddle.terrain.survey import build_surface
from saddle.terrain.tin import Tin, plane_over, triangulate, within_boundary
from tests.cases import demo_surface, demo_survey
from tests.depth import many
from tests.test_surfaces import NONE, grid


def solid(top: Tin, floor: float) -> trimesh.Trimesh:
    """A closed body between a surface over a convex area and a level below it."""
    n = len(top.points)
    low = top.points.copy()
    low[:, 2] = floor
    edges = np.sort(top.triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2), axis=1)
    keys, count = np.unique(edges, axis=0, return_counts=True)
    rim = {tuple(e) for e in keys[count == 1].tolist()}
    walls = []
    for a, b in top.triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).tolist():
        if tuple(sorted((a, b))) in rim:
            walls += [[a, a + n, b], [b, a + n, b + n]]
    faces = np.vstack([top.triangles, top.triangles[:, ::-1] + n, np.array(walls)])
    return trimesh.Trimesh(np.vstack([top.points, low]), faces, process=False)


class Volumes(TestCase):
    @settings(max_examples=many(15))
    @given(st.integers(0, 10_000))
    def test_against_a_watertight_solid(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        top = grid(7, lambda x, y: 5 + rng.normal(0, 0.8, x.shape), seed=seed)
        body = solid(top, 0.0)
        self.assertTrue(body.is_watertight)
        found = compare(plane_over(np.array([0.0, 0, 20, 20]), 0.0), top)
        self.assertAlmostEqual(found.fill - found.cut, abs(body.volume), 6)

    @settings(max_examples=many(10))
    @given(st.integers(0, 10_000), st.floats(2.5, 17.5))
    def test_sections_against_slices_of_the_solid(self, seed: int, at: float) -> None:
        rng = np.random.default_rng(seed)
        top = grid(6, lambda x, y: 5 + rng.normal(0, 0.6, x.shape), seed=seed)
        slice_2d = solid(top, 0.0).section(plane_origin=[at, 0, 0], plane_normal=[1, 0, 0])
        assert slice_2d is not None
        flat = slice_2d.to_2D()[0] if hasattr(slice_2d, "to_2D") else slice_2d.to_planar()[0]
        line = cut_sections(top, np.array([[at, 0.0]]), np.array([[0.0, 1.0]]), np.array([0.0]), np.array([20.0]))
        o, z = line.row(0)
        self.assertAlmostEqual(float(np.trapezoid(z, o)), float(flat.area), delta=1e-4)


class Levels(TestCase):
    @settings(max_examples=many(10))
    @given(st.integers(0, 10_000))
    def test_sections_agree_with_scipy_on_the_same_triangles(self, seed: int) -> None:
        rng = np.random.default_rng(seed)
        points = np.column_stack([rng.uniform(0, 50, 300), rng.uniform(0, 20, 300), rng.normal(100, 1, 300)])
        tin = triangulate(points, NONE)
        ours = cut_sections(tin, np.array([[25.0, 10.0]]), np.array([[0.6, 0.8]]), np.array([-8.0]), np.array([8.0]))
        o, z = ours.row(0)
        theirs = LinearNDInterpolator(points[:, :2], points[:, 2])
        place = np.array([25.0, 10.0]) + o[:, None] * [0.6, 0.8]
        inside = shapely.contains_xy(shapely.MultiPoint(points[:, :2]).convex_hull.buffer(-1.0), place[:, 0], place[:, 1])
        # Delaunay triangulations of random points are the same but for ties.
        np.testing.assert_allclose(theirs(place[inside]), z[inside], atol=1e-5)

    def test_edges_are_those_of_trimesh(self) -> None:
        tin = grid(9, lambda x, y: x * y / 50)
        mesh = trimesh.Trimesh(tin.points, tin.triangles, process=False)
        self.assertEqual(
            {tuple(e) for e in np.sort(mesh.edges_unique, axis=1).tolist()}, {tuple(e) for e in tin.edges().tolist()}
        )
        self.assertIs(tin.edges(), tin.edges())  # kept after the first time

    def test_mean_of_neighbours_by_hand(self) -> None:
        fan = Tin(
            np.array([[0.0, 0, 5], [1, 0, 1], [0, 1, 2], [-1, 0, 3], [0, -1, 4]]),
            np.array([[0, 1, 2], [0, 2, 3], [0, 3, 4], [0, 4, 1]], dtype=np.int32),
        )
        self.assertAlmostEqual(heights_above_mean(fan)[0], 5 - 2.5)


class Boundaries(TestCase):
    @settings(max_examples=many(15))
    @given(st.floats(3, 9), st.integers(3, 9))
    def test_area_within_a_ring(self, radius: float, corners: int) -> None:
        tin = grid(41, lambda x, y: 0 * x)
        a = np.linspace(0, 2 * np.pi, corners, endpoint=False)
        ring = 10 + radius * np.column_stack([np.cos(a), np.sin(a)])
        inside = within_boundary(tin, ring)
        area = compare(inside, inside).area
        # Triangles count whole by their middle: right to about a triangle's height along the ring.
        self.assertAlmostEqual(area, shapely.Polygon(ring).area, delta=0.3 * shapely.Polygon(ring).length)

    def test_order_and_direction_of_a_ring_do_not_matter(self) -> None:
        tin = grid(15, lambda x, y: x)
        ring = np.array([[2.0, 2], [18, 3], [15, 17], [4, 16]])
        areas = {
            round(compare(t, t).area, 9) for t in (within_boundary(tin, r) for r in (ring, ring[::-1], np.roll(ring, 2, axis=0)))
        }
        self.assertEqual(len(areas), 1)


class Demo(TestCase):
    def test_left_out_and_taken_back_is_the_same_surface(self) -> None:
        numbers = [str(n) for n in demo_survey().number[[5, 500, 3000]]]
        without = build_surface(demo_survey(), CodeList(), FromSurvey(left_out=numbers)).surface
        self.assertNotEqual(without.digest, demo_surface().surface.digest)
        again = build_surface(demo_survey(), CodeList(), FromSurvey()).surface
        self.assertEqual(again.digest, demo_surface().surface.digest)
        found = compare(demo_surface().surface, without)
        self.assertLess(found.cut + found.fill, 40.0)

    def test_a_shorter_longest_edge_only_takes_away(self) -> None:
        short = build_surface(demo_survey(), CodeList(), FromSurvey(longest_edge=12.0)).surface
        whole = {tuple(sorted(t)) for t in demo_surface().surface.triangles.tolist()}
        self.assertTrue({tuple(sorted(t)) for t in short.triangles.tolist()} <= whole)
        corners = short.points[short.triangles][:, :, :2]
        self.assertLessEqual(np.linalg.norm(corners - np.roll(corners, 1, axis=1), axis=2).max(), 12.0)
