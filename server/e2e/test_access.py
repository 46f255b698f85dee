"""Every stop and what opens on it, judged by axe (axe-core, the rules of WCAG 2): nothing serious or critical."""

from pathlib import Path

from playwright.sync_api import Page

from e2e.browser import BrowserCase
from e2e.test_journeys import fresh

AXE = (Path(__file__).resolve().parents[2] / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text(encoding="utf-8")
STOPS = (
    "survey", "alignment", "guides", "templates", "templates?sel=make_up:lane-new", "templates?sel=kerb:half-battered",
    "templates?sel=library", "crossfall", "overlay?from=480&to=600", "levels", "levels?sel=profile", "sections",
    "sections?sel=lines::0", "sections?sel=wall", "sections?sel=between", "quantities", "sheets",
)  # fmt: skip


class Access(BrowserCase):
    def judge(self, page: Page, where: str) -> None:
        page.evaluate(AXE)
        found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
        bad = [
            f"{v['id']}: {n['html'][:160]}"
            for v in found["violations"]
            if v["impact"] in ("serious", "critical")
            for n in v["nodes"]
        ]
        self.assertEqual(bad, [], where)

    def test_nothing_serious_on_any_stop(self) -> None:
        page = self.page()
        for stop in STOPS:
            self.open(page, f"{stop}{'&' if '?' in stop else '?'}at=500")
            fresh(page)
            with self.subTest(stop=stop):
                self.judge(page, stop)

    def test_nothing_serious_in_what_opens(self) -> None:
        page = self.page()
        self.open(page, "survey?at=500")
        page.get_by_role("button", name="Import another survey").click()
        page.get_by_role("dialog").wait_for()
        self.judge(page, "import")
        page.keyboard.press("Escape")
        page.get_by_role("dialog").wait_for(state="hidden")
        page.keyboard.press("g")
        page.get_by_role("dialog").wait_for()
        self.judge(page, "go to a chainage")
        page.keyboard.press("Escape")
        page.get_by_role("dialog").wait_for(state="hidden")
        page.get_by_role("button", name="Signed in as").click()
        page.get_by_role("menu").wait_for()
        self.judge(page, "menu of the person")
