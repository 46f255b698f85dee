"""Alignments: what is drawn of them, and the tools that make them. Only a move of the start writes documents."""

from collections.abc import Mapping
from dataclasses import asdict
from typing import Annotated, Any

import numpy as np
from django.contrib.auth.models import User
from django.http import HttpRequest
from ninja import Path, Query, Router

from alignment.bodies import (
    AlignmentLook,
    ByDistances,
    ConstructIn,
    CurveCheck,
    FitIn,
    FromIpsIn,
    PartIn,
    Places,
    ShapeIn,
    ShapeOut,
    StartIn,
    TangentPoint,
)
from alignment.fits import surveyed_points
from config.errors import ERRORS, Refused
from design.actions.change import Change, change_documents
from design.bodies import DocumentOut
from design.models import Document
from design.specs import spec_of, the_spec
from jobs.api import JobOut, job_out
from jobs.run import start
from projects.access import project_for
from projects.models import Project, Role
from road.inputs import RoadKey, alignment_of, road_spec, roads_of
from saddle.alignment.alignment import build, curve_elements
from saddle.alignment.construct import at_chainage, at_distances
from saddle.alignment.ips import from_ips, to_ips
from saddle.alignment.parts import part_of, reversed_spec
from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec, Arc
from saddle.documents import KINDS, MAIN
from saddle.documents_base import Document as Spec
from saddle.documents_base import moved_along
from saddle.drawings.spec import Drawing
from saddle.errors import GeometryError
from saddle.geometry.fits import fit_circle, fit_line
from saddle.guides.spec import GuideSpec
from saddle.lines.spec import LineGroup
from saddle.road.spec import RoadSpec
from saddle.standards.curves import curve_limits
from saddle.standards.published import STARTING
from saddle.standards.sight import sightline_offset
from saddle.standards.spec import Standards

router = Router(tags=["alignment"])


@router.post("/alignment/start", response={200: list[DocumentOut], **ERRORS}, operation_id="moveStart")
def move_start(request: HttpRequest, project_id: Path[int], payload: StartIn, road: RoadKey = MAIN) -> Any:
    """Another start chainage for the road's alignment, and all that stands along it moves with it, as one step."""
    project = project_for(request, project_id, Role.DESIGNER)
    rows = {(r.kind, r.key): r for r in Document.objects.filter(project=project)}
    specs = {name: spec_of(row) for name, row in rows.items()}
    alignment = road_spec(specs, road).alignment
    there = rows.get(("alignment", alignment))
    if there is None:
        raise Refused(400, "there is no alignment yet", "alignment", "set one out first")
    if there.version != payload.version:
        raise Refused(409, "the alignment was changed meanwhile", "alignment", "look at it again")
    old = spec_of(there)
    assert isinstance(old, AlignmentSpec)
    by = payload.start_chainage - old.start_chainage
    changes = []
    roads = roads_of(specs)
    for (kind, key), spec in specs.items():
        moved = moved_along(spec, by) if _lies_along(kind, key, spec, alignment, roads) else spec
        if moved is not spec:
            changes.append(Change(kind, key, moved, rows[kind, key].version))
    assert isinstance(request.user, User)
    written = change_documents(project, request.user, "Start chainage, with all that stands along the road", changes)
    return [{"kind": r.kind, "key": r.key, "version": r.version, "spec": r.spec} for r in written]


def _lies_along(kind: str, key: str, spec: Spec, alignment: str, roads: Mapping[str, RoadSpec]) -> bool:
    """Whether the chainages of a document are those of an alignment. What all roads share has chainages of an alignment only where no
    road has another one."""
    if isinstance(spec, AlignmentSpec):
        return key == alignment
    if isinstance(spec, GuideSpec | ProfileSpec):
        return spec.alignment == alignment
    if isinstance(spec, Drawing | LineGroup):
        return spec.road in roads and roads[spec.road].alignment == alignment
    if KINDS[kind].of_road:
        return key in roads and roads[key].alignment == alignment
    return all(road.alignment == alignment for road in roads.values())


