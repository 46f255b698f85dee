"""Reference systems: which one a file says, the unit that follows from it, and how its coordinates come into the project's grid.

The computation is PROJ's. A project has one system in plan; a file in degrees, or in another system, is converted into it. Where the
project has none yet, a file in a grid gives it its own, and one in degrees the UTM zone that it lies in (EPSG 326zz north of the
equator, 327zz south of it).
"""

import re
from collections.abc import Callable
from dataclasses import replace
from functools import cache
from typing import Any

import numpy as np
import pyproj
from pyproj.database import query_crs_info
from pyproj.enums import PJType
from pyproj.exceptions import ProjError

from saddle.errors import GeometryError, ImportProblem
from saddle.exchange.found import Found, NamedSurface
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import METRES_PER, FileUnit
from saddle.terrain.table import SkippedRow
from saddle.terrain.tin import Tin

#: Longitude and latitude on the ellipsoid of 1984 (EPSG).
DEGREES = "EPSG:4326"


def code_of(said: Any) -> str:
    """EPSG:n of a system as a file says it (text of it, a number, or what a library gives), nothing where it is none or has no number."""
    if said is None or said == "":
        return ""
    try:
        system = pyproj.CRS.from_user_input(said)
        if system.is_compound:
            system = system.sub_crs_list[0]
        number = system.to_epsg(min_confidence=70)
    except (ProjError, ValueError, TypeError, AttributeError, IndexError):
        return ""
    return f"EPSG:{number}" if number else ""


def name_of(code: str) -> str:
    """As people call it, with its number: WGS 84 / UTM zone 33N (EPSG:32633)."""
    return f"{_system(code).name} ({code})"


@cache
def _all_systems() -> list[tuple[str, str, list[str]]]:
    """Every system in plan that has a number and is not deprecated: EPSG:n, its name, and the words of both in small letters."""
    kinds = (PJType.PROJECTED_CRS, PJType.GEOGRAPHIC_2D_CRS)
    named = {f"EPSG:{r.code}": r.name for kind in kinds for r in query_crs_info(auth_name="EPSG", pj_types=kind)}
    return [(code, name, re.findall(r"\w+", f"{code} {name}".lower())) for code, name in named.items()]


def with_words(words: str, most: int = 40) -> list[tuple[str, str]]:
    """Systems, as EPSG:n and name, that have words beginning with each of those asked for; first those with the number, then short names."""
    asked = re.findall(r"\w+", words.lower())
    found = [(code, name) for code, name, own in _all_systems() if all(any(w.startswith(word) for w in own) for word in asked)]
    return sorted(found, key=lambda row: (row[0].removeprefix("EPSG:") not in asked, len(row[1]), row[1]))[:most]


def in_degrees(code: str) -> bool:
    return _system(code).is_geographic


def unit_of(code: str) -> FileUnit | None:
    """The unit of a grid's coordinates, None where it is none of surveys."""
    axes = _system(code).axis_info
    factor = axes[0].unit_conversion_factor if axes else 1.0
    return next((unit for unit, metres in METRES_PER.items() if abs(metres / factor - 1) < 1e-9), None)


def counts_in(code: str, unit: FileUnit | None) -> bool:
    """Whether coordinates read in a unit, None for the one that a file says, can be those of a system."""
    return unit is None or not code or in_degrees(code) or unit_of(code) == unit


def read_in(system: str, unit: FileUnit | None) -> tuple[FileUnit, float]:
    """The unit that coordinates are read in and how many metres it has: the one that a person says, that of the file's system, or metres.
    Degrees are no lengths, and stay as they are."""
    degrees = bool(system) and in_degrees(system)
    taken = unit or (unit_of(system) if system and not degrees else None) or "metre"
    return taken, 1.0 if degrees else METRES_PER[taken]


def utm_of(east: float, north: float) -> str:
    """The UTM zone of a place in degrees."""
    zone = int((east + 180) // 6) % 60 + 1
    return f"EPSG:{32600 + zone if north >= 0 else 32700 + zone}"


def _system(code: str) -> pyproj.CRS:
    try:
        return pyproj.CRS.from_user_input(code)
    except ProjError as error:
        raise ImportProblem(f"the reference system {code} is not known", "system", "choose another one") from error


def said_to_be(found: Found, system: str) -> Found:
    """What is found in the system that a person says it is in, EPSG:n. Degrees are not counted in any unit."""
    back = METRES_PER[found.unit or "metre"]
    if not in_degrees(system) or back == 1.0 or (found.system and in_degrees(found.system)):
        return replace(found, system=system)
    xyz = found.table.xyz / [back, back, 1.0]
    surfaces = [_surface(s, lambda points: points / [back, back, 1.0]) for s in found.surfaces]
    return replace(found, system=system, table=replace(found.table, xyz=xyz), surfaces=surfaces)


def into(found: Found, project: str) -> Found:
    """What is found in the project's system. project: EPSG:n, nothing where it has none yet. Raises ImportProblem where something lies
    where the system does not reach."""
    said = found.system
    if not said:
        return replace(found, system=project)
    places = [found.table.xyz, *(s.tin.points for s in found.surfaces)]
    some = next((p for p in places if len(p)), None)
    target = project or (utm_of(*np.median(some[:, :2], axis=0)) if some is not None and in_degrees(said) else said)
    if target == said or some is None:
        return replace(found, system=target)
    turned = to_grid(said, target)
    told = SkippedRow(0, f"coordinates were converted from {name_of(said)} into {name_of(target)}")
    return replace(
        found, table=replace(found.table, xyz=turned(found.table.xyz)), surfaces=[_surface(s, turned) for s in found.surfaces],
        skipped=[*found.skipped, told], system=target,
        axes="said" if found.axes == "usual" else found.axes,
    )  # fmt: skip


def to_grid(said: str, target: str) -> Callable[[Floats], Floats]:
    """What takes places (n, 3) from one system into another. Lengths are in metres on both sides, whatever the systems count in."""
    step = pyproj.Transformer.from_crs(said, target, always_xy=True)
    before, after = (1.0 if in_degrees(c) else METRES_PER[unit_of(c) or "metre"] for c in (said, target))

    def turned(xyz: Floats) -> Floats:
        east, north = step.transform(xyz[:, 0] / before, xyz[:, 1] / before)
        out = np.column_stack([np.asarray(east) * after, np.asarray(north) * after, xyz[:, 2]])
        if not np.isfinite(out).all():
            raise ImportProblem(
                f"a place of the file lies where {name_of(target)} does not reach", "system", "check the file's reference system"
            )
        return out

    return turned


def _surface(surface: NamedSurface, turned: Callable[[Floats], Floats]) -> NamedSurface:
    try:
        return NamedSurface(surface.name, Tin(turned(surface.tin.points), surface.tin.triangles))
    except GeometryError as error:
        raise ImportProblem(f"surface {surface.name}: {error.message}", "system", error.hint) from error
