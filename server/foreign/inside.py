"""The life of the process that reads one file."""

import pickle
import resource
import signal
import time
import traceback
from multiprocessing.connection import Connection
from pathlib import Path

from saddle.errors import SaddleError

#: Between two tellings of how far it is, s.
TOLD_EVERY = 0.1


def inside(to: Connection, memory: int, processor: int) -> None:
    """Takes (reader, data, more arguments, whether progress is told) and gives ("given", answer), ("refused", (message, subject, hint)),
    ("memory", None) or ("broken", traceback); before it ("share", done) now and then. memory: bytes more than it has; processor: s."""
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    has = int(Path("/proc/self/statm").read_text().split()[0]) * resource.getpagesize()
    resource.setrlimit(resource.RLIMIT_AS, (has + memory, has + memory))
    resource.setrlimit(resource.RLIMIT_CPU, (processor, processor + 1))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    told = 0.0

    def tell(share: float) -> None:
        nonlocal told
        if time.monotonic() > told + TOLD_EVERY:
            told = time.monotonic()
            to.send(("share", share))

    try:
        reader, data, more, progress = to.recv()
        said = pickle.dumps(("given", reader(data, *more, progress=tell) if progress else reader(data, *more)))
    except SaddleError as error:
        said = pickle.dumps(("refused", (error.message, error.subject, error.hint)))
    except MemoryError:
        said = pickle.dumps(("memory", None))
    except Exception:
        said = pickle.dumps(("broken", traceback.format_exc()[-2000:]))
    to.send_bytes(said)
