"""A worker that starts again when code changes, for bin/dev."""

from typing import Any

from django.core.management.base import BaseCommand
from django.utils import autoreload
from procrastinate.contrib.django import app


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        autoreload.run_with_reloader(_work)


def _work() -> None:
    """The reloader runs this in a thread of its own, where no signals arrive."""
    with app.replace_connector(app.connector.get_worker_connector()) as working:  # type: ignore[attr-defined]
        working.run_worker(concurrency=1, install_signal_handlers=False, fetch_job_polling_interval=2)
