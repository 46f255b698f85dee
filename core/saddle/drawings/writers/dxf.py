"""Display list to DXF: each sheet is a paper layout in mm."""

import io
from collections.abc import Iterable

from ezdxf import colors, units
from ezdxf.document import Drawing
from ezdxf.enums import TextEntityAlignment
from ezdxf.layouts.base import BaseLayout

from saddle.drawings.display import PATTERNS, Item, Page, Picture, Polygon, Polyline

ALIGN = {
    "left": TextEntityAlignment.LEFT,
    "centre": TextEntityAlignment.CENTER,
    "right": TextEntityAlignment.RIGHT,
}
STYLES = {"text": "Overpass", "bold": "Overpass SemiBold", "mono": "Overpass Mono"}
FORBIDDEN = str.maketrans(dict.fromkeys('<>/\\":;?*|,=`', "-"))


def pages_to_dxf(pages: Iterable[Page], space: Iterable[Item] = ()) -> bytes:
    """A DXF R2018 file (units mm) with a layout per page, named like it, on layers named like the display list's. space: what stands in
    model space, in metres."""
    document = Drawing.new("R2018")
    document.units = units.MM
    document.header["$MEASUREMENT"] = 1
    for style, file in (
        ("text", "Overpass-Regular.ttf"),
        ("bold", "Overpass-SemiBold.ttf"),
        ("mono", "OverpassMono-Regular.ttf"),
    ):
        document.styles.add(STYLES[style], font=file)
    first = True
    for page in pages:
        name = page.name.translate(FORBIDDEN)[:255]
        if first:
            layout = document.paperspace()
            document.layouts.rename(layout.name, name)
            first = False
        else:
            layout = document.layouts.new(name)
        layout.page_setup(size=(page.width, page.height), margins=(0, 0, 0, 0), units="mm")
        for item in page.items:
            _draw(layout, item)
    model = list(space)
    if model:
        document.units = units.M
    for item in model:
        _draw(document.modelspace(), item)
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
    common = {"layer": item.layer, "true_color": colors.rgb2int(colour)}
    if isinstance(item, Polyline):
        line = {**common, "lineweight": round(item.width * 100), "linetype": _linetype(document, item.dashes)}
        layout.add_lwpolyline(item.points, dxfattribs=line)
    elif isinstance(item, Polygon):
        fill = layout.add_hatch(dxfattribs={"layer": item.layer})
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
