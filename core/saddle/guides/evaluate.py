"""Guides evaluated: an offset, and a level where there is one, at every section."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TypeGuard, assert_never

import numpy as np

from saddle import tolerances
from saddle.alignment.alignment import Alignment, Frames
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats
from saddle.guides.corner import Corner, corner, corner_chainages, corner_offsets
from saddle.guides.pieces import corners, offsets_along, stretches
from saddle.guides.spec import (
    SIDES,
    AtOffset,
    CornerCurve,
    CurveWidening,
    DrawnLine,
    FarSide,
    GuidePart,
    GuideSource,
    GuideSpec,
    NearestLine,
    NoLess,
    NoMore,
    OfRoad,
    OnGuide,
    OnLineAndParts,
    Pieces,
    PointSource,
    WiderBy,
    WiderOnCurves,
)
from saddle.standards.widening import widening
from saddle.terrain.survey_lines import SurveyLines, nearest

#: How far from the alignment a drawn line is looked for, m.
DRAWN_REACH = 500.0
#: Where one line goes over into another is looked for at this distance along the road, m, and then halved so often.
SEARCHED, HALVINGS = 1.0, 30
#: Guides that one may ask for its offset, those asked again counted again: two guides that each name the one before twice are four.
MOST_ASKED = 200


@dataclass(frozen=True, slots=True, eq=False)
class GuideLine:
    """offset, level: (n,), m; NaN where the guide does not reach or has no level."""

    offset: Floats
    level: Floats


@dataclass(frozen=True, slots=True, eq=False)
class RoadLines:
    """Lines of a designed road: of its hinge, edges and the ends of its templates every section's place, east, north and level (n, 3),
    m, NaN where it has none; to_right: (n, 2) which way its right is there, of length 1."""

    hinge: Floats
    left_edge: Floats
    right_edge: Floats
    left_end: Floats
    right_end: Floats
    to_right: Floats


@dataclass(frozen=True, slots=True, eq=False)
class Sources:
    """What sources refer to: survey lines by code, guides by key, the alignment they are set out from, and the lines of other roads by
    the roads' keys."""

    alignment: Alignment
    lines: Mapping[str, SurveyLines]
    guides: Mapping[str, GuideSpec]
    roads: Mapping[str, RoadLines] = field(default_factory=dict)


def sound_guides(guides: Mapping[str, GuideSpec]) -> tuple[dict[str, GuideSpec], dict[str, str]]:
    """Guides that can be laid, and by key what is wrong with the others: pieces that end before they begin, guides that stand on each
    other in a circle, or on one that is not there, belongs to another alignment or cannot be laid itself."""
    crooked: dict[str, str] = {}
    for key, guide in guides.items():
        try:
            for pieces in _pieces_of(guide.source):
                stretches(pieces)
        except GeometryError as error:
            crooked[key] = f"guide “{guide.name}”: {error.message}"
    standing = set(guides) - set(crooked)
    sound: dict[str, GuideSpec] = {}
    while ready := {key for key in standing - set(sound) if set(stands_on(guides[key])) <= set(sound)}:
        sound |= {key: guides[key] for key in ready}
    asked: dict[str, int] = {}
    for key in list(sound):  # those beneath come first
        asked[key] = 1 + sum(asked.get(other, MOST_ASKED) for other in stands_on(guides[key]))
        if asked[key] > MOST_ASKED:
            del sound[key]
            crooked[key] = (
                f"guide “{guides[key].name}” stands on more than {MOST_ASKED} guides, one on another: take some of them away"
            )
    faulty = set(crooked)
    for key in sorted(standing - set(sound) - faulty):
        crooked[key] = f"guide “{guides[key].name}” {_why_not(key, guides, set(sound), faulty)}"
    return {key: guide for key, guide in guides.items() if key in sound}, crooked


