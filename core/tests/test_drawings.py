"""Long sections, plans and typical sections against the road they show: positions and figures read back from what is drawn."""

import io
import itertools
import re
from dataclasses import replace
from unittest import TestCase, mock

import numpy as np
import shapely
from pypdf import PdfReader

from saddle.drawings.body import Set
from saddle.drawings.display import Item, Page, Polygon, Polyline, Text
from saddle.drawings.kinds import KINDS
from saddle.drawings.make import Sheet, draw
from saddle.drawings.sections.packing import GAP
from saddle.drawings.sections.setting import window_of
from saddle.drawings.spec import (
    Drawing,
    DrawingStyle,
    LongRow,
    LongSheets,
    PlanSheets,
    SectionSheets,
    Sheets,
    TitleBlock,
    TypicalSheets,
    filled,
    section_rows,
)
from saddle.drawings.starting import STYLES
from saddle.drawings.title import Revision, Standing, drawing_room
from saddle.drawings.writers.pdf import pages_to_pdf
from saddle.errors import SaddleError
from saddle.lines.spec import At, LineGroup
from saddle.pipeline import solve
from saddle.quantities.compared import compare_figures, figures_of, greatest_difference
from saddle.road.model import RoadModel
from saddle.road.unknown import missing_stretches
from saddle.template.polygons import area_of
from saddle.terrain.spec import CodeList, CodeRule, Pit, Structures
from saddle.views.depth_map import depth_bands, depth_triangles
from saddle.views.earth import earth_on
from saddle.views.section import section_view
from tests.cases import demo_inputs, demo_model
from tests.depth import LONG
from tests.random_roads import random_road
from tests.test_lettering import box_of

STANDING = Standing("B", "for approval", "2026-11-27", (Revision("A", "2026-10-01", "First", "AB"),))


def drawn(sheets: Sheets, model: RoadModel | None = None, **of: object) -> list[Sheet]:
    one = Set(model or demo_model(), {"s": DrawingStyle(sheets=sheets)}, TitleBlock(owner="Vale Roads"), "Made-up road")
    return draw(one, Drawing(style="s", **of), STANDING)  # type: ignore[arg-type]


def lines(page: Page, layer: str) -> list[Polyline]:
    return [i for i in page.items if isinstance(i, Polyline) and i.layer == layer]


def texts(items: list[Item], **of: object) -> list[Text]:
    return [i for i in items if isinstance(i, Text) and all(getattr(i, k) == v for k, v in of.items())]


class WithoutADesign(TestCase):
    def test_plan_and_long_section_hatch_it_and_say_why(self) -> None:
        """A treatment whose hinge is a line that nobody surveyed: nobody reads it as nothing to do."""
        inputs = demo_inputs()
        ranges = [
            r.changed(work=r.work.changed(hinge={"by": "line", "code": "NONE"})) if r.from_chainage == 480 else r
            for r in inputs.treatments.ranges
        ]
        model = solve(replace(inputs, treatments=inputs.treatments.changed(ranges=ranges)))
        self.assertEqual([(m.low, m.high, m.why) for m in missing_stretches(model)], [(480.0, 700.0, "no hinge line")])
        self.assertEqual(missing_stretches(demo_model()), [])
        for sheets, metres in ((PlanSheets(), 1000 / 500), (LongSheets(), 1000 / 1000)):
            found = drawn(sheets, model)
            items = [i for s in found for i in s.page.items]
            hatched = [i for i in items if isinstance(i, Polygon) and i.source == "design missing"]
            self.assertTrue(hatched and all(p.pattern == "rising" for p in hatched))
            if isinstance(sheets, LongSheets):
                wide = sum(max(x for x, _ in p.points) - min(x for x, _ in p.points) for p in hatched)
                self.assertAlmostEqual(wide, 220.0 * metres, 6)
            self.assertTrue(any(t.text.startswith("DESIGN MISSING: no hinge line") for t in texts(items)))
            self.assertIn("Design missing", {t.text for t in texts(items)})
            self.assertFalse([i for s in drawn(sheets) for i in s.page.items if i.source == "design missing"])


