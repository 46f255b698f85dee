"""Cut and fill between two surfaces, exactly: over every piece that a triangle of one shares with one of the other."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from saddle.geometry.clip import fans, kept_side, twice_area
from saddle.geometry.polylines import Floats
from saddle.terrain.tin import Tin

#: Triangles of one surface looked at together, to bound the memory.
BLOCK = 20_000


@dataclass(frozen=True, slots=True)
class Comparison:
    """From one surface to another: cut where the second lies below the first, fill where above, m3; the plan area that
    both cover and of each what the other does not, m2; greatest cut and fill, m."""

    cut: float
    fill: float
    area: float
    only_first: float
    only_second: float
    deepest_cut: float
    deepest_fill: float


def compare(first: Tin, second: Tin) -> Comparison:
    """Volumes between two surfaces. Nothing is told beyond what both cover."""
    a, b = first.points[first.triangles], second.points[second.triangles]
    cut = fill = area = 0.0
    deepest = np.zeros(2)
    for pieces in _pieces(a, b):
        below, above, size = _parts(pieces)
        cut, fill, area = cut + below, fill + above, area + size
        if pieces.shape[2]:
            deepest = np.maximum(deepest, [-pieces[2].min(), pieces[2].max()])
    return Comparison(
        cut, fill, area, _plan_area(a) - area, _plan_area(b) - area, float(deepest[0]), float(deepest[1])
    )  # fmt: skip


def shared_pieces(first: Floats, second: Floats) -> tuple[Floats, Floats]:
    """Every piece that a triangle of the first (n, 3, 3) shares in plan with one of the second (m, 3, 3), as triangles: plan
    (t, 3, 2), and how far the second lies above the first there (t, 3), which is linear on each."""
    found = list(_pieces(first, second)) or [np.empty((3, 3, 0))]
    pieces = np.concatenate(found, axis=2)
    base = _base(first) if len(first) else np.zeros(2)
    return np.moveaxis(pieces[:2], 0, 2).transpose(1, 0, 2) + base, np.ascontiguousarray(pieces[2].T)


def _base(triangles: Floats) -> Floats:
    """A place near all of them, about which coordinates lose no digits."""
    middle: Floats = triangles[:, :, :2].reshape(-1, 2).mean(axis=0)
    return middle


def _pieces(first: Floats, second: Floats) -> Iterator[Floats]:
    """The same block by block, (3, 3, t): easting and northing about `_base` and the rise, of three corners."""
    if not len(first) or not len(second):
        return
    base = _base(first)
    planes_a, planes_b = _planes(first, base), _planes(second, base)
    a, b = _left_turning(first[:, :, :2] - base), _left_turning(second[:, :, :2] - base)
    tree = shapely.STRtree(_boxes(b))
    corners = np.ascontiguousarray(a.transpose(2, 1, 0))
    sides = np.ascontiguousarray(b.transpose(2, 1, 0))
    for low in range(0, len(a), BLOCK):
        i, j = tree.query(_boxes(a[low : low + BLOCK]))
        i += low
        ring = corners[:, :, i]
        for k in range(3):
            (x, y), (xn, yn) = sides[:, k, j], sides[:, (k + 1) % 3, j]
            ring, some = kept_side(ring, (xn - x) * (ring[1] - y) - (yn - y) * (ring[0] - x))
            i, j = i[some], j[some]
        fan, owner = fans(ring)
        slope_x, slope_y, level = (planes_b[j] - planes_a[i])[owner].T
        yield np.concatenate([fan, [fan[0] * slope_x + fan[1] * slope_y + level]])


def _left_turning(corner: Floats) -> Floats:
    """Triangles (n, 3, 2) with their corners counter-clockwise; those without area are left out of every piece by themselves."""
    u, v = corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]
    turned = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0] < 0
    return np.where(turned[:, None, None], corner[:, ::-1], corner)


def _boxes(corner: Floats) -> np.ndarray:
    low, high = corner.min(axis=1), corner.max(axis=1)
    found: np.ndarray = shapely.box(low[:, 0], low[:, 1], high[:, 0], high[:, 1])
    return found


def _plan_area(triangles: Floats) -> float:
    a, b = triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]
    return float(np.abs(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum() / 2)


def _planes(corner: Floats, base: Floats) -> Floats:
    """Level as a, b, c of a x + b y + c on every triangle (n, 3, 3), about `base`."""
    rows = np.concatenate([corner[:, :, :2] - base, np.ones((*corner.shape[:2], 1))], axis=2)
    return np.asarray(np.linalg.solve(rows, corner[:, :, 2:])[:, :, 0])


def _parts(pieces: Floats) -> tuple[float, float, float]:
    """Volume below zero and above it, both positive, and the area, of pieces (3, 3, t) whose rise is linear on each."""
    size, d = np.abs(twice_area(pieces)) / 2, pieces[2]
    low, high, net = d.min(axis=0), d.max(axis=0), d.mean(axis=0)
    middle = 3 * net - low - high
    with np.errstate(invalid="ignore", divide="ignore"):
        # The corner that is alone on its side of zero cuts off a triangle whose mean is a third of its height.
        alone_high = high**3 / (3 * (high - low) * (high - middle))
        alone_low = -(low**3) / (3 * (high - low) * (middle - low))
    above = np.where(low >= 0, net, np.where(high <= 0, 0.0, np.where(middle <= 0, alone_high, net + alone_low)))
    return float(((above - net) * size).sum()), float((above * size).sum()), float(size.sum())
