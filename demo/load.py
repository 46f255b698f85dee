"""Puts the demo into the database through the same import that a user goes through."""

from typing import Any

from django.contrib.auth.models import User

from demo.documents import FOLLOW, FROM_LIBRARY, GUIDES, PROFILES, SECTIONS, TEMPLATE_PLAN, TEMPLATES, TREATMENTS
from demo.road import ALIGNMENT, survey_csv
from design.actions.change import change_document, start_documents
from design.models import Document, EditRecord
from jobs.models import Job
from jobs.run import execute
from projects.models import Membership, Project, Role
from saddle.documents import MAIN
from saddle.exchange.bundle import bundle_of
from saddle.exchange.survey_csv import ColumnMapping, preview
from saddle.template import starter
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
    """People, project, survey and documents."""
    project = Project.objects.create(name="Fennick Vale Road")
    people = {}
    for name, full_name, role in DEMO_PEOPLE:
        first, last = full_name.split()
        user, _ = User.objects.get_or_create(username=name, defaults={"first_name": first, "last_name": last})
        user.set_password(name)
        user.save()
        Membership.objects.create(project=project, user=user, role=role)
        people[name] = user
    start_documents(project)
    survey_id = _import_survey(project, people["designer"])
    for kind, key, spec in (
        ("alignment", MAIN, ALIGNMENT),
        *(("guide", key, guide) for key, guide in GUIDES.items()),
        *((kind, key, spec) for (kind, key), spec in bundle_of(starter.LIBRARY, FROM_LIBRARY).specs().items()),
        *(("template", key, template) for key, template in TEMPLATES.items()),
        *(("profile", key, profile) for key, profile in PROFILES.items()),
        ("follow", MAIN, FOLLOW),
        ("sections", MAIN, SECTIONS),
        ("treatments", MAIN, TREATMENTS),
        ("template_plan", MAIN, TEMPLATE_PLAN),
        ("structures", MAIN, from_survey(load(survey_id).survey, code_list(project))),
    ):
        row = Document.objects.filter(project=project, kind=kind, key=key).first()
        change_document(project, people["designer"], kind, key, spec, row.version if row else 0)
    EditRecord.objects.filter(project=project).delete()  # the demo begins with a clean history
    return project


def _import_survey(project: Project, user: User) -> int:
    text = survey_csv()
    upload = Upload.objects.create(project=project, user=user, name="fennick-vale-survey.csv", content=text.encode())
    found = preview(text)
    mapping: dict[str, Any] = ColumnMapping(delimiter=found.delimiter, header=found.header, **found.columns).model_dump()
    params = {"upload": upload.pk, "mapping": mapping, "rules": [], "longest_edge": 60.0}
    job = Job.objects.create(project=project, user=user, kind="import_survey", params=params)
    execute(str(job.pk))
    job.refresh_from_db()
    if job.state != Job.State.DONE:
        raise RuntimeError(f"the demo survey did not import: {job.error}")
    assert job.result is not None
    return int(job.result["survey"])
