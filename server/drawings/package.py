"""The package: all files of an issue in one ZIP, with a transmittal sheet, the register and checksums."""

import io
import zipfile

from config.downloads import file_name
from drawings.bodies import STATUS
from drawings.comparing import issue_of
from drawings.models import Issue
from jobs.models import Job
from jobs.run import FileMade, Report, handles, keep_made
from saddle.drawings.tables import Table, table_pages
from saddle.drawings.title import Revision, Standing
from saddle.drawings.writers.pdf import pages_to_pdf
from saddle.exchange.tables import rows_csv


@handles("package", FileMade, minutes=60)
def package(job: Job, report: Report) -> FileMade:
    """One ZIP. It is the same bytes whenever it is asked for."""
    issue = issue_of(job.project, job.params["issue"])
    buffer = io.BytesIO()
    sums = []
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as out:
        count = issue.files.count()
        for k, file in enumerate(issue.files.order_by("number").iterator(chunk_size=8)):
            _write(out, issue, file.path, bytes(file.content))
            sums.append(f"{file.sha256}  {file.path}")
            report(0.8 * (k + 1) / count)
        _write(out, issue, "register.csv", rows_csv([(h, None) for h in HEADS], _rows(issue)).encode())
        _write(out, issue, "transmittal.pdf", transmittal(issue))
        _write(out, issue, "sha256.txt", ("\n".join(sums) + "\n").encode())
    return keep_made(job, file_name(job.project.name, f"issue_{issue.revision}.zip"), "application/zip", buffer.getvalue())


def _write(out: zipfile.ZipFile, issue: Issue, path: str, content: bytes) -> None:
    at = issue.at
    entry = zipfile.ZipInfo(path, (at.year, at.month, at.day, at.hour, at.minute, at.second))
    entry.compress_type = zipfile.ZIP_DEFLATED
    out.writestr(entry, content)


HEADS = ("Number", "Title", "Kind", "Revision", "Status")


def _rows(issue: Issue) -> list[list[str | float | None]]:
    return [
        [s["number"], s["title"], d["kind"], issue.revision, STATUS[issue.status]] for d in issue.register for s in d["sheets"]
    ]  # fmt: skip


def transmittal(issue: Issue) -> bytes:
    """The sheet that goes with an issue: what it holds, what it is for, and what was accepted with it."""
    day = issue.at.date().isoformat()
    accepted = issue.accepted
    notes = [f"Revision {issue.revision}, {STATUS[issue.status]}, {day}, by {issue.by_name}.", f"Reason: {issue.reason}."]
    if accepted["problems"]:
        notes.append(f"{len(accepted['problems'])} problems were open, accepted: {accepted['reason']}.")
    standing = Standing(issue.revision, STATUS[issue.status], day, (Revision(issue.revision, day, issue.reason, issue.by_name),))
    table = Table("Transmittal", list(HEADS), [[str(v) for v in row] for row in _rows(issue)], notes)
    return pages_to_pdf(table_pages(table, "A4", issue.frozen.name, standing), f"{issue.frozen.name}, issue {issue.revision}")
