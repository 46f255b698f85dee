"""What lies between the old road and the new: the overlay's depth, and cut and fill."""

from typing import Literal

import numpy as np

from saddle.geometry.areas import between, cut_and_fill
from saddle.geometry.polylines import Floats, Polylines, crossings, merge_offsets, sample
from saddle.road.designs import LEFT, RIGHT, Bounds, Designs
from saddle.road.model import Earthworks, OverlayDepth, TemplateSections
from saddle.road.stations import Stations


def overlay_depth(designs: Designs, existing: Polylines, level: Floats, bounds: Bounds) -> OverlayDepth:
    """Depth between the milled surface (existing) and the design from one end of the overlay to the other, within the road's bounds."""
    shape = designs.shape
    left = np.where(designs.is_overlay, -np.fmin(designs.limits[LEFT], bounds[LEFT]), np.nan)
    right = np.where(designs.is_overlay, np.fmin(designs.limits[RIGHT], bounds[RIGHT]), np.nan)
    reaches = right > left
    low, high = np.where(reaches, left, np.nan), np.where(reaches, right, np.nan)
    grid = merge_offsets(low, high, existing.offsets, shape.offsets)
    design, e = sample(shape, grid) + level[:, None], sample(existing, grid)
    d = design - e
    known = np.isfinite(d).all(axis=1)  # what lies over a hole may be the least of all
    filled_low, filled_high = np.where(np.isnan(d), np.inf, d), np.where(np.isnan(d), -np.inf, d)
    i, j = filled_low.argmin(axis=1), filled_high.argmax(axis=1)
    row = np.arange(len(d))
    area = between(grid, design, e).area

    def where(values: Floats) -> Floats:
        return np.where(known, values, np.nan)

    return OverlayDepth(
        grid, design, e, low, high,
        where(d[row, i]), where(grid[row, i]), where(d[row, j]), where(grid[row, j]), where(area / (high - low)),
    )  # fmt: skip


def find_earthworks(
    existing: Polylines, under: Polylines, groups: tuple[TemplateSections, ...], stations: Stations
) -> Earthworks:
    """Cut and fill between the milled surface (under) and the formation, and the finished surface over the existing one, from
    catch point to catch point."""
    n = len(stations.chainage)
    formation, finished = _across(groups, n, "floor"), _across(groups, n, "top")
    low, high = np.full(n, np.nan), np.full(n, np.nan)
    for g in groups:
        low[g.rows], high[g.rows] = -g.left.end, g.right.end
    cut, fill = cut_and_fill(under, formation, low, high)
    above, below = cut_and_fill(existing, finished, low, high)
    gone = np.where(np.isnan(low) | np.isnan(high), np.nan, 0.0)
    grid = merge_offsets(low, high, under.offsets, formation.offsets)
    d = sample(formation, grid) - sample(under, grid)
    grid = merge_offsets(low, high, grid, crossings(grid, d))
    difference = Polylines(grid, sample(formation, grid) - sample(under, grid))
    return Earthworks(
        cut.area + gone, cut.moment + gone, fill.area + gone, fill.moment + gone, formation, difference,
        below.area - above.area + gone, cut_and_fill(existing, under, low, high)[0].area + gone, low, high,
    )  # fmt: skip


def _across(groups: tuple[TemplateSections, ...], n: int, which: Literal["floor", "top"]) -> Polylines:
    """The lowest line or the finished surface of both halves as one polyline on n sections."""
    found = []
    for g in groups:
        halves = [(h.side * h.layers.offsets, h.layers.floor if which == "floor" else h.layers.top) for h in (g.left, g.right)]
        (ol, zl), (o, z) = halves
        found.append((g.rows, np.concatenate([ol[:, ::-1], o], axis=1), np.concatenate([zl[:, ::-1], z], axis=1)))
    width = max((o.shape[1] for _, o, _ in found), default=0)
    out = Polylines(np.full((n, width), np.inf), np.full((n, width), np.nan))
    for rows, o, z in found:
        missing = np.isnan(o)
        order = np.argsort(missing, axis=1, kind="stable")
        out.offsets[rows, : o.shape[1]] = np.take_along_axis(np.where(missing, np.inf, o), order, 1)
        out.levels[rows, : o.shape[1]] = np.take_along_axis(np.where(missing, np.nan, z), order, 1)
    return out
