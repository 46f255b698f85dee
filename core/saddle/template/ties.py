"""Template points and the ties that fix them, as documents. A new tie is a model here, its line in `solve`, its
sentence in `sentences` and its fields in the web's form."""

from collections.abc import Iterator
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from saddle.documents_base import Document, Key, Measure, NotNegativeMeasure, Refers
from saddle.guides.spec import PointSource
from saddle.template.values import DimensionName, PointName, Value


class Width(Document):
    """Offset: so far out from the parent, m."""

    kind: Literal["width"] = "width"
    parent: PointName
    width: NotNegativeMeasure | DimensionName


class SameAs(Document):
    """Offset: that of another point."""

    kind: Literal["same_as"] = "same_as"
    parent: PointName


class Follow(Document):
    """Offset: that of a guide or of the nearest survey line of a code; where there is none, a width from the parent, m."""

    kind: Literal["follow"] = "follow"
    source: PointSource
    parent: PointName
    width: NotNegativeMeasure | DimensionName


class Inward(Document):
    """Offset: so far in from the parent, towards the hinge, m."""

    kind: Literal["inward"] = "inward"
    parent: PointName
    width: NotNegativeMeasure | DimensionName


class PartWay(Document):
    """Offset: so much of the way from the parent to another point, %."""

    kind: Literal["part_way"] = "part_way"
    parent: PointName
    through: PointName
    pct: Value = 50.0


class Square(Document):
    """Offset and level: `along` m from one point towards another, then `out` m square to that line. out is positive
    upward where the line runs outward."""

    kind: Literal["square"] = "square"
    parent: PointName
    through: PointName
    along: Value
    out: Value


class Fall(Document):
    """Level: at a crossfall from the parent, %, negative falls outward.

    `crossfall_pct` null turns: with the crossfall of its side, or with the neighbour, that is at the fall with which the
    parent itself was reached.
    """

    kind: Literal["fall"] = "fall"
    parent: PointName
    crossfall_pct: Value | None
    turns_with: Literal["side", "neighbour"] = "side"


class Rise(Document):
    """Level: so far above the parent, m."""

    kind: Literal["rise"] = "rise"
    parent: PointName
    rise: Value


class OnSurface(Document):
    """Level: that of a surface under the point, plus a difference, m."""

    kind: Literal["on_surface"] = "on_surface"
    surface: Annotated[Key, Refers("surface")] = "main"
    plus: Value = 0.0


class GuideLevel(Document):
    """Level: that of a guide or survey line, plus a difference, m; where it has none, a rise from the parent, m."""

    kind: Literal["guide_level"] = "guide_level"
    source: PointSource
    plus: Measure = 0.0
    parent: PointName
    rise: Value = 0.0


class OnLine(Document):
    """Level: on the straight line through two points, at the offset of this one, plus a difference, m."""

    kind: Literal["on_line"] = "on_line"
    parent: PointName
    through: PointName
    plus: Value = 0.0


class Carried(Document):
    """Level: at the fall that a surface has between the offsets of two points, carried on from the parent."""

    kind: Literal["carried"] = "carried"
    surface: Annotated[Key, Refers("surface")] = "main"
    first: PointName
    second: PointName
    parent: PointName


OffsetTie = Annotated[Width | SameAs | Follow | Inward | PartWay | Square, Field(discriminator="kind")]
LevelTie = Annotated[Fall | Rise | OnSurface | GuideLevel | OnLine | Carried, Field(discriminator="kind")]


#: What section sheets say of a point: its name and figures, figures alone, or nothing.
OnSheets = Literal["name", "figures", "nothing"]


class Point(Document):
    """A named template point and its two ties; a square tie fixes both and leaves no level. on_sheets: what section sheets say of it."""

    name: PointName
    offset: OffsetTie
    level: LevelTie | None = None
    on_sheets: OnSheets = "name"

    @model_validator(mode="after")
    def _is_fixed_once(self) -> Self:
        if isinstance(self.offset, Square) and self.level is not None:
            raise ValueError("a square tie fixes the level too: take the level tie away")
        if not isinstance(self.offset, Square) and self.level is None:
            raise ValueError(f"point {self.name} has no level tie")
        return self

    def parents(self) -> set[str]:
        """Names of the points that must be solved before this one."""
        found = {self.offset.parent}
        if isinstance(self.offset, Square | PartWay):
            found.add(self.offset.through)
        if self.level is not None and not isinstance(self.level, OnSurface):
            found.add(self.level.parent)
        if isinstance(self.level, OnLine):
            found.add(self.level.through)
        if isinstance(self.level, Carried):
            found |= {self.level.first, self.level.second}
        return found

    def sources(self) -> Iterator[PointSource]:
        """Guides and lines that its ties look for."""
        if isinstance(self.offset, Follow):
            yield self.offset.source
        if isinstance(self.level, GuideLevel):
            yield self.level.source

    def surfaces(self) -> Iterator[str]:
        """Keys of the surfaces that its ties look at."""
        if isinstance(self.level, OnSurface | Carried):
            yield self.level.surface
