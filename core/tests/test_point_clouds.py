"""Point clouds written by laspy, thinned here and by a dictionary."""

import io
from unittest import TestCase
from unittest.mock import patch

import laspy
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from matplotlib.tri import LinearTriInterpolator, Triangulation

from saddle.errors import ImportProblem
from saddle.exchange import point_cloud
from saddle.exchange.point_cloud import is_cloud, read_cloud
from saddle.terrain.spec import Thinning
from saddle.terrain.thinning import needed
from tests.depth import many


def cloud(xyz: np.ndarray, classes: np.ndarray | None = None, version: str = "1.2", compressed: bool = False) -> bytes:
    header = laspy.LasHeader(point_format=6 if version == "1.4" else 3, version=version)
    header.scales, header.offsets = np.full(3, 0.001), np.floor(xyz.min(axis=0))
    las = laspy.LasData(header)
    las.x, las.y, las.z = xyz.T
    if classes is not None:
        las.classification = classes
    out = io.BytesIO()
    las.write(out, do_compress=compressed)
    return out.getvalue()


def thinned(xyz: np.ndarray, size: float, mean: bool) -> np.ndarray:
    """Square by square; corner of the grid: the least coordinates of the first chunk, which here is all of it."""
    squares: dict[tuple[int, int], list[np.ndarray]] = {}
    low = xyz[:, :2].min(axis=0)
    for p in xyz:
        squares.setdefault(tuple(np.floor((p[:2] - low) / size).astype(int).tolist()), []).append(p)
    kept = [np.mean(ps, axis=0) if mean else min(ps, key=lambda p: p[2]) for ps in squares.values()]
    return np.array(sorted(map(tuple, kept)))


class Clouds(TestCase):
    @settings(max_examples=many(30))
    @given(
        st.integers(0, 9999), st.integers(1, 300), st.sampled_from([0.5, 1.0, 4.0]), st.booleans(), st.sampled_from(["1.2", "1.4"]),
        st.booleans(), st.integers(7, 400),
    )  # fmt: skip
    def test_one_point_of_every_square(
        self, seed: int, n: int, size: float, mean: bool, version: str, compressed: bool, chunk: int
    ) -> None:
        rng = np.random.default_rng(seed)
        xyz = np.column_stack([rng.uniform(412_000, 412_020, n), rng.uniform(286_000, 286_020, n), rng.uniform(80, 90, n)]).round(
            3
        )
        xyz[0, :2] = 412_000, 286_000  # the corner of the grid is in the first chunk
        data = cloud(xyz, version=version, compressed=compressed)
        self.assertTrue(is_cloud(data))
        with patch.object(point_cloud, "CHUNK", chunk):
            found = read_cloud(data, Thinning(square=size, keep="mean" if mean else "lowest"))
        np.testing.assert_allclose(np.array(sorted(map(tuple, found.table.xyz))), thinned(xyz, size, mean), atol=1e-6)
        self.assertIn(f"{n:,} points of {n:,} thinned to {len(found.table.number):,}", found.skipped[0].reason)

    def test_ground_where_there_is_any_and_never_noise(self) -> None:
        """ASPRS LAS 1.4: class 2 is ground, 7 low noise, 5 high vegetation (checked against the standard's table 17, from memory)."""
        xyz = np.column_stack([np.arange(6) * 10.0, np.zeros(6), np.arange(6) + 50.0])
        found = read_cloud(cloud(xyz, np.array([2, 2, 5, 7, 5, 2], dtype=np.uint8)), Thinning())
        self.assertEqual(sorted(found.table.xyz[:, 0]), [0, 10, 50])
        plain = read_cloud(cloud(xyz, np.array([1, 1, 5, 7, 5, 1], dtype=np.uint8)), Thinning())
        self.assertEqual(sorted(plain.table.xyz[:, 0]), [0, 10, 20, 40, 50])

    def test_ground_that_comes_late_is_the_only_one(self) -> None:
        xyz = np.column_stack([np.arange(9) * 10.0, np.zeros(9), np.arange(9) + 50.0])
        classes = np.array([1, 1, 1, 1, 5, 5, 2, 5, 2], dtype=np.uint8)
        with patch.object(point_cloud, "CHUNK", 3):
            found = read_cloud(cloud(xyz, classes), Thinning())
        self.assertEqual(sorted(found.table.xyz[:, 0]), [60, 80])
        self.assertIn("2 ground points of 9", found.skipped[0].reason)

    def test_squares_grow_until_few_enough_points_are_left(self) -> None:
        rng = np.random.default_rng(1)
        xyz = np.column_stack([rng.uniform(0, 100, 5000), rng.uniform(0, 100, 5000), rng.uniform(0, 9, 5000)]).round(3)
        with patch.object(point_cloud, "MOST_POINTS", 300), patch.object(point_cloud, "CHUNK", 5000):
            found = read_cloud(cloud(xyz), Thinning(square=1))
        self.assertLessEqual(len(found.table.number), 300)
        self.assertIn("of every 8 m square", found.skipped[0].reason)
        np.testing.assert_allclose(np.array(sorted(map(tuple, found.table.xyz))), thinned(xyz, 8, False), atol=1e-9)

    def test_unit_order_and_damage(self) -> None:
        xyz = np.array([[1000.0, 2000, 50], [1010, 2000, 51]])
        read = read_cloud(cloud(xyz), Thinning(), unit="foot", swapped=True)
        np.testing.assert_allclose(sorted(map(tuple, read.table.xyz)), np.array([[2000, 1000, 50], [2000, 1010, 51]]) * 0.3048)
        for bad in (b"LASF", cloud(xyz)[:150], b"LASF" + b"\x00" * 400):
            with self.assertRaisesRegex(ImportProblem, "point cloud"):
                read_cloud(bad, Thinning())


