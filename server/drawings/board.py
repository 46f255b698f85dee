"""The drawings of a project as it is now: what a sheet is made from, read once, and sheets kept for as long as nothing of it changes."""

from collections.abc import Callable, Mapping
from contextlib import suppress
from dataclasses import dataclass, field, replace
from typing import TypeVar

from django.utils import timezone

from config.errors import Refused
from config.memory import CACHE
from design.specs import read_specs
from drawings.bodies import STATUS
from drawings.models import Issue
from projects.models import Project
from road.inputs import Loaded, left_of, roads_of
from road.model import road_model
from saddle.chainage import format_chainage
from saddle.documents import MAIN
from saddle.documents_base import Document as Spec
from saddle.drawings.body import Listed, Set
from saddle.drawings.kinds import KINDS
from saddle.drawings.make import Sheet, entitled, lay_out, whole_title
from saddle.drawings.spec import Drawing, DrawingStyle, TitleBlock
from saddle.drawings.title import WORKING, Revision, Standing
from saddle.errors import SaddleError
from saddle.findings.left import reason_for
from saddle.geometry.polylines import Floats
from saddle.lines.spec import LineGroup
from saddle.problem import Problem
from saddle.quantities.reports.spec import ReportLayout
from saddle.stages.keys import digest
from saddle.terrain.in_use import SurveyInUse
from saddle.terrain.spec import CodeList, SurfaceSpec
from saddle.terrain.tin import Tin
from saddle.views.roads import OtherRoad
from survey.store import backgrounds
from survey.surfaces import built

S = TypeVar("S", bound=Spec)
Specs = Mapping[tuple[str, str], Spec]


@dataclass(frozen=True, slots=True, eq=False)
class Solved:
    """A road of the board, solved, with what its drawings have in common."""

    set: Set
    loaded: Loaded


@dataclass(frozen=True, slots=True, eq=False)
class Board:
    """project: its name; roads: those that can be computed, by key in their order; faults: why the others cannot; styles, drawings: by
    key, drawings in the order of the register; specs: all documents; issues: of the project, oldest first; as_issued: the issue whose
    frozen project this is; issuing: how drawings stand that are just being issued."""

    project: str
    roads: Mapping[str, Solved]
    faults: Mapping[str, str]
    styles: Mapping[str, DrawingStyle]
    drawings: dict[str, Drawing]
    specs: Specs
    issues: list[Issue]
    as_issued: Issue | None
    issuing: Mapping[str, Standing] = field(default_factory=dict)

    def set_of(self, drawing: Drawing) -> Set:
        """What a drawing is made from. Raises SaddleError where its road cannot be computed."""
        found = self.roads.get(drawing.road)
        if found is None:
            raise SaddleError(
                self.faults.get(drawing.road, "the road of this drawing is not there"), "drawing", "choose another one at Content"
            )
        return found.set

    @property
    def several(self) -> bool:
        """Whether there is more than one road to be told from others."""
        return len(self.roads) + len(self.faults) > 1


def board_of(project: Project) -> Board:
    """Raises Refused 409 or SaddleError where no road can be computed."""
    specs = read_specs(project).specs
    roads: dict[str, Solved] = {}
    named = roads_of(specs)
    errors: dict[str, Refused | SaddleError] = {}
    for key, road in named.items():
        try:
            roads[key] = _solved(project, key, road.name)
        except (Refused, SaddleError) as error:
            errors[key] = error
    if not roads and errors:
        raise next(iter(errors.values()))
    faults = {key: f"{named[key].name}: {error}" for key, error in errors.items()}
    solved = [OtherRoad(key, road.set.road, road.set.model) for key, road in roads.items()]
    roads = {key: replace(road, set=replace(road.set, others=[o for o in solved if o.key != key])) for key, road in roads.items()}
    drawings = sorted(_of_kind(specs, "drawing", Drawing).items(), key=lambda item: (item[1].place, item[0]))
    frozen = Issue.objects.filter(frozen=project).first()
    issues = Issue.objects.filter(project=project) if frozen is None else frozen.and_before()
    return Board(
        project.name, roads, faults, _of_kind(specs, "drawing_style", DrawingStyle), dict(drawings), specs,
        list(issues.order_by("number")), frozen,
    )  # fmt: skip


def _solved(project: Project, key: str, name: str) -> Solved:
    model, loaded = road_model(project, key)
    specs = loaded.specs
    of = Set(
        model, _of_kind(specs, "drawing_style", DrawingStyle), _of_kind(specs, "title_block", TitleBlock).get(MAIN, TitleBlock()),
        project.name, _of_kind(specs, "report", ReportLayout), _of_kind(specs, "section_lines", LineGroup),
        _of_kind(specs, "code_list", CodeList).get(MAIN, CodeList()), lambda: _beneath(specs),
        lambda name: _surface_named(project, specs, name), road=name,
    )  # fmt: skip
    return Solved(of, loaded)


