"""Two issues, or an issue and the project as it is, beside each other."""

import itertools
from collections.abc import Mapping
from typing import Any, Literal

from ninja import Schema

from config.errors import Refused
from design.models import EditRecord
from design.specs import read_specs
from design.words import told
from drawings.board import board_of, sheets_of
from drawings.bodies import Comparison, DocumentChange, SheetChange
from drawings.issuing import FIGURES, figures_path
from drawings.models import Issue
from jobs.models import Job
from jobs.run import Report, handles, keep_file
from projects.models import Project
from road.inputs import roads_of
from saddle.documents import titled
from saddle.documents_base import Document
from saddle.drawings.spec import Drawing
from saddle.drawings.writers.svg import page_to_svg
from saddle.errors import SaddleError
from saddle.quantities.compared import FigureChanges, RoadFigures, compare_figures, figures_of

#: Sections that moved are told up to so many: all are counted.
MOST_SECTIONS = 5000
Specs = Mapping[tuple[str, str], Document]


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


@handles("compare", Comparison, minutes=20)
def compare(job: Job, report: Report) -> Comparison:
    """What differs. Sheets of the project as it is are the files of the job."""
    wanted = CompareIn.model_validate(job.params)
    before = issue_of(job.project, wanted.before)
    after = issue_of(job.project, wanted.after) if wanted.after else None
    old = _Side.issued(before)
    report(0.1)
    new = _Side.issued(after) if after else _Side.now(job, report)
    report(0.9)
    changes = _changes(old, new)
    sheets, same = _sheets(old.sheets, new.sheets)
    return Comparison(
        before=before.revision, after=after.revision if after else "now", documents=_documents(job.project, before, after, old, new),
        items=[i for c in changes for i in c.items], sections=[s for c in changes for s in c.sections][:MOST_SECTIONS],
        compared=sum(c.compared for c in changes), sheets=sheets, same_sheets=same,
        apart=_apart(old, new, before.revision, after.revision if after else "now"),
    )  # fmt: skip


#: By drawing its sheets in order: number, hash, and the number of its file.
SheetsOf = dict[str, list[tuple[str, str, int]]]


class _Side:
    """One state: its documents, figures by road, and sheets; faults: why a drawing has none."""

    def __init__(self, specs: Specs, figures: dict[str, RoadFigures], sheets: SheetsOf, faults: dict[str, str]) -> None:
        self.specs, self.figures, self.sheets, self.faults = specs, figures, sheets, faults

    @classmethod
    def issued(cls, issue: Issue) -> "_Side":
        specs = read_specs(issue.frozen).specs
        paths = {figures_path(road, FIGURES): road for road in roads_of(specs)}
        figures = {
            paths[file.path]: RoadFigures.model_validate_json(bytes(file.content)) for file in issue.files.filter(path__in=paths)
        }
        sheets = {d["key"]: [(s["number"], s["content"], s["file"]) for s in d["sheets"]] for d in issue.register}
        return cls(specs, figures, sheets, {})

    @classmethod
    def now(cls, job: Job, report: Report) -> "_Side":
        board = board_of(job.project)
        sheets: SheetsOf = {}
        faults: dict[str, str] = {}
        numbers = itertools.count()
        for k, key in enumerate(board.drawings):
            try:
                drawn = sheets_of(board, key)
            except SaddleError as error:
                faults[key] = error.message
                continue
            sheets[key] = []
            for sheet, number in zip(drawn, numbers, strict=False):
                keep_file(job, number, "", "image/svg+xml", page_to_svg(sheet.page).encode())
                sheets[key].append((sheet.number, sheet.laid.content, number))
            report(0.1 + 0.7 * (k + 1) / len(board.drawings))
        return cls(board.specs, {key: figures_of(road.set.model) for key, road in board.roads.items()}, sheets, faults)


def _changes(old: _Side, new: _Side) -> list[FigureChanges]:
    """What differs in figures, road by road; said with the road's name where one of both states has several."""
    none = RoadFigures(quantities=[], sections=[])
    roads = {**roads_of(old.specs), **roads_of(new.specs)}
    keys = [key for key in roads if key in old.figures or key in new.figures]
    found = {key: compare_figures(old.figures.get(key, none), new.figures.get(key, none)) for key in keys}
    return [change.on(roads[key].name) if len(keys) > 1 else change for key, change in found.items()]


def _sheets(old: SheetsOf, new: SheetsOf) -> tuple[list[SheetChange], int]:
    """Sheets that differ, of the drawings that both states have; and how many do not. They are paired by their place in the drawing."""
    out: list[SheetChange] = []
    same = 0
    for key in (k for k in old if k in new):
        for a, b in itertools.zip_longest(old[key], new[key]):
            if a and b and a[1] == b[1]:
                same += 1
                continue
            number = (b or a)[0]
            what: Literal["changed", "new", "gone"] = "changed" if a and b else "gone" if a else "new"
            out.append(
                SheetChange(drawing=key, number=number, what=what, before=a[2] if a else None, after=b[2] if b else None)
            )  # fmt: skip
    return out, same


def _apart(old: _Side, new: _Side, before: str, after: str) -> list[str]:
    """Drawings that one state does not have, and why, in words."""

    def number(side: _Side, key: str) -> str:
        spec = side.specs.get(("drawing", key))
        return spec.number if isinstance(spec, Drawing) else key

    gone = [
        f"{number(old, key)} cannot be drawn {after}: {new.faults[key]}"
        if key in new.faults
        else f"{number(old, key)} is in {before} only"
        for key in old.sheets
        if key not in new.sheets
    ]
    return gone + [f"{number(new, key)} is in {after} only" for key in new.sheets if key not in old.sheets]


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
