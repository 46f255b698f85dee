"""How bench figures are taken and printed."""

import time
from collections.abc import Callable


def best(work: Callable[[], object], times: int = 3) -> float:
    """Least of a few runs, s."""
    took = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        took.append(time.perf_counter() - start)
    return min(took)


def table(title: str, head: list[str], rows: list[list[object]]) -> None:
    print(f"\n{title}")
    print("  " + "".join(f"{h:>20}" for h in head))
    for row in rows:
        print("  " + "".join(f"{(f'{c:.4f}' if isinstance(c, float) else c)!s:>20}" for c in row))
