"""A side road tied in: over its mouth the overlay's edge runs down to the old level away from the road.

It is made of what is there already, so that everything of it can be changed afterwards: the template over the mouth gets a
strip of kind side road from the pavement's edge to a point on the old surface, the overlay's edge there becomes that point of
the template, and with a notch the old pavement is milled from nothing at the edge to the notch's depth at the far end.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated, Literal

from pydantic import Field

from saddle.documents_base import Document, NotNegativeMillimetres, Positive
from saddle.errors import GeometryError
from saddle.guides.spec import AtPoint
from saddle.overlay.spec import MillingPlan, MillingRow, MillingStretch
from saddle.road.model import RoadInputs
from saddle.road.spec import Overlay, Range, TemplatePlan, TreatmentPlan, put_range
from saddle.template.parts import Flush, KerbProfile, MakeUp, UnderKerb
from saddle.template.spec import HINGE, Half, Strip, TemplateSpec
from saddle.template.ties import OnSurface, Point, Width
from saddle.template.values import Dimension

END, LENGTH = "SideRoadEnd", "side road length"


class SideRoad(Range):
    """A side road. side: of the main road; length: m from the pavement's edge to where the old level is met; notch_mm: milled
    there, running out to nothing at the edge, so that the courses keep their thickness; 0 for a ramp."""

    name: Annotated[str, Field(min_length=1, max_length=30, pattern=r"^[A-Za-z0-9][A-Za-z0-9 -]*$")]
    side: Literal["left", "right"]
    length: Positive = 10.0
    notch_mm: NotNegativeMillimetres = 0.0


@dataclass(frozen=True, slots=True)
class Around:
    """What is there: the road's key, and documents by key."""

    road: str
    templates: Mapping[str, TemplateSpec]
    make_ups: Mapping[str, MakeUp]
    template_plan: TemplatePlan
    treatments: TreatmentPlan
    milling: MillingPlan
    kerbs: Mapping[str, KerbProfile] = field(default_factory=dict)

    @classmethod
    def of(cls, road: str, i: RoadInputs) -> "Around":
        """What is there of a road with these inputs."""
        return cls(road, i.templates, i.make_ups, i.template_plan, i.treatments, i.milling, i.kerbs)


def tie_in_side_road(asked: SideRoad, around: Around, *, shared: bool = False) -> dict[tuple[str, str], Document]:
    """The documents to write, by kind and key. shared: a template that is there under the key and comes out the same serves again. Raises GeometryError where the mouth is not overlaid, has no template, or its
    template has nothing over the existing pavement on that side."""
    low, high = asked.from_chainage, asked.to_chainage
    out: dict[tuple[str, str], Document] = {}
    edges: dict[str, str] = {}
    plan = list(around.template_plan.ranges)
    slug = asked.name.lower().replace(" ", "-")
    for item in around.template_plan.ranges:
        a, b = max(item.from_chainage, low), min(item.to_chainage, high)
        if b <= a:
            continue
        key = f"{item.template}-{slug}"[:80]
        if item.template not in around.templates:
            raise GeometryError(f"there is no template “{item.template}”", item.template, "apply another template over the mouth")
        template, make_ups, edge = _mouth(around.templates[item.template], asked, around.make_ups)
        if key in around.templates and not (shared and around.templates[key] == template):
            raise GeometryError(f"a side road called {asked.name} is tied in already", "name", "choose another name")
        out |= {("make_up", k): m for k, m in make_ups.items() if k not in around.make_ups}
        out["template", key] = template
        edges[key] = edge
        dimensions = {**item.dimensions}
        new = item.changed(from_chainage=a, to_chainage=b, template=key, dimensions=dimensions, transition=0.0)
        plan = put_range(plan, new, a, b)
    if not edges:
        raise GeometryError("no template is applied over the mouth", "range", "apply one first")
    treatments, covered = list(around.treatments.ranges), 0.0
    for old in around.treatments.ranges:
        a, b = max(old.from_chainage, low), min(old.to_chainage, high)
        if b <= a or not isinstance(old.work, Overlay):
            continue
        covered += b - a
        at = AtPoint(point=next(iter(edges.values())))
        changes: dict[str, object] = {f"{asked.side}_edge": at.model_dump()}
        changes |= {end: None for end, inside in (("begin", a > old.from_chainage), ("end", b < old.to_chainage)) if inside}
        treatments = put_range(treatments, old.changed(from_chainage=a, to_chainage=b, work=old.work.changed(**changes)), a, b)
    if covered < high - low - 1e-3:
        raise GeometryError("the mouth is not overlaid all along", "range", "mark a range with an overlay")
    if len(set(edges.values())) > 1:
        raise GeometryError(
            "the templates over the mouth call the pavement's edge differently", "range", "apply one of them first"
        )
    out["template_plan", around.road] = TemplatePlan.model_validate({"ranges": [r.model_dump() for r in plan]})
    out["treatments", around.road] = TreatmentPlan.model_validate({"ranges": [t.model_dump() for t in treatments]})
    if asked.notch_mm > 0:
        out["milling", around.road] = MillingPlan(
            stretches=[*around.milling.stretches, _notch(asked, next(iter(edges.values())))]
        )
    return out


