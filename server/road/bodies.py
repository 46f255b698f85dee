"""What is told of the road by endpoints and jobs alike."""

import numpy as np
from ninja import Schema

from saddle.geometry.polylines import Floats
from saddle.road.depth_map import DepthBand


class BandOut(Schema):
    """A depth band: limits in m (null when open), plan area m2, convex polygons as east and north by turns from the
    map's origin, to the centimetre."""

    low: float | None
    high: float | None
    area: float
    polygons: list[list[float]]


class DepthMapOut(Schema):
    """The overlay's depth in bands. area: m2 in plan; origin: east and north that the polygons are reckoned from."""

    area: float
    origin: list[float]
    bands: list[BandOut]


def depth_map_out(found: list[DepthBand], area: float) -> DepthMapOut:
    """Bands as they are sent."""
    corners = [np.concatenate(band.pieces) for band in found if band.pieces]
    origin = np.floor(np.min([c.min(axis=0) for c in corners], axis=0)) if corners else np.zeros(2)
    bands = [
        BandOut(
            low=float(b.low) if np.isfinite(b.low) else None,
            high=float(b.high) if np.isfinite(b.high) else None,
            area=b.area,
            polygons=_flat(b.pieces, origin),
        )
        for b in found
    ]
    return DepthMapOut(area=area, origin=origin.tolist(), bands=bands)


def _flat(pieces: list[Floats], origin: Floats) -> list[list[float]]:
    """East and north by turns of every piece, from an origin, to the centimetre: all numbers are made in one go."""
    if not pieces:
        return []
    numbers = np.round(np.concatenate(pieces) - origin, 2).ravel().tolist()
    ends = (2 * np.cumsum([len(p) for p in pieces])).tolist()
    return [numbers[low:high] for low, high in zip([0, *ends[:-1]], ends, strict=True)]
