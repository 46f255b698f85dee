"""From documents to the road, stage by stage. Each stage is kept under the hash of what it reads.

stations -> frames -> existing sections -> hinge, edges and crossfalls -> template points -> hinge levels ->
courses and kerbs -> side slopes -> earthworks -> problems.
"""

from dataclasses import replace

import numpy as np

from saddle.alignment.alignment import Frames, build
from saddle.errors import TemplateError
from saddle.geometry.areas import between, cut_and_fill
from saddle.geometry.polylines import Bools, Floats, Polylines, merge_offsets, mirror, sample
from saddle.guides.evaluate import Sources, guide_corners, sound_guides
from saddle.guides.follow import Followed, follow, of_side
from saddle.guides.spec import LineSource, OnGuide
from saddle.overlay.governing import bridge, cover_governs
from saddle.road.cache import StageCache
from saddle.road.lines import find_lines
from saddle.road.model import (
    Earthworks,
    HalfSections,
    OverlayDepth,
    RoadInputs,
    RoadLinesFound,
    RoadModel,
    TemplateSections,
)
from saddle.road.problems import find_problems
from saddle.road.spec import Overlay, Reconstruct
from saddle.road.stations import Stations, place_stations
from saddle.template.compiled import CompiledHalf, CompiledTemplate, Parts, compile_template, solve_points, surface_columns
from saddle.template.layers import build_zones, overlay_limit
from saddle.template.slopes import side_slopes
from saddle.terrain.cut import cut_sections
from saddle.terrain.structures import crossed

LEFT, RIGHT = -1, 1


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
    stations = place_stations(alignment, inputs.settings, inputs.treatments, inputs.template_plan, corners)
    if rows is not None:
        stations = Stations(*(a[rows] for a in (stations.chainage, stations.side, stations.treatment, stations.template)))
    frames = alignment.frames(stations.chainage)
    existing = cache.get(
        "existing",
        lambda: _cut(inputs, frames),
        inputs.surface, frames, inputs.settings.left, inputs.settings.right,
    )  # fmt: skip
    mirrored = cache.get("mirrored", lambda: mirror(existing), existing)
    lines = cache.get(
        "lines", lambda: find_lines(inputs, stations, frames, existing, sources),
        inputs.treatments, inputs.lines, guides, stations, existing,
    )  # fmt: skip
    followed = cache.get("followed", lambda: follow(inputs.follow, frames, sources), inputs.follow, inputs.lines, guides, frames)
    compiled, faulty = _compile(inputs)
    designs = _Designs(inputs, stations, lines, compiled, followed)
    level = cache.get(
        "levels",
        lambda: designs.hinge_levels(existing),
        existing, lines, designs.shape, designs.limits, designs.cover, designs.bridged, stations.chainage,
    )  # fmt: skip
    if any(np.isfinite(f.level).any() for f in followed):
        designs = _Designs(inputs, stations, lines, compiled, followed, level)
    depth = cache.get(
        "depth", lambda: _depth(existing, designs.shape, level, designs), existing, designs.shape, level, designs.limits
    )
    groups = tuple(
        cache.get(
            f"template {group.key}",
            lambda g=group: designs.build(g, level, existing, mirrored),  # type: ignore[misc]
            group.template,
            group.rows,
            group.points,
            level[group.rows],
            designs.limits,
            existing,
        )
        for group in designs.groups
    )
    reach = max(-inputs.settings.left, inputs.settings.right)
    met = cache.get("structures", lambda: tuple(crossed(inputs.structures, frames, reach)), inputs.structures, frames, reach)
    earthworks = cache.get("earthworks", lambda: _earthworks(existing, groups, len(frames.chainage)), existing, groups)
    model = RoadModel(inputs, alignment, stations, frames, existing, lines, level, depth, groups, earthworks, followed, met)
    found = cache.get(
        "problems", lambda: find_problems(model, faulty, crooked), stations, lines, level, depth, groups, earthworks,
        followed, inputs.treatments, inputs.template_plan, inputs.follow, faulty, crooked,
    )  # fmt: skip
    return replace(model, problems=found)


def _guides_in_use(inputs: RoadInputs) -> list[tuple[str, float, float]]:
    """Keys of the guides that points, edges or the hinge follow, and the stretch over which they do."""
    used: list[tuple[LineSource, float, float]] = [(r.source, r.from_chainage, r.to_chainage) for r in inputs.follow.rules]
    for treatment in inputs.treatments.ranges:
        if isinstance(treatment.work, Overlay | Reconstruct):
            sources = (treatment.work.hinge, treatment.work.left_edge, treatment.work.right_edge)
            used += [(source, treatment.from_chainage, treatment.to_chainage) for source in sources]
    return [(source.guide, low, high) for source, low, high in used if isinstance(source, OnGuide)]


def _corners(used: list[tuple[str, float, float]], sources: Sources) -> Floats:
    """Where the guides in use bend, within the stretch that uses them, (k,)."""
    found = [np.empty(0)]
    for key, low, high in used:
        if key in sources.guides:
            corners = guide_corners(sources.guides[key], sources)
            found.append(corners[(corners >= low) & (corners <= high)])
    return np.concatenate(found)


def _cut(inputs: RoadInputs, frames: Frames) -> Polylines:
    n = len(frames.chainage)
    return cut_sections(
        inputs.surface,
        frames.origin,
        frames.to_right,
        np.full(n, float(inputs.settings.left)),
        np.full(n, float(inputs.settings.right)),
    )


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


