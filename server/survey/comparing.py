"""Comparing two surfaces as a job."""

from dataclasses import asdict

from jobs.models import Job
from jobs.run import Report, handles
from saddle.terrain.compare import compare
from survey.bodies import CompareReport
from survey.surfaces import built, code_list, surface_specs


@handles("compare_surfaces", CompareReport, minutes=15, quick=True)
def compare_surfaces(job: Job, report: Report) -> CompareReport:
    """Cut and fill from the first to the second surface; nothing is written."""
    specs, codes = surface_specs(job.project), code_list(job.project)
    tins = [built(job.project, specs[job.params[which]], codes)[0] for which in ("first", "second")]
    report(0.3)
    return CompareReport(**asdict(compare(*tins)))
