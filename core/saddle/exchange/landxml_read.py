"""LandXML 1.2 in: points, plan features, breaklines, TIN surfaces, alignments with profiles.

Coordinates are "northing easting [elevation]". Directions are taken from coordinates, never from `dir`, whose zero
differs between writers. What is not known is listed with its line. XML is read without entities, DTD or network.
"""

import math
from collections import Counter
from collections.abc import Callable, Iterator
from typing import Any

import numpy as np
from lxml import etree

from saddle.alignment.alignment import build
from saddle.alignment.profile import ProfilePoint, ProfileSpec
from saddle.alignment.spec import AlignmentSpec, Arc, ChainageEquation, Element, Straight
from saddle.errors import GeometryError, ImportProblem
from saddle.exchange.found import Doubt, Found, NamedAlignment, NamedSurface
from saddle.exchange.landxml_curves import arc_of_a_line, misses_by, transition
from saddle.exchange.systems import code_of
from saddle.exchange.tablebuilder import TableBuilder
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import METRES_PER, FileUnit
from saddle.terrain.table import SkippedRow
from saddle.terrain.tin import Tin

#: Metres per unit of length.
METRES = {
    "meter": 1.0, "millimeter": 0.001, "centimeter": 0.01, "kilometer": 1000.0,
    "foot": METRES_PER["foot"], "USSurveyFoot": METRES_PER["us_survey_foot"], "inch": 0.0254, "mile": 1609.344,
}  # fmt: skip
#: Other ways in which their names are written, letters only.
SPELT = {
    "metre": "meter", "metres": "meter", "meters": "meter", "m": "meter", "feet": "foot", "ft": "foot", "internationalfoot": "foot",
    "ussurveyfeet": "USSurveyFoot", "usfoot": "USSurveyFoot", "usfeet": "USSurveyFoot", "usft": "USSurveyFoot", "mm": "millimeter",
}  # fmt: skip
#: Those of surveys.
SURVEYED: dict[str, FileUnit] = {"meter": "metre", "foot": "foot", "USSurveyFoot": "us_survey_foot"}
#: Greatest gap between elements of an alignment that is only remarked, and that is taken at all, m.
GAP_TOLD, GAP_TAKEN = 0.02, 1.0
#: A description of one word that is longer is no code.
LONGEST_CODE = 12
KNOWN = {
    "Units",
    "Project",
    "Application",
    "CgPoints",
    "PlanFeatures",
    "Surfaces",
    "Alignments",
    "CoordinateSystem",
    "FeatureDictionary",
}
#: An element of the tree; the library comes without types.
Node = Any


