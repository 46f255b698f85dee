"""Areas of a section beside its drawing."""

from collections.abc import Sequence

from saddle.drawings.display import TIN, Item, Place, Text
from saddle.drawings.lettering import shortened, width_of
from saddle.figures import FIGURES
from saddle.views.line import LineView
from saddle.views.section import SectionView

#: Height of the lettering and from line to line, mm.
HEIGHT, STEP = 1.8, 2.9
NOT_KNOWN = "not known"


def area_rows(view: SectionView) -> list[tuple[str, str]]:
    """What is built, milled, dug and filled on a section with its area, m2; words where it is not known.

    Courses of one name and material stand together, in the order in which they are drawn.
    """
    if isinstance(view, LineView):
        return []  # quantities come from the design's own sections alone
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