def stands_on(guide: GuideSpec) -> tuple[str, ...]:
    """Keys of the guides that a guide is laid by."""
    source = guide.source
    lines = source.lines() if isinstance(source, OnLineAndParts) else []
    return tuple(line.guide for line in lines if isinstance(line, OnGuide))


def _pieces_of(source: GuideSource) -> list[Pieces]:
    parts = source.parts if isinstance(source, OnLineAndParts) else [source]
    return [part for part in parts if isinstance(part, Pieces)]


def _why_not(key: str, guides: Mapping[str, GuideSpec], sound: set[str], faulty: set[str]) -> str:
    """Why a guide cannot be laid on those that it stands on. faulty: those that have a fault of their own."""
    path = [key]
    while True:
        beneath = [other for other in stands_on(guides[path[-1]]) if other not in sound]
        if beneath[0] not in guides:
            return "stands on a guide that is not there, or that belongs to another alignment: choose another one"
        if beneath[0] in path:
            circle = [f"“{guides[k].name}”" for k in path[path.index(beneath[0]) :]]
            what = f"{' and '.join(circle)} stand on each other" if len(circle) > 1 else f"{circle[0]} stands on itself"
            return f"cannot be laid, because {what}: let one of them stand on something else"
        if beneath[0] in faulty:
            return f"stands on “{guides[beneath[0]].name}”, which cannot be laid"
        path.append(beneath[0])


def guide_line(guide: GuideSpec, frames: Frames, sources: Sources) -> GuideLine:
    """A guide on sections. Raises GeometryError for pieces that cannot be laid."""
    source, n = guide.source, len(frames.chainage)
    if isinstance(source, Pieces):
        return GuideLine(offsets_along(stretches(source), frames.chainage), np.full(n, np.nan))
    if isinstance(source, CurveWidening):
        return GuideLine(widened_edge(source, sources.alignment, frames.chainage), np.full(n, np.nan))
    if isinstance(source, NearestLine):
        lines = sources.lines.get(source.code)
        return GuideLine(*nearest(frames, lines, source.within, source.looks(SIDES[guide.side])))
    if isinstance(source, CornerCurve):
        line = _of_road(source, frames, sources.roads.get(source.road)).offset
        return GuideLine(corner_offsets(source, _corner(source, sources), frames, line), np.full(n, np.nan))
    if isinstance(source, OfRoad):
        return _of_road(source, frames, sources.roads.get(source.road))
    if isinstance(source, OnLineAndParts):
        offset = built_up(source, SIDES[guide.side], frames, sources)[-1]
        laid = [offsets_along(stretches(part), frames.chainage) for part in source.parts if isinstance(part, Pieces)]
        if source.only_pieces and laid:
            offset = np.where(np.isfinite(laid).any(axis=0), offset, np.nan)
        return GuideLine(offset, np.full(n, np.nan))
    return GuideLine(*nearest(frames, drawn(source), DRAWN_REACH, 0))


def built_up(source: OnLineAndParts, side: int, frames: Frames, sources: Sources) -> Floats:
    """Offset of the base, and after each of the parts, (1 + parts, n), m; NaN where there is none."""
    found = [line_of(source.base, frames, sources, side).offset]
    for part in source.parts:
        found.append(_with_part(part, found[-1], side, frames, sources))
    return np.array(found)


def _with_part(part: GuidePart, offset: Floats, side: int, frames: Frames, sources: Sources) -> Floats:
    c = frames.chainage
    match part:
        case WiderBy(width=width):
            return offset + side * width
        case Pieces():
            return np.asarray(offset + side * np.nan_to_num(offsets_along(stretches(part), c)))
        case WiderOnCurves():
            knots, extra = _knots(part, side, sources.alignment)
            return np.asarray(offset + side * np.interp(c, knots, extra))
        case NoLess(line=line):
            return np.asarray(side * np.fmax(side * offset, side * line_of(line, frames, sources, side).offset))
        case NoMore(line=line):
            most = side * np.fmin(side * offset, side * line_of(line, frames, sources, side).offset)
            return np.asarray(np.where(np.isnan(offset), np.nan, most))
    assert_never(part)


