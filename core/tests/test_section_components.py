"""What may be shown on a section besides its lines: each is there when it is asked for, at its place, and not otherwise."""

from unittest import TestCase

import numpy as np

from saddle.drawings.display import Item, Polygon, Polyline, Text
from saddle.drawings.sections.blocks import About, block_size, draw_block, hinge_at, setting_for
from saddle.drawings.spec import SectionSheets
from saddle.views.earth import earth_on
from saddle.views.section import RemarkView, SectionView, section_view
from tests.cases import demo_inputs, demo_model


def drawn(view: SectionView, about: About | None = None, **look: object) -> list[Item]:
    setting = setting_for([view], SectionSheets(point_labels=False, **look), 1.8, demo_inputs().materials)  # type: ignore[arg-type]
    return draw_block(view, setting, (0.0, 0.0), about)[0]


def said(items: list[Item]) -> list[str]:
    return [i.text for i in items if isinstance(i, Text)]


class Components(TestCase):
    view = section_view(demo_model(), 60)

    def test_depths_stand_over_where_they_are(self) -> None:
        d = self.view.depth
        assert d is not None
        self.assertFalse([t for t in said(drawn(self.view)) if t.startswith(("least", "most"))])
        items = drawn(self.view, depths=True)
        told = [i for i in items if isinstance(i, Text) and i.text.startswith(("least", "most"))]
        self.assertEqual([t.text for t in told], [f"least {1000 * d.least:.0f}", f"most {1000 * d.greatest:.0f}"])
        setting = setting_for([self.view], SectionSheets(point_labels=False, depths=True), 1.8, {})
        assert self.view.hinge is not None
        zero = hinge_at(self.view, setting) - self.view.hinge[0] * 10
        for text, offset in zip(told, (d.least_offset, d.greatest_offset), strict=True):
            self.assertLess(abs(text.at[0] - (zero + offset * 10)), 12.0)

    def test_widths_add_up_from_the_first_point_to_the_last(self) -> None:
        widths = [float(i.text) for i in drawn(self.view, widths=True) if isinstance(i, Text) and i.layer == "dimensions"]
        points = [p.offset for p in self.view.points if p.kind == "point" and "." not in p.name]
        self.assertTrue(widths and sum(widths) <= max(points) - min(points) + 1e-3)
        for w in widths:
            self.assertTrue(any(abs(w - (b - a)) < 6e-4 for k, a in enumerate(points) for b in points[k + 1 :]))
        bare = setting_for([self.view], SectionSheets(), 1.8, {})
        wide = setting_for([self.view], SectionSheets(widths=True), 1.8, {})
        self.assertGreater(block_size(self.view, wide)[1], block_size(self.view, bare)[1])

    def test_remarks_stand_at_their_offsets_or_over_the_hinge(self) -> None:
        remarks = [
            RemarkView(text="service crossing", offset=-2.5),
            RemarkView(text="all of it", offset=None),
            RemarkView(text="far", offset=90.0),
        ]
        view = self.view.model_copy(update={"remarks": remarks})
        self.assertLessEqual({"service crossing", "all of it"}, set(said(drawn(view))))
        self.assertNotIn("far", said(drawn(view)), "beyond what the section shows")
        self.assertFalse({"service crossing", "all of it"} & set(said(drawn(view, remarks=False))))

    def test_figures_stand_at_the_offsets_asked_for(self) -> None:
        asked = {"-2.250", "+1.111"}
        self.assertFalse(asked & set(said(drawn(self.view))))
        self.assertLessEqual(asked, set(said(drawn(self.view, offsets=[-2.25, 1.111, 400.0]))))
        self.assertNotIn("+400.000", said(drawn(self.view, offsets=[400.0])), "beyond what the section shows")

    def test_a_section_without_ground_shows_no_level(self) -> None:
        bare = self.view.model_copy(update={
            "existing": [], "milled": [], "design": [], "layers": [], "points": [], "slopes": [], "hinge": None, "depth": None,
            "structures": [], "left_edge": None, "right_edge": None,
        })  # fmt: skip
        words = said(drawn(bare))
        self.assertIn("no ground here", words)
        self.assertFalse([t for t in words if t.startswith("Datum")])

    def test_a_line_goes_through_the_hinge(self) -> None:
        def through(**look: object) -> list[Polyline]:
            return [i for i in drawn(self.view, **look) if isinstance(i, Polyline) and i.source.endswith(", hinge")]  # type: ignore[arg-type]

        (line,) = through()
        self.assertEqual(line.points[0][0], line.points[1][0])
        setting = setting_for([self.view], SectionSheets(point_labels=False), 1.8, {})
        self.assertAlmostEqual(line.points[0][0], hinge_at(self.view, setting), 9)
        self.assertEqual(through(hinge=False), [])

    def test_cut_and_fill_have_a_hatching_each(self) -> None:
        model = demo_model()
        row = int(np.nanargmax(np.minimum(model.earthworks.cut, model.earthworks.fill)))
        view = section_view(model, row)
        about = About(earth_on(model, row))
        patterns = {i.pattern for i in drawn(view, about) if isinstance(i, Polygon) and i.layer == "earth"}
        self.assertEqual(patterns, {"falling", "rising"})
        self.assertFalse([i for i in drawn(view) if i.layer == "earth"])

    def test_crossfalls_in_percent_or_as_one_in_so_many(self) -> None:
        flat = self.view.model_copy(update={"left_pct": -2.5, "right_pct": 0.05})
        self.assertIn("-2.5 %", said(drawn(flat)))
        self.assertLessEqual({"-1 in 40", "level"}, set(said(drawn(flat, falls="one_in"))))
