"""The solved road: summary for the strip, sections, preview, depth map, quantities."""

from dataclasses import asdict
from itertools import groupby
from typing import Any, Literal

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import Path, Router, Schema

from config.downloads import XLSX, attachment
from config.errors import ERRORS
from projects.access import project_for
from road.bodies import Along, DepthMapOut, along, depth_map_out
from road.inputs import RoadKey, left_of, load_inputs
from road.model import depth_bands_of, others_of, road_model, row_of
from road.numbers import Numbers, numbers
from saddle.alignment.alignment import Alignment
from saddle.alignment.profile import ProfileSpec
from saddle.documents import MAIN
from saddle.exchange.tables import problems_xlsx
from saddle.findings.left import reason_for
from saddle.geometry.polylines import Floats
from saddle.guides.spec import FollowRule
from saddle.problem import Mend, Severity
from saddle.quantities.bill import as_printed
from saddle.quantities.takeoff import Quantities, take_off
from saddle.road.coverage import MedianUse, coverage, medians_along
from saddle.road.defaults import StartingWork, starting_work
from saddle.road.model import RoadModel
from saddle.template.view import known
from saddle.terrain.spec import CodeList
from saddle.views.long_section import long_section, others_along
from saddle.views.remarks import remarks_in_plan
from saddle.views.roads import OtherRoad
from saddle.views.section import SectionView, section_view

router = Router(tags=["output"])


class ProblemOut(Schema):
    """A finding along the road. left: why it is left as it is, null where it is not; rule: the follow rule that a
    mend puts first."""

    code: str
    severity: Severity
    chainage_from: float
    chainage_to: float
    subject: str
    message: str
    measured: float | None
    limit: float | None
    mend: Mend | None
    rule: FollowRule | None
    left: str | None


class Curve(Schema):
    """An element of the alignment that bends: chainages, and curvature at both ends, 1/m, positive turning right."""

    start: float
    end: float
    first: float
    last: float


class RungUseOut(Schema):
    """On how many of the sections where its template stands a rung is taken."""

    template: str
    side: Literal["left", "right"]
    rung: str
    sections: int
    of: int


class ShapeUseOut(Schema):
    """A shape of a median, and on how many sections it is taken."""

    name: str
    least_width: float
    sections: int


class MedianUseOut(Schema):
    """A median on a side: which of its shapes is taken on every section, -1 for none, and how wide it is there, m."""

    side: Literal["left", "right"]
    name: str
    shapes: list[ShapeUseOut]
    of: int
    shape: list[int]
    width: Numbers


class Summary(Along):
    """The road at a glance. stamp changes with any input. missing: what the road cannot be computed without ("survey",
    "alignment"). band_limits: of depth, m; left_rung, right_rung: index into rungs, -1 where nothing is designed."""

    stamp: str
    missing: list[str]
    curves: list[Curve]
    band_limits: list[float]
    rungs: list[str]
    left_rung: list[int]
    right_rung: list[int]
    rung_uses: list[RungUseOut]
    medians: list[MedianUseOut]
    problems: list[ProblemOut]


class RemarkInPlanOut(Schema):
    """A remark at its place or along its range, east and north."""

    text: str
    places: list[list[float]]


class OtherInPlan(Schema):
    """Another road of the project in plan, east and north: its alignment, and its designed edges in pieces."""

    key: str
    name: str
    alignment: list[list[float]]
    edges: list[list[list[float]]]


class PlanOut(Schema):
    """What is drawn of the road in plan, east and north: the alignment, chainage marks, section lines, design edges, remarks; others:
    the project's other roads, those that can be computed."""

    alignment: list[list[float]]
    marks: list[dict[str, Any]]
    sections: list[list[float]]
    left: list[list[float] | None]
    right: list[list[float] | None]
    remarks: list[RemarkInPlanOut]
    others: list[OtherInPlan]


class BeneathOut(Schema):
    """A pit or pipe in the long section; levels in m, null where they are not known."""

    kind: Literal["pit", "pipe"]
    name: str
    chainage: float
    top: float | None
    bottom: float | None


