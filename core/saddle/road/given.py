"""What a road gives to others: its hinge, edges and the ends of its templates as lines in plan and level, on the surface that is
designed. They are known before anything is built, so that roads may end at each other's middle."""

import numpy as np

from saddle.alignment.alignment import Frames
from saddle.geometry.polylines import Floats
from saddle.guides.evaluate import RoadLines
from saddle.road.designs import LEFT, RIGHT, Designs

#: A vertex so near to an edge lies on it, m.
ON_EDGE = 1e-6


def lines_given(designs: Designs, level: Floats, frames: Frames) -> RoadLines:
    """Hinge, edges and ends on every section; level: (n,) of the hinge. The level of an edge is that of the finished surface there, at a
    kerb's face on the hinge's side of it; NaN where none of the template reaches."""
    n, lines = np.arange(len(level)), designs.lines
    surfaces = [_surface(designs, int(i), float(level[i])) for i in n]

    def placed(offset: Floats, level: Floats) -> Floats:
        there = np.isfinite(offset)
        plan = frames.plan(n, np.where(there, offset, 0.0))
        found: Floats = np.where(there[:, None], np.column_stack([plan, level]), np.nan)
        return found

    def on_surface(offset: Floats) -> Floats:
        levels = [
            float(z) if len(surface) > 1 and abs(e - h) <= ON_EDGE else level_at(surface, e, from_left=e > h)
            for surface, e, h, z in zip(surfaces, offset, lines.hinge, level, strict=True)
        ]
        return placed(offset, np.array(levels))

    return RoadLines(
        placed(lines.hinge, level), on_surface(lines.left_edge), on_surface(lines.right_edge),
        placed(-designs.ends[LEFT], designs.end_rises[LEFT] + level), placed(designs.ends[RIGHT], designs.end_rises[RIGHT] + level),
        frames.to_right,
    )  # fmt: skip


def _surface(designs: Designs, i: int, level: float) -> Floats:
    """The finished surface of a section's template from left to right (k, 2), without a half of which some point is not known."""
    u, z = designs.shape.row(i)
    h = designs.lines.hinge[i]
    keep = (designs.sound[LEFT][i] & (u <= h)) | (designs.sound[RIGHT][i] & (u >= h))
    return np.column_stack([u[keep], z[keep] + level]) if np.isfinite(level) else np.empty((0, 2))


def level_at(surface: Floats, offset: float, *, from_left: bool) -> float:
    """Level of a surface (k, 2) from left to right at an offset; at a step on the side that it is come to from. NaN beyond its ends."""
    if len(surface) < 2 or not surface[0, 0] - ON_EDGE <= offset <= surface[-1, 0] + ON_EDGE:
        return np.nan
    at = surface[np.abs(surface[:, 0] - offset) <= ON_EDGE, 1]
    if len(at):
        return float(at[0] if from_left else at[-1])
    return float(np.interp(offset, *surface.T))
