"""Where an edge or the hinge is taken from, as a document."""

from typing import Annotated, Literal

from pydantic import Field

from saddle.documents_base import Document, Number, Positive


class AtOffset(Document):
    """A fixed offset from the alignment, m, negative left."""

    by: Literal["offset"] = "offset"
    offset: Number


class NearestLine(Document):
    """The nearest survey line of a code on a side of the alignment, no further away than `within` m."""

    by: Literal["line"] = "line"
    code: Annotated[str, Field(min_length=1, max_length=40)]
    within: Positive = 12.0


LineSource = Annotated[AtOffset | NearestLine, Field(discriminator="by")]
