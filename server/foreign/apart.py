"""Files that somebody sends are read in a process of their own: what a file does to its reader ends there.

The process has as much memory and time as a file of its size may need; Stop ends it by a signal; whatever else ends it is told as a
sentence about the file. Nothing here needs Django or a database, so that the process has neither.
"""

import contextlib
import logging
import multiprocessing
import pickle
import signal
import time
from collections.abc import Callable
from dataclasses import dataclass
from multiprocessing import forkserver
from multiprocessing.connection import Connection
from multiprocessing.process import BaseProcess
from typing import Any, TypeVar

from foreign.inside import inside
from saddle.errors import ImportProblem

logger = logging.getLogger("tin_saddle.foreign")
#: What readers need, read once by the process that the others are forked from.
BEFOREHAND = ["__main__", "saddle.exchange.readers"]
#: Between looks at whether somebody asked to stop, s.
LOOK = 0.3
MB = 1_000_000


@dataclass(frozen=True, slots=True)
class Room:
    """What a reading may take. memory: bytes beside those of the programs; processor, clock: s; answer: bytes."""

    memory: int
    processor: int
    clock: float
    answer: int


def for_a_job(size: int) -> Room:
    """For a file of a size in bytes that is read whole, by a worker. What readers need grows with it: a tree of XML is some fifteen
    times as large as its text."""
    return Room(
        memory=400 * MB + 25 * size, processor=30 + 5 * size // MB, clock=90 + 10 * size / MB, answer=100 * MB + 10 * size
    )


def for_a_look(size: int) -> Room:
    """For a look at the beginning of a file, or at a table that a person made, while somebody waits."""
    return Room(memory=300 * MB + 10 * size, processor=2 + size // (20 * MB), clock=10.0, answer=20 * MB + 4 * size)


T = TypeVar("T")
#: What is said where a reading took more than its room, by what of it.
TOO_MUCH = {
    "time": "reading the file takes longer than a file of its size needs",
    "memory": "reading the file takes more memory than a file of its size needs",
    "answer": "the file holds far more than a file of its size can",
}


def apart(reader: Callable[..., T], data: bytes, *more: Any, room: Room, report: Callable[[float], None] | None = None) -> T:
    """What reader(data, *more) gives, computed in a process of its own; with a report it is called as reader(data, *more,
    progress=...). Raises ImportProblem with what the reader refuses, and where the file takes more than its room or breaks its reader; and
    what `report` raises, which ends the reading."""
    context = _context()
    ours, theirs = context.Pipe()
    process = context.Process(target=inside, args=(theirs, room.memory, room.processor), daemon=True)
    process.start()
    theirs.close()
    try:
        with contextlib.suppress(OSError):  # it ended before it took the file
            ours.send((reader, data, more, report is not None))
        kind, said = _answer(ours, process, room, report)
    finally:
        process.kill()
        process.join()
        ours.close()
    if kind == "given":
        return said  # type: ignore[no-any-return]
    if kind == "refused":
        raise ImportProblem(*said)
    if kind == "broken":
        logger.error("a file broke its reader %s: %s", reader.__name__, said)
        raise ImportProblem(
            "the file cannot be read: something in it is not as it is in such files", "file",
            "export it again, in another format if that does not help",
        )  # fmt: skip
    raise ImportProblem(
        TOO_MUCH[kind], "file", "it may be damaged, or hold the same thing many times: export it again with less in it"
    )


def begin() -> None:
    """Begin the process that the others are forked from, which reads what all of them need; it takes seconds, in which nobody waits."""
    _context()
    forkserver.ensure_running()


def _context() -> multiprocessing.context.ForkServerContext:
    context = multiprocessing.get_context("forkserver")
    context.set_forkserver_preload(BEFOREHAND)
    return context


def _answer(ours: Connection, process: BaseProcess, room: Room, report: Callable[[float], None] | None) -> tuple[str, Any]:
    """How the reading ended, and what it gave."""
    until, share = time.monotonic() + room.clock, 0.0
    while time.monotonic() < until:
        if ours.poll(LOOK):
            try:
                kind, said = pickle.loads(ours.recv_bytes(room.answer))
            except EOFError:
                process.join(LOOK)
                return "time" if process.exitcode == -signal.SIGXCPU else "memory", None
            except OSError:
                return "answer", None
            if kind != "share":
                return kind, said
            share = said
        if report is not None:
            report(share)
    return "time", None
