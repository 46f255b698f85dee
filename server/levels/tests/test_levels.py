"""Levels through the API: operations that write nothing, workbooks out and in, best levels as a job."""

import io

from openpyxl import load_workbook

from jobs.models import Job
from jobs.run import execute
from projects.tests.cases import DemoCase

RANGE = {"from_chainage": 480, "to_chainage": 680}


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
        self.assertLess(found["off_m3"], 1.0)
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
        read = self.send("/levels/read", data, "l.xlsx").json()
        self.assertEqual(len(read["changes"]), len(read["table"]["rows"]))  # nothing was adopted before
        self.put("levels", "main", read["table"], self.document("levels")["version"])
        again = self.send("/levels/read", data, "l.xlsx").json()
        self.assertEqual(again["changes"], [])
        for content, words in ((b"nothing", "not a workbook"), (data[:400], "not a workbook")):
            answer = self.send("/levels/read", content, "l.xlsx")
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
