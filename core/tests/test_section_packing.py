"""Sections put on sheets: nothing is lost, nothing lies over anything, whatever their sizes."""

import itertools
from unittest import TestCase

import shapely
from hypothesis import given
from hypothesis import strategies as st

from saddle.drawings.display import Room
from saddle.drawings.sections.packing import GAP, PACKINGS, Fitted, Placed
from saddle.drawings.sections.setting import Window

ROOM = Room(20.0, 60.0, 400.0, 280.0)
WINDOW = Window(-5.0, 5.0, 0.0, 1.0)


def blocks(sizes: list[tuple[float, float, float]]) -> list[Fitted[int]]:
    """Blocks of a width and a height, mm, with their hinge at a part of the width."""
    return [Fitted(k, WINDOW, (w, h), part * w) for k, (w, h, part) in enumerate(sizes)]


def covers(placed: Placed[int]) -> shapely.Geometry:
    """What a block covers on its sheet."""
    (width, height), left = placed.fitted.size, placed.x - placed.fitted.hinge
    return shapely.box(left, placed.top - height, left + width, placed.top)


SIZES = st.lists(
    st.tuples(st.floats(20.0, 370.0), st.floats(10.0, 210.0), st.floats(0.1, 0.9)), min_size=1, max_size=25
)  # fmt: skip


class Packing(TestCase):
    @given(SIZES, st.sampled_from(sorted(PACKINGS)))
    def test_each_stands_once_within_the_room_apart_from_the_others(
        self, sizes: list[tuple[float, float, float]], packing: str
    ) -> None:
        pages = PACKINGS[packing](blocks(sizes), ROOM)  # type: ignore[index]
        self.assertEqual([p.fitted.one for page in pages for p in page], list(range(len(sizes))))
        room = shapely.box(ROOM.left, ROOM.bottom, ROOM.right, ROOM.top).buffer(1e-6)
        for page in pages:
            boxes = [covers(p) for p in page]
            self.assertTrue(all(room.contains(box) for box in boxes))
            for a, b in itertools.combinations(boxes, 2):
                self.assertGreater(a.distance(b), GAP - 1e-6)
            for p in page:
                self.assertTrue(min(p.spare) >= -1e-6)

    def test_a_wide_one_takes_a_band_of_its_own(self) -> None:
        """A line along a drain among sections of the road."""
        narrow = [(110.0, 50.0, 0.5)] * 6
        (page,) = PACKINGS["columns"](blocks([*narrow[:3], (370.0, 50.0, 0.1), *narrow[3:]]), ROOM)
        self.assertEqual(len({p.top for p in page[:3]}), 1)
        self.assertLess(page[3].top, page[0].top)
        self.assertTrue(all(p.top < page[3].top for p in page[4:]))
        self.assertEqual(len({p.x for p in page[4:]}), 2)

    def test_hinges_of_a_column_stand_over_each_other(self) -> None:
        (page,) = PACKINGS["columns"](blocks([(110.0, 60.0, 0.3), (120.0, 60.0, 0.5), (100.0, 60.0, 0.6)]), ROOM)
        self.assertEqual(len({p.x for p in page}), 1)
