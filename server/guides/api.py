"""Guides: ready-made ones, the straightened diagram, and what the points that follow them get."""

from typing import Any

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Path, Router

from config.errors import ERRORS
from design.actions.change import Change, change_documents
from design.models import Document
from guides.bodies import Diagram, FollowedOut, GuideIn, GuideMade
from guides.diagram import diagram_of
from projects.access import project_for
from projects.models import Role
from road.inputs import RoadKey
from road.model import lines_of, road_model
from road.numbers import numbers
from saddle.documents import MAIN
from saddle.findings.lines import rule_all_along
from saddle.guides.evaluate import sound_guides
from saddle.guides.ready_made import ReadyMadeIn, make
from saddle.guides.spec import CornerCurve, FollowPlan, GuideSpec, OfRoad
from saddle.terrain.survey import polylines
from survey.store import survey_of

router = Router(tags=["guides"])


@router.post("/guides/ready-made", response={200: GuideSpec, **ERRORS}, operation_id="readyMadeGuide")
def ready_made_guide(request: HttpRequest, project_id: Path[int], payload: ReadyMadeIn) -> GuideSpec:
    """A guide from a few figures, as pieces that can be changed afterwards."""
    project_for(request, project_id)
    return make(payload)


@router.post("/guides", response={200: GuideMade, **ERRORS}, operation_id="makeGuide")
def make_guide(request: HttpRequest, project_id: Path[int], payload: GuideIn, road: RoadKey = MAIN) -> GuideMade:
    """A new guide, and where it is to be built the rule by which the lane's edge follows it wherever it is: one step of the history. Where
    no template with an edge stands there, the guide alone is made."""
    project = project_for(request, project_id, Role.DESIGNER)
    changes, point = [Change("guide", payload.key, payload.guide, 0)], None
    if payload.built:
        model, _ = road_model(project, road)
        sound, _ = sound_guides(model.inputs.guides | {payload.key: payload.guide})
        rule = rule_all_along(payload.key, payload.guide, model) if payload.key in sound else None
        if rule is not None:
            row = Document.objects.get(project=project, kind="follow", key=road)
            # What stands in the row, which somebody may have changed since the road was read.
            plan = FollowPlan.model_validate({"rules": [rule.model_dump(), *row.spec["rules"]]})
            changes.append(Change("follow", road, plan, row.version))
            point = f"{rule.point} {rule.side}"
    assert isinstance(request.user, User)
    change_documents(project, request.user, f"Guide “{payload.guide.name}” made", changes)
    return GuideMade(point=point)


@router.get("/guides/diagram", response={200: Diagram, **ERRORS}, operation_id="guideDiagram")
def guide_diagram(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> Diagram:
    """Guides and surveyed lines as chainage against offset, and the guides in plan."""
    project = project_for(request, project_id)
    _, loaded = road_model(project, road)
    survey = survey_of(project)
    assert loaded.inputs is not None and survey is not None
    followed = {g.source.road for g in loaded.inputs.guides.values() if isinstance(g.source, OfRoad | CornerCurve)}
    roads = {key: found for key in sorted(followed) if (found := lines_of(project, key)) is not None}
    return diagram_of(loaded.inputs, roads, polylines(survey))


@router.get("/guides/followed", response={200: list[FollowedOut], **ERRORS}, operation_id="followedPoints")
def followed_points(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> Any:
    """What each followed point gets on every section."""
    model, _ = road_model(project_for(request, project_id), road)
    return [
        FollowedOut(
            side="left" if f.side < 0 else "right",
            point=f.point,
            offset=numbers(f.offset),
            level=numbers(f.level),
            rule=f.rule.tolist(),
        )
        for f in model.followed
    ]
