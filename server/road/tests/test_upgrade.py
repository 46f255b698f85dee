"""Databases of earlier releases go forward with their figures unchanged, and so do a backup of one and its restoring."""

import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path
from typing import Any
from unittest import TestCase, skipUnless

import psycopg
from django.conf import settings
from django.db import connection

from tests.depth import LONG

DATA = Path(__file__).parent / "data"


class Upgrade(TestCase):
    """release-0.6.dump: a road of 112 m with two treatments and two imports, made with that release; the others: the same as those
    releases brought it forward; release-….json: what `manage.py figures` said of it there. release-0.4.dump: its whole demo road, whose
    figures were reckoned by other rules then (docs/decisions/figures.md): what is kept are the totals of release 0.22."""

    def database(self, name: str) -> str:
        """The address of a new, empty database beside the one of the tests."""
        s = connection.settings_dict
        server = f"postgres://{s['USER']}@{s['HOST']}:{s['PORT']}"
        name = f"{s['NAME']}_{name}"

        def drop() -> None:
            with psycopg.connect(f"{server}/postgres", autocommit=True) as cluster:
                cluster.execute(f'DROP DATABASE IF EXISTS "{name}"')

        drop()
        self.addCleanup(drop)
        with psycopg.connect(f"{server}/postgres", autocommit=True) as cluster:
            cluster.execute(f'CREATE DATABASE "{name}"')
        return f"{server}/{name}"

    def run_on(self, database: str, *command: str | Path, status: int = 0) -> str:
        environment = {**os.environ, "DATABASE_URL": database}
        done = subprocess.run([str(part) for part in command], env=environment, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, status, done.stderr)
        return done.stdout

    def figures(self, database: str) -> Any:
        return json.loads(self.run_on(database, sys.executable, settings.ROOT / "server" / "manage.py", "figures"))

    def assert_same(self, a: Any, b: Any, place: str = "") -> None:
        """Figures agree to the last digits that a machine gives."""
        if isinstance(a, dict):
            self.assertLessEqual(a.keys(), b.keys(), place)
            # What is measured since is nothing where nobody asked for it.
            self.assertFalse([key for key in b.keys() - a.keys() if b[key] is not None], place)
            for key in a:
                self.assert_same(a[key], b[key], f"{place} {key}")
        elif isinstance(a, list):
            self.assertEqual(len(a), len(b), place)
            for i, (x, y) in enumerate(zip(a, b, strict=True)):
                self.assert_same(x, y, f"{place} {i}")
        elif isinstance(a, float):
            self.assertAlmostEqual(a, b, 9, place)
        elif not (a is None and place.endswith(" area")):  # square metres of courses are measured since 0.20
            self.assertEqual(a, b, place)

    def test_releases_in_between(self) -> None:
        """Whoever upgrades late comes from any of them."""
        for release in ("0.12", "0.19") if LONG else ("0.19",):
            with self.subTest(release):
                there = self.database(f"from_{release.replace('.', '_')}")
                self.run_on(there, settings.ROOT / "bin" / "restore", DATA / f"release-{release}.dump")
                self.assert_same(json.loads((DATA / f"release-{release}.json").read_text()), self.figures(there))

    @skipUnless(LONG, "the long run upgrades from every release")
    def test_the_earliest_release(self) -> None:
        there = self.database("earliest")
        self.run_on(there, settings.ROOT / "bin" / "restore", DATA / "release-0.4.dump")
        totals = {name: bill["total"] for name, bill in self.figures(there).items()}
        self.assert_same(json.loads((DATA / "release-0.4.json").read_text()), totals)

    def test_an_early_release_and_a_backup_of_it(self) -> None:
        bin_ = settings.ROOT / "bin"
        old, again = self.database("upgraded"), self.database("restored")
        self.run_on(old, bin_ / "restore", DATA / "release-0.6.dump")
        upgraded = self.figures(old)
        self.assert_same(json.loads((DATA / "release-0.6.json").read_text()), upgraded)
        self.run_on(old, bin_ / "restore", DATA / "release-0.6.dump", status=1)  # it is not empty any more
        with tempfile.TemporaryDirectory() as folder:
            self.run_on(old, bin_ / "backup", Path(folder) / "all.dump")
            self.run_on(again, bin_ / "restore", Path(folder) / "all.dump")
            (Path(folder) / "broken.dump").write_bytes((DATA / "release-0.6.dump").read_bytes()[:20_000])
            self.run_on(self.database("broken"), bin_ / "restore", Path(folder) / "broken.dump", status=1)
        self.assertEqual(self.figures(again), upgraded)
