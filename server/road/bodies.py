"""What is told of the road by endpoints and jobs alike."""

import numpy as np
from ninja import Schema

from road.numbers import Numbers, numbers
from saddle.road.model import RoadModel
from saddle.views.depth_map import DepthBand


class Along(Schema):
    """The road in arrays, one value per section; null where there is none. start, end: of the alignment."""

    start: float
    end: float
    chainage: list[float]
    side: list[int]
    hinge_level: Numbers
    least: Numbers
    greatest: Numbers
    mean: Numbers
    left_pct: Numbers
    right_pct: Numbers


def along(model: RoadModel) -> Along:
    """The road along its chainage."""
    d = model.depth
    return Along(
        start=model.alignment.start, end=model.alignment.end, chainage=model.chainage.tolist(), side=model.stations.side.tolist(),
        hinge_level=numbers(model.hinge_level), least=numbers(d.least), greatest=numbers(d.greatest), mean=numbers(d.mean),
        left_pct=numbers(model.lines.left_pct), right_pct=numbers(model.lines.right_pct),
    )  # fmt: skip


class BandOut(Schema):
    """A depth band: limits in m (null when open), plan area m2, polygons, each an outer ring and the rings of its holes, as east
    and north by turns from the map's origin, to the centimetre."""

    low: float | None
    high: float | None
    area: float
    polygons: list[list[list[float]]]


class DepthMapOut(Schema):
    """The overlay's depth in bands. area: m2 in plan; origin: east and north that the polygons are reckoned from."""

    area: float
    origin: list[float]
    bands: list[BandOut]


def depth_map_out(found: list[DepthBand], area: float) -> DepthMapOut:
    """Bands as they are sent."""
    rings = [ring for band in found for polygon in band.polygons for ring in polygon]
    origin = np.floor(np.concatenate(rings).min(axis=0)) if rings else np.zeros(2)
    bands = [
        BandOut(
            low=float(b.low) if np.isfinite(b.low) else None,
            high=float(b.high) if np.isfinite(b.high) else None,
            area=b.area,
            polygons=[[np.round(ring - origin, 2).ravel().tolist() for ring in polygon] for polygon in b.polygons],
        )
        for b in found
    ]
    return DepthMapOut(area=area, origin=origin.tolist(), bands=bands)
