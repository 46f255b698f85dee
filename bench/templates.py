"""Speed of a full template: 40 points, strips of 6 courses, boxing, 5 rungs a side; and of the test bench."""

import time
from collections.abc import Callable
from dataclasses import replace

import numpy as np

from bench.timing import best, table
from saddle.pipeline import solve
from saddle.road.model import RoadInputs
from saddle.road.spec import TemplatePlan, TemplateRange
from saddle.stages.run import Run
from saddle.template import starter
from saddle.template.bench import Trial, try_out
from saddle.template.compiled import Parts
from saddle.template.parts import MakeUp
from saddle.template.spec import TemplateSpec

SIX = MakeUp.model_validate(
    {
        "name": "Six courses",
        "courses": [
            *({"name": f"Course {j}", "material": "rock", "thickness_mm": 60} for j in range(5)),
            {"name": "Course 5", "material": "rock", "thickness_mm": 150, "outer": {"kind": "carry", "distance": 0.3}},
        ],
    }
)


def full_template(points_a_half: int = 20) -> TemplateSpec:
    """Both halves drawn apart, each with 20 points, every strip of six courses, two kerbs, a floor and five rungs."""
    points, strips, kerbs, here = [], [], [], "hinge"
    for i in range(points_a_half):
        if i in (8, 12):
            kerbs.append({"name": f"K{i}", "profile": "tall", "at": here})
            here = f"K{i}.back"
        name = f"P{i}"
        points.append(
            {
                "name": name,
                "offset": {"kind": "width", "parent": here, "width": 0.4},
                "level": {"kind": "fall", "parent": here, "crossfall_pct": -2.5 if i else None},
            }
        )
        strips.append(
            {
                "name": f"S{i}",
                "kind": "lane",
                "from_point": here,
                "to_point": name,
                "new": "six",
                "over_existing": "lane-overlay" if i < 7 else None,
            }
        )
        here = name
    zones = [{"to": {"point": p}, "depth_mm": 800} for p in ("P7", "P11", here)]
    half = {
        "points": points, "strips": strips, "kerbs": kerbs, "floors": [{"name": "Subgrade", "zones": zones}],
        "ladder": [r.model_dump() for r in starter.LADDER[1:6]],
        "boundary": {"by": "offset", "offset": 11.5},
    }  # fmt: skip
    return TemplateSpec.model_validate({"name": "Full", "right": half, "left": half})


def bench_full_template(long_road: Callable[[float], RoadInputs]) -> None:
    """The road solved with the full template, against the plain one, sizes doubled twice."""
    rows: list[list[object]] = []
    for length in (2_500.0, 5_000.0, 10_000.0):
        inputs = long_road(length)
        plan = TemplatePlan(ranges=[TemplateRange(from_chainage=0, to_chainage=length, template="full")])
        full = replace(
            inputs, template_plan=plan, templates={"full": full_template()}, make_ups=starter.MAKE_UPS | {"six": SIX}
        )  # fmt: skip
        start = time.perf_counter()
        model = solve(full)
        whole = time.perf_counter() - start
        plain = best(lambda inputs=inputs: solve(inputs), 1)  # type: ignore[misc]
        one = best(lambda full=full: solve(full, Run(passing=True), pick=lambda _: np.array([60])))  # type: ignore[misc]
        rows.append([len(model.chainage), whole, plain, whole / plain, one])
    table(
        "Full template: 40 points, 6 courses, boxing, 5 rungs a side",
        ["sections", "full s", "village s", "ratio", "one section s"],
        rows,
    )


def bench_test_bench() -> None:
    """What follows the mouse on the template bench."""
    parts = Parts(starter.MAKE_UPS | {"six": SIX}, dict(starter.KERBS))
    rows: list[list[object]] = []
    for name, spec in (("rural", starter.TEMPLATES["rural"]), ("urban", starter.TEMPLATES["urban"]), ("full", full_template())):
        rows.append([name, best(lambda spec=spec: try_out(spec, parts, Trial()), 5)])  # type: ignore[misc]
    table("One go of the test bench", ["template", "s"], rows)
