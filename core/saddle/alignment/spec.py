"""The plan line as a document."""

from typing import Annotated, Literal, Self

from pydantic import AfterValidator, Field, model_validator

from saddle.documents_base import Chainage, Document, Name, Number
from saddle.limits import LONGEST_ROAD

#: Of an element, m. Shorter than a thousandth of a millimetre it is none.
Length = Annotated[float, Field(ge=1e-6, allow_inf_nan=False)]


def _turns(radius: float) -> float:
    if abs(radius) < 1.0:
        raise ValueError(f"a radius of {radius:g} m is no curve: give at least 1 m, negative to turn left")
    return radius


#: Of an arc or an end of a transition, m.
Radius = Annotated[Number, AfterValidator(_turns)]


class Straight(Document):
    """A straight. length: m."""

    kind: Literal["straight"] = "straight"
    length: Length


class Arc(Document):
    """A circular arc. length: m along it; radius: m, positive turning right, negative turning left."""

    kind: Literal["arc"] = "arc"
    length: Length
    radius: Annotated[Radius, Field(description="m, positive turns right")]


class Clothoid(Document):
    """A transition whose curvature runs straight from one end to the other. Radii: m, positive turning right, null
    where that end is straight. One radius in, another out of the same sign: an egg line between two arcs."""

    kind: Literal["clothoid"] = "clothoid"
    length: Length
    radius_start: Radius | None = None
    radius_end: Radius | None = None

    @model_validator(mode="after")
    def _bends(self) -> Self:
        if self.radius_start == self.radius_end:
            raise ValueError("a clothoid needs two different radii; leave one empty where it joins a straight")
        return self


Element = Annotated[Straight | Arc | Clothoid, Field(discriminator="kind")]


class ChainageEquation(Document):
    """A jump: what would be chainage `back` is called `ahead` from there on, m."""

    back: Chainage
    ahead: Chainage


class AlignmentSpec(Document):
    """A plan line: a start, a bearing (degrees clockwise from north), a start chainage and its elements.

    equations: jumps in chainage, in road order; everything is computed on the chainage without them.
    """

    name: Name = "Alignment"
    start_east: Number
    start_north: Number
    start_bearing_deg: Number
    start_chainage: Chainage = 0.0
    elements: Annotated[list[Element], Field(min_length=1, max_length=2000)]
    equations: Annotated[list[ChainageEquation], Field(max_length=50)] = []

    @model_validator(mode="after")
    def _not_too_long(self) -> Self:
        length = sum(e.length for e in self.elements)
        if length > LONGEST_ROAD:
            raise ValueError(
                f"the alignment would be {length / 1000:,.1f} km long, at most {LONGEST_ROAD / 1000:,.0f} km are computed as one road"
            )
        return self

    @model_validator(mode="after")
    def _equations_in_order(self) -> Self:
        backs = [e.back for e in self.equations]
        if backs != sorted(backs):
            raise ValueError("chainage equations stand in road order, each later than the one before")
        return self
