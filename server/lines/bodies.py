"""Bodies of the API of section lines."""

from ninja import Schema

from saddle.documents_base import Number
from saddle.template.polygons import Vertex

Place = tuple[Number, Number]


class PlacedLine(Schema):
    """A line of a group as it comes out. part: counts all of them; number: the group's line that it comes from; chainage: null where
    it does not meet the alignment; shown: as it is called; angle_deg: null for a bent path."""

    part: int
    number: int
    kind: str
    name: str
    remark: str
    chainage: float | None
    shown: float | None
    angle_deg: float | None
    left: float
    right: float
    path: list[Vertex]


class NotPlaced(Schema):
    """A line of a group that cannot be placed, and why."""

    number: int
    why: str


class PlacedGroup(Schema):
    """A group in plan."""

    key: str
    name: str
    lines: list[PlacedLine]
    wrong: list[NotPlaced]


class TwoPlaces(Schema):
    """Two places of a structure, east and north."""

    first: Place
    last: Place


class OnePlace(Schema):
    """A place in plan, east and north."""

    at: Place


class Skew(Schema):
    """Where the line through two places crosses the road, and its angle to the right of square, degrees."""

    chainage: float
    angle_deg: float
