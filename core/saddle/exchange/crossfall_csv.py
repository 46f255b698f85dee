"""Crossfalls as CSV: chainage, left and right percent; any of comma, semicolon or tab, with or without a heading."""

import csv
import io

from saddle.errors import ImportProblem
from saddle.exchange.columns import refuse_feet
from saddle.overlay.spec import CrossfallRow, CrossfallTable

HEAD = ["Chainage m", "Left %", "Right %"]


def write_crossfalls(table: CrossfallTable) -> str:
    """The table as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(HEAD)
    writer.writerows([f"{r.chainage:.3f}", f"{r.left_pct:.3f}", f"{r.right_pct:.3f}"] for r in table.rows)
    return out.getvalue()


def read_crossfalls(text: str) -> CrossfallTable:
    """Raises ImportProblem naming the line. Rows may stand in any order; a chainage that is there twice is refused."""
    rows: list[CrossfallRow] = []
    seen: dict[float, int] = {}
    for number, line in enumerate(text.replace("\ufeff", "").splitlines(), start=1):
        if not line.strip():
            continue
        mark = next((d for d in (";", "\t", ",") if d in line), ",")
        try:
            values = [_number(cell, pct=k > 0) for k, cell in enumerate(line.split(mark)[:3])]
        except ValueError:
            if not rows and number == 1:
                refuse_feet(line.split(mark))
                continue
            raise ImportProblem(
                f"line {number}: three numbers are needed", f"line {number}", "chainage, left %, right %"
            ) from None
        if len(values) < 3:
            raise ImportProblem(f"line {number}: three numbers are needed", f"line {number}", "chainage, left %, right %")
        if values[0] in seen:
            raise ImportProblem(
                f"line {number}: chainage {values[0]:g} stands on line {seen[values[0]]} too", f"line {number}", "take one out"
            )
        seen[values[0]] = number
        try:
            rows.append(CrossfallRow(chainage=values[0], left_pct=values[1], right_pct=values[2]))
        except ValueError:
            raise ImportProblem(f"line {number}: a crossfall lies between −20 and 20 %", f"line {number}", "correct it") from None
    if not rows:
        raise ImportProblem("there are no crossfalls in the file", "line 1", "chainage, left %, right % on each line")
    return CrossfallTable(rows=sorted(rows, key=lambda r: r.chainage))


def _number(cell: str, *, pct: bool) -> float:
    """A number as people type it: decimal comma, real minus sign, percent sign; a chainage also as 1+234.5."""
    text = cell.strip().replace(",", ".").replace("−", "-")
    return float(text.rstrip("% ")) if pct else float(text.replace("+", ""))
