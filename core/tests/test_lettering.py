"""No two letterings of a sheet overlap and none leaves its box, on whatever road and at every height: checked by geometry."""

import itertools
from collections import Counter
from unittest import TestCase

import numpy as np
import shapely

from saddle.drawings.body import Set
from saddle.drawings.display import Item, Polyline, Room, Text
from saddle.drawings.kinds import KINDS
from saddle.drawings.lettering import HEIGHTS, width_of
from saddle.drawings.make import draw
from saddle.drawings.placer import Name, Placer, Stroke
from saddle.drawings.sections.blocks import block_size, draw_block
from saddle.drawings.sections.rows import ROWS
from saddle.drawings.sections.setting import setting_for
from saddle.drawings.spec import PAPER, Drawing, SectionSheets, TitleBlock, section_rows
from saddle.drawings.starting import STYLES
from saddle.drawings.title import Revision, Standing
from saddle.errors import SaddleError
from saddle.pipeline import solve
from saddle.quantities.reports.starting import REPORTS
from saddle.views.section import section_view
from tests.depth import ROADS
from tests.random_roads import random_road

#: Roads that are laid out; more by hand.
LAID_OUT = max(2, ROADS // 50)
#: And of which all sheets are drawn.
WHOLE = LAID_OUT // 2
#: Below the line of writing, in heights of capitals.
BELOW = 0.22
#: Lines that no lettering crosses.
FRAMES = ("frame", "fields", "centring mark", "title")
#: Boxes that only touch are apart, mm.
TOUCH = 0.05


def box_of(text: Text) -> shapely.Geometry:
    """What a text covers, mm, reckoned from the widths of its letters."""
    width = width_of(text.text, text.height, text.font)
    start = {"left": 0.0, "centre": -width / 2, "right": -width}[text.anchor]
    x, y = text.at
    box = shapely.box(x + start, y - BELOW * text.height, x + start + width, y + text.height)
    return shapely.affinity.rotate(box, text.rotation, origin=(x, y)) if text.rotation else box


def overlaps(items: list[Item]) -> list[str]:
    """Pairs of texts that cover each other."""
    texts = [i for i in items if isinstance(i, Text)]
    boxes = np.array([box_of(t).buffer(-TOUCH, join_style="mitre") for t in texts], dtype=object)
    pairs = shapely.STRtree(boxes).query(boxes, predicate="intersects").T
    return [f"“{texts[a].text}” and “{texts[b].text}”" for a, b in pairs.tolist() if a < b]


def beyond(items: list[Item], room: shapely.Geometry) -> list[str]:
    """Texts that leave a room."""
    return [i.text for i in items if isinstance(i, Text) and not room.buffer(TOUCH).contains(box_of(i))]


class Lettering(TestCase):
    def test_no_two_overlap_and_none_leaves_its_section(self) -> None:
        laid_out = 0
        for seed in range(LAID_OUT):
            model = solve(random_road(np.random.default_rng(seed)))
            views = [section_view(model, i) for i in range(seed % 5, len(model.chainage), 5)]
            for height, scale, areas in itertools.product(HEIGHTS, (50, 200), (False, True)):
                rows = section_rows(*ROWS) if areas else SectionSheets().rows
                look = SectionSheets(
                    scale=scale, vertical_scale=scale, areas=areas, widths=areas, depths=areas, letters=areas,
                    points="all" if areas else "template", rows=rows,
                )  # fmt: skip
                setting = setting_for(views, look, height, model.inputs.materials)
                for view in views:
                    width, deep = block_size(view, setting)
                    items, _ = draw_block(view, setting, (0, 0))
                    self.assertFalse([i.text for i in items if isinstance(i, Text) and "nan" in i.text])
                    about = f"road {seed}, {view.chainage}, {height} mm, 1:{scale}"
                    self.assertEqual(overlaps(items), [], about)
                    self.assertEqual(beyond(items, shapely.box(0, -deep, width, 0)), [], about)
                    laid_out += 1
        self.assertGreater(laid_out, 40 * LAID_OUT)

    def test_whole_sheets_of_every_kind_with_long_words(self) -> None:
        long = "Rehabilitation of the road over the hill with a name that no block was drawn for"
        block = TitleBlock(
            owner=long[:80], client=long[:80], project=long, contract=long[:40], drawn=long[:60], checked=long[:60],
            approved=long[:60], coordinates=long[:60], levels=long[:60], notes=" ".join([long] * 7)[:600],
        )  # fmt: skip
        revisions = tuple(Revision(letter, "2026-11-27", long, "ABC") for letter in "ABCDEFGH")
        standing = Standing("AAAA", "for construction", "2026-11-27", revisions)
        sheets: Counter[str] = Counter()
        for seed, (key, style) in itertools.product(range(WHOLE), STYLES.items()):
            model = solve(random_road(np.random.default_rng(seed)))
            drawing = Drawing(name=f"{long} {{from}} to {{to}}", number="XS-" + "9" * 37, style=key)
            try:
                drawn = draw(Set(model, STYLES, block, long, REPORTS), drawing, standing)
            except SaddleError as error:
                self.assertRegex(error.message, "stands nowhere|goes on no sheet|needs")
                continue
            self.assertGreater(len(drawn), 0)
            sheets[style.sheets.kind] += len(drawn)
            for page in (s.page for s in drawn[:12]):
                about = f"road {seed}, {key}, {page.name}"
                width, height = PAPER[style.paper]
                self.assertEqual(overlaps(page.items), [], about)
                self.assertFalse([i.text for i in page.items if isinstance(i, Text) and "nan" in i.text], about)
                inside = [i for i in page.items if i.layer != "frame"]
                self.assertEqual(beyond(inside, shapely.box(20, 10, width - 10, height - 10)), [], about)
                lines = [shapely.LineString(i.points) for i in page.items if isinstance(i, Polyline) and i.source in FRAMES]
                crossed = [t.text for t in inside if isinstance(t, Text) and box_of(t).intersects(shapely.MultiLineString(lines))]
                self.assertEqual(crossed, [], about)
                self.assertEqual(beyond(page.items, shapely.box(0, 0, width, height)), [], about)
        self.assertGreater(sum(sheets.values()), 0)
        self.assertTrue(all(sheets[kind] >= WHOLE // 2 for kind in KINDS), sheets)

    def test_a_name_that_gives_way_keeps_a_leader_to_its_place(self) -> None:
        placer = Placer(Room(0, 0, 60, 20), "here")
        first, second = (placer.place(Name("LaneEdge", (30, 2), 1.8, 1.0, "#000000")) for _ in range(2))
        self.assertEqual(len(first), 1)
        (text, leader) = second
        assert isinstance(text, Text) and isinstance(leader, Polyline)
        self.assertEqual(text.at[0], 30)
        self.assertGreater(text.at[1], first[0].at[1])  # type: ignore[union-attr]
        self.assertEqual({x for x, _ in leader.points}, {30})

    def test_a_name_keeps_off_what_is_drawn_where_it_can(self) -> None:
        """A bank beside an edge: the name moves; where the lines leave no place it crosses them, or the name left out if it may be."""
        bank, wall = Stroke((20, 8), (30, 2)), [Stroke((x, 0), (x, 40)) for x in range(10, 50, 4)]
        for drawn, needed, written in (([bank], True, True), (wall, True, True), (wall, False, False)):
            placer = Placer(Room(0, 0, 60, 40), "here", drawn)
            items = placer.place(Name("ShoulderEdge", (30, 2), 1.8, 1.0, "#000000", lean=-1, needed=needed))
            self.assertEqual((bool(items), placer.left_out), (written, [] if written else ["ShoulderEdge"]))
            if items and drawn == [bank]:
                (text,) = (i for i in items if isinstance(i, Text))
                self.assertFalse(box_of(text).intersects(shapely.LineString([bank.begin, bank.end])))

    def test_what_finds_no_place_is_told(self) -> None:
        placer = Placer(Room(0, 0, 60, 6), "here")
        for _ in range(9):
            placer.place(Name("LaneEdge", (30, 1), 1.8, 1.0, "#000000"))
        self.assertGreater(len(placer.left_out), 0)
        self.assertEqual(set(placer.left_out), {"LaneEdge"})
