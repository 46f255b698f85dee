"""Courses, kerbs and beds of one half as stacks of lines on shared grids, so that neighbours share vertices.

All offsets here are outward-positive from the alignment's offset 0 seen from this side: for the left half the
existing polylines arrive mirrored.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from saddle import tolerances
from saddle.geometry.polylines import Bools, Floats, Polylines, crossings, merge_offsets, sample
from saddle.template.compiled import CompiledHalf, KerbSpan, StripSpan
from saddle.template.spec import MakeUp

Construction = Literal["new", "over_existing", "kerb", "bed"]


@dataclass(frozen=True, slots=True, eq=False)
class Layer:
    """One course, kerb or bed of one strip on n sections: what lies between top and bottom.

    offsets, top, bottom: (n, p) float, m. Where the layer does not exist its grid has no width.
    """

    name: str
    material: str
    element: str
    construction: Construction
    offsets: Floats
    top: Floats
    bottom: Floats


@dataclass(frozen=True, slots=True, eq=False)
class Zone:
    """A stretch of a half with one construction. floor is the bottom of its lowest layer.

    offsets, top, floor: (n, p). short_mm: (n,) by how much the overlay is thinner than its constant courses.
    """

    construction: Construction
    offsets: Floats
    top: Floats
    floor: Floats
    layers: tuple[Layer, ...]
    short_mm: Floats


def overlay_limit(
    half: CompiledHalf, u: Floats, old_edge: Floats, saw_cut: Floats, least_new: Floats, is_overlay: Bools
) -> Floats:
    """How far out the overlay reaches on each section, outward offset (n,), m; the hinge where there is none.

    u: (n, k) outward offsets of the points; old_edge: (n,) edge of the old pavement; saw_cut: cut back from it;
    least_new: new construction beyond it is never narrower than this, the limit moves inward instead.
    Where old and new edge agree to SAME_EDGE nothing new is built.
    """
    hinge = u[:, 0]
    reach = hinge.copy()
    for span in half.spans:
        if isinstance(span, KerbSpan) or span.over_existing is None:
            break
        reach = u[:, span.end]
    limit = np.minimum(old_edge - saw_cut, reach)
    limit = np.where(reach - limit <= tolerances.SAME_EDGE, reach, limit)
    sliver = (reach - limit > tolerances.SLIVER) & (reach - limit < least_new)
    limit = np.where(sliver, reach - least_new, limit)
    return np.where(is_overlay, np.maximum(limit, hinge), hinge)


def build_zones(half: CompiledHalf, u: Floats, z: Floats, limit: Floats, existing: Polylines) -> list[Zone]:
    """Zones of a half from the hinge outward.

    u, z: (n, k) offsets and levels of its points; limit: (n,) from overlay_limit; existing: the surface under
    the overlay, mirrored for the left half.
    """
    zones: list[Zone] = []
    for span in half.spans:
        if isinstance(span, KerbSpan):
            zones.append(_kerb_zone(span, u, z))
            continue
        a, b = u[:, span.start], u[:, span.end]
        split = np.clip(limit, a, b)
        if span.over_existing is not None:
            zones.append(_overlay_zone(span, span.over_existing, u, z, a, split, existing))
        else:
            split = a
        zones.append(_new_zone(span, u, z, split, b))
    return zones


def _surface(span: StripSpan, u: Floats, z: Floats, grid: Floats) -> Floats:
    """Level of a strip's finished surface on a grid."""
    a, b = u[:, span.start][:, None], u[:, span.end][:, None]
    za, zb = z[:, span.start][:, None], z[:, span.end][:, None]
    with np.errstate(invalid="ignore", divide="ignore"):
        t = np.where(b > a, (grid - a) / (b - a), 0.0)
    return za + t * (zb - za)


def _new_zone(span: StripSpan, u: Floats, z: Floats, a: Floats, b: Floats) -> Zone:
    grid = np.stack([a, b], axis=1)
    top = _surface(span, u, z, grid)
    layers = []
    above = top
    for course in span.new.courses:
        below = above - course.thickness_mm / 1000
        layers.append(Layer(course.name, course.material, span.strip.name, "new", grid, above, below))
        above = below
    return Zone("new", grid, top, above, tuple(layers), np.zeros(len(a)))


def _overlay_zone(span: StripSpan, make_up: MakeUp, u: Floats, z: Floats, a: Floats, b: Floats, existing: Polylines) -> Zone:
    """Courses of constant thickness on a regulating course whose bottom is the existing surface.

    A course never gets negative thickness: where the depth is less than the constant courses need, they end
    on the existing surface and short_mm says what is missing.
    """
    depths = np.cumsum([0.0, *(c.thickness_mm / 1000 for c in make_up.courses[:-1])])
    grid = merge_offsets(a, b, existing.offsets)
    depth = _surface(span, u, z, grid) - sample(existing, grid)
    if len(existing) and grid.shape[1]:
        zeros = [crossings(grid, depth - d) for d in depths]
        grid = merge_offsets(a, b, existing.offsets, *zeros)
    top = _surface(span, u, z, grid)
    floor = np.minimum(top, sample(existing, grid))
    floor = np.where(np.isnan(sample(existing, grid)), np.nan, floor)
    layers = []
    above = top
    for number, course in enumerate(make_up.courses):
        last = number == len(make_up.courses) - 1
        below = floor if last else np.maximum(top - depths[number + 1], floor)
        layers.append(Layer(course.name, course.material, span.strip.name, "over_existing", grid, above, below))
        above = below
    wide = (b - a) > tolerances.SLIVER
    with np.errstate(invalid="ignore"):
        missing = np.where(wide[:, None], depths[-1] - (top - floor), 0.0)
    short = np.nanmax(np.where(np.isnan(missing), 0.0, missing), axis=1, initial=0.0)
    return Zone("over_existing", grid, top, floor, tuple(layers), np.maximum(short, 0.0) * 1000)


def _kerb_zone(span: KerbSpan, u: Floats, z: Floats) -> Zone:
    columns = list(span.columns)
    grid, top = u[:, columns], z[:, columns]
    base = np.broadcast_to(z[:, columns[0]][:, None] - span.profile.base_mm / 1000, grid.shape)
    name = span.placement.name
    layers = [Layer(span.profile.name, span.profile.material, name, "kerb", grid, top, base)]
    floor = base
    if span.profile.bed_mm > 0 and span.profile.bed_material is not None:
        floor = base - span.profile.bed_mm / 1000
        layers.append(Layer(f"Bed of {span.profile.name}", span.profile.bed_material, name, "bed", grid, base, floor))
    return Zone("kerb", grid, top, floor, tuple(layers), np.zeros(len(grid)))
