"""The milled surface: the existing one, lowered between two offsets, with upright steps at the sides."""

from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Floats, Polylines, interpolate
from saddle.geometry.volumes import end_areas
from saddle.overlay.spec import MillingStretch


@dataclass(frozen=True, slots=True, eq=False)
class Milling:
    """What is milled on n sections. surface: the old one where nothing is; planned: the same without the notches of ties, which
    the levels do not follow; area: (n,) m2 of the section; moment: (n,) m3;
    depth: (n,) m, the greatest; 0 where nothing is milled, NaN where it is not known. left, right, depths: (k, n) limits and
    depth of each stretch by itself."""

    surface: Polylines
    planned: Polylines
    area: Floats
    moment: Floats
    depth: Floats
    left: Floats
    right: Floats
    depths: Floats


def surface_of(milling: Milling) -> Polylines:
    """The surface that the overlay lies on."""
    return milling.surface


def planned_of(milling: Milling) -> Polylines:
    """The surface that the levels follow."""
    return milling.planned


def milled_plan(milling: Milling, length: Floats, curvature: Floats) -> Floats:
    """Area milled in plan between successive sections (n - 1,), m2, of the widest stretch where several lie on each other.

    length, curvature: (n - 1,) of the intervals. An interval is milled where a stretch has some depth at either end of it: it
    is milled right up to where the depth comes to nothing, and there as wide as anywhere.
    """
    out = np.zeros(len(length))
    for left, right, depth in zip(milling.left, milling.right, milling.depths, strict=True):
        width = np.maximum(right - left, 0.0)
        area = end_areas(length, width, width * (left + right) / 2, curvature)
        out = np.where((depth[:-1] > 0) | (depth[1:] > 0), np.maximum(out, area), out)
    return out


def depth_along(stretch: MillingStretch, chainage: Floats) -> Floats:
    """Milling depth (n,), m; 0 outside the stretch."""
    c = [r.chainage for r in stretch.rows]
    mm = [r.depth_mm for r in stretch.rows]
    found: Floats = np.interp(chainage, c, mm, left=0.0, right=0.0) / 1000
    return found


def share_at(stretch: MillingStretch) -> tuple[float, float]:
    """Share of the depth at the left and right limit."""
    return {"both": (1.0, 1.0), "left": (1.0, 0.0), "right": (0.0, 1.0)}[stretch.full_at]


def lowered(surface: Polylines, low: Floats, high: Floats, at_low: Floats, at_high: Floats) -> Polylines:
    """Polylines lowered between two offsets (n,), by at_low (n,) at the first, straight to at_high (n,) at the other, with two
    vertices at either side. Rows with no depth or width stay as they are."""
    milled = ((at_low > 0) | (at_high > 0)) & (high > low)
    if not milled.any():
        return surface
    o, z = surface.offsets, surface.levels
    a, b = (np.where(milled, v, np.inf)[:, None] for v in (low, high))
    da, db = (np.where(milled, v, 0.0)[:, None] for v in (at_low, at_high))
    sides = np.concatenate([a, b], axis=1)
    inner, outer = interpolate(surface, sides, "inner"), interpolate(surface, sides, "outer")
    inside = (o > a) & (o < b)
    left, right = o <= a, (o >= b) & np.isfinite(o)
    span = np.where(milled[:, None], high[:, None] - low[:, None], 1.0)
    along = np.where(inside, (o - np.where(np.isfinite(a), a, 0.0)) / span, 0.0)
    parts = [
        (np.where(left, o, np.inf), z),
        (np.concatenate([a, a], axis=1), np.stack([inner[:, 0], outer[:, 0] - da[:, 0]], axis=1)),
        (np.where(inside, o, np.inf), z - (da + along * (db - da))),
        (np.concatenate([b, b], axis=1), np.stack([inner[:, 1] - db[:, 0], outer[:, 1]], axis=1)),
        (np.where(right, o, np.inf), z),
    ]
    offsets = np.concatenate([p for p, _ in parts], axis=1)
    levels = np.concatenate([v for _, v in parts], axis=1)
    order = np.argsort(offsets, axis=1, kind="stable")
    offsets, levels = np.take_along_axis(offsets, order, 1), np.take_along_axis(levels, order, 1)
    width = int(np.isfinite(offsets).sum(axis=1).max(initial=0))
    offsets, levels = offsets[:, :width], levels[:, :width]
    return Polylines(offsets, np.where(np.isfinite(offsets), levels, np.nan))
