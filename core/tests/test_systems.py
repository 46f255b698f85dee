"""Reference systems: what files say of them is read, degrees come into the grid, and what is written says its own.

Files are written by GDAL, laspy and the standard library's SQLite; coordinates are judged against PROJ, and against what defines UTM: on
its central meridian at the equator the easting is 500,000 m and the northing 0 (Snyder, Map Projections: A Working Manual, 1987, USGS
Professional Paper 1395, from memory).
"""

import io
import json
import tempfile
import zipfile
from pathlib import Path
from unittest import TestCase

import ezdxf
import laspy
import numpy as np
import pyogrio
import pyproj
import shapely
from ezdxf import recover
from pyogrio.raw import write

from saddle.errors import ImportProblem
from saddle.exchange.dxf.write import write_dxf
from saddle.exchange.found import Found
from saddle.exchange.landxml_write import write_landxml
from saddle.exchange.maps import read_map
from saddle.exchange.placing import judge
from saddle.exchange.readers import ReadAs, first_rows, format_of, read_survey
from saddle.exchange.systems import code_of, in_degrees, name_of, unit_of, utm_of, with_words
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import ColumnMapping
from saddle.terrain.survey import collect, polylines
from tests.cases import demo_survey

ZONE = "EPSG:32633"
RNG = np.random.default_rng(33)
ROAD = np.column_stack([412_000 + 10.0 * np.arange(20), 5_286_000 + RNG.uniform(-5, 5, 20), 500 + RNG.uniform(0, 3, 20)])


def degrees(points: Floats, system: str = ZONE) -> Floats:
    east, north = pyproj.Transformer.from_crs(system, "EPSG:4326", always_xy=True).transform(points[:, 0], points[:, 1])
    return np.column_stack([east, north, points[:, 2]])


