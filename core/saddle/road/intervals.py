"""The intervals between sections, along which what stands on them is added up."""

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Floats
from saddle.road.model import RoadModel


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
