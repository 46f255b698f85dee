"""Cut and fill between two surfaces, exactly: over every piece that a triangle of one shares with one of the other."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely

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
    for fan, rise in shared_pieces(a, b):
        below, above, size = _parts(fan, rise)
        cut, fill, area = cut + below, fill + above, area + size
        if len(rise):
            deepest = np.maximum(deepest, [-rise.min(), rise.max()])
    return Comparison(
        cut, fill, area, _plan_area(a) - area, _plan_area(b) - area, float(deepest[0]), float(deepest[1])
    )  # fmt: skip


def shared_pieces(first: Floats, second: Floats) -> Iterator[tuple[Floats, Floats]]:
    """Every piece that a triangle of the first (n, 3, 3) shares in plan with one of the second (m, 3, 3), as triangles block by
    block: plan (t, 3, 2), and how far the second lies above the first there (t, 3), which is linear on each."""
    if not len(first) or not len(second):
        return
    base = first[:, :, :2].reshape(-1, 2).mean(axis=0)
    planes_a, planes_b = _planes(first, base), _planes(second, base)
    polygons_a, polygons_b = (np.asarray(shapely.polygons(t[:, :, :2] - base)) for t in (first, second))
    tree = shapely.STRtree(polygons_b)
    for low in range(0, len(polygons_a), BLOCK):
        i, j = tree.query(polygons_a[low : low + BLOCK], predicate="intersects")
        i += low
        pieces = shapely.intersection(polygons_a[i], polygons_b[j])
        real = shapely.area(pieces) > 0
        pieces, gap = pieces[real], planes_b[j[real]] - planes_a[i[real]]
        corners, owner = shapely.get_coordinates(pieces, return_index=True)
        rise = (gap[owner, :2] * corners).sum(axis=1) + gap[owner, 2]
        fan, depth = _fans(corners, rise, owner)
        yield fan + base, depth


def _plan_area(triangles: Floats) -> float:
    a, b = triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0]
    return float(np.abs(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]).sum() / 2)


def _planes(corner: Floats, base: Floats) -> Floats:
    """Level as a, b, c of a x + b y + c on every triangle (n, 3, 3), about `base`."""
    rows = np.concatenate([corner[:, :, :2] - base, np.ones((*corner.shape[:2], 1))], axis=2)
    return np.asarray(np.linalg.solve(rows, corner[:, :, 2:])[:, :, 0])


def _fans(corners: Floats, rise: Floats, owner: np.ndarray) -> tuple[Floats, Floats]:
    """Convex pieces, whose rings repeat their first corner, as triangles: (t, 3, 2) and the rise on them (t, 3)."""
    starts = np.flatnonzero(np.r_[True, owner[1:] != owner[:-1]])
    first = np.repeat(starts, np.diff(np.r_[starts, len(owner)]))
    index = np.arange(len(owner))
    inner = index[(index > first) & (np.r_[owner[1:] == owner[:-1], False])]
    triangle = np.stack([first[inner], inner, inner + 1], axis=1)
    return corners[triangle], rise[triangle]


def _parts(fan: Floats, depth: Floats) -> tuple[float, float, float]:
    """Volume below zero and above it, both positive, and the area. depth is linear on each triangle."""
    a, b = fan[:, 1] - fan[:, 0], fan[:, 2] - fan[:, 0]
    size = np.abs(a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]) / 2
    d = np.sort(depth, axis=1)
    low, middle, high = d.T
    net = d.mean(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        # The corner that is alone on its side of zero cuts off a triangle whose mean is a third of its height.
        alone_high = high**3 / (3 * (high - low) * (high - middle))
        alone_low = -(low**3) / (3 * (high - low) * (middle - low))
    above = np.where(low >= 0, net, np.where(high <= 0, 0.0, np.where(middle <= 0, alone_high, net + alone_low)))
    return float(((above - net) * size).sum()), float((above * size).sum()), float(size.sum())
