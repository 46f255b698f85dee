"""One section of the solved road as plain data, for screens and sheets alike."""

from collections.abc import Sequence
from typing import Literal

import numpy as np
from pydantic import BaseModel

from saddle.alignment.equations import shown
from saddle.geometry.polylines import Floats
from saddle.lines.crossed import structures_met
from saddle.road.model import RoadModel
from saddle.road.spec import Overlay
from saddle.road.unknown import why_missing
from saddle.template.polygons import Vertex
from saddle.template.view import (
    FloorView,
    LayerView,
    PointView,
    SlopeView,
    floor_views,
    known,
    layer_views,
    outline,
    point_views,
    slope_view,
)
from saddle.terrain.spec import Structures
from saddle.views.depth_map import section_bands
from saddle.views.remarks import remarks_on
from saddle.views.roads import MetRoad, OtherRoad, roads_met, section_line

#: Two boundaries so near to each other are one, m.
ONE = 0.001


class DepthView(BaseModel):
    """Overlay depth on the section, m, and where."""

    left: float
    right: float
    least: float
    least_offset: float
    greatest: float
    greatest_offset: float
    mean: float


class BandView(BaseModel):
    """A part of the overlay whose depth lies in one band: its index, and a closed outline."""

    band: int
    polygon: list[Vertex]


class StructureView(BaseModel):
    """A pit or pipe that the section line meets. top, bottom: levels of its soffit and invert, of a pit its cover and invert,
    m, null where that is not known; across: width, m; outline: of a pipe, at its true shape: an ellipse where it crosses askew."""

    kind: Literal["pit", "pipe"]
    name: str
    offset: float
    top: float | None
    bottom: float | None
    across: float
    outline: list[Vertex] = []


class RemarkView(BaseModel):
    """What a remark says; offset: None of the whole width."""

    text: str
    offset: float | None


class SectionView(BaseModel):
    """A section: existing, milled, design, courses. Runs of `existing` are apart where the surface has a gap. shown: the
    chainage as it is called, with the equations of the alignment; boundaries: offsets of what the work stays within; missing: why
    there is no design, or not all of it, where something is to be built; roads: the others that it meets."""

    index: int
    chainage: float
    shown: float
    side: Literal["before", "plain", "after"]
    curvature: float
    treatment: str | None
    template: str | None
    missing: str | None
    existing: list[list[Vertex]]
    milled: list[list[Vertex]]
    design: list[Vertex]
    layers: list[LayerView]
    points: list[PointView]
    slopes: list[SlopeView]
    floors: list[FloorView]
    dimensions: dict[str, float]
    hinge: Vertex | None
    left_edge: float | None
    right_edge: float | None
    left_pct: float | None
    right_pct: float | None
    least_cover: float | None
    depth: DepthView | None
    bands: list[BandView]
    structures: list[StructureView]
    remarks: list[RemarkView]
    boundaries: list[float]
    cut: float | None
    fill: float | None
    milled_area: float | None
    roads: list[MetRoad] = []


