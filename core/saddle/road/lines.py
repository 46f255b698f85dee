"""Hinge, pavement edges, crossfalls and ties on every section, as the treatments ask for them."""

from collections.abc import Mapping

import numpy as np

from saddle.alignment.alignment import Frames
from saddle.geometry.polylines import Bools, Floats, Ints, Polylines, interpolate
from saddle.guides.evaluate import Sources, line_of
from saddle.guides.spec import AtPoint, EdgeSource
from saddle.overlay.governing import kerb_to_kerb, measured_crossfall
from saddle.overlay.milling import Milling, depth_along, lowered, share_at
from saddle.overlay.spec import KerbToKerb, TieIn
from saddle.road.model import RoadInputs, RoadLinesFound
from saddle.road.spec import AdoptedCrossfall, CrossfallSource, GivenCrossfall, Leave, Overlay, Treatment
from saddle.road.stations import Stations

#: Where points of the templates stand: (n,) offsets by side (-1 left, 1 right) and name, NaN where there is none.
Placed = Mapping[tuple[int, str], Floats]


def edge_of(source: EdgeSource, frames: Frames, sources: Sources, side: int, placed: Placed, rows: Ints | slice) -> Floats:
    """Offset (k,) of an edge on sections; frames: of them, rows: which of the road's they are."""
    if not isinstance(source, AtPoint):
        return line_of(source, frames, sources, side).offset
    at = side if source.side is None else {"left": -1, "right": 1}[source.side]
    there = placed.get((at, source.point))
    return np.full(len(frames.chainage), np.nan) if there is None else there[rows] + at * source.beyond


def by_points(inputs: RoadInputs) -> bool:
    """Whether some edge or limit of milling is a point of a template."""
    works = [t.work for t in inputs.treatments.ranges if not isinstance(t.work, Leave)]
    sources = [s for w in works for s in (w.left_edge, w.right_edge)] + [
        s for m in inputs.milling.stretches for s in (m.left, m.right)
    ]
    return any(isinstance(s, AtPoint) for s in sources)


def find_lines(
    inputs: RoadInputs, stations: Stations, frames: Frames, existing: Polylines, sources: Sources, placed: Placed
) -> RoadLinesFound:
    """Treatment by treatment, on the sections it covers. Edges at points that are not placed yet are NaN."""
    n = len(stations.chainage)

    def empty(*more: int) -> Floats:
        return np.full((n, *more), np.nan)

    found = RoadLinesFound(empty(), empty(), empty(), empty(), empty(), empty(), empty(2), empty(), np.ones(n), empty(2))
    for i, treatment in enumerate(inputs.treatments.ranges):
        work = treatment.work
        rows = np.flatnonzero(stations.treatment == i)
        if isinstance(work, Leave) or rows.size == 0:
            continue
        where = _some(frames, rows)

        left, right = (edge_of(e, where, sources, side, placed, rows) for e, side in ((work.left_edge, -1), (work.right_edge, 1)))
        at = np.column_stack([line_of(work.hinge, where, sources, 0).offset, left, right])
        found.hinge[rows], found.left_edge[rows], found.right_edge[rows] = at.T
        level = interpolate(existing.rows(rows), at)
        found.existing_hinge[rows] = level[:, 0]
        for k, (pct, source) in enumerate(((found.left_pct, work.left_crossfall), (found.right_pct, work.right_crossfall))):
            measured = measured_crossfall(level[:, 0], level[:, k + 1], at[:, 0], at[:, k + 1])
            found.measured_pct[rows, k] = measured
            pct[rows] = _crossfall(source, k, measured, stations.chainage[rows], inputs)
        if isinstance(work, Overlay) and isinstance(work.governs, KerbToKerb):
            _fix_lips(work.governs, found, rows, level)
        if isinstance(work, Overlay) and work.kerb_top is not None:
            for k, side in enumerate((-1, 1)):
                found.kerb_top[rows, k] = line_of(work.kerb_top, where, sources, side).level
        if isinstance(work, Overlay):
            found.tied[rows] = tie_factor(treatment, work, stations.chainage[rows])
            t = found.tied[rows]
            for k, pct in enumerate((found.left_pct, found.right_pct)):
                pct[rows] = np.where(t < 1, found.measured_pct[rows, k] * (1 - t) + pct[rows] * t, pct[rows])
    return found


def _some(frames: Frames, rows: Ints | Bools) -> Frames:
    return Frames(frames.chainage[rows], frames.origin[rows], frames.bearing[rows], frames.curvature[rows])


def _crossfall(source: CrossfallSource, column: int, measured: Floats, chainage: Floats, inputs: RoadInputs) -> Floats:
    """Crossfall of one side, (k,), %; NaN where the table has no rows."""
    if isinstance(source, GivenCrossfall):
        return np.full(len(chainage), source.pct)
    if not isinstance(source, AdoptedCrossfall):
        return measured
    rows = inputs.crossfalls.rows
    if not rows:
        return np.full(len(chainage), np.nan)
    found: Floats = np.interp(chainage, [r.chainage for r in rows], [(r.left_pct, r.right_pct)[column] for r in rows])
    return found


