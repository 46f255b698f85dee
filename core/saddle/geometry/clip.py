"""Convex polygons clipped by lines, many at once, corner by corner so that the memory is read in its order."""

import numpy as np

from saddle.geometry.polylines import Floats, Ints


def kept_side(ring: Floats, side: Floats) -> tuple[Floats, Ints]:
    """The parts of convex rings where a function that is linear on each is not negative: Sutherland and Hodgman's clipping.

    ring: (d, k, t) corners of t rings, easting, northing and whatever else is linear on them; side: (k, t) the function's values
    at the corners. Returns the rings of which something is left, (d, k + 1, m), and which they were, (m,). Where fewer corners
    are left the last one is there several times.
    """
    keep = side >= 0
    which = np.flatnonzero(keep.any(axis=0))
    ring, side, keep = ring[:, :, which], side[:, which], keep[:, which]
    d, k, t = ring.shape
    left = keep.sum(axis=0)
    # Every ring is turned so that its first corner is the first of those that are kept.
    start = (keep & ~keep[[k - 1, *range(k - 1)]]).argmax(axis=0)
    at = np.arange(t)
    turn = (start[None, :] + np.arange(k)[:, None]) % k * t + at
    ring = ring.reshape(d, k * t)[:, turn]
    s = side.ravel()[turn]
    last, gone = (left - 1) * t + at, np.minimum(left, k - 1) * t + at
    cut = left < k
    a, b = s.ravel()[last], s.ravel()[gone]
    leaves = np.divide(a, a - b, out=np.zeros(t), where=cut)
    enters = np.divide(s[0], s[0] - s[k - 1], out=np.zeros(t), where=cut)
    out = np.empty((d, k + 1, t))
    for old, new in zip(ring, out, strict=True):
        flat = old.ravel()
        before = flat[last]
        leave = before + leaves * (flat[gone] - before)
        enter = old[0] + enters * (old[k - 1] - old[0])
        for j in range(k):
            new[j] = np.where(j < left, old[j], np.where(j == left, leave, enter))
        new[k] = np.where(cut, enter, old[k - 1])
    return out, which


def fans(ring: Floats) -> tuple[Floats, Ints]:
    """Convex rings (d, k, t) as triangles about their first corner, (d, 3, m) without those of no area, and which ring each is
    of, (m,)."""
    d, k, t = ring.shape
    first = np.broadcast_to(ring[:, :1], (d, k - 2, t))
    every = np.stack([first, ring[:, 1:-1], ring[:, 2:]], axis=1).reshape(d, 3, (k - 2) * t)
    real = np.flatnonzero(twice_area(every) != 0)
    return every[:, :, real], np.tile(np.arange(t), k - 2)[real]


def twice_area(triangle: Floats) -> Floats:
    """Of triangles (d, 3, m) in plan, (m,): positive counter-clockwise."""
    (x0, x1, x2), (y0, y1, y2) = triangle[0], triangle[1]
    found: Floats = (x1 - x0) * (y2 - y0) - (x2 - x0) * (y1 - y0)
    return found
