"""Rows that a table along the road can do without."""

import numpy as np

from saddle.geometry.polylines import Bools, Floats


def kept_within(chainage: Floats, values: Floats, tolerance: float) -> Bools:
    """Rows that must stay so that every other lies within the tolerance of the straight line between them, (n,) bool.

    Douglas and Peucker's splitting, on all columns (n, k) at once.
    """
    keep = np.zeros(len(chainage), dtype=bool)
    keep[[0, -1]] = True
    stack = [(0, len(chainage) - 1)]
    while stack:
        a, b = stack.pop()
        if b - a < 2:
            continue
        t = (chainage[a + 1 : b] - chainage[a]) / (chainage[b] - chainage[a])
        off = np.abs(values[a + 1 : b] - (values[a] + t[:, None] * (values[b] - values[a]))).max(axis=1)
        worst = int(off.argmax())
        if off[worst] > tolerance + 1e-12:
            keep[a + 1 + worst] = True
            stack += [(a, a + 1 + worst), (a + 1 + worst, b)]
    return keep
