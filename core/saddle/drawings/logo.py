"""Logos in title blocks. A drawing (SVG) becomes filled outlines, which every kind of file can hold; a picture (PNG) stays a picture."""

import base64
import binascii
import io
import re
from functools import lru_cache

import numpy as np
import shapely
from PIL import Image, UnidentifiedImageError
from shapely.geometry.base import BaseGeometry

from saddle.drawings.display import Item, Picture, Polygon, Room

#: Most bytes of a file, and pixels of a picture's side.
MOST_BYTES, MOST_PIXELS = 100_000, 3000
#: A curve is drawn by so many chords.
CHORDS = 12
#: Shapes of a drawing, and corners of all of them together once curves are chords, at most; of an outline that crosses itself, as what is
#: made of its crossings grows with their square.
MOST_SHAPES, MOST_CORNERS, MOST_CROSSING = 2000, 20_000, 30
#: Outlines that cross themselves, holes of a shape, and pieces that all shapes together are cut into, at most.
MOST_CROSSED, MOST_HOLES, MOST_PIECES = 20, 150, 4000
#: Outlines of one shape, which are taken out of each other one by one.
MOST_OUTLINES = 300
Ring = tuple[tuple[float, float], ...]
URL = re.compile(r"data:image/(png|svg\+xml);base64,([A-Za-z0-9+/=\s]+)")
#: What a drawing may not hold: other files, declarations, scripts, copies of its parts, and letters that need a font.
REFUSED = ("!doctype", "!entity", "script", "use", "image", "foreignobject", "text")


def check_logo(data: str) -> str:
    """A logo as a data address, or nothing. Raises ValueError with what is wrong with it."""
    if data:
        logo_items(data, Room(0.0, 0.0, 1.0, 1.0))
    return data


def logo_items(data: str, room: Room) -> list[Item]:
    """A logo as large as it goes into a room, at its left and in the middle of its height. Raises ValueError as `check_logo`."""
    found = URL.fullmatch(data)
    if found is None:
        raise ValueError("a logo is a PNG or SVG file")
    try:
        content = base64.b64decode(found[2], validate=False)
    except binascii.Error as error:
        raise ValueError("the logo's file is damaged: choose it again") from error
    if len(content) > MOST_BYTES:
        raise ValueError(f"the logo's file has {len(content) // 1000} kB, at most {MOST_BYTES // 1000} kB go into a title block")
    return _picture(content, room) if found[1] == "png" else _outlines(content, room)


def _fitted(width: float, height: float, room: Room) -> Room:
    """Where something of a size comes to lie."""
    scale = min(room.width / width, room.height / height)
    wide, tall = width * scale, height * scale
    bottom = room.bottom + (room.height - tall) / 2
    return Room(room.left, bottom, room.left + wide, bottom + tall)


def _picture(content: bytes, room: Room) -> list[Item]:
    try:
        with Image.open(io.BytesIO(content), formats=["PNG"]) as image:
            width, height = image.size
            if max(width, height) > MOST_PIXELS:
                raise ValueError(f"the logo has {width} x {height} pixels, at most {MOST_PIXELS} are of use: make it smaller")
            image.verify()
    except (UnidentifiedImageError, SyntaxError, OSError) as error:
        raise ValueError("the logo is no PNG that can be read: save it as PNG again") from error
    return [Picture("title", _fitted(width, height, room), content, source="logo")]


def _outlines(content: bytes, room: Room) -> list[Item]:
    rings = _coloured(content)
    places = np.concatenate([ring for ring, _ in rings])
    (x0, y0), (x1, y1) = places.min(axis=0).tolist(), places.max(axis=0).tolist()
    at = _fitted(x1 - x0, y1 - y0, room)
    scale = at.width / (x1 - x0)
    return [
        Polygon(
            "title", tuple((at.left + (x - x0) * scale, at.top - (y - y0) * scale) for x, y in ring), colour, "plain", 0.0,
            source="logo",
        )
        for ring, colour in rings
    ]  # fmt: skip


