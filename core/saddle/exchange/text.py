"""Text of files as people have them: of any encoding, with any ends of lines, or a workbook instead."""

from saddle.errors import ImportProblem
from saddle.exchange.workbook import is_workbook, text_of

#: The beginning of a text that is looked at before the whole of it is read, bytes.
BEGINNING = 400_000


def beginning(data: bytes) -> bytes:
    """So much of a text as a first look needs, whole lines; a workbook whole."""
    if len(data) <= BEGINNING or is_workbook(data) or b"\0" in data[:200]:
        return data
    return data[: data.rfind(b"\n", 0, BEGINNING) + 1] or data[:BEGINNING]


def decode(data: bytes) -> str:
    """Text of an uploaded file, of a workbook its first sheet with tabs, with \\n at the ends of its lines whatever it had. Raises
    ImportProblem for an empty or binary file."""
    if is_workbook(data):
        return text_of(data)
    if not data.strip():
        raise ImportProblem("the file is empty", hint="choose one with a row for each thing")
    if b"\0" in data and not data.startswith((b"\xff\xfe", b"\xfe\xff")):
        raise ImportProblem("the file is not text", hint="save it as CSV text, or as a workbook")
    if data.startswith((b"\xff\xfe", b"\xfe\xff")):
        text = data.decode("utf-16", errors="replace")
    else:
        try:
            text = data.decode("utf-8-sig")
        except UnicodeDecodeError:
            text = data.decode("cp1252", errors="replace")
    return text.replace("\r\n", "\n").replace("\r", "\n")
