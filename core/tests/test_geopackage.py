"""GeoPackages written here after the standard (OGC 12-128r18, clauses 1.1.1, 2.1.2, 2.1.3) and read back."""

import sqlite3
import struct
from collections.abc import Iterable
from unittest import TestCase, mock

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from saddle.errors import ImportProblem
from saddle.exchange.found import Found
from saddle.exchange.geopackage import read_geopackage
from saddle.terrain.survey import collect, polylines

Row = tuple[shapely.Geometry | bytes | None, str | None]


def blob(geometry: shapely.Geometry, box: int = 0, little: bool = True) -> bytes:
    """Clause 2.1.3, table 6: GP, version 0, flags (byte order, kind of box, empty), reference system, box, then well-known binary."""
    low_x, low_y, high_x, high_y = geometry.bounds if not geometry.is_empty else (0.0,) * 4
    numbers = {0: [], 1: [low_x, high_x, low_y, high_y], 2: [low_x, high_x, low_y, high_y, 0.0, 0.0], 4: [0.0] * 8}[box]
    flags = (1 if little else 0) | box << 1 | (16 if geometry.is_empty else 0)
    order = "<" if little else ">"
    head = b"GP\0" + bytes([flags]) + struct.pack(f"{order}i", 0) + struct.pack(f"{order}{len(numbers)}d", *numbers)
    return head + shapely.to_wkb(geometry, byte_order=1 if little else 0, output_dimension=3)


def package(tables: dict[str, Iterable[Row]], box: int = 0, little: bool = True) -> bytes:
    database = sqlite3.connect(":memory:")
    database.execute("PRAGMA application_id = 1196444487")  # GPKG
    database.execute("CREATE TABLE gpkg_contents (table_name TEXT PRIMARY KEY, data_type TEXT, identifier TEXT, srs_id INTEGER)")
    database.execute("CREATE TABLE gpkg_geometry_columns (table_name TEXT, column_name TEXT, geometry_type_name TEXT, z TINYINT)")
    for name, rows in tables.items():
        database.execute(f'CREATE TABLE "{name}" (fid INTEGER PRIMARY KEY, shape BLOB, code TEXT)')
        database.execute("INSERT INTO gpkg_contents VALUES (?, 'features', ?, 0)", (name, name))
        database.execute("INSERT INTO gpkg_geometry_columns VALUES (?, 'shape', 'GEOMETRY', 1)", (name,))
        for geometry, code in rows:
            data = blob(geometry, box, little) if isinstance(geometry, shapely.Geometry) else geometry
            database.execute(f'INSERT INTO "{name}" (shape, code) VALUES (?, ?)', (data, code))
    return bytes(database.serialize())


def told(found: Found) -> list[str]:
    return [s.reason for s in found.skipped]


class GeoPackages(TestCase):
    def test_points_and_lines_with_the_code_of_their_row_or_their_table(self) -> None:
        edge = shapely.LineString([(0, 0, 1), (5, 5, 2), (9, 5, 2.5)])
        for box in (0, 1, 2, 4):
            for little in (True, False):
                data = package({"Edges": [(edge, "EP"), (edge, None)], "spots": [(shapely.Point(1, 2, 3), None)]}, box, little)
                found = read_geopackage(data)
                lines = polylines(collect(found.table))
                self.assertEqual({p.code for p in lines}, {"EP", "Edges"})
                np.testing.assert_array_equal(lines[0].points, shapely.get_coordinates(edge, include_z=True))
                self.assertIn("spots", found.table.code)

    def test_unit_and_order(self) -> None:
        data = package({"p": [(shapely.Point(1000, 2000, 50), None)]})
        np.testing.assert_allclose(read_geopackage(data, unit="foot", swapped=True).table.xyz, [[609.6, 304.8, 15.24]])

    def test_what_cannot_be_used_is_told_and_the_rest_is_taken(self) -> None:
        rows: list[Row] = [
            (shapely.Point(1, 2), None), (b"nothing", None), (blob(shapely.Point(1, 2, 3))[:-4], None), (None, None),
            (shapely.Point(), None), (b"GP\0\x0f" + bytes(30), None), (shapely.Point(7, 8, 9), "OK"),
        ]  # fmt: skip
        found = read_geopackage(package({"mixed": rows}))
        self.assertEqual(found.table.code, ["OK"])
        self.assertEqual(
            told(found),
            ["feature 1: a place without a level", "feature 2 of mixed: its geometry is none of a GeoPackage",
             "feature 3 of mixed: its geometry is damaged, or of a kind that is not read",
             "feature 6 of mixed: its geometry has a box of an unknown kind"],
        )  # fmt: skip

    def test_other_databases_and_damaged_ones_are_refused(self) -> None:
        plain = sqlite3.connect(":memory:")
        plain.execute("CREATE TABLE a (b TEXT)")
        whole = package({"p": [(shapely.Point(1, 2, 3), None)] * 400})
        none = package({})
        for data, words in (
            (bytes(plain.serialize()), "no GeoPackage"), (none, "holds no features"), (whole[: len(whole) // 2], "damaged"),
            (whole[:100] + bytes(4000), "damaged|no GeoPackage"),
        ):  # fmt: skip
            with self.assertRaisesRegex(ImportProblem, words):
                read_geopackage(data)

    def test_a_view_that_never_ends_is_given_up(self) -> None:
        """A table may be a view that counts for ever: it is stopped."""
        database = sqlite3.connect(":memory:")
        database.deserialize(package({"p": [(shapely.Point(1, 2, 3), None)]}))
        database.execute("DROP TABLE p")
        database.execute(
            "CREATE VIEW p AS WITH RECURSIVE n(shape) AS (SELECT 1 UNION ALL SELECT shape + 1 FROM n) SELECT shape FROM n"
        )
        with mock.patch("saddle.exchange.geopackage.LOOKS", 3), self.assertRaisesRegex(ImportProblem, "takes too long"):
            read_geopackage(bytes(database.serialize()))

    def test_a_view_of_enormous_values_is_refused(self) -> None:
        database = sqlite3.connect(":memory:")
        database.deserialize(package({"p": [(shapely.Point(1, 2, 3), None)]}))
        database.execute("DROP TABLE p")
        database.execute("CREATE VIEW p AS SELECT zeroblob(900000000) AS shape")
        with self.assertRaisesRegex(ImportProblem, "damaged"):
            read_geopackage(bytes(database.serialize()))

    @given(
        st.lists(
            st.lists(st.tuples(*[st.floats(-1e6, 1e6).map(lambda v: round(v, 3))] * 3), min_size=2, max_size=6, unique=True),
            min_size=1, max_size=5,
        ),
        st.sampled_from([0, 1, 2, 4]), st.booleans(),
    )  # fmt: skip
    def test_any_lines_come_back(self, lines: list[list[tuple[float, float, float]]], box: int, little: bool) -> None:
        rows: list[Row] = [(shapely.LineString(points), f"C{k}") for k, points in enumerate(lines)]
        found = {p.code: p.points.tolist() for p in polylines(collect(read_geopackage(package({"t": rows}, box, little)).table))}
        self.assertEqual(found, {f"C{k}": [list(p) for p in points] for k, points in enumerate(lines)})
