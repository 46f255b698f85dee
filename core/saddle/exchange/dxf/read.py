"""DXF in: what a drawing holds, layer by layer, and points, lines and faces out of the layers that are taken.

A layer is a code unless somebody says otherwise. Files of our own carry point numbers and line names as extended data; files of others
get numbers made up, or have them in the attributes of their blocks.
"""

import io
import re
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field, replace
from functools import cached_property
from tempfile import NamedTemporaryFile

import ezdxf.filemanagement
import numpy as np
from ezdxf import recover
from ezdxf.document import Drawing
from ezdxf.entities.insert import Insert
from ezdxf.lldxf.const import DXFError
from scipy.spatial import cKDTree

from saddle.errors import GeometryError, ImportProblem
from saddle.exchange.dxf.spec import METRES, OF_SURVEYS, UNITS, BlockRule, DrawingMapping, DrawingUnit, LayerRule
from saddle.exchange.dxf.walk import (
    APP,
    BYTES_AN_ITEM,
    CHORD,
    FIRST_ITEMS,
    SYMBOL,
    SYSTEM,
    Item,
    Unread,
    Walk,
    clean,
    guessed_rule,
    is_symbol,
    items,
)
from saddle.exchange.found import Found, NamedSurface
from saddle.exchange.point_rows import figure_or_none
from saddle.exchange.systems import code_of
from saddle.exchange.tablebuilder import TableBuilder
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import CodeRule, FileUnit, Meaning
from saddle.terrain.table import SkippedRow
from saddle.terrain.tin import Tin

#: Level 0 is none where everything else is farther from it than this, m.
FAR_FROM_ZERO = 1.0
#: A text says the level of a point that it stands no farther from than this many of its own heights.
TEXT_REACH = 4.0
#: Damaged entities told one by one.
TOLD = 50
#: A coordinate beyond this is no place on the earth, m.
FARTHEST = 1e9
#: How binary files begin (DXF reference).
BINARY = re.compile(rb"[A-Za-z]+ Binary DXF\r\n\x1a\x00")
#: Names of attributes that may say how high something is, and not at which level.
MEASURE = re.compile(r"(?:tree[ _]?)?(?:height|h|höhe|hoehe|hauteur|altura|hoogte|höjd|korkeus)", re.IGNORECASE)
#: The last entity of a file that is cut short is looked for in so many of its last bytes.
LAST = 1_000_000
#: A drawing read in the usual way.
AS_DRAWN = DrawingMapping()


@dataclass(slots=True)
class LayerFound:
    """What is on a layer. points, lines, faces, texts: how many; at_zero: points and vertices at level 0; least, greatest: of the other
    levels, m, None where there are none; shown: as the drawing has it; taken: whether it is."""

    layer: str
    points: int = 0
    lines: int = 0
    faces: int = 0
    texts: int = 0
    at_zero: int = 0
    least: float | None = None
    greatest: float | None = None
    shown: str = "on"
    taken: bool = True


@dataclass(slots=True)
class BlockFound:
    """A block and its attributes with a value of each. rule: as it is read; raised: whether an insert has a level of its own."""

    rule: BlockRule
    inserts: int
    attributes: dict[str, str] = field(default_factory=dict)
    raised: bool = False


@dataclass(slots=True)
class DrawingFound:
    """What a drawing holds. says: the unit of its header, None where it says none; unit: that was taken; zero: whether level 0 was taken
    as a level; least, greatest: places in plan of the layers that are taken, m."""

    says: DrawingUnit | None
    unit: DrawingUnit
    zero: bool
    layers: list[LayerFound]
    blocks: list[BlockFound]
    least: tuple[float, float] | None
    greatest: tuple[float, float] | None


