"""Quantities as tables for a spreadsheet: CSV and XLSX from the same rows."""

import csv
import io
import re
from collections.abc import Sequence
from collections.abc import Set as AbstractSet

from openpyxl import Workbook
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from saddle.figures import FIGURES, Kind
from saddle.findings.left import LeftProblem, reason_for
from saddle.problem import Problem
from saddle.quantities.reports.table import Cell, ReportTable
from saddle.quantities.takeoff import Quantities, QuantityGroup

#: Headings of the summary with the kind of figure below each, None for words.
SUMMARY: list[tuple[str, Kind | None]] = [
    ("Treatment", None),
    ("From m", "chainage"),
    ("To m", "chainage"),
    ("Item", None),
    ("Material", None),
    ("Volume m3", "volume"),
    ("Mass t", "mass"),
    ("Length m", "length"),
    ("Area m2", "volume"),
    ("Not known over m", "length"),
]


def summary_rows(quantities: Quantities) -> list[list[Cell]]:
    """One row per item per treatment, then the totals."""

    def rows(group: QuantityGroup) -> list[list[Cell]]:
        return [
            [group.title, group.from_chainage, group.to_chainage, r.name, r.material, r.volume, r.mass, r.length, r.area,
             r.unknown_length or None]
            for r in group.rows
        ]  # fmt: skip

    return [row for group in (*quantities.groups, quantities.total) for row in rows(group)]


def section_rows(quantities: Quantities) -> list[list[Cell]]:
    """Areas per section, m2; a cell is empty where the area is not known."""
    return [[s.chainage, s.side, *s.areas] for s in quantities.sections]


def section_head(quantities: Quantities) -> list[tuple[str, Kind | None]]:
    """Headings of the areas per section."""
    return [("Chainage m", "chainage"), ("Side", None), *((f"{name} m2", "area") for name in quantities.columns)]


def quantities_csv(quantities: Quantities) -> str:
    """Summary, an empty row, then areas per section."""
    parts = ((SUMMARY, summary_rows(quantities)), (section_head(quantities), section_rows(quantities)))
    return "".join(rows_csv(head, rows) + "\r\n" for head, rows in parts)


def quantities_xlsx(quantities: Quantities) -> bytes:
    """A workbook with the sheets Summary and Sections."""
    return _book(
        [
            ("Summary", _written(SUMMARY), summary_rows(quantities)),
            ("Sections", _written(section_head(quantities)), section_rows(quantities)),
        ]
    )


def rows_csv(head: Sequence[tuple[str, Kind | None]], rows: Sequence[Sequence[Cell]]) -> str:
    """A table as CSV, every figure with the decimals of its kind. Raises ValueError for rows of another length."""
    return _csv(_written(head), rows)


def report_csv(table: ReportTable) -> str:
    """A report as CSV, every figure with the decimals of its column."""
    return _csv([(h.title, h.decimals if h.kind else None) for h in table.heads], table.rows)


def report_xlsx(table: ReportTable) -> bytes:
    """A report as a workbook: figures in full, shown with the decimals of their column; sums are bold."""
    heads = [(h.title, h.decimals if h.kind else None) for h in table.heads]
    return _book([(_SHEET_NAME.sub("-", table.name)[:31] or "Report", heads, table.rows)], {r + 2 for r in table.strong})


#: Characters that a worksheet's name may not hold (Office Open XML).
_SHEET_NAME = re.compile(r"[\[\]:*?/\\']")
#: A heading, and how many decimals the figures below it are written with, None for words.
_Head = tuple[str, int | None]


def _written(head: Sequence[tuple[str, Kind | None]]) -> list[_Head]:
    return [(title, None if kind is None else FIGURES[kind].decimals) for title, kind in head]


def _csv(head: Sequence[_Head], rows: Sequence[Sequence[Cell]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([_safe(title) for title, _ in head])
    decimals = [d for _, d in head]
    writer.writerows([[_text(cell, d) for cell, d in zip(row, decimals, strict=True)] for row in rows])
    return out.getvalue()


def problems_xlsx(problems: Sequence[Problem], left: Sequence[LeftProblem]) -> bytes:
    """One row per problem, those that are left with their reasons."""
    head: list[tuple[str, Kind | None]] = [
        ("From m", "chainage"), ("To m", "chainage"), ("Kind", None), ("Of", None), ("Problem", None), ("Left because", None),
    ]  # fmt: skip
    return rows_xlsx(
        "Problems",
        head,
        [[p.chainage_from, p.chainage_to, p.severity, p.subject, p.message, reason_for(p, left)] for p in problems],
    )


def rows_xlsx(title: str, head: Sequence[tuple[str, Kind | None]], rows: Sequence[Sequence[Cell]]) -> bytes:
    """A table as a workbook: figures in full, shown with the decimals of their kind."""
    return _book([(title, _written(head), rows)])


def _text(cell: Cell, decimals: int | None) -> str:
    if cell is None:
        return ""
    if isinstance(cell, str):
        return _safe(cell)
    assert decimals is not None
    return f"{cell:.{decimals}f}"


def _safe(text: str) -> str:
    """Text that a spreadsheet will not run as a formula."""
    return f"'{text}" if text.startswith(("=", "+", "-", "@")) else text


def _book(sheets: Sequence[tuple[str, Sequence[_Head], Sequence[Sequence[Cell]]]], bold: AbstractSet[int] = frozenset()) -> bytes:
    book = Workbook()
    book.remove(book.worksheets[0])
    for title, head, rows in sheets:
        _fill(book.create_sheet(title), head, rows, bold)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _fill(sheet: Worksheet, head: Sequence[_Head], rows: Sequence[Sequence[Cell]], bold: AbstractSet[int]) -> None:
    sheet.append([_safe(title) for title, _ in head])
    for row in rows:
        sheet.append([_safe(c) if isinstance(c, str) else c for c in row])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
        cell.alignment = Alignment(wrap_text=True, vertical="top")
    for number in bold:
        for cell in sheet[number]:
            cell.font = Font(bold=True)
    sheet.freeze_panes = "A2"
    for number, (_, decimals) in enumerate(head, start=1):
        sheet.column_dimensions[get_column_letter(number)].width = 24 if decimals is None else 14
        if decimals is not None:
            for row_number in range(2, len(rows) + 2):
                sheet.cell(row_number, number).number_format = "0." + "0" * decimals if decimals else "0"