def _of_road(source: OfRoad | CornerCurve, frames: Frames, road: RoadLines | None) -> GuideLine:
    """A line of another road on sections; NaN where it is not there, or that road has none. Further out is so on the other road, which
    may run the other way."""
    if road is None:
        none = np.full(len(frames.chainage), np.nan)
        return GuideLine(none, none)
    return GuideLine(*nearest(frames, joined(moved_out(source, road)), DRAWN_REACH, 0, tolerances.COMPUTED_END))


def _corner(source: CornerCurve, sources: Sources) -> Corner:
    """Where the arcs of a corner lie, none where the other road has no such line."""
    road = sources.roads.get(source.road)
    if road is None:
        return ()
    return corner(source, joined(moved_out(source, road)), -1 if source.line.startswith("left") else 1, sources.alignment)


def moved_out(source: OfRoad | CornerCurve, road: RoadLines) -> Floats:
    """The places of another road's line (n, 3), as far out as is asked for."""
    p = np.array(getattr(road, source.line))
    p[:, :2] += (-source.beyond if source.line.startswith("left") else source.beyond) * road.to_right
    return p


def joined(places: Floats) -> SurveyLines:
    """Places one after another (n, 3) as segments, none to one that is not known."""
    known = np.isfinite(places[:-1, :2]).all(axis=1) & np.isfinite(places[1:, :2]).all(axis=1)
    known &= np.hypot(*np.diff(places[:, :2], axis=0).T) > tolerances.CHAINAGE_MERGE
    return SurveyLines(places[:-1][known], places[1:][known])


def line_of(source: PointSource, frames: Frames, sources: Sources, side: int) -> GuideLine:
    """An edge (side -1 left, 1 right) or the hinge (0) on sections; NaN where there is none."""
    n = len(frames.chainage)
    if isinstance(source, FarSide):
        return GuideLine(np.full(n, np.nan), np.full(n, np.nan))
    if isinstance(source, AtOffset):
        return GuideLine(np.full(n, source.offset), np.full(n, np.nan))
    if isinstance(source, OnGuide):
        guide = sources.guides.get(source.guide)
        return guide_line(guide, frames, sources) if guide else GuideLine(np.full(n, np.nan), np.full(n, np.nan))
    return GuideLine(*nearest(frames, sources.lines.get(source.code), source.within, source.looks(side)))


def drawn(source: DrawnLine) -> SurveyLines:
    """A polyline as segments."""
    p = np.array([[e, n, np.nan if z is None else z] for e, n, z in source.points])
    return SurveyLines(p[:-1], p[1:])


def guide_corners(guide: GuideSpec, sources: Sources) -> Floats:
    """Chainages at which a guide bends and a section should stand, (k,)."""
    a = sources.alignment
    if isinstance(guide.source, Pieces):
        return corners(stretches(guide.source))
    if isinstance(guide.source, CornerCurve):
        return corner_chainages(_corner(guide.source, sources))
    if isinstance(guide.source, CurveWidening):
        return np.unique(np.clip(_knots(guide.source, int(np.sign(guide.source.base_offset)), a)[0], a.start, a.end))
    if isinstance(guide.source, OnLineAndParts):
        return _corners_built_up(guide.source, SIDES[guide.side], sources)
    if isinstance(guide.source, DrawnLine):
        chainage, _ = a.locate(np.array([[e, n] for e, n, _ in guide.source.points]))
        return np.unique(chainage[np.isfinite(chainage)])
    return np.empty(0)


