"""Schedules: reports as sheets."""

from saddle.drawings.body import Body, Task
from saddle.drawings.spec import ScheduleSheets
from saddle.drawings.tables import Table, table_bodies
from saddle.errors import SaddleError
from saddle.quantities.reports.table import report, written


def draw_schedule(task: Task) -> list[Body]:
    """A report on as many sheets as it needs. Raises SaddleError where it is not there or lists nothing."""
    assert isinstance(task.style.sheets, ScheduleSheets)
    layout = task.of.reports.get(task.style.sheets.report)
    if layout is None:
        raise SaddleError("the report of this schedule is not there", "drawing style", "choose another report")
    found = report(task.model, layout)
    rows = [[written(cell, head) for cell, head in zip(row, found.heads, strict=True)] for row in found.rows]
    heads = [head.title.replace("m2", "m²").replace("m3", "m³") for head in found.heads]
    figures = frozenset(k for k, head in enumerate(found.heads) if head.kind)
    notes = [found.note] if found.note else []
    return table_bodies(
        Table(found.name, heads, rows, notes, figures, frozenset(found.strong)), task.room, task.style.text_height
    )
