"""Templates along the road: what surrounds each half, its shape relative to the hinge, what governs, what lies under it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle import tolerances
from saddle.alignment.profile import ProfileSpec, build_profile
from saddle.geometry.polylines import Bools, Floats, Ints, Polylines
from saddle.guides.evaluate import GuideLine
from saddle.guides.follow import Followed, of_side
from saddle.guides.spec import AtPoint, PointSource
from saddle.overlay.governing import bridge, cover_governs, edges_govern
from saddle.overlay.spec import KerbToKerb, LevelTable, LevelTableGoverns, LineGoverns, ProfileGoverns
from saddle.road.model import RoadLinesFound, TemplateSections
from saddle.road.spec import Overlay, Reconstruct, TemplatePlan, TemplateRange, TreatmentPlan
from saddle.road.stations import Stations
from saddle.template.compiled import CompiledHalf, CompiledTemplate, surface_columns
from saddle.template.half import build_half
from saddle.template.layers import Ground, overlay_limit
from saddle.template.median import Use
from saddle.template.slopes import Room
from saddle.template.solve import Around, Reached, solve_points
from saddle.template.ties import GuideLevel, OnSurface, Point
from saddle.template.values import Dimension

LEFT: Literal[-1] = -1
RIGHT: Literal[1] = 1
#: Outward offsets by side (n,), m, at which the road ends against another one; NaN where nothing bounds it.
Bounds = Mapping[int, Floats]
#: Rules that follow from the old surface and the template's shape.
BY_SHAPE = {"cover": cover_governs, "edges": edges_govern}


@dataclass(frozen=True, slots=True, eq=False)
class Surroundings:
    """All that templates find along the road. use: (n,) which of the compiled templates stands on a section, -1 for none; found: per source
    and side what it gives as outward offset and level (n,); cuts: per surface and side its polylines, mirrored for the left; followed:
    points that follow rules of the road."""

    treatments: TreatmentPlan
    plan: TemplatePlan
    stations: Stations
    lines: RoadLinesFound
    use: Ints
    followed: tuple[Followed, ...]
    found: Mapping[tuple[PointSource, int], GuideLine]
    cuts: Mapping[str, Mapping[int, Polylines]]
    levels: LevelTable
    profiles: Mapping[str, ProfileSpec]


def dimensions_along(
    template: CompiledTemplate, compiled: Mapping[Use, CompiledTemplate], plan: TemplatePlan, stations: Stations, rows: Ints
) -> dict[str, Floats]:
    """Values of a template's dimensions on its sections, (g,), by name.

    A template range may give them other values, fixed or by chainage. Over its transition they run straight from those
    of the range before it, where that one has a dimension of the name.
    """
    c = stations.chainage[rows]
    out = {name: np.full(len(rows), d.value) for name, d in template.dimensions.items()}
    for i, item in enumerate(plan.ranges):
        here = stations.template[rows] == i
        if not here.any():
            continue
        before = (
            plan.ranges[i - 1] if i and plan.ranges[i - 1].to_chainage >= item.from_chainage - tolerances.CHAINAGE_MERGE else None
        )
        for name, dimension in template.dimensions.items():
            value = _given(item, dimension, c[here])
            old = compiled.get(Use(before.template)) if before is not None and item.transition > 0 else None
            if before is not None and old is not None and name in old.dimensions:
                start = _given(before, old.dimensions[name], np.array([item.from_chainage]))[0]
                t = np.clip((c[here] - item.from_chainage) / item.transition, 0.0, 1.0)
                value = start + t * (value - start)
            out[name][here] = value
    return out


def _given(item: TemplateRange, dimension: Dimension, chainage: Floats) -> Floats:
    given = item.dimensions.get(dimension.name, dimension.value)
    if isinstance(given, list):
        return np.interp(chainage, [c for c, _ in given], [v for _, v in given])
    return np.full(len(chainage), given)


@dataclass(frozen=True, slots=True, eq=False)
class Group:
    """A template, as it is used, on its rows (g,), its points solved relative to the hinge but for the level. points: per side outward offsets
    and rises (g, k); boundary: per side (g,); surfaces: per side and key, mirrored for the left."""

    use: Use
    template: CompiledTemplate
    rows: Ints
    dimensions: dict[str, Floats]
    points: dict[int, tuple[Floats, Floats]]
    boundary: dict[int, Floats]
    surfaces: dict[int, dict[str, Polylines]]

    def half(self, side: int) -> CompiledHalf:
        """The template's half on a side."""
        return self.template.left if side == LEFT else self.template.right


