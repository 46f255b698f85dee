"""Crossfalls of the old road measured wherever one likes: on sections, at an interval, at key points, at every survey change."""

import numpy as np

from saddle.geometry.polylines import Floats, interpolate
from saddle.guides.evaluate import Sources, sound_guides
from saddle.guides.spec import NearestLine
from saddle.overlay.crossfalls import TakeMeasured
from saddle.overlay.governing import measured_crossfall
from saddle.road.lines import find_lines, line_rules, locate_lines
from saddle.road.model import RoadModel
from saddle.road.sources import cut_at, widths_of
from saddle.road.spec import Leave
from saddle.road.stations import Stations, lookup, merged, spans_of


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
    spans, rules = spans_of(inputs.treatments), line_rules(inputs.treatments)
    at = lookup(spans, inside, 1)
    at = np.where(at < 0, lookup(spans, inside, -1), at)
    stations, frames = Stations(inside, none, at, none - 1), model.alignment.frames(inside)
    existing = cut_at(inputs.surface, frames, widths_of(inputs.settings))
    guides, _ = sound_guides(inputs.guides)
    sources = Sources(model.alignment, inputs.lines, guides, inputs.roads)
    lines = find_lines(rules, inputs.crossfalls, stations, locate_lines(rules, stations, frames, existing, sources, {}))
    first = model.stations.first
    out = lines.measured_pct.copy()
    for k, (here, there) in enumerate(((lines.left_edge, model.lines.left_edge), (lines.right_edge, model.lines.right_edge))):
        edge = np.where(np.isnan(here), np.interp(inside, model.chainage[first], there[first]), here)
        level = interpolate(existing, np.column_stack([lines.hinge, edge]))
        out[:, k] = np.where(np.isnan(here), measured_crossfall(level[:, 0], level[:, 1], lines.hinge, edge), out[:, k])
    return out
