"""Best fit as a job."""

import numpy as np

from alignment.bodies import FitIn, FitResult
from design.specs import the_spec
from jobs.models import Job
from jobs.run import Report, handles
from projects.models import Project
from saddle.alignment.alignment import build
from saddle.alignment.fit import fit, refit
from saddle.alignment.spec import AlignmentSpec
from saddle.errors import SaddleError
from saddle.geometry.polylines import Floats
from saddle.terrain.survey import polylines
from survey.store import survey_of

#: A start this far beside the alignment that stands there is still a place on it, m.
BESIDE = 15.0


def surveyed_points(project: Project, lines: list[tuple[str, str]]) -> Floats:
    """Plan points (n, 2) of survey lines by code and name, one line after another. Raises SaddleError where one is not there."""
    survey = survey_of(project)
    if survey is None:
        raise SaddleError("there is no survey to fit through", "survey", "import one at the stop Survey")
    known = {(p.code, p.name): p.points for p in polylines(survey)}
    for key in lines:
        if key not in known:
            raise SaddleError(f"the survey has no line {' '.join(key)}", "lines", "choose lines of the list")
    return np.concatenate([known[key][:, :2] for key in lines])


def _in_step(project: Project, spec: AlignmentSpec) -> AlignmentSpec:
    """A found alignment with the chainages of the one that stands there, so that treatments and templates stay where they are:
    its start has the chainage that its place has on the old one, or the old start's where it lies beyond its ends."""
    there = the_spec(project, AlignmentSpec, "alignment")
    if there is None:
        return spec
    old = build(there)
    at, offset = old.locate(np.array([[spec.start_east, spec.start_north]]))
    known = np.isfinite(at[0]) and abs(offset[0]) < BESIDE
    start = round(float(at[0]), 3) if known else old.start
    return spec.changed(start_chainage=start)


@handles("fit_alignment", FitResult, minutes=15, quick=True)
def fit_alignment(job: Job, report: Report) -> FitResult:
    """Fit through lines of the survey; the result is a FitResult, nothing is written."""
    asked = FitIn.model_validate(job.params)
    points = surveyed_points(job.project, asked.lines)
    report(0.1)
    if asked.start_from is None:
        found = fit(points, asked.tolerance, asked.offset, asked.clothoids)
    else:
        found = refit(asked.start_from, points, asked.pinned, asked.offset)
    spec = _in_step(job.project, found.spec)
    report(0.95)
    keep = np.r_[True, np.hypot(*np.diff(points, axis=0).T) > 1e-3]
    return FitResult(
        alignment=spec,
        rms=found.rms,
        points=points[keep].tolist(),
        chainage=(found.chainage + (spec.start_chainage - found.spec.start_chainage)).tolist(),
        residual=found.residual.tolist(),
        beyond=np.flatnonzero(np.abs(found.residual) > asked.tolerance).tolist(),
    )
