"""Hinge, pavement edges, crossfalls and ties on every section, as the treatments ask for them."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.alignment.alignment import Frames
from saddle.geometry.polylines import Bools, Floats, Ints, Polylines, interpolate
from saddle.guides.evaluate import Sources, line_of
from saddle.guides.spec import SIDES, AtPoint, EdgeSource, NearestLine, OnGuide
from saddle.overlay.governing import kerb_to_kerb, measured_crossfall
from saddle.overlay.milling import Cuts, Milling, depth_along, milled, share_at
from saddle.overlay.spec import (
    CrossfallTable,
    KerbToKerb,
    LevelTable,
    LevelTableGoverns,
    LineGoverns,
    MillingPlan,
    ProfileGoverns,
    TieIn,
)
from saddle.road.model import RoadLinesFound
from saddle.road.mouths import carried_on
from saddle.road.spec import (
    AdoptedCrossfall,
    CrossfallSource,
    GivenCrossfall,
    Leave,
    Overlay,
    RoadLines,
    TemplatePlan,
    TreatmentPlan,
)
from saddle.road.stations import Stations

#: Where points of the templates stand: (n,) offsets by side (-1 left, 1 right) and name, NaN where there is none.
Placed = Mapping[tuple[int, str], Floats]


def edge_of(source: EdgeSource, frames: Frames, sources: Sources, side: int, placed: Placed, rows: Ints | slice) -> Floats:
    """Offset (k,) of an edge on sections; frames: of them, rows: which of the road's they are."""
    if not isinstance(source, AtPoint):
        return line_of(source, frames, sources, side).offset
    at = side if source.side is None else SIDES[source.side]
    there = placed.get((at, source.point))
    return np.full(len(frames.chainage), np.nan) if there is None else there[rows] + at * source.beyond


@dataclass(frozen=True, slots=True)
class LineRules:
    """What of a treatment says where its lines are and how the road falls: all but cover and cuts. lips: where they are fixed;
    begin, end: how an overlay meets the old road; ruled: the guide that the governing rule names."""

    from_chainage: float
    to_chainage: float
    lines: RoadLines
    lips: KerbToKerb | None
    kerb_top: NearestLine | OnGuide | None
    begin: TieIn | None
    end: TieIn | None
    ruled: str | None


def line_rules(treatments: TreatmentPlan) -> tuple[LineRules | None, ...]:
    """Of every treatment in order, None where nothing is done."""
    found: list[LineRules | None] = []
    for t in treatments.ranges:
        work = t.work
        if isinstance(work, Leave):
            found.append(None)
            continue
        lines = RoadLines(**{name: getattr(work, name) for name in RoadLines.model_fields})
        ruled = work.governs.guide if isinstance(work.governs, ProfileGoverns | LineGoverns) else None
        lips = work.governs if isinstance(work.governs, KerbToKerb) else None
        kerb_top = work.kerb_top if isinstance(work, Overlay) else None
        found.append(LineRules(t.from_chainage, t.to_chainage, lines, lips, kerb_top, work.begin, work.end, ruled))
    return tuple(found)


def by_points(rules: tuple[LineRules | None, ...], milling: MillingPlan) -> bool:
    """Whether some edge or limit of milling is a point of a template."""
    sources = [s for r in rules if r is not None for s in (r.lines.left_edge, r.lines.right_edge)]
    return any(isinstance(s, AtPoint) for s in [*sources, *(s for m in milling.stretches for s in (m.left, m.right))])


@dataclass(frozen=True, slots=True, eq=False)
class Located:
    """Per section: offsets of hinge, left and right edge (n, 3), levels of the old surface there (n, 3), and levels of the tops
    of kerbs that stay on both sides (n, 2), offset and level of the guide that the rule names (n, 2), m; met: level, m, and falls to the left and right, %,
    of another road's surface that is met (n, 3). NaN where not found, or not asked for."""

    at: Floats
    level: Floats
    kerb_top: Floats
    ruled: Floats
    met: Floats


