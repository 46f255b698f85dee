"""What the journeys of one process share: a browser, a database with the demo that each gets a copy of, a process that workers come from."""

import os
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from functools import cache
from typing import Any

from django.conf import settings
from django.db import connection, connections
from playwright.sync_api import Browser, BrowserContext, sync_playwright

from demo.load import load_demo
from road.model import road_model

ARGUMENTS = ["--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE localhost"]
#: The numbers that rows of one copy get: no two copies give one number to different things, so that what is remembered stays true.
APART = 1_000_000
#: Every sequence of a database goes on from a number.
GO_ON = """do $$ declare s record; begin
for s in select schemaname, sequencename from pg_sequences loop
perform setval(format('%%I.%%I', s.schemaname, s.sequencename), %s); end loop; end $$"""


@contextmanager
def _outside() -> Iterator[Any]:
    """A cursor beside the databases of journeys, none of which may be in use."""
    connections.close_all()
    with connection._nodb_cursor() as cursor:
        yield cursor


class Databases:
    """A database that holds the demo, made once, and copies of it."""

    def __init__(self) -> None:
        self._origin, self._made = str(connection.settings_dict["NAME"]), 1
        self._template = self._new(self._origin, f"{self._origin}_demo")
        self.project: int = load_demo().pk
        road_model(self._demo(), "main")  # what follows from the demo is remembered for every journey
        connections.close_all()
        self._now = self._template

    def _demo(self) -> Any:
        from projects.models import Project

        return Project.objects.get(pk=self.project)

    def _new(self, of: str, name: str) -> str:
        with _outside() as cursor:
            cursor.execute(f'drop database if exists "{name}" with (force)')
            # Threads of tests before may have left a session there, and what is copied may have none.
            cursor.execute("select pg_terminate_backend(pid) from pg_stat_activity where datname = %s", [of])
            cursor.execute(f'create database "{name}" template "{of}"')
        self._use(name)
        with connection.cursor() as cursor:
            cursor.execute(GO_ON % (APART * self._made))
        return name

    @staticmethod
    def _use(name: str) -> None:
        connections.close_all()
        connection.settings_dict["NAME"] = name

    @property
    def template(self) -> str:
        """The database that the others are copies of."""
        return self._template

    def enter(self) -> None:
        """A new copy takes the place of the database that is in use."""
        self._made += 1
        self._now = self._new(self._template, f"{self._origin}_{self._made}")

    def leave(self) -> None:
        """The copy goes, with whoever still asks it; other tests find the database that was there before."""
        with _outside() as cursor:
            cursor.execute(f'drop database if exists "{self._now}" with (force)')
        self._use(self._origin)


@cache
def databases() -> Databases:
    """Those of this process."""
    return Databases()


class Stage:
    """The browser of this process and its windows, which keep the scripts that they have read."""

    def __init__(self) -> None:
        # Playwright's loop lives on in this thread, and Django would refuse to ask a database beside it.
        os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"
        self._playwright = sync_playwright().start()
        self._browser: Browser = self._playwright.chromium.launch(
            executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS
        )
        self._windows: list[BrowserContext] = []

    def window(self, number: int) -> BrowserContext:
        """The window of a number, for somebody who asks for no motion."""
        while number >= len(self._windows):
            self._windows.append(
                self._browser.new_context(viewport={"width": 1280, "height": 800}, accept_downloads=True, reduced_motion="reduce")
            )
        return self._windows[number]


@cache
def stage() -> Stage:
    """That of this process."""
    return Stage()


class Workers:
    """A process that has read everything a worker needs and becomes one, again and again."""

    def __init__(self) -> None:
        s, script = connection.settings_dict, settings.ROOT / "server" / "e2e" / "worker.py"
        url = f"postgres://{s['USER']}@{s['HOST']}:{s['PORT']}/{databases().template}"
        command = [sys.executable, str(script), str(databases().project)]
        self._host = subprocess.Popen(
            command, env={**os.environ, "DATABASE_URL": url}, stdin=subprocess.PIPE, stdout=subprocess.PIPE
        )

    def _tell(self, text: str) -> None:
        assert self._host.stdin and self._host.stdout
        self._host.stdin.write(f"{text}\n".encode())
        self._host.stdin.flush()
        if self._host.stdout.readline().strip() != b"done":
            raise RuntimeError("the workers of journeys have ended; see above")

    def start(self) -> None:
        """A worker on the database in use."""
        self._tell(str(connection.settings_dict["NAME"]))

    def stop(self) -> None:
        """No worker any more."""
        self._tell("")


@cache
def workers() -> Workers:
    """Those of this process."""
    return Workers()
