"""How bench figures are taken and printed."""

import re
import time
from collections.abc import Callable
from pathlib import Path


def best(work: Callable[[], object], times: int = 3) -> float:
    """Least of a few runs, s."""
    took = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        took.append(time.perf_counter() - start)
    return min(took)


def memory(most: bool = True) -> float:
    """Greatest resident memory of this process so far, or what it has now, MB."""
    line = "VmHWM" if most else "VmRSS"
    return float(re.findall(rf"{line}:\s+(\d+)", Path("/proc/self/status").read_text())[0]) / 1000


def memory_of(work: Callable[[], object]) -> float:
    """What it takes at most over what is there before, MB."""
    Path("/proc/self/clear_refs").write_text("5")  # the greatest so far is what is there now
    before = memory(most=False)
    work()
    return memory() - before


def table(title: str, head: list[str], rows: list[list[object]]) -> None:
    print(f"\n{title}")
    print("  " + "".join(f"{h:>20}" for h in head))
    for row in rows:
        print("  " + "".join(f"{(f'{c:.4f}' if isinstance(c, float) else c)!s:>20}" for c in row))