class Long(TestCase):
    def test_levels_lie_at_their_scale_above_the_datum(self) -> None:
        model = demo_model()
        for scale, up in ((1000, 100), (500, 50)):
            first = drawn(LongSheets(scale=scale, vertical_scale=up))[0]
            grid = {float(t.text): t.at[1] for t in texts(first.page.items, layer="grid")}
            level = next(iter(grid))
            (design,) = lines(first.page, "design")[:1]
            x0, y0 = design.points[0]
            for x, y in design.points[:20]:
                chainage = (x - x0) * scale / 1000
                row = int(np.abs(model.chainage - chainage).argmin())
                if abs(model.chainage[row] - chainage) < 1e-6 and model.stations.side[row] == 0:
                    wanted = grid[level] - 0.5 + (model.hinge_level[row] - level) * 1000 / up
                    self.assertAlmostEqual(y, wanted, 6)
            self.assertGreater(y0, 50)

    def test_figures_are_those_of_the_sections(self) -> None:
        """Read back from the PDF, sheet by sheet: every level and difference at the interval, and none twice."""
        model = demo_model()
        sheets = drawn(LongSheets(rows=[*LongSheets().rows, LongRow(kind="grade")]))
        reader = PdfReader(io.BytesIO(pages_to_pdf([s.page for s in sheets], "Long")))
        seen: list[float] = []
        for sheet, page in zip(sheets, reader.pages, strict=True):
            text = page.extract_text()
            for chainage in [
                t.text
                for t in texts(sheet.page.items, rotation=90)
                if t.text.count(".") == 1 and t.text == f"{float(t.text):.3f}"
            ]:
                row = np.flatnonzero(np.abs(model.chainage - float(chainage)) < 5e-4)
                if row.size and float(chainage) % 20 == 0:
                    seen.append(float(chainage))
                    level = model.hinge_level[row[-1]]
                    if np.isfinite(level):
                        self.assertIn(f"{level:.3f}", text)
        self.assertEqual(sorted(set(seen)), [float(c) for c in range(0, 1601, 20)])

    def test_sheets_follow_each_other_without_a_gap(self) -> None:
        sheets = drawn(LongSheets(), from_chainage=100, to_chainage=1500)
        ends = [re.findall(r"\d+\+\d{3}\.\d{3}", s.page.name) for s in sheets]
        self.assertEqual(ends[0][0], "0+100.000")
        self.assertEqual(ends[-1][1], "1+500.000")
        self.assertTrue(all(a[1] == b[0] for a, b in itertools.pairwise(ends)))
        with self.assertRaises(SaddleError):
            drawn(LongSheets(), from_chainage=9000)

    def test_the_plan_above_shows_edges_over_their_chainages(self) -> None:
        model = demo_model()
        self.assertFalse([i for i in drawn(LongSheets())[0].page.items if i.source == "straightened plan"])
        for sheet in drawn(LongSheets(plan=True, scale=500)):
            found = [i for i in sheet.page.items if isinstance(i, Polyline) and i.source == "straightened plan"]
            axis = next(i for i in found if i.layer == "alignment")
            (x0, y0), low = axis.points[0], float(re.sub(r".* (\d+)\+(\d{3}\.\d{3}) to .*", r"\1\2", sheet.page.name))
            edges = [i for i in found if i.layer == "design" and not i.dashes]
            for x, y in (p for line in edges for p in line.points):
                chainage, offset = low + (x - x0) * 0.5, (y0 - y) * 0.5
                side = model.depth.left if offset < 0 else model.depth.right
                if np.abs(model.chainage[model.stations.side != 0] - chainage).min() < 0.01:
                    continue  # two sections, two edges
                known = np.isfinite(side)
                self.assertAlmostEqual(offset, float(np.interp(chainage, model.chainage[known], side[known])), delta=0.02)

    def test_chainages_are_written_as_they_are_called(self) -> None:
        spec = demo_model().inputs.alignment.changed(equations=[{"back": 500, "ahead": 1500}])
        model = solve(replace(demo_model().inputs, alignment=spec))
        sheet = drawn(LongSheets(), model, from_chainage=480, to_chainage=560)[0]
        said = {t.text for t in texts(sheet.page.items, layer="figures", rotation=90)}
        self.assertLessEqual({"480.000", "1520.000", "1560.000"}, said)
        self.assertNotIn("520.000", said)

    def test_what_lies_beyond_the_levels_shown_is_told_and_not_drawn_over_the_figures(self) -> None:
        deep = Pit(name="Deep", east=0, north=0, cover=20.0, invert=10.0)
        at = demo_model().alignment.frames(np.array([100.0])).origin[0]
        pit = deep.changed(east=float(at[0]), north=float(at[1]))
        model = solve(replace(demo_model().inputs, structures=Structures(pits=[pit])))
        sheet = drawn(LongSheets(), model)[0]
        self.assertEqual(sheet.laid.left_out, ("Deep, beyond the levels shown",))
        self.assertEqual(lines(sheet.page, "structures"), [])
        near = pit.changed(cover=81.0, invert=79.5)
        model = solve(replace(demo_model().inputs, structures=Structures(pits=[near])))
        (box,) = lines(drawn(LongSheets(), model)[0].page, "structures")
        self.assertAlmostEqual(max(y for _, y in box.points) - min(y for _, y in box.points), 15.0, 6)  # 1.5 m at 1:100

    def test_no_line_leaves_the_room_on_whatever_road(self) -> None:
        room = drawing_room("A3")
        for seed in range(8):
            model = solve(random_road(np.random.default_rng(seed)))
            for sheet in drawn(LongSheets(plan=True), model)[:4]:
                for item in sheet.page.items:
                    if isinstance(item, Polyline) and item.layer not in ("frame", "title"):
                        x, y = np.array(item.points).T
                        inside = (
                            x.min() > room.left - 0.1
                            and x.max() < room.right + 0.1
                            and y.min() > room.bottom - 0.1
                            and y.max() < room.top + 0.1
                        )
                        self.assertTrue(inside, f"{seed} {item.source} {item.layer}")

    def test_a_steep_road_gets_another_datum_and_stays_in_its_room(self) -> None:
        room = drawing_room("A3")
        for sheet in drawn(LongSheets(scale=5000, vertical_scale=20)):
            for line in lines(sheet.page, "design") + lines(sheet.page, "existing"):
                self.assertTrue(all(room.bottom <= y <= room.top for _, y in line.points))
        self.assertGreater(
            len({t.text for t in texts(drawn(LongSheets(scale=5000, vertical_scale=20))[0].page.items, layer="grid")}), 5
        )


