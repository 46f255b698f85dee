"""The road as it would be with unsaved documents: what is in view follows the hand before anything is written.

A change set is previewed in two ways: the sections in view, each solved alone, which is quick however long the road is; and the whole
road along its chainage, which takes as long as an edit does. Nothing is written, and nothing of the project is driven out of memory.
"""

from dataclasses import replace
from typing import Any

import numpy as np
from django.http import HttpRequest
from ninja import Path, Router, Schema
from pydantic import Field

from config.errors import ERRORS
from config.memory import preview_run, variants_run
from design.bodies import KeyedIn
from projects.access import project_for
from road.bodies import Along, along
from road.inputs import MAPS, Loaded, RoadKey, field_of
from road.model import others_of, road_model, row_of
from saddle.documents import MAIN
from saddle.geometry.polylines import Ints
from saddle.pipeline import solve
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import Reconstruct
from saddle.road.stations import Stations
from saddle.views.section import SectionView, section_view

router = Router(tags=["output"])
#: Sections in view at once.
MOST_SECTIONS = 24


class PreviewIn(Schema):
    """Documents as they are on the screen, and what is in view: rows of the road as it is saved. Documents that the road does not
    follow from, and those that make a surface, change nothing here."""

    documents: list[KeyedIn] = Field(min_length=1, max_length=20)
    sections: list[int] = Field(default=[], max_length=MOST_SECTIONS)


class PreviewSections(Schema):
    """The sections asked for, in their order, each under the row that was asked for; where the change moves the sections, the one
    that then stands nearest."""

    sections: list[SectionView]


@router.post("/model/preview/sections", response={200: PreviewSections, **ERRORS}, operation_id="previewSections")
def preview_sections(request: HttpRequest, project_id: Path[int], payload: PreviewIn, road: RoadKey = MAIN) -> PreviewSections:
    """The sections in view as they would be."""
    project = project_for(request, project_id)
    model, loaded = road_model(project, road)
    rows = [row_of(model, index) for index in payload.sections]
    tried, found = try_rows(model, changed(loaded, payload.documents), rows)
    others = others_of(project, loaded)
    views = [section_view(tried, row, others).model_copy(update={"index": i}) for i, row in zip(rows, found, strict=True)]
    return PreviewSections(sections=views)


@router.post("/model/preview/along", response={200: Along, **ERRORS}, operation_id="previewAlong")
def preview_along(request: HttpRequest, project_id: Path[int], payload: PreviewIn, road: RoadKey = MAIN) -> Along:
    """The whole road as it would be."""
    _, loaded = road_model(project_for(request, project_id), road)
    return along(solve(changed(loaded, payload.documents), variants_run()))


def changed(loaded: Loaded, documents: list[Any]) -> RoadInputs:
    """What the road is computed from, with other documents."""
    inputs = loaded.inputs
    assert inputs is not None
    fields: dict[str, Any] = {}
    for d in documents:
        name = field_of(d.kind, d.key, d.spec, loaded.road, loaded.spec)
        if name is not None:
            fields[name] = {**fields.get(name, getattr(inputs, name)), d.key: d.spec} if d.kind in MAPS else d.spec
    return replace(inputs, **fields)


def try_rows(model: RoadModel, inputs: RoadInputs, rows: list[int]) -> tuple[RoadModel, list[int]]:
    """The road of other inputs, solved only where some sections of a road need it; and the rows of those sections in it."""
    places = [(float(model.chainage[row]), int(model.stations.side[row])) for row in rows]
    works = [r.work for r in inputs.treatments.ranges]

    def needed(stations: Stations) -> Ints:
        each = [_needed_rows(works, stations, _nearest(stations, *place)) for place in places]
        return np.unique(np.concatenate(each)) if each else np.array([0])

    tried = solve(inputs, preview_run(), needed)
    return tried, [_nearest(tried.stations, *place) for place in places]


def _nearest(stations: Stations, chainage: float, side: int) -> int:
    """The station that stands nearest, of two at one chainage the one on the same side."""
    return int(np.lexsort((np.abs(stations.side - side), np.abs(stations.chainage - chainage)))[0])


def _needed_rows(works: list[Any], stations: Stations, row: int) -> Ints:
    """The section, and where it is bridged also the ends of its bridge with their neighbours."""
    built = np.array([isinstance(w, Reconstruct) for w in works] + [False])[stations.treatment]
    if not built[row]:
        return np.array([row])
    others, n = np.flatnonzero(~built), len(built)
    before, after = others[others < row], others[others > row]
    first, last = (int(before[-1]) if before.size else 0), (int(after[0]) if after.size else n - 1)
    return np.unique([first, min(first + 1, n - 1), row, max(last - 1, 0), last])
