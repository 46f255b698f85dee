"""Two issues, or an issue and the project as it is, beside each other."""

from typing import Any

from ninja import Schema

from config.errors import Refused
from design.models import EditRecord
from design.specs import read_specs
from design.words import told
from drawings.board import board_of, sheets_of, working
from drawings.bodies import Comparison, DocumentChange, SheetChange
from drawings.issuing import FIGURES
from drawings.models import Issue
from jobs.models import Job
from jobs.run import Report, handles, keep_file
from projects.models import Project
from saddle.documents import titled
from saddle.documents_base import Document
from saddle.drawings.writers.svg import page_to_svg
from saddle.errors import SaddleError
from saddle.quantities.compared import RoadFigures, compare_figures, figures_of

#: Sections that moved are told up to so many: all are counted.
MOST_SECTIONS = 5000
Specs = dict[tuple[str, str], Document]


class CompareIn(Schema):
    """Two issues by their ids; after: 0 for the project as it is."""

    before: int
    after: int = 0


def issue_of(project: Project, pk: int) -> Issue:
    """An issue of a project. Raises Refused 404 for one that is not there."""
    found = Issue.objects.filter(project=project, pk=pk).first()
    if found is None:
        raise Refused(404, "there is no such issue", "issue", "choose one of the list")
    return found


@handles("compare", Comparison)
def compare(job: Job, report: Report) -> Comparison:
    """What differs. Sheets of the project as it is are the files of the job."""
    wanted = CompareIn.model_validate(job.params)
    before = issue_of(job.project, wanted.before)
    after = issue_of(job.project, wanted.after) if wanted.after else None
    old = _Side.issued(before)
    report(0.1)
    new = _Side.issued(after) if after else _Side.now(job, report)
    report(0.9)
    changes = compare_figures(old.figures, new.figures)
    sheets, same = _sheets(old.sheets, new.sheets)
    return Comparison(
        before=before.revision, after=after.revision if after else "now", documents=_documents(job.project, before, after, old, new),
        items=changes.items, sections=changes.sections[:MOST_SECTIONS], compared=changes.compared, sheets=sheets, same_sheets=same,
    )  # fmt: skip


#: By drawing and number: its hash, and the number of its file.
SheetsOf = dict[tuple[str, str], tuple[str, int]]


class _Side:
    """One state: its documents, figures and sheets."""

    def __init__(self, specs: Specs, figures: RoadFigures, sheets: SheetsOf) -> None:
        self.specs, self.figures, self.sheets = specs, figures, sheets

    @classmethod
    def issued(cls, issue: Issue) -> "_Side":
        file = issue.files.get(path=FIGURES)
        sheets = {(d["key"], s["number"]): (s["content"], s["file"]) for d in issue.register for s in d["sheets"]}
        return cls(read_specs(issue.frozen).specs, RoadFigures.model_validate_json(bytes(file.content)), sheets)

    @classmethod
    def now(cls, job: Job, report: Report) -> "_Side":
        board = board_of(job.project)
        sheets: SheetsOf = {}
        for k, key in enumerate(board.drawings):
            try:
                drawn = sheets_of(board, key, working(board, key))
            except SaddleError:  # the register says why it cannot be drawn
                continue
            for sheet in drawn:
                number = len(sheets)
                keep_file(job, number, "", "image/svg+xml", page_to_svg(sheet.page).encode())
                sheets[key, sheet.number] = (sheet.content, number)
            report(0.1 + 0.7 * (k + 1) / len(board.drawings))
        return cls(board.loaded.specs, figures_of(board.set.model), sheets)


def _sheets(old: SheetsOf, new: SheetsOf) -> tuple[list[SheetChange], int]:
    """Sheets that differ; of drawings that one side does not have at all nothing is said but of an issue's own."""
    shared = {key for key, _ in old}
    out: list[SheetChange] = []
    same = 0
    for name in [*old, *(n for n in new if n not in old and n[0] in shared)]:
        a, b = old.get(name), new.get(name)
        if a and b and a[0] == b[0]:
            same += 1
            continue
        out.append(
            SheetChange(
                drawing=name[0], number=name[1], what="changed" if a and b else "gone" if a else "new",
                before=a[1] if a else None, after=b[1] if b else None,
            )
        )  # fmt: skip
    return out, same


def _documents(project: Project, before: Issue, after: Issue | None, old: _Side, new: _Side) -> list[DocumentChange]:
    """Documents that differ, in words, with who changed each last."""
    edits = EditRecord.objects.filter(project=project, at__gt=before.at).select_related("user").order_by("id")
    if after is not None:
        edits = edits.filter(at__lte=after.at)
    last = {(e.kind, e.key): e for e in edits.defer("before", "after")}
    out = []
    for name in [*old.specs, *(n for n in new.specs if n not in old.specs)]:
        a, b = old.specs.get(name), new.specs.get(name)
        if a == b:
            continue
        edit = last.get(name)
        who = (edit.user.get_full_name() or edit.user.username) if edit and edit.user else ""
        at = edit.at.isoformat(timespec="minutes") if edit else ""
        out.append(DocumentChange(what=_words(name[0], a, b), who=who, at=at))
    return out


def _words(kind: str, a: Document | None, b: Document | None) -> str:
    spec = b or a
    assert spec is not None
    title = titled(kind, spec)
    if a is None or b is None:
        return f"{title} {'added' if a is None else 'removed'}"
    values: tuple[Any, Any] = a.model_dump(mode="json"), b.model_dump(mode="json")
    return told(title, *values)
