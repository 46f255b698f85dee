"""From a surveyor's file to guides ready for templates, as a designer does it."""

import re
from typing import Any

from playwright.sync_api import Page, expect

from demo.road import ALIGNMENT
from design.models import Document
from e2e.browser import BrowserCase, pick, press
from e2e.test_journeys import fresh, section
from e2e.turns import in_turn
from projects.models import Project
from saddle.alignment.alignment import build
from saddle.alignment.ips import to_ips
from saddle.alignment.spec import AlignmentSpec
from saddle.exchange.dxf.read import read_dxf
from saddle.exchange.landxml_read import read_landxml
from survey.tests.test_formats import LANDXML


def plan(page: Page) -> Any:
    return page.get_by_role("application", name="Plan")


class Bringing(BrowserCase):
    @in_turn
    def test_landxml_into_a_new_project_and_out_again(self) -> None:
        self.start_worker()
        page = self.page()
        page.goto(self.live_server_url)
        page.get_by_role("textbox", name="Name of the new project").fill("From LandXML")
        page.get_by_role("button", name="Make project").click()
        page.get_by_role("button", name="Import a survey").click()
        file = {"name": "side-road.xml", "mimeType": "text/xml", "buffer": LANDXML.encode()}
        page.locator("input[type=file]").set_input_files(file)  # type: ignore[arg-type]
        expect(page.get_by_role("checkbox", name="Old ground, 18 triangles")).to_be_checked()
        expect(page.get_by_role("checkbox", name="Side road, 42.4 m, 1 elements")).to_be_checked()
        expect(page.get_by_role("checkbox", name="P, of Side road")).to_be_checked()
        expect(page.get_by_role("table", name="Left out or noticed")).to_contain_text("1 × Roadways: not read")
        # The pulse hears of the survey before the dialog hears that its job is done: the dialog must not begin anew for that.
        page.route("**/api/jobs/*", lambda route: (page.wait_for_timeout(2500), route.continue_()))
        page.get_by_role("button", name="Import what is chosen").click()
        expect(page.get_by_role("dialog")).to_be_hidden(timeout=20_000)
        page.unroute_all(behavior="wait")
        page.get_by_text("Surfaces", exact=True).click()
        expect(page.get_by_role("button", name=re.compile("Old ground"))).to_contain_text("18 triangles")
        page.get_by_role("link", name="Alignment").click()
        expect(page.get_by_role("textbox", name="Name of the alignment")).to_have_value("Side road")
        page.get_by_text("Long section", exact=True).click()
        expect(page.get_by_role("img", name="Long section")).to_be_visible()
        page.get_by_role("link", name="Survey").click()
        page.get_by_role("button", name="Save as").click()
        with page.expect_download() as saving:
            page.get_by_role("menuitem", name="LandXML: with surfaces and alignments").click()
        found = read_landxml(saving.value.path().read_bytes())
        self.assertEqual([a.spec.name for a in found.alignments], ["Side road"])
        self.assertEqual([s.name for s in found.surfaces], ["Old ground"])

    @in_turn
    def test_codes_surfaces_and_volumes(self) -> None:
        self.start_worker()
        page = self.page()
        self.open(page, "survey?at=300")
        page.get_by_text("Codes", exact=True).click()
        page.get_by_role("checkbox", name="WP8 in surfaces").click()
        fresh(page)
        page.get_by_text("Surfaces", exact=True).click()
        existing = page.get_by_role("button", name=re.compile("^Existing"))
        expect(existing).not_to_contain_text("11,482")
        page.get_by_role("button", name="Add plane").click()
        level = page.get_by_role("textbox", name="Level of the plane")
        level.fill("80")
        level.press("Enter")
        fresh(page)
        page.get_by_role("button", name="Compare").click()
        table = page.get_by_role("table", name="Volume between the surfaces")
        expect(table).to_contain_text("Cut", timeout=30_000)
        page.get_by_text("Pipes", exact=True).click()
        invert = page.get_by_role("textbox", name=re.compile("^Invert of PIT")).first
        invert.fill("75.5")
        invert.press("Enter")
        fresh(page)
        pits = Document.objects.get(project=self.project, kind="structures").spec["pits"]
        self.assertEqual(pits[0]["invert"], 75.5)
        page.get_by_text("Survey", exact=True).last.click()
        page.get_by_role("button", name="Save as").click()
        with page.expect_download() as saving:
            page.get_by_role("menuitem", name="DXF: with surfaces and alignments").click()
        self.assertEqual(len(read_dxf(saving.value.path().read_bytes()).table.number), 6187)

    @in_turn
    def test_where_several_lines_lie_the_person_is_asked(self) -> None:
        page = self.page()
        self.open(page, "survey?at=300")
        expect(plan(page)).to_be_visible()
        page.wait_for_timeout(1200)
        box = plan(page).bounding_box()
        assert box is not None
        # The whole road in view: its lines lie within a few pixels of each other.
        for down in range(-24, 25, 4):
            page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2 + down)
            page.wait_for_timeout(350)
            if page.get_by_text("Several lie here. Which one?").is_visible():
                break
        page.get_by_role("menuitem").first.click()
        expect(page.get_by_role("region", name="Chosen line")).to_contain_text("length")


