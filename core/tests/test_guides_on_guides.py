"""Guides that stand on other lines: by hand, and as laws. Sums and the further out of two are arithmetic; shapely says where two lines
cross."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
import shapely
from hypothesis import given
from hypothesis import strategies as st

from saddle.geometry.polylines import Floats
from saddle.guides.evaluate import Sources, built_up, guide_corners, guide_line, sound_guides
from saddle.guides.ready_made import LayBy, ReadyMadeIn, make
from saddle.guides.spec import (
    AfterLength,
    AtChainage,
    AtOffset,
    CurveWidening,
    GuidePart,
    GuideSpec,
    Hold,
    NearestLine,
    NoLess,
    NoMore,
    OnGuide,
    OnLineAndParts,
    Pieces,
    Taper,
    WiderBy,
    WiderOnCurves,
)
from saddle.overlay.spec import TieIn
from saddle.pipeline import solve
from saddle.road.spec import Overlay
from saddle.terrain.survey_lines import SurveyLines
from tests.cases import demo_inputs
from tests.test_guides import CURVED, STRAIGHT, sources

EDGE = GuideSpec(name="Edge", source=Pieces(start_chainage=0, start_offset=3.5, pieces=[Hold(end=AtChainage(chainage=400))]))
AT_LEFT = Pieces(start_chainage=0, start_offset=-3.5, pieces=[Hold(end=AtChainage(chainage=400))])
BAY = Pieces(
    start_chainage=100, start_offset=0.0,
    pieces=[Taper(to_offset=2.5, end=AfterLength(length=20)), Hold(end=AfterLength(length=30)),
            Taper(to_offset=0.0, end=AfterLength(length=20))],
)  # fmt: skip


def on(base: str, *parts: GuidePart, side: str = "right") -> GuideSpec:
    return GuideSpec.model_validate(
        {"name": f"On {base}", "side": side, "source": OnLineAndParts(base=OnGuide(guide=base), parts=list(parts)).model_dump()}
    )


def at(guide: GuideSpec, where: Sources, *chainages: float) -> list[float]:
    return [float(x) for x in guide_line(guide, where.alignment.frames(np.array(chainages)), where).offset]


class ByHand(TestCase):
    def test_widening_on_widening(self) -> None:
        """A bay of 2.5 m on an edge that is 0.4 m wider: 3.5, 3.9, then 6.4 in the bay, half of it in the middle of a taper."""
        guides = {"edge": EDGE, "lane": on("edge", WiderBy(width=0.4)), "bay": on("lane", BAY)}
        where = sources(guides=guides)
        np.testing.assert_allclose(at(guides["bay"], where, 50, 110, 130, 160, 300), [3.9, 5.15, 6.4, 5.15, 3.9])
        source = guides["bay"].source
        assert isinstance(source, OnLineAndParts)
        steps = built_up(source, 1, where.alignment.frames(np.array([130.0])), where)
        np.testing.assert_allclose(steps[:, 0], [3.9, 6.4])
        np.testing.assert_allclose(guide_corners(guides["bay"], where), [0, 100, 120, 150, 170, 400])

    def test_outward_is_left_on_the_left(self) -> None:
        edge = EDGE.changed(side="left", source=AT_LEFT)
        guides = {"edge": edge, "bay": on("edge", WiderBy(width=0.4), BAY, side="left")}
        np.testing.assert_allclose(at(guides["bay"], sources(guides=guides), 50, 130), [-3.9, -6.4])

    def test_the_further_out_of_two_and_where_they_cross(self) -> None:
        """A boundary 1 in 40 from 5.0 at 0 crosses the bay's taper of 1 in 8 from 3.5 at 100; the sections stand at the crossings."""
        boundary = GuideSpec(
            name="B",
            source=Pieces(start_chainage=0, start_offset=7.0, pieces=[Taper(to_offset=3.0, end=AtChainage(chainage=400))]),
        )
        guides = {"edge": EDGE, "b": boundary, "bay": on("edge", BAY, NoMore(line=OnGuide(guide="b")))}
        where = sources(guides=guides)
        np.testing.assert_allclose(at(guides["bay"], where, 50, 130, 390), [3.5, 7.0 - 1.3, 3.1])
        free = shapely.LineString([(0, 3.5), (100, 3.5), (120, 6.0), (150, 6.0), (170, 3.5), (400, 3.5)])
        crossings = free.intersection(shapely.LineString([(0, 7.0), (400, 3.0)]))
        expected = sorted(p.x for p in crossings.geoms)
        self.assertEqual(len(expected), 3)
        corners = guide_corners(guides["bay"], where)
        for x in expected:
            self.assertLess(np.abs(corners - x).min(), 1e-6)

    def test_a_line_with_a_gap_holds_where_it_is(self) -> None:
        """A kerb surveyed from 100 to 200: no less than it there, the edge alone beyond; on a base that is not there the kerb alone."""
        kerb = SurveyLines(np.array([[4.2, 100.0, 10.0]]), np.array([[4.2, 200.0, 10.0]]))
        line = NearestLine(code="K", within=8.0)
        bay = on("edge", NoLess(line=line))
        none = GuideSpec(name="N", source=OnLineAndParts(base=NearestLine(code="?", within=5.0), parts=[NoLess(line=line)]))
        never = GuideSpec(name="M", source=OnLineAndParts(base=NearestLine(code="?", within=5.0), parts=[NoMore(line=line)]))
        where = sources(guides={"edge": EDGE}, lines={"K": kerb})
        np.testing.assert_allclose(at(bay, where, 50, 150, 250), [3.5, 4.2, 3.5])
        np.testing.assert_allclose(at(none, where, 50, 150), [np.nan, 4.2])
        np.testing.assert_allclose(at(never, where, 50, 150), [np.nan, np.nan])

    def test_wider_on_curves_on_any_base(self) -> None:
        """What the standard gives an edge at an offset, it gives any line."""
        alone = GuideSpec(name="C", source=CurveWidening(base_offset=3.25))
        stood = on("edge", WiderOnCurves())
        where = sources(CURVED, guides={"edge": EDGE})
        c = np.linspace(0, 300, 61)
        np.testing.assert_allclose(np.array(at(stood, where, *c)) - 3.5, np.array(at(alone, where, *c)) - 3.25, atol=1e-12)
        left = GuideSpec(name="L", side="left", source=OnLineAndParts(base=AtOffset(offset=-3.5), parts=[WiderOnCurves()]))
        np.testing.assert_allclose(at(left, where, *c), -3.5)  # the road turns right: the left edge lies outside

    def test_ready_made_on_a_guide(self) -> None:
        """A lay-by 3 m deep on the left edge at -3.5 is as deep as one whose edge is at -3.5, and it goes where the edge goes."""
        what = LayBy(name="L", from_chainage=100, base_offset=-3.5)
        edge = EDGE.changed(side="left", source=AT_LEFT)
        fixed, stood = make(ReadyMadeIn(what=what)), make(ReadyMadeIn(what=what, on="edge"))
        where = sources(guides={"edge": edge, "further": edge.changed(source=AT_LEFT.changed(start_offset=-4.0))})
        c = (99, 100, 110, 125, 140, 165, 171)  # like any bay it is nowhere before and after
        np.testing.assert_allclose(at(stood, where, *c), at(fixed, where, *c))
        further = stood.changed(source={**stood.source.model_dump(), "base": {"by": "guide", "guide": "further"}})
        np.testing.assert_allclose(np.array(at(further, where, *c)), np.array(at(fixed, where, *c)) - 0.5)


