"""What templates are made of and share: materials, make-ups and kerb profiles, as documents."""

import itertools
from typing import Annotated, Literal

from pydantic import Field, model_validator

from saddle.documents_base import (
    Colour,
    Document,
    Key,
    Millimetres,
    Name,
    NotNegativeMeasure,
    NotNegativeMillimetres,
    PositiveMeasure,
    PositiveMillimetres,
    Refers,
)
from saddle.template.values import DimensionName, PointName, Value

Pattern = Literal["plain", "rising", "falling", "crossed", "dotted", "level"]


class Material(Document):
    """What a course, kerb or bed is made of. Colour and pattern go together, never colour alone."""

    name: Name
    density: Annotated[float, Field(gt=0, le=10, description="t/m3, compacted")]
    colour: Colour
    pattern: Pattern = "plain"


class Flush(Document):
    """Cut vertically where the strip ends."""

    kind: Literal["flush"] = "flush"


class CarryOn(Document):
    """Carried on past the end of the strip, m, along its own plane."""

    kind: Literal["carry"] = "carry"
    distance: PositiveMeasure


class ToSlope(Document):
    """Carried on until it comes out on the side slope or in the drain."""

    kind: Literal["to_slope"] = "to_slope"


class UnderKerb(Document):
    """Carried on under the kerb to so far behind its back, m; where no kerb stands at that end it is flush."""

    kind: Literal["under_kerb"] = "under_kerb"
    behind: NotNegativeMeasure = 0.0


class Batter(Document):
    """Ends at a slope, 1 vertical to n horizontal, below the end of the course above it."""

    kind: Literal["batter"] = "batter"
    one_in: Annotated[float, Field(gt=0, le=5, allow_inf_nan=False)] = 1.0


End = Annotated[Flush | CarryOn | ToSlope | UnderKerb | Batter, Field(discriminator="kind")]
Thickness = Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]


class Coat(Document):
    """What is sprayed on before a course is laid: a tack coat, a prime. rate: kg/m2."""

    name: Name
    rate: Annotated[float, Field(gt=0, le=20, allow_inf_nan=False)] = 0.3


class Course(Document):
    """One layer, from the top of its make-up down. material: key; thickness: mm, at the strip's inner point; outer
    thickness: at its outer point where it varies. inner, outer: how it ends on either side; coat: what is sprayed beneath it."""

    name: Name
    material: Annotated[Key, Refers("material")]
    thickness_mm: Thickness | DimensionName
    outer_thickness_mm: Thickness | DimensionName | None = None
    inner: End = Flush()
    outer: End = Flush()
    coat: Coat | None = None


class Parallel(Document):
    """The lowest course keeps its thickness."""

    kind: Literal["parallel"] = "parallel"


class DownTo(Document):
    """The lowest course goes down to a surface, with its own thickness as the least."""

    kind: Literal["down_to"] = "down_to"
    surface: Annotated[Key, Refers("surface")] = "main"


class Onto(Document):
    """The lowest course goes down to what lies beneath it: a course carried on from the side, a kerb's bed or backing."""

    kind: Literal["onto"] = "onto"


class MakeUp(Document):
    """A stack of courses. In an overlay the last course is the regulating one and runs down to the old surface.

    measured: thickness vertically, or square to the strip's surface.
    """

    name: Name
    courses: Annotated[list[Course], Field(min_length=1, max_length=20)]
    measured: Literal["vertical", "square"] = "vertical"
    bottom: Annotated[Parallel | DownTo | Onto, Field(discriminator="kind")] = Parallel()


class KerbVertex(Document):
    """A vertex of a kerb's profile relative to its lip. out, up: mm."""

    name: PointName
    out_mm: Millimetres
    up_mm: Millimetres

    @property
    def out(self) -> float:
        """Outward of the lip, m."""
        return self.out_mm / 1000

    @property
    def up(self) -> float:
        """Above the lip, m."""
        return self.up_mm / 1000


class KerbProfile(Document):
    """A kerb and channel: `top` from the lip outward to the back, a level base, a bed below and a backing behind it.

    The last vertex of `top` is the back. base_mm: the base below the lip; bed_mm: thickness of the bed, which reaches
    bed_behind_mm past the back; backing: so high against the back above the base, running out to the base over its width.
    source: where its dimensions are from; piece_mm: length of a piece, None for one that is cast in place.
    """

    name: Name
    top: Annotated[list[KerbVertex], Field(min_length=2, max_length=40)]
    base_mm: PositiveMillimetres
    material: Annotated[Key, Refers("material")]
    bed_mm: NotNegativeMillimetres = 0.0
    bed_behind_mm: NotNegativeMillimetres = 0.0
    bed_material: Annotated[Key, Refers("material")] | None = None
    backing_height_mm: NotNegativeMillimetres = 0.0
    backing_width_mm: NotNegativeMillimetres = 0.0
    piece_mm: PositiveMillimetres | None = None
    source: Annotated[str, Field(max_length=200)] = ""

    @model_validator(mode="after")
    def _profile_is_sound(self) -> "KerbProfile":
        first, back = self.top[0], self.top[-1]
        if first.out_mm != 0 or first.up_mm != 0:
            raise ValueError("the first vertex of a kerb is its lip, at 0, 0")
        outs = [v.out_mm for v in self.top]
        if any(b < a for a, b in itertools.pairwise(outs)) or outs[-1] <= 0:
            raise ValueError("the vertices of a kerb run outward from the lip to the back")
        if any(v.up_mm <= -self.base_mm for v in self.top):
            raise ValueError("a vertex of the kerb lies below its base")
        names = [v.name for v in self.top]
        if len(set(names)) != len(names):
            raise ValueError("two vertices of a kerb have one name")
        if (self.bed_mm > 0 or self.backing_height_mm > 0) and self.bed_material is None:
            raise ValueError("the kerb's bed and backing need a material")
        if self.backing_height_mm > back.up_mm + self.base_mm:
            raise ValueError("the backing is higher than the back of the kerb")
        if (self.backing_height_mm > 0) != (self.backing_width_mm > 0):
            raise ValueError("the backing needs both a height and a width")
        return self

    @property
    def piece(self) -> float | None:
        """Length of a piece, m; None where it is cast in place."""
        return None if self.piece_mm is None else self.piece_mm / 1000

    @property
    def base(self) -> float:
        """The base below the lip, m."""
        return self.base_mm / 1000

    @property
    def bed(self) -> float:
        """Thickness of the bed, m."""
        return self.bed_mm / 1000

    @property
    def bed_behind(self) -> float:
        """How far the bed reaches past the back, m."""
        return self.bed_behind_mm / 1000

    @property
    def backing_height(self) -> float:
        """Height of the backing above the base, m."""
        return self.backing_height_mm / 1000

    @property
    def backing_width(self) -> float:
        """Width over which the backing runs out, m."""
        return self.backing_width_mm / 1000


def thickness_values(course: Course) -> list[Value]:
    """The one or two thicknesses of a course."""
    return [course.thickness_mm] if course.outer_thickness_mm is None else [course.thickness_mm, course.outer_thickness_mm]
