"""A drawing laid out: the sheets with frame, title block and legend about what its kind draws."""

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from saddle.chainage import format_chainage
from saddle.drawings.body import Body, Set, Task
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
    name = filled(of.block.files, _values(of, drawing, Body(), 1, 1, revision))
    return re.sub(r"[^A-Za-z0-9._()+ -]+", "-", name)[:LONGEST_NAME].strip(" .") or "drawing"


@dataclass(frozen=True, slots=True, eq=False)
class Sheet:
    """A sheet of a drawing. name: of its page; size: width and height, mm; number: as it is registered; title: with its fields filled in;
    values: what they stand for; content: a hash of what is drawn, without frame, title block and legend: of two sheets with the same one
    nothing differs but what is written about them; on_page, in_space: what is drawn, packed."""

    name: str
    size: tuple[float, float]
    number: str
    title: str
    values: dict[str, str]
    content: str
    used: float
    left_out: tuple[str, ...]
    on_page: bytes
    in_space: bytes

    @property
    def page(self) -> Page:
        """What is drawn, made anew whenever it is asked for."""
        return Page(self.name, *self.size, unpacked(self.on_page))

    @property
    def space(self) -> list[Item]:
        """What is on the sheet in metres, at true size."""
        return unpacked(self.in_space)


def draw(of: Set, drawing: Drawing, standing: Standing, progress: Callable[[float], None] = lambda _: None) -> list[Sheet]:
    """The sheets of a drawing. Raises SaddleError where it goes on no sheet or its style is not there."""
    style = of.style_of(drawing)
    task = Task(of, drawing, style, drawing_room(style.paper), progress)
    bodies = KINDS[style.sheets.kind].draw(task)
    task.refuse_more_than_are_made(len(bodies))
    refuse_unknown_sheets(drawing, len(bodies))
    sheets = []
    for n, body in enumerate(bodies, start=1):
        set_in(task, body, n)
        values = _values(of, drawing, body, n, len(bodies), standing.revision)
        number, title = filled(of.block.numbering, values), filled(drawing.name, values)
        said = Said(
            project=of.project,
            title=title,
            kind=KINDS[style.sheets.kind].title,
            number=number,
            sheet=f"{n} of {len(bodies)}",
            reach=_reach(body) if body.begin is not None else "",
            scale=f"{body.scale} ({style.paper})" if body.scale else style.paper,
        )
        about: list[Item] = draw_title(style.paper, of.block, said, standing)
        if style.legend:
            about += draw_legend(body.meanings, legend_room(style.paper))
        sheets.append(
            Sheet(
                f"{number} {_reach(body) or title}",
                PAPER[style.paper],
                number,
                title,
                values,
                digest(style.paper, *map(repr, body.items)),
                body.used,
                tuple(body.left_out),
                packed([*about, *body.items]),
                packed(body.space),
            )
        )
    return sheets


def whole_title(drawing: Drawing, sheets: Sequence[Sheet]) -> str:
    """The title of a drawing over all its sheets."""
    return (
        filled(drawing.name, {**sheets[0].values, "to": sheets[-1].values["to"]})
        if sheets
        else filled(drawing.name, dict.fromkeys(FIELDS, "…"))
    )


def _values(of: Set, drawing: Drawing, body: Body, n: int, count: int, revision: str) -> dict[str, str]:
    return {
        "from": body.about or ("" if body.begin is None else format_chainage(body.begin)),
        "to": "" if body.end is None else format_chainage(body.end),
        "n": f"{n:02d}",
        "of": f"{count:02d}",
        "number": drawing.number,
        "alignment": of.model.inputs.alignment.name,
        "project": of.block.project or of.project,
        "revision": revision,
    }


def _reach(body: Body) -> str:
    if body.begin is None or body.end is None:
        return body.about
    return f"{format_chainage(body.begin)} to {format_chainage(body.end)}"
