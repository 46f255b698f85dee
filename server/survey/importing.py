"""Checking and importing a survey file: the same reading twice, written only at the end of the second."""

from typing import Any

import numpy as np
from django.db import transaction

from jobs.models import Job
from jobs.run import Report, handles
from saddle.errors import ImportProblem
from saddle.exchange.survey_csv import ColumnMapping, SkippedRow, decode, read
from saddle.terrain.survey import Assembly, CodeRule, assemble, guess_rule
from survey.models import Survey, Upload
from survey.store import pack

#: Skipped rows listed in a report; the total is always told.
LISTED = 500


def read_upload(job: Job, report: Report) -> tuple[Upload, Assembly, list[SkippedRow]]:
    """Points, lines and surface of an upload, as the job's parameters ask."""
    upload = Upload.objects.filter(pk=job.params["upload"], project=job.project).first()
    if upload is None:
        raise ImportProblem("the uploaded file is gone", hint="choose it again")
    mapping = ColumnMapping.model_validate(job.params["mapping"])
    rules = {r["code"]: CodeRule.model_validate(r) for r in job.params["rules"]}
    table, bad = read(decode(bytes(upload.content)), mapping, lambda share: report(0.5 * share))
    assembly = assemble(table, rules, job.params["longest_edge"], lambda share: report(0.5 + 0.4 * share))
    return upload, assembly, sorted([*bad, *assembly.skipped], key=lambda s: s.row)


def describe(assembly: Assembly, skipped: list[SkippedRow], rules: list[dict[str, Any]]) -> dict[str, Any]:
    """What was found: counts, codes, extent, skipped rows with reasons, breaklines that cross."""
    s = assembly.survey
    given = {r["code"]: CodeRule.model_validate(r) for r in rules}
    codes, counts = np.unique(s.code, return_counts=True)
    lines = {c: len(np.unique(s.line[(s.code == c) & (s.line != "")])) for c in codes}
    low, high = s.xyz.min(axis=0), s.xyz.max(axis=0)
    return {
        "points": len(s.number),
        "triangles": len(assembly.surface.triangles),
        "extent": [float(v) for v in (*low, *high)],
        "codes": [
            {**(given.get(str(c)) or guess_rule(str(c))).model_dump(), "points": int(n), "lines": lines[c]}
            for c, n in zip(codes, counts, strict=True)
        ],
        "skipped": [{"row": r.row, "reason": r.reason} for r in skipped[:LISTED]],
        "skipped_total": len(skipped),
        "crossings": assembly.dropped,
    }


@handles("check_survey")
def check_survey(job: Job, report: Report) -> dict[str, Any]:
    """Read everything, write nothing."""
    _, assembly, skipped = read_upload(job, report)
    return describe(assembly, skipped, job.params["rules"])


@handles("import_survey")
def import_survey(job: Job, report: Report) -> dict[str, Any]:
    """Read everything again and write it in one transaction."""
    upload, assembly, skipped = read_upload(job, report)
    found = describe(assembly, skipped, job.params["rules"])
    arrays = pack(assembly)
    report(0.95)
    with transaction.atomic():
        survey = Survey.objects.create(
            project=job.project, user=job.user, name=upload.name, original=upload.content, arrays=arrays, report=found
        )
        upload.delete()
    return {**found, "survey": survey.pk}
