"""The same volumes by other methods, and whether what is built, dug and milled adds up to what lies between old and new."""

import numpy as np
from pydantic import BaseModel

from saddle.geometry.polylines import Floats
from saddle.geometry.volumes import end_areas, prismoidal_along, transitions
from saddle.quantities.takeoff import NOT_CUT, Item, Kind, items_of, layer_areas
from saddle.road.intervals import intervals
from saddle.road.model import RoadModel


class MethodRow(BaseModel):
    """One item of the bill, m3. end_areas: as billed; halved: end areas with a section more in the middle of every interval;
    prismoidal: L/6 (A1 + 4 Am + A2) with that section; unknown_length: m over which one of them is not known."""

    kind: Kind
    name: str
    key: str
    material: str
    end_areas: float
    halved: float
    prismoidal: float
    unknown_length: float


class Balance(BaseModel):
    """Existing to design by end areas, m3: raised: the new surface over the old one, less what lies below it; layers: all courses,
    kerbs, beds and boxing; fill, cut; milling: between the catch points; beyond: milled further out, where nothing is built. open:
    layers + fill - cut - milling - raised, which is nothing."""

    raised: float
    layers: float
    fill: float
    cut: float
    milling: float
    beyond: float
    open: float


class VolumeCheck(BaseModel):
    """All of it for a road. middles: chainages at which sections would take away most of what halved intervals differ by, in road
    order."""

    rows: list[MethodRow]
    balance: Balance
    middles: list[float]


#: So much of the difference to halved intervals the middles take away, and so many there are at most.
MOST_OF_IT, MOST_MIDDLES = 0.8, 40
#: An interval that differs by less than this is left as it is, m3.
NOTHING_TO_GAIN = 0.05


def check_volumes(model: RoadModel, halved: RoadModel) -> VolumeCheck:
    """halved: the same road solved with middles."""
    length, curvature = intervals(model)
    fine_length, fine_curvature = intervals(halved)
    ours, finer = ({(i.kind, i.name, i.key): i for i in items_of(m) if i.kind not in NOT_CUT} for m in (model, halved))
    middle = ~np.isin(np.arange(len(halved.chainage)), _ends(model))
    off = transitions(model.earthworks.difference, length, curvature)
    fine_off = transitions(halved.earthworks.difference, fine_length, fine_curvature)
    rows = []
    differ = np.zeros(len(length))
    fine_of = _ends(model)[:-1]
    for identity, item in ours.items():
        fine = finer.get(identity)
        if fine is None:
            continue
        earth = item.kind in ("cut", "fill")
        billed = end_areas(length, item.area, item.moment, curvature) - (off if earth else 0.0)
        twice = end_areas(fine_length, fine.area, fine.moment, fine_curvature) - (fine_off if earth else 0.0)
        prisms = _prismoidal(item, fine, middle, length, curvature)
        if len(length):
            differ += np.abs(np.nan_to_num(np.add.reduceat(twice, fine_of) - billed))
        if not (np.nansum(billed) or np.nansum(twice)):
            continue
        rows.append(
            MethodRow(
                kind=item.kind, name=item.name, key=item.key, material=item.material, end_areas=float(np.nansum(billed)),
                halved=float(np.nansum(twice)), prismoidal=float(np.nansum(prisms)),
                unknown_length=float(length[np.isnan(billed) | np.isnan(prisms)].sum()),
            )
        )  # fmt: skip
    return VolumeCheck(rows=rows, balance=balance(model), middles=_middles(model, differ))


def _middles(model: RoadModel, differ: Floats) -> list[float]:
    """The middles of the intervals that differ most, m3 each (n - 1,), until they have most of it."""
    order = np.argsort(-differ, kind="stable")
    before = np.cumsum(differ[order]) - differ[order]
    taken = order[(before < MOST_OF_IT * differ.sum()) & (differ[order] > NOTHING_TO_GAIN)][:MOST_MIDDLES]
    c = model.chainage
    return [float(v) for v in np.sort((c[taken] + c[taken + 1]) / 2)]


def _ends(model: RoadModel) -> np.ndarray:
    """Rows of the sections of a road in the one with middles, (n,)."""
    between = np.cumsum(np.r_[0, intervals(model)[0] > 0])
    rows: np.ndarray = np.arange(len(model.chainage)) + between
    return rows


def _prismoidal(item: Item, fine: Item, middle: np.ndarray, length: Floats, curvature: Floats) -> Floats:
    whole = np.full(len(length), 0.0)
    there = length > 0
    corrected = fine.area[middle] - curvature[there] * fine.moment[middle]
    whole[there] = corrected
    first, second = (item.area[rows] - curvature * item.moment[rows] for rows in (slice(None, -1), slice(1, None)))
    return prismoidal_along(length, first, whole, second)


def balance(model: RoadModel) -> Balance:
    """Sums over the lengths on which all of it is known, without curvature, which no part of the sum depends on."""
    length, _ = intervals(model)
    e, n = model.earthworks, len(model.chainage)
    layers = sum((laid.area for laid in layer_areas(model).values()), np.zeros(n))
    parts = {"raised": e.raised, "layers": layers, "fill": e.fill, "cut": e.cut, "milling": e.milled}
    known = np.isfinite(np.stack(list(parts.values()))).all(axis=0)
    found = {name: float(np.nansum(end_areas(length, np.where(known, area, np.nan)))) for name, area in parts.items()}
    left = found["layers"] + found["fill"] - found["cut"] - found["milling"] - found["raised"]
    beyond = np.where(known, model.milling.area - e.milled, np.nan)
    return Balance(**found, beyond=float(np.nansum(end_areas(length, beyond))), open=left)
