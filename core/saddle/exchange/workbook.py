"""Tables out of workbooks of spreadsheet programs: XLSX and XLS, and ODS of OpenDocument."""

import io
import zipfile
from datetime import date, time

import python_calamine

from saddle.errors import ImportProblem

#: A workbook that holds more than this when it is unpacked is refused, bytes.
MOST_BYTES = 800_000_000
#: How workbooks begin: archives, and the older compound files.
ARCHIVE, COMPOUND = b"PK\x03\x04", b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
Cell = str | float | bool | date | time | None


def is_workbook(data: bytes) -> bool:
    """Whether a file begins as one."""
    return data.startswith((ARCHIVE, COMPOUND))


def rows_of(data: bytes, sheet: str = "") -> list[list[Cell]]:
    """Rows of a sheet of a workbook, of the first one that is not empty where there is none of that name. Empty cells are None. Raises
    ImportProblem for what is no workbook, is damaged, or too large."""
    try:
        if data.startswith(ARCHIVE):
            with zipfile.ZipFile(io.BytesIO(data)) as archive:
                if sum(info.file_size for info in archive.infolist()) > MOST_BYTES:
                    raise ImportProblem(
                        "the workbook is too large", "file", "keep only the sheet that is needed, or save it as CSV"
                    )
        book = python_calamine.load_workbook(io.BytesIO(data))
        names = [sheet] if sheet in book.sheet_names else book.sheet_names
        for name in names:
            rows = book.get_sheet_by_name(name).to_python(skip_empty_area=False)
            if any(cell != "" for row in rows for cell in row):
                return [[None if cell == "" else cell for cell in row] for row in rows]  # type: ignore[misc]
    except ImportProblem:
        raise
    except Exception as error:  # a damaged archive makes the reader raise whatever it stumbles over
        raise ImportProblem("this is not a workbook, or it is damaged", "file", "save it again as XLSX or ODS") from error
    raise ImportProblem("the workbook is empty", "file", "choose one with a table on a sheet")


def text_of(data: bytes) -> str:
    """The first sheet of a workbook as text with tabs between its columns."""
    return "".join("\t".join(_written(cell) for cell in row) + "\n" for row in rows_of(data))


def _written(cell: Cell) -> str:
    if cell is None:
        return ""
    if isinstance(cell, float) and not isinstance(cell, bool):
        return f"{cell:.0f}" if cell.is_integer() and abs(cell) < 1e15 else repr(cell)
    return " ".join(str(cell).split())
