"""DXF in and out: points, 3D polylines and faces by layer. A layer is a code.

Point numbers and line names travel as extended data, so that what was written comes back as it was; files of others
get numbers made up. Faces become one surface per layer.
"""

import io
import math
from collections import Counter
from collections.abc import Callable, Mapping, Sequence

import ezdxf
import numpy as np
from ezdxf import recover
from ezdxf.document import Drawing
from ezdxf.entities.dxfentity import DXFEntity

from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Arc
from saddle.errors import GeometryError, ImportProblem
from saddle.exchange.found import Found, NamedSurface
from saddle.exchange.tablebuilder import TableBuilder
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import METRES_PER, FileUnit
from saddle.terrain.survey import Survey, polylines
from saddle.terrain.table import SkippedRow
from saddle.terrain.tin import Tin

APP = "TIN_SADDLE"
#: Metres per drawing unit by $INSUNITS; 0 is a drawing that does not say.
METRES = {1: 0.0254, 2: METRES_PER["foot"], 4: 0.001, 5: 0.01, 6: 1.0, 7: 1000.0, 10: 0.9144, 21: METRES_PER["us_survey_foot"]}
FORBIDDEN = str.maketrans(dict.fromkeys('<>/\\":;?*|,=`', "-"))
#: Clothoids are written as chords of this length, m.
CHORD = 2.0


def read_dxf(data: bytes, progress: Callable[[float], None] = lambda _: None, unit: FileUnit = "metre") -> Found:
    """Points, polylines and faces of the model space. unit: of a drawing that does not say its own.

    Raises ImportProblem for a file that is no DXF.
    """
    try:
        document, auditor = recover.read(io.BytesIO(data))
        units = int(document.header.get("$INSUNITS", 0))
        entities = list(document.modelspace())
    except Exception as error:  # the library raises many kinds on damaged files
        raise ImportProblem(
            f"the file cannot be read as DXF: {error}", "file", "export it again as DXF R2000 or later"
        ) from error
    if units and units not in METRES:
        raise ImportProblem(f"the drawing's unit (code {units}) is not known", "$INSUNITS", "export it in metres")
    progress(0.5)
    reader = _Reader(METRES.get(units, METRES_PER[unit]))
    for number, entity in enumerate(entities):
        reader.take(entity)
        if number % 20_000 == 0:
            progress(0.5 + 0.4 * number / max(len(entities), 1))
    skipped = [*reader.skipped, *(SkippedRow(0, f"{n} × {kind}: not read") for kind, n in sorted(reader.others.items()))]
    skipped += [SkippedRow(0, f"repaired: {error.message}"[:200]) for error in auditor.errors[:50]]
    return Found(reader.rows.table(), reader.surfaces(skipped), [], skipped)


class _Reader:
    def __init__(self, factor: float) -> None:
        self.factor = factor
        self.rows = TableBuilder()
        self.faces: dict[str, list[list[tuple[float, float, float]]]] = {}
        self.skipped: list[SkippedRow] = []
        self.others: Counter[str] = Counter()

    def take(self, entity: DXFEntity) -> None:
        """One entity; what cannot be used is listed with its handle."""
        kind = entity.dxftype()
        step = getattr(self, f"take_{kind.lower()}", None)
        if step is None:
            self.others[kind] += 1
            return
        try:
            step(entity)
        except Exception as error:  # damaged values surface as many kinds
            self.skipped.append(SkippedRow(0, f"{kind} {entity.dxf.get('handle', '')}: {error}"[:200]))

    def xyz(self, at: Sequence[float]) -> tuple[float, float, float]:
        e, n, z = (float(v) * self.factor for v in (*at, 0.0)[:3])
        if not all(math.isfinite(v) and abs(v) < 1e9 for v in (e, n, z)):
            raise ValueError("a coordinate is not a finite number")
        return e, n, z

    def names(self, entity: DXFEntity) -> list[str]:
        return [str(v) for code, v in entity.get_xdata(APP) if code == 1000] if entity.has_xdata(APP) else []

    def take_point(self, entity: DXFEntity) -> None:
        number, code = ([*self.names(entity), "", ""])[:2]
        self.rows.point(
            number or f"P{len(self.rows) + 1}", self.xyz(entity.dxf.location), code if number else entity.dxf.layer, 0
        )

    def take_insert(self, entity: DXFEntity) -> None:
        """A block is taken as a point where it is inserted."""
        self.rows.point(f"P{len(self.rows) + 1}", self.xyz(entity.dxf.insert), entity.dxf.layer, 0)

    def take_line(self, entity: DXFEntity) -> None:
        self.polyline(entity, [entity.dxf.start, entity.dxf.end])

    def take_polyline(self, entity: DXFEntity) -> None:
        if entity.is_poly_face_mesh or entity.is_polygon_mesh:  # type: ignore[attr-defined]
            raise ValueError("a mesh, which is not read")
        points = [v.dxf.location for v in entity.vertices]  # type: ignore[attr-defined]
        if entity.is_2d_polyline:  # type: ignore[attr-defined]
            level = _level(entity.dxf.elevation.z)
            points = [(p[0], p[1], level) for p in points]
        self.polyline(entity, [*points, points[0]] if entity.is_closed else points)  # type: ignore[attr-defined]

    def take_lwpolyline(self, entity: DXFEntity) -> None:
        level = _level(entity.dxf.elevation)
        points = [(x, y, level) for x, y, *_ in entity.get_points()]  # type: ignore[attr-defined]
        if any(b for *_, b in entity.get_points()):  # type: ignore[attr-defined]
            self.skipped.append(
                SkippedRow(0, f"LWPOLYLINE {entity.dxf.handle} on {entity.dxf.layer}: its arcs are taken as chords")
            )
        self.polyline(entity, [*points, points[0]] if entity.closed else points)  # type: ignore[attr-defined]

    def take_3dface(self, entity: DXFEntity) -> None:
        corners = [self.xyz(entity.dxf.get(f"vtx{i}")) for i in range(4)]
        self.faces.setdefault(entity.dxf.layer, []).append(corners[:3])
        if corners[3] != corners[2]:
            self.faces[entity.dxf.layer].append([corners[0], corners[2], corners[3]])

    def polyline(self, entity: DXFEntity, points: Sequence[Sequence[float]]) -> None:
        p = [self.xyz(v) for v in points]
        kept = [v for i, v in enumerate(p) if i == 0 or v != p[i - 1]]
        if len(kept) < 2:
            raise ValueError("fewer than two points")
        name, code = ([*self.names(entity), "", ""])[:2]
        self.rows.line(name or f"L{entity.dxf.get('handle', '')}", np.array(kept), code if name else entity.dxf.layer, 0)

    def surfaces(self, skipped: list[SkippedRow]) -> list[NamedSurface]:
        """Faces of each layer with corners in one place made one point."""
        found = []
        for layer, faces in self.faces.items():
            corners = np.array(faces).reshape(-1, 3)
            points, index = np.unique(np.round(corners, 6), axis=0, return_inverse=True)
            triangles = index.reshape(-1, 3).astype(np.int32)
            plan = points[triangles][:, :, :2]
            a, b = plan[:, 1] - plan[:, 0], plan[:, 2] - plan[:, 0]
            twice = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
            triangles[twice < 0] = triangles[twice < 0][:, [0, 2, 1]]
            upright = int((twice == 0).sum())
            if upright:
                skipped.append(SkippedRow(0, f"{upright} upright faces on {layer}: not part of a surface"))
            try:
                found.append(NamedSurface(layer[:80], Tin(points, triangles[twice != 0])))
            except GeometryError as error:
                skipped.append(SkippedRow(0, f"faces on {layer}: {error.message}"))
        return found


