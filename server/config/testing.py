"""The test runner: Django's own, which first ends what still holds on to the test database."""

from typing import Any

from django.db import connection
from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """A browser or worker that was just stopped may keep its session for a moment, and the database could not be dropped."""

    def teardown_databases(self, old_config: Any, **kwargs: Any) -> None:
        if old_config:
            with connection.cursor() as cursor:
                cursor.execute(
                    "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and pid <> pg_backend_pid()"
                )
        super().teardown_databases(old_config, **kwargs)
