"""A memory of results, bounded by bytes. Each is computed once however many threads ask for it at a time."""

import sys
import threading
from collections import OrderedDict
from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields, is_dataclass
from typing import Any, TypeVar

import numpy as np

T = TypeVar("T")
#: What a result counts for besides its arrays, bytes.
LEAST_WEIGHT = 1000


@dataclass(slots=True)
class _Entry:
    value: Any
    weight: int


class Cache:
    """Keeps the results used last, up to `most_bytes`. beneath: a cache that is looked in first and never written to, so that
    what comes and goes with a preview drives nothing else out."""

    def __init__(self, most_bytes: int = 1_000_000_000, beneath: "Cache | None" = None) -> None:
        self._most, self._beneath = most_bytes, beneath
        self._kept: OrderedDict[str, _Entry] = OrderedDict()
        self._bytes = 0
        self._lock = threading.Lock()
        self._busy: dict[str, threading.Event] = {}
        self.computed: list[str] = []

    @property
    def size(self) -> int:
        """Bytes that the results are reckoned to take."""
        return self._bytes

    def find(self, key: str) -> _Entry | None:
        """What is kept under a key."""
        with self._lock:
            entry = self._kept.get(key)
            if entry is not None:
                self._kept.move_to_end(key)
                return entry
        return self._beneath.find(key) if self._beneath is not None else None

    def get(self, key: str, name: str, make: Callable[[], T]) -> T:
        """The result under a key: the one kept, or the one that another thread is at, or a new one. name: for `computed`.
        What `make` raises is raised to everybody who waits by their own try."""
        while True:
            entry = self.find(key)
            if entry is not None:
                found: T = entry.value
                return found
            with self._lock:
                if key in self._kept:
                    continue
                busy = self._busy.get(key)
                if busy is None:
                    self._busy[key] = threading.Event()
                    break
            busy.wait()
        try:
            value = make()
            self.computed = [*self.computed[-199:], name]
            self._keep(key, value)
            return value
        finally:
            with self._lock:
                self._busy.pop(key).set()

    def _keep(self, key: str, value: object) -> None:
        weight = weigh(value)
        with self._lock:
            self._kept[key] = _Entry(value, weight)
            self._bytes += weight
            while self._bytes > self._most and len(self._kept) > 1:
                _, gone = self._kept.popitem(last=False)
                self._bytes -= gone.weight


def weigh(value: object) -> int:
    """Bytes that a result takes, arrays counted once and in full, the rest by a rough measure."""
    return LEAST_WEIGHT + _weigh(value, set())


def _weigh(value: object, seen: set[int]) -> int:
    if value is None or isinstance(value, int | float | bool) or id(value) in seen:
        return 0
    seen.add(id(value))
    if isinstance(value, np.ndarray):
        return int(value.nbytes)
    if isinstance(value, str | bytes):
        return len(value)
    if isinstance(value, Mapping):
        return sum(_weigh(v, seen) + 100 for v in value.values())
    if isinstance(value, list | tuple | set | frozenset):
        return sum(_weigh(v, seen) for v in value) + 16 * len(value)
    if is_dataclass(value) and not isinstance(value, type):
        return sum(_weigh(getattr(value, f.name), seen) for f in fields(value))
    inner = getattr(value, "__dict__", None)
    return sum(_weigh(v, seen) for v in inner.values()) if inner else sys.getsizeof(value)
