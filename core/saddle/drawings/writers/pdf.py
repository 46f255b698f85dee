"""Display list to PDF, all pages."""

import io
import math
from collections.abc import Iterable
from functools import cache
from itertools import groupby

from reportlab import rl_config
from reportlab.lib.colors import Color, HexColor
from reportlab.lib.units import mm
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas

from saddle.drawings.display import PATTERNS, Item, LineFamily, Page, Picture, Place, Polygon, Polyline, Text
from saddle.drawings.lettering import FONTS, SIZE_PER_CAPITAL, register_fonts

HAIR = 0.13
#: How much of a text lies before its anchor.
BACK = {"left": 0.0, "centre": 0.5, "right": 1.0}
#: Compressed streams as they are: as text they would be larger and slower.
rl_config.useA85 = 0


def pages_to_pdf(pages: Iterable[Page], title: str, *, subject: str = "", author: str = "") -> bytes:
    """A PDF with one page per sheet at its true size, an outline by the sheets' names, and its properties."""
    register_fonts()
    buffer = io.BytesIO()
    canvas = Canvas(buffer, pageCompression=1)
    canvas.setTitle(title)
    canvas.setSubject(subject)
    canvas.setAuthor(author)
    canvas.setCreator("Tin Saddle")
    for page in pages:
        canvas.setPageSize((page.width * mm, page.height * mm))
        canvas.bookmarkPage(page.name)
        canvas.addOutlineEntry(page.name, page.name)
        canvas.scale(mm, mm)
        canvas.setLineJoin(1)
        for lettering, items in groupby(page.items, lambda item: isinstance(item, Text)):
            if lettering:
                _texts(canvas, items)  # type: ignore[arg-type]
                continue
            for item in items:
                _shape(canvas, item)
        canvas.showPage()
    canvas.save()
    return buffer.getvalue()


def _shape(canvas: Canvas, item: Item) -> None:
    if isinstance(item, Polyline):
        canvas.setStrokeColor(_colour(item.colour))
        canvas.setLineWidth(item.width)
        canvas.setDash(*([list(item.dashes)] if item.dashes else []))
        canvas.drawPath(_path(canvas, item.points, False), stroke=1, fill=0)
    elif isinstance(item, Polygon):
        _polygon(canvas, item)
    elif isinstance(item, Picture):
        at = item.room
        canvas.drawImage(ImageReader(io.BytesIO(item.png)), at.left, at.bottom, at.width, at.height, mask="auto")


def _path(canvas: Canvas, points: tuple[Place, ...], closed: bool):  # type: ignore[no-untyped-def]
    path = canvas.beginPath()
    path.moveTo(*points[0])
    for point in points[1:]:
        path.lineTo(*point)
    if closed:
        path.close()
    return path


def _polygon(canvas: Canvas, item: Polygon) -> None:
    canvas.setDash()
    canvas.setFillColor(_colour(item.fill))
    canvas.setStrokeColor(_colour(item.colour))
    canvas.setLineWidth(item.width)
    canvas.drawPath(_path(canvas, item.points, True), stroke=int(item.width > 0), fill=1)
    for family in PATTERNS[item.pattern]:
        canvas.saveState()
        canvas.clipPath(_path(canvas, item.points, True), stroke=0, fill=0)
        canvas.setLineWidth(HAIR)
        if family.dashes:
            canvas.setDash(list(family.dashes))
        canvas.lines(_family(item.points, family))
        canvas.restoreState()


def _family(points: tuple[Place, ...], family: LineFamily) -> list[tuple[float, float, float, float]]:
    """Lines of a family over the box of a polygon."""
    a = math.radians(family.angle_deg)
    dx, dy = math.cos(a), math.sin(a)
    along = [x * dx + y * dy for x, y in points]
    across = [-x * dy + y * dx for x, y in points]
    first, last = math.ceil(min(across) / family.spacing), math.floor(max(across) / family.spacing)
    step = sum(family.dashes) or 1.0
    start, end = math.floor(min(along) / step) * step, max(along)
    lines = []
    for k in range(first, last + 1):
        c = k * family.spacing
        lines.append((start * dx - c * dy, start * dy + c * dx, end * dx - c * dy, end * dy + c * dx))
    return lines


def _texts(canvas: Canvas, items: Iterable[Text]) -> None:
    """Texts that follow each other, as one object of text: font and colour are said where they change."""
    written = canvas.beginText()
    said: tuple[str, float, str] | None = None
    for item in items:
        size, font = item.height * SIZE_PER_CAPITAL, FONTS[item.font]
        if said != (font, size, item.colour):
            said = (font, size, item.colour)
            written.setFont(font, size)
            written.setFillColor(_colour(item.colour))
        back = BACK[item.anchor]
        before = back * stringWidth(item.text, font, size) if back else 0.0
        x, y = item.at
        if item.rotation:
            written.setTextTransform(0, 1, -1, 0, x, y - before)
        else:
            written.setTextOrigin(x - before, y)
        written.textOut(item.text)
    canvas.drawText(written)


@cache
def _colour(text: str) -> Color:
    return HexColor(text)