class NearTheSurface(TestCase):
    """Thinned by distance: measured with matplotlib's interpolation over its own triangles."""

    @settings(max_examples=many(25))
    @given(st.integers(0, 9999), st.integers(4, 400), st.sampled_from([0.01, 0.1, 1.0]))
    def test_none_that_is_left_out_lies_farther_off(self, seed: int, n: int, within: float) -> None:
        rng = np.random.default_rng(seed)
        xy = rng.uniform(0, 60, (n, 2)).round(3)
        xyz = np.column_stack([xy, 80 + np.sin(xy[:, 0] / 9) + 0.02 * xy[:, 1] + rng.normal(0, within / 3, n)])
        kept = needed(xyz, within)
        self.assertGreaterEqual(kept.sum(), 3)
        if not kept.all():
            surface = Triangulation(*xyz[kept, :2].T)
            level = LinearTriInterpolator(surface, xyz[kept, 2])(*xyz[~kept, :2].T)
            self.assertLess(np.abs(np.ma.filled(level, np.inf) - xyz[~kept, 2]).max(), within + 1e-6)

    def test_a_plane_needs_no_more_than_its_spread(self) -> None:
        """And an edge across it is kept: what lies on it alone is far from the surface without it."""
        x, y = (a.ravel() for a in np.meshgrid(np.arange(0, 40, 0.5), np.arange(0, 40, 0.5)))
        plane = np.column_stack([x, y, 50 + 0.03 * x])
        self.assertLess(needed(plane, 0.01).sum(), 60)
        ridge = plane + np.column_stack([0 * x, 0 * x, 0.5 * np.maximum(0.0, 1 - abs(y - 20))])
        kept = needed(ridge, 0.01)
        self.assertGreater(kept[y == 20].sum(), 5)
        self.assertLess(kept.sum(), len(x) / 3)

    def test_points_that_make_no_surface_all_stay(self) -> None:
        for points in (np.empty((0, 3)), np.array([[0.0, 0, 1]]), np.array([[0.0, 0, 1], [1, 1, 2], [2, 2, 3], [3, 3, 4]])):
            self.assertTrue(needed(points, 0.1).all())

    def test_said_with_the_squares(self) -> None:
        x, y = (a.ravel() for a in np.meshgrid(np.arange(0, 30, 1.0), np.arange(0, 30, 1.0)))
        found = read_cloud(cloud(np.column_stack([x, y, 50 + 0.03 * x])), Thinning(square=0.5, within=0.02))
        self.assertLess(len(found.table.number), 60)
        self.assertIn(f"{len(found.table.number)} of them are kept: the others lie within 20 mm", found.skipped[1].reason)
