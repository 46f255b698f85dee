"""A survey put together: points, coded lines and the surface over them."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.spatial import cKDTree

from saddle import tolerances
from saddle.documents_base import Document, Name
from saddle.errors import ImportProblem
from saddle.exchange.survey_csv import SkippedRow, SurveyTable
from saddle.geometry.polylines import Floats, Ints
from saddle.guides.survey_lines import SurveyLines
from saddle.terrain.tin import Crossing, Tin, breakline_crossings, triangulate

#: Codes that by common practice do not belong to a surface: pits, pipes, culverts, boundaries.
NOT_GROUND = ("PIT", "PIPE", "CUL", "BDY", "MH")


class CodeRule(Document):
    """What a survey code means to the surface."""

    code: Name | str
    in_surface: bool = True
    breakline: bool = True


def guess_rule(code: str) -> CodeRule:
    """A first guess from the code's name; the person may change it."""
    ground = not code.upper().startswith(NOT_GROUND)
    return CodeRule(code=code, in_surface=ground, breakline=ground)


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
class Assembly:
    """A survey, its surface, and what was left out on the way. `dropped` are breakline segments not used."""

    survey: Survey
    surface: Tin
    skipped: list[SkippedRow]
    dropped: list[str]


def assemble(
    table: SurveyTable,
    rules: dict[str, CodeRule],
    longest_edge: float | None = 60.0,
    progress: Callable[[float], None] = lambda _: None,
) -> Assembly:
    """Points, lines and surface out of a table.

    A point in the place of an earlier one with the same level is taken for it; with another level it is
    skipped. Of two breaklines that cross, the later segment is left out of the surface and reported.
    Raises ImportProblem when no surface can be made.
    """
    n = len(table.number)
    rule = [rules.get(c) or guess_rule(c) for c in table.code]
    in_surface = np.array([r.in_surface for r in rule])
    is_break = np.array([r.breakline and r.in_surface for r in rule])
    same, skipped = _coincident(table, in_surface)
    gone = np.zeros(n, dtype=bool)
    rows = {s.row for s in skipped}
    if rows:
        gone = np.isin(table.row, list(rows))
    progress(0.2)
    kept = np.flatnonzero(~gone)
    new_index = np.full(n, -1)
    new_index[kept] = np.arange(len(kept))
    segments = new_index[_segments(table, gone)]
    survey = Survey(
        np.array(table.number, dtype=str)[kept],
        table.xyz[kept],
        np.array(table.code, dtype=str)[kept],
        np.array(table.line, dtype=str)[kept],
        segments,
    )
    used = np.flatnonzero(in_surface & ~gone & (same == np.arange(n)))
    if len(used) < 3:
        raise ImportProblem(
            f"only {len(used)} points are left for the surface", hint="at least three points on ground codes are needed"
        )
    vertex = np.full(n, -1)
    vertex[used] = np.arange(len(used))
    vertex = vertex[same]
    corners = vertex[kept[segments]] if len(segments) else np.empty((0, 2), dtype=int)
    breaks = corners[is_break[kept[segments]].all(axis=1)] if len(segments) else corners
    breaks = breaks[(breaks[:, 0] != breaks[:, 1]) & (breaks >= 0).all(axis=1)]
    breaks = np.unique(np.sort(breaks, axis=1), axis=0) if len(breaks) else breaks
    points = table.xyz[used]
    progress(0.4)
    crossing = breakline_crossings(points, breaks)
    dropped = [_describe(c, points, breaks, table, used) for c in crossing]
    if crossing:
        breaks = np.delete(breaks, sorted({c.second for c in crossing}), axis=0)
    progress(0.6)
    surface = triangulate(points, breaks, longest_edge)
    progress(1.0)
    return Assembly(survey, surface, skipped, dropped)


def _coincident(table: SurveyTable, in_surface: np.ndarray) -> tuple[Ints, list[SkippedRow]]:
    """For each point the first point in its place, and the rows that are there with another level."""
    n = len(table.number)
    same = np.arange(n)
    ground = np.flatnonzero(in_surface)
    if len(ground) == 0:
        return same, []
    plan = table.xyz[ground, :2] - table.xyz[ground, :2].mean(axis=0)
    pairs = cKDTree(plan).query_pairs(tolerances.DUPLICATE_PLAN, output_type="ndarray")
    skipped = []
    for a, b in sorted(map(tuple, np.sort(ground[pairs], axis=1).tolist())):
        first = int(same[a])
        difference = float(table.xyz[b, 2] - table.xyz[first, 2])
        if abs(difference) > tolerances.DUPLICATE_LEVEL:
            reason = (
                f"point {table.number[b]} stands where point {table.number[first]} of row {table.row[first]} is, "
                f"but {difference:+.3f} m from its level"
            )
            skipped.append(SkippedRow(int(table.row[b]), reason))
        else:
            same[b] = first
    return same, skipped


def _segments(table: SurveyTable, gone: np.ndarray) -> Ints:
    """Consecutive points of each line as (s, 2) indices, in the order given."""
    lines = np.array([f"{c}\0{name}" if name else "" for c, name in zip(table.code, table.line, strict=True)])
    members = np.flatnonzero((lines != "") & ~gone)
    if len(members) < 2:
        return np.empty((0, 2), dtype=np.intp)
    _, group = np.unique(lines[members], return_inverse=True)
    order = np.lexsort((members, table.order[members], group))
    ordered, of = members[order], group[order]
    joined = of[1:] == of[:-1]
    return np.column_stack([ordered[:-1][joined], ordered[1:][joined]])


def _describe(c: Crossing, points: Floats, breaks: Ints, table: SurveyTable, used: Ints) -> str:
    def name(segment: int) -> str:
        a, b = (used[i] for i in breaks[segment])
        return f"{table.code[a]} from point {table.number[a]} to {table.number[b]}"

    return (
        f"breakline {name(c.second)} crosses {name(c.first)} at {c.east:.3f} E {c.north:.3f} N "
        f"(levels {c.level_second:.3f} and {c.level_first:.3f}); this piece is not used as a breakline"
    )
