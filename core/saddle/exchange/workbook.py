"""Tables out of workbooks of spreadsheet programs: XLSX and XLS, and ODS of OpenDocument."""

import io
from collections.abc import Iterable, Iterator
from datetime import date, time
from typing import Any

import python_calamine
from openpyxl import load_workbook

from saddle.errors import ImportProblem
from saddle.exchange.archive import is_archive, names_in

#: Rows without a figure or word within a table, at most.
MOST_BLANK = 150_000
#: Sheets that are offered; columns that are read.
MOST_SHEETS, MOST_COLUMNS = 200, 200
#: How the older compound files begin.
COMPOUND = b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"
Cell = str | float | bool | date | time | None


def is_workbook(data: bytes) -> bool:
    """Whether a file begins as one."""
    return is_archive(data) or data.startswith(COMPOUND)


def rows_of(data: bytes, sheet: str = "") -> list[list[Cell]]:
    """Rows of a sheet of a workbook, of the first one that is not empty where there is none of that name. Empty cells are None. Raises
    ImportProblem for what is no workbook, is damaged, or too large."""
    try:
        read = _office if is_archive(data) and "content.xml" not in names_in(data) else _others
        for rows in read(data, sheet):
            if any(rows):
                return rows
    except ImportProblem:
        raise
    except Exception as error:  # a damaged archive makes the reader raise whatever it stumbles over
        raise ImportProblem("this is not a workbook, or it is damaged", "file", "save it again as XLSX or ODS") from error
    raise ImportProblem("the workbook is empty", "file", "choose one with a table on a sheet")


def _office(data: bytes, sheet: str) -> Iterator[list[list[Cell]]]:
    """Sheets of an XLSX row by row: one cell in its farthest corner would otherwise fill the memory."""
    book = load_workbook(io.BytesIO(data), data_only=True, read_only=True)
    for name in [sheet] if sheet in book.sheetnames else book.sheetnames:
        yield _within(book[name].iter_rows(max_col=MOST_COLUMNS, values_only=True))


def _within(rows: Iterable[Iterable[Any]]) -> list[list[Cell]]:
    """Rows as they come, which are made up where the next one that the file holds has a far greater number. Raises ImportProblem."""
    out: list[list[Cell]] = []
    blank = 0
    for row in rows:
        out.append(_trimmed(row))
        blank = 0 if out[-1] else blank + 1
        if blank > MOST_BLANK:
            at = len(out) - blank
            raise ImportProblem(
                f"below row {at} of the sheet more than {MOST_BLANK:,} rows are blank", f"row {at}",
                "delete all rows below the table and save the workbook again",
            )  # fmt: skip
    return out


def _others(data: bytes, sheet: str) -> Iterator[list[list[Cell]]]:
    """Sheets of an ODS or XLS, whose reader refuses what is too large."""
    book = python_calamine.load_workbook(io.BytesIO(data))
    for name in [sheet] if sheet in book.sheet_names else book.sheet_names:
        rows = book.get_sheet_by_name(name).to_python(skip_empty_area=False)
        yield [_trimmed(None if cell == "" else cell for cell in row) for row in rows]


def _trimmed(row: Iterable[Any]) -> list[Cell]:
    """A row without the empty cells at its end."""
    cells = list(row)
    while cells and cells[-1] is None:
        cells.pop()
    return cells


def text_of(data: bytes, sheet: str = "") -> str:
    """A sheet of a workbook, the first one that is not empty where there is none of that name, as text with tabs between its columns."""
    return "".join("\t".join(_written(cell) for cell in row) + "\n" for row in rows_of(data, sheet))


def sheet_names(data: bytes) -> tuple[str, ...]:
    """Names of the sheets of a workbook. Raises ImportProblem for what is none."""
    try:
        return tuple(python_calamine.load_workbook(io.BytesIO(data)).sheet_names[:MOST_SHEETS])
    except Exception as error:  # a damaged archive makes the reader raise whatever it stumbles over
        raise ImportProblem("this is not a workbook, or it is damaged", "file", "save it again as XLSX or ODS") from error


def _written(cell: Cell) -> str:
    if cell is None:
        return ""
    if isinstance(cell, float) and not isinstance(cell, bool):
        return f"{cell:.0f}" if cell.is_integer() and abs(cell) < 1e15 else repr(cell)
    return " ".join(str(cell).split())
