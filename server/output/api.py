"""The solved road: summary for the strip, sections, preview, depth map, quantities."""

from dataclasses import asdict
from typing import Any, Literal

import numpy as np
from django.http import HttpRequest
from ninja import Path, Router, Schema

from config.errors import ErrorOut
from design.bodies import DocumentIn
from output.numbers import Numbers, numbers
from output.road import depth_bands_of, load_inputs, preview, road_model, row_of
from projects.access import project_for
from saddle.alignment.alignment import Alignment
from saddle.alignment.profile import ProfileSpec
from saddle.documents import MAIN
from saddle.geometry.polylines import Floats
from saddle.problem import Severity
from saddle.quantities.overlay_check import overlay_check
from saddle.quantities.takeoff import Quantities, take_off
from saddle.road.coverage import coverage
from saddle.road.long_section import long_section
from saddle.road.model import RoadModel
from saddle.road.view import SectionView, section_view

router = Router(tags=["output"])
ERRORS = {400: ErrorOut, 403: ErrorOut, 404: ErrorOut, 409: ErrorOut}


class ProblemOut(Schema):
    """A finding along the road."""

    code: str
    severity: Severity
    chainage_from: float
    chainage_to: float
    subject: str
    message: str


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


class Summary(Schema):
    """The road in arrays, one value per section; null where there is none. stamp changes with any input.
    missing: what the road cannot be computed without ("survey", "alignment"). band_limits: of depth, m; left_rung, right_rung:
    index into rungs, -1 where nothing is designed."""

    stamp: str
    missing: list[str]
    start: float
    end: float
    chainage: list[float]
    side: list[int]
    curves: list[Curve]
    hinge_level: Numbers
    least: Numbers
    greatest: Numbers
    mean: Numbers
    left_pct: Numbers
    right_pct: Numbers
    band_limits: list[float]
    rungs: list[str]
    left_rung: list[int]
    right_rung: list[int]
    rung_uses: list[RungUseOut]
    problems: list[ProblemOut]


class PlanOut(Schema):
    """What is drawn of the road in plan, east and north: the alignment, chainage marks, section lines, design edges."""

    alignment: list[list[float]]
    marks: list[dict[str, Any]]
    sections: list[list[float]]
    left: list[list[float] | None]
    right: list[list[float] | None]


class BandOut(Schema):
    """A depth band: limits in m (null when open), plan area m2, convex polygons as east and north by turns from the
    map's origin, to the centimetre."""

    low: float | None
    high: float | None
    area: float
    polygons: list[list[float]]


class BeneathOut(Schema):
    """A pit or pipe in the long section; levels in m."""

    kind: Literal["pit", "pipe"]
    name: str
    chainage: float
    top: float
    bottom: float


class LongSectionOut(Schema):
    """Levels along the road, one per section; null where there is none."""

    chainage: list[float]
    existing: Numbers
    design: Numbers
    profiles: dict[str, Numbers]
    structures: list[BeneathOut]


class DepthMapOut(Schema):
    area: float
    origin: list[float]
    bands: list[BandOut]


@router.get("/model", response={200: Summary, **ERRORS}, operation_id="modelSummary")
def model_summary(request: HttpRequest, project_id: Path[int]) -> Summary:
    """The whole road at a glance; with nothing to compute from, empty."""
    project = project_for(request, project_id)
    loaded = load_inputs(project)
    if loaded.inputs is None:
        return Summary(
            stamp=loaded.stamp, missing=loaded.missing, start=0, end=0, chainage=[], side=[], curves=[],
            hinge_level=[], least=[], greatest=[], mean=[], left_pct=[], right_pct=[], band_limits=[],
            rungs=[], left_rung=[], right_rung=[], rung_uses=[], problems=[],
        )  # fmt: skip
    model, loaded = road_model(project)
    d, rungs = model.depth, coverage(model)
    return Summary(
        stamp=loaded.stamp, missing=[], start=model.alignment.start, end=model.alignment.end,
        chainage=model.chainage.tolist(), side=model.stations.side.tolist(), curves=_curves(model.alignment),
        hinge_level=numbers(model.hinge_level), least=numbers(d.least), greatest=numbers(d.greatest),
        mean=numbers(d.mean), left_pct=numbers(model.lines.left_pct), right_pct=numbers(model.lines.right_pct),
        band_limits=_limits(model), rungs=list(rungs.names), left_rung=rungs.left.tolist(), right_rung=rungs.right.tolist(),
        rung_uses=[RungUseOut(**asdict(use)) for use in rungs.uses],
        problems=[ProblemOut(**{k: v for k, v in asdict(p).items() if k in ProblemOut.model_fields}) for p in model.problems],
    )  # fmt: skip


def _limits(model: RoadModel) -> list[float]:
    return [mm / 1000 for mm in model.inputs.settings.depth_bands_mm]


def _curves(a: Alignment) -> list[Curve]:
    bends = np.flatnonzero((a.curvature != 0) | (a.curvature_end != 0))
    columns = (a.chainage, a.chainage + a.length, a.curvature, a.curvature_end)
    return [Curve(start=s, end=e, first=f, last=k) for s, e, f, k in np.stack(columns, axis=1)[bends].tolist()]


