"""Rows of points out of text: one point a row, checked whole before anything is kept."""

import csv
import itertools
import math
import re
from array import array
from bisect import bisect_left
from collections.abc import Callable, Iterator, Sequence

import numpy as np

from saddle.errors import ImportProblem
from saddle.exchange.field_codes import lines_from_codes
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import METRES_PER, ColumnMapping
from saddle.terrain.table import SkippedRow, SurveyTable

#: What stands where a figure is missing, in small letters: words, dashes, and a minus with nines, by common practice.
NONE = re.compile(r"n/?a|none|null|nan|-+|-9{3,}(?:[.,](?:0+|9+))?")
#: A level with what some programs write about it: RL 101.23, H=101.23, 101.23 m.
LEVEL = re.compile(r"(?:rl|el|lvl|level|h|z)?\s*[:=]?\s*([-+]?[\d.,'’\u00a0\u202f ]*\d)\s*m?", re.IGNORECASE)
#: Between these no figure means none, and none is too large.
PLAIN = (-900.0, 1e8)
#: What stands before a line that holds no point.
COMMENTS = ("#", "//")
#: A number whose thousands are told apart.
GROUPED = re.compile(r"[-+]?\d{1,3}([ '’\u00a0\u202f.,])\d{3}(?:\1\d{3})*(?:[.,]\d+)?")
#: A point whose number is taken is the same one within this, in the file's unit.
SAME_PLACE = 0.001
#: What stands between quotation marks goes on over no more rows than this; the sign for inches.
LONGEST_QUOTE, INCH = 20, "\u2033"
#: Characters of text that are read at once where all of its rows are plain; the longest row that is, the longest cell.
BLOCK, LONGEST_ROW, LONGEST_CELL = 1_000_000, 10_000, 80


def is_number(text: str, decimal: str = ".") -> bool:
    return figure_or_none(text, decimal) is not None


def figure_or_none(text: str, decimal: str) -> float | None:
    """As figure, None where there is none."""
    try:
        return figure(text.strip(), decimal)
    except ValueError:
        return None


def level_or_none(text: str, decimal: str) -> float | None:
    """As figure_or_none, of a level that may have a word before it or a unit behind it."""
    found = LEVEL.fullmatch(text.strip())
    return figure_or_none(found[1], decimal) if found else None


def rows_of_cells(lines: Iterator[str], delimiter: str, breaks: Sequence[int] = ()) -> Iterator[tuple[int, list[str], str]]:
    """Rows with the number of their last line, from 1; several spaces between columns count as one. A row that cannot be split has no
    cells, and why. breaks: of fixed widths, in which the delimiter does not count."""
    if breaks:
        parts = list(itertools.pairwise((0, *breaks, None)))
        for number, line in enumerate(lines, start=1):
            yield number, [line[a:b].strip() for a, b in parts], ""
        return
    reader = csv.reader(lines, delimiter=delimiter, skipinitialspace=delimiter == " ")
    while True:
        try:
            cells = next(reader)
        except StopIteration:
            return
        except csv.Error as error:
            yield reader.line_num, [], f"cannot be split into cells: {error}"
        else:
            yield reader.line_num, cells, ""


def table_of(lines: Sequence[str], delimiter: str, breaks: Sequence[int] = ()) -> list[list[str]]:
    """The first rows of a file as they are looked at; what cannot be split is told when all rows are read."""
    return [cells for _, cells, why in rows_of_cells(iter(lines), delimiter, breaks) if not why]


def read(
    text: str, mapping: ColumnMapping, progress: Callable[[float], None] = lambda _: None, way: Floats | None = None
) -> tuple[SurveyTable, list[SkippedRow]]:
    """All rows that make a point, in metres, and those that do not with the reason.

    progress is told the share done, 0 to 1; way: of the road, see lines_from_codes. Raises ImportProblem when no row can be read at all,
    or where codes are to be taken apart and there are none.
    """
    found = gathered(text, mapping, progress, whole_codes=mapping.grammar is not None)
    return found.with_lines(way)


