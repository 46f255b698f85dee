"""Section lines: pasted right-of-way widths, a skew onto a culvert, a section along two pits, files."""

import re

from playwright.sync_api import expect

from design.models import Document
from e2e.browser import BrowserCase, choose, paste_cells, pick, press_cell
from e2e.test_journeys import fresh
from e2e.turns import in_turn


class SectionLines(BrowserCase):
    @in_turn
    def test_from_the_culvert_to_a_file(self) -> None:
        self.expected_statuses = {400}  # a row of the pasted lines is wrong
        page = self.page()
        self.open(page, "sections?at=872")
        page.get_by_text("Section lines", exact=True).click()
        drawing = page.get_by_role("img", name=re.compile("^Line Culvert, 0\\+872.000, 24.25° left of square"))
        expect(drawing).to_be_visible()
        expect(page.get_by_role("table", name="Levels on the line")).to_contain_text("0+872.000")
        page.get_by_text("As asked", exact=True).click()
        expect(page.get_by_role("table", name="Levels on the line").get_by_role("row")).to_have_count(6)

        # Along the drain from one pit to the next: both stand whole.
        lines = page.get_by_role("group", name="Lines of the group")
        names = lines.get_by_label(re.compile(r"^Name of line \d+$"))
        drainage = Document.objects.get(project=self.project, kind="section_lines", key="drainage").spec["lines"]
        press_cell(page, f"Name of line {1 + next(i for i, line in enumerate(drainage) if line['kind'] == 'run')}")
        run = page.get_by_role("img", name=re.compile("^Line PIT .* to PIT .*run"))
        expect(run).to_contain_text(re.compile("PIT \\d+.*PIT \\d+"))

        # A group of one's own, with widths out of a spreadsheet.
        page.get_by_role("button", name="New group").click()
        expect(page.get_by_role("textbox", name="Name of the group")).to_have_value("Lines 2")
        choose(page, "Widths of the group", "By a table along the road")
        paste_cells(page, "Chainage of width 1", "Chainage\tLeft\tRight\n0+500\t10\t12\n0+700\tabc\t12")
        expect(page.get_by_text(re.compile("Row 2, Left m: Not a number in m: write .* Nothing was changed."))).to_be_visible()
        paste_cells(page, "Chainage of width 1", "Chainage\tLeft\tRight\n0+500\t10\t12\n0+700\t20\t12")
        page.get_by_role("button", name="Add lines").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_text("Chainages", exact=True).click()
        text = dialog.get_by_role("textbox", name="Chainages as text")
        text.fill("0+600\n0+650\t95")
        dialog.get_by_role("button", name="Add", exact=True).click()
        expect(dialog.get_by_role("alert")).to_contain_text("row 2, angle")
        text.fill("0+600\n0+650\t20")
        dialog.get_by_role("button", name="Add", exact=True).click()
        expect(dialog).to_be_hidden()
        expect(page.get_by_role("textbox", name="Own width left")).to_have_value(re.compile("^15"))
        page.get_by_role("button", name="Next line").click()
        expect(page.get_by_role("img", name="Line 0+650.000, 20° right of square")).to_be_visible()

        # A skew by two places in the plan: what was picked is read back as an angle.
        page.get_by_role("button", name="Pick in plan").click()
        page.get_by_role("menuitem", name="A skew, by two places").click()
        plan = page.get_by_role("application", name="Plan")
        box = plan.bounding_box()
        assert box
        middle = (box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.mouse.click(middle[0] - 10, middle[1] - 70)
        expect(page.get_by_role("status", name="Picking")).to_contain_text("the other place")
        page.wait_for_timeout(400)  # two clicks at once would be a double click
        page.mouse.click(middle[0] + 40, middle[1] + 70)
        expect(names).to_have_count(3)
        expect(lines).to_contain_text("of square")
        fresh(page)
        spec = Document.objects.filter(project=self.project, kind="section_lines").latest("id").spec
        self.assertEqual([line["kind"] for line in spec["lines"]], ["at", "at", "at"])

        # Out as a file and in again.
        with page.expect_download() as download:
            page.get_by_role("button", name="Save as file").hover()
            page.get_by_role("link", name="All of it (JSON)").click()
        page.locator("input[type=file]").set_input_files(download.value.path())
        expect(page.get_by_role("textbox", name="Name of the group")).to_have_value(spec["name"])
        self.until(
            page,
            lambda: Document.objects.filter(project=self.project, kind="section_lines").count() == 3,
            "the group is there twice",
        )
        key = Document.objects.filter(project=self.project, kind="section_lines").latest("id").key
        page.wait_for_url(f"**lines%3A{key}%3A*")
        press_cell(page, "Name of line 1")
        lines.get_by_role("button", name="Remove rows").click()
        expect(names).to_have_count(2)
        pick(page.get_by_role("combobox", name="Group of lines"), "Drainage")
        expect(drawing).to_be_visible()