@router.post("/alignment/look", response={200: AlignmentLook, **ERRORS}, operation_id="lookAtAlignment")
def look_at_alignment(
    request: HttpRequest, project_id: Path[int], payload: AlignmentSpec, speed_kmh: Annotated[float, Query(ge=10, le=200)] = 60.0
) -> AlignmentLook:
    """How an alignment, saved or not, is drawn."""
    stopping = (the_spec(project_for(request, project_id), Standards, "standards") or STARTING).vertical.stopping.at(speed_kmh)
    line = build(payload)
    keys = line.key_chainages()
    fine = np.unique(np.concatenate([np.arange(line.start, line.end, max(1.0, (line.end - line.start) / 4000)), keys]))
    marks = line.frames(keys).origin.tolist()
    return AlignmentLook(
        line=line.frames(fine).origin.tolist(),
        tangent_points=[TangentPoint(chainage=c, at=at) for c, at in zip(keys.tolist(), marks, strict=True)],
        ips=to_ips(payload),
        curves=[
            CurveCheck(
                element=i,
                radius=abs(e.radius),
                tangent=(t := curve_elements(abs(e.radius), np.degrees(min(e.length / abs(e.radius), 3.1)))).tangent,
                external=t.external,
                sightline=sightline_offset(abs(e.radius), stopping),
                **asdict(curve_limits(abs(e.radius), speed_kmh)),
            )
            for i, e in enumerate(payload.elements)
            if isinstance(e, Arc)
        ],
    )


@router.post("/alignment/from-ips", response={200: AlignmentSpec, **ERRORS}, operation_id="alignmentFromIps")
def alignment_from_ips(request: HttpRequest, project_id: Path[int], payload: FromIpsIn) -> AlignmentSpec:
    """The alignment that intersection points make."""
    project_for(request, project_id)
    return from_ips(payload.alignment, payload.points)


@router.post("/alignment/part", response={200: AlignmentSpec, **ERRORS}, operation_id="partOfAlignment")
def part_of_alignment(request: HttpRequest, project_id: Path[int], payload: PartIn) -> AlignmentSpec:
    """A stretch of an alignment with its chainages."""
    project_for(request, project_id)
    return part_of(payload.alignment, payload.from_chainage, payload.to_chainage, payload.name)


@router.post("/alignment/fit", response={200: JobOut, **ERRORS}, operation_id="fitAlignment")
def fit_alignment(request: HttpRequest, project_id: Path[int], payload: FitIn) -> Any:
    """Start a best fit; the job's result is a FitResult. Nothing is written until somebody takes it over."""
    project = project_for(request, project_id, Role.DESIGNER)
    return job_out(start(project, request.user, "fit_alignment", payload.model_dump(mode="json")))


@router.post("/alignment/reversed", response={200: AlignmentSpec, **ERRORS}, operation_id="reversedAlignment")
def reversed_alignment(request: HttpRequest, project_id: Path[int], payload: AlignmentSpec) -> AlignmentSpec:
    """The same line walked from its end."""
    project_for(request, project_id)
    return reversed_spec(payload)


@router.post("/alignment/shape", response={200: ShapeOut, **ERRORS}, operation_id="shapeOfLines")
def shape_of_lines(request: HttpRequest, project_id: Path[int], payload: ShapeIn, road: RoadKey = MAIN) -> ShapeOut:
    """What surveyed lines look like between two chainages: a straight, or a circle of what radius."""
    project = project_for(request, project_id)
    points = surveyed_points(project, payload.lines)
    chainage, _ = build(_line_of(project, road)).locate(points)
    order = np.argsort(chainage)
    inside = order[(chainage[order] >= payload.from_chainage) & (chainage[order] <= payload.to_chainage)]
    p = points[inside]
    if len(p) < 3:
        raise Refused(400, f"only {len(p)} points lie in this range", "range", "mark a longer range")
    straight = fit_line(p)
    found = ShapeOut(points=len(p), straight_rms=float(np.sqrt(np.mean(straight.residual**2))), radius=None, circle_rms=None)
    try:
        circle = fit_circle(p)
    except GeometryError:
        return found
    way = p[-1] - p[0]
    right = np.sign(way[1] * (circle.centre - p[0])[0] - way[0] * (circle.centre - p[0])[1])
    found.radius = float(right * circle.radius)
    found.circle_rms = float(np.sqrt(np.mean(circle.residual**2)))
    return found


def _line_of(project: Project, road: str) -> AlignmentSpec:
    alignment = alignment_of(project, road)
    if alignment is None:
        raise Refused(409, "chainages need an alignment first", "alignment", "add it at the stop Alignment")
    return alignment


@router.post("/construct", response={200: Places, **ERRORS}, operation_id="constructPoint")
def construct_point(request: HttpRequest, project_id: Path[int], payload: ConstructIn, road: RoadKey = MAIN) -> Places:
    """A point by chainage and offset, or both points at two distances."""
    project = project_for(request, project_id)
    how = payload.how
    if isinstance(how, ByDistances):
        found = at_distances(np.array(how.first), how.first_distance, np.array(how.second), how.second_distance)
        return Places(places=found.tolist())
    return Places(places=[at_chainage(build(_line_of(project, road)), how.chainage, how.offset).tolist()])
