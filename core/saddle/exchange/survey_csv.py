"""Survey points from CSV: one point a row, checked whole before anything is kept."""

import csv
import io
import itertools
import math
import re
from array import array
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from saddle.errors import ImportProblem
from saddle.exchange.field_codes import lines_from_codes
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import METRES_PER, ColumnMapping
from saddle.terrain.table import SkippedRow, SurveyTable

#: Words in a header row by which a column is recognised, in several languages, the surest first.
HEADINGS: dict[str, tuple[str, ...]] = {
    "number": (
        "number", "point", "name", "nr", "no", "id", "pt", "punkt", "punktnummer", "punktnr", "pnr", "matricule", "numéro", "numero",
        "punto", "ponto", "piste", "punktnamn",
    ),
    "east": ("easting", "east", "x", "e", "rechtswert", "rechts", "ostwert", "ost", "est", "este", "leste", "öst", "itä"),
    "north": ("northing", "north", "y", "n", "hochwert", "hoch", "nordwert", "nord", "norte", "norr", "pohjoinen"),
    "level": (
        "level", "height", "elevation", "elev", "altitude", "alt", "z", "h", "rl", "höhe", "hoehe", "cote", "cota", "quota", "hauteur",
        "altura", "hoogte", "kote", "höjd", "korkeus",
    ),
    "code": ("code", "feature", "description", "desc", "kode", "codice", "codigo", "código", "kod", "koodi", "objektart", "art"),
    "line": ("line", "string", "linie", "linea", "línea", "ligne", "linha"),
    "order": ("order", "sequence", "seq", "folge", "ordre", "orden"),
}  # fmt: skip
#: What stands where a figure is missing, in small letters.
NONE = (
    "n/a",
    "na",
    "none",
    "null",
    "nan",
    "-",
    "--",
    "-9999",
    "-9999.0",
    "-9999.00",
    "-9999.000",
    "-99999",
    "-999",
    "-999.0",
    "-999.000",
)


#: Between these no figure means none, and none is too large.
PLAIN = (-900.0, 1e8)
#: Characters of a line that are shown and looked at for columns; where the first column ends that nothing tells.
LONGEST, FIRST_BREAK = 2000, 8
#: What stands before a line that holds no point.
COMMENTS = ("#", "//")
#: A number with a decimal comma, and one whose thousands are told apart.
DECIMAL_COMMA = re.compile(r"[-+]?(?:\d+|\d{1,3}(?:[ .'’\u00a0\u202f]\d{3})+),\d+")
GROUPED = re.compile(r"[-+]?\d{1,3}([ '’\u00a0\u202f.,])\d{3}(?:\1\d{3})*(?:[.,]\d+)?")


@dataclass(frozen=True, slots=True)
class Preview:
    """The first rows of a file and the mapping guessed from them (None where a column was not found). skip: lines of a title before
    them; breaks: of fixed widths; lines: the rows as they stand in the file."""

    delimiter: str
    decimal: Literal[".", ","]
    rows: list[list[str]]
    columns: dict[str, int | None]
    header: bool
    skip: int = 0
    breaks: tuple[int, ...] = ()
    lines: tuple[str, ...] = ()


def preview(
    text: str, delimiter: str | None = None, skip: int | None = None, rows: int = 12, breaks: Sequence[int] | None = None
) -> Preview:
    """Guess header and columns from the beginning of a file; delimiter, and lines to be skipped, where they are not given. breaks: of a
    file of fixed widths, to be guessed where there are none of them."""
    head = text[:40_000].splitlines()[: (skip or 0) + rows + 1]
    if not any(line.strip() for line in head[skip or 0 :]):
        raise ImportProblem("the file is empty", hint="choose a file with one survey point a row")
    delimiter = delimiter or _delimiter([line for line in head if line.strip() and not line.startswith(COMMENTS)])
    if breaks is not None:
        skip = skip or 0
        breaks = breaks or widths_guessed(head[skip:])
    skip = _titles(head, delimiter) if skip is None else skip
    table = list(_cells(iter(head[skip:]), delimiter, breaks or ()))
    comma = (breaks is not None or delimiter != ",") and any(
        DECIMAL_COMMA.fullmatch(cell.strip()) for row in table for cell in row
    )
    first = [cell.strip().lower() for cell in table[0]]
    decimal: Literal[".", ","] = "," if comma else "."
    header = not any(_is_number(cell, decimal) for cell in first)
    columns: dict[str, int | None] = dict.fromkeys(HEADINGS)
    if header:
        for field, words in HEADINGS.items():
            columns[field] = next((i for word in words for i, cell in enumerate(first) if _heading(cell) == word), None)
        _from_figures(columns, table[1:], decimal)
    else:
        usual = ("number", "east", "north", "level", "code", "line", "order")
        # Three figures, or three and a word: places without a number.
        bare = len(first) == 3 or (len(first) == 4 and not _is_number(first[3], decimal))
        columns.update({field: i if i < len(first) else None for i, field in enumerate(usual[1:] if bare else usual)})
    lines = tuple(line[:LONGEST].expandtabs(1) for line in head[skip:])
    return Preview(delimiter, decimal, table, columns, header, skip, tuple(breaks or ()), lines)


