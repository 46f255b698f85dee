"""Point clouds written by laspy, thinned here and by a dictionary."""

import io
from unittest import TestCase
from unittest.mock import patch

import laspy
import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.errors import ImportProblem
from saddle.exchange import point_cloud
from saddle.exchange.point_cloud import is_cloud, read_cloud
from saddle.terrain.spec import Thinning


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
    @settings(max_examples=30)
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