@router.get("/model/sections/{index}", response={200: SectionView, **ERRORS}, operation_id="readSection")
def read_section(request: HttpRequest, project_id: Path[int], index: int) -> SectionView:
    """One section in full."""
    model, _ = road_model(project_for(request, project_id))
    return section_view(model, row_of(model, index))


@router.post("/model/preview/{key}/{index}", response={200: SectionView, **ERRORS}, operation_id="previewSection")
def preview_section(request: HttpRequest, project_id: Path[int], key: str, index: int, payload: DocumentIn) -> SectionView:
    """One section as it would be with an unsaved document; nothing is written."""
    project = project_for(request, project_id)
    full, _ = road_model(project)
    chainage, side = full.chainage[row_of(full, index)], full.stations.side[index]
    model = preview(project, payload.kind, key, payload.spec, index)
    row = int(np.flatnonzero((model.chainage == chainage) & (model.stations.side == side))[0])
    return section_view(model, row).model_copy(update={"index": index})


@router.get("/model/plan", response={200: PlanOut, **ERRORS}, operation_id="modelPlan")
def model_plan(request: HttpRequest, project_id: Path[int]) -> PlanOut:
    """Alignment, chainage marks and section lines in plan."""
    model, _ = road_model(project_for(request, project_id))
    a = model.alignment
    fine = np.unique(np.concatenate([np.arange(a.start, a.end, 2.0), a.key_chainages()]))
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
        alignment=a.frames(fine).origin.tolist(),
        marks=marks,
        sections=np.concatenate(ends, axis=1).tolist(),
        left=_edge(model, model.depth.left),
        right=_edge(model, model.depth.right),
    )


def _edge(model: RoadModel, offsets: Floats) -> list[list[float] | None]:
    plan = model.frames.plan(np.arange(len(offsets)), np.nan_to_num(offsets))
    return [p if np.isfinite(o) else None for p, o in zip(plan.tolist(), offsets, strict=True)]


@router.get("/model/depth-map", response={200: DepthMapOut, **ERRORS}, operation_id="depthMap")
def depth_map(request: HttpRequest, project_id: Path[int], between: Literal["sections", "surfaces"] = "sections") -> DepthMapOut:
    """Overlay depth in plan, linear between sections or between the triangles of the design and of the survey."""
    found, area = depth_bands_of(project_for(request, project_id), between)
    corners = [np.concatenate(band.pieces) for band in found if band.pieces]
    origin = np.floor(np.min([c.min(axis=0) for c in corners], axis=0)) if corners else np.zeros(2)
    bands = [
        BandOut(
            low=float(b.low) if np.isfinite(b.low) else None,
            high=float(b.high) if np.isfinite(b.high) else None,
            area=b.area,
            polygons=_flat(b.pieces, origin),
        )
        for b in found
    ]
    return DepthMapOut(area=area, origin=origin.tolist(), bands=bands)


def _flat(pieces: list[Floats], origin: Floats) -> list[list[float]]:
    """East and north by turns of every piece, from an origin, to the centimetre: all numbers are made in one go."""
    if not pieces:
        return []
    numbers = np.round(np.concatenate(pieces) - origin, 2).ravel().tolist()
    ends = (2 * np.cumsum([len(p) for p in pieces])).tolist()
    return [numbers[low:high] for low, high in zip([0, *ends[:-1]], ends, strict=True)]


@router.get("/model/long-section", response={200: LongSectionOut, **ERRORS}, operation_id="longSection")
def read_long_section(request: HttpRequest, project_id: Path[int]) -> LongSectionOut:
    """The road seen from the side."""
    project = project_for(request, project_id)
    model, loaded = road_model(project)
    profiles = {
        s.name: s
        for (kind, _), s in loaded.specs.items()
        if kind == "profile" and isinstance(s, ProfileSpec) and s.alignment == MAIN
    }
    found = long_section(model, profiles)
    return LongSectionOut(
        chainage=found.chainage.tolist(),
        existing=numbers(found.existing),
        design=numbers(found.design),
        profiles={name: numbers(levels) for name, levels in found.profiles.items()},
        structures=[BeneathOut(**asdict(b)) for b in found.structures],
    )


class OverlayCheckOut(Schema):
    """The overlay's volume, m3, as in saddle.quantities.overlay_check.OverlayCheck."""

    end_areas: float
    sections: float
    surfaces: float


@router.get("/model/overlay-check", response={200: OverlayCheckOut, **ERRORS}, operation_id="overlayCheck")
def read_overlay_check(request: HttpRequest, project_id: Path[int]) -> OverlayCheckOut:
    """The overlay's volume three ways."""
    model, _ = road_model(project_for(request, project_id))
    return OverlayCheckOut(**asdict(overlay_check(model)))


@router.get("/model/quantities", response={200: Quantities, **ERRORS}, operation_id="quantities")
def quantities(request: HttpRequest, project_id: Path[int]) -> Quantities:
    """Areas, volumes, masses and lengths."""
    model, _ = road_model(project_for(request, project_id))
    return take_off(model)
