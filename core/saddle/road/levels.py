"""Hinge levels along the road: what was, what the rule suggests, what was adopted; and best levels on a solved road."""

from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.errors import GeometryError
from saddle.geometry.polylines import Bools, Floats, Polylines, interpolate, merge_offsets, sample
from saddle.overlay.best_levels import Best, Limits, Needs, best_levels, volume_of
from saddle.overlay.spec import LevelTable
from saddle.road.model import RoadModel
from saddle.road.spec import Overlay
from saddle.standards.grade_change import grades_pct, speed_for
from saddle.template.compiled import StripSpan


@dataclass(frozen=True, slots=True, eq=False)
class Levels:
    """Per row (n,): chainage; existing level at the hinge; lowest level that keeps the cover at the section's crossfalls;
    design: the level that holds now; adopted: the level table's; grade into the row and change of grade there, %, and the
    greatest speed that the change suits, km/h, all of the design. NaN where there is none."""

    chainage: Floats
    existing: Floats
    lowest: Floats
    design: Floats
    adopted: Floats
    grade_pct: Floats
    change_pct: Floats
    speed_kmh: Floats


def levels_of(model: RoadModel) -> Levels:
    """Levels on every section; of two at one chainage the first."""
    rows = model.stations.first
    c, design = model.chainage[rows], model.hinge_level[rows]
    into, change = grades_pct(c, design)
    return Levels(
        c,
        model.lines.existing_hinge[rows],
        lowest_levels(model)[rows],
        design,
        adopted_at(model.inputs.levels, c),
        into,
        change,
        speed_for(change, model.inputs.standards.vertical.grade_change),
    )


def adopted_at(table: LevelTable, chainage: Floats) -> Floats:
    """Levels of the table (n,), NaN outside it."""
    if not table.rows:
        return np.full(len(chainage), np.nan)
    levels: Floats = np.interp(
        chainage, [r.chainage for r in table.rows], [r.level for r in table.rows], left=np.nan, right=np.nan
    )
    return levels


def lowest_levels(model: RoadModel) -> Floats:
    """Lowest hinge level (n,) that keeps the cover everywhere, with the design's shape as it is."""
    d = model.depth
    return model.hinge_level - d.least + cover_of(model)


def cover_of(model: RoadModel) -> Floats:
    """Least cover asked for on every section (n,), m, NaN where there is no overlay."""
    works = [r.work for r in model.inputs.treatments.ranges]
    cover = np.array([w.least_cover_mm / 1000 if isinstance(w, Overlay) else np.nan for w in works] + [np.nan])
    return cover[model.stations.treatment] * model.lines.tied


def in_range(model: RoadModel, low: float, high: float) -> Bools:
    """Sections of a range, one for every chainage: of two the one that carries an overlay, else the first."""
    c = model.chainage
    number = np.cumsum(model.stations.first) - 1
    bare = ~np.isfinite(model.depth.least)
    order = np.lexsort((np.arange(len(c)), bare, number))
    first = np.zeros(len(c), dtype=bool)
    first[order[np.r_[True, np.diff(number[order]) > 0]]] = True
    here: Bools = first & (c >= low - 1e-6) & (c <= high + 1e-6)
    return here


def needs_of(model: RoadModel, rows: Bools, *, fix_ends: bool, keep_lips: bool = False) -> Needs:
    """What best levels must keep on some sections. Pinned rows of the level table, and with fix_ends both ends at their
    present level, are fixed; with keep_lips the overlay's ends keep the old level, which is not milled away. Raises GeometryError where a section has no overlay."""
    i = np.flatnonzero(rows)
    d, lines = model.depth, model.lines
    if len(i) < 3:
        raise GeometryError("best levels need at least three sections", "range", "mark a longer range")
    bare = i[~np.isfinite(d.least[i])]
    if bare.size:
        raise GeometryError(
            f"there is no overlay at chainage {model.chainage[bare[0]]:.1f}", f"chainage {model.chainage[bare[0]]:.1f}",
            "mark a range that is overlaid all along",
        )  # fmt: skip
    hinge, cover = lines.hinge[i], cover_of(model)[i]
    under = model.milling.surface.rows(i)
    sides = [
        _vertices(under, d.left[i], hinge, hinge, lines.existing_hinge[i], cover),
        _vertices(under, hinge, d.right[i], hinge, lines.existing_hinge[i], cover),
    ]
    fixed = np.full(len(i), np.nan)
    for row in model.inputs.levels.rows:
        if row.pinned:
            fixed[np.abs(model.chainage[i] - row.chainage) <= tolerances.CHAINAGE_MERGE] = row.level
    if fix_ends:
        fixed[[0, -1]] = model.hinge_level[i][[0, -1]]
    width = np.column_stack([hinge - d.left[i], d.right[i] - hinge])
    pct = np.column_stack([lines.left_pct[i], lines.right_pct[i]])
    ends = np.column_stack([d.left[i], d.right[i]])
    lip = interpolate(model.existing.rows(i), ends) if keep_lips else None
    return Needs(model.chainage[i], lines.existing_hinge[i], width, sides[0], sides[1], pct, fixed, lip)


def _vertices(under: Polylines, low: Floats, high: Floats, hinge: Floats, old: Floats, cover: Floats) -> tuple[Floats, Floats]:
    """Distances from the hinge and needed levels above the existing hinge at every vertex between two offsets."""
    grid = merge_offsets(low, high, under.offsets)
    return np.abs(grid - hinge[:, None]), sample(under, grid) + cover[:, None] - old[:, None]


@dataclass(frozen=True, slots=True, eq=False)
class Saving:
    """Best levels with what they save over the range: volume m3 and mass t, negative where they need more."""

    best: Best
    chainage: Floats
    volume: float
    mass: float


def best_on(
    model: RoadModel, low: float, high: float, limits: Limits, *, fix_ends: bool = True, keep_lips: bool = False
) -> Saving:
    """Best levels over a range of a solved road. Raises Conflict or GeometryError."""
    rows = in_range(model, low, high)
    needs = needs_of(model, rows, fix_ends=fix_ends, keep_lips=keep_lips)
    best = best_levels(needs, limits)
    saved = volume_of(needs, model.hinge_level[rows], needs.pct) - best.volume
    return Saving(best, needs.chainage, saved, saved * regulating_density(model, rows))


def regulating_density(model: RoadModel, rows: Bools) -> float:
    """Density of the courses that take up what levels change, the lowest over the old pavement, t/m3: the mean over the
    strips of some sections. Raises GeometryError where none is known."""
    total = count = 0.0
    for group in model.groups:
        here = int(rows[group.rows].sum())
        for span in (*group.left.half.spans, *group.right.half.spans):
            if here and isinstance(span, StripSpan) and span.over_existing is not None:
                material = model.inputs.materials.get(span.over_existing.courses[-1].material)
                if material is not None:
                    total += here * material.density
                    count += here
    if count == 0:
        raise GeometryError("no overlay course of the range has a known material", "range", "give the make-ups materials")
    return total / count
