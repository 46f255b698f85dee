"""A designer without a mouse: parts of the window, ranges, and everything that can be dragged."""

import re
from typing import Any

from playwright.sync_api import Page, expect

from design.models import Document
from e2e.browser import BrowserCase, press
from e2e.test_journeys import fresh
from e2e.turns import in_turn


class Keyboard(BrowserCase):
    def spec(self, kind: str, key: str = "main") -> Any:
        return Document.objects.get(project=self.project, kind=kind, key=key).spec

    def moved(self, page: Page, name: str | re.Pattern[str], keys: str, number: int = 0) -> None:
        """Keys pressed on something that can be dragged, without the mouse."""
        at = page.get_by_role("button", name=name).nth(number)
        at.focus()
        expect(at).to_be_focused()
        page.keyboard.press(keys)
        fresh(page)

    def test_a_treatment_for_a_range(self) -> None:
        page = self.page()
        self.open(page, "crossfall?at=200")
        fresh(page)
        page.keyboard.press("r")
        page.keyboard.press("Shift+ArrowRight")
        page.keyboard.press("Shift+ArrowRight")
        page.keyboard.press("r")
        page.keyboard.press("Shift+ArrowRight")  # the range has ended
        expect(page).to_have_url(re.compile(r"from=200\.000&to=[34]\d\d\.000"))
        for part in (".trail", ".stage", ".inspector", ".strip"):
            page.keyboard.press("F6")
            self.assertTrue(page.evaluate(f"document.querySelector('{part}').contains(document.activeElement)"), part)
        set_treatment = page.get_by_role("button", name="Set treatment")
        for _ in range(12):
            if set_treatment.evaluate("b => b === document.activeElement"):
                break
            page.keyboard.press("Tab")
        page.keyboard.press("Enter")
        dialog = page.get_by_role("dialog", name=re.compile("Treatment 0\\+200"))
        self.assertTrue(dialog.evaluate("d => d.contains(document.activeElement)"), "the dialog has the keyboard")
        dialog.get_by_role("textbox", name="Least cover").press("Control+a")
        page.keyboard.type("64")
        page.keyboard.press("Tab")
        dialog.get_by_role("button", name="Set treatment").press("Enter")
        fresh(page)
        here = [r for r in self.spec("treatments")["ranges"] if r["from_chainage"] == 200]
        self.assertEqual([r["work"]["least_cover_mm"] for r in here], [64])

    @in_turn
    def test_all_that_is_dragged_is_moved_by_arrows(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=template:rural/point/right/LaneEdge&at=600")
        self.moved(page, "Point LaneEdge right", "ArrowRight")
        self.assertEqual(self.spec("template", "rural")["right"]["points"][0]["offset"]["width"], 3.26)
        page.get_by_role("button", name="Point LaneEdge right").press("Enter")
        expect(page.get_by_role("textbox", name="Width of LaneEdge")).to_be_focused()
        page.keyboard.type("3.4")
        page.keyboard.press("Enter")
        fresh(page)
        self.assertEqual(self.spec("template", "rural")["right"]["points"][0]["offset"]["width"], 3.4)
        self.open(page, "templates?sel=kerb:half-battered&at=600")
        before = self.spec("kerb", "half-battered")["top"][1]
        self.moved(page, f"Vertex {before['name']}", "Shift+ArrowUp")
        self.assertEqual(self.spec("kerb", "half-battered")["top"][1]["up_mm"], before["up_mm"] + 10)
        self.open(page, "alignment?at=400")
        press(page.get_by_role("radiogroup", name="Table"), "Intersection points")
        ip = self.ip()
        self.moved(page, re.compile("IP 2.*arrow keys"), "Shift+ArrowRight")
        self.until(page, lambda: self.ip() != ip, "the IP is moved")
        self.open(page, "crossfall?at=400")
        page.get_by_role("button", name="Row at 0+400").click()
        fresh(page)
        left = self.spec("crossfalls")["rows"][0]["left_pct"]
        self.moved(page, re.compile("left at"), "Shift+ArrowUp")
        self.assertAlmostEqual(self.spec("crossfalls")["rows"][0]["left_pct"], left + 1.0, delta=0.06)
        # All of it goes back step by step.
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Undo").press("Enter")
        self.until(page, lambda: self.spec("crossfalls")["rows"][0]["left_pct"] == left, "the crossfall is back")

    def ip(self) -> Any:
        return self.spec("alignment")["elements"]
