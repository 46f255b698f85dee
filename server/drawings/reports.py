"""Reports: the table of a layout as it is now, and as files."""

import re
from typing import Literal

from django.http import HttpRequest, HttpResponse
from ninja import Path, Router, Schema

from config.downloads import XLSX, attachment
from config.errors import ERRORS, Refused
from drawings.about import about
from projects.access import project_for
from projects.models import Project
from road.inputs import RoadKey
from road.model import road_model
from saddle.documents import MAIN
from saddle.exchange.tables import report_csv, report_xlsx
from saddle.quantities.reports.spec import FIELDS, ReportLayout
from saddle.quantities.reports.table import ReportTable, report, written

router = Router(tags=["reports"])


class ReportHead(Schema):
    """figure: whether figures stand below it, else words."""

    title: str
    figure: bool


class ReportOut(Schema):
    """A report with its cells as they are written. strong: numbers of the rows that are sums, from 0; fields: the columns that it may
    have, by name."""

    name: str
    heads: list[ReportHead]
    rows: list[list[str]]
    strong: list[int]
    note: str
    fields: dict[str, str]


def _table(project: Project, road: str, key: str) -> tuple[ReportTable, ReportLayout]:
    model, loaded = road_model(project, road)
    layout = loaded.specs.get(("report", key))
    if not isinstance(layout, ReportLayout):
        raise Refused(404, "there is no such report", f"report {key}", "choose one of the list")
    return report(model, layout), layout


@router.get("/reports/{key}", response={200: ReportOut, **ERRORS}, operation_id="readReport")
def read_report(request: HttpRequest, project_id: Path[int], key: str, road: RoadKey = MAIN) -> ReportOut:
    """The table of a report."""
    found, layout = _table(project_for(request, project_id), road, key)
    return ReportOut(
        name=found.name, heads=[ReportHead(title=h.title, figure=h.kind is not None) for h in found.heads],
        rows=[[written(cell, head) for cell, head in zip(row, found.heads, strict=True)] for row in found.rows],
        strong=found.strong, note=found.note, fields={name: title for name, (title, _) in FIELDS[layout.of].items()},
    )  # fmt: skip


@router.get("/files/reports/{key}.{ending}", response={200: None, **ERRORS}, operation_id="reportFile")
def report_file(
    request: HttpRequest, project_id: Path[int], key: str, ending: Literal["csv", "xlsx"], road: RoadKey = MAIN
) -> HttpResponse:
    """A report as CSV or as a workbook."""
    project = project_for(request, project_id)
    found, _ = _table(project, road, key)
    name = f"{re.sub(r'[^A-Za-z0-9]+', '-', found.name).strip('-') or 'report'}.{ending}"
    if ending == "csv":
        return attachment(project.name, name, report_csv(found), "text/csv")
    return attachment(project.name, name, report_xlsx(found, about(project)), XLSX)
