"""What is dug and filled on a section, as outlines."""

from itertools import pairwise
from typing import Literal

import numpy as np
from pydantic import BaseModel

from saddle.geometry.polylines import Polylines, sample
from saddle.road.model import RoadModel
from saddle.template.polygons import Vertex


class EarthView(BaseModel):
    """A closed outline between the ground and the formation: of cut where the formation lies below it, else of fill."""

    kind: Literal["cut", "fill"]
    polygon: list[Vertex]


def earth_on(model: RoadModel, i: int) -> list[EarthView]:
    """Cut and fill on row i of the model, from left to right; nothing where they are not known."""
    e = model.earthworks
    if not (np.isfinite(e.cut[i]) and np.isfinite(e.fill[i])):
        return []
    grid, d = e.difference.offsets[i : i + 1], e.difference.levels[i]
    formation = sample(Polylines(e.formation.offsets[i : i + 1], e.formation.levels[i : i + 1]), grid)[0]
    o = grid[0]
    good = np.flatnonzero(np.isfinite(o) & np.isfinite(d) & np.isfinite(formation))
    found: list[EarthView] = []
    run: list[int] = []
    sign = 0

    def close() -> None:
        if len(run) > 1:
            upper = [(float(o[k]), float(formation[k])) for k in run]
            lower = [(float(o[k]), float(formation[k] - d[k])) for k in reversed(run)]
            found.append(EarthView(kind="fill" if sign > 0 else "cut", polygon=[*upper, *lower]))

    for a, b in pairwise(good.tolist()):
        here = int(np.sign(d[a] + d[b])) if b == a + 1 else 0
        if here != sign or here == 0:
            close()
            run, sign = ([a] if here else []), here
        if here:
            run.append(b)
    close()
    return found
