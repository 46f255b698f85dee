"""Where a side road begins that becomes a road of its own."""

import numpy as np

from saddle.chainage import format_chainage
from saddle.errors import GeometryError
from saddle.guides.evaluate import RoadLines
from saddle.road.model import RoadModel
from saddle.road.own_road import Mouth, Side


def mouth_of(model: RoadModel, lines: RoadLines, chainage: float, side: Side) -> Mouth:
    """The middle of a mouth on a road: its hinge there, and how far out the template ends. Raises GeometryError where the road has neither,
    or its alignment does not go there."""
    frames = model.alignment.frames(np.array([chainage]))
    hinge = np.interp(chainage, model.chainage, model.lines.hinge)
    place = f"at {format_chainage(chainage)}"
    if not np.isfinite(hinge):
        raise GeometryError(f"the hinge is not known {place}", "range", "mark a mouth where the road has a treatment")
    point = frames.plan(0, np.array([hinge]))[0]
    ends = lines.left_end if side == "left" else lines.right_end
    out = np.hypot(*(ends - lines.hinge)[:, :2].T)
    known = np.isfinite(out)
    away = np.hypot(*(lines.hinge[known, :2] - point).T)
    if not known.any() or away.min() > np.diff(model.chainage).max(initial=1.0):
        raise GeometryError(f"the template does not end anywhere on the {side} {place}", "range", "apply a template there first")
    return Mouth(float(point[0]), float(point[1]), float(np.degrees(frames.bearing[0])), float(out[known][np.argmin(away)]))
