"""One section of the solved road as plain data, for screens and sheets alike."""

from typing import Literal

import numpy as np
from pydantic import BaseModel

from saddle.alignment.equations import shown
from saddle.geometry.areas import between
from saddle.geometry.polylines import Floats, Polylines, interpolate
from saddle.road.model import HalfSections, RoadModel
from saddle.road.spec import Overlay
from saddle.template.compiled import surface_columns
from saddle.template.layers import Layer
from saddle.template.slopes import NONE_LANDED, ON_GROUND

Vertex = tuple[float, float]


class LayerView(BaseModel):
    """A closed polygon of one material. polygon: (offset, level) m; area: m2."""

    name: str
    material: str
    element: str
    construction: Literal["new", "over_existing", "kerb", "bed"]
    side: Literal["left", "right"]
    polygon: list[Vertex]
    area: float


class PointView(BaseModel):
    """A template point where it came to lie."""

    name: str
    side: Literal["left", "right", "hinge"]
    offset: float
    level: float
    existing: float | None


class SlopeView(BaseModel):
    """The side slope taken, and why each rung before it was passed over."""

    side: Literal["left", "right"]
    rung: str | None
    catch: Vertex | None
    passed: list[str]


class DepthView(BaseModel):
    """Overlay depth on the section, m, and where."""

    left: float
    right: float
    least: float
    least_offset: float
    greatest: float
    greatest_offset: float
    mean: float


class StructureView(BaseModel):
    """A pit or pipe that the section line meets. level: of a pipe its invert, of a pit its cover; down: how far the pit
    reaches below that, or the pipe above it, m; across: width, m."""

    kind: Literal["pit", "pipe"]
    name: str
    offset: float
    level: float
    down: float
    across: float


class SectionView(BaseModel):
    """A section: existing, design, courses. Runs of `existing` are apart where the surface has a gap. shown: the
    chainage as it is called, with the equations of the alignment."""

    index: int
    chainage: float
    shown: float
    side: Literal["before", "plain", "after"]
    curvature: float
    treatment: str | None
    template: str | None
    existing: list[list[Vertex]]
    design: list[Vertex]
    layers: list[LayerView]
    points: list[PointView]
    slopes: list[SlopeView]
    hinge: Vertex | None
    left_edge: float | None
    right_edge: float | None
    left_pct: float | None
    right_pct: float | None
    least_cover: float | None
    depth: DepthView | None
    structures: list[StructureView]
    cut: float | None
    fill: float | None


def known(value: float | np.floating) -> float | None:
    """A number, or None where there is none."""
    return float(value) if np.isfinite(value) else None


def section_view(model: RoadModel, i: int) -> SectionView:
    """The section on row i of the model."""
    o, z = model.existing.row(i)
    work = model.work_at(i)
    lines, d = model.lines, model.depth
    level = model.hinge_level[i]
    found = model.group_of(i)
    view = SectionView(
        index=i,
        chainage=float(model.chainage[i]),
        shown=float(shown(model.chainage[i : i + 1], model.inputs.alignment.equations)[0]),
        side={-1: "before", 0: "plain", 1: "after"}[int(model.stations.side[i])],
        curvature=float(model.frames.curvature[i]),
        treatment=getattr(work, "kind", None),
        template=None,
        existing=_runs(o, z),
        design=[],
        layers=[],
        points=[],
        slopes=[],
        hinge=(float(lines.hinge[i]), float(level)) if np.isfinite(level) else None,
        left_edge=known(lines.left_edge[i]),
        right_edge=known(lines.right_edge[i]),
        left_pct=known(lines.left_pct[i]),
        right_pct=known(lines.right_pct[i]),
        least_cover=work.least_cover_mm / 1000 if isinstance(work, Overlay) else None,
        depth=None,
        structures=[
            StructureView(kind=s.kind, name=s.name, offset=s.offset, level=s.level, down=s.depth, across=s.across_mm / 1000)
            for s in model.crossed
            if s.row == i
        ],
        cut=known(model.earthworks.cut[i]),
        fill=known(model.earthworks.fill[i]),
    )
    if found is None:
        return view
    group, k = found
    view.template = group.name
    if not np.isfinite(level):
        return view
    for half in (group.left, group.right):
        view.layers += _layers(half, k)
        view.points += _points(half, k, o, z)
        view.slopes.append(_slope(half, k))
    at_hinge = float(lines.hinge[i])
    view.points.append(
        PointView(name="hinge", side="hinge", offset=at_hinge, level=float(level), existing=known(lines.existing_hinge[i]))
    )
    view.points.sort(key=lambda p: p.offset)
    view.design = [*_outline(group.left, k)[::-1], *_outline(group.right, k)[1:]]
    if np.isfinite(d.least[i]):
        view.depth = DepthView(
            left=d.left[i], right=d.right[i], least=d.least[i], least_offset=d.least_offset[i],
            greatest=d.greatest[i], greatest_offset=d.greatest_offset[i], mean=d.mean[i],
        )  # fmt: skip
    return view


