"""Schedules: tables of the road as sheets. Another one is an entry of TABLES and of its choice in spec.ScheduleSheets."""

from collections.abc import Callable

from saddle.chainage import format_chainage
from saddle.drawings.body import Body, Task
from saddle.drawings.spec import ScheduleSheets
from saddle.drawings.tables import Table, table_bodies
from saddle.figures import FIGURES, Kind
from saddle.quantities.takeoff import QuantityGroup, take_off
from saddle.road.model import RoadModel
from saddle.views.report import overlay_report


def draw_schedule(task: Task) -> list[Body]:
    """A table on as many sheets as it needs."""
    assert isinstance(task.style.sheets, ScheduleSheets)
    table = TABLES[task.style.sheets.of](task.model)
    return table_bodies(table, task.room, task.style.text_height)


def _figure(value: float | None, kind: Kind) -> str:
    return "" if value is None else f"{value:,.{FIGURES[kind].decimals}f}"


def _quantities(model: RoadModel) -> Table:
    """Items with their figures, of every treatment and in total."""
    found = take_off(model)
    rows: list[list[str]] = []
    strong: set[int] = set()

    def add(group: QuantityGroup) -> None:
        strong.add(len(rows))
        reach = f"{format_chainage(group.from_chainage, 0)} to {format_chainage(group.to_chainage, 0)}"
        rows.append([f"{group.title} {reach}", "", "", "", "", "", ""])
        rows.extend(
            [
                r.name, r.material, _figure(r.volume, "volume"), _figure(r.mass, "mass"), _figure(r.length, "length"),
                _figure(r.area, "volume"), _figure(r.unknown_length or None, "length"),
            ]
            for r in group.rows
        )  # fmt: skip

    add(found.total)
    for group in found.groups:
        add(group)
    heads = ["Item", "Material", "Volume m³", "Mass t", "Length m", "Area m²", "Not known over m"]
    return Table("Layer quantities", heads, rows, [found.method], frozenset(range(2, 7)), frozenset(strong))


def _levels(model: RoadModel) -> Table:
    """The overlay section by section."""
    heads, rows = overlay_report(model)
    kinds = [kind for _, kind in heads]
    cells = [
        [
            "" if v is None or k is None else format_chainage(v) if k == "chainage" else f"{v:.{FIGURES[k].decimals}f}"
            for v, k in zip(row, kinds, strict=True)
        ]
        for row in rows
    ]
    return Table("Overlay, section by section", [h for h, _ in heads], cells, [], frozenset(range(len(heads))))


TABLES: dict[str, Callable[[RoadModel], Table]] = {"quantities": _quantities, "levels": _levels}
