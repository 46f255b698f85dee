"""A side road or drive as a road of its own, in one step: a straight out of the main road at its mouth, tied to it in plan and level, with
corners. A mouth that was tied in over the same stretch is taken back, so that nothing is built twice."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Annotated, Literal, TypeVar

from pydantic import Field

from saddle.alignment.spec import AlignmentSpec, Straight
from saddle.documents_base import Document, Key, Name, NotNegativeMeasure
from saddle.errors import GeometryError
from saddle.guides.spec import AtOffset, AtPoint, CornerCurve, GuideSpec, LineSource, OfRoad, OnGuide
from saddle.overlay.spec import MillingPlan, MillingStretch, TieIn
from saddle.road.side_roads import END, Around, over_existing
from saddle.road.spec import (
    Overlay,
    Range,
    RoadSpec,
    SectionSettings,
    TemplatePlan,
    TemplateRange,
    Treatment,
    TreatmentPlan,
    put_range,
)
from saddle.template.spec import TemplateSpec
from saddle.template.starter import LADDER_PLAIN, Draft

Side = Literal["left", "right"]
Laid = TypeVar("Laid", TemplateRange, Treatment)
#: Of the length of a side road, the part over which its level and crossfalls run out of the main road; the rest runs into the old level.
OUT_OF = 0.5


class OwnRoad(Range):
    """A mouth that becomes a road. The range is as long as the road is wide, at the mouth's middle. length: m from the main road's outermost
    point to where the old level is met; angle_deg: turned from square, clockwise as a bearing grows; radius: of both corners, m, 0 for
    none; template: of the new road, null for lanes built as the main road is there."""

    name: Name
    side: Side
    length: Annotated[float, Field(ge=1, le=2000, allow_inf_nan=False)] = 20.0
    angle_deg: Annotated[float, Field(ge=-60, le=60, allow_inf_nan=False)] = 0.0
    radius: NotNegativeMeasure = 6.0
    template: Key | None = None


@dataclass(frozen=True, slots=True)
class Mouth:
    """Where the road begins: the main road's hinge at the middle of the mouth, its bearing there, degrees, and how far from the hinge its
    template ends on that side, m."""

    east: float
    north: float
    bearing_deg: float
    out: float


def own_road(asked: OwnRoad, key: str, place: int, mouth: Mouth, around: Around) -> dict[tuple[str, str], Document]:
    """What is decided about the new road, by kind and key, under its key. mouth: of the main road without a tied mouth there (`taken_back`).
    Raises GeometryError where the range is no width of a road, or there is no such template."""
    width = asked.to_chainage - asked.from_chainage
    if not 1.5 <= width <= 60:
        raise GeometryError(f"the mouth is {width:.3f} m wide", "range", "mark between 1.5 and 60 m: as wide as the side road is")
    turned = 90.0 if asked.side == "right" else -90.0
    begins = mouth.out / math.cos(math.radians(asked.angle_deg))
    ends = round(begins + asked.length, 3)
    line: dict[str, object] = {
        "name": asked.name, "start_east": round(mouth.east, 4), "start_north": round(mouth.north, 4),
        "start_bearing_deg": (mouth.bearing_deg + turned + asked.angle_deg) % 360, "elements": [Straight(length=ends).model_dump()],
    }  # fmt: skip
    # What others name comes before them; taken back it goes after them.
    out: dict[tuple[str, str], Document] = {
        ("alignment", key): AlignmentSpec.model_validate(line),
        ("road", key): RoadSpec(name=asked.name, alignment=key, place=place),
    }
    edge_line = "left_end" if asked.side == "left" else "right_end"
    meets = f"{key}-mouth"
    edges: dict[str, LineSource] = {}
    for side, at in (("left", -width / 2), ("right", width / 2)):
        edges[side] = AtOffset(offset=at)
        if asked.radius > 0:
            edges[side] = OnGuide(guide=f"{key}-corner-{side}")
            corner = CornerCurve(road=around.road, line=edge_line, base_offset=at, radius=asked.radius)
            out["guide", f"{key}-corner-{side}"] = GuideSpec(
                name=f"{asked.name[:60]}, {side} corner", alignment=key, side=side, source=corner
            )
    out["guide", meets] = GuideSpec(
        name=f"{asked.name[:60]}, mouth", alignment=key, use="other", source=OfRoad(road=around.road, line=edge_line)
    )
    template = asked.template
    if template is None:
        template = f"{key}-lanes"
        out["template", template] = _lanes(asked, around, width / 2)
    elif template not in around.templates:
        raise GeometryError(f"there is no template “{template}”", "template", "choose one of the list")
    work = Overlay(
        hinge=AtOffset(offset=0.0), left_edge=edges["left"], right_edge=edges["right"],
        begin=TieIn(length=OUT_OF * asked.length, guide=meets), end=TieIn(length=(1 - OUT_OF) * asked.length),
    )  # fmt: skip
    reach = width / 2 + asked.radius + 8.0
    return out | {
        ("sections", key): SectionSettings(interval=1.0 if ends < 30 else 5.0, left=-reach, right=reach, design_speed_kmh=20.0),
        ("treatments", key): TreatmentPlan(ranges=[Treatment(from_chainage=round(begins, 3), to_chainage=ends, work=work)]),
        ("template_plan", key): TemplatePlan(ranges=[TemplateRange(from_chainage=0.0, to_chainage=ends, template=template)]),
    }


def _lanes(asked: OwnRoad, around: Around, half: float) -> TemplateSpec:
    """A lane each side, built as the main road is there beside its hinge."""
    for item in around.template_plan.ranges:
        if item.from_chainage <= asked.from_chainage < item.to_chainage and item.template in around.templates:
            main = around.templates[item.template]
            strips = over_existing((main.left or main.right) if asked.side == "left" else main.right)
            if strips:
                draft = Draft().strip("Lane", "lane", "LaneEdge", round(half, 3), None, strips[0].new, strips[0].over_existing)
                return TemplateSpec(name=f"{asked.name[:60]}, lanes", right=draft.half(LADDER_PLAIN))
    raise GeometryError(
        f"no template over the mouth has a strip over the existing pavement on the {asked.side}", "template", "choose a template"
    )


def taken_back(asked: OwnRoad, around: Around) -> Around:
    """The main road without a mouth that is tied in over the range on that side: what stands beside it goes on. Raises GeometryError where nothing stands beside it."""
    tied = [
        r
        for r in around.template_plan.ranges
        if r.to_chainage > asked.from_chainage
        and r.from_chainage < asked.to_chainage
        and _is_tied(around, r.template, asked.side)
    ]
    templates, treatments = list(around.template_plan.ranges), list(around.treatments.ranges)
    for mouth in tied:
        low, high = mouth.from_chainage, mouth.to_chainage
        template, treatment = _beside(templates, mouth, asked, around), _beside(treatments, mouth, asked, around)
        if template is None or treatment is None:
            raise GeometryError(
                f"beside the mouth that is tied in from {low:g} to {high:g} there is nothing that could go on over it", "range",
                "apply a template and a treatment there first",
            )  # fmt: skip
        templates = put_range(templates, template.changed(from_chainage=low, to_chainage=high), low, high)
        treatments = put_range(treatments, treatment.changed(from_chainage=low, to_chainage=high), low, high)
    stretches = [s for s in around.milling.stretches if not _is_notch(s, tied)]
    return replace(
        around,
        template_plan=TemplatePlan.model_validate({"ranges": [r.model_dump() for r in templates]}),
        treatments=TreatmentPlan.model_validate({"ranges": [r.model_dump() for r in treatments]}),
        milling=MillingPlan(stretches=stretches),
    )


def _is_tied(around: Around, template: str, side: Side) -> bool:
    spec = around.templates.get(template)
    if spec is None:
        return False
    half = (spec.left or spec.right) if side == "left" else spec.right
    return any(p.name == END for p in half.points)


def _beside(ranges: Sequence[Laid], mouth: Range, asked: OwnRoad, around: Around) -> Laid | None:
    """What ends where a tied mouth begins, or begins where it ends, and is no mouth itself."""
    for item in ranges:
        tied = isinstance(item, TemplateRange) and _is_tied(around, item.template, asked.side)
        if not tied and (item.to_chainage == mouth.from_chainage or item.from_chainage == mouth.to_chainage):
            return item
    return None


def _is_notch(stretch: MillingStretch, mouths: Sequence[Range]) -> bool:
    """Whether a stretch was milled for one of the mouths: out to the point that only they have."""
    to_end = any(isinstance(edge, AtPoint) and edge.point == END for edge in (stretch.left, stretch.right))
    at = (stretch.rows[0].chainage, stretch.rows[-1].chainage)
    return to_end and any(m.from_chainage <= at[1] and at[0] <= m.to_chainage for m in mouths)
