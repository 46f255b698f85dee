"""What comes beyond a road's outermost points, and where it ends: medians by the first shape that has room, bounds against other roads."""

from collections.abc import Mapping
from typing import Literal

import numpy as np

from saddle import tolerances
from saddle.alignment.alignment import Frames
from saddle.errors import TemplateError
from saddle.figures import slack
from saddle.geometry.polylines import Floats, Ints
from saddle.guides.evaluate import GuideLine, RoadLines, Sources, guide_line, joined
from saddle.guides.spec import OnGuide, PointSource
from saddle.road.designs import LEFT, RIGHT, Bounds, Designs
from saddle.road.model import Taken
from saddle.road.spec import Ends, EndsBeside, MedianBeyond, TemplatePlan, ToMiddle
from saddle.road.stations import AFTER, BEFORE, Stations
from saddle.template.compiled import CompiledTemplate, Parts
from saddle.template.median import NOTHING, MedianSpec, Past, Use, compile_use
from saddle.template.spec import TemplateSpec
from saddle.terrain.survey_lines import nearest

#: How far from the hinge another road is looked for, m.
REACH = 200.0
SIDES: tuple[Literal[-1, 1], ...] = (LEFT, RIGHT)
#: Values of Taken.shape: nothing is asked for, the road ends there, no shape has room, there is no line to reach to.
NOT_ASKED, ENDS, NONE_FITS, NO_LINE = -1, -2, -3, -4


def uses_of(plan: TemplatePlan, medians: Mapping[str, MedianSpec]) -> tuple[Use, ...]:
    """All that templates may be used as along the road: on their own first, then with what may come beyond them."""
    found: dict[Use, None] = {Use(r.template): None for r in plan.ranges}
    for item in plan.ranges:
        for left in _pasts(item.left_beyond, medians):
            found.update({Use(item.template, left, right): None for right in _pasts(item.right_beyond, medians)})
    return tuple(found)


def _pasts(beyond: Ends | MedianBeyond | None, medians: Mapping[str, MedianSpec]) -> list[Past | None]:
    """What may come beyond a side."""
    if beyond is None:
        return [None]
    if isinstance(beyond, Ends):
        return [NOTHING]
    median = medians.get(beyond.median)
    shapes = median.shapes if median is not None else []
    return [None, NOTHING, *(Past(s.template, beyond.guide) for s in shapes if s.template is not None)]


def compile_used(
    uses: tuple[Use, ...], templates: dict[str, TemplateSpec], parts: Parts
) -> tuple[dict[Use, CompiledTemplate], dict[str, str]]:
    """Templates as they are used, compiled, and by their keys what is wrong with those that cannot be."""
    compiled: dict[Use, CompiledTemplate] = {}
    faulty: dict[str, str] = {}
    for use in uses:
        if use.template in faulty:
            continue
        try:
            compiled[use] = compile_use(use, templates, parts)
        except TemplateError as error:
            alone = use.left is None and use.right is None
            faulty[use.template] = (
                f"{error.subject}: {error.message}" if alone else f"with a median: {error.subject}: {error.message}"
            )
            if use.template not in templates:
                faulty[use.template] = f"there is no template “{use.template}”"
    return compiled, faulty


def own_uses(plan: TemplatePlan, compiled: dict[Use, CompiledTemplate], stations: Stations) -> Ints:
    """Per section which of the compiled templates stands there on its own (n,), -1 for none."""
    number = {use: i for i, use in enumerate(compiled)}
    of_range = np.array([*(number.get(Use(r.template), -1) for r in plan.ranges), -1], dtype=np.intp)
    found: Ints = of_range[stations.template]
    return found


def nothing_taken(stations: Stations) -> Taken:
    """Where the templates stand on their own."""
    n = len(stations.chainage)
    widths: dict[int, Floats] = {s: np.full(n, np.nan) for s in SIDES}
    levels: dict[int, Floats] = {s: np.full(n, np.nan) for s in SIDES}
    return Taken({s: np.full(n, NOT_ASKED, dtype=np.intp) for s in SIDES}, widths, levels)


