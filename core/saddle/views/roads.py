"""Other roads of the project on a section, by the exact surfaces that section lines cut (`saddle.lines`)."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from pydantic import BaseModel

from saddle.lines.cut import cut_design, runs_of
from saddle.lines.place import CutLine
from saddle.road.model import RoadModel
from saddle.template.polygons import Vertex
from saddle.template.view import LayerView
from saddle.views.cut_halves import hinge_of, layers_of, together


class MetRoad(BaseModel):
    """What a section meets of another road. Offsets are those of the section. designs: its finished surface in runs, apart where it is
    not known; hinge: where its hinge crosses the section, None where it does not; unknown: from and to of where something is built and
    not known."""

    key: str
    name: str
    designs: list[list[Vertex]]
    layers: list[LayerView]
    hinge: Vertex | None
    unknown: list[tuple[float, float]]


@dataclass(frozen=True, slots=True, eq=False)
class OtherRoad:
    """Another road, solved."""

    key: str
    name: str
    model: RoadModel


def section_line(model: RoadModel, i: int) -> CutLine:
    """The line of a section in plan; its distances are offsets."""
    at = model.inputs.settings
    ends = model.frames.plan(i, np.array([at.left, at.right]))
    return CutLine(0, "at", "", "", float(model.chainage[i]), 0.0, ends, -at.left)


def roads_met(line: CutLine, others: Sequence[OtherRoad]) -> list[MetRoad]:
    """Of other roads, in their order, those of which something is built where a line runs."""
    found = []
    for other in others:
        halves, unknown = cut_design(other.model, line)
        if halves or unknown:
            designs = together(sorted((run for h in halves for run in runs_of(h.s, h.surface)), key=lambda run: run[0]))
            found.append(
                MetRoad(
                    key=other.key, name=other.name, designs=designs, layers=[v for h in halves for v in layers_of(h)],
                    hinge=hinge_of(halves), unknown=unknown,
                )
            )  # fmt: skip
    return found
