"""What a designer must look at, found on the solved road."""

from functools import partial

import numpy as np

from saddle import tolerances
from saddle.figures import slack, written
from saddle.geometry.polylines import Bools, Floats, Polylines, sample
from saddle.problem import Problem, problems_where, runs_of
from saddle.road.grades import changes_along
from saddle.road.long_section import beneath, clearances
from saddle.road.model import RoadModel, TemplateSections
from saddle.road.spec import Leave, Overlay
from saddle.road.water import water
from saddle.template.compiled import edge_column, reach_column, surface_columns
from saddle.template.half import HalfSections
from saddle.template.slopes import NONE_LANDED


def find_problems(model: RoadModel, faulty: dict[str, str], crooked: dict[str, str]) -> tuple[Problem, ...]:
    """All findings in road order. faulty: key of a template -> why it cannot be built; crooked: the same of guides."""
    found: list[Problem] = []
    for i, treatment in enumerate(model.inputs.treatments.ranges):
        rows = model.stations.treatment == i
        if isinstance(treatment.work, Leave):
            continue
        found += _missing(model, rows, treatment.work.kind)
        if isinstance(treatment.work, Overlay):
            found += _depths(model, rows, treatment.work)
    for item in model.inputs.template_plan.ranges:
        if item.template in faulty:
            found.append(Problem("template", "fault", item.from_chainage, item.to_chainage, "Templates", faulty[item.template]))
    for group in model.groups:
        for half in (group.left, group.right):
            found += _half(model, group, half)
            found += _slivers(model, group, half)
    found += _outside(model)
    found += _milled_beyond(model)
    found += _steps(model)
    found += _grade_changes(model)
    found += _crossfalls(model)
    found += _over_pipes(model)
    found += _following(model)
    found += [Problem("guide", "fault", model.alignment.start, model.alignment.end, "Guides", why) for why in crooked.values()]
    return tuple(sorted(found, key=lambda p: (p.chainage_from, p.chainage_to, p.code)))


def _outside(model: RoadModel) -> list[Problem]:
    """Ranges that lie beyond the ends of the road, each by name; and a road on which nothing is built."""
    low, high, inputs = model.alignment.start, model.alignment.end, model.inputs
    ranges: list[tuple[str, str, float, float]] = [
        ("Overlay", f"the treatment ({t.work.kind})", t.from_chainage, t.to_chainage) for t in inputs.treatments.ranges
    ]
    ranges += [("Templates", f"template “{r.template}”", r.from_chainage, r.to_chainage) for r in inputs.template_plan.ranges]
    ranges += [("Guides", f"the follow rule of {r.point} {r.side}", r.from_chainage, r.to_chainage) for r in inputs.follow.rules]
    ranges += [("Overlay", "milling", s.rows[0].chainage, s.rows[-1].chainage) for s in inputs.milling.stretches]
    found = []
    for subject, what, start, end in ranges:
        beyond = max(low - start, 0.0) + max(end - high, 0.0)
        if beyond <= tolerances.CHAINAGE_MERGE:
            continue
        wholly = end <= low or start >= high
        near = min(max(start, low), high), min(max(end, low), high)
        words = "lies beyond the road" if wholly else f"runs {written(beyond, 'offset')} m beyond the road"
        found.append(
            Problem(
                "outside", "fault" if wholly else "caution", *near, subject,
                f"{what} from {written(start, 'chainage')} to {written(end, 'chainage')} {words}, which is from "
                f"{written(low, 'chainage')} to {written(high, 'chainage')}: move or remove it",
            )
        )  # fmt: skip
    if not model.worked_on().any():
        found.append(
            Problem(
                "nothing_built",
                "caution",
                low,
                high,
                "Overlay",
                "nothing is built on this road yet: mark a range and set a treatment",
            )
        )
    return found


def _milled_beyond(model: RoadModel) -> list[Problem]:
    """Milling further out than what is built reaches: the old road is left open there."""
    if not (model.milling.depth > 0).any():
        return []
    beyond = model.milling.area - model.earthworks.milled
    with np.errstate(invalid="ignore"):
        open_ = model.worked_on() & (beyond > tolerances.OPEN_MILLING)
    return problems_where(
        open_, model.chainage, code="milled_beyond", severity="caution", subject="Overlay",
        message=lambda v: f"{written(v, 'area')} m2 of the section is milled further out than anything is built: narrow the milling or widen the template",
        measured=beyond,
    )  # fmt: skip


