"""Tables along the road made simpler: rows they can do without, and running means."""

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


def running_mean(chainage: Floats, values: Floats, length: float) -> Floats:
    """Mean of the piecewise straight line through rows (n, k) over a window, m, that shrinks towards the ends, so that they
    stay."""
    c = chainage
    area = np.concatenate(
        [np.zeros((1, values.shape[1])), np.cumsum((values[1:] + values[:-1]) / 2 * np.diff(c)[:, None], axis=0)]
    )
    half = np.minimum(length / 2, np.minimum(c - c[0], c[-1] - c))
    wide = half > 1e-9

    def integral(at: Floats) -> Floats:
        i = np.clip(np.searchsorted(c, at, side="right") - 1, 0, len(c) - 2)
        x = (at - c[i])[:, None]
        slope = (values[i + 1] - values[i]) / (c[i + 1] - c[i])[:, None]
        total: Floats = area[i] + values[i] * x + slope * x**2 / 2
        return total

    out = values.copy()
    out[wide] = (integral(c + half) - integral(c - half))[wide] / (2 * half[wide])[:, None]
    return out
