"""A memory of stages: each result is kept under the hash of what the stage reads."""

import hashlib
import threading
from collections import OrderedDict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import fields, is_dataclass
from typing import Any, TypeVar

import numpy as np
from pydantic import BaseModel

from saddle.terrain.tin import Tin

T = TypeVar("T")


def digest(*parts: object) -> str:
    """A hash of documents, arrays, dataclasses, mappings, sequences and plain values, by content."""
    sha = hashlib.sha256()
    for part in parts:
        _feed(sha, part)
    return sha.hexdigest()


def _feed(sha: "hashlib._Hash", part: object) -> None:
    if isinstance(part, Tin):
        sha.update(part.digest.encode())
    elif isinstance(part, np.ndarray):
        sha.update(f"{part.dtype}{part.shape}".encode())
        sha.update(np.ascontiguousarray(part).tobytes())
    elif isinstance(part, BaseModel):
        sha.update(type(part).__name__.encode() + part.model_dump_json().encode())
    elif is_dataclass(part) and not isinstance(part, type):
        sha.update(type(part).__name__.encode())
        for f in fields(part):
            _feed(sha, getattr(part, f.name))
    elif isinstance(part, Mapping):
        for key in sorted(part):
            _feed(sha, key)
            _feed(sha, part[key])
    elif isinstance(part, Sequence) and not isinstance(part, str | bytes):
        sha.update(b"[")
        for item in part:
            _feed(sha, item)
        sha.update(b"]")
    else:
        sha.update(repr(part).encode() + b";")


class StageCache:
    """Keeps the newest `most` results. Safe to share between threads; two may compute one result at once."""

    def __init__(self, most: int = 256) -> None:
        self._most = most
        self._kept: OrderedDict[str, Any] = OrderedDict()
        self._lock = threading.Lock()
        self.computed: list[str] = []

    def get(self, stage: str, make: Callable[[], T], *reads: object) -> T:
        """The result of `make`, or the one kept for a stage that read the same."""
        return self.keyed(stage, make, *reads)[0]

    def keyed(self, stage: str, make: Callable[[], T], *reads: object) -> tuple[T, str]:
        """The result and the key that stands for it, for stages that read a large result."""
        key = digest(stage, *reads)
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                found: T = self._kept[key]
                return found, key
        made = make()
        with self._lock:
            self._kept[key] = made
            self.computed = [*self.computed[-99:], stage]
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return made, key
