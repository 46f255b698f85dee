"""From documents to the road, stage by stage. Each stage is kept under the hash of what it reads.

stations -> frames -> existing sections -> hinge, edges and crossfalls -> template points -> hinge levels ->
courses and kerbs -> side slopes -> problems; and earthworks, when somebody asks for them.
"""

from dataclasses import replace

import numpy as np

from saddle.alignment.alignment import Frames, build
from saddle.errors import TemplateError
from saddle.geometry.areas import between, cut_and_fill
from saddle.geometry.polylines import Floats, Polylines, merge_offsets, mirror, sample
from saddle.guides.evaluate import GuideLine, Sources, guide_corners, line_of, sound_guides
from saddle.guides.follow import follow
from saddle.guides.spec import EdgeSource, LineSource, OnGuide
from saddle.road.cache import StageCache
from saddle.road.designs import LEFT, RIGHT, Designs, Surroundings, needs_levels
from saddle.road.lines import Placed, by_points, find_lines, mill, tie_ends, ties_of
from saddle.road.model import (
    Earthworks,
    OverlayDepth,
    RoadInputs,
    RoadLinesFound,
    RoadModel,
    TemplateSections,
)
from saddle.road.problems import find_problems
from saddle.road.spec import Overlay, Reconstruct
from saddle.road.stations import Stations, place_stations
from saddle.template.compiled import CompiledTemplate, Parts, compile_template
from saddle.template.spec import surfaces_of
from saddle.template.ties import Point
from saddle.terrain.cut import cut_sections
from saddle.terrain.structures import crossed
from saddle.terrain.tin import Tin

#: The surface that the overlay lies on.
MAIN_SURFACE = "main"


def solve(inputs: RoadInputs, cache: StageCache | None = None, rows: np.ndarray | None = None) -> RoadModel:
    """The road that follows from the documents.

    rows: only these of the stations (indices in road order), for previews. Raises SaddleError subclasses for
    documents that cannot be computed at all; everything else is a problem in the model.
    """
    cache = cache or StageCache()
    alignment = cache.get("alignment", lambda: build(inputs.alignment), inputs.alignment)
    guides, crooked = sound_guides(inputs.guides)
    sources = Sources(alignment, inputs.lines, guides)
    used = _guides_in_use(inputs)
    corners = cache.get("corners", lambda: _corners(used, sources), inputs.alignment, guides, used)
    corners = np.concatenate([corners, tie_ends(inputs), inputs.milling.chainages()])
    steps = np.array(inputs.milling.abrupt(), dtype=float)
    stations = place_stations(alignment, inputs.settings, inputs.treatments, inputs.template_plan, corners, steps)
    if rows is not None:
        stations = Stations(*(a[rows] for a in (stations.chainage, stations.side, stations.treatment, stations.template)))
    frames = alignment.frames(stations.chainage)
    existing = cache.get(
        "existing",
        lambda: _cut(inputs, frames, inputs.surface),
        inputs.surface, frames, inputs.settings.left, inputs.settings.right,
    )  # fmt: skip
    mirrored = cache.get("mirrored", lambda: mirror(existing), existing)
    followed = cache.get("followed", lambda: follow(inputs.follow, frames, sources), inputs.follow, inputs.lines, guides, frames)
    compiled, faulty = _compile(inputs)
    wanted = _sources_of(compiled)
    cuts = _cut_others(inputs, compiled, frames, existing, mirrored, cache)

    def surroundings(lines: RoadLinesFound) -> Surroundings:
        given = cache.get("sources", lambda: _find(wanted, frames, sources, lines), wanted, inputs.lines, guides, frames, lines)
        return Surroundings(
            inputs.treatments, inputs.template_plan, stations, lines, followed, given, cuts, inputs.levels, inputs.profiles
        )

    def lines_with(placed: Placed) -> RoadLinesFound:
        return cache.get(
            "lines", lambda: find_lines(inputs, stations, frames, existing, sources, placed),
            inputs.treatments, inputs.lines, guides, stations, existing, inputs.crossfalls, placed,
        )  # fmt: skip

    lines, placed = lines_with({}), {}
    if by_points(inputs):
        # Edges at points of the template: the points stand first, whose offsets need no edges.
        placed = Designs(surroundings(lines), compiled).offsets()
        lines = lines_with(placed)
    milling, milled_key = cache.keyed(
        "milling", lambda: mill(inputs, stations, frames, existing, lines, sources, placed),
        inputs.milling, ties_of(inputs), inputs.lines, guides, stations, existing, lines, placed,
    )  # fmt: skip
    under = milling.surface
    mirrored_under = cache.get("mirrored under", lambda: mirror(under), milled_key)
    around = surroundings(lines)
    designs = Designs(around, compiled)
    level, candidates = cache.get(
        "levels",
        lambda: designs.hinge_levels(under),
        milled_key, lines, designs.shape, designs.limits, designs.cover, designs.bridged, designs.rule.tolist(), designs.given,
        stations.chainage,
    )  # fmt: skip
    if needs_levels(compiled, followed):
        designs = Designs(around, compiled, level)
    depth = cache.get(
        "depth", lambda: _depth(under, designs.shape, level, designs), milled_key, designs.shape, level, designs.limits
    )
    built = [
        cache.keyed(
            f"template {group.key}",
            lambda g=group: designs.build(g, level, {LEFT: mirrored, RIGHT: existing}, {LEFT: mirrored_under, RIGHT: under}),  # type: ignore[misc]
            group.template,
            group.rows,
            group.points,
            group.dimensions,
            group.boundary,
            group.surfaces,
            stations.chainage,
            level[group.rows],
            designs.limits,
            existing,
            milled_key,
        )
        for group in designs.groups
    ]
    groups, keys = tuple(g for g, _ in built), [key for _, key in built]
    reach = max(-inputs.settings.left, inputs.settings.right)
    met = cache.get("structures", lambda: tuple(crossed(inputs.structures, frames, reach)), inputs.structures, frames, reach)

    def earthworks() -> Earthworks:
        return cache.get("earthworks", lambda: _earthworks(under, groups, len(frames.chainage)), milled_key, keys)

    model = RoadModel(
        inputs, alignment, stations, frames, existing, lines, level, candidates, milling, depth, groups, earthworks, followed, met
    )
    found = cache.get(
        "problems", lambda: find_problems(model, faulty, crooked), stations, lines, level, milled_key, depth, keys, inputs.crossfalls, inputs.levels, inputs.settings.design_speed_kmh, inputs.standards,
        met, followed, inputs.treatments, inputs.template_plan, inputs.follow, faulty, crooked,
    )  # fmt: skip
    return replace(model, problems=found)


