"""Surfaces: triangulated irregular networks over points, with breaklines that no triangle edge crosses."""

import hashlib
from dataclasses import dataclass, field
from typing import Any

import numpy as np
import pythoncdt
import shapely
from numpy.typing import NDArray

from saddle import tolerances
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats

Ints32 = NDArray[np.int32]


@dataclass(frozen=True, slots=True, eq=False)
class Tin:
    """A surface. points: (n, 3) float, m (east, north, level); triangles: (t, 3) int, counter-clockwise."""

    points: Floats
    triangles: Ints32
    _memo: dict[str, object] = field(default_factory=dict, repr=False)

    def __post_init__(self) -> None:
        if self.points.ndim != 2 or self.points.shape[1] != 3 or not np.isfinite(self.points).all():
            raise GeometryError("a surface needs points with three finite coordinates")
        if self.triangles.ndim != 2 or self.triangles.shape[1] != 3 or len(self.triangles) == 0:
            raise GeometryError("a surface needs at least one triangle")
        if self.triangles.min() < 0 or self.triangles.max() >= len(self.points):
            raise GeometryError("a triangle names a point that does not exist")
        self.points.flags.writeable = False
        self.triangles.flags.writeable = False

    @classmethod
    def of(cls, points: Floats, triangles: NDArray[np.integer[Any]]) -> "Tin":
        """A surface of some triangles (t, 3), with only the points that these use. Raises GeometryError where there are none."""
        used = np.unique(triangles)
        place = np.full(len(points), -1)
        place[used] = np.arange(len(used))
        return cls(points[used], place[triangles].astype(np.int32))

    @property
    def digest(self) -> str:
        """A hash of the content, for caches."""
        if "digest" not in self._memo:
            sha = hashlib.sha256(self.points.tobytes())
            sha.update(self.triangles.tobytes())
            self._memo["digest"] = sha.hexdigest()
        return str(self._memo["digest"])

    @property
    def index(self) -> shapely.STRtree:
        """A tree over the plan boxes of the triangles, built at first use."""
        if "index" not in self._memo:
            x, y = self.points[:, 0][self.triangles], self.points[:, 1][self.triangles]
            boxes = shapely.box(x.min(axis=1), y.min(axis=1), x.max(axis=1), y.max(axis=1))
            tree = shapely.STRtree(boxes)
            tree.query(shapely.box(0, 0, 0, 0))  # the tree sorts itself at its first query
            self._memo["index"] = tree
        tree = self._memo["index"]
        assert isinstance(tree, shapely.STRtree)
        return tree

    @property
    def outline(self) -> shapely.Geometry:
        """What the surface covers in plan, found at first use: its triangles share whole edges."""
        if "outline" not in self._memo:
            self._memo["outline"] = shapely.coverage_union_all(shapely.polygons(self.points[self.triangles, :2]))
        return self._memo["outline"]

    def edges(self) -> Ints32:
        """All edges once, as (e, 2) point indices, the smaller first; kept after the first time."""
        if "edges" not in self._memo:
            a, b = self.triangles.ravel(), np.roll(self.triangles, -1, axis=1).ravel()
            # One number per edge sorts far faster than rows do, and than a search for those that are there already.
            keys = np.minimum(a, b).astype(np.int64) * len(self.points) + np.maximum(a, b)
            keys.sort()
            keys = keys[np.r_[True, keys[1:] != keys[:-1]]]
            self._memo["edges"] = np.column_stack(np.divmod(keys, len(self.points))).astype(np.int32)
        edges = self._memo["edges"]
        assert isinstance(edges, np.ndarray)
        return edges


@dataclass(frozen=True, slots=True, eq=False)
class Crossing:
    """Two breakline segments that cross in plan. Indices are rows of the segment array."""

    first: int
    second: int
    east: float
    north: float
    level_first: float
    level_second: float


