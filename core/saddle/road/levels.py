"""Hinge levels along the road: what was, what the rule suggests, what was adopted; and best levels on a solved road."""

from dataclasses import dataclass, replace

import numpy as np

from saddle import tolerances
from saddle.errors import GeometryError
from saddle.figures import rounded_up, slack
from saddle.geometry.areas import between
from saddle.geometry.polylines import Bools, Floats, interpolate, merge_offsets, sample
from saddle.overlay.best_levels import Best, Conflict, best_as_written
from saddle.overlay.level_needs import Ends, Limits, Needs
from saddle.road.grades import changes_along, grades_along
from saddle.road.model import RoadModel
from saddle.road.spec import Overlay
from saddle.road.stations import Stations
from saddle.standards.grade_change import speed_for

#: How far beside its values a template is solved to see how it follows them, m and %.
ASIDE = 0.5
#: How often levels are looked for again where a template turns out not to be linear.
MOST_TRIES = 4


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
    """Levels at every chainage. Where two sections stand at one, the lowest is that of the section which needs more, the existing
    level and the design are those of the first that has them."""
    pairs = model.stations
    change = changes_along(model.chainage, model.hinge_level)
    c = model.chainage[pairs.first]
    lowest = lowest_levels(model)
    return Levels(
        c,
        _known_of(pairs, model.lines.existing_hinge),
        # Of a pair of which one is no overlay the other one asks alone.
        pairs.worst_of(np.where(np.isfinite(cover_of(model)), lowest, -np.inf), "greatest"),
        _known_of(pairs, model.hinge_level),
        model.inputs.levels.at(c),
        grades_along(model.chainage, model.hinge_level)[0][pairs.first],
        change,
        speed_for(change, model.inputs.standards.vertical.grade_change),
    )


def _known_of(stations: Stations, values: Floats) -> Floats:
    """The first known value of every pair, one for each chainage."""
    first = np.flatnonzero(stations.first)
    last = np.r_[first[1:], len(values)] - 1
    return np.where(np.isfinite(values[first]), values[first], values[last])


def lowest_levels(model: RoadModel) -> Floats:
    """Lowest hinge level (n,) that keeps the cover everywhere, with the design's shape as it is."""
    d = model.depth
    return model.hinge_level - d.least + cover_of(model)


def cover_of(model: RoadModel) -> Floats:
    """Least cover asked for on every section (n,), m, NaN where there is no overlay."""
    works = [r.work for r in model.inputs.treatments.ranges]
    cover = np.array([w.least_cover if isinstance(w, Overlay) else np.nan for w in works] + [np.nan])
    return cover[model.stations.treatment] * model.lines.tied