class _Drawing:
    """A drawing that was read, and how it is to be taken."""

    def __init__(self, data: bytes, mapping: DrawingMapping, unit: FileUnit, progress: Callable[[float], None]) -> None:
        self.document = _parsed(data)
        self.mapping = mapping
        self.says = UNITS.get(int(self.document.header.get("$INSUNITS", 0)))
        self.unit: DrawingUnit = mapping.unit or (self.says if self.says in OF_SURVEYS else unit)
        self.factor = METRES[self.unit]
        self.unread = Unread()
        #: Blocks of which an attribute was not taken for the level, in words.
        self.heights: list[str] = []
        progress(0.5)
        left = FIRST_ITEMS + len(data) // BYTES_AN_ITEM
        walk = Walk(self.rule_of, CHORD / self.factor, self.unread, lambda name: self.shown(name) == "frozen", left)
        self.items = list(items(self.document.modelspace(), walk, lambda s: progress(0.5 + 0.3 * s)))
        for item in self.items:
            item.places[:] *= self.factor
            if mapping.swapped:
                item.places[:] = item.places[:, [1, 0, 2]]
        near = []
        for item in self.items:
            if (np.abs(item.places) > FARTHEST).any():
                self.unread.damaged.append(f"{item.kind} {item.handle} on {item.layer}: it lies nowhere on the earth")
            else:
                near.append(item)
        self.items = near

    @cached_property
    def inserts(self) -> dict[str, BlockFound]:
        """The blocks that are inserted in the model space, each with the attributes of its inserts and the first value of each."""
        out: dict[str, BlockFound] = {}
        for entity in self.document.modelspace().query("INSERT"):
            assert isinstance(entity, Insert)
            name = clean(entity.dxf.name)
            block = out.setdefault(name, BlockFound(BlockRule(block=name), 0))
            block.inserts += 1
            block.raised = block.raised or abs(entity.dxf.insert.z) > 0
            for attribute in entity.attribs:
                tag, value = clean(attribute.dxf.tag), clean(attribute.dxf.text).strip()
                block.attributes[tag] = block.attributes.get(tag) or value
        return out

    @cached_property
    def rules(self) -> dict[str, BlockRule]:
        return {r.block: r for r in self.mapping.blocks}

    def rule_of(self, block: str) -> BlockRule:
        if block not in self.rules:
            found = self.document.blocks.get(block)
            inserted = self.inserts.get(block) or BlockFound(BlockRule(block=block), 0)
            said = ({clean(a.dxf.tag): "" for a in found.attdefs()} if found is not None else {}) | inserted.attributes
            rule = guessed_rule(block, said, found is None or is_symbol(found, SYMBOL / self.factor))
            if inserted.raised and MEASURE.fullmatch(rule.level):
                # How high a tree or a sign is, beside the level at which it stands.
                rule = rule.changed(level="")
                self.heights.append(f"{rule.block}: its inserts have levels, so that what it calls a height is none")
            self.rules[block] = rule
        return self.rules[block]

    @cached_property
    def layer_rules(self) -> dict[str, LayerRule]:
        return {r.layer: r for r in self.mapping.layers}

    def layer(self, name: str) -> LayerRule:
        """As it was said, or in the usual way: what the drawing shows is taken; where it shows nothing, all."""
        if name not in self.layer_rules:
            self.layer_rules[name] = LayerRule(layer=name, take=self.shown(name) == "on" or self.dark)
        return self.layer_rules[name]

    def shown(self, name: str) -> str:
        """Whether the drawing has a layer on, off or frozen."""
        if not self.document.layers.has_entry(name):
            return "on"
        entry = self.document.layers.get(name)
        return "frozen" if entry.is_frozen() else "off" if entry.is_off() else "on"

    @cached_property
    def dark(self) -> bool:
        """Whether all that is drawn lies on layers that are not shown."""
        return all(self.shown(name) != "on" for name in {i.layer for i in self.items if i.kind != "text"})

    def level_of(self, item: Item) -> float:
        """Of a point, m: from its block's attribute where that says one, otherwise its own."""
        tag = self.rule_of(item.block).level if item.block else ""
        words = item.attributes.get(tag, "")
        if not words:
            return float(item.places[0, 2])
        said = _level(words)
        if said is None:
            raise ValueError(f"“{words[:40]}” is no level")
        return said * self.factor

    def levels_of(self, item: Item) -> Floats:
        """Of a point what its block says, of anything else its own, (k,), m."""
        try:
            return np.array([self.level_of(item)]) if item.kind == "point" else item.places[:, 2]
        except ValueError:
            return item.places[:, 2]

    @cached_property
    def levels(self) -> Floats:
        """Of all points, vertices and corners on layers that are taken, m."""
        taken = [
            i for i in self.items if i.kind != "text" and self.layer(i.layer).take and self.layer(i.layer).counts != "background"
        ]
        return np.concatenate([self.levels_of(i) for i in taken]) if taken else np.empty(0)

    @cached_property
    def zero(self) -> bool:
        """Whether level 0 is a level."""
        if self.mapping.zero != "guess":
            return self.mapping.zero == "take"
        if self.document.appids.has_entry(APP):
            return True  # our own files say the levels that they have
        others = self.levels[self.levels != 0]
        return bool(len(others) and np.abs(others).min() <= FAR_FROM_ZERO)

    @cached_property
    def texts(self) -> tuple[cKDTree, list[tuple[float, float]]] | None:
        """Places of the texts that are figures, with the figure and how far it reaches, m."""
        said = [(i, _level(i.text)) for i in self.items if i.kind == "text"]
        some = [(i, v) for i, v in said if v is not None]
        if not self.mapping.texts or not some:
            return None
        return cKDTree(np.array([i.places[0, :2] for i, _ in some])), [
            (v * self.factor, TEXT_REACH * i.height * self.factor) for i, v in some
        ]

    def from_text(self, place: Floats) -> float | None:
        """The level that a text beside a place says, m."""
        if self.texts is None:
            return None
        apart, k = self.texts[0].query(place[:2])
        level, reach = self.texts[1][int(k)]
        return level if apart <= reach else None