def _group(
    use: Use,
    template: CompiledTemplate,
    rows: Ints,
    dimensions: dict[str, Floats],
    s: Surroundings,
    level: Floats | None,
    reached: Mapping[int, Reached],
) -> Group:
    group = Group(use, template, rows, dimensions, {}, {}, {})
    hinge, existing = s.lines.hinge[rows], s.lines.existing_hinge[rows]
    at_hinge = existing if level is None else level[rows]
    nothing = np.full(len(rows), np.nan)
    for side, pct in ((LEFT, s.lines.left_pct), (RIGHT, s.lines.right_pct)):
        half = group.half(side)
        surfaces = group.surfaces[side] = {name: cut[side].rows(rows) for name, cut in s.cuts.items()}
        instead = {
            name: (side * f.offset[rows], f.level[rows] - level[rows] if level is not None else nothing)
            for name, f in of_side(s.followed, side).items()
        }
        found = {source: GuideLine(line.offset[rows], line.level[rows]) for (source, at), line in s.found.items() if at == side}
        reach = Reached(side * reached[side].at_least[rows], side * reached[side].exactly[rows])
        around = Around(pct[rows], side * hinge, at_hinge, dimensions, found, surfaces, instead, reach)
        group.points[side] = solve_points(half, around)
        group.boundary[side] = around.line(half.boundary).offset if half.boundary is not None else nothing
    return group