def _notch(asked: SideRoad, edge: str) -> MillingStretch:
    near, far = (AtPoint(point=p, side=asked.side) for p in (edge, END))
    left, right = (near, far) if asked.side == "right" else (far, near)
    rows = [MillingRow(chainage=c, depth_mm=asked.notch_mm) for c in (asked.from_chainage, asked.to_chainage)]
    return MillingStretch(left=left, right=right, full_at=asked.side, rows=rows)


def _mouth(template: TemplateSpec, asked: SideRoad, known: Mapping[str, MakeUp]) -> tuple[TemplateSpec, dict[str, MakeUp], str]:
    """The template with a side road instead of what lies beyond the pavement's edge on one side, make-ups that it needs, and
    the name of the edge's point."""
    left, right = template.left or template.right, template.right
    half = left if asked.side == "left" else right
    strips = over_existing(half)
    if not strips:
        raise GeometryError(
            f"the template {template.name} has no strip over the existing pavement on the {asked.side}", template.name,
            "apply another template over the mouth",
        )  # fmt: skip
    edge = strips[-1].to_point
    over, built = strips[-1].over_existing, strips[-1].new
    assert over is not None
    for key in (over, built):
        if key not in known:
            raise GeometryError(f"there is no make-up “{key}”", template.name, "give the strip another make-up")
    make_ups: dict[str, MakeUp] = {}
    if asked.notch_mm == 0:
        # A ramp runs out to nothing: one course, whose bottom is the old surface.
        laid = f"{over}-run-out"[:80]
        make_ups[laid] = MakeUp(name=f"{known[over].name}, run out"[:80], courses=[_flush(known[over]).courses[0]])
    else:
        laid = over
    if any(isinstance(end, UnderKerb) for c in known[built].courses for end in (c.inner, c.outer)):
        make_ups[f"{built}-flush"[:80]] = _flush(known[built]).changed(name=f"{known[built].name}, flush"[:80])
        built = f"{built}-flush"[:80]
    last = strips[-1].changed(new=built)
    mouth = Strip(name="Side road", kind="side_road", from_point=edge, to_point=END, new=built, over_existing=laid)
    end = Point(name=END, offset=Width(parent=edge, width=LENGTH), level=OnSurface())
    kept = _needed(half, {HINGE} | {p for s in strips for p in (s.from_point, s.to_point)})
    kerbs = [k for k in half.kerbs if k.at in {s.from_point for s in strips}]
    new = Half(
        points=[*(p for p in half.points if p.name in kept), end], strips=[*strips[:-1], last, mouth], kerbs=kerbs, fill=half.fill,
    )  # fmt: skip
    halves = {"left": new, "right": right} if asked.side == "left" else {"left": left, "right": new}
    dimensions = [*(d for d in template.dimensions if d.name != LENGTH), Dimension(name=LENGTH, value=asked.length)]
    return TemplateSpec(name=f"{template.name}, {asked.name}"[:80], dimensions=dimensions, **halves), make_ups, edge


def over_existing(half: Half) -> list[Strip]:
    """Strips from the hinge outward as far as they have a make-up over the existing pavement."""
    by_start = {s.from_point: s for s in half.strips}
    found, at = [], HINGE
    while at in by_start and by_start[at].over_existing is not None and by_start[at].kind != "side_road":
        found.append(by_start[at])
        at = by_start[at].to_point
    return found


def _needed(half: Half, names: set[str]) -> set[str]:
    """Points with all that they are tied to."""
    points = {p.name: p for p in half.points}
    kept, wanted = set(), set(names)
    while wanted:
        name = wanted.pop()
        kept.add(name)
        if name in points:
            wanted |= points[name].parents() - kept
    return kept


def _flush(make_up: MakeUp) -> MakeUp:
    """The make-up with upright ends at kerbs that are no longer there."""
    courses = [
        c.changed(**{side: Flush().model_dump() for side in ("inner", "outer") if isinstance(getattr(c, side), UnderKerb)})
        for c in make_up.courses
    ]
    return make_up.changed(courses=[c.model_dump() for c in courses])
