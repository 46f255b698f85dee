"""The test bench: a template tried out on a ground that the person draws, without a road."""

from typing import Annotated, Literal

import numpy as np
from pydantic import BaseModel, Field

from saddle.documents_base import Document, Level, Measure, Number
from saddle.geometry.areas import between
from saddle.geometry.polylines import Floats, Polylines, mirror
from saddle.guides.evaluate import GuideLine
from saddle.guides.spec import PointSource
from saddle.template.check import geometry_faults, rung_faults
from saddle.template.compiled import CompiledHalf, CompiledTemplate, Fault, Parts, try_compile
from saddle.template.half import HalfSections, build_half
from saddle.template.layers import Ground, overlay_limit
from saddle.template.polygons import Vertex
from saddle.template.sentences import Reader
from saddle.template.slopes import Room
from saddle.template.solve import Around, solve_points
from saddle.template.spec import Half, TemplateSpec, surfaces_of
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

Pct = Annotated[float, Field(ge=-30, le=30, allow_inf_nan=False)]


class Followed(Document):
    """Where a guide or survey line is on the bench: offset m, negative left, and level above the hinge, m."""

    source: PointSource
    side: Literal["left", "right"]
    offset: Measure | None = None
    level: Level | None = None


class Trial(Document):
    """What a template is tried on. ground: offsets and levels, the hinge at 0, 0, at least two vertices in order; old_edge:
    outward offset of an old pavement's edge, over which the overlay make-ups are used; thorough: look for rungs that can
    never be taken too."""

    ground: Annotated[list[tuple[Number, Number]], Field(min_length=2, max_length=200)] = [(-30.0, -1.0), (30.0, -1.0)]
    left_pct: Pct = -2.5
    right_pct: Pct = -2.5
    left_boundary: Measure | None = None
    right_boundary: Measure | None = None
    old_edge: Annotated[float, Field(ge=0, le=50)] | None = None
    followed: Annotated[list[Followed], Field(max_length=100)] = []
    dimensions: dict[str, Number] = {}
    thorough: bool = False


class FaultView(BaseModel):
    """Something wrong with the template."""

    severity: Literal["fault", "caution"]
    where: str
    names: list[str]
    message: str
    hint: str


class RungTry(BaseModel):
    """How a rung fared: why it was passed over, or that it was taken, or not tried because an earlier one was."""

    name: str
    state: Literal["taken", "passed", "not tried"]
    why: str


class HalfTry(BaseModel):
    """One side. area: from finished surface to lowest floor, m2; balance: area less the sum of all layers, m2; sentences: by
    kind and name; looks_for: what it follows."""

    side: Literal["left", "right"]
    area: float | None
    balance: float | None
    rungs: list[RungTry]
    notes: list[str]


class BenchView(BaseModel):
    """What came of a trial. Where the template cannot be built only the faults are given. sentences: "point right Lane",
    "strip right ...", "kerb right ...", "floor right ...", "rung right ..." -> text; the half drawn once is "right"."""

    faults: list[FaultView]
    built: bool
    ground: list[Vertex]
    design: list[Vertex]
    layers: list[LayerView]
    points: list[PointView]
    slopes: list[SlopeView]
    floors: list[FloorView]
    halves: list[HalfTry]
    sentences: dict[str, str]


def try_out(spec: TemplateSpec, parts: Parts, trial: Trial, names: dict[str, str] | None = None) -> BenchView:
    """A template on the ground of a trial. names: of guides and surfaces, by "guide key" and "surface key"."""
    compiled, faults = try_compile(spec, parts)
    view = BenchView(
        faults=[], built=False, ground=trial.ground, design=[], layers=[], points=[], slopes=[], floors=[], halves=[],
        sentences=_sentences(spec, parts, names or {}),
    )  # fmt: skip
    if compiled is not None:
        mirrored = spec.left is None
        faults = [*faults, *geometry_faults(compiled, mirrored=mirrored)]
        if trial.thorough:
            faults += rung_faults(compiled, mirrored=mirrored)
        _fill_in(view, compiled, spec, parts, trial)
    view.faults = [_fault_view(f) for f in faults]
    return view


def _fault_view(f: Fault) -> FaultView:
    return FaultView(severity=f.severity, where=f.where, names=list(f.names), message=f.message, hint=f.hint)


