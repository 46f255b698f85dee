"""Best fit as a job."""

from typing import Any

import numpy as np

from jobs.models import Job
from jobs.run import Report, handles
from projects.models import Project
from saddle.alignment.fit import fit, refit
from saddle.errors import SaddleError
from saddle.geometry.polylines import Floats
from saddle.terrain.survey import polylines
from setting_out.bodies import FitIn, FitResult
from survey.store import current_id, load


def surveyed_points(project: Project, lines: list[tuple[str, str]]) -> Floats:
    """Plan points (n, 2) of survey lines by code and name, one line after another. Raises SaddleError where one is not there."""
    survey_id = current_id(project)
    if survey_id is None:
        raise SaddleError("there is no survey to fit through", "survey", "import one at the stop Survey")
    known = {(p.code, p.name): p.points for p in polylines(load(survey_id).survey)}
    for key in lines:
        if key not in known:
            raise SaddleError(f"the survey has no line {' '.join(key)}", "lines", "choose lines of the list")
    return np.concatenate([known[key][:, :2] for key in lines])


@handles("fit_alignment")
def fit_alignment(job: Job, report: Report) -> dict[str, Any]:
    """Fit through lines of the survey; the result is a FitResult, nothing is written."""
    asked = FitIn.model_validate(job.params)
    points = surveyed_points(job.project, asked.lines)
    report(0.1)
    if asked.start_from is None:
        found = fit(points, asked.tolerance, asked.offset, asked.clothoids)
    else:
        found = refit(asked.start_from, points, asked.pinned, asked.offset)
    report(0.95)
    keep = np.r_[True, np.hypot(*np.diff(points, axis=0).T) > 1e-3]
    result = FitResult(
        alignment=found.spec,
        rms=found.rms,
        points=points[keep].tolist(),
        chainage=found.chainage.tolist(),
        residual=found.residual.tolist(),
        beyond=np.flatnonzero(np.abs(found.residual) > asked.tolerance).tolist(),
    )
    return result.model_dump(mode="json")
