"""Keeps the processes of the product running: one that ends is begun again, after a pause that grows while it keeps ending.

    python server/supervise.py NAME[@ADDRESS] COMMAND... -- NAME COMMAND...

One with an address is asked there now and then, and begun again when it gives no answer for long: a process may be there and deaf.

Ends them all, and what they began, when it is told to end. Needs no Django, so that nothing of the product can take it down.
"""

import contextlib
import ctypes
import os
import signal
import subprocess
import sys
import threading
import time
import urllib.error
import urllib.request
from dataclasses import dataclass, field
from typing import TextIO

#: Of Linux, from its header sys/prctl.h.
PR_SET_PDEATHSIG = 1
#: Pause before a process is begun again, s: at first, and at most.
FIRST_PAUSE, LONGEST_PAUSE = 1.0, 30.0
#: One that ran so long has recovered: its next pause is the first again, s.
RECOVERED = 60.0
#: One with an address is asked this often; it is deaf when it has given no answer for so long since it began, s.
ASKED_EVERY, DEAF_AFTER = 10.0, 90.0
#: How long processes have to end by themselves, s.
GRACE = 10.0


def _end_with_me() -> None:
    """In a process just begun: it is told to end when the supervisor is gone, also when that was killed."""
    ctypes.CDLL(None).prctl(PR_SET_PDEATHSIG, signal.SIGTERM)


@dataclass
class Kept:
    """A process that is kept running."""

    name: str
    command: list[str]
    address: str = ""
    heard: float = 0.0
    process: subprocess.Popen[bytes] | None = None
    begun: float = 0.0
    pause: float = FIRST_PAUSE
    again_at: float = 0.0

    def begin(self, now: float) -> None:
        """In a group of its own, so that what it begins ends with it."""
        self.process = subprocess.Popen(self.command, start_new_session=True, preexec_fn=_end_with_me)
        self.begun = now

    def listen(self) -> None:
        """Ask it, again and again, in a thread of its own; whatever it answers, it is not deaf."""
        while True:
            try:
                urllib.request.urlopen(self.address, timeout=ASKED_EVERY).close()
                self.heard = time.monotonic()
            except urllib.error.HTTPError:
                self.heard = time.monotonic()
            except OSError:
                pass
            time.sleep(ASKED_EVERY)

    def look(self, now: float, log: TextIO) -> None:
        """Begin it where it is not there and its pause is over; end it where it is deaf."""
        if self.address and self.process is not None and now - max(self.begun, self.heard) > DEAF_AFTER:
            print(f"{self.name} gives no answer and is ended", file=log, flush=True)
            self._signal(signal.SIGKILL)
            self.process.wait()
        if self.process is not None and self.process.poll() is not None:
            self._signal(signal.SIGKILL)  # what it left behind
            self.pause = FIRST_PAUSE if now - self.begun > RECOVERED else self.pause
            self.again_at = now + self.pause
            print(f"{self.name} ended ({self.process.returncode}); it is begun again in {self.pause:g} s", file=log, flush=True)
            self.pause, self.process = min(2 * self.pause, LONGEST_PAUSE), None
        if self.process is None and now >= self.again_at:
            self.begin(now)

    def end(self) -> None:
        """Ask it and what it began to end; kill what does not."""
        if self.process is None:
            return
        self._signal(signal.SIGTERM, of_all=False)
        with contextlib.suppress(subprocess.TimeoutExpired):
            self.process.wait(GRACE)
        self._signal(signal.SIGKILL)
        self.process.wait()

    def _signal(self, number: signal.Signals, *, of_all: bool = True) -> None:
        if self.process is not None:
            with contextlib.suppress(ProcessLookupError, PermissionError):
                (os.killpg if of_all else os.kill)(self.process.pid, number)


@dataclass
class Supervisor:
    """All of them."""

    kept: list[Kept]
    log: TextIO = field(default_factory=lambda: sys.stderr)
    ending: bool = False

    def run(self, every: float = 0.2) -> None:
        """Until told to end by SIGTERM, SIGINT or SIGHUP."""
        for number in (signal.SIGTERM, signal.SIGINT, signal.SIGHUP):
            signal.signal(number, self._told)
        for one in self.kept:
            if one.address:
                threading.Thread(target=one.listen, daemon=True).start()
        while not self.ending:
            for one in self.kept:
                one.look(time.monotonic(), self.log)
            time.sleep(every)
        for one in reversed(self.kept):
            one.end()

    def _told(self, *_: object) -> None:
        self.ending = True


def parse(arguments: list[str]) -> list[Kept]:
    """Names with their commands, divided by --."""
    found: list[Kept] = []
    part: list[str] = []
    for word in [*arguments, "--"]:
        if word == "--" and len(part) > 1:
            name, _, address = part[0].partition("@")
            found.append(Kept(name, part[1:], address))
            part = []
        elif word != "--":
            part.append(word)
    if not found or part:
        sys.exit(__doc__)
    return found


if __name__ == "__main__":
    Supervisor(parse(sys.argv[1:])).run()
