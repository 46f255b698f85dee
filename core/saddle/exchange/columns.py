"""Which column of a table of points holds what: guessed from its headings, then from what stands in them. The person may change it."""

import re
from collections.abc import Sequence

from saddle.errors import ImportProblem
from saddle.exchange.point_rows import figure, figure_or_none, is_number, level_or_none
from saddle.terrain.spec import FileUnit

#: Words of headings that say that a place is in degrees.
DEGREES: dict[str, tuple[str, ...]] = {
    "east": ("longitude", "lon", "lng", "longitud"), "north": ("latitude", "lat", "latitud"),
}  # fmt: skip
#: Words in a header row by which a column is recognised, in several languages, the surest first.
HEADINGS: dict[str, tuple[str, ...]] = {
    "number": (
        "number", "point", "name", "nr", "no", "id", "pt", "pnt", "punkt", "pkt", "punktnummer", "punktnr", "pktnr", "ptnr", "ptno", "pnr", "matricule", "numéro",
        "numero", "punto", "ponto", "piste", "punktnamn", "p",
    ),
    "east": (
        "easting", "east", "x", "e", "rechtswert", "rechts", "ostwert", "ost", "est", "este", "leste", "öst", "itä", "xcoord",
        *DEGREES["east"],
    ),
    "north": ("northing", "north", "y", "n", "hochwert", "hoch", "nordwert", "nord", "norte", "norr", "pohjoinen", "ycoord", *DEGREES["north"]),
    "level": (
        "level", "height", "elevation", "elev", "altitude", "alt", "z", "h", "rl", "höhe", "hoehe", "cote", "cota", "quota", "hauteur",
        "altura", "hoogte", "kote", "höjd", "korkeus", "zcoord",
    ),
    "code": (
        "code", "feature", "description", "desc", "descr", "kode", "codice", "codigo", "código", "kod", "koodi", "objektart", "art", "key", "type",
    ),
    "line": ("line", "string", "linie", "linea", "línea", "ligne", "linha"),
    "order": ("order", "sequence", "seq", "folge", "ordre", "orden"),
}  # fmt: skip
#: Words that say nothing of a column beside another word: line no, point id.
WEAK = ("number", "name", "nr", "no", "id")
#: Words of a heading that say what its figures are counted in.
UNITS = ("m", "mm", "ft", "feet", "usft", "metre", "metres", "meter", "coord", "coordinate", "koord", "koordinate")
#: And which unit they say.
UNIT_WORDS: dict[FileUnit, tuple[str, ...]] = {
    "metre": ("m", "metre", "metres", "meter", "meters"), "foot": ("ft", "feet", "foot"),
    "us_survey_foot": ("usft", "ussurveyfoot", "ussft", "ftus"),
}  # fmt: skip
#: The usual order of columns without headings.
USUAL = ("number", "east", "north", "level", "code", "line", "order")
#: A word of so many letters or more is recognised within another one: Punktcode, Linienart.
WITHIN = 4
Columns = dict[str, int | None]


def by_headings(rows: Sequence[Sequence[str]], decimal: str) -> Columns:
    """Columns of a table whose first row holds headings."""
    columns = by_names(rows[0], tuple(HEADINGS))
    body = rows[1:]
    _from_figures(columns, body, decimal)
    _from_words(columns, body, decimal)
    return columns


def by_names(names: Sequence[str], fields: Sequence[str]) -> Columns:
    """Which of some names says each field, None where none does; every one says one field at most."""
    columns: Columns = dict.fromkeys(fields)
    heads = [_words(name) for name in names]
    for sure in (_whole, _last, _first, _within):
        for field in fields:
            if columns[field] is None:
                taken = set(columns.values())
                free = [(i, head) for i, head in enumerate(heads) if head and i not in taken]
                columns[field] = next((i for word in HEADINGS[field] for i, head in free if sure(head, word)), None)
    return columns


def _words(cell: str) -> list[str]:
    """A heading in words without its unit: "Easting (m)", "X_coord", "H1"; weak ones only where nothing else is."""
    words = re.findall(r"[^\W\d_]+", cell.lower())
    words = [w for w in words if w not in UNITS] or words
    return [w for w in words if w not in WEAK] or words[:1]


#: Words that only say which of two axes of a picture is meant: in some countries X points to the north.
EITHER = ("x", "y", "xcoord", "ycoord")


def axes_said(east: str, north: str) -> bool:
    """Whether the headings of two columns say which holds the eastings."""
    named = {f: tuple(w for w in HEADINGS[f] if w not in EITHER) for f in ("east", "north")}
    heads = {"east": _words(east), "north": _words(north)}
    return any(_says(heads[f], named[f]) for f in heads)


def candidates(names: Sequence[str], field: str) -> list[int]:
    """All of some names that may say a field."""
    return [i for i, name in enumerate(names) if _says(_words(name), HEADINGS[field])]


def _says(head: Sequence[str], words: Sequence[str]) -> bool:
    return bool(head) and any(sure(list(head), word) for sure in (_whole, _last, _first, _within) for word in words)


def unit_said(names: Sequence[str]) -> FileUnit | None:
    """The unit that the headings of coordinates say, all the same one: easting m, N (ft), Level [usft], E (US ft). Feet that are not said
    to be US survey feet may be either kind."""
    said = {_unit(re.findall(r"[^\W\d_]+", name.lower())[1:]) for name in names}
    return said.pop() if len(said) == 1 else None


