"""Speed of fitting: best levels, with and without crossfalls, and an edit of the cover, sizes doubled twice."""

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from bench.timing import best, table
from saddle.overlay.best_levels import Limits
from saddle.road.cache import StageCache
from saddle.road.levels import best_on
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.pipeline import solve
from saddle.road.spec import TreatmentPlan


def bench_fitting(long_road: Callable[[float], RoadInputs]) -> None:
    """Best levels of a whole road, and what a change of the least cover costs."""
    rows: list[list[object]] = []
    for length in (2_500.0, 5_000.0, 10_000.0):
        inputs = long_road(length)
        cache = StageCache()
        model = solve(inputs, cache)

        def levels(limits: Limits, model: RoadModel = model, length: float = length) -> None:
            best_on(model, 0.0, length, limits, fix_ends=False)

        given = best(partial(levels, Limits(0.5)), 2)
        free = best(partial(levels, Limits(0.5, (-4.0, -1.5), 0.05)), 1)
        cover = iter(range(30, 90))

        def edit(inputs: RoadInputs = inputs, cache: StageCache = cache) -> None:
            old = inputs.treatments.ranges[0]
            new = old.changed(work={**old.work.model_dump(), "least_cover_mm": float(next(cover))})  # noqa: B023
            solve(replace(inputs, treatments=TreatmentPlan(ranges=[new])), cache)

        rows.append([len(model.chainage), given, free, best(edit)])
    table("Best levels", ["sections", "levels s", "with crossfalls s", "edit of cover s"], rows)
