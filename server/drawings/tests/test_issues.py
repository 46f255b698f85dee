"""Issues: frozen for ever, compared with what came after, handed out as one package."""

import hashlib
import io
import json
import zipfile
from importlib import import_module
from typing import Any
from unittest.mock import patch

from django.apps import apps
from django.db.models import RestrictedError
from django.test import TestCase
from pypdf import PdfReader

from design.models import Document
from drawings import issuing
from drawings.issuing import LETTERS, next_revision
from drawings.models import Issue, IssuedFile
from jobs.models import Job
from jobs.run import execute
from projects.models import Project
from projects.tests.cases import DemoCase
from saddle.documents import KINDS
from survey.models import Survey

WANTED = {"drawings": ["long", "quantities"], "status": "approval", "reason": "For comment", "accepted": "they are known"}


class IssueCase(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def issue(self, **of: Any) -> dict[str, Any]:
        return self.done(self.ask("POST", "/issues", {**WANTED, **of}))

    def cover(self, mm: float) -> None:
        """The least cover of the first treatment becomes another."""
        found = self.document("treatments")
        found["spec"]["ranges"][0]["work"]["least_cover_mm"] = mm
        self.assertEqual(self.put("treatments", "main", found["spec"], found["version"]).status_code, 200)

    def files(self, issue: int) -> dict[str, str]:
        """By path what the hash of each file's content is now."""
        rows = IssuedFile.objects.filter(issue=issue)
        return {row.path: hashlib.sha256(bytes(row.content)).hexdigest() for row in rows}


class Issues(IssueCase):
    def test_what_was_issued_survives_every_later_edit(self) -> None:
        made = self.issue()
        self.assertEqual((made["state"], made["result"]["revision"]), ("done", "A"))
        pk = made["result"]["id"]
        before = self.files(pk)
        self.assertEqual(before, {f.path: f.sha256 for f in IssuedFile.objects.filter(issue=pk)})
        self.assertLessEqual(
            {"drawings/LS rev A.pdf", "drawings/LS rev A.dxf", "drawings/QS rev A.pdf", "quantities.xlsx", "figures.json"},
            set(before),
        )
        self.cover(90)
        long = self.document("drawing", "long")
        self.assertEqual(self.ask("DELETE", f"/documents/drawing/long?version={long['version']}").status_code, 200)
        alignment = self.document("alignment")
        self.put("alignment", "main", {**alignment["spec"], "start_chainage": 100}, alignment["version"])
        self.assertEqual(self.files(pk), before)
        for path, sha in before.items():
            number = IssuedFile.objects.get(issue=pk, path=path).number
            answer = self.ask("GET", f"/issues/{pk}/files/{number}")
            self.assertEqual(hashlib.sha256(answer.content).hexdigest(), sha, path)
        with self.assertRaises(RestrictedError):
            Survey.objects.filter(project=self.project).delete()

    def test_the_road_is_looked_at_as_it_was_issued_and_nothing_in_it_changes(self) -> None:
        level = self.ask("GET", "/model").json()["hinge_level"][5]
        frozen = self.issue()["result"]["frozen"]
        self.cover(90)
        base = f"/api/projects/{frozen}"
        self.assertEqual(self.ask("GET", f"{base}/model").json()["hinge_level"][5], level)
        self.assertNotEqual(self.ask("GET", "/model").json()["hinge_level"][5], level)
        told = self.ask("GET", base).json()
        self.assertEqual(
            (told["role"], told["as_issued"]["revision"], told["as_issued"]["project"]), ("viewer", "A", self.project.pk)
        )
        for person in ("owner", "designer"):
            self.sign_in(person)
            body = {"kind": "material", "spec": {"name": "Sand", "density": 1.7, "colour": "#EEDDAA"}, "version": 0}
            refused = self.ask("PUT", f"{base}/documents/material/sand", body)
            self.assertEqual((refused.status_code, "issued" in refused.json()["message"]), (403, True))
            self.assertEqual(self.ask("POST", f"{base}/issues", WANTED).status_code, 403)
        self.assertNotIn(frozen, [p["id"] for p in self.ask("GET", "/api/projects").json()])
        self.sign_in("stranger")
        self.assertEqual(self.ask("GET", base).status_code, 404)
        # Its sheets say what it was issued as, and the survey's points are there.
        self.sign_in("viewer")
        sheets = self.done(self.ask("POST", f"{base}/jobs/sheets?drawing=long"))
        svg = self.file_of(sheets).content.decode()
        self.assertIn(">for approval<", svg)
        self.assertEqual(self.ask("GET", f"{base}/survey").status_code, 200)

    def test_open_problems_are_accepted_with_a_reason(self) -> None:
        answer = self.ask("POST", "/issues", {**WANTED, "accepted": " "})
        self.assertEqual(answer.status_code, 400)
        self.assertRegex(answer.json()["message"], r"^\d+ problems are open$")
        pk = self.issue()["result"]["id"]
        accepted = self.ask("GET", f"/issues/{pk}").json()["accepted"]
        self.assertEqual((accepted["reason"], len(accepted["problems"]) > 3), ("they are known", True))

    def test_letters_follow_and_none_is_used_twice(self) -> None:
        self.assertEqual([self.issue(drawings=["long"])["result"]["revision"] for _ in range(2)], ["A", "B"])
        self.assertEqual(self.issue(drawings=["long"], revision="P1")["result"]["revision"], "P1")
        answer = self.ask("POST", "/issues", {**WANTED, "revision": "P1"})
        self.assertEqual((answer.status_code, "P1" in answer.json()["message"]), (409, True))
        self.assertNotIn("I", LETTERS)
        self.assertNotIn("O", LETTERS)
        with patch.object(issuing, "LETTERS", "AB"):
            self.assertEqual(next_revision(self.project), "AA")

    def test_files_are_called_as_the_project_has_it(self) -> None:
        block = self.document("title_block")
        named = self.put("title_block", "main", {**block["spec"], "files": "{project}/{number}_{revision}"}, block["version"])
        self.assertEqual(named.status_code, 200)
        paths = set(self.files(self.issue(drawings=["long"])["result"]["id"]))
        self.assertIn("drawings/Fennick Vale Road-LS_A.pdf", paths)

    def test_what_cannot_be_asked_for_is_said_at_once(self) -> None:
        self.assertEqual(self.ask("POST", "/issues", {**WANTED, "reason": "   "}).status_code, 400)
        self.assertEqual(self.ask("POST", "/issues", {**WANTED, "status": "final"}).status_code, 400)
        self.assertEqual(self.ask("POST", "/issues", {**WANTED, "revision": "A/B"}).status_code, 400)
        made = self.issue(drawings=["long", "long"])
        self.assertEqual(made["state"], "done")
        self.assertEqual([d["key"] for d in self.ask("GET", f"/issues/{made['result']['id']}").json()["holds"]], ["long"])

    def test_names_of_files_are_never_too_long_nor_out_of_their_folder(self) -> None:
        block = self.document("title_block")
        spec = {**block["spec"], "project": "../" + "Ü" * 110, "files": "{project}" * 13}
        self.assertEqual(self.put("title_block", "main", spec, block["version"]).status_code, 200)
        paths = self.files(self.issue(drawings=["long"])["result"]["id"])
        (pdf,) = [p for p in paths if p.endswith(".pdf")]
        self.assertRegex(pdf, r"^drawings/[A-Za-z0-9._()+ -]{1,120}\.pdf$")

    def test_only_what_was_part_of_an_issue_says_so_when_it_is_looked_at(self) -> None:
        frozen = self.issue(drawings=["long"])["result"]["frozen"]
        said = {
            key: self.file_of(self.done(self.ask("POST", f"/api/projects/{frozen}/jobs/sheets?drawing={key}"))).content.decode()
            for key in ("long", "typical")
        }
        self.assertIn(">for approval<", said["long"])
        self.assertIn(">not issued<", said["typical"])
        self.assertNotIn(">for approval<", said["typical"])

    def test_another_pattern_of_numbers_changes_no_sheet(self) -> None:
        pk = self.issue(drawings=["long"])["result"]["id"]
        block = self.document("title_block")
        self.put("title_block", "main", {**block["spec"], "numbering": "{number}"}, block["version"])
        register = {d["key"]: d for d in self.work("register")["result"]["drawings"]}
        self.assertEqual((register["long"]["changed"], register["long"]["gone"]), ([], 0))
        found = self.done(self.ask("POST", f"/issues/{pk}/compare", {"after": 0}))["result"]
        self.assertEqual(found["sheets"], [])
        self.assertEqual(found["same_sheets"], len(register["long"]["sheets"]))

    def test_two_who_issue_at_once_get_two_letters(self) -> None:
        """The other one ends while the sheets of the first are drawn."""
        first, second = (self.ask("POST", "/issues", {**WANTED, "drawings": ["long"]}).json()["id"] for _ in range(2))
        draw, others = issuing.sheets_of, [second]

        def slow(*args: Any) -> Any:
            if others:
                execute(others.pop())
            return draw(*args)

        with patch.object(issuing, "sheets_of", slow):
            execute(first)
        found = [Job.objects.get(pk=pk).result for pk in (first, second)]
        self.assertEqual([r["revision"] for r in found if r], ["B", "A"])
        sheet = IssuedFile.objects.get(issue=found[0]["id"], path="sheets/long-001.svg")  # type: ignore[index]
        self.assertIn(">B</text>", bytes(sheet.content).decode())

    def test_ended_in_the_middle_nothing_is_issued(self) -> None:
        projects, documents = Project.objects.count(), Document.objects.count()
        with patch.object(IssuedFile, "save", side_effect=OSError("disk is full")), self.assertRaises(OSError):
            execute(self.ask("POST", "/issues", WANTED).json()["id"])
        self.assertEqual((Issue.objects.count(), IssuedFile.objects.count()), (0, 0))
        self.assertEqual((Project.objects.count(), Document.objects.count()), (projects, documents))
        self.assertEqual(self.issue()["result"]["revision"], "A")

    def test_what_cannot_be_drawn_is_named(self) -> None:
        style = self.document("drawing_style", "sections_a3")
        sheets = {**style["spec"]["sheets"], "scale": 20}
        self.put("drawing_style", "sections_a3", {**style["spec"], "sheets": sheets}, style["version"])
        job = self.issue(drawings=["long", "sections"])
        self.assertEqual(job["state"], "failed")
        self.assertTrue(job["error"]["message"].startswith("XS: the section at 0+000.000 needs"))
        self.assertEqual(self.ask("POST", "/issues", {**WANTED, "drawings": ["nothing"]}).status_code, 404)
        register = self.work("register")["result"]["drawings"]
        self.assertEqual([d["key"] for d in register if d["fault"]], ["sections"])


class Comparing(IssueCase):
    def compared(self, before: int, after: int = 0) -> dict[str, Any]:
        job = self.done(self.ask("POST", f"/issues/{before}/compare", {"after": after}))
        self.assertEqual(job["state"], "done", job)
        return {**job["result"], "job": job}

    def test_nothing_changed(self) -> None:
        pk = self.issue()["result"]["id"]
        found = self.compared(pk)
        self.assertEqual([found[k] for k in ("documents", "items", "sections", "sheets")], [[], [], [], []])
        self.assertGreater(found["same_sheets"], 3)
        register = self.work("register")["result"]["drawings"]
        self.assertEqual(
            {d["key"]: (d["revision"], d["changed"]) for d in register if d["revision"]},
            {"long": ("A", []), "quantities": ("A", [])},
        )

    def test_exactly_what_a_change_did(self) -> None:
        """Least cover up by 30 mm from 0+000 to 0+420: every section there rises by just that, no other moves."""
        first = self.issue()["result"]["id"]
        before = self.ask("GET", "/model/quantities").json()["total"]["rows"]
        self.cover(80)
        second = self.issue(reason="Thicker")["result"]["id"]
        found = self.compared(first, second)
        self.assertEqual([d["what"] for d in found["documents"]], ["Treatments, 0+000 to 0+420: least cover 50 to 80 mm"])
        self.assertEqual({d["who"] for d in found["documents"]}, {"Dana Noll"})
        moved = found["sections"]
        self.assertTrue(all(s["chainage"] <= 420.0 for s in moved))
        self.assertEqual(len({(s["chainage"], s["side"]) for s in moved}), len(moved))
        self.assertGreaterEqual(len(moved), 42)
        within = [s for s in moved if 20 < s["chainage"] < 400]
        self.assertTrue(all(abs(s["difference"] - 0.03) < 0.006 for s in within), within)
        after = {(r["kind"], r["name"], r["key"]): r for r in self.ask("GET", "/model/quantities").json()["total"]["rows"]}
        changed = {
            (r["name"], r["material"]) for r in before
            if abs((r["volume"] or 0) - (after[r["kind"], r["name"], r["key"]]["volume"] or 0)) >= 0.05
        }  # fmt: skip
        self.assertEqual({(r["name"], r["material"]) for r in found["items"] if r["unit"] == "m3"}, changed)
        self.assertIn("LS-01", [s["number"] for s in found["sheets"]])
        self.assertNotIn("LS-05", [s["number"] for s in found["sheets"]])

    def test_drawings_of_one_issue_only_are_told_apart_from_sheets_that_are_gone(self) -> None:
        first = self.issue(drawings=["long", "quantities"])["result"]["id"]
        second = self.issue(drawings=["quantities", "typical"])["result"]["id"]
        found = self.compared(first, second)
        self.assertEqual(found["sheets"], [])
        self.assertEqual(found["apart"], ["LS is in A only", "TS is in B only"])
        style = self.document("drawing_style", "long_a3")
        sheets = {
            **style["spec"]["sheets"],
            "vertical_scale": 20,
            "rows": [{"kind": kind} for kind in ("chainage", "existing", "design", "left_edge", "right_edge")],
        }
        tall = {**style["spec"], "paper": "A4", "text_height": 3.5, "sheets": sheets}
        self.assertEqual(self.put("drawing_style", "long_a3", tall, style["version"]).status_code, 200)
        now = self.compared(first)
        self.assertTrue(
            any(t.startswith("LS cannot be drawn now: the rows of figures leave") for t in now["apart"]), now["apart"]
        )
        self.assertFalse([s for s in now["sheets"] if s["drawing"] == "long"])

    def test_with_the_road_as_it_is(self) -> None:
        pk = self.issue()["result"]["id"]
        self.cover(80)
        found = self.compared(pk)
        self.assertEqual(found["after"], "now")
        sheet = next(s for s in found["sheets"] if s["number"] == "LS-01")
        self.assertEqual(sheet["what"], "changed")
        now = self.file_of(found["job"], sheet["after"]).content.decode()
        then = self.ask("GET", f"/issues/{pk}/files/{sheet['before']}").content.decode()
        self.assertNotEqual(now, then)
        self.assertIn(">not issued<", now)
        register = {d["key"]: d for d in self.work("register")["result"]["drawings"]}
        self.assertIn("LS-01", register["long"]["changed"])
        self.assertEqual(register["long"]["revision"], "A")


class Packages(IssueCase):
    def test_a_package_holds_all_and_says_so(self) -> None:
        pk = self.issue()["result"]["id"]
        job = self.done(self.ask("POST", f"/issues/{pk}/package"))
        self.assertEqual(job["result"]["name"], "Fennick-Vale-Road_issue_A.zip")
        with zipfile.ZipFile(io.BytesIO(self.file_of(job).content)) as package:
            self.assertIsNone(package.testzip())
            sums = dict(reversed(line.split("  ")) for line in package.read("sha256.txt").decode().splitlines())  # type: ignore[arg-type]
            self.assertEqual(sums, {path: hashlib.sha256(package.read(path)).hexdigest() for path in sums})
            self.assertEqual(sums, self.files(pk))
            words = "".join(p.extract_text() for p in PdfReader(io.BytesIO(package.read("transmittal.pdf"))).pages)
            for text in ("LS-01", "QS-01", "for approval", "problems were open", "they are known"):
                self.assertIn(text, words)
            self.assertIn("LS-01,Long section 0+000.000 to", package.read("register.csv").decode())
            json.loads(package.read("figures.json"))


class OldStyles(TestCase):
    def test_the_one_style_of_sheets_becomes_a_drawing(self) -> None:
        project = Project.objects.create(name="Old")
        was = {
            "title": "Sections {x}", "drawing_number": "C-7", "author": "M. Orme", "paper": "A1", "scale": 200, "vertical_scale": 100,
            "text_height": 2.5, "rows": ["offset"], "beyond": 2.0, "point_labels": False, "areas": True, "legend": False, "every": 3,
            "left": False,
        }  # fmt: skip
        Document.objects.create(project=project, kind="sheet_style", key="main", spec=was)
        import_module("design.migrations.0006_drawings").make_drawings(apps, None)
        import_module("design.migrations.0007_rows_of_figures").make_rows(apps, None)
        found = {(d.kind, d.key): d.spec for d in Document.objects.filter(project=project)}
        self.assertNotIn(("sheet_style", "main"), found)
        for (kind, _), spec in found.items():
            KINDS[kind].model.model_validate(spec)
        style, drawing = found["drawing_style", "sections_a3"], found["drawing", "sections"]
        self.assertEqual((style["paper"], style["sheets"]["scale"], style["legend"]), ("A1", 200, False))
        self.assertEqual((style["sheets"]["rows"], style["sheets"]["points"]), ([{"kind": "offset"}], "figures"))
        self.assertEqual((drawing["number"], drawing["every"], drawing["untreated"]), ("C-7", 3, False))
        self.assertEqual(found["title_block", "main"], {"drawn": "M. Orme"})
