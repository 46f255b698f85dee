"""Surfaces of a project: built from survey, code list and their document, and kept under the hash of those."""

import io
from dataclasses import asdict
from typing import Any

import numpy as np

from design.models import Document
from projects.models import Project
from saddle.documents import MAIN
from saddle.errors import SaddleError
from saddle.road.cache import StageCache, digest
from saddle.terrain.spec import CodeList, FromSurvey, Imported, SurfaceSpec
from saddle.terrain.spikes import NO_BREAKS, spikes
from saddle.terrain.survey import build_surface
from saddle.terrain.tin import Tin, plane_over
from survey.models import BuiltSurface, Survey
from survey.store import current_id, load, to_npz

_memory = StageCache(most=8)
#: Built surfaces kept per project.
KEPT = 12


def code_list(project: Project) -> CodeList:
    """The project's code list."""
    row = Document.objects.filter(project=project, kind="code_list", key=MAIN).first()
    return CodeList.model_validate(row.spec) if row else CodeList()


def surface_specs(project: Project) -> dict[str, SurfaceSpec]:
    """Surfaces of the project by key; there always is the existing one."""
    rows = Document.objects.filter(project=project, kind="surface").order_by("id")
    return {MAIN: SurfaceSpec(), **{r.key: SurfaceSpec.model_validate(r.spec) for r in rows}}


def built(project: Project, spec: SurfaceSpec, codes: CodeList) -> tuple[Tin, dict[str, Any]]:
    """A surface and what was noticed about it. Raises SaddleError where it cannot be built."""
    survey_id = spec.source.survey if isinstance(spec.source, Imported) else current_id(project)
    if survey_id is None:
        raise SaddleError("there is no survey yet", "survey", "import one at the stop Survey")
    reads = [project.pk, survey_id, spec.source, codes if isinstance(spec.source, FromSurvey) else None]
    return _memory.get("surface", lambda: _from_database(project, spec, codes, survey_id, digest(*reads)), *reads)


def _from_database(project: Project, spec: SurfaceSpec, codes: CodeList, survey_id: int, key: str) -> tuple[Tin, dict[str, Any]]:
    row = BuiltSurface.objects.filter(project=project, digest=key).first()
    if row is not None:
        with np.load(io.BytesIO(bytes(row.arrays)), allow_pickle=False) as a:
            return Tin(a["points"], a["triangles"]), row.report
    tin, report = _made(project, spec, codes, survey_id)
    BuiltSurface.objects.get_or_create(
        project=project, digest=key, defaults={"arrays": to_npz(points=tin.points, triangles=tin.triangles), "report": report}
    )
    old = BuiltSurface.objects.filter(project=project).order_by("-id").values_list("id", flat=True)[KEPT:]
    BuiltSurface.objects.filter(pk__in=list(old)).delete()
    return tin, report


def _made(project: Project, spec: SurfaceSpec, codes: CodeList, survey_id: int) -> tuple[Tin, dict[str, Any]]:
    if not Survey.objects.filter(pk=survey_id, project=project).exists():
        raise SaddleError(f"the import that surface “{spec.name}” came with is gone", "surface", "choose another source")
    stored = load(survey_id)
    conflicts: list[str] = []
    crossings: list[str] = []
    breaks = NO_BREAKS
    if isinstance(spec.source, FromSurvey):
        made = build_surface(stored.survey, codes, spec.source)
        tin, breaks = made.surface, made.breaks
        conflicts, crossings = [c.reason for c in made.conflicts], made.crossings
    elif isinstance(spec.source, Imported):
        if spec.source.number >= len(stored.surfaces):
            raise SaddleError(f"surface “{spec.name}” is not in the file it names", "surface", "choose another source")
        tin = stored.surfaces[spec.source.number]
    else:
        places = [p[:, :2] for p in (stored.survey.xyz, *(t.points for t in stored.surfaces)) if len(p)]
        low, high = np.concatenate(places).min(axis=0), np.concatenate(places).max(axis=0)
        tin = plane_over(np.array([*low, *high]), spec.source.level)
    return tin, {
        "points": len(np.unique(tin.triangles)),
        "triangles": len(tin.triangles),
        "conflicts": conflicts[:500],
        "crossings": crossings,
        "spikes": [
            {**asdict(s), "number": _number(stored.survey.number, stored.survey.xyz, tin.points[s.vertex])}
            for s in spikes(tin, breaks)
        ],
    }


def _number(numbers: np.ndarray, xyz: np.ndarray, place: np.ndarray) -> str | None:
    """Number of the survey point in a place, or None."""
    if len(xyz) == 0:
        return None
    same = np.flatnonzero((np.abs(xyz - place) < 1e-6).all(axis=1))
    return str(numbers[same[0]]) if same.size else None