def _heading(cell: str) -> str:
    """A heading without the unit in brackets and what is written behind it: "Easting (m)", "X_coord"."""
    word = re.split(r"[\s(\[_/.,:]", cell.strip(), maxsplit=1)[0]
    return word or cell.strip()


def _from_figures(columns: dict[str, int | None], rows: list[list[str]], decimal: str) -> None:
    """Places whose headings say nothing: of the columns of figures that are left, in their order, the two with the greatest figures are
    taken for east and north, the next one for the level."""
    taken = {i for i in columns.values() if i is not None}
    size: dict[int, float] = {}
    for i in range(len(rows[0]) if rows else 0):
        cells = [row[i].strip() for row in rows if i < len(row)]
        if i not in taken and len(cells) == len(rows) and all(_is_number(c, decimal) for c in cells):
            size[i] = max(abs(figure(c, decimal)) for c in cells)
    for field in ("east", "north", "level"):
        at = columns[field]
        if size and at is not None and not any(_is_number(row[at], decimal) for row in rows if at < len(row)):
            columns[field] = None  # a heading of one letter that means something else
    wanted = [f for f in ("east", "north", "level") if columns[f] is None]
    if not wanted or not size:
        return
    if columns["number"] is None and len(size) > len(wanted):
        first = next(iter(size))
        if all(row[first].strip().isdigit() for row in rows):
            columns["number"] = first
            del size[first]
    plan = [f for f in wanted if f != "level"]
    greatest = sorted(sorted(size, key=lambda i: -size[i])[: len(plan)])
    columns.update(zip(plan, greatest, strict=False))
    rest = [i for i in size if i not in greatest]
    if "level" in wanted and rest:
        columns["level"] = rest[0]


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


def _titles(head: list[str], delimiter: str) -> int:
    """Lines before the first one with as many cells as most have that may be points."""
    counts = [len(cells) for cells in _cells(iter(head), delimiter)]
    wide = [n for n in counts if n >= 3]
    usual = max(wide, key=lambda n: (wide.count(n), n), default=0)
    return next(k for k, n in enumerate(counts) if n >= usual)


def widths_guessed(lines: Sequence[str]) -> tuple[int, ...]:
    """Where columns of a fixed width begin: behind places that are blank in every line. Where there are none, one to begin with."""
    longest = max((len(line) for line in lines), default=0)
    inked = [any(k < len(line) and not line[k].isspace() for line in lines) for k in range(min(longest, LONGEST))]
    begins = [k for k in range(1, len(inked)) if inked[k] and not inked[k - 1]]
    first = next((k for k, ink in enumerate(inked) if ink), 0)
    return tuple(k for k in begins if k > first)[:100] or (FIRST_BREAK,)


class _Cut:
    """Rows of fixed widths, as a reader of CSV gives them. line_num: lines read so far."""

    def __init__(self, lines: Iterator[str], breaks: Sequence[int]) -> None:
        self._lines, self._parts = lines, list(itertools.pairwise((0, *breaks, None)))
        self.line_num = 0

    def __iter__(self) -> "_Cut":
        return self

    def __next__(self) -> list[str]:
        line = next(self._lines)
        self.line_num += 1
        return [line[a:b].strip() for a, b in self._parts]


def _cells(lines: Iterator[str], delimiter: str, breaks: Sequence[int] = ()) -> Any:
    """A reader of rows; several spaces between columns count as one. breaks: of fixed widths, in which the delimiter does not count."""
    if breaks:
        return _Cut(lines, breaks)
    return csv.reader(lines, delimiter=delimiter, skipinitialspace=delimiter == " ")


def _is_number(text: str, decimal: str = ".") -> bool:
    return figure_or_none(text, decimal) is not None


def figure_or_none(text: str, decimal: str) -> float | None:
    """As figure, None where there is none."""
    try:
        return figure(text.strip(), decimal)
    except ValueError:
        return None


