"""GeoJSON (RFC 7946, its own examples), text grids (ARC/INFO ASCII grid; form from memory) and GeoTIFF (OGC GeoTIFF 1.1)."""

import io
import json
import struct
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image
from scipy.interpolate import RegularGridInterpolator

from saddle.errors import ImportProblem
from saddle.exchange.ascii_grid import is_grid, read_grid
from saddle.exchange.geojson import read_geojson
from saddle.exchange.geotiff import is_tiff, read_geotiff
from saddle.exchange.grids import MOST_CELLS
from saddle.terrain.part import level_at
from saddle.terrain.survey import collect, polylines
from saddle.terrain.tin import Tin
from tests.depth import many


def collection(*features: object) -> bytes:
    return json.dumps({"type": "FeatureCollection", "features": features}).encode()


def feature(kind: str, coordinates: object, **properties: object) -> dict[str, object]:
    return {"type": "Feature", "geometry": {"type": kind, "coordinates": coordinates}, "properties": properties}


class GeoJson(TestCase):
    def test_every_geometry_of_the_standard(self) -> None:
        """RFC 7946, appendix A, with levels; section 3.1.8 for the collection."""
        shapes = [
            ("Point", [100.0, 0.0, 5]), ("LineString", [[100.0, 0.0, 5], [101.0, 1.0, 6]]),
            ("Polygon", [[[100.0, 0.0, 5], [101.0, 0.0, 5], [101.0, 1.0, 5], [100.0, 1.0, 5], [100.0, 0.0, 5]]]),
            ("MultiPoint", [[100.0, 0.0, 5], [101.0, 1.0, 6]]),
            ("MultiLineString", [[[100.0, 0.0, 5], [101.0, 1.0, 6]], [[102.0, 2.0, 7], [103.0, 3.0, 8]]]),
            ("MultiPolygon", [[[[102.0, 2.0, 1], [103.0, 2.0, 1], [103.0, 3.0, 1], [102.0, 2.0, 1]]],
                              [[[100.0, 0.0, 1], [101.0, 0.0, 1], [101.0, 1.0, 1], [100.0, 0.0, 1]]]]),
        ]  # fmt: skip
        for (kind, coordinates), (points, lines) in zip(shapes, ((1, 0), (2, 1), (5, 1), (2, 0), (4, 2), (8, 2)), strict=True):
            for whole in (feature(kind, coordinates), {"type": kind, "coordinates": coordinates}):
                found = read_geojson(json.dumps(whole).encode())
                self.assertEqual(
                    (len(found.table.number), len(polylines(collect(found.table))), found.skipped), (points, lines, []), kind
                )
        both = {"type": "GeometryCollection", "geometries": [{"type": k, "coordinates": c} for k, c in shapes[:2]]}
        self.assertEqual(len(read_geojson(json.dumps(both).encode()).table.number), 3)

    def test_properties_say_number_code_and_level(self) -> None:
        data = collection(
            feature("Point", [10.0, 20.0], Point="p7", Code="EP", Elevation="51.25"),
            feature("LineString", [[0, 0, 1], [5, 5, 2]], name="a", feature="CL"),
            feature("Point", [10.0, 21.0], Code="EP"), feature("Point", ["x", 2, 3]), {"type": "Feature", "geometry": None},
            feature("Curve", [[0, 0, 1]]),
        )  # fmt: skip
        found = read_geojson(data)
        self.assertEqual((found.table.number[0], found.table.code[0], found.table.xyz[0].tolist()), ("p7", "EP", [10, 20, 51.25]))
        (line,) = polylines(collect(found.table))
        self.assertEqual((line.code, line.name, line.points.tolist()), ("CL", "a", [[0, 0, 1], [5, 5, 2]]))
        self.assertEqual(
            [(s.row, s.reason) for s in found.skipped],
            [(3, "feature 3: a place without a level"), (4, "feature 4: a place without two coordinates"), (5, "feature 5 has no geometry"),
             (0, "1 × Curve: not read")],
        )  # fmt: skip

    def test_unit_order_and_what_is_none(self) -> None:
        data = collection(feature("Point", [1000, 2000, 50]))
        np.testing.assert_allclose(read_geojson(data, unit="foot", swapped=True).table.xyz, [[609.6, 304.8, 15.24]])
        for bad, words in (
            (b"{", "not sound JSON"),
            (b'{"a": 1}', "no GeoJSON"),
            (b"[" * 5000, "not sound JSON"),
            (b"{}", "no GeoJSON"),
        ):
            with self.assertRaisesRegex(ImportProblem, words):
                read_geojson(bad)

    @given(st.recursive(st.none() | st.booleans() | st.floats() | st.text(max_size=4), lambda inner: st.lists(inner, max_size=4) | st.dictionaries(
        st.sampled_from(["type", "features", "geometry", "coordinates", "geometries", "properties", "x"]), inner, max_size=4), max_leaves=12,
    ), st.sampled_from(["Feature", "FeatureCollection", "Point", "Polygon", "MultiPolygon", "GeometryCollection", "LineString"]))  # fmt: skip
    def test_any_json_is_read_or_refused(self, inside: object, kind: str) -> None:
        for whole in (
            inside,
            {"type": kind, "features": inside, "geometry": inside, "coordinates": inside, "geometries": inside},
        ):
            try:
                found = read_geojson(json.dumps(whole).encode())
            except ImportProblem:
                continue
            self.assertTrue(np.isfinite(found.table.xyz).all())


