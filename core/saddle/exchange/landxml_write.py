"""LandXML 1.2 out: points, lines as plan features, surfaces, alignments with profiles. Metres, six decimals."""

from collections.abc import Mapping, Sequence
from typing import Any

import numpy as np
from lxml import etree

from saddle.alignment.alignment import Alignment, build
from saddle.alignment.profile import ProfileSpec
from saddle.alignment.spec import AlignmentSpec, Arc, Straight
from saddle.terrain.survey import Survey, polylines
from saddle.terrain.tin import Tin

NAMESPACE = "http://www.landxml.org/schema/LandXML-1.2"


def _at(place: np.ndarray) -> str:
    """Northing, easting, and level if there is one."""
    return " ".join(f"{v:.6f}" for v in (place[1], place[0], *place[2:]))


def write_landxml(
    survey: Survey,
    surfaces: Mapping[str, Tin],
    alignments: Sequence[AlignmentSpec],
    profiles: Mapping[str, Sequence[ProfileSpec]],
    date: str,
    system: str = "",
) -> bytes:
    """A LandXML file. system: reference system as EPSG:n, empty where nobody knows it; surfaces: by name; profiles: all of an alignment, by its name; date: as 2026-11-25."""
    root = etree.Element("LandXML", nsmap={None: NAMESPACE}, version="1.2", date=date, time="00:00:00")
    units = etree.SubElement(root, "Units")
    etree.SubElement(
        units, "Metric", linearUnit="meter", areaUnit="squareMeter", volumeUnit="cubicMeter", temperatureUnit="celsius",
        pressureUnit="milliBars", angularUnit="decimal degrees", directionUnit="decimal degrees",
    )  # fmt: skip
    if system:
        etree.SubElement(root, "CoordinateSystem", epsgCode=system.removeprefix("EPSG:"), desc=system)
    etree.SubElement(root, "Application", name="Tin Saddle")
    if len(survey.number):
        group = etree.SubElement(root, "CgPoints")
        for number, code, xyz in zip(survey.number, survey.code, survey.xyz, strict=True):
            node = etree.SubElement(group, "CgPoint", name=str(number), **({"code": str(code)} if code else {}))
            node.text = _at(xyz)
    lines = polylines(survey)
    if lines:
        group = etree.SubElement(root, "PlanFeatures")
        for line in lines:
            feature = etree.SubElement(group, "PlanFeature", name=line.name, code=line.code)
            geometry = etree.SubElement(etree.SubElement(feature, "CoordGeom"), "IrregularLine")
            etree.SubElement(geometry, "Start").text = _at(line.points[0])
            etree.SubElement(geometry, "End").text = _at(line.points[-1])
            etree.SubElement(geometry, "PntList3D").text = " ".join(_at(p) for p in line.points)
    if surfaces:
        group = etree.SubElement(root, "Surfaces")
        for name, tin in surfaces.items():
            _surface(group, name, tin)
    if alignments:
        group = etree.SubElement(root, "Alignments")
        for spec in alignments:
            _alignment(group, spec, profiles.get(spec.name, ()))
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True))


def _surface(group: Any, name: str, tin: Tin) -> None:
    definition = etree.SubElement(etree.SubElement(group, "Surface", name=name), "Definition", surfType="TIN")
    points, faces = etree.SubElement(definition, "Pnts"), etree.SubElement(definition, "Faces")
    for number, xyz in enumerate(tin.points, start=1):
        etree.SubElement(points, "P", id=str(number)).text = _at(xyz)
    for corners in (tin.triangles + 1).tolist():
        etree.SubElement(faces, "F").text = " ".join(map(str, corners))


def _alignment(group: Any, spec: AlignmentSpec, profiles: Sequence[ProfileSpec]) -> None:
    line = build(spec)
    ends = line.frames(line.key_chainages())
    node = etree.SubElement(
        group, "Alignment", name=spec.name, length=f"{line.end - line.start:.6f}", staStart=f"{line.start:.6f}"
    )
    geometry = etree.SubElement(node, "CoordGeom")
    for i, element in enumerate(spec.elements):
        start, end = ends.origin[i], ends.origin[i + 1]
        length = f"{element.length:.6f}"
        rot = "cw" if line.curvature[i] + line.curvature_end[i] > 0 else "ccw"
        if isinstance(element, Straight):
            part = etree.SubElement(geometry, "Line", length=length)
            inner = []
        elif isinstance(element, Arc):
            part = etree.SubElement(geometry, "Curve", length=length, radius=f"{abs(element.radius):.6f}", rot=rot, crvType="arc")
            right = np.array([np.cos(ends.bearing[i]), -np.sin(ends.bearing[i])])
            inner = [("Center", start + element.radius * right)]
        else:
            part = etree.SubElement(
                geometry, "Spiral", length=length, radiusStart=_radius(element.radius_start),
                radiusEnd=_radius(element.radius_end), rot=rot, spiType="clothoid",
            )  # fmt: skip
            inner = [("PI", _meeting(line, i, start, end))]
        etree.SubElement(part, "Start").text = _at(start)
        for name, place in inner:
            etree.SubElement(part, name).text = _at(place)
        etree.SubElement(part, "End").text = _at(end)
    for k, e in enumerate(spec.equations):
        # What stands before the jump is called by the jump before it.
        back = e.back if k == 0 else spec.equations[k - 1].ahead + e.back - spec.equations[k - 1].back
        etree.SubElement(node, "StaEquation", staBack=f"{back:.6f}", staAhead=f"{e.ahead:.6f}", staInternal=f"{e.back:.6f}")
    if profiles:
        group = etree.SubElement(node, "Profile", name=spec.name)
        for profile in profiles:
            _profile(group, profile)


def _radius(radius: float | None) -> str:
    return "INF" if radius is None else f"{abs(radius):.6f}"


def _meeting(line: Alignment, i: int, start: np.ndarray, end: np.ndarray) -> np.ndarray:
    """Where the tangents at both ends of a clothoid meet."""
    b0 = line.bearing[i]
    turn = (line.curvature[i] + line.curvature_end[i]) / 2 * line.length[i]
    t0, t1 = (np.array([np.sin(b), np.cos(b)]) for b in (b0, b0 + turn))
    cross = t0[0] * t1[1] - t0[1] * t1[0]
    way = end - start
    return np.asarray(start + (way[0] * t1[1] - way[1] * t1[0]) / cross * t0)


def _profile(group: Any, profile: ProfileSpec) -> None:
    line = etree.SubElement(group, "ProfAlign", name=profile.name)
    for p in profile.points:
        if p.length_in == p.length_out == 0:
            part = etree.SubElement(line, "PVI")
        elif p.length_in == p.length_out:
            part = etree.SubElement(line, "ParaCurve", length=f"{p.length_in + p.length_out:.6f}")
        else:
            part = etree.SubElement(line, "UnsymParaCurve", lengthIn=f"{p.length_in:.6f}", lengthOut=f"{p.length_out:.6f}")
        part.text = f"{p.chainage:.6f} {p.level:.6f}"
