"""A table of points read whole, with what nobody can know from it alone: which axis is which, which of two levels is meant, whose numbers
they are. All of that is asked before the file is taken in."""

from collections.abc import Callable

from saddle.exchange.columns import axes_said, candidates, degrees_said, two_levels, unit_said
from saddle.exchange.found import Axes, Doubt, Found
from saddle.exchange.placing import UNIT_WORDS
from saddle.exchange.point_rows import gathered, level_or_none, table_of
from saddle.exchange.systems import DEGREES, said_to_be
from saddle.geometry.polylines import Floats
from saddle.terrain.spec import ColumnMapping, FileUnit

#: Rows in which another column for the level is looked for.
LOOKED_AT = 50


def read_points(
    text: str, mapping: ColumnMapping, progress: Callable[[float], None], way: Floats | None, usual: FileUnit
) -> Found:
    """As saddle.exchange.point_rows.read, with the questions that the file leaves open. usual: unit of the project's files."""
    points = gathered(text, mapping, progress, whole_codes=mapping.grammar is not None)
    table, skipped = points.with_lines(way)
    heads, rows = _first_rows(text, mapping)
    axes, asked = _axes(heads, mapping)
    levels = _levels(heads, rows, mapping)
    said = unit_said([heads[i] for i in _places(mapping) if i < len(heads)]) if heads else None
    if levels:
        asked["two levels"] = levels
    feet = said == "foot" and mapping.unit != "metre"
    if feet and usual == "metre":
        asked["unit"] = f"its headings say feet and not of which kind: it was read in {UNIT_WORDS[mapping.unit]}"
    elif said is not None and said != mapping.unit and not feet:
        asked["unit"] = f"its headings say {UNIT_WORDS[said]}, and it was read in {UNIT_WORDS[mapping.unit]}"
    if points.twice:
        asked["numbers twice"] = (
            f"{points.twice:,} numbers stand at two places, as two crews may have given them: the later ones get a number of their own"
        )
    found = Found(table, [], [], skipped, mapping.unit, axes, asked)
    return said_to_be(found, DEGREES) if _in_degrees(heads, mapping) else found


def _places(mapping: ColumnMapping) -> tuple[int, int, int]:
    return mapping.east, mapping.north, mapping.level


def _in_degrees(heads: list[str], mapping: ColumnMapping) -> bool:
    """Whether the headings say longitude and latitude."""
    return max(mapping.east, mapping.north) < len(heads) and degrees_said(heads[mapping.east], heads[mapping.north])


def _first_rows(text: str, mapping: ColumnMapping) -> tuple[list[str], list[list[str]]]:
    """The headings, if there are any, and the rows behind them."""
    lines = text.split("\n", mapping.skip + LOOKED_AT)[mapping.skip : mapping.skip + LOOKED_AT]
    rows = table_of(lines, mapping.delimiter, mapping.breaks)
    return (rows[0] if mapping.header and rows else []), rows[1:]


def _axes(heads: list[str], mapping: ColumnMapping) -> tuple[Axes, dict[Doubt, str]]:
    """Who says which column is the easting, and why it is asked."""
    if max(mapping.east, mapping.north) >= len(heads):
        return "unsaid", {"northing first": "no heading says which column holds the eastings and which the northings"}
    east, north = heads[mapping.east], heads[mapping.north]
    if axes_said(east, north):
        return "said", {}
    return "unsaid", {
        "northing first": f"the headings “{east[:20]}” and “{north[:20]}” do not say which is the easting: "
        "in some countries X points to the east, in others to the north"
    }


def _levels(heads: list[str], rows: list[list[str]], mapping: ColumnMapping) -> str:
    """What is asked where another column may hold the level as well, nothing where none does."""
    taken = {mapping.number, mapping.east, mapping.north, mapping.code, mapping.line, mapping.order}
    others = [
        heads[i]
        for i in candidates(heads, "level")
        if i != mapping.level and i not in taken and _holds_figures([r[i] for r in rows if i < len(r)], mapping.decimal)
    ]
    if not others or mapping.level >= len(heads):
        return ""
    return two_levels(heads[mapping.level], others[0])


def _holds_figures(cells: list[str], decimal: str) -> bool:
    some = [c for c in cells if c.strip()]
    return bool(some) and all(level_or_none(c, decimal) is not None for c in some)
