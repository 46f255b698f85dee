"""What an import asks about, drawings by layer, and a later survey of a part."""

import io
import json
import sqlite3
from typing import Any

import ezdxf
import laspy
import numpy as np
import rasterio
import shapely
from django.core.files.uploadedfile import SimpleUploadedFile

from demo.road import survey_csv
from jobs import run
from jobs.models import Job
from projects.tests.cases import DemoCase
from survey.models import Survey
from survey.store import current_id, load

MAPPING = {"number": 0, "east": 1, "north": 2, "level": 3, "code": 4, "line": 5, "order": 6}
ROWS = [row.split(",") for row in survey_csv().splitlines()[1:]]


def geopackage(line: shapely.LineString) -> bytes:
    """One line in a table EP, after OGC 12-128 clause 2.1.3: without a box, little-endian."""
    database = sqlite3.connect(":memory:")
    database.execute("CREATE TABLE gpkg_contents (table_name, data_type)")
    database.execute("CREATE TABLE gpkg_geometry_columns (table_name, column_name)")
    database.execute("CREATE TABLE EP (geom BLOB)")
    database.execute("INSERT INTO gpkg_contents VALUES ('EP', 'features')")
    database.execute("INSERT INTO gpkg_geometry_columns VALUES ('EP', 'geom')")
    database.execute("INSERT INTO EP VALUES (?)", (b"GP\0\x01\0\0\0\0" + shapely.to_wkb(line, output_dimension=3, byte_order=1),))
    return bytes(database.serialize())


