"""Surfaces of a project: built from survey, code list and their document, and kept under the hash of those."""

import io
from dataclasses import asdict
from typing import Any

import numpy as np
from django.conf import settings

from design.specs import read_specs, the_spec
from projects.models import Project
from saddle.documents import MAIN
from saddle.errors import SaddleError
from saddle.stages.cache import Cache
from saddle.stages.keys import code_version, digest
from saddle.terrain.in_use import SurveyInUse
from saddle.terrain.spec import CodeList, FromSurvey, Imported, SurfaceSpec
from saddle.terrain.spikes import NO_BREAKS, spikes
from saddle.terrain.survey import BuiltSurface, build_surface
from saddle.terrain.survey import Survey as SurveyPoints
from saddle.terrain.tin import Tin, plane_over
from survey.models import BuiltSurface as Kept
from survey.store import counted, identity, in_use, load, surveys_of, to_npz

_memory = Cache(settings.CACHE_BYTES // 2)
#: Built surfaces kept per project.
MOST_KEPT = 12


def code_list(project: Project) -> CodeList:
    """The project's code list."""
    return the_spec(project, CodeList, "code_list") or CodeList()


def surface_specs(project: Project) -> dict[str, SurfaceSpec]:
    """Surfaces of the project by key; there always is the existing one."""
    specs = read_specs(project, "surface").specs
    return {MAIN: SurfaceSpec(), **{key: s for (_, key), s in specs.items() if isinstance(s, SurfaceSpec)}}


def built(project: Project, spec: SurfaceSpec, codes: CodeList) -> tuple[Tin, dict[str, Any]]:
    """A surface and what was noticed about it. Raises SaddleError where it cannot be built."""
    used = in_use(project)
    if used.survey is None:
        raise SaddleError("there is no survey yet", "survey", "import one at the stop Survey")
    key = digest(*_reads(project, spec, codes, used))
    return _memory.get(key, "surface", lambda: _from_database(project, spec, codes, used, key))


def keep(project: Project, spec: SurfaceSpec, codes: CodeList, tin: Tin, noticed: dict[str, Any]) -> None:
    """Remember a surface that an import has just built, so that it is not built again."""
    _store(project, digest(*_reads(project, spec, codes, in_use(project))), tin, noticed)


def _reads(project: Project, spec: SurfaceSpec, codes: CodeList, used: SurveyInUse) -> list[Any]:
    """What a surface follows from."""
    survey = spec.source.survey if isinstance(spec.source, Imported) else identity(used)
    return [code_version(), project.pk, survey, spec.source, codes if isinstance(spec.source, FromSurvey) else None]


def _from_database(
    project: Project, spec: SurfaceSpec, codes: CodeList, used: SurveyInUse, key: str
) -> tuple[Tin, dict[str, Any]]:
    row = Kept.objects.filter(project=project, digest=key).first()
    if row is not None:
        with np.load(io.BytesIO(bytes(row.arrays)), allow_pickle=False) as a:
            return Tin(a["points"], a["triangles"]), row.report
    made, survey = _made(project, spec, codes, used)
    report = noticed_about(made, survey)
    _store(project, key, made.surface, report)
    return made.surface, report


def _store(project: Project, key: str, tin: Tin, report: dict[str, Any]) -> None:
    arrays = to_npz(points=tin.points, triangles=tin.triangles)
    Kept.objects.get_or_create(project=project, digest=key, defaults={"arrays": arrays, "report": report})
    old = Kept.objects.filter(project=project).order_by("-id").values_list("id", flat=True)[MOST_KEPT:]
    Kept.objects.filter(pk__in=list(old)).delete()


def _made(project: Project, spec: SurfaceSpec, codes: CodeList, used: SurveyInUse) -> tuple[BuiltSurface, SurveyPoints]:
    if isinstance(spec.source, FromSurvey):
        survey = counted(used).survey
        return build_surface(survey, codes, spec.source), survey
    survey_id = spec.source.survey if isinstance(spec.source, Imported) else used.survey
    assert survey_id is not None
    if not surveys_of(project).filter(pk=survey_id).exists():
        raise SaddleError(f"the import that surface “{spec.name}” came with is gone", "surface", "choose another source")
    stored = load(survey_id)
    if isinstance(spec.source, Imported):
        if spec.source.number >= len(stored.surfaces):
            raise SaddleError(f"surface “{spec.name}” is not in the file it names", "surface", "choose another source")
        return BuiltSurface(stored.surfaces[spec.source.number], NO_BREAKS, [], []), stored.survey
    places = [p[:, :2] for p in (stored.survey.xyz, *(t.points for t in stored.surfaces)) if len(p)]
    low, high = np.concatenate(places).min(axis=0), np.concatenate(places).max(axis=0)
    return BuiltSurface(plane_over(np.array([*low, *high]), spec.source.level), NO_BREAKS, [], []), stored.survey


def noticed_about(made: BuiltSurface, survey: SurveyPoints) -> dict[str, Any]:
    """What was noticed about a surface."""
    tin = made.surface
    return {
        "points": len(np.unique(tin.triangles)),
        "triangles": len(tin.triangles),
        "conflicts": [c.reason for c in made.conflicts[:500]],
        "crossings": made.told,
        "spikes": [
            {**asdict(s), "number": _number(survey.number, survey.xyz, tin.points[s.vertex])} for s in spikes(tin, made.breaks)
        ],
    }


def _number(numbers: np.ndarray, xyz: np.ndarray, place: np.ndarray) -> str | None:
    """Number of the survey point in a place, or None."""
    if len(xyz) == 0:
        return None
    same = np.flatnonzero((np.abs(xyz - place) < 1e-6).all(axis=1))
    return str(numbers[same[0]]) if same.size else None
