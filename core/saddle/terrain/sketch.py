"""A survey as it is drawn small before it is taken in: some points, all lines in outline, and the places where something is wrong."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from scipy.spatial import cKDTree

from saddle.geometry.polylines import Floats, Ints
from saddle.terrain.spikes import spikes
from saddle.terrain.survey import BuiltSurface, Survey, polylines

#: Points, vertices of lines, and marks of a kind that are drawn at most.
POINTS, VERTICES, MARKS = 3000, 20_000, 200
#: A vertex so near to a point is that point, m.
SAME = 1e-6
MarkKind = Literal["crossing", "double", "spike"]


@dataclass(frozen=True, slots=True)
class SketchMark:
    """A place where something is wrong. row: of the file, 0 where it has none; words: what it is."""

    kind: MarkKind
    east: float
    north: float
    row: int
    words: str


@dataclass(frozen=True, slots=True, eq=False)
class Sketch:
    """points: (k, 2) of those that are on no line; lines: code and places (m, 2) of each; m."""

    points: Floats
    lines: list[tuple[str, Floats]]
    marks: list[SketchMark]


def sketch(survey: Survey, rows: Ints, surface: BuiltSurface | None) -> Sketch:
    """rows: (n,) of the file that the points stand in; surface: over them, if there is one."""
    alone = survey.xyz[survey.line == "", :2]
    lines = polylines(survey)
    step = max(1, -(-sum(len(p.points) for p in lines) // VERTICES))
    thin = [(p.code, np.vstack([p.points[:-1:step, :2], p.points[-1:, :2]])) for p in lines]
    return Sketch(some(alone), thin, [] if surface is None else _marks(survey, rows, surface))


def some(places: Floats) -> Floats:
    """As many of them as are drawn, (k, 2)."""
    return places[:: max(1, -(-len(places) // POINTS))]


def _marks(survey: Survey, rows: Ints, surface: BuiltSurface) -> list[SketchMark]:
    out = [SketchMark("crossing", c.east, c.north, int(rows[c.point]), c.words) for c in surface.crossings[:MARKS]]
    for c in surface.conflicts[:MARKS]:
        east, north, _ = survey.xyz[c.point].tolist()
        out.append(SketchMark("double", east, north, int(rows[c.point]), c.reason))
    found = spikes(surface.surface, surface.breaks)[:MARKS]
    if found:
        apart, of = cKDTree(survey.xyz).query(surface.surface.points[[s.vertex for s in found]])
        for s, far, k in zip(found, apart.tolist(), of.tolist(), strict=True):
            # Breaklines that go through the mean of their levels meet in a place that nobody measured.
            what, row = ("the meeting of two breaklines", 0) if far > SAME else (f"point {survey.number[k]}", int(rows[k]))
            words = f"{what} stands {abs(s.above):.2f} m {'above' if s.above > 0 else 'below'} its neighbours"
            out.append(SketchMark("spike", s.east, s.north, row, words))
    return out
