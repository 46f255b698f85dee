"""Crossfalls and levels: what was measured, what operations and best levels would change, and tables out and in."""

from typing import Annotated, Any

import numpy as np
from django.contrib.auth.models import User
from django.http import HttpRequest, HttpResponse
from ninja import File, Path, Query, Router, UploadedFile

from config.downloads import XLSX, attachment
from config.errors import ErrorOut, Refused
from design.actions.change import Change, change_documents
from design.models import Document
from fitting.bodies import (
    BestIn,
    ChangeOut,
    CrossfallsOut,
    LevelOperationIn,
    LevelsOut,
    OperationIn,
    ReadLevelsOut,
    TextIn,
    VariantsIn,
    VariantTreatmentsIn,
)
from jobs.api import JobOut, job_out
from jobs.run import start
from projects.access import project_for
from projects.models import Role
from road.model import road_model, variants
from road.numbers import numbers
from saddle.alignment.curves import curves_of
from saddle.alignment.profile import build_profile
from saddle.documents import MAIN
from saddle.exchange.crossfall_csv import read_crossfalls, write_crossfalls
from saddle.exchange.level_sheet import read_levels, write_levels
from saddle.findings.water import water
from saddle.geometry.polylines import Floats, interpolate
from saddle.overlay.crossfalls import Superelevate, TakeMeasured, apply
from saddle.overlay.level_ops import LevelsAround, apply_to_levels
from saddle.overlay.spec import CrossfallTable, LevelTable
from saddle.quantities.variants import VariantResult, treatments_with
from saddle.road.levels import levels_of
from saddle.road.measured import chainages_for, measured_at
from saddle.road.model import RoadModel
from saddle.road.side_roads import Around, SideRoad, tie_in_side_road
from saddle.road.spec import TreatmentPlan
from saddle.standards.spec import SpeedTable
from saddle.standards.superelevation import CurveReport, report

router = Router(tags=["fitting"])
ERRORS = {400: ErrorOut, 403: ErrorOut, 404: ErrorOut, 409: ErrorOut}
Speed = Annotated[float, Query(ge=20, le=140)]


@router.get("/crossfalls", response={200: CrossfallsOut, **ERRORS}, operation_id="crossfalls")
def crossfalls(request: HttpRequest, project_id: Path[int]) -> CrossfallsOut:
    """Measured and present crossfalls on every section."""
    model, _ = road_model(project_for(request, project_id))
    lines, runs = model.lines, water(model)

    def sides(values: Floats) -> list[list[float | None]]:
        return [numbers(values[:, k]) for k in (0, 1)]

    return CrossfallsOut(
        chainage=model.chainage.tolist(),
        measured_left=numbers(lines.measured_pct[:, 0]),
        measured_right=numbers(lines.measured_pct[:, 1]),
        left=numbers(lines.left_pct),
        right=numbers(lines.right_pct),
        resultant=sides(runs.resultant),
        path=sides(runs.path),
        film=sides(runs.film),
    )


@router.post("/crossfalls/apply", response={200: CrossfallTable, **ERRORS}, operation_id="applyToCrossfalls")
def apply_to_crossfalls(request: HttpRequest, project_id: Path[int], payload: OperationIn) -> CrossfallTable:
    """The table after an operation on a range; nothing is written."""
    model, _ = road_model(project_for(request, project_id))
    _forward(payload.from_chainage, payload.to_chainage)
    what, low, high = payload.operation, payload.from_chainage, payload.to_chainage
    first = model.stations.first
    chainage, measured = model.chainage[first], model.lines.measured_pct[first]
    if isinstance(what, TakeMeasured) and what.at != "sections":
        chainage = chainages_for(model, what, low, high)
        measured = measured_at(model, chainage)
    return apply(
        payload.table, what, payload.side, low, high, chainage, measured, curves_of(model.alignment),
        model.inputs.standards.superelevation,
    )  # fmt: skip


@router.post("/crossfalls/superelevation", response={200: list[CurveReport], **ERRORS}, operation_id="superelevation")
def superelevation(request: HttpRequest, project_id: Path[int], payload: Superelevate) -> list[CurveReport]:
    """How every curve turns by the project's standard, with its key chainages."""
    model, _ = road_model(project_for(request, project_id))
    return report(curves_of(model.alignment), payload.turns(model.inputs.standards.superelevation))


@router.post("/crossfalls/read", response={200: CrossfallTable, **ERRORS}, operation_id="readCrossfalls")
def read_crossfall_file(request: HttpRequest, project_id: Path[int], payload: TextIn) -> CrossfallTable:
    """A CSV of crossfalls; nothing is written."""
    project_for(request, project_id)
    return read_crossfalls(payload.text)


@router.get("/files/crossfalls.csv", response={200: None, **ERRORS}, operation_id="crossfallsCsv")
def crossfalls_csv(request: HttpRequest, project_id: Path[int]) -> HttpResponse:
    """The adopted crossfalls."""
    project = project_for(request, project_id)
    model, _ = road_model(project)
    return attachment(project.name, "crossfalls.csv", write_crossfalls(model.inputs.crossfalls), "text/csv")


@router.post("/variants/compare", response={200: list[VariantResult], **ERRORS}, operation_id="compareVariants")
def compare(request: HttpRequest, project_id: Path[int], payload: VariantsIn) -> list[VariantResult]:
    """The road as it is and variants of its overlay over a range; nothing is written."""
    project = project_for(request, project_id)
    _forward(payload.from_chainage, payload.to_chainage)
    return variants(project, payload.plan, payload.from_chainage, payload.to_chainage)