def _runs(o: Floats, z: Floats) -> list[list[Vertex]]:
    runs: list[list[Vertex]] = [[]]
    for offset, level in zip(o.tolist(), z.tolist(), strict=True):
        if np.isnan(level):
            runs.append([])
        else:
            runs[-1].append((offset, level))
    return [run for run in runs if run]


def _side(half: HalfSections) -> Literal["left", "right"]:
    return "left" if half.side < 0 else "right"


def _layers(half: HalfSections, k: int) -> list[LayerView]:
    views = []
    for zone in half.zones:
        for layer in zone.layers:
            polygon = layer_polygon(layer, k, half.side)
            if len(polygon) < 3:
                continue
            row = slice(k, k + 1)
            area = float(between(layer.offsets[row], layer.top[row], layer.bottom[row]).area[0])
            if not np.isfinite(area) or area <= 0:
                continue
            views.append(
                LayerView(
                    name=layer.name,
                    material=layer.material,
                    element=layer.element,
                    construction=layer.construction,
                    side=_side(half),
                    polygon=polygon,
                    area=area,
                )
            )
    return views


def layer_polygon(layer: Layer, k: int, side: int) -> list[Vertex]:
    """Closed outline of a layer on section k, signed offsets; repeated vertices dropped."""
    o = side * layer.offsets[k]
    if not o.max() > o.min():
        return []
    ring = [*zip(o.tolist(), layer.top[k].tolist(), strict=True)]
    ring += [*zip(o[::-1].tolist(), layer.bottom[k][::-1].tolist(), strict=True)]
    out: list[Vertex] = []
    for vertex in ring:
        if not np.isfinite(vertex[1]):
            return []
        if not out or vertex != out[-1]:
            out.append(vertex)
    if len(out) > 1 and out[0] == out[-1]:
        out.pop()
    return out


def _points(half: HalfSections, k: int, o: Floats, z: Floats) -> list[PointView]:
    names = half.half.names[1:]
    offsets = half.side * half.u[k, 1:]
    existing = interpolate(Polylines(o[None, :], z[None, :]), offsets[None, :])[0]
    return [
        PointView(name=n, side=_side(half), offset=float(at), level=float(level), existing=known(e))
        for n, at, level, e in zip(names, offsets, half.z[k, 1:], existing, strict=True)
    ]


def _outline(half: HalfSections, k: int) -> list[Vertex]:
    """Finished surface from the hinge outward to the catch point."""
    columns = surface_columns(half.half)
    line = [(half.side * float(half.u[k, c]), float(half.z[k, c])) for c in columns]
    if half.slopes.rung[k] >= 0:
        line.append((half.side * float(half.slopes.catch_offset[k]), float(half.slopes.catch_level[k])))
    return line


def _slope(half: HalfSections, k: int) -> SlopeView:
    s, number = half.slopes, int(half.slopes.rung[k])
    name = {ON_GROUND: "on the ground", NONE_LANDED: None}.get(number)
    catch = None
    if number != NONE_LANDED:
        catch = (half.side * float(s.catch_offset[k]), float(s.catch_level[k]))
    passed = [f"{rung.name}: {why[k]}" for rung, why in zip(half.half.rungs, s.reasons, strict=True) if why[k]]
    return SlopeView(side=_side(half), rung=half.half.rungs[number].name if number >= 0 else name, catch=catch, passed=passed)
