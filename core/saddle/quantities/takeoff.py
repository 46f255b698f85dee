"""Quantities of the solved road: areas per section, volumes, masses and lengths per treatment and in total."""

from dataclasses import dataclass
from typing import Literal

import numpy as np
from pydantic import BaseModel

from saddle import tolerances
from saddle.geometry.areas import between
from saddle.geometry.polylines import Floats
from saddle.quantities.volumes import end_areas
from saddle.road.model import RoadModel
from saddle.template.compiled import KerbSpan
from saddle.template.half import HalfSections
from saddle.template.layers import Construction
from saddle.template.view import known

Kind = Literal["course", "kerb", "bed", "boxing", "milling", "cut", "fill", "length"]

#: How the constructions that are not courses are measured.
MEASURED_AS: dict[str, Kind] = {"kerb": "kerb", "bed": "bed", "fill": "boxing"}


@dataclass(frozen=True, slots=True, eq=False)
class Item:
    """One thing that is measured. area, moment: (n,) m2 and m3, signed offsets; for a length, `moment` is unused
    and area holds the kerb's lip offset, NaN where there is no kerb; width: (n,) m, of what is measured in plan too."""

    kind: Kind
    name: str
    material: str
    density: float | None
    area: Floats
    moment: Floats
    width: Floats | None = None


class QuantityRow(BaseModel):
    """An item over a treatment or in total. area: m2 in plan, of milling; unknown_length: m of road over which it could not be measured."""

    kind: Kind
    name: str
    material: str
    volume: float | None
    mass: float | None
    length: float | None
    area: float | None
    unknown_length: float


class QuantityGroup(BaseModel):
    """Rows of one treatment, or of the whole road."""

    title: str
    from_chainage: float
    to_chainage: float
    rows: list[QuantityRow]


class SectionAreas(BaseModel):
    """Areas on one section, m2, in the order of the items; None where not known."""

    chainage: float
    side: Literal["before", "plain", "after"]
    areas: list[float | None]


class Quantities(BaseModel):
    """The whole bill. columns: the items whose areas each section lists."""

    curvature_correction: bool
    groups: list[QuantityGroup]
    total: QuantityGroup
    columns: list[str]
    sections: list[SectionAreas]


def layer_areas(model: RoadModel) -> dict[tuple[Construction, str, str], tuple[Floats, Floats]]:
    """Area m2 and moment about offset 0 m3 of all layers on every section (n,), by construction, name and material, in order of
    appearance from the top."""
    n = len(model.chainage)
    sums: dict[tuple[Construction, str, str], tuple[Floats, Floats]] = {}
    for group in model.groups:
        for half in (group.left, group.right):
            for layer in half.layers.layers:
                found = between(layer.offsets, layer.top, layer.bottom)
                area, moment = sums.setdefault((layer.construction, layer.name, layer.material), (np.zeros(n), np.zeros(n)))
                area[group.rows] += found.area
                moment[group.rows] += half.side * found.moment
    return sums


def items_of(model: RoadModel) -> list[Item]:
    """Everything that is measured, courses first, in order of appearance from the top."""
    n = len(model.chainage)
    sums: dict[tuple[Kind, str, str], tuple[Floats, Floats]] = {}
    for (construction, name, material_key), (area, moment) in layer_areas(model).items():
        kind = MEASURED_AS.get(construction, "course")
        old = sums.get((kind, name, material_key), (0.0, 0.0))
        sums[kind, name, material_key] = (old[0] + area, old[1] + moment)
    lengths = [item for g in model.groups for half in (g.left, g.right) for item in _kerb_lines(half, g.rows, n)]
    items = []
    for (kind, name, key), (area, moment) in sums.items():
        material = model.inputs.materials.get(key)
        items.append(Item(kind, name, material.name if material else key, material.density if material else None, area, moment))
    items.sort(key=lambda item: ("course", "kerb", "bed", "boxing").index(item.kind))
    e = model.earthworks
    worked = np.zeros(n, dtype=bool)
    for group in model.groups:
        worked[group.rows] = True
    none = np.where(worked, np.nan, 0.0)
    for kind, area, moment in (("cut", e.cut, e.cut_moment), ("fill", e.fill, e.fill_moment)):
        known_area, known_moment = (np.where(np.isnan(a), none, a) for a in (area, moment))
        items.append(Item(kind, kind.capitalize(), "Ground", None, known_area, known_moment))
    if (model.milling.depth > 0).any():
        m = model.milling
        items.append(Item("milling", "Milling", "Old pavement", None, m.area, m.moment, m.width))
    return items + lengths


