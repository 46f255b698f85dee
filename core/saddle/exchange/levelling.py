"""Levelling sheets: levels by chainage and offset along the alignment, in many places the only survey that an old road has.

Either a row for each level (chainage, offset, level, and a code if there is one), or a row for each chainage, with the offsets in the
heads of the columns. Levels of one offset make a line along the road.
"""

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from saddle.alignment.alignment import build
from saddle.alignment.equations import running
from saddle.alignment.spec import AlignmentSpec
from saddle.chainage import parse_chainage
from saddle.errors import ImportProblem, SaddleError
from saddle.exchange.columns import candidates
from saddle.exchange.found import Found
from saddle.exchange.point_rows import COMMENTS, NONE, figure_or_none, level_or_none, rows_of_cells
from saddle.terrain.spec import METRES_PER, Along, ColumnMapping
from saddle.terrain.table import SkippedRow, SurveyTable

#: Heads of columns that hold chainages and offsets, as letters only, in several languages.
CHAINAGE = (
    "chainage",
    "station",
    "sta",
    "ch",
    "km",
    "pk",
    "stationierung",
    "stationing",
    "pikett",
    "progressiva",
    "estaca",
    "kilometer",
)
OFFSET = (
    "offset",
    "abstand",
    "deport",
    "dist",
    "distance",
    "os",
    "querabstand",
    "afstand",
    "avstand",
    "scostamento",
    "distancia",
)
#: Sides in letters: left is negative.
SIDES = {"l": -1.0, "lt": -1.0, "left": -1.0, "li": -1.0, "r": 1.0, "rt": 1.0, "right": 1.0, "re": 1.0}
#: Levels of one offset make a line where there are so many of them; the code of those on the alignment, and of the others.
ON_A_LINE, CENTRE, BESIDE = 3, "CL", "LV"
#: An offset farther than that is none, m.
FARTHEST = 500.0


@dataclass(frozen=True, slots=True)
class Reading:
    """A level of a sheet: chainage as it is called, offset and level, in the file's unit."""

    row: int
    chainage: float
    offset: float
    level: float
    code: str


def letters(head: str) -> str:
    return "".join(re.findall(r"[^\W\d_]+", head.lower().removesuffix("m").strip()))


def looks_like_a_sheet(rows: Sequence[Sequence[str]]) -> tuple[Along, dict[str, int]]:
    """Whether a table that begins with its heads is a levelling sheet: "rows", "offsets" or "no", with the columns of chainage and
    offset. One with coordinates is none, and neither is a row of points whose code is PK or CH: a chainage stands below its head."""
    heads = rows[0] if rows else []
    along, places = _by_heads(heads)
    below = next((row for row in rows[1:] if "".join(row).strip()), None)
    if along == "no" or below is None:
        return "no", {}
    try:
        _chainage(_cell(below, places["east"]), "," if "," in _cell(below, places["east"]) else ".")
    except ValueError:
        return "no", {}
    return along, places


def _by_heads(heads: Sequence[str]) -> tuple[Along, dict[str, int]]:
    if candidates(heads, "east") and candidates(heads, "north"):
        return "no", {}
    words = [letters(h) for h in heads]
    chainage = next((i for i, w in enumerate(words) if w in CHAINAGE), None)
    if chainage is None:
        return "no", {}
    offset = next((i for i, w in enumerate(words) if w in OFFSET), None)
    if offset is not None:
        return "rows", {"east": chainage, "north": offset}
    if sum(offset_of(h) is not None for i, h in enumerate(heads) if i != chainage) >= 2:
        return "offsets", {"east": chainage, "north": chainage, "level": chainage}
    return "no", {}


def offset_of(text: str, decimal: str = ".") -> float | None:
    """An offset as it is written, positive to the right: -3.5, 3.5L, L 3.50, R3,5 m, CL."""
    plain = text.strip().lower().removesuffix("m").strip()
    if plain in ("cl", "c/l", "axis", "0"):
        return 0.0
    found = re.fullmatch(r"([a-z]*)\s*([-+]?\d+(?:[.,]\d+)?)\s*([a-z]*)", plain.replace("−", "-"))
    if found is None:
        return None
    side = found[1] or found[3]
    if (found[1] and found[3]) or (side and side not in SIDES):
        return None
    value = figure_or_none(found[2].replace(",", "."), ".")
    return None if value is None or abs(value) > FARTHEST else value * SIDES.get(side, 1.0)


