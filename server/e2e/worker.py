"""Becomes a worker on each database that is named on standard input, one at a time; an empty line ends it.

Run by the journeys, never by hand: python server/e2e/worker.py PROJECT, with DATABASE_URL of a database that holds the project.
Reading all modules and solving the demo takes seconds, and a fork takes none.
"""

import os
import signal
import sys
import time
from pathlib import Path

ROOT = Path(__file__).resolve().parents[2]
#: A worker that is asked to end and is at work is ended after so long, s.
PATIENCE = 3.0


def work(database: str) -> None:
    """The life of a worker, in a process of its own."""
    from django.core.management import call_command
    from django.db import connection

    quiet = os.open(os.devnull, os.O_RDWR)
    for stream in (0, 1, 2):
        os.dup2(quiet, stream)
    connection.settings_dict["NAME"] = database
    call_command("procrastinate", "--skip-checks", "worker", "-p", "0.3")


def end(child: int) -> None:
    """Ask a worker to end, and end it when it does not."""
    os.kill(child, signal.SIGTERM)
    until = time.monotonic() + PATIENCE
    while not os.waitpid(child, os.WNOHANG)[0]:
        if time.monotonic() > until:
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            return
        time.sleep(0.02)


def main() -> None:
    """Serve until the journeys are over."""
    sys.path[:0] = [str(ROOT / "server"), str(ROOT / "core"), str(ROOT)]
    os.environ["DJANGO_SETTINGS_MODULE"] = "config.settings"
    import django

    django.setup()
    from django.db import connections

    from projects.models import Project
    from road.model import road_model

    __import__("front.urls")
    road_model(Project.objects.get(pk=int(sys.argv[1])), "main")
    connections.close_all()
    child = 0
    for line in sys.stdin:
        if child:
            end(child)
            child = 0
        if database := line.strip():
            child = os.fork()
            if not child:
                work(database)
                os._exit(0)
        print("done", flush=True)
    if child:
        end(child)


if __name__ == "__main__":
    main()
