"""Section lines in plan: where each of a group runs, how far it reaches, and what it is called."""

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
import shapely

from saddle import tolerances
from saddle.alignment.alignment import Alignment
from saddle.errors import SaddleError
from saddle.geometry.polylines import Floats
from saddle.guides.evaluate import Sources, line_of
from saddle.lines.spec import (
    LONGEST_LINE,
    MOST_CUT,
    WIDEST,
    AlongPath,
    At,
    AtStructure,
    Between,
    FixedWidth,
    LineGroup,
    Regular,
    SectionLine,
    ToBoundary,
    Widths,
    WidthTable,
)
from saddle.road.stations import StationRules, place_stations
from saddle.terrain.spec import Pipe, Pit, Structures
from saddle.terrain.tin import Tin


@dataclass(frozen=True, slots=True, eq=False)
class CutLine:
    """A line to cut along. number: of the group's line that it comes from; chainage: where it meets the alignment, NaN where it does
    not; angle_deg: to the right of square there, NaN for a bent path or a run; path: (k, 2) corners in plan, from left to right;
    zero: m along the path that counts as distance 0: where it meets the alignment, else its beginning."""

    number: int
    kind: str
    name: str
    remark: str
    chainage: float
    angle_deg: float
    path: Floats
    zero: float

    @property
    def along(self) -> Floats:
        """Distance of every corner from the place that counts as 0, (k,), m."""
        steps = np.hypot(*np.diff(self.path, axis=0).T)
        found: Floats = np.concatenate([[0.0], np.cumsum(steps)]) - self.zero
        return found


@dataclass(frozen=True, slots=True, eq=False)
class Ground:
    """What lines are placed on. sources: the alignment, and the lines and guides that widths may follow."""

    sources: Sources
    structures: Structures
    surface: Tin

    @property
    def alignment(self) -> Alignment:
        return self.sources.alignment


@dataclass(frozen=True, slots=True)
class Placed:
    """Lines in the order of the group, regular ones along the road; and of those that cannot be placed the number and why."""

    lines: tuple[CutLine, ...]
    wrong: tuple[tuple[int, str], ...]


def place_group(group: LineGroup, ground: Ground) -> Placed:
    """All lines of a group. One that cannot be placed costs the others nothing."""
    found: list[CutLine] = []
    wrong: list[tuple[int, str]] = []
    reach = _reaches(group.widths, ground)
    for number, line in enumerate(group.lines):
        try:
            found += [replace(cut, number=number) for cut in _placed(line, ground, reach)]
        except SaddleError as error:
            wrong.append((number, error.message))
        if len(found) > MOST_CUT:
            wrong.append((number, f"the group would have more than {MOST_CUT:,} lines; the rest is left out"))
            break
    return Placed(tuple(found[:MOST_CUT]), tuple(wrong))


#: How far lines reach to the left and right at chainages (n,), (n, 2), m; and at what angle, degrees (n,).
Reaching = Callable[[Floats, Floats], Floats]


def _placed(line: SectionLine, ground: Ground, reach: Reaching) -> list[CutLine]:
    if isinstance(line, Regular):
        return _across(line, _regular(line, ground.alignment), 0.0, ground, reach)
    if isinstance(line, At):
        return _across(line, np.array([line.chainage]), line.angle_deg, ground, reach)
    if isinstance(line, AtStructure):
        middle = _middle(_structure(line.structure, ground.structures))
        chainage, _ = ground.alignment.locate(middle[None, :])
        if np.isnan(chainage[0]):
            raise SaddleError(f"“{line.structure}” lies beyond the ends of the road", line.structure, "draw a path instead")
        return _across(line, chainage, 0.0, ground, reach, line.name or line.structure)
    if isinstance(line, Between):
        ends = [_middle(_structure(name, ground.structures)) for name in (line.first, line.last)]
        length = float(np.hypot(*(ends[1] - ends[0])))
        if length < tolerances.CHAINAGE_MERGE:
            raise SaddleError(f"“{line.first}” and “{line.last}” stand in one place", line.first, "choose another one")
        ahead = (ends[1] - ends[0]) / length
        path = np.array([ends[0] - line.past * ahead, *ends, ends[1] + line.past * ahead])
        return [_along(line, path, ground.alignment, line.name or f"{line.first} to {line.last}", line.past)]
    path = np.array(line.points)
    if not (np.hypot(*np.diff(path, axis=0).T) > tolerances.CHAINAGE_MERGE).all():
        raise SaddleError("two corners of the path lie in one place", line.name or "path", "take one of them out")
    return [_along(line, path, ground.alignment, line.name, 0.0)]