def in_range(model: RoadModel, low: float, high: float) -> Bools:
    """Sections of a range, both of every pair: what is written at a chainage holds for both. Of a pair of which one has no overlay
    only the other one counts."""
    here = model.stations.within(low, high)
    overlaid = here & np.isfinite(model.depth.least)
    beside = np.isin(model.stations.pair, model.stations.pair[overlaid])
    return here & (overlaid | ~beside)


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
            f"there is no overlay at chainage {model.chainage[bare[0]]:.1f}, or the survey has a hole there",
            f"chainage {model.chainage[bare[0]]:.1f}", "mark a range that is overlaid and surveyed all along",
        )  # fmt: skip
    fixed = np.full(len(i), np.nan)
    for row in model.inputs.levels.rows:
        if row.pinned:
            fixed[np.abs(model.chainage[i] - row.chainage) <= tolerances.CHAINAGE_MERGE] = row.level
    if fix_ends:
        fixed[[0, -1]] = rounded_up(model.hinge_level[i][[0, -1]], "level")
    # A side without width may have no crossfall, and none is asked for.
    pct, level = np.nan_to_num(np.column_stack([lines.left_pct, lines.right_pct])), model.hinge_level
    # The templates themselves say how their levels follow hinge and crossfalls: as they are, and beside that.
    there = model.find_shape(level, pct).rows(i)
    beside = [model.find_shape(level + ASIDE, pct), *(model.find_shape(level, pct + ASIDE * np.eye(2)[k]) for k in (0, 1))]
    under = model.milling.surface.rows(i)
    grid = merge_offsets(d.left[i], d.right[i], under.offsets, there.offsets)
    now = sample(there, grid)
    rise, left, right = ((sample(b.rows(i), grid) - now) / ASIDE for b in beside)
    back = (lines.existing_hinge - level)[i]
    short = sample(under, grid) + cover_of(model)[i][:, None] - (now + rise * back[:, None])
    nothing = np.zeros_like(grid)
    area = np.column_stack([between(grid, part, nothing).area for part in (rise, left, right)])
    ends = None
    if keep_lips:
        at = np.column_stack([d.left[i], d.right[i]])
        lip = interpolate(model.existing.rows(i), at)
        first, last = grid == at[:, :1], grid == at[:, 1:]
        k = np.column_stack([first.argmax(axis=1), grid.shape[1] - 1 - last[:, ::-1].argmax(axis=1)])
        level_there, rise_there = (np.take_along_axis(v, k, 1) for v in (now + rise * back[:, None], rise))
        fall = np.column_stack([np.take_along_axis(left, k[:, :1], 1), np.take_along_axis(right, k[:, 1:], 1)])
        ends = Ends(lip - level_there, rise_there, fall)
    return Needs(model.chainage[i], lines.existing_hinge[i], pct[i], short, rise, left, right, area, fixed, ends)


@dataclass(frozen=True, slots=True, eq=False)
class Found:
    """Best levels as they are written, with their chainages (k,), m: between these they run straight."""

    best: Best
    chainage: Floats


def best_on(
    model: RoadModel, low: float, high: float, limits: Limits, *, fix_ends: bool = True, keep_lips: bool = False
) -> Found:
    """Best levels over a range of a solved road, as they are written, and found to keep the cover by the templates themselves.
    Raises Conflict or GeometryError."""
    rows = in_range(model, low, high)
    needs = needs_of(model, rows, fix_ends=fix_ends, keep_lips=keep_lips)
    asked = needs
    for _ in range(MOST_TRIES):
        best = best_as_written(asked, limits)
        missing = _missing_cover(model, rows, best)
        if not (missing > tolerances.SHORT_COVER).any():
            break
        # Where a template is not linear (a square tie), what is missing is asked for besides.
        asked = replace(asked, short=asked.short + np.maximum(missing, 0.0)[:, None])
    if (missing > slack("depth")).any():
        at = np.flatnonzero(missing > slack("depth"))
        raise Conflict([(float(needs.chainage[k]), "cover", float(1000 * missing[k])) for k in at])
    places = best.places
    number = np.clip(np.searchsorted(needs.chainage[places], needs.chainage + tolerances.CHAINAGE_MERGE) - 1, 0, None)
    binding = {kind: sorted({int(number[k]) for k in held}) for kind, held in best.binding.items()}
    one = replace(best, level=best.level[places], pct=best.pct[places], places=np.arange(len(places)), binding=binding)
    return Found(one, needs.chainage[places])


def _missing_cover(model: RoadModel, rows: Bools, best: Best) -> Floats:
    """By how much the design falls short of the cover somewhere on each section of a range (k,), m, as the templates solve it.
    Sections that tie to the old road are left out: there the level runs to the old one."""
    i = np.flatnonzero(rows)
    pct, level = np.column_stack([model.lines.left_pct, model.lines.right_pct]), model.hinge_level.copy()
    level[i], pct[i] = best.level, best.pct
    shape, under, d = model.find_shape(level, pct).rows(i), model.milling.surface.rows(i), model.depth
    grid = merge_offsets(d.left[i], d.right[i], under.offsets, shape.offsets)
    depth = sample(shape, grid) - sample(under, grid)
    short: Floats = cover_of(model)[i] - np.where(np.isnan(depth), np.inf, depth).min(axis=1)
    return np.where(model.lines.tied[i] >= 1, short, -np.inf)
