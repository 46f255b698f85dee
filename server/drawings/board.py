"""The drawings of a project as it is now: what a sheet is made from, read once, and sheets kept for as long as nothing of it changes."""

from collections.abc import Callable
from dataclasses import dataclass

from django.utils import timezone

from config.errors import Refused
from config.memory import CACHE
from drawings.bodies import STATUS
from drawings.models import Issue
from projects.models import Project
from road.inputs import Loaded
from road.model import road_model
from saddle.documents import MAIN
from saddle.drawings.body import Set
from saddle.drawings.make import Sheet, draw
from saddle.drawings.spec import Drawing, DrawingStyle, ScheduleSheets, TitleBlock
from saddle.drawings.title import WORKING, Revision, Standing
from saddle.lines.spec import LineGroup
from saddle.quantities.reports.spec import ReportLayout
from saddle.stages.keys import digest


@dataclass(frozen=True, slots=True, eq=False)
class Board:
    """drawings: by key, in the order of the register; issues: of the project, oldest first; as_issued: the issue whose frozen project
    this is."""

    set: Set
    drawings: dict[str, Drawing]
    issues: list[Issue]
    as_issued: Issue | None
    loaded: Loaded


def board_of(project: Project) -> Board:
    """Raises Refused 409 where survey or alignment are missing."""
    model, loaded = road_model(project)
    styles = {key: s for (kind, key), s in loaded.specs.items() if kind == "drawing_style" and isinstance(s, DrawingStyle)}
    block = loaded.specs.get(("title_block", MAIN), TitleBlock())
    assert isinstance(block, TitleBlock)
    drawings = [(key, d) for (kind, key), d in loaded.specs.items() if kind == "drawing" and isinstance(d, Drawing)]
    drawings.sort(key=lambda item: (item[1].place, item[0]))
    groups = {key: g for (kind, key), g in loaded.specs.items() if kind == "section_lines" and isinstance(g, LineGroup)}
    frozen = Issue.objects.filter(frozen=project).first()
    of = Issue.objects.filter(project=project) if frozen is None else frozen.and_before()
    reports = {key: r for (kind, key), r in loaded.specs.items() if kind == "report" and isinstance(r, ReportLayout)}
    return Board(
        Set(model, styles, block, project.name, reports, groups), dict(drawings), list(of.order_by("number")), frozen, loaded
    )


def drawing_of(board: Board, key: str) -> Drawing:
    """A drawing. Raises Refused 404 for one that is not there."""
    if key not in board.drawings:
        raise Refused(404, "there is no such drawing", f"drawing {key}", "choose one of the register")
    return board.drawings[key]


def revisions_of(board: Board, key: str) -> tuple[Revision, ...]:
    """The issues that a drawing was part of, as its sheets say."""
    return tuple(
        Revision(i.revision, i.at.date().isoformat(), i.reason, initials(i.by_name))
        for i in board.issues
        if any(d["key"] == key for d in i.register)
    )


def initials(name: str) -> str:
    """How a person signs a revision."""
    return "".join(word[0] for word in name.split()[:3]).upper() or "-"


def working(board: Board, key: str) -> Standing:
    """Where a drawing stands that is on the board; in a frozen project where it stood when it was issued."""
    issue = board.as_issued
    if issue is not None:
        return Standing(issue.revision, STATUS[issue.status], issue.at.date().isoformat(), revisions_of(board, key))
    return Standing("-", WORKING, timezone.now().date().isoformat(), revisions_of(board, key))


def sheets_of(board: Board, key: str, standing: Standing, progress: Callable[[float], None] = lambda _: None) -> list[Sheet]:
    """The sheets of a drawing, kept for as long as nothing that is on them changes."""
    drawing = drawing_of(board, key)
    of = board.set
    style = of.style_of(drawing)
    report = of.reports.get(style.sheets.report) if isinstance(style.sheets, ScheduleSheets) else None
    name = digest(
        "sheets", of.model.key, style, report, of.lines.get(drawing.lines or ""), of.block, of.project, drawing, standing
    )
    return CACHE.get(name, "sheets", lambda: draw(of, drawing, standing, progress))
