"""Frame, title block, revisions and notes of a sheet. The title block holds the data fields of ISO 7200 and what road offices add."""

from dataclasses import dataclass
from typing import Literal

from saddle.drawings.display import FRAME, INK, MEDIUM, THIN, TIN, Item, Polyline, Room, Text
from saddle.drawings.frame import BORDER, FILING, frame_marks
from saddle.drawings.lettering import fitted, shortened, wrapped
from saddle.drawings.logo import logo_items
from saddle.drawings.spec import PAPER, Paper, TitleBlock

#: ISO 7200: the title block is at most 180 mm wide.
WIDTH = 180.0
#: Heights of its rows from the top, mm.
ROWS = (8.0, 8.5, 8.0, 8.0)
HEIGHT = sum(ROWS)
#: Width of the owner's field, and of a logo in it, mm.
OWNER, LOGO = 60.0, 22.0
#: The table of revisions, beside it: width, and so many of the newest are shown.
REVISIONS, MOST_REVISIONS = 66.0, 5
#: Room between the frame with its centring marks and what is drawn, mm.
CLEAR = 5.5


@dataclass(frozen=True, slots=True)
class Revision:
    """letter, date, reason and by whom, as they are printed."""

    letter: str
    date: str
    reason: str
    by: str


@dataclass(frozen=True, slots=True)
class Standing:
    """Where a drawing stands: its revision, what it may be used for, and the date; revisions: the issues it was part of, oldest
    first."""

    revision: str
    status: str
    date: str
    revisions: tuple[Revision, ...] = ()


#: What is on the board and was not issued.
WORKING = "not issued"


@dataclass(frozen=True, slots=True)
class Said:
    """What the title block of one sheet says."""

    project: str
    title: str
    kind: str
    number: str
    sheet: str
    reach: str
    scale: str


def drawing_room(paper: Paper) -> Room:
    """What is left for the drawing within the frame, above the title block."""
    width, height = PAPER[paper]
    return Room(FILING + CLEAR, BORDER + HEIGHT + 2.5, width - BORDER - CLEAR, height - BORDER - CLEAR)


def legend_room(paper: Paper) -> Room:
    """What is left for the legend, left of the revisions."""
    right = PAPER[paper][0] - BORDER - WIDTH - REVISIONS - 2.0
    return Room(FILING + CLEAR, BORDER + 1.0, right, BORDER + HEIGHT)


def draw_title(paper: Paper, block: TitleBlock, said: Said, standing: Standing) -> list[Item]:
    """Frame with fields and centring marks, title block and revisions."""
    width, height = PAPER[paper]
    x0, x1, y0, y1 = FILING, width - BORDER, BORDER, height - BORDER
    items: list[Item] = [Polyline("frame", Room(x0, y0, x1, y1).rim, FRAME, source="frame")]
    items += frame_marks(width, height, (x0, y0, x1, y1), x1 - WIDTH - REVISIONS)
    left, top = x1 - WIDTH, y0 + HEIGHT
    owner = left + 1.2
    if block.logo:
        most = LOGO if block.owner else OWNER - 2.4
        items += logo_items(block.logo, Room(owner, top - ROWS[0] + 0.7, owner + most, top - 0.7))
        owner += LOGO + 1.2
    items.append(Polyline("title", ((left, y0), (left, top), (x1, top)), MEDIUM, source="title"))
    project = block.project or said.project
    rows: tuple[tuple[tuple[float, str, str, float], ...], ...] = (
        ((OWNER, "Owner", block.owner, 2.5), (60, "Client", block.client, 2.5), (60, "Contract", block.contract, 2.5)),
        ((78, "Project", project, 2.5), (102, "Title", said.title, 3.5)),
        (
            (38, "Kind", said.kind, 2.5), (40, "Chainage", said.reach, 2.5), (30, "Scale", said.scale, 2.5),
            (36, "Coordinates", block.coordinates, 2.5), (36, "Levels", block.levels, 2.5),
        ),
        (
            (24, "Drawn", block.drawn, 2.5), (24, "Checked", block.checked, 2.5), (24, "Approved", block.approved, 2.5),
            (22, "Date", standing.date, 2.5), (30, "Status", standing.status, 2.5), (26, "Number", said.number, 2.5),
            (18, "Sheet", said.sheet, 2.5), (12, "Rev.", standing.revision, 3.5),
        ),
    )  # fmt: skip
    y = top
    for cells, tall in zip(rows, ROWS, strict=True):
        y -= tall
        if y > y0 + 1e-6:
            items.append(Polyline("title", ((left, y), (x1, y)), THIN, source="title"))
        x = left
        for wide, label, value, wanted in cells:
            if x > left:
                items.append(Polyline("title", ((x, y), (x, y + tall)), THIN, source="title"))
            begin = owner if label == "Owner" else x + 1.2
            if value or begin == x + 1.2:  # a logo alone says whose drawing it is
                items.append(Text("title", (begin, y + tall - 2.4), label, 1.8, colour=TIN, source="title"))
            font: Literal["bold", "text"] = "bold" if wanted > 3 else "text"
            text, height_mm = fitted(value, x + wide - 1.2 - begin, wanted, font)
            if text:
                items.append(Text("title", (begin, y + 1.3), text, height_mm, font=font, source="title"))
            x += wide
    return items + _revisions(paper, block, standing)


def _revisions(paper: Paper, block: TitleBlock, standing: Standing) -> list[Item]:
    """The newest revisions, newest at the bottom by the title block, and notes above them."""
    x1 = PAPER[paper][0] - BORDER - WIDTH
    x0, y = x1 - REVISIONS, BORDER
    if x0 < FILING:
        return []
    items: list[Item] = [Polyline("title", ((x0, y), (x0, y + HEIGHT), (x1, y + HEIGHT)), THIN, source="title")]
    step = 3.6
    columns = ((1.2, 6.0), (8.0, 16.0), (25.0, REVISIONS - 25.0 - 14.0), (REVISIONS - 13.0, 12.0))
    heads = ("Rev.", "Date", "Reason", "By")
    shown = standing.revisions[-MOST_REVISIONS:]
    lines = [(heads, TIN), *(((r.letter, r.date, r.reason, r.by), INK) for r in shown)]
    for k, (words, colour) in enumerate(lines):
        for (x, room), text in zip(columns, words, strict=True):
            if text:
                at = (x0 + x, y + 1.2 + (len(lines) - 1 - k) * step)
                items.append(Text("title", at, shortened(text, room, 1.8), 1.8, colour=colour, source="title"))
    free = int((HEIGHT - 2.0 - len(lines) * step) / 3.0)
    notes = wrapped(block.notes, REVISIONS - 2.4, 1.8) if block.notes else []
    if notes and free > 0:
        if len(notes) > free:
            notes = [*notes[: free - 1], shortened(notes[free - 1] + " …", REVISIONS - 2.4, 1.8)]
        for k, text in enumerate(notes):
            items.append(Text("title", (x0 + 1.2, y + HEIGHT - 3.8 - k * 3.0), text, 1.8, source="title"))
    return items


def scale_words(along: int, up: int | None = None) -> str:
    """A scale, or both where the vertical one differs."""
    return f"1:{along}" if up in (None, along) else f"H 1:{along}, V 1:{up}"