def points_of(
    text: str, mapping: ColumnMapping, progress: Callable[[float], None] = lambda _: None, *, whole_codes: bool = False
) -> tuple[SurveyTable, list[SkippedRow]]:
    """As `read`, but no code is taken apart. whole_codes: they are to be later, so that in rows divided by spaces a code goes on to the end
    of its row."""
    points = gathered(text, mapping, progress, whole_codes=whole_codes)
    return points.table(), points.skipped


def gathered(text: str, mapping: ColumnMapping, progress: Callable[[float], None], *, whole_codes: bool) -> "Points":
    """The points of a text, and what was noticed. As `points_of`."""
    points = Points(mapping, whole_codes=whole_codes)
    text = without_inch_marks(text, mapping.delimiter)
    start, row = 0, 0
    for _ in range(mapping.skip):
        start, row = _end_of_line(text, start), row + 1
    # What stands in quotes may go on in the next row: such a text is read in one go.
    whole = '"' in text or bool(mapping.breaks)
    header = mapping.header
    while start < len(text):
        end = len(text) if whole else _end_of_line(text, start if header else min(start + BLOCK, len(text)) - 1)
        if header or whole or not points.plain(text[start:end], row):
            points.one_by_one(_lines(text, start, end), row, lambda at: progress(at / len(text)), start, header=header)
        row += text.count("\n", start, end)
        start, header = end, False
        progress(start / len(text))
    if not points.number:
        reason = f"; row {points.skipped[0].row}: {points.skipped[0].reason}" if points.skipped else ""
        raise ImportProblem(f"no row holds a survey point{reason}", hint="check the columns and the delimiter")
    return points


def without_inch_marks(text: str, delimiter: str) -> str:
    """A text in whose rows a quotation mark that opens and does not close stands for inches: it would swallow the rows below. It is taken
    for quotation where what follows up to the next mark does not look like rows of points."""
    if '"' not in text:
        return text
    lines = text.split("\n")
    k = 0
    while k < len(lines):
        if lines[k].count('"') % 2:
            close = next((j for j in range(k + 1, min(k + LONGEST_QUOTE, len(lines))) if '"' in lines[j]), None)
            between = lines[k + 1 : close] if close is not None else []
            if close is None or any(_figures(line, delimiter) >= 3 for line in [*between, lines[close].split('"')[0]]):
                lines[k] = lines[k].replace('"', INCH)
            else:
                k = close
        k += 1
    return "\n".join(lines)


def _figures(line: str, delimiter: str) -> int:
    return sum(any(is_number(cell, sign) for sign in ".,") for cell in line.split(delimiter) if cell.strip())


