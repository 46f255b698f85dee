"""Sheets: paper and scales from the standards, layout, and three writers that agree."""

import io
import itertools
import math
import re
from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from typing import get_args
from unittest import TestCase

import ezdxf
import numpy as np
from ezdxf.entities import LWPolyline
from hypothesis import given
from hypothesis import strategies as st
from lxml import etree
from pypdf import PdfReader

from saddle.chainage import format_chainage
from saddle.drawings import display
from saddle.drawings.body import Set
from saddle.drawings.display import Page, Polygon, Polyline, Text
from saddle.drawings.figures import spread
from saddle.drawings.frame import frame_marks
from saddle.drawings.lettering import width_of
from saddle.drawings.make import draw
from saddle.drawings.sections.areas import area_rows
from saddle.drawings.sections.blocks import block_size, draw_block
from saddle.drawings.sections.columns import figure_offsets
from saddle.drawings.sections.rows import ROWS as ROWS_OF_FIGURES
from saddle.drawings.sections.rows import Column, Reach, rows_at
from saddle.drawings.sections.setting import setting_for, window_of
from saddle.drawings.spec import PAPER, Drawing, DrawingStyle, Paper, RowKind, SectionRow, SectionSheets, TitleBlock, section_rows
from saddle.drawings.title import WIDTH, Standing
from saddle.drawings.writers.dxf import pages_to_dxf, pages_to_flat_dxf
from saddle.drawings.writers.pdf import pages_to_pdf
from saddle.drawings.writers.svg import page_to_svg
from saddle.errors import SaddleError
from saddle.quantities.takeoff import take_off
from saddle.views.section import StructureView, section_view
from tests.cases import demo_inputs, demo_model

STANDING = Standing("A", "for comment", "2026-01-02")
ROWS = (0, 41, 60, 90, 170)

SETTING = setting_for([section_view(demo_model(), i) for i in ROWS], SectionSheets(), 1.8, demo_inputs().materials)


def drawn(rows: Sequence[int], style: DrawingStyle) -> list[Page]:
    """Sheets of some sections of the demo road."""
    at = [float(demo_model().chainage[i]) for i in rows]
    of = Set(demo_model(), {"s": style}, TitleBlock(), "Made-up road")
    return [s.page for s in draw(of, Drawing(style="s", chainages=at), STANDING)]


@cache
def pages(paper: Paper = "A3", legend: bool = True, **look: object) -> list[Page]:
    return drawn(ROWS, DrawingStyle(paper=paper, legend=legend, sheets=SectionSheets(**look)))  # type: ignore[arg-type]


