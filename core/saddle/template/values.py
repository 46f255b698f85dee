"""Values that a template gives as a number or by the name of a dimension, and the dimensions themselves."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache
from typing import Annotated, Any, Literal, TypeVar, get_args

import numpy as np
from pydantic import Field

from saddle.documents_base import Document, Measure, Millimetres, Name
from saddle.errors import TemplateError
from saddle.geometry.polylines import Floats

What = Literal["point", "dimension", "strip"]


@dataclass(frozen=True, slots=True)
class Called:
    """Marks a text as the name of something of a template: `renamed_inside` reads it from there."""

    what: What


PointName = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z][A-Za-z0-9 ._-]*$"), Called("point")]
DimensionName = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z][A-Za-z0-9 _-]*$"), Called("dimension")]
StripName = Annotated[Name, Called("strip")]
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


def metres_of(value_mm: Value, dimensions: Dimensions, n: int) -> Floats:
    """A value in mm on n sections, (n,) m."""
    return value_of(value_mm, dimensions, n) / 1000


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


D = TypeVar("D", bound=Document)


@cache
def _called(model: type[Document]) -> dict[str, What]:
    """Which of a model's own fields hold names of a template, and of what."""

    def what(annotation: Any, metadata: tuple[Any, ...]) -> What | None:
        marks = [m.what for m in metadata if isinstance(m, Called)]
        inner = (what(a, getattr(a, "__metadata__", ())) for a in get_args(annotation))
        return marks[0] if marks else next((w for w in inner if w), None)

    found = {name: what(field.annotation, tuple(field.metadata)) for name, field in model.model_fields.items()}
    return {name: w for name, w in found.items() if w}


def renamed_inside(document: D, new: Callable[[What, str], str]) -> D:
    """A part of a template in which points, dimensions and strips are called otherwise. Not checked again: names of parts that are put
    together are longer than what people type."""
    changes: dict[str, Any] = {}
    for name in type(document).model_fields:
        old = getattr(document, name)
        what = _called(type(document)).get(name)
        if what is not None and isinstance(old, str):
            changes[name] = new(what, old)
        elif isinstance(old, Document):
            changes[name] = renamed_inside(old, new)
        elif isinstance(old, list) and old and isinstance(old[0], Document):
            changes[name] = [renamed_inside(part, new) for part in old]
    return document.model_copy(update=changes)
