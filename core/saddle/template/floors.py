"""Floors of the boxing as straight pieces from the inside outward, on all sections at once."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Floats
from saddle.template.columns import Plane, through
from saddle.template.compiled import CompiledHalf
from saddle.template.spec import Floor, LevelLie, Mark, OwnFall, RiseToSurface, RunToSlope, Zone
from saddle.template.values import Dimensions, metres_of, value_of


@dataclass(frozen=True, slots=True, eq=False)
class FloorPiece:
    """A straight piece between two offsets, (n,). climbs: it comes up to the courses above on purpose."""

    start: Floats
    end: Floats
    plane: Plane
    climbs: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class FloorLine:
    """The pieces of a floor from the inside outward. vertices: (name, offsets, levels)."""

    pieces: list[FloorPiece]
    vertices: list[tuple[str, Floats, Floats]]

    @property
    def breaks(self) -> list[Floats]:
        """Offsets where pieces begin and end."""
        return [u for piece in self.pieces for u in (piece.start, piece.end)]


def floor_lines(
    half: CompiledHalf,
    u: Floats,
    z: Floats,
    dimensions: Dimensions,
    bottoms: Mapping[str, list[Plane]],
    daylight: Callable[[Plane], Floats],
) -> list[FloorLine]:
    """Every floor of a half. u, z: (n, k) points; bottoms: of every strip's courses; daylight: where a plane comes out on
    the side slope, (n,)."""
    lines = _Lines(half, u, z, dimensions, bottoms)
    return [_floor(floor, lines, daylight) for floor in half.floors]


class _Lines:
    """Places and planes that zones are measured from."""

    def __init__(
        self, half: CompiledHalf, u: Floats, z: Floats, dimensions: Dimensions, bottoms: Mapping[str, list[Plane]]
    ) -> None:
        self.half, self.u, self.z, self.dimensions, self.bottoms = half, u, z, dimensions, bottoms

    def column(self, mark: Mark | None) -> int:
        return 0 if mark is None else self.half.column(mark.point)

    def place(self, mark: Mark | None) -> Floats:
        return self.u[:, self.column(mark)] + (mark.plus if mark is not None else 0.0)

    def plane(self, zone: Zone, start: Mark | None) -> Plane:
        """The line of a zone, unlimited."""
        n = len(self.u)
        i = self.column(start)
        j = self.half.outer if zone.to is None else self.column(zone.to)
        if zone.under is not None:
            reference = self.bottoms[zone.under.strip][zone.under.course - 1]
        else:
            reference = through(self.u[:, i], self.z[:, i], self.u[:, j], self.z[:, j])
        lowered = reference.lowered(metres_of(zone.depth_mm, self.dimensions, n))
        at = self.u[:, i]
        if isinstance(zone.lie, LevelLie):
            return Plane(at, lowered.at(at), np.zeros(n))
        if isinstance(zone.lie, OwnFall):
            return Plane(at, lowered.at(at), value_of(zone.lie.crossfall_pct, self.dimensions, n) / 100)
        return lowered


def _floor(floor: Floor, lines: _Lines, daylight: Callable[[Plane], Floats]) -> FloorLine:
    marks: list[Mark | None] = [floor.start, *(zone.to for zone in floor.zones)]
    planes = [lines.plane(zone, start) for zone, start in zip(floor.zones, marks, strict=False)]
    last = planes[-1]
    ends = [lines.place(mark) for mark in marks[:-1]]
    ends.append(daylight(last) if isinstance(floor.end, RunToSlope) else lines.place(marks[-1]))
    joints = [ends[0]]
    for i, zone in enumerate(floor.zones[:-1]):
        at = ends[i + 1]
        if zone.joins == "cross":
            met = planes[i].meets(planes[i + 1])
            between = np.isfinite(met) & (met >= joints[i]) & (met <= ends[i + 2])
            at = np.where(between, met, at)
        joints.append(at)
    joints.append(ends[-1])
    pieces = [FloorPiece(joints[i], joints[i + 1], plane) for i, plane in enumerate(planes)]
    vertices = [
        (zone.vertex, joints[i + 1], planes[i].at(joints[i + 1])) for i, zone in enumerate(floor.zones) if zone.vertex is not None
    ]
    if isinstance(floor.end, RiseToSurface):
        foot = last.at(joints[-1])
        climb = Plane(joints[-1], foot, np.full(len(foot), 1 / floor.end.one_in))
        pieces.append(FloorPiece(joints[-1], lines.u[:, lines.half.outer], climb, climbs=True))
    return FloorLine(pieces, vertices)
