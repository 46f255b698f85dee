"""The rows of figures beneath a long section. One entry of ROWS for another."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from saddle.alignment.equations import shown
from saddle.drawings.rows import Laid, laid
from saddle.drawings.spec import LongRow, LongRowKind
from saddle.figures import FIGURES
from saddle.geometry.polylines import Bools, Floats, Polylines, interpolate
from saddle.road.model import RoadModel
from saddle.views.long_section import existing_levels

#: Room at both ends of a figure in its row together, in heights of lettering.
PADDING = 1.6


@dataclass(frozen=True, slots=True)
class Kind:
    """title: at its left; of: a figure for every section (n,), NaN where there is none."""

    title: str
    of: Callable[[RoadModel], Floats]
    decimals: int
    signed: bool = False


@dataclass(frozen=True, slots=True, eq=False)
class RowAlong:
    """A row that is laid out: figures (n,) of every section."""

    laid: Laid
    values: Floats


def rows_along(model: RoadModel, rows: Sequence[LongRow], inside: Bools, lettering: float) -> list[RowAlong]:
    """Rows laid out for the sections (n,) that are drawn. lettering: of the style, mm."""
    out = []
    for row in rows:
        kind = ROWS[row.kind]
        values = kind.of(model)
        known = values[inside & np.isfinite(values)]
        ends = [float(known.min()), float(known.max())] if known.size else []
        found = laid(row, kind.title, kind.decimals, ends, lettering, PADDING, signed=kind.signed)
        out.append(RowAlong(found, values))
    return out


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


LEVEL, MILLIMETRES = FIGURES["level"].decimals, 0
ROWS: dict[LongRowKind, Kind] = {
    "chainage": Kind("Chainage m", lambda m: shown(m.chainage, m.inputs.alignment.equations), 3),
    "existing": Kind("Existing level m", existing_levels, LEVEL),
    "design": Kind("Design level m", lambda m: m.hinge_level, LEVEL),
    "difference": Kind("Difference mm", lambda m: 1000 * (m.hinge_level - existing_levels(m)), MILLIMETRES, signed=True),
    "milled": Kind("Milled mm", lambda m: np.where(m.milling.depth > 0, 1000 * m.milling.depth, np.nan), MILLIMETRES),
    "left_edge": Kind("Left edge level m", lambda m: _edge(m, -1), LEVEL),
    "right_edge": Kind("Right edge level m", lambda m: _edge(m, 1), LEVEL),
    "grade": Kind("Grade to next %", _grade, 3, signed=True),
}
