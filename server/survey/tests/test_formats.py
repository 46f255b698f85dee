"""LandXML and DXF through the API, surfaces, comparison, structures, and files out again."""

import io
from typing import Any

import ezdxf
from django.core.files.uploadedfile import SimpleUploadedFile

from demo.road import ALIGNMENT, survey_csv
from jobs import run
from jobs.models import Job
from projects.models import Project
from projects.tests.cases import DemoCase
from saddle.exchange.dxf.read import read_dxf
from saddle.exchange.landxml_read import read_landxml
from saddle.exchange.point_rows import read
from saddle.exchange.survey_csv import preview
from saddle.terrain.spec import ColumnMapping
from survey.models import Survey, Upload
from survey.store import current_id, survey_of

GRID = "".join(f'<P id="{1 + x + 4 * y}">{10 * y} {10 * x} {x + y}</P>' for y in range(4) for x in range(4))
FACES = "".join(
    f"<F>{1 + x + 4 * y} {2 + x + 4 * y} {6 + x + 4 * y}</F><F>{1 + x + 4 * y} {6 + x + 4 * y} {5 + x + 4 * y}</F>"
    for y in range(3)
    for x in range(3)
)
LANDXML = f"""<?xml version="1.0"?><LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2" version="1.2">
<Units><Metric linearUnit="meter"/></Units>
<Surfaces><Surface name="Old ground"><Definition surfType="TIN"><Pnts>{GRID}</Pnts><Faces>{FACES}</Faces></Definition></Surface></Surfaces>
<Alignments><Alignment name="Side road" staStart="50"><CoordGeom><Line><Start>0 0</Start><End>30 30</End></Line></CoordGeom>
<Profile name="P"><ProfAlign name="P"><PVI>50 1</PVI><PVI>92 4</PVI></ProfAlign></Profile></Alignment></Alignments>
<Roadways/></LandXML>"""


