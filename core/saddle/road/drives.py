"""Drives, field accesses and dropped kerbs from a table: each row is what a side road tied in is, or a kerb laid low, over a width about a
chainage. Rows of one kind over one template share the template that is made for them."""

import itertools
from collections.abc import Mapping
from dataclasses import replace
from typing import Annotated, Literal

from pydantic import Field

from saddle.chainage import format_chainage
from saddle.documents_base import Chainage, Document, NotNegativeMillimetres, Positive
from saddle.errors import GeometryError
from saddle.overlay.spec import MillingPlan
from saddle.road.side_roads import Around, SideRoad, tie_in_side_road
from saddle.road.spec import TemplatePlan, TreatmentPlan, put_range
from saddle.template.parts import KerbProfile, MakeUp
from saddle.template.spec import Half, TemplateSpec

#: What is written, by kind and key.
Made = dict[tuple[str, str], Document]
DriveKind = Literal["drive", "field_access", "dropped_kerb"]
ORDER = {"kerb": 0, "make_up": 0, "template": 1}
WORDS: dict[DriveKind, str] = {"drive": "Drive", "field_access": "Field access", "dropped_kerb": "Dropped kerb"}


class Drive(Document):
    """A row. chainage: of its middle; width: along the road, m."""

    chainage: Chainage
    side: Literal["left", "right"]
    width: Annotated[float, Field(ge=0.5, le=60, allow_inf_nan=False)]
    kind: DriveKind = "drive"

    @property
    def low(self) -> float:
        """Where it begins, m."""
        return self.chainage - self.width / 2

    @property
    def high(self) -> float:
        """Where it ends, m."""
        return self.chainage + self.width / 2


class DriveTable(Document):
    """The table, and how far drives and field accesses run down to the old level, m, and what a dropped kerb leaves of its upstand, mm."""

    rows: Annotated[list[Drive], Field(min_length=1, max_length=500)]
    drive_length: Positive = 3.0
    field_length: Positive = 6.0
    upstand_mm: NotNegativeMillimetres = 25.0


def tie_in_drives(table: DriveTable, around: Around) -> Made:
    """The documents to write. Raises GeometryError that names the row where two lie on each other on one side, or where one cannot be."""
    _apart(table)
    out: Made = {}
    for number, row in enumerate(table.rows, start=1):
        try:
            made = _dropped(row, table.upstand_mm, around) if row.kind == "dropped_kerb" else _tied(row, table, around)
        except GeometryError as error:
            at = f"row {number}, {WORDS[row.kind].lower()} at {format_chainage(row.chainage)}"
            raise GeometryError(f"{at}: {error.message}", f"row {number}", error.hint) from error
        out |= made
        around = _with(around, made)
    # What others name comes before them, as when it was written row by row; taken back it goes after them.
    return dict(sorted(out.items(), key=lambda item: ORDER.get(item[0][0], len(ORDER))))


def _apart(table: DriveTable) -> None:
    for side in ("left", "right"):
        rows = sorted((r.low, r.high, n) for n, r in enumerate(table.rows, start=1) if r.side == side)
        for (_, high, a), (low, _, b) in itertools.pairwise(rows):
            if low < high - 1e-9:
                raise GeometryError(
                    f"rows {a} and {b} lie on each other on the {side}, by {high - low:.3f} m", f"row {max(a, b)}",
                    "make one of them narrower, or leave it out",
                )  # fmt: skip


def _tied(row: Drive, table: DriveTable, around: Around) -> Made:
    length = table.drive_length if row.kind == "drive" else table.field_length
    asked = SideRoad(
        from_chainage=row.low, to_chainage=row.high, name=f"{WORDS[row.kind]} {row.side} {length:g} m".replace(".", "-"), side=row.side,
        length=length,
    )  # fmt: skip
    return tie_in_side_road(asked, around, shared=True)


def _dropped(row: Drive, upstand_mm: float, around: Around) -> Made:
    """The templates over a width with their kerbs on a side laid low."""
    out: Made = {}
    plan, covered = list(around.template_plan.ranges), 0.0
    for item in around.template_plan.ranges:
        a, b = max(item.from_chainage, row.low), min(item.to_chainage, row.high)
        if b <= a:
            continue
        template = around.templates.get(item.template)
        if template is None:
            raise GeometryError(f"there is no template “{item.template}”", item.template, "apply another template there")
        key = f"{item.template}-dropped-{row.side}-{upstand_mm:g}".replace(".", "-")[:80]
        spec, kerbs = _with_low_kerbs(template, row.side, upstand_mm, around.kerbs)
        out |= {("kerb", k): profile for k, profile in kerbs.items()}
        out["template", key] = spec
        plan = put_range(plan, item.changed(from_chainage=a, to_chainage=b, template=key, transition=0.0), a, b)
        covered += b - a
    if covered < row.width - 1e-3:
        raise GeometryError("no template is applied over all of it", "range", "apply one first")
    out["template_plan", around.road] = TemplatePlan.model_validate({"ranges": [r.model_dump() for r in plan]})
    return out


def _with_low_kerbs(
    template: TemplateSpec, side: Literal["left", "right"], upstand_mm: float, known: Mapping[str, KerbProfile]
) -> tuple[TemplateSpec, dict[str, KerbProfile]]:
    left, right = template.left or template.right, template.right
    half = left if side == "left" else right
    outward = [k for k in half.kerbs if not k.turned and k.profile in known]
    high = [k for k in outward if known[k.profile].top[-1].up_mm > upstand_mm]
    if not high:
        raise GeometryError(
            f"the template {template.name} has no kerb on the {side} that stands higher than {upstand_mm:g} mm", template.name,
            "choose another kind, or another side",
        )  # fmt: skip
    made = {k.profile: _low(known[k.profile], upstand_mm) for k in high}
    keys = {profile: f"{profile}-dropped-{upstand_mm:g}".replace(".", "-")[:80] for profile in made}
    kerbs = [k.changed(profile=keys[k.profile]) if k in high else k for k in half.kerbs]
    new = Half.model_validate({**half.model_dump(), "kerbs": [k.model_dump() for k in kerbs]})
    halves = {"left": new, "right": right} if side == "left" else {"left": left, "right": new}
    spec = template.changed(name=f"{template.name}, dropped kerb {side}"[:80], **{k: h.model_dump() for k, h in halves.items()})
    return spec, {keys[profile]: kerb for profile, kerb in made.items()}


def _low(profile: KerbProfile, upstand_mm: float) -> KerbProfile:
    """A kerb no vertex of which stands higher than the upstand above the lip."""
    top = [v.changed(up_mm=min(v.up_mm, upstand_mm)).model_dump() for v in profile.top]
    backing = min(profile.backing_height_mm, top[-1]["up_mm"] + profile.base_mm)
    return profile.changed(name=f"{profile.name}, dropped to {upstand_mm:g} mm"[:80], top=top, backing_height_mm=backing)


def _with(around: Around, made: Made) -> Around:
    """What is there once some documents are written."""

    templates, make_ups, kerbs = dict(around.templates), dict(around.make_ups), dict(around.kerbs)
    out = around
    for (_, key), document in made.items():
        match document:
            case TemplateSpec():
                templates[key] = document
            case MakeUp():
                make_ups[key] = document
            case KerbProfile():
                kerbs[key] = document
            case TemplatePlan():
                out = replace(out, template_plan=document)
            case TreatmentPlan():
                out = replace(out, treatments=document)
            case MillingPlan():
                out = replace(out, milling=document)
    return replace(out, templates=templates, make_ups=make_ups, kerbs=kerbs)
