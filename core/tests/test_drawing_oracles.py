"""What is drawn against slow ways that share no code with the drawings: shapely's own transforms, dense sampling, textbook formulas, and
tables read back from PDF."""

import io
import itertools
import math
import re
from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st
from pypdf import PdfReader
from shapely import affinity

from saddle.alignment.alignment import build
from saddle.alignment.profile import ProfilePoint, ProfileSpec
from saddle.alignment.spec import AlignmentSpec, Arc, Clothoid, Straight
from saddle.drawings.body import Set
from saddle.drawings.dimensions import chain
from saddle.drawings.display import Item, Page, Polygon, Polyline, Room, Text
from saddle.drawings.legend import Meaning, draw_legend
from saddle.drawings.lettering import HEIGHTS, width_of, wrapped
from saddle.drawings.long.lines import runs_between
from saddle.drawings.long.profile import profile_names
from saddle.drawings.make import draw
from saddle.drawings.plan.view import views_along
from saddle.drawings.spec import Drawing, DrawingStyle, LongSheets, PlanSheets, TitleBlock
from saddle.drawings.tables import Table, table_bodies
from saddle.drawings.title import Standing, drawing_room, legend_room
from saddle.drawings.writers.pdf import pages_to_pdf
from saddle.errors import SaddleError
from saddle.quantities.compared import greatest_difference
from tests.cases import demo_model
from tests.depth import many
from tests.test_lettering import beyond, overlaps

ROOM = drawing_room("A3")
WORDS = st.text(st.sampled_from("abcdefghij klmnop-%+0123456789"), max_size=40)


@st.composite
def alignments(draw_one: st.DrawFn) -> AlignmentSpec:
    """Roads of straights, arcs and clothoids, somewhere in a national grid."""
    elements: list[Straight | Arc | Clothoid] = [Straight(length=draw_one(st.floats(30, 300)))]
    for _ in range(draw_one(st.integers(1, 4))):
        radius = draw_one(st.floats(80, 900)) * draw_one(st.sampled_from((1, -1)))
        length = draw_one(st.floats(20, 60))
        elements += [
            Clothoid(length=length, radius_end=radius),
            Arc(length=draw_one(st.floats(10, 1.2 * abs(radius))), radius=radius),
            Clothoid(length=length, radius_start=radius),
            Straight(length=draw_one(st.floats(5, 200))),
        ]
    return AlignmentSpec(
        start_east=draw_one(st.floats(3e5, 6e5)), start_north=draw_one(st.floats(5e6, 6e6)),
        start_bearing_deg=draw_one(st.floats(0, 360)), start_chainage=draw_one(st.floats(-500, 5000)), elements=elements,
    )  # fmt: skip


