"""Layers of one section as closed polygons whose neighbours share their vertices."""

from collections import defaultdict
from itertools import pairwise
from math import hypot

from saddle import tolerances
from saddle.geometry.polylines import Floats
from saddle.template.layers import Layer

Vertex = tuple[float, float]
Ring = list[Vertex]


def rings(layers: tuple[Layer, ...], k: int, side: int) -> list[list[Ring]]:
    """Per layer its polygons on section k, at signed offsets, clockwise seen on paper or not as the side goes.

    A layer that thins out to nothing in between has several. Where a neighbour has a corner on a polygon's edge, the
    polygon has a vertex there too.
    """
    raw = [_pieces(layer.offsets[k], layer.top[k], layer.bottom[k]) for layer in layers]
    levels: dict[float, set[float]] = defaultdict(set)
    for pieces in raw:
        for ring in pieces:
            for o, z in ring:
                levels[o].add(z)
    one = {o: _clustered(zs) for o, zs in levels.items()}
    clean = [[_without_repeats([(o, one[o][z]) for o, z in ring]) for ring in pieces] for pieces in raw]
    corners = {v for pieces in clean for ring in pieces for v in _corners(ring)}
    at_offset: dict[float, list[float]] = defaultdict(list)
    for o, z in sorted(corners):
        at_offset[o].append(z)
    return [[_mirrored(_shared(ring, corners, at_offset), side) for ring in pieces if len(ring) > 2] for pieces in clean]


def area_of(ring: Ring) -> float:
    """Area of a polygon, m2, never negative."""
    (o0, z0), twice = ring[0], 0.0
    for (o1, z1), (o2, z2) in pairwise(ring):
        twice += (o1 - o0) * (z2 - z0) - (o2 - o0) * (z1 - z0)
    return abs(twice) / 2


def _pieces(offsets: Floats, top: Floats, bottom: Floats) -> list[Ring]:
    """Outlines of the stretches over which a layer has some thickness."""
    tiny = tolerances.COINCIDENT
    o, upper, lower = offsets.tolist(), top.tolist(), bottom.tolist()
    found: list[list[int]] = []
    for a in range(0, len(o) - 1, 2):
        b = a + 1
        if not o[b] - o[a] > tiny or not (upper[a] - lower[a]) + (upper[b] - lower[b]) > tiny:
            continue
        last = found[-1][-1] if found else -1
        joined = last >= 0 and o[last] == o[a] and min(upper[last], upper[a]) - max(lower[last], lower[a]) > tiny
        if not joined:
            found.append([])
        found[-1] += [a, b]
    return [[(o[i], upper[i]) for i in run] + [(o[i], lower[i]) for i in run[::-1]] for run in found]


def _clustered(levels: set[float]) -> dict[float, float]:
    """Levels at one offset, those that differ by rounding only made one."""
    out: dict[float, float] = {}
    last = None
    for z in sorted(levels):
        last = z if last is None or z - last > tolerances.COINCIDENT else last
        out[z] = last
    return out


def _without_repeats(ring: Ring) -> Ring:
    out: Ring = []
    for v in ring:
        if not out or v != out[-1]:
            out.append(v)
    while len(out) > 1 and out[0] == out[-1]:
        out.pop()
    return out


def _corners(ring: Ring) -> list[Vertex]:
    """Vertices at which the outline bends."""
    out = []
    for (o0, z0), (o1, z1), (o2, z2) in zip(ring[-1:] + ring[:-1], ring, ring[1:] + ring[:1], strict=True):
        bend = (o1 - o0) * (z2 - z1) - (o2 - o1) * (z1 - z0)
        if abs(bend) > tolerances.COINCIDENT * max(hypot(o1 - o0, z1 - z0), hypot(o2 - o1, z2 - z1)):
            out.append((o1, z1))
    return out


def _shared(ring: Ring, corners: set[Vertex], at_offset: dict[float, list[float]]) -> Ring:
    """The ring with only those vertices that are corners of some polygon, and all of them on its upright edges."""
    out: Ring = []
    for (o, z), (o2, z2) in zip(ring, ring[1:] + ring[:1], strict=True):
        if (o, z) in corners:
            out.append((o, z))
        if o == o2:
            between = [(o, level) for level in at_offset[o] if min(z, z2) < level < max(z, z2)]
            out += between if z2 > z else between[::-1]
    return out


def _mirrored(ring: Ring, side: int) -> Ring:
    return [(side * o, z) for o, z in ring]
