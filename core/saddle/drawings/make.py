"""A drawing laid out: the sheets with frame, title block and legend about what its kind draws."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from saddle.chainage import format_chainage
from saddle.drawings.body import Set, Task
from saddle.drawings.display import Item, Page
from saddle.drawings.insets import refuse_unknown_sheets, set_in
from saddle.drawings.kinds import KINDS
from saddle.drawings.legend import draw_legend
from saddle.drawings.packed import packed, unpacked
from saddle.drawings.spec import FIELDS, PAPER, Drawing, filled
from saddle.drawings.title import Said, Standing, draw_title, drawing_room, legend_room
from saddle.stages.keys import digest

#: Letters of a file's name.
LONGEST_NAME = 120


def file_stem(of: Set, drawing: Drawing, revision: str) -> str:
    """The name of an issued drawing's files, without their endings, as the project's pattern has it. What no file may be called is
    left out."""
    name = filled(of.block.files, _values(of, drawing, Laid(), 1, 1, revision))
    return re.sub(r"[^A-Za-z0-9._()+ -]+", "-", name)[:LONGEST_NAME].strip(" .") or "drawing"


@dataclass(frozen=True, slots=True, eq=False)
class Laid:
    """What is drawn on a sheet, without frame and title block: as of a Body. content: a hash of it without the legend: of two
    sheets with the same one nothing differs but what is written about them; items: of the
    legend and of what is drawn, packed; space: the same in metres, packed."""

    begin: float | None = None
    end: float | None = None
    scale: str = ""
    about: str = ""
    content: str = ""
    used: float = 1.0
    left_out: tuple[str, ...] = ()
    items: bytes = b""
    space: bytes = b""


@dataclass(frozen=True, slots=True, eq=False)
class Sheet:
    """A sheet of a drawing. name: of its page; size: width and height, mm; number: as it is registered; title: with its fields filled in;
    values: what they stand for; frame: it and the title block, packed; laid: what is drawn between them."""

    name: str
    size: tuple[float, float]
    number: str
    title: str
    values: dict[str, str]
    frame: bytes
    laid: Laid

    @property
    def page(self) -> Page:
        """What is drawn, made anew whenever it is asked for."""
        return Page(self.name, *self.size, [*unpacked(self.frame), *unpacked(self.laid.items)])

    @property
    def space(self) -> list[Item]:
        """What is on the sheet in metres, at true size."""
        return unpacked(self.laid.space)


def draw(of: Set, drawing: Drawing, standing: Standing, progress: Callable[[float], None] = lambda _: None) -> list[Sheet]:
    """The sheets of a drawing. Raises SaddleError where it goes on no sheet or its style is not there."""
    return entitled(of, drawing, standing, lay_out(of, drawing, progress))


def lay_out(of: Set, drawing: Drawing, progress: Callable[[float], None] = lambda _: None) -> list[Laid]:
    """What goes on each sheet: the long part of the work. Neither the drawing's name and number nor the project's name and title block say
    anything about it. Raises SaddleError where it goes on no sheet or its style is not there."""
    style = of.style_of(drawing)
    task = Task(of, drawing, style, drawing_room(style.paper), progress)
    bodies = KINDS[style.sheets.kind].draw(task)
    task.refuse_more_than_are_made(len(bodies))
    refuse_unknown_sheets(drawing, len(bodies))
    laid = []
    for n, body in enumerate(bodies, start=1):
        set_in(task, body, n)
        about = draw_legend(body.meanings, legend_room(style.paper)) if style.legend else []
        laid.append(
            Laid(
                body.begin, body.end, body.scale, body.about, digest(style.paper, *map(repr, body.items)), body.used,
                tuple(body.left_out), packed([*about, *body.items]), packed(body.space),
            )
        )  # fmt: skip
    return laid


def entitled(of: Set, drawing: Drawing, standing: Standing, laid: Sequence[Laid]) -> list[Sheet]:
    """Sheets with frame and title block about what is laid out."""
    style = of.style_of(drawing)
    sheets = []
    for n, one in enumerate(laid, start=1):
        values = _values(of, drawing, one, n, len(laid), standing.revision)
        number, title = filled(of.block.numbering, values), filled(drawing.name, values)
        said = Said(
            project=of.project,
            title=title,
            kind=KINDS[style.sheets.kind].title,
            number=number,
            sheet=f"{n} of {len(laid)}",
            reach=_reach(one) if one.begin is not None else "",
            scale=f"{one.scale} ({style.paper})" if one.scale else style.paper,
        )
        frame = packed(draw_title(style.paper, of.block, said, standing))
        sheets.append(Sheet(f"{number} {_reach(one) or title}", PAPER[style.paper], number, title, values, frame, one))
    return sheets


def whole_title(drawing: Drawing, sheets: Sequence[Sheet]) -> str:
    """The title of a drawing over all its sheets."""
    return (
        filled(drawing.name, {**sheets[0].values, "to": sheets[-1].values["to"]})
        if sheets
        else filled(drawing.name, dict.fromkeys(FIELDS, "…"))
    )


def _values(of: Set, drawing: Drawing, one: Laid, n: int, count: int, revision: str) -> dict[str, str]:
    return {
        "from": one.about or ("" if one.begin is None else format_chainage(one.begin)),
        "to": "" if one.end is None else format_chainage(one.end),
        "n": f"{n:02d}",
        "of": f"{count:02d}",
        "number": drawing.number,
        "road": of.road,
        "alignment": of.model.inputs.alignment.name,
        "project": of.block.project or of.project,
        "revision": revision,
    }


def _reach(one: Laid) -> str:
    if one.begin is None or one.end is None:
        return one.about
    return f"{format_chainage(one.begin)} to {format_chainage(one.end)}"
