"""Files as they arrive damaged: every reader takes them, says in words what is wrong with them, or leaves rows out. It never
breaks, never takes long, and never gives figures that are no numbers.

The short form runs with the tests; TIN_SADDLE_DAMAGED=10000 bin/test core/tests -k Damaged is the long one, for a run by hand.
"""

import io
import time
from collections.abc import Callable
from pathlib import Path
from unittest import TestCase

import numpy as np
import shapely
from openpyxl import Workbook

from saddle.errors import SaddleError
from saddle.exchange import starting
from saddle.exchange.ascii_grid import read_grid
from saddle.exchange.bundle import bundle_of, read_bundle, write_bundle
from saddle.exchange.crossfall_csv import read_crossfalls
from saddle.exchange.dxf.read import read_dxf
from saddle.exchange.dxf.write import write_dxf
from saddle.exchange.found import Found
from saddle.exchange.geojson import read_geojson
from saddle.exchange.geopackage import read_geopackage
from saddle.exchange.geotiff import read_geotiff
from saddle.exchange.landxml_read import read_landxml
from saddle.exchange.level_sheet import read_levels
from saddle.exchange.point_rows import read
from saddle.exchange.survey_csv import preview
from saddle.exchange.text import decode
from saddle.overlay.spec import LevelTable
from saddle.terrain.spec import ColumnMapping
from saddle.terrain.survey import Survey, collect
from tests.depth import DAMAGED
from tests.test_geopackage import package
from tests.test_other_files import geotiff

#: No damaged file of these sizes takes longer, s.
LONGEST = 10.0
DATA = Path(__file__).parent / "data"


def a_survey() -> bytes:
    rng = np.random.default_rng(1)
    rows = [
        f"{i},{412300 + 3 * i}.{rng.integers(999):03d},{286540 + i},{rng.normal(90, 1):.3f},EP,E{i % 2},{i // 2}"
        for i in range(40)
    ]
    return ("number,east,north,level,code,line,order\n" + "\n".join(rows) + "\n").encode()


def a_drawing() -> bytes:
    n = 12
    xyz = np.column_stack([np.arange(n) * 5.0, np.arange(n) % 3 * 4.0, 90 + np.arange(n) * 0.1])
    segments = np.column_stack([np.arange(n - 1), np.arange(1, n)])
    survey = Survey(np.arange(n).astype(str), xyz, np.full(n, "EP"), np.full(n, "E"), segments)
    return write_dxf(survey, {}, [])


def a_workbook() -> bytes:
    book = Workbook()
    sheet = book.active
    assert sheet is not None
    sheet.title = "Levels"
    sheet.append(["Chainage m", "Existing m", "Lowest m", "Adopted m"])
    for i in range(20):
        sheet.append([10.0 * i, 90 + i * 0.1, 90.05 + i * 0.1, 90.06 + i * 0.1])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def sound(found: Found) -> None:
    survey = collect(found.table)
    assert np.isfinite(survey.xyz).all()
    for named in found.surfaces:
        assert np.isfinite(named.tin.points).all()


def read_points(data: bytes) -> None:
    text = decode(data)
    seen = preview(text)
    fields = {"delimiter": seen.delimiter, "decimal": seen.decimal, "header": seen.header, **seen.columns}
    try:
        mapping = ColumnMapping.model_validate(fields)
    except ValueError:
        return  # a column that is needed was not found: the person says which it is
    table, _ = read(text, mapping)
    assert np.isfinite(collect(table).xyz).all()


READERS: dict[str, tuple[Callable[[], bytes], Callable[[bytes], object]]] = {
    "survey": (a_survey, read_points),
    "landxml": ((DATA / "sample.landxml").read_bytes, lambda data: sound(read_landxml(data))),
    "geojson": (
        lambda: b'{"type": "FeatureCollection", "features": [{"type": "Feature", "properties": {"code": "EP"}, "geometry": '
        b'{"type": "LineString", "coordinates": [[1, 2, 3], [4, 5, 6], [7, 8, 9]]}}]}', lambda data: sound(read_geojson(data)),
    ),
    "geopackage": (
        lambda: package({"Edges": [(shapely.LineString([(0, 0, 1), (5, 5, 2), (9, 5, 2.5)]), "EP")] * 3}),
        lambda data: sound(read_geopackage(data)),
    ),
    "grid": (
        lambda: b"ncols 4\nnrows 3\nxllcorner 10\nyllcorner 20\ncellsize 2.5\nnodata_value -9999\n" + b"1 2 3.5 -9999\n" * 3,
        lambda data: sound(read_grid(data, "hill")),
    ),
    "geotiff": (lambda: geotiff(np.ones((4, 3)), 10, 20, (2.5, 2.5)), lambda data: sound(read_geotiff(data, "hill"))),
    "drawing": (a_drawing, lambda data: sound(read_dxf(data))),
    "levels": (a_workbook, lambda data: read_levels(data, LevelTable())),
    "crossfalls": (lambda: b"0;-2.5;2.5\n10;-3;3\n20;-2,5;1\n", lambda data: read_crossfalls(decode(data))),
    "library": (
        lambda: write_bundle(bundle_of(starting.LIBRARY, [("template", "rural")])).encode(), lambda data: read_bundle(decode(data)),
    ),
}  # fmt: skip


def damaged(data: bytes, rng: np.random.Generator) -> bytes:
    """One to four things that happen to files: cut off, a piece lost, doubled or written over, other line ends, other text."""
    out = bytearray(data)
    for _ in range(rng.integers(1, 5)):
        if not out:
            break
        at = int(rng.integers(len(out)))
        size = int(min(rng.integers(1, 60), len(out) - at))
        what = rng.integers(8)
        if what == 0:
            del out[at:]
        elif what == 1:
            del out[at : at + size]
        elif what == 2:
            out[at:at] = out[at : at + size] * int(rng.integers(1, 4))
        elif what == 3:
            out[at : at + size] = rng.bytes(size)
        elif what == 4:
            out[at : at + 1] = bytes([out[at] ^ (1 << int(rng.integers(8)))])
        elif what == 5:
            out = bytearray(out.replace(b"\n", [b"\r", b"\r\n", b""][int(rng.integers(3))]))
        elif what == 6:
            words = [b"1e999", b"-nan", b"\0", "°".encode(), b"9" * 400, b'"', b"<!--", b"]]>", b"{", b"1,5", b"\xff\xfe"]
            out[at:at] = words[int(rng.integers(len(words)))]
        else:
            out = bytearray(rng.bytes(size)) + out
    return bytes(out)


class Damaged(TestCase):
    def test_every_reader(self) -> None:
        for name, (make, reader) in READERS.items():
            data = make()
            reader(data)  # whole it is taken
            for seed in range(DAMAGED // len(READERS)):
                broken = damaged(data, np.random.default_rng(seed))
                begun = time.monotonic()
                with self.subTest(reader=name, seed=seed):
                    try:
                        reader(broken)
                    except SaddleError as error:
                        self.assertTrue(error.message.strip())
                    self.assertLess(time.monotonic() - begun, LONGEST)
