"""Roads and surfaces that several tests use."""

from dataclasses import replace
from functools import cache

import numpy as np

from demo.documents import SECTIONS, TEMPLATE_PLAN, TEMPLATES, TREATMENTS
from demo.road import ALIGNMENT, survey_csv
from saddle.exchange.point_rows import read
from saddle.exchange.survey_csv import preview
from saddle.geometry.polylines import Polylines
from saddle.pipeline import solve
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import Overlay, TreatmentPlan
from saddle.template import starter
from saddle.terrain.spec import CodeList, ColumnMapping, FromSurvey
from saddle.terrain.survey import BuiltSurface, Survey, build_surface, collect


@cache
def demo_survey() -> Survey:
    text = survey_csv()
    table, skipped = read(text, ColumnMapping(**preview(text).columns))
    assert not skipped
    return collect(table)


@cache
def demo_surface() -> BuiltSurface:
    return build_surface(demo_survey(), CodeList(), FromSurvey())


@cache
def demo_inputs() -> RoadInputs:
    return RoadInputs(
        ALIGNMENT, demo_surface().surface, demo_survey().lines_by_code(), SECTIONS, TREATMENTS, TEMPLATE_PLAN,
        starter.TEMPLATES | TEMPLATES, dict(starter.MAKE_UPS), dict(starter.KERBS), dict(starter.MATERIALS),
    )  # fmt: skip


def own_width(inputs: RoadInputs) -> RoadInputs:
    """The same road, lanes as wide as the templates say and not out to the old edges: widths to reckon with by hand."""
    ranges = [
        r.changed(work=r.work.changed(reach="own_width").model_dump()) if isinstance(r.work, Overlay) else r
        for r in inputs.treatments.ranges
    ]
    return replace(inputs, treatments=TreatmentPlan(ranges=ranges))


@cache
def demo_model() -> RoadModel:
    return solve(demo_inputs())


def random_ground(rng: np.random.Generator, n: int, width: float = 12.0, most: int = 14) -> Polylines:
    """n ragged grounds from -width to width with up to `most` inner vertices, some of them steps."""
    offsets = np.full((n, most + 2), np.inf)
    levels = np.full((n, most + 2), np.nan)
    for i in range(n):
        k = int(rng.integers(0, most + 1))
        inner = np.sort(rng.uniform(-width, width, k))
        if k > 3 and rng.random() < 0.3:
            inner[1] = inner[2]  # a step
        o = np.r_[-width, inner, width]
        offsets[i, : k + 2] = o
        levels[i, : k + 2] = 50 + 0.03 * o + rng.normal(0, 0.25, k + 2)
    return Polylines(offsets, levels)
