"""From documents to the road: a page of stages in the order of the work.

stations -> sections of the existing surface -> guides, hinge, edges and crossfalls -> milling -> template points -> hinge levels ->
courses, kerbs and side slopes; problems and earthworks when somebody asks for them. See saddle.stages for how results are kept.
"""

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import TypeVar

import numpy as np

from saddle.alignment.alignment import Alignment, Frames, build
from saddle.findings.find import find_problems
from saddle.geometry.polylines import Floats, Ints, Polylines, mirror
from saddle.guides.evaluate import RoadLines, Sources
from saddle.guides.follow import Followed, follow
from saddle.overlay.milling import Milling, planned_of, surface_of
from saddle.problem import Problem
from saddle.road.beyond import (
    all_steps,
    bounds_at,
    compile_used,
    nothing_taken,
    own_uses,
    reached_lines,
    shape_changes,
    take_shapes,
    taken_on,
    uses_of,
    uses_taken,
)
from saddle.road.depth import find_earthworks, overlay_depth
from saddle.road.designs import (
    Designs,
    Surroundings,
    build_group,
    designs_at,
    designs_for,
    footing_of,
    group_used,
    levels_for,
    needs_levels,
    places_of,
)
from saddle.road.given import lines_given
from saddle.road.lines import Placed, bends_of, by_points, find_lines, line_rules, locate_lines, mill, rows_in_use, steps_of
from saddle.road.model import RoadInputs, RoadLinesFound, RoadModel, Taken
from saddle.road.mouths import trimmed
from saddle.road.sources import (
    MAIN_SURFACE,
    boundaries_at,
    corners_of,
    cut_at,
    cuts_of,
    find_sources,
    guides_apart,
    guides_in_use,
    nothing_cut,
    other_surfaces,
    wanted_by,
    widths_of,
)
from saddle.road.spec import has_beyond, ties_of
from saddle.road.stations import Stations, frames_at, place_stations, some_stations, spans_of, station_rules, with_middles
from saddle.stages.keys import digest
from saddle.stages.run import Kept, Run
from saddle.template.compiled import CompiledTemplate, Parts
from saddle.template.median import Use
from saddle.terrain.structures import Crossed, crossed, met_on

T = TypeVar("T")


@dataclass(frozen=True, slots=True, eq=False)
class SetOut:
    """A road before anything is built: where it stands, how high, and how its templates lie. It does not follow from where other roads
    end. entered: keys of what it follows from, by the names of the inputs."""

    entered: dict[str, str]
    rows: tuple[int, ...] | None
    alignment: Kept[Alignment]
    sources: Kept[Sources]
    stations: Kept[Stations]
    frames: Kept[Frames]
    existing: Kept[Polylines]
    mirrored: Kept[Polylines]
    followed: Kept[tuple[Followed, ...]]
    crossed: Kept[tuple[Crossed, ...]]
    compiled: Kept[dict[Use, CompiledTemplate]]
    faulty: Kept[dict[str, str]]
    crooked: Kept[dict[str, str]]
    around: Kept[Surroundings]
    taken: Kept[Taken]
    milling: Kept[Milling]
    designs: Kept[Designs]
    level: Kept[Floats]
    candidates: Kept[Floats]


def lines_of(inputs: RoadInputs, run: Run | None = None) -> Kept[RoadLines]:
    """The lines that other roads may follow, or end at, of the road that follows from the documents. Raises as `solve`."""
    run = run or Run()
    out = set_out(inputs, run)
    return run(lines_given, out.designs, out.level, out.frames)


def set_out(inputs: RoadInputs, run: Run, pick: Callable[[Stations], Ints] | None = None, *, middles: bool = False) -> SetOut:
    """The road up to the levels of its templates; see `solve`. Where the shape of a median changes two sections stand, which is known once
    its widths are: such a road is set out again, and on a curve, where widths do not run straight, once more."""
    changes: Kept[Floats] = run.given(np.empty(0))
    if not has_beyond(inputs.template_plan):
        return _set_out(inputs, run, pick, middles=middles, changes=changes)
    whole = _set_out(inputs, run, None, middles=middles, changes=changes)
    plan, medians = run.given(inputs.template_plan), run.given(inputs.medians)
    for _ in range(2):
        more = run.settled(run(shape_changes, plan, medians, whole.stations, whole.taken))
        if more.value.size == 0:
            break
        changes = run.settled(run(all_steps, changes, more))
        whole = _set_out(inputs, run, None, middles=middles, changes=changes)
    # On some of its sections a road has the shapes that it has on all of them.
    return whole if pick is None else _set_out(inputs, run, pick, middles=middles, changes=changes, whole=whole.taken)


