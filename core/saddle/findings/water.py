"""How water leaves the solved road, section by section."""

from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Floats
from saddle.road.grades import grades_along
from saddle.road.model import RoadModel
from saddle.standards.drainage import film_mm, path_length, resultant_pct


@dataclass(frozen=True, slots=True, eq=False)
class Water:
    """Per section and side (n, 2), left and right: resultant slope, %; path to the edge, m, over both sides where the other
    one falls this way; film at its end, mm. NaN where nothing is designed."""

    resultant: Floats
    path: Floats
    film: Floats


def water(model: RoadModel) -> Water:
    """Water on the lanes between hinge and edges, with the grade of the hinge's levels."""
    lines = model.lines
    into, out = grades_along(model.chainage, model.hinge_level)
    both = np.isfinite(into) & np.isfinite(out)
    grade = np.where(both, (into + out) / 2, np.where(np.isfinite(into), into, out))[:, None]
    pct = np.column_stack([lines.left_pct, lines.right_pct])
    width = np.column_stack([lines.hinge - lines.left_edge, lines.right_edge - lines.hinge])
    with np.errstate(invalid="ignore"):
        crossed = width + np.where((pct[:, ::-1] > 0) & (pct < 0), width[:, ::-1], 0.0)
    slope = resultant_pct(pct, grade)
    path = path_length(crossed, pct, grade)
    known = np.isfinite(model.hinge_level)[:, None] & np.isfinite(slope)
    return Water(*(np.where(known, v, np.nan) for v in (slope, path, film_mm(path, slope))))
