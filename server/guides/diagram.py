"""The straightened diagram: guides and surveyed lines as offsets over chainage."""

from collections.abc import Mapping

import numpy as np

from guides.bodies import Diagram, GuideOut, SurveyedOut
from road.numbers import numbers
from saddle.alignment.alignment import Alignment, build
from saddle.guides.evaluate import RoadLines, Sources, built_up, guide_corners, guide_line, sound_guides
from saddle.guides.pieces import stretches
from saddle.guides.spec import SIDES, GuideSpec, OnLineAndParts, Pieces
from saddle.road.model import RoadInputs
from saddle.terrain.survey import Polyline

#: Guides are drawn at this distance along the road, m, and at their corners.
FINE = 2.0


def diagram_of(inputs: RoadInputs, roads: Mapping[str, RoadLines], surveyed: list[Polyline]) -> Diagram:
    """Everything the diagram shows. roads: lines of those that guides follow; surveyed: lines of the survey."""
    alignment = build(inputs.alignment)
    sound, crooked = sound_guides(inputs.guides)
    sources = Sources(alignment, inputs.lines, sound, roads)
    guides = [
        _guide(key, guide, sources) if key in sound else _crooked(key, crooked[key]) for key, guide in inputs.guides.items()
    ]
    return Diagram(guides=guides, surveyed=_surveyed(alignment, surveyed))


def _crooked(key: str, why: str) -> GuideOut:
    return GuideOut(key=key, chainage=[], offset=[], plan=[], pieces=[], steps=[], wrong=why)


def _guide(key: str, guide: GuideSpec, sources: Sources) -> GuideOut:
    a = sources.alignment
    corners = guide_corners(guide, sources)
    c = np.unique(np.concatenate([np.arange(a.start, a.end, FINE), [a.end], corners[(corners >= a.start) & (corners <= a.end)]]))
    frames = a.frames(c)
    offset = guide_line(guide, frames, sources).offset
    there = np.isfinite(offset)
    plan = frames.plan(np.flatnonzero(there), offset[there])
    laid = stretches(guide.source) if isinstance(guide.source, Pieces) else []
    steps = list(built_up(guide.source, SIDES[guide.side], frames, sources)) if isinstance(guide.source, OnLineAndParts) else []
    return GuideOut(
        key=key,
        chainage=c.tolist(),
        offset=numbers(offset),
        plan=plan.tolist(),
        pieces=[[s.start, s.start_offset, s.end, s.end_offset] for s in laid],
        steps=[numbers(step) for step in steps],
        wrong=None,
    )


def _surveyed(alignment: Alignment, lines: list[Polyline]) -> list[SurveyedOut]:
    """Every survey line with at least two points beside the alignment."""
    out = []
    for line in lines:
        code, name = line.code, line.name
        chainage, offset = alignment.locate(line.points[:, :2])
        if np.isfinite(chainage).sum() >= 2:
            keep = np.isfinite(chainage)
            out.append(SurveyedOut(code=code, name=name, chainage=chainage[keep].tolist(), offset=numbers(offset[keep])))
    return out
