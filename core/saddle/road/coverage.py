"""Which rung each side slope takes along the road, and which ones are never taken."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle.geometry.polylines import Ints
from saddle.road.model import RoadModel
from saddle.template.half import HalfSections
from saddle.template.slopes import ON_GROUND

#: Names of what is no rung.
GROUND, NONE = "on the ground", "none reaches the ground"


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
            if index.size:
                found = np.where(taken >= 0, index[np.maximum(taken, 0)], found)
            sides[side][group.rows] = np.where(designed, found, -1)
            for i, rung in enumerate(half.half.rungs):
                count = int((designed & (taken == i)).sum())
                uses.append(RungUse(group.key, side, rung.name, count, int(designed.sum())))
    return Coverage(tuple(names), sides["left"], sides["right"], tuple(uses))
