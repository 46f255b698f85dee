"""Long work that follows from a state of the project and changes nothing: sheets, their files, volumes by other methods, depth between
surfaces. Its files are kept with the job. A new kind is a handler here and its name in output.work."""

from collections.abc import Callable

from django.utils import timezone
from ninja import Schema

from config.downloads import file_name
from config.memory import run
from jobs.models import Job
from jobs.run import FileMade, Report, handles, keep_file, keep_made
from projects.models import Project
from road.bodies import DepthMapOut, depth_map_out
from road.model import depth_bands_of, road_model
from saddle.documents import MAIN
from saddle.pipeline import solve
from saddle.quantities.check import VolumeCheck, check_volumes
from saddle.quantities.overlay_check import OverlayCheck, overlay_check
from saddle.road.model import RoadModel
from saddle.road.spec import Leave
from saddle.sheets.display import Page
from saddle.sheets.dxf import pages_to_dxf
from saddle.sheets.layout import TitleBlock, lay_out
from saddle.sheets.pdf import pages_to_pdf
from saddle.sheets.spec import SheetStyle
from saddle.sheets.svg import page_to_svg
from saddle.views.section import section_view


class SheetList(Schema):
    """Names of the sheets, in order, and their size in mm. The files of the job are the sheets as SVG."""

    names: list[str]
    width: float
    height: float


class VolumeReport(Schema):
    """Volumes by other methods, and the overlay's between sections and between triangulated surfaces."""

    check: VolumeCheck
    overlay: OverlayCheck


def _pages(project: Project, report: Report) -> tuple[list[Page], RoadModel]:
    model, loaded = road_model(project)
    report(0.2)
    style = loaded.specs.get(("sheet_style", MAIN))
    assert isinstance(style, SheetStyle)
    title = TitleBlock(project.name, model.inputs.alignment.name, timezone.now().date().isoformat())
    rows = style.shown([not isinstance(model.work_at(i), Leave) for i in range(len(model.chainage))])
    views = []
    for k, i in enumerate(rows):
        views.append(section_view(model, i))
        if k % 100 == 99:
            report(0.2 + 0.4 * k / len(rows))
    return lay_out(views, style, model.inputs.materials, title), model


@handles("sheets", SheetList)
def sheets(job: Job, report: Report) -> SheetList:
    """All sheets as SVG."""
    pages, _ = _pages(job.project, report)
    for number, page in enumerate(pages):
        keep_file(job, number, "", "image/svg+xml", page_to_svg(page).encode())
        report(0.6 + 0.4 * number / len(pages))
    size = (pages[0].width, pages[0].height) if pages else (0.0, 0.0)
    return SheetList(names=[p.name for p in pages], width=size[0], height=size[1])


def _file(job: Job, report: Report, ending: str, content_type: str, write: Callable[[list[Page], str], bytes]) -> FileMade:
    pages, model = _pages(job.project, report)
    name = file_name(job.project.name, f"sections_{model.alignment.start:.0f}-{model.alignment.end:.0f}.{ending}")
    content = write(pages, f"{job.project.name}, sections")
    report(0.95)
    return keep_made(job, name, content_type, content)


@handles("sheets_pdf", FileMade)
def sheets_pdf(job: Job, report: Report) -> FileMade:
    """All sheets as one PDF."""
    return _file(job, report, "pdf", "application/pdf", pages_to_pdf)


@handles("sheets_dxf", FileMade)
def sheets_dxf(job: Job, report: Report) -> FileMade:
    """All sheets as layouts of one drawing."""
    return _file(job, report, "dxf", "image/vnd.dxf", lambda pages, _: pages_to_dxf(pages))


@handles("volume_check", VolumeReport)
def volume_check(job: Job, report: Report) -> VolumeReport:
    """Every volume by other methods, and whether all adds up."""
    model, _ = road_model(job.project)
    report(0.2)
    halved = solve(model.inputs, run(), middles=True)
    found = check_volumes(model, halved)
    report(0.5)
    return VolumeReport(check=found, overlay=overlay_check(model))


@handles("depth_surfaces", DepthMapOut)
def depth_surfaces(job: Job, report: Report) -> DepthMapOut:
    """The overlay's depth between the triangles of the survey and of the design."""
    bands, area = depth_bands_of(job.project, "surfaces")
    report(0.9)
    return depth_map_out(bands, area)
