"""What a designer does from a survey to sheets, with mouse and keyboard."""

import csv
import io
import re
import time

from openpyxl import load_workbook
from playwright.sync_api import Locator, Page, expect
from pypdf import PdfReader

from demo.road import ALIGNMENT, survey_csv
from design.models import Document
from e2e.browser import BrowserCase, enter, pick, save_as, step_to, turn_to, typed_cells
from e2e.turns import in_turn
from jobs.models import Job
from jobs.run import execute
from projects.models import Project
from saddle.alignment.spec import Arc
from saddle.road.spec import TreatmentPlan


def section(page: Page) -> Locator:
    """The section drawing; its name carries the chainage."""
    return page.get_by_role("img", name=re.compile("^Section at"))


def fresh(page: Page) -> None:
    """Until nothing is being saved or computed."""
    expect(page.get_by_role("status", name="Freshness")).to_have_text(re.compile("Up to date|problem"))


class Stepping(BrowserCase):
    def test_keys_strip_and_address(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=100")
        expect(section(page)).to_have_accessible_name("Section at 0+100.000")
        page.keyboard.press("ArrowRight")
        expect(section(page)).to_have_accessible_name("Section at 0+110.000")
        page.keyboard.press("Shift+ArrowRight")
        expect(section(page)).to_have_accessible_name("Section at 0+210.000")
        page.keyboard.press("End")
        expect(section(page)).to_have_accessible_name("Section at 1+610.000")
        page.keyboard.press("Home")
        page.get_by_role("button", name="Next section").click()
        expect(section(page)).to_have_accessible_name("Section at 0+010.000")
        page.keyboard.press("g")
        page.get_by_role("textbox", name="Chainage").fill("1+234.5")
        page.keyboard.press("Enter")
        expect(section(page)).to_have_accessible_name("Section at 1+230.000")
        page.keyboard.press("8")
        expect(page.get_by_role("table", name="Points of the section")).to_contain_text("ShoulderEdge")
        self.assertRegex(page.url, r"/sections\?at=1234\.500")
        strip = page.get_by_role("slider", name="Chainage")
        box = strip.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 300, box["y"] + 40)
        page.mouse.down()
        page.mouse.move(box["x"] + 500, box["y"] + 40, steps=4)
        page.mouse.up()
        expect(section(page)).not_to_have_accessible_name("Section at 1+230.000")
        where = page.url
        page.reload()
        expect(section(page)).to_be_visible()
        self.assertEqual(page.url, where)

    def test_reading_measuring_and_exaggerating(self) -> None:
        page = self.page()
        self.open(page, "sections?at=560")
        drawing = section(page)
        expect(drawing).to_contain_text("ShoulderEdge")
        high = page.get_by_role("button", name="Exaggeration")
        before = high.inner_text()
        page.keyboard.press("x")
        expect(high).not_to_have_text(before)
        page.keyboard.press("m")
        box = drawing.bounding_box()
        assert box is not None
        page.mouse.click(box["x"] + 300, box["y"] + 200)
        page.mouse.click(box["x"] + 500, box["y"] + 220)
        expect(page.get_by_role("status", name="Measured")).to_contain_text(re.compile(r"across \+\d+\.\d+ m, up −"))

    @in_turn
    def test_play_and_find_anything(self) -> None:
        page = self.page()
        self.open(page, "sections?at=0")
        expect(section(page)).to_be_visible()
        page.get_by_role("button", name="Play along the road").click()
        expect(section(page)).to_have_accessible_name(re.compile(r"Section at 0\+0[3-9]0"))
        page.get_by_role("button", name="Stop playing").click()
        page.keyboard.press("Control+k")
        page.keyboard.type("quant")
        page.get_by_title("Stop Quantities").click()
        expect(page.get_by_role("table", name="Quantities")).to_be_visible()


