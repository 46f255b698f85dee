"""Areas and first moments of what lies between lines, and of polygons."""

from dataclasses import dataclass

import numpy as np

from saddle.geometry import loops
from saddle.geometry.polylines import Floats, Polylines


@dataclass(frozen=True, slots=True, eq=False)
class Areas:
    """area: (n,) m2. moment: (n,) m3, the area times the offset of its centroid."""

    area: Floats
    moment: Floats


def between(grid: Floats, top: Floats, bottom: Floats) -> Areas:
    """Area between two lines given on one grid of offsets, positive where top is above bottom.

    grid, top, bottom: (n, p). Intervals of no width count nothing; a NaN level in a real one gives NaN.
    """
    width = np.diff(grid, axis=1)
    d = top - bottom
    a, b = d[:, :-1], d[:, 1:]
    real = width > 0
    area = np.where(real, (a + b) * width / 2, 0.0)
    oa, ob = grid[:, :-1], grid[:, 1:]
    moment = np.where(real, (oa * (2 * a + b) + ob * (a + 2 * b)) * width / 6, 0.0)
    return Areas(area.sum(axis=1), moment.sum(axis=1))


def cut_and_fill(existing: Polylines, formation: Polylines, low: Floats, high: Floats) -> tuple[Areas, Areas]:
    """Cut (existing above formation) and fill (below), exactly, between offsets low and high (n,).

    NaN where either line has a gap in between, or an end is not known.
    """
    found = loops.cut_and_fill(existing.offsets, existing.levels, formation.offsets, formation.levels, low, high)
    return Areas(found[:, 0], found[:, 1]), Areas(found[:, 2], found[:, 3])


def polygon(points: Floats) -> tuple[float, Floats]:
    """Signed area (counter-clockwise positive, m2) and centroid (2,) of a closed polygon (k, 2).

    Shoelace about the polygon's own first vertex, so that national coordinates lose no digits.
    """
    p = np.asarray(points, dtype=float)
    q = p - p[0]
    x, y = q[:, 0], q[:, 1]
    xn, yn = np.roll(x, -1), np.roll(y, -1)
    cross = x * yn - xn * y
    area = float(cross.sum() / 2)
    if area == 0:
        return 0.0, p.mean(axis=0)
    centroid = np.array([((x + xn) * cross).sum(), ((y + yn) * cross).sum()]) / (6 * area)
    return area, p[0] + centroid