class Designs:
    """Templates along the road: their shape relative to the hinge, how far the overlay reaches, what governs. By side (n,): ends,
    end_rises: where the template ends outward and how far above the hinge; sound: whether all of its surface is known.

    Points on a surface or at a followed level can be placed only once the hinge has its level: the first time without
    it the existing hinge stands in, the second time they are given theirs.
    """

    def __init__(self, s: Surroundings, compiled: dict[Use, CompiledTemplate], level: Floats | None = None) -> None:
        stations, lines = s.stations, s.lines
        n = len(stations.chainage)
        self.lines, self.stations = lines, stations
        works = [r.work for r in s.treatments.ranges]
        overlays = [w if isinstance(w, Overlay) else None for w in works]
        index = stations.treatment
        worked = np.array([isinstance(w, Overlay | Reconstruct) for w in works] + [False])[index]
        self.is_overlay: Bools = np.array([w is not None for w in overlays] + [False])[index]
        self.bridged: Bools = np.array([isinstance(w, Reconstruct) for w in works] + [False])[index]
        self.cover = np.array([w.least_cover if w else 0.0 for w in overlays] + [0.0])[index]
        rules = [getattr(w, "governs", None) for w in works]
        self.rule = np.array([r.kind if r is not None else "" for r in rules] + [""], dtype=object)[index]
        self.given = _given_levels(s, rules, index)
        # What ends at a point of the template is not cut back from it.
        saw_cut = {
            LEFT: _cut_back([w.saw_cut if w and not isinstance(w.left_edge, AtPoint) else 0.0 for w in overlays], index),
            RIGHT: _cut_back([w.saw_cut if w and not isinstance(w.right_edge, AtPoint) else 0.0 for w in overlays], index),
        }
        least_new = np.array([w.least_new_width if w else 0.0 for w in overlays] + [0.0])[index]
        reached = {
            LEFT: _reached(overlays, index, lines.left_edge, LEFT),
            RIGHT: _reached(overlays, index, lines.right_edge, RIGHT),
        }
        self.groups = [
            _group(use, template, rows, dimensions_along(template, compiled, s.plan, stations, rows), s, level, reached)
            for use, template in sorted(compiled.items(), key=lambda item: item[0].template)
            if (rows := np.flatnonzero((s.use == list(compiled).index(use)) & worked)).size
        ]
        self.limits = {LEFT: np.full(n, np.nan), RIGHT: np.full(n, np.nan)}
        self.ends = {LEFT: np.full(n, np.nan), RIGHT: np.full(n, np.nan)}
        self.end_rises = {LEFT: np.full(n, np.nan), RIGHT: np.full(n, np.nan)}
        self.sound: dict[int, Bools] = {LEFT: self.is_overlay.copy(), RIGHT: self.is_overlay.copy()}
        self.bare: Bools = self.is_overlay.copy()
        for g in self.groups:
            self.bare[g.rows] = False
        width = max((sum(len(surface_columns(g.half(s))) for s in (LEFT, RIGHT)) for g in self.groups), default=0)
        width = max(width, 4 if self.bare.any() else 0)
        offsets, levels = np.full((n, width), np.inf), np.full((n, width), np.nan)
        for g in self.groups:
            at = 0
            for side, edge in ((LEFT, lines.left_edge), (RIGHT, lines.right_edge)):
                u, z = g.points[side]
                self.limits[side][g.rows] = overlay_limit(
                    g.half(side), u, side * edge[g.rows], saw_cut[side][g.rows], least_new[g.rows], self.is_overlay[g.rows]
                )
                columns = surface_columns(g.half(side))[::side]
                self.ends[side][g.rows], self.end_rises[side][g.rows] = u[:, g.half(side).outer], z[:, g.half(side).outer]
                self.sound[side][g.rows] = (np.isfinite(u[:, columns]) & np.isfinite(z[:, columns])).all(axis=1)
                offsets[g.rows, at : at + len(columns)] = side * u[:, columns]
                levels[g.rows, at : at + len(columns)] = z[:, columns]
                at += len(columns)
        self._stand_in(offsets, levels)
        offsets = np.where(np.isnan(offsets), np.inf, offsets)
        self.shape = Polylines(offsets, levels)

    def _stand_in(self, offsets: Floats, levels: Floats) -> None:
        """An overlay where no template is applied yet runs straight from the hinge to the old edges: that much can be looked at."""
        b, lines = self.bare, self.lines
        if not b.any():
            return
        hinge = lines.hinge[b]
        left, right = np.minimum(lines.left_edge[b], hinge), np.maximum(lines.right_edge[b], hinge)
        self.limits[LEFT][b], self.limits[RIGHT][b] = -left, right
        self.ends[LEFT][b], self.ends[RIGHT][b] = -left, right
        offsets[b, :4] = np.column_stack([left, hinge, hinge, right])
        flat = np.zeros(len(hinge))
        falls = lines.left_pct[b] / 100 * (hinge - left), lines.right_pct[b] / 100 * (right - hinge)
        levels[b, :4] = np.column_stack([falls[0], flat, flat, falls[1]])
        self.end_rises[LEFT][b], self.end_rises[RIGHT][b] = falls

    def offsets(self) -> dict[tuple[int, str], Floats]:
        """Offsets of all points of the templates (n,), by side and name, NaN where a point is not there."""
        n = len(self.stations.chainage)
        found: dict[tuple[int, str], Floats] = {}
        for g in self.groups:
            for side in (LEFT, RIGHT):
                u, _ = g.points[side]
                for k, name in enumerate(g.half(side).names):
                    found.setdefault((side, name), np.full(n, np.nan))[g.rows] = side * u[:, k]
        return found

    def hinge_levels(self, existing: Polylines) -> tuple[Floats, Floats]:
        """Level at the hinge on every section (n,), NaN where nothing is designed, and what either side asked for (n, 2)."""
        n = len(self.cover)
        level, candidates = np.full(n, np.nan), np.full((n, 2), np.nan)
        designed = self.bare.copy()
        for g in self.groups:
            designed[g.rows] = True
        for kind, rule in BY_SHAPE.items():
            rows = np.flatnonzero(self.is_overlay & designed & (self.rule == kind))
            low, high = -self.limits[LEFT][rows], self.limits[RIGHT][rows]
            found = rule(existing.rows(rows), self.shape.rows(rows), self.lines.hinge[rows], low, high, self.cover[rows])
            level[rows], candidates[rows] = found.level, np.column_stack([found.left, found.right])
        fixed = designed & (self.rule == "kerb_to_kerb")
        level[fixed] = self.lines.fixed_hinge[fixed]
        given = designed & np.isin(self.rule, ("level_table", "profile", "line"))
        level[given] = self.given[given]
        t = self.lines.tied
        old = self.lines.met
        # Where a tie meets what is there its own level is not asked for.
        level = np.where(t < 1, old + np.where(t > 0, t * (level - old), 0.0), level)
        open_ = self.bridged & designed & (self.rule == "")
        return bridge(self.stations.chainage, level, open_, self.lines.existing_hinge), candidates


