"""Which rung each side slope takes along the road, and which ones are never taken."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle.geometry.polylines import Floats, Ints
from saddle.road.model import RoadModel
from saddle.road.spec import MedianBeyond
from saddle.template.half import HalfSections
from saddle.template.slopes import NO_SLOPE, ON_GROUND

#: Names of what is no rung.
GROUND, NONE = "on the ground", "none reaches the ground"
#: Of a side that has no slope: another road or a median begins there.
NO_SLOPE_THERE = "no slope: it ends there"


@dataclass(frozen=True, slots=True)
class RungUse:
    """A rung of a template's side. sections: on how many it is taken; of: on how many the template stands."""

    template: str
    side: Literal["left", "right"]
    rung: str
    sections: int
    of: int


@dataclass(frozen=True, slots=True, eq=False)
class Coverage:
    """left, right: (n,) index into names, -1 where nothing is designed."""

    names: tuple[str, ...]
    left: Ints
    right: Ints
    uses: tuple[RungUse, ...]


def coverage(model: RoadModel) -> Coverage:
    """The rungs along a road."""
    n = len(model.chainage)
    names: dict[str, int] = {GROUND: 0, NONE: 1}
    sides = {side: np.full(n, -1, dtype=np.intp) for side in ("left", "right")}
    uses = []
    known = np.isfinite(model.hinge_level)
    for group in model.groups:
        designed = known[group.rows]
        pairs: tuple[tuple[Literal["left", "right"], HalfSections], ...] = (("left", group.left), ("right", group.right))
        for side, half in pairs:
            index = np.array([names.setdefault(r.name, len(names)) for r in half.half.rungs], dtype=np.intp)
            taken = half.slopes.rung
            found = np.where(taken == ON_GROUND, 0, 1)
            if (taken == NO_SLOPE).any():
                found = np.where(taken == NO_SLOPE, names.setdefault(NO_SLOPE_THERE, len(names)), found)
            if index.size:
                found = np.where(taken >= 0, index[np.maximum(taken, 0)], found)
            sides[side][group.rows] = np.where(designed, found, -1)
            for i, rung in enumerate(half.half.rungs):
                count = int((designed & (taken == i)).sum())
                uses.append(RungUse(group.key, side, rung.name, count, int(designed.sum())))
    return Coverage(tuple(names), sides["left"], sides["right"], tuple(uses))


@dataclass(frozen=True, slots=True)
class ShapeUse:
    """A shape of a median: its words, the least width that it needs, m, and on how many sections it is taken."""

    name: str
    least_width: float
    sections: int


@dataclass(frozen=True, slots=True, eq=False)
class MedianUse:
    """A median on a side. shape: (n,) index of the shape taken, -1 where none is; width: (n,) m, NaN where there is no such median or
    nothing for it to reach to; of: on how many sections it is asked for."""

    side: Literal["left", "right"]
    name: str
    shapes: tuple[ShapeUse, ...]
    of: int
    shape: Ints
    width: Floats


def medians_along(model: RoadModel) -> tuple[MedianUse, ...]:
    """The medians of a road, the left ones first, and which of their shapes is taken where."""
    found = []
    sides: tuple[tuple[Literal["left", "right"], Literal[-1, 1]], ...] = (("left", -1), ("right", 1))
    plan = model.inputs.template_plan.ranges
    for word, side in sides:
        keys = [b.median if isinstance(b := r.beyond(side), MedianBeyond) else "" for r in plan]
        for key in dict.fromkeys(k for k in keys if k in model.inputs.medians):
            median = model.inputs.medians[key]
            here = np.array([*(k == key for k in keys), False])[model.stations.template] & model.worked_on()
            shape: Ints = np.where(here & (model.taken.shape[side] >= 0), model.taken.shape[side], -1)
            shapes = tuple(
                ShapeUse(_shape_name(model, s.template), s.least_width, int((shape == k).sum()))
                for k, s in enumerate(median.shapes)
            )
            width = np.where(here, model.taken.width[side], np.nan)
            found.append(MedianUse(word, median.name, shapes, int(here.sum()), shape, width))
    return tuple(found)


def _shape_name(model: RoadModel, template: str | None) -> str:
    if template is None:
        return "as it is"
    spec = model.inputs.templates.get(template)
    return spec.name if spec is not None else template