def _crossed(point: str, before: str, side: str, by: float | None) -> str:
    return f"{point} {side} lies {by or 0:.3f} m inside {before}: what it follows runs on the wrong side"


def _floor_too_high(floor: str, side: str, by: float | None) -> str:
    return f"floor {floor} {side} lies up to {1000 * (by or 0):.0f} mm above the bottom of the courses: dig it deeper"


def _no_daylight(side: str, _: float | None) -> str:
    return f"a course or floor on the {side} runs to the side slope but does not come out on it"


def _no_edge(side: str, _: float | None) -> str:
    return f"no {side} pavement edge found here: choose another line or an offset"


def _no_crossfall(side: str, _: float | None) -> str:
    return f"the {side} crossfall is not known here: there is no edge to measure it to, or the table has no rows"


def _missing(model: RoadModel, rows: Bools, kind: str) -> list[Problem]:
    c, lines = model.chainage, model.lines
    no_template = rows & (model.stations.template < 0)
    found = problems_where(
        no_template, c, code="no_template", severity="fault", subject="Overlay",
        message=lambda _: f"{kind}, but no template is applied here",
    )  # fmt: skip
    if kind == "overlay":
        for side, edge in (("left", lines.left_edge), ("right", lines.right_edge)):
            found += problems_where(
                rows & np.isnan(edge), c, code="no_edge", severity="fault", subject="Overlay",
                message=partial(_no_edge, side),
            )  # fmt: skip
    found += problems_where(
        rows & np.isnan(lines.hinge), c, code="no_hinge", severity="fault", subject="Overlay",
        message=lambda _: "no hinge line found here: choose another line or an offset",
    )  # fmt: skip
    for side, pct in (("left", lines.left_pct), ("right", lines.right_pct)):
        known_edge = np.isfinite(lines.left_edge if side == "left" else lines.right_edge)
        found += problems_where(
            rows & np.isnan(pct) & np.isfinite(lines.hinge) & (known_edge if kind == "overlay" else np.ones(len(c), dtype=bool)), c,
            code="no_crossfall", severity="fault", subject="Crossfall", message=partial(_no_crossfall, side),
        )  # fmt: skip
    ready = rows & ~no_template & np.isfinite(lines.hinge)
    if kind == "overlay":
        ready &= np.isfinite(lines.left_edge) & np.isfinite(lines.right_edge)
    designed = np.zeros(len(c), dtype=bool)
    for group in model.groups:
        designed[group.rows] = True
    given = np.array([getattr(getattr(w, "governs", None), "kind", "") in ("level_table", "profile") for w in _works(model)])
    unlevelled = ready & designed & np.isnan(model.hinge_level) & given[model.stations.treatment]
    found += problems_where(
        unlevelled, c, code="no_level", severity="fault", subject="Levels",
        message=lambda _: "the levels that govern here say nothing at this chainage: add rows or IPs, or let another rule govern",
    )  # fmt: skip
    found += problems_where(
        ready & designed & np.isnan(model.hinge_level) & ~unlevelled, c, code="no_surface", severity="fault", subject="Survey",
        message=lambda _: "the survey has a gap under the pavement, so there is no level here",
    )  # fmt: skip
    return found


def _works(model: RoadModel) -> list[object | None]:
    """What is done in every treatment, and None for sections without one."""
    return [*(r.work for r in model.inputs.treatments.ranges), None]


