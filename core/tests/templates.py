"""Halves built on a ground, for the tests of templates."""

from typing import Literal

import numpy as np

from saddle.geometry.areas import between
from saddle.geometry.polylines import Floats, Polylines, mirror, pack
from saddle.template import starter
from saddle.template.compiled import CompiledHalf, Parts, compile_template
from saddle.template.half import HalfSections, build_half
from saddle.template.layers import Ground
from saddle.template.slopes import Room
from saddle.template.solve import plain, solve_points
from saddle.template.spec import Half, Strip, TemplateSpec
from saddle.template.ties import Point

PARTS = Parts(dict(starter.MAKE_UPS), dict(starter.KERBS))


def no_room(n: int) -> Room:
    """Sections without chainage or boundary."""
    return Room(*np.full((3, n), np.nan))


def flat(level: float, end: float = 60.0, n: int = 1) -> Polylines:
    """Level ground."""
    return pack([(np.array([-end, end]), np.array([level, level]))] * n)


def compiled(spec: TemplateSpec, parts: Parts = PARTS) -> CompiledHalf:
    return compile_template(spec, parts).right


def half_with(*points: Point, strips: list[Strip] | None = None, **more: object) -> TemplateSpec:
    """A template of some points, by default with one lane from the hinge to the first of them."""
    strips = strips or [Strip(name="Lane", kind="lane", from_point="hinge", to_point=points[0].name, new="lane-new")]
    return TemplateSpec(name="Test", right=Half.model_validate({"points": points, "strips": strips, **more}))


def built(
    half: CompiledHalf,
    pct: Floats,
    level: Floats,
    ground: Polylines,
    *,
    limit: Floats | None = None,
    side: Literal[-1, 1] = 1,
    boundary: Floats | None = None,
    dimensions: dict[str, float] | None = None,
) -> HalfSections:
    """A half at hinge levels (n,) over a ground seen from the right; on the left it is seen mirrored."""
    n = len(pct)
    seen = ground if side > 0 else mirror(ground)
    sizes = {name: np.full(n, value) for name, value in (dimensions or {}).items()}
    around = plain(pct, level, dimensions=sizes, surfaces={"main": seen})
    u, z = solve_points(half, around)
    room = no_room(n) if boundary is None else Room(np.full(n, np.nan), boundary, np.full(n, np.nan))
    there = Ground(seen, seen, {"main": seen}, sizes)
    return build_half(side, half, u, z + level[:, None], np.zeros(n) if limit is None else limit, there, room)


def areas(half: HalfSections, construction: str | None = None) -> dict[tuple[str, str], Floats]:
    """Area of every layer, (n,), by element and name."""
    found: dict[tuple[str, str], Floats] = {}
    for layer in half.layers.layers:
        if construction in (None, layer.construction):
            area = between(layer.offsets, layer.top, layer.bottom).area
            found[layer.element, layer.name] = found.get((layer.element, layer.name), np.zeros(len(area))) + area
    return found


def imbalance(half: HalfSections) -> Floats:
    """Area between finished surface and lowest floor less the sum of all layers, m2, (n,)."""
    whole = between(half.layers.offsets, half.layers.top, half.layers.floor).area
    return whole - sum(areas(half).values(), np.zeros(len(whole)))