def read_levelling(text: str, mapping: ColumnMapping, alignment: AlignmentSpec | None) -> Found:
    """The points of a sheet, in plan where the alignment has them. mapping: its easting is the chainage, its northing the offset. Raises
    ImportProblem without an alignment, and where no row holds a level."""
    if alignment is None:
        raise ImportProblem(
            "a levelling sheet lies along the alignment, and there is none yet", "alignment", "make or import the alignment first"
        )
    line, factor = build(alignment), METRES_PER[mapping.unit]
    skipped: list[SkippedRow] = []
    readings: list[Reading] = []
    places: list[float] = []
    for found in _readings(text, mapping, skipped):
        try:
            at = running(found.chainage * factor, alignment.equations, line.start, line.end)
        except SaddleError:
            at = []
        if len(at) != 1:
            why = "lies beyond the alignment" if not at else "stands for several places, as chainages jump"
            skipped.append(SkippedRow(found.row, f"chainage {found.chainage:g} {why}"))
        else:
            readings.append(found)
            places.append(at[0])
    if not readings:
        first = f"; row {skipped[0].row}: {skipped[0].reason}" if skipped else ""
        raise ImportProblem(
            f"no row holds a level{first}", "file", "say which column holds the chainage, the offset and the level"
        )
    offset = np.array([r.offset for r in readings]) * factor
    frames = line.frames(np.array(places))
    plan = frames.origin + offset[:, None] * frames.to_right
    xyz = np.column_stack([plan, np.array([r.level for r in readings]) * factor])
    return Found(_table(readings, places, xyz), [], [], skipped, mapping.unit, "said")


def _table(readings: Sequence[Reading], places: Sequence[float], xyz: np.ndarray) -> SurveyTable:
    """Numbers tell place and offset; lines run along the road through levels of one code and offset."""
    named = [
        (r.code or (CENTRE if r.offset == 0 else BESIDE), f"{'L' if r.offset < 0 else 'R'}{abs(r.offset):.10g}") for r in readings
    ]
    times = Counter(named)
    order = np.argsort(np.argsort(places, kind="stable"), kind="stable")
    seen: Counter[str] = Counter()
    numbers = []
    for r in readings:
        number = f"{r.chainage:.10g}/{r.offset:+.10g}"
        seen[number] += 1
        numbers.append(number if seen[number] == 1 else f"{number}-{seen[number]}")
    lines = [name if times[code, name] >= ON_A_LINE else "" for code, name in named]
    return SurveyTable(numbers, xyz, [code for code, _ in named], lines, order, np.array([r.row for r in readings]))


def _readings(text: str, mapping: ColumnMapping, skipped: list[SkippedRow]) -> Iterator[Reading]:
    rows = text.split("\n")[mapping.skip :]
    head: list[str] = []
    for line, cells, why in rows_of_cells(iter(rows), mapping.delimiter, mapping.breaks):
        k = mapping.skip + line
        if why:
            skipped.append(SkippedRow(k, why))
            continue
        if k == mapping.skip + 1 and mapping.header:
            head = cells
            continue
        if not "".join(cells).strip() or cells[0].startswith(COMMENTS):
            continue
        try:
            chainage = _chainage(_cell(cells, mapping.east), mapping.decimal)
            if mapping.along == "offsets":
                yield from _row(k, chainage, cells, head, mapping, skipped)
            else:
                yield _one(k, chainage, cells, mapping)
        except ValueError as error:
            skipped.append(SkippedRow(k, str(error)))


def _one(row: int, chainage: float, cells: Sequence[str], mapping: ColumnMapping) -> Reading:
    said = _cell(cells, mapping.north)
    offset = offset_of(said, mapping.decimal)
    if offset is None:
        raise ValueError(f"offset “{said[:40]}” is none")
    code = "" if mapping.code is None else _cell(cells, mapping.code)[:80]
    return Reading(row, chainage, offset, _level(_cell(cells, mapping.level), mapping.decimal), code)


def _row(
    row: int, chainage: float, cells: Sequence[str], head: Sequence[str], mapping: ColumnMapping, skipped: list[SkippedRow]
) -> Iterator[Reading]:
    """The levels of one chainage, each at the offset that stands above it; an empty cell is none."""
    for i, cell in enumerate(cells):
        offset = offset_of(head[i], mapping.decimal) if i < len(head) and i != mapping.east else None
        if offset is None or not cell.strip():
            continue
        try:
            yield Reading(row, chainage, offset, _level(cell.strip(), mapping.decimal), "")
        except ValueError as error:
            skipped.append(SkippedRow(row, f"at offset {offset:g}: {error}"))


def _cell(cells: Sequence[str], column: int) -> str:
    return cells[column].strip() if column < len(cells) else ""


def _chainage(text: str, decimal: str) -> float:
    try:
        return parse_chainage(text.replace(",", ".") if decimal == "," else text)
    except SaddleError:
        raise ValueError(f"chainage “{text[:40]}” is none") from None


def _level(text: str, decimal: str) -> float:
    value = None if NONE.fullmatch(text.lower()) else level_or_none(text, decimal)
    if value is None or abs(value) > 1e5:
        raise ValueError(f"level “{text[:40]}” is none")
    return value
