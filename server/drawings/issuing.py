"""Issuing: drawings are laid out with their new revision and kept with all that they follow from, in one transaction."""

import hashlib
import itertools
import string
from collections.abc import Iterator
from dataclasses import dataclass, field, replace

from django.contrib.auth.models import User
from django.db import transaction
from django.utils import timezone
from ninja import Schema
from pydantic import Field, field_validator

from config.errors import Refused
from design.actions.change import lock
from design.models import Document
from drawings.board import Board, board_of, drawing_of, initials, open_problems, revisions_of, sheets_of
from drawings.bodies import STATUS, IssuedDrawing, IssuedSheet, IssueMade, Status
from drawings.making import as_dxf, as_pdf
from drawings.models import Issue, IssuedFile, IssuedSurvey
from jobs.models import Job
from jobs.run import Report, complete, handles
from projects.models import Project
from saddle.documents import MAIN
from saddle.drawings.body import Set
from saddle.drawings.kinds import KINDS
from saddle.drawings.make import file_stem
from saddle.drawings.title import Revision, Standing
from saddle.drawings.writers.svg import page_to_svg
from saddle.errors import SaddleError
from saddle.exchange.tables import quantities_csv, quantities_xlsx, rows_xlsx
from saddle.quantities.compared import figures_of
from saddle.quantities.takeoff import take_off
from saddle.terrain.in_use import SurveyInUse
from saddle.terrain.spec import Imported, SurfaceSpec
from saddle.views.report import overlay_report
from survey.models import Survey

#: Letters of revisions: I and O are left out, as they are in the fields of a sheet.
LETTERS = "".join(c for c in string.ascii_uppercase if c not in "IO")
#: The figures that comparisons read, among the files of an issue.
FIGURES = "figures.json"
#: Another person's issue may take the letter while the sheets are drawn: so often it is tried with the next one.
TRIES = 5


class IssueIn(Schema):
    """What is to be issued. drawings: keys; revision: empty for the next letter; accepted: why it is issued although problems are
    open."""

    drawings: list[str] = Field(min_length=1, max_length=200)
    status: Status
    reason: str = Field(min_length=1, max_length=300)
    revision: str = Field(default="", max_length=6, pattern=r"^[A-Za-z0-9]*$")
    accepted: str = Field(default="", max_length=300)

    @field_validator("drawings")
    @classmethod
    def _each_once(cls, keys: list[str]) -> list[str]:
        return list(dict.fromkeys(keys))

    @field_validator("reason")
    @classmethod
    def _says_something(cls, reason: str) -> str:
        if not reason.strip():
            raise ValueError("say why it is issued")
        return reason.strip()


@dataclass(slots=True)
class Files:
    """Files of an issue as they are made."""

    rows: list[IssuedFile] = field(default_factory=list)

    def add(self, path: str, content_type: str, content: bytes) -> int:
        """Keep a file; returns its number."""
        number = len(self.rows)
        sha = hashlib.sha256(content).hexdigest()
        self.rows.append(
            IssuedFile(
                number=number, path=path, content_type=content_type, sha256=sha, size=len(content), content=content
            )
        )  # fmt: skip
        return number

    def free(self, stem: str) -> str:
        """The beginning of a path that no file has yet: of drawings with one number the second gets a figure."""
        taken = {row.path.rsplit(".", 1)[0] for row in self.rows}
        return next(name for n in itertools.count(1) if (name := stem if n == 1 else f"{stem} ({n})") not in taken)


def next_revision(project: Project) -> str:
    """The letter after those that were used: A to Z without I and O, then AA."""
    taken = set(Issue.objects.filter(project=project).values_list("revision", flat=True))
    letters: Iterator[str] = (lead + last for lead in ("", *LETTERS) for last in LETTERS)
    free = next((name for name in letters if name not in taken), None)
    if free is None:
        raise Refused(409, "all revisions up to ZZ are used", "revision", "choose a revision of your own")
    return free


def check_issue(project: Project, wanted: IssueIn) -> Board:
    """What can be refused before anything is drawn. Raises Refused."""
    board = board_of(project)
    for key in wanted.drawings:
        drawing_of(board, key)
    if board.as_issued is not None:
        raise Refused(403, "what was issued is not issued again", "issue", "go back to the project")
    if wanted.revision and Issue.objects.filter(project=project, revision=wanted.revision).exists():
        raise Refused(409, f"revision {wanted.revision} was issued already", "revision", "leave it empty for the next letter")
    open_ = open_problems(board)
    if open_ and not wanted.accepted.strip():
        words = "problem is" if len(open_) == 1 else "problems are"
        raise Refused(400, f"{len(open_)} {words} open", "problems", "say why they are accepted, or leave each with a reason")
    return board


@handles("issue", IssueMade, minutes=60)
def issue(job: Job, report: Report) -> IssueMade:
    """Freeze drawings. Nothing of it is there before all of it is."""
    wanted = IssueIn.model_validate(job.params)
    board = check_issue(job.project, wanted)
    report(0.1)
    for _ in range(TRIES):
        made = _issued(job, board, wanted, wanted.revision or next_revision(job.project), report)
        if made is not None:
            return made
        if wanted.revision:
            raise Refused(409, f"revision {wanted.revision} was issued meanwhile", "revision", "choose another")
    raise Refused(409, "others issue at this very moment", "revision", "try again")


