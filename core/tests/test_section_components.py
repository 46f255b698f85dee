"""What may be shown on a section besides its lines: each is there when it is asked for, at its place, and not otherwise."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from demo.road import boundary as true_boundary
from saddle.drawings.body import Set
from saddle.drawings.display import Item, Polygon, Polyline, Text
from saddle.drawings.make import draw
from saddle.drawings.sections.blocks import block_size, draw_block
from saddle.drawings.sections.columns import level_at, undersides
from saddle.drawings.sections.setting import About, hinge_at, letter_of, setting_for
from saddle.drawings.spec import Drawing, DrawingStyle, SectionSheets, SurfaceLine, TitleBlock, section_rows
from saddle.drawings.title import Standing
from saddle.guides.spec import GuideSpec, NearestLine
from saddle.lines.place import place_group
from saddle.lines.spec import At, LineGroup
from saddle.pipeline import solve
from saddle.terrain.tin import plane_over
from saddle.views.earth import earth_on
from saddle.views.line import ground_of, line_view
from saddle.views.section import RemarkView, SectionView, section_view
from tests.cases import demo_inputs, demo_model


def drawn(view: SectionView, about: About | None = None, **look: object) -> list[Item]:
    setting = setting_for([view], SectionSheets(**{"points": "figures", **look}), 1.8, demo_inputs().materials)  # type: ignore[arg-type]
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
        setting = setting_for([self.view], SectionSheets(points="figures", depths=True), 1.8, {})
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
        setting = setting_for([self.view], SectionSheets(points="figures"), 1.8, {})
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

    def test_courses_get_letters_with_a_key(self) -> None:
        courses = list(dict.fromkeys((layer.name, layer.material) for layer in self.view.layers))
        setting = setting_for([self.view], SectionSheets(letters=True), 1.8, {})
        self.assertEqual(setting.letters, {course: letter_of(k) for k, course in enumerate(courses)})
        self.assertEqual([letter_of(k) for k in (0, 25, 26, 51, 52, 701, 702)], ["A", "Z", "AA", "AZ", "BA", "ZZ", "AAA"])
        stacks = {(layer.side, layer.element, layer.construction) for layer in self.view.layers}
        letters = {letter_of(k) for k in range(len(courses))}
        told = [t for t in said(drawn(self.view, letters=True)) if set(t.split()) <= letters]
        self.assertEqual(len(told), len(stacks))
        self.assertFalse([t for t in said(drawn(self.view)) if t and set(t.split()) <= letters])

    def test_boundaries_are_upright_lines_where_they_are_seen(self) -> None:
        view = self.view.model_copy(update={"boundaries": [-5.0, 60.0]})
        found = [i for i in drawn(view) if i.source.startswith("boundary")]
        self.assertEqual([p[0] for i in found if isinstance(i, Polyline) for p in i.points], [found[0].points[0][0]] * 2)  # type: ignore[union-attr]
        self.assertEqual([i for i in drawn(view, boundary=False) if i.source.startswith("boundary")], [])

    def test_surfaces_are_drawn_as_the_style_says_and_others_besides(self) -> None:
        lines = [
            SurfaceLine(of="design", width=0.7, colour="#112233", line="chain"), SurfaceLine(name="Of last year", line="dotted", width=0.13),
        ]  # fmt: skip
        about = About(others={"Of last year": [[(-30.0, 90.0), (30.0, 96.0)]]})
        look = {
            "surfaces": lines,
            "rows": section_rows("offset").copy() + [section_rows("surface")[0].changed(of="Of last year")],
        }
        items = drawn(self.view, about, **look)
        found = {i.layer: i for i in items if isinstance(i, Polyline) and i.layer in ("existing", "milled", "design", "surfaces")}
        self.assertEqual(set(found), {"design", "surfaces"}, "what the style does not name is not drawn")
        self.assertEqual((found["design"].width, found["design"].colour, len(found["design"].dashes)), (0.7, "#112233", 4))
        self.assertEqual(len(found["surfaces"].points), 2)
        figures = [i for i in items if isinstance(i, Text) and i.font == "mono" and i.layer == "figures"]
        for offset in (t for t in figures if t.text[0] in "+-" or t.text == "0.000"):
            level = next(t for t in figures if t.at[0] == offset.at[0] and t is not offset)
            self.assertAlmostEqual(float(level.text), 93 + 0.1 * float(offset.text), delta=6e-4)

    def test_the_template_says_which_points_are_named(self) -> None:
        quiet, bare = "LaneEdge", "ShoulderEdge"
        changed = {quiet: "figures", bare: "nothing"}
        view = self.view.model_copy(
            update={"points": [p.model_copy(update={"on_sheets": changed.get(p.name, p.on_sheets)}) for p in self.view.points]}
        )
        rows = section_rows("point", "offset")
        names = said(drawn(view, points="template"))
        self.assertFalse({quiet, bare} & set(names))
        self.assertIn(quiet, said(drawn(view, points="template", rows=rows)), "it keeps its column")
        self.assertNotIn(bare, said(drawn(view, points="template", rows=rows)))
        self.assertLessEqual({quiet, bare}, set(said(drawn(view, points="all", rows=rows))))

    def test_undersides_are_those_of_the_courses(self) -> None:
        for layer in self.view.layers:
            offsets = [o for o, _ in layer.polygon]
            middle = (min(offsets) + max(offsets)) / 2
            ends = [z for _, z in layer.polygon]
            self.assertTrue(min(ends) - 1e-9 <= undersides(self.view, middle)[layer.name] <= max(ends) + 1e-9)
        o = self.view.hinge[0] + 0.4 if self.view.hinge else 0.0
        built = undersides(self.view, o)
        design = level_at([self.view.design], o)
        assert design is not None
        self.assertTrue(built and all(z < design for z in built.values()))
        self.assertEqual(undersides(self.view, 500.0), {})

    def test_a_row_of_what_is_not_built_stays_and_is_empty(self) -> None:
        bare = self.view.model_copy(update={"layers": []})
        items = drawn(bare, rows=section_rows("underside"))
        self.assertIn("Under what is built m", said(items))
        self.assertFalse([i for i in items if isinstance(i, Text) and i.layer == "figures" and i.font == "mono"])


class Boundaries(TestCase):
    """Where the work must end is the surveyed line, on sections and on section lines alike."""

    def test_they_lie_on_the_surveyed_line(self) -> None:
        guides = {
            key: GuideSpec(name=key, use=use, side=side, source=NearestLine(code="BDY", within=25.0))  # type: ignore[arg-type]
            for key, use, side in (("left", "boundary", "left"), ("right", "boundary", "right"), ("edge", "edge", "right"))
        }
        model = solve(replace(demo_inputs(), guides=guides))
        group = LineGroup(name="At", marked_guides=False, lines=[At(chainage=c) for c in (300.0, 1220.0)])
        for c in (100.0, 300.0, 1220.0, 1500.0):  # 1220 lies where the right one comes nearer
            i = int(np.abs(model.chainage - c).argmin())
            found = sorted(section_view(model, i).boundaries)
            at = model.chainage[i : i + 1]
            truth = sorted(float(true_boundary(at, side)[0][0]) for side in (-1, 1))
            self.assertEqual(len(found), 2)
            np.testing.assert_allclose(found, truth, atol=0.12)  # shots every few metres, 20 mm of noise
        for k, line in enumerate(place_group(group, ground_of(model)).lines):
            along = line_view(model, group, "g", k, line, {})
            i = int(np.abs(model.chainage - along.chainage).argmin())
            np.testing.assert_allclose(sorted(along.boundaries), sorted(section_view(model, i).boundaries), atol=1e-6)
            self.assertEqual(along.marks, [], "they are no marks unless these are asked for")

    def test_the_legend_names_only_surfaces_that_are_there(self) -> None:
        look = SectionSheets(surfaces=[SurfaceLine(of="existing"), SurfaceLine(name="Flood"), SurfaceLine(name="Elsewhere")])
        here = plane_over(np.array([410_000.0, 285_000.0, 415_000.0, 289_000.0]), 91.0)
        there = plane_over(np.array([0.0, 0.0, 10.0, 10.0]), 91.0)
        surfaces = {"Flood": here, "Elsewhere": there}
        of = Set(demo_model(), {"s": DrawingStyle(sheets=look)}, TitleBlock(), "Road", surface=surfaces.get)
        words = [
            i.text
            for i in draw(of, Drawing(style="s", chainages=[300.0]), Standing("", "", ""))[0].page.items
            if isinstance(i, Text)
        ]
        self.assertIn("Flood", words)
        self.assertNotIn("Elsewhere", words, "it does not reach this far")
        beyond = Drawing(style="s", from_chainage=5000.0)
        self.assertEqual(draw(of, beyond, Standing("", "", "")), [], "no section, no sheet")
