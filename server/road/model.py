"""The solved road of a project, and previews of unsaved documents."""

from dataclasses import replace
from typing import Any, Literal

import numpy as np

from config import metrics
from config.errors import Refused
from config.memory import CACHE, preview_run, run, variants_run
from projects.models import Project
from road.inputs import MAPS, SINGLES, Loaded, load_inputs
from saddle.documents_base import Document as Spec
from saddle.geometry.polylines import Ints
from saddle.pipeline import solve
from saddle.quantities.variants import VariantResult, compare_variants
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import Reconstruct, VariantPlan
from saddle.road.stations import Stations
from saddle.stages.keys import digest
from saddle.views.depth_map import DepthBand, depth_bands, depth_triangles, surface_triangles


def road_model(project: Project) -> tuple[RoadModel, Loaded]:
    """The solved road. Raises Refused 409 when survey or alignment are missing."""
    loaded = load_inputs(project)
    inputs = loaded.inputs
    if inputs is None:
        what = " and ".join(loaded.missing)
        raise Refused(
            409,
            f"the road needs {'an' if what[0] == 'a' else 'a'} {what} first",
            what,
            f"add it at the stop {loaded.missing[0].capitalize()}",
        )
    return CACHE.get(f"road {loaded.stamp}", "road", lambda: _solved(inputs)), loaded


def _solved(inputs: RoadInputs) -> RoadModel:
    with metrics.SOLVE_SECONDS.time():
        return solve(inputs, run())


def depth_bands_of(project: Project, between: Literal["sections", "surfaces"]) -> tuple[list[DepthBand], float]:
    """The overlay's depth in plan in bands, and its area, m2, computed once for a state of the road."""
    model, _ = road_model(project)

    def find() -> tuple[list[DepthBand], float]:
        triangles = (depth_triangles if between == "sections" else surface_triangles)(model)
        return depth_bands(triangles, model.inputs.settings.depth_bands_mm), float(triangles.area.sum())

    return CACHE.get(digest("depths", between, model.key), f"depths between {between}", find)


def variants(project: Project, plan: VariantPlan, low: float, high: float) -> list[VariantResult]:
    """The road as it is and its variants over a range, each solved once and kept."""
    _, loaded = road_model(project)
    assert loaded.inputs is not None
    return compare_variants(loaded.inputs, plan, low, high, variants_run())


#: Kinds whose change leaves the sections where they are or moves them; the survey and the alignment have previews of their own.
_PREVIEWED = set(MAPS) | (set(SINGLES) - {"alignment", "sections", "structures"})


def preview(project: Project, kind: str, key: str, spec: Spec, index: int) -> tuple[RoadModel, int]:
    """The road as it would be with an unsaved document, solved only where one section needs it; and the row of that section,
    the nearest one where the change moves the sections. Raises Refused 400 for kinds without a preview, 404 outside the road."""
    model, loaded = road_model(project)
    assert loaded.inputs is not None
    row = row_of(model, index)
    if kind not in _PREVIEWED:
        raise Refused(400, f"a document of kind {kind} has no preview", "kind")
    change: dict[str, Any] = (
        {MAPS[kind]: {**getattr(loaded.inputs, MAPS[kind]), key: spec}} if kind in MAPS else {SINGLES[kind]: spec}
    )
    inputs = replace(loaded.inputs, **change)
    chainage, side = model.chainage[row], model.stations.side[row]
    works = [r.work for r in inputs.treatments.ranges]
    tried = solve(inputs, preview_run(), lambda stations: _needed_rows(works, stations, _nearest(stations, chainage, side)))
    return tried, _nearest(tried.stations, chainage, side)


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


def row_of(model: RoadModel, index: int) -> int:
    """A section's row. Raises Refused 404 outside the road."""
    if not 0 <= index < len(model.chainage):
        raise Refused(404, f"there is no section {index}; the road has {len(model.chainage)}", "section")
    return index
