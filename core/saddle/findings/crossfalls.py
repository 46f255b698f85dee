"""Crossfalls that are too steep, or let no water run off."""

from functools import partial

import numpy as np

from saddle.figures import slack, written
from saddle.findings.water import water
from saddle.problem import Problem, problems_where
from saddle.road.model import RoadModel


def crossfalls(model: RoadModel) -> list[Problem]:
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
