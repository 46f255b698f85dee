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


def heights_above_mean(tin: Tin) -> Floats:
    """How far every point lies above the mean level of its neighbours, (n,), m: quick, but it sees a slope's bend too."""
    a, b = _both_ways(tin)
    count = np.bincount(a, minlength=len(tin.points))
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.asarray(tin.points[:, 2] - np.bincount(a, tin.points[b, 2], len(tin.points)) / count)


def heights_above_plane(tin: Tin, vertices: Ints) -> Floats:
    """How far some points lie above the least-squares plane through their neighbours, (k,), m; NaN with fewer than four
    neighbours."""
    wanted = np.full(len(tin.points), -1)
    wanted[vertices] = np.arange(len(vertices))
    a, b = _both_ways(tin)
    near = wanted[a] >= 0
    a, b = a[near], b[near]
    of, n = wanted[a], len(vertices)
    d = tin.points[b] - tin.points[a]
    columns = np.column_stack([d[:, 0], d[:, 1], np.ones(len(d))])
    normal = np.zeros((n, 3, 3))
    right = np.zeros((n, 3))
    for i in range(3):
        right[:, i] = np.bincount(of, columns[:, i] * d[:, 2], n)
        for j in range(3):
            normal[:, i, j] = np.bincount(of, columns[:, i] * columns[:, j], n)
    # A little stiffness keeps neighbours on one line from making the plane swing.
    stiff = 1e-3 * np.maximum(normal[:, 0, 0] + normal[:, 1, 1], 1e-6)
    normal[:, 0, 0] += stiff
    normal[:, 1, 1] += stiff
    enough = np.bincount(of, minlength=n) >= 4
    out = np.full(n, np.nan)
    out[enough] = -np.linalg.solve(normal[enough], right[enough][:, :, None])[:, 2, 0]
    return out


def _both_ways(tin: Tin) -> tuple[Ints, Ints]:
    """Every edge from either of its ends."""
    edges = tin.edges()
    return np.concatenate([edges[:, 0], edges[:, 1]]), np.concatenate([edges[:, 1], edges[:, 0]])


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
    a, b = _both_ways(tin)
    rise = tin.points[b, 2] - tin.points[a, 2]
    ups = np.bincount(a[rise >= 0], minlength=len(tin.points))
    downs = np.bincount(a[rise <= 0], minlength=len(tin.points))
    return np.asarray((ups == 0) | (downs == 0))


def _limit(distances: Floats) -> float:
    """From what distance on a point is pointed out, m, among distances as they are usual here."""
    usual = float(np.nanmedian(distances)) if np.isfinite(distances).any() else 0.0
    return max(SPIKE, TIMES_USUAL * usual)


def spikes(tin: Tin, breaks: Ints = NO_BREAKS, most: int = 100) -> list[Spike]:
    """The points that stand out most, worst first. A point on a breakline is measured along it: the ground bends there.

    Beside a bend of the ground a point may lie far from its neighbours' plane; a spike is also higher or lower than all
    around it, or very far.
    """
    rough = np.abs(heights_above_mean(tin))
    on_line = np.zeros(len(tin.points), dtype=bool)
    on_line[breaks.ravel()] = True
    above = heights_above_line(tin.points, breaks)
    limit = np.where(on_line, _limit(np.abs(above)), _limit(rough))
    maybe = np.flatnonzero((rough > limit / 2) & ~on_line)
    above[maybe] = heights_above_plane(tin, maybe)
    size = np.abs(above)
    far = np.flatnonzero((size > limit) & (_extreme(tin) | on_line | (size > CERTAIN)))
    far = far[np.argsort(-size[far])][:most]
    places = tin.points[far].tolist()
    return [Spike(int(i), e, n, z, float(above[i])) for i, (e, n, z) in zip(far, places, strict=True)]


def steep(tin: Tin) -> int:
    """How many triangles are steeper than 1 in 1: a kerb has some, a survey with two axes exchanged or levels of none has many."""
    a, b, c = (tin.points[tin.triangles[:, k]] for k in range(3))
    normal = np.cross(b - a, c - a)
    return int((np.hypot(normal[:, 0], normal[:, 1]) > np.abs(normal[:, 2])).sum())
