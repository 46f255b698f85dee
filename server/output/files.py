"""Downloads: quantities as CSV and XLSX, sheets as SVG, PDF and DXF. Named after project, content and chainages."""

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import Path, Router, Schema

from config.downloads import XLSX, attachment
from config.errors import ErrorOut, Refused
from output.road import Loaded, road_model
from projects.access import project_for
from projects.models import Project
from saddle.documents import MAIN
from saddle.exchange.tables import quantities_csv, quantities_xlsx, rows_csv, rows_xlsx
from saddle.quantities.takeoff import take_off
from saddle.road.cache import StageCache
from saddle.road.model import RoadModel
from saddle.road.report import overlay_report
from saddle.road.view import section_view
from saddle.sheets.display import Page
from saddle.sheets.dxf import pages_to_dxf
from saddle.sheets.layout import TitleBlock, lay_out
from saddle.sheets.pdf import pages_to_pdf
from saddle.sheets.spec import SheetStyle
from saddle.sheets.svg import page_to_svg

router = Router(tags=["files"])
ERRORS = {400: ErrorOut, 403: ErrorOut, 404: ErrorOut, 409: ErrorOut}
_pages = StageCache(most=6)


class SheetList(Schema):
    """Names of the sheets, in order, and their size in mm."""

    names: list[str]
    width: float
    height: float


def _download(project: Project, model: RoadModel, what: str, ending: str, content: bytes, kind: str) -> HttpResponse:
    part = f"{what}_{model.alignment.start:.0f}-{model.alignment.end:.0f}.{ending}"
    return attachment(project.name, part, content, kind)


@router.get("/files/quantities.csv", response={200: None, **ERRORS}, operation_id="quantitiesCsv")
def quantities_as_csv(request: HttpRequest, project_id: Path[int]) -> HttpResponse:
    """Summary and areas per section."""
    project = project_for(request, project_id)
    model, _ = road_model(project)
    return _download(project, model, "quantities", "csv", quantities_csv(take_off(model)).encode(), "text/csv")


@router.get("/files/quantities.xlsx", response={200: None, **ERRORS}, operation_id="quantitiesXlsx")
def quantities_as_xlsx(request: HttpRequest, project_id: Path[int]) -> HttpResponse:
    """The same as a workbook."""
    project = project_for(request, project_id)
    model, _ = road_model(project)
    return _download(project, model, "quantities", "xlsx", quantities_xlsx(take_off(model)), XLSX)


def _sheets(project: Project) -> tuple[list[Page], RoadModel, Loaded]:
    model, loaded = road_model(project)
    style = loaded.specs.get(("sheet_style", MAIN))
    assert isinstance(style, SheetStyle)
    date = timezone.now().date().isoformat()
    title = TitleBlock(project.name, model.inputs.alignment.name, date)

    def make() -> list[Page]:
        views = [section_view(model, i) for i in range(len(model.chainage))]
        return lay_out(views, style, model.inputs.materials, title)

    return _pages.get("sheets", make, loaded.stamp, project.name, date), model, loaded


@router.get("/files/overlay.csv", response={200: None, **ERRORS}, operation_id="overlayCsv")
def overlay_as_csv(request: HttpRequest, project_id: Path[int]) -> HttpResponse:
    """The overlay section by section."""
    project = project_for(request, project_id)
    model, _ = road_model(project)
    return _download(project, model, "overlay", "csv", rows_csv(*overlay_report(model)).encode(), "text/csv")


@router.get("/files/overlay.xlsx", response={200: None, **ERRORS}, operation_id="overlayXlsx")
def overlay_as_xlsx(request: HttpRequest, project_id: Path[int]) -> HttpResponse:
    """The same as a workbook."""
    project = project_for(request, project_id)
    model, _ = road_model(project)
    return _download(project, model, "overlay", "xlsx", rows_xlsx("Overlay", *overlay_report(model)), XLSX)


@router.get("/sheets", response={200: SheetList, **ERRORS}, operation_id="listSheets")
def list_sheets(request: HttpRequest, project_id: Path[int]) -> SheetList:
    """The sheets that the sheet style makes of the road."""
    pages, _, _ = _sheets(project_for(request, project_id))
    if not pages:
        return SheetList(names=[], width=0, height=0)
    return SheetList(names=[p.name for p in pages], width=pages[0].width, height=pages[0].height)


@router.get("/files/sheets/{number}.svg", response={200: None, **ERRORS}, operation_id="sheetSvg")
def sheet_svg(request: HttpRequest, project_id: Path[int], number: int) -> HttpResponse:
    """One sheet for the screen, counted from 1."""
    pages, _, _ = _sheets(project_for(request, project_id))
    if not 1 <= number <= len(pages):
        raise Refused(404, f"there is no sheet {number}; there are {len(pages)}", "sheet")
    return HttpResponse(page_to_svg(pages[number - 1]), content_type="image/svg+xml")


@router.get("/files/sheets.pdf", response={200: None, **ERRORS}, operation_id="sheetsPdf")
def sheets_pdf(request: HttpRequest, project_id: Path[int]) -> HttpResponse:
    """All sheets."""
    project = project_for(request, project_id)
    pages, model, _ = _sheets(project)
    return _download(project, model, "sections", "pdf", pages_to_pdf(pages, f"{project.name}, sections"), "application/pdf")


@router.get("/files/sheets.dxf", response={200: None, **ERRORS}, operation_id="sheetsDxf")
def sheets_dxf(request: HttpRequest, project_id: Path[int]) -> HttpResponse:
    """All sheets as layouts of one drawing."""
    project = project_for(request, project_id)
    pages, model, _ = _sheets(project)
    return _download(project, model, "sections", "dxf", pages_to_dxf(pages), "image/vnd.dxf")
