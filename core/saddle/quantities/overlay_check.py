"""The overlay's volume three ways: end areas, prisms between sections, and exactly between two triangulated surfaces."""

import numpy as np
from pydantic import BaseModel

from saddle import tolerances
from saddle.geometry.areas import between
from saddle.geometry.volumes import end_areas
from saddle.road.model import RoadModel
from saddle.views.depth_map import depth_triangles, surface_triangles


class OverlayCheck(BaseModel):
    """end_areas: m3 by average end areas, with the curvature correction that the quantities use; sections: m3 of the prisms
    over triangles between sections; surfaces: m3 between the design and the triangles of the survey."""

    end_areas: float
    sections: float
    surfaces: float


def overlay_check(model: RoadModel) -> OverlayCheck:
    """All volumes of the overlay over the lengths where they can be measured."""
    prisms, exact = (
        float(t.area @ t.depth.mean(axis=1)) if len(t.area) else 0.0 for t in (depth_triangles(model), surface_triangles(model))
    )
    d, s = model.depth, model.stations
    found = between(d.offsets, d.design, d.existing)
    length = np.diff(model.chainage)
    whole = (length > tolerances.CHAINAGE_MERGE) & (s.treatment[:-1] == s.treatment[1:])
    whole &= np.isfinite(d.least[:-1]) & np.isfinite(d.least[1:])
    middle = np.clip((model.chainage[:-1] + model.chainage[1:]) / 2, model.alignment.start, model.alignment.end)
    curvature = model.alignment.frames(middle).curvature if model.inputs.settings.curvature_correction else np.zeros(len(length))
    volume = end_areas(np.where(whole, length, 0.0), np.nan_to_num(found.area), np.nan_to_num(found.moment), curvature)
    return OverlayCheck(end_areas=float(volume.sum()), sections=prisms, surfaces=exact)
