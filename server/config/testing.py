"""The test runner: Django's own, which clears away what holds on to test databases, of this run or of one that was broken off."""

from typing import Any

from django.db import connection
from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """A browser or worker that was just stopped may keep its session for a moment, and a run that ends early leaves its copies."""

    def setup_databases(self, **kwargs: Any) -> Any:
        self._clear()
        return super().setup_databases(**kwargs)

    def teardown_databases(self, old_config: Any, **kwargs: Any) -> None:
        self._clear()

    def _clear(self) -> None:
        name = connection.creation._get_test_db_name()
        connection.close()
        with connection._nodb_cursor() as cursor:
            cursor.execute("select datname from pg_database where datname = %s or starts_with(datname, %s)", [name, f"{name}_"])
            for (found,) in cursor.fetchall():
                cursor.execute(f'drop database if exists "{found}" with (force)')