class Plan(TestCase):
    def test_the_alignment_lies_at_its_scale_and_in_the_room(self) -> None:
        model, room = demo_model(), drawing_room("A3")
        total = 0.0
        for sheet in drawn(PlanSheets(scale=500)):
            line = lines(sheet.page, "alignment")[0]
            points = np.array(line.points)
            total += float(np.hypot(*np.diff(points, axis=0).T).sum()) * 0.5
            self.assertTrue((points >= [room.left, room.bottom]).all() and (points <= [room.right, room.top]).all())
        # Chords of 2 m are shorter than the arc by less than a thousandth of a percent here.
        self.assertAlmostEqual(total, model.alignment.end - model.alignment.start, delta=0.05)

    def test_depth_bands_cover_the_overlay(self) -> None:
        """Areas on paper against the exact area of the overlay: the outlines keep within a centimetre."""
        model = demo_model()
        exact = sum(b.area for b in depth_bands(depth_triangles(model), model.inputs.settings.depth_bands_mm))
        paper = 0.0
        for sheet in drawn(PlanSheets(scale=500)):
            for item in sheet.page.items:
                if isinstance(item, Polygon) and item.layer == "depths":
                    x, y = np.array(item.points).T
                    paper += abs(float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))) / 2 * 0.25
        self.assertAlmostEqual(paper / exact, 1.0, delta=0.01)

    def test_coordinates_are_written_beside_the_road(self) -> None:
        """Off the depths of the overlay, and off each line that is drawn."""
        written = 0
        for sheet in drawn(PlanSheets(scale=500)):
            items = sheet.page.items
            road = shapely.union_all([shapely.Polygon(i.points) for i in items if isinstance(i, Polygon) and i.layer == "depths"])
            drawn_lines = shapely.MultiLineString(
                [i.points for i in items if isinstance(i, Polyline) and i.layer in ("survey", "design")]
            )
            for text in (t for t in texts(items) if re.fullmatch(r"\d+ E, \d+ N", t.text)):
                written += 1
                self.assertFalse(road.contains(shapely.Point(text.at)), text.text)
                self.assertFalse(box_of(text).intersects(drawn_lines), text.text)
        self.assertGreater(written, 20)

    def test_edges_go_on_from_sheet_to_sheet(self) -> None:
        """Also where a sheet ends between two sections: together they are as long as the edges of the overlay."""
        model = demo_model()
        total = sum(
            float(np.hypot(*np.diff(np.array(line.points), axis=0).T).sum()) * 0.5
            for sheet in drawn(PlanSheets(scale=500), from_chainage=3, to_chainage=1608)
            for line in lines(sheet.page, "design")
        )
        wanted = 0.0
        for offsets in (model.depth.left, model.depth.right):
            plan = model.frames.plan(np.arange(len(offsets)), offsets)
            steps = np.hypot(*np.diff(plan, axis=0).T)
            wanted += float(np.nansum(steps))
        self.assertAlmostEqual(total, wanted, delta=8.0)

    def test_codes_mean_what_the_project_says(self) -> None:
        code = next(iter(demo_model().inputs.lines))
        codes = CodeList(rules=[CodeRule(code=code, meaning="path", colour="#123456", dashed=True)])
        one = Set(demo_model(), {"s": DrawingStyle(sheets=PlanSheets())}, TitleBlock(), "Road", codes=codes)
        sheet = draw(one, Drawing(style="s"), STANDING)[1]
        drawn_so = [i for i in lines(sheet.page, "survey") if i.colour == "#123456"]
        self.assertTrue(drawn_so and all(i.dashes for i in drawn_so))
        self.assertIn("Surveyed path", {t.text for t in texts(sheet.page.items, source="legend")})

    def test_a_background_lies_beneath_and_keeps_its_lengths(self) -> None:
        """A line of 30 m across the road at 200 m, put under the survey, is 30 mm long at 1:1000, drawn before all else of the ground."""
        model = demo_model()
        at = model.alignment.frames(np.array([200.0]))
        ends = np.stack([at.plan(0, np.array([-15.0])), at.plan(0, np.array([15.0]))], axis=1)
        for on in (True, False):
            style = DrawingStyle(sheets=PlanSheets(scale=1000, background=on))
            sheets = draw(Set(model, {"s": style}, TitleBlock(), "Road", background=lambda: [ends]), Drawing(style="s"), STANDING)
            found = [(k, i) for k, s in enumerate(sheets) for i in lines(s.page, "background")]
            self.assertEqual(len(found) > 0, on)
            for k, line in found:
                self.assertAlmostEqual(np.hypot(*np.diff(np.array(line.points), axis=0).T).sum(), 30.0, 6)
                of_ground = [i for i in sheets[k].page.items if i.layer in ("background", "depths", "survey", "alignment")]
                self.assertEqual(of_ground[0].layer, "background")
                self.assertIn("Background", {t.text for t in texts(sheets[k].page.items, source="legend")})

    def test_north_and_the_scale_bar_are_true(self) -> None:
        sheet = drawn(PlanSheets(scale=1000))[0]
        bars = [i for i in sheet.page.items if isinstance(i, Polygon) and i.source == "scale bar"]
        labels = [t for t in texts(sheet.page.items, source="scale bar") if t.text.isdigit()]
        self.assertAlmostEqual((labels[1].at[0] - labels[0].at[0]), float(labels[1].text), 6)  # 1 mm a metre at 1:1000
        self.assertEqual(len(bars), 5)
        tip = next(i for i in sheet.page.items if isinstance(i, Polygon) and i.source == "north")
        crosses = lines(sheet.page, "grid")
        up = np.array(crosses[1].points)  # the arm along north
        along = (up[1] - up[0]) / np.hypot(*(up[1] - up[0]))
        arrow = np.array(tip.points[0]) - np.array(tip.points[2])
        np.testing.assert_allclose(arrow / np.hypot(*arrow), along, atol=1e-9)

    def test_too_wide_is_a_clear_message(self) -> None:
        with self.assertRaises(SaddleError) as caught:
            drawn(PlanSheets(scale=200, beside=60))
        self.assertIn("mm across the road", caught.exception.message)


