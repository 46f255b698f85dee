"""Quantities as tables for a spreadsheet: CSV and XLSX from the same rows."""

import csv
import io
from collections.abc import Sequence

from openpyxl import Workbook
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from saddle.figures import FIGURES, Kind
from saddle.findings.left import LeftProblem, reason_for
from saddle.problem import Problem
from saddle.quantities.takeoff import Quantities, QuantityGroup

Cell = str | float | None
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
        [("Summary", SUMMARY, summary_rows(quantities)), ("Sections", section_head(quantities), section_rows(quantities))]
    )


def rows_csv(head: Sequence[tuple[str, Kind | None]], rows: Sequence[Sequence[Cell]]) -> str:
    """A table as CSV, every figure with the decimals of its kind. Raises ValueError for rows of another length."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow([title for title, _ in head])
    kinds = [kind for _, kind in head]
    writer.writerows([[_text(cell, kind) for cell, kind in zip(row, kinds, strict=True)] for row in rows])
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
    return _book([(title, head, rows)])


def _text(cell: Cell, kind: Kind | None) -> str:
    if cell is None:
        return ""
    if isinstance(cell, str):
        return _safe(cell)
    assert kind is not None
    return f"{cell:.{FIGURES[kind].decimals}f}"


def _safe(text: str) -> str:
    """Text that a spreadsheet will not run as a formula."""
    return f"'{text}" if text.startswith(("=", "+", "-", "@")) else text


def _book(sheets: Sequence[tuple[str, Sequence[tuple[str, Kind | None]], Sequence[Sequence[Cell]]]]) -> bytes:
    book = Workbook()
    book.remove(book.worksheets[0])
    for title, head, rows in sheets:
        _fill(book.create_sheet(title), head, rows)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _fill(sheet: Worksheet, head: Sequence[tuple[str, Kind | None]], rows: Sequence[Sequence[Cell]]) -> None:
    sheet.append([title for title, _ in head])
    for row in rows:
        sheet.append([_safe(c) if isinstance(c, str) else c for c in row])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
        cell.alignment = Alignment(wrap_text=True, vertical="top")
    sheet.freeze_panes = "A2"
    for number, (_, kind) in enumerate(head, start=1):
        sheet.column_dimensions[get_column_letter(number)].width = 24 if kind is None else 14
        if kind is not None:
            decimals = FIGURES[kind].decimals
            for row_number in range(2, len(rows) + 2):
                sheet.cell(row_number, number).number_format = "0." + "0" * decimals if decimals else "0"
