"""One half of a template, solved on g sections."""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Floats
from saddle.template.compiled import CompiledHalf
from saddle.template.layers import Ground, HalfLayers, build_layers
from saddle.template.slopes import Room, SideSlopes, no_slopes, side_slopes


@dataclass(frozen=True, slots=True, eq=False)
class HalfSections:
    """One side of a template on g sections, outward-positive. u, z: (g, k) offsets and levels of its points;
    limit: (g,) outward end of the overlay; layers: what lies under it; slopes: how it reaches the ground; boundary: (g,) what the work
    stays within; bound: (g,) where the road ends and another's ground begins; NaN where there is none."""

    side: Literal[-1, 1]
    half: CompiledHalf
    u: Floats
    z: Floats
    limit: Floats
    layers: HalfLayers
    slopes: SideSlopes
    boundary: Floats
    bound: Floats

    @property
    def end(self) -> Floats:
        """Outward offset up to which anything is built, (n,): the catch point, or the bound before it; NaN where neither is known."""
        catch, offsets = self.slopes.catch_offset, self.layers.offsets
        if offsets.shape[1] == 0:
            return catch
        # Where it ends at its bound, the last of what lies beneath it stands there to the last digit.
        found: Floats = np.where(catch >= self.bound - tolerances.COINCIDENT, offsets[:, -1], catch)
        return found


def build_half(
    side: Literal[-1, 1], half: CompiledHalf, u: Floats, z: Floats, limit: Floats, ground: Ground, room: Room
) -> HalfSections:
    """Side slopes first, then what lies under surface and slopes: courses may run out to the slope."""
    outer, level = u[:, half.outer], z[:, half.outer]
    slopes = side_slopes(outer, level, half.rungs, ground.existing, room) if half.edge is None else no_slopes(outer, level)
    layers = build_layers(half, u, z, limit, ground, slopes, room.bound)
    return HalfSections(side, half, u, z, limit, layers, slopes, room.boundary, room.bound)
