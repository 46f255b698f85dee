"""The road from above over its long section: straightened, so that every place stands over its levels."""

from collections.abc import Callable

import numpy as np
import shapely

from saddle.drawings.display import INK, MEDIUM, SADDLE, THIN, TIN, Item, Layer, Polyline, Text
from saddle.drawings.long.lines import runs_between
from saddle.geometry.polylines import Floats
from saddle.road.model import RoadModel

#: Height of the strip, mm.
STRIP = 26.0


def draw_strip(
    model: RoadModel, low: float, high: float, x_of: Callable[[float], float], corner: tuple[float, float], scale: int, h: float,
    items: list[Item],
) -> None:  # fmt: skip
    """Edges of the overlay and the hinge beside the alignment, right of it downward, at the scale along the road. corner: lower left of
    the strip, mm; what lies further out than there is room for is cut."""
    x0, y0 = corner
    middle = y0 + STRIP / 2
    items.append(Text("bands", (x0 + 1, middle - h / 2), "Straightened plan", h, source="plan"))
    rim = ((x0, y0), (x_of(high), y0), (x_of(high), y0 + STRIP), (x0, y0 + STRIP), (x0, y0))
    items.append(Polyline("bands", rim, THIN, TIN, source="plan"))
    room = shapely.box(x_of(low) - 0.01, y0, x_of(high) + 0.01, y0 + STRIP)
    lines: tuple[tuple[Floats, float, str, tuple[float, ...], Layer], ...] = (
        (np.zeros(len(model.chainage)), THIN, SADDLE, (6.0, 1.2, 1.2, 1.2), "alignment"),
        (model.depth.left, MEDIUM, INK, (), "design"),
        (model.depth.right, MEDIUM, INK, (), "design"),
        (model.lines.hinge, THIN, TIN, (2.0, 1.0), "design"),
    )
    for offsets, width, colour, dashes, layer in lines:
        for run in runs_between(model.chainage, offsets, low, high):
            line = shapely.LineString([(x_of(c), middle - o * 1000 / scale) for c, o in run])
            for part in shapely.get_parts(line.intersection(room)):
                points = tuple((x, y) for x, y in part.coords)
                if len(points) > 1:
                    items.append(Polyline(layer, points, width, colour, dashes, source="straightened plan"))
