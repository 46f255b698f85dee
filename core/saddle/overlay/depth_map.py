"""Overlay depth in plan: linear on triangles spanned by successive sections' vertices, cut exactly into bands."""

import itertools
from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Floats, Polylines, compress, sample
from saddle.road.model import RoadModel

#: Upper limits of the depth bands, mm; the last band is open.
BAND_LIMITS_MM = (50.0, 60.0, 75.0, 100.0, 150.0)


@dataclass(frozen=True, slots=True, eq=False)
class DepthBand:
    """low, high: m (infinite at the ends); area: m2 in plan; pieces: convex polygons (k, 2) in plan that make it up."""

    low: float
    high: float
    area: float
    pieces: list[Floats]


@dataclass(frozen=True, slots=True, eq=False)
class DepthTriangles:
    """plan: (t, 3, 2) m; depth: (t, 3) m."""

    plan: Floats
    depth: Floats

    @property
    def area(self) -> Floats:
        a, b = self.plan[:, 1] - self.plan[:, 0], self.plan[:, 2] - self.plan[:, 0]
        return np.abs(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]) / 2


def depth_triangles(model: RoadModel) -> DepthTriangles:
    """Triangles over the whole overlay."""
    d, s = model.depth, model.stations
    length = np.diff(model.chainage)
    pair = np.flatnonzero(
        (length > tolerances.CHAINAGE_MERGE)
        & (s.treatment[:-1] == s.treatment[1:])
        & np.isfinite(d.least[:-1])
        & np.isfinite(d.least[1:])
    )
    if pair.size == 0:
        return DepthTriangles(np.empty((0, 3, 2)), np.empty((0, 3)))
    share, own = [], []
    for rows in (pair, pair + 1):
        width = (d.right - d.left)[rows][:, None]
        share.append((d.offsets[rows] - d.left[rows][:, None]) / width)
        own.append(Polylines(share[-1], (d.design - d.existing)[rows]))
    grid = compress(np.sort(np.concatenate(share, axis=1), axis=1))
    corners = []
    for rows, line in zip((pair, pair + 1), own, strict=True):
        offset = d.left[rows][:, None] + grid * (d.right - d.left)[rows][:, None]
        flat = np.repeat(rows, grid.shape[1])
        corners.append((model.frames.plan(flat, offset.ravel()).reshape(*grid.shape, 2), sample(line, grid)))
    (p, dp), (q, dq) = corners
    low, high = slice(None, -1), slice(1, None)
    plan = np.stack([_three(p[:, low], p[:, high], q[:, low]), _three(p[:, high], q[:, high], q[:, low])], axis=2)
    depth = np.stack(
        [np.stack([dp[:, low], dp[:, high], dq[:, low]], -1), np.stack([dp[:, high], dq[:, high], dq[:, low]], -1)], axis=2
    )
    found = DepthTriangles(plan.reshape(-1, 3, 2), depth.reshape(-1, 3))
    real = (found.area > 0) & np.isfinite(found.depth).all(axis=1)
    return DepthTriangles(found.plan[real], found.depth[real])


def _three(a: Floats, b: Floats, c: Floats) -> Floats:
    return np.stack([a, b, c], axis=-2)


def share_below(depth: Floats, limit: float) -> Floats:
    """Share of each triangle (t, 3) on which a linear depth is at most `limit`, exactly. Returns (t,)."""
    d = np.sort(depth, axis=1)
    a, b, c = d[:, 0], d[:, 1], d[:, 2]
    with np.errstate(invalid="ignore", divide="ignore"):
        lower = (limit - a) ** 2 / ((b - a) * (c - a))
        upper = 1 - (c - limit) ** 2 / ((c - a) * (c - b))
    share = np.where(limit < b, lower, upper)
    return np.where(limit <= a, np.where(limit < a, 0.0, (c <= limit) * 1.0), np.where(limit >= c, 1.0, share))


def depth_bands(triangles: DepthTriangles, limits_mm: tuple[float, ...] = BAND_LIMITS_MM) -> list[DepthBand]:
    """Areas of the bands, which add up to the overlay's plan area, and the pieces to draw them with."""
    limits = [-np.inf, *(mm / 1000 for mm in limits_mm), np.inf]
    area = triangles.area
    bands = []
    for low, high in itertools.pairwise(limits):
        inside = share_below(triangles.depth, high) - share_below(triangles.depth, low)
        hit = np.flatnonzero(inside > 0)
        d = triangles.depth[hit]
        whole = (d.min(axis=1) >= low) & (d.max(axis=1) <= high)
        pieces = [*triangles.plan[hit[whole]]]
        pieces += [_clip(triangles.plan[t], triangles.depth[t], low, high) for t in hit[~whole]]
        bands.append(DepthBand(low, high, float((inside * area).sum()), [piece for piece in pieces if len(piece) >= 3]))
    return bands


def _clip(plan: Floats, depth: Floats, low: float, high: float) -> Floats:
    """Part of a triangle where low <= depth <= high, as a polygon (k, 2)."""
    ring = np.column_stack([plan, depth])
    for sign, limit in ((1.0, low), (-1.0, high)):
        if not np.isfinite(limit):
            continue
        above = sign * (ring[:, 2] - limit)
        out = []
        for i in range(len(ring)):
            j = (i + 1) % len(ring)
            if above[i] >= 0:
                out.append(ring[i])
            if above[i] * above[j] < 0:
                t = above[i] / (above[i] - above[j])
                out.append(ring[i] + t * (ring[j] - ring[i]))
        ring = np.array(out) if out else np.empty((0, 3))
        if len(ring) == 0:
            break
    return ring[:, :2]