@lru_cache(maxsize=16)
def _coloured(content: bytes) -> list[tuple[Ring, str]]:
    """Outlines of a drawing with the colours that fill them, y downward; a sheet after the other asks for them."""
    from svgelements import SVG, Path, Shape  # loaded only where a project has a drawn logo

    try:
        text = content.decode("utf-8")
    except UnicodeDecodeError as error:
        raise ValueError("the logo is no SVG that can be read: save it as plain SVG again") from error
    for word in REFUSED:
        if re.search(rf"<(\w+:)?{word}\b", text, re.IGNORECASE):
            raise ValueError(f"the logo holds <{word}>: turn everything in it into paths and save it as plain SVG")
    try:
        drawing = SVG.parse(io.StringIO(text), reify=True)
        shapes = [e for e in drawing.elements() if isinstance(e, Shape)]
    except Exception as error:
        raise ValueError("the logo is no SVG that can be read: save it as plain SVG again") from error
    if len(shapes) > MOST_SHAPES:
        raise ValueError(f"the logo has {len(shapes)} shapes, at most {MOST_SHAPES} go into a title block: simplify it")
    found: list[tuple[Ring, str]] = []
    room = _Corners()
    for shape in shapes:
        # What would be missing in the title block is refused rather than left out.
        if str(shape.values.get("fill", "")).startswith("url"):
            raise ValueError("the logo has gradients or patterns: fill its shapes with plain colours")
        if shape.fill.value is None and shape.stroke.value is not None:
            raise ValueError("the logo has lines that fill nothing: turn strokes into paths and save it again")
        if shape.fill.value is not None:
            found += [(ring, str(shape.fill.hexrgb)) for ring in _rings(_filled(Path(shape), room))]
            if len(found) > MOST_PIECES:
                raise ValueError("the logo comes apart into too many pieces: simplify it")
    if not found:
        raise ValueError("nothing in the logo is filled with a plain colour: turn its lines into paths and save it again")
    return found


class _Corners:
    """How many corners a drawing may still have."""

    def __init__(self) -> None:
        self.left, self.crossed = MOST_CORNERS, MOST_CROSSED

    def take(self, points: list[tuple[float, float]]) -> None:
        """Raises ValueError for one too many, and for an outline that crosses itself again and again."""
        self.left -= len(points)
        if self.left < 0:
            raise ValueError(f"the logo has more than {MOST_CORNERS:,} corners: simplify it")
        if shapely.LinearRing(points).is_simple:
            return
        self.crossed -= 1
        if self.crossed < 0 or len(points) > MOST_CROSSING:
            raise ValueError("an outline of the logo crosses itself: unite its parts and save it again")


def _filled(path, room: _Corners) -> BaseGeometry:  # type: ignore[no-untyped-def]
    """What is inside a path by the even-odd rule. Raises ValueError as `_Corners.take`."""
    from svgelements import Close, Line, Move

    inside: BaseGeometry = shapely.Polygon()
    parts = list(path.as_subpaths())
    if len(parts) > MOST_OUTLINES:
        raise ValueError(f"a shape of the logo has more than {MOST_OUTLINES} outlines: divide it or simplify it")
    for part in parts:
        points: list[tuple[float, float]] = []
        for segment in part:
            if isinstance(segment, Move | Line | Close):
                ends = [segment.end]
            else:
                ends = [segment.point(t) for t in np.linspace(0, 1, CHORDS + 1)[1:]]
            points += [(float(p.x), float(p.y)) for p in ends if p is not None]
        if len(points) >= 3:
            room.take(points)
            inside = inside.symmetric_difference(shapely.make_valid(shapely.Polygon(points)))
    return inside


def _rings(shape: BaseGeometry) -> list[Ring]:
    """Outlines without holes that together fill a shape: one with a hole is cut in two through it."""
    out: list[Ring] = []
    parts = shapely.get_parts(shape)
    if sum(len(p.interiors) for p in parts if isinstance(p, shapely.Polygon)) > MOST_HOLES:
        raise ValueError(f"a shape of the logo has more than {MOST_HOLES} holes: simplify it")
    for part in parts:
        if not isinstance(part, shapely.Polygon):
            out += _rings(part) if part.geom_type.startswith("Multi") else []
        elif part.interiors:
            x = part.interiors[0].centroid.x
            left, low, right, high = part.bounds
            halves = (shapely.box(left - 1, low - 1, x, high + 1), shapely.box(x, low - 1, right + 1, high + 1))
            for half in halves:
                out += _rings(part.intersection(half))
        elif part.area > 0:
            out.append(tuple(part.exterior.coords[:-1]))
    return out
