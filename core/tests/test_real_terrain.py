"""Real terrain: the elevations along a fault that matplotlib ships with its sample data (344 x 403 levels), read as a text grid and as
single points, against matplotlib's own interpolation and closed forms."""

from functools import cache
from unittest import TestCase

import numpy as np
from matplotlib import cbook
from matplotlib.tri import LinearTriInterpolator, Triangulation

from saddle.exchange.ascii_grid import read_grid
from saddle.terrain.compare import compare
from saddle.terrain.cut import cut_sections
from saddle.terrain.tin import Tin, triangulate

#: Metres between the levels; the file gives degrees, which nothing here depends on.
STEP = 90.0


@cache
def levels() -> np.ndarray:
    """(rows from north to south, columns), m."""
    with np.load(cbook.get_sample_data("jacksboro_fault_dem.npz", asfileobj=False)) as file:
        return np.asarray(file["elevation"], dtype=float)


@cache
def as_grid() -> Tin:
    rows, columns = levels().shape
    head = f"ncols {columns}\nnrows {rows}\nxllcenter 400000\nyllcenter 200000\ncellsize {STEP}\nNODATA_value -9999\n"
    text = head + "\n".join(" ".join(f"{z:g}" for z in row) for row in levels())
    return read_grid(text.encode(), "scarp").surfaces[0].tin


@cache
def as_points() -> Tin:
    """A part of it as points without lines between."""
    z = levels()[100:220, 120:260]
    north, east = np.mgrid[: z.shape[0], : z.shape[1]] * STEP
    return triangulate(np.column_stack([400_000 + east.ravel(), 230_000 - north.ravel(), z.ravel()]), np.empty((0, 2), int))


def plan_areas(tin: Tin) -> np.ndarray:
    (ax, ay), (bx, by), (cx, cy) = (tin.points[tin.triangles[:, k], :2].T for k in range(3))
    return np.asarray(((bx - ax) * (cy - ay) - (by - ay) * (cx - ax)) / 2)


class Scarp(TestCase):
    def test_the_surface_covers_it_without_slivers(self) -> None:
        """Every triangle is half a cell, on either way in; together they are the whole."""
        for tin, (rows, columns) in ((as_grid(), levels().shape), (as_points(), (120, 140))):
            areas = plan_areas(tin)
            self.assertEqual(len(areas), 2 * (rows - 1) * (columns - 1))
            np.testing.assert_allclose(areas, STEP**2 / 2, rtol=1e-9)
            self.assertAlmostEqual(areas.sum() / ((rows - 1) * (columns - 1) * STEP**2), 1.0, 12)

    def test_sections_lie_on_another_librarys_interpolation(self) -> None:
        rng = np.random.default_rng(5)
        tin = as_points()
        low, high = tin.points[:, :2].min(axis=0), tin.points[:, :2].max(axis=0)
        middle, reach = (low + high) / 2, (high - low).min() / 2
        other = LinearTriInterpolator(
            Triangulation(tin.points[:, 0] - middle[0], tin.points[:, 1] - middle[1], tin.triangles), tin.points[:, 2]
        )
        turn = rng.uniform(0, 2 * np.pi, 40)
        origins = middle + rng.uniform(-0.3, 0.3, (40, 2)) * reach
        along = np.column_stack([np.cos(turn), np.sin(turn)])
        cuts = cut_sections(tin, origins, along, np.full(40, -0.6 * reach), np.full(40, 0.6 * reach))
        for k in range(40):
            known = np.isfinite(cuts.levels[k])
            offsets, found = cuts.offsets[k][known], cuts.levels[k][known]
            self.assertGreater(len(offsets), 50)
            at = (origins[k] - middle) + np.outer(offsets, along[k])
            wanted = other(at[:, 0], at[:, 1])
            np.testing.assert_allclose(found, np.ma.filled(wanted, np.nan), atol=2e-6)
            between = (offsets[1:] + offsets[:-1]) / 2
            at = (origins[k] - middle) + np.outer(between, along[k])
            wanted = np.ma.filled(other(at[:, 0], at[:, 1]), np.nan)
            np.testing.assert_allclose((found[1:] + found[:-1]) / 2, wanted, atol=2e-6)

    def test_the_volume_to_a_level_plane_is_that_of_prisms(self) -> None:
        """Under a plane that lies below all of it: plan area times the mean of three heights, summed up."""
        tin = as_points()
        x, y = tin.points[:, :2].min(axis=0) - 1, tin.points[:, :2].max(axis=0) + 1
        base = float(tin.points[:, 2].min()) - 10.0
        plane = Tin(
            np.array([[*x, base], [y[0], x[1], base], [*y, base], [x[0], y[1], base]]), np.array([[0, 1, 2], [0, 2, 3]], np.int32)
        )
        heights = tin.points[:, 2][tin.triangles].mean(axis=1) - base
        found = compare(plane, tin)
        wanted = float((plan_areas(tin) * heights).sum())
        self.assertAlmostEqual(found.fill / wanted, 1.0, 10)
        self.assertEqual(found.cut, 0.0)
        self.assertAlmostEqual(found.deepest_fill, float(tin.points[:, 2].max()) - base, 6)