class WhatCannotBeLaid(TestCase):
    def wrong(self, guides: dict[str, GuideSpec]) -> dict[str, str]:
        sound, crooked = sound_guides(guides)
        self.assertEqual(set(sound) | set(crooked), set(guides))
        return crooked

    def test_a_circle_is_named(self) -> None:
        guides = {"a": on("b"), "b": on("c"), "c": on("a"), "d": on("a"), "edge": EDGE}
        wrong = self.wrong(guides)
        self.assertEqual(set(wrong), {"a", "b", "c", "d"})
        self.assertIn("“On b” and “On c” and “On a” stand on each other", wrong["a"])
        self.assertIn("stand on each other", wrong["d"])
        self.assertIn("“On s” stands on itself", self.wrong({"s": on("s")})["s"])

    def test_a_road_that_ends_at_a_circle_is_told_and_computed(self) -> None:
        """Whoever looks for guides finds those that can be laid: of a circle there is no end."""
        inputs = demo_inputs()
        ranges = list(inputs.treatments.ranges)
        i = next(k for k, r in enumerate(ranges) if isinstance(r.work, Overlay))
        ranges[i] = ranges[i].changed(work=ranges[i].work.changed(begin=TieIn(length=10.0, guide="a").model_dump()).model_dump())
        guides = inputs.guides | {"a": on("b"), "b": on("a")}
        plan = inputs.treatments.changed(ranges=[r.model_dump() for r in ranges])
        model = solve(replace(inputs, guides=guides, treatments=plan))
        told = {p.code for p in model.problems}
        self.assertLessEqual({"guide", "no_mouth"}, told)

    def test_what_is_beneath_is_named(self) -> None:
        bad = EDGE.changed(name="Bad", source=Pieces(start_chainage=9, start_offset=1, pieces=[Hold(end=AtChainage(chainage=5))]))
        wrong = self.wrong({"bad": bad, "on": on("bad"), "over": on("on"), "lost": on("nowhere")})
        self.assertIn("before it begins", wrong["bad"])
        self.assertIn("stands on “Bad”, which cannot be laid", wrong["on"])
        self.assertIn("“Bad”", wrong["over"])
        self.assertIn("not there", wrong["lost"])

    def test_a_crooked_part_is_named_and_so_is_what_stands_on_it(self) -> None:
        part = Pieces(start_chainage=9, start_offset=0, pieces=[Hold(end=AtChainage(chainage=5))])
        wrong = self.wrong({"edge": EDGE, "on": on("edge", part), "over": on("on"), "top": on("over")})
        self.assertIn("piece 1", wrong["on"])
        self.assertIn("stands on “On edge”, which cannot be laid", wrong["over"])
        self.assertIn("“On edge”", wrong["top"])

    def test_few_guides_that_ask_each_other_without_end_are_refused(self) -> None:
        """Each names the one before twice: forty of them would ask for the first a million million times."""
        guides = {"g0": EDGE}
        for k in range(1, 41):
            guides[f"g{k}"] = on(f"g{k - 1}", NoLess(line=OnGuide(guide=f"g{k - 1}")))
        sound, crooked = sound_guides(guides)
        self.assertEqual(len(sound) + len(crooked), 41)
        self.assertGreater(len(sound), 5)
        self.assertTrue(any("more than 200" in words for words in crooked.values()))
        where = Sources(sources().alignment, {}, sound)
        np.testing.assert_allclose([at(g, where, 50)[0] for g in sound.values()], 3.5)
        chain = {"g0": EDGE} | {f"g{k}": on(f"g{k - 1}", WiderBy(width=0.01)) for k in range(1, 41)}
        self.assertEqual(self.wrong(chain), {})


