"""Crossfalls of the old road measured wherever one likes: on sections, at an interval, at key points, at every survey change."""

import numpy as np

from saddle.alignment.alignment import Frames
from saddle.geometry.polylines import Floats, Polylines, interpolate
from saddle.guides.evaluate import Sources, sound_guides
from saddle.guides.spec import NearestLine
from saddle.overlay.crossfalls import TakeMeasured
from saddle.overlay.governing import measured_crossfall
from saddle.road.lines import find_lines
from saddle.road.model import RoadModel
from saddle.road.spec import Leave
from saddle.road.stations import Stations, lookup, merged
from saddle.terrain.cut import cut_sections


def chainages_for(model: RoadModel, what: TakeMeasured, low: float, high: float) -> Floats:
    """Where an operation measures between two chainages, both ends included, (k,)."""
    a = model.alignment
    if what.at == "sections":
        found = model.chainage[model.stations.first]
    elif what.at == "interval":
        found = np.arange(np.ceil(low / what.interval), np.floor(high / what.interval) + 1) * what.interval
    elif what.at == "key_points":
        found = a.key_chainages()
    else:
        found = _changes(model)
    return merged(np.r_[low, found[(found > low) & (found < high)], high])


def _changes(model: RoadModel) -> Floats:
    """Chainages of the surveyed points of the lines that are hinge or edges."""
    works = [t.work for t in model.inputs.treatments.ranges if not isinstance(t.work, Leave)]
    sources = {s for w in works for s in (w.hinge, w.left_edge, w.right_edge) if isinstance(s, NearestLine)}
    found = [np.empty(0)]
    for code in sorted({s.code for s in sources}):
        lines = model.inputs.lines.get(code)
        if lines is not None and len(lines.start):
            chainage, _ = model.alignment.locate(np.concatenate([lines.start, lines.end])[:, :2])
            found.append(chainage[np.isfinite(chainage)])
    return np.concatenate(found)


def measured_at(model: RoadModel, chainage: Floats) -> Floats:
    """Crossfalls of the old surface between hinge and edges at chainages (k,), rising: (k, 2), %, NaN where unknown.

    Edges that are points of a template are taken straight between the sections.
    """
    inputs, n = model.inputs, len(chainage)
    inside = np.clip(chainage, model.alignment.start, model.alignment.end)
    none = np.zeros(n, dtype=np.intp)
    at = lookup(inputs.treatments.ranges, inside, 1)
    at = np.where(at < 0, lookup(inputs.treatments.ranges, inside, -1), at)
    stations, frames = Stations(inside, none, at, none - 1), model.alignment.frames(inside)
    existing = _cut(model, frames)
    guides, _ = sound_guides(inputs.guides)
    lines = find_lines(inputs, stations, frames, existing, Sources(model.alignment, inputs.lines, guides), {})
    first = model.stations.first
    out = lines.measured_pct.copy()
    for k, (here, there) in enumerate(((lines.left_edge, model.lines.left_edge), (lines.right_edge, model.lines.right_edge))):
        edge = np.where(np.isnan(here), np.interp(inside, model.chainage[first], there[first]), here)
        level = interpolate(existing, np.column_stack([lines.hinge, edge]))
        out[:, k] = np.where(np.isnan(here), measured_crossfall(level[:, 0], level[:, 1], lines.hinge, edge), out[:, k])
    return out


def _cut(model: RoadModel, frames: Frames) -> Polylines:
    s, n = model.inputs.settings, len(frames.chainage)
    return cut_sections(
        model.inputs.surface, frames.origin, frames.to_right, np.full(n, float(s.left)), np.full(n, float(s.right))
    )
