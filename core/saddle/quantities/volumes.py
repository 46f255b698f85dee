"""Volumes between sections."""

import numpy as np

from saddle.geometry.polylines import Floats


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


def prismoidal(length: float, first: float, middle: float, second: float) -> float:
    """Prismoidal volume, m3, from both end areas and the measured middle one: L/6 (A1 + 4 Am + A2)."""
    return length / 6 * (first + 4 * middle + second)
