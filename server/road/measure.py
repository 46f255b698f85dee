"""Measuring between named points along the road."""

from django.http import HttpRequest
from ninja import Path, Query, Router, Schema

from config.errors import ERRORS, Refused
from projects.access import project_for
from road.inputs import RoadKey
from road.model import road_model
from road.numbers import Numbers, numbers
from saddle.documents import MAIN
from saddle.views.between import Named, Side, between, named_points

router = Router(tags=["output"])


class NamedOut(Schema):
    """A point that can be measured from or to; side: "old" for the old road's."""

    side: Side
    name: str


class MeasuredIn(Schema):
    """From one named point to another."""

    from_side: Side
    from_name: str
    to_side: Side
    to_name: str


class BetweenOut(Schema):
    """Per section: width, m, positive to the right; rise, m, positive upwards; rise over width, %. Null where either is not."""

    width: Numbers
    rise: Numbers
    pct: Numbers


@router.get("/model/points", response={200: list[NamedOut], **ERRORS}, operation_id="namedPoints")
def named(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> list[NamedOut]:
    """The named points of the road."""
    model, _ = road_model(project_for(request, project_id), road)
    return [NamedOut(side=p.side, name=p.name) for p in named_points(model)]


@router.get("/model/between", response={200: BetweenOut, **ERRORS}, operation_id="measureBetween")
def measure_between(request: HttpRequest, project_id: Path[int], asked: Query[MeasuredIn], road: RoadKey = MAIN) -> BetweenOut:
    """Width, rise and fall between two named points on every section."""
    model, _ = road_model(project_for(request, project_id), road)
    there = set(named_points(model))
    first, last = Named(asked.from_side, asked.from_name), Named(asked.to_side, asked.to_name)
    for point in (first, last):
        if point not in there:
            raise Refused(404, f"no section has a point {point.name} ({point.side})", "point", "choose one from the list")
    found = between(model, first, last)
    return BetweenOut(width=numbers(found.width), rise=numbers(found.rise), pct=numbers(found.pct))
