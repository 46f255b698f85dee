"""Cut and fill between two surfaces, exactly: over every piece that a triangle of one shares with one of the other."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
import shapely

from saddle.geometry import loops
from saddle.geometry.polylines import Floats, Ints
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
    found = np.zeros(3)
    deepest = np.zeros(2)
    for pairs in _pairs(a, b, _base(a)):
        parts = loops.volumes(*pairs)
        found += parts[:3]
        deepest = np.maximum(deepest, parts[3:])
    cut, fill, area = (float(v) for v in found)
    return Comparison(cut, fill, area, _plan_area(a) - area, _plan_area(b) - area, float(deepest[0]), float(deepest[1]))


def shared_pieces(first: Floats, second: Floats) -> tuple[Floats, Floats]:
    """Every piece that a triangle of the first (n, 3, 3) shares in plan with one of the second (m, 3, 3), as triangles: plan
    (t, 3, 2), and how far the second lies above the first there (t, 3), which is linear on each."""
    if not len(first) or not len(second):
        return np.empty((0, 3, 2)), np.empty((0, 3))
    base = _base(first)
    found = np.concatenate([loops.pieces(*pairs) for pairs in _pairs(first, second, base)])
    return found[:, :, :2] + base, np.ascontiguousarray(found[:, :, 2])


def _base(triangles: Floats) -> Floats:
    """A place near all of them, about which coordinates lose no digits."""
    middle: Floats = triangles[:, :, :2].reshape(-1, 2).mean(axis=0)
    return middle


def _pairs(first: Floats, second: Floats, base: Floats) -> Iterator[tuple[Floats, Floats, Floats, Floats, Ints, Ints]]:
    """Block by block the triangles about `base`, their planes, and which of either may share something, as `loops` takes them."""
    planes = _planes(first, base), _planes(second, base)
    a, b = _left_turning(first[:, :, :2] - base), _left_turning(second[:, :, :2] - base)
    tree = shapely.STRtree(_boxes(b))
    for low in range(0, len(a), BLOCK):
        i, j = tree.query(_boxes(a[low : low + BLOCK]))
        yield a, b, *planes, i + low, j


def _left_turning(corner: Floats) -> Floats:
    """Triangles (n, 3, 2) with their corners counter-clockwise; those without area are left out of every piece by themselves."""
    u, v = corner[:, 1] - corner[:, 0], corner[:, 2] - corner[:, 0]
    turned = u[:, 0] * v[:, 1] - u[:, 1] * v[:, 0] < 0
    return np.ascontiguousarray(np.where(turned[:, None, None], corner[:, ::-1], corner))


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