def _fix_lips(rule: KerbToKerb, found: RoadLinesFound, rows: Ints, level: Floats) -> None:
    by_left = np.full(len(rows), rule.side == "left")
    wanted = np.where(by_left, found.left_pct[rows], found.right_pct[rows])
    lips = level[:, 1] + rule.plus, level[:, 2] + rule.plus
    crown, left, right = kerb_to_kerb(found.hinge[rows], found.left_edge[rows], found.right_edge[rows], *lips, wanted, by_left)
    found.fixed_hinge[rows], found.left_pct[rows], found.right_pct[rows] = crown, left, right


def tie_factor(treatment: Treatment, work: Overlay, chainage: Floats) -> Floats:
    """1 inside the treatment, running straight to 0 at an end that ties to the old road, (k,)."""
    t = np.ones(len(chainage))
    if work.begin is not None:
        t = np.minimum(t, np.clip((chainage - treatment.from_chainage) / work.begin.length, 0, 1))
    if work.end is not None:
        t = np.minimum(t, np.clip((treatment.to_chainage - chainage) / work.end.length, 0, 1))
    return t


def tie_ends(inputs: RoadInputs) -> list[float]:
    """Chainages at which ties to the old road stop."""
    found = []
    for treatment in inputs.treatments.ranges:
        if isinstance(treatment.work, Overlay):
            if treatment.work.begin is not None:
                found.append(treatment.from_chainage + treatment.work.begin.length)
            if treatment.work.end is not None:
                found.append(treatment.to_chainage - treatment.work.end.length)
    return found


def ties_of(inputs: RoadInputs) -> list[tuple[float, float, TieIn | None, TieIn | None]]:
    """How each overlay meets the old road."""
    ranges = inputs.treatments.ranges
    return [(t.from_chainage, t.to_chainage, t.work.begin, t.work.end) for t in ranges if isinstance(t.work, Overlay)]


def mill(
    inputs: RoadInputs,
    stations: Stations,
    frames: Frames,
    existing: Polylines,
    lines: RoadLinesFound,
    sources: Sources,
    placed: Placed,
) -> Milling:
    """The milling plan and the notches of ties, on every section. Before a change the stretch that ends counts, after it the
    one that begins."""
    n = len(stations.chainage)
    beside = stations.chainage + 2e-3 * stations.side
    surface = existing
    area, moment, width, depth = np.zeros(n), np.zeros(n), np.zeros(n), np.zeros(n)
    for left, right, d, (at_left, at_right) in _milled(inputs, stations, frames, lines, sources, placed, beside):
        extra = np.maximum(d - depth, 0.0)
        low, high = np.where(extra > 0, left, np.nan), np.where(extra > 0, right, np.nan)
        surface = lowered(surface, low, high, at_left * extra, at_right * extra)
        wide = np.where(extra > 0, high - low, 0.0)
        mean = (at_left + at_right) / 2
        area += wide * extra * mean
        # The centre of a trapezium that is at_left high at its left side and at_right at its right one.
        centre = low + wide * (at_left + 2 * at_right) / (6 * mean)
        moment += wide * extra * mean * np.where(extra > 0, centre, 0.0)
        width = np.fmax(width, wide)
        depth = np.maximum(depth, d)
    return Milling(surface, area, moment, width, depth)


def _milled(
    inputs: RoadInputs,
    stations: Stations,
    frames: Frames,
    lines: RoadLinesFound,
    sources: Sources,
    placed: Placed,
    beside: Floats,
) -> list[tuple[Floats, Floats, Floats, tuple[float, float]]]:
    """Left and right offsets and depths, (n,), of all that is milled, and the share of the depth at either side."""
    found = []
    for stretch in inputs.milling.stretches:
        all_of = slice(None)
        left = lines.left_edge if stretch.left is None else edge_of(stretch.left, frames, sources, -1, placed, all_of)
        right = lines.right_edge if stretch.right is None else edge_of(stretch.right, frames, sources, 1, placed, all_of)
        found.append((left, right, depth_along(stretch, beside), share_at(stretch)))
    for i, treatment in enumerate(inputs.treatments.ranges):
        work = treatment.work
        if not isinstance(work, Overlay):
            continue
        here = stations.treatment == i
        c = stations.chainage
        for tie, distance in ((work.begin, c - treatment.from_chainage), (work.end, treatment.to_chainage - c)):
            if tie is not None and tie.notch_mm > 0:
                d = np.where(here, np.clip(1 - distance / tie.length, 0, 1) * tie.notch_mm / 1000, 0.0)
                found.append((lines.left_edge, lines.right_edge, d, (1.0, 1.0)))
    return found
