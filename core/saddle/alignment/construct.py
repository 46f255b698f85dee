"""Points constructed from others."""

import numpy as np

from saddle.alignment.alignment import Alignment
from saddle.errors import GeometryError
from saddle.geometry.polylines import Floats


def at_distances(first: Floats, first_distance: float, second: Floats, second_distance: float) -> Floats:
    """Where two circles about plan points meet: (2, 2), the point left of the way from first to second, then right.

    first, second: (2,) east, north; distances in m. Raises GeometryError where they do not meet.
    """
    way = np.asarray(second, dtype=float) - np.asarray(first, dtype=float)
    apart = float(np.hypot(*way))
    if apart < 1e-6:
        raise GeometryError("both points stand in one place", "points", "choose two different points")
    if first_distance < 0 or second_distance < 0:
        raise GeometryError("a distance is negative", "distance", "give distances of at least 0 m")
    if first_distance + second_distance < apart - 1e-6:
        raise GeometryError(
            f"the distances add up to {first_distance + second_distance:.3f} m, but the points are {apart:.3f} m apart",
            "distance",
            "check both distances",
        )
    if abs(first_distance - second_distance) > apart + 1e-6:
        raise GeometryError(
            f"the distances differ by {abs(first_distance - second_distance):.3f} m, more than the points are apart ({apart:.3f} m)",
            "distance",
            "check both distances",
        )
    along = (apart**2 + first_distance**2 - second_distance**2) / (2 * apart)
    aside = np.sqrt(max(first_distance**2 - along**2, 0.0))
    unit = way / apart
    left = np.array([-unit[1], unit[0]])
    foot = np.asarray(first, dtype=float) + along * unit
    return np.stack([foot + aside * left, foot - aside * left])


def at_chainage(alignment: Alignment, chainage: float, offset: float) -> Floats:
    """Plan point (2,) at a chainage and offset. Raises GeometryError off the alignment."""
    place: Floats = alignment.frames(np.array([chainage])).plan(np.array([0]), np.array([offset]))[0]
    return place
