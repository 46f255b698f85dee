"""A section as lines and fills: courses, the old and the milled surface, the finished one."""

from collections.abc import Callable, Mapping, Sequence
from types import MappingProxyType

import numpy as np

from saddle.drawings.display import Item, Layer, Place, Polygon, Polyline
from saddle.drawings.spec import LineType, SectionSheets, SurfaceLine
from saddle.template.parts import Material
from saddle.template.polygons import Vertex
from saddle.views.line import LineView
from saddle.views.section import SectionView

#: Types of lines, drawn and left out by turns, mm.
LINES: dict[LineType, tuple[float, ...]] = {
    "solid": (), "dashed": (2.0, 1.0), "dotted": (0.3, 0.8), "chain": (4.0, 1.0, 0.3, 1.0),
}  # fmt: skip
#: Of the finished surface of another road: width, mm, and colour.
OTHER_WIDTH, OTHER_COLOUR = 0.25, "#56646B"
#: How the surfaces of a section are drawn where no style says otherwise.
USUAL = SectionSheets().surfaces


def draw_shape(
    view: SectionView,
    materials: Mapping[str, Material],
    place: Callable[[Vertex], Place],
    reach: tuple[float, float],
    source: str,
    surfaces: Sequence[SurfaceLine] = USUAL,
    others: Mapping[str, list[list[Vertex]]] = MappingProxyType({}),
) -> list[Item]:
    """place: where a vertex comes to lie; reach: the ground is shown from one offset to the other; others: runs of other surfaces by
    name. Other roads lie beneath the section's own, as far as it reaches."""
    items = _other_roads(view, materials, place, reach)
    for layer in view.layers:
        m = materials.get(layer.material)
        ring = tuple(place(v) for v in layer.polygon)
        colour, pattern = (m.colour, m.pattern) if m else ("#FFFFFF", "plain")
        items.append(Polygon("courses", ring, colour, pattern, source=f"{source}, {layer.element}, {layer.name}"))
    for surface in surfaces:
        on, runs = _of(view, surface, others)
        for run in runs:
            shown = run if surface.of == "design" else clipped(run, *reach)
            if len(shown) > 1:
                points = tuple(place(v) for v in shown)
                items.append(Polyline(on, points, surface.width, surface.colour, LINES[surface.line], source=source))
    return items


def _other_roads(
    view: SectionView, materials: Mapping[str, Material], place: Callable[[Vertex], Place], reach: tuple[float, float]
) -> list[Item]:
    """What the section meets of other roads: courses that lie within its reach whole, and the finished surface."""
    items: list[Item] = []
    low, high = reach
    for road in view.roads:
        for layer in road.layers:
            m = materials.get(layer.material)
            if m and all(low <= o <= high for o, _ in layer.polygon):
                ring = tuple(place(v) for v in layer.polygon)
                items.append(Polygon("courses", ring, m.colour, m.pattern, source=f"{road.name}, {layer.element}, {layer.name}"))
        for run in road.designs:
            shown = clipped(run, low, high)
            if len(shown) > 1:
                items.append(Polyline("design", tuple(place(v) for v in shown), OTHER_WIDTH, OTHER_COLOUR, source=road.name))
    return items


def _of(
    view: SectionView, surface: SurfaceLine, others: Mapping[str, list[list[Vertex]]]
) -> tuple[Layer, Sequence[list[Vertex]]]:
    """The layer of a surface and its runs."""
    match surface.of:
        case "existing":
            return "existing", view.existing
        case "milled":
            return "milled", view.milled
        case "design":
            return "design", designs(view)
        case "other":
            return "surfaces", others.get(surface.name, [])


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