class _Reader:
    def __init__(self, factor: float, swapped: bool) -> None:
        self.factor = factor
        #: Where north and east stand among two or three numbers: by the standard north comes first.
        self.north, self.east = (1, 0) if swapped else (0, 1)
        self.rows = TableBuilder()
        #: Places of points by name, which others refer to.
        self.named: dict[str, list[float]] = {}
        self.surfaces: list[NamedSurface] = []
        self.alignments: list[NamedAlignment] = []
        self.skipped: list[SkippedRow] = []
        self.others: Counter[str] = Counter()
        self.first_line: dict[str, int] = {}

    def skip(self, node: Node, reason: str) -> None:
        self.skipped.append(SkippedRow(node.sourceline or 0, reason))

    def unknown(self, node: Node) -> None:
        name = _tag(node)
        self.others[name] += 1
        self.first_line.setdefault(name, node.sourceline or 0)

    def numbers(self, text: str | None) -> list[float]:
        """Numbers of a text in metres. Raises ValueError for anything else."""
        values = [float(v) * self.factor for v in (text or "").replace(",", " ").split()]
        if not all(math.isfinite(v) and abs(v) < 1e9 for v in values):
            raise ValueError("a coordinate is not a finite number")
        return values

    def length(self, text: str | None) -> float:
        values = self.numbers(text)
        if len(values) != 1:
            raise ValueError(f"“{(text or '')[:30]}” is no length")
        return values[0]

    def place(self, node: Node | None, levels: bool = False) -> Floats:
        """East and north of a Start, End, Center or PI, and the level where one is wanted; it may refer to a point by its name."""
        if node is None:
            raise ValueError("a point is missing")
        values = self.numbers(node.text)
        of = node.get("pntRef")
        if not values and of is not None:
            if of not in self.named:
                raise ValueError(f"line {node.sourceline} refers to the point {of[:40]}, which is not there")
            values = self.named[of]
        if len(values) < 2:
            raise ValueError(f"the {_tag(node)} in line {node.sourceline} needs northing and easting")
        if levels and len(values) < 3:
            raise ValueError("its points have no levels")
        return np.array([values[self.east], values[self.north], *(values[2:3] if levels else [])])

    def list_3d(self, text: str | None) -> Floats:
        values = self.numbers(text)
        if len(values) % 3 or len(values) < 6:
            raise ValueError("a list of points needs northing, easting and level of two points or more")
        p = np.array(values).reshape(-1, 3)
        return p[:, [self.east, self.north, 2]]

    # points and lines

    def points(self, group: Node) -> None:
        code = group.get("code") or ""
        for node in group:
            if not isinstance(node.tag, str):
                continue
            if _tag(node) == "CgPoints":
                self.points(node)
            elif _tag(node) != "CgPoint":
                self.unknown(node)
            else:
                try:
                    values = self.numbers(node.text)
                    number = node.get("name") or node.get("oID") or ""
                    if len(values) >= 2:
                        self.named.setdefault(number, values)
                    if len(values) == 2:
                        raise ValueError("has no level")
                    if len(values) != 3:
                        raise ValueError("needs northing, easting and level")
                    self.rows.point(
                        number,
                        (values[self.east], values[self.north], values[2]),
                        node.get("code") or _code_like(node.get("desc")) or code,
                        node.sourceline or 0,
                    )
                except ValueError as error:
                    self.skip(node, f"point {node.get('name', '')} {error}")

    def features(self, group: Node) -> None:
        for node in group:
            if not isinstance(node.tag, str):
                continue
            if _tag(node) != "PlanFeature":
                self.unknown(node)
                continue
            name, code = node.get("name") or "L", _code(node, "LINE")
            for geometry in _children(node, "CoordGeom"):
                try:
                    self.rows.line(name, self.feature_points(geometry), code, node.sourceline or 0)
                except ValueError as error:
                    self.skip(node, f"line {name}: {error}")

    def feature_points(self, geometry: Node) -> Floats:
        p: list[list[float]] = []
        for part in geometry:
            if not isinstance(part.tag, str):
                continue
            if _tag(part) == "IrregularLine":
                listed = next(_children(part, "PntList3D"), None)
                if listed is None:
                    raise ValueError("its points have no levels")
                p += self.list_3d(listed.text).tolist()
            elif _tag(part) in ("Line", "Curve"):
                start, end = (self.place(_child(part, name), levels=True) for name in ("Start", "End"))
                if _tag(part) == "Line":
                    p += [start.tolist(), end.tolist()]
                else:
                    p += arc_of_a_line(start, self.place(_child(part, "Center")), end, self.turn(part))
            else:
                raise ValueError(f"it holds a {_tag(part)}, and only straight pieces and arcs are taken")
        kept = [v for i, v in enumerate(p) if i == 0 or v != p[i - 1]]
        if len(kept) < 2:
            raise ValueError("it has fewer than two points")
        return np.array(kept)

    # surfaces

    def all_surfaces(self, group: Node) -> None:
        for node in _children(group, "Surface"):
            self.surface(node)

    def all_alignments(self, group: Node) -> None:
        for node in _children(group, "Alignment"):
            self.alignment(node)

    def surface(self, node: Node) -> None:
        name = node.get("name") or f"Surface {len(self.surfaces) + 1}"
        for source in _children(node, "SourceData"):
            for part in source:
                if not isinstance(part.tag, str):
                    continue
                match _tag(part):
                    case "Breaklines":
                        self.listed(part, "Breakline", "BREAK")
                    case "Boundaries":
                        self.listed(part, "Boundary", "BDY")
                    case "DataPoints":
                        self.data_points(part)
                    case _:
                        self.unknown(part)
        definition = next(_children(node, "Definition"), None)
        if definition is None:
            return
        if (definition.get("surfType") or "TIN").upper() != "TIN":
            self.skip(definition, f"surface {name} is a {definition.get('surfType')}, and only TINs are taken")
            return
        try:
            self.surfaces.append(NamedSurface(name[:80], self.tin(definition)))
        except (ValueError, KeyError, GeometryError) as error:
            self.skip(definition, f"surface {name}: {error}")

    def tin(self, definition: Node) -> Tin:
        index: dict[str, int] = {}
        points: list[list[float]] = []
        for group in _children(definition, "Pnts"):
            for node in _children(group, "P"):
                values = self.numbers(node.text)
                if len(values) != 3:
                    raise ValueError(f"point {node.get('id')} needs northing, easting and level")
                index[node.get("id") or str(len(points) + 1)] = len(points)
                points.append([values[self.east], values[self.north], values[2]])
        faces: list[list[int]] = []
        for group in _children(definition, "Faces"):
            for node in _children(group, "F"):
                if node.get("i") == "1":
                    continue
                corners = (node.text or "").split()[:3]
                missing = [c for c in corners if c not in index]
                if missing or len(corners) != 3:
                    raise ValueError(f"a face in line {node.sourceline} names a point that is not there")
                faces.append([index[c] for c in corners])
        if not faces:
            raise ValueError("it has no faces")
        xyz, triangles = np.array(points), np.array(faces, dtype=np.int32)
        a, b = xyz[triangles[:, 1], :2] - xyz[triangles[:, 0], :2], xyz[triangles[:, 2], :2] - xyz[triangles[:, 0], :2]
        twice = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
        triangles[twice < 0] = triangles[twice < 0][:, [0, 2, 1]]
        return Tin(xyz, triangles[twice != 0])

    def listed(self, group: Node, kind: str, code: str) -> None:
        """Breaklines or boundaries: lists of points under a code of their own, or else under `code`. Boundaries are closed."""
        for node in _children(group, kind):
            try:
                found = next(_children(node, "PntList3D"), None)
                if found is None:
                    raise ValueError("has no levels")
                points = self.list_3d(found.text)
                if kind == "Boundary" and (points[0] != points[-1]).any():
                    points = np.vstack([points, points[:1]])
                self.rows.line(node.get("name") or kind[:1], points, _code(node, code), node.sourceline or 0)
            except ValueError as error:
                self.skip(node, f"{kind.lower()} {node.get('name', '')} {error}")

    def data_points(self, group: Node) -> None:
        """Points that a surface was made of, in lists."""
        code = group.get("code") or _code_like(group.get("desc")) or _code_like(group.get("name")) or "GR"
        for node in _children(group, "PntList3D"):
            try:
                values = self.numbers(node.text)
                if len(values) % 3:
                    raise ValueError("a list of points needs northing, easting and level of each")
                for k in range(0, len(values), 3):
                    self.rows.point(
                        "", (values[k + self.east], values[k + self.north], values[k + 2]), code, node.sourceline or 0
                    )
            except ValueError as error:
                self.skip(node, str(error))

    # alignments

    def alignment(self, node: Node) -> None:
        name = (node.get("name") or f"Alignment {len(self.alignments) + 1}")[:80]
        for part in node:
            if isinstance(part.tag, str) and _tag(part) not in ("CoordGeom", "Profile", "StaEquation", "AlignPIs", "Feature"):
                self.unknown(part)
        geometry = next(_children(node, "CoordGeom"), None)
        if geometry is None:
            self.skip(node, f"alignment {name} has no geometry")
            return
        try:
            spec = self.alignment_spec(node, geometry, name)
        except (ValueError, GeometryError) as error:
            self.skip(node, f"alignment {name}: {_first_line(error)}")
            return
        profiles: list[ProfileSpec | None] = []
        for part in _children(node, "Profile"):
            for line in part:
                if not isinstance(line.tag, str):
                    continue
                if _tag(line) == "ProfAlign":
                    profiles.append(self.profile(line, part.get("name")))
                elif _tag(line) != "Feature":
                    self.unknown(line)
        self.alignments.append(NamedAlignment(spec, [p for p in profiles if p is not None]))

    def alignment_spec(self, node: Node, geometry: Node, name: str) -> AlignmentSpec:
        elements: list[Element] = []
        starts: list[tuple[int, Floats, Node]] = []
        bearing = 0.0
        for part in geometry:
            if not isinstance(part.tag, str) or _tag(part) == "Feature":
                continue
            kind = _tag(part)
            if kind not in ("Line", "Curve", "Spiral"):
                raise ValueError(f"line {part.sourceline} holds a {kind}, which is not known")
            start, end = self.place(_child(part, "Start")), self.place(_child(part, "End"))
            pieces, begins = {"Line": self.line, "Curve": self.curve, "Spiral": self.spiral}[kind](part, start, end)
            if not elements:
                bearing = begins
            starts.append((len(elements), start, part))
            elements += pieces
        if not elements:
            raise ValueError("it has no elements")
        spec = AlignmentSpec(
            name=name,
            start_east=float(starts[0][1][0]),
            start_north=float(starts[0][1][1]),
            start_bearing_deg=math.degrees(bearing) % 360,
            start_chainage=self.length(node.get("staStart") or "0"),
            elements=elements,
            equations=self.equations(node, name),
        )
        line = build(spec)
        for number, (first, start, part) in enumerate(starts):
            gap = math.hypot(line.east[first] - start[0], line.north[first] - start[1])
            if gap > GAP_TAKEN:
                raise ValueError(
                    f"element {number + 1} (line {part.sourceline}) begins {gap:.2f} m from where the one before it ends"
                )
            if gap > GAP_TOLD:
                self.skip(
                    part,
                    f"alignment {name}: element {number + 1} begins {gap:.3f} m from where the one before it ends; it was moved there",
                )
        return spec

    def equations(self, node: Node, name: str) -> list[ChainageEquation]:
        """Jumps in chainage. staInternal is the chainage without any; where a file leaves it out it follows from what stands before the
        jump, which is called by the jumps before it."""
        out: list[ChainageEquation] = []
        for part in _children(node, "StaEquation"):
            inside, back, ahead = (self.length(v) if (v := part.get(k)) else None for k in ("staInternal", "staBack", "staAhead"))
            if inside is None and back is not None:
                inside = back if not out else out[-1].back + back - out[-1].ahead
            if inside is None or ahead is None:
                self.skip(part, f"alignment {name}: a chainage equation that does not say where it is is left out")
            elif out and inside <= out[-1].back:
                self.skip(part, f"alignment {name}: a chainage equation that lies before the one above it is left out")
            else:
                out.append(ChainageEquation(back=inside, ahead=ahead))
        return out

    @staticmethod
    def turn(part: Node) -> float:
        """1 to the right, -1 to the left."""
        turn = {"cw": 1.0, "ccw": -1.0}.get(part.get("rot") or "")
        if turn is None:
            raise ValueError(f"the {_tag(part)} in line {part.sourceline} does not say cw or ccw")
        return turn

    def line(self, part: Node, start: Floats, end: Floats) -> tuple[list[Element], float]:
        way = end - start
        return [Straight(length=float(np.hypot(*way)))], float(np.arctan2(*way))

    def curve(self, part: Node, start: Floats, end: Floats) -> tuple[list[Element], float]:
        turn = self.turn(part)
        centre = self.place(_child(part, "Center"))
        radius = float(np.hypot(*(start - centre)))
        a, b = (float(np.arctan2(*(p - centre))) for p in (start, end))
        swept = (turn * (b - a)) % (2 * math.pi)
        if swept < 1e-9:
            swept = 2 * math.pi
        return [Arc(length=radius * swept, radius=turn * radius)], a + turn * math.pi / 2

    def spiral(self, part: Node, start: Floats, end: Floats) -> tuple[list[Element], float]:
        kind = part.get("spiType") or "clothoid"
        radii = [self.radius(part, name) for name in ("radiusStart", "radiusEnd")]
        try:
            pieces = transition(kind, self.length(part.get("length")), *radii)
        except ValueError as error:
            raise ValueError(f"the spiral in line {part.sourceline} {_first_line(error)}") from error
        bearing = float(np.arctan2(*(self.place(_child(part, "PI")) - start)))
        if kind != "clothoid":
            off = misses_by(pieces, start, bearing, end)
            self.skip(part, f"a {kind} curve is taken as {len(pieces)} clothoids, which end {1000 * off:.0f} mm from its end")
        return pieces, bearing

    def radius(self, part: Node, name: str) -> float | None:
        """Positive to the right; None where it is straight, however that is written."""
        said = (part.get(name) or "INF").upper()
        return None if "INF" in said else self.turn(part) * self.length(said)

    def profile(self, node: Node, group: str | None) -> ProfileSpec | None:
        points: list[ProfilePoint] = []
        try:
            for part in node:
                if not isinstance(part.tag, str):
                    continue
                kind = _tag(part)
                if kind not in ("PVI", "ParaCurve", "UnsymParaCurve", "CircCurve"):
                    if kind != "Feature":
                        self.unknown(part)
                    continue
                place = self.numbers(part.text)
                if len(place) != 2:
                    raise ValueError(f"the {kind} in line {part.sourceline} needs a chainage and a level")
                into = out = 0.0
                if kind == "UnsymParaCurve":
                    into, out = self.length(part.get("lengthIn")), self.length(part.get("lengthOut"))
                elif kind != "PVI":
                    into = out = self.length(part.get("length")) / 2
                if kind == "CircCurve":
                    self.skip(part, "a circular vertical curve is taken as a parabola of the same length")
                points.append(ProfilePoint(chainage=place[0], level=place[1], length_in=into, length_out=out))
            return ProfileSpec(name=(node.get("name") or group or "Profile")[:80], points=points)
        except ValueError as error:
            self.skip(node, f"profile {node.get('name', '')}: {_first_line(error)}")
            return None


