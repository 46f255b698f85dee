"""The fonts that ship with the product, and how wide words are in them."""

from functools import cache
from pathlib import Path

from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont

FONTS = {"text": "Overpass-Regular", "bold": "Overpass-SemiBold", "mono": "OverpassMono-Regular"}
#: Font size over the height of capitals, of these fonts.
SIZE_PER_CAPITAL = 1.4
#: Lettering heights of ISO 3098 that are legible and fit, mm.
HEIGHTS = (1.8, 2.5, 3.5)


@cache
def register_fonts() -> None:
    """Makes the fonts known to reportlab, once."""
    folder = Path(__file__).parent / "fonts"
    for name in FONTS.values():
        pdfmetrics.registerFont(TTFont(name, folder / f"{name}.ttf"))


def width_of(text: str, height: float, font: str = "text") -> float:
    """Width of some words whose capitals are `height` mm high, mm."""
    register_fonts()
    return float(pdfmetrics.stringWidth(text, FONTS[font], height * SIZE_PER_CAPITAL))


def shortened(text: str, room: float, height: float, font: str = "text") -> str:
    """Words cut to a width, mm, with an ellipsis where something was left out."""
    if width_of(text, height, font) <= room:
        return text
    return next((cut for n in range(len(text) - 1, 0, -1) if width_of(cut := f"{text[:n].rstrip()}…", height, font) <= room), "…")


def fitted(text: str, room: float, height: float, font: str = "text") -> tuple[str, float]:
    """Words at the greatest lettering height, mm, up to the one wanted, at which they go into a width, mm; at the least one they are
    cut."""
    for smaller in sorted((h for h in HEIGHTS if h <= height), reverse=True):
        if width_of(text, smaller, font) <= room:
            return text, smaller
    return shortened(text, room, HEIGHTS[0], font), HEIGHTS[0]


def wrapped(text: str, room: float, height: float, font: str = "text") -> list[str]:
    """Words on as many lines as they need, each within a width, mm; a word that is longer is cut."""
    lines: list[str] = []
    for paragraph in text.splitlines():
        line = ""
        for word in paragraph.split():
            longer = f"{line} {word}" if line else word
            if line and width_of(longer, height, font) > room:
                lines.append(line)
                line = word
            else:
                line = longer
            line = shortened(line, room, height, font)
        lines.append(line)
    return lines