def designs_for(around: Surroundings, compiled: dict[Use, CompiledTemplate]) -> Designs:
    """The shape before hinge levels are known."""
    return Designs(around, compiled)


def designs_at(around: Surroundings, compiled: dict[Use, CompiledTemplate], level: Floats) -> Designs:
    """The shape with hinge levels (n,), for points that lie on a surface or at a followed level."""
    return Designs(around, compiled, level)


def places_of(designs: Designs) -> dict[tuple[int, str], Floats]:
    """Where the points of the templates stand, see Designs.offsets."""
    return designs.offsets()


def levels_for(designs: Designs, under: Polylines) -> tuple[Floats, Floats]:
    """Hinge levels over the surface milled as planned, see Designs.hinge_levels. In a tie they run straight from the old ones to
    their own, and its notch takes away what they lack, so that the courses keep their thickness."""
    return designs.hinge_levels(under)


@dataclass(frozen=True, slots=True, eq=False)
class Footing:
    """What a template is built from besides its points: hinge level (g,), per side how far the overlay reaches (g,), chainage
    (g,), and per side where the road ends against another one (g,)."""

    level: Floats
    limits: dict[int, Floats]
    chainage: Floats
    bounds: dict[int, Floats]


def group_used(designs: Designs, use: Use) -> Group:
    """The group of a template as it is used."""
    return next(g for g in designs.groups if g.use == use)


def footing_of(designs: Designs, level: Floats, stations: Stations, bounds: Bounds, use: Use) -> Footing:
    """What a group of a template is built from besides its points."""
    rows = group_used(designs, use).rows
    limits: dict[int, Floats] = {side: designs.limits[side][rows] for side in (LEFT, RIGHT)}
    return Footing(level[rows], limits, stations.chainage[rows], {side: bounds[side][rows] for side in (LEFT, RIGHT)})


def build_group(
    group: Group, footing: Footing, existing: Polylines, mirrored: Polylines, under: Polylines, mirrored_under: Polylines
) -> TemplateSections:
    """Side slopes, courses, kerbs and boxing of one template on its sections."""
    halves = {}
    sides: tuple[Literal[-1, 1], ...] = (LEFT, RIGHT)
    for side in sides:
        u, rise = group.points[side]
        half, z = group.half(side), rise + footing.level[:, None]
        seen, lies_on = (mirrored, mirrored_under) if side == LEFT else (existing, under)
        ground = Ground(seen.rows(group.rows), lies_on.rows(group.rows), group.surfaces[side], group.dimensions)
        room = Room(footing.chainage, group.boundary[side], footing.bounds[side])
        halves[side] = build_half(side, half, u, z, footing.limits[side], ground, room)
    return TemplateSections(group.use.template, group.template.name, group.rows, halves[LEFT], halves[RIGHT], group.dimensions)


