"""Templates as documents. A half is described outward-positive from the hinge."""

from collections.abc import Iterator
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from saddle.documents_base import Document, Key, Measure, Name, Refers
from saddle.guides.spec import LineSource, PointSource
from saddle.template.parts import DownTo, MakeUp
from saddle.template.rungs import Rung
from saddle.template.ties import Point
from saddle.template.values import Dimension, DimensionName, PointName, StripName, Value

HINGE = "hinge"
StripKind = Literal["lane", "shoulder", "path", "cycle_path", "verge", "edging", "median", "side_road"]


class Strip(Document):
    """Finished surface between two points. new, over_existing: keys of make-ups; without the second the strip
    is always built new. A strip of a side road always lies over the existing pavement, and the cover does not count there: it runs
    down to the old level."""

    name: StripName
    kind: StripKind
    from_point: PointName
    to_point: PointName
    new: Annotated[Key, Refers("make_up")]
    over_existing: Annotated[Key, Refers("make_up")] | None = None


class KerbPlacement(Document):
    """A kerb at a point. It brings the points '<name>.<vertex>'. Its lip stands at the point, or with `turned` (a median's
    kerb, whose face looks outward) its back."""

    name: PointName
    profile: Annotated[Key, Refers("kerb")]
    at: PointName
    turned: bool = False


class Mark(Document):
    """A place on a half: a point, and so far outward from it, m (negative inward)."""

    point: PointName
    plus: Measure = 0.0


class ParallelLie(Document):
    """Parallel to the line between the points at the zone's two ends."""

    kind: Literal["parallel"] = "parallel"


class LevelLie(Document):
    """Level."""

    kind: Literal["level"] = "level"


class OwnFall(Document):
    """With a fall of its own, %, negative falls outward."""

    kind: Literal["fall"] = "fall"
    crossfall_pct: Value


class UnderCourse(Document):
    """A strip's course, counted from 1 at the top; its bottom is what a zone is measured from."""

    strip: StripName
    course: Annotated[int, Field(ge=1, le=20)]


class Zone(Document):
    """A stretch of a floor, outward to `to` (null: to the slope, the last zone only). depth: mm below the finished
    surface at the zone's inner point, or below the bottom of a course. joins: how it meets the next zone; vertex: name of
    its outer vertex."""

    to: Mark | None
    depth_mm: Annotated[float, Field(ge=0, le=20000, allow_inf_nan=False)] | DimensionName
    under: UnderCourse | None = None
    lie: Annotated[ParallelLie | LevelLie | OwnFall, Field(discriminator="kind")] = ParallelLie()
    joins: Literal["cross", "step"] = "cross"
    vertex: PointName | None = None


class Wall(Document):
    """Ends upright."""

    kind: Literal["wall"] = "wall"


class RiseToSurface(Document):
    """Climbs outward at 1 vertical to n horizontal until it meets what lies above."""

    kind: Literal["rise"] = "rise"
    one_in: Annotated[float, Field(gt=0, le=20, allow_inf_nan=False)] = 1.0


class RunToSlope(Document):
    """Runs on until it comes out on the side slope."""

    kind: Literal["run"] = "run"


class Floor(Document):
    """One line of the boxing. What lies between it and the courses above is filled. start: where it begins (null: the
    hinge); fill: key of the material."""

    name: PointName
    start: Mark | None = None
    zones: Annotated[list[Zone], Field(min_length=1, max_length=20)]
    end: Annotated[Wall | RiseToSurface | RunToSlope, Field(discriminator="kind")] = Wall()
    fill: Annotated[Key, Refers("material")] = "fill"

    @model_validator(mode="after")
    def _zones_are_sound(self) -> Self:
        if any(zone.to is None for zone in self.zones[:-1]):
            raise ValueError("only the last zone of a floor runs to the slope")
        if (self.zones[-1].to is None) != isinstance(self.end, RunToSlope):
            raise ValueError("a floor that runs to the slope has a last zone without an end, and no other has")
        return self


class Half(Document):
    """One side of a template, from the hinge outward. boundary: the guide or line that rungs may keep inside of; fill:
    material between courses that do not meet."""

    points: Annotated[list[Point], Field(min_length=1, max_length=100)]
    strips: Annotated[list[Strip], Field(min_length=1, max_length=50)]
    kerbs: Annotated[list[KerbPlacement], Field(max_length=10)] = []
    floors: Annotated[list[Floor], Field(max_length=10)] = []
    ladder: Annotated[list[Rung], Field(max_length=20)] = []
    boundary: LineSource | None = None
    fill: Annotated[Key, Refers("material")] = "fill"

    def sources(self) -> Iterator[PointSource]:
        """Guides and lines that it looks for."""
        for point in self.points:
            yield from point.sources()
        if self.boundary is not None:
            yield self.boundary

    def surfaces(self) -> Iterator[str]:
        """Keys of the surfaces that its ties look at."""
        for point in self.points:
            yield from point.surfaces()


class TemplateSpec(Document):
    """A typical cross-section. Without a left half the right one is mirrored."""

    name: Name
    right: Half
    left: Half | None = None
    dimensions: Annotated[list[Dimension], Field(max_length=50)] = []

    @model_validator(mode="after")
    def _names_differ(self) -> Self:
        names = [d.name for d in self.dimensions]
        if len(set(names)) != len(names):
            raise ValueError("two dimensions have one name")
        return self

    def halves(self) -> tuple[Half, ...]:
        """The halves that are described: one when mirrored."""
        return (self.right,) if self.left is None else (self.right, self.left)


def surfaces_of(template: TemplateSpec, make_ups: dict[str, MakeUp]) -> set[str]:
    """Keys of every surface that a template needs."""
    found: set[str] = set()
    for half in template.halves():
        found |= set(half.surfaces())
        for strip in half.strips:
            make_up = make_ups.get(strip.new)
            if make_up is not None and isinstance(make_up.bottom, DownTo):
                found.add(make_up.bottom.surface)
    return found
