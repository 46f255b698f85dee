"""What the crossfalls API speaks of besides the documents."""

from typing import Literal

from ninja import Schema

from road.numbers import Numbers
from saddle.documents_base import Number
from saddle.overlay.crossfalls import Operation
from saddle.overlay.spec import CrossfallTable
from saddle.standards.drainage import RAIN_MM_H, TEXTURE_MM

Chainage = Number


class CrossfallsOut(Schema):
    """Per section: measured crossfalls of the old road and those that hold now, %; how water leaves the road on either side, as
    in saddle.findings.water.Water, with the rain and texture that the film is told for."""

    chainage: list[float]
    measured_left: Numbers
    measured_right: Numbers
    left: Numbers
    right: Numbers
    resultant: list[Numbers]
    path: list[Numbers]
    film: list[Numbers]
    rain_mm_h: float = RAIN_MM_H
    texture_mm: float = TEXTURE_MM


class OperationIn(Schema):
    """An operation on the rows of a table over a range; nothing is written."""

    operation: Operation
    side: Literal["left", "right", "both"] = "both"
    from_chainage: Chainage
    to_chainage: Chainage
    table: CrossfallTable
