"""The plan line as a document."""

from typing import Annotated, Literal

from pydantic import Field

from saddle.documents_base import Document, Name, Number, Positive


class Straight(Document):
    """A straight. length: m."""

    kind: Literal["straight"] = "straight"
    length: Positive


class Arc(Document):
    """A circular arc. length: m along it; radius: m, positive turning right, negative turning left."""

    kind: Literal["arc"] = "arc"
    length: Positive
    radius: Annotated[Number, Field(description="m, positive turns right")]


Element = Annotated[Straight | Arc, Field(discriminator="kind")]


class AlignmentSpec(Document):
    """A plan line: a start, a bearing (degrees clockwise from north), a start chainage and its elements."""

    name: Name = "Alignment"
    start_east: Number
    start_north: Number
    start_bearing_deg: Number
    start_chainage: Number = 0.0
    elements: Annotated[list[Element], Field(min_length=1, max_length=2000)]