def _depths(model: RoadModel, rows: Bools, work: Overlay) -> list[Problem]:
    d, c = model.depth, model.chainage
    cover, limit = work.least_cover_mm / 1000, work.look_again_mm / 1000
    found = problems_where(
        rows & (model.lines.tied >= 1) & (d.least < cover - slack("depth")), c, code="short_cover", severity="fault", subject="Overlay",
        message=lambda v: f"cover is {1000 * (v or 0):.0f} mm, at least {work.least_cover_mm:.0f} mm is asked for",
        measured=d.least, worst="least", limit=cover,
    )  # fmt: skip
    found += problems_where(
        rows & (d.greatest > limit + slack("depth")), c, code="deep", severity="caution", subject="Overlay",
        message=lambda v: f"overlay is up to {1000 * (v or 0):.0f} mm deep, look again above {work.look_again_mm:.0f} mm",
        measured=d.greatest, limit=limit,
    )  # fmt: skip
    for k, side in enumerate(("left", "right")):
        left = upstand(model, k)
        found += problems_where(
            rows & (left < work.least_upstand_mm / 1000 - slack("depth")), c, code="kerb_upstand", severity="fault",
            subject="Overlay", message=partial(_low_kerb, side, work.least_upstand_mm), measured=left, worst="least",
            limit=work.least_upstand_mm / 1000,
        )  # fmt: skip
    return found


def upstand(model: RoadModel, k: int) -> Floats:
    """How far the kerbs that stay on a side (0 left, 1 right) stand above the new surface at the overlay's end, (n,), m; NaN
    where none stays."""
    d = model.depth
    end = (d.left, d.right)[k]
    surface = sample(Polylines(d.offsets, d.design), end[:, None])[:, 0]
    return model.lines.kerb_top[:, k] - surface


def _low_kerb(side: str, asked: float, left: float | None) -> str:
    return f"the {side} kerb is left standing {1000 * (left or 0):.0f} mm above the new surface, at least {asked:.0f} mm is asked for"


def _crossfalls(model: RoadModel) -> list[Problem]:
    """Crossfalls steeper than allowed, and places where water does not run off, where nothing ties to the old road."""
    lines, limits = model.lines, model.inputs.standards
    own = np.isfinite(model.hinge_level) & (lines.tied >= 1)
    pct = np.column_stack([lines.left_pct, lines.right_pct])
    found = []
    for k, side in enumerate(("left", "right")):
        found += problems_where(
            own & (np.abs(pct[:, k]) > limits.steepest_pct + slack("crossfall")), model.chainage, code="crossfall", severity="caution",
            subject="Crossfall", message=partial(_steep, side, limits.steepest_pct), measured=np.abs(pct[:, k]),
            limit=limits.steepest_pct,
        )  # fmt: skip
    slope = water(model).resultant.min(axis=1)
    with np.errstate(invalid="ignore"):
        flat = own & (slope < limits.least_resultant_pct - slack("crossfall"))
    found += problems_where(
        flat, model.chainage, code="flat", severity="caution", subject="Crossfall",
        message=lambda v: f"crossfall and grade together fall by {v or 0:.2f} % only, {limits.least_resultant_pct:g} % lets water run off",
        measured=slope, worst="least", limit=limits.least_resultant_pct,
    )  # fmt: skip
    return found


def _steep(side: str, most: float, pct: float | None) -> str:
    return f"the {side} crossfall is {written(pct, 'crossfall')} % steep, at most {most:g} % is allowed"


def _over_pipes(model: RoadModel) -> list[Problem]:
    """Pipes with too little between their top and the new surface at the hinge."""
    least = model.inputs.standards.least_cover_over_pipes
    below = beneath(model.inputs.structures, model.alignment)
    return [
        Problem(
            "pipe_cover",
            "fault",
            p.chainage,
            p.chainage,
            "Levels",
            f"pipe {p.name} has {p.cover:.2f} m above it, at least {least:g} m is asked for",
            p.cover,
            least,
        )
        for p in clearances(below, lambda at: np.interp(at, model.chainage, model.hinge_level), least)
        if p.short
    ]


def _slivers(model: RoadModel, group: TemplateSections, half: HalfSections) -> list[Problem]:
    """Layers that are there but nowhere wider than can be laid."""
    side = "left" if half.side < 0 else "right"
    found = []
    for layer in half.layers.layers:
        if layer.construction in ("kerb", "bed") or not layer.element:
            continue
        thick = np.nan_to_num(layer.top - layer.bottom)
        there = (thick[:, 1:] + thick[:, :-1]) / 2 > tolerances.THIN_LAYER
        wide = np.where(there, np.nan_to_num(np.diff(layer.offsets, axis=1), posinf=0.0), 0.0).sum(axis=1)
        found += problems_where(
            (wide > tolerances.SLIVER) & (wide < tolerances.NARROW_LAYER), model.chainage[group.rows], code="sliver",
            severity="caution", subject="Templates", message=partial(_sliver, layer.name, layer.element, side), measured=wide,
            worst="least", limit=tolerances.NARROW_LAYER,
        )  # fmt: skip
    return found


