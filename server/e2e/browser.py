"""A live server, a worker and a browser; console errors and failed requests fail the test."""

import os
import re
import sys
import threading
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any, ClassVar

from django.conf import settings
from django.contrib.auth.models import User
from django.core.handlers.wsgi import WSGIHandler
from django.core.signals import request_finished, request_started
from django.test import Client, LiveServerTestCase
from playwright.sync_api import BrowserContext, Locator, Page, Response, Route, expect

from e2e.world import databases, stage, workers
from projects.models import Project

AXE = (settings.ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text(encoding="utf-8")
PICTURES = Path(os.environ.get("TIN_SADDLE_FAILURES", "/tmp/tin-saddle-failures"))
#: In the long run the end of every journey is judged as the journeys of test_access judge every stop.
LONG = "TIN_SADDLE_LONG" in os.environ
#: Of a page on which a test failed, characters.
MOST_TOLD = 4000
expect.set_options(timeout=45_000)


def pick(box: Locator, option: str | re.Pattern[str]) -> None:
    """Choose an option of a list by its text, and wait until the list has closed."""
    opened = box.page.locator(".ant-select-dropdown:visible")
    expect(opened).to_have_count(0)
    box.click()
    opened.get_by_title(option, exact=True).click()
    expect(opened).to_have_count(0)


def choose(inside: Page | Locator, label: str, option: str) -> None:
    """Choose an option of the list with a label."""
    pick(inside.get_by_role("combobox", name=label, exact=True), option)


def press(row: Locator, text: str) -> None:
    """Choose one of a row of buttons, and see it chosen."""
    row.get_by_text(text, exact=True).click()
    expect(row.get_by_role("radio", name=text, exact=True)).to_be_checked()


def enter(what: Locator) -> None:
    """Use something with the keyboard: what cannot be reached by it fails."""
    what.focus()
    expect(what).to_be_focused()
    what.page.keyboard.press("Enter")


def save_as(page: Page, way: str | re.Pattern[str]) -> None:
    """Save something in one of the ways that its list offers, with the keyboard."""
    enter(page.get_by_role("button", name="Save as"))
    item = page.get_by_role("menuitem", name=way)
    expect(item).to_be_visible()
    page.wait_for_function("() => document.activeElement.closest('[role=menu]')")
    for _ in range(page.get_by_role("menuitem").count()):
        if item.evaluate("item => item === document.activeElement"):
            break
        page.keyboard.press("ArrowDown")
    expect(item).to_be_focused()
    page.keyboard.press("Enter")


def turn_to(row: Locator, text: str) -> None:
    """Choose one of a row of buttons with the arrow keys."""
    row.get_by_role("radio").and_(row.locator(":checked")).focus()
    wanted = row.get_by_role("radio", name=text, exact=True)
    for _ in range(row.get_by_role("radio").count()):
        if wanted.is_checked():
            break
        row.page.keyboard.press("ArrowRight")
    expect(wanted).to_be_checked()


def step_to(box: Locator, option: str) -> None:
    """Choose an option of a list with the arrow keys."""
    enter(box)
    opened = box.page.locator(".ant-select-dropdown:visible")
    active = opened.locator(".ant-select-item-option-active")
    expect(active).to_have_count(1)
    for _ in range(opened.locator(".ant-select-item-option").count()):
        if active.get_attribute("title") == option:
            break
        box.page.keyboard.press("ArrowDown")
    box.page.keyboard.press("Enter")
    expect(opened).to_have_count(0)


def press_cell(page: Page, label: str) -> None:
    """Choose a cell of a table by its label, with the mouse."""
    held = page.locator("[data-cells]:focus")
    if held.count() and held.input_value().startswith(f"{label}: "):
        return  # a second click would begin to edit it
    cell = page.get_by_label(label, exact=True)
    for _ in range(20):
        # What comes in above the table may push it out of sight just now.
        cell.scroll_into_view_if_needed()
        x, y = still(cell)
        if page.evaluate("([x, y]) => document.elementFromPoint(x, y)?.closest('.cells') != null", [x, y]):
            break
    page.mouse.click(x, y)
    expect(held).to_have_value(re.compile(f"^{re.escape(label)}: "))


def paste_cells(page: Page, label: str, text: str) -> None:
    """Paste a block from the clipboard into a table, from a cell on."""
    press_cell(page, label)
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.evaluate("text => navigator.clipboard.writeText(text)", text)
    page.keyboard.press("Control+v")


def typed_cells(table: Locator, label: str, text: str) -> None:
    """Paste a block from the clipboard into a table of numbered rows without a mouse; label: of its first cell after the number."""
    page, cells = table.page, table.locator("[data-cells]")
    if not cells.evaluate("c => c === document.activeElement"):
        table.locator("[tabindex='0']").first.focus()  # where Tab enters it
    page.keyboard.press("Control+ArrowUp")
    page.keyboard.press("Control+ArrowLeft")
    expect(cells).to_have_value("No: 1")
    page.keyboard.press("ArrowRight")
    expect(cells).to_have_value(re.compile(f"^{re.escape(label)}: "))
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.evaluate("text => navigator.clipboard.writeText(text)", text)
    page.keyboard.press("Control+v")


def copied_cells(page: Page, label: str) -> str:
    """All cells of the table that a cell belongs to, as they go to the clipboard."""
    press_cell(page, label)
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.keyboard.press("Control+a")
    page.evaluate("navigator.clipboard.writeText('')")
    page.keyboard.press("Control+c")
    return str(page.evaluate("navigator.clipboard.readText()"))


def still(of: Locator) -> tuple[float, float]:
    """The middle of something to be dragged, once it stays where it is: a drawing may be fitted anew when its answer comes."""
    last = None
    for _ in range(60):
        box = of.bounding_box()
        assert box
        now = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        if now == last:
            return now
        last = now
        of.page.wait_for_timeout(150)
    raise AssertionError(f"{of} does not stay where it is")


def as_it_is(application: WSGIHandler) -> WSGIHandler:
    return application


class Requests:
    """How many requests the live server is at work on."""

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self.open = 0
        request_started.connect(self._begun)
        request_finished.connect(self._ended)

    def _begun(self, **_: Any) -> None:
        with self._lock:
            self.open += 1

    def _ended(self, **_: Any) -> None:
        with self._lock:
            self.open -= 1


class BrowserCase(LiveServerTestCase):
    """Each test gets a copy of the demo's database, a fresh page, and a check of what the page complained about.

    expected_statuses: answers of 400 and above that the journey is about.
    """

    host = "127.0.0.1"
    #: The application serves its files itself, so that a browser keeps them as it does in the field.
    static_handler = staticmethod(as_it_is)
    requests: ClassVar[Requests]
    project: Project

    @classmethod
    def setUpClass(cls) -> None:
        cls.requests = Requests()
        super().setUpClass()

    @classmethod
    def _fixture_setup(cls) -> None:
        databases().enter()

    def setUp(self) -> None:
        self.project = Project.objects.get(pk=databases().project)
        self.expected_statuses: set[int] = set()
        self.complaints: list[str] = []
        self.lost: list[str] = []
        self.contexts: list[BrowserContext] = []
        self.addCleanup(self._close)

    def _callTestMethod(self, method: Callable[[], None]) -> None:
        """A journey that fails tells where it stood: cleanups no longer know that it failed."""
        try:
            method()
            if LONG:
                for page in (page for context in self.contexts for page in context.pages if not page.is_closed()):
                    self.judge(page, page.url)
        except BaseException:
            self._tell()
            raise

    def judge(self, page: Page, where: str) -> None:
        """By axe-core, the rules of WCAG 2: nothing serious or critical."""
        page.evaluate(AXE)
        found = page.evaluate("axe.run(document, {resultTypes: ['violations']})")
        bad = [
            f"{v['id']}: {n['html'][:160]}"
            for v in found["violations"]
            if v["impact"] in ("serious", "critical")
            for n in v["nodes"]
        ]
        self.assertEqual(bad, [], where)

    def _tell(self) -> None:
        PICTURES.mkdir(parents=True, exist_ok=True)
        for number, page in enumerate(page for context in self.contexts for page in context.pages):
            page.screenshot(path=PICTURES / f"{self.id()}-{number}.png")
            print(f"\n{self.id()} ended at {page.url}, which read:\n{page.inner_text('body')[:MOST_TOLD]}", file=sys.stderr)
        print(f"requests without an answer: {self.lost}\ncomplaints: {self.complaints}", file=sys.stderr)

    def _close(self) -> None:
        for context in self.contexts:
            for page in context.pages:
                page.close()
            context.clear_cookies()
            context.clear_permissions()
            blank = context.new_page()
            context.new_cdp_session(blank).send(
                "Storage.clearDataForOrigin", {"origin": self.live_server_url, "storageTypes": "local_storage,indexeddb"}
            )
            blank.close()
        self.assertEqual(self.complaints, [])

    def _fixture_teardown(self) -> None:
        """The database goes once the requests are answered that a closed page has left behind."""
        for _ in range(200):
            if self.requests.open <= 0:
                break
            time.sleep(0.05)
        databases().leave()

    def page(self, who: str | None = "designer") -> Page:
        """A page at 1280 x 800, signed in, for somebody who asks for no motion."""
        context = stage().window(len(self.contexts))
        self.contexts.append(context)
        if who:
            client = Client()  # its own, so that one person's signing in ends nobody else's session
            client.force_login(User.objects.get(username=who))
            cookie = client.cookies[settings.SESSION_COOKIE_NAME].value
            context.add_cookies([{"name": settings.SESSION_COOKIE_NAME, "value": cookie, "url": self.live_server_url}])
        page = context.new_page()
        page.on(
            "console",
            lambda m: self.complaints.append(m.text) if m.type == "error" and "Failed to load resource" not in m.text else None,
        )
        page.on("pageerror", lambda e: self.complaints.append(str(e)))
        page.on("response", self._look_at)
        page.on("requestfailed", lambda r: self.lost.append(f"{r.method} {r.url}: {r.failure}"))
        return page

    def _look_at(self, response: Response) -> None:
        if response.status >= 400 and response.status not in self.expected_statuses:
            self.complaints.append(f"{response.status} {response.request.method} {response.url}")

    def open(self, page: Page, path: str) -> None:
        page.goto(f"{self.live_server_url}/p/{self.project.pk}/{path}")
        page.get_by_role("navigation", name="Stops").wait_for()

    def just_before(self, page: Page, document: str, act: Callable[[], None]) -> None:
        """Do something once, when the next save of a document (kind/key) is on its way: the page cannot have heard of it."""

        def meet(route: Route) -> None:
            act()
            route.continue_()

        page.route(f"**/documents/{document}", meet, times=1)

    def until(self, page: Page, holds: Callable[[], bool], what: str) -> None:
        """Wait until something holds in the database: what was done may still be on its way."""
        for _ in range(450):
            if holds():
                return
            page.wait_for_timeout(100)
        self.fail(f"not within 45 s: {what}")

    def start_worker(self) -> None:
        """A real worker on the test's database."""
        workers().start()
        self.addCleanup(workers().stop)
