"""The roads of a project: the list, a new one, one removed. Renaming, another alignment and the order are edits of the document."""

import re
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Path, Router, Schema

from config.errors import ERRORS, Refused
from config.memory import run
from design.actions.change import Change, change_documents
from design.models import Document
from design.specs import read_specs
from projects.access import project_for
from projects.models import Project, Role
from road.inputs import RoadKey, left_of, road_spec, roads_of
from road.model import road_model
from saddle.documents import KINDS, MAIN, road_documents
from saddle.documents_base import Key, Name
from saddle.errors import SaddleError
from saddle.findings.left import reason_for
from saddle.pipeline import lines_of, solve
from saddle.quantities.bill import added_up, as_printed
from saddle.quantities.takeoff import QuantityRow, take_off
from saddle.road.own_road import OwnRoad, own_road, taken_back
from saddle.road.side_roads import Around
from saddle.road.spec import RoadSpec
from saddle.views.mouth import mouth_of

router = Router(tags=["roads"])
#: Roads of a project.
MOST_ROADS = 50


class RoadIn(Schema):
    """A new road. alignment: that it shares with others, null for one of its own that is set out later; like: the key of a road whose
    decisions it begins with, null for none."""

    name: Name
    alignment: Key | None = None
    like: Key | None = None


class RoadOut(Schema):
    """A road of the list. start, end: chainages of its alignment, m, null before there is one; problems: those that are open, null
    where it cannot be computed; fault: why not."""

    key: str
    name: str
    alignment: str
    version: int
    start: float | None
    end: float | None
    problems: int | None
    fault: str


class RoadTotal(Schema):
    """The printed total of a road's bill; fault: why there is none."""

    key: str
    name: str
    rows: list[QuantityRow]
    fault: str


class RoadTotals(Schema):
    """The bills of all roads, in their order, and what they add up to. What cannot be computed is in no sum, as its fault says."""

    roads: list[RoadTotal]
    total: list[QuantityRow]


class RoadMade(Schema):
    """The key of the new road."""

    key: str


def _out(project: Project, key: str, road: RoadSpec, version: int) -> RoadOut:
    out = RoadOut(
        key=key, name=road.name, alignment=road.alignment, version=version, start=None, end=None, problems=None, fault=""
    )
    try:
        model, loaded = road_model(project, key)
    except Refused as refused:
        out.fault = refused.body.message
    except SaddleError as error:
        out.fault = error.message
    else:
        left = left_of(loaded)
        out.start, out.end = model.alignment.start, model.alignment.end
        out.problems = sum(reason_for(p, left) is None for p in model.problems)
    return out


@router.get("/roads", response={200: list[RoadOut], **ERRORS}, operation_id="listRoads")
def list_roads(request: HttpRequest, project_id: Path[int]) -> list[RoadOut]:
    """The roads of a project in their order."""
    project = project_for(request, project_id)
    versions = dict(Document.objects.filter(project=project, kind="road").values_list("key", "version"))
    roads = roads_of(read_specs(project, "road").specs)
    return [_out(project, key, road, versions.get(key, 0)) for key, road in roads.items()]


@router.get("/roads/quantities", response={200: RoadTotals, **ERRORS}, operation_id="quantitiesOfRoads")
def quantities_of_roads(request: HttpRequest, project_id: Path[int]) -> RoadTotals:
    """Areas, volumes, masses and lengths of every road as they are printed, and added up."""
    project = project_for(request, project_id)
    found = []
    for key, road in roads_of(read_specs(project, "road").specs).items():
        total = RoadTotal(key=key, name=road.name, rows=[], fault="")
        try:
            total.rows = as_printed(take_off(road_model(project, key)[0])).total.rows
        except Refused as refused:
            total.fault = refused.body.message
        except SaddleError as error:
            total.fault = error.message
        found.append(total)
    return RoadTotals(roads=found, total=added_up([road.rows for road in found]))


