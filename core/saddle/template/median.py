"""Medians: what reaches from a road's outermost point to a line that is not its own, mostly another road's edge, by the first shape that
has room. A shape is the half of a template whose hinge is the road's edge and whose points may follow the far side (`FarSide`).

A template with a median beyond it is a template again, put together from both, so that all that is made of templates serves medians.
"""

from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, NamedTuple

from pydantic import Field

from saddle.documents_base import Document, Key, Name, NotNegativeMeasure, Refers
from saddle.errors import TemplateError
from saddle.guides.spec import FarSide, OnGuide
from saddle.template.compiled import CompiledHalf, CompiledTemplate, Parts, compile_template
from saddle.template.spec import HINGE, Half, Mark, TemplateSpec
from saddle.template.ties import Follow, GuideLevel, Point
from saddle.template.values import What, renamed_inside

#: What stands before the names of a median's points, strips and floors.
PREFIX = "median."


class MedianShape(Document):
    """What a median is built as where it is at least so wide, m. template: its outward half is the shape; null leaves the ground as it
    is, and the road ends at its outermost point."""

    least_width: NotNegativeMeasure = 0.0
    template: Annotated[Key, Refers("template")] | None = None


class MedianSpec(Document):
    """Shapes in order; on every section the first that has room is taken."""

    name: Name
    shapes: Annotated[list[MedianShape], Field(min_length=1, max_length=12)]

    def templates(self) -> set[str]:
        """Keys of the templates that its shapes are."""
        return {s.template for s in self.shapes if s.template is not None}


class Past(NamedTuple):
    """What lies past the outermost point of a half instead of its slopes: the half of a template, up to a guide, by their keys; nothing
    where there is none."""

    template: str
    guide: str


#: The road ends at its outermost point.
NOTHING = Past("", "")


class Use(NamedTuple):
    """A template as it is used: its key, and what lies past its halves; None where these end as the template says."""

    template: str
    left: Past | None = None
    right: Past | None = None


def compile_use(use: Use, templates: Mapping[str, TemplateSpec], parts: Parts) -> CompiledTemplate:
    """Raises TemplateError as compile_template does, and for keys of templates that are not there."""
    plain = compile_template(_template(templates, use.template), parts)
    if use.left is None and use.right is None:
        return plain
    spec = _template(templates, use.template)
    left = _past(spec.left or spec.right, plain.left, use.left, templates, "left")
    right = _past(spec.right, plain.right, use.right, templates, "right")
    shapes = [_template(templates, past.template) for past in (use.right, use.left) if past is not None and past.template]
    dimensions = {d.name: d for shape in (*reversed(shapes), spec) for d in shape.dimensions}
    found = compile_template(
        spec.model_copy(update={"left": left, "right": right, "dimensions": list(dimensions.values())}), parts
    )  # fmt: skip
    return replace(
        found, left=_ended(found.left, plain.left, use.left), right=_ended(found.right, plain.right, use.right)
    )  # fmt: skip


def _template(templates: Mapping[str, TemplateSpec], key: str) -> TemplateSpec:
    if key not in templates:
        raise TemplateError(f"there is no template “{key}”", "median", "choose another template for its shape")
    return templates[key]


def _ended(half: CompiledHalf, plain: CompiledHalf, past: Past | None) -> CompiledHalf:
    """The half with the place where the road itself ends."""
    return half if past is None else replace(half, edge=half.column(plain.names[plain.outer]))


def _past(own: Half, compiled: CompiledHalf, past: Past | None, templates: Mapping[str, TemplateSpec], side: str) -> Half:
    """A half without its slopes and with what lies past it. Its points, strips, kerbs and floors get the prefix; dimensions keep their
    names, which make-ups know too: one that both templates have is one, with the value of the road's."""
    if past is None:
        return own
    if not past.template:
        return own.model_copy(update={"ladder": []})
    shape = _template(templates, past.template)
    near = compiled.names[compiled.outer]

    def new(what: What, name: str) -> str:
        return name if what == "dimension" else near if what == "point" and name == HINGE else f"{PREFIX}{name}"

    half = renamed_inside(shape.left or shape.right if side == "left" else shape.right, new)
    floors = [f if f.start is not None else f.model_copy(update={"start": Mark.model_construct(point=near)}) for f in half.floors]
    return own.model_copy(
        update={
            "points": [*own.points, *(_aimed(p, past.guide) for p in half.points)],
            "strips": [*own.strips, *half.strips],
            "kerbs": [*own.kerbs, *half.kerbs],
            "floors": [*own.floors, *floors],
            "ladder": [],
        }
    )


def _aimed(point: Point, guide: str) -> Point:
    """A point whose far side is a guide."""
    to = OnGuide(guide=guide)
    changes: dict[str, object] = {}
    if isinstance(point.offset, Follow) and isinstance(point.offset.source, FarSide):
        changes["offset"] = point.offset.model_copy(update={"source": to})
    if isinstance(point.level, GuideLevel) and isinstance(point.level.source, FarSide):
        changes["level"] = point.level.model_copy(update={"source": to})
    return point.model_copy(update=changes) if changes else point