def take_shapes(
    plan: TemplatePlan,
    medians: dict[str, MedianSpec],
    stations: Stations,
    own: Ints,
    designs: Designs,
    found: dict[tuple[PointSource, int], GuideLine],
) -> Taken:
    """What comes beyond the templates on every section. own: (n,) which template stands there, -1 for none; designs: of the templates on their own. Of a pair each section looks at the one
    before or after it, so that the stations are those of the whole road."""
    taken = nothing_taken(stations)
    for i, item in enumerate(plan.ranges):
        rows = np.flatnonzero((stations.template == i) & (own >= 0))
        for side in SIDES:
            beyond = item.beyond(side)
            if isinstance(beyond, Ends):
                taken.shape[side][rows] = ENDS
            elif beyond is not None:
                line = found.get((OnGuide(guide=beyond.guide), side))
                width = np.full(len(rows), np.nan) if line is None else line.offset[rows] - designs.ends[side][rows]
                taken.level[side][rows] = np.nan if line is None else line.level[rows]
                taken.width[side][rows] = width
                taken.shape[side][rows] = _first_that_fits(medians.get(beyond.median), _felt(stations.side[rows], width))
    return taken


def taken_on(taken: Taken, rows: tuple[int, ...]) -> Taken:
    """The same on some of the sections."""
    some = np.array(rows, dtype=np.intp)
    shape = {side: values[some] for side, values in taken.shape.items()}
    width, level = ({side: values[some] for side, values in of.items()} for of in (taken.width, taken.level))
    return Taken(shape, width, level)


def uses_taken(
    plan: TemplatePlan, medians: dict[str, MedianSpec], compiled: dict[Use, CompiledTemplate], stations: Stations, taken: Taken
) -> Ints:
    """Which of the compiled templates stands on every section (n,), with what comes beyond it. Where there is no line to reach to the
    template's own slopes hold; where no shape has room the road ends at its outermost point."""
    number = {use: i for i, use in enumerate(compiled)}
    use = own_uses(plan, compiled, stations)
    for i, item in enumerate(plan.ranges):
        rows = np.flatnonzero((stations.template == i) & (use >= 0))
        shapes = np.stack([taken.shape[side][rows] for side in SIDES], axis=1)
        for left, right in {tuple(pair) for pair in shapes.tolist()}:
            wanted = Use(item.template, _past(item.left_beyond, left, medians), _past(item.right_beyond, right, medians))
            use[rows[(shapes == (left, right)).all(axis=1)]] = number.get(wanted, -1)
    return use


def _felt(side: Ints, width: Floats) -> Floats:
    """The widths (k,) that count on sections: of a pair those in the middle of the stretch that each of the two belongs to, so that where
    a shape changes both stand."""
    out = width.copy()
    before, after = np.flatnonzero(side == BEFORE), np.flatnonzero(side == AFTER)
    for rows, by in ((before[before > 0], -1), (after[after < len(width) - 1], 1)):
        middle = (width[rows] + width[rows + by]) / 2
        out[rows] = np.where(np.isnan(middle), width[rows], middle)
    return out


def shape_changes(plan: TemplatePlan, medians: dict[str, MedianSpec], stations: Stations, taken: Taken) -> Floats:
    """Chainages at which a median is just as wide as one of its shapes needs (k,), where two sections are to stand: between two sections
    its width runs straight."""
    c, found = stations.chainage, list[Floats]()
    for i, item in enumerate(plan.ranges):
        within = (stations.template[:-1] == i) & (stations.template[1:] == i) & (np.diff(c) > 4 * tolerances.NEAR_END)
        for side in SIDES:
            beyond = item.beyond(side)
            median = medians.get(beyond.median) if isinstance(beyond, MedianBeyond) else None
            first, last = taken.width[side][:-1], taken.width[side][1:]
            for least in {s.least_width for s in median.shapes if s.least_width > 0} if median is not None else ():
                with np.errstate(invalid="ignore", divide="ignore"):
                    r = np.flatnonzero(within & ((first - least) * (last - least) < 0))
                    at = c[r] + (first[r] - least) / (first[r] - last[r]) * (c[r + 1] - c[r])
                found.append(at[(at - c[r] > tolerances.NEAR_END) & (c[r + 1] - at > tolerances.NEAR_END)])
    return np.unique(np.concatenate(found)) if found else np.empty(0)