def _beneath(specs: Specs) -> list[Floats]:
    """Lines that lie beneath the survey."""
    used = _of_kind(specs, "survey", SurveyInUse).get(MAIN)
    return [] if used is None else [s.xyz[s.segments][:, :, :2] for s in backgrounds(used)]


def _surface_named(project: Project, specs: Specs, name: str) -> Tin | None:
    """A surface of the project by its name; None where there is none, or where it cannot be built, as the stop Survey says."""
    codes = _of_kind(specs, "code_list", CodeList).get(MAIN, CodeList())
    for spec in _of_kind(specs, "surface", SurfaceSpec).values():
        if spec.name == name:
            with suppress(SaddleError):
                return built(project, spec, codes)[0]
    return None


def _of_kind(specs: Specs, kind: str, model: type[S]) -> dict[str, S]:
    """The documents of a kind by key."""
    return {key: spec for (k, key), spec in specs.items() if k == kind and isinstance(spec, model)}


def open_problems(board: Board) -> list[str]:
    """What is open, in words: roads that cannot be computed, whose figures no issue holds, and problems that nobody left as they are;
    each with the name of its road where there are several."""
    return [
        *board.faults.values(),
        *(
            f"{f'{road.set.road}, ' if board.several else ''}{_told(problem)}"
            for road in board.roads.values()
            for problem in road.set.model.problems
            if reason_for(problem, left_of(road.loaded)) is None
        ),
    ]


def _told(p: Problem) -> str:
    """A problem in a line."""
    return f"{format_chainage(p.chainage_from, 0)} to {format_chainage(p.chainage_to, 0)}: {p.message}"


def drawing_of(board: Board, key: str) -> Drawing:
    """A drawing. Raises Refused 404 for one that is not there."""
    if key not in board.drawings:
        raise Refused(404, "there is no such drawing", f"drawing {key}", "choose one of the register")
    return board.drawings[key]


def holds(issue: Issue, key: str) -> bool:
    """Whether a drawing is part of an issue."""
    return any(d["key"] == key for d in issue.register)


def revisions_of(board: Board, key: str) -> tuple[Revision, ...]:
    """The issues that a drawing was part of, as its sheets say."""
    found = (i for i in board.issues if holds(i, key))
    return tuple(Revision(i.revision, i.at.date().isoformat(), i.reason, initials(i.by_name)) for i in found)


def initials(name: str) -> str:
    """How a person signs a revision."""
    return "".join(word[0] for word in name.split()[:3]).upper() or "-"


def standing_of(board: Board, key: str) -> Standing:
    """Where a drawing stands: as it is just being issued; that is on the board; in a frozen project as it stood if it was part of the
    issue."""
    if key in board.issuing:
        return board.issuing[key]
    issue = board.as_issued
    if issue is not None and holds(issue, key):
        return Standing(issue.revision, STATUS[issue.status], issue.at.date().isoformat(), revisions_of(board, key))
    return Standing("-", WORKING, timezone.now().date().isoformat(), revisions_of(board, key))


def sheets_of(board: Board, key: str, progress: Callable[[float], None] = lambda _: None) -> list[Sheet]:
    """The sheets of a drawing; what is drawn on them is kept for as long as nothing of it changes."""
    drawing, standing = drawing_of(board, key), standing_of(board, key)
    of = board.set_of(drawing)
    if _lists(board, key):
        of = replace(of, register=[_listed(board, other, own=other == key) for other in board.drawings])
    name = digest(
        "laid out", of.model.key, of.style_of(drawing), of.reports, of.lines, of.codes, drawing.changed(name="-", number="-", place=0),
        _of_kind(board.specs, "surface", SurfaceSpec), _of_kind(board.specs, "survey", SurveyInUse), list(of.register),
        [(other.key, other.name, other.model.key) for other in of.others],
    )  # fmt: skip
    return entitled(of, drawing, standing, CACHE.get(name, "sheets", lambda: lay_out(of, drawing, progress)))


def _lists(board: Board, key: str) -> bool:
    """Whether a drawing is the register."""
    style = board.styles.get(board.drawings[key].style)
    return style is not None and style.sheets.kind == "register"


def last_issue(board: Board, key: str) -> Issue | None:
    """The last issue that a drawing was part of."""
    return next((i for i in reversed(board.issues) if holds(i, key)), None)


def _listed(board: Board, key: str, *, own: bool) -> Listed:
    drawing, standing, issue = board.drawings[key], board.issuing.get(key), last_issue(board, key)
    if standing is None and issue is not None:
        standing = Standing(issue.revision, STATUS[issue.status], issue.at.date().isoformat())
    if standing is None:
        standing = Standing("-", WORKING, "")
    style = board.styles.get(drawing.style)
    drawn: list[Sheet] = []
    if not _lists(board, key):
        with suppress(SaddleError):
            drawn = sheets_of(board, key)
    kind = KINDS[style.sheets.kind].title if style else ""
    return Listed(
        drawing.number,
        whole_title(drawing, drawn),
        kind,
        len(drawn) or None,
        standing.revision,
        standing.status,
        standing.date,
        own,
    )
