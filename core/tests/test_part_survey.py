"""A later survey of a part: against scipy's interpolation and against points counted one by one."""

from unittest import TestCase

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import LinearNDInterpolator

from saddle.terrain.part import level_at, moved_along, outside
from saddle.terrain.spec import CodeList
from saddle.terrain.survey import Survey, polylines
from saddle.terrain.tin import Tin, triangulate
from tests.cases import demo_surface, demo_survey

NO_LINES = np.empty((0, 2), dtype=int)


def square(west: float, south: float, east: float, north: float, level: float) -> Tin:
    return triangulate(
        np.array([[west, south, level], [east, south, level], [east, north, level], [west, north, level]]), NO_LINES
    )


class Parts(TestCase):
    @given(st.integers(0, 1000), st.integers(4, 60))
    def test_levels_of_a_surface(self, seed: int, n: int) -> None:
        """Open library: scipy.interpolate.LinearNDInterpolator; points by chance have but one Delaunay triangulation."""
        rng = np.random.default_rng(seed)
        tin = triangulate(np.column_stack([rng.uniform(0, 100, (n, 2)), rng.uniform(0, 9, n)]), NO_LINES)
        places = rng.uniform(-10, 110, (200, 2))
        other = LinearNDInterpolator(tin.points[:, :2], tin.points[:, 2])
        np.testing.assert_allclose(level_at(tin, places), other(places), atol=1e-7)

    def test_a_line_that_goes_through_is_cut_in_two(self) -> None:
        xyz = np.array([[x, 0.0, 1.0] for x in range(0, 100, 10)])
        line = Survey(
            np.array([f"p{i}" for i in range(10)]), xyz, np.full(10, "EP"), np.full(10, "L"),
            np.column_stack([np.arange(9), np.arange(1, 10)]),
        )  # fmt: skip
        left, gone = outside(line, square(35, -5, 65, 5, 2.0))
        self.assertEqual(gone.tolist(), [False] * 4 + [True] * 3 + [False] * 3)
        self.assertEqual(
            [(p.name, p.points[:, 0].tolist()) for p in polylines(left)], [("L", [0, 10, 20, 30]), ("L-2", [70, 80, 90])]
        )
        alone, _ = outside(line, square(-5, -5, 85, 5, 2.0))
        self.assertEqual((len(alone.segments), alone.line.tolist()), (0, [""]))

    def test_the_demo_road_surveyed_again_in_part(self) -> None:
        old = demo_survey()
        tin = demo_surface().surface
        inside = (old.xyz[:, 0] > 412_700) & (old.xyz[:, 0] < 412_900)
        used = inside & np.isin(old.code, ["CL", "EP", "GR"])
        again = triangulate(old.xyz[used] + [0, 0, 0.035], NO_LINES, 60.0)
        left, gone = outside(old, again)
        self.assertEqual(len(left.number), len(old.number) - gone.sum())
        self.assertTrue((gone[used]).all())
        self.assertEqual(gone[(old.xyz[:, 0] < 412_699) | (old.xyz[:, 0] > 412_901)].sum(), 0)
        names = [(p.code, p.name) for p in polylines(left)]
        self.assertEqual(len(set(names)), len(names))
        self.assertTrue(np.isfinite(level_at(tin, old.xyz[used, :2])).all())
        corners = Survey(old.number[used], old.xyz[used], old.code[used], old.line[used], NO_LINES)
        pieces = moved_along(corners, again, CodeList(), old.xyz[used, 0] - 412_700)
        self.assertEqual(sum(p.points for p in pieces), int(used.sum()))
        for piece in pieces:
            np.testing.assert_allclose([piece.least, piece.mean, piece.greatest], 0.035, atol=1e-9)
        self.assertEqual(moved_along(corners, square(0, 0, 1, 1, 0), CodeList(), old.xyz[used, 0]), [])