def _regular(line: Regular, alignment: Alignment) -> Floats:
    """Chainages of regular lines: those of the whole road by these rules that lie in the range, and its ends if asked for."""
    low, high = max(line.from_chainage, alignment.start), min(line.to_chainage, alignment.end)
    if not low <= high:
        raise SaddleError("the range lies beyond the road", line.name or "regular", "choose another range")
    if (high - low) / min(line.interval, line.on_curves or line.interval) > MOST_CUT:
        raise SaddleError(f"these would be more than {MOST_CUT:,} lines", line.name or "regular", "take a longer interval")

    def at(interval: float) -> Floats:
        rules = StationRules(interval, line.key_points, (), line.chord_limit)
        every = place_stations(alignment, rules, (), (), np.array([low, high]) if line.key_points else np.empty(0)).chainage
        firm = alignment.key_chainages()
        if not line.key_points:  # the ends of the road are no multiples of anything
            off = np.abs(every / interval - np.round(every / interval)) * interval > tolerances.CHAINAGE_MERGE
            every = every[~(off & np.isin(every, firm))]
        return every[(every >= low - tolerances.CHAINAGE_MERGE) & (every <= high + tolerances.CHAINAGE_MERGE)]

    plain = at(line.interval)
    if line.on_curves is None or line.on_curves == line.interval:
        return plain
    close = at(line.on_curves)
    bent = (alignment.curvature != 0) | (alignment.curvature_end != 0)
    keep = [c[bent[alignment.element_at(c)] == curved] for c, curved in ((plain, False), (close, True)) if c.size]
    return np.unique(np.concatenate(keep)) if keep else plain


def _across(
    line: Regular | At | AtStructure, chainage: Floats, angle: float, ground: Ground, reach: Reaching, name: str = ""
) -> list[CutLine]:
    """Straight lines across the road at chainages (n,), turned by an angle, degrees, to the right of square."""
    frames = ground.alignment.frames(chainage)
    bearing = frames.bearing + np.radians(angle)
    to_right = np.column_stack([np.cos(bearing), -np.sin(bearing)])
    widths = reach(chainage, np.full(len(chainage), angle))
    for side, own in enumerate((line.left, line.right)):
        if own is not None:
            widths[:, side] = own
    short = widths.sum(axis=1) < tolerances.CHAINAGE_MERGE
    if short.any():
        raise SaddleError("the line has no width", line.name or "line", "give it a width, or its group")
    ends = frames.origin[:, None] + np.stack([-widths[:, :1] * to_right, widths[:, 1:] * to_right], axis=1)
    return [
        CutLine(0, line.kind, name or line.name, line.remark, float(c), angle, path, float(w[0]))
        for c, path, w in zip(chainage, ends, widths, strict=True)
    ]


def _along(line: AlongPath | Between, path: Floats, alignment: Alignment, name: str, start: float) -> CutLine:
    """A line along a path, which may meet the alignment or not; else `start` counts as 0."""
    met = _meets(path, alignment)
    if met is None:
        return CutLine(0, line.kind, name, line.remark, np.nan, np.nan, path, start)
    chainage, zero = met
    return CutLine(0, line.kind, name, line.remark, chainage, np.nan, path, zero)


def _meets(path: Floats, alignment: Alignment) -> tuple[float, float] | None:
    """Where a path first meets the alignment: chainage and distance along it; None where it does not. Raises SaddleError for one that
    is too long to be followed."""
    with np.errstate(over="ignore", invalid="ignore"):
        corners = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(path, axis=0).T))])
    if not corners[-1] <= LONGEST_LINE:
        raise SaddleError(f"the line would be longer than {LONGEST_LINE:,.0f} m", "line", "pick places nearer to each other")
    fine = np.unique(np.concatenate([corners, np.linspace(0, corners[-1], 2 + int(corners[-1] / 0.5))]))

    def offset(s: Floats) -> tuple[Floats, Floats]:
        points = np.column_stack([np.interp(s, corners, path[:, d]) for d in range(2)])
        return alignment.locate(points)

    _, o = offset(fine)
    change = np.flatnonzero((o[:-1] * o[1:] <= 0) & (np.abs(np.diff(o)) < 50))
    if not change.size:
        return None
    first = int(change[0])
    low, high, left = float(fine[first]), float(fine[first + 1]), o[first] < 0
    if o[first] == 0 or o[first + 1] == 0:
        low = high = low if o[first] == 0 else high
    while low < (s := (low + high) / 2) < high:  # by halves: sure, and as near as numbers go
        if (float(offset(np.array([s]))[1][0]) < 0) == left:
            low = s
        else:
            high = s
    return float(offset(np.array([high]))[0][0]), high