def _kerb_lines(half: HalfSections, rows: np.ndarray, n: int) -> list[Item]:
    found = []
    for span in half.half.spans:
        if isinstance(span, KerbSpan):
            lip = np.full(n, np.nan)
            lip[rows] = half.side * half.u[:, span.lip]
            found.append(Item("length", span.profile.name, "", None, lip, lip))
    return found


def intervals(model: RoadModel) -> tuple[Floats, Floats]:
    """Length, m, 0 between two sections at one chainage, and curvature in the middle, 1/m, of every interval, (n - 1,);
    the curvature is 0 where the project does not correct volumes for it."""
    c = model.chainage
    length = np.diff(c)
    length = np.where(length <= tolerances.CHAINAGE_MERGE, 0.0, length)
    if len(c) < 2 or not model.inputs.settings.curvature_correction:
        return length, np.zeros(len(length))
    middle = np.clip((c[:-1] + c[1:]) / 2, model.alignment.start, model.alignment.end)
    return length, model.alignment.frames(middle).curvature


def take_off(model: RoadModel) -> Quantities:
    """Areas, volumes by average end areas, masses and kerb lengths. The parts add up to the total."""
    c = model.chainage
    length, curvature = intervals(model)
    items = items_of(model)
    amounts = [_amount(item, length, curvature) for item in items]
    plans = [
        end_areas(length, item.width, item.width * 0.0, curvature * 0.0) if item.width is not None else None for item in items
    ]
    owner = model.stations.treatment[:-1]
    groups = []
    for i, treatment in enumerate(model.inputs.treatments.ranges):
        rows = _rows(items, amounts, plans, length, owner == i)
        title = treatment.work.kind.capitalize()
        groups.append(
            QuantityGroup(title=title, from_chainage=treatment.from_chainage, to_chainage=treatment.to_chainage, rows=rows)
        )
    every = np.ones(len(length), dtype=bool)
    total = QuantityGroup(
        title="Total", from_chainage=model.alignment.start, to_chainage=model.alignment.end,
        rows=_rows(items, amounts, plans, length, every),
    )  # fmt: skip
    measured = [item for item in items if item.kind != "length"]
    side: dict[int, Literal["before", "plain", "after"]] = {-1: "before", 0: "plain", 1: "after"}
    sections = [
        SectionAreas(
            chainage=float(c[i]), side=side[int(model.stations.side[i])], areas=[known(item.area[i]) for item in measured]
        )
        for i in range(len(c))
    ]
    return Quantities(
        curvature_correction=model.inputs.settings.curvature_correction, groups=groups, total=total,
        columns=[f"{item.name} ({item.material})" for item in measured], sections=sections,
    )  # fmt: skip


def _amount(item: Item, length: Floats, curvature: Floats) -> Floats:
    """Per interval: m3, or m for a kerb line."""
    if item.kind != "length":
        return end_areas(length, item.area, item.moment, curvature)
    lip = item.area
    along = length * (1 - curvature * (lip[:-1] + lip[1:]) / 2)
    run = np.hypot(along, np.diff(lip))
    return np.where((length > 0) & np.isfinite(run), run, 0.0)


def _rows(
    items: list[Item], amounts: list[Floats], plans: list[Floats | None], length: Floats, where: np.ndarray
) -> list[QuantityRow]:
    rows: dict[tuple[str, str, str], QuantityRow] = {}
    for item, amount, plan in zip(items, amounts, plans, strict=True):
        part = amount[where]
        value = float(np.nansum(part))
        unknown = float(length[where][np.isnan(part)].sum())
        if value == 0 and unknown == 0:
            continue
        key = (item.kind, item.name, item.material)
        along = item.kind == "length"
        before = rows[key].length if along and key in rows else 0.0
        rows[key] = QuantityRow(
            kind=item.kind,
            name=item.name,
            material=item.material,
            volume=None if along else value,
            mass=value * item.density if item.density is not None and not along else None,
            length=(before or 0.0) + value if along else None,
            area=float(np.nansum(plan[where])) if plan is not None else None,
            unknown_length=unknown,
        )
    return list(rows.values())
