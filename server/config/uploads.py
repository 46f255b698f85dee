"""Files that come with a request, of a size that is bounded before they are read."""

from ninja import UploadedFile

from config.errors import Refused
from saddle.exchange.text import decode

#: Tables that a person made: levels, crossfalls, section lines, bytes.
MOST_TABLE = 5_000_000


def table_bytes(file: UploadedFile) -> bytes:
    """What a file of a table holds. Raises Refused for one that is too large."""
    if (file.size or 0) > MOST_TABLE:
        raise Refused(413, f"the file is larger than {MOST_TABLE // 1_000_000} MB", "file", "keep only the rows that are needed")
    found: bytes = file.read()
    return found


def table_text(file: UploadedFile) -> str:
    """The same as text; of a workbook, its first sheet."""
    return decode(table_bytes(file))
