"""Guides, where edges and the hinge are taken from, and which template points follow what, as documents.

Offsets are from the alignment, negative left; of a guide that stands on another line, widths outward from that.
"""

from collections.abc import Mapping
from typing import Annotated, Final, Literal, Self

from pydantic import Field, model_validator

from saddle.documents_base import Chainage, Document, Key, Measure, Name, Number, Positive, PositiveMeasure, Refers
from saddle.standards.spec import WideningRule

#: Which way a named side lies.
SIDES: Final[Mapping[Literal["left", "right"], Literal[-1, 1]]] = {"left": -1, "right": 1}


class AtOffset(Document):
    """A fixed offset from the alignment, m, negative left."""

    by: Literal["offset"] = "offset"
    offset: Measure


class NearestLine(Document):
    """The nearest survey line of a code on a side of the alignment, no further away than `within` m. side: null takes the side of
    what looks, which is any for a hinge; nearest takes whichever line lies nearer, on purpose."""

    by: Literal["line"] = "line"
    code: Annotated[str, Field(min_length=1, max_length=40)]
    within: PositiveMeasure = 12.0
    side: Literal["left", "right", "nearest"] | None = None

    def looks(self, own: int) -> int:
        """The side that is looked on, -1 left, 1 right, 0 both; own: that of what looks."""
        if self.side is None:
            return own
        return 0 if self.side == "nearest" else SIDES[self.side]


class OnGuide(Document):
    """A guide of the project. guide: its key."""

    by: Literal["guide"] = "guide"
    guide: Annotated[Key, Refers("guide")]


class AtPoint(Document):
    """A point of the template that stands there. beyond: so many m further out, negative further in; side: of the template,
    null takes the side that looks."""

    by: Literal["point"] = "point"
    point: Name
    beyond: Measure = 0.0
    side: Literal["left", "right"] | None = None


class FarSide(Document):
    """The line that a median reaches to, where a template is a median's shape; on its own, and elsewhere, there is none."""

    by: Literal["far_side"] = "far_side"


LineSource = Annotated[AtOffset | NearestLine | OnGuide, Field(discriminator="by")]
#: Points of a template may also follow what a median reaches to.
PointSource = Annotated[AtOffset | NearestLine | OnGuide | FarSide, Field(discriminator="by")]
#: Edges and limits of milling may also be points of the template.
EdgeSource = Annotated[AtOffset | NearestLine | OnGuide | AtPoint, Field(discriminator="by")]


# pieces


class AtChainage(Document):
    """Ends at a chainage, m."""

    by: Literal["chainage"] = "chainage"
    chainage: Chainage


class AfterLength(Document):
    """Ends after a length, m; it moves along when what is before it moves."""

    by: Literal["length"] = "length"
    length: Positive


class ByRatio(Document):
    """A taper of one metre across in so many along; its length follows from how far it goes across."""

    by: Literal["ratio"] = "ratio"
    one_in: Positive


class Hold(Document):
    """Keeps the offset it begins with."""

    kind: Literal["hold"] = "hold"
    end: Annotated[AtChainage | AfterLength, Field(discriminator="by")]


class Taper(Document):
    """Goes over to another offset, m: straight, or S-shaped by two equal parabolas."""

    kind: Literal["taper"] = "taper"
    to_offset: Measure
    end: Annotated[AtChainage | AfterLength | ByRatio, Field(discriminator="by")]
    shape: Literal["straight", "s"] = "straight"


class Pieces(Document):
    """Pieces that follow one another from a start."""

    by: Literal["pieces"] = "pieces"
    start_chainage: Chainage
    start_offset: Measure
    pieces: Annotated[list[Annotated[Hold | Taper, Field(discriminator="kind")]], Field(min_length=1, max_length=200)]


class DrawnLine(Document):
    """A polyline in plan: east, north, and a level or null, m."""

    by: Literal["polyline"] = "polyline"
    points: Annotated[list[tuple[Number, Number, Number | None]], Field(min_length=2, max_length=20_000)]


class WiderOnCurves(Document):
    """How much wider an edge is on curves.

    share: of the whole widening that this edge takes on the inside of a curve, and on its outside; 1 and 0 widen the
    inside only, 0.5 and 0.5 both sides. It grows along the transition; where there is none, along `run` m, of which
    `before` lies before the curve.
    """

    by: Literal["on_curves"] = "on_curves"
    rule: WideningRule = WideningRule()
    share_inside: Annotated[float, Field(ge=0, le=1)] = 1.0
    share_outside: Annotated[float, Field(ge=0, le=1)] = 0.0
    run: Positive = 30.0
    before: Annotated[float, Field(ge=0, le=1)] = 0.67


class CurveWidening(WiderOnCurves):
    """An edge that is widened on curves. It lies at base_offset on straights."""

    by: Literal["curves"] = "curves"  # type: ignore[assignment]
    base_offset: Measure

    @model_validator(mode="after")
    def _has_a_side(self) -> Self:
        if self.base_offset == 0:
            raise ValueError("an edge at offset 0 has no side: give it an offset")
        return self


