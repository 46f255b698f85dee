"""Surveys between database rows and the core's arrays."""

import io
import zipfile
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from django.db.models import Q, QuerySet

from config.errors import Refused
from config.memory import CACHE
from design.actions.checks import checks
from design.specs import the_spec
from projects.models import Project
from saddle.documents_base import Document as Spec
from saddle.exchange.found import NamedSurface
from saddle.stages.keys import code_version, digest
from saddle.terrain.in_use import SurveyInUse
from saddle.terrain.survey import Survey
from saddle.terrain.tin import Tin
from saddle.terrain.together import Layer, PutTogether, put_together
from survey import models


def surveys_of(project: Project) -> QuerySet[models.Survey]:
    """The imports of a project; of one that is frozen as an issue those that it rests on."""
    return models.Survey.objects.filter(Q(project=project) | Q(issued__issue__frozen=project)).distinct()


@dataclass(frozen=True, slots=True)
class Stored:
    """A survey and the surfaces that came with it, in their order."""

    survey: Survey
    surfaces: tuple[Tin, ...]


def to_npz(**arrays: Any) -> bytes:
    """Arrays as numpy's archive, compressed lightly: numpy's own way takes three times as long for little less."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=1) as archive:
        for name, array in arrays.items():
            with archive.open(f"{name}.npy", "w", force_zip64=True) as member:
                np.lib.format.write_array(member, np.asanyarray(array), allow_pickle=False)
    return out.getvalue()


def pack(survey: Survey, surfaces: list[NamedSurface]) -> bytes:
    """Arrays of a survey and of imported surfaces."""
    tins = {f"tin{i}_{part}": getattr(s.tin, part) for i, s in enumerate(surfaces) for part in ("points", "triangles")}
    s = survey
    return to_npz(number=s.number, xyz=s.xyz, code=s.code, line=s.line, segments=s.segments, **tins)


@lru_cache(maxsize=6)
def load(survey_id: int) -> Stored:
    """A survey; the last few are kept in memory (rows never change)."""
    row = models.Survey.objects.only("arrays").get(pk=survey_id)
    with np.load(io.BytesIO(bytes(row.arrays)), allow_pickle=False) as a:
        survey = Survey(a["number"], a["xyz"], a["code"], a["line"], a["segments"])
        tins: list[Tin] = []
        while f"tin{len(tins)}_points" in a:
            tins.append(Tin(a[f"tin{len(tins)}_points"], a[f"tin{len(tins)}_triangles"]))
        return Stored(survey, tuple(tins))


def in_use(project: Project) -> SurveyInUse:
    """Which import counts, and the unit of files that do not say theirs."""
    return the_spec(project, SurveyInUse, "survey") or SurveyInUse()


def current_id(project: Project) -> int | None:
    """Id of the first import that counts, None before there is one."""
    return in_use(project).survey


def identity(used: SurveyInUse) -> str:
    """What stands for the survey that counts: the same for as long as its points and lines are."""
    return digest("survey", code_version(), used.survey, [b for b in used.beside if b.on and not b.background], list(used.edits))


def counted(used: SurveyInUse) -> PutTogether:
    """The survey that counts: imports beside each other, with what was edited by hand. A first import is there."""
    assert used.survey is not None
    first = load(used.survey).survey
    if not used.beside and not used.edits:
        return PutTogether(first, (), len(first.number))
    return CACHE.get(identity(used), "survey", lambda: put_together(first, layers(used), used.edits))


def layers(used: SurveyInUse) -> list[Layer]:
    """The imports beside the first that count."""
    names = dict(models.Survey.objects.filter(pk__in=[b.survey for b in used.beside]).values_list("pk", "name"))
    return [Layer(load(b.survey).survey, b.within, names[b.survey]) for b in used.beside if b.on and not b.background]


def backgrounds(used: SurveyInUse) -> list[Survey]:
    """The imports that lie beneath the survey and are shown."""
    return [load(b.survey).survey for b in used.beside if b.on and b.background]


def survey_of(project: Project) -> Survey | None:
    """The survey that counts, None before there is one."""
    used = in_use(project)
    return None if used.survey is None else counted(used).survey


@checks("survey")
def is_of_the_project(project: Project, spec: Spec) -> None:
    """Refuses an import that the project does not have."""
    assert isinstance(spec, SurveyInUse)
    ids = {b.survey for b in spec.beside} | ({spec.survey} if spec.survey is not None else set())
    if surveys_of(project).filter(pk__in=ids).count() != len(ids):
        raise Refused(400, "there is no such import in this project", "survey", "choose one of the list of imports")
