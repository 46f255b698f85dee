"""The milled surface: the existing one, lowered between two offsets, with upright steps at the sides."""

from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Floats, Polylines, interpolate
from saddle.overlay.spec import MillingStretch


@dataclass(frozen=True, slots=True, eq=False)
class Milling:
    """What is milled on n sections. surface: the old one where nothing is; area: (n,) m2 of the section; moment: (n,) m3;
    width, depth: (n,) m, the greatest depth; 0 where nothing is milled, NaN where it is not known."""

    surface: Polylines
    area: Floats
    moment: Floats
    width: Floats
    depth: Floats


def depth_along(stretch: MillingStretch, chainage: Floats) -> Floats:
    """Milling depth (n,), m; 0 outside the stretch."""
    c = [r.chainage for r in stretch.rows]
    mm = [r.depth_mm for r in stretch.rows]
    found: Floats = np.interp(chainage, c, mm, left=0.0, right=0.0) / 1000
    return found


def lowered(surface: Polylines, low: Floats, high: Floats, depth: Floats) -> Polylines:
    """Polylines lowered by `depth` (n,) between two offsets (n,), with two vertices at either side. Rows with no depth or
    width stay as they are."""
    milled = (depth > 0) & (high > low)
    if not milled.any():
        return surface
    o, z = surface.offsets, surface.levels
    a, b, d = (np.where(milled, v, np.inf)[:, None] for v in (low, high, depth))
    a, b = np.where(milled[:, None], a, np.inf), np.where(milled[:, None], b, np.inf)
    d = np.where(milled[:, None], d, 0.0)
    sides = np.concatenate([a, b], axis=1)
    inner, outer = interpolate(surface, sides, "inner"), interpolate(surface, sides, "outer")
    inside = (o > a) & (o < b)
    left, right = o <= a, (o >= b) & np.isfinite(o)
    parts = [
        (np.where(left, o, np.inf), z),
        (np.concatenate([a, a], axis=1), np.stack([inner[:, 0], outer[:, 0] - d[:, 0]], axis=1)),
        (np.where(inside, o, np.inf), z - d),
        (np.concatenate([b, b], axis=1), np.stack([inner[:, 1] - d[:, 0], outer[:, 1]], axis=1)),
        (np.where(right, o, np.inf), z),
    ]
    offsets = np.concatenate([p for p, _ in parts], axis=1)
    levels = np.concatenate([v for _, v in parts], axis=1)
    order = np.argsort(offsets, axis=1, kind="stable")
    offsets, levels = np.take_along_axis(offsets, order, 1), np.take_along_axis(levels, order, 1)
    width = int(np.isfinite(offsets).sum(axis=1).max(initial=0))
    offsets, levels = offsets[:, :width], levels[:, :width]
    return Polylines(offsets, np.where(np.isfinite(offsets), levels, np.nan))
