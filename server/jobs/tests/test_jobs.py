"""Jobs: who may look and stop, what a failure tells, work of a killed worker taken up again."""

from typing import Any
from unittest.mock import patch

from pydantic import BaseModel

from jobs import run
from jobs.models import Job
from projects.tests.cases import DemoCase
from saddle.errors import SaddleError


class Answer(BaseModel):
    answer: int


class Following(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def job(self, **fields: Any) -> Job:
        return Job.objects.create(project=self.project, kind="check_survey", params={}, **fields)

    def handled(self, job: Job, handler: Any) -> Job:
        with patch.dict(run._handlers, {"check_survey": handler}):
            run.execute(str(job.pk))
        job.refresh_from_db()
        return job

    def test_progress_is_kept_within_its_ends(self) -> None:
        seen = []

        def handler(job: Job, report: run.Report) -> Answer:
            for share in (-1.0, 0.4, 7.0):
                report(share)
                seen.append(Job.objects.get(pk=job.pk).progress)
            return Answer(answer=42)

        job = self.handled(self.job(), handler)
        self.assertEqual(seen, [0.0, 0.4, 1.0])
        self.assertEqual((job.state, job.result), ("done", {"answer": 42}))

    def test_a_failure_says_what_where_and_what_to_do(self) -> None:
        def handler(job: Job, report: run.Report) -> Answer:
            raise SaddleError("the sky fell", "sky", "hold it up")

        job = self.handled(self.job(), handler)
        answer = self.ask("GET", f"/api/jobs/{job.pk}").json()
        self.assertEqual(answer["state"], "failed")
        self.assertEqual(
            {k: answer["error"][k] for k in ("message", "subject", "hint")},
            {"message": "the sky fell", "subject": "sky", "hint": "hold it up"},
        )

    def test_work_of_a_killed_worker_is_done_again(self) -> None:
        job = self.handled(self.job(state=Job.State.RUNNING, progress=0.7), lambda j, r: Answer(answer=1))
        self.assertEqual((job.state, job.result), ("done", {"answer": 1}))

    def test_what_has_ended_is_not_done_twice(self) -> None:
        for state in (Job.State.DONE, Job.State.FAILED, Job.State.CANCELLED):
            job = self.handled(self.job(state=state), lambda j, r: Answer(answer=1))
            self.assertEqual((job.state, job.result), (state, None))

    def test_stopping_before_and_during(self) -> None:
        waiting = self.job()
        self.assertEqual(self.ask("POST", f"/api/jobs/{waiting.pk}/cancel").json()["state"], "cancelled")
        running = self.job(state=Job.State.RUNNING)
        self.assertEqual(self.ask("POST", f"/api/jobs/{running.pk}/cancel").json()["state"], "running")

        def handler(job: Job, report: run.Report) -> Answer:
            report(0.5)
            raise AssertionError("it should have stopped")

        self.assertEqual(self.handled(running, handler).state, "cancelled")

    def test_a_stranger_sees_no_job(self) -> None:
        job = self.job()
        self.sign_in("stranger")
        self.assertEqual(self.ask("GET", f"/api/jobs/{job.pk}").status_code, 404)
        self.assertEqual(self.ask("POST", f"/api/jobs/{job.pk}/cancel").status_code, 404)