def triangulate(points: Floats, breaklines: NDArray[np.integer], longest_edge: float | None = None) -> Tin:
    """Constrained Delaunay triangulation.

    points: (n, 3), m, no two in one place in plan; breaklines: (s, 2) point indices, none crossing another
    (see breakline_crossings); longest_edge: triangles with a longer edge in plan are left out, m.
    Raises GeometryError for fewer than three points, points on one line, or breaklines that cross.
    """
    points = np.ascontiguousarray(points, dtype=float)
    if len(points) < 3:
        raise GeometryError("a surface needs at least three points", hint="add points with levels")
    origin = points[:, :2].mean(axis=0)
    plan = points[:, :2] - origin
    spread = np.linalg.svd(plan, compute_uv=False) if len(points) < 2000 else np.array([1.0, 1.0])
    if spread[-1] <= 1e-9 * max(float(spread[0]), 1.0):
        raise GeometryError("all points lie on one line", hint="a surface needs points on both sides of it")
    cdt = pythoncdt.Triangulation(pythoncdt.VertexInsertionOrder.AUTO, pythoncdt.IntersectingConstraintEdges.NOT_ALLOWED, 0.0)
    vertices: Any = np.ascontiguousarray(plan)  # arrays are buffers, which their stubs do not say on this Python
    edges: Any = np.ascontiguousarray(breaklines, dtype=np.uint32)
    try:
        cdt.insert_vertices(vertices)
        if len(breaklines):
            cdt.insert_edges(edges)
        cdt.erase_super_triangle()
    except (RuntimeError, ValueError) as error:  # duplicates and crossings
        raise GeometryError(
            "no surface can be made: breaklines cross or touch, or points stand in one place, so closely that no triangles fit between",
            hint="say of one of their codes that it is no breakline, or leave its points out",
        ) from error
    found = cdt.triangles_array()["vertices"].astype(np.int32)
    del cdt
    x, y = (plan[:, k][found] for k in (0, 1))
    ax, ay, bx, by = x[:, 1] - x[:, 0], y[:, 1] - y[:, 0], x[:, 2] - x[:, 0], y[:, 2] - y[:, 0]
    keep = np.abs(ax * by - ay * bx) > tolerances.FLAT_TRIANGLE
    if longest_edge is not None:
        for dx, dy in ((ax, ay), (bx, by), (bx - ax, by - ay)):
            keep &= np.hypot(dx, dy) <= longest_edge
    if not keep.any():
        raise GeometryError("no triangle is left", hint="the points lie on one line, or the longest edge allowed is too short")
    return Tin(points, found[keep])


def within_boundary(tin: Tin, ring: Floats) -> Tin:
    """Only the triangles whose middle lies within a closed ring (k, 2) in plan.

    Raises GeometryError where none does, or where the ring has fewer than three points.
    """
    if len(ring) < 3:
        raise GeometryError("a boundary needs at least three points", "boundary")
    area = shapely.make_valid(shapely.Polygon(ring))
    middle = tin.points[tin.triangles, :2].mean(axis=1)
    keep = shapely.contains_xy(area, middle[:, 0], middle[:, 1])
    if not keep.any():
        raise GeometryError("no triangle lies within the boundary", "boundary", "check which line closes the surface")
    return Tin(tin.points.copy(), tin.triangles[keep])


def plane_over(extent: Floats, level: float) -> Tin:
    """A flat surface at a level over an extent: least east, north, greatest east, north, m."""
    west, south, east, north = extent
    corners = np.array([[west, south, level], [east, south, level], [east, north, level], [west, north, level]])
    return Tin(corners, np.array([[0, 1, 2], [0, 2, 3]], dtype=np.int32))


def breakline_crossings(points: Floats, segments: NDArray[np.integer]) -> list[Crossing]:
    """Pairs of breakline segments that cross in plan other than at a shared end.

    points: (n, 3); segments: (s, 2) point indices. Collinear overlaps count as crossings.
    """
    if len(segments) < 2:
        return []
    origin = points[:, :2].mean(axis=0)
    ends = (points[:, :2] - origin)[segments]
    lines = shapely.linestrings(ends)
    tree = shapely.STRtree(lines)
    i, j = tree.query(lines, predicate="intersects")
    later = i < j
    i, j = i[later], j[later]
    share = (segments[i][:, :, None] == segments[j][:, None, :]).any(axis=(1, 2))
    found = []
    meetings = shapely.intersection(lines[i], lines[j])
    for a, b, shared, meeting in zip(i.tolist(), j.tolist(), share.tolist(), meetings, strict=True):
        if shared and meeting.geom_type == "Point":
            continue
        place = np.array(shapely.get_coordinates(meeting)[0])
        levels = [_level_on(points, segments[s], ends[s], place) for s in (a, b)]
        east, north = place + origin
        found.append(Crossing(a, b, float(east), float(north), levels[0], levels[1]))
    return found


def _level_on(points: Floats, segment: NDArray[np.integer], ends: Floats, place: Floats) -> float:
    along = ends[1] - ends[0]
    length = float(along @ along)
    t = float((place - ends[0]) @ along) / length if length else 0.0
    z0, z1 = points[segment[0], 2], points[segment[1], 2]
    return float(z0 + t * (z1 - z0))
