"""What is told of the road by endpoints and jobs alike."""

import numpy as np
from ninja import Schema

from saddle.views.depth_map import DepthBand


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
