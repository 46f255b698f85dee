"""The solved road of a project, kept in memory under the hash of what it is computed from."""

from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Any, Literal

import numpy as np

from config.errors import Refused
from design.models import Document
from projects.models import Project
from saddle.alignment.spec import AlignmentSpec
from saddle.documents import KINDS, MAIN
from saddle.documents_base import Document as Spec
from saddle.errors import SaddleError
from saddle.road.cache import StageCache, digest
from saddle.road.depth_map import DepthBand, depth_bands, depth_triangles, surface_triangles
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.pipeline import solve
from saddle.road.spec import Reconstruct
from saddle.road.variants import VariantPlan, VariantResult, compare_variants
from saddle.standards.published import STARTING
from saddle.standards.spec import Standards
from saddle.template.spec import surfaces_of
from saddle.terrain.spec import CodeList, SurfaceSpec
from saddle.terrain.tin import Tin
from survey.store import current_id, load
from survey.surfaces import built

_cache = StageCache(most=400)

#: Kinds that are mappings from key to document in the inputs.
_MAPS = {
    "template": "templates",
    "make_up": "make_ups",
    "kerb": "kerbs",
    "material": "materials",
    "guide": "guides",
    "profile": "profiles",
}
_SINGLES = {
    "sections": "settings",
    "treatments": "treatments",
    "template_plan": "template_plan",
    "follow": "follow",
    "structures": "structures",
    "crossfalls": "crossfalls",
    "levels": "levels",
    "milling": "milling",
    "standards": "standards",
}


@dataclass(frozen=True)
class Loaded:
    """Inputs of a project, the documents that are not part of them, and what is missing to compute."""

    inputs: RoadInputs | None
    specs: dict[tuple[str, str], Spec]
    missing: list[str]
    stamp: str


def load_inputs(project: Project) -> Loaded:
    """Read all documents and the survey of a project."""
    rows = list(Document.objects.filter(project=project).order_by("kind", "id"))
    specs = {(r.kind, r.key): KINDS[r.kind].model_validate(r.spec) for r in rows}
    survey_id = current_id(project)
    alignment = specs.get(("alignment", MAIN))
    missing = [name for name, there in (("survey", survey_id), ("alignment", alignment)) if there is None]
    stamp = digest(project.pk, survey_id, [f"{r.kind}/{r.key}/{r.version}/{r.spec}" for r in rows])[:16]
    if survey_id is None or not isinstance(alignment, AlignmentSpec):
        return Loaded(None, specs, missing, stamp)
    stored = load(survey_id)
    codes = specs.get(("code_list", MAIN), CodeList())
    main = specs.get(("surface", MAIN), SurfaceSpec())
    assert isinstance(codes, CodeList) and isinstance(main, SurfaceSpec)
    surface, _ = built(project, main, codes)
    parts: dict[str, Any] = {field: {} for field in _MAPS.values()}
    for (kind, key), spec in specs.items():
        if kind in _MAPS:
            parts[_MAPS[kind]][key] = spec
        elif kind in _SINGLES:
            parts[_SINGLES[kind]] = spec
    lines = _cache.get("survey lines", stored.survey.lines_by_code, survey_id)
    others = _other_surfaces(project, specs, codes, parts)
    return Loaded(RoadInputs(alignment=alignment, surface=surface, lines=lines, surfaces=others, **parts), specs, [], stamp)


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


def standards_of(project: Project) -> Standards:
    """What the project is judged by."""
    row = Document.objects.filter(project=project, kind="standards", key=MAIN).first()
    return Standards.model_validate(row.spec) if row else STARTING


def road_model(project: Project) -> tuple[RoadModel, Loaded]:
    """The solved road. Raises Refused 409 when survey or alignment are missing."""
    loaded = load_inputs(project)
    if loaded.inputs is None:
        what = " and ".join(loaded.missing)
        raise Refused(
            409,
            f"the road needs {'an' if what[0] == 'a' else 'a'} {what} first",
            what,
            f"add it at the stop {loaded.missing[0].capitalize()}",
        )
    inputs = loaded.inputs
    return _cache.get("road", lambda: solve(inputs, _cache), loaded.stamp), loaded


def depth_bands_of(project: Project, between: Literal["sections", "surfaces"]) -> tuple[list[DepthBand], float]:
    """The overlay's depth in plan in bands, and its area, m2, computed once for a state of the road."""
    model, loaded = road_model(project)

    def find() -> tuple[list[DepthBand], float]:
        triangles = (depth_triangles if between == "sections" else surface_triangles)(model)
        return depth_bands(triangles, model.inputs.settings.depth_bands_mm), float(triangles.area.sum())

    return _cache.get(f"depths between {between}", find, loaded.stamp)


def variants(project: Project, plan: VariantPlan, low: float, high: float) -> list[VariantResult]:
    """The road as it is and its variants over a range, each solved once and kept."""
    _, loaded = road_model(project)
    assert loaded.inputs is not None
    return compare_variants(loaded.inputs, plan, low, high, _cache)


def preview(project: Project, kind: str, key: str, spec: Spec, index: int) -> RoadModel:
    """The road as it would be with an unsaved document, solved only where one section needs it.

    Returns a model whose last row is the section asked for.
    """
    model, loaded = road_model(project)
    assert loaded.inputs is not None
    row = row_of(model, index)
    change: dict[str, Any]
    if kind in _MAPS:
        change = {_MAPS[kind]: {**getattr(loaded.inputs, _MAPS[kind]), key: spec}}
    elif kind in ("treatments", "template_plan", "follow", "crossfalls", "levels", "milling", "standards"):
        change = {_SINGLES[kind]: spec}
    else:
        raise Refused(400, f"a document of kind {kind} has no preview", "kind")
    return solve(replace(loaded.inputs, **change), _cache, _needed_rows(model, row))


def _needed_rows(model: RoadModel, row: int) -> np.ndarray:
    """The section, and where it is bridged also the ends of its bridge with their neighbours."""
    if not isinstance(model.work_at(row), Reconstruct):
        return np.array([row])
    first = last = row
    n = len(model.chainage)
    while first > 0 and isinstance(model.work_at(first), Reconstruct):
        first -= 1
    while last < n - 1 and isinstance(model.work_at(last), Reconstruct):
        last += 1
    return np.unique([first, min(first + 1, n - 1), row, max(last - 1, 0), last])


def row_of(model: RoadModel, index: int) -> int:
    """A section's row. Raises Refused 404 outside the road."""
    if not 0 <= index < len(model.chainage):
        raise Refused(404, f"there is no section {index}; the road has {len(model.chainage)}", "section")
    return index