class Points:
    """Points as they are gathered. twice: how many numbers stand at two places."""

    def __init__(self, mapping: ColumnMapping, *, whole_codes: bool) -> None:
        self.mapping = mapping
        self.columns = tuple((getattr(mapping, f), f) for f in ("east", "north", "level"))
        before = [c for c in (mapping.number, mapping.east, mapping.north, mapping.level) if c is not None]
        spaces = whole_codes and mapping.delimiter == " " and not mapping.breaks
        #: The column of the codes where all that stands behind it belongs to them.
        self.rest = mapping.code if spaces and mapping.code is not None and mapping.code > max(before) else None
        self.number: list[str] = []
        self.xyz = array("d")
        self.code: list[str] = []
        self.line: list[str] = []
        self.order, self.row_of = array("q"), array("q")
        self.skipped: list[SkippedRow] = []
        #: Where each number stands.
        self.seen: dict[str, int] = {}
        self.twice = 0
        #: How often each of those numbers was met.
        self.again: dict[str, int] = {}
        #: Each word kept once, however many rows say it.
        self.words: dict[str, str] = {}

    def table(self) -> SurveyTable:
        places = METRES_PER[self.mapping.unit] * np.frombuffer(self.xyz).reshape(-1, 3)
        return SurveyTable(self.number, places, self.code, self.line, np.array(self.order), np.array(self.row_of))

    def one_by_one(self, lines: Iterator[str], before: int, progress: Callable[[int], None], start: int, *, header: bool) -> None:
        """Rows that need a look each. before: rows above the first; start: where they begin in the text."""
        mapping = self.mapping
        read = 0

        def counted() -> Iterator[str]:
            nonlocal read
            for line in lines:
                read += len(line)
                yield line

        for line, cells, why in rows_of_cells(counted(), mapping.delimiter, mapping.breaks):
            row = before + line
            if why:
                self.skipped.append(SkippedRow(row, why))
                continue
            if header:
                header = False
                continue
            if row % 20_000 == 0:
                progress(start + read)
            if not "".join(cells).strip():
                continue
            if cells[0].startswith(COMMENTS):
                self.skipped.append(SkippedRow(row, "is taken as a comment"))
                continue
            try:
                self._add(cells, row)
            except ValueError as error:
                self.skipped.append(SkippedRow(row, str(error)))

    def _add(self, cells: list[str], row: int) -> None:
        """Raises ValueError with the reason for a row that holds no point."""
        mapping, number = self.mapping, self.number
        name = _cell(cells, mapping.number, "number") if mapping.number is not None else str(len(number) + 1)
        place = [_float(cells, column, f, mapping.decimal) for column, f in self.columns]
        if name in self.seen:
            name = self._again(name, place, row)
        line_id = "" if mapping.line is None else _cell(cells, mapping.line, "line", needed=False)
        sequence = "" if mapping.order is None else _cell(cells, mapping.order, "order", needed=False)
        if sequence and not is_number(sequence):
            raise ValueError(f"order “{sequence[:40]}” is not a number")
        if self.rest is not None:
            cells = [*cells[: self.rest], " ".join(cells[self.rest :])]
        feature = _cell(cells, mapping.code, "code", needed=False)
        self.seen[name] = row
        number.append(name)
        self.xyz.extend(place)
        self.code.append(self.words.setdefault(feature, feature))
        self.line.append(self.words.setdefault(line_id, line_id))
        at = len(self.order)
        self.order.append(int(float(sequence)) if sequence and math.isfinite(float(sequence)) else at)
        self.row_of.append(row)

    def with_lines(self, way: Floats | None) -> tuple[SurveyTable, list[SkippedRow]]:
        """As they are, or with lines made from their codes where the mapping says how."""
        if self.mapping.grammar is None:
            return self.table(), self.skipped
        made, told = lines_from_codes(self.table(), self.mapping.grammar, way)
        return made, self.skipped + told

    def _again(self, name: str, place: Sequence[float], row: int) -> str:
        """A number of its own for a point whose number is taken, as two crews may have given it. Raises ValueError where it is the same
        point once more."""
        at = bisect_left(self.row_of, self.seen[name])
        if max(abs(a - b) for a, b in zip(self.xyz[3 * at : 3 * at + 3], place, strict=True)) < SAME_PLACE:
            raise ValueError(f"point {name} is in row {self.seen[name]} already, at the same place")
        times = self.again.get(name, 1) + 1
        while f"{name}-{times}" in self.seen:
            times += 1
        self.again[name] = times
        self.twice += 1
        self.skipped.append(
            SkippedRow(
                row, f"number {name} is in row {self.seen[name]} too, at another place: this point is called {name}-{times}"
            )
        )
        return f"{name}-{times}"

    def plain(self, block: str, before: int) -> bool:
        """A block of rows of which each is as plain as can be, all at once: far quicker than one by one, and the same. False, and nothing
        taken, where any is not. before: rows above the first."""
        mapping, count = self.mapping, len(self.number)
        if block.count("\r") != block.count("\r\n") or "\0" in block:
            return False
        d = mapping.delimiter
        if d == " ":
            block = re.sub(" +(?=[ \r\n])", "", block).removesuffix(" ")
        lines = block.removesuffix("\n").replace("\r", "").split("\n")
        longest, divided = max(map(len, lines)), {line.count(d) for line in lines}
        if longest > LONGEST_ROW or (d == " " and any(line[:1] == " " for line in lines)):
            return False
        if self.rest is not None:
            width = self.rest + 1
            if min(divided) < self.rest:
                return False
            cells = [list(column) for column in zip(*(line.split(d, self.rest) for line in lines), strict=True)]
        elif len(divided) == 1:
            # One list of all cells: a list for each row would take most of the time.
            width = divided.pop() + 1
            flat = d.join(lines).split(d)
            cells = [flat[k::width] for k in range(width)]
        else:
            return False
        wanted = (mapping.number, *(c for c, _ in self.columns), mapping.code, mapping.line, mapping.order)
        if max(c for c in wanted if c is not None) >= width:
            return False
        if any(mark in block for mark in COMMENTS) and any(c.startswith(COMMENTS) for c in cells[0]):
            return False
        number, code, line, order = (
            _words(cells, c, longest) for c in (mapping.number, mapping.code, mapping.line, mapping.order)
        )
        places = [_floats(cells[c], mapping.decimal) for c, _ in self.columns]
        if number is None or code is None or line is None or order is None or any(p is None for p in places):
            return False
        n = len(lines)
        names = number if mapping.number is not None else [str(count + k) for k in range(1, n + 1)]
        if not all(names) or len(set(names)) != n or not self.seen.keys().isdisjoint(names):
            return False
        if any(order):
            if not all(o.isascii() and o.isdigit() and len(o) < 16 for o in order):
                return False
            sequence = [int(o) for o in order]
        else:
            sequence = list(range(count, count + n))
        self.seen.update(zip(names, range(before + 1, before + n + 1), strict=True))
        self.number += names
        self.xyz.frombytes(np.column_stack([p for p in places if p is not None]).tobytes())
        kept = {word: self.words.setdefault(word, word) for word in {*code, *line}}
        self.code += map(kept.__getitem__, code)
        self.line += map(kept.__getitem__, line)
        self.order.extend(sequence)
        self.row_of.extend(range(before + 1, before + n + 1))
        return True