class Typical(TestCase):
    def test_widths_are_those_of_the_template(self) -> None:
        sheets = drawn(TypicalSheets(scale=100), templates=["rural"])
        (sheet,) = sheets
        widths = {t.text for t in texts(sheet.page.items, layer="dimensions")}
        at = re.search(r"as it stands at (\d)\+(\d{3})", " ".join(t.text for t in texts(sheet.page.items)))
        assert at is not None
        view = section_view(demo_model(), int(np.abs(demo_model().chainage - int(at[1] + at[2])).argmin()))
        points = [p for p in view.points if p.kind == "point"]
        self.assertEqual(
            widths, {f"{b.offset - a.offset:.3f}" for a, b in (*itertools.pairwise(points), (points[0], points[-1]))}
        )
        spec = demo_model().inputs.templates["rural"]
        said = {t.text for t in texts(sheet.page.items)}
        self.assertIn(spec.name, said)
        for strip in spec.right.strips:
            for course in demo_model().inputs.make_ups[strip.new].courses:
                self.assertIn(course.name, said)
                if isinstance(course.thickness_mm, float):
                    self.assertIn(f"{course.thickness_mm:g}", said)

    def test_templates_share_sheets_of_one_scale(self) -> None:
        """Each once, with its courses, on fewer sheets than there are templates."""
        sheets = drawn(TypicalSheets())
        names = [t.text for s in sheets for t in texts(s.page.items, layer="headings", font="bold") if t.height == 3.5]
        templates = [n for n in names if n != "Courses"]
        self.assertEqual(sorted(templates), sorted({demo_model().inputs.templates[g.key].name for g in demo_model().groups}))
        self.assertEqual(names.count("Courses"), len(templates))
        self.assertLess(len(sheets), len(templates))
        self.assertFalse([s.laid.left_out for s in sheets if s.laid.left_out])

    def test_a_template_that_stands_nowhere_is_named(self) -> None:
        with self.assertRaises(SaddleError) as caught:
            drawn(TypicalSheets(), templates=["median"])
        self.assertIn("stands nowhere", caught.exception.message)