def _level(text: str) -> float | None:
    """The level that an attribute or a lettering says, with a point or a comma."""
    said = figure_or_none(text, "," if "," in text else ".")
    return said if said is not None and abs(said) < FARTHEST else None


def _parsed(data: bytes) -> Drawing:
    """Raises ImportProblem for a file that is no DXF."""
    try:
        document = _binary(data) if BINARY.match(data) else recover.read(io.BytesIO(_ended(data)))[0]
        len(document.modelspace())
    except Exception as error:  # the library raises many kinds on damaged files
        raise ImportProblem(
            "the file cannot be read as DXF: it is damaged, cut short before its entities, or something else",
            "file", "export it again as DXF R2000 or later",
        ) from error  # fmt: skip
    return document


def _system_of(document: Drawing) -> str:
    """The reference system of a drawing, EPSG:n: as our own files say it among their properties, or as its geographic data do where what
    is drawn has the coordinates of the system."""
    if said := code_of(document.header.custom_vars.get(SYSTEM, "")):
        return said
    try:
        data = document.modelspace().get_geodata()
        if data is None:
            return ""
        turned, number = data.get_crs_transformation()
    except (DXFError, ValueError, AttributeError):
        return ""
    here = all(turned.transform(at).isclose(at, abs_tol=1e-6) for at in ((0.0, 0.0, 0.0), (1e3, 0.0, 0.0)))
    return code_of(number) if here else ""


def _cut_short(data: bytes) -> bool:
    return not BINARY.match(data) and not data[-64:].rstrip().endswith(b"EOF")


def _ended(data: bytes) -> bytes:
    """A text that is cut short, up to its last entity that may be whole: the library drops all of a section without an end."""
    if not _cut_short(data):
        return data
    tail = max(0, len(data) - LAST)
    begins = [m.start() for m in re.finditer(rb"\r?\n[ \t]*0\r?\n(?=[A-Z])", data[tail:])]
    return data if not begins else data[: tail + begins[-1]] + b"\n  0\nENDSEC\n  0\nEOF\n"


def _binary(data: bytes) -> Drawing:
    """The library reads binary drawings from a file alone."""
    with NamedTemporaryFile(suffix=".dxf") as file:
        file.write(data)
        file.flush()
        return ezdxf.filemanagement.readfile(file.name)


def look_dxf(
    data: bytes,
    mapping: DrawingMapping = AS_DRAWN,
    unit: FileUnit = "metre",
    progress: Callable[[float], None] = lambda _: None,
) -> tuple[DrawingFound, Found]:
    """What a drawing holds and what is taken of it by `mapping`. unit: of a drawing that does not say its own, or says one that surveys
    are not drawn in. Raises ImportProblem for a file that is no DXF."""
    drawing = _Drawing(data, mapping, unit, progress)
    found = _Taking(drawing).found(data)
    progress(0.95)
    return _described(drawing), found


