"""What is laid out waits small and comes back as it was."""

from unittest import TestCase, mock

from hypothesis import given
from hypothesis import strategies as st

from saddle.drawings import make
from saddle.drawings.body import Body, OnDemand, Set
from saddle.drawings.display import Item, Picture, Polygon, Polyline, Room, Text
from saddle.drawings.kinds import Kind
from saddle.drawings.packed import packed, unpacked
from saddle.drawings.spec import Drawing, DrawingStyle, TitleBlock
from saddle.drawings.title import Standing
from tests.cases import demo_model

numbers = st.floats(-1e6, 1e6)
places = st.tuples(numbers, numbers)
points = st.lists(places, min_size=1, max_size=5).map(tuple)
items: st.SearchStrategy[Item] = st.one_of(
    st.builds(Polyline, st.just("grid"), points, numbers, st.text(), points.map(lambda p: p[0])),
    st.builds(Polygon, st.just("courses"), points, st.text(), st.sampled_from(["plain", "rising"]), numbers),
    st.builds(Text, st.just("figures"), places, st.text(), numbers, st.sampled_from(["left", "right"]), st.sampled_from([0, 90])),
    st.builds(Picture, st.just("title"), st.builds(Room, numbers, numbers, numbers, numbers), st.binary()),
)


class WaitingSmall(TestCase):
    @given(st.lists(items, max_size=8))
    def test_items_come_back_as_they_were(self, drawn: list[Item]) -> None:
        self.assertEqual(unpacked(packed(drawn)), drawn)

    def test_each_sheet_is_drawn_once_and_none_is_kept(self) -> None:
        """Of a long set one body is there at a time: the one before is gone when the next is drawn."""
        alive: list[int] = []

        class Watched(Body):
            def __del__(self) -> None:
                alive.remove(int(self.about))

        asked: list[tuple[int, int]] = []

        def body(k: int) -> Body:
            alive.append(k)
            asked.append((k, len(alive)))
            return Watched(about=str(k))

        kinds = {**make.KINDS, "sections": Kind("Cross-sections", lambda _: OnDemand(9, body))}
        of = Set(demo_model(), {"s": DrawingStyle()}, TitleBlock(), "Set")
        with mock.patch.object(make, "KINDS", kinds):
            sheets = make.draw(of, Drawing(style="s"), Standing("-", "-", "-"))
        self.assertEqual([k for k, _ in asked], list(range(9)))
        self.assertLessEqual(max(there for _, there in asked), 2)
        self.assertEqual([s.values["of"] for s in sheets], ["09"] * 9)