def _level(elevation: float) -> float:
    """Level of a flat polyline. Raises ValueError for 0, which means that nobody gave it one."""
    if elevation == 0:
        raise ValueError("a flat line without a level")
    return elevation


def write_dxf(survey: Survey, surfaces: Mapping[str, Tin], alignments: Sequence[AlignmentSpec]) -> bytes:
    """A DXF R2010 drawing in metres: points and lines on layers named by code, faces on a layer per surface, and
    alignments as polylines with true arcs."""
    document = Drawing.new("R2010")
    document.units = ezdxf.units.M
    document.header["$MEASUREMENT"] = 1
    document.appids.new(APP)
    space = document.modelspace()

    def layer(name: str) -> str:
        safe = name.translate(FORBIDDEN)[:200] or "0"
        if safe not in document.layers:
            document.layers.add(safe)
        return safe

    for number, code, xyz in zip(survey.number, survey.code, survey.xyz, strict=True):
        point = space.add_point(xyz, dxfattribs={"layer": layer(str(code))})
        point.set_xdata(APP, [(1000, str(number)), (1000, str(code))])
    for line in polylines(survey):
        drawn = space.add_polyline3d(line.points, dxfattribs={"layer": layer(line.code)})
        drawn.set_xdata(APP, [(1000, line.name), (1000, line.code)])
    for name, tin in surfaces.items():
        on = {"layer": layer(name)}
        for corners in tin.points[tin.triangles]:
            space.add_3dface([*corners, corners[2]], dxfattribs=on)
    for spec in alignments:
        space.add_lwpolyline(_with_bulges(spec), format="xyb", dxfattribs={"layer": layer(f"ALIGNMENT {spec.name}")})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def _with_bulges(spec: AlignmentSpec) -> list[tuple[float, float, float]]:
    """Vertices x, y, bulge. bulge = tan(theta / 4), positive counter-clockwise from this vertex to the next (DXF
    reference); clothoids are chords."""
    line = build(spec)
    at: list[float] = []
    bulge: list[float] = []
    for i, element in enumerate(spec.elements):
        start = float(line.chainage[i])
        if isinstance(element, Arc):
            parts = max(1, math.ceil(element.length / abs(element.radius) / math.pi))
            at += [start + element.length * k / parts for k in range(parts)]
            bulge += [-math.tan(element.length / parts / element.radius / 4)] * parts
        else:
            parts = 1 if line.curvature[i] == line.curvature_end[i] else math.ceil(element.length / CHORD)
            at += [start + element.length * k / parts for k in range(parts)]
            bulge += [0.0] * parts
    places: Floats = line.frames(np.array([*at, line.end])).origin
    return [(float(x), float(y), b) for (x, y), b in zip(places, [*bulge, 0.0], strict=True)]
