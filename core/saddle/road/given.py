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

    def placed(offset: Floats, level: Floats) -> Floats:
        there = np.isfinite(offset)
        plan = frames.plan(n, np.where(there, offset, 0.0))
        found: Floats = np.where(there[:, None], np.column_stack([plan, level]), np.nan)
        return found

    def on_surface(offset: Floats) -> Floats:
        rise = np.where(np.abs(offset - lines.hinge) <= ON_EDGE, 0.0, _rises(designs, offset))
        built = designs.sound[LEFT] | designs.sound[RIGHT]
        return placed(offset, np.where(built, level + rise, np.nan))

    return RoadLines(
        placed(lines.hinge, level), on_surface(lines.left_edge), on_surface(lines.right_edge),
        placed(-designs.ends[LEFT], designs.end_rises[LEFT] + level), placed(designs.ends[RIGHT], designs.end_rises[RIGHT] + level),
        frames.to_right,
    )  # fmt: skip


def _rises(designs: Designs, at: Floats) -> Floats:
    """How far the finished surface of the templates lies above the hinge at offsets (n,), at a step on the hinge's side of it; NaN beyond
    the template's ends, and on a half of which some point is not known."""
    u, z, h, e = designs.shape.offsets, designs.shape.levels, designs.lines.hinge[:, None], at[:, None]
    if u.shape[1] == 0:
        return np.full(len(at), np.nan)
    row, last = np.arange(len(at)), u.shape[1] - 1
    with np.errstate(invalid="ignore"):
        known = np.isfinite(u) & np.isfinite(z)
        known &= (designs.sound[LEFT][:, None] & (u <= h)) | (designs.sound[RIGHT][:, None] & (u >= h))
        on = known & (np.abs(u - e) <= ON_EDGE)
        left, right = known & (u < e), known & (u > e)
    vertex = np.where(at > designs.lines.hinge, on.argmax(axis=1), last - on[:, ::-1].argmax(axis=1))
    i, j = last - left[:, ::-1].argmax(axis=1), right.argmax(axis=1)
    with np.errstate(invalid="ignore", divide="ignore"):
        share = (at - u[row, i]) / (u[row, j] - u[row, i])
        between = z[row, i] + share * (z[row, j] - z[row, i])
    between = np.where(left.any(axis=1) & right.any(axis=1), between, np.nan)
    found: Floats = np.where(on.any(axis=1), z[row, vertex], between)
    return found