def _code(node: Node, usual: str) -> str:
    """The code of a line; an empty one that is said is one too."""
    said = node.get("code")
    return said if said is not None else _code_like(node.get("desc")) or usual


def _code_like(text: str | None) -> str:
    """A description that may be a code: one short word. Sentences are none."""
    return text if text and len(text) <= LONGEST_CODE and not any(c.isspace() for c in text.strip()) else ""


def _first_line(error: Exception) -> str:
    """Of a validation error only what is wrong."""
    errors = getattr(error, "errors", None)
    return str(errors()[0]["msg"]).removeprefix("Value error, ") if errors else str(error)


def _tag(node: Node) -> str:
    return str(etree.QName(node).localname)


def _children(node: Node, name: str) -> Iterator[Node]:
    return (c for c in node if isinstance(c.tag, str) and _tag(c) == name)


def _child(node: Node, name: str) -> Node | None:
    return next(_children(node, name), None)


def _text(node: Node, name: str) -> str | None:
    found = _child(node, name)
    return found.text if found is not None else None


def read_landxml(
    data: bytes, progress: Callable[[float], None] = lambda _: None, unit: FileUnit | None = None, swapped: bool = False
) -> Found:
    """Everything a LandXML file holds that is known here. unit: None for what the file says; swapped: its coordinates have the easting
    first, against the standard. Raises ImportProblem for a file that is no LandXML."""
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False, huge_tree=True, remove_comments=True)
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise ImportProblem(f"the file is not sound XML: {error}", "file", "export it again as LandXML 1.2") from error
    if root.getroottree().docinfo.doctype:
        raise ImportProblem(
            "the file declares a document type, which is not read", "file", "export it again as plain LandXML 1.2"
        )
    if _tag(root) != "LandXML":
        raise ImportProblem(f"the file is {_tag(root)}, not LandXML", "file", "export it as LandXML 1.2")
    progress(0.3)
    said, unsaid = _unit(root)
    reader = _Reader(METRES[said] if unit is None else METRES_PER[unit], swapped)
    steps = {
        "CgPoints": reader.points,
        "PlanFeatures": reader.features,
        "Surfaces": reader.all_surfaces,
        "Alignments": reader.all_alignments,
    }
    for name, step in steps.items():  # points first, so that lines find theirs
        for group in _children(root, name):
            step(group)
        progress(0.3 + 0.15 * (list(steps).index(name) + 1))
    for node in root:
        if isinstance(node.tag, str) and _tag(node) not in KNOWN:
            reader.unknown(node)
    for name, times in reader.others.items():
        reader.skipped.append(SkippedRow(reader.first_line[name], f"{times} × {name}: not read"))
    reader.skipped.sort(key=lambda s: s.row)
    read_in = unit or SURVEYED.get(said)
    said_system = _child(root, "CoordinateSystem")
    system = "" if said_system is None else code_of(f"EPSG:{said_system.get('epsgCode')}" if said_system.get("epsgCode") else "")
    asked: dict[Doubt, str] = {"unit": unsaid} if unsaid and unit is None else {}
    return Found(reader.rows.table(), reader.surfaces, reader.alignments, reader.skipped, read_in, asked=asked, system=system)


def _unit(root: Node) -> tuple[str, str | None]:
    """The unit of length by its name in METRES, and why it is only guessed, if it is. Names are written in many ways."""
    for units in _children(root, "Units"):
        for system in units:
            if not isinstance(system.tag, str):
                continue
            unit = system.get("linearUnit")
            if unit is None:
                if _tag(system).lower() == "imperial":
                    return "foot", "the file has imperial units and does not say which: it was read in feet"
                return "meter", None
            plain = _letters(unit)
            known = next((name for name in METRES if _letters(name) == plain), SPELT.get(plain))
            if known is None:
                raise ImportProblem(f"the unit of length “{unit}” is not known", "Units", f"known are {', '.join(METRES)}")
            return known, None
    return "meter", None


def _letters(name: str) -> str:
    return "".join(c for c in name.lower() if c.isalpha())
