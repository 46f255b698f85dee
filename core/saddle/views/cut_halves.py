"""What a line cuts of a design, as it is shown."""

from saddle import tolerances
from saddle.lines.cut import CutHalf
from saddle.template.polygons import Vertex, area_of, rings
from saddle.template.view import LayerView, Side


def side_of(half: CutHalf) -> Side:
    """The side of the hinge that it lies on."""
    return "left" if half.side < 0 else "right"


def layers_of(half: CutHalf) -> list[LayerView]:
    """Its courses."""
    return [
        LayerView(
            name=layer.name, material=layer.material, element=layer.element, construction=layer.construction, side=side_of(half),
            polygon=ring, area=area_of(ring),
        )
        for layer, found in zip(half.layers, rings(half.layers, 0, 1), strict=True)
        for ring in found
    ]  # fmt: skip


def hinge_of(halves: list[CutHalf]) -> Vertex | None:
    """The first place where the hinge runs across the line."""
    found = [(s, z) for h in halves for name, s, z in h.points if name == "hinge"]
    return min(found, key=lambda p: abs(p[0])) if found else None


def together(parts: list[list[Vertex]]) -> list[list[Vertex]]:
    """Runs of the finished surface in order, those that meet as one."""
    out: list[list[Vertex]] = []
    for part in parts:
        if out and part[0][0] - out[-1][-1][0] <= tolerances.CHAINAGE_MERGE:
            out[-1] += part[1:] if part[0] == out[-1][-1] else part
        else:
            out.append(list(part))
    return out
