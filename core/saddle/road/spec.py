"""What is decided along the road, as documents: section settings, treatments, template ranges."""

import itertools
from collections.abc import Mapping
from typing import Annotated, Any, Literal, Self, TypeVar

from pydantic import AfterValidator, Field, model_validator

from saddle.documents_base import (
    Chainage,
    Document,
    Key,
    Measure,
    Name,
    NotNegative,
    NotNegativeMeasure,
    NotNegativeMillimetres,
    Number,
    PositiveMillimetres,
    Refers,
)
from saddle.guides.spec import AtOffset, EdgeSource, LineSource, NearestLine, OnGuide
from saddle.overlay.spec import CoverGoverns, Crossfall, GoverningRule, LevelTableGoverns, LineGoverns, ProfileGoverns, TieIn
from saddle.template.median import MedianSpec
from saddle.template.values import DimensionName


def _rise(limits: list[float]) -> list[float]:
    if any(b <= a for a, b in itertools.pairwise(limits)):
        raise ValueError("each limit of the depth bands must be greater than the one before")
    return limits


class ToMiddle(Document):
    """The middle between the outermost points of both roads; never within the road's own."""

    by: Literal["middle"] = "middle"
    road: Annotated[Key, Refers("road")]


class EndsBeside(Document):
    """Where a road ends on a side and another one's ground begins: what either builds, digs and fills is cut off upright there, so that
    it is counted once. to: the middle to another road, or a guide, which may run through the road's own template."""

    side: Literal["left", "right"]
    to: Annotated[ToMiddle | OnGuide, Field(discriminator="by")]


class RoadSpec(Document):
    """A road of the project. What is decided along it stands under the road's key (documents.py: of_road), guides and profiles under
    the alignment's. alignment: the key of its alignment, which several roads may share, and which a new road may not have yet; place:
    among the roads; beside: what it ends at on either side."""

    name: Name = "Main road"
    alignment: Key = "main"
    place: Annotated[int, Field(ge=0, le=10_000)] = 0
    beside: Annotated[list[EndsBeside], Field(max_length=20)] = []


class SectionSettings(Document):
    """Where sections stand and how wide they are cut, and what they are judged by. Offsets in m, negative left.

    chord_limit_mm: sections are close enough on arcs that the chord between two lies no further than this from the
    alignment; 0 for no limit. depth_bands_mm: upper limits of the bands of overlay depth, the last band is open.
    """

    interval: Annotated[float, Field(ge=0.5, le=500, allow_inf_nan=False)] = 10.0
    key_points: bool = True
    extra: Annotated[list[Chainage], Field(max_length=2000)] = []
    left: Annotated[float, Field(ge=-200, lt=0)] = -25.0
    right: Annotated[float, Field(gt=0, le=200)] = 25.0
    curvature_correction: bool = True
    chord_limit_mm: Annotated[float, Field(ge=0, le=10_000, allow_inf_nan=False)] = 0.0
    design_speed_kmh: Annotated[float, Field(ge=20, le=140, allow_inf_nan=False)] = 60.0
    depth_bands_mm: Annotated[list[PositiveMillimetres], Field(min_length=1, max_length=5), AfterValidator(_rise)] = [
        50,
        60,
        75,
        100,
        150,
    ]

    @property
    def chord_limit(self) -> float:
        """m, 0 for none."""
        return self.chord_limit_mm / 1000


class GivenCrossfall(Document):
    """One crossfall, %, negative falls outward."""

    by: Literal["given"] = "given"
    pct: Crossfall = -2.5


class MeasuredCrossfall(Document):
    """The fall of the existing surface from the hinge to the edge, at each section."""

    by: Literal["measured"] = "measured"


class AdoptedCrossfall(Document):
    """The adopted crossfall of its side, from the project's crossfall table."""

    by: Literal["table"] = "table"


CrossfallSource = Annotated[GivenCrossfall | MeasuredCrossfall | AdoptedCrossfall, Field(discriminator="by")]


class RoadLines(Document):
    """Where the hinge and the old pavement's edges are, and the crossfall of both sides."""

    hinge: LineSource = AtOffset(offset=0.0)
    left_edge: EdgeSource = AtOffset(offset=-3.5)
    right_edge: EdgeSource = AtOffset(offset=3.5)
    left_crossfall: CrossfallSource = GivenCrossfall()
    right_crossfall: CrossfallSource = GivenCrossfall()