def _sliver(layer: str, element: str, side: str, wide: float | None) -> str:
    return f"{layer} of {element} on the {side} is only {1000 * (wide or 0):.0f} mm wide: it cannot be laid"


def _half(model: RoadModel, group: TemplateSections, half: HalfSections) -> list[Problem]:
    side = "left" if half.side < 0 else "right"
    c = model.chainage[group.rows]
    known = np.isfinite(model.hinge_level[group.rows]) & np.isfinite((model.lines.left_pct + model.lines.right_pct)[group.rows])
    found = problems_where(
        known & (half.slopes.rung == NONE_LANDED), c, code="no_catch", severity="fault", subject="Sections",
        message=lambda _: f"the side slope on the {side} does not reach the ground; widen the sections or change the slope",
    )  # fmt: skip
    found += _unsolved(half, known, c, side)
    found += _uncovered(model, group, half, side)
    short = half.layers.short_mm
    found += problems_where(
        short > 1000 * slack("depth"), c, code="thin_courses", severity="caution", subject="Templates",
        message=lambda v: f"on the {side} the overlay is {v or 0:.0f} mm thinner than its upper courses need",
        measured=short,
    )  # fmt: skip
    for floor, over in zip(half.half.floors, half.layers.too_high, strict=True):
        found += problems_where(
            over > tolerances.SLIVER, c, code="floor_too_high", severity="fault", subject="Templates",
            message=partial(_floor_too_high, floor.name, side), measured=over,
        )  # fmt: skip
    found += problems_where(
        known & half.layers.astray, c, code="no_daylight", severity="caution", subject="Templates",
        message=partial(_no_daylight, side),
    )  # fmt: skip
    columns = surface_columns(half.half)
    back = np.diff(half.u[:, columns], axis=1)
    for k, name in enumerate(half.half.names[i] for i in columns[1:]):
        found += problems_where(
            back[:, k] < -tolerances.SLIVER, c, code="crossed", severity="fault", subject="Guides",
            message=partial(_crossed, name, half.half.names[columns[k]], side), measured=-back[:, k],
        )  # fmt: skip
    pct = model.lines.left_pct if half.side < 0 else model.lines.right_pct
    other = model.lines.right_pct if half.side < 0 else model.lines.left_pct
    rising = (pct[group.rows] > 0) & (other[group.rows] > 0)
    found += problems_where(
        rising & (half.side < 0), c, code="rises_outward", severity="caution", subject="Crossfall",
        message=lambda v: f"both sides rise outward from the hinge (left {v or 0:+.1f} %): water is held on the road",
        measured=pct[group.rows],
    )  # fmt: skip
    return found


def _unsolved(half: HalfSections, known: Bools, c: Floats, side: str) -> list[Problem]:
    """Points that have no place or no level although the hinge has one: nothing can be built on that side."""
    found: list[Problem] = []
    blamed = np.zeros(len(c), dtype=bool)
    for i in surface_columns(half.half):
        lacks = known & ~blamed & ~(np.isfinite(half.u[:, i]) & np.isfinite(half.z[:, i]))
        blamed |= lacks
        found += problems_where(
            lacks, c, code="no_point", severity="fault", subject="Templates",
            message=partial(_no_point, half.half.names[i], side),
        )  # fmt: skip
    return found