def locate_lines(
    rules: tuple[LineRules | None, ...],
    stations: Stations,
    frames: Frames,
    existing: Polylines,
    sources: Sources,
    placed: Placed,
) -> Located:
    """Treatment by treatment, on the sections it covers. Edges at points that are not placed yet are NaN."""
    n = len(stations.chainage)
    found = Located(
        np.full((n, 3), np.nan),
        np.full((n, 3), np.nan),
        np.full((n, 2), np.nan),
        np.full((n, 2), np.nan),
        np.full((n, 3), np.nan),
    )
    for i, rule in enumerate(rules):
        rows = np.flatnonzero(stations.treatment == i)
        if rule is None or rows.size == 0:
            continue
        where, lines = _some(frames, rows), rule.lines
        edges = [edge_of(e, where, sources, side, placed, rows) for e, side in ((lines.left_edge, -1), (lines.right_edge, 1))]
        found.at[rows] = np.column_stack([line_of(lines.hinge, where, sources, 0).offset, *edges])
        found.level[rows] = interpolate(existing.rows(rows), found.at[rows])
        for tie, t in zip((rule.begin, rule.end), tie_factors(rule, stations.chainage[rows]), strict=True):
            if tie is not None and tie.guide is not None:
                near = rows[t < 1]
                found.met[near] = np.column_stack(carried_on(tie.guide, _some(frames, near), found.at[near, 0], sources))
        if rule.ruled is not None:
            line = line_of(OnGuide(guide=rule.ruled), where, sources, 0)
            found.ruled[rows] = np.column_stack([line.offset, line.level])
        if rule.kerb_top is not None:
            for k, side in enumerate((-1, 1)):
                found.kerb_top[rows, k] = line_of(rule.kerb_top, where, sources, side).level
    return found


def find_lines(
    rules: tuple[LineRules | None, ...], crossfalls: CrossfallTable, stations: Stations, located: Located
) -> RoadLinesFound:
    """Crossfalls, fixed lips and ties on what is located."""
    n = len(stations.chainage)
    (hinge, left, right), level = located.at.T, located.level
    pct, measured, fixed, tied = np.full((n, 2), np.nan), np.full((n, 2), np.nan), np.full(n, np.nan), np.ones(n)
    for i, rule in enumerate(rules):
        rows = np.flatnonzero(stations.treatment == i)
        if rule is None or rows.size == 0:
            continue
        for k, (edge, source) in enumerate(((left, rule.lines.left_crossfall), (right, rule.lines.right_crossfall))):
            measured[rows, k] = measured_crossfall(level[rows, 0], level[rows, k + 1], hinge[rows], edge[rows])
            pct[rows, k] = _crossfall(source, k, measured[rows, k], stations.chainage[rows], crossfalls)
        if rule.lips is not None:
            by_left = np.full(len(rows), rule.lips.side == "left")
            lips = level[rows, 1] + rule.lips.plus, level[rows, 2] + rule.lips.plus
            wanted = np.where(by_left, pct[rows, 0], pct[rows, 1])
            fixed[rows], pct[rows, 0], pct[rows, 1] = kerb_to_kerb(hinge[rows], left[rows], right[rows], *lips, wanted, by_left)
        t = tied[rows] = tie_factor(rule, stations.chainage[rows])
        meets = t[:, None] < 1
        there = np.where(np.isnan(located.met[rows, :1]), measured[rows], located.met[rows, 1:])
        # What is met at a place counts whole, so that what the road asks for itself need not be known there.
        own = np.where(t[:, None] > 0, pct[rows] * t[:, None], 0.0)
        pct[rows] = np.where(meets, there * (1 - t[:, None]) + own, pct[rows])
    met = np.where(np.isnan(located.met[:, 0]), level[:, 0], located.met[:, 0])
    return RoadLinesFound(
        hinge, left, right, pct[:, 0], pct[:, 1], level[:, 0], measured, fixed, tied, met, located.kerb_top, located.ruled
    )


def _some(frames: Frames, rows: Ints | Bools) -> Frames:
    return Frames(frames.chainage[rows], frames.origin[rows], frames.bearing[rows], frames.curvature[rows])


def _crossfall(source: CrossfallSource, column: int, measured: Floats, chainage: Floats, table: CrossfallTable) -> Floats:
    """Crossfall of one side, (k,), %; NaN where the table has no rows."""
    if isinstance(source, GivenCrossfall):
        return np.full(len(chainage), source.pct)
    if not isinstance(source, AdoptedCrossfall):
        return measured
    rows = table.rows
    if not rows:
        return np.full(len(chainage), np.nan)
    found: Floats = np.interp(chainage, [r.chainage for r in rows], [(r.left_pct, r.right_pct)[column] for r in rows])
    return found


def tie_factor(rule: LineRules, chainage: Floats) -> Floats:
    """1 inside the treatment, running straight to 0 at an end that ties to the old road, (k,), smoothly to one that meets another
    road."""
    return np.minimum(*tie_factors(rule, chainage))


def tie_factors(rule: LineRules, chainage: Floats) -> tuple[Floats, Floats]:
    """The same of the treatment's beginning and of its end."""
    out = []
    for tie, distance in ((rule.begin, chainage - rule.from_chainage), (rule.end, rule.to_chainage - chainage)):
        t = np.ones(len(chainage)) if tie is None else np.clip(distance / tie.length, 0, 1)
        if tie is not None and tie.guide is not None:
            t = t * t * (3 - 2 * t)
        # At its ends a tie is what it meets, and the treatment on its own, whatever the last place says.
        out.append(np.where(t > 1 - tolerances.COINCIDENT, 1.0, np.where(t < tolerances.COINCIDENT, 0.0, t)))
    return out[0], out[1]


