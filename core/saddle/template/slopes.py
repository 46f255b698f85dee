"""Side slopes from the outer point of a template to the ground. Outward-positive, all sections at once."""

from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Floats, Polylines, first_descent, interpolate, merge_offsets, sample
from saddle.template.spec import Rung

#: Value of SideSlopes.rung where the outer point already lies on the ground, and where nothing landed.
ON_GROUND = -1
NONE_LANDED = -2


@dataclass(frozen=True, slots=True, eq=False)
class SideSlopes:
    """rung: (n,) index of the rung taken, or ON_GROUND or NONE_LANDED. catch_offset, catch_level: (n,), NaN
    where nothing landed. reasons: per rung, (n,) text codes of why it was passed over ('' where it was not)."""

    rung: np.ndarray
    catch_offset: Floats
    catch_level: Floats
    reasons: tuple[np.ndarray, ...]


def side_slopes(start: Floats, level: Floats, rungs: tuple[Rung, ...], ground: Polylines) -> SideSlopes:
    """Try the rungs in order; each only on the sections that no earlier one took.

    start, level: (n,) outward offset and level of the outer point; ground: mirrored for the left side. Touching
    the ground at a vertex counts as landing, and so does lying on it at the start.
    """
    n = len(start)
    under = interpolate(ground, start[:, None], "outer")[:, 0]
    rung = np.full(n, NONE_LANDED)
    catch_offset, catch_level = np.full(n, np.nan), np.full(n, np.nan)
    reasons = []
    above = under - level
    on_ground = np.abs(above) <= tolerances.COINCIDENT
    rung[on_ground] = ON_GROUND
    catch_offset[on_ground], catch_level[on_ground] = start[on_ground], level[on_ground]
    for number, item in enumerate(rungs):
        why = np.full(n, "", dtype=object)
        open_rows = rung == NONE_LANDED
        sense = 1.0 if item.when == "cut" else -1.0
        wrong_sense = open_rows & ~(above * sense > 0)
        why[wrong_sense] = "ground is below" if item.when == "cut" else "ground is above"
        why[open_rows & np.isnan(above)] = "no ground under the outer point"
        rows = np.flatnonzero(open_rows & ~wrong_sense)
        reach = _landing(start[rows], level[rows], sense / item.one_in, item.most_width, ground.rows(rows), sense)
        landed = np.isfinite(reach)
        why[rows[~landed]] = f"does not reach the ground within {item.most_width:g} m"
        taken = rows[landed]
        rung[taken] = number
        catch_offset[taken] = reach[landed]
        catch_level[taken] = level[taken] + (reach[landed] - start[taken]) * sense / item.one_in
        reasons.append(why)
    return SideSlopes(rung, catch_offset, catch_level, tuple(reasons))


def _landing(start: Floats, level: Floats, slope: float, most: float, ground: Polylines, sense: float) -> Floats:
    """Outward offset where a slope first meets the ground, (n,), NaN where it does not within `most` metres."""
    if len(start) == 0:
        return np.empty(0)
    end = start + most
    grid = merge_offsets(start, end, ground.offsets)
    line = level[:, None] + slope * (grid - start[:, None])
    gap = sense * (sample(ground, grid) - line)
    gap = np.where(np.abs(gap) <= tolerances.COINCIDENT, 0.0, gap)
    return first_descent(grid, gap)
