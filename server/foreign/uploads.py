"""Tables that come with a request: bounded before they are taken, and read apart."""

from collections.abc import Callable
from typing import Any, TypeVar

from ninja import UploadedFile

from config.errors import Refused
from foreign.apart import apart, for_a_look

T = TypeVar("T")
#: Tables that a person made: levels, crossfalls, section lines, bytes.
MOST_TABLE = 5_000_000


def read_table(reader: Callable[..., T], file: UploadedFile, *more: Any) -> T:
    """What a reader makes of a table. Raises Refused for one that is too large, and as `apart`."""
    if (file.size or 0) > MOST_TABLE:
        raise Refused(413, f"the file is larger than {MOST_TABLE // 1_000_000} MB", "file", "keep only the rows that are needed")
    return apart(reader, file.read(), *more, room=for_a_look(file.size or 0))
