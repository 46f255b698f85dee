"""Templates, make-ups, materials and kerbs as documents. A half is described outward-positive from the hinge."""

import itertools
from typing import Annotated, Literal

from pydantic import Field, model_validator

from saddle.documents_base import Document, Key, Name, NotNegative, Number, Positive

HINGE = "hinge"
PointName = Annotated[str, Field(min_length=1, max_length=40, pattern=r"^[A-Za-z][A-Za-z0-9 ._-]*$")]


class Material(Document):
    """What a course, kerb or bed is made of. Colour and pattern go together, never colour alone."""

    name: Name
    density: Annotated[float, Field(gt=0, le=10, description="t/m3, compacted")]
    colour: Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")]
    pattern: Literal["plain", "rising", "falling", "crossed", "dotted", "level"] = "plain"


class Course(Document):
    """One layer, from the top of its make-up down. material: key; thickness: mm, vertical."""

    name: Name
    material: Key
    thickness_mm: Annotated[float, Field(gt=0, le=5000, allow_inf_nan=False)]


class MakeUp(Document):
    """A stack of courses. In an overlay the last course is the regulating one and runs down to the old surface."""

    name: Name
    courses: Annotated[list[Course], Field(min_length=1, max_length=20)]


class Width(Document):
    """Offset: so far out from the parent, m."""

    kind: Literal["width"] = "width"
    parent: PointName
    width: NotNegative


class SameAs(Document):
    """Offset: that of another point."""

    kind: Literal["same_as"] = "same_as"
    parent: PointName


class Fall(Document):
    """Level: at a crossfall from the parent, %, negative falls outward. `crossfall` null turns with the
    treatment's crossfall of its side."""

    kind: Literal["fall"] = "fall"
    parent: PointName
    crossfall_pct: Annotated[float, Field(ge=-100, le=100, allow_inf_nan=False)] | None


class Rise(Document):
    """Level: so far above the parent, m."""

    kind: Literal["rise"] = "rise"
    parent: PointName
    rise: Number


OffsetTie = Annotated[Width | SameAs, Field(discriminator="kind")]
LevelTie = Annotated[Fall | Rise, Field(discriminator="kind")]


class Point(Document):
    """A named template point and its two ties."""

    name: PointName
    offset: OffsetTie
    level: LevelTie


class Strip(Document):
    """Finished surface between two points. new, over_existing: keys of make-ups; without the second the strip
    is always built new."""

    name: Name
    kind: Literal["lane", "shoulder", "path", "verge"]
    from_point: PointName
    to_point: PointName
    new: Key
    over_existing: Key | None = None


class KerbVertex(Document):
    """A vertex of a kerb's profile relative to its lip. out, up: mm."""

    name: PointName
    out_mm: Number
    up_mm: Number


class KerbProfile(Document):
    """A kerb and channel: `top` from the lip outward to the back, a level base, and a bed below it.

    The last vertex of `top` is the back. base_mm: the base below the lip; bed_mm: thickness of the bed.
    """

    name: Name
    top: Annotated[list[KerbVertex], Field(min_length=2, max_length=40)]
    base_mm: Positive
    material: Key
    bed_mm: NotNegative = 0.0
    bed_material: Key | None = None

    @model_validator(mode="after")
    def _profile_is_sound(self) -> "KerbProfile":
        first = self.top[0]
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
        if self.bed_mm > 0 and self.bed_material is None:
            raise ValueError("the kerb's bed needs a material")
        return self


class KerbPlacement(Document):
    """A kerb whose lip stands at a point. It brings the points '<name>.<vertex>'."""

    name: PointName
    profile: Key
    at: PointName


class Rung(Document):
    """A plain side slope, tried in order. when: ground above (cut) or below (fill) the outer point;
    one_in: 1 vertical to n horizontal; most_width: m."""

    name: Name
    when: Literal["cut", "fill"]
    one_in: Annotated[float, Field(gt=0, le=1000, allow_inf_nan=False)]
    most_width: Positive = 25.0


class Half(Document):
    """One side of a template, from the hinge outward."""

    points: Annotated[list[Point], Field(min_length=1, max_length=100)]
    strips: Annotated[list[Strip], Field(min_length=1, max_length=50)]
    kerbs: Annotated[list[KerbPlacement], Field(max_length=10)] = []
    ladder: Annotated[list[Rung], Field(max_length=20)] = []


class TemplateSpec(Document):
    """A typical cross-section. Without a left half the right one is mirrored."""

    name: Name
    right: Half
    left: Half | None = None
