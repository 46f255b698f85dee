"""A divided road from the survey to the issued sheets: two roads on one line, a median between them, a drawing of each."""

import re

from playwright.sync_api import Page, expect

from demo.divided_road import ALIGNMENT, survey_csv
from drawings.models import Issue
from e2e.browser import BrowserCase, choose, enter, typed_cells
from e2e.test_drawings import issue
from e2e.test_journeys import fresh
from e2e.turns import in_turn
from projects.models import Project
from road.model import road_model


class FromTheField(BrowserCase):
    @in_turn
    def test_a_divided_road_from_survey_to_issue(self) -> None:
        self.start_worker()
        page = self.page()
        page.goto(self.live_server_url)
        page.get_by_role("textbox", name="Name of the new project").fill("Two ways")
        page.keyboard.press("Enter")
        self.surveyed(page)
        self.set_out(page)
        self.library(page)
        self.carriageway(page, "left", "Left carriageway, two lanes")
        self.second_road(page)
        self.carriageway(page, "right", "Right carriageway, two lanes")
        self.project = Project.objects.get(name="Two ways")
        model, _ = road_model(self.project, "right-carriageway")
        self.assertIsNotNone(model.taken)
        page.keyboard.press("0")
        issue(page, "For comment", leave=("PL", "LS", "TS"))
        expect(page.get_by_role("heading", name="Issue A")).to_be_visible()
        (made,) = Issue.objects.all()
        paths = {file.path for file in made.files.all()}
        self.assertLessEqual({"quantities.csv", "right-carriageway/quantities.csv"}, paths)
        self.assertTrue(any(path.endswith(".pdf") for path in paths))

    def surveyed(self, page: Page) -> None:
        """The unit is read from the headings."""
        enter(page.get_by_role("button", name="Import a survey"))
        file = {"name": "field.csv", "mimeType": "text/csv", "buffer": survey_csv().encode()}
        with page.expect_file_chooser() as asked:
            enter(page.get_by_role("button", name=re.compile("Drop a file here")))
        asked.value.set_files(file)  # type: ignore[arg-type]
        enter(page.get_by_role("button", name="Check the file"))
        enter(page.get_by_role("button", name=re.compile("^Import 2,")))
        expect(page.get_by_role("dialog")).to_be_hidden(timeout=30_000)

    def set_out(self, page: Page) -> None:
        page.keyboard.press("2")
        enter(page.get_by_role("button", name="Start an alignment"))
        rows = "\n".join(f"{e.kind}\t{e.length:g}\t{getattr(e, 'radius', '')}" for e in ALIGNMENT.elements)
        typed_cells(
            page.get_by_role("group", name="Elements", exact=True), "Kind of element 1", f"Kind\tLength\tRadius in\n{rows}"
        )
        expect(page.get_by_role("textbox", name="Length of element 3")).to_be_visible()
        for label, value in (("easting", "331450"), ("northing", "204870"), ("bearing", "24"), ("chainage", "1000")):
            field = page.get_by_role("textbox", name=f"Start {label}")
            field.fill(value)
            field.press("Enter")
            fresh(page)

    def carriageway(self, page: Page, side: str, template: str) -> None:
        """Overlaid between its outer edge and its margin."""
        page.keyboard.press("6")
        enter(page.get_by_role("button", name="Overlay 1+000 to 1+640"))
        inspector = page.get_by_role("complementary", name="Inspector")
        other = "right" if side == "left" else "left"
        for what, code in (("Hinge", "LL"), (f"{side.capitalize()} edge", "OE"), (f"{other.capitalize()} edge", "IE")):
            choose(inspector, f"{what} source", f"Line {code}")
            choose(inspector, f"{what} source", f"{code}, the {side} one")
            fresh(page)
        self.applied(page, template, other, "" if side == "left" else "Main road, where it ends on the right")
        page.keyboard.press("6")

    def applied(self, page: Page, template: str, inner: str, facing: str) -> None:
        """A template from end to end; on its inner side a median to what it faces, or nothing."""
        page.get_by_role("link", name="Templates").click()
        page.get_by_role("tab", name="Templates").click()
        page.get_by_role("button", name=template).click()
        page.get_by_role("button", name="Apply to a range").click()
        dialog = page.get_by_role("dialog")
        choose(dialog, f"Beyond on the {inner}", "Median by width" if facing else "nothing: it ends there")
        if facing:
            choose(dialog, f"What the median on the {inner} reaches to", facing)
        dialog.get_by_role("button", name="Apply", exact=True).click()
        expect(dialog).to_be_hidden()
        fresh(page)

    def library(self, page: Page) -> None:
        page.get_by_role("link", name="Templates").click()
        page.get_by_role("tab", name="Library").click()
        for name in ("Left carriageway, two lanes", "Right carriageway, two lanes", "Median by width"):
            page.get_by_role("checkbox", name=f"Choose {name}").check()
        page.get_by_role("button", name="Bring into the project").click()
        page.get_by_role("dialog").get_by_role("button", name=re.compile("^Bring")).click()
        expect(page.get_by_text("brought into the project")).to_be_visible()

    def second_road(self, page: Page) -> None:
        page.keyboard.press("w")
        page.get_by_role("menuitem", name="List of roads").click()
        dialog = page.get_by_role("dialog", name="Roads")
        dialog.get_by_role("textbox", name="Name of the new road").fill("Right carriageway")
        choose(dialog, "Alignment of the new road", "Main line")
        dialog.get_by_role("button", name="Add a road").click()
        expect(page).to_have_url(re.compile("road=right-carriageway"))
