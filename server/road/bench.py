"""The test bench: an unsaved template on a ground that the person draws. Nothing is written, no survey is needed."""

from django.http import HttpRequest
from ninja import Path, Router, Schema

from config.errors import ErrorOut
from design.models import Document
from projects.access import project_for
from saddle.documents import KINDS
from saddle.template.bench import BenchView, Trial, try_out
from saddle.template.compiled import Parts
from saddle.template.parts import KerbProfile, MakeUp
from saddle.template.spec import TemplateSpec

router = Router(tags=["bench"])


class BenchIn(Schema):
    """A template as it stands on the screen, and what it is tried on. make_ups, kerbs: unsaved ones by key."""

    template: TemplateSpec
    trial: Trial
    make_ups: dict[str, MakeUp] = {}
    kerbs: dict[str, KerbProfile] = {}


@router.post("/bench", response={200: BenchView, 400: ErrorOut, 403: ErrorOut, 404: ErrorOut}, operation_id="tryTemplate")
def try_template(request: HttpRequest, project_id: Path[int], payload: BenchIn) -> BenchView:
    """The template on the trial's ground, with all that is wrong with it."""
    project = project_for(request, project_id)
    make_ups, kerbs, names = dict(payload.make_ups), dict(payload.kerbs), {}
    for row in Document.objects.filter(project=project, kind__in=("make_up", "kerb", "guide", "surface")):
        if row.kind in ("guide", "surface"):
            names[f"{row.kind} {row.key}"] = row.spec.get("name", row.key)
            continue
        spec = KINDS[row.kind].model_validate(row.spec)
        if isinstance(spec, MakeUp):
            make_ups.setdefault(row.key, spec)
        elif isinstance(spec, KerbProfile):
            kerbs.setdefault(row.key, spec)
    return try_out(payload.template, Parts(make_ups, kerbs), payload.trial, names)