def _guides_in_use(inputs: RoadInputs) -> list[tuple[str, float, float]]:
    """Keys of the guides that points, edges or the hinge follow, and the stretch over which they do."""
    used: list[tuple[EdgeSource, float, float]] = [(r.source, r.from_chainage, r.to_chainage) for r in inputs.follow.rules]
    for treatment in inputs.treatments.ranges:
        if isinstance(treatment.work, Overlay | Reconstruct):
            sources = (treatment.work.hinge, treatment.work.left_edge, treatment.work.right_edge)
            used += [(source, treatment.from_chainage, treatment.to_chainage) for source in sources]
    for item in inputs.template_plan.ranges:
        if item.template in inputs.templates:
            for half in inputs.templates[item.template].halves():
                used += [(source, item.from_chainage, item.to_chainage) for source in half.sources()]
    return [(source.guide, low, high) for source, low, high in used if isinstance(source, OnGuide)]


def _corners(used: list[tuple[str, float, float]], sources: Sources) -> Floats:
    """Where the guides in use bend, within the stretch that uses them, (k,)."""
    found = [np.empty(0)]
    for key, low, high in used:
        if key in sources.guides:
            corners = guide_corners(sources.guides[key], sources)
            found.append(corners[(corners >= low) & (corners <= high)])
    return np.concatenate(found)


def _cut(inputs: RoadInputs, frames: Frames, surface: Tin) -> Polylines:
    n = len(frames.chainage)
    return cut_sections(
        surface,
        frames.origin,
        frames.to_right,
        np.full(n, float(inputs.settings.left)),
        np.full(n, float(inputs.settings.right)),
    )


def _cut_others(
    inputs: RoadInputs,
    compiled: dict[str, CompiledTemplate],
    frames: Frames,
    existing: Polylines,
    mirrored: Polylines,
    cache: StageCache,
) -> dict[str, dict[int, Polylines]]:
    """Every surface that templates look at, cut on all sections, per side."""
    cuts = {MAIN_SURFACE: {LEFT: mirrored, RIGHT: existing}}
    nothing = Polylines(np.empty((len(frames.chainage), 0)), np.empty((len(frames.chainage), 0)))
    for name in sorted({n for key in compiled for n in surfaces_of(inputs.templates[key], inputs.make_ups)} - {MAIN_SURFACE}):
        surface = inputs.surfaces.get(name)
        if surface is None:
            cuts[name] = {LEFT: nothing, RIGHT: nothing}
            continue
        cut = cache.get(
            f"surface {name}", lambda s=surface: _cut(inputs, frames, s),  # type: ignore[misc]
            surface, frames, inputs.settings.left, inputs.settings.right,
        )  # fmt: skip
        cuts[name] = {LEFT: cache.get(f"mirrored {name}", lambda c=cut: mirror(c), cut), RIGHT: cut}  # type: ignore[misc]
    return cuts


