"""Overlay depth in plan, cut exactly into bands: linear on triangles spanned by successive sections' vertices, or between the
triangles of the design and those of the surveyed surface. And the same bands on one section."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry import loops
from saddle.geometry.outlines import outlines
from saddle.geometry.polylines import Floats, Polylines, compress, merge_offsets, sample
from saddle.road.model import RoadModel
from saddle.terrain.compare import shared_pieces

#: Slopes that differ by less than this are one.
STRAIGHT = 1e-9
#: Where crossfalls turn, the design between two sections is twisted: so many strips side by side follow it to about a
#: millimetre.
ACROSS = 6
#: Outlines of bands keep to themselves within so much, m: no drawing shows it.
DRAWN = 0.01


@dataclass(frozen=True, slots=True, eq=False)
class DepthBand:
    """low, high: m (infinite at the ends); area: m2 in plan, exactly; polygons: its outlines in plan to draw it with, each an outer
    ring (k, 2) and the rings of its holes."""

    low: float
    high: float
    area: float
    polygons: list[list[Floats]]


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
    """Triangles over the whole overlay, depth linear between sections."""
    d = model.depth
    plan, depth = _spanned(model, Polylines(d.offsets, d.design - d.existing))
    return DepthTriangles(plan, depth)


def surface_triangles(model: RoadModel) -> DepthTriangles:
    """The overlay's depth between two triangulated surfaces: the design, straight between sections, and the survey's own
    triangles. Where the old pavement is milled, the milled depth is added, straight between sections."""
    d = model.depth
    natural = sample(model.existing, d.offsets)
    plan, top = _spanned(model, _corners(Polylines(d.offsets, d.design + (natural - d.existing))), ACROSS)
    design = np.concatenate([plan, top[:, :, None]], axis=2)
    ground = model.inputs.surface
    low, high = plan.reshape(-1, 2).min(axis=0, initial=np.inf), plan.reshape(-1, 2).max(axis=0, initial=-np.inf)
    corner = ground.points[ground.triangles]
    near = ((corner[:, :, :2].max(axis=1) >= low) & (corner[:, :, :2].min(axis=1) <= high)).all(axis=1)
    # Depth is how far the design lies above the ground: the ground is the first, the design the second.
    return DepthTriangles(*shared_pieces(corner[near], design))


def _corners(lines: Polylines) -> Polylines:
    """The same lines without the vertices at which they do not bend."""
    o, z = lines.offsets, lines.levels
    with np.errstate(invalid="ignore", divide="ignore"):
        slope = np.diff(z, axis=1) / np.diff(o, axis=1)
        straight = np.abs(np.diff(slope, axis=1)) < STRAIGHT
    drop = np.pad(straight, ((0, 0), (1, 1)), constant_values=False)
    kept = np.where(drop, np.inf, o)
    order = np.argsort(kept, axis=1, kind="stable")
    kept, z = np.take_along_axis(kept, order, 1), np.take_along_axis(z, order, 1)
    width = int(np.isfinite(kept).sum(axis=1).max(initial=0))
    return Polylines(kept[:, :width], np.where(np.isfinite(kept), z, np.nan)[:, :width])


def _spanned(model: RoadModel, lines: Polylines, across: int = 1) -> tuple[Floats, Floats]:
    """Triangles between successive sections of an overlay: plan (t, 3, 2) and values at their corners (t, 3). lines: values from
    the overlay's left end to its right end, per section; across: at least so many pieces side by side, of equal width."""
    d, s = model.depth, model.stations
    length = np.diff(model.chainage)
    pair = np.flatnonzero(
        (length > tolerances.CHAINAGE_MERGE)
        & (s.treatment[:-1] == s.treatment[1:])
        & np.isfinite(d.least[:-1])
        & np.isfinite(d.least[1:])
    )
    if pair.size == 0:
        return np.empty((0, 3, 2)), np.empty((0, 3))
    share, own = [], []
    for rows in (pair, pair + 1):
        width = (d.right - d.left)[rows][:, None]
        share.append((lines.offsets[rows] - d.left[rows][:, None]) / width)
        own.append(Polylines(share[-1], lines.levels[rows]))
    share.append(np.broadcast_to(np.linspace(0, 1, across + 1), (len(pair), across + 1)))
    grid = compress(np.sort(np.concatenate(share, axis=1), axis=1))
    corners = []
    for rows, line in zip((pair, pair + 1), own, strict=True):
        offset = d.left[rows][:, None] + np.where(np.isfinite(grid), grid, np.nan) * (d.right - d.left)[rows][:, None]
        flat = np.repeat(rows, grid.shape[1])
        corners.append((model.frames.plan(flat, offset.ravel()).reshape(*grid.shape, 2), sample(line, grid)))
    (p, dp), (q, dq) = corners
    low, high = slice(None, -1), slice(1, None)
    plan = np.stack([_three(p[:, low], p[:, high], q[:, low]), _three(p[:, high], q[:, high], q[:, low])], axis=2)
    at = np.stack(
        [np.stack([dp[:, low], dp[:, high], dq[:, low]], -1), np.stack([dp[:, high], dq[:, high], dq[:, low]], -1)], axis=2
    )
    plan, at = plan.reshape(-1, 3, 2), at.reshape(-1, 3)
    known = np.isfinite(at).all(axis=1)
    plan, at = plan[known], at[known]
    real = DepthTriangles(plan, at).area > 0
    return plan[real], at[real]


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


