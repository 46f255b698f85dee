"""Levels: what they are along the road, what operations and best levels would change, and workbooks out and in."""

from typing import Annotated, Any

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import File, Path, Query, Router, UploadedFile

from config.downloads import XLSX, attachment
from config.errors import ERRORS, Refused, refuse_backward
from design.specs import read_specs
from foreign.uploads import read_table
from jobs.api import JobOut, job_out
from jobs.run import start
from levels.bodies import BestIn, ChangeOut, LevelOperationIn, LevelsOut, ReadLevelsOut
from projects.access import project_for
from projects.models import Role
from road.inputs import RoadKey, road_spec
from road.model import road_model
from road.numbers import numbers
from saddle.alignment.profile import build_profile
from saddle.documents import MAIN
from saddle.exchange.level_sheet import read_levels, write_levels
from saddle.geometry.polylines import interpolate
from saddle.overlay.level_ops import LevelsAround, apply_to_levels
from saddle.overlay.spec import LevelTable
from saddle.road.levels import levels_of
from saddle.road.model import RoadModel
from saddle.standards.spec import SpeedTable

router = Router(tags=["levels"])


Speed = Annotated[float, Query(ge=20, le=140)]


def _changes(model: RoadModel) -> SpeedTable:
    """Greatest change of grade without a curve, %, by the project's standard."""
    return model.inputs.standards.vertical.grade_change


@router.get("/levels", response={200: LevelsOut, **ERRORS}, operation_id="levels")
def levels(request: HttpRequest, project_id: Path[int], speed_kmh: Speed = 90.0, road: RoadKey = MAIN) -> LevelsOut:
    """Levels along the road with grades and what they suit."""
    model, _ = road_model(project_for(request, project_id), road)
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
def apply_to_level_table(
    request: HttpRequest, project_id: Path[int], payload: LevelOperationIn, road: RoadKey = MAIN
) -> LevelTable:
    """The level table after an operation on a range; nothing is written."""
    model, _ = road_model(project_for(request, project_id), road)
    refuse_backward(payload.from_chainage, payload.to_chainage)
    found = levels_of(model)
    profiles = {key: build_profile(spec).levels(found.chainage) for key, spec in model.inputs.profiles.items()}
    around = LevelsAround(found.chainage, found.design, found.lowest, profiles)
    return apply_to_levels(payload.table, payload.operation, payload.from_chainage, payload.to_chainage, around)


@router.post("/levels/best", response={200: JobOut, **ERRORS}, operation_id="bestLevels")
def best_levels(request: HttpRequest, project_id: Path[int], payload: BestIn, road: RoadKey = MAIN) -> Any:
    """Start the search for best levels; the job's result is a BestOut. Nothing is written until somebody takes it over."""
    project = project_for(request, project_id, Role.DESIGNER)
    refuse_backward(payload.from_chainage, payload.to_chainage)
    if (
        payload.crossfall_low is not None
        and payload.crossfall_high is not None
        and payload.crossfall_low > payload.crossfall_high
    ):
        raise Refused(400, "the least crossfall is greater than the greatest", "crossfall", "exchange the two")
    road_spec(read_specs(project, "road").specs, road)
    return job_out(start(project, request.user, "best_levels", payload.model_dump(mode="json") | {"road": road}))


@router.get("/files/levels.xlsx", response={200: None, **ERRORS}, operation_id="levelsXlsx")
def levels_xlsx(request: HttpRequest, project_id: Path[int], speed_kmh: Speed = 90.0, road: RoadKey = MAIN) -> HttpResponse:
    """The level table as a workbook with live formulas."""
    project = project_for(request, project_id)
    model, _ = road_model(project, road)
    return attachment(project.name, "levels.xlsx", write_levels(levels_of(model), _changes(model), speed_kmh), XLSX)


@router.post("/levels/read", response={200: ReadLevelsOut, **ERRORS}, operation_id="readLevels")
def read_level_sheet(
    request: HttpRequest, project_id: Path[int], file: File[UploadedFile], road: RoadKey = MAIN
) -> ReadLevelsOut:
    """A workbook of levels and what it would change; nothing is written."""
    project = project_for(request, project_id, Role.DESIGNER)
    model, _ = road_model(project, road)
    table, changes = read_table(read_levels, file, model.inputs.levels)
    return ReadLevelsOut(table=table, changes=[ChangeOut.model_validate(c, from_attributes=True) for c in changes])
