"""Surveys between database rows and the core's arrays."""

import io
from functools import lru_cache

import numpy as np

from projects.models import Project
from saddle.terrain.survey import Assembly, Survey
from saddle.terrain.tin import Tin
from survey import models


def pack(assembly: Assembly) -> bytes:
    """Arrays of a survey and its surface as npz."""
    s, t = assembly.survey, assembly.surface
    out = io.BytesIO()
    np.savez_compressed(
        out, number=s.number, xyz=s.xyz, code=s.code, line=s.line, segments=s.segments, points=t.points, triangles=t.triangles
    )
    return out.getvalue()


@lru_cache(maxsize=4)
def load(survey_id: int) -> tuple[Survey, Tin]:
    """A survey and its surface; the last few are kept in memory (rows never change)."""
    row = models.Survey.objects.only("arrays").get(pk=survey_id)
    with np.load(io.BytesIO(bytes(row.arrays)), allow_pickle=False) as a:
        survey = Survey(a["number"], a["xyz"], a["code"], a["line"], a["segments"])
        return survey, Tin(a["points"], a["triangles"])


def current_id(project: Project) -> int | None:
    """Id of the survey that counts, or None."""
    return models.Survey.objects.filter(project=project).order_by("-id").values_list("id", flat=True).first()
