"""The road seen from the side: levels along the alignment, profiles, and the structures that it crosses."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from saddle.alignment.profile import ProfileSpec, build_profile
from saddle.geometry.polylines import Floats, interpolate
from saddle.road.beneath import Beneath, beneath
from saddle.road.model import RoadModel


@dataclass(frozen=True, slots=True, eq=False)
class LongSection:
    """existing: (n,) level of the old road at the hinge, or on the alignment where there is none; design: (n,) hinge
    level, NaN where nothing is designed; profiles: (n,) by name; structures in road order."""

    chainage: Floats
    existing: Floats
    design: Floats
    profiles: Mapping[str, Floats]
    structures: list[Beneath]


def long_section(model: RoadModel, profiles: Mapping[str, ProfileSpec]) -> LongSection:
    """Levels on every section of the model. profiles: of this alignment, by name."""
    levels = {name: build_profile(spec).levels(model.chainage) for name, spec in profiles.items()}
    return LongSection(
        model.chainage, existing_levels(model), model.hinge_level, levels, beneath(model.inputs.structures, model.alignment)
    )


def existing_levels(model: RoadModel) -> Floats:
    """Level of the old road at the hinge on every section (n,), or on the alignment where there is no hinge."""
    at = np.where(np.isnan(model.lines.hinge), 0.0, model.lines.hinge)
    return interpolate(model.existing, at[:, None])[:, 0]
