"""Speed of fitting: best levels, an edit of the cover, depth between surfaces, and a fitted profile, sizes doubled twice."""

from collections.abc import Callable
from dataclasses import replace
from functools import partial

import numpy as np

from bench.timing import best, table
from saddle.alignment.alignment import build
from saddle.alignment.profile import ProfilePoint, ProfileSpec, build_profile
from saddle.alignment.profile_fit import FitLimits, fit_profile
from saddle.alignment.spec import AlignmentSpec, Straight
from saddle.overlay.level_needs import Limits
from saddle.pipeline import solve
from saddle.road.levels import best_on
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import TreatmentPlan
from saddle.stages.run import Run
from saddle.standards.published import STARTING
from saddle.views.depth_map import depth_triangles, surface_triangles
from saddle.views.profile_report import report_profile


def bench_fitting(long_road: Callable[[float], RoadInputs]) -> None:
    """Best levels of a whole road, and what a change of the least cover costs."""
    rows: list[list[object]] = []
    for length in (2_500.0, 5_000.0, 10_000.0):
        inputs = long_road(length)
        run = Run()
        model = solve(inputs, run)

        def levels(limits: Limits, model: RoadModel = model, length: float = length) -> None:
            best_on(model, 0.0, length, limits, fix_ends=False)

        given = best(partial(levels, Limits(0.5)), 2)
        free = best(partial(levels, Limits(0.5, (-4.0, -1.5), 0.05)), 1)
        cover = iter(range(30, 90))

        def edit(inputs: RoadInputs = inputs, run: Run = run) -> None:
            old = inputs.treatments.ranges[0]
            new = old.changed(work={**old.work.model_dump(), "least_cover_mm": float(next(cover))})  # noqa: B023
            solve(replace(inputs, treatments=TreatmentPlan(ranges=[new])), run)

        maps = [best(partial(find, model), 1) for find in (depth_triangles, surface_triangles)]
        rows.append([len(model.chainage), given, free, best(edit), *maps])
    heads = ["sections", "levels s", "with crossfalls s", "edit of cover s", "depth, sections s", "depth, surfaces s"]
    table("Best levels and depth", heads, rows)
    _bench_profiles()


def _bench_profiles() -> None:
    """A profile of so many IPs, found again from levels every 10 m, and its report while an IP is dragged."""
    rows: list[list[object]] = []
    for count in (5, 10, 20):
        at = np.arange(count + 2) * 300.0
        level = 100 + np.cumsum(np.where(np.arange(count + 2) % 2, 6.0, -3.0))
        inner = range(1, count + 1)
        spec = ProfileSpec(
            points=[
                ProfilePoint(
                    chainage=float(c), level=float(z), length_in=60 if i in inner else 0, length_out=60 if i in inner else 0
                )
                for i, (c, z) in enumerate(zip(at, level, strict=True))
            ]
        )
        x = np.arange(0.0, at[-1] + 1, 10)
        z = build_profile(spec).levels(x)
        limits = FitLimits(11, 9, 8, 0.005, 40)
        line = build(AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=90, elements=[Straight(length=float(at[-1]))]))
        fitted = best(partial(fit_profile, x, z, limits), 1)
        told = best(partial(report_profile, spec, x, line, [], STARTING, 60.0))
        rows.append([count, len(x), fitted, told])
    table("Profiles", ["IPs", "levels", "fit s", "report s"], rows)
