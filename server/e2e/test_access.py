"""Every stop and what opens on it, judged by axe: nothing serious or critical. Where a journey ends it is judged as well."""

from e2e.browser import BrowserCase
from e2e.test_journeys import fresh

STOPS = (
    "survey", "alignment", "guides", "templates", "templates?sel=make_up:lane-new", "templates?sel=kerb:half-battered",
    "templates?sel=library", "crossfall", "overlay?from=480&to=600", "levels", "levels?sel=profile", "sections",
    "sections?sel=lines::0", "sections?sel=wall", "sections?sel=between", "quantities", "sheets",
)  # fmt: skip
GO = "to => { history.pushState(null, '', to); dispatchEvent(new PopStateEvent('popstate')); }"


class Access(BrowserCase):
    def test_nothing_serious_on_any_stop(self) -> None:
        page = self.page()
        self.open(page, "survey?at=500")
        for stop in STOPS:
            # From stop to stop within the application, as a link leads there.
            page.evaluate(GO, f"/p/{self.project.pk}/{stop}{'&' if '?' in stop else '?'}at=500")
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