class Standards(TestCase):
    def test_paper(self) -> None:
        # ISO 216 (checks 10.1, from memory, high): A1 594 x 841, A3 297 x 420; here landscape.
        self.assertEqual((PAPER["A1"], PAPER["A3"]), ((841.0, 594.0), (420.0, 297.0)))

    def test_fields_about_the_frame(self) -> None:
        # ISO 5457 Table 2 (from memory, high): fields of 50 mm, long side by short side; ANSI sizes in inches (ASME Y14.1, from memory).
        counts = {"A0": (24, 16), "A1": (16, 12), "A2": (12, 8), "A3": (8, 6), "A4": (6, 4)}
        for paper, (long, short) in counts.items():
            width, height = PAPER[paper]  # type: ignore[index]
            texts = [i.text for i in frame_marks(width, height, (20, 10, width - 10, height - 10)) if isinstance(i, Text)]
            self.assertEqual((sum(t.isdigit() for t in texts) / 2, sum(t.isalpha() for t in texts) / 2), (long, short), paper)
            self.assertFalse({"I", "O"} & set(texts))
        self.assertEqual([round(side / 25.4, 6) for side in (*PAPER["ANSI B"], *PAPER["ANSI D"])], [17, 11, 34, 22])

    def test_rows_of_figures_say_what_their_title_says(self) -> None:
        self.assertEqual(set(ROWS_OF_FIGURES), set(get_args(RowKind)))
        lane = Column(
            -3.25,
            "LaneEdge",
            existing=99.94,
            milled=99.9,
            under=99.9,
            design=99.95,
            hinge=0.0,
            formation=99.7,
            undersides={"Base": 99.812},
            east=10.0,
            north=20.0,
        )
        hinge = Column(0.0, "hinge", existing=None, milled=None, under=None, design=100.03125, hinge=0.0)
        rows = {
            row.kind.title: row for row in rows_at(section_rows(*get_args(RowKind)), Reach(9, 100, "LaneEdge"), 1.8, ["Base"])
        }
        self.assertEqual(
            {title.removesuffix(" m").removesuffix(" mm"): row.at(lane) for title, row in rows.items() if row.kind.at},
            {
                "Point": "LaneEdge", "Offset": "-3.250", "Existing level": "99.940", "Milled level": "99.900", "Design level": "99.950",
                "Difference": "+10", "Depth": "+50", "Formation": "99.700", "Under {of}": "99.812", "{of}": "",
                "East": "10.000", "North": "20.000",
            },
        )  # fmt: skip
        between = {title: row.between(lane, hinge) for title, row in rows.items() if row.kind.between}
        self.assertEqual(between, {"Distance m": "3.250", "Crossfall %": "-2.5"})
        right = Column(3.25, "LaneEdge", None, None, None, 99.95, 0.0)
        self.assertEqual(rows["Crossfall %"].between(hinge, right), "-2.5")
        self.assertEqual(rows["Crossfall %"].between(lane, right), "", "over the hinge there is no one")
        self.assertEqual([rows[t].at(hinge) for t in ("Existing level m", "Milled level m", "Difference mm")], ["", "", ""])

    def test_rows_are_written_as_their_documents_say(self) -> None:
        c = Column(1.25, "", 99.94, None, None, 99.95, 0.0, undersides={"Base": 99.8, "Binder": 99.85}, surfaces={"Old": 98.5})
        reach = Reach(9, 100, "LaneEdge")
        wanted = [
            SectionRow(kind="offset", decimals=1, title="From the hinge", lettering=2.5, height=30),
            SectionRow(kind="underside"), SectionRow(kind="underside", of="Base", decimals=2), SectionRow(kind="surface", of="Old"),
            SectionRow(kind="design", height=3),
        ]  # fmt: skip
        rows = rows_at(wanted, reach, 1.8, ["Binder", "Base"])
        self.assertEqual([row.at(c) for row in rows], ["+1.2", "99.850", "99.800", "99.80", "98.500", "99.950"])
        self.assertEqual(
            [r.laid.title for r in rows],
            ["From the hinge", "Under Binder m", "Under Base m", "Under Base m", "Old m", "Design level m"],
        )
        self.assertEqual((rows[0].laid.height, rows[0].laid.lettering), (30, 2.5))
        self.assertEqual(rows[5].laid.height, rows[1].laid.height, "no row is lower than its longest figure needs")

    def test_which_sections_are_drawn(self) -> None:
        treated = [False, True, True, False, True, True]
        at = [0.0, 10.0, 20.0, 30.0, 40.0, 50.0]
        self.assertEqual(Drawing().shown(at, treated), [0, 1, 2, 3, 4, 5])
        self.assertEqual(Drawing(untreated=False).shown(at, treated), [1, 2, 4, 5])
        self.assertEqual(Drawing(untreated=False, every=2).shown(at, treated), [1, 4])
        self.assertEqual(Drawing(from_chainage=10, to_chainage=30).shown(at, treated), [1, 2, 3])
        self.assertEqual(Drawing(chainages=[41.0, 9.0, 8.0]).shown(at, treated), [1, 4], "the nearest, each once")

    def test_drawing_space(self) -> None:
        # ISO 5457 Table 1 (checks 10.2, from memory, high): A3 277 x 390 inside 20 mm left and 10 mm elsewhere.
        for paper, space in (("A3", (390.0, 277.0)), ("A1", (811.0, 574.0))):
            frame = next(i for i in pages(paper=paper)[0].items if i.layer == "frame")
            assert isinstance(frame, Polyline)
            x, y = np.array(frame.points).T
            self.assertEqual((np.ptp(x), np.ptp(y)), space)
            self.assertEqual((x.min(), y.min(), frame.width), (20.0, 10.0, 0.7))
        self.assertLessEqual(WIDTH, 180.0)

    def test_line_widths_and_lettering_heights(self) -> None:
        # ISO 128 widths and ISO 3098 heights (checks 10.4, from memory, high).
        widths = {i.width for p in pages() for i in p.items if not isinstance(i, Text)}
        self.assertLessEqual(widths, {0.13, 0.18, 0.25, 0.35, 0.5, 0.7, 1.0, 1.4, 2.0})
        heights = {i.height for p in pages() for i in p.items if isinstance(i, Text)}
        self.assertLessEqual(heights, {1.8, 2.5, 3.5, 5, 7, 10, 14, 20})

    def test_scale(self) -> None:
        # ISO 5455 (checks 10.3): mm on paper = m * 1000 / scale; 1:100 and 1:50 give 10 and 20 mm a metre.
        view = section_view(demo_model(), 60)
        (lo, _), (hi, _) = view.design[0], view.design[-1]
        for scale in (50, 100):
            line = next(
                i
                for p in pages(scale=scale, vertical_scale=scale, paper="A1")
                for i in p.items
                if i.layer == "design" and format_chainage(view.chainage) in i.source
            )
            assert isinstance(line, Polyline)
            self.assertAlmostEqual(line.points[-1][0] - line.points[0][0], (hi - lo) * 1000 / scale, 9)
            rise = (view.design[2][1] - view.design[0][1]) * 1000 / scale
            self.assertAlmostEqual(line.points[2][1] - line.points[0][1], rise, 9)


