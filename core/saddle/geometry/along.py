"""Places along a way that is given by its corners."""

import numpy as np
import shapely

from saddle.geometry.polylines import Floats

#: A way is looked at so far beyond its ends, m.
BEYOND = 500.0


def _extended(way: Floats) -> Floats:
    """The way with its first and last piece made longer, for what was surveyed before and behind it."""
    way = way[np.r_[True, (np.diff(way, axis=0) != 0).any(axis=1)]]
    if len(way) < 2:
        return np.vstack([way[0] - [0.0, BEYOND], way[0] + [0.0, BEYOND]])

    def out(end: Floats, before: Floats) -> Floats:
        step: Floats = end - before
        return np.asarray(end + step * (BEYOND / float(np.hypot(*step))))

    return np.vstack([out(way[0], way[1]), way, out(way[-1], way[-2])])


def along(plan: Floats, way: Floats) -> tuple[Floats, Floats]:
    """Distance along a way from its start, less before it, and offset from it, positive right, of places (n, 2), m."""
    line = shapely.LineString(_extended(way))
    points = shapely.points(plan)
    s = shapely.line_locate_point(line, points)
    ahead = shapely.get_coordinates(shapely.line_interpolate_point(line, np.minimum(s + 0.01, line.length)))
    back = shapely.get_coordinates(shapely.line_interpolate_point(line, np.maximum(s - 0.01, 0.0)))
    d, v = ahead - back, plan - (ahead + back) / 2
    across = d[:, 1] * v[:, 0] - d[:, 0] * v[:, 1]
    return s - BEYOND, np.hypot(v[:, 0], v[:, 1]) * np.sign(across)
