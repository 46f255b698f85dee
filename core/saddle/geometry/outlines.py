"""Outlines of what many polygons that fit together cover: their shared edges cancel, what is left is the rim."""

import numpy as np
import shapely

from saddle.geometry.polylines import Floats, Ints

#: Corners closer than about this are one, m. So coarse that the number of a corner on the longest road fits 63 bits.
SNAP = 1e-4


def outlines(ring: Floats, near: float, least: float) -> list[list[Floats]]:
    """Polygons, each an outer ring (m, 2) counter-clockwise and the rings of its holes, of what convex rings (2, k, t) cover
    together. They may run either way round and have corners several times, but where two meet they share whole edges.

    near: m, how far an outline may keep beside its corners to do with fewer; least: m2, rings of no more are left out.
    """
    if not ring.shape[2]:
        return []
    base = ring.reshape(2, -1).min(axis=1)
    tails, heads, corners = _rim(ring - base[:, None, None])
    # What is thinner than may be left out can lose all its corners.
    rings = [r for r in _traced(tails, heads, corners, near) if len(r) > 2]
    area = _signed(rings)
    outer = [r for r, a in zip(rings, area, strict=True) if a > least]
    holes = [r for r, a in zip(rings, area, strict=True) if a < -least]
    out = [[r + base] for r in outer]
    for hole, owner in zip(holes, _owners(outer, holes), strict=True):
        if owner >= 0:
            out[owner].append(hole + base)
    return out


def _rim(ring: Floats) -> tuple[Ints, Ints, Floats]:
    """Edges that only one ring has, as places of their ends among the corners (c, 2), in the direction that has what is covered
    on its left."""
    k, t = ring.shape[1:]
    x, y = np.round(ring / SNAP).astype(np.int64)
    rows = int(y.max()) + 1
    code, place = np.unique((x * rows + y).ravel(), return_inverse=True)
    place = place.reshape(k, t)
    u, v = place, np.roll(place, -1, axis=0)
    dx, dy = x - x[0], y - y[0]  # about its own first corner: the products stay small
    area = (dx * np.roll(dy, -1, axis=0) - np.roll(dx, -1, axis=0) * dy).sum(axis=0)
    u, v = (np.where(area >= 0, p, q)[u != v] for p, q in ((u, v), (v, u)))
    n = len(code)
    edge, which = np.unique(np.minimum(u, v) * np.int64(n) + np.maximum(u, v), return_inverse=True)
    net = np.bincount(which, np.where(u < v, 1, -1)).astype(int)
    low, high = edge // n, edge % n
    count = np.abs(net)
    tails, heads = (np.repeat(np.where(net > 0, a, b), count) for a, b in ((low, high), (high, low)))
    return tails, heads, np.column_stack([code // rows, code % rows]) * SNAP


def _traced(tails: Ints, heads: Ints, corners: Floats, near: float) -> list[Floats]:
    """Closed rings of edges: as many edges end at every corner as begin there, so each goes on with one that begins there."""
    n = len(tails)
    if not n:
        return []
    following = np.empty(n, dtype=np.intp)
    following[np.argsort(heads, kind="stable")] = np.argsort(tails, kind="stable")
    after, seen = following.tolist(), np.zeros(n, dtype=bool).tolist()
    order, sizes = [], []
    for first in range(n):
        if seen[first]:
            continue
        size, at = 0, first
        while not seen[at]:
            seen[at] = True
            order.append(at)
            size += 1
            at = after[at]
        sizes.append(size)
    many = np.array(sizes)
    real = np.repeat(many >= 3, many)
    places = corners[tails[np.array(order)[real]]]
    many = many[many >= 3]
    if not len(many):
        return []
    simple = shapely.simplify(
        shapely.linearrings(places, indices=np.repeat(np.arange(len(many)), many)), near, preserve_topology=False
    )
    simple = simple[shapely.get_num_points(simple) >= 4]
    found, owner = shapely.get_coordinates(simple, return_index=True)
    return [r[:-1] for r in np.split(found, np.flatnonzero(np.diff(owner)) + 1)]


def _signed(rings: list[Floats]) -> Floats:
    """Areas (r,), positive counter-clockwise, each about its own first corner."""
    if not rings:
        return np.empty(0)
    size = np.array([len(r) for r in rings])
    first = np.cumsum(size) - size
    every = np.concatenate(rings)
    x, y = (every - np.repeat(every[first], size, axis=0)).T
    following = np.arange(1, len(every) + 1)
    following[first + size - 1] = first
    found: Floats = np.add.reduceat(x * y[following] - x[following] * y, first) / 2
    return found


def _owners(outer: list[Floats], holes: list[Floats]) -> list[int]:
    """The smallest outer ring around each hole, -1 where there is none."""
    if not holes:
        return []
    found = [-1] * len(holes)
    if not outer:
        return found
    polygons = shapely.polygons([shapely.linearrings(r) for r in outer])
    area = shapely.area(polygons)
    inside = shapely.point_on_surface(shapely.polygons([shapely.linearrings(r) for r in holes]))
    hole, owner = shapely.STRtree(polygons).query(inside, predicate="within")
    for k in np.argsort(-area[owner]):
        found[hole[k]] = int(owner[k])
    return found
