"""A survey put together: points, coded lines and the surface over them."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from saddle import tolerances
from saddle.errors import ImportProblem
from saddle.geometry.polylines import Bools, Floats, Ints
from saddle.terrain.spec import CodeList, FromSurvey
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.table import SurveyTable
from saddle.terrain.tin import Crossing, Tin, breakline_crossings, triangulate, within_boundary

#: Crossings of breaklines told one by one; all are left out.
TOLD = 200


@dataclass(frozen=True, slots=True, eq=False)
class Survey:
    """Points and lines as kept. xyz: (n, 3); code, line: (n,) text; segments: (s, 2) point indices in order along
    their lines; number: (n,) text."""

    number: np.ndarray
    xyz: Floats
    code: np.ndarray
    line: np.ndarray
    segments: Ints

    def lines_by_code(self) -> dict[str, SurveyLines]:
        """Segments of the lines of every code."""
        codes = self.code[self.segments[:, 0]] if len(self.segments) else np.empty(0, dtype=str)
        return {
            str(c): SurveyLines(self.xyz[self.segments[codes == c, 0]], self.xyz[self.segments[codes == c, 1]])
            for c in np.unique(codes)
        }


@dataclass(frozen=True, slots=True, eq=False)
class Polyline:
    """A survey line. points: (k, 3) m, in order."""

    code: str
    name: str
    points: Floats


def chains(survey: Survey) -> list[list[int]]:
    """Points of every line, in order, in the order of the file; a closed line has its first point at its end again."""
    if len(survey.segments) == 0:
        return []
    a, b = survey.segments.T
    first = np.flatnonzero(np.r_[True, a[1:] != b[:-1]])
    return [[*a[low:high].tolist(), int(b[high - 1])] for low, high in zip(first, np.r_[first[1:], len(a)], strict=True)]


def polylines(survey: Survey) -> list[Polyline]:
    """Every line of a survey, in the order of its file."""
    return [Polyline(str(survey.code[c[0]]), str(survey.line[c[0]]), survey.xyz[c]) for c in chains(survey)]


def kept_part(survey: Survey, keep: Bools) -> Survey:
    """Some points of a survey (n,). A line that goes through others is cut: its piece behind gets a name of its own."""
    kept = np.flatnonzero(keep)
    place = np.full(len(keep), -1)
    place[kept] = np.arange(len(kept))
    segments = place[survey.segments] if len(survey.segments) else survey.segments
    segments = segments[(segments >= 0).all(axis=1)]
    line = np.where(np.isin(np.arange(len(kept)), segments), survey.line[kept].astype(str), "")
    return Survey(survey.number[kept], survey.xyz[kept], survey.code[kept], _named(survey.code[kept], line, segments), segments)


def _named(code: np.ndarray, line: np.ndarray, segments: Ints) -> np.ndarray:
    """Names of lines (n,), no two pieces of a code under one name."""
    if len(segments) == 0:
        return line
    a, b = segments.T
    names = line.astype(f"U{line.dtype.itemsize // 4 + 6}")
    begins = np.flatnonzero(np.r_[True, a[1:] != b[:-1]])
    taken = {(str(code[i]), str(line[i])) for i in a[begins]}
    seen: set[tuple[str, str]] = set()
    for low, high in zip(begins, np.r_[begins[1:], len(a)], strict=True):
        key = (str(code[a[low]]), str(line[a[low]]))
        if key in seen:
            k = next(k for k in range(2, len(a) + 3) if (key[0], f"{key[1]}-{k}") not in taken)
            key = (key[0], f"{key[1]}-{k}")
            names[np.append(a[low:high], b[high - 1])] = key[1]
        taken.add(key)
        seen.add(key)
    return names


def line_orders(survey: Survey) -> np.ndarray:
    """Place of every point along its line, counted from 1, as text; empty for points on no line. (n,)"""
    order = np.full(len(survey.number), "", dtype="U12")
    order[survey.line != ""] = "1"
    if len(survey.segments):
        a, b = survey.segments.T
        first = np.r_[True, a[1:] != b[:-1]]
        start = np.maximum.accumulate(np.where(first, np.arange(len(a)), 0))
        order[b] = (np.arange(len(a)) - start + 2).astype(str)
    return order


@dataclass(frozen=True, slots=True, eq=False)
class Conflict:
    """A point left out of a surface because another stands in its place with another level. point: its index."""

    point: int
    reason: str


@dataclass(frozen=True, slots=True)
class Crossed:
    """A piece of a breakline that is not used because it crosses another one. point: of the survey, where the piece begins; east, north:
    of the crossing, m."""

    point: int
    east: float
    north: float
    words: str


@dataclass(frozen=True, slots=True, eq=False)
class BuiltSurface:
    """A surface, the points left out of it, and what is wrong with breaklines that are not used in part.
    breaks: (s, 2) breakline segments as indices of the surface's points; crossings: the first of them, more: others left out alike."""

    surface: Tin
    breaks: Ints
    conflicts: list[Conflict]
    crossings: list[Crossed]
    more: int = 0

    @property
    def told(self) -> list[str]:
        """What is said of the crossings."""
        rest = [f"and {self.more:,} more crossings, left out in the same way"] if self.more else []
        return [c.words for c in self.crossings] + rest


