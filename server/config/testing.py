"""The test runner: Django's own, which takes a file as a label, asks for nothing that the tests do not need, and clears away what
holds on to test databases, of this run or of one that was broken off."""

from multiprocessing import current_process
from pathlib import Path
from typing import Any
from unittest import TestSuite

from django.db import connection
from django.db.backends.base.creation import TEST_DATABASE_PREFIX
from django.test.runner import DiscoverRunner, ParallelTestSuite
from hypothesis import HealthCheck, settings

# A machine under load makes examples slowly, which says nothing about what is tested.
settings.register_profile("patient", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("patient")


def _begun(*given: Any) -> None:
    """In a process of a parallel run: Python forbids it to begin others, but what reads files ends its own."""
    ParallelTestSuite.init_worker(*given)
    current_process()._config["daemon"] = False  # type: ignore[attr-defined]


class Suite(ParallelTestSuite):
    """Tests side by side, of which some begin processes."""

    init_worker = _begun


class Runner(DiscoverRunner):
    """A browser or worker that was just stopped may keep its session for a moment, and a run that ends early leaves its copies."""

    parallel_test_suite = Suite

    def load_tests_for_label(self, label: str, discover_kwargs: dict[str, Any]) -> TestSuite:
        path = Path(label)
        if path.suffix == ".py" and path.is_file():
            found: TestSuite = super().load_tests_for_label(str(path.parent), {**discover_kwargs, "pattern": path.name})
            return found
        whole: TestSuite = super().load_tests_for_label(label, discover_kwargs)
        return whole

    def run_checks(self, databases: Any) -> None:
        """Those of Django read all of the server, which tests of the core and of the web's rules do not need."""
        if databases:
            super().run_checks(databases)

    def setup_databases(self, **kwargs: Any) -> Any:
        self._needed = bool(kwargs.get("aliases"))
        self._clear()
        return super().setup_databases(**kwargs)

    def teardown_databases(self, old_config: Any, **kwargs: Any) -> None:
        self._clear()

    def _clear(self) -> None:
        if not self._needed:
            return
        name = connection.settings_dict["TEST"]["NAME"] or f"{TEST_DATABASE_PREFIX}{connection.settings_dict['NAME']}"
        connection.close()
        with connection._nodb_cursor() as cursor:
            cursor.execute("select datname from pg_database where datname = %s or starts_with(datname, %s)", [name, f"{name}_"])
            for (found,) in cursor.fetchall():
                cursor.execute(f'drop database if exists "{found}" with (force)')
