"""One half of a template, solved on g sections."""

from dataclasses import dataclass
from typing import Literal

from saddle.geometry.polylines import Floats
from saddle.template.compiled import CompiledHalf
from saddle.template.layers import Ground, HalfLayers, build_layers
from saddle.template.slopes import Room, SideSlopes, side_slopes


@dataclass(frozen=True, slots=True, eq=False)
class HalfSections:
    """One side of a template on g sections, outward-positive. u, z: (g, k) offsets and levels of its points;
    limit: (g,) outward end of the overlay; layers: what lies under it; slopes: how it reaches the ground; boundary: (g,) what the work
    stays within, NaN where there is none."""

    side: Literal[-1, 1]
    half: CompiledHalf
    u: Floats
    z: Floats
    limit: Floats
    layers: HalfLayers
    slopes: SideSlopes
    boundary: Floats


def build_half(
    side: Literal[-1, 1], half: CompiledHalf, u: Floats, z: Floats, limit: Floats, ground: Ground, room: Room
) -> HalfSections:
    """Side slopes first, then what lies under surface and slopes: courses may run out to the slope."""
    slopes = side_slopes(u[:, half.outer], z[:, half.outer], half.rungs, ground.existing, room)
    return HalfSections(side, half, u, z, limit, build_layers(half, u, z, limit, ground, slopes), slopes, room.boundary)
