"""Downloads that are made at once: quantities and the overlay report as CSV and XLSX."""

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from config.downloads import XLSX, attachment
from config.errors import ERRORS
from drawings.about import about
from projects.access import project_for
from projects.models import Project
from road.inputs import RoadKey
from road.model import road_model
from saddle.documents import MAIN
from saddle.exchange.tables import quantities_csv, quantities_xlsx, rows_csv, rows_xlsx
from saddle.quantities.takeoff import take_off
from saddle.road.model import RoadModel
from saddle.views.report import overlay_report

router = Router(tags=["files"])


def _download(project: Project, model: RoadModel, what: str, ending: str, content: bytes, kind: str) -> HttpResponse:
    part = f"{what}_{model.alignment.start:.0f}-{model.alignment.end:.0f}.{ending}"
    return attachment(project.name, part, content, kind)


@router.get("/files/quantities.csv", response={200: None, **ERRORS}, operation_id="quantitiesCsv")
def quantities_as_csv(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> HttpResponse:
    """Summary and areas per section."""
    project = project_for(request, project_id)
    model, _ = road_model(project, road)
    return _download(project, model, "quantities", "csv", quantities_csv(take_off(model)).encode(), "text/csv")


@router.get("/files/quantities.xlsx", response={200: None, **ERRORS}, operation_id="quantitiesXlsx")
def quantities_as_xlsx(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> HttpResponse:
    """The same as a workbook."""
    project = project_for(request, project_id)
    model, _ = road_model(project, road)
    return _download(project, model, "quantities", "xlsx", quantities_xlsx(take_off(model), about(project)), XLSX)


@router.get("/files/overlay.csv", response={200: None, **ERRORS}, operation_id="overlayCsv")
def overlay_as_csv(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> HttpResponse:
    """The overlay section by section."""
    project = project_for(request, project_id)
    model, _ = road_model(project, road)
    return _download(project, model, "overlay", "csv", rows_csv(*overlay_report(model)).encode(), "text/csv")


@router.get("/files/overlay.xlsx", response={200: None, **ERRORS}, operation_id="overlayXlsx")
def overlay_as_xlsx(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> HttpResponse:
    """The same as a workbook."""
    project = project_for(request, project_id)
    model, _ = road_model(project, road)
    return _download(project, model, "overlay", "xlsx", rows_xlsx("Overlay", *overlay_report(model)), XLSX)