class PlanViews(TestCase):
    @settings(max_examples=many(25), deadline=None)
    @given(alignments(), st.sampled_from((200, 500, 1000)), st.floats(5, 20))
    def test_every_view_goes_in_and_they_follow_each_other(self, spec: AlignmentSpec, scale: int, beside: float) -> None:
        a = build(spec)
        views = views_along(a, a.start, a.end, beside, scale, ROOM)
        self.assertEqual(views[0].low, a.start)
        self.assertAlmostEqual(views[-1].high, a.end, 6)
        for one, other in itertools.pairwise(views):
            self.assertEqual(one.high, other.low)
        for view in views:
            corners = np.array(view.paper(shapely.get_coordinates(view.strip)))
            self.assertTrue((corners >= [ROOM.left - 1e-6, ROOM.bottom - 1e-6]).all())
            self.assertTrue((corners <= [ROOM.right + 1e-6, ROOM.top + 1e-6]).all())

    @settings(max_examples=many(25), deadline=None)
    @given(alignments(), st.sampled_from((250, 500, 2000)))
    def test_positions_are_those_of_another_library(self, spec: AlignmentSpec, scale: int) -> None:
        """Turned by shapely: the way from one end of the view to the other lies level, and distances are true to the scale."""
        a = build(spec)
        for view in views_along(a, a.start, a.end, 10, scale, ROOM):
            c = np.linspace(view.low, view.high, 9)
            points = a.frames(c).origin
            ahead = points[-1] - points[0]
            angle = math.degrees(math.atan2(ahead[1], ahead[0]))
            line = affinity.translate(shapely.LineString(points), *-points[0])
            turned = affinity.scale(affinity.rotate(line, -angle, origin=(0, 0)), 1000 / scale, 1000 / scale, origin=(0, 0))
            paper = np.array(view.paper(points))
            np.testing.assert_allclose(paper - paper[0], shapely.get_coordinates(turned), atol=1e-5)
            north = np.array(view.north())
            turned_north = affinity.rotate(shapely.Point(0, 1), -angle, origin=(0, 0))
            np.testing.assert_allclose(north, [turned_north.x, turned_north.y], atol=1e-9)

    def test_as_few_sheets_as_there_can_be_on_a_straight(self) -> None:
        road = AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=30, elements=[Straight(length=1000)])
        a = build(road)
        for scale in (500, 1000):
            each = (ROOM.width - 8) * scale / 1000  # 4 mm margin on either side
            views = views_along(a, 0, 1000, 10, scale, ROOM)
            self.assertLessEqual(len(views), math.ceil(1000 / math.floor(each / 10) / 10) + 1)

    def test_surveyed_lines_lie_where_they_were_measured(self) -> None:
        """Every vertex of the lines on the plan, taken back to the ground by the scale bar and the crosses of the grid."""
        model = demo_model()
        style = DrawingStyle(sheets=PlanSheets(scale=500, depths=False))
        sheet = draw(Set(model, {"s": style}, TitleBlock(), "Road"), Drawing(style="s"), Standing("", "", ""))[1]
        named = [t for t in sheet.page.items if isinstance(t, Text) and re.fullmatch(r"\d+ E, \d+ N", t.text)]
        self.assertGreater(len(named), 3)
        arms = [i for i in sheet.page.items if isinstance(i, Polyline) and i.layer == "grid"]
        crosses = {tuple(np.round(np.mean(i.points, axis=0), 3)) for i in arms}
        self.assertEqual(len(arms), 2 * len(crosses))
        # Similarity from paper to ground by least squares over crosses that are named: residuals are nothing.
        views = views_along(model.alignment, model.alignment.start, model.alignment.end, 25.0, 500, ROOM)
        lines = [i for i in sheet.page.items if isinstance(i, Polyline) and i.layer == "survey"]
        ground = np.concatenate([np.concatenate([v.start[:, :2], v.end[:, :2]]) for v in model.inputs.lines.values()])
        tree = shapely.STRtree(shapely.points(views[1].paper(ground)))
        inner = shapely.Polygon(views[1].paper(shapely.get_coordinates(views[1].strip))).buffer(-0.5)
        met = 0
        for line in lines:
            for x, y in line.points[1:-1]:
                if inner.contains(shapely.Point(x, y)):
                    nearest = tree.geometries[tree.nearest(shapely.Point(x, y))]
                    self.assertLess(math.hypot(nearest.x - x, nearest.y - y), 0.01)
                    met += 1
        self.assertGreater(met, 50)


class LongLines(TestCase):
    @given(
        st.lists(st.tuples(st.floats(0.1, 50), st.one_of(st.none(), st.floats(-50, 50))), min_size=2, max_size=30),
        st.floats(0, 1), st.floats(0, 1),
    )  # fmt: skip
    def test_runs_are_the_values_within_the_ends(self, steps: list[tuple[float, float | None]], a: float, b: float) -> None:
        chainage = np.cumsum([s for s, _ in steps])
        values = np.array([np.nan if v is None else v for _, v in steps])
        low, high = sorted(chainage[0] + t * (chainage[-1] - chainage[0]) for t in (a, b))
        found = runs_between(chainage, values, low, high)
        for run in found:
            c = np.array([p[0] for p in run])
            self.assertTrue((np.diff(c) >= 0).all() and c[0] >= low - 1e-9 and c[-1] <= high + 1e-9)
            for at, v in run:
                self.assertAlmostEqual(v, float(np.interp(at, chainage, values)), 6)
        # Every stretch between two known neighbours that lies wholly within is covered, no other is.
        covered = sum(run[-1][0] - run[0][0] for run in found)
        known = np.isfinite(values[:-1]) & np.isfinite(values[1:])
        ends = np.clip(np.stack([chainage[:-1], chainage[1:]]), low, high)
        self.assertAlmostEqual(covered, float((ends[1] - ends[0])[known].sum()), 6)

    def test_of_two_values_at_one_place_both_are_drawn(self) -> None:
        (run,) = runs_between(np.array([0.0, 10.0, 10.0, 20.0]), np.array([1.0, 2.0, 3.0, 4.0]), 0.0, 20.0)
        self.assertEqual(run, [(0.0, 1.0), (10.0, 2.0), (10.0, 3.0), (20.0, 4.0)])

    def test_an_ip_is_named_with_its_level_length_and_k(self) -> None:
        # K = L / A, the length over the algebraic difference of grades in percent (any route-surveying textbook).
        points = [
            ProfilePoint(chainage=0, level=100.0),
            ProfilePoint(chainage=200, level=104.0, length_in=40, length_out=40),
            ProfilePoint(chainage=500, level=101.0),
        ]
        items: list[Item] = []
        names = [n.text for n in profile_names(ProfileSpec(points=points), 0, 500, float, float, (0, 200), 1.8, items)]
        self.assertIn(f"IP 104.000, L 80.0 m, K {80 / 3:.1f}", names)
        self.assertIn("+2.000 %", names)
        self.assertIn("-1.000 %", names)
        self.assertEqual(len(items), 3)
        self.assertEqual(
            [n.text for n in profile_names(ProfileSpec(points=points), 210, 220, float, float, (0, 200), 1.8, [])], ["-1.000 %"]
        )

    def test_radii_and_lengths_stand_in_the_band_of_curvature(self) -> None:
        sheets = draw(
            Set(demo_model(), {"s": DrawingStyle(sheets=LongSheets())}, TitleBlock(), "Road"),
            Drawing(style="s"),
            Standing("", "", ""),
        )
        said = {t.text for s in sheets for t in s.page.items if isinstance(t, Text) and t.source == "curvature"}
        a = demo_model().alignment
        for length, first, last in zip(a.length, a.curvature, a.curvature_end, strict=True):
            if length > 60 and first == last:
                words = "straight" if first == 0 else f"R {1 / abs(first):.0f} m"
                self.assertTrue(any(t.startswith(words) for t in said), words)


