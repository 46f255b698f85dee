"""Variants of the overlay side by side: the same road with other settings over a range."""

from dataclasses import replace

import numpy as np
from pydantic import BaseModel

from saddle import tolerances
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats
from saddle.overlay.spec import LevelTableGoverns, ProfileGoverns
from saddle.pipeline import solve
from saddle.quantities.takeoff import layer_areas, layer_volume, share_of
from saddle.road.intervals import intervals
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import Leave, Overlay, Treatment, TreatmentPlan, Variant, VariantPlan, put_range
from saddle.stages.run import Run


class VariantResult(BaseModel):
    """What comes of a variant over the range. least, greatest, mean: depths, m, None where nothing is known; volume m3, mass t
    of the courses over the old pavement; problems: faults and cautions in the range; depths: greatest depth along it, m."""

    name: str
    least: float | None
    greatest: float | None
    mean: float | None
    volume: float
    mass: float
    cost: float
    faults: int
    cautions: int
    unknown_length: float
    chainage: list[float]
    depths: list[float | None]


def treatments_with(plan: TreatmentPlan, variant: Variant, low: float, high: float) -> TreatmentPlan:
    """The treatments with a variant laid over the overlays of a range, and over its rebuilt lengths as far as it is for them
    too: given levels and crossfalls. Ties to the old road stay at the ends they belong to."""
    ranges = list(plan.ranges)
    for old in plan.ranges:
        a, b = max(old.from_chainage, low), min(old.to_chainage, high)
        if isinstance(old.work, Leave) or b - a <= tolerances.CHAINAGE_MERGE:
            continue
        overlay = isinstance(old.work, Overlay)
        changes: dict[str, object] = {}
        if variant.least_cover_mm is not None and overlay:
            changes["least_cover_mm"] = variant.least_cover_mm
        if variant.governs is not None and (overlay or isinstance(variant.governs, LevelTableGoverns | ProfileGoverns)):
            changes["governs"] = variant.governs.model_dump()
        if variant.crossfall is not None:
            changes |= {"left_crossfall": variant.crossfall.model_dump(), "right_crossfall": variant.crossfall.model_dump()}
        if a > old.from_chainage and overlay:
            changes["begin"] = None
        if b < old.to_chainage and overlay:
            changes["end"] = None
        ranges = put_range(ranges, Treatment(from_chainage=a, to_chainage=b, work=old.work.changed(**changes)), a, b)
    return TreatmentPlan(ranges=ranges)


def compare_variants(inputs: RoadInputs, plan: VariantPlan, low: float, high: float, run: Run) -> list[VariantResult]:
    """The road as it is, called "As it is", and every variant over a range. Raises GeometryError for a range without overlay."""
    as_it_is = solve(inputs, run)
    if not (np.isfinite(as_it_is.depth.least) & as_it_is.stations.within(low, high)).any():
        raise GeometryError("there is no overlay in the range", "range", "mark a range that is overlaid")
    out = [_result("As it is", as_it_is, plan.price, low, high)]
    for variant in plan.variants:
        changed = solve(replace(inputs, treatments=treatments_with(inputs.treatments, variant, low, high)), run)
        out.append(_result(variant.name, changed, plan.price, low, high))
    return out


def _result(name: str, model: RoadModel, price: float, low: float, high: float) -> VariantResult:
    inside = model.stations.within(low, high)
    d = model.depth
    volume, mass, unknown = courses_between(model, low, high)
    rows = np.flatnonzero(inside)
    rows = rows[np.unique(model.stations.pair[rows], return_index=True)[1]]  # one for each chainage
    here = [p for p in model.problems if p.chainage_to >= low and p.chainage_from <= high]

    def of(values: Floats, how: str) -> float | None:
        known = values[inside & np.isfinite(values)]
        return float(getattr(np, how)(known)) if known.size else None

    return VariantResult(
        name=name, least=of(d.least, "min"), greatest=of(d.greatest, "max"), mean=of(d.mean, "mean"), volume=volume, mass=mass,
        cost=mass * price, faults=sum(p.severity == "fault" for p in here), cautions=sum(p.severity == "caution" for p in here),
        unknown_length=unknown, chainage=model.chainage[rows].tolist(),
        depths=[float(v) if np.isfinite(v) else None for v in d.greatest[rows]],
    )  # fmt: skip


def courses_between(model: RoadModel, low: float, high: float) -> tuple[float, float, float]:
    """Volume m3 and mass t of the courses over the old pavement between two chainages, and the length over which they are not known."""
    length, _ = intervals(model)
    share = share_of(model, low, high)
    volume = mass = 0.0
    missing = np.zeros(len(length), dtype=bool)
    for (construction, _, key), laid in layer_areas(model).items():
        if construction != "over_existing":
            continue
        part = layer_volume(laid.area, laid.moment, model, share)
        missing |= np.isnan(part)
        total = float(np.nansum(part))
        material = model.inputs.materials.get(key)
        volume += total
        mass += total * (material.density if material else 0.0)
    return volume, mass, float((share.whole * length)[missing].sum())
