"""Everything that reads a file which somebody sends, one function a purpose: they take the bytes and give plain data, so that whoever
calls them may do so in a process of its own (`READERS` are all of them).

A new format is a match in `format_of` and a case in `read_survey`.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field, replace
from pathlib import PurePath
from typing import Any, Literal, assert_never

from saddle.alignment.spec import AlignmentSpec, ChainageEquation
from saddle.errors import ImportProblem
from saddle.exchange.ascii_grid import is_grid, read_grid
from saddle.exchange.bundle import Bundle, read_bundle
from saddle.exchange.coded import Coded, coded
from saddle.exchange.crossfall_csv import read_crossfalls
from saddle.exchange.dxf.read import DrawingFound, look_dxf
from saddle.exchange.dxf.spec import DrawingMapping
from saddle.exchange.found import Found
from saddle.exchange.geojson import read_geojson
from saddle.exchange.geopackage import is_geopackage, read_geopackage
from saddle.exchange.geotiff import is_tiff, read_geotiff
from saddle.exchange.landxml_read import read_landxml
from saddle.exchange.level_sheet import read_levels
from saddle.exchange.levelling import read_levelling
from saddle.exchange.lines_file import read_lines
from saddle.exchange.maps import is_map, read_map
from saddle.exchange.no_levels import without_levels_of_none
from saddle.exchange.placing import Reading
from saddle.exchange.point_cloud import is_cloud, read_cloud
from saddle.exchange.point_file import read_points
from saddle.exchange.survey_csv import Preview, preview
from saddle.exchange.systems import counts_in, into, said_to_be
from saddle.exchange.text import beginning, decode, encoding_of
from saddle.exchange.workbook import is_workbook, sheet_names
from saddle.geometry.polylines import Floats
from saddle.lines.spec import LineGroup
from saddle.overlay.spec import CrossfallTable
from saddle.terrain.spec import CodeList, ColumnMapping, Encoding, FileUnit, Thinning

Format = Literal["csv", "landxml", "dxf", "geojson", "geopackage", "grid", "geotiff", "cloud", "map"]
#: What becomes of the points: they replace the survey, are added to it, replace the part that they cover, or lie beneath it.
Mode = Literal["replace", "add", "part", "background"]


def _nothing(_: float) -> None:
    """Nobody asks how far it is."""


@dataclass(frozen=True, slots=True)
class ReadAs:
    """How a survey file is read. mapping: of the columns of a table of points; drawing, thinning: of a DXF and of a point cloud;
    swapped: the other coordinate is the easting; unit: None for what the file says; mode: what becomes of it; usual: unit of the
    project's files that do not say theirs; none: levels that stand for none, in the file's unit, None for those that are found; way: (k, 2) of the road, m, None where it has none; alignment: along which levelling sheets lie; system: the project's
    reference system, as EPSG:n, empty where it has none yet; said: the file's, as a person says it, empty for what it says itself."""

    mapping: ColumnMapping | None = None
    drawing: DrawingMapping = field(default_factory=DrawingMapping)
    thinning: Thinning = field(default_factory=Thinning)
    swapped: bool = False
    unit: FileUnit | None = None
    mode: Mode = "replace"
    usual: FileUnit = "metre"
    none: Sequence[float] | None = None
    way: Floats | None = None
    alignment: AlignmentSpec | None = None
    system: str = ""
    said: str = ""


@dataclass(frozen=True, slots=True, eq=False)
class FileRead:
    """What a file holds, how its coordinates were read, and of a drawing what is on its layers. system: that its coordinates were in, as
    EPSG:n, empty where nobody says it; what is found is in the project's."""

    format: Format
    found: Found
    reading: Reading
    drawing: DrawingFound | None = None
    system: str = ""


def format_of(name: str, data: bytes) -> Format:
    """By content and ending; csv is any table of points. Looks at no more than the beginning."""
    head = data[:4096].lstrip(b"\xef\xbb\xbf \r\n\t")
    if is_map(data):
        return "map"
    if head.startswith(b"<"):
        return "landxml"
    if is_geopackage(data):
        return "geopackage"
    if is_cloud(data):
        return "cloud"
    if is_tiff(data):
        return "geotiff"
    if head.startswith(b"{"):
        return "geojson"
    if is_grid(head):
        return "grid"
    if name.lower().endswith(".dxf") or (b"SECTION" in head and b"HEADER" in data[:65536]):
        return "dxf"
    return "csv"