@router.post("/roads", response={200: RoadMade, **ERRORS}, operation_id="makeRoad")
def make_road(request: HttpRequest, project_id: Path[int], payload: RoadIn) -> Any:
    """A new road with all that is decided along one, as one step of the history."""
    project = project_for(request, project_id, Role.DESIGNER)
    specs = read_specs(project).specs
    roads = roads_of(specs)
    _refuse_another(payload.name, roads)
    if payload.alignment is not None and ("alignment", payload.alignment) not in specs:
        raise Refused(400, "there is no such alignment", "alignment", "choose one of the list")
    if payload.like is not None:
        road_spec(specs, payload.like)
    key = _free_key(payload.name, {key for _, key in specs})
    begin = road_documents()
    if payload.like is not None:
        begin |= {kind: spec for kind in begin if (spec := specs.get((kind, payload.like))) is not None}
    place = max(road.place for road in roads.values()) + 1
    made = RoadSpec(name=payload.name, alignment=payload.alignment or key, place=place)
    changes = [Change("road", key, made, 0), *(Change(kind, key, spec, 0) for kind, spec in begin.items())]
    assert isinstance(request.user, User)
    change_documents(project, request.user, f"Road “{payload.name}” added", changes)
    return RoadMade(key=key)


@router.post("/roads/of-mouth", response={200: RoadMade, **ERRORS}, operation_id="makeRoadOfMouth")
def make_road_of_mouth(request: HttpRequest, project_id: Path[int], payload: OwnRoad, road: RoadKey = MAIN) -> Any:
    """A side road or drive as a road of its own, tied to the road that is asked for, as one step of the history. A mouth that is tied in
    there on that side is taken back."""
    project = project_for(request, project_id, Role.DESIGNER)
    found = read_specs(project)
    roads = roads_of(found.specs)
    _refuse_another(payload.name, roads)
    key = _free_key(payload.name, {key for _, key in found.specs})
    inputs = road_model(project, road)[0].inputs
    around = taken_back(payload, Around.of(road, inputs))
    inputs = replace(inputs, template_plan=around.template_plan, treatments=around.treatments, milling=around.milling)
    middle = (payload.from_chainage + payload.to_chainage) / 2
    mouth = mouth_of(solve(inputs, run()), lines_of(inputs, run()).value, middle, payload.side)
    place = max(r.place for r in roads.values()) + 1
    made = own_road(payload, key, place, mouth, around)
    made |= {(kind, key): spec for kind, spec in road_documents().items() if (kind, key) not in made}
    made |= {
        ("template_plan", road): around.template_plan,
        ("treatments", road): around.treatments,
        ("milling", road): around.milling,
    }
    held = {(r.kind, r.key): r for r in Document.objects.filter(project=project)}
    changes = [
        Change(kind, name, spec, held[kind, name].version if (kind, name) in held else 0)
        for (kind, name), spec in made.items()
        if (kind, name) not in held or held[kind, name].spec != spec.model_dump(mode="json")
    ]
    assert isinstance(request.user, User)
    change_documents(project, request.user, f"Side road “{payload.name}” made a road", changes)
    return RoadMade(key=key)


def _refuse_another(name: str, roads: Mapping[str, RoadSpec]) -> None:
    if len(roads) >= MOST_ROADS:
        raise Refused(400, f"a project has up to {MOST_ROADS} roads", "roads", "begin another project")
    if name in (road.name for road in roads.values()):
        raise Refused(400, f"there is a road called {name} already", "name", "choose another name")


def _free_key(name: str, taken: set[str]) -> str:
    """A key out of a name that no road and no alignment has."""
    stem = re.sub(r"[^a-z0-9]+", "-", name.lower()).strip("-")[:60] or "road"
    return next(key for n in range(1, len(taken) + 2) if (key := stem if n == 1 else f"{stem}-{n}") not in taken)


@router.delete("/roads/{key}", response={200: None, **ERRORS}, operation_id="removeRoad")
def remove_road(request: HttpRequest, project_id: Path[int], key: str) -> None:
    """Remove a road with all that is decided along it, as one step of the history. Its alignment stays, with guides and profiles."""
    project = project_for(request, project_id, Role.DESIGNER)
    road = road_spec(read_specs(project, "road").specs, key)
    rows = Document.objects.filter(project=project, key=key)
    own = [row for row in rows.order_by("id") if row.kind == "road" or KINDS[row.kind].of_road]
    assert isinstance(request.user, User)
    changes = [Change(row.kind, key, None, row.version) for row in own]
    change_documents(project, request.user, f"Road “{road.name}” removed", changes)
