"""Points and lines of features with properties, as files of maps hold them: number, code and level come out of the properties."""

import math
from collections import Counter
from collections.abc import Iterator
from functools import lru_cache
from typing import Any

import numpy as np

from saddle.exchange.columns import HEADINGS, Columns, by_names, candidates, two_levels
from saddle.exchange.found import Doubt
from saddle.exchange.point_rows import figure_or_none
from saddle.exchange.tablebuilder import TableBuilder
from saddle.geometry.polylines import Floats
from saddle.terrain.table import SkippedRow

#: Features that cannot be used, told one by one.
TOLD = 200
#: Collections within collections are followed so deep.
DEEPEST = 20
KINDS = ("Point", "MultiPoint", "LineString", "MultiLineString", "Polygon", "MultiPolygon", "GeometryCollection")


class Features:
    """Collects features. factor: metres in a unit; order: where east and north stand in a place."""

    def __init__(self, factor: float, order: tuple[int, int]) -> None:
        self.factor, self.order = factor, order
        self.rows = TableBuilder()
        self.told: list[SkippedRow] = []
        self.more = 0
        self.kinds: Counter[str] = Counter()
        #: What the features leave open, with words.
        self.asked: dict[Doubt, str] = {}

    def all_told(self) -> list[SkippedRow]:
        rest = [SkippedRow(0, f"and {self.more:,} more that cannot be used")] if self.more else []
        return self.told + rest + [SkippedRow(0, f"{n} × {kind}: not read") for kind, n in sorted(self.kinds.items())]

    def tell(self, number: int, reason: str) -> None:
        if len(self.told) < TOLD:
            self.told.append(SkippedRow(number, reason))
        else:
            self.more += 1

    def feature(self, feature: Any, number: int, layer: str = "") -> None:
        """A feature of GeoJSON. number: of it in the file, from 1; layer: its code where its properties say none."""
        plain = isinstance(feature, dict) and feature.get("type") in KINDS
        geometry = feature if plain else feature.get("geometry") if isinstance(feature, dict) else None
        properties = {} if plain or not isinstance(feature, dict) else feature.get("properties")
        said = properties if isinstance(properties, dict) else {}
        if not isinstance(geometry, dict):
            return self.tell(number, f"feature {number} has no geometry")
        code = _property(said, "code") or layer
        name = _property(said, "number") or _property(said, "line") or (str(feature.get("id") or "") if not plain else "")
        for kind, places in _parts(geometry, self.kinds, 0):
            try:
                xyz = np.array([self.place(p, said) for p in places])
                if kind == "point":
                    for e, n, z in xyz.tolist():
                        self.rows.point(name, (e, n, z), code, number)
                else:
                    kept = xyz[np.r_[True, (np.diff(xyz, axis=0) != 0).any(axis=1)]] if len(xyz) else xyz
                    if len(kept) < 2:
                        raise ValueError("a line of fewer than two points")
                    self.rows.line(name or f"F{number}", kept, code or "LINE", number)
            except ValueError as error:
                self.tell(number, f"feature {number}: {error}")

    def place(self, at: Any, said: dict[str, Any]) -> Floats:
        if not isinstance(at, list | tuple) or len(at) < 2 or not all(isinstance(v, int | float) for v in at[:3]):
            raise ValueError("a place without two coordinates")
        level = at[2] if len(at) > 2 else self.level(said)
        if level is None:
            raise ValueError("a place without a level")
        place = np.array([at[self.order[0]], at[self.order[1]], level], dtype=float) * self.factor
        if not all(math.isfinite(v) and abs(v) < 1e9 for v in place):
            raise ValueError("a coordinate is not a finite number")
        return place

    def level(self, said: dict[str, Any]) -> float | None:
        """The level that properties say; it is asked about where several may."""
        plain = _plain(said)
        names = tuple(plain)
        which = [name for name in _levels(names) if figure_or_none(str(plain[name]), ".") is not None]
        taken = _fields(names)["level"]
        if len(which) > 1 and taken is not None:
            self.asked["two levels"] = two_levels(names[taken], next(name for name in which if name != names[taken]))
        return figure_or_none(_property(said, "level"), ".")


def _parts(geometry: dict[str, Any], unread: Counter[str], depth: int) -> Iterator[tuple[str, list[Any]]]:
    """Points and lines of a geometry, as the kind and its places."""
    kind, inside = str(geometry.get("type")), geometry.get("coordinates")
    if kind == "GeometryCollection" and depth < DEEPEST:
        for part in geometry.get("geometries") or []:
            if isinstance(part, dict):
                yield from _parts(part, unread, depth + 1)
    elif not isinstance(inside, list | tuple):
        unread[f"{kind[:40]} without coordinates"] += 1
    elif kind in ("Point", "MultiPoint"):
        yield "point", [inside] if kind == "Point" else list(inside)
    elif kind == "LineString":
        yield "line", list(inside)
    elif kind in ("MultiLineString", "Polygon"):
        for line in inside:
            yield "line", list(line) if isinstance(line, list | tuple) else []
    elif kind == "MultiPolygon":
        for area in inside:
            for ring in area if isinstance(area, list | tuple) else []:
                yield "line", list(ring) if isinstance(ring, list | tuple) else []
    else:
        unread[kind[:40]] += 1


def _property(said: dict[str, Any], what: str) -> str:
    """The property that says something, by the words of headings."""
    plain = _plain(said)
    at = _fields(tuple(plain))[what]
    return "" if at is None else str(list(plain.values())[at]).encode("utf-8", "replace").decode().replace("\0", "?").strip()[:80]


def _plain(said: dict[str, Any]) -> dict[str, Any]:
    """Properties that are a figure or a word."""
    return {str(k): v for k, v in said.items() if v is not None and not isinstance(v, dict | list)}


@lru_cache(64)
def _levels(names: tuple[str, ...]) -> tuple[str, ...]:
    """Those that may say a level."""
    return tuple(names[i] for i in candidates(names, "level"))


@lru_cache(64)
def _fields(names: tuple[str, ...]) -> Columns:
    """Features of a file mostly have the same properties."""
    return by_names(names, tuple(HEADINGS))