def _sentences(spec: TemplateSpec, parts: Parts, names: dict[str, str]) -> dict[str, str]:
    reader = Reader({d.name: d for d in spec.dimensions}, names)
    found: dict[str, str] = {}
    halves: list[tuple[str, Half]] = [("right", spec.right)] + ([("left", spec.left)] if spec.left else [])
    for side, half in halves:
        found |= {f"point {side} {p.name}": reader.point(p) for p in half.points}
        found |= {f"strip {side} {s.name}": reader.strip(s, parts) for s in half.strips}
        found |= {f"kerb {side} {k.name}": reader.kerb(k, parts) for k in half.kerbs}
        found |= {f"floor {side} {f.name}": reader.floor(f) for f in half.floors}
        found |= {f"rung {side} {r.name}": reader.rung(r) for r in half.ladder}
    return found


def _fill_in(view: BenchView, compiled: CompiledTemplate, spec: TemplateSpec, parts: Parts, trial: Trial) -> None:
    view.built = True
    ground = Polylines(np.array([[o for o, _ in trial.ground]]), np.array([[z for _, z in trial.ground]]))
    order = np.argsort(ground.offsets, axis=1, kind="stable")
    ground = Polylines(np.take_along_axis(ground.offsets, order, 1), np.take_along_axis(ground.levels, order, 1))
    o, z = ground.row(0)
    looked_at = surfaces_of(spec, parts.make_ups)
    sizes = {name: np.array([trial.dimensions.get(name, d.value)]) for name, d in compiled.dimensions.items()}
    outlines = {}
    sides: tuple[tuple[Literal[-1, 1], CompiledHalf, float, float | None], ...] = (
        (-1, compiled.left, trial.left_pct, trial.left_boundary),
        (1, compiled.right, trial.right_pct, trial.right_boundary),
    )
    for side, half, pct, boundary in sides:
        seen = ground if side > 0 else mirror(ground)
        surfaces = {name: seen for name in (*looked_at, "main")}
        zero = np.zeros(1)
        around = Around(np.array([pct]), zero, zero, sizes, _lines(trial, side), surfaces)
        u, rise = solve_points(half, around)
        limit = overlay_limit(
            half, u, np.array([trial.old_edge or 0.0]), zero, np.array([0.3]), np.array([trial.old_edge is not None])
        )
        room = Room(np.full(1, np.nan), np.array([np.nan if boundary is None else side * boundary]), np.full(1, np.nan))
        solved = build_half(side, half, u, rise, limit, Ground(seen, seen, surfaces, sizes), room)
        view.layers += layer_views(solved, 0)
        view.points += point_views(solved, 0, o, z)
        view.slopes.append(slope_view(solved, 0))
        view.floors += floor_views(solved, 0)
        view.halves.append(_half_try(solved))
        outlines[side] = outline(solved, 0)
    hinge = PointView(name="hinge", side="hinge", offset=0.0, level=0.0, existing=None)
    view.points = sorted([*view.points, hinge], key=lambda p: p.offset)
    view.design = [*outlines[-1][::-1], *outlines[1][1:]]


def _lines(trial: Trial, side: int) -> dict[PointSource, GuideLine]:
    word = "left" if side < 0 else "right"
    found: dict[PointSource, GuideLine] = {}
    for f in trial.followed:
        if f.side == word:
            offset = np.nan if f.offset is None else side * f.offset
            found[f.source] = GuideLine(np.array([offset]), np.array([np.nan if f.level is None else f.level]))
    return found


def _half_try(half: HalfSections) -> HalfTry:
    layers = half.layers
    whole: Floats = between(layers.offsets, layers.top, layers.floor).area
    sums = sum((between(lay.offsets, lay.top, lay.bottom).area for lay in layers.layers), np.zeros(1))
    taken = int(half.slopes.rung[0])
    rungs = []
    for i, (rung, why) in enumerate(zip(half.half.rungs, half.slopes.passed, strict=True)):
        state: Literal["taken", "passed", "not tried"] = "taken" if i == taken else "passed" if why.code[0] else "not tried"
        rungs.append(RungTry(name=rung.name, state=state, why=why.text(0)))
    notes = [
        f"floor {floor.name} lies up to {1000 * over[0]:.0f} mm above the bottom of the courses: dig it deeper"
        for floor, over in zip(half.half.floors, layers.too_high, strict=True)
        if over[0] > 1e-6
    ]
    if layers.astray[0]:
        notes.append("a course or floor runs to the side slope but does not come out on it")
    if layers.short_mm[0] > 1e-3:
        notes.append(f"the overlay is {layers.short_mm[0]:.0f} mm thinner than its upper courses need")
    return HalfTry(
        side="left" if half.side < 0 else "right",
        area=known(whole[0]),
        balance=known((whole - sums)[0]),
        rungs=rungs,
        notes=notes,
    )
