"""Section lines: groups in plan, the road along a line, angles out of places, files out and in."""

from contextlib import suppress
from pathlib import Path as FilePath
from typing import Annotated, Literal

import numpy as np
from django.http import HttpRequest, HttpResponse
from ninja import File, Path, Query, Router, UploadedFile

from config.downloads import attachment
from config.errors import ERRORS, Refused
from config.memory import CACHE
from foreign.uploads import read_table
from lines.bodies import NotPlaced, OnePlace, PlacedGroup, PlacedLine, Skew, TwoPlaces
from projects.access import project_for
from projects.models import Project
from road.inputs import Loaded, RoadKey, alignment_of
from road.model import others_of, road_model
from saddle.alignment.equations import shown
from saddle.documents import MAIN
from saddle.errors import SaddleError
from saddle.exchange.lines_file import lines_csv, write_lines
from saddle.exchange.readers import lines_of_file
from saddle.lines.place import CutLine, Placed, angle_of, place_group
from saddle.lines.spec import LineGroup
from saddle.road.model import RoadModel
from saddle.template.view import known
from saddle.terrain.spec import CodeList, SurfaceSpec
from saddle.terrain.tin import Tin
from saddle.views.line import LineView, ground_of, line_view
from survey.surfaces import built

router = Router(tags=["lines"])


def _groups(loaded: Loaded) -> dict[str, LineGroup]:
    """The groups of a road by key."""
    found = {key: spec for (_, key), spec in sorted(loaded.specs.items()) if isinstance(spec, LineGroup)}
    return {key: spec for key, spec in found.items() if spec.road == loaded.road}


def _group(request: HttpRequest, project_id: int, road: str, key: str) -> tuple[Project, RoadModel, Loaded, LineGroup, Placed]:
    """A group in plan. Raises Refused 404 where there is none of that key."""
    project = project_for(request, project_id)
    model, loaded = road_model(project, road)
    group = _groups(loaded).get(key)
    if group is None:
        raise Refused(404, "there is no such group of section lines", key, "choose one of the list")
    return project, model, loaded, group, _placed(model, loaded, key, group)


def _placed(model: RoadModel, loaded: Loaded, key: str, group: LineGroup) -> Placed:
    """A group in plan, once for each state of the project: every view of a line asks for it."""
    return CACHE.get(f"lines {loaded.stamp} {key}", "lines", lambda: place_group(group, ground_of(model)))


def _out(model: RoadModel, part: int, line: CutLine) -> PlacedLine:
    along = line.along
    return PlacedLine(
        part=part, number=line.number, kind=line.kind, name=line.name, remark=line.remark, chainage=known(line.chainage),
        shown=known(shown(np.array([line.chainage]), model.inputs.alignment.equations)[0]), angle_deg=known(line.angle_deg),
        left=-float(along[0]), right=float(along[-1]), path=[(float(x), float(y)) for x, y in line.path],
    )  # fmt: skip


@router.get("/lines", response={200: list[PlacedGroup], **ERRORS}, operation_id="listLines")
def list_lines(request: HttpRequest, project_id: Path[int], road: RoadKey = MAIN) -> list[PlacedGroup]:
    """All groups of section lines in plan."""
    model, loaded = road_model(project_for(request, project_id), road)
    out = []
    for key, group in _groups(loaded).items():
        placed = _placed(model, loaded, key, group)
        lines = [_out(model, part, line) for part, line in enumerate(placed.lines)]
        out.append(
            PlacedGroup(key=key, name=group.name, lines=lines, wrong=[NotPlaced(number=n, why=w) for n, w in placed.wrong])
        )
    return out


@router.get("/lines/{key}/parts/{part}", response={200: LineView, **ERRORS}, operation_id="readLine")
def read_line(
    request: HttpRequest, project_id: Path[int], key: str, part: int,
    surfaces: Annotated[list[str], Query()] = [],  # noqa: B006
    road: RoadKey = MAIN,
) -> LineView:  # fmt: skip
    """The road along one line. surfaces: keys of others to be cut too."""
    project, model, loaded, group, placed = _group(request, project_id, road, key)
    if not 0 <= part < len(placed.lines):
        raise Refused(
            404, f"the group has {len(placed.lines)} lines, there is no number {part + 1}", key, "choose one of the list"
        )
    return line_view(model, group, key, part, placed.lines[part], _others(project, loaded, surfaces), others_of(project, loaded))


def _others(project: Project, loaded: Loaded, keys: list[str]) -> dict[str, Tin]:
    """Surfaces by name; one that cannot be built is left out, as the stop Survey says."""
    codes = loaded.specs.get(("code_list", MAIN), CodeList())
    assert isinstance(codes, CodeList)
    found: dict[str, Tin] = {}
    for key in keys[:10]:
        spec = loaded.specs.get(("surface", key))
        if isinstance(spec, SurfaceSpec):
            with suppress(SaddleError):
                found[spec.name] = built(project, spec, codes)[0]
    return found


@router.post("/lines/angle", response={200: Skew, **ERRORS}, operation_id="angleOfLine")
def angle_of_line(request: HttpRequest, project_id: Path[int], payload: TwoPlaces, road: RoadKey = MAIN) -> Skew:
    """The skew of a structure out of two of its places."""
    model, _ = road_model(project_for(request, project_id), road)
    chainage, angle = angle_of(model.alignment, np.array(payload.first), np.array(payload.last))
    return Skew(chainage=chainage, angle_deg=angle)


@router.post("/lines/square", response={200: Skew, **ERRORS}, operation_id="squareThrough")
def square_through(request: HttpRequest, project_id: Path[int], payload: OnePlace, road: RoadKey = MAIN) -> Skew:
    """Where a square line through a place stands."""
    model, _ = road_model(project_for(request, project_id), road)
    chainage, _offset = model.alignment.locate(np.array([payload.at]))
    if np.isnan(chainage[0]):
        raise Refused(400, "the place lies beyond the ends of the road", "place", "pick one beside the road")
    return Skew(chainage=float(chainage[0]), angle_deg=0.0)


@router.get("/lines/{key}/file", response={200: None, **ERRORS}, operation_id="linesFile")
def lines_file(
    request: HttpRequest, project_id: Path[int], key: str, form: Literal["json", "csv"] = "json", road: RoadKey = MAIN
) -> HttpResponse:
    """A group as a file: all of it as JSON, or chainage, angle and widths of its straight lines as CSV."""
    project, model, _, group, placed = _group(request, project_id, road, key)
    if form == "csv":
        return attachment(
            project.name, f"section-lines_{key}.csv", lines_csv(placed.lines, model.inputs.alignment.equations), "text/csv"
        )
    return attachment(project.name, f"section-lines_{key}.json", write_lines(group), "application/json")


@router.post("/lines/read", response={200: LineGroup, **ERRORS}, operation_id="readLinesFile")
def read_lines_file(request: HttpRequest, project_id: Path[int], file: File[UploadedFile], road: RoadKey = MAIN) -> LineGroup:
    """What a file of section lines holds (JSON, CSV or a workbook); nothing is written. It is of the road that it
    is read for, and called as its file where that does not say a name."""
    alignment = alignment_of(project_for(request, project_id), road)
    found = read_table(lines_of_file, file, FilePath(file.name or "").stem, alignment.equations if alignment else ())
    return found.model_copy(update={"road": road})
