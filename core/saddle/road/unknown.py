"""Why something of a section is not known."""

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
