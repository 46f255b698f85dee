"""Crossfalls: what was measured, how water leaves, what operations would change, and tables out and in."""

from django.http import HttpRequest, HttpResponse
from ninja import File, Path, Router, UploadedFile

from config.downloads import attachment
from config.errors import ERRORS, refuse_backward
from crossfalls.bodies import CrossfallsOut, OperationIn
from foreign.uploads import read_table
from projects.access import project_for
from road.inputs import RoadKey
from road.model import road_model
from road.numbers import numbers
from saddle.alignment.curves import curves_of
from saddle.documents import MAIN
from saddle.exchange.crossfall_csv import write_crossfalls
from saddle.exchange.readers import crossfalls_of_file
from saddle.findings.water import water
from saddle.geometry.polylines import Floats
from saddle.overlay.crossfalls import Superelevate, TakeMeasured, apply
from saddle.overlay.spec import CrossfallTable
from saddle.road.measured import chainages_for, measured_at
from saddle.standards.superelevation import CurveReport, report

router = Router(tags=["crossfalls"])


@router.get("/crossfalls", response={200: CrossfallsOut, **ERRORS}, operation_id="crossfalls")
def crossfalls(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> CrossfallsOut:
    """Measured and present crossfalls on every section."""
    model, _ = road_model(project_for(request, project_id), road)
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
def apply_to_crossfalls(
    request: HttpRequest, project_id: Path[int], payload: OperationIn, road: RoadKey = MAIN
) -> CrossfallTable:
    """The table after an operation on a range; nothing is written."""
    model, _ = road_model(project_for(request, project_id), road)
    refuse_backward(payload.from_chainage, payload.to_chainage)
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
def superelevation(request: HttpRequest, project_id: Path[int], payload: Superelevate, road: RoadKey = MAIN) -> list[CurveReport]:
    """How every curve turns by the project's standard, with its key chainages."""
    model, _ = road_model(project_for(request, project_id), road)
    return report(curves_of(model.alignment), payload.turns(model.inputs.standards.superelevation))


@router.post("/crossfalls/read", response={200: CrossfallTable, **ERRORS}, operation_id="readCrossfalls")
def read_crossfall_file(request: HttpRequest, project_id: Path[int], file: File[UploadedFile]) -> CrossfallTable:
    """Crossfalls out of a CSV or a workbook; nothing is written."""
    project_for(request, project_id)
    return read_table(crossfalls_of_file, file)


@router.get("/files/crossfalls.csv", response={200: None, **ERRORS}, operation_id="crossfallsCsv")
def crossfalls_csv(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> HttpResponse:
    """The adopted crossfalls."""
    project = project_for(request, project_id)
    model, _ = road_model(project, road)
    return attachment(project.name, "crossfalls.csv", write_crossfalls(model.inputs.crossfalls), "text/csv")