class _Group:
    """A template on its rows, its points solved relative to the hinge but for the level."""

    def __init__(
        self,
        key: str,
        template: CompiledTemplate,
        rows: np.ndarray,
        lines: RoadLinesFound,
        followed: tuple[Followed, ...],
        level: Floats | None,
    ) -> None:
        self.key, self.template, self.rows = key, template, rows
        self.points: dict[int, tuple[Floats, Floats]] = {}
        hinge = lines.hinge[rows]
        for side, half, pct in ((LEFT, template.left, lines.left_pct), (RIGHT, template.right, lines.right_pct)):
            instead = {
                name: (
                    side * (f.offset[rows] - hinge),
                    f.level[rows] - level[rows] if level is not None else np.full(len(rows), np.nan),
                )
                for name, f in of_side(followed, side).items()
            }
            u, z = solve_points(half, pct[rows], instead)
            self.points[side] = u + side * hinge[:, None], z

    def half(self, side: int) -> CompiledHalf:
        return self.template.left if side == LEFT else self.template.right


class _Designs:
    """Templates along the road: their shape relative to the hinge, how far the overlay reaches, what governs.

    Points that follow a level can be placed only once the hinge has its level: the first time without it their own
    ties hold, the second time they are given theirs.
    """

    def __init__(
        self,
        inputs: RoadInputs,
        stations: Stations,
        lines: RoadLinesFound,
        compiled: dict[str, CompiledTemplate],
        followed: tuple[Followed, ...],
        level: Floats | None = None,
    ) -> None:
        n = len(stations.chainage)
        self.lines, self.stations = lines, stations
        works = [r.work for r in inputs.treatments.ranges]
        overlays = [w if isinstance(w, Overlay) else None for w in works]
        index = stations.treatment
        keys = [r.template for r in inputs.template_plan.ranges]
        key_of = np.array([*keys, ""], dtype=object)[stations.template]
        worked = np.array([isinstance(w, Overlay | Reconstruct) for w in works] + [False])[index]
        self.is_overlay: Bools = np.array([w is not None for w in overlays] + [False])[index]
        self.bridged: Bools = np.array([isinstance(w, Reconstruct) for w in works] + [False])[index]
        self.cover = np.array([w.least_cover_mm / 1000 if w else 0.0 for w in overlays] + [0.0])[index]
        saw_cut = np.array([w.saw_cut if w else 0.0 for w in overlays] + [0.0])[index]
        least_new = np.array([w.least_new_width if w else 0.0 for w in overlays] + [0.0])[index]
        self.groups = [
            _Group(key, template, rows, lines, followed, level)
            for key, template in sorted(compiled.items())
            if (rows := np.flatnonzero((key_of == key) & worked)).size
        ]
        self.limits = {LEFT: np.full(n, np.nan), RIGHT: np.full(n, np.nan)}
        width = max((sum(len(surface_columns(g.half(s))) for s in (LEFT, RIGHT)) for g in self.groups), default=0)
        offsets, levels = np.full((n, width), np.inf), np.full((n, width), np.nan)
        for g in self.groups:
            at = 0
            for side, edge in ((LEFT, lines.left_edge), (RIGHT, lines.right_edge)):
                u, z = g.points[side]
                self.limits[side][g.rows] = overlay_limit(
                    g.half(side), u, side * edge[g.rows], saw_cut[g.rows], least_new[g.rows], self.is_overlay[g.rows]
                )
                columns = surface_columns(g.half(side))[::side]
                offsets[g.rows, at : at + len(columns)] = side * u[:, columns]
                levels[g.rows, at : at + len(columns)] = z[:, columns]
                at += len(columns)
        offsets = np.where(np.isnan(offsets), np.inf, offsets)
        self.shape = Polylines(offsets, levels)

    def hinge_levels(self, existing: Polylines) -> Floats:
        """Level at the hinge on every section (n,), NaN where nothing is designed."""
        level = np.full(len(self.cover), np.nan)
        designed = np.zeros(len(level), dtype=bool)
        for g in self.groups:
            designed[g.rows] = True
        rows = np.flatnonzero(self.is_overlay & designed)
        low, high = -self.limits[LEFT][rows], self.limits[RIGHT][rows]
        level[rows] = cover_governs(
            existing.rows(rows), self.shape.rows(rows), self.lines.hinge[rows], low, high, self.cover[rows]
        ).level
        return bridge(self.stations.chainage, level, self.bridged & designed, self.lines.existing_hinge)

    def build(self, g: _Group, level: Floats, existing: Polylines, mirrored: Polylines) -> TemplateSections:
        """Courses, kerbs and side slopes of one template."""
        halves = {}
        for side, ground in ((LEFT, mirrored.rows(g.rows)), (RIGHT, existing.rows(g.rows))):
            u, rise = g.points[side]
            half, z = g.half(side), rise + level[g.rows][:, None]
            limit = self.limits[side][g.rows]
            zones = build_zones(half, u, z, limit, ground)
            slopes = side_slopes(u[:, half.outer], z[:, half.outer], half.rungs, ground)
            halves[side] = HalfSections(side, half, u, z, limit, tuple(zones), slopes)  # type: ignore[arg-type]
        return TemplateSections(g.key, g.template.name, g.rows, halves[LEFT], halves[RIGHT])


def _depth(existing: Polylines, shape: Polylines, level: Floats, designs: _Designs) -> OverlayDepth:
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
            outward = [zone.offsets for zone in h.zones] + [h.u[:, [h.half.outer]], h.slopes.catch_offset[:, None]]
            floors = [zone.floor for zone in h.zones] + [h.z[:, [h.half.outer]], h.slopes.catch_level[:, None]]
            offsets.append(h.side * np.concatenate(outward, axis=1)[:, :: h.side])
            levels.append(np.concatenate(floors, axis=1)[:, :: h.side])
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
