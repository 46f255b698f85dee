"""Governing rules: what sets the overlay's hinge level. A new rule is one function here and its kind in the documents.

`shape` is the finished surface relative to the hinge (level 0 there). It need not be straight: lane and shoulder
may differ. Where it is straight the rules are those of the model page: z(o) = zh + s/100 * |o - h|.
"""

from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Bools, Floats, Polylines, interpolate, merge_offsets, sample


@dataclass(frozen=True, slots=True, eq=False)
class HingeLevels:
    """Candidate of each side and the level taken, (n,), m; NaN where the existing surface has a gap, of a candidate also where its
    side has no width."""

    left: Floats
    right: Floats
    level: Floats


def cover_governs(
    existing: Polylines, shape: Polylines, hinge: Floats, left: Floats, right: Floats, cover: Floats
) -> HingeLevels:
    """Lowest hinge level that keeps the cover over every vertex of the existing surface between two edges.

    existing, shape: n polylines; hinge, left, right: (n,) offsets, left <= hinge <= right; cover: (n,) m. Each
    side gives a candidate max(e(v) + cover - shape(v)); the higher governs. A side without width asks for nothing: at a step the
    ground on its far side is none of its business. Where neither side has any, the higher ground at the hinge counts.
    """
    spans = ((left, hinge), (hinge, right))
    candidates = [_highest(existing, shape, np.minimum(a, b), np.maximum(a, b), cover) for a, b in spans]
    flat = [np.abs(b - a) <= tolerances.COINCIDENT for a, b in spans]
    one, other = (np.where(flat[k] & ~flat[1 - k], -np.inf, candidates[k]) for k in (0, 1))
    level = np.maximum(one, other)
    neither = flat[0] & flat[1]
    if neither.any():
        level = np.where(neither, _at_hinge(existing, shape, hinge, cover), level)
    asked = [np.where(np.isneginf(c), np.nan, c) for c in (one, other)]
    return HingeLevels(asked[0], asked[1], level)


def _at_hinge(existing: Polylines, shape: Polylines, hinge: Floats, cover: Floats) -> Floats:
    """What the ground at the hinge asks for, (n,); of two grounds that meet there in a step the one that asks for more."""
    at = hinge[:, None]
    need = [(interpolate(existing, at, w) + cover[:, None] - interpolate(shape, at, w))[:, 0] for w in ("outer", "inner")]
    return np.maximum(*need)


def edges_govern(existing: Polylines, shape: Polylines, hinge: Floats, left: Floats, right: Floats, cover: Floats) -> HingeLevels:
    """Hinge level from either edge's existing level plus the cover, along the shape up to the hinge; the higher governs.

    As cover_governs, but only the two edges count: the cover between them must be watched.
    """
    at = np.stack([left, right], axis=1)
    level = np.stack([interpolate(existing, at[:, :1], "outer")[:, 0], interpolate(existing, at[:, 1:], "inner")[:, 0]], axis=1)
    rise = np.stack([interpolate(shape, at[:, :1], "outer")[:, 0], interpolate(shape, at[:, 1:], "inner")[:, 0]], axis=1)
    need = level + cover[:, None] - rise
    return HingeLevels(need[:, 0], need[:, 1], np.max(need, axis=1))


def kerb_to_kerb(
    hinge: Floats, left: Floats, right: Floats, left_lip: Floats, right_lip: Floats, wanted_pct: Floats, by_left: Bools
) -> tuple[Floats, Floats, Floats]:
    """Hinge level and the crossfalls of both sides where both kerb lips are fixed in plan and level, (n,) each.

    left, right: offsets of the lips; left_lip, right_lip: their levels; wanted_pct: crossfall of the side that sets the
    crown, negative falls outward; by_left: whether that is the left one. zh = kL - sL/100 * (h - oKL); the other side gets
    (kR - zh) / (oKR - h) * 100, and none where it has no width.
    """
    to_left, to_right = hinge - left, right - hinge
    level = np.where(by_left, left_lip - wanted_pct / 100 * to_left, right_lip - wanted_pct / 100 * to_right)
    left_pct = np.where(by_left, wanted_pct, _fall(left_lip - level, to_left))
    right_pct = np.where(by_left, _fall(right_lip - level, to_right), wanted_pct)
    return level, left_pct, right_pct


def _fall(rise: Floats, width: Floats) -> Floats:
    """A rise over a width as a crossfall, %, NaN where there is no width."""
    with np.errstate(invalid="ignore", divide="ignore"):
        pct = 100 * rise / width
    return np.where(np.isfinite(pct), pct, np.nan)


def _highest(existing: Polylines, shape: Polylines, low: Floats, high: Floats, cover: Floats) -> Floats:
    grid = merge_offsets(low, high, existing.offsets, shape.offsets)
    need = sample(existing, grid) + cover[:, None] - sample(shape, grid)
    return np.where(np.isnan(need).any(axis=1), np.nan, np.max(need, axis=1, initial=-np.inf))


def bridge(chainage: Floats, level: Floats, bridged: Bools, tie: Floats) -> Floats:
    """Hinge levels with the bridged rows set on a straight grade between their neighbours.

    chainage, level: (n,); bridged: (n,) rows to fill; tie: (n,) existing level at the hinge, which stands in
    where a bridged length begins or ends without a level beside it.
    """
    out = level.copy()
    rows = np.flatnonzero(bridged)
    if rows.size == 0:
        return out
    for run in np.split(rows, np.flatnonzero(np.diff(rows) > 1) + 1):
        first, last = int(run[0]), int(run[-1])
        z0 = _beside(level, chainage, tie, first, first - 1)
        z1 = _beside(level, chainage, tie, last, last + 1)
        c0, c1 = chainage[first], chainage[last]
        t = (chainage[run] - c0) / (c1 - c0) if c1 > c0 else np.zeros(len(run))
        out[run] = z0 + t * (z1 - z0)
    return out


def _beside(level: Floats, chainage: Floats, tie: Floats, end: int, neighbour: int) -> float:
    inside = 0 <= neighbour < len(level)
    if inside and abs(chainage[neighbour] - chainage[end]) <= tolerances.CHAINAGE_MERGE and np.isfinite(level[neighbour]):
        return float(level[neighbour])
    return float(tie[end])


def measured_crossfall(existing_hinge: Floats, existing_edge: Floats, hinge: Floats, edge: Floats) -> Floats:
    """Fall of the existing surface from hinge to edge, %, (n,): (e(edge) - e(h)) / |edge - h| * 100."""
    return _fall(existing_edge - existing_hinge, np.abs(edge - hinge))
