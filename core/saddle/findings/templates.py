"""What does not come out in a template where it stands."""

from collections.abc import Callable
from functools import partial

import numpy as np

from saddle import tolerances
from saddle.figures import slack, written
from saddle.geometry.polylines import Bools, Floats, Ints
from saddle.problem import Problem, problems_where, runs_of
from saddle.road.intervals import intervals
from saddle.road.model import RoadModel, TemplateSections
from saddle.road.spec import Overlay
from saddle.template.compiled import edge_column, reach_column, surface_columns
from saddle.template.half import HalfSections
from saddle.template.slopes import NONE_LANDED


def halves(model: RoadModel, group: TemplateSections, half: HalfSections) -> list[Problem]:
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


def slivers(model: RoadModel, group: TemplateSections, half: HalfSections) -> list[Problem]:
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
    """Old pavement inside the edges that the overlay does not reach: beyond its outermost strip, or all of it where the first
    strip has no make-up over the old pavement."""
    nothing = reach_column(half.half) == 0
    if not nothing and edge_column(half.half) is None:
        return []
    edge = half.side * (model.lines.left_edge if half.side < 0 else model.lines.right_edge)[group.rows]
    overlay = np.isfinite(half.limit) & np.array([isinstance(model.work_at(int(r)), Overlay) for r in group.rows], dtype=bool)
    reach = half.u[:, reach_column(half.half)]
    wide = np.where(overlay, edge - reach, np.nan)
    area_of = _strip_areas(model, group.rows, wide, half.side * (edge**2 - reach**2) / 2)
    c = model.chainage[group.rows]
    found = []
    with np.errstate(invalid="ignore"):
        runs = runs_of(wide > tolerances.SAME_EDGE)
    for run in runs:
        at, w = c[run], wide[run]
        area = area_of(run)
        if nothing:
            words = (
                f"template “{group.name}” overlays nothing on the {side}, though {written(float(w.max()), 'offset')} m of old pavement "
                f"lie there, {area:.1f} m²: its first strip has no make-up over the old pavement. Give it one, or apply another template"
            )
            found.append(Problem("uncovered", "fault", float(at[0]), float(at[-1]), "Templates", words, float(w.max())))
            continue
        moves = any(
            isinstance(w, Overlay) and w.reach != "at_least_edge" for w in (model.work_at(int(r)) for r in group.rows[run])
        )
        found.append(
            Problem(
                "uncovered", "fault", float(at[0]), float(at[-1]), "Overlay",
                f"on the {side} up to {written(float(w.max()), 'offset')} m of old pavement inside the edge stays uncovered, {area:.1f} m²",
                float(w.max()), None, "reach_edge" if moves else None,
            )
        )  # fmt: skip
    return found


def _strip_areas(model: RoadModel, rows: Ints, width: Floats, moment: Floats) -> Callable[[Ints], float]:
    """How many m2 in plan a strip has over a run of sections: width (g,), m, and its moment about offset 0, m2, on the sections of a
    group; on a curve it is longer or shorter than the alignment."""
    length, curvature = intervals(model)

    def area(run: Ints) -> float:
        one, other = run[:-1], run[1:]
        next_to = rows[other] == rows[one] + 1
        k, along = curvature[rows[one][next_to]], length[rows[one][next_to]]
        a, b = one[next_to], other[next_to]
        return float((along * (width[a] + width[b] - k * (moment[a] + moment[b])) / 2).sum())

    return area


def _no_point(point: str, side: str, _: float | None) -> str:
    return f"{point} {side} has no level here: what it lies on has a gap, so nothing is built or measured on this side"


def _crossed(point: str, before: str, side: str, by: float | None) -> str:
    return f"{point} {side} lies {by or 0:.3f} m inside {before}: what it follows runs on the wrong side"


def _floor_too_high(floor: str, side: str, by: float | None) -> str:
    return f"floor {floor} {side} lies up to {1000 * (by or 0):.0f} mm above the bottom of the courses: dig it deeper"


def _no_daylight(side: str, _: float | None) -> str:
    return f"a course or floor on the {side} runs to the side slope but does not come out on it"
