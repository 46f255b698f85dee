"""A section as lines and fills: courses, the old and the milled surface, the finished one."""

from collections.abc import Callable, Mapping

import numpy as np

from saddle.drawings.display import MEDIUM, THICK, TIN, Item, Layer, Place, Polygon, Polyline
from saddle.template.parts import Material
from saddle.template.polygons import Vertex
from saddle.views.line import LineView
from saddle.views.section import SectionView

#: The milled surface, drawn and left out, mm.
DASHES = (2.0, 1.0)


def draw_shape(
    view: SectionView,
    materials: Mapping[str, Material],
    place: Callable[[Vertex], Place],
    reach: tuple[float, float],
    source: str,
) -> list[Item]:
    """place: where a vertex comes to lie; reach: the ground is shown from one offset to the other."""
    items: list[Item] = []
    for layer in view.layers:
        m = materials.get(layer.material)
        ring = tuple(place(v) for v in layer.polygon)
        colour, pattern = (m.colour, m.pattern) if m else ("#FFFFFF", "plain")
        items.append(Polygon("courses", ring, colour, pattern, source=f"{source}, {layer.element}, {layer.name}"))
    grounds: tuple[tuple[Layer, list[list[Vertex]], tuple[float, ...]], ...] = (
        ("existing", view.existing, ()), ("milled", view.milled, DASHES),
    )  # fmt: skip
    for name, runs, dashes in grounds:
        for run in runs:
            shown = clipped(run, *reach)
            if len(shown) > 1:
                items.append(Polyline(name, tuple(place(v) for v in shown), MEDIUM, TIN, dashes, source=source))
    finished = (run for run in designs(view) if len(run) > 1)
    return items + [Polyline("design", tuple(place(v) for v in run), THICK, source=source) for run in finished]


def designs(view: SectionView) -> list[list[Vertex]]:
    """The finished surface in runs: of a section line it may be apart."""
    return view.designs if isinstance(view, LineView) else [view.design]


def clipped(run: list[Vertex], low: float, high: float) -> list[Vertex]:
    """The part of a polyline between two offsets."""
    o, z = np.array([v[0] for v in run]), np.array([v[1] for v in run])
    if o[-1] <= low or o[0] >= high:
        return []
    ends = [float(max(low, o[0])), float(min(high, o[-1]))]
    inner = [v for v in run if ends[0] < v[0] < ends[1]]
    first, last = (float(np.interp(e, o, z)) for e in ends)
    return [(ends[0], first), *inner, (ends[1], last)]