def refuse_feet(names: Sequence[str]) -> None:
    """Raises ImportProblem where the headings of a table along the road say another unit than metres."""
    for name in names:
        if _unit(re.findall(r"[^\W\d_]+", name.lower())[1:]) in ("foot", "us_survey_foot"):
            raise ImportProblem(
                f"the heading “{name.strip():.40}” says feet, and tables along the road are in metres",
                "row 1",
                "convert the column first",
            )


def _unit(words: Sequence[str]) -> FileUnit | None:
    """The unit among the words of a heading behind its first one."""
    found = next((unit for unit, known in UNIT_WORDS.items() if set(words) & set(known)), None)
    return "us_survey_foot" if found == "foot" and {"us", "survey"} & set(words) else found


def degrees_said(east: str, north: str) -> bool:
    """Whether the headings of two columns say that they are longitudes and latitudes."""
    return any(_says(_words(name), DEGREES[field]) for field, name in (("east", east), ("north", north)))


def two_levels(taken: str, other: str) -> str:
    """What is asked where two columns or properties may be the level."""
    return f"the level is taken from “{taken[:20]}”; “{other[:20]}” may be meant as well"


def _whole(head: list[str], word: str) -> bool:
    return head == [word]


def _last(head: list[str], word: str) -> bool:
    return head[-1] == word


def _first(head: list[str], word: str) -> bool:
    return head[0] == word


def _within(head: list[str], word: str) -> bool:
    return len(word) >= WITHIN and word not in WEAK and (head[-1].endswith(word) or head[0].startswith(word))


def _figures(rows: Sequence[Sequence[str]], decimal: str) -> dict[int, float]:
    """Columns that hold a figure in every row, with the greatest of them."""
    out: dict[int, float] = {}
    for i in range(len(rows[0]) if rows else 0):
        cells = [row[i].strip() for row in rows if i < len(row)]
        if len(cells) == len(rows) and all(is_number(c, decimal) for c in cells):
            out[i] = max(abs(figure(c, decimal)) for c in cells)
    return out


def _from_figures(columns: Columns, rows: Sequence[Sequence[str]], decimal: str) -> None:
    """Places whose headings say nothing: of the columns of figures that are left, in their order, the two with the greatest figures are
    taken for east and north, the next one for the level."""
    taken = {i for i in columns.values() if i is not None}
    size = {i: greatest for i, greatest in _figures(rows, decimal).items() if i not in taken}
    for field in ("east", "north", "level"):
        at = columns[field]
        reads = level_or_none if field == "level" else figure_or_none
        if size and at is not None and all(reads(row[at], decimal) is None for row in rows if at < len(row)):
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


def _from_words(columns: Columns, rows: Sequence[Sequence[str]], decimal: str) -> None:
    """A code whose heading says nothing: the first column left in which most rows hold a word."""
    if columns["code"] is not None:
        return
    taken = set(columns.values())
    for i in range(max((len(row) for row in rows), default=0)):
        cells = [row[i].strip() for row in rows if i < len(row)]
        said = [c for c in cells if c and not is_number(c, decimal)]
        if i not in taken and 2 * len(said) > len(rows) and len(set(said)) < max(2, len(said)):
            columns["code"] = i
            return


def without_headings(rows: Sequence[Sequence[str]], decimal: str, delimiter: str) -> Columns:
    """Columns of a table of points alone: a number first, or the places first with a number behind them or without one."""
    first = [cell.strip() for cell in rows[0]]
    size = _figures(rows, decimal)
    broken = any(decimal in row[0] for row in rows if row)
    # Three figures, or three and a word: places without a number. So are figures that no number of a point would be.
    bare = len(first) == 3 or (len(first) == 4 and not is_number(first[3], decimal))
    bare = bare or (broken and all(i in size for i in range(3)) and 10 * size[0] > max(size[1], size[2]))
    order = [*USUAL]
    words = [row[0].strip() for row in rows if row]
    if not bare and len(first) > 4 and not any(is_number(w, decimal) for w in words) and len(set(words)) < len(words):
        # A word in front that stands in several rows is a code and no number.
        order = ["code", *USUAL[:4], *USUAL[5:]]
    if bare:
        behind = [row[3].strip() for row in rows if len(row) > 4]
        numbered = len(behind) == len(rows) == len(set(behind)) and all(c.isdigit() for c in behind)
        order = ["east", "north", "level", *(["number"] if numbered else []), "code", "line", "order"]
    if delimiter == " ":
        # What stands behind a code by a space is said by the code.
        order = order[: order.index("code") + 1]
    return {field: order.index(field) if field in order[: len(first)] else None for field in HEADINGS}


def titles(rows: Sequence[Sequence[str]], delimiter: str) -> int:
    """Rows before the headings, or before the first point where there are none."""

    def figures(row: Sequence[str]) -> int:
        return sum(any(is_number(cell.strip(), sign) for sign in ".,") for cell in row if cell.strip())

    point = next((k for k, row in enumerate(rows) if len(row) >= 3 and figures(row) >= 3), None)
    if point is None:
        widths = [len(row) for row in rows if len(row) >= 3]
        usual = max(widths, key=lambda n: (widths.count(n), n), default=0)
        return next(k for k, row in enumerate(rows) if len(row) >= usual)
    above = next((k for k in reversed(range(point)) if "".join(rows[k]).strip()), None)
    if above is None or figures(rows[above]):
        return point
    head = rows[above]
    known = {word for words in HEADINGS.values() for word in words}
    says = sum(not known.isdisjoint(_words(cell)) for cell in head if cell.strip())
    fits = len(head) >= 3 and (len(head) == len(rows[point]) or (delimiter != " " and len(head) >= len(rows[point]) - 1))
    return above if says >= 2 or fits else point
