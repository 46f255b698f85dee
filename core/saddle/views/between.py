"""What lies between two named points along the road: width, rise and fall on every section. The way to see that a crossfall, a
widening or a kerb's height arrived where it was to arrive."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle.geometry.polylines import Floats, interpolate
from saddle.road.model import RoadModel
from saddle.template.half import HalfSections

Side = Literal["left", "right", "hinge", "old"]


@dataclass(frozen=True, slots=True)
class Named:
    """A point by its name: of a template on the left or right, the hinge, or one of the old road (hinge, left edge, right edge)."""

    side: Side
    name: str


HINGE = Named("hinge", "hinge")
OLD = (Named("old", "hinge"), Named("old", "left edge"), Named("old", "right edge"))


@dataclass(frozen=True, slots=True, eq=False)
class Between:
    """On n sections, NaN where either point is not there: width (n,) m, positive to the right of the first point; rise (n,) m,
    positive upwards; pct (n,) rise over the width without its sign, %, NaN where the points stand above each other."""

    width: Floats
    rise: Floats
    pct: Floats


def named_points(model: RoadModel) -> list[Named]:
    """Every point that stands on some section: the hinge, the templates' own outwards on either side, the old road's."""
    sides: dict[Side, dict[str, None]] = {"left": {}, "right": {}}
    for group in model.groups:
        for side, half in _halves(group.left, group.right):
            sides[side].update(dict.fromkeys(half.half.names[1:]))
    return [HINGE, *(Named(side, name) for side, names in sides.items() for name in names), *OLD]


def places_of(model: RoadModel, point: Named) -> tuple[Floats, Floats]:
    """Offset and level of a point on every section, (n,) each, NaN where it does not stand."""
    lines = model.lines
    if point.side == "hinge":
        return lines.hinge, model.hinge_level
    if point.side == "old":
        offsets = {"hinge": lines.hinge, "left edge": lines.left_edge, "right edge": lines.right_edge}.get(point.name)
        if offsets is None:
            return _nowhere(model), _nowhere(model)
        return offsets, interpolate(model.existing, offsets[:, None])[:, 0]
    offset, level = _nowhere(model), _nowhere(model)
    for group in model.groups:
        half = dict(_halves(group.left, group.right))[point.side]
        if point.name in half.half.names[1:]:
            k = half.half.names.index(point.name, 1)
            offset[group.rows], level[group.rows] = half.side * half.u[:, k], half.z[:, k]
    return offset, level


def between(model: RoadModel, first: Named, last: Named) -> Between:
    """From one point to another on every section."""
    (o, z), (p, y) = places_of(model, first), places_of(model, last)
    width, rise = p - o, y - z
    width = np.where(np.isnan(rise), np.nan, width)
    flat = np.abs(width) > 1e-9
    return Between(width, rise, np.divide(100 * rise, np.abs(width), out=np.full(len(rise), np.nan), where=flat))


def _halves(left: HalfSections, right: HalfSections) -> list[tuple[Side, HalfSections]]:
    return [("left", left), ("right", right)]


def _nowhere(model: RoadModel) -> Floats:
    return np.full(len(model.chainage), np.nan)
