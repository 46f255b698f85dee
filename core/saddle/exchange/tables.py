"""Quantities as tables for a spreadsheet: CSV and XLSX from the same rows."""

import csv
import io

from openpyxl import Workbook
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from saddle.quantities.takeoff import Quantities, QuantityGroup

Cell = str | float | None
SUMMARY_HEAD = [
    "Treatment",
    "From m",
    "To m",
    "Item",
    "Material",
    "Volume m3",
    "Mass t",
    "Length m",
    "Area m2",
    "Not known over m",
]
NUMBER_FORMAT = "0.000"


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


def section_head(quantities: Quantities) -> list[str]:
    return ["Chainage m", "Side", *(f"{name} m2" for name in quantities.columns)]


def quantities_csv(quantities: Quantities) -> str:
    """Summary, an empty row, then areas per section."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    for head, rows in ((SUMMARY_HEAD, summary_rows(quantities)), (section_head(quantities), section_rows(quantities))):
        writer.writerow(head)
        writer.writerows([[f"{c:.4f}" if isinstance(c, float) else ("" if c is None else _safe(c)) for c in r] for r in rows])
        writer.writerow([])
    return out.getvalue()


def quantities_xlsx(quantities: Quantities) -> bytes:
    """A workbook with the sheets Summary and Sections."""
    book = Workbook()
    first = book.active
    assert isinstance(first, Worksheet)
    first.title = "Summary"
    _fill(first, SUMMARY_HEAD, summary_rows(quantities))
    _fill(book.create_sheet("Sections"), section_head(quantities), section_rows(quantities))
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def rows_csv(head: list[str], rows: list[list[float | None]]) -> str:
    """A plain table as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(head)
    writer.writerows([["" if c is None else f"{c:g}" if abs(c) < 1e5 else f"{c:.3f}" for c in r] for r in rows])
    return out.getvalue()


def rows_xlsx(title: str, head: list[str], rows: list[list[float | None]]) -> bytes:
    """A plain table as a workbook."""
    book = Workbook()
    sheet = book.active
    assert isinstance(sheet, Worksheet)
    sheet.title = title
    _fill(sheet, head, [list(r) for r in rows])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _safe(text: str) -> str:
    """Text that a spreadsheet will not run as a formula."""
    return f"'{text}" if text[:1] in "=+-@" else text


def _fill(sheet: Worksheet, head: list[str], rows: list[list[Cell]]) -> None:
    sheet.append(head)
    for row in rows:
        sheet.append([_safe(c) if isinstance(c, str) else c for c in row])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
        cell.alignment = Alignment(wrap_text=True, vertical="top")
    sheet.freeze_panes = "A2"
    for number in range(1, len(head) + 1):
        sheet.column_dimensions[get_column_letter(number)].width = 24 if number in (4, 5) and head is SUMMARY_HEAD else 14
    for cells in sheet.iter_rows(min_row=2):
        for cell in cells:
            if isinstance(cell.value, float):
                cell.number_format = NUMBER_FORMAT
