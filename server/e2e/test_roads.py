"""Several roads: a second one beside the first, worked on by itself, seen from the first, counted with it, removed and back again."""

import re
from typing import Any

from playwright.sync_api import Page, expect

from design.models import Document
from e2e.browser import BrowserCase, choose, pick
from e2e.test_journeys import fresh
from e2e.turns import in_turn
from projects.models import Project


def beside(project: Project, by: float) -> dict[str, Any]:
    """The beginning of the road's own line, so many metres further east, as another alignment."""
    spec: dict[str, Any] = Document.objects.get(project=project, kind="alignment", key="main").spec
    return {**spec, "name": "Mill Lane line", "start_east": spec["start_east"] + by, "elements": spec["elements"][:1]}


class SecondRoad(BrowserCase):
    @in_turn
    def test_beside_the_first(self) -> None:
        Document.objects.create(project=self.project, kind="alignment", key="mill", spec=beside(self.project, 16.0))
        page = self.page()
        self.open(page, "overlay?at=100")
        fresh(page)

        # Added like the first, along a line that is there: one lands on it at once.
        page.keyboard.press("w")
        page.get_by_role("menuitem", name="List of roads").click()
        dialog = page.get_by_role("dialog", name="Roads")
        dialog.get_by_role("textbox", name="Name of the new road").fill("Mill Lane")
        choose(dialog, "Alignment of the new road", "Mill Lane line")
        choose(dialog, "What the new road begins with", "like Main road")
        dialog.get_by_role("button", name="Add a road").click()
        expect(dialog).to_be_hidden()
        expect(page).to_have_url(re.compile("road=mill-lane"))
        expect(page.get_by_role("button", name="Road Mill Lane")).to_be_visible()
        fresh(page)
        self.edges(page)
        plans = {d.key: d.spec["ranges"] for d in Document.objects.filter(project=self.project, kind="treatments")}
        self.assertEqual(plans["mill-lane"][0]["work"]["left_edge"], {"by": "offset", "offset": -3.0})
        self.assertEqual(plans["main"][0]["work"]["left_edge"]["by"], "line")

        # A guide along the first road's edge: from now on it goes where that goes.
        page.get_by_role("link", name="Guides").click()
        page.get_by_role("button", name="New guide").click()
        page.get_by_role("menuitem", name="Edge of another road").click()
        choose(page, "Line of the other road", "its right edge")
        fresh(page)
        guide = Document.objects.filter(project=self.project, kind="guide").latest("id").spec
        self.assertEqual(guide["alignment"], "mill")
        self.assertEqual(guide["source"], {"by": "road", "road": "main", "line": "right_edge", "beyond": 0.0})
        page.get_by_role("link", name="Overlay").click()

        # Seen on the first one's section, and found by its name.
        page.get_by_role("button", name="Road Mill Lane").click()
        page.get_by_role("menuitem", name="Main road").click()
        expect(page).not_to_have_url(re.compile("road="))
        fresh(page)
        page.keyboard.press("g")
        page.get_by_role("textbox", name="Chainage").fill("60")
        page.keyboard.press("Enter")
        expect(page.get_by_role("img", name="Section at 0+060.000")).to_be_visible()
        expect(page.get_by_role("img", name="Road Mill Lane")).to_be_attached()

        # Counted together.
        page.get_by_role("link", name="Quantities").click()
        page.get_by_text("All roads", exact=True).click()
        bills = page.get_by_role("table", name="Quantities of all roads")
        for name in ("All roads", "Main road", "Mill Lane"):
            expect(bills.get_by_role("cell", name=name, exact=True)).to_be_visible()

        # Removed with all that is decided along it, and back by one undo.
        page.get_by_role("button", name="Road Main road").click()
        page.get_by_role("menuitem", name="List of roads").click()
        row = page.get_by_role("dialog", name="Roads").get_by_role("row").filter(has=page.get_by_label("Name of Mill Lane"))
        row.get_by_role("button", name="Remove").click()
        row.get_by_role("button", name="Really remove it?").click()
        expect(row).to_be_hidden()
        self.assertFalse(Document.objects.filter(project=self.project, key="mill-lane").exists())
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Undo").click()
        page.get_by_role("button", name="Road Main road").click()
        expect(page.get_by_role("menuitem", name="Mill Lane")).to_be_visible()
        self.until(page, lambda: Document.objects.filter(project=self.project, key="mill-lane").count() > 5, "the road is back")

    def edges(self, page: Page) -> None:
        """The first treatment's edges at fixed offsets: the lane has no lines of its own in the survey."""
        for side, offset in (("Left", "-3"), ("Right", "3")):
            pick(page.get_by_role("combobox", name=f"{side} edge"), "At offset")
            field = page.get_by_role("textbox", name=re.compile(f"{side} edge offset|{side} edge, offset"))
            field.fill(offset)
            field.press("Enter")
            fresh(page)
