"""GeoPackage in (OGC 12-128): points and lines of its feature tables, each table a code where its rows say none."""

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import closing
from typing import Any

import shapely
import shapely.geometry

from saddle.errors import ImportProblem
from saddle.exchange.features import Features
from saddle.exchange.found import Found
from saddle.exchange.systems import code_of, read_in
from saddle.terrain.spec import FileUnit

#: How databases begin.
SQLITE = b"SQLite format 3\0"
#: Features that are taken.
MOST_FEATURES = 2_000_000
#: Bytes of one value: a made-up view could ask for a thousand million of them.
MOST_BYTES = 50_000_000
#: Steps of the database between looks at whether it has taken too long, and how many looks it
#: may take, with ten more for a megabyte: a made-up file could go on for ever.
STEPS, LOOKS = 1_000_000, 40
#: Bytes of the box before a geometry, by the kind of box that its flags say (clause 2.1.3, table 6).
BOXES = {0: 0, 1: 32, 2: 48, 3: 48, 4: 64}
#: Clause 2.1.3: magic, version, flags, and the reference system.
HEADER = 8


def is_geopackage(head: bytes) -> bool:
    """Whether a file begins as a database."""
    return head.startswith(SQLITE)


def read_geopackage(
    data: bytes, progress: Callable[[float], None] = lambda _: None, unit: FileUnit | None = None, swapped: bool = False
) -> Found:
    """Points and lines of all feature tables; rings of areas are closed lines. unit: of coordinates, None for that of its reference system, metres where it says none; swapped: northing
    first. Raises ImportProblem for a file that is no GeoPackage, or is damaged."""
    try:
        with closing(_opened(data)) as database:
            tables = _tables(database)
            system = _system(database)
            taken, factor = read_in(system, unit)
            reader = Features(factor, (1, 0) if swapped else (0, 1))
            total = sum(int(database.execute(f"SELECT count(*) FROM {_quoted(t)}").fetchone()[0]) for t, _ in tables)
            if total > MOST_FEATURES:
                raise ImportProblem(
                    f"the file holds {total:,} features; at most {MOST_FEATURES:,} are taken", "file", "cut it to the road"
                )
            number = 0
            for table, column in tables:
                for row in _rows(database, table):
                    number += 1
                    if number % 20_000 == 0:
                        progress(number / total)
                    blob = row.pop(column, None)
                    try:
                        geometry = _geometry(blob)
                    except ValueError as error:
                        reader.tell(number, f"feature {number} of {table[:80]}: {error}")
                        continue
                    if geometry is not None:
                        reader.feature({"geometry": geometry, "properties": row}, number, table[:80])
    except sqlite3.OperationalError as error:
        if "interrupted" in str(error):
            raise ImportProblem("the file takes too long to be read", "file", "export only points and lines into it") from error
        raise ImportProblem("the GeoPackage is damaged, or cut short", "file", "export it again") from error
    except sqlite3.Error as error:
        raise ImportProblem("the GeoPackage is damaged, or cut short", "file", "export it again") from error
    return Found(reader.rows.table(), [], [], reader.all_told(), taken, asked=reader.asked, system=system)


def _opened(data: bytes) -> sqlite3.Connection:
    """The database in memory, in which nothing but looking is allowed."""
    database = sqlite3.connect(":memory:")
    database.deserialize(data)
    database.execute("PRAGMA trusted_schema = OFF")
    database.execute("PRAGMA query_only = ON")
    database.setlimit(sqlite3.SQLITE_LIMIT_LENGTH, MOST_BYTES)
    looks = iter(range(LOOKS + 10 * len(data) // 1_000_000))
    database.set_progress_handler(lambda: next(looks, None) is None, STEPS)
    database.text_factory = lambda found: found.decode("utf-8", "replace")
    return database


def _tables(database: sqlite3.Connection) -> list[tuple[str, str]]:
    """Feature tables and their columns of geometry."""
    try:
        found = database.execute(
            "SELECT g.table_name, g.column_name FROM gpkg_geometry_columns AS g JOIN gpkg_contents AS c"
            " ON c.table_name = g.table_name WHERE c.data_type = 'features' ORDER BY g.table_name"
        ).fetchall()
    except sqlite3.OperationalError as error:
        raise ImportProblem("the file is a database, but no GeoPackage", "file", "export it again as GeoPackage") from error
    if not found:
        raise ImportProblem("the GeoPackage holds no features", "file", "export points and lines into it")
    return [(str(table), str(column)) for table, column in found]


def _system(database: sqlite3.Connection) -> str:
    """The reference system of its features, nothing where they have several or say none (clause 1.1.2)."""
    try:
        found = database.execute(
            "SELECT DISTINCT s.organization, s.organization_coordsys_id, s.definition FROM gpkg_geometry_columns AS g"
            " JOIN gpkg_spatial_ref_sys AS s ON s.srs_id = g.srs_id"
        ).fetchall()
    except sqlite3.OperationalError:
        return ""
    if len(found) != 1:
        return ""
    organization, number, definition = found[0]
    return code_of(f"{organization}:{number}") or code_of(str(definition))


def _quoted(name: str) -> str:
    return '"' + name.replace('"', '""') + '"'


def _rows(database: sqlite3.Connection, table: str) -> Iterator[dict[str, Any]]:
    found = database.execute(f"SELECT * FROM {_quoted(table)}")
    names = [str(column[0]) for column in found.description]
    for row in found:
        yield dict(zip(names, row, strict=True))


def _geometry(blob: object) -> dict[str, Any] | None:
    """The geometry of a feature as GeoJSON has it; None where it is empty. Raises ValueError."""
    if blob is None:
        return None
    if not isinstance(blob, bytes) or len(blob) < HEADER or blob[:2] != b"GP":
        raise ValueError("its geometry is none of a GeoPackage")
    flags = blob[3]
    box = BOXES.get((flags >> 1) & 7)
    if box is None:
        raise ValueError("its geometry has a box of an unknown kind")
    if flags & 16:  # the flag for empty ones
        return None
    try:
        found = shapely.from_wkb(blob[HEADER + box :])
    except shapely.errors.GEOSException as error:
        raise ValueError("its geometry is damaged, or of a kind that is not read") from error
    return None if found is None or found.is_empty else shapely.geometry.mapping(found)
