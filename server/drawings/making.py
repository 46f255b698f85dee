"""Jobs that draw: the sheets of a drawing as SVG, as one PDF or as one DXF, and the register of all drawings."""

from collections.abc import Callable

from config.downloads import file_name
from drawings.board import Board, board_of, drawing_of, last_issue, open_problems, sheets_of
from drawings.bodies import STATUS, Register, Registered, SheetList, SheetOut
from jobs.models import Job
from jobs.run import FileMade, Report, handles, keep_file, keep_made
from saddle.drawings.kinds import KINDS
from saddle.drawings.make import Sheet
from saddle.drawings.writers.dxf import pages_to_dxf, pages_to_flat_dxf
from saddle.drawings.writers.pdf import pages_to_pdf
from saddle.drawings.writers.svg import page_to_svg
from saddle.errors import SaddleError


def told(sheet: Sheet) -> SheetOut:
    """A sheet as it is listed."""
    laid = sheet.laid
    return SheetOut(number=sheet.number, title=sheet.title, content=laid.content, used=laid.used, left_out=list(laid.left_out))


def _drawn(job: Job, report: Report) -> tuple[Board, list[Sheet]]:
    board = board_of(job.project)
    report(0.2)
    key = job.params["drawing"]
    return board, sheets_of(board, key, lambda share: report(0.2 + 0.4 * share))


@handles("sheets", SheetList, minutes=30)
def sheets(job: Job, report: Report) -> SheetList:
    """All sheets of a drawing as SVG."""
    _, drawn = _drawn(job, report)
    for number, sheet in enumerate(drawn):
        keep_file(job, number, "", "image/svg+xml", page_to_svg(sheet.page).encode())
        report(0.6 + 0.4 * number / len(drawn))
    size = drawn[0].size if drawn else (0.0, 0.0)
    return SheetList(sheets=[told(s) for s in drawn], width=size[0], height=size[1])


def _file(job: Job, report: Report, ending: str, content_type: str, write: Callable[[list[Sheet], str], bytes]) -> FileMade:
    board, drawn = _drawn(job, report)
    drawing = drawing_of(board, job.params["drawing"])
    alignment, number = board.set_of(drawing).model.alignment, drawing.number
    name = file_name(job.project.name, f"{number}_{alignment.start:.0f}-{alignment.end:.0f}.{ending}")
    content = write(drawn, f"{job.project.name}, {number}")
    report(0.95)
    return keep_made(job, name, content_type, content)


def as_pdf(drawn: list[Sheet], title: str) -> bytes:
    """Sheets as one PDF."""
    return pages_to_pdf((s.page for s in drawn), title, subject=f"{drawn[0].title} and others" if len(drawn) > 1 else title)


def as_dxf(drawn: list[Sheet], _: str) -> bytes:
    """Sheets as layouts of one DXF drawing, with what they show in metres in its model space."""
    return pages_to_dxf((s.page for s in drawn), (item for s in drawn for item in s.space))


@handles("sheets_pdf", FileMade, minutes=30)
def sheets_pdf(job: Job, report: Report) -> FileMade:
    """All sheets of a drawing as one PDF."""
    return _file(job, report, "pdf", "application/pdf", as_pdf)


@handles("sheets_dxf", FileMade, minutes=30)
def sheets_dxf(job: Job, report: Report) -> FileMade:
    """All sheets of a drawing as layouts of one DXF."""
    return _file(job, report, "dxf", "image/vnd.dxf", as_dxf)


@handles("sheets_dxf_flat", FileMade, minutes=30)
def sheets_dxf_flat(job: Job, report: Report) -> FileMade:
    """All sheets of a drawing beside each other in the model space of one DXF."""
    return _file(job, report, "dxf", "image/vnd.dxf", lambda drawn, _: pages_to_flat_dxf(s.page for s in drawn))


@handles("register", Register, minutes=20)
def register(job: Job, report: Report) -> Register:
    """Every drawing laid out, and what of it is not as it was issued last."""
    board = board_of(job.project)
    rows = []
    for k, key in enumerate(board.drawings):
        rows.append(_registered(board, key, lambda share, k=k: report((k + share) / len(board.drawings))))  # type: ignore[misc]
    return Register(drawings=rows, open_problems=len(open_problems(board)))


def _registered(board: Board, key: str, report: Report) -> Registered:
    drawing = board.drawings[key]
    style = board.styles.get(drawing.style)
    issue = last_issue(board, key)
    row = Registered(
        key=key, kind=KINDS[style.sheets.kind].title if style else "", number=drawing.number, style=style.name if style else "", sheets=[],
        revision=issue.revision if issue else "", status=STATUS[issue.status] if issue else "", changed=[], gone=0, fault="",
    )  # fmt: skip
    try:
        row.sheets = [told(s) for s in sheets_of(board, key, report)]
    except SaddleError as error:
        row.fault = error.message
        return row
    if issue is not None:
        # Sheets are the same by their place in the drawing: another pattern of numbers changes none.
        before = [s["content"] for d in issue.register if d["key"] == key for s in d["sheets"]]
        row.changed = [s.number for k, s in enumerate(row.sheets) if before[k : k + 1] != [s.content]]
        row.gone = max(0, len(before) - len(row.sheets))
    return row