class FormatCase(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def run_job(self, kind: str, name: str, content: bytes, **more: Any) -> Job:
        taken = self.client.post(self.url("/uploads"), {"file": SimpleUploadedFile(name, content)}).json()
        started = self.ask("POST", f"/uploads/{taken['id']}/{kind}", more)
        self.assertEqual(started.status_code, 200, started.content)
        run.execute(started.json()["id"])
        return Job.objects.get(pk=started.json()["id"])


class Formats(FormatCase):
    def test_landxml_tells_what_it_holds_and_brings_what_is_chosen(self) -> None:
        before = current_id(self.project)
        checked = self.run_job("check", "road.xml", LANDXML.encode())
        assert checked.result is not None
        self.assertEqual(checked.result["format"], "landxml")
        self.assertEqual([s["name"] for s in checked.result["surfaces"]], ["Old ground"])
        self.assertEqual(checked.result["alignments"][0]["profiles"], ["P"])
        sketch = checked.result["sketch"]
        self.assertEqual(([line["code"] for line in sketch["lines"]], len(sketch["points"])), (["Side road"], 16))
        self.assertIn("1 × Roadways: not read", [s["reason"] for s in checked.result["skipped"]])
        self.assertEqual(current_id(self.project), before)
        job = self.run_job(
            "import", "road.xml", LANDXML.encode(), surfaces=[0], alignments=[0], sure=["far", "northing first", "unit"]
        )
        self.assertEqual(job.state, "done")
        self.assertEqual(current_id(self.project), before)  # a file without points replaces no points
        documents = self.ask("GET", "/documents").json()["documents"]
        self.assertIn("Side road", {d["spec"]["name"] for d in documents if d["kind"] == "alignment"})
        self.assertIn("P", {d["spec"]["name"] for d in documents if d["kind"] == "profile"})
        surfaces = {s["key"]: s for s in self.ask("GET", "/survey/surfaces").json()}
        (imported,) = (s for k, s in surfaces.items() if k != "main")
        self.assertEqual(imported["triangles"], 18)

    def test_the_first_survey_may_be_a_surface_alone(self) -> None:
        made = self.ask("POST", "/api/projects", {"name": "Fresh"}).json()["id"]
        url = f"/api/projects/{made}"
        taken = self.client.post(f"{url}/uploads", {"file": SimpleUploadedFile("s.xml", LANDXML.encode())}).json()
        started = self.ask("POST", f"{url}/uploads/{taken['id']}/import", {"surfaces": [0], "alignments": [0]}).json()
        run.execute(started["id"])
        summary = self.ask("GET", f"{url}/model").json()
        self.assertEqual(summary["missing"], [])
        section = self.ask("GET", f"{url}/model/sections/2").json()
        self.assertEqual(len(section["existing"]), 1)

    def test_dxf_and_files_that_are_none(self) -> None:
        exported = self.made("survey_dxf")
        job = self.run_job("check", "back.dxf", exported)
        assert job.result is not None
        self.assertEqual((job.result["format"], job.result["points"]), ("dxf", 6187))
        for name, content, word in (
            ("x.xml", b"<a/>", "not LandXML"),
            ("x.dxf", b"junk", "DXF"),
            ("x.xml", b"<LandXML/>", "no point, surface or alignment"),
        ):
            failed = self.run_job("check", name, content)
            assert failed.error is not None
            self.assertIn(word, failed.error["message"])

    def drawing(self) -> bytes:
        """A line of the survey, and a house at level 0 that somebody drew."""
        document = ezdxf.new("R2018", units=6)
        space = document.modelspace()
        space.add_polyline3d([(412300 + 5 * k, 286600, 90 + 0.1 * k) for k in range(9)], dxfattribs={"layer": "KERB"})
        space.add_lwpolyline([(412310, 286590), (412320, 286590), (412320, 286598)], dxfattribs={"layer": "HOUSE"})
        out = io.StringIO()
        document.write(out)
        return out.getvalue().encode()

    def test_layers_of_a_drawing_lie_beneath_and_count_for_nothing(self) -> None:
        bill = self.ask("GET", "/model/quantities").json()
        layers = [{"layer": "KERB", "counts": "breaklines"}, {"layer": "HOUSE", "counts": "background"}]
        done = self.run_job("import", "plan.dxf", self.drawing(), mode="add", drawing={"layers": layers}, sure=["level"])
        assert done.result is not None, done.error
        used = self.document("survey")
        self.assertEqual([b["background"] for b in used["spec"]["beside"]], [False, True])
        codes = {c["code"] for c in self.ask("GET", "/survey").json()["codes"]}
        self.assertIn("KERB", codes)
        self.assertNotIn("HOUSE", codes | {r["code"] for r in self.document("code_list")["spec"]["rules"]})
        box = "?west=412000&south=286000&east=413000&north=287000"
        self.assertEqual(len(self.ask("GET", f"/survey/background{box}").json()["edges"]), 2)
        self.assertEqual(self.ask("GET", "/survey/background?west=0&south=0&east=1&north=1").json()["edges"], [])
        only = [b for b in used["spec"]["beside"] if b["background"]]
        self.assertEqual(self.put("survey", "main", {**used["spec"], "beside": only}, used["version"]).status_code, 200)
        self.assertEqual(self.ask("GET", "/model/quantities").json(), bill)

    def test_a_whole_file_as_a_background(self) -> None:
        """Its level 0 is no doubt, and another survey afterwards leaves it where it is."""
        bill = self.ask("GET", "/model/quantities").json()
        done = self.run_job("import", "house.dxf", self.drawing(), mode="background")
        assert done.result is not None, done.error
        self.assertEqual(self.ask("GET", "/model/quantities").json(), bill)
        self.assertEqual(self.ask("GET", "/survey").json()["points"], 6187)
        self.run_job(
            "import",
            "s.csv",
            survey_csv().encode(),
            mapping=dict(zip(("number", "east", "north", "level", "code"), range(5), strict=True)),
        )
        self.assertEqual([b["background"] for b in self.document("survey")["spec"]["beside"]], [True])
        made = self.ask("POST", "/api/projects", {"name": "Fresh"}).json()["id"]
        taken = self.client.post(f"/api/projects/{made}/uploads", {"file": SimpleUploadedFile("h.dxf", self.drawing())}).json()
        started = self.ask("POST", f"/api/projects/{made}/uploads/{taken['id']}/import", {"mode": "background"}).json()
        run.execute(started["id"])
        error = Job.objects.get(pk=started["id"]).error
        assert error is not None
        self.assertIn("import the survey first", error["hint"])

    def test_a_csv_without_mapping_is_refused(self) -> None:
        failed = self.run_job("check", "x.csv", b"number,x,y,z\n1,0,0,0\n")
        assert failed.error is not None
        self.assertIn("not mapped", failed.error["message"])

    def test_another_file_does_not_take_away_what_is_still_to_be_read(self) -> None:
        """Once an import that was left to go on failed because its person chose the next file."""
        content = b"number,x,y,z\n1,0,0,0\n2,9,0,0\n3,0,9,0\n"
        first = self.client.post(self.url("/uploads"), {"file": SimpleUploadedFile("a.csv", content)}).json()
        mapping = {"number": 0, "east": 1, "north": 2, "level": 3}
        started = self.ask("POST", f"/uploads/{first['id']}/check", {"mapping": mapping}).json()
        self.client.post(self.url("/uploads"), {"file": SimpleUploadedFile("b.csv", content)})
        run.execute(started["id"])
        self.assertEqual(Job.objects.get(pk=started["id"]).state, Job.State.DONE)
        self.client.post(self.url("/uploads"), {"file": SimpleUploadedFile("c.csv", content)})
        self.assertEqual(Upload.objects.filter(project=self.project).count(), 1)

    def test_more_codes_than_a_list_holds(self) -> None:
        rows = "".join(f"{i},{i % 50},{i // 50},1,C{i}\n" for i in range(2100))
        mapping = {"number": 0, "east": 1, "north": 2, "level": 3, "code": 4}
        failed = self.run_job("check", "x.csv", f"number,x,y,z,code\n{rows}".encode(), mapping=mapping)
        assert failed.error is not None
        self.assertIn("2,100 different codes; at most 2,000", failed.error["message"])

    def test_dividing_by_another_character(self) -> None:
        taken = self.client.post(self.url("/uploads"), {"file": SimpleUploadedFile("x.txt", b"1~2,5~3~4\n5~6~7~8\n")}).json()
        self.assertEqual(len(taken["rows"][0]), 2)
        again = self.ask("GET", f"/uploads/{taken['id']}?delimiter=~").json()
        self.assertEqual((again["rows"][0], again["decimal"]), (["1", "2,5", "3", "4"], ","))
        self.assertEqual(self.ask("GET", f"/uploads/{taken['id']}?delimiter=ab").status_code, 400)
        cut = self.ask("GET", f"/uploads/{taken['id']}?delimiter=,&widths=3,1").json()
        self.assertEqual((cut["breaks"], len(cut["rows"][0])), ([1, 3], 3))
        self.assertEqual("".join(cut["rows"][0]), cut["lines"][0].replace(" ", ""))
        self.assertTrue(self.ask("GET", f"/uploads/{taken['id']}?delimiter=,&widths=").json()["breaks"])
        for wrong in ("x", "1,", "99999"):
            self.assertEqual(self.ask("GET", f"/uploads/{taken['id']}?delimiter=,&widths={wrong}").status_code, 400)

    def test_adding_to_the_survey(self) -> None:
        mapping = {"number": 0, "east": 1, "north": 2, "level": 3, "code": 4}
        more = b"number,x,y,z,code\n1000,412310,286600,90,GR\nnew,412312,286603,90,TREE\n"
        self.assertEqual(self.run_job("import", "more.csv", more, mapping=mapping, mode="add").state, "done")
        survey = survey_of(self.project)
        assert survey is not None
        self.assertEqual(len(survey.number), 6189)
        self.assertEqual(self.ask("GET", "/survey").json()["points"], 6189)
        self.assertIn("1000+", survey.number)
        self.assertIn("TREE", {r["code"] for r in self.document("code_list")["spec"]["rules"]})

    def test_points_and_lines_edited_by_hand(self) -> None:
        """A raised point of the road's edge is met by the surface and by what follows the line; undone it is as before."""
        line = next(x for x in self.ask("GET", "/survey/lines").json() if x["code"] == "EP" and len(x["points"]) > 40)
        points = self.ask("GET", f"/survey/line?code={line['code']}&name={line['name']}").json()
        self.assertEqual([[p["east"], p["north"], p["level"]] for p in points], line["points"])
        bill = self.ask("GET", "/model/quantities").json()
        one, two = points[20], points[21]
        used = self.document("survey")
        edits = [
            {"by": "point", "of": {"number": one["number"], "code": one["code"]}, "level": one["level"] + 0.5},
            {"by": "gap", "code": line["code"], "name": line["name"], "between": [one["number"], two["number"]]},
            {"by": "split", "code": "XX", "name": "1", "at": "1"},
        ]
        self.assertEqual(self.put("survey", "main", {**used["spec"], "edits": edits}, used["version"]).status_code, 200)
        report = self.ask("GET", "/survey").json()
        self.assertEqual(len(report["edits"]), 3)
        self.assertEqual(len(report["told"]), 1)
        self.assertIn("there is no line XX 1", report["told"][0])
        after = {(x["code"], x["name"]): x["points"] for x in self.ask("GET", "/survey/lines").json()}
        self.assertEqual(len(after[line["code"], line["name"]]), 21)
        self.assertAlmostEqual(after[line["code"], line["name"]][-1][2], one["level"] + 0.5, 9)
        self.assertEqual(len(after[line["code"], f"{line['name']}-2"]), len(points) - 21)
        self.assertNotEqual(self.ask("GET", "/model/quantities").json(), bill)
        self.assertEqual(self.ask("POST", "/undo").json()["title"], "Survey in use: edit at 3 places")
        self.assertEqual(self.ask("GET", "/model/quantities").json(), bill)

    def test_imports_are_listed_compared_undone_and_taken_again(self) -> None:
        before = current_id(self.project)
        bill = self.ask("GET", "/model/quantities").json()
        mapping = {"number": 0, "east": 1, "north": 2, "level": 3, "code": 4}
        more = b"number,x,y,z,code\nnew,412312,286603,90,TREE\n"
        self.run_job("import", "more.csv", more, mapping=mapping, mode="add")
        listed = self.ask("GET", "/surveys").json()
        newest = listed[0]
        self.assertEqual((newest["name"], newest["in_use"], newest["points"]), ("more.csv", True, 1))
        self.assertEqual(listed[1]["id"], before)
        changed = self.ask("GET", f"/surveys/changes?first={before}&second={listed[0]['id']}").json()
        self.assertEqual((changed["same"], changed["only_first"], changed["only_second"], changed["moved"]), (0, 6187, 1, 0))
        self.assertEqual(self.ask("POST", "/undo").json()["title"], "Import of more.csv")
        self.assertEqual(current_id(self.project), before)
        self.assertNotIn("TREE", {r["code"] for r in self.document("code_list")["spec"]["rules"]})
        self.assertEqual(self.ask("GET", "/model/quantities").json(), bill)
        in_use = self.document("survey")
        version = in_use["version"]
        for spec, points in (
            ({"survey": before, "beside": [{"survey": newest["id"]}]}, 6188),
            ({"survey": before, "beside": [{"survey": newest["id"], "on": False}]}, 6187),
            ({"survey": newest["id"]}, 1),
        ):
            self.assertEqual(self.put("survey", "main", spec, version).status_code, 200)
            self.assertEqual(self.ask("GET", "/survey").json()["points"], points)
            version += 1
        other = Project.objects.create(name="Other")
        strange = Survey.objects.create(project=other, name="x", original=b"", arrays=b"", report={}).pk
        refused = self.put("survey", "main", {"survey": strange}, version)
        self.assertEqual(refused.status_code, 400)
        self.assertEqual(current_id(self.project), listed[0]["id"])

    def test_what_goes_out_comes_back(self) -> None:
        text = self.client.get(self.url("/files/survey.csv")).content.decode()
        table, skipped = read(text, ColumnMapping(**preview(text).columns))
        self.assertEqual((len(table.number), skipped), (6187, []))
        found = read_landxml(self.made("survey_landxml"))
        self.assertEqual(len(found.table.number), 6187)
        self.assertEqual([s.name for s in found.surfaces], ["Existing"])
        self.assertEqual(len(found.alignments[0].spec.elements), len(ALIGNMENT.elements))
        drawn = read_dxf(self.made("survey_dxf"))
        self.assertEqual(len(drawn.table.number), 6187)
        original = self.client.get(self.url("/files/survey-original"))
        self.assertEqual(original.content.decode(), survey_csv())
        self.assertIn("fennick-vale-survey.csv", original["Content-Disposition"])


class Surfaces(FormatCase):
    def put_surface(self, key: str, source: dict[str, Any], version: int = 0) -> Any:
        return self.put("surface", key, {"name": key, "source": source}, version)

    def test_a_code_list_changes_the_surface_and_the_road(self) -> None:
        stamp = self.ask("GET", "/model").json()["stamp"]
        before = self.ask("GET", "/survey/surfaces").json()[0]
        document = self.document("code_list")
        rules = [{**r, "in_surface": r["in_surface"] and not r["code"].startswith("WP")} for r in document["spec"]["rules"]]
        self.assertEqual(self.put("code_list", "main", {"rules": rules}, document["version"]).status_code, 200)
        after = self.ask("GET", "/survey/surfaces").json()[0]
        self.assertLess(after["points"], before["points"] - 1000)
        self.assertNotEqual(self.ask("GET", "/model").json()["stamp"], stamp)

    def test_compare_with_a_plane(self) -> None:
        self.put_surface("plane", {"by": "plane", "level": 80.0})
        started = self.ask("POST", "/survey/compare", {"first": "main", "second": "plane"})
        run.execute(started.json()["id"])
        result = Job.objects.get(pk=started.json()["id"]).result
        assert result is not None
        self.assertGreater(result["cut"], 100_000)
        self.assertAlmostEqual(result["only_first"], 0, delta=1.0)
        self.assertEqual(self.ask("POST", "/survey/compare", {"first": "main", "second": "none"}).status_code, 404)

    def test_a_spike_is_pointed_out_with_its_number_and_left_out(self) -> None:
        mapping = {"number": 0, "east": 1, "north": 2, "level": 3, "code": 4, "line": 5, "order": 6}
        rows = survey_csv().splitlines()
        at = next(i for i, r in enumerate(rows) if ",GR," in r)
        cells = rows[at].split(",")
        rows[at] = ",".join([*cells[:3], str(float(cells[3]) + 5), *cells[4:]])
        self.run_job("import", "spike.csv", "\n".join(rows).encode(), mapping=mapping)
        spike = self.ask("GET", "/survey/surfaces").json()[0]["spikes"][0]
        self.assertEqual(spike["number"], cells[0])
        self.assertAlmostEqual(spike["above"], 5, delta=0.7)
        document = self.document("surface")
        source = {**document["spec"]["source"], "left_out": [cells[0]]}
        self.assertEqual(
            self.put("surface", "main", {**document["spec"], "source": source}, document["version"]).status_code, 200
        )
        self.assertEqual(self.ask("GET", "/survey/surfaces").json()[0]["spikes"], [])

    def test_what_cannot_be_built_is_told_and_nothing_fails(self) -> None:
        self.put_surface("none", {"by": "survey", "codes": ["PIT"]})
        self.put_surface("gone", {"by": "imported", "survey": 999_999, "number": 0})
        wrong = {s["key"]: s["wrong"] for s in self.ask("GET", "/survey/surfaces").json()}
        self.assertIn("points are left", wrong["none"])
        self.assertIn("is gone", wrong["gone"])
        self.assertIsNone(wrong["main"])
        edges = self.ask("GET", "/survey/edges?west=0&south=0&east=1&north=1&surface=none")
        self.assertEqual(edges.status_code, 400)

    def test_structures_of_the_survey(self) -> None:
        found = self.ask("GET", "/survey/structures").json()
        self.assertEqual((len(found["pits"]), len(found["pipes"])), (5, 1))

    def test_surveys_of_other_projects_stay_theirs(self) -> None:
        other = self.ask("POST", "/api/projects", {"name": "Other"}).json()["id"]
        survey = Survey.objects.filter(project=self.project).latest("id").pk
        body = {
            "kind": "surface",
            "spec": {"name": "Stolen", "source": {"by": "imported", "survey": survey, "number": 0}},
            "version": 0,
        }
        self.ask("PUT", f"/api/projects/{other}/documents/surface/stolen", body)
        taken = self.client.post(f"/api/projects/{other}/uploads", {"file": SimpleUploadedFile("s.xml", LANDXML.encode())}).json()
        started = self.ask("POST", f"/api/projects/{other}/uploads/{taken['id']}/import", {"surfaces": [0]}).json()
        run.execute(started["id"])
        found = {s["key"]: s for s in self.ask("GET", f"/api/projects/{other}/survey/surfaces").json()}
        self.assertIn("is gone", found["stolen"]["wrong"])
