"""Importing a survey: check, confirm, write; bad files; jobs with progress and cancelling."""

from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from typing import Any, ClassVar
from unittest.mock import patch

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import OperationalError
from django.test import TransactionTestCase
from procrastinate.contrib.django import app

from demo.load import load_demo
from jobs import run
from jobs.models import Job
from projects.models import Project
from projects.tests.cases import DemoCase
from survey.bodies import ImportReport
from survey.models import Survey, Upload
from survey.store import load

HEAD = "number,easting,northing,level,code,line,order\n"
SQUARE = "1,0,0,1,GR,,\n2,10,0,1,GR,,\n3,10,10,1,GR,,\n4,0,10,1,GR,,\n"
MAPPING = {"delimiter": ",", "header": True, "number": 0, "east": 1, "north": 2, "level": 3, "code": 4, "line": 5, "order": 6}


class ImportCase(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def upload(self, content: bytes, name: str = "survey.csv") -> Any:
        return self.client.post(self.url("/uploads"), {"file": SimpleUploadedFile(name, content)})

    def run_job(self, kind: str, content: str, **more: Any) -> Job:
        """Upload, start the job, and do what the worker would do."""
        upload = self.upload(content.encode()).json()["id"]
        answer = self.ask("POST", f"/uploads/{upload}/{kind}", {"mapping": MAPPING, "sure": ["far"], **more})
        self.assertEqual(answer.status_code, 200, answer.content)
        run.execute(answer.json()["id"])
        return Job.objects.get(pk=answer.json()["id"])


class Importing(ImportCase):
    def test_first_rows_and_columns_are_guessed(self) -> None:
        found = self.upload((HEAD + SQUARE).encode()).json()
        self.assertEqual(found["columns"], {k: v for k, v in MAPPING.items() if k not in ("delimiter", "header")})
        self.assertEqual(found["rows"][1][:4], ["1", "0", "0", "1"])

    def test_checking_lists_bad_rows_and_writes_nothing(self) -> None:
        surveys = Survey.objects.count()
        job = self.run_job("check", HEAD + SQUARE + "5,x,1,1,EP,,\n1,3,3,1,EP,,\n")
        assert job.result is not None
        self.assertEqual((job.state, job.progress), ("done", 1.0))
        self.assertEqual([s["row"] for s in job.result["skipped"]], [6, 7])
        self.assertIn("not a number", job.result["skipped"][0]["reason"])
        self.assertIn("is called 1-2", job.result["skipped"][1]["reason"])
        self.assertEqual((job.result["points"], job.result["triangles"]), (5, 4))
        self.assertIn("numbers twice", [d["kind"] for d in job.result["placing"]["doubts"]])
        self.assertEqual(Survey.objects.count(), surveys)

    def test_importing_replaces_the_survey_and_keeps_the_file(self) -> None:
        self.assertEqual(self.run_job("import", HEAD + SQUARE).state, "done")
        row = Survey.objects.latest("id")
        self.assertEqual(bytes(row.original).decode(), HEAD + SQUARE)
        self.assertEqual(self.ask("GET", "/survey").json()["points"], 4)
        self.assertEqual(Upload.objects.count(), 0)

    def test_an_import_of_an_earlier_release_is_told_as_it_was_kept(self) -> None:
        """What reports say since is not in those that were written before."""
        row = Survey.objects.get(pk=self.ask("GET", "/surveys").json()[0]["id"])
        row.report["alignments"] = [{"name": "Old road", "length": 100.0, "elements": 1, "profile": True}]
        for since in ("none", "steep"):
            row.report.pop(since, None)
        row.save()
        told = self.ask("GET", "/survey")
        self.assertEqual(told.status_code, 200, told.content)
        self.assertEqual(told.json()["alignments"][0]["profiles"], [])

    def test_rules_of_codes_hold(self) -> None:
        text = HEAD + SQUARE + "5,5,5,9,TREE,,\n"
        rule = {"code": "TREE", "in_surface": False, "breakline": False}
        job = self.run_job("check", text, rules=[rule])
        assert job.result is not None
        self.assertEqual(job.result["triangles"], 2)
        job = self.run_job("check", text)
        assert job.result is not None
        self.assertEqual(job.result["triangles"], 4)

    def test_files_from_which_nothing_can_be_made(self) -> None:
        surveys, line = Survey.objects.count(), "".join(f"{i},{i},{i},1,GR,,\n" for i in range(9))
        for content, word in (
            (HEAD + line, "one line"),
            (HEAD + "1,a,b,c,GR,,\n", "no row holds a survey point"),
            (HEAD + "1,0,0,0,GR,,\n2,1,0,0,GR,,\n", "only 2 points"),
        ):
            job = self.run_job("import", content)
            self.assertEqual(job.state, "failed")
            self.assertIn(word, job.error["message"])
        self.assertEqual(Survey.objects.count(), surveys)
        for content in (b"", b"\n\n", b"\x00\x00\x00\x00"):
            answer = self.upload(content)
            self.assertEqual(answer.status_code, 400)
            self.assertTrue(answer.json()["message"])

    def test_wrong_columns(self) -> None:
        upload = self.upload((HEAD + SQUARE).encode()).json()["id"]
        for mapping in ({}, {**MAPPING, "level": -1}, {**MAPPING, "level": "z"}):
            self.assertEqual(self.ask("POST", f"/uploads/{upload}/check", {"mapping": mapping}).status_code, 400)
        answer = self.ask("POST", f"/uploads/{upload}/check", {"mapping": {**MAPPING, "level": 150}})
        run.execute(answer.json()["id"])
        self.assertIn("level is missing", Job.objects.get(pk=answer.json()["id"]).error["message"])

    def test_crossing_breaklines_are_reported(self) -> None:
        job = self.run_job("check", HEAD + SQUARE + "5,1,5,2,A,A1,1\n6,9,5,2,A,A1,2\n7,5,1,3,B,B1,1\n8,5,9,3,B,B1,2\n")
        assert job.result is not None
        self.assertIn("crosses", job.result["crossings"][0])

    def test_two_hundred_megabytes_are_refused_before_they_are_read(self) -> None:
        answer = self.client.generic("POST", self.url("/uploads"), b"x", CONTENT_LENGTH=str(200 * 1024 * 1024))
        self.assertEqual(answer.status_code, 413)
        self.assertIn("200 MB", answer.json()["message"])

    def test_plan_data_in_a_box(self) -> None:
        box = "?west=412290&south=286530&east=412400&north=286620"
        points = self.ask("GET", f"/survey/points{box}").json()
        self.assertGreater(len(points["east"]), 100)
        self.assertTrue(all(412290 <= e <= 412400 for e in points["east"]))
        self.assertEqual(points["more"], 0)
        self.assertGreater(len(self.ask("GET", f"/survey/edges{box}").json()["edges"]), 300)
        drawn = self.ask("GET", f"/survey/contours{box}").json()
        self.assertFalse(drawn["more"])
        self.assertTrue(
            all(abs(c["level"] / drawn["interval"] - round(c["level"] / drawn["interval"])) < 1e-6 for c in drawn["lines"])
        )
        self.assertGreater(len(drawn["lines"]), 5)
        with patch("survey.in_view.MOST_CONTOURED", 50):
            self.assertTrue(self.ask("GET", f"/survey/contours{box}").json()["more"])
        lines = self.ask("GET", "/survey/lines").json()
        self.assertIn("CL", {line["code"] for line in lines})
        with patch("survey.in_view.MOST_DRAWN", 50):
            points = self.ask("GET", f"/survey/points{box}").json()
        self.assertLessEqual(len(points["east"]), 50)
        self.assertGreater(points["more"], 50)

    def test_a_point_is_found_by_how_its_number_begins(self) -> None:
        found = self.ask("GET", "/survey/find?number=123").json()
        self.assertGreater(len(found), 1)
        self.assertTrue(all(p["number"].startswith("123") for p in found))
        self.assertEqual(self.ask("GET", "/survey/find?number=%20").json(), [])


class Jobs(ImportCase):
    def test_cancelled_while_running_nothing_is_written(self) -> None:
        surveys = Survey.objects.count()
        upload = self.upload((HEAD + SQUARE).encode()).json()["id"]
        job = self.ask("POST", f"/uploads/{upload}/import", {"mapping": MAPPING}).json()["id"]
        reported = []

        def cancel_at_half(row: Job, report: run.Report) -> dict[str, Any]:
            report(0.5)
            reported.append(Job.objects.get(pk=job).progress)
            self.assertEqual(self.ask("POST", f"/api/jobs/{job}/cancel").status_code, 200)
            report(0.6)
            raise AssertionError("went on after it was cancelled")

        with patch.dict(run.KINDS, {"import_survey": replace(run.KINDS["import_survey"], handler=cancel_at_half)}):
            run.execute(job)
        self.assertEqual(reported, [0.5])
        self.assertEqual(self.ask("GET", f"/api/jobs/{job}").json()["state"], "cancelled")
        self.assertEqual(Survey.objects.count(), surveys)

    def test_what_the_worker_loses_after_writing_is_not_written_twice(self) -> None:
        """The import is one transaction with its own end: once a survey was there whose import had failed."""
        upload = self.upload((HEAD + SQUARE).encode()).json()["id"]
        job = Job.objects.get(
            pk=self.ask("POST", f"/uploads/{upload}/import", {"mapping": MAPPING, "sure": ["far"]}).json()["id"]
        )
        before = Survey.objects.count()
        with patch("jobs.run._finish", side_effect=OperationalError), self.assertRaises(OperationalError):
            run.execute(str(job.pk))
        run.execute(str(job.pk))
        job.refresh_from_db()
        self.assertEqual((job.state, Survey.objects.count()), (Job.State.DONE, before + 1))

    def test_cancelled_while_waiting_it_never_starts(self) -> None:
        upload = self.upload((HEAD + SQUARE).encode()).json()["id"]
        job = self.ask("POST", f"/uploads/{upload}/import", {"mapping": MAPPING}).json()["id"]
        self.ask("POST", f"/api/jobs/{job}/cancel")
        run.execute(job)
        self.assertEqual(Job.objects.get(pk=job).state, "cancelled")

    def test_an_internal_error_is_told_without_its_insides(self) -> None:
        upload = self.upload((HEAD + SQUARE).encode()).json()["id"]
        job = self.ask("POST", f"/uploads/{upload}/check", {"mapping": MAPPING}).json()["id"]
        with (
            patch("survey.importing.collect", side_effect=KeyError("secret")),
            self.assertLogs("tin_saddle.jobs"),
            self.assertRaises(KeyError),
        ):
            run.execute(job)
        told = self.ask("GET", f"/api/jobs/{job}").json()
        self.assertEqual(told["state"], "failed")
        self.assertNotIn("secret", str(told))

    def test_a_kind_has_one_handler(self) -> None:
        with self.assertRaises(ValueError):
            run.handles("import_survey", ImportReport, minutes=1)(lambda job, report: ImportReport.model_construct())


class TheQueue(TransactionTestCase):
    """The real queue in PostgreSQL, emptied by a real worker."""

    def test_a_worker_does_the_job(self) -> None:
        project = load_demo()
        user = project.members.get(username="designer")
        upload = Upload.objects.create(project=project, user=user, name="s.csv", content=(HEAD + SQUARE).encode())
        params = {"upload": upload.pk, "mapping": MAPPING, "rules": [], "longest_edge": None}
        job = run.start(Project.objects.get(pk=project.pk), user, "check_survey", params)
        self.assertEqual(job.state, Job.State.WAITING)
        worker = app.with_connector(app.connector.get_worker_connector())
        # In a thread of its own: the browser of journeys may hold the loop of this one.
        with ThreadPoolExecutor(1) as apart:
            apart.submit(worker.run_worker, wait=False, install_signal_handlers=False, listen_notify=False).result()
        job.refresh_from_db()
        self.assertEqual((job.state, job.progress), (Job.State.DONE, 1.0))


class CodesOfTheField(DemoCase):
    """Lines made from codes: looked at, changed, imported."""

    FILE = (
        "1,0,0,5,EP1 B\n2,10,0,5,EP1\n3,5,8,6,GR\n4,20,1,5,EP1 E\n5,0,9,5,EP2 B\n6,12,9,5,EP2 DR4\n7,12,15,5,DR4\n8,300,9,5,EP2\n"
    )
    COLUMNS: ClassVar = {"number": 0, "east": 1, "north": 2, "level": 3, "code": 4, "header": False}

    def setUp(self) -> None:
        self.sign_in("designer")
        file = SimpleUploadedFile("field.txt", self.FILE.encode())
        self.upload = self.client.post(self.url("/uploads"), {"file": file}).json()["id"]

    def apart(self, **more: object) -> Any:
        return self.ask("POST", f"/uploads/{self.upload}/codes", {**self.COLUMNS, **more})

    def test_they_are_shown_taken_apart_and_as_lines(self) -> None:
        found = self.apart().json()
        self.assertEqual([p["kind"] for p in found["rows"][0]["pieces"]], ["code", "line", "between", "control"])
        self.assertEqual([r["lines"] for r in found["rows"]][5], ["EP 2", "DR 4"])
        lines = {(line["code"], line["name"]): [p[0] for p in line["points"]] for line in found["lines"]}
        self.assertEqual(lines, {("EP", "1"): [0, 10, 20], ("EP", "2"): [0, 12], ("DR", "4"): [12, 12]})
        self.assertEqual([t["row"] for t in found["told"]], [8])
        self.assertIn("288.0 m apart", found["told"][0]["reason"])
        self.assertEqual(found["grammar"]["points"], ["GR"])
        other = self.apart(grammar={**found["grammar"], "figures": False}).json()
        self.assertEqual({line["code"] for line in other["lines"]}, {"EP1", "EP2", "DR4"})

    def test_what_cannot_be_taken_apart_says_so(self) -> None:
        self.assertIn("no column is said to hold the codes", self.apart(code=None).json()["message"])
        twice = {"controls": [{"word": "B", "means": "begin"}, {"word": "b", "means": "end"}]}
        refused = self.apart(grammar=twice)
        self.assertEqual(refused.status_code, 400)
        self.assertIn("is there twice", refused.json()["message"])
        empty = self.apart(code=1, grammar={"between": "01235"})
        self.assertEqual(empty.status_code, 400)
        self.assertIn("no code is left", empty.json()["message"])

    def test_an_import_makes_the_lines(self) -> None:
        grammar = self.apart().json()["grammar"]
        started = self.ask(
            "POST",
            f"/uploads/{self.upload}/import",
            {"mapping": {**self.COLUMNS, "grammar": grammar}, "sure": ["far", "northing first"]},
        )
        run.execute(started.json()["id"])
        job = Job.objects.get(pk=started.json()["id"])
        self.assertEqual(job.state, "done", job.error)
        assert job.result is not None
        self.assertIn("288.0 m apart", job.result["skipped"][0]["reason"])
        survey = load(job.result["survey"]).survey
        self.assertEqual({c: len(lines.start) for c, lines in survey.lines_by_code().items()}, {"DR": 1, "EP": 3})
        self.assertEqual(len(survey.number), 9, "the point of two lines stands for each")
