"""Looking at sections: what is kept from one to the next, where the keys go, many at a time, all problems."""

import re

from playwright.sync_api import Page, expect

from e2e.browser import BrowserCase
from e2e.test_journeys import fresh, section
from e2e.turns import in_turn


def hinge_of(page: Page) -> tuple[float, float]:
    box = section(page).get_by_text("hinge", exact=True).first.bounding_box()
    assert box
    return round(box["x"], 1), round(box["y"], 1)


class Looking(BrowserCase):
    @in_turn
    def test_the_picture_stays_still_and_the_keys_come_back(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=560&from=520&to=600")
        high = page.get_by_role("button", name="Exaggeration")
        expect(section(page)).to_have_accessible_name("Section at 0+560.000")
        expect(high).to_have_text(re.compile("×(5|10) high"))  # at the first look the cover is seen
        there = hinge_of(page)
        page.keyboard.press("ArrowRight")
        expect(section(page)).to_have_accessible_name("Section at 0+570.000")
        self.assertEqual(hinge_of(page), there)
        page.keyboard.press("x")
        chosen = high.inner_text()
        page.reload()
        expect(high).to_have_text(chosen)
        page.keyboard.press("8")
        expect(page.get_by_role("table", name="Points of the section")).to_be_visible()
        expect(high).to_have_text(chosen)

        # Measuring ends before the marked range is dropped.
        page.keyboard.press("m")
        expect(page.get_by_text("Click two points to measure")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_text("Click two points to measure")).to_be_hidden()
        self.assertIn("from=", page.url)
        page.keyboard.press("Escape")
        page.wait_for_url(lambda url: "from=" not in url)

        # Enter takes a value over and Escape leaves the old one; after both the arrows step.
        page.keyboard.press("6")
        cover = page.get_by_role("textbox", name="Least cover")
        cover.fill("70")
        cover.press("Escape")
        expect(cover).to_have_value("50")
        page.keyboard.press("ArrowLeft")
        expect(section(page)).to_have_accessible_name("Section at 0+560.000")
        cover.fill("58")
        cover.press("Enter")
        page.keyboard.press("ArrowRight")
        expect(section(page)).to_have_accessible_name("Section at 0+570.000")
        fresh(page)
        page.keyboard.press("Control+z")
        expect(cover).to_have_value("50")

    @in_turn
    def test_all_problems(self) -> None:
        page = self.page()
        self.open(page, "survey?at=560&from=200&to=500")
        fresh(page)
        page.get_by_role("status", name="Freshness").click()
        listed = page.get_by_role("dialog", name="Problems")
        whole = listed.get_by_role("button", name=re.compile("^\\d\\+\\d{3}"))
        expect(whole.first).to_be_visible()
        count = whole.count()
        expect(page.get_by_role("status", name="Freshness")).to_have_text(f"{count} problems")
        listed.get_by_text(re.compile("^Faults")).click()
        expect(whole).not_to_have_count(count)
        listed.get_by_text(re.compile("^All \\d")).click()

        # One is left as it is, with a reason; it is counted apart until it is taken up again.
        words = whole.first.inner_text().splitlines()[-1]
        whole.first.focus()
        listed.get_by_role("button", name="Leave it").first.press("Enter")
        page.get_by_role("textbox", name="Reason to leave it").fill("agreed on site")
        page.keyboard.press("Enter")
        expect(page.get_by_role("status", name="Freshness")).to_have_text(f"{count - 1} problems, 1 left")
        listed.get_by_text("Left 1", exact=True).click()
        expect(whole).to_have_count(1)
        expect(whole).to_contain_text("left: agreed on site")
        self.assertIn(words.split("·")[0].strip(), whole.inner_text())
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("status", name="Freshness")).to_have_text(f"{count} problems")
        listed.get_by_text(re.compile("^All \\d")).click()
        listed.get_by_role("checkbox", name=re.compile("Only in the marked range")).check()
        expect(whole).not_to_have_count(count)
        listed.get_by_role("region", name="Problems at Overlay").get_by_role("button").first.click()
        page.wait_for_url(re.compile("/overlay\\?"))

    @in_turn
    def test_many_at_a_time(self) -> None:
        page = self.page()
        self.open(page, "sections?at=560")
        page.get_by_text("Many at a time", exact=True).click()
        drawn = page.get_by_role("img", name=re.compile("^Section \\d"))
        expect(drawn).to_have_count(4)
        expect(drawn.first).to_have_accessible_name("Section 0+560.000")
        page.get_by_role("button", name="Pin 0+560.000").click()
        page.get_by_role("group", name="How many sections").or_(page.get_by_label("How many sections")).get_by_text(
            "6", exact=True
        ).click()
        expect(drawn).to_have_count(6)
        page.get_by_role("button", name="Go here: 0+590.000").click()
        expect(page.get_by_role("img", name="Section 0+560.000")).to_be_visible()
        expect(page.get_by_role("img", name="Section 0+630.000")).to_be_visible()