def read_dxf(
    data: bytes,
    progress: Callable[[float], None] = lambda _: None,
    unit: FileUnit = "metre",
    mapping: DrawingMapping = AS_DRAWN,
) -> Found:
    """Points, lines and faces of the model space as `mapping` says. unit and errors: as for look_dxf."""
    return look_dxf(data, mapping, unit, progress)[1]


def rules_of(mapping: DrawingMapping, found: DrawingFound) -> list[CodeRule]:
    """What the codes of layers mean where it was said at the layer. Structures on a layer with lines are pipes, others pits."""
    lines = {row.layer for row in found.layers if row.lines}
    out: dict[str, CodeRule] = {}
    for rule in mapping.layers:
        code = rule.code or rule.layer[:80]
        match rule.counts:
            case "breaklines" | "points":
                out[code] = CodeRule(code=code, in_surface=True, breakline=rule.counts == "breaklines")
            case "boundary":
                out[code] = CodeRule(
                    code=code, meaning="boundary", in_surface=False, breakline=False, colour="#A83A2C", dashed=True
                )
            case "structures":
                meaning: Meaning = "pipe" if rule.layer in lines else "pit"
                out[code] = CodeRule(code=code, meaning=meaning, in_surface=False, breakline=False, colour="#8A3F78", width=1.6)
    return list(out.values())


def backgrounds_of(mapping: DrawingMapping) -> list[str]:
    """Codes of the layers that are only drawn beneath the survey."""
    return [rule.code or rule.layer[:80] for rule in mapping.layers if rule.take and rule.counts == "background"]


class _Taking:
    """Points and lines of the layers that are taken, and what was left out."""

    def __init__(self, drawing: _Drawing) -> None:
        self.drawing = drawing
        self.rows = TableBuilder()
        self.faces: dict[str, list[Floats]] = {}
        self.told: list[SkippedRow] = []
        #: Places at level 0 that were left out, and those that were taken, by layer.
        self.zeros: Counter[str] = Counter()

    def tell(self, reason: str) -> None:
        self.told.append(SkippedRow(0, reason))

    def found(self, data: bytes) -> Found:
        for item in sorted(self.drawing.items, key=lambda i: i.kind != "point"):  # lines find the points that they go through
            rule = self.drawing.layer(item.layer)
            if not rule.take or item.kind == "text":
                continue
            try:
                self.take(item, rule.code or item.layer, rule.counts == "background")
            except ValueError as error:
                self.tell(f"{item.kind} {item.handle} on {item.layer}: {error}"[:200])
        surfaces = list(self.surfaces())
        self.tell_of_the_rest(data)
        unit = next((u for u in OF_SURVEYS if u == self.drawing.unit), None)
        system = _system_of(self.drawing.document)
        return Found(self.rows.table(), surfaces, [], self.told, unit, system=system)

    def take(self, item: Item, code: str, background: bool) -> None:
        names = item.names
        # Nobody gives a flat line level 0 by hand: it is what a line has until somebody does.
        sure = self.drawing.mapping.zero != "guess" or bool(names[0])
        flat_is_fine = background or (self.drawing.zero and (sure or not item.flat))
        if item.kind == "point":
            self.point(item, names[1] if names[0] else code, flat_is_fine)
        elif item.kind == "faces":
            at_zero = (item.places[:, 2] == 0).any()
            if at_zero and not flat_is_fine:
                self.zeros[item.layer] += len(item.places)
            else:
                self.faces.setdefault(item.layer, []).append(item.places)
        else:
            kept = item.places if flat_is_fine else item.places[item.places[:, 2] != 0]
            self.zeros[item.layer] += len(item.places) - len(kept)
            if len(kept) >= 2:
                self.rows.line(names[0] or f"L{item.handle}", kept, names[1] if names[0] else code, 0)

    def point(self, item: Item, code: str, flat_is_fine: bool) -> None:
        drawing = self.drawing
        rule = drawing.rule_of(item.block) if item.block else None
        said = {k: item.attributes.get(getattr(rule, k), "") for k in ("number", "code")} if rule else {"number": "", "code": ""}
        level = drawing.level_of(item)
        if level == 0:
            level = drawing.from_text(item.places[0]) or 0.0
        if level == 0 and not flat_is_fine:
            self.zeros[item.layer] += 1
            return
        east, north, _ = item.places[0].tolist()
        number = item.names[0] or said["number"] or f"P{len(self.rows) + 1}"
        self.rows.point(number, (east, north, level), said["code"] or code, 0)

    def surfaces(self) -> Iterator[NamedSurface]:
        """Faces of each layer with corners in one place made one point."""
        for layer, faces in self.faces.items():
            corners: Floats = np.asarray(np.vstack(faces).round(6), dtype=np.float64)
            points, index = np.unique(corners, axis=0, return_inverse=True)
            triangles = index.reshape(-1, 3).astype(np.int32)
            plan = points[triangles][:, :, :2]
            a, b = plan[:, 1] - plan[:, 0], plan[:, 2] - plan[:, 0]
            twice = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
            triangles[twice < 0] = triangles[twice < 0][:, [0, 2, 1]]
            if upright := int((twice == 0).sum()):
                self.tell(f"{upright} upright faces on {layer}: not part of a surface")
            try:
                yield NamedSurface(layer[:80], Tin(points, triangles[twice != 0]))
            except GeometryError as error:
                self.tell(f"faces on {layer}: {error.message}")

    def tell_of_the_rest(self, data: bytes) -> None:
        drawing = self.drawing
        others = drawing.levels[drawing.levels != 0]
        between = f"; all else lies from {others.min():.2f} to {others.max():.2f} m" if len(others) else ""
        for layer, n in sorted(self.zeros.items()):
            if n:
                self.tell(f"{n:,} {'place' if n == 1 else 'places'} at level 0 on {layer} left out{between}")
        if drawing.says not in (None, drawing.unit):
            self.tell(f"the drawing says that its unit is the {_word(drawing.says)}; it was read in {_word(drawing.unit)}s")
        for words in sorted(drawing.heights):
            self.tell(words[:200])
        for why, n in sorted(drawing.unread.hidden.items()):
            self.tell(f"{n:,} things {why}: the drawing does not show them, so they are left out"[:200])
        for kind, n in sorted(drawing.unread.kinds.items()):
            self.tell(f"{n} × {kind}: not read")
        for reason in drawing.unread.damaged[:TOLD]:
            self.tell(reason[:200])
        if len(drawing.unread.damaged) > TOLD:
            self.tell(f"and {len(drawing.unread.damaged) - TOLD:,} more that are damaged")
        if _cut_short(data):
            at = data.count(b"\n") + 1
            self.tell(
                f"the file is cut short: it ends in line {at:,} and not with its last word EOF; what stands before it was read"
            )


