"""Surveys between database rows and the core's arrays."""

import io
import zipfile
from dataclasses import dataclass
from functools import lru_cache
from typing import Any

import numpy as np

from projects.models import Project
from saddle.exchange.found import NamedSurface
from saddle.terrain.survey import Survey
from saddle.terrain.tin import Tin
from survey import models


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


def current_id(project: Project) -> int | None:
    """Id of the survey that counts: the newest with points, else the newest, or None."""
    rows = models.Survey.objects.filter(project=project).order_by("-id")
    found = rows.filter(points__gt=0).values_list("id", flat=True).first()
    return found if found is not None else rows.values_list("id", flat=True).first()