def collect(table: SurveyTable) -> Survey:
    """Points and lines as read: every row becomes a point."""
    return Survey(
        np.array(table.number, dtype=str),
        np.asarray(table.xyz, dtype=float),
        np.array(table.code, dtype=str),
        np.array(table.line, dtype=str),
        _segments(table),
    )


def build_surface(
    survey: Survey, codes: CodeList, spec: FromSurvey, progress: Callable[[float], None] = lambda _: None
) -> BuiltSurface:
    """The triangulation of a survey.

    A point in the place of an earlier one counts as that one; with another level it is also told. Of two breaklines
    that cross, the later segment is left out and told, or both are joined where its code says so. Raises ImportProblem or GeometryError when no surface can be
    made.
    """
    n = len(survey.number)
    found, of = np.unique(survey.code, return_inverse=True)
    rules = [codes.rule(str(c)) for c in found]
    chosen = np.array([r.in_surface and (not spec.codes or r.code in spec.codes) for r in rules], dtype=bool)
    breaks_at = np.array([r.breakline for r in rules], dtype=bool) & chosen
    in_surface = chosen[of] & ~np.isin(survey.number, spec.left_out) if n else np.zeros(0, dtype=bool)
    same, conflicts = _coincident(survey, in_surface)
    progress(0.2)
    used = np.flatnonzero(in_surface & (same == np.arange(n)))
    if len(used) < 3:
        raise ImportProblem(
            f"only {len(used)} points are left for the surface", hint="at least three points on ground codes are needed"
        )
    vertex = np.full(n, -1)
    vertex[used] = np.arange(len(used))
    vertex = vertex[same]
    corners = vertex[survey.segments]
    breaks = corners[breaks_at[of[survey.segments]].all(axis=1)] if len(corners) else corners
    breaks = breaks[(breaks[:, 0] != breaks[:, 1]) & (breaks >= 0).all(axis=1)]
    breaks = np.unique(np.sort(breaks, axis=1), axis=0) if len(breaks) else breaks
    points = survey.xyz[used]
    progress(0.4)
    crossing = breakline_crossings(points, breaks)
    meets = np.array([r.crossing == "mean" for r in rules], dtype=bool)[of]
    meeting = [bool(meets[used[breaks[c.second, 0]]]) for c in crossing]
    told = [
        Crossed(int(used[breaks[c.second, 0]]), c.east, c.north, _describe(c, breaks, survey, used, joined))
        for c, joined in zip(crossing[:TOLD], meeting, strict=False)
    ]
    left = crossing
    if any(meeting):
        points, breaks = _joined(points, breaks, [c for c, joined in zip(crossing, meeting, strict=True) if joined])
        left = breakline_crossings(points, breaks)
    if left:
        breaks = np.delete(breaks, sorted({c.second for c in left}), axis=0)
    progress(0.6)
    surface = triangulate(points, breaks, spec.longest_edge)
    if spec.boundary is not None:
        surface = within_boundary(surface, ring_of(survey, spec.boundary))
    progress(1.0)
    return BuiltSurface(surface, breaks, conflicts, told, len(crossing) - len(told))