#: What others may follow of a road: its hinge, the old pavement's edges, and the outermost points of its templates.
RoadLine = Literal["hinge", "left_edge", "right_edge", "left_end", "right_end"]


class OfRoad(Document):
    """A line of another road as that is designed, in plan and level. road: its key; line: its hinge, an edge, or where its template ends;
    beyond: m further out, which is right of a hinge and away from it of the others."""

    by: Literal["road"] = "road"
    road: Annotated[Key, Refers("road")]
    line: RoadLine = "left_edge"
    beyond: Measure = 0.0


class ThreeCentred(Document):
    """The corner begins and ends with arcs that are longer: so many times its radius, through so many degrees, at the other road and at its
    own edge. With 2 and 3 times, 17.5 and 22.5 gon, it is the curve that German guidelines give for turning lorries (from memory)."""

    first_times: Annotated[float, Field(gt=1, le=10)] = 2.0
    first_deg: Annotated[float, Field(gt=0, le=40)] = 15.75
    last_times: Annotated[float, Field(gt=1, le=10)] = 3.0
    last_deg: Annotated[float, Field(gt=0, le=40)] = 20.25


class CornerCurve(Document):
    """The edge of a side road at base_offset, m, rounded by an arc of a radius, m, into a line of the road that it leaves. The arc touches
    both; before it begins the edge is that line, where the road meets it askew. ends: the arcs before and after it, null for none."""

    by: Literal["corner"] = "corner"
    road: Annotated[Key, Refers("road")]
    line: RoadLine = "right_edge"
    beyond: Measure = 0.0
    base_offset: Measure
    radius: PositiveMeasure = 8.0
    ends: ThreeCentred | None = None

    @model_validator(mode="after")
    def _has_a_side(self) -> Self:
        if self.base_offset == 0:
            raise ValueError("an edge at offset 0 has no side: give it an offset")
        if self.line == "hinge":
            raise ValueError("a corner leads into an edge of the other road, not into its hinge")
        return self


# a line on another


class WiderBy(Document):
    """So many m further out all along, negative further in."""

    by: Literal["width"] = "width"
    width: Measure


class NoLess(Document):
    """The line that is reached so far or this one, whichever lies further out; where there is only one of them, that."""

    by: Literal["no_less"] = "no_less"
    line: LineSource


class NoMore(Document):
    """The line that is reached so far, but nowhere further out than this one."""

    by: Literal["no_more"] = "no_more"
    line: LineSource


#: What a line is changed by. The offsets of pieces are widths here, m outward, and nothing before the first and after the last.
GuidePart = Annotated[WiderBy | Pieces | WiderOnCurves | NoLess | NoMore, Field(discriminator="by")]


class OnLineAndParts(Document):
    """A line on another: a base, and what is added to it or holds it off, one after another, on the guide's side. Where the base is
    not there the guide is not, unless a part says where it lies. only_pieces: where it has pieces it is there only from their beginning
    to their end, as a bay is, and leaves what follows it alone elsewhere."""

    by: Literal["parts"] = "parts"
    base: LineSource
    parts: Annotated[list[GuidePart], Field(max_length=20)] = []
    only_pieces: bool = False

    def lines(self) -> list[AtOffset | NearestLine | OnGuide]:
        """All lines that it stands on or is held off by, the base first."""
        return [self.base, *(part.line for part in self.parts if isinstance(part, NoLess | NoMore))]


GuideSource = Annotated[
    Pieces | DrawnLine | NearestLine | CurveWidening | OfRoad | CornerCurve | OnLineAndParts, Field(discriminator="by")
]


class GuideSpec(Document):
    """A plan line that template points can follow, as offset (and level) by chainage.

    alignment: whose chainages and offsets it has, so that all roads of it may follow it; side: on which a survey line is looked for;
    use: what it is drawn as, and the boundary that work stays within.
    """

    name: Name
    alignment: Annotated[Key, Refers("alignment")] = "main"
    use: Literal["edge", "kerb", "boundary", "other"] = "edge"
    side: Literal["left", "right"] = "right"
    source: GuideSource


# following


class FollowRule(Document):
    """A template point follows a guide or the nearest survey line of a code, between two chainages, in plan, in level
    or both. Of the rules for one point the first that gives a value is taken; where none does, the template's own
    value holds. plus: added to the level, m."""

    side: Literal["left", "right"]
    point: Name
    source: Annotated[NearestLine | OnGuide, Field(discriminator="by")]
    from_chainage: Chainage
    to_chainage: Chainage
    what: Literal["plan", "level", "both"] = "plan"
    plus: Measure = 0.0

    @model_validator(mode="after")
    def _runs_forward(self) -> Self:
        if self.to_chainage <= self.from_chainage:
            raise ValueError(f"the rule must end after it begins ({self.from_chainage:g} to {self.to_chainage:g})")
        return self


class FollowPlan(Document):
    """All follow rules, in order of priority."""

    rules: Annotated[list[FollowRule], Field(max_length=500)] = []