def grid(z: np.ndarray, west: float, south: float, size: float, centre: bool = False, none: float = -9999) -> bytes:
    word = "center" if centre else "corner"
    head = f"NCOLS {z.shape[1]}\nNROWS {z.shape[0]}\nXLL{word.upper()} {west}\nYLL{word.upper()} {south}\nCELLSIZE {size}\nNODATA_VALUE {none}\n"
    return (head + "\n".join(" ".join(f"{v!r}" for v in row) for row in z[::-1].tolist())).encode()


def geotiff(
    z: np.ndarray,
    west: float,
    north: float,
    size: tuple[float, float],
    order: str = "<",
    point: bool = False,
    system: int = 25832,
) -> bytes:
    """A grid as TIFF 6.0 (tags 256 to 279, 339) and OGC GeoTIFF 1.1 (33550 scale, 33922 tie point, 34735 keys) say, written by hand.
    point: the tie point is the middle of the first cell, not its corner; system: of the EPSG register. Numbers of
    tags and keys from memory of both standards."""
    body = z.astype(f"{order}f4").tobytes()
    keys = [1, 1, 0, 3, 1024, 0, 1, 1, 1025, 0, 1, 2 if point else 1, 3072, 0, 1, system]
    none = b"-9999\0"
    doubles = struct.pack(f"{order}9d", size[0], size[1], 0, 0, 0, 0, west, north, 0)
    shorts = struct.pack(f"{order}{len(keys)}H", *keys)
    at = {"body": 8, "doubles": 8 + len(body), "keys": 8 + len(body) + len(doubles)}
    at["none"] = at["keys"] + len(shorts)
    tags = [
        (256, 4, 1, z.shape[1]), (257, 4, 1, z.shape[0]), (258, 3, 1, 32), (259, 3, 1, 1), (262, 3, 1, 1), (273, 4, 1, at["body"]),
        (277, 3, 1, 1), (278, 4, 1, z.shape[0]), (279, 4, 1, len(body)), (339, 3, 1, 3), (33550, 12, 3, at["doubles"]),
        (33922, 12, 6, at["doubles"] + 24), (34735, 3, len(keys), at["keys"]), (42113, 2, len(none), at["none"]),
    ]  # fmt: skip
    entries = b"".join(
        struct.pack(f"{order}HHI", tag, kind, count)
        + struct.pack(
            f"{order}{'HH' if kind == 3 and count == 1 else 'I'}", *((value, 0) if kind == 3 and count == 1 else (value,))
        )
        for tag, kind, count, value in tags
    )
    directory = at["none"] + len(none) + len(none) % 2
    head = (b"II" if order == "<" else b"MM") + struct.pack(f"{order}HI", 42, directory)
    whole = head + body + doubles + shorts + none
    return whole.ljust(directory, b"\0") + struct.pack(f"{order}H", len(tags)) + entries + b"\0\0\0\0"


