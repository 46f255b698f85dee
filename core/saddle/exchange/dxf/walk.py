"""Through the model space of a drawing, whatever its entities are: what comes out are points, lines, faces and texts in the drawing's own
unit and in world coordinates."""

import math
import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any, Literal

import numpy as np
from ezdxf.entities.dxfentity import DXFEntity
from ezdxf.entities.insert import Insert
from ezdxf.layouts.layout import Modelspace
from ezdxf.math import bulge_center, bulge_radius
from ezdxf.render.mesh import MeshBuilder

from saddle.errors import ImportProblem
from saddle.exchange.columns import by_names
from saddle.exchange.dxf.spec import BlockRule
from saddle.geometry.polylines import Floats

#: Name of the property that says the reference system of a file of our own.
SYSTEM = "Reference system"
#: Our own extended data: number and code of a point, name and code of a line.
APP = "TIN_SADDLE"
#: Blocks within blocks are followed so deep; a block that holds itself ends there.
DEEPEST = 12
#: By how much a chord may leave a curve, in metres.
CHORD = 0.01
#: What a drawing may hold once its blocks are laid out: so much at first, and one thing more for so many bytes of its file. Laying out
#: a block counts for so many things.
FIRST_ITEMS, BYTES_AN_ITEM, AN_INSERT = 50_000, 20, 10
#: A symbol of a point is drawn about its place, no farther from it than this, m.
SYMBOL = 3.0
#: Of a vertex: it belongs to the frame that controls a fitted curve and is no place on it (DXF reference, POLYLINE, group 70 of VERTEX).
CONTROL_FRAME = 16
ItemKind = Literal["point", "line", "faces", "text"]


@dataclass(frozen=True, slots=True, eq=False)
class Item:
    """Something drawn. places: (k, 3), of faces their corners by threes; names: number and code from our own files; attributes: of a
    block's insert; text, height: of a lettering; flat: it has but one level, which may be none."""

    kind: ItemKind
    layer: str
    places: Floats
    handle: str = ""
    names: tuple[str, str] = ("", "")
    attributes: dict[str, str] = field(default_factory=dict)
    block: str = ""
    text: str = ""
    height: float = 0.0
    flat: bool = False


@dataclass(slots=True)
class Unread:
    """What was met and not taken. kinds: entities of kinds that hold nothing for a survey; damaged: with the reason, by handle; hidden:
    what the drawing does not show, by what hides it."""

    kinds: Counter[str] = field(default_factory=Counter)
    damaged: list[str] = field(default_factory=list)
    hidden: Counter[str] = field(default_factory=Counter)


class TooMuch(ImportProblem):
    """More than a drawing of its size may hold."""


@dataclass(slots=True)
class Walk:
    """On the way through a drawing. rule_of: how a block is read; chord: by how much a chord may leave a curve, in the drawing's unit;
    frozen: whether a layer is; left: things that it may still hold."""

    rule_of: Callable[[str], BlockRule]
    chord: float
    unread: Unread
    frozen: Callable[[str], bool]
    left: int

    def step(self, n: int = 1) -> None:
        """Raises TooMuch."""
        self.left -= n
        if self.left < 0:
            raise TooMuch(
                "the drawing holds far more than a file of its size, once its blocks are laid out", "file",
                "export the survey alone, without blocks that are repeated in rows or hold one another",
            )  # fmt: skip


def guessed_rule(block: str, attributes: Mapping[str, str], symbol: bool) -> BlockRule:
    """How a block is read when nobody said. attributes: with a value of each; symbol: whether what it holds is drawn about its place.
    A block with attributes or a symbol marks a point, any other one is a drawing in the drawing. A level that no name says is the
    first figure with decimals."""
    tags = list(attributes)
    columns = by_names(tags, ("number", "code", "level"))
    if columns["level"] is None:
        columns["level"] = next(
            (i for i, tag in enumerate(tags) if i not in columns.values() and re.fullmatch(r"[-+]?\d+[.,]\d+", attributes[tag])),
            None,
        )
    found = {what: "" if at is None else tags[at] for what, at in columns.items()}
    return BlockRule(block=block, point=bool(tags) or symbol, **found)


