"""What colours, patterns and lines on a sheet mean, beside the title block."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from saddle.drawings.display import THIN, TIN, Item, Polygon, Polyline, Room, Text
from saddle.drawings.lettering import shortened, width_of
from saddle.template.parts import Material

#: Lettering, size of a swatch, from line to line, widest and narrowest column, mm.
HEIGHT, SWATCH, LINE, COLUMN, NARROWEST = 1.8, (9.0, 3.6), 5.2, 48.0, 40.0


@dataclass(frozen=True, slots=True)
class Meaning:
    """Words for a fill, or for a line where it has a width, mm. letter: that stands for it on the drawing."""

    words: str
    colour: str
    pattern: str = "plain"
    width: float = 0.0
    dashes: tuple[float, ...] = ()
    letter: str = ""


def of_materials(keys: Sequence[str], materials: Mapping[str, Material]) -> list[Meaning]:
    """The fills of some materials, each once, in the order given."""
    known = [materials[k] for k in dict.fromkeys(keys) if k in materials]
    return [Meaning(m.name, m.colour, m.pattern) for m in known]


def _lettered(letter: str, box: Room) -> list[Item]:
    """A letter in the middle of a swatch, on white so that no pattern runs through it."""
    x, y, half = (box.left + box.right) / 2, (box.bottom + box.top) / 2, width_of(letter, HEIGHT, "bold") / 2
    ground = Room(x - half - 0.5, y - HEIGHT / 2 - 0.4, x + half + 0.5, y + HEIGHT / 2 + 0.4)
    return [
        Polygon("title", ground.corners, "#FFFFFF", "plain", 0.0, source="legend"),
        Text("title", (x, y - HEIGHT / 2), letter, HEIGHT, "centre", font="bold", source="legend"),
    ]


def draw_legend(meanings: Sequence[Meaning], room: Room) -> list[Item]:
    """Swatches with words, in columns that fit; what does not is counted."""
    rows, most = int((room.height - 4.0) / LINE), int(room.width / NARROWEST)
    if not meanings or rows < 1 or most < 1:
        return []
    columns = min(most, -(-len(meanings) // rows))
    places, column = rows * columns, min(COLUMN, room.width / columns)
    shown = list(meanings) if len(meanings) <= places else list(meanings[: places - 1])
    items: list[Item] = [Text("title", (room.left, room.top - 3.0), "Legend", HEIGHT, colour=TIN, source="legend")]
    w, h = SWATCH
    for k, m in enumerate(shown):
        left, upper = room.left + k // rows * column, room.top - 4.5 - k % rows * LINE
        if m.width:
            y = upper - h / 2
            items.append(Polyline("title", ((left, y), (left + w, y)), m.width, m.colour, m.dashes, source="legend"))
        else:
            box = Room(left, upper - h, left + w, upper)
            items.append(Polygon("title", box.corners, m.colour, m.pattern, THIN, source="legend"))
            if m.letter:
                items += _lettered(m.letter, box)
        words = shortened(m.words, column - w - 4, HEIGHT)
        items.append(Text("title", (left + w + 2, upper - h + 0.9), words, HEIGHT, source="legend"))
    if len(shown) < len(meanings):
        k = places - 1
        at = (room.left + k // rows * column, room.top - 4.5 - k % rows * LINE - 2.7)
        items.append(Text("title", at, f"and {len(meanings) - len(shown)} more", HEIGHT, colour=TIN, source="legend"))
    return items
