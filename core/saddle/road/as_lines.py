"""What a road gives to others: its hinge and edges as lines in plan and level."""

import numpy as np

from saddle.geometry.polylines import Floats
from saddle.guides.evaluate import RoadLines
from saddle.road.model import RoadModel


def as_lines(model: RoadModel) -> RoadLines:
    """Hinge and edges of a solved road. The level of an edge is that of the overlay there, else of the plane from the hinge at the
    crossfall; NaN where neither is known."""
    n, lines, depth = np.arange(len(model.chainage)), model.lines, model.depth

    def placed(offset: Floats, level: Floats) -> Floats:
        plan = model.frames.plan(n, np.nan_to_num(offset))
        return np.column_stack(
            [np.where(np.isfinite(offset)[:, None], plan, np.nan), np.where(np.isfinite(offset), level, np.nan)]
        )

    def edge(offset: Floats, pct: Floats, laid: Floats, last: int) -> Floats:
        plane = model.hinge_level + pct / 100 * np.abs(offset - lines.hinge)
        overlaid = np.array(
            [design[np.isfinite(design)][last] if np.isfinite(design).any() else np.nan for design in depth.design]
        )
        on_it = np.isfinite(overlaid) & (np.abs(laid - offset) < 1e-6)
        return placed(offset, np.where(on_it, overlaid, plane))

    return RoadLines(
        placed(lines.hinge, model.hinge_level), edge(lines.left_edge, lines.left_pct, depth.left, 0),
        edge(lines.right_edge, lines.right_pct, depth.right, -1),
    )  # fmt: skip
