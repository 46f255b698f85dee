"""Quantities of the solved road: areas per section, volumes, masses and lengths per treatment and in total."""

import math
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from pydantic import BaseModel

from saddle import tolerances
from saddle.geometry.areas import between
from saddle.geometry.polylines import Bools, Floats
from saddle.geometry.volumes import transitions
from saddle.overlay.milling import milled_widths
from saddle.road.intervals import intervals
from saddle.road.model import RoadModel
from saddle.template.compiled import KerbSpan
from saddle.template.half import HalfSections
from saddle.template.layers import Construction, Layer
from saddle.template.view import known

Kind = Literal["course", "kerb", "bed", "boxing", "coat", "milling", "cut", "fill", "length"]
#: Kinds that have no area on a section.
NOT_CUT: frozenset[Kind] = frozenset({"coat", "length"})

#: How the constructions that are not courses are measured.
MEASURED_AS: dict[str, Kind] = {"kerb": "kerb", "bed": "bed", "fill": "boxing"}


#: How volumes are found, for screen, sheet and file.
METHOD = (
    "Average end areas between sections. Where cut turns to fill between two sections, what end areas count of both is taken off."
)


@dataclass(frozen=True, slots=True, eq=False)
class Item:
    """One thing that is measured. key: tells it from every other of its kind and name, which two materials or kerbs may share;
    material: as it is shown; area, moment: (n,) m2 and m3, signed offsets; for a length, `moment` is unused and area holds the
    kerb's lip offset, and there: (n,) says where the kerb stands; plan: (n - 1,) m2 between sections, of what is measured in plan
    too; rate: t/m2 of what is sprayed, whose areas on sections are nothing; piece: m of a kerb that comes in pieces. NaN where not known."""

    kind: Kind
    name: str
    key: str
    material: str
    density: float | None
    area: Floats
    moment: Floats
    plan: Floats | None = None
    there: Bools | None = None
    rate: float | None = None
    piece: float | None = None


@dataclass(frozen=True, slots=True, eq=False)
class Share:
    """What of every interval between sections counts: from one share of its length to another, (n - 1,) each, 0 to 1. Whatever is
    asked between two chainages is cut exactly there, so that what meets adds up."""

    start: Floats
    end: Floats

    @property
    def whole(self) -> Floats:
        """How much of each interval that is, 0 to 1."""
        return self.end - self.start

    def of(self, first: Floats, second: Floats, length: Floats) -> Floats:
        """What lies in the share of something that runs straight from one value per metre to another along each interval (n - 1,).
        NaN where it is not known, 0 where nothing counts."""
        with np.errstate(invalid="ignore"):
            mean = first + (second - first) * (self.start + self.end) / 2
            return np.where(self.whole * length > 0, self.whole * length * mean, 0.0)

    def part(self, amount: Floats) -> Floats:
        """The same of what is spread evenly over each interval (n - 1,)."""
        return np.where(self.whole > 0, self.whole * amount, 0.0)


class QuantityRow(BaseModel):
    """An item over a treatment or in total. key: with kind and name its identity; area: m2 in plan, of courses and milling; unknown_length:
    m of road over which it could not be measured; pieces: of a kerb that comes in pieces."""

    kind: Kind
    name: str
    key: str
    material: str
    volume: float | None
    mass: float | None
    length: float | None
    area: float | None
    unknown_length: float
    pieces: int | None = None


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
    """The whole bill. method: how volumes are found, in words; transition: m3 taken off cut and off fill where one turns to the
    other; columns: the items whose areas each section lists."""

    curvature_correction: bool
    method: str
    transition: float
    groups: list[QuantityGroup]
    total: QuantityGroup
    columns: list[str]
    sections: list[SectionAreas]


@dataclass(frozen=True, slots=True, eq=False)
class Laid:
    """What is laid of something on every section, (n,): area m2 and width m, each with its moment about offset 0, m3 and m2."""

    area: Floats
    moment: Floats
    width: Floats
    width_moment: Floats

    @classmethod
    def nothing(cls, n: int) -> "Laid":
        return cls(*(np.zeros(n) for _ in range(4)))

    def __add__(self, other: "Laid") -> "Laid":
        return Laid(
            self.area + other.area, self.moment + other.moment, self.width + other.width, self.width_moment + other.width_moment
        )


