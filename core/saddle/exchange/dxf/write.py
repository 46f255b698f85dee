"""DXF out: points, 3D polylines and faces by layer, and alignments with true arcs.

Point numbers and line names travel as extended data, so that what was written comes back as it was.
"""

import io
import math
from collections.abc import Mapping, Sequence

import ezdxf
import numpy as np
from ezdxf.document import Drawing

from saddle.alignment.alignment import build
from saddle.alignment.spec import AlignmentSpec, Arc
from saddle.exchange.dxf.walk import APP, SYSTEM
from saddle.geometry.polylines import Floats
from saddle.terrain.survey import Survey, polylines
from saddle.terrain.tin import Tin

FORBIDDEN = str.maketrans(dict.fromkeys('<>/\\":;?*|,=`', "-"))
#: Clothoids are written as chords of this length, m.
CHORD = 2.0


def write_dxf(survey: Survey, surfaces: Mapping[str, Tin], alignments: Sequence[AlignmentSpec], system: str = "") -> bytes:
    """A DXF R2010 drawing in metres, with its reference system, as EPSG:n, among its custom properties: points and lines on layers named by code, faces on a layer per surface, and
    alignments as polylines with true arcs."""
    document = Drawing.new("R2010")
    document.units = ezdxf.units.M
    document.header["$MEASUREMENT"] = 1
    document.appids.new(APP)
    if system:
        document.header.custom_vars.append(SYSTEM, system)
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