def _reached(overlays: list[Overlay | None], index: Ints, edge: Floats, side: Literal[-1, 1]) -> Reached:
    """Where the treatments want the outermost point of the overlaid strips to stand on a side, offsets (n,)."""
    asked = []
    for work in overlays:
        at_point = work is not None and isinstance(work.left_edge if side == LEFT else work.right_edge, AtPoint)
        asked.append(
            "own_width" if work is None or at_point else "exactly_edge" if isinstance(work.governs, KerbToKerb) else work.reach
        )
    how = np.array([*asked, "own_width"], dtype=object)[index]
    return Reached(np.where(how == "at_least_edge", edge, np.nan), np.where(how == "exactly_edge", edge, np.nan))


def _cut_back(saw_cuts: list[float], index: Ints) -> Floats:
    return np.array([*saw_cuts, 0.0])[index]


def _given_levels(s: Surroundings, rules: list[object], index: Ints) -> Floats:
    """Hinge levels that the level table or a profile gives, (n,), NaN where they give none."""
    c = s.stations.chainage
    out = np.full(len(c), np.nan)
    for i, rule in enumerate(rules):
        here = index == i
        if isinstance(rule, LevelTableGoverns) and s.levels.rows:
            out[here] = s.levels.at(c[here])
        elif isinstance(rule, ProfileGoverns) and rule.profile in s.profiles:
            out[here] = build_profile(s.profiles[rule.profile]).levels(c[here]) + _turned(s.lines, here, rule)
        elif isinstance(rule, LineGoverns):
            out[here] = s.lines.ruled[here, 1] + rule.plus
    return out


#: Crossfalls closer than this are one, %.
SAME_FALL = 1e-9


def _turned(lines: RoadLinesFound, rows: Bools, rule: ProfileGoverns) -> Floats:
    """How far the hinge of some sections stands from the profile (k,), m, where the road turns about one of its edges, or about a guide:
    the level there at the normal crossfall less that at the crossfall which holds."""
    pct = np.column_stack([lines.left_pct, lines.right_pct])[rows]
    width = np.column_stack([lines.hinge - lines.left_edge, lines.right_edge - lines.hinge])[rows]
    if rule.about == "hinge":
        return np.zeros(len(pct))
    off = rule.normal_pct - pct
    if rule.about == "guide":
        out = lines.ruled[rows, 0] - lines.hinge[rows]
        at: Floats = np.where(out < 0, off[:, 0], off[:, 1]) / 100 * np.abs(out)
        return at
    # At the normal crossfall nothing turns, whatever the width; and an edge that is the hinge turns nothing, whatever the crossfall.
    turned = np.where((off == 0) | (width == 0), 0.0, off / 100 * width)
    lower = np.sign(np.where(np.abs(pct[:, 1] - pct[:, 0]) < SAME_FALL, 0.0, pct[:, 1] - pct[:, 0]))
    right = {"left": np.full(len(pct), -1.0), "right": np.ones(len(pct)), "inner": -lower, "outer": lower}[rule.about]
    of_one = np.where(right > 0, turned[:, 1], turned[:, 0])
    # Where both sides fall alike neither is the inner one: the hinge stands in the middle of what they ask for.
    alike = np.where(np.isfinite(turned[:, ::-1]), (turned + turned[:, ::-1]) / 2, turned)
    found = np.where(right == 0, np.where(np.isfinite(alike[:, 0]), alike[:, 0], alike[:, 1]), of_one)
    return np.where(np.isnan(right), np.nan, found)


def needs_levels(compiled: Mapping[str, CompiledTemplate], followed: tuple[Followed, ...]) -> bool:
    """Whether some point can be placed only once the hinge has its level."""
    if any(np.isfinite(f.level).any() for f in followed):
        return True
    points = (p for t in compiled.values() for half in (t.left, t.right) for p in half.points)
    return any(isinstance(p, Point) and isinstance(p.level, OnSurface | GuideLevel) for p in points)