widths = st.floats(-1, 2).map(lambda w: round(w, 3))
kinds = st.one_of(
    widths.map(lambda w: WiderBy(width=w)),
    st.tuples(st.floats(10, 250), widths).map(
        lambda p: Pieces(start_chainage=p[0], start_offset=0, pieces=[Taper(to_offset=p[1], end=AfterLength(length=17)),
                                                                      Taper(to_offset=0, end=AfterLength(length=11))])),
    st.floats(2, 6).map(lambda o: NoLess(line=AtOffset(offset=o))),
    st.floats(2, 6).map(lambda o: NoMore(line=AtOffset(offset=o))),
    st.just(WiderOnCurves()),
)  # fmt: skip


def turned(part: GuidePart) -> GuidePart:
    """The part as it is in the mirror: only offsets from the alignment change."""
    if isinstance(part, NoLess | NoMore) and isinstance(part.line, AtOffset):
        return part.changed(line=AtOffset(offset=-part.line.offset))
    return part


class OnlyPieces(TestCase):
    def test_without_pieces_it_is_there_all_along(self) -> None:
        source = OnLineAndParts(base=OnGuide(guide="edge"), parts=[WiderBy(width=1)], only_pieces=True)
        guide = GuideSpec(name="W", source=source)
        np.testing.assert_allclose(at(guide, sources(guides={"edge": EDGE}), 50, 350), [4.5, 4.5])