def read(
    text: str, mapping: ColumnMapping, progress: Callable[[float], None] = lambda _: None, way: Floats | None = None
) -> tuple[SurveyTable, list[SkippedRow]]:
    """All rows that make a point, in metres, and those that do not with the reason.

    progress is told the share done, 0 to 1; way: of the road, see lines_from_codes. Raises ImportProblem when no row can be read at all, or where codes are to be taken apart
    and there are none.
    """
    number: list[str] = []
    xyz = array("d")
    code: list[str] = []
    line: list[str] = []
    order, row_of = array("q"), array("q")
    skipped: list[SkippedRow] = []
    seen: dict[str, int] = {}
    words: dict[str, str] = {}  # each kept once, however many rows say it
    total = text.count("\n") + 1
    reader = _cells(itertools.islice(_lines(text), mapping.skip, None), mapping.delimiter, mapping.breaks)
    columns = tuple((getattr(mapping, f), f) for f in ("east", "north", "level"))
    rows = iter(reader)
    if mapping.header:
        next(rows, None)
    while True:
        try:
            cells = next(rows)
        except StopIteration:
            break
        except csv.Error as error:
            skipped.append(SkippedRow(mapping.skip + reader.line_num, f"cannot be split into cells: {error}"))
            continue
        row = mapping.skip + reader.line_num
        if row % 20_000 == 0:
            progress(min(1.0, row / total))
        if not "".join(cells).strip():
            continue
        if cells[0].startswith(COMMENTS):
            skipped.append(SkippedRow(row, "is taken as a comment"))
            continue
        try:
            name = _cell(cells, mapping.number, "number") if mapping.number is not None else str(len(number) + 1)
            place = [_float(cells, column, f, mapping.decimal) for column, f in columns]
            if name in seen:
                raise ValueError(f"point number {name} is already in row {seen[name]}")
            line_id = "" if mapping.line is None else _cell(cells, mapping.line, "line", needed=False)
            sequence = "" if mapping.order is None else _cell(cells, mapping.order, "order", needed=False)
            if sequence and not _is_number(sequence):
                raise ValueError(f"order “{sequence[:40]}” is not a number")
            feature = _cell(cells, mapping.code, "code", needed=False)
        except ValueError as error:
            skipped.append(SkippedRow(row, str(error)))
            continue
        seen[name] = row
        number.append(name)
        xyz.extend(place)
        code.append(words.setdefault(feature, feature))
        line.append(words.setdefault(line_id, line_id))
        order.append(int(float(sequence)) if sequence and math.isfinite(float(sequence)) else len(order))
        row_of.append(row)
    if not number:
        reason = f"; row {skipped[0].row}: {skipped[0].reason}" if skipped else ""
        raise ImportProblem(f"no row holds a survey point{reason}", hint="check the columns and the delimiter")
    places = METRES_PER[mapping.unit] * np.frombuffer(xyz).reshape(-1, 3)
    table = SurveyTable(number, places, code, line, np.array(order), np.array(row_of))
    if mapping.grammar is None:
        return table, skipped
    with_lines, told = lines_from_codes(table, mapping.grammar, way)
    return with_lines, skipped + told


def _cell(cells: list[str], column: int | None, name: str, needed: bool = True) -> str:
    if column is None:
        return ""
    text = cells[column].strip() if column < len(cells) else ""
    if needed and not text:
        raise ValueError(f"{name} is missing")
    if len(text) > 80:
        raise ValueError(f"{name} is longer than 80 characters")
    return text


def figure(text: str, decimal: str) -> float:
    """A number with this decimal sign; signs between its thousands do not count. Raises ValueError."""
    grouped = GROUPED.fullmatch(text)
    if grouped and grouped[1] != decimal:
        text = text.replace(grouped[1], "")
    return float(text.replace(decimal, "."))


def _lines(text: str) -> Iterator[str]:
    """Lines with their ends, one after another: a list of them would take more room than the text."""
    start = 0
    while start < len(text):
        end = text.find("\n", start) + 1 or len(text)
        yield text[start:end]
        start = end


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
    if text.lower() in NONE:
        raise ValueError(f"{name} is missing: “{text}” stands for none")
    try:
        value = figure(text, decimal)
    except ValueError:
        raise ValueError(f"{name} “{text[:40]}” is not a number") from None
    if not math.isfinite(value):
        raise ValueError(f"{name} “{text[:40]}” is not a finite number")
    if abs(value) > 1e8:
        raise ValueError(f"{name} {text[:40]} is too large to be a coordinate")
    return value


def write_csv(number: Iterable[str], xyz: Floats, code: Iterable[str], line: Iterable[str], order: Iterable[str]) -> str:
    """Points as the CSV that is read here. order: text, empty for points on no line."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["number", "easting", "northing", "level", "code", "line", "order"])
    for row in zip(number, xyz.tolist(), code, line, order, strict=True):
        writer.writerow([row[0], *(f"{v:.6f}".rstrip("0").rstrip(".") for v in row[1]), *row[2:]])
    return out.getvalue()
