"""Crossfalls and levels through the API: operations that write nothing, files out and in, best levels as a job."""

import io

from django.core.files.uploadedfile import SimpleUploadedFile
from openpyxl import load_workbook

from design.models import EditRecord
from jobs.models import Job
from jobs.run import execute
from projects.tests.cases import DemoCase

RANGE = {"from_chainage": 480, "to_chainage": 680}


class Crossfalls(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def test_measured_and_present(self) -> None:
        found = self.ask("GET", "/crossfalls").json()
        i = found["chainage"].index(560.0)
        self.assertEqual((found["left"][i], found["right"][i]), (-2.5, -2.5))  # given there
        self.assertNotEqual(found["measured_left"][i], -2.5)
        j = found["chainage"].index(900.0)
        self.assertAlmostEqual(found["left"][j], found["measured_left"][j])  # measured there

    def test_an_operation_writes_nothing(self) -> None:
        body = {"operation": {"kind": "one_value", "pct": -3}, **RANGE, "table": {"rows": []}}
        edits = EditRecord.objects.count()
        rows = self.ask("POST", "/crossfalls/apply", body).json()["rows"]
        self.assertEqual((rows[0]["chainage"], rows[-1]["chainage"]), (480, 680))
        self.assertTrue(all(r["left_pct"] == r["right_pct"] == -3 for r in rows))
        self.assertEqual(EditRecord.objects.count(), edits)
        body["to_chainage"] = 400
        self.assertEqual(self.ask("POST", "/crossfalls/apply", body).status_code, 400)

    def test_csv_round_trip_and_bad_lines(self) -> None:
        rows = [{"chainage": 0, "left_pct": -2.5, "right_pct": 1.25}, {"chainage": 99.5, "left_pct": 3, "right_pct": -3}]
        self.put("crossfalls", "main", {"rows": rows}, self.document("crossfalls")["version"])
        text = self.ask("GET", "/files/crossfalls.csv").content.decode()
        self.assertEqual(self.ask("POST", "/crossfalls/read", {"text": text}).json()["rows"], rows)
        for bad, words in (
            ("0;1;2\n10;x;2", "line 2: three numbers"), ("0,1,2\n0,1,2", "line 2: chainage 0 stands on line 1 too"),
            ("5;55;1", "line 1: a crossfall lies between"), ("", "no crossfalls"), ("1;2", "line 1: three numbers"),
        ):  # fmt: skip
            answer = self.ask("POST", "/crossfalls/read", {"text": bad})
            self.assertEqual(answer.status_code, 400)
            self.assertIn(words, answer.json()["message"])


class Levels(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def best(self, **more: object) -> dict[str, object]:
        answer = self.ask("POST", "/levels/best", {**RANGE, "from_chainage": 490, **more})
        self.assertEqual(answer.status_code, 200)
        job = Job.objects.get(pk=answer.json()["id"])
        execute(str(job.pk))
        job.refresh_from_db()
        self.assertEqual(job.state, Job.State.DONE, job.error)
        assert job.result is not None
        return job.result

    def test_levels_of_the_demo(self) -> None:
        found = self.ask("GET", "/levels?speed_kmh=70").json()
        self.assertAlmostEqual(found["limit_pct"], 0.7)
        i = found["chainage"].index(560.0)
        self.assertAlmostEqual(found["design"][i], found["lowest"][i], 6)  # cover governs there
        self.assertAlmostEqual(found["design"][i], max(found["left_candidate"][i], found["right_candidate"][i]), 9)
        self.assertIsNone(found["adopted"][i])

    def test_best_levels(self) -> None:
        found = self.best()
        self.assertEqual(found["conflicts"], [])
        self.assertLess(found["gap"], 1e-6)
        self.assertEqual(len(found["level"]), len(found["chainage"]))
        free = self.best(crossfall_low=-4, crossfall_high=-1, crossfall_rate=0.05, fix_ends=False)
        self.assertGreater(free["saved_tonnes"], found["saved_tonnes"])
        self.assertTrue(all(-4 - 1e-6 <= v <= -1 + 1e-6 for v in free["left_pct"]))

    def test_refused_with_the_place(self) -> None:
        answer = self.ask("POST", "/levels/best", {"from_chainage": 700, "to_chainage": 690})
        self.assertEqual(answer.status_code, 400)
        started = self.ask("POST", "/levels/best", {"from_chainage": 680, "to_chainage": 780}).json()
        execute(started["id"])
        job = Job.objects.get(pk=started["id"])
        self.assertEqual(job.state, Job.State.FAILED)
        self.assertIn("no overlay at chainage", job.error["message"])

    def test_workbook_out_and_in(self) -> None:
        data = self.ask("GET", "/files/levels.xlsx").content
        sheet = load_workbook(io.BytesIO(data))["Levels"]
        self.assertEqual([c.value for c in sheet[1]][:4], ["Chainage m", "Existing m", "Lowest m", "Adopted m"])
        self.assertTrue(sheet["F3"].value.startswith("=100*(D3-D2)"))
        self.assertEqual(len(sheet.conditional_formatting), 2)
        read = self.client.post(self.url("/levels/read"), {"file": SimpleUploadedFile("l.xlsx", data)}).json()
        self.assertEqual(len(read["changes"]), len(read["table"]["rows"]))  # nothing was adopted before
        self.put("levels", "main", read["table"], self.document("levels")["version"])
        again = self.client.post(self.url("/levels/read"), {"file": SimpleUploadedFile("l.xlsx", data)}).json()
        self.assertEqual(again["changes"], [])
        for content, words in ((b"nothing", "not a workbook"), (data[:400], "not a workbook")):
            answer = self.client.post(self.url("/levels/read"), {"file": SimpleUploadedFile("l.xlsx", content)})
            self.assertEqual(answer.status_code, 400)
            self.assertIn(words, answer.json()["message"])

    def test_formulas_give_what_the_screen_shows(self) -> None:
        """Grades worked out from the workbook's own figures, as a spreadsheet would, against the API."""
        sheet = load_workbook(io.BytesIO(self.ask("GET", "/files/levels.xlsx").content))["Levels"]
        # The workbook's levels are written to the millimetre: three of them change a grade at 10 m by up to 0.02 %.
        rows = [(r[0].value, r[3].value) for r in sheet.iter_rows(min_row=2) if r[0].value is not None]
        found = self.ask("GET", "/levels").json()
        shown = dict(zip(found["chainage"], found["change_pct"], strict=True))
        for (a, za), (b, zb), (c, zc) in zip(rows, rows[1:], rows[2:], strict=False):
            change = 100 * (zc - zb) / (c - b) - 100 * (zb - za) / (b - a)
            if shown[b] is not None and b in (560.0, 900.0, 1200.0):
                self.assertAlmostEqual(change, shown[b], delta=0.021)


class Profiles(DemoCase):
    SPEC = {"name": "P", "points": [{"chainage": 480, "level": 88.9}, {"chainage": 900, "level": 94.3}]}

    def setUp(self) -> None:
        self.sign_in("designer")

    def test_tried_without_being_written(self) -> None:
        edits = EditRecord.objects.count()
        plain = self.ask("POST", "/profiles/try", {"spec": self.SPEC}).json()
        self.assertEqual([p["chainage"] for p in plain["spec"]["points"]], [480, 900])
        self.assertIsNone(plain["level"][0])
        self.assertEqual(plain["clearances"][0]["name"][:3], "CUL")
        fit = {"kind": "fit", "through": "design", "from_chainage": 480, "to_chainage": 900}
        fitted = self.ask("POST", "/profiles/try", {"spec": self.SPEC, "edit": fit, "speed_kmh": 60}).json()
        self.assertGreater(len(fitted["ips"]), 4)
        self.assertTrue(all(ip["remarks"] == [] for ip in fitted["ips"]))
        self.assertEqual(EditRecord.objects.count(), edits)

    def test_what_does_not_fit_is_a_clear_error(self) -> None:
        for edit, words in (
            ({"kind": "at", "index": 5, "chainage": 500, "level": 1}, "no IP 6"),
            ({"kind": "curves", "indices": [0], "by": "length", "value": 10}, "no curve"),
            ({"kind": "fit", "through": "level_table", "from_chainage": 0, "to_chainage": 400}, "no levels of the level table"),
        ):
            answer = self.ask("POST", "/profiles/try", {"spec": self.SPEC, "edit": edit})
            self.assertEqual(answer.status_code, 400)
            self.assertIn(words, answer.json()["message"])

    def test_a_standard_copied_and_changed_judges_at_once(self) -> None:
        published = self.ask("GET", "/standards/published").json()
        self.assertEqual(set(published["vertical"]), {"austroads", "aashto", "texas", "uk"})
        standards = self.document("standards")
        spec = {**standards["spec"], "vertical": published["vertical"]["aashto"], "least_cover_over_pipes": 3}
        spec["vertical"]["most_grade"]["rows"] = [{"speed_kmh": 60, "value": 1.0, "source": "set in this project"}]
        self.put("standards", "main", spec, standards["version"])
        found = self.ask("POST", "/profiles/try", {"spec": self.SPEC, "speed_kmh": 60}).json()
        self.assertEqual((found["crest_k"], found["sag_k"], found["most_grade"]), (11, 18, 1))
        self.assertIn("over 1 %", found["ips"][0]["remarks"][0])
        self.assertTrue(found["clearances"][0]["short"])
        broken = {**spec, "vertical": {**spec["vertical"], "stopping": {"source": "", "rows": []}}}
        answer = self.ask("PUT", "/documents/standards/main", {"kind": "standards", "spec": broken, "version": 2})
        self.assertEqual(answer.status_code, 400)

    def test_how_the_curves_turn(self) -> None:
        body = {"kind": "superelevate", "speed_kmh": 60, "most_pct": 6, "normal_pct": 2.5, "width": 3.25, "lanes": 1}
        found = self.ask("POST", "/crossfalls/superelevation", body).json()
        self.assertGreaterEqual(len(found), 3)
        self.assertEqual(found[0]["keys"][0]["name"], "normal crown ends")
        self.assertLess(found[0]["keys"][0]["chainage"], found[0]["start"])


class SideRoads(DemoCase):
    ASKED = {"name": "Mill Lane", "side": "left", "from_chainage": 540, "to_chainage": 556, "length": 8, "notch_mm": 40}

    def setUp(self) -> None:
        self.sign_in("designer")

    def test_tied_in_and_taken_back_as_one_step(self) -> None:
        before = {kind: self.document(kind)["spec"] for kind in ("treatments", "template_plan", "milling")}
        self.assertEqual(self.ask("POST", "/side-roads", self.ASKED).json(), ["rural-mill-lane"])
        edges = [r["work"]["left_edge"] for r in self.document("treatments")["spec"]["ranges"] if r["from_chainage"] == 540]
        self.assertEqual(edges, [{"by": "point", "point": "LaneEdge", "beyond": 0.0, "side": None}])
        self.assertEqual(self.document("milling")["spec"]["stretches"][-1]["full_at"], "left")
        rows = self.ask("GET", "/model/quantities").json()["total"]["rows"]
        self.assertTrue(rows)
        self.assertIn("Mill Lane", self.ask("POST", "/undo").json()["title"])
        for kind, spec in before.items():
            self.assertEqual(self.document(kind)["spec"], spec)
        self.assertFalse([d for d in self.ask("GET", "/documents").json()["documents"] if d["key"] == "rural-mill-lane"])

    def test_refusals(self) -> None:
        for change, words in (
            ({"from_chainage": 700, "to_chainage": 720}, "not overlaid"), ({"to_chainage": 500}, "must end after it begins"),
            ({"name": "<b>"}, "name"), ({"length": 0}, "length"),
        ):  # fmt: skip
            answer = self.ask("POST", "/side-roads", {**self.ASKED, **change})
            self.assertEqual(answer.status_code, 400)
            self.assertIn(words, str(answer.json()))
        self.sign_in("viewer")
        self.assertEqual(self.ask("POST", "/side-roads", self.ASKED).status_code, 403)
