"""The test bench: an unsaved template on a ground that the person draws. Nothing is written, no survey is needed."""

from django.http import HttpRequest
from ninja import Path, Router, Schema

from config.errors import ERRORS
from design.specs import read_specs
from projects.access import project_for
from saddle.guides.spec import GuideSpec
from saddle.template.bench import BenchView, Trial, try_out
from saddle.template.compiled import Parts
from saddle.template.parts import KerbProfile, MakeUp
from saddle.template.spec import TemplateSpec
from saddle.terrain.spec import SurfaceSpec

router = Router(tags=["bench"])


class BenchIn(Schema):
    """A template as it stands on the screen, and what it is tried on. make_ups, kerbs: unsaved ones by key."""

    template: TemplateSpec
    trial: Trial
    make_ups: dict[str, MakeUp] = {}
    kerbs: dict[str, KerbProfile] = {}


@router.post("/bench", response={200: BenchView, **ERRORS}, operation_id="tryTemplate")
def try_template(request: HttpRequest, project_id: Path[int], payload: BenchIn) -> BenchView:
    """The template on the trial's ground, with all that is wrong with it."""
    project = project_for(request, project_id)
    make_ups, kerbs, names = dict(payload.make_ups), dict(payload.kerbs), {}
    for (kind, key), spec in read_specs(project, "make_up", "kerb", "guide", "surface").specs.items():
        if isinstance(spec, MakeUp):
            make_ups.setdefault(key, spec)
        elif isinstance(spec, KerbProfile):
            kerbs.setdefault(key, spec)
        elif isinstance(spec, GuideSpec | SurfaceSpec):
            names[f"{kind} {key}"] = spec.name
    return try_out(payload.template, Parts(make_ups, kerbs), payload.trial, names)
