"""The rows of figures beneath a long section. One entry of ROWS for another."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from saddle.alignment.equations import shown
from saddle.drawings.figures import level_text, millimetres_text
from saddle.drawings.spec import LongRowKind
from saddle.geometry.polylines import Floats, Polylines, interpolate
from saddle.road.model import RoadModel
from saddle.views.long_section import existing_levels


@dataclass(frozen=True, slots=True)
class LongRow:
    """title: at its left; of: a figure for every section (n,), NaN where there is none; write: a figure as it is written."""

    title: str
    of: Callable[[RoadModel], Floats]
    write: Callable[[float], str]


def _edge(model: RoadModel, side: int) -> Floats:
    """Level of the design at an edge of the overlay (n,)."""
    d = model.depth
    at = d.left if side < 0 else d.right
    levels: Floats = interpolate(Polylines(d.offsets, d.design), at[:, None])[:, 0]
    return levels


def _grade(model: RoadModel) -> Floats:
    """Grade of the design from each section to the next one, %."""
    step = np.diff(model.chainage)
    with np.errstate(divide="ignore", invalid="ignore"):
        rise = np.where(step > 1e-6, 100 * np.diff(model.hinge_level) / step, np.nan)
    return np.append(rise, np.nan)


ROWS: dict[LongRowKind, LongRow] = {
    "chainage": LongRow("Chainage m", lambda m: shown(m.chainage, m.inputs.alignment.equations), lambda c: f"{c:.3f}"),
    "existing": LongRow("Existing level m", existing_levels, level_text),
    "design": LongRow("Design level m", lambda m: m.hinge_level, level_text),
    "difference": LongRow("Difference mm", lambda m: m.hinge_level - existing_levels(m), millimetres_text),
    "milled": LongRow(
        "Milled mm", lambda m: np.where(m.milling.depth > 0, m.milling.depth, np.nan), lambda z: f"{round(1000 * z)}"
    ),
    "left_edge": LongRow("Left edge level m", lambda m: _edge(m, -1), level_text),
    "right_edge": LongRow("Right edge level m", lambda m: _edge(m, 1), level_text),
    "grade": LongRow("Grade to next %", _grade, lambda g: f"{g:+.3f}"),
}