class GeoTiffs(TestCase):
    @settings(max_examples=many(40))
    @given(
        st.integers(2, 9), st.integers(2, 9), st.floats(0.5, 20), st.floats(0.5, 20), st.booleans(), st.sampled_from("<>"),
        st.sampled_from([(25832, 1.0), (2222, 0.3048), (2264, 1200 / 3937)]), st.integers(0, 999),
    )  # fmt: skip
    def test_levels_at_the_middles_of_the_cells(
        self, columns: int, rows: int, wide: float, high: float, point: bool, order: str, unit: tuple[int, float], seed: int
    ) -> None:
        """Systems of the EPSG register in metres, feet and US survey feet."""
        z = np.random.default_rng(seed).uniform(0, 50, (rows, columns)).astype(np.float32).astype(float)
        data = geotiff(z, 1000, 2000, (wide, high), order, point, unit[0])
        self.assertTrue(is_tiff(data))
        found = read_geotiff(data, "hill")
        half = 0.0 if point else 0.5
        x = (1000 + (half + np.arange(columns)) * wide) * unit[1]
        y = (2000 - (half + np.arange(rows)) * high) * unit[1]
        east, north = np.meshgrid(x, y)
        tin = found.surfaces[0].tin
        # From north to south, as the file has them.
        np.testing.assert_allclose(tin.points, np.column_stack([east.ravel(), north.ravel(), z.ravel() * unit[1]]), rtol=1e-9)
        self.assertAlmostEqual(area(tin), (x[-1] - x[0]) * (y[0] - y[-1]), 5)
        said = read_geotiff(data, "hill", unit="metre").surfaces[0].tin.points
        np.testing.assert_allclose(said * unit[1], tin.points, rtol=1e-9)

    def test_cells_without_a_level_leave_a_gap(self) -> None:
        z = np.ones((4, 4))
        z[0, 0], z[3, 3] = -9999, np.nan
        found = read_geotiff(geotiff(z, 0, 4, (1.0, 1.0)), "x")
        self.assertEqual((len(found.surfaces[0].tin.triangles), found.skipped[0].reason), (14, "2 cells without a level"))

    def test_what_is_wrong_is_named(self) -> None:
        good = geotiff(np.ones((3, 3)), 0, 3, (1.0, 1.0))
        pillow = io.BytesIO()
        Image.new("RGB", (20, 20)).save(pillow, "TIFF")
        plain = io.BytesIO()
        Image.new("L", (20, 20)).save(plain, "TIFF")
        for data, words in (
            (good[:60], "damaged or cut short"), (pillow.getvalue(), "a picture of 3 channels"), (plain.getvalue(), "where it lies"),
            (geotiff(np.full((3, 3), -9999.0), 0, 3, (1.0, 1.0)), "no four neighbouring"), (geotiff(np.ones((1, 9)), 0, 1, (1.0, 1.0)), "fewer than two"),
            (good.replace(struct.pack("<HHII", 256, 4, 1, 3), struct.pack("<HHII", 256, 4, 1, 3_000_000)), f"at most {MOST_CELLS:,}|damaged"),
        ):  # fmt: skip
            with self.subTest(words), self.assertRaisesRegex(ImportProblem, words):
                read_geotiff(data, "x")


def area(tin: Tin) -> float:
    """Of all triangles, which all turn left, m2."""
    p = tin.points[tin.triangles]
    a, b = p[:, 1] - p[:, 0], p[:, 2] - p[:, 0]
    twice = a[:, 0] * b[:, 1] - a[:, 1] * b[:, 0]
    assert (twice > 0).all()
    return float(twice.sum()) / 2


class Grids(TestCase):
    @given(st.integers(2, 9), st.integers(2, 9), st.floats(0.5, 20), st.booleans(), st.integers(0, 999))
    def test_levels_at_the_middles_of_the_cells(self, columns: int, rows: int, size: float, centre: bool, seed: int) -> None:
        """Open library: at the middles and along rows and columns, scipy's RegularGridInterpolator."""
        rng = np.random.default_rng(seed)
        z = rng.uniform(0, 50, (rows, columns)).round(3)
        data = grid(z, 1000, 2000, size, centre)
        self.assertTrue(is_grid(data))
        found = read_grid(data, "hill")
        (named,) = found.surfaces
        half = 0 if centre else size / 2
        x, y = 1000 + half + size * np.arange(columns), 2000 + half + size * np.arange(rows)
        other = RegularGridInterpolator((y, x), z)
        east, north = np.meshgrid(x, y)
        np.testing.assert_allclose(level_at(named.tin, np.column_stack([east.ravel(), north.ravel()])), z.ravel(), atol=1e-6)
        along = np.column_stack([rng.uniform(x[0], x[-1], 20), np.full(20, y[rows // 2])])
        np.testing.assert_allclose(level_at(named.tin, along), other(along[:, ::-1]), atol=1e-6)
        self.assertAlmostEqual(area(named.tin), (columns - 1) * (rows - 1) * size**2, 6)

    def test_cells_without_a_level_leave_a_gap(self) -> None:
        z = np.ones((4, 4))
        z[0, 0] = -9999
        found = read_grid(grid(z, 0, 0, 1.0), "x")
        self.assertEqual((len(found.surfaces[0].tin.triangles), found.skipped[0].reason), (17, "1 cells without a level"))
        self.assertTrue(np.isnan(level_at(found.surfaces[0].tin, np.array([[0.6, 0.6]]))[0]))

    def test_what_is_wrong_is_named(self) -> None:
        good = grid(np.ones((3, 3)), 0, 0, 1.0)
        for data, words in (
            (good[:-8], "holds 8 levels, not 3 rows of 3|not a number|holds"), (good.replace(b"CELLSIZE", b"CELLS"), "does not say cellsize"),
            (good.replace(b"NCOLS 3", b"NCOLS 3000000"), f"at most {MOST_CELLS:,}"), (good.replace(b"1.0 1.0", b"1.0 z"), "not a number"),
            (grid(np.full((3, 3), -9999.0), 0, 0, 1.0), "no four neighbouring"), (good.replace(b"NCOLS 3", b"NCOLS nan"), "does not say|not a"),
        ):  # fmt: skip
            with self.subTest(words), self.assertRaisesRegex(ImportProblem, words):
                read_grid(data, "x")
