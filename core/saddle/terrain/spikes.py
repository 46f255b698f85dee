"""Points that stand out of their surface."""

from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Floats, Ints
from saddle.terrain.tin import Tin

#: A point is pointed out when it lies this far from its neighbours' plane, m, and this many times the usual distance.
SPIKE, TIMES_USUAL = 0.25, 8.0
#: From this on a point is pointed out even on a slope, m.
CERTAIN = 1.5
NO_BREAKS: Ints = np.empty((0, 2), dtype=np.intp)


@dataclass(frozen=True, slots=True)
class Spike:
    """vertex: row of the surface's points; above: from the plane through its neighbours, m, positive above."""

    vertex: int
    east: float
    north: float
    level: float
    above: float


def heights_above_neighbours(tin: Tin) -> Floats:
    """How far every point lies above the least-squares plane through its neighbours, (n,), m; NaN with fewer than
    four neighbours."""
    edges = tin.edges()
    n = len(tin.points)
    a, b = np.concatenate([edges, edges[:, ::-1]]).T
    d = tin.points[b] - tin.points[a]
    columns = np.column_stack([d[:, 0], d[:, 1], np.ones(len(d))])
    normal = np.zeros((n, 3, 3))
    right = np.zeros((n, 3))
    for i in range(3):
        right[:, i] = np.bincount(a, columns[:, i] * d[:, 2], n)
        for j in range(3):
            normal[:, i, j] = np.bincount(a, columns[:, i] * columns[:, j], n)
    count = np.bincount(a, minlength=n)
    # A little stiffness keeps neighbours on one line from making the plane swing.
    stiff = 1e-3 * np.maximum(normal[:, 0, 0] + normal[:, 1, 1], 1e-6)
    normal[:, 0, 0] += stiff
    normal[:, 1, 1] += stiff
    enough = count >= 4
    out = np.full(n, np.nan)
    out[enough] = -np.linalg.solve(normal[enough], right[enough][:, :, None])[:, 2, 0]
    return out


def heights_above_line(points: Floats, breaks: Ints) -> Floats:
    """How far points with two neighbours along a breakline lie above the straight between them, (n,), m; NaN for all
    others. points: (n, 3); breaks: (s, 2) indices."""
    n = len(points)
    ends = np.concatenate([breaks, breaks[:, ::-1]]) if len(breaks) else np.empty((0, 2), dtype=int)
    ends = ends[np.argsort(ends[:, 0], kind="stable")]
    count = np.bincount(ends[:, 0], minlength=n)
    out = np.full(n, np.nan)
    middle = np.flatnonzero(count == 2)
    first = np.searchsorted(ends[:, 0], middle)
    a, b, p = points[ends[first, 1]], points[ends[first + 1, 1]], points[middle]
    da, db = np.hypot(*(a - p)[:, :2].T), np.hypot(*(b - p)[:, :2].T)
    out[middle] = p[:, 2] - (a[:, 2] * db + b[:, 2] * da) / (da + db)
    return out


def _extreme(tin: Tin) -> np.ndarray:
    """Whether every point is higher than all its neighbours or lower than all, (n,)."""
    a, b = np.concatenate([tin.edges(), tin.edges()[:, ::-1]]).T
    rise = tin.points[b, 2] - tin.points[a, 2]
    ups = np.bincount(a[rise >= 0], minlength=len(tin.points))
    downs = np.bincount(a[rise <= 0], minlength=len(tin.points))
    return np.asarray((ups == 0) | (downs == 0))


def spikes(tin: Tin, breaks: Ints = NO_BREAKS, most: int = 100) -> list[Spike]:
    """The points that stand out most, worst first. A point on a breakline is measured along it: the ground bends there."""
    above = heights_above_neighbours(tin)
    along = heights_above_line(tin.points, breaks)
    on_line = np.zeros(len(above), dtype=bool)
    on_line[breaks.ravel()] = True
    above = np.where(on_line, along, above)
    usual = float(np.nanmedian(np.abs(above))) if np.isfinite(above).any() else 0.0
    size = np.abs(above)
    # Beside a bend of the ground a point may lie far from the plane; a spike is also higher or lower than all around it.
    far = np.flatnonzero((size > max(SPIKE, TIMES_USUAL * usual)) & (_extreme(tin) | on_line | (size > CERTAIN)))
    far = far[np.argsort(-np.abs(above[far]))][:most]
    places = tin.points[far].tolist()
    return [Spike(int(i), e, n, z, float(above[i])) for i, (e, n, z) in zip(far, places, strict=True)]