def is_symbol(block: Iterable[DXFEntity], reach: float) -> bool:
    """Whether what a block holds is a symbol: flat, of no other blocks, and no part farther than `reach` from its place."""
    walk = Walk(lambda name: BlockRule(block=name), reach, Unread(), lambda _: False, left=200)
    level: float | None = None
    for entity in block:
        if isinstance(entity, Insert):
            return False
        try:
            for item in _items(entity, "0", walk, 0):
                level = float(item.places[0, 2]) if level is None else level
                if (np.abs(item.places[:, :2]) > reach).any() or (item.places[:, 2] != level).any():
                    return False
        except TooMuch:
            return False
    return True


def clean(text: object) -> str:
    """A name or a text of a drawing without what is no text: halves of signs, and signs that no database keeps."""
    return str(text).encode("utf-8", "replace").decode().replace("\0", "?")[:255]


def items(space: Modelspace, walk: Walk, progress: Callable[[float], None]) -> Iterator[Item]:
    """Everything that is drawn, blocks followed. Raises TooMuch."""
    entities = list(space)
    for number, entity in enumerate(entities):
        if number % 20_000 == 0:
            progress(number / max(len(entities), 1))
        yield from _items(entity, clean(entity.dxf.get("layer", "0")), walk, 0)


def _items(entity: DXFEntity, layer: str, walk: Walk, depth: int) -> Iterator[Item]:
    """layer: of the entity, or of the insert that it comes with where it has none of its own."""
    walk.step()
    kind = entity.dxftype()
    handle = str(entity.dxf.get("handle") or "")
    if entity.dxf.get("invisible", 0):
        walk.unread.hidden["made invisible one by one"] += 1
        return
    try:
        if isinstance(entity, Insert):
            block = clean(entity.dxf.name)
            rule = walk.rule_of(block)
            if walk.frozen(layer) and (depth or not rule.point):
                walk.unread.hidden[f"in inserts on the frozen layer {layer}"] += 1
                return
            if rule.point or depth >= DEEPEST:
                attributes = {clean(a.dxf.tag): clean(a.dxf.text).strip() for a in entity.attribs}
                yield Item(
                    "point",
                    layer,
                    _places([entity.ocs().to_wcs(entity.dxf.insert)]),
                    handle,
                    _names(entity),
                    attributes,
                    block,
                )
                return
            if entity.mcount > 1:
                walk.step(entity.mcount)
            for one in entity.multi_insert() if entity.mcount > 1 else (entity,):
                walk.step(AN_INSERT)
                for part in one.virtual_entities():
                    own = clean(part.dxf.get("layer", "0"))
                    yield from _items(part, layer if own == "0" else own, walk, depth + 1)
            return
        step = _STEPS.get(kind)
        if step is None:
            walk.unread.kinds[kind] += 1
        else:
            item = step(entity, layer, handle, walk.chord)
            walk.step(len(item.places) // 4)
            yield item
    except TooMuch:
        raise
    except Exception as error:  # damaged values surface as many kinds
        reason = str(error) if isinstance(error, ValueError) and len(str(error)) < 80 else "its values are damaged"
        walk.unread.damaged.append(f"{kind} {handle} on {layer}: {reason}")


def _places(points: Any) -> Floats:
    places = np.array([(p[0], p[1], p[2]) for p in points], dtype=float).reshape(-1, 3)
    if not np.isfinite(places).all() or (np.abs(places) > 1e12).any():
        raise ValueError("a coordinate is not a finite number")
    return places


def _names(entity: DXFEntity) -> tuple[str, str]:
    if not entity.has_xdata(APP):
        return "", ""
    number, code = [*(clean(v) for c, v in entity.get_xdata(APP) if c == 1000), "", ""][:2]
    return number, code


def _line(entity: DXFEntity, layer: str, handle: str, points: Any, flat: bool = False) -> Item:
    places = _places(points)
    kept = places[np.r_[True, (np.diff(places, axis=0) != 0).any(axis=1)]] if len(places) else places
    if len(kept) < 2:
        raise ValueError("fewer than two points")
    return Item("line", layer, kept, handle, _names(entity), flat=flat)


def _point(entity: Any, layer: str, handle: str, _: float) -> Item:
    return Item("point", layer, _places([entity.dxf.location]), handle, _names(entity))


def _straight(entity: Any, layer: str, handle: str, _: float) -> Item:
    return _line(entity, layer, handle, [entity.dxf.start, entity.dxf.end])


def _curve(entity: Any, layer: str, handle: str, chord: float) -> Item:
    return _line(entity, layer, handle, list(entity.flattening(chord)))


def _bulged(entity: Any, points: list[tuple[float, float, float]], level: float, closed: bool, chord: float) -> list[Any]:
    """World places of a flat polyline with arcs. points: x, y, bulge in the object's own system; a bulge is the tangent of a quarter of
    the arc's angle, positive counter-clockwise (DXF reference)."""
    out: list[tuple[float, float, float]] = []
    for k, (x, y, bulge) in enumerate(points):
        out.append((x, y, level))
        if not bulge or (k + 1 == len(points) and not closed):
            continue
        to = points[(k + 1) % len(points)][:2]
        centre, radius, sweep = bulge_center((x, y), to, bulge), bulge_radius((x, y), to, bulge), 4 * math.atan(bulge)
        begin = math.atan2(y - centre.y, x - centre.x)
        step = 2 * math.acos(max(-1.0, 1 - chord / radius)) if radius > chord else math.pi
        parts = max(1, math.ceil(abs(sweep) / step))
        for j in range(1, parts):
            angle = begin + sweep * j / parts
            out.append((centre.x + radius * math.cos(angle), centre.y + radius * math.sin(angle), level))
    if closed and points:
        out.append(out[0])
    ocs = entity.ocs()
    return [ocs.to_wcs(p) for p in out]


def _light(entity: Any, layer: str, handle: str, chord: float) -> Item:
    places = _bulged(entity, list(entity.get_points("xyb")), entity.dxf.elevation, entity.closed, chord)
    return _line(entity, layer, handle, places, flat=True)


def _polyline(entity: Any, layer: str, handle: str, chord: float) -> Item:
    if entity.is_poly_face_mesh or entity.is_polygon_mesh:
        return _mesh(MeshBuilder.from_polyface(entity), layer, handle)
    on_it = [v for v in entity.vertices if not v.dxf.get("flags", 0) & CONTROL_FRAME]
    if entity.is_2d_polyline:
        points = [(v.dxf.location.x, v.dxf.location.y, v.dxf.get("bulge", 0.0)) for v in on_it]
        places = _bulged(entity, points, entity.dxf.elevation.z, entity.is_closed, chord)
        return _line(entity, layer, handle, places, flat=True)
    points = [v.dxf.location for v in on_it]
    return _line(entity, layer, handle, [*points, points[0]] if entity.is_closed and points else points)


def _face(entity: Any, layer: str, handle: str, _: float) -> Item:
    corners = _places([entity.dxf.get(f"vtx{i}") for i in range(4)])
    two = [0, 1, 2] if (corners[3] == corners[2]).all() else [0, 1, 2, 0, 2, 3]
    return Item("faces", layer, corners[two], handle)


def _mesh_entity(entity: Any, layer: str, handle: str, _: float) -> Item:
    return _mesh(MeshBuilder.from_mesh(entity), layer, handle)


def _mesh(mesh: MeshBuilder, layer: str, handle: str) -> Item:
    corners = [f[k] for f in mesh.faces_as_vertices() for i in range(1, len(f) - 1) for k in (0, i, i + 1)]
    if not corners:
        raise ValueError("a mesh without faces")
    return Item("faces", layer, _places(corners), handle)


def _text(entity: Any, layer: str, handle: str, _: float) -> Item:
    plain = entity.dxftype() == "TEXT"
    words = entity.dxf.text if plain else entity.plain_text()
    at = entity.ocs().to_wcs(entity.dxf.insert) if plain else entity.dxf.insert
    height = float(entity.dxf.height if plain else entity.dxf.char_height)
    return Item("text", layer, _places([at]), handle, text=clean(words).strip(), height=height)


_STEPS: dict[str, Callable[[Any, str, str, float], Item]] = {
    "POINT": _point, "LINE": _straight, "LWPOLYLINE": _light, "POLYLINE": _polyline, "3DFACE": _face, "MESH": _mesh_entity,
    "ARC": _curve, "CIRCLE": _curve, "ELLIPSE": _curve, "SPLINE": _curve, "HELIX": _curve, "TEXT": _text, "MTEXT": _text,
}  # fmt: skip
