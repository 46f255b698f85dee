"""Whatever a file does to its reader ends in a sentence, within its room, and nowhere else."""

import ast
import os
import signal
import time
from collections.abc import Callable
from pathlib import Path
from unittest import TestCase

from foreign.apart import MB, Room, apart, for_a_look
from saddle.errors import ImportProblem
from saddle.exchange.readers import READERS, ReadAs, crossfalls_of_file, first_rows
from saddle.overlay.spec import LevelTable
from saddle.terrain.spec import CodeList, ColumnMapping

SERVER = Path(__file__).parents[2]
SMALL = Room(memory=200 * MB, processor=2, clock=4.0, answer=MB)


def endless(data: bytes) -> None:
    while True:
        pass


def asleep(data: bytes, progress: Callable[[float], None]) -> None:
    time.sleep(60)


def greedy(data: bytes) -> int:
    return len([bytearray(MB) for _ in range(2000)])


def talkative(data: bytes) -> bytes:
    return bytes(5 * MB)


def dead(data: bytes) -> None:
    os.kill(os.getpid(), signal.SIGSEGV)


def clumsy(data: bytes) -> None:
    raise KeyError("vertex 7")


def strict(data: bytes) -> None:
    raise ImportProblem("row 3 holds no point", "row 3", "correct it")


def careful(data: bytes, progress: Callable[[float], None]) -> int:
    for k in range(5):
        progress(k / 5)
        time.sleep(0.15)
    return len(data)


class Apart(TestCase):
    def refused(self, reader: Callable[..., object], room: Room = SMALL) -> ImportProblem:
        with self.assertRaises(ImportProblem) as caught:
            apart(reader, b"1,2,3", room=room)
        self.assertTrue(caught.exception.hint)
        return caught.exception

    def test_what_takes_too_much_is_told_as_such(self) -> None:
        begun = time.monotonic()
        self.assertIn("longer", self.refused(endless).message)
        self.assertLess(time.monotonic() - begun, 10)
        self.assertIn("more memory", self.refused(greedy).message)
        self.assertIn("holds far more", self.refused(talkative).message)
        self.refused(dead)

    def test_what_a_reader_refuses_is_told_whole_and_what_breaks_it_is_written_down(self) -> None:
        error = self.refused(strict)
        self.assertEqual((error.message, error.subject, error.hint), ("row 3 holds no point", "row 3", "correct it"))
        with self.assertLogs("tin_saddle.foreign", "ERROR") as logs:
            self.assertIn("cannot be read", self.refused(clumsy).message)
        self.assertIn("vertex 7", logs.output[0])

    def test_progress_comes_and_stop_ends_it_at_once(self) -> None:
        shares: list[float] = []
        self.assertEqual(apart(careful, b"123", room=SMALL, report=shares.append), 3)
        self.assertEqual(shares, sorted(shares))
        self.assertGreater(shares[-1], 0.3)

        class Stopped(Exception):
            pass

        def stop(_: float) -> None:
            raise Stopped

        begun = time.monotonic()
        with self.assertRaises(Stopped):
            apart(asleep, b"", room=SMALL, report=stop)
        self.assertLess(time.monotonic() - begun, 3)

    def test_the_same_comes_of_it_as_without(self) -> None:
        table = b"chainage;left;right\n0;-2,5;2,5\n20;-3;3\n"
        self.assertEqual(apart(crossfalls_of_file, table, room=for_a_look(len(table))), crossfalls_of_file(table))

    def test_every_reader_answers_or_refuses_within_its_room(self) -> None:
        """By the list of readers: of a file that is nothing, an empty one, and one that is cut short."""
        more: dict[str, tuple[object, ...]] = {
            "read_survey": ("x.csv", ReadAs(mapping=ColumnMapping(number=0, east=1, north=2, level=3))),
            "first_look": ("x.csv",),
            "codes_apart": (ColumnMapping(number=0, east=1, north=2, level=3, code=4), CodeList(), None),
            "lines_of_file": ("x", ()), "read_levels": (LevelTable(),),
        }  # fmt: skip
        for reader in READERS:
            for data in (b"", b"\x00\xff" * 3000, b"PK\x03\x04 nothing", b"1;2", b"a,b\n" + b"\0" * 5000):
                with self.subTest(reader=reader.__name__, data=data[:6]):
                    try:
                        apart(reader, data, *more.get(reader.__name__, ()), room=SMALL)
                    except ImportProblem as error:
                        self.assertNotIn("something in it", error.message)
        self.assertIn(first_rows, READERS)

    def test_nothing_of_the_server_reads_a_file_itself(self) -> None:
        """Readers are only named where they are handed over, and what they are made of is not named at all."""
        inner = ("text", "workbook", "landxml_read", "geojson", "geopackage", "geotiff", "ascii_grid", "point_cloud", "point_rows",
                 "crossfall_csv", "json_file")  # fmt: skip
        readers = {r.__name__ for r in READERS} | {"read_bundle", "read_lines", "look_dxf", "read_dxf", "preview", "format_of"}
        for path in SERVER.rglob("*.py"):
            if {"tests", "e2e", "migrations"} & set(path.parts):
                continue
            for node in ast.walk(ast.parse(path.read_text())):
                if isinstance(node, ast.Call) and isinstance(node.func, ast.Name):
                    self.assertNotIn(node.func.id, readers, path)
                if isinstance(node, ast.ImportFrom) and (node.module or "").startswith("saddle.exchange."):
                    taken = {a.name for a in node.names if a.name.startswith(("read", "decode", "rows_of", "text_of"))}
                    if (node.module or "").split(".")[2] in inner:
                        self.assertFalse(taken, path)
