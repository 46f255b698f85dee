"""One half on one section as plain data, for screens and sheets alike."""

from typing import Literal

import numpy as np
from pydantic import BaseModel

from saddle import tolerances
from saddle.geometry.polylines import Floats, Polylines, interpolate
from saddle.template.compiled import surface_columns
from saddle.template.half import HalfSections
from saddle.template.layers import Construction
from saddle.template.polygons import Vertex, area_of, rings
from saddle.template.slopes import NO_SLOPE, NONE_LANDED, ON_GROUND
from saddle.template.ties import OnSheets

Side = Literal["left", "right"]


class LayerView(BaseModel):
    """A closed polygon of one material. polygon: (offset, level) m; area: m2."""

    name: str
    material: str
    element: str
    construction: Construction
    side: Side
    polygon: list[Vertex]
    area: float


class PointView(BaseModel):
    """A template point where it came to lie, or a named vertex of the boxing. on_sheets: what section sheets say of it."""

    name: str
    side: Literal["left", "right", "hinge"]
    kind: Literal["point", "boxing"] = "point"
    offset: float
    level: float
    existing: float | None
    on_sheets: OnSheets = "name"


class FloorView(BaseModel):
    """A floor of the boxing, from the inside outward."""

    name: str
    side: Side
    line: list[Vertex]


class PassedView(BaseModel):
    """A rung that was passed over, and why."""

    rung: str
    why: str


class SlopeView(BaseModel):
    """The side slope taken (number: of its rung, from 1), its path outward, and why each rung before it was passed over."""

    side: Side
    rung: str | None
    number: int | None
    catch: Vertex | None
    path: list[Vertex]
    passed: list[PassedView]


def known(value: float | np.floating) -> float | None:
    """A number, or None where there is none."""
    return float(value) if np.isfinite(value) else None


def side_of(half: HalfSections) -> Side:
    """The word for a half's side."""
    return "left" if half.side < 0 else "right"


def layer_views(half: HalfSections, k: int) -> list[LayerView]:
    """All that has some area on section k, from the top."""
    layers = half.layers.layers
    return [
        LayerView(
            name=layer.name,
            material=layer.material,
            element=layer.element,
            construction=layer.construction,
            side=side_of(half),
            polygon=ring,
            area=area_of(ring),
        )
        for layer, found in zip(layers, rings(layers, k, half.side), strict=True)
        for ring in found
    ]


def point_views(half: HalfSections, k: int, o: Floats, z: Floats) -> list[PointView]:
    """Points and named vertices of the boxing; o, z: the existing surface."""
    found = [
        (n, "point", u, level, half.half.on_sheets(n))
        for n, u, level in zip(half.half.names[1:], half.u[k, 1:], half.z[k, 1:], strict=True)
    ]
    found += [(v.name, "boxing", v.u[k], v.z[k], "name") for v in half.layers.vertices]
    offsets = half.side * np.array([u for _, _, u, *_ in found])
    existing = interpolate(Polylines(o[None, :], z[None, :]), offsets[None, :])[0]
    return [
        PointView(name=n, side=side_of(half), kind=kind, offset=float(at), level=float(level), existing=known(e), on_sheets=said)
        for (n, kind, _, level, said), at, e in zip(found, offsets, existing, strict=True)
        if np.isfinite(at) and np.isfinite(level) and not half.side * at > half.bound[k] + tolerances.COMPUTED_END
    ]


def floor_views(half: HalfSections, k: int) -> list[FloorView]:
    """The floors that are dug on section k."""
    found = []
    for floor in half.layers.floors:
        line = [
            (half.side * u, z)
            for u, z in zip(floor.u[k].tolist(), floor.z[k].tolist(), strict=True)
            if np.isfinite(u) and np.isfinite(z)
        ]
        if line:
            found.append(FloorView(name=floor.name, side=side_of(half), line=line))
    return found


def outline(half: HalfSections, k: int) -> list[Vertex]:
    """Finished surface from the hinge outward to the catch point, or to where the road ends before it."""
    columns = surface_columns(half.half)
    line = [(half.side * float(half.u[k, c]), float(half.z[k, c])) for c in columns]
    line += _path(half, k)[1:]
    return _up_to([v for v in line if np.isfinite(v[0]) and np.isfinite(v[1])], half.side * float(half.bound[k]))


def _up_to(line: list[Vertex], bound: float) -> list[Vertex]:
    """A line from the hinge outward as far as an offset, which may be NaN."""
    for i, (o, z) in enumerate(line):
        if abs(o - line[0][0]) > abs(bound - line[0][0]) + tolerances.COMPUTED_END:
            p, y = line[i - 1]
            return [*line[:i], (bound, y + (z - y) * (bound - p) / (o - p))]
    return line


def slope_view(half: HalfSections, k: int) -> SlopeView:
    """The rung taken and those passed over."""
    s, number = half.slopes, int(half.slopes.rung[k])
    name = {ON_GROUND: "on the ground", NO_SLOPE: "no slope: it ends there", NONE_LANDED: None}.get(number)
    path = _path(half, k) if not half.u[k, half.half.outer] > half.bound[k] + tolerances.COMPUTED_END else []
    return SlopeView(
        side=side_of(half),
        rung=half.half.rungs[number].name if number >= 0 else name,
        number=number + 1 if number >= 0 else None,
        catch=path[-1] if path and number != NO_SLOPE else None,
        path=path,
        passed=[
            PassedView(rung=rung.name, why=why.text(k))
            for rung, why in zip(half.half.rungs, s.passed, strict=True)
            if why.code[k]
        ],
    )


def _path(half: HalfSections, k: int) -> list[Vertex]:
    """The side slope from the outer point to the catch point, without repeats; empty where nothing landed."""
    out: list[Vertex] = []
    for u, z in zip(half.slopes.u[k].tolist(), half.slopes.z[k].tolist(), strict=True):
        if np.isfinite(u) and (not out or (half.side * u, z) != out[-1]):
            out.append((half.side * u, z))
    return out
