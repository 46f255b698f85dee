"""The register as sheets: all drawings of the project in their order."""

from collections.abc import Sequence

from saddle.drawings.body import Body, Listed, Task
from saddle.drawings.tables import Table, table_bodies

HEADS = ("Number", "Title", "Kind", "Sheets", "Rev.", "Status", "Date")


def draw_register(task: Task) -> list[Body]:
    """The register on as many sheets as it needs, itself among the others."""
    rows = task.of.register
    return _bodies(task, rows, len(_bodies(task, rows, 0)))


def _bodies(task: Task, rows: Sequence[Listed], own: int) -> list[Body]:
    lines = [(r.number, r.title, r.kind, _count(own if r.own else r.sheets), r.revision, r.status, r.date) for r in rows]
    table = Table("Register of drawings", HEADS, lines, figures=frozenset({3}))
    return table_bodies(table, task.room, task.style.text_height)


def _count(sheets: int | None) -> str:
    return "" if sheets is None else str(sheets)
