"""GeoJSON in (RFC 7946): points and lines of features, with number, code and level out of their properties."""

import json
from collections.abc import Callable
from typing import Any

import numpy as np

from saddle.errors import ImportProblem
from saddle.exchange.features import KINDS, Features
from saddle.exchange.found import Found
from saddle.exchange.systems import DEGREES, code_of, read_in
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import FileUnit


def read_geojson(
    data: bytes, progress: Callable[[float], None] = lambda _: None, unit: FileUnit | None = None, swapped: bool = False
) -> Found:
    """Points and lines of the features; rings of areas are closed lines. unit: of coordinates, None for metres; swapped: northing first.
    Raises ImportProblem for a file that is no GeoJSON."""
    try:
        whole = json.loads(data)
    except (ValueError, RecursionError) as error:
        raise ImportProblem("the file is not sound JSON", "file", "export it again as GeoJSON") from error
    if not isinstance(whole, dict) or whole.get("type") not in ("FeatureCollection", "Feature", *KINDS):
        raise ImportProblem("the file is JSON, but no GeoJSON", "file", "export it again as GeoJSON")
    system = _said(whole)
    taken, factor = read_in(system, unit)
    reader = Features(factor, (1, 0) if swapped else (0, 1))
    features = _features(whole)
    for number, feature in enumerate(features, start=1):
        if number % 20_000 == 0:
            progress(number / len(features))
        reader.feature(feature, number)
    table = reader.rows.table()
    # By the standard all files are in degrees; many are written in a grid without a word.
    if not system and taken == "metre" and len(table.number) and _in_degrees(table.xyz):
        system = DEGREES
    return Found(table, [], [], reader.all_told(), taken, asked=reader.asked, system=system)


def _said(whole: dict[str, Any]) -> str:
    """The system that a file names, as files did before the standard of 2016."""
    said = whole.get("crs")
    properties = said.get("properties") if isinstance(said, dict) else None
    return code_of(properties.get("name")) if isinstance(properties, dict) else ""


def _in_degrees(xyz: Floats) -> bool:
    """Whether coordinates can be longitudes and latitudes of one place, which in a grid would be a place of less than a metre."""
    plan = xyz[:, :2]
    return bool((np.abs(plan) <= [180, 90]).all() and np.ptp(plan, axis=0).max() < 1)


def _features(whole: dict[str, Any]) -> list[Any]:
    kind = whole["type"]
    found = whole.get("features") if kind == "FeatureCollection" else [whole]
    return found if isinstance(found, list) else []
