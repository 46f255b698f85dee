"""The supervisor: what ends is begun again, with a growing pause; nothing is left when it ends, also when it was killed."""

import io
import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from unittest import TestCase

from supervise import DEAF_AFTER, LONGEST_PAUSE, Kept, parse

SUPERVISOR = Path(__file__).resolve().parents[2] / "supervise.py"
#: Writes its number down, and stays.
STAYS = "import os,sys,time\nopen(sys.argv[1],'a').write(f'{os.getpid()}\\n')\ntime.sleep(60)"


def there(pid: int) -> bool:
    try:
        return Path(f"/proc/{pid}/stat").read_text().split(")")[1].split()[0] != "Z"
    except FileNotFoundError:
        return False


class Pauses(TestCase):
    def test_they_grow_and_are_forgotten_after_a_while(self) -> None:
        one, log, now = Kept("one", [sys.executable, "-c", "pass"]), io.StringIO(), 0.0
        pauses = []
        for _ in range(7):
            one.look(now, log)
            assert one.process is not None
            one.process.wait()
            one.look(now, log)
            pauses.append(one.again_at - now)
            now = one.again_at
        self.assertEqual(pauses, [1, 2, 4, 8, 16, LONGEST_PAUSE, LONGEST_PAUSE])
        self.assertIn("one ended (0); it is begun again in 1 s", log.getvalue())
        one.look(now, log)
        assert one.process is not None
        one.process.wait()
        one.look(now + 100, log)
        self.assertEqual(one.again_at, now + 101)

    def test_commands_are_divided_by_dashes(self) -> None:
        found = [(k.name, k.command) for k in parse(["a", "x", "-p", "2", "--", "b", "y"])]
        self.assertEqual(found, [("a", ["x", "-p", "2"]), ("b", ["y"])])
        self.assertEqual(parse(["web@http://127.0.0.1:1/x", "a"])[0].address, "http://127.0.0.1:1/x")
        with self.assertRaises(SystemExit):
            parse([])

    def test_a_deaf_one_is_begun_again(self) -> None:
        log = io.StringIO()
        one = Kept("web", [sys.executable, "-c", "import time; time.sleep(60)"], address="http://127.0.0.1:1/")
        one.look(100.0, log)
        first = one.process
        assert first is not None
        self.addCleanup(first.kill)
        one.heard = 150.0
        one.look(150.0 + DEAF_AFTER, log)
        self.assertIs(one.process, first)
        one.look(151.0 + DEAF_AFTER, log)
        self.assertEqual(first.returncode, -signal.SIGKILL)
        one.look(160.0 + DEAF_AFTER, log)
        assert one.process is not None
        self.addCleanup(one.process.wait)
        self.addCleanup(one.process.kill)
        self.assertIsNot(one.process, first)
        self.assertIn("web gives no answer", log.getvalue())


class Running(TestCase):
    def setUp(self) -> None:
        self.file = Path(self.enterContext(tempfile.TemporaryDirectory())) / "pids"
        command = [sys.executable, str(SUPERVISOR), "one", sys.executable, "-c", STAYS, str(self.file)]
        self.supervisor = subprocess.Popen(command, stderr=subprocess.DEVNULL)
        self.addCleanup(self.supervisor.wait)
        self.addCleanup(self.supervisor.kill)

    def pid(self, number: int) -> int:
        """Of the process that was begun as so many."""
        for _ in range(200):
            if self.file.exists() and len(lines := self.file.read_text().split()) >= number:
                return int(lines[number - 1])
            time.sleep(0.05)
        self.fail(f"process {number} was not begun")

    def gone(self, pid: int) -> None:
        for _ in range(200):
            if not there(pid):
                return
            time.sleep(0.05)
        self.fail(f"process {pid} is left")

    def test_a_killed_process_comes_back_and_all_end_together(self) -> None:
        first = self.pid(1)
        os.kill(first, signal.SIGKILL)
        second = self.pid(2)
        self.assertNotEqual(first, second)
        self.supervisor.send_signal(signal.SIGTERM)
        self.supervisor.wait(20)
        self.gone(second)

    def test_nothing_is_left_of_a_killed_supervisor(self) -> None:
        first = self.pid(1)
        self.supervisor.kill()
        self.supervisor.wait()
        self.gone(first)
