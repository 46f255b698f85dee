"""Surveys between database rows and the core's arrays."""

import io
import zipfile
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np
from django.db.models import Q, QuerySet

from config.errors import Refused
from design.actions.checks import checks
from design.specs import the_spec
from projects.models import Project
from saddle.documents_base import Document as Spec
from saddle.exchange.found import NamedSurface
from saddle.terrain.spec import SurveyInUse
from saddle.terrain.survey import Survey
from saddle.terrain.tin import Tin
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


@lru_cache(maxsize=4)
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
    """Id of the import that counts, None before the first one."""
    return in_use(project).survey


@checks("survey")
def is_of_the_project(project: Project, spec: Spec) -> None:
    """Refuses an import that the project does not have."""
    assert isinstance(spec, SurveyInUse)
    if spec.survey is not None and not surveys_of(project).filter(pk=spec.survey).exists():
        raise Refused(400, "there is no such import in this project", "survey", "choose one of the list of imports")