def layer_areas(model: RoadModel) -> dict[tuple[Construction, str, str], Laid]:
    """What is laid of all layers, by construction, name and material, in order of appearance from the top. NaN where a half that has
    the layer is not solved, and where something is built by no template."""
    n = len(model.chainage)
    sums: dict[tuple[Construction, str, str], Laid] = {}
    for group in model.groups:
        for half in (group.left, group.right):
            unknown = np.where(half.layers.solved, 0.0, np.nan)
            for layer in half.layers.layers:
                found = between(layer.offsets, layer.top, layer.bottom)
                width, width_moment = _width_of(layer)
                laid = sums.setdefault((layer.construction, layer.name, layer.material), Laid.nothing(n))
                laid.area[group.rows] += found.area + unknown
                laid.moment[group.rows] += half.side * found.moment + unknown
                laid.width[group.rows] += width + unknown
                laid.width_moment[group.rows] += half.side * width_moment + unknown
    bare = _bare(model)
    for laid in sums.values():
        for values in (laid.area, laid.moment, laid.width, laid.width_moment):
            values[bare] = np.nan
    return sums


def _width_of(layer: Layer) -> tuple[Floats, Floats]:
    """Width in plan of a layer (n,), m, where it is there at all, and its moment about offset 0, m2."""
    u = np.where(np.isfinite(layer.offsets), layer.offsets, 0.0)
    thick = layer.top - layer.bottom
    with np.errstate(invalid="ignore"):
        there = np.isfinite(layer.offsets[:, 1:]) & (thick[:, 1:] + thick[:, :-1] > 2 * tolerances.THIN_LAYER)
    width = np.where(there, np.diff(u, axis=1), 0.0).sum(axis=1)
    moment = np.where(there, (u[:, 1:] ** 2 - u[:, :-1] ** 2) / 2, 0.0).sum(axis=1)
    return width, moment


def _bare(model: RoadModel) -> Bools:
    """Sections on which something is built by no template, (n,)."""
    bare = model.worked_on()
    for group in model.groups:
        bare[group.rows] = False
    return bare


def items_of(model: RoadModel, share: Share | None = None) -> list[Item]:
    """Everything that is measured, courses first, in order of appearance from the top. share: of the intervals, that areas in plan are of."""
    sums: dict[tuple[Kind, str, str], Laid] = {}
    for (construction, name, material_key), laid in layer_areas(model).items():
        kind = MEASURED_AS.get(construction, "course")
        sums[kind, name, material_key] = sums.get((kind, name, material_key), Laid.nothing(len(model.chainage))) + laid
    length, curvature = intervals(model)
    counts = share or share_of(model)
    kerbs = distinct({key: k.name for key, k in model.inputs.kerbs.items()})
    pieces = {key: k.piece for key, k in model.inputs.kerbs.items() if k.piece is not None}
    bare = _bare(model)
    lengths = [
        replace(item, piece=pieces.get(item.key))
        for g in model.groups
        for half in (g.left, g.right)
        for item in _kerb_lines(half, g.rows, bare, kerbs)
    ]
    items = []
    shown = distinct({key: m.name for key, m in model.inputs.materials.items()})
    for (kind, name, key), laid in sums.items():
        material = model.inputs.materials.get(key)
        plan = laid_on(laid, length, curvature, counts) if kind == "course" else None
        density = material.density if material else None
        items.append(Item(kind, name, key, shown.get(key, key), density, laid.area, laid.moment, plan))
    items.sort(key=lambda item: ("course", "kerb", "bed", "boxing").index(item.kind))
    items += _coats(model, length, curvature, counts)
    e = model.earthworks
    none = np.where(model.worked_on(), np.nan, 0.0)
    for kind, area, moment in (("cut", e.cut, e.cut_moment), ("fill", e.fill, e.fill_moment)):
        known_area, known_moment = (np.where(np.isnan(a), none, a) for a in (area, moment))
        items.append(Item(kind, kind.capitalize(), kind, "Ground", None, known_area, known_moment))
    if model.milling.cuts.there.any():
        m = model.milling
        plan = counts.of(*milled_widths(m.cuts, curvature), length)
        items.append(Item("milling", "Milling", "milling", "Old pavement", None, m.area, m.moment, plan))
    return items + lengths


