"""Guides evaluated: an offset, and a level where there is one, at every section."""

from collections.abc import Mapping
from dataclasses import dataclass, field

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
    GuideSpec,
    NearestLine,
    OfRoad,
    OnGuide,
    Pieces,
    PointSource,
)
from saddle.standards.widening import widening
from saddle.terrain.survey_lines import SurveyLines, nearest

#: How far from the alignment a drawn line is looked for, m.
DRAWN_REACH = 500.0


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
    """Guides whose pieces can be laid, and by key what is wrong with the others."""
    sound, crooked = {}, {}
    for key, guide in guides.items():
        try:
            if isinstance(guide.source, Pieces):
                stretches(guide.source)
            sound[key] = guide
        except GeometryError as error:
            crooked[key] = f"guide “{guide.name}”: {error.message}"
    return sound, crooked


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
    return GuideLine(*nearest(frames, drawn(source), DRAWN_REACH, 0))


def _of_road(source: OfRoad | CornerCurve, frames: Frames, road: RoadLines | None) -> GuideLine:
    """A line of another road on sections; NaN where it is not there, or that road has none. Further out is so on the other road, which
    may run the other way."""
    if road is None:
        none = np.full(len(frames.chainage), np.nan)
        return GuideLine(none, none)
    return GuideLine(*nearest(frames, joined(moved_out(source, road)), DRAWN_REACH, 0, tolerances.COMPUTED_END))


def _corner(source: CornerCurve, sources: Sources) -> Corner | None:
    """Where the arc of a corner lies, None where the other road has no such line."""
    road = sources.roads.get(source.road)
    if road is None:
        return None
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
        return corner_chainages(guide.source, _corner(guide.source, sources))
    if isinstance(guide.source, CurveWidening):
        return np.unique(np.clip(_knots(guide.source, a)[0], a.start, a.end))
    if isinstance(guide.source, DrawnLine):
        chainage, _ = a.locate(np.array([[e, n] for e, n, _ in guide.source.points]))
        return np.unique(chainage[np.isfinite(chainage)])
    return np.empty(0)


def widened_edge(source: CurveWidening, alignment: Alignment, chainages: Floats) -> Floats:
    """Offset of an edge that is widened on curves, (n,), m, straight between the knots."""
    knots, extra = _knots(source, alignment)
    outward = np.sign(source.base_offset)
    return np.asarray(source.base_offset + outward * np.interp(chainages, knots, extra))


def _knots(source: CurveWidening, a: Alignment) -> tuple[Floats, Floats]:
    """Chainages and the widening that this edge takes there, m.

    An arc has its full share; a clothoid carries it from one end to the other; where an arc meets a straight or
    another arc without a transition, it changes over `run`, of which `before` lies on the flatter side.
    """
    side = np.sign(source.base_offset)

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
