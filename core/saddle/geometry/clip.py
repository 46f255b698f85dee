"""Convex polygons clipped by lines, many at once."""

import numpy as np

from saddle.geometry.polylines import Floats, Ints


def kept_side(ring: Floats, count: Ints, side: Floats) -> tuple[Floats, Ints]:
    """The parts of convex rings where a function that is linear on each is not negative: Sutherland and Hodgman's clipping.

    ring: (t, k, d) corners with whatever else is linear on them, of which the first `count` (t,) are there; side: (t, k) the
    function's values at the corners. Returns rings of up to k + 1 corners and their counts, below 3 where nothing is left.
    """
    t, k = ring.shape[:2]
    if t == 0 or k == 0:
        return ring, count
    place = np.arange(k)[None, :]
    there = place < count[:, None]
    following = np.where(place + 1 < count[:, None], place + 1, 0)
    after = np.take_along_axis(ring, following[:, :, None], 1)
    a, b = side, np.take_along_axis(side, following, 1)
    crosses = there & (a * b < 0)
    share = np.divide(a, a - b, out=np.zeros_like(a), where=crosses)[:, :, None]
    out = np.stack([ring, ring + share * (after - ring)], axis=2).reshape(t, 2 * k, ring.shape[2])
    kept = np.stack([there & (a >= 0), crosses], axis=2).reshape(t, 2 * k)
    order = np.argsort(~kept, axis=1, kind="stable")
    left = kept.sum(axis=1)
    width = int(left.max(initial=0))
    return np.take_along_axis(out, order[:, :width, None], 1), left


def fans(ring: Floats, count: Ints) -> tuple[Floats, Ints]:
    """Convex rings as triangles about their first corner: (m, 3, d), and which ring each is of (m,)."""
    width = ring.shape[1]
    owner, k = np.nonzero(np.arange(max(width - 2, 0))[None, :] < count[:, None] - 2)
    return np.stack([ring[owner, 0], ring[owner, k + 1], ring[owner, k + 2]], axis=1), owner
