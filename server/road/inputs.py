"""All that a project's road is computed from, read once for a request."""

from contextlib import suppress
from dataclasses import dataclass
from typing import Any

from config.memory import CACHE
from design.specs import document_ids, read_specs
from projects.models import Project
from saddle.alignment.spec import AlignmentSpec
from saddle.documents import MAIN
from saddle.documents_base import Document as Spec
from saddle.errors import SaddleError
from saddle.road.model import RoadInputs
from saddle.stages.keys import digest
from saddle.template.spec import surfaces_of
from saddle.terrain.in_use import SurveyInUse
from saddle.terrain.spec import CodeList, SurfaceSpec
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.tin import Tin
from survey.store import counted, identity
from survey.surfaces import built

#: Kinds that are mappings from key to document in the inputs.
MAPS = {
    "template": "templates",
    "make_up": "make_ups",
    "kerb": "kerbs",
    "material": "materials",
    "guide": "guides",
    "profile": "profiles",
}
SINGLES = {
    "alignment": "alignment",
    "sections": "settings",
    "treatments": "treatments",
    "template_plan": "template_plan",
    "follow": "follow",
    "structures": "structures",
    "crossfalls": "crossfalls",
    "levels": "levels",
    "milling": "milling",
    "standards": "standards",
    "remarks": "remarks",
}


@dataclass(frozen=True)
class Loaded:
    """Inputs of a project, the documents by kind and key, and what is missing to compute. stamp: changes with any of them."""

    inputs: RoadInputs | None
    specs: dict[tuple[str, str], Spec]
    missing: list[str]
    stamp: str


def load_inputs(project: Project) -> Loaded:
    """Read all documents and the survey of a project. What stands for a document is the change that made it."""
    read = read_specs(project)
    specs, ids = read.specs, read.ids
    in_use = specs.get(("survey", MAIN))
    used = in_use if isinstance(in_use, SurveyInUse) and in_use.survey is not None else None
    alignment = specs.get(("alignment", MAIN))
    missing = [name for name, there in (("survey", used), ("alignment", alignment)) if there is None]
    stamp = _stamp(project.pk, list(ids.values()))
    if used is None or not isinstance(alignment, AlignmentSpec):
        return Loaded(None, specs, missing, stamp)
    codes = specs.get(("code_list", MAIN), CodeList())
    main = specs.get(("surface", MAIN), SurfaceSpec())
    assert isinstance(codes, CodeList) and isinstance(main, SurfaceSpec)
    surface, _ = built(project, main, codes)
    parts: dict[str, Any] = {field: {} for field in MAPS.values()}
    made_by: dict[str, list[str]] = {}
    for (kind, key), spec in specs.items():
        field = MAPS.get(kind) or (SINGLES.get(kind) if key == MAIN else None)
        if kind in MAPS:
            parts[MAPS[kind]][key] = spec
        elif field is not None:
            parts[field] = spec
        if field is not None:
            made_by.setdefault(field, []).append(ids[kind, key])
    parts["lines"] = _lines(used)
    parts["surfaces"] = _other_surfaces(project, specs, codes, parts)
    identities: dict[str, tuple[object, str]] = {name: (parts[name], f"documents {' '.join(by)}") for name, by in made_by.items()}
    identities["lines"] = (parts["lines"], f"survey {identity(used)}")
    return Loaded(RoadInputs(surface=surface, identities=identities, **parts), specs, [], stamp)


def stamp_of(project: Project) -> str:
    """The stamp of a project's inputs, without reading any of them."""
    return _stamp(project.pk, list(document_ids(project).values()))


def _stamp(project_id: int, ids: list[str]) -> str:
    return digest(project_id, ids)[:16]


def _lines(used: SurveyInUse) -> dict[str, SurveyLines]:
    return CACHE.get(f"lines of survey {identity(used)}", "survey lines", lambda: counted(used).survey.lines_by_code())


def _other_surfaces(
    project: Project, specs: dict[tuple[str, str], Spec], codes: CodeList, parts: dict[str, Any]
) -> dict[str, Tin]:
    """Surfaces besides the main one that the templates in use look at. One that cannot be built is left out: the points on it
    then have no level, which the problem list says."""
    found: dict[str, Tin] = {}
    used = {r.template for r in parts["template_plan"].ranges} & set(parts["templates"])
    for name in {n for key in used for n in surfaces_of(parts["templates"][key], parts["make_ups"])} - {MAIN}:
        spec = specs.get(("surface", name))
        if isinstance(spec, SurfaceSpec):
            with suppress(SaddleError):
                found[name] = built(project, spec, codes)[0]
    return found