def _issued(job: Job, board: Board, wanted: IssueIn, revision: str, report: Report) -> IssueMade | None:
    """The issue under a revision, None where somebody took it while the sheets were drawn."""
    today = timezone.now().date().isoformat()
    by = (job.user.get_full_name() or job.user.username) if job.user else ""
    files, drawings = Files(), []
    this = Revision(revision, today, wanted.reason, initials(by))
    standings = {
        key: Standing(revision, STATUS[wanted.status], today, (*revisions_of(board, key), this)) for key in wanted.drawings
    }
    board = replace(board, issuing=standings)
    for k, key in enumerate(wanted.drawings):
        drawings.append(_drawing(board, key, files))
        report(0.1 + 0.7 * (k + 1) / len(wanted.drawings))
    facts = [("Project", job.project.name), ("Issue", f"{revision}, {STATUS[wanted.status]}"), ("Date", today)]
    for key, road in board.roads.items():
        _figures(files, key, road.set, [*facts, ("Road", road.set.road)] if board.several else facts)
    report(0.9)
    with transaction.atomic():
        lock(job.project)
        if Issue.objects.filter(project=job.project, revision=revision).exists():
            return None
        row = Issue.objects.create(
            project=job.project, number=Issue.objects.filter(project=job.project).count() + 1, revision=revision,
            status=wanted.status, reason=wanted.reason, by=job.user, by_name=by,
            accepted={"reason": wanted.accepted, "problems": open_problems(board)},
            register=[d.model_dump() for d in drawings], frozen=_frozen(job.project, board),
        )  # fmt: skip
        for survey in _surveys(board):
            sha = hashlib.sha256(bytes(survey.original)).hexdigest()
            IssuedSurvey.objects.create(issue=row, survey=survey, sha256=sha)
        for file in files.rows:
            file.issue = row
            file.save(force_insert=True)
        made = IssueMade(id=row.pk, revision=revision, frozen=row.frozen_id)
        complete(job, made)
    return made


def figures_path(road: str, name: str) -> str:
    """Where a file of a road's figures lies in an issue: those of the first road beside the drawings, others in a folder of theirs."""
    return name if road == MAIN else f"{road}/{name}"


def _figures(files: Files, key: str, of: Set, facts: list[tuple[str, str]]) -> None:
    """A road's quantities and figures among the files."""
    quantities = take_off(of.model)
    for name, kind, content in (
        ("quantities.csv", "text/csv", quantities_csv(quantities).encode()),
        ("quantities.xlsx", "application/octet-stream", quantities_xlsx(quantities, facts)),
        ("overlay.xlsx", "application/octet-stream", rows_xlsx("Overlay", *overlay_report(of.model))),
        (FIGURES, "application/json", figures_of(of.model).model_dump_json().encode()),
    ):
        files.add(figures_path(key, name), kind, content)


def _drawing(board: Board, key: str, files: Files) -> IssuedDrawing:
    """One drawing's sheets among the files. Raises SaddleError that names it."""
    drawing, revision = board.drawings[key], board.issuing[key].revision
    try:
        of, drawn = board.set_of(drawing), sheets_of(board, key)
    except SaddleError as error:
        raise SaddleError(f"{drawing.number}: {error.message}", error.subject, error.hint) from error
    if not drawn:
        raise SaddleError(f"{drawing.number} has no sheet", f"drawing {key}", "leave it out, or widen what it shows")
    title = f"{board.project}, {drawing.number} revision {revision}"
    stem = files.free(f"drawings/{file_stem(of, drawing, revision)}")
    sheets = [
        IssuedSheet(
            number=s.number, title=s.title, content=s.laid.content,
            file=files.add(f"sheets/{key}-{n:03d}.svg", "image/svg+xml", page_to_svg(s.page).encode()),
        )
        for n, s in enumerate(drawn, start=1)
    ]  # fmt: skip
    return IssuedDrawing(
        key=key, kind=KINDS[of.style_of(drawing).sheets.kind].title, number=drawing.number,
        width=drawn[0].size[0], height=drawn[0].size[1], sheets=sheets,
        pdf=files.add(f"{stem}.pdf", "application/pdf", as_pdf(drawn, title)),
        dxf=files.add(f"{stem}.dxf", "image/vnd.dxf", as_dxf(drawn, title)),
    )  # fmt: skip


def _frozen(project: Project, board: Board) -> Project:
    """A project that holds the documents as the sheets were drawn from them."""
    frozen = Project.objects.create(name=project.name)
    changed = {(d.kind, d.key): d for d in Document.objects.filter(project=project).select_related("changed_by").defer("spec")}
    rows = []
    for (kind, key), spec in board.specs.items():
        there = changed.get((kind, key))
        by: User | None = there.changed_by if there else None
        rows.append(
            Document(
                project=frozen, kind=kind, key=key, spec=spec.model_dump(mode="json"),
                version=there.version if there else 1, changed_by=by,
            )
        )  # fmt: skip
    Document.objects.bulk_create(rows)
    return frozen


def _surveys(board: Board) -> list[Survey]:
    """The surveys that the road was computed from."""
    found: set[int] = set()
    for spec in board.specs.values():
        if isinstance(spec, SurveyInUse) and spec.survey is not None:
            found |= {spec.survey, *(b.survey for b in spec.beside)}
        if isinstance(spec, SurfaceSpec) and isinstance(spec.source, Imported):
            found.add(spec.source.survey)
    return list(Survey.objects.filter(pk__in=found))