class Layout(TestCase):
    def test_every_section_once_in_road_order_and_inside_the_frame(self) -> None:
        for style in ({}, {"paper": "A1"}, {"scale": 50, "vertical_scale": 20, "paper": "A1"}):
            found = [
                i.text
                for p in pages(**style)
                for i in p.items
                if isinstance(i, Text) and i.layer == "headings" and i.font == "bold"
            ]
            self.assertEqual(found, [format_chainage(demo_model().chainage[i]) for i in ROWS], style)
            for page in pages(**style):
                for item in (i for i in page.items if i.layer != "frame"):
                    for x, y in item.points if not isinstance(item, Text) else [item.at]:
                        self.assertTrue(19.9 <= x <= page.width - 9.9 and 9.9 <= y <= page.height - 9.9, item)

    def test_names_carry_the_chainage_range(self) -> None:
        self.assertRegex(pages()[0].name, r"^XS-01 0\+000\.000 to ")

    def test_a_section_too_large_for_the_sheet_is_refused(self) -> None:
        with self.assertRaises(SaddleError) as caught:
            pages(scale=20)
        self.assertIn("0+000.000", caught.exception.message)
        self.assertIn("scale", caught.exception.hint)

    def test_figures_stand_at_points_edges_and_catch_points(self) -> None:
        view = section_view(demo_model(), 60)
        offsets = figure_offsets(view, SETTING, window_of(view, SectionSheets()), 99)
        for p in view.points:
            self.assertLess(min(abs(o - p.offset) for o in offsets), 0.021)
        self.assertTrue(all(b - a > 0.02 for a, b in itertools.pairwise(offsets)))

    @given(st.lists(st.floats(0, 100), min_size=1, max_size=15), st.floats(0.5, 5))
    def test_figures_are_spread_apart_in_order(self, positions: list[float], gap: float) -> None:
        found = spread(sorted(positions), gap, 0.0, 100.0)
        self.assertEqual(len(found), len(positions))
        for a, b in itertools.pairwise(found):
            self.assertGreaterEqual(b - a, gap - 1e-9)
        self.assertGreaterEqual(min(found), -1e-9)
        self.assertLessEqual(max(found), 100.0 + 1e-9)
        far = [20.0 * i for i in range(4)]
        np.testing.assert_allclose(spread(far, 5.0, 0, 100), far)

    def test_blocks_do_not_overlap(self) -> None:
        for page in pages():
            heads = [i for i in page.items if isinstance(i, Text) and i.layer == "headings" and i.font == "bold"]
            boxes = []
            for head in heads:
                row = next(i for i in ROWS if format_chainage(demo_model().chainage[i]) == head.text)
                w, h = block_size(section_view(demo_model(), row), SETTING)
                boxes.append((head.at[0], head.at[1] + 5 - h, head.at[0] + w, head.at[1] + 5))
            for k, a in enumerate(boxes):
                for b in boxes[k + 1 :]:
                    self.assertTrue(a[2] <= b[0] or b[2] <= a[0] or a[3] <= b[1] or b[3] <= a[1])