def _structure(name: str, structures: Structures) -> Pit | Pipe:
    every: list[Pit | Pipe] = [*structures.pits, *structures.pipes]
    for one in every:
        if one.name == name:
            return one
    raise SaddleError(f"there is no structure “{name}”", name, "choose one of the list of structures")


def _middle(structure: Pit | Pipe) -> Floats:
    """Where a structure stands in plan: of a pipe the middle of its length."""
    if isinstance(structure, Pit):
        return np.array([structure.east, structure.north])
    line = shapely.LineString([(p.east, p.north) for p in structure.points])
    return np.array(line.interpolate(0.5, normalized=True).coords[0])


def _reaches(widths: Widths, ground: Ground) -> Reaching:
    """How far lines of a group reach. A new way is one case here."""
    if isinstance(widths, FixedWidth):
        return lambda c, _: np.tile([widths.left, widths.right], (len(c), 1)).astype(float)
    if isinstance(widths, WidthTable):
        rows = np.array([(r.chainage, r.left, r.right) for r in widths.rows])
        return lambda c, _: np.column_stack([np.interp(c, rows[:, 0], rows[:, k]) for k in (1, 2)])
    if isinstance(widths, ToBoundary):
        covered = ground.surface.outline
        return lambda c, angle: _to_edge(covered, ground.alignment, c, angle, widths.most)

    def to_lines(c: Floats, angle: Floats) -> Floats:
        frames = ground.alignment.frames(c)
        found = [
            line_of(s, frames, ground.sources, side).offset * side for side, s in ((-1, widths.left_line), (1, widths.right_line))
        ]
        out = np.where(np.isnan(found), widths.otherwise, np.array(found) + widths.plus) / np.cos(np.radians(angle))
        return np.clip(out, 0.0, WIDEST).T

    return to_lines


def _to_edge(covered: shapely.Geometry, alignment: Alignment, chainage: Floats, angle: Floats, most: float) -> Floats:
    """How far it is from the alignment to the edge of what is covered, to either side, (n, 2)."""
    frames = alignment.frames(chainage)
    bearing = frames.bearing + np.radians(angle)
    to_right = np.column_stack([np.cos(bearing), -np.sin(bearing)])
    out = np.empty((len(chainage), 2))
    shapely.prepare(covered)
    for side, sign in enumerate((-1.0, 1.0)):
        ends = np.stack([frames.origin, frames.origin + sign * most * to_right], axis=1)
        inside = shapely.intersection(shapely.linestrings(ends), covered)
        for i, found in enumerate(inside):
            places = shapely.get_coordinates(found)
            out[i, side] = 0.0 if not len(places) else float(((places - frames.origin[i]) @ (sign * to_right[i])).max())
    return out


def angle_of(alignment: Alignment, first: Floats, last: Floats) -> tuple[float, float]:
    """Chainage at which the line through two places (2,) crosses the road, and its angle to the right of square, degrees. Raises
    SaddleError where it does not cross within WIDEST, or runs along the road."""
    with np.errstate(over="ignore"):
        step = np.asarray(last) - np.asarray(first)
        length = float(np.hypot(*step))
    if not length <= LONGEST_LINE:
        raise SaddleError("the places lie too far from each other", "angle", "pick two on the structure")
    if length < tolerances.CHAINAGE_MERGE:
        raise SaddleError("both places are one", "angle", "pick another one")
    ahead = step / length
    met = _meets(np.array([first - WIDEST * ahead, first, last, last + WIDEST * ahead]), alignment)
    if met is None:
        raise SaddleError("the line through both places does not cross the road", "angle", "pick places across the road")
    frames = alignment.frames(np.array([met[0]]))
    right = float(ahead @ frames.to_right[0])
    forward = float(ahead @ np.array([np.sin(frames.bearing[0]), np.cos(frames.bearing[0])]))
    angle = float(np.degrees(np.arctan2(-forward, right)))
    return met[0], angle - 180 * round(angle / 180)
