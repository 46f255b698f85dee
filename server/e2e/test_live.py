"""What is in view follows the hand before anything is written, in every window of the person."""

import re

import numpy as np
from playwright.sync_api import Page, expect

from demo.road import ALIGNMENT
from design.models import EditRecord
from e2e.browser import BrowserCase, still
from e2e.test_journeys import fresh, section
from e2e.turns import in_turn
from saddle.alignment.alignment import build
from saddle.alignment.ips import to_ips


def in_plan(page: Page, east: float, north: float) -> tuple[float, float]:
    """Where a place lies on the screen while the plan shows the whole road: fitted with 40 px at the sides, 50 above and below."""
    box = page.get_by_role("application", name="Plan").bounding_box()
    assert box
    line = build(ALIGNMENT)
    spots = line.frames(np.arange(line.start, line.end, 2.0)).origin
    low, high = spots.min(axis=0), spots.max(axis=0)
    scale = min((box["width"] - 80) / (high[0] - low[0]), (box["height"] - 100) / (high[1] - low[1]))
    middle = (low + high) / 2
    x = box["x"] + box["width"] / 2 + (east - middle[0]) * scale
    return float(x), float(box["y"] + box["height"] / 2 - (north - middle[1]) * scale)


def hinge_levels(page: Page) -> list[str]:
    """The levels written at the hinges of the sections that are shown."""
    return page.locator("text=hinge >> xpath=following-sibling::*[1]").all_text_contents()


class Live(BrowserCase):
    def levels(self, page: Page) -> str:
        table = page.get_by_role("table", name="Points of the section")
        expect(table.get_by_role("row").nth(1)).to_be_visible()
        return table.inner_text()

    @in_turn
    def test_two_windows_of_work_go_their_own_ways(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=560")
        expect(section(page)).to_have_accessible_name("Section at 0+560.000")
        other = page.context.new_page()
        asked: list[str] = []
        other.on("request", lambda r: asked.append(r.url) if "/preview/" in r.url else None)
        other.goto(page.url.replace("at=560", "at=300"))
        expect(section(other)).to_have_accessible_name("Section at 0+300.000")
        page.bring_to_front()
        cover = page.get_by_role("textbox", name="Least cover")
        cover.fill("61")
        cover.press("Enter")
        page.keyboard.press("ArrowRight")
        expect(section(page)).to_have_accessible_name("Section at 0+570.000")
        fresh(page)
        expect(other.get_by_role("textbox", name="Least cover")).to_be_visible()
        self.assertIn("at=300", other.url)
        self.assertEqual(asked, [])

    def edits(self) -> int:
        return EditRecord.objects.filter(project=self.project).count()

    @in_turn
    def test_an_intersection_point_is_dragged_and_four_sections_move_in_a_second_window(self) -> None:
        page = self.page()
        self.open(page, "alignment?at=330")
        page.get_by_text("Intersection points", exact=True).click()
        expect(page.get_by_role("textbox", name="Radius at IP 2")).to_be_visible()
        beside = page.context.new_page()
        beside.goto(page.url.replace("/alignment?", "/beside?"))
        beside.get_by_role("radiogroup", name="How many sections").get_by_text("4", exact=True).click()
        expect(beside.get_by_role("img", name=re.compile(r"^Section \d"))).to_have_count(4)
        expect(beside.get_by_role("img", name="Section 0+330.000")).to_be_visible()
        expect(beside.get_by_text("hinge", exact=True)).to_have_count(4)
        # The second window leads the first one where a section is chosen there.
        beside.get_by_role("button", name="Go here: 0+340.000").click()
        self.until(page, lambda: "at=340" in page.url, "the first window is led")
        expect(beside.get_by_role("img", name="Section 0+330.000")).to_be_hidden()
        expect(beside.get_by_text("hinge", exact=True)).to_have_count(4)
        levels = hinge_levels(beside)
        page.bring_to_front()
        fresh(page)
        edits, ip = self.edits(), to_ips(ALIGNMENT)[1]
        x, y = in_plan(page, ip.east, ip.north)
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x - 3, y - 6, steps=3)
        # A few pixels are some metres here: none of the four stands on the old road any more.
        self.until(page, lambda: not set(levels) & set(hinge_levels(beside)), "four sections move")
        self.assertEqual(self.edits(), edits)

        # Escape goes back, in both windows; nothing was written.
        page.keyboard.press("Escape")
        page.mouse.up()
        self.until(page, lambda: hinge_levels(beside) == levels, "the sections are back")
        self.assertEqual(self.edits(), edits)

        # Let go, it is one step.
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y - 2, steps=2)
        page.mouse.up()
        self.until(page, lambda: self.edits() == edits + 1, "the alignment is written, once")
        fresh(page)

    @in_turn
    def test_the_end_of_a_treatment_is_dragged_on_the_strip(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=470")
        end = page.get_by_role("slider", name="Treatment end 3")
        expect(end).to_have_attribute("aria-valuetext", "0+480.000")
        expect(section(page).get_by_text("hinge", exact=True)).to_be_visible()
        edits = self.edits()
        x, y = still(end)
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x - 20, y, steps=4)
        moved = end.get_attribute("aria-valuetext")
        self.assertRegex(moved or "", r"^0\+4[45]")
        # The next treatment takes another crossfall: the section there follows, and says what moved.
        expect(page.get_by_role("status", name="Since the last change")).to_be_visible()
        page.keyboard.press("Escape")
        expect(end).to_have_attribute("aria-valuetext", "0+480.000")
        page.mouse.up()
        self.assertEqual(self.edits(), edits)

        end.focus()
        page.keyboard.press("Shift+ArrowLeft")
        expect(end).to_have_attribute("aria-valuetext", "0+470.000")
        self.until(page, lambda: self.edits() == edits + 1, "the treatments are written")
        fresh(page)

    @in_turn
    def test_a_crossfall_is_dragged_and_a_thin_overlay_is_stretched(self) -> None:
        page = self.page()
        self.open(page, "crossfall?at=600")
        page.get_by_role("button", name="Do it").click()
        handle = page.get_by_role("button", name="right at 0+600.000")
        expect(handle).to_be_visible()
        page.get_by_role("button", name="Use adopted in all").click()
        fresh(page)
        before = section(page).text_content()
        x, y = still(handle)
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y - 30, steps=3)
        self.until(page, lambda: section(page).text_content() != before, "the section follows")
        expect(page.get_by_role("status", name="Since the last change")).to_contain_text("mm")
        # Who leaves the stop with something in the hand has not let it go: what is saved is shown.
        edits = self.edits()
        page.keyboard.press("8")
        page.mouse.up()
        left = self.levels(page)
        page.reload()
        self.assertEqual(self.levels(page), left)
        self.assertEqual(self.edits(), edits)
        page.keyboard.press("5")
        page.get_by_role("button", name="Look", exact=True).click()
        page.get_by_role("menuitem", name=re.compile("^Overlay 10 times")).click()
        expect(page.get_by_text("overlay ×10 above the old surface")).to_be_visible()
        page.reload()
        expect(page.get_by_text("overlay ×10 above the old surface")).to_be_visible()
