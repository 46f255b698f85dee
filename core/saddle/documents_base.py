"""What all documents share: strict, small, typed. Reading one that does not fit names the field."""

import hashlib
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from functools import cache, cached_property
from types import UnionType
from typing import Annotated, Any, Self, TypeVar, Union, get_args, get_origin

from pydantic import BaseModel, ConfigDict, Field

# Every number has limits of what can be meant: NaN, infinities and what no road has are refused at the door.
#: A number, also a coordinate, in any unit that a field names.
Number = Annotated[float, Field(ge=-1e8, le=1e8, allow_inf_nan=False)]
Positive = Annotated[float, Field(gt=0, le=1e6, allow_inf_nan=False)]
NotNegative = Annotated[float, Field(ge=0, le=1e6, allow_inf_nan=False)]
#: A level above any datum, m.
Level = Annotated[float, Field(ge=-20_000, le=20_000, allow_inf_nan=False)]
#: A slope along or across, %.
Percent = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]
#: A measure of a cross-section, m.
Measure = Annotated[float, Field(ge=-1000, le=1000, allow_inf_nan=False)]
PositiveMeasure = Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]
NotNegativeMeasure = Annotated[float, Field(ge=0, le=1000, allow_inf_nan=False)]
#: Thicknesses and sizes, mm.
Millimetres = Annotated[float, Field(ge=-10_000, le=10_000, allow_inf_nan=False)]
PositiveMillimetres = Annotated[float, Field(gt=0, le=10_000, allow_inf_nan=False)]
NotNegativeMillimetres = Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)]
Name = Annotated[str, Field(min_length=1, max_length=80)]
#: #RRGGBB.
Colour = Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
#: The key of another document of the project.
Key = Annotated[str, Field(min_length=1, max_length=80, pattern=r"^[A-Za-z0-9_-]+$")]


@dataclass(frozen=True, slots=True)
class Refers:
    """Marks a field as holding the key of another document: `Annotated[Key, Refers("material")]`. Removal, libraries, renaming
    and the interface read it from there."""

    kind: str


class AlongRoad:
    """Marks a number as a chainage: it moves when the road gets another start chainage."""


#: A chainage, m, without equations.
Chainage = Annotated[float, Field(ge=-1e7, le=1e7, allow_inf_nan=False), AlongRoad()]


class Document(BaseModel):
    """Base of every document and of its parts."""

    model_config = ConfigDict(extra="forbid", frozen=True, populate_by_name=True)

    @cached_property
    def digest(self) -> str:
        """A hash of the content, found once: documents are never changed in place."""
        return hashlib.blake2b(type(self).__name__.encode() + self.model_dump_json().encode(), digest_size=16).hexdigest()

    def changed(self, **fields: Any) -> Self:
        """A checked copy with some fields replaced."""
        return type(self).model_validate({**self.model_dump(), **fields})


D = TypeVar("D", bound=Document)


@cache
def _referring(model: type[Document]) -> dict[str, str]:
    """Which of a model's own fields hold keys, and of which kind."""

    def kind(annotation: Any, metadata: tuple[Any, ...]) -> str | None:
        marks = [m.kind for m in metadata if isinstance(m, Refers)]
        inner = (kind(a, getattr(a, "__metadata__", ())) for a in get_args(annotation))
        return marks[0] if marks else next((k for k in inner if k), None)

    found = {name: kind(field.annotation, tuple(field.metadata)) for name, field in model.model_fields.items()}
    return {name: k for name, k in found.items() if k}


def references(value: Any) -> Iterator[tuple[str, str]]:
    """(kind, key) of every document that a document names, in all its parts."""
    if isinstance(value, Document):
        referring = _referring(type(value))
        for name in type(value).model_fields:
            inner = getattr(value, name)
            if name not in referring:
                yield from references(inner)
            elif inner is not None:
                yield from ((referring[name], key) for key in (inner if isinstance(inner, list) else [inner]))
    elif isinstance(value, list) and value and isinstance(value[0], Document):
        for part in value:
            yield from references(part)


def renamed(document: D, names: Mapping[tuple[str, str], str]) -> D:
    """The document with other keys where it names documents that are called otherwise now: (kind, key) -> new key."""
    changes: dict[str, Any] = {}
    for name in type(document).model_fields:
        old = getattr(document, name)
        kind = _referring(type(document)).get(name)
        if kind is not None:
            new = [names.get((kind, key), key) for key in old] if isinstance(old, list) else names.get((kind, old), old)
        elif isinstance(old, Document):
            new = renamed(old, names)
        elif isinstance(old, list) and old and isinstance(old[0], Document):
            new = [renamed(part, names) for part in old]
        else:
            continue
        if new != old:
            changes[name] = new
    return document.model_copy(update=changes) if changes else document


def moved_along(document: D, by: float) -> D:
    """The document with all its chainages greater by so much, m."""
    changes = {}
    for name, field in type(document).model_fields.items():
        old = getattr(document, name)
        new = _moved(field.annotation, tuple(field.metadata), old, by)
        if new != old:
            changes[name] = new
    return document.model_copy(update=changes) if changes else document


def _moved(annotation: Any, marks: tuple[Any, ...], value: Any, by: float) -> Any:
    """A value of a field moved along, by what its annotation says of it and of its parts."""
    if value is None or isinstance(value, str | bool):
        return value
    if isinstance(value, Document):
        return moved_along(value, by)
    if any(isinstance(m, AlongRoad) for m in marks):
        return value + by
    origin, inner = get_origin(annotation), get_args(annotation)
    if origin is Annotated:
        return _moved(inner[0], inner[1:], value, by)
    if origin in (Union, UnionType):
        fits = [arm for arm in inner if isinstance(value, list) == _is_list(arm)]
        return _moved(fits[0], (), value, by) if fits else value
    if isinstance(value, list):
        return [_moved(inner[0], (), v, by) for v in value] if inner else value
    if isinstance(value, tuple):
        return tuple(_moved(a, (), v, by) for a, v in zip(inner, value, strict=True))
    if isinstance(value, dict):
        return {k: _moved(inner[1], (), v, by) for k, v in value.items()}
    return value


def _is_list(annotation: Any) -> bool:
    while get_origin(annotation) is Annotated:
        annotation = get_args(annotation)[0]
    return get_origin(annotation) is list