def _coats(model: RoadModel, length: Floats, curvature: Floats, share: Share) -> list[Item]:
    """What is sprayed beneath courses, by name and rate: as wide as the course that is laid on it."""
    n = len(model.chainage)
    sums: dict[tuple[str, float], Laid] = {}
    for group in model.groups:
        for half in (group.left, group.right):
            unknown = np.where(half.layers.solved, 0.0, np.nan)
            for layer in half.layers.layers:
                if layer.coat is not None:
                    laid = sums.setdefault((layer.coat.name, layer.coat.rate), Laid.nothing(n))
                    width, moment = _width_of(layer)
                    laid.width[group.rows] += width + unknown
                    laid.width_moment[group.rows] += half.side * moment + unknown
    bare, zero = _bare(model), np.zeros(n)
    found = []
    for (name, rate), laid in sums.items():
        laid.width[bare] = laid.width_moment[bare] = np.nan
        plan = laid_on(laid, length, curvature, share)
        found.append(Item("coat", name, name, f"{rate:g} kg/m2", None, zero, zero, plan, rate=rate / 1000))
    return found


def distinct(names: Mapping[str, str]) -> dict[str, str]:
    """Names to be shown by key, with the key behind those that two of them share."""
    count = Counter(names.values())
    return {key: name if count[name] == 1 else f"{name} ({key})" for key, name in names.items()}


def _kerb_lines(half: HalfSections, rows: np.ndarray, bare: Bools, names: Mapping[str, str]) -> list[Item]:
    found = []
    for span in half.half.spans:
        if isinstance(span, KerbSpan):
            lip, there = np.full(len(bare), np.nan), bare.copy()
            lip[rows] = np.where(half.layers.solved, half.side * half.u[:, span.lip], np.nan)
            there[rows] = True
            key = span.placement.profile
            found.append(Item("length", names.get(key, key), key, "", None, lip, lip, there=there))
    return found


def share_of(model: RoadModel, low: float | None = None, high: float | None = None) -> Share:
    """The intervals between two chainages; None for an end of the road."""
    c, (length, _) = model.chainage, intervals(model)
    at = [np.full(len(length), v) for v in (0.0, 1.0)]
    for k, chainage in enumerate((low, high)):
        if chainage is not None:
            with np.errstate(invalid="ignore", divide="ignore"):
                at[k] = np.where(length > 0, np.clip((chainage - c[:-1]) / length, 0.0, 1.0), float(k))
    return Share(at[0], np.maximum(at[1], at[0]))


def amounts_of(model: RoadModel, share: Share | None = None) -> tuple[list[tuple[Item, Floats]], Floats]:
    """Everything that is measured with what of it lies in the share of every interval between sections (n - 1,): m3, of a length m, NaN
    where it is not known; and what is taken off cut and off fill where one turns to the other, m3."""
    length, curvature = intervals(model)
    counts = share or share_of(model)
    taken_off = counts.part(transitions(model.earthworks.difference, length, curvature))
    items = items_of(model, counts)
    amounts = [_amount(item, length, curvature, counts) - (taken_off if item.kind in ("cut", "fill") else 0.0) for item in items]
    return list(zip(items, amounts, strict=True)), taken_off


def laid_on(laid: Laid, length: Floats, curvature: Floats, share: Share) -> Floats:
    """Area in plan that something is laid on, m2, in the share of every interval (n - 1,)."""
    width, moment = laid.width, laid.width_moment
    return share.of(width[:-1] - curvature * moment[:-1], width[1:] - curvature * moment[1:], length)


def layer_volume(area: Floats, moment: Floats, model: RoadModel, share: Share) -> Floats:
    """Volume, m3, in the share of every interval (n - 1,) of what has an area and a moment on every section (n,)."""
    length, curvature = intervals(model)
    first, second = area[:-1] - curvature * moment[:-1], area[1:] - curvature * moment[1:]
    return share.of(first, second, length)


