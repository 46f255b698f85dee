"""Survey points from CSV: one point a row, checked whole before anything is kept."""

import csv
import io
import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Literal

from saddle.errors import ImportProblem
from saddle.exchange.point_rows import COMMENTS, cells_of, figure, is_number
from saddle.geometry.polylines import Floats

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
#: Characters of a line that are shown and looked at for columns; where the first column ends that nothing tells.
LONGEST, FIRST_BREAK = 2000, 8
#: A number with a decimal comma.
DECIMAL_COMMA = re.compile(r"[-+]?(?:\d+|\d{1,3}(?:[ .'’\u00a0\u202f]\d{3})+),\d+")


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
    table = list(cells_of(iter(head[skip:]), delimiter, breaks or ()))
    comma = (breaks is not None or delimiter != ",") and any(
        DECIMAL_COMMA.fullmatch(cell.strip()) for row in table for cell in row
    )
    first = [cell.strip().lower() for cell in table[0]]
    decimal: Literal[".", ","] = "," if comma else "."
    header = not any(is_number(cell, decimal) for cell in first)
    columns: dict[str, int | None] = dict.fromkeys(HEADINGS)
    if header:
        for field, words in HEADINGS.items():
            columns[field] = next((i for word in words for i, cell in enumerate(first) if _heading(cell) == word), None)
        _from_figures(columns, table[1:], decimal)
    else:
        usual = ("number", "east", "north", "level", "code", "line", "order")
        # Three figures, or three and a word: places without a number.
        bare = len(first) == 3 or (len(first) == 4 and not is_number(first[3], decimal))
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
        if i not in taken and len(cells) == len(rows) and all(is_number(c, decimal) for c in cells):
            size[i] = max(abs(figure(c, decimal)) for c in cells)
    for field in ("east", "north", "level"):
        at = columns[field]
        if size and at is not None and not any(is_number(row[at], decimal) for row in rows if at < len(row)):
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
    counts = [len(cells) for cells in cells_of(iter(head), delimiter)]
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


def write_csv(number: Iterable[str], xyz: Floats, code: Iterable[str], line: Iterable[str], order: Iterable[str]) -> str:
    """Points as the CSV that is read here. order: text, empty for points on no line."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(["number", "easting", "northing", "level", "code", "line", "order"])
    for row in zip(number, xyz.tolist(), code, line, order, strict=True):
        writer.writerow([row[0], *(f"{v:.6f}".rstrip("0").rstrip(".") for v in row[1]), *row[2:]])
    return out.getvalue()
