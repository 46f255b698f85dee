"""What a page asks of the server: each stop when it is opened for the first time, a step along the road, an edit. Held against
web/budgets.json, so that nobody fetches twice what one answer holds."""

import json
import re
from collections.abc import Callable

from django.conf import settings
from playwright.sync_api import Page, Request, expect

from e2e.browser import BrowserCase

BUDGETS = json.loads((settings.ROOT / "web" / "budgets.json").read_text(encoding="utf-8"))["requests"]
STOPS = {"1": "survey", "2": "alignment", "3": "guides", "4": "templates", "5": "crossfall", "7": "levels", "8": "sections", "9": "quantities", "0": "sheets"}  # fmt: skip
#: How long nothing is asked before a page counts as settled, ms.
QUIET = 500


class Requests(BrowserCase):
    def asked(self, page: Page, act: Callable[[], object]) -> list[str]:
        """Paths that an act makes the page ask for, till nothing follows; the pulse and the progress of jobs are not of it."""
        seen: list[str] = []

        def look(request: Request) -> None:
            path = request.url.removeprefix(self.live_server_url).split("?")[0]
            if path.startswith("/api/") and not path.endswith("/pulse") and "/jobs/" not in path:
                seen.append(f"{request.method} {path}")

        page.on("request", look)
        act()
        last = -1
        while last != len(seen):
            last = len(seen)
            page.wait_for_timeout(QUIET)
            expect(page.get_by_role("status", name="Freshness")).to_have_text(re.compile("Up to date|problem"))
        page.remove_listener("request", look)
        return seen

    def hold(self, what: str, seen: list[str]) -> None:
        self.assertLessEqual(len(seen), BUDGETS[what], f"{what} asks {len(seen)} times: {', '.join(seen)}")

    def test_stops_steps_and_edits_ask_no_more_than_they_may(self) -> None:
        self.start_worker()
        page = self.page()
        # On a slow machine a part that comes late asks again for what is older than ten seconds: each path counts once.
        self.hold("overlay", sorted(set(self.asked(page, lambda: self.open(page, "overlay?at=560")))))
        self.hold("step", self.asked(page, lambda: page.keyboard.press("ArrowRight")))
        cover = page.get_by_role("textbox", name="Least cover")

        def edit() -> None:
            cover.fill("55")
            cover.press("Enter")

        seen = self.asked(page, edit)
        self.hold("edit", seen)
        asked_once = [path for path in seen if path.startswith("GET")]
        self.assertEqual(len(asked_once), len(set(asked_once)), "nothing is fetched twice after one's own save")
        self.asked(page, lambda: page.locator(".strip").click(position={"x": 400, "y": 10}))
        # What all stops show is asked for again when it is older than ten seconds.
        shared = {f"GET /api/projects/{self.project.pk}{part}" for part in ("", "/model", "/documents")}
        for key, stop in STOPS.items():
            seen = self.asked(page, lambda key=key: page.keyboard.press(key))  # type: ignore[misc]
            self.hold(stop, [path for path in seen if path not in shared])
            expect(page).to_have_url(re.compile(f"/{stop}"))
