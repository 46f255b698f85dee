"""Where a road meets a line of another one: its treatments begin or end where its hinge crosses that line, and run out of the surface of
the other road, carried on as a plane."""

from typing import NamedTuple

import numpy as np

from saddle import tolerances
from saddle.alignment.alignment import Alignment, Frames
from saddle.geometry.polylines import Floats
from saddle.guides.evaluate import Sources, drawn, joined, line_of, moved_out
from saddle.guides.spec import DrawnLine, LineSource, NearestLine, OfRoad
from saddle.road.spec import Leave, TreatmentPlan
from saddle.terrain.survey_lines import SurveyLines

#: How far from the written chainage of a treatment's end the line is looked for, m.
REACH = 60.0


class Plane(NamedTuple):
    """At hinges: level (k,), m, and the falls outward to the left and right (k,), %."""

    level: Floats
    left_pct: Floats
    right_pct: Floats


def trimmed(treatments: TreatmentPlan, alignment: Alignment, sources: Sources) -> TreatmentPlan:
    """The treatments of a road, those that meet a line of another road from there on, or up to there. Where the hinge does not cross the
    line near the end that is written, that one holds."""
    ranges = []
    for item in treatments.ranges:
        changes: dict[str, float] = {}
        if not isinstance(item.work, Leave):
            for tie, name, at in (
                (item.work.begin, "from_chainage", item.from_chainage),
                (item.work.end, "to_chainage", item.to_chainage),
            ):
                if tie is not None and tie.guide is not None:
                    met = crossing(tie.guide, item.work.hinge, at, alignment, sources)
                    changes |= {name: met} if met is not None else {}
        moved = item.model_copy(update=changes)
        ranges.append(moved if moved.to_chainage > moved.from_chainage else item)
    return treatments.model_copy(update={"ranges": ranges}) if ranges != treatments.ranges else treatments


def crossing(guide: str, hinge: LineSource, near: float, alignment: Alignment, sources: Sources) -> float | None:
    """Chainage at which the hinge crosses a guide in plan, the nearest to a chainage; None where it does not within REACH of it."""
    lines = in_plan(guide, sources)
    if lines is None or len(lines.start) == 0:
        return None

    def aside(points: Floats) -> tuple[Floats, Floats]:
        """Chainages, and how far right of the hinge."""
        c, o = alignment.locate(points)
        known = np.where(np.isfinite(c), c, alignment.start)
        at_hinge: Floats = line_of(hinge, alignment.frames(known), sources, 0).offset
        return c, o - at_hinge

    a, b = lines.start[:, :2].copy(), lines.end[:, :2].copy()
    (c0, d0), (c1, d1) = aside(a), aside(b)
    with np.errstate(invalid="ignore"):
        crosses = (d0 * d1 <= 0) & ((d0 != 0) | (d1 != 0)) & (np.minimum(np.abs(c0 - near), np.abs(c1 - near)) <= REACH)
    if not crosses.any():
        return None
    a, b, d0, d1 = a[crosses], b[crosses], d0[crosses], d1[crosses]
    c = np.full(len(a), np.nan)
    for _ in range(4):  # a secant, which on a straight is there at once
        p = a + (d0 / (d0 - d1))[:, None] * (b - a)
        c, d = aside(p)
        before = d * d0 > 0
        a, d0 = np.where(before[:, None], p, a), np.where(before, d, d0)
        b, d1 = np.where(before[:, None], b, p), np.where(before, d1, d)
        if not (np.abs(d) > tolerances.COINCIDENT).any() or (d0 == d1).any():
            break
    c = c[np.isfinite(c)]
    return float(c[np.argmin(np.abs(c - near))]) if c.size else None


def in_plan(guide: str, sources: Sources) -> SurveyLines | None:
    """A guide that is a line in plan, as segments; None for one that is set out from the alignment."""
    spec = sources.guides.get(guide)
    if spec is None:
        return None
    if isinstance(spec.source, OfRoad):
        road = sources.roads.get(spec.source.road)
        return joined(moved_out(spec.source, road)) if road is not None else None
    if isinstance(spec.source, DrawnLine):
        return drawn(spec.source)
    return sources.lines.get(spec.source.code) if isinstance(spec.source, NearestLine) else None


def carried_on(guide: str, frames: Frames, hinge: Floats, sources: Sources) -> Plane:
    """The surface beside a line, carried on as a plane through its nearest place, at hinges (k,): along the line with its grade, away
    from it with the fall that the other road has from its hinge to it; level where the line is no edge of a road."""
    n = len(hinge)
    lines, spec = in_plan(guide, sources), sources.guides.get(guide)
    nothing = np.full(n, np.nan)
    if lines is None or spec is None or len(lines.start) == 0:
        return Plane(nothing, nothing, nothing)
    p = frames.plan(np.arange(n), np.nan_to_num(hinge))
    a, along = lines.start[:, :2], lines.end[:, :2] - lines.start[:, :2]
    length = np.maximum(np.hypot(*along.T), tolerances.COINCIDENT)
    t = np.clip(((p[:, None, :] - a) * along).sum(axis=2) / length**2, 0.0, 1.0)
    away = p[:, None, :] - (a + t[:, :, None] * along)
    i, row = np.argmin(np.hypot(away[..., 0], away[..., 1]), axis=1), np.arange(n)
    rise = lines.end[i, 2] - lines.start[i, 2]
    ahead = along[i] / length[i, None]
    foot_level = lines.start[i, 2] + t[row, i] * rise
    out = np.column_stack([ahead[:, 1], -ahead[:, 0]])
    fall = np.zeros(n)
    if isinstance(spec.source, OfRoad) and spec.source.line != "hinge":
        fall = _fall_out(spec.source, sources)[i]
        outward = -1.0 if spec.source.line.startswith("left") else 1.0
        out = out * outward
    gradient = (rise / length[i])[:, None] * ahead + fall[:, None] * out
    level = foot_level + (gradient * away[row, i]).sum(axis=1)
    right = 100 * (gradient * frames.to_right).sum(axis=1)
    gone = np.where(np.isfinite(hinge), 0.0, np.nan)
    return Plane(level + gone, -right + gone, right + gone)


def _fall_out(source: OfRoad, sources: Sources) -> Floats:
    """Of every segment of a road's line the fall from the road's hinge to it, rise per metre outward (s,)."""
    road = sources.roads[source.road]
    line, hinge = getattr(road, source.line), road.hinge
    wide = np.hypot(*(line - hinge)[:, :2].T)
    with np.errstate(invalid="ignore", divide="ignore"):
        fall = np.where(wide > tolerances.SAME_EDGE, (line - hinge)[:, 2] / wide, 0.0)
    known = np.isfinite(line[:-1, :2]).all(axis=1) & np.isfinite(line[1:, :2]).all(axis=1)
    known &= np.hypot(*np.diff(line[:, :2], axis=0).T) > tolerances.CHAINAGE_MERGE
    found: Floats = np.nan_to_num((fall[:-1] + fall[1:]) / 2)[known]
    return found
