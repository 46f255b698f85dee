"""What the alignment API speaks of besides the documents."""

from typing import Annotated, Literal

from ninja import Schema
from pydantic import Field

from saddle.alignment.ips import IntersectionPoint
from saddle.alignment.spec import AlignmentSpec
from saddle.documents_base import Name, NotNegative, Number, Positive


class TangentPoint(Schema):
    """A place where one element becomes another."""

    chainage: float
    at: list[float]


class CurveCheck(Schema):
    """An arc: its tangent length and external distance, and the limits of the design speed. element: from 0; sightline: clear
    width that stopping asks for inside the curve; lengths m."""

    element: int
    radius: float
    tangent: float
    external: float
    least_radius: float
    least_transition: float
    desirable_transition: float
    most_transition: float
    sightline: float


class AlignmentLook(Schema):
    """An alignment, saved or not, as it is drawn: its line, tangent points, intersection points if it has them, and its
    arcs against the limits of a design speed."""

    line: list[list[float]]
    tangent_points: list[TangentPoint]
    ips: list[IntersectionPoint] | None
    curves: list[CurveCheck]


class FromIpsIn(Schema):
    """Intersection points that an alignment is to have."""

    alignment: AlignmentSpec
    points: Annotated[list[IntersectionPoint], Field(min_length=2, max_length=1000)]


class PartIn(Schema):
    """A stretch of an alignment, m."""

    alignment: AlignmentSpec
    from_chainage: Number
    to_chainage: Number
    name: Name


class ShapeIn(Schema):
    """Surveyed lines between two chainages of the main alignment, m."""

    lines: Annotated[list[tuple[str, str]], Field(min_length=1, max_length=50)]
    from_chainage: Number
    to_chainage: Number


class ShapeOut(Schema):
    """The straight and the circle that fit the points best, with the root mean square of their distances, m. radius:
    positive turning right, null where the points lie on one line."""

    points: int
    straight_rms: float
    radius: float | None
    circle_rms: float | None


class FitIn(Schema):
    """Points to fit through: lines of the survey by code and name, taken one after another.

    offset: of the surveyed line from the alignment, m, positive right; start_from: an alignment whose elements are kept
    and adjusted, with those pinned left as they are; without it the elements are found.
    """

    lines: Annotated[list[tuple[str, str]], Field(min_length=1, max_length=50)]
    tolerance: Positive = 0.05
    offset: Number = 0.0
    clothoids: bool = True
    start_from: AlignmentSpec | None = None
    pinned: list[int] = []


class ByDistances(Schema):
    """Distances to two points, m."""

    by: Literal["distances"] = "distances"
    first: tuple[Number, Number]
    first_distance: NotNegative
    second: tuple[Number, Number]
    second_distance: NotNegative


class ByChainage(Schema):
    """Chainage and offset from the main alignment, m."""

    by: Literal["chainage"] = "chainage"
    chainage: Number
    offset: Number


class ConstructIn(Schema):
    """How a point is constructed."""

    how: Annotated[ByDistances | ByChainage, Field(discriminator="by")]


class Places(Schema):
    """Plan points, east and north; where there are two, one is to be chosen."""

    places: list[list[float]]


class FitResult(Schema):
    """What a fit found: the alignment, and every point with its chainage and residual, m."""

    alignment: AlignmentSpec
    rms: float
    points: list[list[float]]
    chainage: list[float]
    residual: list[float]
    beyond: list[int]


class StartIn(Schema):
    """A start chainage, m, and the version of the alignment that it was typed on."""

    start_chainage: Number
    version: int
