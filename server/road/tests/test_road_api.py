"""The solved road through the API: what the screens and files show is what the core computes."""

import io
import re
from typing import Any
from unittest.mock import patch
from uuid import UUID

import ezdxf
from openpyxl import load_workbook
from pypdf import PdfReader

from demo.documents import TREATMENTS
from jobs import run
from jobs.models import Job
from projects.tests.cases import DemoCase


class Output(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def test_summary_of_the_demo(self) -> None:
        found = self.ask("GET", "/model").json()
        self.assertEqual((found["start"], found["end"], found["missing"]), (0.0, 1610.0, []))
        n = len(found["chainage"])
        for field in ("side", "least", "greatest", "mean", "hinge_level", "left_pct", "right_pct"):
            self.assertEqual(len(found[field]), n)
        overlay = [v for v in found["least"] if v is not None]
        self.assertTrue(all(abs(v - 0.05) < 1e-6 for v in overlay))
        self.assertGreater(len(overlay), 100)

    def test_a_new_project_says_what_is_missing(self) -> None:
        made = self.ask("POST", "/api/projects", {"name": "New"}).json()["id"]
        base = f"/api/projects/{made}"
        self.assertEqual(self.ask("GET", f"{base}/model").json()["missing"], ["survey", "alignment"])
        for path in (
            "/model/sections/0",
            "/model/plan",
            "/model/depth-map",
            "/model/quantities",
            "/jobs/sheets_pdf?drawing=plan",
        ):
            answer = self.ask("POST" if "/jobs/" in path else "GET", base + path)
            self.assertEqual(answer.status_code, 409)
            self.assertIn("needs a survey and alignment first", answer.json()["message"])
        self.assertEqual(self.ask("GET", f"{base}/survey").status_code, 404)

    def test_every_edit_shows_at_once(self) -> None:
        before = self.ask("GET", "/model").json()
        work = TREATMENTS.ranges[0].work.changed(least_cover_mm=80.0).model_dump()
        version = self.document("treatments")["version"]
        self.ask("POST", "/treatments", {"version": version, "from_chainage": 0, "to_chainage": 420, "work": work})
        after = self.ask("GET", "/model").json()
        self.assertNotEqual(before["stamp"], after["stamp"])
        self.assertAlmostEqual(after["least"][5], 0.08, 6)
        self.assertAlmostEqual(after["hinge_level"][5] - before["hinge_level"][5], 0.03, 6)
        self.assertAlmostEqual(self.ask("GET", "/model/sections/5").json()["depth"]["least"], 0.08, 6)
        self.ask("POST", "/undo")
        self.assertEqual(self.ask("GET", "/model").json()["least"], before["least"])

    def test_a_broken_template_is_a_problem_not_a_failure(self) -> None:
        found = self.document("template", "rural")
        found["spec"]["right"]["points"][0]["offset"]["parent"] = "ShoulderEdge"
        self.assertEqual(self.put("template", "rural", found["spec"], found["version"]).status_code, 200)
        model = self.ask("GET", "/model")
        self.assertEqual(model.status_code, 200)
        self.assertTrue(any("circle" in p["message"] for p in model.json()["problems"]))
        self.assertEqual(self.ask("GET", "/model/quantities").status_code, 200)
        self.assertEqual(self.work("sheets")["state"], "done")

    def test_outside_the_road(self) -> None:
        for path in ("/model/sections/99999", "/model/sections/-1"):
            self.assertEqual(self.ask("GET", path).status_code, 404)
        self.assertEqual(self.file_of(self.work("sheets"), 999).status_code, 404)
        self.assertEqual(self.ask("GET", "/model/sections/x").status_code, 400)

    def test_an_alignment_off_the_survey_gives_problems_not_errors(self) -> None:
        found = self.document("alignment")
        found["spec"]["start_east"] += 50_000
        self.put("alignment", "main", found["spec"], found["version"])
        model = self.ask("GET", "/model").json()
        self.assertTrue(model["problems"])
        self.assertTrue(all(v is None for v in model["least"]))
        for path in ("/model/depth-map", "/model/quantities", "/files/quantities.xlsx"):
            self.assertEqual(self.ask("GET", path).status_code, 200)
        for kind in ("sheets", "sheets_pdf", "volume_check", "depth_surfaces"):
            self.assertEqual(self.work(kind)["state"], "done", kind)

    def test_an_arc_of_no_radius_is_a_clear_message(self) -> None:
        found = self.document("alignment")
        found["spec"]["elements"][1]["radius"] = 0
        answer = self.put("alignment", "main", found["spec"], found["version"])
        self.assertEqual(answer.status_code, 400)
        self.assertEqual(
            answer.json()["message"],
            "alignment › elements › 2 › arc › radius: a radius of 0 m is no curve: give at least 1 m, negative to turn left",
        )
        self.assertEqual(self.ask("GET", "/model").status_code, 200)


class Files(DemoCase):
    def setUp(self) -> None:
        self.sign_in("viewer")

    def test_names_carry_project_content_and_chainages(self) -> None:
        csv = self.ask("GET", "/files/quantities.csv")
        self.assertIn("Fennick-Vale-Road_quantities_0-1610.csv", csv["Content-Disposition"])
        dxf = self.file_of(self.work("sheets_dxf"))
        self.assertIn("Fennick-Vale-Road_XS_0-1610.dxf", dxf["Content-Disposition"])

    def test_files_open_in_other_programs(self) -> None:
        self.shorten("sections")
        self.sign_in("viewer")
        sheets = self.work("sheets")
        names = sheets["result"]["sheets"]
        self.assertTrue(self.file_of(sheets, len(names) - 1).content.startswith(b"<svg"))
        self.assertEqual(len(PdfReader(io.BytesIO(self.file_of(self.work("sheets_pdf")).content)).pages), len(names))
        drawing = ezdxf.read(io.StringIO(self.file_of(self.work("sheets_dxf")).content.decode()))
        self.assertEqual(drawing.audit().errors, [])
        self.assertEqual(len(drawing.layouts) - 1, len(names))
        flat = ezdxf.read(io.StringIO(self.file_of(self.work("sheets_dxf_flat")).content.decode()))
        self.assertEqual((flat.audit().errors, flat.header["$EXTMAX"][0]), ([], len(names) * 450.0 - 30.0))  # A3 is 420 mm wide
        book = load_workbook(io.BytesIO(self.ask("GET", "/files/quantities.xlsx").content))
        self.assertEqual(book.sheetnames, ["Summary", "Sections", "About"])
        facts = dict(book["About"].iter_rows(values_only=True))
        self.assertEqual((facts["Project"], facts["Issue"]), (self.project.name, "not issued"))

    def test_a_scale_that_does_not_fit_is_a_clear_message(self) -> None:
        self.sign_in("designer")
        style = self.document("drawing_style", "sections_a3")
        sheets = {**style["spec"]["sheets"], "scale": 20}
        self.put("drawing_style", "sections_a3", {**style["spec"], "sheets": sheets}, style["version"])
        job = self.work("sheets")
        self.assertEqual(job["state"], "failed")
        self.assertIn("smaller scale", job["error"]["hint"])

    def test_work_of_an_older_release_is_done_again(self) -> None:
        first = self.work("sheets")
        again = "/jobs/sheets?drawing=sections"
        self.assertEqual(self.ask("POST", again).json()["id"], first["id"])
        with patch("output.work.code_version", return_value="another"):
            self.assertNotEqual(self.ask("POST", again).json()["id"], first["id"])

    def test_what_was_looked_at_before_a_change_gives_way(self) -> None:
        """Only what the same person looked at: files that are being made, and what others look at, go on."""

        def begun(path: str) -> Any:
            return self.ask("POST", f"/jobs/{path}").json()["id"]

        self.sign_in("viewer")
        theirs = begun("register")
        self.sign_in("designer")
        file, sheets = begun("sheets_pdf?drawing=long"), begun("sheets?drawing=sections")
        self.assertEqual(begun("sheets?drawing=sections"), sheets)
        drawing = self.document("drawing", "sections")
        self.put("drawing", "sections", {**drawing["spec"], "name": "Another"}, drawing["version"])
        now = begun("sheets?drawing=sections")
        run.execute(sheets)
        ended = dict(Job.objects.values_list("pk", "state"))
        self.assertEqual(str(ended[UUID(sheets)]), Job.State.CANCELLED)
        asked = {str(pk) for pk in Job.objects.filter(cancel_requested=True).values_list("pk", flat=True)}
        self.assertEqual((asked, {theirs, file, now} & asked), ({sheets}, set()))

    def test_a_sheet_has_every_so_manieth_section_and_those_where_something_is_done(self) -> None:
        self.sign_in("designer")
        drawing = self.document("drawing", "sections")
        every = self.put("drawing", "sections", {**drawing["spec"], "every": 10, "untreated": False}, drawing["version"])
        self.assertEqual(every.status_code, 200)
        summary = self.ask("GET", "/model").json()
        made = self.work("sheets")
        text = "".join(self.file_of(made, i).content.decode() for i in range(len(made["result"]["sheets"])))
        drawn = set(re.findall(r">(\d\+\d{3}\.\d{3})</text>", text))
        self.assertIn("0+000.000", drawn)
        self.assertNotIn("0+010.000", drawn)
        self.assertLess(len(drawn), len(summary["chainage"]) / 8)
        # The demo road is left as it is from 1+500 on.
        self.assertFalse([c for c in drawn if c > "1+500.000"])

    def test_work_asked_for_twice_is_done_once_and_again_when_the_road_changes(self) -> None:
        first = self.work("volume_check")
        self.assertEqual(self.ask("POST", "/jobs/volume_check").json()["id"], first["id"])
        self.sign_in("designer")
        sections = self.document("sections")
        self.put("sections", "main", {**sections["spec"], "interval": 25}, sections["version"])
        again = self.work("volume_check")
        self.assertNotEqual(again["id"], first["id"])
        self.assertLess(abs(again["result"]["check"]["balance"]["open"]), 1e-6)
        self.assertEqual(self.ask("POST", "/jobs/nonsense").status_code, 400)


class Reports(DemoCase):
    def setUp(self) -> None:
        self.sign_in("viewer")

    def test_overlay_report_as_csv_and_workbook(self) -> None:
        text = self.ask("GET", "/files/overlay.csv")
        self.assertIn("Fennick-Vale-Road_overlay_0-1610.csv", text["Content-Disposition"])
        lines = text.content.decode().splitlines()
        self.assertTrue(lines[0].startswith("Chainage m,Hinge offset m"))
        sheet = load_workbook(io.BytesIO(self.ask("GET", "/files/overlay.xlsx").content)).active
        assert sheet is not None
        self.assertEqual(sheet.max_row, len(lines))

    def test_three_volumes_and_two_maps_of_the_overlay(self) -> None:
        found = self.work("volume_check")["result"]["overlay"]
        self.assertAlmostEqual(found["sections"] / found["end_areas"], 1, delta=0.005)
        self.assertAlmostEqual(found["surfaces"] / found["sections"], 1, delta=0.02)
        maps = [self.ask("GET", "/model/depth-map").json(), self.work("depth_surfaces")["result"]]
        self.assertAlmostEqual(maps[0]["area"], maps[1]["area"], 3)
        for m in maps:
            self.assertAlmostEqual(sum(b["area"] for b in m["bands"]) / m["area"], 1, delta=1e-6)

    def test_bands_are_the_projects_own(self) -> None:
        self.sign_in("designer")
        sections = self.document("sections")
        self.put("sections", "main", {**sections["spec"], "depth_bands_mm": [40, 80]}, sections["version"])
        bands = self.ask("GET", "/model/depth-map").json()["bands"]
        self.assertEqual([b["high"] for b in bands], [0.04, 0.08, None])
        self.assertEqual(self.ask("GET", "/model").json()["band_limits"], [0.04, 0.08])
        at = self.ask("GET", "/model").json()["chainage"].index(560.0)
        self.assertEqual({b["band"] for b in self.ask("GET", f"/model/sections/{at}").json()["bands"]}, {1, 2})
        wrong = self.put("sections", "main", {**sections["spec"], "depth_bands_mm": [80, 40]}, sections["version"] + 1)
        self.assertIn("greater than the one before", wrong.json()["message"])

    def test_rungs_along_the_road(self) -> None:
        found = self.ask("GET", "/model").json()
        n = len(found["chainage"])
        self.assertEqual((len(found["left_rung"]), len(found["right_rung"])), (n, n))
        taken = {found["rungs"][i] for i in found["left_rung"] if i >= 0}
        self.assertIn("Toe drain", taken)
        idle = [u for u in found["rung_uses"] if u["template"] == "wide-shoulder" and u["sections"] == 0]
        self.assertIn("Benched cut", {u["rung"] for u in idle})

    def test_a_new_treatment_starts_with_the_roads_own_lines(self) -> None:
        found = [
            self.ask("GET", f"/model/starting-work?from_chainage={a}&to_chainage={b}").json() for a, b in ((20, 400), (500, 1600))
        ]
        self.assertEqual([f["overlay"]["left_edge"]["code"] for f in found], ["LIP", "EP"])
        self.assertEqual([f["overlay"]["hinge"]["code"] for f in found], ["CL", "CL"])
        self.assertEqual(found[0]["kerb_top"]["code"], "KT")
        self.assertIsNone(found[1]["kerb_top"])
