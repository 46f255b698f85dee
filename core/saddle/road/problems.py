"""What a designer must look at, found on the solved road."""

from collections.abc import Mapping
from functools import partial

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Bools
from saddle.problem import Problem, problems_where
from saddle.road.model import HalfSections, RoadModel, TemplateSections
from saddle.road.spec import Leave, Overlay
from saddle.template.slopes import NONE_LANDED


def find_problems(model: RoadModel, faulty: Mapping[str, str]) -> tuple[Problem, ...]:
    """All findings in road order. faulty: key of a template -> why it cannot be built."""
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
    found += _steps(model)
    return tuple(sorted(found, key=lambda p: (p.chainage_from, p.chainage_to, p.code)))


def _no_edge(side: str, _: float | None) -> str:
    return f"no {side} pavement edge found here: choose another line or an offset"


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
    ready = rows & ~no_template & np.isfinite(lines.hinge)
    if kind == "overlay":
        ready &= np.isfinite(lines.left_edge) & np.isfinite(lines.right_edge)
    designed = np.zeros(len(c), dtype=bool)
    for group in model.groups:
        designed[group.rows] = True
    found += problems_where(
        ready & designed & np.isnan(model.hinge_level), c, code="no_surface", severity="fault", subject="Survey",
        message=lambda _: "the survey has a gap under the pavement, so there is no level here",
    )  # fmt: skip
    return found


def _depths(model: RoadModel, rows: Bools, work: Overlay) -> list[Problem]:
    d, c = model.depth, model.chainage
    cover, limit = work.least_cover_mm / 1000, work.look_again_mm / 1000
    found = problems_where(
        rows & (d.least < cover - tolerances.SHORT_COVER), c, code="short_cover", severity="fault", subject="Overlay",
        message=lambda v: f"cover is {1000 * (v or 0):.0f} mm, at least {work.least_cover_mm:.0f} mm is asked for",
        measured=d.least, worst="least", limit=cover,
    )  # fmt: skip
    found += problems_where(
        rows & (d.greatest > limit), c, code="deep", severity="caution", subject="Overlay",
        message=lambda v: f"overlay is up to {1000 * (v or 0):.0f} mm deep, look again above {work.look_again_mm:.0f} mm",
        measured=d.greatest, limit=limit,
    )  # fmt: skip
    return found


def _half(model: RoadModel, group: TemplateSections, half: HalfSections) -> list[Problem]:
    side = "left" if half.side < 0 else "right"
    c = model.chainage[group.rows]
    known = np.isfinite(model.hinge_level[group.rows])
    found = problems_where(
        known & (half.slopes.rung == NONE_LANDED), c, code="no_catch", severity="fault", subject="Sections",
        message=lambda _: f"the side slope on the {side} does not reach the ground; widen the sections or change the slope",
    )  # fmt: skip
    short = np.max([zone.short_mm for zone in half.zones], axis=0)
    found += problems_where(
        short > 1000 * tolerances.SHORT_COVER, c, code="thin_courses", severity="caution", subject="Templates",
        message=lambda v: f"on the {side} the overlay is {v or 0:.0f} mm thinner than its upper courses need",
        measured=short,
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
