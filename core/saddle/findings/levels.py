"""Levels along the road: changes of grade, steps, cover over pipes."""

import numpy as np

from saddle import tolerances
from saddle.figures import slack, written
from saddle.problem import Problem, problems_where
from saddle.road.beneath import beneath, clearances
from saddle.road.grades import changes_along
from saddle.road.model import RoadModel


def grade_changes(model: RoadModel) -> list[Problem]:
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


def steps(model: RoadModel) -> list[Problem]:
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


def over_pipes(model: RoadModel) -> list[Problem]:
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