def bends_of(rules: tuple[LineRules | None, ...], milling: MillingPlan) -> Floats:
    """Chainages at which ties to the old road stop and milling changes its rate, (k,)."""
    found = milling.chainages()
    for rule in rules:
        if rule is not None and rule.begin is not None:
            found.append(rule.from_chainage + rule.begin.length)
        if rule is not None and rule.end is not None:
            found.append(rule.to_chainage - rule.end.length)
    return np.array(found, dtype=float)


def rows_in_use(treatments: TreatmentPlan, plan: TemplatePlan, crossfalls: CrossfallTable, levels: LevelTable) -> Floats:
    """Chainages at which tables that are straight between their rows bend, where something takes its values from them, (k,): of levels
    and crossfalls, and of dimensions of templates, with the ends of transitions. A section between two rows would smooth them away."""
    found: list[float] = []
    for t in treatments.ranges:
        work = t.work
        if isinstance(work, Leave):
            continue
        tables: list[list[float]] = []
        if isinstance(work.governs, LevelTableGoverns):
            tables.append([r.chainage for r in levels.rows])
        if any(isinstance(s, AdoptedCrossfall) for s in (work.left_crossfall, work.right_crossfall)):
            tables.append([r.chainage for r in crossfalls.rows])
        found += [c for table in tables for c in table if t.from_chainage < c < t.to_chainage]
    for item in plan.ranges:
        rows = [c for v in item.dimensions.values() if isinstance(v, list) for c, _ in v]
        rows += [item.from_chainage + item.transition] if item.transition > 0 else []
        found += [c for c in rows if item.from_chainage < c < item.to_chainage]
    return np.unique(np.array(found, dtype=float))


def steps_of(milling: MillingPlan) -> Floats:
    """Chainages at which milling begins or ends at a depth of its own, (k,)."""
    return np.array(milling.abrupt(), dtype=float)


def mill(
    plan: MillingPlan,
    rules: tuple[LineRules | None, ...],
    stations: Stations,
    frames: Frames,
    existing: Polylines,
    lines: RoadLinesFound,
    sources: Sources,
    placed: Placed,
) -> Milling:
    """The milling plan and the notches of ties, on every section. Before a change the stretch that ends counts, after it the
    one that begins."""
    found = _milled(plan, rules, stations, frames, lines, sources, placed)
    parts = (np.array([part[k] for part in found]).reshape(len(found), len(stations.chainage)) for k in range(4))
    return milled(existing, Cuts(*parts), len(plan.stretches))


def _milled(
    plan: MillingPlan,
    rules: tuple[LineRules | None, ...],
    stations: Stations,
    frames: Frames,
    lines: RoadLinesFound,
    sources: Sources,
    placed: Placed,
) -> list[tuple[Floats, Floats, Floats, Floats]]:
    """Left and right offsets of all that is milled, (n,), and the depths there."""
    beside = stations.chainage + 2e-3 * stations.side
    found = []
    for stretch in plan.stretches:
        all_of = slice(None)
        left = lines.left_edge if stretch.left is None else edge_of(stretch.left, frames, sources, -1, placed, all_of)
        right = lines.right_edge if stretch.right is None else edge_of(stretch.right, frames, sources, 1, placed, all_of)
        first, last = stretch.rows[0].chainage, stretch.rows[-1].chainage
        within = (beside >= first - tolerances.CHAINAGE_MERGE) & (beside <= last + tolerances.CHAINAGE_MERGE)
        left, right = np.where(within, left, 0.0), np.where(within, right, 0.0)
        found.append((left, right, depth_along(stretch, beside), share_at(stretch)))
    for i, rule in enumerate(rules):
        if rule is None:
            continue
        here = stations.treatment == i
        c = stations.chainage
        for tie, distance in ((rule.begin, c - rule.from_chainage), (rule.end, rule.to_chainage - c)):
            if tie is not None and tie.notch > 0:
                d = np.where(here, np.clip(1 - distance / tie.length, 0, 1) * tie.notch, 0.0)
                near = here & (distance <= tie.length + tolerances.CHAINAGE_MERGE)
                left, right = np.where(near, lines.left_edge, 0.0), np.where(near, lines.right_edge, 0.0)
                found.append((left, right, d, (1.0, 1.0)))
    # What runs out to nothing is nothing, whatever the last place says.
    sound = [(left, right, np.where(d > tolerances.COINCIDENT, d, 0.0), share) for left, right, d, share in found]
    return [(left, right, share[0] * d, share[1] * d) for left, right, d, share in sound]