def _uncovered(model: RoadModel, group: TemplateSections, half: HalfSections, side: str) -> list[Problem]:
    """Old pavement inside the edges that the overlay does not reach."""
    if edge_column(half.half) is None:
        return []
    edge = half.side * (model.lines.left_edge if half.side < 0 else model.lines.right_edge)[group.rows]
    overlay = np.isfinite(half.limit) & np.array([isinstance(model.work_at(int(r)), Overlay) for r in group.rows], dtype=bool)
    wide = np.where(overlay, edge - half.u[:, reach_column(half.half)], np.nan)
    c = model.chainage[group.rows]
    found = []
    with np.errstate(invalid="ignore"):
        runs = runs_of(wide > tolerances.SAME_EDGE)
    for run in runs:
        at, w = c[run], wide[run]
        area = float(((w[1:] + w[:-1]) / 2 * np.diff(at)).sum())
        moves = any(
            isinstance(w, Overlay) and w.reach != "at_least_edge" for w in (model.work_at(int(r)) for r in group.rows[run])
        )
        found.append(
            Problem(
                "uncovered", "fault", float(at[0]), float(at[-1]), "Overlay",
                f"on the {side} up to {written(float(w.max()), 'offset')} m of old pavement inside the edge stays uncovered, {area:.1f} m2",
                float(w.max()), None, "reach_edge" if moves else None,
            )
        )  # fmt: skip
    return found


def _no_point(point: str, side: str, _: float | None) -> str:
    return f"{point} {side} has no level here: what it lies on has a gap, so nothing is built or measured on this side"


def _grade_changes(model: RoadModel) -> list[Problem]:
    """Changes of grade between the overlay's hinge levels that the design speed does not allow without a vertical curve."""
    number = np.cumsum(model.stations.first) - 1
    first = np.flatnonzero(np.r_[True, np.diff(number) > 0])
    c = model.chainage[first]
    speed = model.inputs.settings.design_speed_kmh
    limit = model.inputs.standards.vertical.grade_change.at(speed)
    change = changes_along(model.chainage, model.hinge_level)
    overlay = np.bincount(number, np.isfinite(model.depth.least)) > 0
    with np.errstate(invalid="ignore"):
        over = overlay & (np.abs(change) > limit + slack("grade"))
    return problems_where(
        over, c, code="grade_change", severity="caution", subject="Levels",
        message=lambda v: f"the grade changes by {written(v, 'grade')} %; without a curve {limit:g} % is allowed at {speed:.0f} km/h",
        measured=np.abs(change), limit=limit,
    )  # fmt: skip


def _following(model: RoadModel) -> list[Problem]:
    """Follow rules that find nothing, and rules for points that no template there has."""
    found: list[Problem] = []
    c = model.chainage
    names = np.full((2, len(c)), None, dtype=object)
    for group in model.groups:
        for row, half in enumerate((group.left, group.right)):
            names[row, group.rows] = [set(half.half.names)] * len(group.rows)
    for f in model.followed:
        side = "left" if f.side < 0 else "right"
        wanted = np.zeros(len(c), dtype=bool)
        for rule in model.inputs.follow.rules:
            if rule.point == f.point and rule.side == side:
                wanted |= (c >= rule.from_chainage) & (c <= rule.to_chainage)
        there = names[0 if f.side < 0 else 1]
        lacks = np.array([n is not None and f.point not in n for n in there], dtype=bool)
        found += problems_where(
            wanted & lacks, c, code="no_such_point", severity="caution", subject="Guides",
            message=partial(_lacks, f.point, side),
        )  # fmt: skip
        has = np.array([n is not None and f.point in n for n in there], dtype=bool)
        found += problems_where(
            wanted & has & np.isnan(f.offset) & np.isnan(f.level), c, code="not_followed", severity="caution",
            subject="Guides", message=partial(_loses, f.point, side),
        )  # fmt: skip
    return found


def _lacks(point: str, side: str, _: float | None) -> str:
    return f"a follow rule names {point} {side}, but the template here has no such point"


def _loses(point: str, side: str, _: float | None) -> str:
    return f"{point} {side} finds nothing to follow here; the template's own ties hold"


def _steps(model: RoadModel) -> list[Problem]:
    """Hinge levels that differ at one chainage, where one treatment ends and another begins."""
    c, z = model.chainage, model.hinge_level
    same = np.diff(c) <= tolerances.CHAINAGE_MERGE
    step = np.abs(np.diff(z))
    return [
        Problem(
            "level_step",
            "caution",
            float(c[i]),
            float(c[i]),
            "Overlay",
            f"the hinge steps by {1000 * step[i]:.0f} mm where the treatment or template changes",
            float(step[i]),
            tolerances.LEVEL_STEP,
        )
        for i in np.flatnonzero(same & (step > tolerances.LEVEL_STEP))
    ]