class Differences(TestCase):
    @given(st.integers(0, 2**32 - 1))
    def test_the_greatest_is_that_of_dense_sampling(self, seed: int) -> None:
        rng = np.random.default_rng(seed)

        def line() -> np.ndarray:
            n = int(rng.integers(2, 9))
            return np.column_stack([np.sort(rng.uniform(-8, 8, n)), rng.uniform(-1, 1, n)])

        a, b = line(), line()
        low, high = max(a[0, 0], b[0, 0]), min(a[-1, 0], b[-1, 0])
        found, at = greatest_difference(a, b)
        if high < low:
            self.assertEqual((found, at), (None, None))
            return
        assert found is not None and at is not None
        o = np.unique(np.r_[np.linspace(low, high, 3000), a[:, 0], b[:, 0]])
        o = o[(o >= low) & (o <= high)]
        dense = np.interp(o, b[:, 0], b[:, 1]) - np.interp(o, a[:, 0], a[:, 1])
        self.assertAlmostEqual(abs(found), float(np.abs(dense).max()), 9)
        self.assertAlmostEqual(found, float(np.interp(at, b[:, 0], b[:, 1]) - np.interp(at, a[:, 0], a[:, 1])), 9)


class Tables(TestCase):
    @settings(max_examples=many(40), deadline=None)
    @given(
        st.integers(1, 9).flatmap(lambda n: st.lists(st.lists(WORDS, min_size=n, max_size=n), min_size=1, max_size=120)),
        st.sampled_from(HEIGHTS), st.lists(WORDS, max_size=3),
    )  # fmt: skip
    def test_every_row_once_in_order_and_nothing_over_anything(
        self, rows: list[list[str]], height: float, notes: list[str]
    ) -> None:
        heads = [f"Head {k}" for k in range(len(rows[0]))]
        table = Table("A table", heads, rows, notes, frozenset({0}), frozenset({0}))
        bodies = table_bodies(table, ROOM, height)
        room = shapely.box(ROOM.left - 0.1, ROOM.bottom - 1.0, ROOM.right + 0.1, ROOM.top)
        for body in bodies:
            self.assertEqual(overlaps(body.items), [])
            self.assertEqual(beyond(body.items, room), [])
            said = [i.text for i in body.items if isinstance(i, Text) and i.layer == "figures" and i.font == "bold"]
            self.assertTrue(any(t.startswith(("Head", "…", "H")) for t in said))
        lines = sum(sum(isinstance(i, Polyline) and i.layer == "grid" for i in b.items) for b in bodies)
        self.assertEqual(lines, len(rows))

    def test_a_table_is_read_back_from_the_pdf_row_by_row(self) -> None:
        rows = [[f"Item {k}", f"{k * 1.5:.1f}"] for k in range(200)]
        bodies = table_bodies(Table("T", ["What", "m3"], rows, [], frozenset({1})), ROOM, 2.5)
        self.assertGreater(len(bodies), 1)
        pages = [Page("p", 420, 297, body.items) for body in bodies]
        text = " ".join(p.extract_text() for p in PdfReader(io.BytesIO(pages_to_pdf(pages, "T"))).pages)
        places = [re.search(rf"Item {k}\s+{re.escape(figure)}(?!\d)", text) for k, (_, figure) in enumerate(rows)]
        self.assertTrue(all(places))
        starts = [p.start() for p in places if p]
        self.assertEqual(starts, sorted(starts))
        self.assertEqual(text.count("What"), len(bodies))

    def test_columns_of_words_give_way_before_figures_do(self) -> None:
        rows = [["a very long description of what is built here " * 6, "1234567.890"]]
        (body,) = table_bodies(Table("T", ["What", "Figure"], rows, [], frozenset({1})), ROOM, 3.5)
        said = [i.text for i in body.items if isinstance(i, Text)]
        self.assertIn("1234567.890", said)
        self.assertTrue(any(t.endswith("…") for t in said))


