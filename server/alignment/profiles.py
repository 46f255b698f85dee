"""Profiles: what an edit would make of one and what it amounts to, and the published standards to judge it by."""

from typing import Annotated

import numpy as np
from django.http import HttpRequest
from ninja import Path, Router, Schema
from pydantic import Field

from config.errors import ERRORS
from projects.access import project_for
from road.inputs import RoadKey
from road.model import road_model
from road.numbers import Numbers, numbers
from saddle.alignment.profile import ProfileSpec, build_profile
from saddle.alignment.profile_edit import Around, ProfileEdit, edit
from saddle.documents import MAIN
from saddle.geometry.polylines import Floats
from saddle.road.beneath import Clearance, beneath
from saddle.standards.published import SUPERELEVATION, VERTICAL
from saddle.standards.spec import SuperelevationStandard, VerticalStandard
from saddle.views.long_section import existing_levels
from saddle.views.profile_report import IpReport, ProfileReport, report_profile

router = Router(tags=["profiles"])
#: A drawn parabola has so many pieces.
PIECES = 24


class TryProfileIn(Schema):
    """A profile as it stands on the screen, and what to do with it; nothing is written."""

    spec: ProfileSpec
    edit: ProfileEdit | None = None
    speed_kmh: Annotated[float, Field(ge=20, le=140)] = 60.0


class ProfileOut(Schema):
    """The profile after the edit. level: on the first section of every chainage, m, null outside the profile; drawn: chainage
    and level along its tangents and parabolas; limits of the standard at the speed."""

    spec: ProfileSpec
    level: Numbers
    drawn: list[tuple[float, float]]
    ips: list[IpReport]
    clearances: list[Clearance]
    crest_k: float
    sag_k: float
    most_grade: float
    stopping: float


class PublishedOut(Schema):
    """Standards to begin with, by key."""

    vertical: dict[str, VerticalStandard]
    superelevation: dict[str, SuperelevationStandard]


@router.post("/profiles/try", response={200: ProfileOut, **ERRORS}, operation_id="tryProfile")
def try_profile(request: HttpRequest, project_id: Path[int], payload: TryProfileIn, road: RoadKey = MAIN) -> ProfileOut:
    """What an edit would make of a profile of the main alignment."""
    model, _ = road_model(project_for(request, project_id), road)
    standards = model.inputs.standards
    rows = model.stations.first
    c = model.chainage[rows]
    spec = payload.spec
    if payload.edit is not None:
        levels = {
            "existing": existing_levels(model)[rows],
            "design": model.hinge_level[rows],
            "level_table": model.inputs.levels.at(c),
        }
        spec = edit(spec, payload.edit, Around(c, levels, standards.vertical, payload.speed_kmh))
    found = report_profile(
        spec, c, model.alignment, beneath(model.inputs.structures, model.alignment), standards, payload.speed_kmh
    )
    return _out(spec, found)


def _out(spec: ProfileSpec, found: ProfileReport) -> ProfileOut:
    at = _drawn_at(spec)
    drawn = list(zip(at.tolist(), build_profile(spec).levels(at).tolist(), strict=True))
    return ProfileOut(
        spec=spec, level=numbers(found.level), drawn=drawn, ips=found.ips, clearances=found.clearances, crest_k=found.crest_k, sag_k=found.sag_k, most_grade=found.most_grade, stopping=found.stopping,
    )  # fmt: skip


def _drawn_at(spec: ProfileSpec) -> Floats:
    """Chainages that draw the profile: its ends, and every curve in pieces."""
    parts = [np.array([p.chainage for p in spec.points])]
    parts += [
        np.linspace(p.chainage - p.length_in, p.chainage + p.length_out, PIECES + 1)
        for p in spec.points
        if p.length_in + p.length_out > 0
    ]
    return np.unique(np.concatenate(parts))


@router.get("/standards/published", response={200: PublishedOut, **ERRORS}, operation_id="publishedStandards")
def published(request: HttpRequest, project_id: Path[int]) -> PublishedOut:
    """Published standards that a project may copy."""
    project_for(request, project_id)
    return PublishedOut(vertical=VERTICAL, superelevation=SUPERELEVATION)
