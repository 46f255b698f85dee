"""Why something of a section is not known, and where along the road that is so."""

from dataclasses import dataclass, replace

import numpy as np

from saddle.road.model import RoadModel
from saddle.road.spec import Leave, Overlay


def why_missing(model: RoadModel, i: int) -> str | None:
    """Why a section on which something is to be built has no design, or not all of it, in few words; None where it has."""
    work, lines = model.work_at(i), model.lines
    if work is None or isinstance(work, Leave):
        return None
    found = model.group_of(i)
    if found is None:
        return "no template"
    if not np.isfinite(lines.hinge[i]):
        return "no hinge line"
    if isinstance(work, Overlay):
        for side, edge in (("left", lines.left_edge), ("right", lines.right_edge)):
            if not np.isfinite(edge[i]):
                return f"no {side} edge"
    for side, pct in (("left", lines.left_pct), ("right", lines.right_pct)):
        if not np.isfinite(pct[i]):
            return f"no {side} crossfall"
    if not np.isfinite(model.hinge_level[i]):
        return "no level at the hinge"
    group, k = found
    unsolved = [side for side, half in (("left", group.left), ("right", group.right)) if not half.layers.solved[k]]
    return f"something on the {' and '.join(unsolved)} has no level" if unsolved else None


@dataclass(frozen=True, slots=True)
class Missing:
    """A stretch over which something is to be built and has no design, m; why: in few words."""

    low: float
    high: float
    why: str


def missing_stretches(model: RoadModel) -> list[Missing]:
    """Where the design is missing: runs of neighbouring sections with one reason, each out to half the way to the next section."""
    c = model.chainage
    halves = np.diff(c) / 2
    before, after = np.r_[0.0, halves], np.r_[halves, 0.0]
    found: list[Missing] = []
    last = -2
    for i in np.flatnonzero(model.worked_on()).tolist():
        why = why_missing(model, i)
        if why is None:
            continue
        if found and last == i - 1 and found[-1].why == why:
            found[-1] = replace(found[-1], high=float(c[i] + after[i]))
        else:
            found.append(Missing(float(c[i] - before[i]), float(c[i] + after[i]), why))
        last = i
    return found