def _words(cells: Sequence[Sequence[str]], column: int | None, longest: int) -> list[str] | None:
    """A column of words, None where one is too long; empty where there is no column. longest: of the rows."""
    words = [""] * len(cells[0]) if column is None else [c.strip() for c in cells[column]]
    return words if longest <= LONGEST_CELL or max(map(len, words)) <= LONGEST_CELL else None


def _floats(cells: Sequence[str], decimal: str) -> Floats | None:
    """A column of figures, None where one is not plain."""
    if decimal != ".":
        if any("." in c for c in cells):
            return None
        cells = [c.replace(decimal, ".") for c in cells]
    try:
        values = np.fromiter(map(float, cells), float, len(cells))
    except ValueError:
        return None
    return values if ((PLAIN[0] < values) & (values < PLAIN[1])).all() else None


def _cell(cells: list[str], column: int | None, name: str, needed: bool = True) -> str:
    if column is None:
        return ""
    text = cells[column].strip() if column < len(cells) else ""
    if needed and not text:
        raise ValueError(f"{name} is missing")
    if len(text) > LONGEST_CELL:
        raise ValueError(f"{name} is longer than {LONGEST_CELL} characters")
    return text


def figure(text: str, decimal: str) -> float:
    """A number with this decimal sign; signs between its thousands do not count. Raises ValueError."""
    grouped = GROUPED.fullmatch(text)
    if grouped and grouped[1] != decimal:
        text = text.replace(grouped[1], "")
    return float(text.replace(decimal, "."))


def _end_of_line(text: str, start: int) -> int:
    """Where the line ends in which a place lies, behind its end."""
    return text.find("\n", start) + 1 or len(text)


def _lines(text: str, start: int, end: int) -> Iterator[str]:
    """Lines with their ends, one after another: a list of them would take more room than the text."""
    while start < end:
        stop = _end_of_line(text, start)
        yield text[start:stop]
        start = stop


def _float(cells: list[str], column: int, name: str, decimal: str) -> float:
    # Nearly all figures are plain ones, and there may be millions.
    try:
        if decimal == ".":
            value = float(cells[column])
        else:
            plain = cells[column]
            value = math.nan if "." in plain else float(plain.replace(decimal, "."))
        if PLAIN[0] < value < PLAIN[1]:
            return value
    except (ValueError, IndexError):
        pass  # told below
    text = _cell(cells, column, name)
    if NONE.fullmatch(text.lower()):
        raise ValueError(f"{name} is missing: “{text}” stands for none")
    reads = level_or_none if name == "level" else figure_or_none
    found = reads(text, decimal)
    if found is None:
        raise ValueError(f"{name} “{text[:40]}” is not a number")
    value = found
    if not math.isfinite(value):
        raise ValueError(f"{name} “{text[:40]}” is not a finite number")
    if abs(value) > 1e8:
        raise ValueError(f"{name} {text[:40]} is too large to be a coordinate")
    return value