class Finding(BrowserCase):
    @in_turn
    def test_what_is_typed_leads_there_at_enter(self) -> None:
        """A chainage, a template's point, a course, a treatment, a pipe, an action: by their names, without the mouse."""
        page = self.page()
        self.open(page, "survey?at=100")
        box = page.get_by_role("combobox", name="Find anything")

        def find(text: str) -> None:
            page.keyboard.press("Control+k")
            expect(box).to_be_focused()
            page.keyboard.type(text)
            page.keyboard.press("Enter")
            expect(box).to_have_value("")

        find("0+480")
        expect(page).to_have_url(re.compile("at=480"))
        find("shoulderedge narrow")
        expect(page.get_by_role("textbox", name="Width of ShoulderEdge")).to_be_visible()
        expect(page).to_have_url(re.compile("at=480"))
        find("course regulating")
        expect(page.get_by_role("group", name="Courses")).to_be_visible()
        find("least cover")
        expect(page.get_by_role("textbox", name="Least cover")).to_be_visible()
        find("point 1234")
        expect(page.get_by_role("region", name="Chosen point")).to_contain_text("WP8")
        find("go to a")
        expect(page.get_by_role("dialog")).to_contain_text("Go to chainage")
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_be_hidden()
        # Gone to with the arrows: that one, not the first.
        page.keyboard.press("Control+k")
        page.keyboard.type("structure")
        expect(page.get_by_role("option").first).to_be_attached()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Enter")
        expect(page).not_to_have_url(re.compile("at=480"))
        page.keyboard.press("Control+k")
        page.keyboard.type("no such thing")
        expect(page.get_by_text("Nothing is called “no such thing”")).to_be_visible()
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        expect(page.get_by_role("listbox")).to_have_count(0)