class SettingOut(BrowserCase):
    @in_turn
    def test_another_start_chainage_moves_what_stands_along_the_road(self) -> None:
        page = self.page()
        self.open(page, "alignment?at=300")
        start = page.get_by_role("textbox", name="Start chainage")
        for button, first in (("Cancel", 0.0), ("Move it along", 12_000.0)):
            start.fill("12000")
            start.press("Enter")
            dialog = page.get_by_role("dialog")
            expect(dialog).to_contain_text("The road begins at 12+000.000")
            dialog.get_by_role("button", name=button).click()
            expect(dialog).to_be_hidden()
            expect(start).to_have_value(f"{first:g}")
            fresh(page)
            spec = Document.objects.get(project=self.project, kind="treatments").spec
            self.assertEqual(spec["ranges"][0]["from_chainage"], first)
        page.get_by_role("button", name="Undo").click()
        expect(start).to_have_value("0")
        fresh(page)
        spec = Document.objects.get(project=self.project, kind="treatments").spec
        self.assertEqual(spec["ranges"][0]["from_chainage"], 0)

    @in_turn
    def test_alignment_fitted_taken_over_and_changed(self) -> None:
        self.start_worker()
        page = self.page()
        self.open(page, "alignment?at=300")
        page.get_by_role("button", name="Find elements").click()
        expect(page.get_by_role("list", name="Elements found")).to_contain_text("R +320.0", timeout=60_000)
        expect(page.get_by_role("table", name="Residuals")).to_be_visible()
        page.get_by_role("button", name="Keep beside").click()
        fresh(page)
        self.assertEqual(Document.objects.filter(project=self.project, kind="alignment").count(), 2)
        pick(page.get_by_role("combobox", name="Alignment shown"), re.compile(r"\(of this road\)"))
        page.get_by_text("Intersection points", exact=True).click()
        radius = page.get_by_role("textbox", name="Radius at IP 3")
        expect(radius).to_have_value("240")
        radius.fill("260")
        radius.press("Enter")
        # At once, quicker than the server makes elements of the first: neither is lost.
        into = page.get_by_role("textbox", name="Transition into IP 3")
        into.fill("40")
        into.press("Enter")
        expect(into).to_have_value("40")
        fresh(page)
        expect(radius).to_have_value("260")
        expect(into).to_have_value("40")
        page.get_by_text("Elements", exact=True).click()
        expect(page.get_by_role("combobox", name="Kind of element 4")).to_be_visible()
        alignment = Document.objects.filter(project=self.project, kind="alignment", key="main")
        self.until(page, lambda: [e["kind"] for e in alignment.get().spec["elements"]].count("clothoid") == 1, "a transition")
        main = alignment.get().spec
        self.assertIn(260, {abs(e["radius"]) for e in main["elements"] if e["kind"] == "arc"})
        page.get_by_role("button", name="Chainage equation").click()
        ahead = page.get_by_role("textbox", name="Equation 1 ahead")
        back = page.get_by_role("textbox", name="Equation 1 back")
        back.fill("500")
        back.press("Enter")
        ahead.fill("2500")
        ahead.press("Enter")
        fresh(page)
        page.get_by_role("link", name="Sections").click()
        page.evaluate("history.replaceState(null, '', location.pathname + '?at=600')")
        page.reload()
        expect(section(page)).to_have_accessible_name("Section at 2+600.000")

    @in_turn
    def test_an_ip_is_dragged_in_plan(self) -> None:
        page = self.page()
        self.open(page, "alignment?at=300")
        page.get_by_text("Intersection points", exact=True).click()
        east = page.get_by_role("textbox", name="Easting of IP 2")
        expect(east).to_be_visible()
        before = float(east.input_value())
        page.wait_for_timeout(1000)
        box = plan(page).bounding_box()
        assert box is not None
        # Found by its place: the view holds the whole road with 50 and 40 px of room around it.
        spec = Document.objects.get(project=self.project, kind="alignment", key="main").spec
        ips = self.ips(spec)
        places = self.plan_extent()
        scale = min((box["width"] - 80) / (places[2] - places[0]), (box["height"] - 100) / (places[3] - places[1]))
        x = box["x"] + box["width"] / 2 + (ips[1]["east"] - (places[0] + places[2]) / 2) * scale
        y = box["y"] + box["height"] / 2 - (ips[1]["north"] - (places[1] + places[3]) / 2) * scale
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 12, y - 3, steps=5)
        page.mouse.up()
        expect(east).not_to_have_value(re.compile(str(before)[:9]))

        def written() -> Any:
            return self.ips(Document.objects.get(project=self.project, kind="alignment", key="main").spec)

        self.until(page, lambda: written()[1]["east"] != ips[1]["east"], "the alignment is written")
        fresh(page)
        moved = written()
        self.assertAlmostEqual(moved[1]["east"] - ips[1]["east"], 12 / scale, delta=4 / scale)
        self.assertAlmostEqual(moved[2]["east"], ips[2]["east"], delta=0.01)

    def ips(self, spec: Any) -> Any:
        found = to_ips(AlignmentSpec.model_validate(spec))
        assert found is not None
        return [p.model_dump() for p in found]

    def plan_extent(self) -> list[float]:
        line = build(ALIGNMENT)
        at = line.frames(line.key_chainages()).origin
        fine = line.frames([c for c in range(0, int(line.end), 2)]).origin  # type: ignore[arg-type]
        low, high = fine.min(axis=0), fine.max(axis=0)
        return [
            min(low[0], at[:, 0].min()),
            min(low[1], at[:, 1].min()),
            max(high[0], at[:, 0].max()),
            max(high[1], at[:, 1].max()),
        ]

    @in_turn
    def test_a_lay_by_is_made_followed_and_dragged(self) -> None:
        page = self.page()
        self.open(page, "guides?at=600&from=580&to=660")
        page.get_by_role("button", name="New guide").click()
        page.get_by_role("menuitem", name="Lay-by").click()
        dialog = page.get_by_role("dialog")
        depth = dialog.get_by_role("textbox", name="Depth")
        depth.fill("2.5")
        depth.press("Enter")
        dialog.get_by_role("button", name="Make guide").click()
        expect(page.get_by_role("group", name="Pieces")).to_contain_text("0+580.00 to 0+600.00")
        expect(page.get_by_text("LaneEdge right follows it")).to_be_visible()
        fresh(page)
        expect(page.get_by_role("img", name="Section at 0+600.000")).to_be_visible()
        page.get_by_text("Followed points", exact=True).click()
        expect(page.get_by_role("table", name="Followed points")).to_contain_text("+5.750")
        press(page.get_by_role("radiogroup", name="Panel"), "Guide")
        length = page.get_by_role("textbox", name="Length of piece 2")
        expect(length).to_have_value("30")
        joint = page.get_by_role("button", name=re.compile("^Joint 2 at"))
        box = joint.bounding_box()
        assert box is not None
        page.mouse.move(box["x"] + 6, box["y"] + 6)
        page.mouse.down()
        page.mouse.move(box["x"] + 40, box["y"] + 6, steps=5)
        page.mouse.up()
        page.wait_for_timeout(300)
        expect(length).not_to_have_value("30")
        fresh(page)
        spec = Document.objects.filter(project=self.project, kind="guide").latest("id").spec
        self.assertGreater(spec["source"]["pieces"][1]["end"]["length"], 35)
        page.keyboard.press("Control+z")
        fresh(page)
        expect(length).to_have_value("30")

    @in_turn
    def test_a_line_drawn_with_points_constructed_from_distances(self) -> None:
        self.expected_statuses = {400}
        page = self.page()
        self.open(page, "guides?at=100")
        page.get_by_role("button", name="New guide").click()
        page.get_by_role("menuitem", name="Line drawn in plan").click()
        points = page.get_by_role("group", name="Points of the guide").get_by_role("textbox", name=re.compile("^Northing"))
        expect(points).to_have_count(2)
        page.get_by_text("Two distances", exact=True).click()
        for name, value in (
            ("First easting", "412300"),
            ("First northing", "286540"),
            ("First distance", "5"),
            ("Second easting", "412306"),
            ("Second northing", "286540"),
            ("Second distance", "0.5"),
        ):
            page.get_by_role("textbox", name=name).fill(value)
        page.get_by_role("button", name="Add point").click()
        expect(page.get_by_role("region", name="Type a point")).to_contain_text("add up to 5.500 m")
        page.get_by_role("textbox", name="Second distance").fill("5")
        page.get_by_role("button", name="Add point").click()
        page.get_by_role("button", name="412303.000 E, 286544.000 N").click()
        expect(points.last).to_have_value("286544.000")
        fresh(page)
        page.get_by_text("Chainage", exact=True).last.click()
        page.get_by_role("textbox", name="Chainage", exact=True).fill("0+050")
        page.get_by_role("textbox", name="Offset", exact=True).fill("-6")
        page.get_by_role("button", name="Add point").click()
        expect(points).to_have_count(4)
        fresh(page)
        self.assertEqual(Project.objects.count(), 1)