def written(points: Floats, driver: str, ending: str, system: str) -> bytes:
    """By GDAL; a Shapefile with all its parts in one archive."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / f"points{ending}"
        shapes = np.array(shapely.to_wkb(shapely.points(points), output_dimension=3), dtype=object)
        codes = np.array(["EP", "CL"] * (len(points) // 2), dtype=object)
        write(str(path), shapes, [codes], fields=["Code"], geometry_type="Point Z", crs=system, driver=driver)
        if ending != ".shp":
            return path.read_bytes()
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            for part in Path(folder).iterdir():
                archive.write(part, part.name)
        return out.getvalue()


def taken(data: bytes, name: str, system: str = "") -> Found:
    return read_survey(data, name, ReadAs(system=system)).found


class Systems(TestCase):
    def near(self, found: Found, points: Floats = ROAD, system: str = ZONE, within: float = 0.002) -> None:
        order = np.lexsort(found.table.xyz[:, :2].T[::-1])
        np.testing.assert_allclose(found.table.xyz[order], points[np.lexsort(points[:, :2].T[::-1])], rtol=0, atol=within)
        self.assertEqual(found.system, system)

    def test_grids_are_kept_and_degrees_come_into_the_zone_that_they_lie_in(self) -> None:
        for driver, ending in (("ESRI Shapefile", ".shp"), ("GPKG", ".gpkg")):
            self.near(taken(written(ROAD, driver, ending, ZONE), f"x{ending}"))
            self.near(taken(written(degrees(ROAD), driver, ending, "EPSG:4326"), f"x{ending}"))
        marks = "".join(
            f"<Placemark><name>P{k}</name><Point><coordinates>{e:.9f},{n:.9f},{z:.3f}</coordinates></Point></Placemark>"
            for k, (e, n, z) in enumerate(degrees(ROAD).tolist())
        )
        kml = f'<?xml version="1.0"?><kml xmlns="http://www.opengis.net/kml/2.2"><Document>{marks}</Document></kml>'.encode()
        self.near(taken(kml, "x.kml"))
        packed = io.BytesIO()
        with zipfile.ZipFile(packed, "w") as archive:
            archive.writestr("doc.kml", kml)
        self.near(taken(packed.getvalue(), "x.kmz"))
        places = [
            {"type": "Feature", "geometry": {"type": "Point", "coordinates": p}, "properties": {}} for p in degrees(ROAD).tolist()
        ]
        self.near(taken(json.dumps({"type": "FeatureCollection", "features": places}).encode(), "x.geojson"))

    def test_where_utm_is_defined(self) -> None:
        self.assertEqual(
            [utm_of(15.0, 1.0), utm_of(-179.9, -5.0), utm_of(179.9, 0.0)], ["EPSG:32633", "EPSG:32701", "EPSG:32660"]
        )
        point = {"type": "MultiPoint", "coordinates": [[15.0, 0.0, 7.0], [15.0, 0.0001, 7.0], [15.0001, 0.0, 7.0]]}
        found = taken(json.dumps(point).encode(), "x.geojson")
        np.testing.assert_allclose(found.table.xyz[0], [500_000, 0, 7], atol=1e-6)

    def test_the_projects_system_is_what_files_come_into(self) -> None:
        other = "EPSG:32632"
        east, north = pyproj.Transformer.from_crs(ZONE, other, always_xy=True).transform(ROAD[:, 0], ROAD[:, 1])
        there = np.column_stack([east, north, ROAD[:, 2]])
        data = written(ROAD, "GPKG", ".gpkg", ZONE)
        self.near(taken(data, "x.gpkg", other), there, other)
        self.assertIn("converted from WGS 84 / UTM zone 33N (EPSG:32633)", taken(data, "x.gpkg", other).skipped[-1].reason)

    def test_units_of_systems(self) -> None:
        # EPSG: 2263 counts in US survey feet, 2222 in international feet.
        self.assertEqual([unit_of(c) for c in (ZONE, "EPSG:2263", "EPSG:2222")], ["metre", "us_survey_foot", "foot"])
        feet = np.array([[980_000.0, 200_000, 33], [980_100, 200_050, 34], [980_200, 200_000, 35], [980_300, 200_070, 36]])
        found = taken(written(feet, "ESRI Shapefile", ".shp", "EPSG:2263"), "x.zip")
        self.assertEqual((found.unit, found.system), ("us_survey_foot", "EPSG:2263"))
        np.testing.assert_allclose(found.table.xyz, feet * 1200 / 3937, atol=1e-6)

    def test_a_system_says_nothing_of_axes_that_were_exchanged(self) -> None:
        """A LandXML with the easting first, against the standard, was once believed because it named its system."""
        points = "".join(f'<CgPoint name="{k}">{e:.3f} {n:.3f} {z:.3f}</CgPoint>' for k, (e, n, z) in enumerate(ROAD.tolist()))
        text = f'<LandXML><CoordinateSystem epsgCode="32633"/><CgPoints>{points}</CgPoints></LandXML>'.encode()
        read = read_survey(text, "x.xml", ReadAs())
        doubts = judge(read.found.table.xyz, read.reading, np.empty((0, 3)), read.found.asked, read.found.axes).doubts
        self.assertEqual(list(doubts), ["northing first"])
        # Exchanged by a person, as the dialog asks for it, it keeps its system.
        again = read_survey(text, "x.xml", ReadAs(swapped=True, unit="metre")).found
        np.testing.assert_allclose(again.table.xyz, ROAD, atol=1e-3)
        self.assertEqual(again.system, ZONE)

    def test_degrees_with_the_latitude_first_are_converted_once_they_are_exchanged(self) -> None:
        exchanged = [[n, e, z] for e, n, z in degrees(ROAD).tolist()]
        text = json.dumps({"type": "MultiPoint", "coordinates": exchanged}).encode()
        self.near(read_survey(text, "x.geojson", ReadAs(swapped=True, unit="metre")).found)

    def test_a_geojson_in_feet(self) -> None:
        feet = [[980_000.0, 200_000.0, 33.0], [980_100.0, 200_050.0, 34.0]]
        crs = {"type": "name", "properties": {"name": "urn:ogc:def:crs:EPSG::2263"}}
        found = taken(json.dumps({"type": "MultiPoint", "coordinates": feet, "crs": crs}).encode(), "x.geojson")
        self.assertEqual((found.unit, found.system), ("us_survey_foot", "EPSG:2263"))
        np.testing.assert_allclose(found.table.xyz, np.array(feet) * 1200 / 3937, atol=1e-6)

    def test_point_clouds(self) -> None:
        for points, system in ((ROAD, ZONE), (degrees(ROAD), "EPSG:4326")):
            header = laspy.LasHeader(point_format=6, version="1.4")
            header.scales, header.offsets = ([1e-9, 1e-9, 0.001] if system == "EPSG:4326" else [0.001] * 3), points.min(axis=0)
            header.add_crs(pyproj.CRS.from_user_input(system))
            cloud = laspy.LasData(header)
            cloud.x, cloud.y, cloud.z = points.T
            out = io.BytesIO()
            cloud.write(out)
            self.near(taken(out.getvalue(), "x.las"), within=0.003)

    def test_what_is_written_says_its_system(self) -> None:
        survey = demo_survey()
        data = write_landxml(survey, {}, [], {}, "2026-01-01", ZONE)
        self.assertEqual(taken(data, "x.xml").system, ZONE)
        drawing, _ = recover.read(io.BytesIO(write_dxf(survey, {}, [], ZONE)))
        self.assertIn(("Reference system", ZONE), list(drawing.header.custom_vars))
        self.assertEqual(taken(write_dxf(survey, {}, [], ZONE), "x.dxf").system, ZONE)

    def test_a_drawing_that_is_placed_on_the_earth(self) -> None:
        """By the geographic data of DXF, made by ezdxf; where what is drawn lies elsewhere than in the system, nothing is said."""
        for moved, system in ((0.0, "EPSG:3395"), (5000.0, "")):
            drawing = ezdxf.new("R2010", units=6)
            for place in ROAD.tolist():
                drawing.modelspace().add_point(place)
            at = (412_000.0, 5_286_000.0)
            drawing.modelspace().new_geodata().setup_local_grid(design_point=(at[0] - moved, at[1]), reference_point=at)
            out = io.StringIO()
            drawing.write(out)
            self.near(taken(out.getvalue().encode(), "x.dxf"), system=system)

    def test_tables_in_degrees(self) -> None:
        """As their headings say, or a person does; levels stay in the unit that is said for the file."""
        for heads, said in (("Name,Latitude,Longitude,Height", ""), ("P,N (deg),E (deg),Z", "EPSG:4326")):
            for unit, factor in (("metre", 1.0), ("foot", 0.3048)):
                rows = "".join(f"{k},{n:.9f},{e:.9f},{z / factor:.4f}\n" for k, (e, n, z) in enumerate(degrees(ROAD).tolist()))
                data = f"{heads}\n{rows}".encode()
                columns = first_rows(data).preview.columns
                self.assertEqual([columns[c] for c in ("number", "north", "east", "level")], [0, 1, 2, 3])
                mapping = ColumnMapping(unit=unit, number=0, north=1, east=2, level=3)
                self.near(read_survey(data, "x.csv", ReadAs(mapping=mapping, said=said)).found)

    def test_a_person_knows_better_than_a_file(self) -> None:
        data = written(ROAD, "GPKG", ".gpkg", "EPSG:32632")
        self.near(read_survey(data, "x.gpkg", ReadAs(said=ZONE)).found)

    def test_systems_are_found_by_words_and_numbers(self) -> None:
        self.assertEqual(with_words("25833"), [("EPSG:25833", "ETRS89 / UTM zone 33N")])
        self.assertIn((ZONE, "WGS 84 / UTM zone 33N"), with_words("utm 33n wgs"))
        self.assertEqual(with_words("no such system"), [])

    def test_systems_that_are_none(self) -> None:
        self.assertEqual([code_of(x) for x in (None, "", "local grid of the mine", "EPSG:99999999")], [""] * 4)
        self.assertTrue(in_degrees("EPSG:4326"))
        self.assertIn("UTM zone 33N", name_of(ZONE))
        with self.assertRaises(ImportProblem):
            name_of("EPSG:999999")


class Maps(TestCase):
    def test_lines_areas_and_their_fields(self) -> None:
        lines = [shapely.LineString([(0, 0, 1), (5, 5, 2), (9, 5, 2.5)]), shapely.LineString([(20, 0, 1), (25, 5, 2)])]
        with tempfile.TemporaryDirectory() as folder:
            path = str(Path(folder) / "edges.shp")
            shapes = np.array(shapely.to_wkb(lines, output_dimension=3), dtype=object)
            write(path, shapes, [np.array(["EP", "EP"], dtype=object), np.array(["L", "R"], dtype=object)], fields=["CODE", "LINE"],
                  geometry_type="LineString Z", driver="ESRI Shapefile")  # fmt: skip
            out = io.BytesIO()
            with zipfile.ZipFile(out, "w") as archive:
                for part in Path(folder).iterdir():
                    archive.write(part, part.name)
        self.assertEqual(format_of("edges.zip", out.getvalue()), "map")
        found = polylines(collect(read_map(out.getvalue()).table))
        self.assertEqual([(p.code, p.name, len(p.points)) for p in found], [("EP", "L", 3), ("EP", "R", 2)])

    def test_two_properties_that_may_be_the_level_are_asked_about(self) -> None:
        def collection(levels: dict[str, float], z: bool) -> bytes:
            at = [11.0, 20.0, 5.0] if z else [11.0, 20.0]
            feature = {"type": "Feature", "geometry": {"type": "Point", "coordinates": at}, "properties": levels}
            return json.dumps({"type": "FeatureCollection", "features": [feature]}).encode()

        both = {"height": 2.0, "elevation": 501.5}
        self.assertIn("may be meant as well", taken(collection(both, False), "x.geojson").asked["two levels"])
        self.assertEqual(taken(collection({"elevation": 501.5}, False), "x.geojson").asked, {})
        self.assertEqual(taken(collection(both, True), "x.geojson").asked, {})

    def test_files_that_are_none(self) -> None:
        out = io.BytesIO()
        with zipfile.ZipFile(out, "w") as archive:
            archive.writestr("a.shp", b"nothing")
        for data in (out.getvalue(), b'<kml xmlns="http://www.opengis.net/kml/2.2"><Document>'):
            with self.assertRaises(ImportProblem):
                read_map(data)
        self.assertTrue(pyogrio.list_drivers())
