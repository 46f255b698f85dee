"""Volumes between sections."""

import numpy as np

from saddle.geometry.polylines import Floats, Ints, Polylines, merge_offsets, sample

#: Places and weights of Gauss and Legendre's rule of four points on 0 to 1.
_AT, _WEIGHT = (np.polynomial.legendre.leggauss(4)[0] + 1) / 2, np.polynomial.legendre.leggauss(4)[1] / 2


def end_areas(length: Floats, area: Floats, moment: Floats | None = None, curvature: Floats | None = None) -> Floats:
    """Volume by average end areas between successive sections, m3.

    length: (n - 1,) m along the alignment; area: (n,) m2. With moment (n,), the area times its centroid's offset,
    and curvature (n - 1,) of each interval, each end is corrected by 1 - curvature * offset (Pappus-Guldin):
    area inside the curve counts less. Returns (n - 1,); NaN areas give NaN.
    """
    first, second = area[:-1], area[1:]
    if moment is not None and curvature is not None:
        first = first - curvature * moment[:-1]
        second = second - curvature * moment[1:]
    with np.errstate(invalid="ignore"):
        return np.where(length > 0, length / 2 * (first + second), 0.0)


def prismoidal_along(length: Floats, first: Floats, middle: Floats, second: Floats) -> Floats:
    """Prismoidal volumes of intervals (n,), m3: L/6 (A1 + 4 Am + A2), length in m, areas at both ends and measured in the middle, m2."""
    with np.errstate(invalid="ignore"):
        return np.where(length > 0, length / 6 * (first + 4 * middle + second), 0.0)


def transitions(difference: Polylines, length: Floats, curvature: Floats) -> Floats:
    """What average end areas count twice between sections where cut turns to fill, (n - 1,), m3: as much of cut as of fill.

    difference: of n sections, formation less ground, m, from catch point to catch point, 0 beyond; length, curvature: of the
    intervals (n - 1,). Between the two sections the difference at one offset runs straight from d1 to d2. Where they have one sign
    the mean of the ends is right; where d1 > 0 > d2 the straight line is positive over d1 / (d1 + |d2|) of the length only, so that
    end areas give d1 |d2| / (2 (d1 + |d2|)) too much of either, per metre of width and length (similar triangles).
    """
    out = np.zeros(len(length))
    known = np.isfinite(difference.levels) & np.isfinite(difference.offsets)
    level = np.where(known, difference.levels, 0.0)
    highest, lowest = level.max(axis=1, initial=0.0), level.min(axis=1, initial=0.0)
    turns = (length > 0) & (((highest[:-1] > 0) & (lowest[1:] < 0)) | ((lowest[:-1] < 0) & (highest[1:] > 0)))
    pair: Ints = np.flatnonzero(turns)
    if pair.size == 0:
        return out
    first, second = difference.rows(pair), difference.rows(pair + 1)
    low, high = (np.stack([f(np.where(known, difference.offsets, g), axis=1)[rows] for rows in (pair, pair + 1)]) for f, g in ((np.min, np.inf), (np.max, -np.inf)))  # fmt: skip
    grid = merge_offsets(low.min(axis=0), high.max(axis=0), first.offsets, second.offsets)
    a, b = (np.nan_to_num(sample(line, grid)) for line in (first, second))
    width = np.diff(grid, axis=1)[..., None]
    at = grid[:, :-1, None] + width * _AT
    d1, d2 = (v[:, :-1, None] + np.diff(v, axis=1)[..., None] * _AT for v in (a, b))
    with np.errstate(invalid="ignore", divide="ignore"):
        twice = np.where(d1 * d2 < 0, np.abs(d1 * d2) / (2 * (np.abs(d1) + np.abs(d2))), 0.0)
    curved = 1 - curvature[pair][:, None, None] * at
    out[pair] = length[pair] * (twice * curved * width * _WEIGHT).sum(axis=(1, 2))
    return out
