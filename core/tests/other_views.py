"""The same random road told otherwise: mirrored, walked from its other end, with other chainages. What is built must be the same."""

from dataclasses import replace
from typing import Any, TypeVar

import numpy as np

from saddle.alignment.alignment import build
from saddle.alignment.parts import reversed_spec
from saddle.documents_base import Document
from saddle.road.model import RoadInputs
from saddle.terrain.survey_lines import SurveyLines
from saddle.terrain.tin import Tin

D = TypeVar("D", bound=Document)
#: Fields that hold a chainage, wherever they stand.
CHAINAGES = {"chainage", "from_chainage", "to_chainage", "start_chainage"}
SIDES = {"left": "right", "right": "left"}
DOCUMENTS = ("settings", "treatments", "template_plan", "follow", "crossfalls", "levels", "milling")
MAPS = ("templates", "guides", "profiles")


def told(document: D, change: Any) -> D:
    """A document with every value changed by change(name of the field, value), inside out."""

    def walk(name: str, value: Any) -> Any:
        if isinstance(value, dict):
            value = {k: walk(k, v) for k, v in value.items()}
        elif isinstance(value, list | tuple):
            value = [walk(name, v) for v in value]
        return change(name, value)

    return type(document).model_validate(walk("", document.model_dump()))


def each(inputs: RoadInputs, change: Any) -> RoadInputs:
    """All documents with chainages or sides, told otherwise."""
    single = {name: told(getattr(inputs, name), change) for name in DOCUMENTS}
    many = {name: {k: told(d, change) for k, d in getattr(inputs, name).items()} for name in MAPS}
    return replace(inputs, **single, **many, beside=tuple(told(b, change) for b in inputs.beside))


def rechained(inputs: RoadInputs, by: float) -> RoadInputs:
    """Chainages that begin elsewhere, and no equations: they are only what chainages are called."""

    def change(name: str, value: Any) -> Any:
        if name in CHAINAGES and isinstance(value, float):
            return value + by
        if name == "extra" and isinstance(value, float):
            return value + by
        return value

    out = each(inputs, change)
    a = inputs.alignment
    return replace(out, alignment=a.changed(start_chainage=a.start_chainage + by, equations=[]))


def _sides(name: str, value: Any) -> Any:
    """Left becomes right."""
    if name in ("side", "about", "full_at") and value in SIDES:
        return SIDES[value]
    if name == "line" and isinstance(value, str) and value.split("_")[0] in SIDES:
        side, rest = value.split("_")
        return f"{SIDES[side]}_{rest}"
    if not isinstance(value, dict):
        return value
    if value.get("by") == "offset" and "offset" in value:
        value = {**value, "offset": -value["offset"]}
    if value.get("by") == "pieces" and name != "parts":  # what a guide is widened by is outward on both sides
        pieces = [{**p, "to_offset": -p["to_offset"]} if "to_offset" in p else p for p in value["pieces"]]
        value = {**value, "start_offset": -value["start_offset"], "pieces": pieces}
    if "right" in value and "left" in value and name != "settings":
        left, right = value["left"], value["right"]
        if isinstance(left, float) and isinstance(right, float):
            left, right = -left, -right
        if not (left is None and isinstance(right, dict) and "points" in right):  # a mirrored template stays as it is
            value = {**value, "left": right, "right": left}
    for pair in (
        ("left_edge", "right_edge"),
        ("left_crossfall", "right_crossfall"),
        ("left_pct", "right_pct"),
        ("left_beyond", "right_beyond"),
    ):
        if pair[0] in value:
            value = {**value, pair[0]: value[pair[1]], pair[1]: value[pair[0]]}
    return value


def _points(inputs: RoadInputs, move: Any, *, turned: bool) -> dict[str, Any]:
    """Surface and survey lines with their points moved; turned: triangles run the other way round."""
    surface = inputs.surface
    return {
        "surface": Tin(move(surface.points), surface.triangles[:, [0, 2, 1]].copy() if turned else surface.triangles.copy()),
        "lines": {code: SurveyLines(move(x.start), move(x.end)) for code, x in inputs.lines.items()},
    }


def mirrored(inputs: RoadInputs) -> RoadInputs:
    """The road in a mirror that stands along its first straight."""
    a = inputs.alignment
    t = np.radians(a.start_bearing_deg)
    along, base = np.array([np.sin(t), np.cos(t)]), np.array([a.start_east, a.start_north])

    def move(p: np.ndarray) -> np.ndarray:
        d = p[:, :2] - base
        return np.column_stack([base + 2 * (d @ along)[:, None] * along - d, p[:, 2]])

    def change(name: str, value: Any) -> Any:
        return -value if name in ("radius", "radius_start", "radius_end") and value is not None else value

    return replace(each(inputs, _sides), alignment=told(a, change), **_points(inputs, move, turned=True))


def from_the_other_end(inputs: RoadInputs) -> RoadInputs:
    """The road walked back: its chainages run the other way, and left is right. Pieces of guides and transitions between
    templates begin at one end, so the road must have none in use."""
    a = build(inputs.alignment)
    both = a.start + a.end

    def change(name: str, value: Any) -> Any:
        value = _sides(name, value)
        if name in CHAINAGES and isinstance(value, float):
            return both - value
        if name == "extra" and isinstance(value, float):
            return both - value
        if isinstance(value, dict):
            if "from_chainage" in value:
                value = {**value, "from_chainage": value["to_chainage"], "to_chainage": value["from_chainage"]}
            for pair in (("begin", "end"), ("length_in", "length_out")):
                if pair[0] in value and pair[1] in value:
                    value = {**value, pair[0]: value[pair[1]], pair[1]: value[pair[0]]}
        if name in ("rows", "ranges", "points", "extra", "dimensions") and isinstance(value, list):
            placed = [v for v in value if isinstance(v, dict) and CHAINAGES & set(v)]
            value = value[::-1] if placed and len(placed) == len(value) else value
        return value

    out = each(replace(inputs, guides={}), change)
    spec = reversed_spec(inputs.alignment.changed(equations=[])).changed(start_chainage=a.start)
    return replace(out, alignment=spec, guides=inputs.guides)