def read_survey(data: bytes, name: str, how: ReadAs, progress: Callable[[float], None] = _nothing) -> FileRead:
    """Everything that a survey file holds. Raises ImportProblem naming what is wrong."""
    form = format_of(name, data)
    unit, swapped, stem = how.unit, how.swapped, PurePath(name).stem
    match form:
        case "landxml":
            found = read_landxml(data, progress, unit, swapped)
        case "geojson":
            found = read_geojson(data, progress, unit, swapped)
        case "geopackage":
            found = read_geopackage(data, progress, unit, swapped)
        case "map":
            found = read_map(data, progress, unit, swapped)
        case "cloud":
            found = read_cloud(data, how.thinning, progress, unit, swapped)
        case "grid" | "geotiff":
            # A grid lies by its own figures: nothing in it can be exchanged.
            swapped = False
            found = (read_grid if form == "grid" else read_geotiff)(data, stem, progress, unit)
        case "dxf":
            mapping = how.drawing.changed(swapped=swapped)
            mapping = mapping if unit is None else mapping.changed(unit=unit)
            if how.mode == "background":
                mapping = mapping.changed(zero="take")  # what is only drawn needs no levels
            drawing, found = look_dxf(data, mapping, how.usual, progress)
            # Level 0 of a drawing has a rule of its own.
            said = _said(found, how)
            found = without_levels_of_none(into(said, how.system), how.none, zero=False)
            return FileRead(form, found, Reading(swapped, found.unit), drawing, said.system)
        case "csv":
            if how.mapping is None:
                raise ImportProblem("the columns are not mapped", "mapping", "say which column holds what")
            text = decode(data, how.mapping.encoding, how.mapping.sheet)
            swapped = False
            if how.mapping.along != "no":
                found = read_levelling(text, how.mapping, how.alignment)
            else:
                found = read_points(text, how.mapping, progress, how.way, how.usual)
        case _:
            assert_never(form)
    none = how.none if how.mapping is None else how.mapping.none
    said = _said(found, how)
    return FileRead(form, without_levels_of_none(into(said, how.system), none), Reading(swapped, found.unit), system=said.system)


def _said(found: Found, how: ReadAs) -> Found:
    """What is found in the system that it is in. A person who says another system or unit knows better than the file."""
    if how.said:
        return said_to_be(found, how.said)
    return found if counts_in(found.system, how.unit) else replace(found, system="")


@dataclass(frozen=True, slots=True)
class FirstRows:
    """The beginning of a table of points. encoding: in which it was read; sheets: of a workbook, their names."""

    preview: Preview
    encoding: Encoding
    sheets: tuple[str, ...] = ()


#: Of a file that is no table of points.
NO_TABLE = FirstRows(Preview(",", ".", [], {}, False), "utf-8")


def first_look(data: bytes, name: str) -> tuple[Format, FirstRows]:
    """What kind of file it is, and of a table of points its first rows."""
    form = format_of(name, data)
    return form, first_rows(data) if form == "csv" else NO_TABLE


def first_rows(
    data: bytes,
    delimiter: str | None = None,
    skip: int | None = None,
    breaks: Sequence[int] | None = None,
    encoding: Encoding | None = None,
    sheet: str = "",
) -> FirstRows:
    """As saddle.exchange.survey_csv.preview. encoding: None for the one that it is most likely in; sheet: of a workbook, empty for the
    first that is not."""
    taken = encoding or ("utf-8" if is_workbook(data) else encoding_of(data))
    sheets = sheet_names(data) if is_workbook(data) else ()
    return FirstRows(preview(decode(beginning(data), taken, sheet), delimiter, skip, breaks=breaks), taken, sheets)


def codes_apart(data: bytes, mapping: ColumnMapping, known: CodeList, way: Floats | None) -> Coded:
    """The codes of a table of points taken apart, as saddle.exchange.coded.coded."""
    return coded(decode(data, mapping.encoding, mapping.sheet), mapping, known, way)


def lines_of_file(data: bytes, name: str, equations: Sequence[ChainageEquation]) -> LineGroup:
    """Section lines of a file (JSON, CSV or a workbook). name: of the group where the file does not say it."""
    return read_lines(name, decode(data), equations)


def crossfalls_of_file(data: bytes) -> CrossfallTable:
    """Crossfalls of a CSV or a workbook."""
    return read_crossfalls(decode(data))


def library_of_file(data: bytes) -> Bundle:
    """A library file."""
    return read_bundle(decode(data))


#: All of them. What takes progress calls it `progress`.
READERS: tuple[Callable[..., Any], ...] = (
    read_survey, first_look, first_rows, codes_apart, lines_of_file, crossfalls_of_file, library_of_file, read_levels,
)  # fmt: skip
