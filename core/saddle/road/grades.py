"""Grades of the hinge's levels along the road, each side of a change of treatment by itself."""

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Floats


def grades_along(chainage: Floats, level: Floats) -> tuple[Floats, Floats]:
    """Grade into and out of every section, % (n,). NaN towards a section at the same chainage, at the ends and where a level is
    not known: before a change the road comes, after it it goes on."""
    d = np.diff(chainage)
    with np.errstate(invalid="ignore", divide="ignore"):
        g = np.where(d > tolerances.CHAINAGE_MERGE, 100 * np.diff(level) / d, np.nan)
    return np.r_[np.nan, g][: len(level)], np.r_[g, np.nan][: len(level)]


def changes_along(chainage: Floats, level: Floats) -> Floats:
    """Change of grade, %, at every chainage, one row for sections at one chainage. NaN at the ends, and where the levels step:
    that is found as a step."""
    first = np.flatnonzero(np.r_[True, np.diff(chainage) > tolerances.CHAINAGE_MERGE][: len(level)])
    last = np.r_[first[1:] - 1, len(level) - 1][: len(first)]
    into, out = grades_along(chainage, level)
    with np.errstate(invalid="ignore"):
        steps = np.abs(level[last] - level[first]) > tolerances.LEVEL_STEP
    changes: Floats = np.where(steps, np.nan, out[last] - into[first])
    return changes