Reach = Literal["at_least_edge", "exactly_edge", "own_width"]


class Overlay(RoadLines):
    """New layers on the old pavement. governs: what sets the level of the hinge; begin, end: how it meets the old road at its
    ends; kerb_top: the surveyed line of the tops of kerbs that stay on both sides, null for none, and the least upstand to be
    left above the new surface at the edge. Depths in mm, widths in m.

    reach: where the outermost point of the overlaid strips stands: at least at the old edge (the wider of its own tie and the
    edge, so that no old pavement stays uncovered), exactly at it, or by its own tie. Kerb to kerb it always ends at the lips;
    an edge that is a point of the template moves nothing; what follows a rule of the road stays where the rule puts it.
    """

    kind: Literal["overlay"] = "overlay"
    governs: GoverningRule = CoverGoverns()
    reach: Reach = "at_least_edge"
    begin: TieIn | None = None
    end: TieIn | None = None
    least_cover_mm: NotNegativeMillimetres = 50.0
    look_again_mm: PositiveMillimetres = 150.0
    saw_cut: NotNegativeMeasure = 0.0
    least_new_width: NotNegativeMeasure = 0.3
    kerb_top: Annotated[NearestLine | OnGuide, Field(discriminator="by")] | None = None
    least_upstand_mm: NotNegativeMillimetres = 75.0

    @property
    def least_cover(self) -> float:
        """Least depth of new layers over the old pavement, m."""
        return self.least_cover_mm / 1000

    @property
    def look_again(self) -> float:
        """Depth above which an overlay is too deep, m."""
        return self.look_again_mm / 1000

    @property
    def least_upstand(self) -> float:
        """Least upstand left of kerbs that stay, m."""
        return self.least_upstand_mm / 1000


class Reconstruct(RoadLines):
    """The pavement built anew. governs: null bridges its hinge by a straight grade between the neighbouring lengths until it
    is graded. begin, end: how it meets the old road at its ends, or a line of another one."""

    kind: Literal["reconstruct"] = "reconstruct"
    begin: TieIn | None = None
    end: TieIn | None = None
    governs: Annotated[LevelTableGoverns | ProfileGoverns | LineGoverns, Field(discriminator="kind")] | None = None


class Leave(Document):
    """Nothing is done."""

    kind: Literal["leave"] = "leave"


Work = Annotated[Overlay | Reconstruct | Leave, Field(discriminator="kind")]


class Range(Document):
    """A stretch of road, chainages in m."""

    from_chainage: Chainage
    to_chainage: Chainage

    @model_validator(mode="after")
    def _runs_forward(self) -> Self:
        if self.to_chainage <= self.from_chainage:
            raise ValueError(f"the range must end after it begins ({self.from_chainage:g} to {self.to_chainage:g})")
        return self


class Treatment(Range):
    """What is done over a range."""

    work: Work


def _forward(rows: list[tuple[float, float]]) -> list[tuple[float, float]]:
    if any(b[0] <= a[0] for a, b in itertools.pairwise(rows)):
        raise ValueError("the chainages of a dimension must rise from row to row")
    return rows


ByChainage = Annotated[list[tuple[Chainage, Number]], Field(min_length=1, max_length=2000), AfterValidator(_forward)]


class Ends(Document):
    """The road ends at its outermost point: what lies beyond stays as it is, or is another road's."""

    kind: Literal["ends"] = "ends"


class MedianBeyond(Document):
    """A median up to a guide, mostly another road's edge. median, guide: their keys."""

    kind: Literal["median"] = "median"
    median: Annotated[Key, Refers("median")]
    guide: Annotated[Key, Refers("guide")]


Beyond = Annotated[Ends | MedianBeyond, Field(discriminator="kind")]


class TemplateRange(Range):
    """A template applied over a range. template: its key; left_beyond, right_beyond: what comes beyond its outermost points; null: the
    slopes of the template.

    dimensions: values that its dimensions have here instead of their own, a number or rows of chainage and value, straight
    between; transition: m at the start of the range over which they run straight from those of the range before.
    """

    template: Annotated[Key, Refers("template")]
    dimensions: dict[DimensionName, Number | ByChainage] = {}
    transition: NotNegative = 0.0
    left_beyond: Beyond | None = None
    right_beyond: Beyond | None = None

    def beyond(self, side: int) -> Ends | MedianBeyond | None:
        """What comes beyond a side, -1 left, 1 right."""
        return self.left_beyond if side < 0 else self.right_beyond