class Laws(TestCase):
    where = sources(CURVED, guides={"edge": EDGE})
    c: Floats = np.linspace(0, 300, 301)

    def offsets(self, guide: GuideSpec, guides: dict[str, GuideSpec] | None = None) -> Floats:
        where = Sources(self.where.alignment, {}, guides or {"edge": EDGE})
        return guide_line(guide, where.alignment.frames(self.c), where).offset

    @given(st.lists(kinds, max_size=5), st.data())
    def test_parts_split_over_two_guides_are_the_same_line(self, parts: list[GuidePart], data: st.DataObject) -> None:
        cut = data.draw(st.integers(0, len(parts)))
        whole = on("edge", *parts)
        guides = {"edge": EDGE, "first": on("edge", *parts[:cut]), "second": on("first", *parts[cut:])}
        np.testing.assert_array_equal(self.offsets(guides["second"], guides), self.offsets(whole))
        at_once, one_by_one = (guide_corners(g, Sources(self.where.alignment, {}, guides)) for g in (whole, guides["second"]))
        for x in at_once:
            self.assertLess(np.abs(one_by_one - x).min(), 1e-6)

    @given(st.lists(kinds, max_size=5))
    def test_the_mirror(self, parts: list[GuidePart]) -> None:
        bends = [part for part in parts if not isinstance(part, WiderOnCurves)]
        other = EDGE.changed(side="left", source=AT_LEFT)
        left = on("edge", *(turned(p) for p in bends), side="left")
        np.testing.assert_allclose(self.offsets(left, {"edge": other}), -self.offsets(on("edge", *bends)), atol=1e-12)

    @given(st.lists(kinds, max_size=4), st.floats(2, 6))
    def test_held_off_it_never_goes_beyond(self, parts: list[GuidePart], most: float) -> None:
        held = self.offsets(on("edge", *parts, NoMore(line=AtOffset(offset=most))))
        self.assertLessEqual(held.max(), most)
        self.assertGreaterEqual(self.offsets(on("edge", *parts, NoLess(line=AtOffset(offset=most)))).min(), most)
        np.testing.assert_array_equal(held, np.minimum(self.offsets(on("edge", *parts)), most))

    @given(st.lists(kinds, max_size=5))
    def test_between_its_corners_it_runs_as_its_parts_do(self, parts: list[GuidePart]) -> None:
        """On a straight road every part is straight between corners, so the line is: its ends give the middle."""
        straight = sources(STRAIGHT, guides={"edge": EDGE})
        guide = on("edge", *(p for p in parts if not isinstance(p, WiderOnCurves)))
        c = guide_corners(guide, straight)
        inside = np.column_stack([c[:-1] + 1e-7, (c[:-1] + c[1:]) / 2, c[1:] - 1e-7])[np.diff(c) > 1e-3]
        o = guide_line(guide, straight.alignment.frames(inside.ravel()), straight).offset.reshape(-1, 3)
        np.testing.assert_allclose(o[:, 1], (o[:, 0] + o[:, 2]) / 2, atol=1e-5)
