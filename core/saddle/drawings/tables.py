"""Tables as sheets: rows over as many sheets as they need, headings on each."""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from saddle.drawings.body import Body
from saddle.drawings.display import GRID, MEDIUM, THIN, TIN, Item, Page, Polyline, Room, Text
from saddle.drawings.lettering import shortened, width_of, wrapped
from saddle.drawings.spec import PAPER, Paper, TitleBlock
from saddle.drawings.title import Said, Standing, draw_title, drawing_room

#: From line to line in heights of lettering, and room at both sides of a cell, mm.
STEP, PADDING = 2.0, 1.5


@dataclass(frozen=True, slots=True)
class Table:
    """notes: lines above it on the first sheet. figures: columns that are written to the right in figures; strong: rows that are
    written as headings of what follows."""

    title: str
    heads: Sequence[str]
    rows: Sequence[Sequence[str]]
    notes: Sequence[str] = ()
    figures: frozenset[int] = frozenset()
    strong: frozenset[int] = frozenset()


def table_bodies(table: Table, room: Room, height: float) -> list[Body]:
    """The table in a room. height: of its lettering, mm."""
    step = STEP * height
    widths = _widths(table, room.width, height)
    bodies: list[Body] = []
    y = 0.0
    for k in range(max(1, len(table.rows))):
        if not bodies or y - step < room.bottom:
            body, y = Body(), room.top
            bodies.append(body)
            if len(bodies) == 1:
                y = _notes(table, body.items, room, height)
            y -= step
            _line(table.heads, widths, room.left, y, height, table.figures, body.items, heading=True)
            body.items.append(
                Polyline("figures", ((room.left, y - step * 0.4), (room.left + sum(widths), y - step * 0.4)), MEDIUM, TIN)
            )
            y -= step * 0.4
        if k < len(table.rows):
            y -= step
            _line(table.rows[k], widths, room.left, y, height, table.figures, bodies[-1].items, heading=k in table.strong)
            bodies[-1].items.append(
                Polyline("grid", ((room.left, y - step * 0.35), (room.left + sum(widths), y - step * 0.35)), THIN, GRID)
            )
    return bodies


def table_pages(table: Table, paper: Paper, project: str, standing: Standing, block: TitleBlock | None = None) -> list[Page]:
    """The table as sheets of its own, that are no drawing of the register."""
    bodies = table_bodies(table, drawing_room(paper), 1.8)
    width, height = PAPER[paper]
    pages = []
    for n, body in enumerate(bodies, start=1):
        said = Said(project, table.title, table.title, "", f"{n} of {len(bodies)}", "", paper)
        pages.append(
            Page(f"{table.title} {n}", width, height, [*draw_title(paper, block or TitleBlock(), said, standing), *body.items])
        )
    return pages


def _notes(table: Table, items: list[Item], room: Room, height: float) -> float:
    """The title and the notes; returns where the table begins."""
    y = room.top - 4.0
    items.append(Text("headings", (room.left, y), table.title, 3.5, font="bold"))
    y -= 3.0
    for note in table.notes:
        for line in wrapped(note, room.width, height):
            y -= height * 1.7
            items.append(Text("headings", (room.left, y), line, height))
    return y - 2.0


def _widths(table: Table, room: float, height: float) -> list[float]:
    """Widths of the columns: as wide as their widest cell, of words less where that is more than there is."""
    wide = []
    for c, head in enumerate(table.heads):
        font = "mono" if c in table.figures else "text"
        cells = (width_of(row[c], height, "bold" if k in table.strong else font) for k, row in enumerate(table.rows))
        wide.append(max(width_of(head, height, "bold"), max(cells, default=0.0)) + 2 * PADDING)
    over = sum(wide) - room
    if over > 0:
        # What is too much is taken from the columns of words, the widest first.
        words = [c for c in range(len(wide)) if c not in table.figures] or list(range(len(wide)))
        while over > 1e-6 and words:
            widest = max(words, key=lambda c: wide[c])
            second = max((wide[c] for c in words if c != widest), default=0.0)
            less = min(over, max(wide[widest] - second, over / len(words), 0.1))
            wide[widest] = max(4.0, wide[widest] - less)
            if wide[widest] <= 4.0:
                words.remove(widest)
            over = sum(wide) - room
    return wide


def _line(
    cells: Sequence[str], widths: Sequence[float], left: float, y: float, height: float, figures: frozenset[int],
    items: list[Item], *, heading: bool,
) -> None:  # fmt: skip
    x = left
    for c, (cell, wide) in enumerate(zip(cells, widths, strict=True)):
        number = c in figures
        font: Literal["bold", "mono", "text"] = "bold" if heading else "mono" if number else "text"
        text = shortened(cell, wide - 2 * PADDING + 0.01, height, font)
        if text:
            at = (x + wide - PADDING, y) if number else (x + PADDING, y)
            items.append(Text("figures", at, text, height, "right" if number else "left", font=font))
        x += wide