def _joined(points: Floats, breaks: Ints, meeting: list[Crossing]) -> tuple[Floats, Ints]:
    """Points and breaklines with a point of the mean level at each crossing, through which both lines go."""
    tree = cKDTree(points[:, :2])
    extra: list[tuple[float, float, float]] = []
    there: dict[tuple[int, int], int] = {}
    cuts: dict[int, list[int]] = {}
    for c in meeting:
        apart, near = tree.query([c.east, c.north])
        key = (round(c.east / tolerances.DUPLICATE_PLAN), round(c.north / tolerances.DUPLICATE_PLAN))
        vertex = int(near) if apart <= tolerances.DUPLICATE_PLAN else there.setdefault(key, len(points) + len(extra))
        if vertex == len(points) + len(extra):
            extra.append((c.east, c.north, (c.level_first + c.level_second) / 2))
        for segment in (c.first, c.second):
            cuts.setdefault(segment, []).append(vertex)
    points = np.vstack([points, np.array(extra).reshape(-1, 3)])
    pieces = [np.delete(breaks, list(cuts), axis=0)]
    for segment, through in cuts.items():
        a, b = breaks[segment].tolist()
        beyond = np.hypot(*(points[through, :2] - points[a, :2]).T)
        chain = [a, *(v for _, v in sorted(zip(beyond.tolist(), through, strict=True)) if v not in (a, b)), b]
        pieces.append(np.column_stack([chain[:-1], chain[1:]]))
    return points, np.unique(np.sort(np.vstack(pieces), axis=1), axis=0)


def ring_of(survey: Survey, code: str) -> Floats:
    """The lines of a code put together to one closed ring (k, 2): nearest ends are joined."""
    left = [p.points[:, :2] for p in polylines(survey) if p.code == code]
    if not left:
        raise ImportProblem(f"there is no line of code {code} to close the surface", "boundary", "choose another code, or none")
    ring = left.pop(0)
    while left:
        ends = [(np.hypot(*(line[k] - ring[-1])), i, k) for i, line in enumerate(left) for k in (0, -1)]
        _, i, k = min(ends)
        line = left.pop(i)
        ring = np.vstack([ring, line if k == 0 else line[::-1]])
    return ring


def _coincident(survey: Survey, in_surface: np.ndarray) -> tuple[Ints, list[Conflict]]:
    """For each point the first point in its place, and the points that are there with another level."""
    n = len(survey.number)
    same = np.arange(n)
    ground = np.flatnonzero(in_surface)
    if len(ground) == 0:
        return same, []
    plan = survey.xyz[ground, :2] - survey.xyz[ground, :2].mean(axis=0)
    pairs = cKDTree(plan).query_pairs(tolerances.DUPLICATE_PLAN, output_type="ndarray")
    conflicts = []
    for a, b in sorted(map(tuple, np.sort(ground[pairs], axis=1).tolist())):
        first = int(same[a])
        difference = float(survey.xyz[b, 2] - survey.xyz[first, 2])
        if abs(difference) > tolerances.DUPLICATE_LEVEL and same[b] == b:
            reason = (
                f"point {survey.number[b]} stands where point {survey.number[first]} is, but {difference:+.3f} m from its level"
            )
            conflicts.append(Conflict(int(b), reason))
        same[b] = first
    return same, conflicts


def _segments(table: SurveyTable) -> Ints:
    """Consecutive points of each line as (s, 2) indices, in the order given."""
    lines = np.array([f"{c}\0{name}" if name else "" for c, name in zip(table.code, table.line, strict=True)])
    members = np.flatnonzero(lines != "")
    if len(members) < 2:
        return np.empty((0, 2), dtype=np.intp)
    _, group = np.unique(lines[members], return_inverse=True)
    order = np.lexsort((members, table.order[members], group))
    ordered, of = members[order], group[order]
    joined = of[1:] == of[:-1]
    return np.column_stack([ordered[:-1][joined], ordered[1:][joined]])


def _describe(c: Crossing, breaks: Ints, survey: Survey, used: Ints, joined: bool) -> str:
    def name(segment: int) -> str:
        a, b = (used[i] for i in breaks[segment])
        return f"{survey.code[a]} from point {survey.number[a]} to {survey.number[b]}"

    return (
        f"breakline {name(c.second)} crosses {name(c.first)} at {c.east:.3f} E {c.north:.3f} N "
        f"(levels {c.level_second:.3f} and {c.level_first:.3f}); "
        + (
            f"both go through {(c.level_first + c.level_second) / 2:.3f} there"
            if joined
            else "this piece is not used as a breakline"
        )
    )