class Writers(TestCase):
    def test_pdf_holds_every_chainage_and_level(self) -> None:
        reader = PdfReader(io.BytesIO(pages_to_pdf(pages(), "Sheets")))
        self.assertEqual(len(reader.pages), len(pages()))
        for page, sheet in zip(reader.pages, pages(), strict=True):
            text = page.extract_text()
            squeezed = re.sub(r"\s", "", text)
            wanted = [i.text for i in sheet.items if isinstance(i, Text) and i.layer in ("figures", "headings", "title")]
            self.assertGreater(len(wanted), 30)
            for words in wanted:
                self.assertIn(re.sub(r"\s", "", words), squeezed)
            width, height = (float(v) / 72 * 25.4 for v in page.mediabox[2:])
            self.assertAlmostEqual(width, sheet.width, 2)
            self.assertAlmostEqual(height, sheet.height, 2)

    def test_levels_on_the_sheet_are_those_of_the_model(self) -> None:
        view = section_view(demo_model(), 60)
        texts = {i.text for p in pages() for i in p.items if isinstance(i, Text) and format_chainage(view.chainage) in i.source}
        for p in view.points:
            if "." not in p.name:
                self.assertIn(f"{p.level:.3f}", texts)
                self.assertIn(f"{p.existing:.3f}", texts)
                self.assertIn(f"{p.offset:+.3f}" if p.offset else "0.000", texts)

    def test_areas_beside_a_section_are_those_of_the_quantities(self) -> None:
        """Figures read back from the PDF: of each row the area that the quantities are made of."""
        model = demo_model()
        taken = take_off(model)
        for row in (41, 60, 90):
            (sheet,) = drawn([row], DrawingStyle(sheets=SectionSheets(areas=True)))
            text = PdfReader(io.BytesIO(pages_to_pdf([sheet], "One"))).pages[0].extract_text()
            areas = next(s for s in taken.sections if s.chainage == model.chainage[row]).areas
            wanted = {name.split(" (")[0]: area for name, area in zip(taken.columns, areas, strict=True)}
            rows = dict(area_rows(section_view(model, row)))
            self.assertGreater(len(rows), 2)
            for name, figure in rows.items():
                self.assertAlmostEqual(float(figure), wanted[name] or 0.0, delta=0.0006, msg=f"{name} at row {row}")
                self.assertIn(figure, text)
            missed = {name for name, area in wanted.items() if area and area > 0.0006} - set(rows)
            self.assertEqual(missed, set())

    def test_pits_and_pipes_show_what_is_known_of_them(self) -> None:
        view = section_view(demo_model(), 60)
        ground = view.existing[0][0][1]
        around = [
            (3 + 0.3 * math.cos(a), ground - 2 + 0.3 * math.sin(a)) for a in np.linspace(0, 2 * math.pi, 24, endpoint=False)
        ]

        def told(**of: object) -> tuple[list[Polyline], list[str]]:
            known = {"kind": "pit", "name": "S1", "offset": 3.0, "top": None, "bottom": None, "across": 0.6, **of}
            shown = view.model_copy(update={"structures": [StructureView(**known)]})  # type: ignore[arg-type]
            items, _ = draw_block(shown, setting_for([shown], SectionSheets(points="figures"), 1.8, {}), (0, 0))
            lines = [i for i in items if isinstance(i, Polyline) and i.layer == "structures"]
            return lines, [i.text for i in items if isinstance(i, Text) and i.text.startswith("S1")]

        (pipe,), said = told(kind="pipe", outline=around, top=ground - 1.7, bottom=ground - 2.3)
        self.assertEqual(said, [f"S1, invert {ground - 2.3:.3f}"])
        across = [x for x, _ in pipe.points]
        self.assertAlmostEqual(max(across) - min(across), 6.0, 6)  # 0.6 m at 1:100
        (pit,), said = told(top=ground, bottom=ground - 1.5)
        self.assertEqual(said, [f"S1, cover {ground:.3f}, invert {ground - 1.5:.3f}"])
        self.assertAlmostEqual(max(y for _, y in pit.points) - min(y for _, y in pit.points), 15.0, 6)
        self.assertEqual(told(top=ground), ([], [f"S1, cover {ground:.3f}"]), "no shape is made up for a pit of unknown invert")
        self.assertEqual(told(), ([], ["S1"]))
        self.assertEqual(told(offset=40.0, top=ground, bottom=ground - 1), ([], []), "beyond what the section shows")

    def test_depth_is_not_known_where_milling_is_not(self) -> None:
        view = section_view(demo_model(), 60)
        look = SectionSheets(rows=section_rows("depth"))

        def figures(**of: object) -> set[str]:
            shown = view.model_copy(update=of)
            items, _ = draw_block(shown, setting_for([shown], look, 1.8, {}), (0, 0))
            return {i.text for i in items if isinstance(i, Text) and i.layer == "figures" and i.rotation}

        self.assertIn("+112", figures())
        self.assertEqual(figures(milled_area=None), set())
        lower = [[(o, z - 0.03) for o, z in run] for run in view.existing]
        self.assertIn("+142", figures(milled=lower, milled_area=0.2))

    def test_areas_say_what_is_not_known(self) -> None:
        view = section_view(demo_model(), 60)
        lost = view.model_copy(update={"layers": [], "cut": None, "fill": None, "milled_area": None})
        self.assertEqual(dict(area_rows(lost)), dict.fromkeys(("Courses", "Milling", "Cut", "Fill"), "not known"))
        milled = view.model_copy(update={"treatment": "leave", "template": None, "layers": [], "milled_area": 0.28})
        self.assertEqual(area_rows(milled), [("Milling", "0.280")], "milled where nothing is built")

    def test_the_legend_names_every_material_of_its_sheet(self) -> None:
        for page in pages():
            drawn = {(i.fill, i.pattern) for i in page.items if isinstance(i, Polygon) and i.layer == "courses"}
            explained = {(i.fill, i.pattern) for i in page.items if isinstance(i, Polygon) and i.source == "legend"}
            self.assertEqual(explained, drawn)
        self.assertFalse([i for p in pages(legend=False) for i in p.items if i.source == "legend" or i.layer == "areas"])

    def test_areas_leave_each_other_and_the_datum_room(self) -> None:
        """On every section: lines apart by more than their height, above the words of the datum, names clear of their figures."""
        setting = replace(SETTING, look=SectionSheets(areas=True), materials={})
        for row in range(0, len(demo_model().chainage), 7):
            view = section_view(demo_model(), row)
            height = block_size(view, setting)[1]
            items = [i for i in draw_block(view, setting, (30.0, 200.0))[0] if isinstance(i, Text)]
            for name, figure in itertools.pairwise(i for i in items if i.layer == "areas"):
                if name.at[1] == figure.at[1]:
                    ends = name.at[0] + width_of(name.text, 1.8), figure.at[0] - width_of(figure.text, 1.8, "mono")
                    self.assertLess(ends[0], ends[1], name.text)
            words = sorted({i.at[1] for i in items if i.layer == "areas"})
            datum = next(i for i in items if i.text.startswith("Datum"))
            self.assertTrue(all(b - a > 1.8 for a, b in itertools.pairwise([datum.at[1], *words])), row)
            self.assertLessEqual(max(words, default=0), 200.0)
            self.assertLessEqual(200.0 - datum.at[1], height)

    def test_dxf_passes_its_audit(self) -> None:
        document = ezdxf.read(io.StringIO(pages_to_dxf(pages()).decode()))
        audit = document.audit()
        self.assertEqual((audit.errors, audit.fixes), ([], []))
        # Public DXF reference (checks 10.7): millimetres are unit 4; R2018 is AC1032.
        self.assertEqual((document.header["$INSUNITS"], document.dxfversion), (4, "AC1032"))
        self.assertEqual(len(document.layouts) - 1, len(pages()))

    def test_model_space_holds_the_sections_at_true_size_in_metres(self) -> None:
        at = [float(demo_model().chainage[i]) for i in ROWS]
        of = Set(demo_model(), {"s": DrawingStyle()}, TitleBlock(), "Made-up road")
        sheets = draw(of, Drawing(style="s", chainages=at), STANDING)
        document = ezdxf.read(io.StringIO(pages_to_dxf([s.page for s in sheets], [i for s in sheets for i in s.space]).decode()))
        self.assertEqual((document.audit().errors, document.header["$INSUNITS"]), ([], 6))
        lines = [e for e in document.modelspace() if isinstance(e, LWPolyline) and e.dxf.layer == "design"]
        for line, row in zip(lines, ROWS, strict=False):
            points = np.array(line.get_points("xy"))
            np.testing.assert_allclose(
                points - [round(points[0, 0] / 60) * 60, 0], section_view(demo_model(), row).design, atol=1e-9
            )
        self.assertGreater(len(lines), 3)

    def test_sheets_beside_each_other_where_a_program_shows_model_space_alone(self) -> None:
        """Nothing but places differs from the layouts; the header says where something is to be seen, by public DXF reference, $EXTMIN."""
        sheets = [*pages(), *pages()]
        flat = ezdxf.read(io.StringIO(pages_to_flat_dxf(sheets).decode()))
        self.assertEqual((flat.audit().errors, flat.header["$INSUNITS"]), ([], 4))
        step = sheets[0].width + 30.0
        self.assertEqual(
            (tuple(flat.header["$EXTMIN"]), tuple(flat.header["$EXTMAX"])), ((0, 0, 0), (step + sheets[1].width, 297, 0))
        )
        lines = [np.array(e.get_points("xy")) for e in flat.modelspace() if isinstance(e, LWPolyline)]
        layouts = ezdxf.read(io.StringIO(pages_to_dxf(sheets).decode()))
        wanted = []
        for k, page in enumerate(sheets):
            wanted.append(
                np.array([(0, 0), (page.width, 0), (page.width, page.height), (0, page.height), (0, 0)]) + [k * step, 0]
            )
            on = layouts.layouts.get(layouts.layouts.names_in_taborder()[k + 1])
            wanted += [np.array(e.get_points("xy")) + [k * step, 0] for e in on if isinstance(e, LWPolyline)]
        self.assertEqual(len(lines), len(wanted))
        for a, b in zip(lines, wanted, strict=True):
            np.testing.assert_allclose(a, b, atol=1e-9)

    def test_positions_agree_in_svg_pdf_and_dxf(self) -> None:
        sheet = pages()[0]
        lines = [i for i in sheet.items if isinstance(i, Polyline) and i.layer in ("design", "existing")]
        self.assertGreater(len(lines), 3)
        svg = etree.fromstring(page_to_svg(sheet).encode())
        drawn = [
            [tuple(float(v) for v in xy.split(",")) for xy in e.get("points").split()]
            for e in svg.iter("{*}polyline")
            if e.get("data-layer") in ("design", "existing")
        ]
        layout = ezdxf.read(io.StringIO(pages_to_dxf([sheet]).decode())).paperspace()
        entities = [e for e in layout if isinstance(e, LWPolyline) and e.dxf.layer in ("design", "existing")]
        pdf = PdfReader(io.BytesIO(pages_to_pdf([sheet], "One"))).pages[0].get_contents()
        assert pdf is not None
        moves = re.findall(r"n ([\d.-]+) ([\d.-]+) m", pdf.get_data().decode("latin-1"))
        starts = np.array(moves, dtype=float)
        for line, in_svg, in_dxf in zip(lines, drawn, entities, strict=True):
            np.testing.assert_allclose([(x, sheet.height - y) for x, y in in_svg], line.points, atol=0.001)
            np.testing.assert_allclose(np.array(in_dxf.get_points("xy")), line.points, atol=1e-9)
            self.assertLess(np.abs(starts - line.points[0]).sum(axis=1).min(), 0.01)

    def test_courses_are_closed_and_carry_their_source(self) -> None:
        courses = [i for p in pages() for i in p.items if isinstance(i, Polygon) and i.layer == "courses"]
        self.assertGreater(len(courses), 20)
        for item in courses:
            self.assertGreaterEqual(len(item.points), 3)
            self.assertRegex(item.source, r"^section \d\+\d{3}\.\d{3} (plain|before|after), ")
            self.assertIn(item.pattern, display.PATTERNS)

    def test_text_is_escaped_in_svg(self) -> None:
        page = Page('a "b" <c>', 100, 100, [Text("title", (1, 1), "<&>", 1.8, source='"x"')])
        root = etree.fromstring(page_to_svg(page).encode())
        self.assertEqual([e.text for e in root.iter("{*}text")], ["<&>"])