def _set_out(
    inputs: RoadInputs,
    run: Run,
    pick: Callable[[Stations], Ints] | None,
    *,
    middles: bool,
    changes: Kept[Floats],
    whole: Kept[Taken] | None = None,
) -> SetOut:
    """The same with two sections at some chainages more. whole: what comes beyond the templates on all sections, where only some are
    picked."""
    entered: dict[str, str] = {}

    def given(name: str, value: T) -> Kept[T]:
        kept = run.given(value, inputs.identity(name, value))
        entered[name] = kept.key
        return kept

    # What comes from outside.
    spec, surface, survey_lines = (
        given("alignment", inputs.alignment),
        given("surface", inputs.surface),
        given("lines", inputs.lines),
    )
    settings, treatments, plan = (
        given("settings", inputs.settings), given("treatments", inputs.treatments), given("template_plan", inputs.template_plan)
    )  # fmt: skip
    templates, medians = given("templates", inputs.templates), given("medians", inputs.medians)
    make_ups, kerbs = given("make_ups", inputs.make_ups), given("kerbs", inputs.kerbs)
    guide_specs, rules_of_points = given("guides", inputs.guides), given("follow", inputs.follow)
    crossfalls, levels, profiles = (
        given("crossfalls", inputs.crossfalls),
        given("levels", inputs.levels),
        given("profiles", inputs.profiles),
    )
    roads = given("roads", inputs.roads)
    milling_plan, structures = given("milling", inputs.milling), given("structures", inputs.structures)
    for name, value in (
        ("materials", inputs.materials),
        ("standards", inputs.standards),
        ("surfaces", inputs.surfaces),
        ("remarks", inputs.remarks),
        ("followed_elsewhere", inputs.followed_elsewhere),
    ):
        given(name, value)
    # Where sections stand.
    alignment = run(build, spec)
    apart = run(guides_apart, guide_specs)
    guides, crooked = run.item(apart, 0), run.item(apart, 1)
    sources = run.bundle(Sources, alignment, survey_lines, guides, roads)
    if any(tie is not None and tie.guide is not None for tie in ties_of(inputs.treatments)):
        treatments = run.settled(run(trimmed, treatments, alignment, sources))
    used = run.settled(run(guides_in_use, rules_of_points, treatments, plan, templates, medians))
    rules = run.part(treatments, line_rules)
    stations = run(
        place_stations, alignment, run.part(settings, station_rules), run.part(treatments, spans_of), run.part(plan, spans_of),
        run(corners_of, used, sources), run(all_steps, run.part(milling_plan, steps_of), changes), run.settled(run(bends_of, rules, milling_plan)),
        run.settled(run(rows_in_use, treatments, plan, crossfalls, levels)),
    )  # fmt: skip
    if middles:
        stations = run(with_middles, stations)
    rows = None if pick is None else tuple(int(i) for i in pick(stations.value))
    widths = run.part(settings, widths_of)
    # A pit is shown on the nearest section of the road, whichever of them are solved.
    met = run(crossed, structures, run(frames_at, alignment, stations), widths)
    if rows is not None:
        stations, met = run(some_stations, stations, run.given(rows)), run(met_on, met, run.given(rows))
    frames = run(frames_at, alignment, stations)
    # What is there.
    existing = run(cut_at, surface, frames, widths)
    mirrored = run(mirror, existing)
    followed = run(follow, rules_of_points, frames, sources)
    uses = run.settled(run(uses_of, plan, medians))
    compiling = run(compile_used, uses, templates, run.bundle(Parts, make_ups, kerbs))
    compiled, faulty = run.item(compiling, 0), run.item(compiling, 1)
    right, left = {MAIN_SURFACE: existing}, {MAIN_SURFACE: mirrored}
    for name in run(other_surfaces, compiled, templates, make_ups).value:
        there = inputs.surfaces.get(name)
        right[name] = run(nothing_cut, frames) if there is None else run(cut_at, run.given(there), frames, widths)
        left[name] = run(mirror, right[name])
    cuts = run.bundle(cuts_of, run.all_of(right), run.all_of(left))
    wanted = run.settled(run(wanted_by, compiled, plan))
    use = run(own_uses, plan, compiled, stations)

    def lines_with(placed: Kept[Placed]) -> Kept[RoadLinesFound]:
        located = run(locate_lines, rules, stations, frames, existing, sources, placed)
        return run.settled(run(find_lines, rules, crossfalls, stations, located))

    def surroundings(lines: Kept[RoadLinesFound], use: Kept[Ints], taken: Kept[Taken] | None = None) -> Kept[Surroundings]:
        found = run(find_sources, wanted, frames, sources, lines)
        if taken is not None:
            found = run(reached_lines, found, plan, stations, taken)
        return run.bundle(Surroundings, treatments, plan, stations, lines, use, followed, found, cuts, levels, profiles)

    placed: Kept[Placed] = run.given({})
    lines = lines_with(placed)
    if by_points(rules.value, inputs.milling):
        # Edges at points of the template: the points stand first, whose offsets need no edges.
        placed = run(places_of, run(designs_for, surroundings(lines, use), compiled))
        lines = lines_with(placed)
    # What is designed.
    milling = run(mill, milling_plan, rules, stations, frames, existing, lines, sources, placed)
    taken, around = run(nothing_taken, stations), surroundings(lines, use)
    if has_beyond(inputs.template_plan):
        if whole is not None and rows is not None:
            taken = run(taken_on, whole, run.given(rows))
        else:
            # The templates stand on their own first: what has room beyond them follows from where they end.
            alone, found = run(designs_for, around, compiled), run(find_sources, wanted, frames, sources, lines)
            taken = run.settled(run(take_shapes, plan, medians, stations, use, alone, found))
        use = run.settled(run(uses_taken, plan, medians, compiled, stations, taken))
        around = surroundings(lines, use, taken)
    designs = run(designs_for, around, compiled)
    levelling = run(levels_for, designs, run(planned_of, milling))
    level, candidates = run.settled(run.item(levelling, 0)), run.item(levelling, 1)
    if needs_levels(compiled.value, followed.value):
        designs = run(designs_at, around, compiled, level)
    return SetOut(
        entered, rows, alignment, sources, stations, frames, existing, mirrored, followed, met, compiled, faulty, crooked, around, taken,
        milling, designs, level, candidates,
    )  # fmt: skip


