"""Quantities as tables for a spreadsheet: CSV and XLSX from the same rows."""

import csv
import io
import re
from collections.abc import Sequence
from collections.abc import Set as AbstractSet
from dataclasses import dataclass, field

from openpyxl import Workbook
from openpyxl.styles import Alignment, Font
from openpyxl.utils import get_column_letter
from openpyxl.worksheet.worksheet import Worksheet

from saddle.figures import FIGURES, Kind, with_decimals
from saddle.findings.left import LeftProblem, reason_for
from saddle.problem import Problem
from saddle.quantities.bill import ROUNDING, added_up, as_printed, identity
from saddle.quantities.reports.table import Cell, ReportTable
from saddle.quantities.takeoff import Quantities, QuantityGroup, QuantityRow

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
    ("Pieces", "count"),
    ("Not known over m", "length"),
]
#: The first column of the summary that holds a figure of a quantity.
FIRST_FIGURE = 5
#: What is said of the sum of several roads.
ALL_ROADS = "All roads"

#: Characters that a worksheet's name may not hold (Office Open XML).
_SHEET_NAME = re.compile(r"[\[\]:*?/\\']")
#: A heading, and how many decimals the figures below it are written with, None for words.
_Head = tuple[str, int | None]
#: What a workbook says of itself: names and words.
About = Sequence[tuple[str, str]]
#: Formulas by row below the heading and column, from 0.
Formulas = dict[tuple[int, int], str]


@dataclass(frozen=True, slots=True)
class _Sheet:
    """bold: numbers of rows as a spreadsheet counts them."""

    title: str
    head: Sequence[_Head]
    rows: Sequence[Sequence[Cell]]
    bold: AbstractSet[int] = frozenset()
    formulas: Formulas = field(default_factory=dict)


def summary_rows(quantities: Quantities) -> list[list[Cell]]:
    """One row per item per treatment, then the totals. quantities: as they are printed."""
    return [row for group in (*quantities.groups, quantities.total) for row in _group_rows(group)]


def _group_rows(group: QuantityGroup) -> list[list[Cell]]:
    return [[group.title, group.from_chainage, group.to_chainage, *_item_cells(r)] for r in group.rows]


def _item_cells(r: QuantityRow) -> list[Cell]:
    return [r.name, r.material, r.volume, r.mass, r.length, r.area, r.pieces, r.unknown_length or None]


def _figures(r: QuantityRow) -> list[int]:
    """Columns of the summary in which an item has a figure."""
    return [k for k, cell in enumerate(_item_cells(r), start=3) if k >= FIRST_FIGURE and cell is not None]


def section_rows(quantities: Quantities) -> list[list[Cell]]:
    """Areas per section, m2; a cell is empty where the area is not known."""
    return [[s.chainage, s.side, *s.areas] for s in quantities.sections]


def section_head(quantities: Quantities) -> list[tuple[str, Kind | None]]:
    """Headings of the areas per section."""
    return [("Chainage m", "chainage"), ("Side", None), *((f"{name} m2", "area") for name in quantities.columns)]


def quantities_csv(quantities: Quantities) -> str:
    """Summary, an empty row, then areas per section."""
    parts = ((SUMMARY, summary_rows(as_printed(quantities))), (section_head(quantities), section_rows(quantities)))
    return "".join(rows_csv(head, rows) + "\r\n" for head, rows in parts)


def quantities_xlsx(quantities: Quantities, about: About = ()) -> bytes:
    """A workbook with the sheets Summary, whose totals are formulas, Sections, and what it is about."""
    return _book(
        [
            _summary("Summary", as_printed(quantities)),
            _Sheet("Sections", _written(section_head(quantities)), section_rows(quantities)),
            _about((*about, ("Volumes", quantities.method), ("Rounding", ROUNDING))),
        ]
    )


def _summary(title: str, bill: Quantities) -> _Sheet:
    """The printed bill of a road, whose totals are formulas."""
    parts = [r for g in bill.groups for r in g.rows]
    formulas: Formulas = {}
    for k, total in enumerate(bill.total.rows):
        of = [i for i, r in enumerate(parts) if identity(r) == identity(total)]
        for column in _figures(total) if of else []:
            formulas[len(parts) + k, column] = _sum(column, of)
    bold = {len(parts) + k + 2 for k in range(len(bill.total.rows))}
    return _Sheet(title, _written(SUMMARY), summary_rows(bill), bold, formulas)


def roads_csv(bills: Sequence[tuple[str, Quantities]]) -> str:
    """The summaries of several roads by name, one below the other, and what they add up to."""
    printed = [(name, as_printed(found)) for name, found in bills]
    rows = [[name, *row] for name, bill in printed for row in summary_rows(bill)]
    total = added_up([bill.total.rows for _, bill in printed])
    rows += [[ALL_ROADS, None, None, None, *_item_cells(row)] for row in total]
    return rows_csv([("Road", None), *SUMMARY], rows)


