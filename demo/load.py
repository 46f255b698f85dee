"""Puts the demo roads into the database through the same import that a user goes through."""

from typing import Any

from django.contrib.auth.models import User

from demo import divided_road, hill_road
from demo.documents import (
    DRAINAGE,
    DRAINAGE_STYLE,
    FOLLOW,
    FROM_LIBRARY,
    GUIDES,
    PROFILES,
    SECTIONS,
    TEMPLATE_PLAN,
    TEMPLATES,
    TITLE_BLOCK,
    TREATMENTS,
    section_lines,
)
from demo.road import ALIGNMENT, survey_csv
from design.actions.change import Change, change_documents, start_documents
from design.models import Document, EditRecord
from jobs.models import Job
from jobs.run import execute
from projects.models import Membership, Project, Role
from saddle.documents import MAIN
from saddle.documents_base import Document as Spec
from saddle.exchange import starting
from saddle.exchange.bundle import bundle_of
from saddle.exchange.survey_csv import preview
from saddle.terrain.spec import CodeRule, ColumnMapping
from saddle.terrain.structures import from_survey
from survey.models import Upload
from survey.store import load
from survey.surfaces import code_list

#: Sign-in (which is also the password), full name, role.
DEMO_PEOPLE = (
    ("designer", "Dana Noll", Role.DESIGNER),
    ("checker", "Caro Hask", Role.CHECKER),
    ("viewer", "Vito Lamm", Role.VIEWER),
)


def load_demo() -> Project:
    """People, project, survey and documents of the first road."""
    project, designer = _project("Fennick Vale Road")
    fill(project, designer)
    _forget(project)
    return project


def fill(project: Project, designer: User) -> None:
    """Survey and documents of the first road, put into a project that has none of its own: two steps of its history."""
    survey_id = _import_survey(project, designer, "fennick-vale-survey.csv", survey_csv(), [], 60.0)
    structures = from_survey(load(survey_id).survey, code_list(project))
    specs: list[tuple[str, str, Spec]] = [
        ("alignment", MAIN, ALIGNMENT),
        *(("guide", key, guide) for key, guide in GUIDES.items()),
        *((kind, key, spec) for (kind, key), spec in bundle_of(starting.LIBRARY, FROM_LIBRARY).specs().items()),
        *(("template", key, template) for key, template in TEMPLATES.items()),
        *(("profile", key, profile) for key, profile in PROFILES.items()),
        ("follow", MAIN, FOLLOW),
        ("sections", MAIN, SECTIONS),
        ("treatments", MAIN, TREATMENTS),
        ("template_plan", MAIN, TEMPLATE_PLAN),
        ("structures", MAIN, structures),
        ("section_lines", "drainage", section_lines([pit.name for pit in structures.pits])),
        ("title_block", MAIN, TITLE_BLOCK),
        ("drawing_style", "drainage", DRAINAGE_STYLE),
        ("drawing", "drainage", DRAINAGE),
    ]
    _write(project, designer, specs)


def load_hill_road() -> Project:
    """The second road, for the same people."""
    project, designer = _project(hill_road.NAME)
    _import_survey(project, designer, "tarrow-hill-survey.csv", hill_road.survey_csv(), hill_road.RULES, 25.0)
    library = bundle_of(starting.LIBRARY, [("template", "wide-shoulder")]).specs()
    _write(project, designer, [(kind, key, spec) for (kind, key), spec in (library | hill_road.documents()).items()])
    _forget(project)
    return project


def load_divided_road() -> Project:
    """The third road: two carriageways and a lane, for the same people."""
    project, designer = _project(divided_road.NAME)
    _import_survey(project, designer, "larkmoor-survey-feet.csv", divided_road.survey_csv(), divided_road.RULES, 40.0)
    taken = [("template", "carriageway-left"), ("template", "carriageway-right"), ("median", "median")]
    specs = bundle_of(starting.LIBRARY, taken).specs() | divided_road.documents()
    _write(project, designer, [(kind, key, spec) for (kind, key), spec in specs.items()])
    _forget(project)
    return project


def _project(name: str) -> tuple[Project, User]:
    """A new project of the demo's people, and its designer."""
    project = Project.objects.create(name=name)
    people = {}
    for person, full_name, role in DEMO_PEOPLE:
        first, last = full_name.split()
        user, _ = User.objects.get_or_create(
            username=person, defaults={"first_name": first, "last_name": last, "email": f"{person}@example.invalid"}
        )
        user.set_password(person)
        user.save()
        Membership.objects.create(project=project, user=user, role=role)
        people[person] = user
    start_documents(project)
    return project, people["designer"]


def _write(project: Project, user: User, specs: list[tuple[str, str, Spec]]) -> None:
    versions = {(d.kind, d.key): d.version for d in Document.objects.filter(project=project)}
    change_documents(
        project, user, "Demo road", [Change(kind, key, spec, versions.get((kind, key), 0)) for kind, key, spec in specs]
    )


def _forget(project: Project) -> None:
    """The demo begins with a clean history."""
    EditRecord.objects.filter(project=project).delete()


def _import_survey(project: Project, user: User, name: str, text: str, rules: list[CodeRule], longest_edge: float) -> int:
    upload = Upload.objects.create(project=project, user=user, name=name, content=text.encode())
    found = preview(text)
    mapping: dict[str, Any] = ColumnMapping(
        delimiter=found.delimiter, header=found.header, **found.columns, unit=found.unit or "metre"
    ).model_dump()
    params = {"upload": upload.pk, "mapping": mapping, "rules": [r.model_dump() for r in rules], "longest_edge": longest_edge}
    job = Job.objects.create(project=project, user=user, kind="import_survey", params=params)
    execute(str(job.pk))
    job.refresh_from_db()
    if job.state != Job.State.DONE:
        raise RuntimeError(f"the demo survey did not import: {job.error}")
    assert job.result is not None
    return int(job.result["survey"])