def solve(
    inputs: RoadInputs, run: Run | None = None, pick: Callable[[Stations], Ints] | None = None, *, middles: bool = False
) -> RoadModel:
    """The road that follows from the documents.

    pick: takes only some of this road's stations (indices in road order), for previews; middles: with a section more in the middle of every
    interval. Raises SaddleError subclasses for documents that cannot be computed at all; everything else is a problem in the model.
    """
    run = run or Run()
    out = set_out(inputs, run, pick, middles=middles)
    beside, neighbours = run.given(inputs.beside), run.given(inputs.neighbours)
    entered = out.entered | {"beside": beside.key, "neighbours": neighbours.key}
    under = run(surface_of, out.milling)
    mirrored_under = run(mirror, under)
    bounds = run.settled(run(bounds_at, beside, neighbours, out.frames, out.sources, out.designs))
    depth = run(overlay_depth, out.designs, under, out.level, bounds)
    groups = run.in_order(
        [
            run(
                build_group, run.settled(run(group_used, out.designs, use)),
                run.settled(run(footing_of, out.designs, out.level, out.stations, bounds, use)),
                out.existing, out.mirrored, under, mirrored_under,
            )
            for use in (run.given(g.use) for g in out.designs.value.groups)
        ]
    )  # fmt: skip
    boundaries = run(boundaries_at, out.frames, out.sources)
    # What is found on it, when somebody asks.
    earthworks = run(find_earthworks, out.existing, under, groups, out.stations)

    def problems() -> Kept[tuple[Problem, ...]]:
        return run(find_problems, Kept(model.key, lambda: model), out.faulty, out.crooked)

    def shape(level: Floats, pct: Floats) -> Polylines:
        other = replace(out.around.value, lines=replace(out.around.value.lines, left_pct=pct[:, 0], right_pct=pct[:, 1]))
        found = designs_at(other, out.compiled.value, level).shape
        return Polylines(found.offsets, found.levels + level[:, None])

    model = RoadModel(
        inputs, digest(entered, out.rows, middles), out.alignment.value, out.stations.value, out.frames.value, out.existing.value,
        out.around.value.lines, out.level.value, out.candidates.value, out.milling.value, depth.value, groups.value, out.followed.value,
        out.taken.value, bounds.value, out.crossed.value, shape, lambda: boundaries.value, lambda: earthworks.value,
        lambda: problems().value,
    )  # fmt: skip
    return model
