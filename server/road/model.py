"""The solved roads of a project."""

from contextlib import suppress
from typing import Literal

from config import metrics
from config.errors import Refused
from config.memory import CACHE, run, variants_run
from projects.models import Project
from road.inputs import Loaded, load_inputs, roads_of
from saddle.errors import SaddleError
from saddle.guides.evaluate import RoadLines
from saddle.pipeline import lines_of as lines_given
from saddle.pipeline import solve
from saddle.quantities.variants import VariantResult, compare_variants
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import VariantPlan
from saddle.stages.keys import digest
from saddle.views.depth_map import DepthBand, depth_bands, depth_triangles, surface_triangles
from saddle.views.roads import OtherRoad


def road_model(project: Project, road: str) -> tuple[RoadModel, Loaded]:
    """A solved road. Raises Refused 409 when survey or alignment are missing, 404 for a road that is not there."""
    loaded = load_inputs(project, road, lambda other: lines_of(project, other))
    inputs = _there(loaded)
    return CACHE.get(f"road {loaded.stamp}", "road", lambda: _solved(inputs)), loaded


def _there(loaded: Loaded) -> RoadInputs:
    """The inputs of a road. Raises Refused 409 for what is missing."""
    inputs = loaded.inputs
    if inputs is None:
        what = " and ".join(loaded.missing)
        raise Refused(
            409,
            f"the road needs {'an' if what[0] == 'a' else 'a'} {what} first",
            what,
            f"add it at the stop {loaded.missing[0].capitalize()}",
        )
    return inputs


def _solved(inputs: RoadInputs) -> RoadModel:
    with metrics.SOLVE_SECONDS.time():
        return solve(inputs, run())


def lines_of(project: Project, road: str) -> RoadLines | None:
    """The lines that others follow of a road, or end at, found once for a state of it. They do not follow from where it ends itself, so
    that two roads may end at each other's middle. None where it cannot be computed, as the problems of who follows it say; no road
    follows one that follows it (`road.reading`)."""
    with suppress(Refused, SaddleError):
        inputs = _there(load_inputs(project, road, lambda other: lines_of(project, other), ends=False))
        return lines_given(inputs, run()).value
    return None


def others_of(project: Project, loaded: Loaded) -> list[OtherRoad]:
    """The project's other roads, those that can be computed."""
    found = []
    for key, road in roads_of(loaded.specs).items():
        if key != loaded.road:
            with suppress(Refused, SaddleError):
                found.append(OtherRoad(key, road.name, road_model(project, key)[0]))
    return found


def depth_bands_of(project: Project, road: str, between: Literal["sections", "surfaces"]) -> tuple[list[DepthBand], float]:
    """The overlay's depth in plan in bands, and its area, m2, computed once for a state of the road."""
    model, _ = road_model(project, road)

    def find() -> tuple[list[DepthBand], float]:
        triangles = (depth_triangles if between == "sections" else surface_triangles)(model)
        return depth_bands(triangles, model.inputs.settings.depth_bands_mm), float(triangles.area.sum())

    return CACHE.get(digest("depths", between, model.key), f"depths between {between}", find)


def variants(project: Project, road: str, plan: VariantPlan, low: float, high: float) -> list[VariantResult]:
    """The road as it is and its variants over a range, each solved once and kept."""
    _, loaded = road_model(project, road)
    assert loaded.inputs is not None
    return compare_variants(loaded.inputs, plan, low, high, variants_run())


def row_of(model: RoadModel, index: int) -> int:
    """A section's row. Raises Refused 404 outside the road."""
    if not 0 <= index < len(model.chainage):
        raise Refused(404, f"there is no section {index}; the road has {len(model.chainage)}", "section")
    return index
