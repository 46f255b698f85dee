"""What the worker is told to do."""

from django.db import close_old_connections
from procrastinate import JobContext
from procrastinate.contrib.django import app

from jobs.run import execute, sweep


@app.task(name="run_job")
def run_job(job_id: str) -> None:
    """Run one job."""
    close_old_connections()  # the database may have been away since the last one
    execute(job_id)


@app.periodic(cron="* * * * *")
@app.task(name="retry_stalled", queueing_lock="retry_stalled", pass_context=True)
async def retry_stalled(context: JobContext, timestamp: int) -> None:
    """Put work of a worker that was killed back into the queue."""
    for job in await app.job_manager.get_stalled_jobs():
        await app.job_manager.retry_job(job)


@app.periodic(cron="* * * * *")
@app.task(name="end_lost_jobs", queueing_lock="end_lost_jobs")
def end_lost_jobs(timestamp: int) -> None:
    """End what nobody will ever work on."""
    sweep()
