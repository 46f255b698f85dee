"""The level table as a workbook with live formulas, out and in again.

The column Adopted is for the person; grade, change of grade and the speed it suits follow from it by formulas, and a
change above the limit is coloured. Coming back, only chainage and adopted level are read.
"""

import io
from dataclasses import dataclass

import numpy as np
from openpyxl import Workbook
from openpyxl.formatting.rule import FormulaRule
from openpyxl.styles import Font, PatternFill
from openpyxl.worksheet.worksheet import Worksheet

from saddle.errors import ImportProblem
from saddle.exchange.columns import refuse_feet
from saddle.exchange.workbook import rows_of
from saddle.figures import FIGURES, rounded_up
from saddle.overlay.spec import LevelRow, LevelTable
from saddle.road.levels import Levels
from saddle.standards.spec import SpeedTable

HEAD = ["Chainage m", "Existing m", "Lowest m", "Adopted m", "Over lowest mm", "Grade in %", "Change %", "Suits km/h"]
SHEET = "Levels"
#: Rows that are read, with the headings.
MOST_ROWS = 20_001
#: Levels nearer than this are the same, m.
SAME = 5e-4


@dataclass(frozen=True, slots=True)
class Change:
    """An adopted level that differs from what is there. before: m, None where there is none."""

    chainage: float
    before: float | None
    after: float


def write_levels(levels: Levels, limits: SpeedTable, speed_kmh: float) -> bytes:
    """A workbook. Adopted is the table's level, else the design's, rounded up to what is written. limits: greatest change of
    grade by speed, %. What the formulas judge by stands in cells beside the table, where a person may change it."""
    book = Workbook()
    sheet = book.active
    assert isinstance(sheet, Worksheet)
    sheet.title = SHEET
    sheet.append(HEAD)
    rows = np.flatnonzero(np.isfinite(levels.design) | np.isfinite(levels.adopted))
    adopted = np.where(np.isfinite(levels.adopted), levels.adopted, rounded_up(levels.design, "level"))
    last, fastest = len(rows) + 1, 1 + len(limits.rows)
    allowed, speeds = f"$L$2:$L${fastest}", f"$K$2:$K${fastest}"
    for r, i in enumerate(rows, start=2):
        known = [float(v[i]) if np.isfinite(v[i]) else None for v in (levels.existing, levels.lowest)]
        sheet.append([float(levels.chainage[i]), *known, float(adopted[i])])
        if known[1] is not None:
            sheet[f"E{r}"] = f"=$O$4*(D{r}-C{r})"
        if r > 2:
            sheet[f"F{r}"] = f"=100*(D{r}-D{r - 1})/(A{r}-A{r - 1})"
        if 2 < r < last:
            sheet[f"G{r}"] = f"=F{r + 1}-F{r}"
            sheet[f"H{r}"] = f"=IFERROR(INDEX({speeds},MATCH(TRUE,INDEX(ABS(G{r})<={allowed}+$O$2,0),0)),0)"
        for column, form in zip("ABCDEFG", ("0.000", "0.000", "0.000", "0.000", "0", "0.000", "0.000"), strict=True):
            sheet[f"{column}{r}"].number_format = form
    _judged_by(sheet, limits, speed_kmh)
    if last > 2:
        sheet.conditional_formatting.add(
            f"G2:G{last}", FormulaRule(["ABS(G2)>$O$1+$O$2"], fill=PatternFill("solid", bgColor="F3C9C2"))
        )
        sheet.conditional_formatting.add(f"E2:E{last}", FormulaRule(["E2<-$O$3"], fill=PatternFill("solid", bgColor="E3C6DC")))
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    sheet.freeze_panes = "B2"
    for column in "ABCDEFGHKL":
        sheet.column_dimensions[column].width = 14
    sheet.column_dimensions["N"].width = 34
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _judged_by(sheet: Worksheet, limits: SpeedTable, speed_kmh: float) -> None:
    """The cells that the formulas read: speeds from the fastest with the change of grade they allow, the limit of this road, and
    by how much a figure may pass its limit, half a unit of its last digit."""
    sheet["K1"], sheet["L1"] = "Speed km/h", "Change up to %"
    for r, figure in enumerate(limits.rows[::-1], start=2):
        sheet[f"K{r}"], sheet[f"L{r}"] = figure.speed_kmh, figure.value
    depth = FIGURES["depth"]
    for r, (words, value) in enumerate(
        (
            (f"Change allowed at {speed_kmh:g} km/h, %", limits.at(speed_kmh)),
            ("A change may pass its limit by, %", FIGURES["grade"].half),
            ("A level may lie below the lowest by, mm", depth.half * depth.scale),
            ("Millimetres in a metre", depth.scale),
        ),
        start=1,
    ):
        sheet[f"N{r}"], sheet[f"O{r}"] = words, value


def read_levels(data: bytes, there: LevelTable) -> tuple[LevelTable, list[Change]]:
    """The table of a workbook, and what it would change. Pins stay. Raises ImportProblem naming the row."""
    pinned = {round(r.chainage, 3) for r in there.rows if r.pinned}
    rows: list[LevelRow] = []
    table = rows_of(data, SHEET)
    refuse_feet([cell for cell in table[0] if isinstance(cell, str)] if table else [])
    for number, cells in enumerate(table[1:MOST_ROWS], start=2):
        chainage, adopted = cells[0] if cells else None, cells[3] if len(cells) > 3 else None
        if chainage is None and adopted is None:
            continue
        if not isinstance(chainage, int | float) or not isinstance(adopted, int | float):
            raise ImportProblem(
                f"row {number}: chainage and adopted level must be numbers", f"row {number}", "correct the row or empty it"
            )
        if rows and chainage <= rows[-1].chainage:
            raise ImportProblem(
                f"row {number}: chainage {chainage:g} does not come after the row before", f"row {number}", "sort by chainage"
            )
        rows.append(LevelRow(chainage=float(chainage), level=float(adopted), pinned=round(float(chainage), 3) in pinned))
    if len(rows) < 2:
        raise ImportProblem("there are no levels in the workbook", "row 2", "keep the columns as they were saved")
    old = {round(r.chainage, 3): r.level for r in there.rows}
    changes = [
        Change(r.chainage, old.get(round(r.chainage, 3)), r.level)
        for r in rows
        if abs(old.get(round(r.chainage, 3), np.inf) - r.level) > SAME
    ]
    return LevelTable(rows=rows), changes
