"""How water leaves the road: the resultant slope, the length of its path, and the depth of the film at the end of it."""

import numpy as np

from saddle.geometry.polylines import Floats

#: Rain, mm/h, and depth of the surface's texture, mm, that films are told for: common practice, no source.
RAIN_MM_H, TEXTURE_MM = 50.0, 0.5


def resultant_pct(crossfall_pct: Floats, grade_pct: Floats) -> Floats:
    """Steepest slope of a plane, %: sqrt(q2 + s2)."""
    return np.hypot(crossfall_pct, grade_pct)


def path_length(width: Floats, crossfall_pct: Floats, grade_pct: Floats) -> Floats:
    """Length that water runs to cross a width, m: W sqrt(1 + (s / q)2); infinite where there is no crossfall."""
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(crossfall_pct == 0, np.inf, width * np.hypot(1.0, grade_pct / crossfall_pct))


def film_mm(path: Floats, slope_pct: Floats, rain_mm_h: float = RAIN_MM_H, texture_mm: float = TEXTURE_MM) -> Floats:
    """Depth of water over the texture at the end of a path, mm, 0 at least.

    D = 0.103 T^0.11 L^0.43 I^0.59 / S^0.42 - T. Source: Gallaway et al. 1979 (FHWA-RD-79-31); Austroads Guide to Road Design
    Part 5A; from memory.
    """
    with np.errstate(divide="ignore", invalid="ignore"):
        depth = 0.103 * texture_mm**0.11 * path**0.43 * rain_mm_h**0.59 / slope_pct**0.42 - texture_mm
    film: Floats = np.maximum(depth, 0.0)
    return film
