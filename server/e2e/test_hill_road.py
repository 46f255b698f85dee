"""Journeys on the second demo road, whose hinge is a surveyed line with gaps, with other codes and chainages from 12+400."""

import re

from playwright.sync_api import expect

from demo.load import load_hill_road
from design.models import Document
from e2e.browser import BrowserCase, choose, pick
from e2e.turns import in_turn


class HillRoad(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.project = load_hill_road()

    @in_turn
    def test_edges_that_stay_uncovered_are_told_and_mended(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=12640")
        inspector = page.get_by_role("complementary", name="Inspector")
        expect(inspector).to_contain_text("12+530 to 12+760")
        choose(inspector, "Lanes reach", "Its own width")
        problems = inspector.get_by_role("region", name="Problems")
        expect(problems).to_contain_text(
            re.compile(r"up to 0\.\d{3} m of old pavement inside the edge stays uncovered, \d+\.\d m²")
        )
        problems.get_by_role("button", name="Let the lanes reach the edge").first.click()
        expect(problems).not_to_contain_text("uncovered")
        expect(
            inspector.get_by_role("combobox", name="Lanes reach").locator("xpath=ancestor::div[contains(@class,'ant-select')][1]")
        ).to_contain_text("At least the old edge")

    @in_turn
    def test_what_is_not_known_stands_beside_the_total(self) -> None:
        self.start_worker()
        page = self.page()
        self.open(page, "quantities")
        expect(page.get_by_role("complementary", name="Inspector")).to_contain_text("Not known over 65.0 m")
        page.get_by_text("Methods", exact=True).click()
        methods = page.get_by_role("table", name="Methods")
        expect(methods).to_contain_text("Regulating course", timeout=45_000)  # the worker starts first
        balance = page.get_by_role("table", name="Balance")
        expect(balance.get_by_role("row", name=re.compile("^What is left open"))).to_contain_text("0.0")

    @in_turn
    def test_a_treatment_shows_its_depths_before_a_template_and_asks_about_what_can_be_read_twice(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=12640&from=12600&to=12700")
        pick(page.get_by_role("combobox", name="Apply template"), "No template")
        inspector = page.get_by_role("complementary", name="Inspector")
        expect(inspector).to_contain_text("but no template is applied here")
        expect(inspector).to_contain_text(re.compile(r"least\s*50\s*mm"))
        choose(inspector, "Crossfall left source", "Given")
        field = inspector.get_by_role("textbox", name="Crossfall left", exact=True)
        field.fill("1 in 40")
        field.press("Enter")
        expect(page.get_by_role("tooltip").filter(has_text="Falling or rising?")).to_be_visible()
        expect(field).to_have_value("1 in 40")
        field.fill("-1 in 40")
        field.press("Enter")
        expect(field).to_have_value("-2.5")
        cover = inspector.get_by_role("textbox", name="Least cover")
        for typed, words in (("99999999", "between -20000 and 20000 mm"), ("1,250", "can be read as 1250 or 1.25")):
            cover.fill(typed)
            cover.press("Enter")
            expect(page.get_by_role("tooltip").filter(has_text=words)).to_be_visible()
        cover.press("Escape")
        expect(cover).to_have_value("50")

    @in_turn
    def test_a_new_treatment_starts_with_the_roads_own_lines(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=12640&from=12540&to=12660")
        page.get_by_role("button", name="Clear treatment").click()
        expect(page.get_by_role("complementary", name="Inspector")).to_contain_text("No treatment at 12+640.000")
        page.get_by_role("button", name="Set treatment").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Line MID")
        expect(dialog).to_contain_text("Line BORD")
        dialog.get_by_role("button", name="Set treatment").click()
        expect(dialog).to_be_hidden()
        expect(page.get_by_role("complementary", name="Inspector")).to_contain_text(
            re.compile("12\\+540 to 12\\+660.*Treatment 3 of")
        )
        spec = Document.objects.get(project=self.project, kind="treatments").spec
        work = next(r["work"] for r in spec["ranges"] if r["from_chainage"] == 12540)
        self.assertEqual((work["hinge"]["code"], work["left_edge"]["code"], work["reach"]), ("MID", "BORD", "at_least_edge"))
