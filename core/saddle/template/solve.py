"""Template points on all sections at once."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np

from saddle.geometry.polylines import Floats, Polylines, interpolate
from saddle.guides.evaluate import GuideLine
from saddle.guides.spec import PointSource
from saddle.template.columns import through
from saddle.template.compiled import CompiledHalf, KerbPoint, edge_column
from saddle.template.ties import (
    Carried,
    Fall,
    Follow,
    GuideLevel,
    Inward,
    OnLine,
    OnSurface,
    PartWay,
    Point,
    SameAs,
    Square,
    Width,
)
from saddle.template.values import Dimensions, value_of

#: Outward offset and rise from the hinge that a point gets instead of its own ties, (n,), NaN where they hold.
Instead = Mapping[str, tuple[Floats, Floats]]


@dataclass(frozen=True, slots=True, eq=False)
class Reached:
    """Where the outermost point of the overlaid strips stands (n,): at_least, exactly: outward offsets, NaN where that asks for
    nothing and its own tie holds."""

    at_least: Floats
    exactly: Floats


@dataclass(frozen=True, slots=True)
class Around:
    """What a half finds around it on n sections, seen from its side (outward-positive).

    crossfall_pct: (n,) of this side, negative falls outward; hinge: (n,) its outward offset from the alignment;
    hinge_level: (n,), where it is not known yet the existing level at the hinge; dimensions: (n,) by name; lines: what
    guides and survey lines give, by source, (n,) outward offsets and levels; surfaces: by key, mirrored for the left
    side; instead: points that follow rules of the road; reach: see Reached.
    """

    crossfall_pct: Floats
    hinge: Floats
    hinge_level: Floats
    dimensions: Dimensions = field(default_factory=dict)
    lines: Mapping[PointSource, GuideLine] = field(default_factory=dict)
    surfaces: Mapping[str, Polylines] = field(default_factory=dict)
    instead: Instead = field(default_factory=dict)
    reach: Reached | None = None

    def line(self, source: PointSource) -> GuideLine:
        """What a source gives; NaN where there is nothing."""
        none = np.full(len(self.hinge), np.nan)
        return self.lines.get(source, GuideLine(none, none))

    def level_on(self, surface: str, at: Floats) -> Floats:
        """Level of a surface at outward offsets (n,); NaN where there is none."""
        lines = self.surfaces.get(surface)
        return np.full(len(at), np.nan) if lines is None else interpolate(lines, at[:, None])[:, 0]


def plain(crossfall_pct: Floats, hinge_level: Floats | None = None, **more: Any) -> Around:
    """Surroundings with a crossfall (n,) and the hinge at offset 0."""
    zero = np.zeros(len(crossfall_pct))
    return Around(crossfall_pct, zero, zero if hinge_level is None else hinge_level, **more)


def solve_points(half: CompiledHalf, around: Around) -> tuple[Floats, Floats]:
    """Points of a half: outward offsets and rises above the hinge, both (n, k), in the order of `half.names`.

    level = parent level + pct/100 * |offset - parent offset|. What is tied to a followed point moves with it. A level
    that should come from a surface is NaN where the surface has a gap.
    """
    n, k = len(around.hinge), len(half.names)
    solved = _Solved(half, around, np.zeros((n, k)), np.zeros((n, k)))
    solved.u[:, 0] = around.hinge
    for i, item in enumerate(half.points):
        if isinstance(item, KerbPoint):
            solved.u[:, i] = solved.u[:, item.anchor] + item.out
            solved.z[:, i] = solved.z[:, item.anchor] + item.up
        elif item is not None:
            solved.point(i, item)
    return solved.u, solved.z


class _Solved:
    """Offsets and rises as they are filled in, parents first."""

    def __init__(self, half: CompiledHalf, around: Around, u: Floats, z: Floats) -> None:
        self.around, self.u, self.z = around, u, z
        self.n = len(u)
        self.columns = {name: i for i, name in enumerate(half.names)}
        self.points = half.points
        self.reach = edge_column(half)
        self.fall: dict[int, Floats] = {}  # % with which a point was reached from the parent of its level

    def point(self, i: int, item: Point) -> None:
        a = self.around
        out, rise = a.instead.get(item.name, (np.full(self.n, np.nan), np.full(self.n, np.nan)))
        if isinstance(item.offset, Square):
            self.u[:, i], self.z[:, i] = self._square(item.offset)
        else:
            self.u[:, i] = self._offset(item.offset)
        if self.around.reach is not None and i == self.reach and not isinstance(item.offset, Square):
            exactly = self.around.reach.exactly
            self.u[:, i] = np.where(np.isnan(exactly), np.fmax(self.u[:, i], self.around.reach.at_least), exactly)
        self.u[:, i] = np.where(np.isnan(out), self.u[:, i], out)
        if item.level is not None:
            self.z[:, i] = self._level(i, item)
        self.z[:, i] = np.where(np.isnan(rise), self.z[:, i], rise)

    def _value(self, value: float | str) -> Floats:
        return value_of(value, self.around.dimensions, self.n)

    def _offset(self, tie: Width | SameAs | Follow | Inward | PartWay) -> Floats:
        parent = self.u[:, self.columns[tie.parent]]
        if isinstance(tie, SameAs):
            return parent
        if isinstance(tie, PartWay):
            return parent + self._value(tie.pct) / 100 * (self.u[:, self.columns[tie.through]] - parent)
        if isinstance(tie, Inward):
            return parent - self._value(tie.width)
        own = parent + self._value(tie.width)
        if isinstance(tie, Width):
            return own
        found = self.around.line(tie.source).offset
        return np.where(np.isnan(found), own, found)

    def _square(self, tie: Square) -> tuple[Floats, Floats]:
        p, q = self.columns[tie.parent], self.columns[tie.through]
        du, dz = self.u[:, q] - self.u[:, p], self.z[:, q] - self.z[:, p]
        length = np.hypot(du, dz)
        with np.errstate(invalid="ignore", divide="ignore"):
            du, dz = du / length, dz / length
        along, out = self._value(tie.along), self._value(tie.out)
        return self.u[:, p] + along * du - out * dz, self.z[:, p] + along * dz + out * du

    def _level(self, i: int, item: Point) -> Floats:
        tie, a, u = item.level, self.around, self.u[:, i]
        if isinstance(tie, OnSurface):
            return a.level_on(tie.surface, u) + self._value(tie.plus) - a.hinge_level
        assert tie is not None
        p = self.columns[tie.parent]
        width = np.abs(u - self.u[:, p])
        if isinstance(tie, OnLine):
            q = self.columns[tie.through]
            return through(self.u[:, p], self.z[:, p], self.u[:, q], self.z[:, q]).at(u) + self._value(tie.plus)
        if isinstance(tie, Fall):
            pct = self._fall(tie, p)
        elif isinstance(tie, Carried):
            first, second = self.u[:, self.columns[tie.first]], self.u[:, self.columns[tie.second]]
            drop = a.level_on(tie.surface, second) - a.level_on(tie.surface, first)
            with np.errstate(invalid="ignore", divide="ignore"):
                pct = 100 * drop / (second - first) * np.where(u >= self.u[:, p], 1.0, -1.0)
        elif isinstance(tie, GuideLevel):
            found = a.line(tie.source).level + tie.plus - a.hinge_level
            return np.where(np.isnan(found), self.z[:, p] + self._value(tie.rise), found)
        else:
            return self.z[:, p] + self._value(tie.rise)
        self.fall[i] = pct
        return self.z[:, p] + pct / 100 * width

    def _fall(self, tie: Fall, parent: int) -> Floats:
        if tie.crossfall_pct is not None:
            return self._value(tie.crossfall_pct)
        if tie.turns_with == "neighbour" and parent in self.fall:
            return self.fall[parent]
        return self.around.crossfall_pct