def section_view(model: RoadModel, i: int, others: Sequence[OtherRoad] = ()) -> SectionView:
    """The section on row i of the model. others: the project's other roads, of which it shows what it meets."""
    o, z = model.existing.row(i)
    work = model.work_at(i)
    lines = model.lines
    at_hinge, level = float(lines.hinge[i]), float(model.hinge_level[i])
    # A level may be given where the line of the hinge is missing.
    solved = np.isfinite(at_hinge) and np.isfinite(level)
    found = model.group_of(i)
    view = SectionView(
        index=i,
        chainage=float(model.chainage[i]),
        shown=float(shown(model.chainage[i : i + 1], model.inputs.alignment.equations)[0]),
        side={-1: "before", 0: "plain", 1: "after"}[int(model.stations.side[i])],
        curvature=float(model.frames.curvature[i]),
        treatment=getattr(work, "kind", None),
        template=None,
        missing=why_missing(model, i),
        existing=runs(o, z),
        milled=_milled(model, i),
        design=design_line(model, i),
        layers=[],
        points=[],
        slopes=[],
        floors=[],
        dimensions={},
        hinge=(at_hinge, level) if solved else None,
        left_edge=known(lines.left_edge[i]),
        right_edge=known(lines.right_edge[i]),
        left_pct=known(lines.left_pct[i]),
        right_pct=known(lines.right_pct[i]),
        least_cover=work.least_cover if isinstance(work, Overlay) else None,
        depth=None,
        bands=[],
        structures=_structures(model, i),
        remarks=[RemarkView(text=r.text, offset=r.offset) for r in remarks_on(model, i)],
        boundaries=[float(at) for at in model.boundaries[i] if np.isfinite(at)],
        cut=known(model.earthworks.cut[i]),
        fill=known(model.earthworks.fill[i]),
        milled_area=known(model.milling.area[i]),
        roads=roads_met(section_line(model, i), others),
    )
    if found is None:
        _with_depth(view, model, i)
        return view
    group, k = found
    view.template = group.name
    if not solved:
        return view
    for half in (group.left, group.right):
        view.layers += layer_views(half, k)
        view.points += point_views(half, k, o, z)
        view.slopes.append(slope_view(half, k))
        view.floors += floor_views(half, k)
        at = half.side * float(half.boundary[k])
        if np.isfinite(at) and all(abs(at - other) > ONE for other in view.boundaries):
            view.boundaries.append(at)
    view.points.append(
        PointView(name="hinge", side="hinge", offset=at_hinge, level=level, existing=known(lines.existing_hinge[i]))
    )
    view.points.sort(key=lambda p: p.offset)
    view.dimensions = {name: float(values[k]) for name, values in group.dimensions.items()}
    _with_depth(view, model, i)
    return view


def design_line(model: RoadModel, i: int) -> list[Vertex]:
    """The finished surface on row i of the model from left to right: of its template, of an overlay without one its plain shape.
    Nothing where nothing is built or it could not be solved."""
    found = model.group_of(i)
    if found is None:
        d = model.depth
        on = np.isfinite(d.design[i])
        return [(float(o), float(z)) for o, z in zip(d.offsets[i, on], d.design[i, on], strict=True)]
    group, k = found
    if not (np.isfinite(model.lines.hinge[i]) and np.isfinite(model.hinge_level[i])):
        return []
    return [*outline(group.left, k)[::-1], *outline(group.right, k)[1:]]


def _structures(model: RoadModel, i: int) -> list[StructureView]:
    """What the section line of a row meets: pits as the nearest section shows them, pipes at their true shape."""
    pipes = Structures(pipes=model.inputs.structures.pipes)
    outlines = {(m.name, round(m.at, 6)): m.outline for m in structures_met(pipes, section_line(model, i))}
    return [
        StructureView(
            kind=s.kind, name=s.name, offset=s.offset, top=known(s.top), bottom=known(s.bottom), across=s.across,
            outline=list(outlines.get((s.name, round(s.offset, 6)), ())),
        )
        for s in model.crossed
        if s.row == i
    ]  # fmt: skip


def _with_depth(view: SectionView, model: RoadModel, i: int) -> None:
    """The overlay's depth and its bands, where there is one."""
    d = model.depth
    if np.isfinite(d.least[i]):
        view.depth = DepthView(
            left=d.left[i], right=d.right[i], least=d.least[i], least_offset=d.least_offset[i],
            greatest=d.greatest[i], greatest_offset=d.greatest_offset[i], mean=d.mean[i],
        )  # fmt: skip
        cut = section_bands(d.offsets[i], d.design[i], d.existing[i], model.inputs.settings.depth_bands_mm)
        view.bands = [BandView(band=band, polygon=[(float(x), float(y)) for x, y in ring]) for band, ring in cut]


def _milled(model: RoadModel, i: int) -> list[list[Vertex]]:
    """The milled surface between the sides of the milling, with its steps; nothing where nothing is milled."""
    if not model.milling.depth[i] > 0:
        return []
    o, z = model.milling.surface.row(i)
    steps = np.flatnonzero(np.diff(o) == 0)
    if len(steps) < 2:
        return []
    part = slice(int(steps[0]), int(steps[-1]) + 2)
    return runs(o[part], z[part])


def runs(o: Floats, z: Floats) -> list[list[Vertex]]:
    """Places and levels as polylines, apart where a level is NaN."""
    found: list[list[Vertex]] = [[]]
    for offset, level in zip(o.tolist(), z.tolist(), strict=True):
        if np.isnan(level):
            found.append([])
        else:
            found[-1].append((offset, level))
    return [run for run in found if run]
