"""Sections packed onto sheets in road order, with frame and title block."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from saddle.chainage import format_chainage
from saddle.errors import SaddleError
from saddle.sheets.areas import draw_legend
from saddle.sheets.blocks import block_size, draw_block, setting_for
from saddle.sheets.display import FRAME, MEDIUM, THIN, Item, Page, Polyline, Text
from saddle.sheets.frame import BORDER, FILING, frame_marks
from saddle.sheets.lettering import fitted
from saddle.sheets.spec import PAPER, SheetStyle
from saddle.template.parts import Material
from saddle.views.section import SectionView

#: ISO 7200: the title block is at most 180 mm wide.
TITLE_HEIGHT, TITLE_WIDTH = 26.0, 180.0
#: Room between blocks, and between the frame with its centring marks and what is drawn, mm.
GAP, CLEAR = 5.0, 5.5


@dataclass(frozen=True, slots=True)
class TitleBlock:
    """What the title block says besides the style. date: as it is to be printed."""

    project: str
    alignment: str
    date: str


def lay_out(
    views: Sequence[SectionView],
    style: SheetStyle,
    materials: Mapping[str, Material],
    title: TitleBlock,
    progress: Callable[[int], None] = lambda _: None,
) -> list[Page]:
    """Pages of sections, left to right, then downward. Raises SaddleError when a section fits on no sheet.

    progress is told the number of sections laid out so far.
    """
    setting = setting_for(views, style, materials)
    width, height = PAPER[style.paper]
    left, right = FILING + CLEAR, width - BORDER - CLEAR
    top, bottom = height - BORDER - CLEAR, BORDER + TITLE_HEIGHT + 2
    rows: list[tuple[list[tuple[SectionView, float, float]], float]] = []
    x = right
    for view in views:
        w, h = block_size(view, setting)
        if w > right - left or h > top - bottom:
            raise SaddleError(
                f"the section at {format_chainage(view.shown)} needs {w:.0f} x {h:.0f} mm, "
                f"but a sheet of {style.paper} has {right - left:.0f} x {top - bottom:.0f} mm",
                subject="sheet style",
                hint="choose a smaller scale (a larger number) or larger paper",
            )
        if not rows or x + w > right:
            rows.append(([], 0.0))
            x = left
        members, tallest = rows[-1]
        members.append((view, x, h))
        rows[-1] = (members, max(tallest, h))
        x += w + GAP
    pages: list[tuple[list[SectionView], list[Item]]] = []
    y, count = bottom, 0
    for members, tallest in rows:
        if not pages or y - tallest < bottom:
            pages.append(([], []))
            y = top
        for view, x, h in members:
            pages[-1][0].append(view)
            pages[-1][1].extend(draw_block(view, setting, (x, y - tallest + h)))
            count += 1
            progress(count)
        y -= tallest + GAP
    return [
        Page(
            _name(style, number, shown), width, height,
            [*_frame(style, title, number, len(pages), shown), *(_legend(style, materials, shown) if style.legend else []), *items],
        )
        for number, (shown, items) in enumerate(pages, start=1)
    ]  # fmt: skip


def _legend(style: SheetStyle, materials: Mapping[str, Material], shown: list[SectionView]) -> list[Item]:
    """The materials of a sheet, left of the title block."""
    size = PAPER[style.paper][0] - BORDER - TITLE_WIDTH - FILING - 2 * CLEAR, TITLE_HEIGHT
    return draw_legend(shown, materials, (FILING + CLEAR, BORDER + TITLE_HEIGHT), size)


def _reach(shown: list[SectionView]) -> str:
    return f"{format_chainage(shown[0].shown)} to {format_chainage(shown[-1].shown)}"


def _name(style: SheetStyle, number: int, shown: list[SectionView]) -> str:
    return f"{style.drawing_number}-{number:02d} {_reach(shown)}"


def _frame(style: SheetStyle, title: TitleBlock, number: int, of: int, shown: list[SectionView]) -> list[Item]:
    width, height = PAPER[style.paper]
    x0, x1, y0, y1 = FILING, width - BORDER, BORDER, height - BORDER
    items: list[Item] = [
        Polyline("frame", ((x0, y0), (x1, y0), (x1, y1), (x0, y1), (x0, y0)), FRAME, source="frame"),
    ]
    items += frame_marks(width, height, (x0, y0, x1, y1))
    bx, by = x1 - TITLE_WIDTH, y0 + TITLE_HEIGHT
    items.append(Polyline("title", ((bx, y0), (bx, by), (x1, by)), MEDIUM, source="title"))
    items += [Polyline("title", ((bx + dx, y0), (bx + dx, by)), THIN, source="title") for dx in (84.0, 132.0)]
    scale = f"1:{style.scale}"
    if style.vertical_scale != style.scale:
        scale = f"H 1:{style.scale}, V 1:{style.vertical_scale}"
    cells: tuple[tuple[float, float, float, str, str, float], ...] = (
        (0.0, 84.0, 18.5, "Project", title.project, 3.5),
        (0.0, 84.0, 6.0, "Drawing", f"{style.title}, {title.alignment}", 2.5),
        (84.0, 132.0, 18.5, "Chainage", _reach(shown), 2.5),
        (84.0, 132.0, 6.0, "Scale", f"{scale} ({style.paper})", 2.5),
        (132.0, TITLE_WIDTH, 18.5, "Sheet", f"{style.drawing_number}-{number:02d}, {number} of {of}", 2.5),
        (132.0, TITLE_WIDTH, 6.0, "Date, drawn by", f"{title.date} {style.author}".strip(), 2.5),
    )
    for begin, end, dy, label, value, wanted in cells:
        font: Literal["bold", "text"] = "bold" if wanted > 3 else "text"
        x = bx + begin + 2.5
        items.append(Text("title", (x, y0 + dy + 4.4), label, 1.8, colour="#5D6B6F", source="title"))
        text, height_mm = fitted(value, end - begin - 4.0, wanted, font)
        items.append(Text("title", (x, y0 + dy - 0.6), text, height_mm, font=font, source="title"))
    return items
