"""Areas of a section beside its drawing, and the materials of a sheet: what the figures and patterns on it mean."""

from collections.abc import Mapping, Sequence

from saddle.figures import FIGURES
from saddle.sheets.display import THIN, Item, Place, Polygon, Text
from saddle.sheets.lettering import shortened, width_of
from saddle.template.parts import Material
from saddle.views.section import SectionView

TIN = "#5D6B6F"
#: Height of the lettering and from line to line, mm.
HEIGHT, STEP = 1.8, 2.9
NOT_KNOWN = "not known"


def area_rows(view: SectionView) -> list[tuple[str, str]]:
    """What is built, milled, dug and filled on a section with its area, m2; words where it is not known.

    Courses of one name and material stand together, in the order in which they are drawn.
    """
    built: dict[tuple[str, str], float] = {}
    for layer in view.layers:
        built[layer.name, layer.material] = built.get((layer.name, layer.material), 0.0) + layer.area
    decimals = FIGURES["area"].decimals
    rows = [(name, f"{area:.{decimals}f}") for (name, _), area in built.items()]
    worked = view.treatment not in (None, "leave")
    if worked and view.template and not view.layers:
        rows.append(("Courses", NOT_KNOWN))  # the section could not be solved
    # Milling may lie where nothing is built.
    for name, area in (("Milling", view.milled_area), *((("Cut", view.cut), ("Fill", view.fill)) if worked else ())):
        if area is None:
            rows.append((name, NOT_KNOWN))
        elif round(area, decimals) > 0:
            rows.append((name, f"{area:.{decimals}f}"))
    return rows


def room_for(rows: Sequence[tuple[str, str]]) -> float:
    """Height that rows of areas take, with their heading, mm."""
    return (len(rows) + 1) * STEP + 1.0 if rows else 0.0


def draw_areas(rows: Sequence[tuple[str, str]], corner: Place, width: float, source: str) -> list[Item]:
    """A small table with its upper left corner at `corner`, mm."""
    if not rows:
        return []
    x, top = corner
    items: list[Item] = [Text("areas", (x + 1, top - STEP), "Areas m²", HEIGHT, colour=TIN, source=source)]
    for k, (name, figure) in enumerate(rows, start=2):
        y = top - k * STEP
        room = width - 4 - width_of(figure, HEIGHT, "mono")
        items.append(Text("areas", (x + 1, y), shortened(name, room, HEIGHT), HEIGHT, source=source))
        items.append(Text("areas", (x + width - 2, y), figure, HEIGHT, "right", font="mono", source=source))
    return items


#: Size of a swatch, of a column and from line to line, mm.
SWATCH, COLUMN, LINE = (9.0, 3.6), 50.0, 5.2


def draw_legend(views: Sequence[SectionView], materials: Mapping[str, Material], corner: Place, size: Place) -> list[Item]:
    """The materials of some sections with their patterns, in columns that fit; corner: upper left, mm."""
    used = list(dict.fromkeys(layer.material for view in views for layer in view.layers if layer.material in materials))
    if not used:
        return []
    x, top = corner
    rows, columns = int((size[1] - 4.5) / LINE), max(1, int(size[0] / COLUMN))
    room = rows * columns
    shown = used if len(used) <= room else used[: room - 1]
    items: list[Item] = [Text("title", (x, top - 3.0), "Materials", HEIGHT, colour=TIN, source="legend")]
    for k, key in enumerate(shown):
        left, upper = x + k // rows * COLUMN, top - 4.5 - k % rows * LINE
        w, h = SWATCH
        box = ((left, upper - h), (left + w, upper - h), (left + w, upper), (left, upper))
        items.append(Polygon("title", box, materials[key].colour, materials[key].pattern, THIN, source="legend"))
        name = shortened(materials[key].name, COLUMN - w - 4, HEIGHT)
        items.append(Text("title", (left + w + 2, upper - h + 0.9), name, HEIGHT, source="legend"))
    if len(shown) < len(used):
        at = (x + (room - 1) // rows * COLUMN, top - 4.5 - (room - 1) % rows * LINE - 2.7)
        items.append(Text("title", at, f"and {len(used) - len(shown)} more", HEIGHT, colour=TIN, source="legend"))
    return items