class Insets(TestCase):
    def test_a_section_in_a_plan_at_its_own_scale(self) -> None:
        view = section_view(demo_model(), 60)
        width = view.design[-1][0] - view.design[0][0]

        def inset(**of: object) -> list[Item]:
            made = drawn(PlanSheets(), insets=[{"sheet": 2, "chainage": view.chainage, "width": 150, "height": 60, **of}])
            self.assertFalse([i for i in made[0].page.items if i.source == "inset 1"])
            return [i for i in made[1].page.items if i.source.startswith("inset 1")]

        for scale in (100, 200):
            items = inset(scale=scale)
            (line,) = [i for i in items if isinstance(i, Polyline) and i.layer == "design"]
            self.assertAlmostEqual(line.points[-1][0] - line.points[0][0], width * 1000 / scale, 9)
            self.assertTrue(any(isinstance(i, Text) and i.text.endswith(f", 1:{scale}") for i in items))
        fitted = inset(scale=None)
        (line,) = [i for i in fitted if isinstance(i, Polyline) and i.layer == "design"]
        true = width * 1000 / (line.points[-1][0] - line.points[0][0])
        self.assertTrue(any(isinstance(i, Text) and f"not to the sheet's scale, 1:{true:.3g}" in i.text for i in fitted))
        self.assertFalse([i for i in inset(border=False, opaque=False) if i.layer == "marks"])

    def test_what_does_not_go_in_is_named(self) -> None:
        for of, words in (
            ({"sheet": 99}, "is on sheet 99, but the drawing has"), ({"scale": 20}, "goes in at 1:"), ({"x": 300, "width": 200}, "reaches to"),
        ):  # fmt: skip
            with self.assertRaises(SaddleError) as caught:
                drawn(PlanSheets(), insets=[{"chainage": 600, **of}])
            self.assertIn(words, caught.exception.message)