@router.post("/variants/treatments", response={200: TreatmentPlan, **ERRORS}, operation_id="variantTreatments")
def variant_treatments(request: HttpRequest, project_id: Path[int], payload: VariantTreatmentsIn) -> TreatmentPlan:
    """The treatments with a variant taken over a range; nothing is written."""
    model, _ = road_model(project_for(request, project_id))
    _forward(payload.from_chainage, payload.to_chainage)
    return treatments_with(model.inputs.treatments, payload.variant, payload.from_chainage, payload.to_chainage)


@router.post("/side-roads", response={200: list[str], **ERRORS}, operation_id="tieInSideRoad")
def side_road(request: HttpRequest, project_id: Path[int], payload: SideRoad) -> list[str]:
    """Tie a side road in, as one step of the history. Returns the keys of the templates over its mouth."""
    project = project_for(request, project_id, Role.DESIGNER)
    model, _ = road_model(project)
    i = model.inputs
    found = tie_in_side_road(payload, Around(i.templates, i.make_ups, i.template_plan, i.treatments, i.milling))
    versions = {(r.kind, r.key): r.version for r in Document.objects.filter(project=project)}
    changes = [Change(kind, key, spec, versions.get((kind, key), 0)) for (kind, key), spec in found.items()]
    assert isinstance(request.user, User)
    change_documents(project, request.user, f"Side road “{payload.name}” tied in", changes)
    return [key for kind, key in found if kind == "template"]


def _changes(model: RoadModel) -> SpeedTable:
    """Greatest change of grade without a curve, %, by the project's standard."""
    return model.inputs.standards.vertical.grade_change


def _forward(low: float, high: float) -> None:
    if high <= low:
        raise Refused(400, "the range must end after it begins", "range", "mark it from the lower to the higher chainage")


@router.get("/levels", response={200: LevelsOut, **ERRORS}, operation_id="levels")
def levels(request: HttpRequest, project_id: Path[int], speed_kmh: Speed = 90.0) -> LevelsOut:
    """Levels along the road with grades and what they suit."""
    model, _ = road_model(project_for(request, project_id))
    found = levels_of(model)
    first = model.stations.first
    lines = model.lines
    edges = interpolate(model.existing, np.column_stack([lines.left_edge, lines.right_edge]))
    milled = interpolate(model.milling.surface, lines.hinge[:, None])[:, 0]
    milled = np.where(model.milling.depth > 0, milled, np.nan)
    return LevelsOut(
        chainage=found.chainage.tolist(), existing=numbers(found.existing), left_edge=numbers(edges[first, 0]),
        right_edge=numbers(edges[first, 1]), milled=numbers(milled[first]), lowest=numbers(found.lowest),
        design=numbers(found.design), adopted=numbers(found.adopted), left_candidate=numbers(model.candidates[first, 0]),
        right_candidate=numbers(model.candidates[first, 1]), grade_pct=numbers(found.grade_pct),
        change_pct=numbers(found.change_pct), speed_kmh=numbers(found.speed_kmh), limit_pct=_changes(model).at(speed_kmh),
    )  # fmt: skip


@router.post("/levels/apply", response={200: LevelTable, **ERRORS}, operation_id="applyToLevels")
def apply_to_level_table(request: HttpRequest, project_id: Path[int], payload: LevelOperationIn) -> LevelTable:
    """The level table after an operation on a range; nothing is written."""
    model, _ = road_model(project_for(request, project_id))
    _forward(payload.from_chainage, payload.to_chainage)
    found = levels_of(model)
    profiles = {
        key: build_profile(spec).levels(found.chainage) for key, spec in model.inputs.profiles.items() if spec.alignment == MAIN
    }
    around = LevelsAround(found.chainage, found.design, found.lowest, profiles)
    return apply_to_levels(payload.table, payload.operation, payload.from_chainage, payload.to_chainage, around)


@router.post("/levels/best", response={200: JobOut, **ERRORS}, operation_id="bestLevels")
def best_levels(request: HttpRequest, project_id: Path[int], payload: BestIn) -> Any:
    """Start the search for best levels; the job's result is a BestOut. Nothing is written until somebody takes it over."""
    project = project_for(request, project_id, Role.DESIGNER)
    _forward(payload.from_chainage, payload.to_chainage)
    if (
        payload.crossfall_low is not None
        and payload.crossfall_high is not None
        and payload.crossfall_low > payload.crossfall_high
    ):
        raise Refused(400, "the least crossfall is greater than the greatest", "crossfall", "exchange the two")
    return job_out(start(project, request.user, "best_levels", payload.model_dump(mode="json")))


@router.get("/files/levels.xlsx", response={200: None, **ERRORS}, operation_id="levelsXlsx")
def levels_xlsx(request: HttpRequest, project_id: Path[int], speed_kmh: Speed = 90.0) -> HttpResponse:
    """The level table as a workbook with live formulas."""
    project = project_for(request, project_id)
    model, _ = road_model(project)
    return attachment(project.name, "levels.xlsx", write_levels(levels_of(model), _changes(model), speed_kmh), XLSX)


@router.post("/levels/read", response={200: ReadLevelsOut, **ERRORS}, operation_id="readLevels")
def read_level_sheet(request: HttpRequest, project_id: Path[int], file: File[UploadedFile]) -> ReadLevelsOut:
    """A workbook of levels and what it would change; nothing is written."""
    project = project_for(request, project_id, Role.DESIGNER)
    model, _ = road_model(project)
    table, changes = read_levels(file.read(), model.inputs.levels)
    return ReadLevelsOut(table=table, changes=[ChangeOut.model_validate(c, from_attributes=True) for c in changes])
