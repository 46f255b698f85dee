"""Values that a template gives as a number or by the name of a dimension, and the dimensions themselves."""

from collections.abc import Mapping
from typing import Annotated, Literal

import numpy as np
from pydantic import Field

from saddle.documents_base import Document, Measure, Millimetres
from saddle.errors import TemplateError
from saddle.geometry.polylines import Floats

PointName = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z][A-Za-z0-9 ._-]*$")]
DimensionName = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z][A-Za-z0-9 _-]*$")]
Unit = Literal["m", "mm", "%"]
#: A number, or the name of a dimension of the template.
Value = Measure | DimensionName


class Dimension(Document):
    """A named measure that several ties share and that a template range may give another value. unit: of `value`."""

    name: DimensionName
    unit: Unit = "m"
    value: Millimetres


#: Dimensions by name, each (n,) along the sections.
Dimensions = Mapping[str, Floats]


def value_of(value: Value, dimensions: Dimensions, n: int) -> Floats:
    """A value on n sections, (n,)."""
    return dimensions[value] if isinstance(value, str) else np.full(n, float(value))


def check_value(value: Value, unit: Unit, known: Mapping[str, Dimension], whose: str, subject: str) -> None:
    """Raises TemplateError where a value names no dimension, or one in another unit."""
    if not isinstance(value, str):
        return
    if value not in known:
        raise TemplateError(f"{whose} uses the dimension “{value}”, which does not exist", subject, "add it or type a number")
    if known[value].unit != unit:
        raise TemplateError(
            f"{whose} needs a value in {unit}, but the dimension “{value}” is in {known[value].unit}",
            subject,
            "choose another dimension or type a number",
        )