class Earth(TestCase):
    def test_outlines_have_the_areas_of_cut_and_fill(self) -> None:
        met = 0
        for model in (demo_model(), *(solve(random_road(np.random.default_rng(seed))) for seed in range(6))):
            for i in range(0, len(model.chainage), 3):
                pieces = earth_on(model, i)
                for kind, wanted in (("cut", model.earthworks.cut[i]), ("fill", model.earthworks.fill[i])):
                    area = sum(abs(area_of(p.polygon)) for p in pieces if p.kind == kind)
                    if pieces:
                        self.assertAlmostEqual(area, float(wanted), 6)
                        met += 1
        self.assertGreater(met, 150)


class SectionFigures(TestCase):
    def test_every_figure_on_200_sections_of_random_roads_is_the_models(self) -> None:
        """Levels of template points read back from the PDF by another program's reader."""
        read = 0
        for seed in range(40):
            model = solve(random_road(np.random.default_rng(seed)))
            at = [float(c) for c in model.chainage[:: max(1, len(model.chainage) // 6)]]
            look = SectionSheets(
                scale=200, vertical_scale=200, rows=section_rows("offset", "existing", "design", "east", "north")
            )
            sheets = drawn(look, model, chainages=at)
            reader = PdfReader(io.BytesIO(pages_to_pdf([s.page for s in sheets], "Sections")))
            said = re.sub(r"\s", "", "".join(p.extract_text() for p in reader.pages))
            for i in Drawing(chainages=at).shown(model.chainage.tolist(), [True] * len(model.chainage)):
                view = section_view(model, i)
                self.assertIn(f"{view.shown:.3f}"[-7:], said)
                offsets = [p.offset for p in view.points]
                for p in view.points:
                    # Two points within 2 cm share a column.
                    if "." in p.name or p.kind != "point" or sum(abs(o - p.offset) <= 0.021 for o in offsets) > 1:
                        continue
                    if not any(abs(o - p.offset) < 1e-6 and abs(z - p.level) < 1e-6 for o, z in view.design):
                        continue  # a point that no strip ends at
                    if any(b < a for (a, _), (b, _) in itertools.pairwise(view.design)):
                        continue  # points that crossed, which is a problem of its own: at one offset the design has two levels
                    if sum(abs(o - p.offset) < 1e-6 for o, _ in view.design) > 1:
                        continue  # a step: it has two levels, of which the row says one
                    east, north = model.frames.plan(i, np.array([p.offset]))[0]
                    for figure in (
                        f"{p.level:.3f}",
                        f"{p.offset:+.3f}".replace("+0.000", "0.000"),
                        f"{east:.3f}",
                        f"{north:.3f}",
                    ):
                        self.assertIn(figure, said)
                read += 1
            if read >= 200:
                break
        self.assertGreaterEqual(read, 200)

    def test_formation_is_the_underside_of_what_is_built(self) -> None:
        view = section_view(demo_model(), 75)
        (sheet,) = drawn(SectionSheets(rows=section_rows("offset", "formation")), chainages=[view.chainage])
        said = {t.text for t in texts(sheet.page.items, layer="figures", rotation=90)}
        inner = [p for p in view.points if p.name == "hinge"]
        for p in inner:
            under = min(z for layer in view.layers for o, z in layer.polygon if abs(o - p.offset) < 1e-9)
            self.assertIn(f"{under:.3f}", said)

    def test_a_group_of_section_lines_is_drawn_instead(self) -> None:
        group = LineGroup(name="Culverts", lines=[At(chainage=300, angle_deg=25, name="C1"), At(chainage=700, name="C2")])
        style = DrawingStyle(sheets=SectionSheets(scale=200, vertical_scale=200))
        one = Set(demo_model(), {"s": style}, TitleBlock(), "Made-up road", {}, {"g": group})
        sheets = draw(one, Drawing(style="s", lines="g"), STANDING)
        said = [t.text for s in sheets for t in texts(s.page.items, layer="headings")]
        self.assertEqual([t for t in said if "+" in t and t[0] == "0" and len(t) == 9], ["0+300.000", "0+700.000"])
        self.assertTrue(any(t.startswith("C1 · +25.0° off square") for t in said))
        self.assertEqual(len(draw(one, Drawing(style="s", lines="g", from_chainage=500), STANDING)), 1)
        with self.assertRaises(SaddleError):
            draw(one, Drawing(style="s", lines="gone"), STANDING)

    def test_chainages_and_crossfalls_as_the_office_writes_them(self) -> None:
        (sheet,) = drawn(SectionSheets(prefix="Ch", suffix="m", falls="one_in"), chainages=[600])
        said = {t.text for t in texts(sheet.page.items)}
        self.assertIn("Ch 0+600.000 m", said)
        view = section_view(demo_model(), int(np.abs(demo_model().chainage - 600).argmin()))
        assert view.left_pct is not None
        self.assertIn(f"{'-' if view.left_pct < 0 else '+'}1 in {100 / abs(view.left_pct):.0f}", said)


class Packing(TestCase):
    def test_hinges_stand_over_each_other_and_blocks_apart(self) -> None:
        for seed in range(5):
            model = solve(random_road(np.random.default_rng(seed)))
            for sheet in drawn(SectionSheets(scale=200, vertical_scale=200), model):
                heads = texts(sheet.page.items, layer="headings", font="bold")
                for a, b in itertools.pairwise(heads):
                    if abs(a.at[0] - b.at[0]) < 40 and b.at[1] < a.at[1]:  # of one column
                        self.assertGreater(a.at[1] - b.at[1], GAP)

    def test_room_used(self) -> None:
        """At least 70 % of the drawing space over a set of the demo road."""
        for style in ("sections_a3", "sections_dense", "sections_a1")[: 3 if LONG else 1]:
            sheets = draw(Set(demo_model(), STYLES, TitleBlock(), "Made-up"), Drawing(style=style), STANDING)
            self.assertGreater(np.mean([s.laid.used for s in sheets[:-1]]), 0.7, style)

    def test_ground_beside_a_section_is_shown_where_the_sheet_has_room(self) -> None:
        """As far out as its levels are those shown, and no farther than was surveyed; the hinges of a column stay over each other."""
        sheets = drawn(SectionSheets(scale=100, vertical_scale=100))
        room, wider = drawing_room("A3"), 0
        for sheet in sheets:
            hinges = sorted(
                {round(t.at[0], 1) for t in texts(sheet.page.items, layer="figures", rotation=90) if t.text == "0.000"}
            )
            self.assertLessEqual(len(hinges), 2)
            for line in lines(sheet.page, "existing"):
                x = [p[0] for p in line.points]
                self.assertTrue(room.left - 1e-9 <= min(x) and max(x) <= room.right + 1e-9)
            section = section_view(demo_model(), int(np.abs(demo_model().chainage - _chainage(sheet)).argmin()))
            usual = window_of(section, SectionSheets())
            first = [line for line in lines(sheet.page, "existing") if line.source.startswith(f"section {_words(sheet)}")]
            shown = sum(max(p[0] for p in line.points) - min(p[0] for p in line.points) for line in first) / 10
            wider += shown > usual.high - usual.low + 0.05
        self.assertGreater(wider, len(sheets) / 2)

    def test_a_drawing_of_too_many_sheets_is_refused(self) -> None:
        with (
            mock.patch("saddle.drawings.body.MOST_SHEETS", 30),
            self.assertRaisesRegex(SaddleError, "would have 3. sheets, at most 30"),
        ):
            drawn(SectionSheets())


def _words(sheet: Sheet) -> str:
    return re.findall(r"\d+\+\d{3}\.\d{3}", sheet.page.name)[0]


def _chainage(sheet: Sheet) -> float:
    return float(_words(sheet).replace("+", ""))


class Titles(TestCase):
    def test_the_title_block_says_what_iso_7200_asks_for(self) -> None:
        # ISO 7200 Tables 1 to 3 (from memory, medium): owner, number, date of issue, sheet, title, approval, creator and document type
        # are mandatory data fields.
        block = TitleBlock(owner="Vale Roads", drawn="M. Orme", approved="K. Tarn", numbering="{number}/{n}-{of}")
        one = Set(demo_model(), STYLES, block, "Made-up road")
        sheet = draw(one, Drawing(name="From {from} ({alignment})", number="C7", style="long_a3"), STANDING)[0]
        said = {t.text for t in texts(sheet.page.items, layer="title")}
        self.assertLessEqual(
            {
                "Vale Roads",
                "C7/01-05",
                "2026-11-27",
                "1 of 5",
                "K. Tarn",
                "M. Orme",
                KINDS["long"].title,
                "B",
                "for approval",
                "First",
            },
            said,
        )
        self.assertTrue(any(t.startswith("From 0+000.000 (") for t in said))
        self.assertEqual(filled("{n} {x}", {"n": "1"}), "1 {x}")

    def test_content_is_the_same_whatever_is_written_about_it(self) -> None:
        one, other = drawn(LongSheets()), drawn(LongSheets(), name="Another {n}", number="Z")
        self.assertEqual([s.laid.content for s in one], [s.laid.content for s in other])
        self.assertNotEqual(one[0].laid.content, drawn(LongSheets(vertical_scale=50))[0].laid.content)
        self.assertEqual(len({s.laid.content for s in one}), len(one))


class Compared(TestCase):
    def test_the_greatest_difference_of_two_lines(self) -> None:
        flat = np.array([[-5.0, 10.0], [5.0, 10.0]])
        self.assertEqual(greatest_difference(flat, flat + [0, 0.05])[0], 0.05000000000000071)
        bent = np.array([[-4.0, 10.0], [0.0, 9.7], [6.0, 10.1]])
        difference, offset = greatest_difference(flat, bent)
        self.assertAlmostEqual(difference or 0, -0.3, 9)
        self.assertEqual(offset, 0.0)
        step = np.array([[-5.0, 10.0], [1.0, 10.0], [1.0, 10.2], [5.0, 10.2]])
        moved = np.array([[-5.0, 10.0], [1.0, 10.0], [1.0, 10.15], [5.0, 10.15]])
        self.assertAlmostEqual(greatest_difference(step, moved)[0] or 0, -0.05, 9)
        self.assertEqual(greatest_difference(flat, flat + [20, 0]), (None, None))

    def test_a_road_is_the_same_as_itself_and_not_as_another(self) -> None:
        for seed in range(4):
            figures = figures_of(solve(random_road(np.random.default_rng(seed))))
            same = compare_figures(figures, figures)
            self.assertEqual((same.items, same.sections, same.compared), ([], [], len(figures.sections)))
        model = demo_model()
        one = figures_of(model)
        fewer = one.model_copy(update={"sections": one.sections[:-3]})
        gone = compare_figures(one, fewer)
        self.assertEqual([s.what for s in gone.sections], ["section is gone"] * 3)
        self.assertEqual(section_view(model, 5).design, one.sections[5].design)
