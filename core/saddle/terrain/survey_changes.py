"""What changed from one survey to another, point by point."""

from dataclasses import dataclass

import numpy as np

from saddle.geometry.polylines import Floats
from saddle.terrain.survey import Survey

#: Points that moved less are the same, m: files are written to the millimetre.
SAME_PLACE = 0.0005
#: Points told one by one.
LISTED = 200


@dataclass(frozen=True, slots=True)
class MovedPoint:
    """A point of both surveys. east, north: where it is in the second; by: plan distance, rise: of level, m, second less first."""

    number: str
    east: float
    north: float
    by: float
    rise: float


@dataclass(frozen=True, slots=True)
class SurveyChanges:
    """Counts of points by number: same place in both, moved, in one only; recoded: of those in both, with another code; farthest,
    rise: greatest distance in plan and greatest change of level by size, m, 0 where none moved; moved: the first of them."""

    same: int
    moved: int
    recoded: int
    only_first: int
    only_second: int
    farthest: float
    rise: float
    listed: list[MovedPoint]


def changes(first: Survey, second: Survey) -> SurveyChanges:
    """Points are told apart by number; of several with one number the first counts, the others are in one survey only."""
    _, a, b = np.intersect1d(first.number.astype(str), second.number.astype(str), return_indices=True)
    step: Floats = second.xyz[b] - first.xyz[a]
    by = np.hypot(step[:, 0], step[:, 1])
    moved = np.flatnonzero((by > SAME_PLACE) | (np.abs(step[:, 2]) > SAME_PLACE))
    order = moved[np.argsort(-np.maximum(by, np.abs(step[:, 2]))[moved], kind="stable")][:LISTED]
    listed = [
        MovedPoint(str(second.number[b[i]]), *(float(v) for v in (*second.xyz[b[i], :2], by[i], step[i, 2]))) for i in order
    ]
    largest = float(step[np.argmax(np.abs(step[:, 2])), 2]) if len(moved) else 0.0
    return SurveyChanges(
        same=len(a) - len(moved), moved=len(moved), recoded=int((first.code[a] != second.code[b]).sum()),
        only_first=len(first.number) - len(a), only_second=len(second.number) - len(b),
        farthest=float(by[moved].max(initial=0.0)), rise=largest, listed=listed,
    )  # fmt: skip