class Lettered(TestCase):
    @given(st.lists(st.text(st.sampled_from("abcdefgh"), min_size=1, max_size=30), max_size=40), st.floats(8, 60))
    def test_wrapped_words_go_into_their_width_and_none_is_lost(self, words: list[str], room: float) -> None:
        lines = wrapped(" ".join(words), room, 1.8)
        self.assertTrue(all(width_of(line, 1.8) <= room + 1e-6 for line in lines))
        kept = [w for line in lines for w in line.split()]
        if not any("…" in w for w in kept):
            self.assertEqual(kept, words)

    @given(st.lists(st.floats(0.05, 8), min_size=1, max_size=12), st.sampled_from(HEIGHTS), st.sampled_from(("turn", "leave")))
    def test_a_chain_of_widths_writes_each_once_where_it_goes_in(self, widths: list[float], height: float, narrow: str) -> None:
        ends = np.concatenate([[0.0], np.cumsum(widths)]) * 10  # 1:100
        items: list[Item] = []
        chain(widths, list(itertools.pairwise(ends.tolist())), 0.0, height, items, narrow)  # type: ignore[arg-type]
        self.assertEqual(overlaps(items), [])
        said = [i for i in items if isinstance(i, Text)]
        for text, (x0, x1) in ((t, _around(ends, t.at[0] - (height / 2 if t.rotation else 0))) for t in said):
            self.assertEqual(text.text, f"{(x1 - x0) / 10:.3f}")
        level = [t for t in said if not t.rotation]
        fits = sum(width_of(f"{w:.3f}", height, "mono") <= w * 10 - 1.0 for w in widths)
        self.assertEqual(len(level), fits)
        self.assertEqual(sum(isinstance(i, Polyline) for i in items), 3 * len(widths))

    @given(st.lists(WORDS, max_size=40), st.floats(20, 260), st.floats(8, 40))
    def test_a_legend_stays_in_its_room_and_counts_what_it_lacks(self, words: list[str], width: float, height: float) -> None:
        room = Room(20.0, 10.0, 20.0 + width, 10.0 + height)
        meanings = [Meaning(w, "#123456", width=0.5 if k % 2 else 0.0) for k, w in enumerate(words)]
        items = draw_legend(meanings, room)
        self.assertEqual(overlaps(items), [])
        self.assertEqual(beyond(items, shapely.box(room.left, room.bottom - 0.6, room.right, room.top)), [])
        swatches = sum(isinstance(i, (Polygon, Polyline)) for i in items)
        more = next((int(m[1]) for i in items if isinstance(i, Text) and (m := re.fullmatch(r"and (\d+) more", i.text))), 0)
        if items:
            self.assertEqual(swatches + more, len(words))

    def test_papers_leave_room_for_drawing_and_legend(self) -> None:
        for paper in ("A0", "A1", "A2", "A3", "ANSI B", "ANSI D"):
            room, legend = drawing_room(paper), legend_room(paper)  # type: ignore[arg-type]
            self.assertGreater(room.width * room.height, 60_000)
            self.assertGreater(legend.width, 100)
        self.assertLess(legend_room("A4").width, 50)  # none is drawn there

    def test_a_road_without_a_piece_that_goes_in_is_refused(self) -> None:
        a = build(AlignmentSpec(start_east=0, start_north=0, start_bearing_deg=0, elements=[Arc(length=60, radius=20)]))
        with self.assertRaises(SaddleError):
            views_along(a, 0, 60, 100, 200, ROOM)


def _around(ends: np.ndarray, x: float) -> tuple[float, float]:
    k = int(np.searchsorted(ends, x)) - 1
    return float(ends[k]), float(ends[k + 1])
