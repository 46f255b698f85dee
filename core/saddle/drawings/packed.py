"""Sections and sheets made small: what is laid out of a long set waits in memory until somebody looks at it."""

import pickle
import zlib
from collections.abc import Iterable
from dataclasses import fields
from operator import attrgetter
from typing import Any

from saddle.drawings.display import Item, Picture, Polygon, Polyline, Text

_KINDS = (Polyline, Polygon, Text, Picture)
#: Fields of an item, to be given to its class in their order: the plain way of a frozen class costs ten times as much.
_FIELDS = {kind: (n, attrgetter(*(f.name for f in fields(kind)))) for n, kind in enumerate(_KINDS)}


def packed(items: Iterable[Item]) -> bytes:
    """Items, about a fortieth of their size in memory."""
    plain = [(n, of(item)) for item in items for n, of in (_FIELDS[type(item)],)]
    return pressed(plain)


def unpacked(data: bytes) -> list[Item]:
    """The items again. data: made by `packed` in this process."""
    return [_KINDS[n](*values) for n, values in released(data)]


def pressed(value: object) -> bytes:
    """Any value, small."""
    return zlib.compress(pickle.dumps(value, pickle.HIGHEST_PROTOCOL), 1)


def released(data: bytes) -> Any:
    """The value again. data: made by `pressed` in this process."""
    return pickle.loads(zlib.decompress(data))