def all_steps(steps: Floats, changes: Floats) -> Floats:
    """Where something changes abruptly, of whatever cause."""
    return np.concatenate([steps, changes])


def _first_that_fits(median: MedianSpec | None, width: Floats) -> Ints:
    """Number of the first shape that has room in a width (k,), m, or NONE_FITS, or NO_LINE."""
    out: Ints = np.where(np.isnan(width), NO_LINE, NONE_FITS)
    for k, shape in reversed(list(enumerate(median.shapes if median is not None else []))):
        # What lies no further inside than a survey is exact is no width at all.
        least = shape.least_width - slack("offset") if shape.least_width > 0 else -tolerances.SAME_EDGE
        out = np.where(width >= least, k, out)
    return out


def reached_lines(
    found: dict[tuple[PointSource, int], GuideLine], plan: TemplatePlan, stations: Stations, taken: Taken
) -> dict[tuple[PointSource, int], GuideLine]:
    """What sources give, medians of no width, as exactly as a survey is, ending where they begin."""
    out = dict(found)
    for i, item in enumerate(plan.ranges):
        for side in SIDES:
            beyond = item.beyond(side)
            if not isinstance(beyond, MedianBeyond):
                continue
            width = taken.width[side]
            inside = (stations.template == i) & (taken.shape[side] >= 0) & (np.abs(width) <= tolerances.SAME_EDGE)
            if inside.any():
                key: tuple[PointSource, int] = (OnGuide(guide=beyond.guide), side)
                out[key] = GuideLine(np.where(inside, out[key].offset - width, out[key].offset), out[key].level)
    return out


def _past(beyond: Ends | MedianBeyond | None, shape: int, medians: Mapping[str, MedianSpec]) -> Past | None:
    """What comes beyond a side where a shape was taken."""
    if not isinstance(beyond, MedianBeyond):
        return None if beyond is None else NOTHING
    if shape == NO_LINE:
        return None
    template = medians[beyond.median].shapes[shape].template if shape >= 0 else None
    return NOTHING if template is None else Past(template, beyond.guide)


def bounds_at(
    beside: tuple[EndsBeside, ...], neighbours: Mapping[str, RoadLines], frames: Frames, sources: Sources, designs: Designs
) -> Bounds:
    """Where the road ends against others: per side outward offsets (n,), m, NaN where nothing bounds it; of several the nearest. A guide
    that runs on the other side of the hinge bounds nothing."""
    n = len(frames.chainage)
    out: dict[int, Floats] = {side: np.full(n, np.nan) for side in SIDES}
    for item in beside:
        side = LEFT if item.side == "left" else RIGHT
        if isinstance(item.to, ToMiddle):
            at = _middle(neighbours.get(item.to.road), frames, designs, side)
        else:
            guide = sources.guides.get(item.to.guide)
            at = side * guide_line(guide, frames, sources).offset if guide is not None else np.full(n, np.nan)
            at = np.where(at >= side * designs.lines.hinge, at, np.nan)
        out[side] = np.fmin(out[side], at)
    return out


def facing(road: RoadLines | None, frames: Frames, hinge: Floats, side: int) -> Floats:
    """Outward offset of the nearer end of another road that lies on a side of the hinge (n,), NaN where it does not."""
    n = len(hinge)
    if road is None:
        return np.full(n, np.nan)
    at_hinge = Frames(
        frames.chainage, frames.origin + np.nan_to_num(hinge)[:, None] * frames.to_right, frames.bearing, frames.curvature
    )
    ends = [
        side * nearest(at_hinge, joined(line), REACH, side, tolerances.COMPUTED_END)[0]
        for line in (road.left_end, road.right_end)
    ]
    return side * hinge + np.fmin(*ends)


def _middle(road: RoadLines | None, frames: Frames, designs: Designs, side: int) -> Floats:
    own = designs.ends[side]
    at = facing(road, frames, designs.lines.hinge, side)
    return np.where(np.isnan(at), np.nan, np.maximum((own + at) / 2, own))
