"""Small files made to cost much: by their structure (row numbers, counts, nesting, corners, ratios), not by chance.

Each is a name, the ending of its file, and its bytes, made from a random generator so that no two runs need to be alike.
"""

import io
import json
import sqlite3
import struct
import zipfile
import zlib
from collections.abc import Callable, Iterator
from random import Random

Bomb = tuple[str, str, bytes]
SHEET = '<worksheet xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">{}<sheetData>{}</sheetData></worksheet>'
BOOK = (
    '<workbook xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main" '
    'xmlns:r="http://schemas.openxmlformats.org/officeDocument/2006/relationships">'
    '<sheets><sheet name="S" sheetId="1" r:id="r1"/></sheets></workbook>'
)
RELATION = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
KINDS = "http://schemas.openxmlformats.org/package/2006/content-types"
MAIN = "application/vnd.openxmlformats-officedocument.spreadsheetml"


def packed(parts: dict[str, str | bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED, compresslevel=9) as archive:
        for name, content in parts.items():
            archive.writestr(name, content)
    return out.getvalue()


def workbook(sheet: str, strings: str = "") -> bytes:
    relations = f'<Relationship Id="r1" Type="{RELATION}/worksheet" Target="worksheets/sheet1.xml"/>'
    relations += f'<Relationship Id="r2" Type="{RELATION}/sharedStrings" Target="sharedStrings.xml"/>' if strings else ""
    package = "http://schemas.openxmlformats.org/package/2006/relationships"
    parts: dict[str, str | bytes] = {
        "[Content_Types].xml": f'<Types xmlns="{KINDS}"><Default Extension="xml" ContentType="application/xml"/>'
        '<Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
        f'<Override PartName="/xl/workbook.xml" ContentType="{MAIN}.sheet.main+xml"/>'
        f'<Override PartName="/xl/worksheets/sheet1.xml" ContentType="{MAIN}.worksheet+xml"/></Types>',
        "_rels/.rels": f'<Relationships xmlns="{package}"><Relationship Id="a" Type="{RELATION}/officeDocument" '
        'Target="xl/workbook.xml"/></Relationships>',
        "xl/workbook.xml": BOOK,
        "xl/_rels/workbook.xml.rels": f'<Relationships xmlns="{package}">{relations}</Relationships>',
        "xl/worksheets/sheet1.xml": sheet,
    }
    return packed({**parts, "xl/sharedStrings.xml": strings} if strings else parts)


def far_row(r: Random) -> Bomb:
    n = r.choice([1_048_577, 2_000_000_000, 10**12, 400_000])
    row = f'<row r="{n}"><c r="A{n}"><v>1</v></c></row>'
    return "row", ".xlsx", workbook(SHEET.format("", '<row r="1"><c r="A1"><v>1</v></c></row>' + row))


def far_column(r: Random) -> Bomb:
    cell = f'<c r="{r.choice(["XFD", "ZZZZZ", "AAAAAAAA"])}1"><v>1</v></c>'
    return "column", ".xlsx", workbook(SHEET.format(f'<dimension ref="A1:{"Z" * 5}99999999"/>', f'<row r="1">{cell}</row>'))


def many_rows(r: Random) -> Bomb:
    rows = "<row><c><v>1</v></c></row>" * r.choice([500_000, 2_000_000])
    return "rows", ".xlsx", workbook(SHEET.format("", rows))


def long_strings(r: Random) -> Bomb:
    text = "".join(f"<si><t>{'x' * 30_000}</t></si>" for _ in range(r.choice([1000, 5000])))
    strings = f'<sst xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main">{text}</sst>'
    cells = '<row><c t="s"><v>0</v></c></row>' * 100
    return "strings", ".xlsx", workbook(SHEET.format("", cells), strings)


def open_sheet(r: Random) -> Bomb:
    repeated = r.choice([10**6, 10**9])
    name = "urn:oasis:names:tc:opendocument:xmlns"
    sheet = (
        f'<office:document-content xmlns:office="{name}:office:1.0" xmlns:table="{name}:table:1.0" xmlns:text="{name}:text:1.0">'
        '<office:body><office:spreadsheet><table:table table:name="S">'
        f'<table:table-row table:number-rows-repeated="{repeated}"><table:table-cell table:number-columns-repeated="{repeated}" '
        'office:value-type="float" office:value="1"><text:p>1</text:p></table:table-cell></table:table-row>'
        "</table:table></office:spreadsheet></office:body></office:document-content>"
    )
    mimetype = "application/vnd.oasis.opendocument.spreadsheet"
    return "repeated", ".ods", packed({"mimetype": mimetype, "content.xml": sheet})


def drawing(blocks: str, entities: str) -> bytes:
    head = "0\nSECTION\n2\nHEADER\n9\n$ACADVER\n1\nAC1015\n0\nENDSEC\n"
    return f"{head}0\nSECTION\n2\nBLOCKS\n{blocks}0\nENDSEC\n0\nSECTION\n2\nENTITIES\n{entities}0\nENDSEC\n0\nEOF\n".encode()


def block(name: str, inside: str) -> str:
    return f"0\nBLOCK\n8\n0\n2\n{name}\n70\n0\n10\n0\n20\n0\n30\n0\n{inside}0\nENDBLK\n8\n0\n"


def insert(name: str, more: str = "") -> str:
    return f"0\nINSERT\n8\n0\n2\n{name}\n10\n0\n20\n0\n30\n0\n{more}"


LINE = "0\nLINE\n8\n0\n10\n0\n20\n0\n30\n1\n11\n9\n21\n9\n31\n1\n"


def grid_of_inserts(r: Random) -> Bomb:
    a, b = r.choice([(30_000, 30_000), (1000, 1000), (1, 2_000_000), (-5, 30_000)])
    return "inserts", ".dxf", drawing(block("B", LINE), insert("B", f"70\n{a}\n71\n{b}\n44\n1\n45\n1\n"))


def nested_inserts(r: Random) -> Bomb:
    depth, wide = r.choice([(25, 2), (8, 10), (12, 3), (3, 200)])
    blocks = block("B0", LINE) + "".join(block(f"B{k}", insert(f"B{k - 1}") * wide) for k in range(1, depth))
    return "nested", ".dxf", drawing(blocks, insert(f"B{depth - 1}"))


def itself(r: Random) -> Bomb:
    return "itself", ".dxf", drawing(block("A", insert("B") * 3) + block("B", insert("A") * 3 + LINE), insert("A"))


def great_curve(r: Random) -> Bomb:
    radius = r.choice([1e6, 1e9, 1e12, 1e300])
    circle = f"0\nCIRCLE\n8\n0\n10\n0\n20\n0\n30\n5\n40\n{radius}\n"
    arc = f"0\nARC\n8\n0\n10\n0\n20\n0\n30\n5\n40\n{radius}\n50\n0\n51\n359.999\n"
    return "curve", ".dxf", drawing("", (circle + arc) * r.choice([1, 50]))


def spline(r: Random) -> Bomb:
    knots = "".join(f"40\n{k}\n" for k in range(200))
    points = "".join(f"10\n{r.uniform(-1e9, 1e9)}\n20\n{r.uniform(-1e9, 1e9)}\n30\n1\n" for _ in range(150))
    return "spline", ".dxf", drawing("", f"0\nSPLINE\n8\n0\n70\n8\n71\n49\n72\n200\n73\n150\n{knots}{points}")


def mesh_count(r: Random) -> Bomb:
    m = r.choice([30_000, 2**31 - 1])
    head = f"0\nPOLYLINE\n8\n0\n66\n1\n70\n16\n71\n{m}\n72\n{m}\n10\n0\n20\n0\n30\n0\n"
    return "mesh", ".dxf", drawing("", head + "0\nVERTEX\n8\n0\n10\n1\n20\n1\n30\n1\n70\n64\n" * 3 + "0\nSEQEND\n")


def deep_xml(r: Random) -> Bomb:
    n = r.choice([2000, 200_000])
    return (
        "deep",
        ".xml",
        b'<LandXML xmlns="http://www.landxml.org/schema/LandXML-1.2">' + b"<a>" * n + b"</a>" * n + b"</LandXML>",
    )


def entities(r: Random) -> Bomb:
    lines = "".join(f'<!ENTITY e{k} "{f"&e{k - 1};" * 10 if k else "x" * 50}">' for k in range(12))
    return "entities", ".xml", f"<!DOCTYPE LandXML [{lines}]><LandXML><a>&e11;</a></LandXML>".encode()


def long_alignment(r: Random) -> Bomb:
    parts = "<Line><Start>0 0</Start><End>0 1</End></Line>" * r.choice([100, 20_000])
    curve = f'<Curve rot="cw" radius="{r.choice(["1e-300", "1e300", "0", "INF"])}"><Start>0 0</Start><Center>0 1</Center><End>1 1</End></Curve>'
    text = f'<LandXML><Alignments><Alignment name="A" length="1e300" staStart="1e308"><CoordGeom>{parts}{curve}</CoordGeom></Alignment></Alignments></LandXML>'
    return "alignment", ".xml", text.encode()


def flat_surface(r: Random) -> Bomb:
    n = r.choice([10, 3000])
    points = "".join(f'<P id="{k}">{k % 7} {k % 5} {k}</P>' for k in range(n))
    faces = f"<F>1 2 {10**18}</F>" + "<F>1 1 1</F><F>1 2 3</F>" * n
    text = f'<LandXML><Surfaces><Surface name="S"><Definition surfType="TIN"><Pnts>{points}</Pnts><Faces>{faces}</Faces></Definition></Surface></Surfaces></LandXML>'
    return "surface", ".xml", text.encode()


def deep_json(r: Random) -> Bomb:
    n = r.choice([900, 50_000])
    inside = '{"type":"GeometryCollection","geometries":[' * n + "]}" * n
    return "collections", ".geojson", f'{{"type":"Feature","geometry":{inside},"properties":{{}}}}'.encode()


def wide_json(r: Random) -> Bomb:
    line = {"type": "MultiPolygon", "coordinates": [[[[0, 0, 1], [1, 1, 1e308], [10**400, 2, 2]]]] * 20_000}
    return "wide", ".geojson", json.dumps({"type": "Feature", "geometry": line, "properties": {"a": "b" * 100_000}}).encode()


def long_number(r: Random) -> Bomb:
    return "digits", ".geojson", b'{"type":"Point","coordinates":[' + b"9" * r.choice([5000, 4_000_000]) + b",1,1]}"


def endless_view(r: Random) -> Bomb:
    base = sqlite3.connect(":memory:")
    base.execute("create table gpkg_contents (table_name text, data_type text, identifier text)")
    base.execute("create table gpkg_geometry_columns (table_name text, column_name text, srs_id int)")
    base.execute("insert into gpkg_contents values ('v', 'features', 'v')")
    base.execute("insert into gpkg_geometry_columns values ('v', 'geom', 0)")
    of = r.choice(["zeroblob(900000000)", "n", "randomblob(40000000)"])
    base.execute(f"create view v as with recursive c(n) as (select 1 union all select n + 1 from c) select {of} as geom from c")
    return "view", ".gpkg", base.serialize()


def great_tiff(r: Random) -> Bomb:
    wide, tall = r.choice([(65_535, 65_535), (2**31 - 1, 2**31 - 1), (100_000, 9), (999, 999)])
    tags = [(256, 4, 1, wide), (257, 4, 1, tall), (258, 3, 1, 32), (259, 3, 1, 8), (262, 3, 1, 1), (273, 4, 1, 8), (277, 3, 1, 1),
            (278, 4, 1, tall), (279, 4, 1, 100), (339, 3, 1, 3)]  # fmt: skip
    body = b"".join(struct.pack("<HHII", *t) for t in tags)
    return "picture", ".tif", b"II*\0" + struct.pack("<IH", 8, len(tags)) + body + bytes(4) + zlib.compress(bytes(100_000))


def great_cloud(r: Random) -> Bomb:
    head = bytearray(375)
    head[:4], head[24:26] = b"LASF", b"\x01\x04"
    struct.pack_into("<HII", head, 94, 375, 375, r.choice([0, 4_000_000_000]))
    head[104] = r.choice([0, 6, 128 + 3])
    struct.pack_into("<HI", head, 105, r.choice([20, 0, 30]), 4_000_000_000)
    struct.pack_into("<Q", head, 247, 2**60)
    return "cloud", ".las", bytes(head) + bytes(400)


def great_grid(r: Random) -> Bomb:
    n = r.choice(["999999999", "1e300", "1000", "-5"])
    return "grid", ".asc", f"ncols {n}\nnrows {n}\nxllcorner 0\nyllcorner 0\ncellsize 1\n{'1 ' * 1000}".encode()


def quotes(r: Random) -> Bomb:
    return "quotes", ".csv", b'1,2,3,4,"' + b"a\n" * r.choice([1000, 200_000])


def commas(r: Random) -> Bomb:
    return "commas", ".csv", b"number,east,north,level\n" + b"," * r.choice([100_000, 2_000_000]) + b"\n1,2,3,4\n"


def one_line(r: Random) -> Bomb:
    return "one line", ".txt", b"1 2 3 4 " * r.choice([10_000, 300_000])


def digits(r: Random) -> Bomb:
    return "figures", ".csv", b"1,2,3," + b"9" * r.choice([400, 3_000_000]) + b"\n2,1e999,nan,inf\n3,1,1,1\n"


def codes(r: Random) -> Bomb:
    rows = "".join(f"{k},{k}.5,{k}.25,10.1,{'A.' * 30}{r.randrange(10**6)}\n" for k in range(2000))
    return "codes", ".csv", ("number,easting,northing,level,code\n" + rows).encode()


def library(r: Random) -> Bomb:
    n = r.choice([1000, 30_000])
    items = ",".join(f'{{"kind":"material","key":"k{k}","spec":{{}}}}' for k in range(n))
    return "library", ".json", f'{{"format":"tin-saddle-library","version":1,"items":[{items}]}}'.encode()


def nested_library(r: Random) -> Bomb:
    return "nested library", ".json", b'{"format":"tin-saddle-library","version":1,"items":' + b"[" * 100_000


BOMBS: tuple[Callable[[Random], Bomb], ...] = (
    far_row, far_column, many_rows, long_strings, open_sheet, grid_of_inserts, nested_inserts, itself, great_curve, spline, mesh_count,
    deep_xml, entities, long_alignment, flat_surface, deep_json, wide_json, long_number, endless_view, great_tiff, great_cloud,
    great_grid, quotes, commas, one_line, digits, codes, library, nested_library,
)  # fmt: skip


def bombs(count: int, seed: int) -> Iterator[Bomb]:
    """So many, every kind in turn."""
    r = Random(seed)
    for k in range(count):
        yield BOMBS[k % len(BOMBS)](r)