class Treating(BrowserCase):
    def test_a_change_of_cover_shows_everywhere_and_can_be_undone(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=600")
        figures = page.get_by_role("complementary", name="Inspector")
        expect(figures.locator("dl")).to_contain_text("50 mm")
        cover = page.get_by_role("textbox", name="Least cover")
        cover.fill("7cm")
        cover.press("Enter")
        expect(figures.locator("dl")).to_contain_text("70 mm")
        expect(section(page)).to_contain_text("70 mm")
        fresh(page)
        page.reload()
        expect(page.get_by_role("textbox", name="Least cover")).to_have_value("70")
        page.locator("body").press("Control+z")
        expect(page.get_by_role("textbox", name="Least cover")).to_have_value("50")
        page.get_by_role("button", name="Redo").click()
        expect(figures.locator("dl")).to_contain_text("70 mm")

    def test_a_value_that_is_none_is_refused_in_place(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=600")
        cover = page.get_by_role("textbox", name="Least cover")
        cover.fill("plenty")
        expect(page.get_by_text("Not a number in mm")).to_be_visible()
        cover.press("Escape")
        expect(cover).to_have_value("50")

    def test_range_first_then_action(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=900")
        strip = page.get_by_role("slider", name="Chainage")
        box = strip.bounding_box()
        assert box is not None
        page.keyboard.down("Shift")
        page.mouse.move(box["x"] + 700, box["y"] + 40)
        page.mouse.down()
        page.mouse.move(box["x"] + 800, box["y"] + 40, steps=5)
        page.mouse.up()
        page.keyboard.up("Shift")
        bar = page.get_by_role("region", name="Marked range")
        bar.get_by_role("textbox", name="Range from").fill("0+850")
        bar.get_by_role("textbox", name="Range from").press("Enter")
        bar.get_by_role("textbox", name="Range to").fill("0+950")
        bar.get_by_role("textbox", name="Range to").press("Enter")
        bar.get_by_role("button", name="Set treatment").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_text("Reconstruct", exact=True).click()
        dialog.get_by_role("button", name="Set treatment").click()
        expect(page.get_by_role("complementary", name="Inspector").get_by_role("heading", name="0+850 to 0+950")).to_be_visible()
        pick(bar.get_by_role("combobox", name="Apply template"), "Narrow, no widening")
        expect(page.get_by_text("Reconstruct · Narrow, no widening")).to_be_visible()
        fresh(page)
        plan = TreatmentPlan.model_validate(Document.objects.get(project=self.project, kind="treatments").spec)
        self.assertIn((850.0, 950.0, "reconstruct"), [(r.from_chainage, r.to_chainage, r.work.kind) for r in plan.ranges])
        bar.get_by_role("button", name="Drop range").click()
        expect(bar).to_be_hidden()

    def test_problems_lead_to_their_place(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=600")
        page.get_by_role("region", name="Problems").get_by_role("button", name=re.compile("0\\+700")).first.click()
        expect(section(page)).to_have_accessible_name("Section at 0+700.000")

    def test_depth_map_and_its_legend(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=600")
        legend = page.get_by_role("region", name="Overlay depth")
        expect(legend).to_contain_text("under 50 mm")
        areas = [int(t) for t in re.findall(r"(\d+) m²", legend.inner_text())]
        self.assertAlmostEqual(sum(areas[:-1]), areas[-1], delta=3)
        page.get_by_role("button", name="Depth", exact=True).click()
        expect(legend).to_be_hidden()

    def test_a_viewer_looks_and_changes_nothing(self) -> None:
        page = self.page("viewer")
        self.open(page, "overlay?at=600")
        expect(page.get_by_role("textbox", name="Least cover")).to_be_disabled()
        expect(page.get_by_role("button", name="Undo")).to_have_count(0)
        page.keyboard.press("4")
        expect(page.get_by_role("textbox", name="Name of the template")).to_be_disabled()
        expect(page.get_by_role("button", name="Add a strip")).to_have_count(0)
        page.keyboard.press("5")
        expect(page.get_by_role("button", name="Do it")).to_have_count(0)
        page.keyboard.press("1")
        page.get_by_text("Codes", exact=True).click()
        expect(page.get_by_role("checkbox", name="CL in surfaces")).to_be_disabled()
        page.get_by_text("Survey", exact=True).last.click()
        expect(page.get_by_role("button", name="Import another survey")).to_have_count(0)


class FromSurveyToSheets(BrowserCase):
    """A project from nothing without a mouse: survey, alignment, treatment, sections, quantities, sheets."""

    def test_the_whole_way(self) -> None:
        self.start_worker()
        page = self.page()
        page.goto(self.live_server_url)
        page.evaluate("window.dispatchEvent(new Event('offline'))")  # what the browser thinks of the network does not matter
        page.get_by_role("textbox", name="Name of the new project").fill("From nothing")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="No survey yet")).to_be_visible()
        enter(page.get_by_role("button", name="Import a survey"))
        rows = survey_csv().splitlines()
        rows[100] = rows[100].replace(",", ",oops", 1)
        file = {"name": "field.csv", "mimeType": "text/csv", "buffer": "\n".join(rows).encode()}
        with page.expect_file_chooser() as asked:
            enter(page.get_by_role("button", name=re.compile("Drop a file here")))
        asked.value.set_files(file)  # type: ignore[arg-type]
        expect(page.get_by_role("table", name="First rows")).to_contain_text("412300.000")
        enter(page.get_by_role("button", name="Check the file"))
        expect(page.get_by_role("table", name="Left out or noticed")).to_contain_text("row 101")
        expect(page.get_by_role("table", name="Left out or noticed")).to_contain_text("is not a number")
        enter(page.get_by_role("button", name=re.compile("^Import 6,1")))
        expect(page.get_by_role("dialog")).to_be_hidden(timeout=30_000)
        turn_to(page.get_by_role("radiogroup", name="Panel"), "Codes")
        expect(page.get_by_role("group", name="Code list")).to_contain_text("LIP")
        enter(page.get_by_role("button", name="Contours"))

        page.keyboard.press("2")
        enter(page.get_by_role("button", name="Start an alignment"))
        table = "\n".join(
            f"{e.kind}\t{e.length:g}\t" + (f"{e.radius:g}" if isinstance(e, Arc) else "") for e in ALIGNMENT.elements
        )
        typed_cells(
            page.get_by_role("group", name="Elements", exact=True),
            "Kind of element 1",
            "Kind\tLength\tRadius in\ncurve\t5\t\n" + table,
        )
        expect(page.get_by_text("“curve” is none of straight, arc, clothoid. Nothing was changed.")).to_be_visible()
        typed_cells(
            page.get_by_role("group", name="Elements", exact=True), "Kind of element 1", "Kind\tLength\tRadius in\n" + table
        )
        expect(page.get_by_role("textbox", name="Length of element 7")).to_be_visible()
        for label, value in (("easting", "412300"), ("northing", "286540"), ("bearing", "62")):
            field = page.get_by_role("textbox", name=f"Start {label}")
            field.fill(value)
            field.press("Enter")
        expect(page.get_by_role("complementary", name="Inspector")).to_contain_text("1+610.0")
        fresh(page)

        page.keyboard.press("6")
        enter(page.get_by_role("button", name="Overlay 0+000 to 1+610"))
        expect(page.get_by_role("textbox", name="Least cover")).to_be_visible()
        fresh(page)

        def go_to(chainage: str) -> None:
            page.keyboard.press("g")
            page.get_by_role("textbox", name="Chainage").fill(chainage)
            page.keyboard.press("Enter")
            expect(page.get_by_role("dialog")).to_be_hidden()

        for chainage in ("0+430", "1+600"):
            go_to(chainage)
            page.keyboard.press("r")
        expect(page).to_have_url(re.compile("from=430.000&to=1600.000"))
        step_to(page.get_by_role("combobox", name="Apply template"), "Rural, shoulders")
        go_to("0+600")
        expect(section(page)).to_contain_text("LaneEdge")
        fresh(page)

        page.keyboard.press("8")
        interval = page.get_by_role("textbox", name="Interval")
        interval.fill("20")
        interval.press("Enter")
        expect(page.get_by_role("complementary", name="Inspector")).to_contain_text(re.compile("8\\d sections"))
        page.get_by_role("textbox", name="Extra section at").fill("0+615.5")
        page.get_by_role("textbox", name="Extra section at").press("Enter")
        expect(page.get_by_role("button", name="Remove extra section 0+615.500")).to_be_visible()
        fresh(page)

        page.get_by_role("textbox", name="Extra section at").press("Escape")
        page.keyboard.press("9")
        totals = page.get_by_role("table", name="Quantities")
        expect(totals).to_contain_text("Surface course")
        with page.expect_download() as saving:
            enter(page.get_by_role("link", name="Save as XLSX"))
        book = load_workbook(io.BytesIO(saving.value.path().read_bytes()))
        self.assertEqual(saving.value.suggested_filename, "From-nothing_quantities_0-1610.xlsx")
        parts = [r for r in book["Summary"].iter_rows(values_only=True) if r[3] == "Surface course"]
        self.assertRegex(str(parts[-1][5]), r"^=SUM\(F2")  # the total is the sum of what is written above it
        volume = sum(float(str(r[5])) for r in parts[:-1])
        expect(totals).to_contain_text(f"{volume:,.1f}")
        with page.expect_download() as saving:
            enter(page.get_by_role("link", name="Save as CSV"))
        rows_out = list(csv.reader(io.StringIO(saving.value.path().read_text())))
        self.assertEqual(rows_out[0][0], "Treatment")

        page.keyboard.press("0")
        expect(page.get_by_role("figure", name="Sheet XS-01")).to_contain_text("Datum")
        turn_to(page.get_by_role("radiogroup", name="Part of the drawing"), "Style")
        step_to(page.get_by_role("combobox", name="Paper"), "A1")
        expect(page.get_by_role("figure", name="Sheet XS-01")).to_contain_text("(A1)")
        fresh(page)
        with page.expect_download() as saving:
            save_as(page, re.compile("^PDF"))
        text = "".join(p.extract_text() for p in PdfReader(saving.value.path()).pages)
        self.assertIn("0+615.500", text)
        with page.expect_download() as saving:
            save_as(page, re.compile("layouts, model space"))
        self.assertIn(b"AC1032", saving.value.path().read_bytes())
        self.assertTrue(Project.objects.filter(name="From nothing").exists())


class BadFiles(BrowserCase):
    def test_a_file_that_is_no_survey(self) -> None:
        self.expected_statuses = {400}
        self.start_worker()
        page = self.page()
        self.open(page, "survey")
        page.get_by_role("button", name="Import another survey").click()

        def choose(content: bytes) -> None:
            page.locator("input[type=file]").set_input_files({"name": "x.csv", "mimeType": "text/csv", "buffer": content})

        choose(b"")
        expect(page.get_by_role("alert")).to_contain_text("the file is empty")
        line = "number,e,n,z\n" + "".join(f"{i},{i},{i},0\n" for i in range(9))
        choose(line.encode())
        page.get_by_role("button", name="Check the file").click()
        expect(page.get_by_role("table", name="Left out or noticed")).to_contain_text(
            "no surface can be made of these points alone"
        )
        expect(page.get_by_role("alert")).to_contain_text("from what is there")
        page.get_by_role("checkbox", name="It is so").check()
        page.get_by_role("button", name="Import 9 points").click()
        expect(page.get_by_role("alert").first).to_contain_text("all points lie on one line")
        page.get_by_role("button", name="Close").click()
        expect(page.get_by_role("complementary", name="Inspector")).to_contain_text("6,187")


class Imports(BrowserCase):
    @in_turn
    def test_left_by_escape_it_goes_on_and_can_be_taken_back(self) -> None:
        """Done here by the test itself instead of a worker, so that each step is seen."""
        page = self.page()
        self.open(page, "survey")
        page.get_by_role("button", name="Import another survey").click()
        rows = "".join(f"{i},{412300 + 7 * i},{286540 + i * i % 50},{90 + i % 3},GR\n" for i in range(40))
        file = {"name": "small.csv", "mimeType": "text/csv", "buffer": f"number,x,y,z,code\n{rows}".encode()}
        page.locator("input[type=file]").set_input_files(file)  # type: ignore[arg-type]
        page.get_by_role("button", name="Check the file").click()
        self.execute("check_survey")
        page.get_by_role("button", name="Import 40 points").click()
        expect(page.get_by_role("progressbar", name="Progress")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
        expect(page.get_by_role("status", name="Import of small.csv")).to_contain_text("waits for a worker")
        self.execute("import_survey")
        expect(page.get_by_text("Import of small.csv is done.")).to_be_visible()
        expect(page.get_by_role("status", name="Import of small.csv")).to_have_count(0)
        figures = page.get_by_role("complementary", name="Inspector").locator("dl").first
        counting = page.get_by_role("region", name="Imports that count")
        expect(counting).to_contain_text("small.csvfirst40 points, Dana Noll")
        panel = page.get_by_role("region", name="Other imports")
        panel.get_by_role("button", name="Compare").click()
        expect(panel.get_by_role("group", name="Changes")).to_contain_text("6,187".replace(",", ""))
        panel.get_by_role("button", name="Use it").click()
        page.get_by_role("menuitem", name="in place of small.csv").click()
        expect(figures).to_contain_text("6,187")
        page.get_by_role("button", name="Undo").click()
        expect(figures).not_to_contain_text("6,187")
        page.get_by_role("button", name="Undo").click()
        expect(figures).to_contain_text("6,187")

    def execute(self, kind: str) -> None:
        """Do the job of a kind that the page has just asked for."""
        waiting = Job.objects.filter(kind=kind, state=Job.State.WAITING)
        for _ in range(100):
            if waiting.exists():
                return execute(str(waiting.get().pk))
            time.sleep(0.1)
        self.fail(f"no {kind} was asked for")


class Signing(BrowserCase):
    def test_demo_sign_in_and_out(self) -> None:
        self.expected_statuses = {401}
        with self.settings(DEMO=True):
            page = self.page(None)
            page.goto(self.live_server_url)
            page.get_by_role("textbox", name="Name").fill("designer")
            page.get_by_role("textbox", name="Password").fill("wrong")
            page.get_by_role("button", name="Sign in").click()
            expect(page.get_by_role("alert")).to_contain_text("wrong")
            page.get_by_role("button", name="checker").click()
            page.get_by_role("link", name=re.compile("Fennick Vale Road")).click()
            expect(section(page)).to_be_visible()
            page.get_by_role("button", name=re.compile("Signed in as Caro Hask")).click()
            page.get_by_text("Sign out").click()
            expect(page.get_by_role("button", name="Sign in")).to_be_visible()
