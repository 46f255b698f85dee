"""Downloads that are made at once: quantities and the overlay report as CSV and XLSX."""

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router

from config.downloads import XLSX, attachment
from config.errors import ERRORS, Refused
from design.specs import read_specs
from drawings.about import about
from projects.access import project_for
from projects.models import Project
from road.inputs import RoadKey, roads_of
from road.model import road_model
from saddle.documents import MAIN
from saddle.exchange.tables import quantities_csv, quantities_xlsx, roads_csv, roads_xlsx, rows_csv, rows_xlsx
from saddle.quantities.takeoff import Quantities, take_off
from saddle.road.model import RoadModel
from saddle.views.report import overlay_report

router = Router(tags=["files"])


def _download(project: Project, road: str, model: RoadModel, what: str, ending: str, content: bytes, kind: str) -> HttpResponse:
    """Named after the project, the road unless it is the first one, the content and the range."""
    if road != MAIN:
        what = f"{road}_{what}"
    part = f"{what}_{model.alignment.start:.0f}-{model.alignment.end:.0f}.{ending}"
    return attachment(project.name, part, content, kind)


@router.get("/files/quantities.csv", response={200: None, **ERRORS}, operation_id="quantitiesCsv")
def quantities_as_csv(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> HttpResponse:
    """Summary and areas per section."""
    project = project_for(request, project_id)
    model, _ = road_model(project, road)
    return _download(project, road, model, "quantities", "csv", quantities_csv(take_off(model)).encode(), "text/csv")


@router.get("/files/quantities.xlsx", response={200: None, **ERRORS}, operation_id="quantitiesXlsx")
def quantities_as_xlsx(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> HttpResponse:
    """The same as a workbook."""
    project = project_for(request, project_id)
    model, _ = road_model(project, road)
    return _download(project, road, model, "quantities", "xlsx", quantities_xlsx(take_off(model), about(project)), XLSX)


def _bills(project: Project) -> list[tuple[str, Quantities]]:
    """The bills of all roads by name, in their order. Raises what their roads raise: a sum that leaves one out would be wrong."""
    roads = roads_of(read_specs(project, "road").specs)
    found = []
    for key, road in roads.items():
        try:
            found.append((road.name, take_off(road_model(project, key)[0])))
        except Refused as refused:
            body = refused.body
            raise Refused(refused.status, f"{road.name}: {body.message}", body.subject, body.hint) from refused
    return found


@router.get("/files/roads.csv", response={200: None, **ERRORS}, operation_id="roadsCsv")
def quantities_of_roads_as_csv(request: HttpRequest, project_id: Path[int]) -> HttpResponse:
    """The summaries of all roads and what they add up to."""
    project = project_for(request, project_id)
    return attachment(project.name, "quantities_all-roads.csv", roads_csv(_bills(project)).encode(), "text/csv")


@router.get("/files/roads.xlsx", response={200: None, **ERRORS}, operation_id="roadsXlsx")
def quantities_of_roads_as_xlsx(request: HttpRequest, project_id: Path[int]) -> HttpResponse:
    """The same as a workbook, whose sums over the roads are formulas."""
    project = project_for(request, project_id)
    return attachment(project.name, "quantities_all-roads.xlsx", roads_xlsx(_bills(project), about(project)), XLSX)


@router.get("/files/overlay.csv", response={200: None, **ERRORS}, operation_id="overlayCsv")
def overlay_as_csv(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> HttpResponse:
    """The overlay section by section."""
    project = project_for(request, project_id)
    model, _ = road_model(project, road)
    return _download(project, road, model, "overlay", "csv", rows_csv(*overlay_report(model)).encode(), "text/csv")


@router.get("/files/overlay.xlsx", response={200: None, **ERRORS}, operation_id="overlayXlsx")
def overlay_as_xlsx(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> HttpResponse:
    """The same as a workbook."""
    project = project_for(request, project_id)
    model, _ = road_model(project, road)
    return _download(project, road, model, "overlay", "xlsx", rows_xlsx("Overlay", *overlay_report(model)), XLSX)
