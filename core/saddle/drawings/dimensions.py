"""Dimension lines: a chain of widths with ticks where they end."""

from collections.abc import Sequence
from typing import Literal

from saddle.drawings.display import INK, MEDIUM, THIN, Item, Polyline, Text
from saddle.drawings.lettering import width_of

#: Room beside a width in its place, half the length of a tick, mm.
BESIDE, TICK = 1.0, 0.8


def tick(x: float, y: float) -> Polyline:
    """Where a dimension ends."""
    return Polyline("dimensions", ((x - TICK, y - TICK), (x + TICK, y + TICK)), MEDIUM, INK, source="dimension")


def chain(
    widths: Sequence[float], ends: Sequence[tuple[float, float]], y: float, h: float, items: list[Item],
    narrow: Literal["turn", "leave"],
) -> None:  # fmt: skip
    """Widths, m, over the places that they lie between, mm. narrow: one that does not go in is turned upright, or left out."""
    for width, (x0, x1) in zip(widths, ends, strict=True):
        items.append(Polyline("dimensions", ((x0, y), (x1, y)), THIN, INK, source="width"))
        items += [tick(x, y) for x in (x0, x1)]
        text = f"{width:.3f}"
        if width_of(text, h, "mono") <= x1 - x0 - BESIDE:
            items.append(Text("dimensions", ((x0 + x1) / 2, y + TICK), text, h, "centre", font="mono", source="width"))
        elif narrow == "turn" and x1 - x0 > h:
            items.append(Text("dimensions", ((x0 + x1) / 2 + h / 2, y + TICK), text, h, "left", 90, "mono", source="width"))