def take_off(model: RoadModel, low: float | None = None, high: float | None = None) -> Quantities:
    """Areas, volumes by average end areas, masses and kerb lengths between two chainages, None for an end of the road. The parts add up
    to the total."""
    c = model.chainage
    length, _ = intervals(model)
    share = share_of(model, low, high)
    found, taken_off = amounts_of(model, share)
    owner = model.stations.treatment[:-1]
    counted = share.whole * length
    groups = []
    for i, treatment in enumerate(model.inputs.treatments.ranges):
        rows = _rows(found, counted, owner == i)
        title = treatment.work.kind.capitalize()
        groups.append(
            QuantityGroup(title=title, from_chainage=treatment.from_chainage, to_chainage=treatment.to_chainage, rows=rows)
        )
    a = model.alignment
    if rest := _rows(found, counted, owner < 0):
        groups.append(QuantityGroup(title="Outside the treatments", from_chainage=a.start, to_chainage=a.end, rows=rest))
    total = QuantityGroup(
        title="Total", from_chainage=model.alignment.start, to_chainage=model.alignment.end,
        rows=_rows(found, counted, np.ones(len(length), dtype=bool)),
    )  # fmt: skip
    measured = [item for item, _ in found if item.kind not in NOT_CUT]
    side: dict[int, Literal["before", "plain", "after"]] = {-1: "before", 0: "plain", 1: "after"}
    sections = [
        SectionAreas(
            chainage=float(c[i]), side=side[int(model.stations.side[i])], areas=[known(item.area[i]) for item in measured]
        )
        for i in range(len(c))
    ]
    return Quantities(
        curvature_correction=model.inputs.settings.curvature_correction, method=METHOD, transition=float(taken_off.sum()),
        groups=groups, total=total,
        columns=[f"{item.name} ({item.material})" for item in measured], sections=sections,
    )  # fmt: skip


def _amount(item: Item, length: Floats, curvature: Floats, share: Share) -> Floats:
    """What of an item lies in the share of every interval: m3, m for a kerb line, t for what is sprayed."""
    if item.rate is not None:
        assert item.plan is not None
        return item.plan * item.rate
    if item.kind != "length":
        first, second = item.area[:-1] - curvature * item.moment[:-1], item.area[1:] - curvature * item.moment[1:]
        return share.of(first, second, length)
    assert item.there is not None
    lip, there = item.area, item.there[:-1] & item.there[1:]
    along = length * (1 - curvature * (lip[:-1] + lip[1:]) / 2)
    return share.part(np.where(there & (length > 0), np.hypot(along, np.diff(lip)), 0.0))


def _rows(amounts: list[tuple[Item, Floats]], length: Floats, where: np.ndarray) -> list[QuantityRow]:
    """One row for each identity; what several items of one identity have is added up, and what is not known of any is not known."""
    together: dict[tuple[str, str, str], list[tuple[Item, Floats]]] = {}
    for item, amount in amounts:
        together.setdefault((item.kind, item.name, item.key), []).append((item, amount[where]))
    rows = []
    for parts in together.values():
        item = parts[0][0]
        value = float(sum(np.nansum(part) for _, part in parts))
        lost = np.any([np.isnan(part) for _, part in parts], axis=0)
        unknown = float(length[where][lost].sum())
        if abs(value) <= tolerances.COINCIDENT and unknown == 0:
            continue
        along, sprayed = item.kind == "length", item.rate is not None
        mass = value if sprayed else value * item.density if item.density is not None and not along else None
        rows.append(
            QuantityRow(
                kind=item.kind,
                name=item.name,
                key=item.key,
                material=item.material,
                volume=None if along or sprayed else value,
                mass=mass,
                length=value if along else None,
                area=float(sum(np.nansum(i.plan[where]) for i, _ in parts if i.plan is not None))
                if item.plan is not None
                else None,
                unknown_length=unknown,
                pieces=math.ceil(value / item.piece - 1e-6) if along and item.piece else None,
            )
        )
    return rows
