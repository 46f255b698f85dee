"""Small files made to cost much: every reader gives something or says what is wrong, within the room of a file of that size.

The short form runs with the tests; BOMBS=2000 bin/test server/foreign is the long one.
"""

import os
import time
from collections.abc import Callable
from random import Random
from typing import Any
from unittest import TestCase

from foreign.apart import Room, apart, for_a_job, for_a_look
from saddle.errors import ImportProblem
from saddle.exchange.readers import (
    READERS,
    ReadAs,
    codes_apart,
    crossfalls_of_file,
    first_look,
    first_rows,
    library_of_file,
    lines_of_file,
    read_levels,
    read_survey,
)
from saddle.overlay.spec import LevelTable
from saddle.terrain.spec import CodeList, ColumnMapping
from tests.bombs import BOMBS, bombs
from tests.depth import LONG

COUNT = int(os.environ.get("BOMBS", "2000" if LONG else str(len(BOMBS))))
#: A look holds somebody's window, a job the worker, s; beside what the process needs to begin on a busy machine.
LONGEST, BEGINNING = {for_a_look: 2.0, for_a_job: 30.0}, 8.0
MAPPING = ColumnMapping(number=0, east=1, north=2, level=3, code=4)
TABLES = (".xlsx", ".ods", ".csv", ".txt")


def readings(end: str) -> list[tuple[Callable[..., Any], tuple[Any, ...], Callable[[int], Room]]]:
    """Every way in which a file of an ending may be read."""
    if end == ".json":
        return [(library_of_file, (), for_a_look), (lines_of_file, ("x", ()), for_a_look)]
    survey: tuple[Any, ...] = (read_survey, ("x" + end, ReadAs(mapping=MAPPING)), for_a_job)
    if end not in TABLES:
        return [survey]
    return [
        survey, (first_look, ("x" + end,), for_a_look),
        (first_rows, (), for_a_look), (codes_apart, (MAPPING, CodeList(), None), for_a_look),
        (lines_of_file, ("x", ()), for_a_look), (crossfalls_of_file, (), for_a_look), (read_levels, (LevelTable(),), for_a_look),
    ]  # fmt: skip


class Bombs(TestCase):
    def test_none_takes_the_house_down(self) -> None:
        seed = Random().randrange(10**6) if len(BOMBS) < COUNT else 1
        for name, end, data in bombs(COUNT, seed):
            ways = readings(end)
            for reader, more, room in ways if len(BOMBS) < COUNT else ways[:2]:
                with self.subTest(name, seed=seed, reader=reader.__name__):
                    begun = time.monotonic()
                    try:
                        apart(reader, data, *more, room=room(len(data)))
                    except ImportProblem as error:
                        self.assertNotIn("something in it", error.message)
                        self.assertTrue(error.hint)
                    self.assertLess(time.monotonic() - begun, LONGEST[room] + BEGINNING)

    def test_every_reader_meets_one(self) -> None:
        met = {reader for end in (*TABLES, ".json", ".dxf") for reader, _, _ in readings(end)}
        self.assertEqual(met, set(READERS))