def _word(unit: DrawingUnit | None) -> str:
    return "US survey foot" if unit == "us_survey_foot" else str(unit)


def _described(drawing: _Drawing) -> DrawingFound:
    layers: dict[str, LayerFound] = {}
    blocks: dict[str, BlockFound] = {}
    for item in drawing.items:
        row = layers.setdefault(item.layer, LayerFound(item.layer))
        if item.kind == "text":
            row.texts += 1
            continue
        match item.kind:
            case "point":
                row.points += 1
            case "line":
                row.lines += 1
            case "faces":
                row.faces += len(item.places) // 3
        levels = drawing.levels_of(item)
        row.at_zero += int((levels == 0).sum())
        others = levels[levels != 0]
        if len(others):
            low, high = float(others.min()), float(others.max())
            row.least = low if row.least is None else min(row.least, low)
            row.greatest = high if row.greatest is None else max(row.greatest, high)
        if item.block:
            block = blocks.setdefault(item.block, BlockFound(drawing.rule_of(item.block), 0))
            block.inserts += 1
            block.attributes = {**item.attributes, **block.attributes}
    for name, inserted in drawing.inserts.items():
        blocks.setdefault(name, replace(inserted, rule=drawing.rule_of(name)))
    for name, row in layers.items():
        row.shown, row.taken = drawing.shown(name), drawing.layer(name).take
    places = [i.places[:, :2] for i in drawing.items if i.kind != "text" and layers[i.layer].taken]
    plan = np.concatenate(places) if places else np.empty((0, 2))
    least, greatest = (None, None) if len(plan) == 0 else (plan.min(axis=0).tolist(), plan.max(axis=0).tolist())
    return DrawingFound(
        drawing.says, drawing.unit, drawing.zero, sorted(layers.values(), key=lambda r: r.layer), sorted(blocks.values(), key=lambda b: b.rule.block),
        least, greatest,
    )  # fmt: skip
