"""Contours of a surface: where it has a level, as lines in plan."""

from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray

from saddle.geometry.polylines import Floats
from saddle.terrain.tin import Tin

#: From one contour to the next, m: 1, 2 and 5 of every ten.
INTERVALS = (0.05, 0.1, 0.2, 0.5, 1.0, 2.0, 5.0, 10.0, 20.0, 50.0)
#: So many contours are drawn over a height at most.
MOST_LEVELS = 40


@dataclass(frozen=True, slots=True, eq=False)
class Contour:
    """A line of one level, m; points: (p, 2), m."""

    level: float
    points: Floats


def interval_for(height: float) -> float:
    """From one contour to the next, m, so that over a height, m, there are few enough to be told apart."""
    return next((i for i in INTERVALS if height <= i * MOST_LEVELS), INTERVALS[-1])


def contours(tin: Tin, triangles: NDArray[np.integer], interval: float) -> list[Contour]:
    """Contours at the multiples of an interval, m, within some of a surface's triangles (numbers of their rows).

    A corner that lies exactly on a level counts as above it, so that ground that is flat at a level has no line
    of its own.
    """
    corners = tin.triangles[triangles].astype(np.int64)
    z = tin.points[corners, 2]
    found = []
    for k in range(int(np.ceil(z.min() / interval)), int(np.floor(z.max() / interval)) + 1):
        level = k * interval
        above = z >= level
        crossed = above.any(axis=1) & ~above.all(axis=1)
        if not crossed.any():
            continue
        # The corner that is alone on its side: both edges from it are crossed.
        up = above[crossed]
        alone = np.where(up.sum(axis=1)[:, None] == 1, up, ~up).argmax(axis=1)
        rows = np.arange(len(alone))
        c = corners[crossed]
        tip = c[rows, alone]
        ends = [_between(tin.points, tip, c[rows, (alone + turn) % 3], level) for turn in (1, 2)]
        pieces = np.stack(ends, axis=1)
        pieces = pieces[(pieces[:, 0] != pieces[:, 1]).any(axis=1)]
        merged = shapely.line_merge(shapely.multilinestrings(shapely.linestrings(pieces)))
        found += [Contour(level, shapely.get_coordinates(line)) for line in shapely.get_parts(merged)]
    return found


def _between(points: Floats, a: NDArray[np.int64], b: NDArray[np.int64], level: float) -> Floats:
    """Where edges have a level, found alike from both of their triangles."""
    first, second = np.minimum(a, b), np.maximum(a, b)
    p, q = points[first], points[second]
    share = (level - p[:, 2]) / (q[:, 2] - p[:, 2])
    place: Floats = p[:, :2] + share[:, None] * (q[:, :2] - p[:, :2])
    return place