def _sources_of(compiled: dict[str, CompiledTemplate]) -> tuple[tuple[LineSource, int], ...]:
    """Guides and lines that the templates in use look for, with the side that looks."""
    wanted: dict[tuple[LineSource, int], None] = {}
    for template in compiled.values():
        for side, half in ((LEFT, template.left), (RIGHT, template.right)):
            for point in half.points:
                if isinstance(point, Point):
                    wanted.update({(source, side): None for source in point.sources()})
            if half.boundary is not None:
                wanted[half.boundary, side] = None
    return tuple(wanted)


def _find(
    wanted: tuple[tuple[LineSource, int], ...], frames: Frames, sources: Sources, lines: RoadLinesFound
) -> dict[tuple[LineSource, int], GuideLine]:
    """What every source gives, as outward offset and level. What lies on the other side of the hinge is not followed, so
    that a mirrored template may name the guide of one side."""
    found = {}
    for source, side in wanted:
        line = line_of(source, frames, sources, side)
        with np.errstate(invalid="ignore"):
            beyond = side * (line.offset - lines.hinge) > 0
        found[source, side] = GuideLine(np.where(beyond, side * line.offset, np.nan), np.where(beyond, line.level, np.nan))
    return found


def _compile(inputs: RoadInputs) -> tuple[dict[str, CompiledTemplate], dict[str, str]]:
    """Templates in use, compiled, and what is wrong with those that cannot be."""
    parts = Parts(inputs.make_ups, inputs.kerbs)
    compiled, faulty = {}, {}
    for key in {r.template for r in inputs.template_plan.ranges}:
        if key not in inputs.templates:
            faulty[key] = f"there is no template “{key}”"
            continue
        try:
            compiled[key] = compile_template(inputs.templates[key], parts)
        except TemplateError as error:
            faulty[key] = f"{error.subject}: {error.message}"
    return compiled, faulty


def _depth(existing: Polylines, shape: Polylines, level: Floats, designs: Designs) -> OverlayDepth:
    left = np.where(designs.is_overlay, -designs.limits[LEFT], np.nan)
    right = np.where(designs.is_overlay, designs.limits[RIGHT], np.nan)
    reaches = right > left
    low, high = np.where(reaches, left, np.nan), np.where(reaches, right, np.nan)
    grid = merge_offsets(low, high, existing.offsets, shape.offsets)
    design, e = sample(shape, grid) + level[:, None], sample(existing, grid)
    d = design - e
    known = np.isfinite(d).any(axis=1)
    filled_low, filled_high = np.where(np.isnan(d), np.inf, d), np.where(np.isnan(d), -np.inf, d)
    i, j = filled_low.argmin(axis=1), filled_high.argmax(axis=1)
    row = np.arange(len(d))
    area = between(grid, design, e).area

    def where(values: Floats) -> Floats:
        return np.where(known, values, np.nan)

    return OverlayDepth(
        grid, design, e, low, high,
        where(d[row, i]), where(grid[row, i]), where(d[row, j]), where(grid[row, j]), where(area / (high - low)),
    )  # fmt: skip


def _earthworks(existing: Polylines, groups: tuple[TemplateSections, ...], n: int) -> Earthworks:
    """Cut and fill between the existing surface and the formation, from catch point to catch point."""
    width = 0
    pieces: list[tuple[TemplateSections, list[Floats], list[Floats]]] = []
    for g in groups:
        offsets: list[Floats] = []
        levels: list[Floats] = []
        for h in (g.left, g.right):
            offsets.append((h.side * h.layers.offsets)[:, :: h.side])
            levels.append(h.layers.floor[:, :: h.side])
        pieces.append((g, offsets, levels))
        width = max(width, sum(part.shape[1] for part in offsets))
    formation = Polylines(np.full((n, width), np.inf), np.full((n, width), np.nan))
    low, high = np.full(n, np.nan), np.full(n, np.nan)
    for g, offsets, levels in pieces:
        o, z = np.concatenate(offsets, axis=1), np.concatenate(levels, axis=1)
        missing = np.isnan(o)
        order = np.argsort(missing, axis=1, kind="stable")
        packed = np.take_along_axis(np.where(missing, np.inf, o), order, 1)
        formation.offsets[g.rows, : o.shape[1]] = packed
        formation.levels[g.rows, : o.shape[1]] = np.take_along_axis(np.where(missing, np.nan, z), order, 1)
        low[g.rows], high[g.rows] = -g.left.slopes.catch_offset, g.right.slopes.catch_offset
    cut, fill = cut_and_fill(existing, formation, low, high)
    unknown = np.isnan(low) | np.isnan(high)
    gone = np.where(unknown, np.nan, 0.0)
    return Earthworks(cut.area + gone, cut.moment + gone, fill.area + gone, fill.moment + gone, formation, low, high)