def depth_bands(triangles: DepthTriangles, limits_mm: Sequence[float]) -> list[DepthBand]:
    """Areas of the bands, which add up to the overlay's plan area, and their outlines."""
    limits = [-np.inf, *(mm / 1000 for mm in limits_mm), np.inf]
    area = triangles.area
    corner = np.concatenate([triangles.plan, triangles.depth[:, :, None]], axis=2)
    bands = []
    below = np.zeros(len(area))
    for low, high in itertools.pairwise(limits):
        under = share_below(triangles.depth, high)
        inside, below = under - below, under
        pieces = loops.within_band(corner, low, high)
        bands.append(DepthBand(low, high, float((inside * area).sum()), outlines(pieces, DRAWN, DRAWN**2)))
    return bands


def section_bands(offset: Floats, top: Floats, under: Floats, limits_mm: Sequence[float]) -> list[tuple[int, Floats]]:
    """Bands of one section: (index of the band, closed polygon (k, 2) of offset and level) from left to right. offset, top,
    under: (p,), levels m, NaN where there is none."""
    good = np.isfinite(offset) & np.isfinite(top) & np.isfinite(under)
    o, z, e = offset[good], top[good], under[good]
    limits = np.array(limits_mm) / 1000
    if len(o) < 2:
        return []
    d = z - e
    cuts = [o]
    for limit in limits:
        crosses = np.flatnonzero((d[:-1] - limit) * (d[1:] - limit) < 0)
        t = (limit - d[crosses]) / (d[crosses + 1] - d[crosses])
        cuts.append(o[crosses] + t * (o[crosses + 1] - o[crosses]))
    lines = Polylines(o[None, :], z[None, :]), Polylines(o[None, :], e[None, :])
    grid = merge_offsets(o[:1], o[-1:], *(c[None, :] for c in cuts))
    grid = grid[:, np.isfinite(grid[0])]
    z, e = (sample(line, grid)[0] for line in lines)
    x = grid[0]
    band = np.searchsorted(limits, ((z - e)[:-1] + (z - e)[1:]) / 2, side="left")
    out: list[tuple[int, Floats]] = []
    start = 0
    for i in range(1, len(x)):
        if i == len(x) - 1 or band[i] != band[start]:
            part = slice(start, i + 1)
            ring = np.concatenate([np.column_stack([x[part], z[part]]), np.column_stack([x[part], e[part]])[::-1]])
            if x[i] > x[start]:
                out.append((int(band[start]), ring))
            start = i
    return out
