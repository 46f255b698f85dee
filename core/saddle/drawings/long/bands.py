"""Curvature and crossfalls along the road, as bands beneath the figures."""

import itertools
from collections.abc import Callable

import numpy as np

from saddle.drawings.display import GRID, INK, MEDIUM, SADDLE, THIN, TIN, Item, Polyline, Text
from saddle.drawings.figures import element_words
from saddle.drawings.lettering import shortened
from saddle.drawings.long.lines import runs_between
from saddle.road.model import RoadModel

#: Height of a band, mm: one of curvature, one of crossfalls twice as high.
BAND = 7.0
#: A crossfall of so many percent fills its band, or the greatest there is.
FULL = 8.0
#: Sides with their line types.
CROSSFALLS: tuple[tuple[str, tuple[float, ...]], ...] = (("left", ()), ("right", (2.0, 1.0)))


def draw_bands(
    model: RoadModel, low: float, high: float, x_of: Callable[[float], float], corner: tuple[float, float], h: float,
    items: list[Item],
) -> None:  # fmt: skip
    """Curvature, to the right upward, and the crossfalls of both sides, upward where they rise outward. corner: lower left, mm."""
    x0, y0 = corner
    x1 = x_of(high)
    upper = y0 + 3 * BAND
    items += [Polyline("bands", ((x0, y), (x1, y)), THIN, TIN, source="bands") for y in (y0, y0 + 2 * BAND, upper)]
    _curvature(model, low, high, x_of, y0 + 2 * BAND, h, items, x0)
    middle = y0 + BAND
    items.append(Text("bands", (x0 + 1, middle - h / 2), "Crossfall %", h, source="bands"))
    items.append(Polyline("bands", ((x_of(low), middle), (x1, middle)), THIN, GRID, source="bands"))
    falls = np.concatenate([model.lines.left_pct, model.lines.right_pct])
    full = max(FULL, float(np.abs(falls[np.isfinite(falls)]).max(initial=0.0)))
    for values, (name, dashes) in zip((model.lines.left_pct, model.lines.right_pct), CROSSFALLS, strict=True):
        for run in runs_between(model.chainage, values, low, high):
            points = tuple((x_of(c), middle + v / full * (BAND - 1.0)) for c, v in run)
            items.append(Polyline("bands", points, MEDIUM, SADDLE, dashes, source=f"crossfall {name}"))


def _curvature(
    model: RoadModel, low: float, high: float, x_of: Callable[[float], float], y: float, h: float, items: list[Item], x0: float
) -> None:
    """Elements with their radii and lengths; a curve to the right stands over the middle of its band."""
    a = model.alignment
    middle = y + BAND / 2
    items.append(Text("bands", (x0 + 1, middle - h / 2), "Curvature", h, source="bands"))
    most = max(np.abs(a.curvature).max(), np.abs(a.curvature_end).max(), 1e-12)
    points: list[tuple[float, float]] = []
    for c, length, first, last in zip(a.chainage, a.length, a.curvature, a.curvature_end, strict=True):
        begin, end = max(low, float(c)), min(high, float(c + length))
        if end <= begin:
            continue
        rate = (last - first) / length
        ends = [(x_of(s), middle + (BAND / 2 - 0.6) * float(first + rate * (s - c)) / most) for s in (begin, end)]
        points += ends
        text = shortened(element_words(length, first, last), ends[1][0] - ends[0][0] - 1.0, h)
        if len(text) > 4:
            # On the side of the middle that the line leaves free.
            below = (first + last) > 0
            at = (ends[0][0] + ends[1][0]) / 2, middle - h - 0.7 if below else middle + 0.7
            items.append(Text("bands", at, text, h, "centre", source="curvature"))
    for p, q in itertools.pairwise(points):
        if p != q:
            items.append(Polyline("bands", (p, q), MEDIUM, INK, source="curvature"))