class RoadAlongOut(Schema):
    """Another road beside this one: its hinge in runs of chainage of this road and level, m."""

    key: str
    name: str
    runs: list[list[list[float]]]


class LongSectionOut(Schema):
    """Levels along the road, one per section; null where there is none. others: the project's other roads that come near."""

    chainage: list[float]
    existing: Numbers
    design: Numbers
    profiles: dict[str, Numbers]
    structures: list[BeneathOut]
    others: list[RoadAlongOut]


@router.get("/model", response={200: Summary, **ERRORS}, operation_id="modelSummary")
def model_summary(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> Summary:
    """The whole road at a glance; with nothing to compute from, empty."""
    project = project_for(request, project_id)
    loaded = load_inputs(project, road)
    if loaded.inputs is None:
        return Summary(
            stamp=loaded.stamp, missing=loaded.missing, start=0, end=0, chainage=[], side=[], curves=[],
            hinge_level=[], least=[], greatest=[], mean=[], left_pct=[], right_pct=[], band_limits=[],
            rungs=[], left_rung=[], right_rung=[], rung_uses=[], medians=[], problems=[],
        )  # fmt: skip
    model, loaded = road_model(project, road)
    rungs, left = coverage(model), left_of(loaded)
    return Summary(
        **dict(along(model)), stamp=loaded.stamp, missing=[], curves=_curves(model.alignment),
        band_limits=_limits(model), rungs=list(rungs.names), left_rung=rungs.left.tolist(), right_rung=rungs.right.tolist(),
        rung_uses=[RungUseOut(**asdict(use)) for use in rungs.uses],
        medians=[_median_out(use) for use in medians_along(model)],
        problems=[ProblemOut(**asdict(p), left=reason_for(p, left)) for p in model.problems],
    )  # fmt: skip


def _median_out(use: MedianUse) -> MedianUseOut:
    shapes = [ShapeUseOut(**asdict(s)) for s in use.shapes]
    return MedianUseOut(
        side=use.side, name=use.name, shapes=shapes, of=use.of, shape=use.shape.tolist(), width=numbers(use.width)
    )  # fmt: skip


@router.get("/files/problems.xlsx", response={200: None, **ERRORS}, operation_id="problemsXlsx")
def problems_file(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> HttpResponse:
    """All problems of the road, those that are left with their reasons."""
    project = project_for(request, project_id)
    model, loaded = road_model(project, road)
    return attachment(project.name, "problems.xlsx", problems_xlsx(model.problems, left_of(loaded)), XLSX)


def _limits(model: RoadModel) -> list[float]:
    return [mm / 1000 for mm in model.inputs.settings.depth_bands_mm]


def _curves(a: Alignment) -> list[Curve]:
    bends = np.flatnonzero((a.curvature != 0) | (a.curvature_end != 0))
    columns = (a.chainage, a.chainage + a.length, a.curvature, a.curvature_end)
    return [Curve(start=s, end=e, first=f, last=k) for s, e, f, k in np.stack(columns, axis=1)[bends].tolist()]


@router.get("/model/sections/{index}", response={200: SectionView, **ERRORS}, operation_id="readSection")
def read_section(request: HttpRequest, project_id: Path[int], index: int, road: RoadKey = MAIN) -> SectionView:
    """One section in full."""
    project = project_for(request, project_id)
    model, loaded = road_model(project, road)
    return section_view(model, row_of(model, index), others_of(project, loaded))


@router.get("/model/starting-work", response={200: StartingWork, **ERRORS}, operation_id="startingWork")
def read_starting_work(
    request: HttpRequest, project_id: Path[int], from_chainage: float, to_chainage: float, road: RoadKey = MAIN
) -> StartingWork:
    """What a new treatment on a stretch starts with: the project's own crown and edges there."""
    model, loaded = road_model(project_for(request, project_id), road)
    codes = loaded.specs.get(("code_list", MAIN), CodeList())
    assert isinstance(codes, CodeList)
    return starting_work(model.alignment, model.inputs.lines, codes, from_chainage, to_chainage)


@router.get("/model/plan", response={200: PlanOut, **ERRORS}, operation_id="modelPlan")
def model_plan(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> PlanOut:
    """Alignment, chainage marks and section lines in plan."""
    project = project_for(request, project_id)
    model, loaded = road_model(project, road)
    a = model.alignment
    every = 100.0 if a.end - a.start <= 5000 else 500.0
    marked = np.arange(np.ceil(a.start / every), np.floor(a.end / every) + 1) * every
    frames = a.frames(marked)
    marks = [
        {"chainage": float(c), "at": p.tolist(), "right": r.tolist()}
        for c, p, r in zip(marked, frames.origin, frames.to_right, strict=True)
    ]
    n = np.arange(len(model.chainage))
    s = model.inputs.settings
    ends = [model.frames.plan(n, np.full(len(n), o)) for o in (s.left, s.right)]
    return PlanOut(
        alignment=_line_of(a),
        marks=marks,
        sections=np.concatenate(ends, axis=1).tolist(),
        left=_edge(model, model.depth.left),
        right=_edge(model, model.depth.right),
        remarks=[RemarkInPlanOut(text=r.text, places=r.places.tolist()) for r in remarks_in_plan(model)],
        others=[_other(other) for other in others_of(project, loaded)],
    )


def _line_of(a: Alignment) -> list[list[float]]:
    fine = np.unique(np.concatenate([np.arange(a.start, a.end, 2.0), a.key_chainages()]))
    line: list[list[float]] = a.frames(fine).origin.tolist()
    return line


def _other(road: OtherRoad) -> OtherInPlan:
    model = road.model
    edges = [piece for offsets in (model.depth.left, model.depth.right) for piece in _pieces(_edge(model, offsets))]
    return OtherInPlan(key=road.key, name=road.name, alignment=_line_of(model.alignment), edges=edges)


def _pieces(line: list[list[float] | None]) -> list[list[list[float]]]:
    """The runs of a line that are known, of two points and more."""
    runs = (list(run) for known, run in groupby(line, key=lambda p: p is not None) if known)
    return [[p for p in run if p is not None] for run in runs if len(run) > 1]


def _edge(model: RoadModel, offsets: Floats) -> list[list[float] | None]:
    plan = model.frames.plan(np.arange(len(offsets)), np.nan_to_num(offsets))
    return [p if np.isfinite(o) else None for p, o in zip(plan.tolist(), offsets, strict=True)]


@router.get("/model/depth-map", response={200: DepthMapOut, **ERRORS}, operation_id="depthMap")
def depth_map(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> DepthMapOut:
    """Overlay depth in plan, linear between sections."""
    return depth_map_out(*depth_bands_of(project_for(request, project_id), road, "sections"))


@router.get("/model/long-section", response={200: LongSectionOut, **ERRORS}, operation_id="longSection")
def read_long_section(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> LongSectionOut:
    """The road seen from the side."""
    project = project_for(request, project_id)
    model, loaded = road_model(project, road)
    profiles = {
        s.name: s
        for (kind, _), s in loaded.specs.items()
        if kind == "profile" and isinstance(s, ProfileSpec) and s.alignment == loaded.spec.alignment
    }
    found = long_section(model, profiles)
    return LongSectionOut(
        chainage=found.chainage.tolist(),
        existing=numbers(found.existing),
        design=numbers(found.design),
        profiles={name: numbers(levels) for name, levels in found.profiles.items()},
        structures=[
            BeneathOut(kind=b.kind, name=b.name, chainage=b.chainage, top=known(b.top), bottom=known(b.bottom))
            for b in found.structures
        ],
        others=[
            RoadAlongOut(key=o.key, name=o.name, runs=[run.tolist() for run in o.runs])
            for o in others_along(model, others_of(project, loaded))
        ],
    )


@router.get("/model/quantities", response={200: Quantities, **ERRORS}, operation_id="quantities")
def quantities(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> Quantities:
    """Areas, volumes, masses and lengths, as they are printed."""
    model, _ = road_model(project_for(request, project_id), road)
    return as_printed(take_off(model))
