"""The road seen from the side: levels along the alignment, profiles, the structures that it crosses, and the other roads beside it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from saddle.alignment.profile import ProfileSpec, build_profile
from saddle.geometry.polylines import Floats, interpolate
from saddle.road.beneath import Beneath, beneath
from saddle.road.model import RoadModel
from saddle.views.roads import OtherRoad


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


@dataclass(frozen=True, slots=True, eq=False)
class RoadAlong:
    """Another road as it lies along this one: its hinge in runs of (k, 2) chainage of this road and level, m, in the other's own order,
    apart where it is not known, or not as near as this road's sections reach."""

    key: str
    name: str
    runs: list[Floats]


def others_along(model: RoadModel, others: Sequence[OtherRoad]) -> list[RoadAlong]:
    """The other roads that come near, in their order. One that crosses stands upright where it does."""
    settings, found = model.inputs.settings, []
    for other in others:
        hinge = other.model.lines.hinge
        known = np.isfinite(hinge) & np.isfinite(other.model.hinge_level)
        points = other.model.frames.plan(np.arange(len(hinge)), np.where(known, hinge, 0.0))
        chainage, offset = model.alignment.locate(points)
        with np.errstate(invalid="ignore"):
            near = known & np.isfinite(chainage) & (offset >= settings.left) & (offset <= settings.right)
        line = np.column_stack([chainage, other.model.hinge_level])
        runs = np.split(np.arange(len(near)), np.flatnonzero(near[1:] != near[:-1]) + 1)
        kept = [line[run] for run in runs if near[run[0]] and len(run) > 1]
        if kept:
            found.append(RoadAlong(other.key, other.name, kept))
    return found
