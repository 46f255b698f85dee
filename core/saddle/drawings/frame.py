"""What ISO 5457 draws about a sheet: margins, centring marks and the fields by which a place on it is called."""

import math
from collections.abc import Iterator
from itertools import pairwise

from saddle.drawings.display import FRAME, Item, Polyline, Text

#: Filing edge at the left and margin elsewhere, mm (ISO 5457).
FILING, BORDER = 20.0, 10.0
#: Width of the fields beside the frame, length of a field, how far a centring mark goes into the drawing, lettering, lines, mm.
FIELDS, FIELD, INWARD, LETTERS, LINES = 5.0, 50.0, 5.0, 3.5, 0.35
#: A rest so short at a corner belongs to the field beside it, mm.
REST = 20.0
#: Letters of the fields from top to bottom: I and O are left out.
NAMES = "ABCDEFGHJKLMNPQRSTUVWXYZ"


def frame_marks(
    width: float, height: float, frame: tuple[float, float, float, float], taken_from: float = math.inf
) -> list[Item]:
    """Centring marks and fields about a frame (left, bottom, right, top), mm: numbers from left to right, letters downward, 50 mm each
    from the middle of the sheet on. taken_from: where the title block begins, from the left: the lower mark does not run into it."""
    x0, y0, x1, y1 = frame
    outer = (x0 - FIELDS, y0 - FIELDS, x1 + FIELDS, y1 + FIELDS)
    rim = ((outer[0], outer[1]), (outer[2], outer[1]), (outer[2], outer[3]), (outer[0], outer[3]), (outer[0], outer[1]))
    items: list[Item] = [Polyline("frame", rim, LINES, source="fields")]
    cx, cy = width / 2, height / 2
    for begin, end in (
        ((outer[0], cy), (x0 + INWARD, cy)), ((outer[2], cy), (x1 - INWARD, cy)),
        ((cx, outer[1]), (cx, y0 + (INWARD if cx < taken_from else 0.0))), ((cx, outer[3]), (cx, y1 - INWARD)),
    ):  # fmt: skip
        items.append(Polyline("frame", (begin, end), FRAME, source="centring mark"))
    across, down = list(_ends(x0, x1, cx)), list(_ends(y0, y1, cy))
    lines = [((x, low), (x, high)) for x in across[1:-1] if abs(x - cx) > 1e-6 for low, high in ((outer[1], y0), (y1, outer[3]))]
    lines += [((low, y), (high, y)) for y in down[1:-1] if abs(y - cy) > 1e-6 for low, high in ((outer[0], x0), (x1, outer[2]))]
    items += [Polyline("frame", line, LINES, source="fields") for line in lines]

    def name(text: str, x: float, y: float) -> None:
        items.append(Text("frame", (x, y - LETTERS / 2), text, LETTERS, "centre", source="fields"))

    for number, (a, b) in enumerate(pairwise(across), start=1):
        for y in (y0 - FIELDS / 2, y1 + FIELDS / 2):
            name(str(number), (a + b) / 2, y)
    for letter, (top, bottom) in zip(NAMES, pairwise(reversed(down)), strict=False):
        for x in (x0 - FIELDS / 2, x1 + FIELDS / 2):
            name(letter, x, (top + bottom) / 2)
    return items


def _ends(low: float, high: float, middle: float) -> Iterator[float]:
    """Where the fields of a side meet, with its ends."""
    yield low
    for k in range(-math.floor((middle - low - REST) / FIELD), math.floor((high - middle - REST) / FIELD) + 1):
        yield middle + k * FIELD
    yield high
