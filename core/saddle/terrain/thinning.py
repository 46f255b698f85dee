"""Points that a surface can do without: those that lie near to the surface over the others."""

import itertools
from collections.abc import Callable

import numpy as np
from scipy.spatial import ConvexHull, Delaunay, QhullError

from saddle.geometry.polylines import Bools, Floats, Ints

#: One point of every square of this size always stays, so that no triangle has edges longer than surveys' usual limit, m.
SPACING = 8.0
#: After so many rounds, and where they are few, all that lie too far are kept at once.
ROUNDS = 40
#: One in so many that are looked at again is few.
FEW = 50


def needed(points: Floats, within: float, progress: Callable[[float], None] = lambda _: None) -> Bools:
    """Which points (n, 3) are kept, so that none of the others lies farther above or below the Delaunay surface over them than `within`, m.

    Greedy insertion: of every triangle the point that lies farthest off is kept, until none lies too far. Source: M. Garland and P. Heckbert,
    Fast Polygonal Approximation of Terrains and Height Fields, 1995 (from memory).
    """
    n = len(points)
    kept = np.zeros(n, dtype=bool)
    xyz = points - points.mean(axis=0) if n else points
    try:
        kept[ConvexHull(xyz[:, :2]).vertices] = True
    except (QhullError, ValueError):
        return np.ones(n, dtype=bool)  # all on one line, or too few: there is no surface
    kept[_spread(xyz)] = True
    # What was too far is looked at again as long as it is much; then everything is, because the surface has changed meanwhile.
    order = _along(xyz)
    looked, whole = order[~kept[order]], True
    most = max(len(looked), 1)
    for taken in itertools.count():
        off, triangle = _off(xyz, kept, looked)
        far = off > within
        if far.any():
            progress(1.0 - far.sum() / most)
            still = looked[far]
            kept[still if taken > ROUNDS or len(still) * FEW < most else _farthest(still, off[far], triangle[far])] = True
            looked, whole = still[~kept[still]], False
        elif whole:
            break
        if not far.any() or len(looked) * FEW < most:
            looked, whole = order[~kept[order]], True
    return kept


def _along(xyz: Floats) -> Ints:
    """An order in which points that follow each other lie near to each other: triangles are found by walking from the last one."""
    row = np.floor(xyz[:, 1] / SPACING)
    return np.lexsort((np.where(row % 2, -xyz[:, 0], xyz[:, 0]), row))


def _spread(xyz: Floats) -> Ints:
    """The lowest point of every square."""
    key = np.floor((xyz[:, :2] - xyz[:, :2].min(axis=0)) / SPACING).astype(np.int64)
    order = np.lexsort((xyz[:, 2], key[:, 1], key[:, 0]))
    first = np.r_[True, (np.diff(key[order], axis=0) != 0).any(axis=1)]
    return np.asarray(order[first])


def _off(xyz: Floats, kept: Bools, at: Ints) -> tuple[Floats, Ints]:
    """How far some points lie above or below the surface over those that are kept, and in which triangle; without end outside of it."""
    if len(at) == 0:
        return np.empty(0), np.empty(0, dtype=np.intp)
    corners = np.flatnonzero(kept)
    surface = Delaunay(xyz[corners, :2])
    triangle = surface.find_simplex(xyz[at, :2])
    transform = surface.transform[triangle]
    part = np.einsum("nij,nj->ni", transform[:, :2], xyz[at, :2] - transform[:, 2])
    share = np.column_stack([part, 1.0 - part.sum(axis=1)])
    level = (share * xyz[corners[surface.simplices[triangle]], 2]).sum(axis=1)
    off = np.abs(xyz[at, 2] - level)
    off[(triangle < 0) | ~np.isfinite(off)] = np.inf
    return off, triangle


def _farthest(at: Ints, off: Floats, triangle: Ints) -> Ints:
    """Of every triangle the point farthest off; outside of all of them each."""
    order = np.lexsort((-off, triangle))
    group = triangle[order]
    first = np.r_[True, group[1:] != group[:-1]] | (group < 0)
    return np.asarray(at[order[first]])
