"""Survey points from CSV: one point a row, checked whole before anything is kept."""

import csv
import io
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from saddle.errors import ImportProblem
from saddle.exchange.columns import Columns, by_headings, titles, unit_said, without_headings
from saddle.exchange.levelling import looks_like_a_sheet
from saddle.exchange.point_rows import COMMENTS, is_number, table_of
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import Along, FileUnit

#: Characters of a line that are shown and looked at for columns; where the first column ends that nothing tells.
LONGEST, FIRST_BREAK = 2000, 8
#: Figures that stand against one another have at least so many decimals.
LEAST_DECIMALS = 2
#: Decimal signs; a sign that may as well tell thousands apart.
Sign = Literal[".", ","]
SIGNS: tuple[Sign, ...] = (".", ",")
THOUSANDS = {sign: re.compile(rf"[-+]?\d{{1,3}}(?:{re.escape(sign)}\d{{3}})+") for sign in SIGNS}


@dataclass(frozen=True, slots=True)
class Preview:
    """The first rows of a file and the mapping guessed from them (None where a column was not found). skip: lines of a title before
    them; breaks: of fixed widths; lines: the rows as they stand in the file; unit: that the headings of coordinates say; along: whether it is a
    levelling sheet."""

    delimiter: str
    decimal: Sign
    rows: list[list[str]]
    columns: Columns
    header: bool
    skip: int = 0
    breaks: tuple[int, ...] = ()
    lines: tuple[str, ...] = ()
    unit: FileUnit | None = None
    along: Along = "no"


def preview(
    text: str, delimiter: str | None = None, skip: int | None = None, rows: int = 12, breaks: Sequence[int] | None = None
) -> Preview:
    """Guess header and columns from the beginning of a file; delimiter, and lines to be skipped, where they are not given. breaks: of a
    file of fixed widths, to be guessed where there are none of them."""
    head = text[:40_000].splitlines()[: (skip or 0) + rows + 1]
    if not any(line.strip() for line in head[skip or 0 :]):
        raise ImportProblem("the file is empty", hint="choose a file with one survey point a row")
    if delimiter is None:
        rows_of = [line for line in head if line.strip() and not line.startswith(COMMENTS)]
        delimiter = _delimiter(rows_of)
        divides = delimiter != " " and any(delimiter in line for line in rows_of)
        if breaks is None and not divides and (found := glued(head[skip or 0 :])):
            (skip, breaks), delimiter = found, " "
    if breaks is not None:
        skip = skip or 0
        breaks = breaks or widths_guessed(head[skip:])
    if skip is None:
        above = table_of(head, delimiter)
        sheet = next((k for k in range(len(above)) if looks_like_a_sheet(above[k:])[0] != "no"), None)
        skip = titles(above, delimiter) if sheet is None else sheet
    table = _without_empty_columns(table_of(head[skip:], delimiter, breaks or ()))
    by = "" if breaks else delimiter
    decimal, (header, columns) = max(
        ((sign, _guessed(table, sign, by)) for sign in SIGNS), key=lambda found: _speaks_for(table, found[1][1], found[0])
    )
    along, places = looks_like_a_sheet(table)
    if along != "no":
        columns = {**dict.fromkeys(columns), **places, **{f: columns[f] for f in ("level", "code") if f not in places}}
        if columns["code"] in places.values():
            columns["code"] = None
        header = True
    lines = tuple(line[:LONGEST].expandtabs(1) for line in head[skip:])
    names = [table[0][i] for f in ("east", "north", "level") if header and (i := columns[f]) is not None and i < len(table[0])]
    said = unit_said(names) if len(names) == 3 else None
    return Preview(delimiter, decimal, table, columns, header, skip, tuple(breaks or ()), lines, said, along)


def _guessed(table: list[list[str]], decimal: str, delimiter: str) -> tuple[bool, Columns]:
    """Whether the first row holds headings, and what the columns hold, with a decimal sign."""
    header = not any(is_number(cell.strip(), decimal) for cell in table[0])
    return header, by_headings(table, decimal) if header else without_headings(table, decimal, delimiter)


def _speaks_for(table: list[list[str]], columns: Columns, decimal: Sign) -> int:
    """How many figures of coordinates have a decimal sign that is it for sure; those of other columns say nothing of theirs. One that
    may as well tell thousands apart speaks less."""
    places = [columns[f] for f in ("east", "north", "level")]
    said = 0
    for row in table:
        for i in places:
            cell = row[i].strip() if i is not None and i < len(row) else ""
            if is_number(cell, decimal) and decimal in cell:
                said += 1 if THOUSANDS[decimal].fullmatch(cell) else 10
    return said


def _without_empty_columns(table: list[list[str]]) -> list[list[str]]:
    """Without the columns at the end in which nothing stands."""
    width = max((k for row in table for k, cell in enumerate(row, start=1) if cell.strip()), default=0)
    return [row[:width] for row in table]


