"""What a road gives to others: its hinge and edges as lines in plan and level, on the surface that is designed."""

import numpy as np

from saddle.geometry.polylines import Floats
from saddle.guides.evaluate import RoadLines
from saddle.road.model import RoadModel
from saddle.template.polygons import Vertex
from saddle.views.section import design_line

#: A vertex so near to an edge lies on it, m.
ON_EDGE = 1e-6


def road_lines(model: RoadModel) -> RoadLines:
    """Hinge and edges of a solved road on its sections. The level of an edge is that of the finished surface there, at a kerb's face on
    the hinge's side of it; NaN where nothing is designed."""
    n, lines = np.arange(len(model.chainage)), model.lines
    surfaces = [design_line(model, int(i)) for i in n]

    def placed(offset: Floats, level: Floats) -> Floats:
        there = np.isfinite(offset)
        plan = model.frames.plan(n, np.where(there, offset, 0.0))
        found: Floats = np.where(there[:, None], np.column_stack([plan, level]), np.nan)
        return found

    def edge(offset: Floats) -> Floats:
        levels = [
            float(z) if len(surface) > 1 and abs(e - h) <= ON_EDGE else level_at(surface, e, from_left=e > h)
            for surface, e, h, z in zip(surfaces, offset, lines.hinge, model.hinge_level, strict=True)
        ]
        return placed(offset, np.array(levels))

    return RoadLines(placed(lines.hinge, model.hinge_level), edge(lines.left_edge), edge(lines.right_edge), model.frames.to_right)


def level_at(surface: list[Vertex], offset: float, *, from_left: bool) -> float:
    """Level of a surface from left to right at an offset; at a step on the side that it is come to from. NaN beyond its ends."""
    if len(surface) < 2 or not surface[0][0] - ON_EDGE <= offset <= surface[-1][0] + ON_EDGE:
        return np.nan
    at = [z for o, z in surface if abs(o - offset) <= ON_EDGE]
    if at:
        return at[0] if from_left else at[-1]
    o, z = np.array(surface).T
    return float(np.interp(offset, o, z))
