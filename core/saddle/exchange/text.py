"""Text of files as people have them: of any encoding, with any ends of lines, or a workbook instead."""

import re
from typing import get_args

from charset_normalizer import from_bytes

from saddle.errors import ImportProblem
from saddle.exchange.workbook import is_workbook, text_of
from saddle.terrain.spec import Encoding

#: The beginning of a text that is looked at before the whole of it is read, bytes.
BEGINNING = 400_000
#: Of a text, so many bytes beyond plain letters tell its encoding.
TELLING = 20_000
#: All encodings that are offered.
ENCODINGS: tuple[Encoding, ...] = get_args(Encoding)
#: Those whose letters beyond the plain ones stand alone among plain ones.
LATIN: tuple[Encoding, ...] = ("cp1252", "cp1250", "cp1254", "cp1257", "cp1258", "iso8859_2")
#: Fewer bytes of words than this say nothing of which of these it is.
SHORT = 60
#: Of letters of two bytes this share has one that is 0; of other texts none has.
WIDE = 0.4
#: Beginnings that say an encoding (The Unicode Standard, byte order mark).
MARKS: dict[bytes, Encoding] = {b"\xef\xbb\xbf": "utf-8", b"\xff\xfe": "utf-16", b"\xfe\xff": "utf-16"}


def beginning(data: bytes) -> bytes:
    """So much of a text as a first look needs, whole lines; a workbook whole."""
    if len(data) <= BEGINNING or is_workbook(data) or b"\0" in data[:200]:
        return data
    return data[: data.rfind(b"\n", 0, BEGINNING) + 1] or data[:BEGINNING]


def encoding_of(data: bytes) -> Encoding:
    """The encoding that a text is most likely in, of those that are offered."""
    for mark, name in MARKS.items():
        if data.startswith(mark):
            return name
    head = data[:4096]
    # Of most letters of two bytes one is 0: the second of them where the smaller one comes first.
    wide: tuple[tuple[Encoding, bytes], ...] = (("utf-16-le", head[1::2]), ("utf-16-be", head[0::2]))
    for name, bytes_ in wide:
        if bytes_ and bytes_.count(0) > WIDE * len(bytes_):
            return name
    try:
        data.decode("utf-8")
    except UnicodeDecodeError as error:
        # A beginning may be cut within a letter.
        if error.reason == "unexpected end of data" and error.start >= len(data) - 4:
            return "utf-8"
    else:
        return "utf-8"
    words = b" ".join(re.findall(rb"[A-Za-z\x80-\xff]*[\x80-\xff][A-Za-z\x80-\xff]*", data[:BEGINNING]))[:TELLING]
    high, runs = len(re.findall(rb"[\x80-\xff]", words)), sum(map(len, re.findall(rb"[\x80-\xff]{2,}", words)))
    among = [e for e in ENCODINGS if not e.startswith("utf") and (e in LATIN) == (2 * runs < high)]
    found = from_bytes(words, cp_isolation=[*map(str, among)]).best() if len(words) >= SHORT or among[0] not in LATIN else None
    return next((e for e in among if found is not None and e == found.encoding), among[0])


def decode(data: bytes, encoding: Encoding | None = None, sheet: str = "") -> str:
    """Text of an uploaded file, of a workbook a sheet with tabs, with \\n at the ends of its lines whatever it had. encoding: one
    of ENCODINGS, None for the one it is most likely in. Raises ImportProblem for an empty or binary file."""
    if is_workbook(data):
        return text_of(data, sheet)
    if not data.strip():
        raise ImportProblem("the file is empty", hint="choose one with a row for each thing")
    text = data.decode(encoding or encoding_of(data), errors="replace").removeprefix("\ufeff")
    if "\0" in text:
        raise ImportProblem("the file is not text", hint="save it as CSV text, or as a workbook")
    return text.replace("\r\n", "\n").replace("\r", "\n")