def _corners_built_up(source: OnLineAndParts, side: int, sources: Sources) -> Floats:
    """Where anything that it is made of bends, and where it goes over from one line to another."""
    a = sources.alignment
    found = [guide_corners(sources.guides[line.guide], sources) for line in source.lines() if _known(line, sources)]
    found += [corners(stretches(part)) for part in source.parts if isinstance(part, Pieces)]
    found += [_knots(part, side, a)[0] for part in source.parts if isinstance(part, WiderOnCurves)]
    c = np.unique(np.clip(np.concatenate([np.empty(0), *found]), a.start, a.end))
    holds = [k for k, part in enumerate(source.parts) if isinstance(part, NoLess | NoMore)]
    if holds:
        fine = np.unique(np.concatenate([np.arange(a.start, a.end, SEARCHED), [a.end], c]))
        c = np.unique(np.concatenate([c, *(_goes_over(source, k, side, fine, sources) for k in holds)]))
    return c


def _known(line: PointSource, sources: Sources) -> TypeGuard[OnGuide]:
    return isinstance(line, OnGuide) and line.guide in sources.guides


def _goes_over(source: OnLineAndParts, number: int, side: int, c: Floats, sources: Sources) -> Floats:
    """Chainages at which the line of a part crosses what is reached before it, or leaves it, (k,); c: close enough together that no
    two lie between neighbours."""
    part = source.parts[number]
    assert isinstance(part, NoLess | NoMore)
    before = source.changed(parts=source.parts[:number])

    def apart(chainage: Floats) -> Floats:
        frames = sources.alignment.frames(chainage)
        return np.asarray(built_up(before, side, frames, sources)[-1] - line_of(part.line, frames, sources, side).offset)

    d = apart(c)
    i = np.flatnonzero(d[:-1] * d[1:] < 0)
    low, high, sign = c[i], c[i + 1], np.sign(d[i])
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        same = np.sign(apart(middle)) == sign
        low, high = np.where(same, middle, low), np.where(same, high, middle)
    one = np.pad(d == 0, 1)
    leaves = one[1:-1] & ~(one[:-2] & one[2:])
    return np.concatenate([(low + high) / 2, c[leaves]])


def widened_edge(source: CurveWidening, alignment: Alignment, chainages: Floats) -> Floats:
    """Offset of an edge that is widened on curves, (n,), m, straight between the knots."""
    outward = int(np.sign(source.base_offset))
    knots, extra = _knots(source, outward, alignment)
    return np.asarray(source.base_offset + outward * np.interp(chainages, knots, extra))


def _knots(source: WiderOnCurves, side: int, a: Alignment) -> tuple[Floats, Floats]:
    """Chainages and the widening that an edge on a side (-1 left, 1 right) takes there, m.

    An arc has its full share; a clothoid carries it from one end to the other; where an arc meets a straight or
    another arc without a transition, it changes over `run`, of which `before` lies on the flatter side.
    """

    def share(curvature: Floats) -> Floats:
        with np.errstate(divide="ignore"):
            whole = widening(np.where(curvature == 0, np.inf, 1 / curvature), source.rule)
        inside = np.sign(curvature) == side
        return whole * np.where(curvature == 0, 0.0, np.where(inside, source.share_inside, source.share_outside))

    first, last = share(a.curvature), share(a.curvature_end)
    knots, values = [a.start], [float(first[0])]
    for i in range(len(first)):
        begin, end = float(a.chainage[i]), float(a.chainage[i] + a.length[i])
        if i and abs(first[i] - last[i - 1]) > 1e-9:
            into = abs(first[i]) > abs(last[i - 1])
            back, on = (source.before, 1 - source.before) if into else (1 - source.before, source.before)
            knots += [begin - back * source.run, begin + on * source.run]
            values += [float(last[i - 1]), float(first[i])]
        elif i:
            knots.append(begin)
            values.append(float(first[i]))
        if i == len(first) - 1:
            knots.append(end)
            values.append(float(last[i]))
    # Short elements may put a knot before the one ahead of it; each then begins where the other ended.
    return np.maximum.accumulate(np.array(knots)), np.array(values)