def _in_order(ranges: list[Any]) -> None:
    for before, after in itertools.pairwise(ranges):
        if after.from_chainage < before.to_chainage:
            raise ValueError(f"two ranges overlap near chainage {after.from_chainage:g}")


class TreatmentPlan(Document):
    """Treatments along the road, in order, none over another."""

    ranges: Annotated[list[Treatment], Field(max_length=2000)] = []

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _in_order(self.ranges)
        return self


def ties_of(plan: TreatmentPlan) -> list[TieIn | None]:
    """How treatments meet what is there at their ends, those of all in order."""
    return [tie for t in plan.ranges if not isinstance(t.work, Leave) for tie in (t.work.begin, t.work.end)]


class TemplatePlan(Document):
    """Templates along the road, in order, none over another."""

    ranges: Annotated[list[TemplateRange], Field(max_length=2000)] = []

    @model_validator(mode="after")
    def _ordered(self) -> Self:
        _in_order(self.ranges)
        return self


def has_beyond(plan: TemplatePlan) -> bool:
    """Whether some template ends otherwise than by its own slopes."""
    return any(r.beyond(side) is not None for r in plan.ranges for side in (-1, 1))


def applied_along(plan: TemplatePlan, medians: Mapping[str, MedianSpec]) -> set[str]:
    """Keys of the templates that are applied along a road, those of its medians' shapes among them."""
    beyond = [b for r in plan.ranges for b in (r.left_beyond, r.right_beyond) if isinstance(b, MedianBeyond)]
    return {r.template for r in plan.ranges} | {
        key for b in beyond if b.median in medians for key in medians[b.median].templates()
    }


class Remark(Document):
    """What a place of the road is told to say. to_chainage: None at one place; offset: m, positive to the right, None where it is
    said of the whole width."""

    text: Annotated[str, Field(min_length=1, max_length=200)]
    from_chainage: Chainage
    to_chainage: Chainage | None = None
    offset: Measure | None = None

    @model_validator(mode="after")
    def _runs_forward(self) -> Self:
        if self.to_chainage is not None and self.to_chainage <= self.from_chainage:
            raise ValueError(f"the remark must end after it begins ({self.from_chainage:g} to {self.to_chainage:g})")
        return self


class RemarkList(Document):
    """The remarks of the designers."""

    remarks: Annotated[list[Remark], Field(max_length=2000)] = []


R = TypeVar("R", bound=Range)


def put_range(ranges: list[R], new: R | None, low: float, high: float) -> list[R]:
    """Ranges after `new` was laid over [low, high] (or the stretch cleared, with None).

    What it covers is cut back; a range that it lies inside is split in two; equal neighbours become one.
    """
    kept: list[R] = []
    for old in ranges:
        if old.to_chainage <= low or old.from_chainage >= high:
            kept.append(old)
            continue
        if old.from_chainage < low:
            kept.append(old.changed(to_chainage=low))
        if old.to_chainage > high:
            kept.append(old.changed(from_chainage=high))
    if new is not None:
        kept.append(new)
    kept.sort(key=lambda r: r.from_chainage)
    joined: list[R] = []
    for item in kept:
        last = joined[-1] if joined else None
        alike = last is not None and last.changed(from_chainage=item.from_chainage, to_chainage=item.to_chainage) == item
        if last is not None and alike and last.to_chainage == item.from_chainage:
            joined[-1] = last.changed(to_chainage=item.to_chainage)
        else:
            joined.append(item)
    return joined


class Variant(Document):
    """Settings that differ from those of the overlays in the range; null leaves one as it is."""

    name: Name
    least_cover_mm: NotNegativeMillimetres | None = None
    governs: GoverningRule | None = None
    crossfall: CrossfallSource | None = None


class VariantPlan(Document):
    """Variants that are compared. price: per tonne of overlay, in any currency."""

    variants: Annotated[list[Variant], Field(max_length=8)] = []
    price: NotNegative = 0.0
