"""Areas and first moments of what lies between lines, and of polygons."""

from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Bools, Floats, Ints, Polylines

#: So many sections are worked on at a time: what they need then stays in the processor's own memory.
AT_ONCE = 256


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

    NaN where either line has a gap in between, or an end is not known. All offsets of a row are sorted once: how many of either
    line's vertices stand before a cell says which of its segments lie over it.
    """
    n = len(low)
    if n > AT_ONCE:
        parts = [
            cut_and_fill(existing.rows(rows), formation.rows(rows), low[rows], high[rows])
            for rows in (slice(at, at + AT_ONCE) for at in range(0, n, AT_ONCE))
        ]
        return _joined([part[0] for part in parts]), _joined([part[1] for part in parts])
    m, k = existing.offsets.shape[1], formation.offsets.shape[1]
    every = np.concatenate([existing.offsets, formation.offsets, low[:, None], high[:, None]], axis=1)
    order = np.argsort(every, axis=1, kind="stable")
    grid = np.take_along_axis(every, order, 1)
    a, b = grid[:, :-1], grid[:, 1:]
    inside = (b > a) & (a >= low[:, None]) & (b <= high[:, None])
    e = _over_cells(existing, np.cumsum(order < m, axis=1)[:, :-1], a, b)
    f = _over_cells(formation, np.cumsum((order >= m) & (order < m + k), axis=1)[:, :-1], a, b)
    gone = np.where(np.isfinite(low) & np.isfinite(high), 0.0, np.nan)
    with np.errstate(invalid="ignore", divide="ignore"):
        return _both_sides(a, b, e[0] - f[0], e[1] - f[1], inside, gone)


def _joined(parts: list[Areas]) -> Areas:
    return Areas(np.concatenate([p.area for p in parts]), np.concatenate([p.moment for p in parts]))


def _over_cells(lines: Polylines, before: Ints, a: Floats, b: Floats) -> tuple[Floats, Floats]:
    """Levels at both ends of cells (n, c), as seen from inside, of lines of which so many vertices stand before each cell."""
    m = lines.offsets.shape[1]
    if m < 2:
        nothing = np.full(a.shape, np.nan)
        return nothing, nothing
    i = np.clip(before - 1, 0, m - 2)
    o, z = np.take_along_axis(lines.offsets, i, 1), np.take_along_axis(lines.levels, i, 1)
    with np.errstate(invalid="ignore", divide="ignore"):
        slope = np.diff(lines.levels, axis=1) / np.diff(lines.offsets, axis=1)
        slope = np.where((before > 0) & (before < m), np.take_along_axis(slope, i, 1), np.nan)
        return z + slope * (a - o), z + slope * (b - o)


def _both_sides(a: Floats, b: Floats, first: Floats, last: Floats, inside: Bools, gone: Floats) -> tuple[Areas, Areas]:
    """Area and moment of what is positive, and of what is negative, of differences that run straight over cells (n, c), NaN where
    one inside is not known. gone: (n,) added, 0 or NaN.

    A cell counts whole on the side on which it lies; of one that crosses zero both tips are triangles.
    """
    width = np.where(inside, b - a, 0.0)
    first, last = np.where(inside, first, 0.0), np.where(inside, last, 0.0)
    area = (first + last) * width / 2
    moment = (a * (2 * first + last) + b * (first + 2 * last)) * width / 6
    moment = np.where(inside, moment, 0.0)
    up = first + last > 0
    above, below = np.where(up, area, 0.0), np.where(up, 0.0, -area)
    above_m, below_m = np.where(up, moment, 0.0), np.where(up, 0.0, -moment)
    rows, cells = np.nonzero(first * last < 0)
    if len(rows):
        x, w, d0, d1 = a[rows, cells], width[rows, cells], first[rows, cells], last[rows, cells]
        share = d0 / (d0 - d1)
        tips = (d0 * share * w / 2, x + w * share / 3), (d1 * (1 - share) * w / 2, x + w * (1 - (1 - share) / 3))
        high, low = (np.where(d0 > 0, tips[0], tips[1]), np.where(d0 > 0, tips[1], tips[0]))
        above[rows, cells], above_m[rows, cells] = high[0], high[0] * high[1]
        below[rows, cells], below_m[rows, cells] = -low[0], -low[0] * low[1]
    # Where one cell is not known neither is the section.
    lost = np.where(np.isnan(area).any(axis=1), np.nan, gone)
    return (
        Areas(above.sum(axis=1) + lost, above_m.sum(axis=1) + lost),
        Areas(below.sum(axis=1) + lost, below_m.sum(axis=1) + lost),
    )


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
