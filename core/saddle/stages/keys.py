"""Keys: what stands for a value. Of a document the change that made it, of anything else its content."""

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import fields, is_dataclass
from functools import cache
from pathlib import Path

import numpy as np
from pydantic import BaseModel


def digest(*parts: object) -> str:
    """A hash by content of documents, arrays, dataclasses, mappings, sequences and plain values. What knows its own hash (an
    attribute `digest`) gives that. Raises TypeError for anything else: a default text would hide what it holds."""
    sha = hashlib.blake2b(digest_size=16)
    for part in parts:
        _feed(sha, part)
    return sha.hexdigest()


def _feed(sha: "hashlib.blake2b", part: object) -> None:
    if part is None or isinstance(part, str | int | float | bool | bytes | np.generic):
        sha.update(f"{type(part).__name__}:{part!r};".encode())
    elif isinstance(part, np.ndarray) and part.dtype != object:
        sha.update(f"{part.dtype}{part.shape}".encode())
        sha.update(np.ascontiguousarray(part).data)
    elif isinstance(part, np.ndarray):
        _feed(sha, part.tolist())
    elif isinstance(known := getattr(part, "digest", None), str):
        sha.update(known.encode())
    elif isinstance(part, BaseModel):
        sha.update(type(part).__name__.encode() + part.model_dump_json().encode())
    elif is_dataclass(part) and not isinstance(part, type):
        sha.update(type(part).__name__.encode())
        for f in fields(part):
            _feed(sha, getattr(part, f.name))
    elif isinstance(part, Mapping):
        sha.update(b"{")
        for key, value in part.items():
            _feed(sha, key)
            _feed(sha, value)
        sha.update(b"}")
    elif isinstance(part, Sequence | set | frozenset):
        sha.update(b"[")
        for item in sorted(part) if isinstance(part, set | frozenset) else part:
            _feed(sha, item)
        sha.update(b"]")
    else:
        raise TypeError(f"there is no key for a {type(part).__name__}")


@cache
def code_version() -> str:
    """A hash of the core's own code, which is part of every key: results of other code are never met again."""
    root = Path(__file__).parents[1]
    sha = hashlib.blake2b(digest_size=8)
    for path in sorted(root.rglob("*.py")):
        sha.update(path.read_bytes())
    return sha.hexdigest()
