"""What the designers' remarks say where: on sections, and in plan."""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Floats
from saddle.road.model import RoadModel
from saddle.road.spec import Remark


def remarks_on(model: RoadModel, row: int) -> list[Remark]:
    """The remarks that a section says: of ranges that it stands in, and of places that no other section stands nearer to."""
    c = model.chainage

    def says(r: Remark) -> bool:
        if r.to_chainage is not None:
            return bool(r.from_chainage - tolerances.CHAINAGE_MERGE <= c[row] <= r.to_chainage + tolerances.CHAINAGE_MERGE)
        low, high = model.alignment.start - tolerances.CHAINAGE_MERGE, model.alignment.end + tolerances.CHAINAGE_MERGE
        if not low <= r.from_chainage <= high:
            return False
        k = int(np.searchsorted(c, r.from_chainage))
        nearest = np.abs(c[max(k - 1, 0) : k + 1] - r.from_chainage).min()
        return bool(abs(r.from_chainage - c[row]) <= nearest + tolerances.CHAINAGE_MERGE)

    return [r for r in model.inputs.remarks.remarks if says(r)]


@dataclass(frozen=True, slots=True, eq=False)
class RemarkInPlan:
    """text, and where: (k, 2) east and north, one place or along a range."""

    text: str
    places: Floats


def remarks_in_plan(model: RoadModel) -> Iterator[RemarkInPlan]:
    """Those that lie on the alignment, at their offsets; of one that runs beyond it as much as lies on it."""
    a = model.alignment
    for r in model.inputs.remarks.remarks:
        low, high = max(r.from_chainage, a.start), min(r.from_chainage if r.to_chainage is None else r.to_chainage, a.end)
        if low > high + tolerances.CHAINAGE_MERGE:
            continue
        low = min(low, high)
        at = np.unique(np.r_[np.arange(low, high, 5.0), high])
        yield RemarkInPlan(r.text, a.frames(at).plan(np.arange(len(at)), np.full(len(at), r.offset or 0.0)))