def roads_xlsx(bills: Sequence[tuple[str, Quantities]], about: About = ()) -> bytes:
    """A workbook with the summary of every road on a sheet of its own, and before them one that adds their totals up by formulas."""
    printed = [(name, as_printed(found)) for name, found in bills]
    total = added_up([bill.total.rows for _, bill in printed])
    titles = distinct_titles([name for name, _ in printed])
    formulas: Formulas = {}
    for k, row in enumerate(total):
        cells: dict[int, list[str]] = {}
        for title, (_, bill) in zip(titles, printed, strict=True):
            above = sum(len(group.rows) for group in bill.groups)
            for i, own in enumerate(bill.total.rows):
                for column in _figures(own) if identity(own) == identity(row) else []:
                    cells.setdefault(column, []).append(f"'{title}'!{get_column_letter(column + 1)}{above + i + 2}")
        formulas |= {(k, column): f"=SUM({','.join(parts)})" for column, parts in cells.items()}
    return _book(
        [
            _Sheet(
                ALL_ROADS, _written(SUMMARY), [[ALL_ROADS, None, None, *_item_cells(row)] for row in total], formulas=formulas
            ),
            *(_summary(title, bill) for title, (_, bill) in zip(titles, printed, strict=True)),
            _about((*about, ("Volumes", printed[0][1].method), ("Rounding", ROUNDING))),
        ]
    )


def distinct_titles(names: Sequence[str]) -> list[str]:
    """Names as worksheets may be called, no two the same and none that of another sheet (31 characters at most, Office Open XML)."""
    taken = {ALL_ROADS.lower(), "about"}
    found = []
    for name in names:
        stem = _SHEET_NAME.sub("-", name).strip()[:31] or "Road"
        title = next(t for n in range(1, len(taken) + 2) if (t := stem if n == 1 else f"{stem[:27]} {n}").lower() not in taken)
        taken.add(title.lower())
        found.append(title)
    return found


def rows_csv(head: Sequence[tuple[str, Kind | None]], rows: Sequence[Sequence[Cell]]) -> str:
    """A table as CSV, every figure with the decimals of its kind. Raises ValueError for rows of another length."""
    return _csv(_written(head), rows)


def report_csv(table: ReportTable) -> str:
    """A report as CSV, every figure with the decimals of its column."""
    return _csv([(h.title, h.decimals if h.kind else None) for h in table.heads], table.rows)


def report_xlsx(table: ReportTable, about: About = ()) -> bytes:
    """A report as a workbook, figures shown with the decimals of their column; sums are bold, and like amounts they are formulas; a
    second sheet says what it is about."""
    heads = [(h.title, h.decimals if h.kind else None) for h in table.heads]
    formulas: Formulas = {at: _sum(at[1], of) for at, of in table.sums.items()}
    for (row, column), (one, other) in table.products.items():
        a, b = (f"{get_column_letter(k + 1)}{row + 2}" for k in (one, other))
        formulas[row, column] = f"=ROUND({a}*{b},{table.heads[column].decimals})"
    name = _SHEET_NAME.sub("-", table.name)[:31] or "Report"
    sheets = [_Sheet(name, heads, table.rows, {r + 2 for r in table.strong}, formulas)]
    if about:
        rounding = (("Rounding", ROUNDING),) if table.sums or table.products else ()
        note = (("Note", table.note),) if table.note else ()
        sheets.append(_about((*about, ("Report", table.name), *note, *rounding)))
    return _book(sheets)


def _sum(column: int, rows: Sequence[int]) -> str:
    """The formula of a sum of cells of a column, rows counted below the heading; neighbours as one range."""
    letter = get_column_letter(column + 1)
    runs: list[list[int]] = []
    for row in rows:
        if runs and runs[-1][1] == row - 1:
            runs[-1][1] = row
        else:
            runs.append([row, row])
    parts = [f"{letter}{a + 2}" if a == b else f"{letter}{a + 2}:{letter}{b + 2}" for a, b in runs]
    # A function takes 255 arguments at most (Office Open XML).
    while len(parts) > 200:
        parts = [f"SUM({','.join(parts[k : k + 200])})" for k in range(0, len(parts), 200)]
    return f"=SUM({','.join(parts)})"


def _about(facts: About) -> _Sheet:
    return _Sheet("About", [("About", None), ("", None)], [[name, said] for name, said in facts])


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
    return _book([_Sheet(title, _written(head), rows)])


def _text(cell: Cell, decimals: int | None) -> str:
    if cell is None:
        return ""
    if isinstance(cell, str):
        return _safe(cell)
    assert decimals is not None
    return with_decimals(cell, decimals)


def _safe(text: str) -> str:
    """Text that a spreadsheet will not run as a formula."""
    return f"'{text}" if text.startswith(("=", "+", "-", "@")) else text


def _book(sheets: Sequence[_Sheet]) -> bytes:
    book = Workbook()
    book.remove(book.worksheets[0])
    for sheet in sheets:
        _fill(book.create_sheet(sheet.title), sheet)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _fill(page: Worksheet, sheet: _Sheet) -> None:
    page.append([_safe(title) for title, _ in sheet.head])
    for i, row in enumerate(sheet.rows):
        page.append([sheet.formulas.get((i, k), _safe(c) if isinstance(c, str) else c) for k, c in enumerate(row)])
    for cell in page[1]:
        cell.font = Font(bold=True)
        cell.alignment = Alignment(wrap_text=True, vertical="top")
    for number in sheet.bold:
        for cell in page[number]:
            cell.font = Font(bold=True)
    page.freeze_panes = "A2"
    for number, (_, decimals) in enumerate(sheet.head, start=1):
        page.column_dimensions[get_column_letter(number)].width = 24 if decimals is None else 14
        if decimals is not None:
            for row_number in range(2, len(sheet.rows) + 2):
                page.cell(row_number, number).number_format = "0." + "0" * decimals if decimals else "0"
