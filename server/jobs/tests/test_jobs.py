"""Jobs: who may look and stop, what a failure tells, work of a killed worker taken up again."""

from dataclasses import replace
from datetime import timedelta
from typing import Any
from unittest.mock import patch

from django.contrib.auth.models import User
from django.db import OperationalError, connection
from django.utils import timezone
from procrastinate.contrib.django.models import ProcrastinateJob
from pydantic import BaseModel

from config.errors import Refused
from jobs import run
from jobs.models import Job
from jobs.run import start
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
        with patch.dict(run.KINDS, {"check_survey": replace(run.KINDS["check_survey"], handler=handler)}):
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

    def test_what_ends_its_worker_twice_is_given_up(self) -> None:
        """A worker that is killed leaves its job running; it is begun again once, not for ever."""
        job = self.job(state=Job.State.RUNNING, attempts=2)
        run.execute(str(job.pk))
        job.refresh_from_db()
        assert job.error is not None
        self.assertEqual((job.state, job.error["subject"]), ("failed", "job"))
        self.assertIn("given up", job.error["message"])

    def test_a_result_with_a_character_that_cannot_be_kept(self) -> None:
        """The last update once failed, and the job ran for ever."""

        def handler(job: Job, report: run.Report) -> Answer:
            return Answer.model_construct(value="a\0b")  # type: ignore[arg-type]

        self.assertEqual(self.handled(self.job(), handler).state, "done")

    def test_work_of_a_kind_that_is_no_more_ends_with_words(self) -> None:
        job = Job.objects.create(project=self.project, kind="echo", params={})
        run.execute(str(job.pk))
        job.refresh_from_db()
        assert job.error is not None
        self.assertIn("no work of kind echo", job.error["message"])

    def test_lost_jobs_are_ended_and_stop_always_ends(self) -> None:
        lost, stopped, fresh = (
            self.job(state=Job.State.RUNNING, attempts=run.MOST_ATTEMPTS),
            self.job(state=Job.State.RUNNING, cancel_requested=True),
            self.job(),
        )
        queued = run.start(self.project, None, "echo", {})
        long_ago = timezone.now() - timedelta(minutes=5)
        Job.objects.filter(pk__in=(lost.pk, stopped.pk, queued.pk)).update(created_at=long_ago)
        self.assertEqual(run.sweep(), 2)
        states = [Job.objects.get(pk=j.pk).state for j in (lost, stopped, fresh, queued)]
        self.assertEqual(states, ["failed", "cancelled", "waiting", "waiting"])
        running = self.job(state=Job.State.RUNNING)
        told = self.ask("POST", f"/api/jobs/{running.pk}/cancel").json()
        self.assertEqual((told["state"], told["no_worker"]), ("cancelled", False))

    def test_what_lost_its_worker_or_the_database_is_begun_again(self) -> None:
        """3 of 7 jobs that were under way when the database went away were once told as lost."""

        def handler(job: Job, report: run.Report) -> Answer:
            raise OperationalError("the database is away")

        with self.assertRaises(OperationalError), self.assertLogs("tin_saddle.jobs", "ERROR"):
            self.handled(job := self.job(), handler)
        Job.objects.filter(pk=job.pk).update(created_at=timezone.now() - timedelta(minutes=5))
        self.assertEqual(run.sweep(), 0)
        job.refresh_from_db()
        self.assertEqual((job.state, run.in_queue(job)), ("waiting", True))
        self.assertEqual(self.handled(job, lambda j, r: Answer(answer=3)).result, {"answer": 3})

    def test_work_that_takes_too_long_is_ended_with_words(self) -> None:
        def handler(job: Job, report: run.Report) -> Answer:
            report(0.5)
            raise AssertionError("it should have ended")

        with patch.dict(run.KINDS, {"check_survey": replace(run.KINDS["check_survey"], limit=-1.0)}):
            job = self.handled(self.job(), handler)
        assert job.error is not None
        self.assertIn("takes longer than", job.error["message"])

    def test_checks_have_a_queue_of_their_own_and_standing_work_is_told(self) -> None:
        kinds = {kind: start(self.project, None, kind, {}) for kind in ("check_survey", "import_survey")}
        queues = {kind: ProcrastinateJob.objects.get(args__job_id=str(job.pk)).queue_name for kind, job in kinds.items()}
        self.assertEqual(queues, {"check_survey": "quick", "import_survey": "default"})
        long_ago = timezone.now() - timedelta(hours=1)
        Job.objects.filter(pk=kinds["import_survey"].pk).update(state=Job.State.RUNNING, moved_at=long_ago)
        Job.objects.filter(pk=kinds["check_survey"].pk).update(created_at=long_ago)
        told = self.client.get("/api/health/ready").json()
        self.assertIn("import_survey", told["work"])
        self.assertIn("has waited", told["queue"])

    def test_that_no_worker_is_there_is_told(self) -> None:
        job = self.job()
        self.assertTrue(self.ask("GET", f"/api/jobs/{job.pk}").json()["no_worker"])
        with connection.cursor() as cursor:
            cursor.execute("INSERT INTO procrastinate_workers (last_heartbeat) VALUES (now())")
        self.assertFalse(self.ask("GET", f"/api/jobs/{job.pk}").json()["no_worker"])

    def test_twenty_of_one_person_do_not_hold_anothers_one(self) -> None:
        """By priority in the queue: what is asked for by somebody with nothing open comes before the rest."""
        designer, owner = (User.objects.get(username=name) for name in ("designer", "owner"))
        many = [start(self.project, designer, "check_survey", {"upload": i}) for i in range(20)]
        one = start(self.project, owner, "check_survey", {"upload": 99})
        queue = ProcrastinateJob.objects.filter(task_name="run_job").order_by("-priority", "id")
        order = [row.args["job_id"] for row in queue]
        self.assertEqual(order[:2], [str(many[0].pk), str(one.pk)])

    def test_what_has_ended_is_not_done_twice(self) -> None:
        for state in (Job.State.DONE, Job.State.FAILED, Job.State.CANCELLED):
            job = self.handled(self.job(state=state), lambda j, r: Answer(answer=1))
            self.assertEqual((job.state, job.result), (state, None))

    def test_what_is_written_stays_done_whatever_comes_after(self) -> None:
        """Once a job whose import was written was told as failed, because the database went away before that was noted."""

        def handler(job: Job, report: run.Report) -> Answer:
            run.complete(job, Answer(answer=7))
            raise OperationalError("the connection is lost")

        with self.assertRaises(OperationalError), self.assertLogs("tin_saddle.jobs", "ERROR"):
            self.handled(job := self.job(), handler)
        job.refresh_from_db()
        self.assertEqual((job.state, job.result), (Job.State.DONE, {"answer": 7}))

    def test_a_refusal_is_told_in_its_own_words(self) -> None:
        def handler(job: Job, report: run.Report) -> Answer:
            raise Refused(409, "the survey was changed meanwhile", "survey", "look again")

        error = self.handled(self.job(), handler).error
        self.assertEqual(error, {"message": "the survey was changed meanwhile", "subject": "survey", "hint": "look again"})

    def test_stopping_before_and_during(self) -> None:
        waiting = self.job()
        self.assertEqual(self.ask("POST", f"/api/jobs/{waiting.pk}/cancel").json()["state"], "cancelled")
        running = run.start(self.project, None, "check_survey", {})
        Job.objects.filter(pk=running.pk).update(state=Job.State.RUNNING)
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
