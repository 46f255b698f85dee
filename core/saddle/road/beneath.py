"""Pits and pipes under the alignment, and what lies above them."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import BaseModel

from saddle.alignment.alignment import Alignment
from saddle.figures import slack
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import Structures

#: Pits are shown when they lie no further away than this, m.
PIT_REACH = 15.0


@dataclass(frozen=True, slots=True)
class Beneath:
    """A structure in the long section. top, bottom: m; of a pipe its soffit and invert, of a pit its cover and invert, NaN
    where that is not known."""

    kind: Literal["pit", "pipe"]
    name: str
    chainage: float
    top: float
    bottom: float


def beneath(structures: Structures, alignment: Alignment) -> list[Beneath]:
    """Pipes where they cross the alignment, and pits beside it."""
    found: list[Beneath] = []
    for pipe in structures.pipes:
        p = np.array([[e.east, e.north, e.level] for e in pipe.points])
        chainage, offset = alignment.locate(p[:, :2])
        for i in np.flatnonzero(offset[:-1] * offset[1:] <= 0):
            across = offset[i] - offset[i + 1]
            t = offset[i] / across if across else 0.0
            invert = float(p[i, 2] + t * (p[i + 1, 2] - p[i, 2]))
            found.append(
                Beneath(
                    "pipe",
                    pipe.name,
                    float(chainage[i] + t * (chainage[i + 1] - chainage[i])),
                    invert + pipe.diameter,
                    invert,
                )
            )
    for pit in structures.pits:
        (chainage,), (offset,) = alignment.locate(np.array([[pit.east, pit.north]]))
        cover, invert = (np.nan if z is None else z for z in (pit.cover, pit.invert))
        if np.isfinite(chainage) and abs(offset) <= PIT_REACH and np.isfinite([cover, invert]).any():
            found.append(Beneath("pit", pit.name, float(chainage), cover, invert))
    return sorted(found, key=lambda b: b.chainage)


class Clearance(BaseModel):
    """A pipe under levels along the road. cover: from its top up to them, m; short: less than is asked for."""

    name: str
    chainage: float
    top: float
    cover: float
    short: bool


def clearances(below: list[Beneath], levels: Callable[[Floats], Floats], least: float) -> list[Clearance]:
    """Pipes under levels, in road order. levels: those at chainages (k,), NaN where there are none; least: cover asked for, m."""
    pipes = [b for b in below if b.kind == "pipe"]
    at = levels(np.array([b.chainage for b in pipes], dtype=float))
    return [
        Clearance(
            name=b.name,
            chainage=b.chainage,
            top=b.top,
            cover=float(z - b.top),
            short=bool(z - b.top < least - slack("offset")),
        )
        for b, z in zip(pipes, at, strict=True)
        if np.isfinite(z)
    ]
