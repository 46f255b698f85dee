"""Section lines as files: a whole group as JSON, and chainage, angle and widths of its straight lines as CSV.

The JSON format is ours: {"format": "tin-saddle-section-lines", "version": 1, "group": {...}}; its schema is
docs/section-lines.schema.json. A newer version is refused, never half read.
"""

import csv
import io
import json
from collections.abc import Iterator, Sequence
from typing import Literal

import numpy as np
from pydantic import ValidationError

from saddle.alignment.equations import running, shown
from saddle.alignment.spec import ChainageEquation
from saddle.chainage import parse_chainage
from saddle.documents_base import Document
from saddle.errors import ImportProblem, SaddleError
from saddle.exchange.columns import refuse_feet
from saddle.exchange.json_file import read_json
from saddle.exchange.tables import rows_csv
from saddle.figures import Kind
from saddle.lines.place import CutLine
from saddle.lines.spec import MOST_LINES, MOST_SKEW, WIDEST, At, LineGroup
from saddle.quantities.reports.table import Cell

FORMAT, VERSION = "tin-saddle-section-lines", 1
HEAD: list[tuple[str, Kind | None]] = [
    ("Chainage m", "chainage"), ("Angle deg", "chainage"), ("Left m", "offset"), ("Right m", "offset"), ("Name", None), ("Remark", None),
]  # fmt: skip


class LinesFile(Document):
    """The file."""

    format: Literal["tin-saddle-section-lines"] = "tin-saddle-section-lines"
    version: Literal[1] = 1
    group: LineGroup


def write_lines(group: LineGroup) -> str:
    """A group as JSON."""
    return json.dumps(LinesFile(group=group).model_dump(mode="json"), indent=1, ensure_ascii=False) + "\n"


#: Equations of the alignment: files hold chainages as they are called.
Equations = Sequence[ChainageEquation]


def lines_csv(lines: tuple[CutLine, ...], equations: Equations = ()) -> str:
    """Straight lines across the road as rows; bent paths and runs have no angle and are left out."""
    rows: list[list[Cell]] = []
    for line in lines:
        if np.isfinite(line.angle_deg):
            along = line.along
            called = float(shown(np.array([line.chainage]), equations)[0])
            rows.append([called, line.angle_deg, -float(along[0]), float(along[-1]), line.name, line.remark])
    return rows_csv(HEAD, rows)


def read_lines(name: str, text: str, equations: Equations = ()) -> LineGroup:
    """A group out of either file. name: of the group that a CSV becomes. Raises ImportProblem naming row and field, also for a
    chainage that the equations leave out."""
    return _from_json(text) if text.lstrip().startswith("{") else _from_csv(name, text, equations)


def _from_json(text: str) -> LineGroup:
    data = read_json(text, FORMAT, VERSION, "a file of section lines")
    try:
        return LinesFile.model_validate(data).group
    except ValidationError as error:
        first = error.errors()[0]
        where = " › ".join(str(p + 1 if isinstance(p, int) else p) for p in first["loc"])
        raise ImportProblem(f"{where}: {first['msg'].removeprefix('Value error, ')}", where, "correct the file") from error


def _from_csv(name: str, text: str, equations: Equations) -> LineGroup:
    """Rows of chainage, angle, left, right, name, remark, of which only the first is needed; a heading may stand above."""
    text = text.removeprefix("\ufeff").replace("\r\n", "\n").replace("\r", "\n")
    head = text[:2000].splitlines()[:5]
    delimiter = next((d for d in "\t;" if any(d in line for line in head)), ",")
    lines: list[At] = []
    for number, cells in enumerate(_rows(text, delimiter), start=1):
        cells = [c.strip() for c in cells]
        if not any(cells):
            continue
        if number == 1 and not _numeric(cells[0], delimiter):
            refuse_feet(cells)
            continue
        if len(lines) == MOST_LINES:
            raise ImportProblem(f"the file has more than {MOST_LINES:,} lines", f"row {number}", "split it")
        lines.append(_row(number, [*cells, *[""] * 6], delimiter, equations))
    if not lines:
        raise ImportProblem("the file holds no section line", "file", "write a chainage a row, then angle and widths if wanted")
    return LineGroup(name=name[:80] or "Section lines", lines=list(lines))


def _rows(text: str, delimiter: str) -> Iterator[list[str]]:
    reader = csv.reader(io.StringIO(text), delimiter=delimiter)
    try:
        yield from reader
    except csv.Error as error:
        at = f"row {reader.line_num}"
        raise ImportProblem(f"{at} cannot be split into cells: {error}", at, "correct it") from error


def _numeric(cell: str, delimiter: str) -> bool:
    try:
        parse_chainage(_pointed(cell, delimiter))
    except SaddleError:
        return False
    return True


def _pointed(cell: str, delimiter: str) -> str:
    """A number with a decimal point, where commas do not divide the cells."""
    return cell.replace(",", ".") if delimiter != "," else cell


def _row(number: int, cells: list[str], delimiter: str, equations: Equations) -> At:
    where = f"row {number}"

    def figure(k: int, title: str, low: float, high: float) -> float | None:
        if not cells[k]:
            return None
        try:
            value = float(_pointed(cells[k], delimiter))
        except ValueError as error:
            raise ImportProblem(f"{where}, {title}: “{cells[k]:.30}” is not a number", where, "correct the row") from error
        if not low <= value <= high:
            raise ImportProblem(f"{where}, {title}: {value:g} is not between {low:g} and {high:g}", where, "correct the row")
        return value

    try:
        chainage = running(parse_chainage(_pointed(cells[0], delimiter)), equations, -np.inf, np.inf)[0]
    except SaddleError as error:
        raise ImportProblem(f"{where}, chainage: {error.message}", where, "write 1234.5 or 1+234.5") from error
    return At(
        chainage=chainage, angle_deg=figure(1, "angle", -MOST_SKEW, MOST_SKEW) or 0.0, left=figure(2, "left", 0, WIDEST),
        right=figure(3, "right", 0, WIDEST), name=cells[4][:80], remark=cells[5][:400],
    )  # fmt: skip