def _delimiter(head: list[str]) -> str:
    """What divides the rows at the end alike: what comes before may be a title. A comma is it only where nothing rarer is: it may be the
    decimal sign."""
    for tail in (head[-max(2, len(head) // 2) :], head[-2:]):
        rare = next((d for d in "\t;|" if all(d in line for line in tail)), None)
        if rare is not None:
            return rare
        if all("," in line for line in tail) and not all(len(_words(line)) >= 3 for line in tail):
            return ","
        if all(len(_words(line)) >= 3 for line in tail):
            # Spaces about commas divide nothing; commas within figures are decimal signs.
            return "," if all(re.search(r",\s", line) or line.count(",") > len(_words(line)) for line in tail) else " "
    return ","


def _words(line: str) -> list[str]:
    """What stands between spaces; one that holds thousands together is none."""
    return re.split(r"[ \t]+", line.strip(" \t"))


def widths_guessed(lines: Sequence[str]) -> tuple[int, ...]:
    """Where columns of a fixed width begin: behind places that are blank in every line. Where there are none, one to begin with."""
    return _behind_blanks(lines) or (FIRST_BREAK,)


def _inked(lines: Sequence[str]) -> list[bool]:
    """By character whether anything stands there in some line."""
    longest = max((len(line) for line in lines), default=0)
    return [any(k < len(line) and not line[k].isspace() for line in lines) for k in range(min(longest, LONGEST))]


def _behind_blanks(lines: Sequence[str]) -> tuple[int, ...]:
    inked = _inked(lines)
    begins = [k for k in range(1, len(inked)) if inked[k] and not inked[k - 1]]
    first = next((k for k, ink in enumerate(inked) if ink), 0)
    return tuple(k for k in begins if k > first)[:100]


def glued(lines: Sequence[str]) -> tuple[int, tuple[int, ...]] | None:
    """Of a table whose figures stand in fixed widths without a blank between them: lines before the first one, headings among them, and
    where columns begin. All figures have as many decimals as the last one shows, and stand to the right of their columns, which begin
    where the one before ends: a longer figure further down, or one with a sign, is not cut. None where every figure stands for itself."""
    for sign in SIGNS:
        body = [k for k, line in enumerate(lines) if _holds_glued(line, sign)]
        rows = [lines[k] for k in body]
        if len(rows) < 2 or len(rows) < len(lines) // 2:
            continue
        points = [k for k in range(min(map(len, rows))) if all(row[k] == sign for row in rows)]
        if len(points) < 3:
            continue
        behind = [row[points[-1] + 1 :] for row in rows]
        decimals = min(len(text) - len(text.lstrip("0123456789")) for text in behind)
        ends = [p + 1 + decimals for p in points]
        whole = all(row[p + 1 : end].isdecimal() for row in rows for p, end in zip(points, ends, strict=True))
        if decimals < LEAST_DECIMALS or not whole or any(end > then for end, then in zip(ends, points[1:], strict=False)):
            continue
        inked = _inked(rows)
        begins = {end for end in ends if any(inked[end:])}
        behind_blanks = _behind_blanks(rows)
        for begin, after in zip(behind_blanks, [*behind_blanks[1:], len(inked)], strict=True):
            if not any(begin <= p < after for p in points):
                begins.add(begin)  # words stand to the left
                continue
            before = max(k + 1 for k in range(begin) if inked[k])
            figures = all(not row[before - 1].strip() or row[before - 1].isdecimal() for row in rows)
            begins.add(before if figures else (before + begin) // 2)
        # Blanks between two figures, or between a figure and a word, make one column and not two.
        return body[0], tuple(sorted(b for b in begins if b not in ends or not _blank_up_to_next(b, begins, inked)))
    return None


def _blank_up_to_next(begin: int, begins: set[int], inked: Sequence[bool]) -> bool:
    later = [b for b in begins if b > begin]
    return bool(later) and not any(inked[begin : min(later)])


def _holds_glued(line: str, sign: Sign) -> bool:
    """Whether two figures of a line stand against one another, or a figure against a word: a decimal sign comes twice where it does not
    tell thousands apart, or letters follow at once."""
    point = re.escape(sign)
    words = (w.strip("+-") for w in re.findall(rf"[-+\d{point}]+", line))
    if any(w.count(sign) >= 2 and not THOUSANDS[sign].fullmatch(w) for w in words):
        return True
    return re.search(rf"\d{point}\d+(?!(?:m|ft)\b)[^\W\d_]", line) is not None


def write_csv(number: Iterable[str], xyz: Floats, code: Iterable[str], line: Iterable[str], order: Iterable[str]) -> str:
    """Points as the CSV that is read here, in metres, which its headings say. order: text, empty for points on no line."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["number", "easting m", "northing m", "level m", "code", "line", "order"])
    for row in zip(number, xyz.tolist(), code, line, order, strict=True):
        writer.writerow([row[0], *(f"{v:.6f}".rstrip("0").rstrip(".") for v in row[1]), *row[2:]])
    return out.getvalue()