def drawing() -> bytes:
    document = ezdxf.new("R2010")
    document.header["$INSUNITS"] = 1
    space = document.modelspace()
    for i in range(30):
        space.add_point((412_300 + 7 * (i % 6), 286_540 + 5 * (i // 6), 80 + i / 50), dxfattribs={"layer": "SPOT"})
    space.add_point((412_305, 286_541, 0), dxfattribs={"layer": "SPOT"})
    space.add_line((412_300, 286_541, 80), (412_330, 286_542, 80.2), dxfattribs={"layer": "EDGE"})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


class Asked(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def job(self, kind: str, name: str, content: bytes, **body: Any) -> Job:
        upload = self.client.post(self.url("/uploads"), {"file": SimpleUploadedFile(name, content)}).json()["id"]
        answer = self.ask("POST", f"/uploads/{upload}/{kind}", body)
        self.assertEqual(answer.status_code, 200, answer.content)
        run.execute(answer.json()["id"])
        return Job.objects.get(pk=answer.json()["id"])

    def result(self, *args: Any, **body: Any) -> dict[str, Any]:
        job = self.job(*args, **body)
        self.assertEqual(job.state, "done", job.error)
        assert job.result is not None
        return job.result

    def part(self, west: float, east: float, rise: float) -> bytes:
        head = "number,easting,northing,level,code,line,order\n"
        chosen = [r for r in ROWS if west < float(r[1]) < east and r[4] in ("CL", "EP", "GR")]
        return (head + "\n".join(",".join([*r[:3], f"{float(r[3]) + rise:.3f}", *r[4:]]) for r in chosen)).encode()

    def test_exchanged_columns_are_asked_about_and_refused_until_somebody_says_so(self) -> None:
        text, exchanged = self.part(412_600, 412_800, 0), {**MAPPING, "east": 2, "north": 1}
        found = self.result("check", "x.csv", text, mapping=exchanged)
        placing = found["placing"]
        self.assertEqual([d["kind"] for d in placing["doubts"]], ["northing first"])
        self.assertEqual(
            (placing["other"]["swapped"], placing["other"]["unit"], placing["other"]["factor"]), (True, "metre", 1.0)
        )
        before = Survey.objects.count()
        refused = self.job("import", "x.csv", text, mapping=exchanged)
        assert refused.error is not None
        self.assertEqual((refused.state, refused.error["subject"]), ("failed", "place"))
        self.assertEqual(Survey.objects.count(), before)
        self.result("import", "x.csv", text, mapping=exchanged, sure=["northing first"])
        self.assertEqual(Survey.objects.count(), before + 1)
        refused_kind = self.ask("POST", "/uploads/1/check", {"mapping": MAPPING, "sure": ["all of it"]})
        self.assertEqual(refused_kind.status_code, 400)

    def test_what_is_seen_before_it_is_written(self) -> None:
        crossing = (
            "number,easting,northing,level,code,line,order\n1,412300,286540,80,EP,a,1\n2,412340,286580,81,EP,a,2\n"
            "3,412300,286580,82,EP,b,1\n4,412340,286540,83,EP,b,2\n5,412300,286560,80,GR,,\n6,412300,286560,81,GR,,\n"
        )
        sketch = self.result("check", "x.csv", crossing.encode(), mapping=MAPPING)["sketch"]
        marks = {m["kind"]: m for m in sketch["marks"]}
        self.assertEqual({(m["east"], m["north"]) for m in (marks["crossing"],)}, {(412_320.0, 286_560.0)})
        self.assertEqual((marks["crossing"]["row"], marks["double"]["row"]), (4, 7))
        self.assertEqual((len(sketch["lines"]), len(sketch["points"])), (2, 2))

    def test_a_drawing_layer_by_layer(self) -> None:
        found = self.result("check", "x.dxf", drawing())
        drawn = found["drawing"]
        self.assertEqual((drawn["says"], drawn["unit"], drawn["zero"]), ("inch", "metre", False))
        self.assertEqual(
            [(r["layer"], r["points"], r["lines"], r["at_zero"]) for r in drawn["layers"]],
            [("EDGE", 0, 1, 0), ("SPOT", 31, 0, 1)],
        )
        self.assertEqual(found["points"], 32)
        layers = [{"layer": "SPOT", "code": "GR", "counts": "points"}, {"layer": "EDGE", "take": False}]
        again = self.result("check", "x.dxf", drawing(), drawing={"zero": "leave", "layers": layers})
        self.assertEqual([(r["code"], r["breakline"]) for r in again["rules"]], [("GR", False)])
        feet = self.result("check", "x.dxf", drawing(), drawing={"unit": "foot"})
        self.assertEqual([(d["kind"]) for d in feet["placing"]["doubts"]], ["unit"])
        self.assertEqual(feet["placing"]["other"]["unit"], "metre")

    def test_codes_that_say_nothing_get_an_offer(self) -> None:
        rows = [r for r in ROWS if 412_600 < float(r[1]) < 412_900 and r[4] in ("CL", "EP", "DI", "GR")]
        names = {"CL": "401", "EP": "402", "DI": "403", "GR": "404"}
        text = "\n".join(",".join([*r[:4], names[r[4]], *r[5:]]) for r in rows).encode()
        found = self.result("check", "x.csv", text, mapping={**MAPPING, "header": False})
        offers = {s["code"]: s["meaning"] for s in found["suggestions"]}
        self.assertEqual((offers["401"], offers["402"]), ("crown", "edge"))
        self.assertEqual({r["code"]: r["meaning"] for r in found["rules"]}["402"], "other")  # offered, not taken

    def test_geojson_geopackage_and_a_text_grid(self) -> None:
        road = {"type": "LineString", "coordinates": [[412_300 + k, 286_540 + k * k / 40, 80 + k / 9] for k in range(0, 60, 6)]}
        lines = {"type": "FeatureCollection", "features": [{"type": "Feature", "properties": {"code": "EP"}, "geometry": road}]}
        found = self.result("check", "x.geojson", json.dumps(lines).encode())
        self.assertEqual(
            (found["format"], found["points"], found["codes"]), ("geojson", 10, [{"code": "EP", "points": 10, "lines": 1}])
        )
        found = self.result("check", "x.gpkg", geopackage(shapely.LineString(road["coordinates"])))
        self.assertEqual(
            (found["format"], found["points"], found["codes"]), ("geopackage", 10, [{"code": "EP", "points": 10, "lines": 1}])
        )
        head = "ncols 20\nnrows 10\nxllcorner 412300\nyllcorner 286540\ncellsize 5\nnodata_value -9999\n"
        grid = (head + ("81.5 " * 20 + "\n") * 10).encode()
        made = self.result("import", "hill.asc", grid, surfaces=[0])
        self.assertEqual((made["format"], made["surfaces"]), ("grid", [{"name": "hill", "triangles": 2 * 19 * 9}]))
        with rasterio.MemoryFile() as file:
            place = rasterio.Affine(5, 0, 412300, 0, -5, 286600)
            with file.open(
                driver="GTiff", width=20, height=10, count=1, dtype="float32", transform=place, compress="lzw"
            ) as written:
                written.write(np.full((10, 20), 81.5, dtype="float32"), 1)
            tiff = file.read()
        sketch = self.result("check", "hill.tif", tiff)["sketch"]
        self.assertEqual((len(sketch["points"]), sketch["points"][0]), (200, [412302.5, 286597.5]), "its corners are drawn")
        made = self.result("import", "hill.tif", tiff, surfaces=[0])
        self.assertEqual((made["format"], made["surfaces"]), ("geotiff", [{"name": "hill", "triangles": 2 * 19 * 9}]))
        names = {d["spec"]["name"] for d in self.ask("GET", "/documents").json()["documents"] if d["kind"] == "surface"}
        self.assertIn("hill", names)

    def test_a_point_cloud(self) -> None:
        header = laspy.LasHeader(point_format=3, version="1.2")
        header.offsets, header.scales = [412_000, 286_000, 0], [0.001] * 3
        las = laspy.LasData(header)
        rng = np.random.default_rng(4)
        las.x, las.y = rng.uniform(412_300, 412_340, 4000), rng.uniform(286_540, 286_580, 4000)
        las.z = 80 + rng.uniform(0, 0.05, 4000)
        out = io.BytesIO()
        las.write(out)
        found = self.result("check", "scan.las", out.getvalue(), thinning={"square": 4, "keep": "mean"})
        self.assertEqual((found["format"], found["points"]), ("cloud", 100))
        self.assertIn("4,000 points of 4,000 thinned to 100: the mean of every 4 m square", found["skipped"][0]["reason"])

    def test_a_later_survey_replaces_its_part(self) -> None:
        before = load(current_id(self.project) or 0).survey
        text = self.part(412_600, 412_800, 0.03)
        found = self.result("check", "x.csv", text, mapping=MAPPING)
        self.assertEqual(found["part"]["replaced"] + found["part"]["kept"], len(before.number))
        told = found["part"]["moved"]
        self.assertGreater(len(told), 15)
        self.assertLess(abs(float(np.median([p["mean"] for p in told])) - 0.03), 0.01)
        self.result("import", "x.csv", text, mapping=MAPPING, mode="part")
        after = load(current_id(self.project) or 0).survey
        self.assertEqual(len(after.number), found["part"]["kept"] + found["points"])
        far = np.abs(before.xyz[:, 0] - 412_700) > 110
        kept = set(map(tuple, after.xyz.tolist()))
        self.assertTrue(all(tuple(p) in kept for p in before.xyz[far].tolist()))
        # The road still has its surface everywhere.
        summary = self.ask("GET", "/model").json()
        self.assertEqual(summary["missing"], [])
        bad = self.job(
            "import",
            "x.csv",
            b"number,x,y,z\n1,412700,286600,90\n2,412701,286601,90\n",
            mapping={k: v for k, v in MAPPING.items() if v < 4},
            mode="part",
        )
        self.assertEqual(bad.state, "failed")
