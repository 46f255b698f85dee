"""Display list to DXF: each sheet is a paper layout in mm."""

import io
import itertools
from collections.abc import Iterable
from functools import cache

from ezdxf import colors, units
from ezdxf.document import Drawing
from ezdxf.enums import TextEntityAlignment
from ezdxf.layouts.base import BaseLayout

from saddle.drawings.display import PATTERNS, THIN, Item, Page, Picture, Place, Polygon, Polyline, Room, places_of

ALIGN = {
    "left": TextEntityAlignment.LEFT,
    "centre": TextEntityAlignment.CENTER,
    "right": TextEntityAlignment.RIGHT,
}
STYLES = {"text": "Overpass", "bold": "Overpass SemiBold", "mono": "Overpass Mono"}
#: Between sheets that lie beside each other, mm.
BESIDE = 30.0
FORBIDDEN = str.maketrans(dict.fromkeys('<>/\\":;?*|,=`', "-"))


def pages_to_dxf(pages: Iterable[Page], space: Iterable[Item] = ()) -> bytes:
    """A DXF R2018 file (units mm) with a layout per page, named like it, on layers named like the display list's. space: what stands in
    model space, in metres."""
    document = _begun()
    first = True
    for page in pages:
        plain = page.name.translate(FORBIDDEN)[:240]
        # Sheets whose number has no field for the sheet are called the same.
        name = next(n for k in itertools.count(1) if (n := plain if k == 1 else f"{plain} ({k})") not in document.layouts)
        if first:
            layout = document.paperspace()
            document.layouts.rename(layout.name, name)
            first = False
        else:
            layout = document.layouts.new(name)
        layout.page_setup(size=(page.width, page.height), margins=(0, 0, 0, 0), units="mm")
        layout.reset_extents((0.0, 0.0, 0.0), (page.width, page.height, 0.0))
        for item in page.items:
            _draw(layout, item)
    model = list(space)
    if model:
        document.units = units.M
    for item in model:
        _draw(document.modelspace(), item)
    if found := [p for item in model for p in places_of(item)]:
        _show(
            document, (min(x for x, _ in found), min(y for _, y in found)), (max(x for x, _ in found), max(y for _, y in found))
        )
    return _written(document)


def pages_to_flat_dxf(pages: Iterable[Page]) -> bytes:
    """The same pages beside each other in model space, in mm, each in the rim of its paper: many programs show no layouts."""
    document = _begun()
    space = document.modelspace()
    x = height = 0.0
    for page in pages:
        there = len(space)
        for item in (Polyline("frame", Room(0.0, 0.0, page.width, page.height).rim, THIN), *page.items):
            _draw(space, item)
        for entity in itertools.islice(space, there, None):
            entity.translate(x, 0.0, 0.0)
        x, height = x + page.width + BESIDE, max(height, page.height)
    _show(document, (0.0, 0.0), (x - BESIDE, height))
    return _written(document)


def _show(document: Drawing, low: Place, high: Place) -> None:
    """What lies in model space is told, so that programs show that and no more."""
    document.modelspace().reset_extents((*low, 0.0), (*high, 0.0))
    document.header["$EXTMIN"], document.header["$EXTMAX"] = (*low, 0.0), (*high, 0.0)  # the library skips ends at 0, 0
    document.set_modelspace_vport(high[1] - low[1], center=((low[0] + high[0]) / 2, (low[1] + high[1]) / 2))


def _begun() -> Drawing:
    document = Drawing.new("R2018")
    document.units = units.MM
    document.header["$MEASUREMENT"] = 1
    for style, file in (
        ("text", "Overpass-Regular.ttf"),
        ("bold", "Overpass-SemiBold.ttf"),
        ("mono", "OverpassMono-Regular.ttf"),
    ):
        document.styles.add(STYLES[style], font=file)
    return document


def _written(document: Drawing) -> bytes:
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


def _draw(layout: BaseLayout, item: Item) -> None:
    document = layout.doc
    assert document is not None
    if item.layer not in document.layers:
        document.layers.add(item.layer)
    if isinstance(item, Picture):
        layout.add_lwpolyline(item.room.corners, close=True, dxfattribs={"layer": item.layer})
        return
    colour = colors.RGB.from_hex(item.colour)
    common = {"layer": item.layer, "color": _indexed(item.colour), "true_color": colors.rgb2int(colour)}
    if isinstance(item, Polyline):
        line = {**common, "lineweight": round(item.width * 100), "linetype": _linetype(document, item.dashes)}
        layout.add_lwpolyline(item.points, dxfattribs=line)
    elif isinstance(item, Polygon):
        fill = layout.add_hatch(color=_indexed(item.fill), dxfattribs={"layer": item.layer})
        fill.rgb = colors.RGB.from_hex(item.fill)
        fill.paths.add_polyline_path(item.points, is_closed=True)
        if PATTERNS[item.pattern]:
            hatch = layout.add_hatch(dxfattribs=common)
            lines = [
                [
                    f.angle_deg,
                    (0.0, 0.0),
                    _step(f.angle_deg, f.spacing),
                    [d if i % 2 == 0 else -d for i, d in enumerate(f.dashes)],
                ]
                for f in PATTERNS[item.pattern]
            ]
            hatch.set_pattern_fill(item.pattern.upper(), definition=lines, scale=1.0)
            hatch.paths.add_polyline_path(item.points, is_closed=True)
        if item.width:
            layout.add_lwpolyline(item.points, close=True, dxfattribs={**common, "lineweight": round(item.width * 100)})
    else:
        attributes = {**common, "style": STYLES[item.font], "rotation": item.rotation}
        layout.add_text(item.text, height=item.height, dxfattribs=attributes).set_placement(item.at, align=ALIGN[item.anchor])


@cache
def _indexed(colour: str) -> int:
    """The nearest of the 255 colours by number, for programs that know no others."""
    wanted = colors.RGB.from_hex(colour)
    return min(range(1, 256), key=lambda k: sum((a - b) ** 2 for a, b in zip(colors.aci2rgb(k), wanted, strict=True)))


def _linetype(document: Drawing, dashes: tuple[float, ...]) -> str:
    """Name of the line type of some dashes, mm, made where it is not there yet: what is left out is negative in the file."""
    if not dashes:
        return "Continuous"
    name = "DASHES " + " ".join(f"{d:g}" for d in dashes)
    if name not in document.linetypes:
        pattern = [sum(dashes), *(d if k % 2 == 0 else -d for k, d in enumerate(dashes))]
        document.linetypes.add(name, pattern=pattern, description=name.lower())
    return name


def _step(angle_deg: float, spacing: float) -> tuple[float, float]:
    """Offset from one line of a hatch family to the next."""
    from math import cos, radians, sin

    a = radians(angle_deg)
    return (-spacing * sin(a), spacing * cos(a))
