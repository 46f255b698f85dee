"""Tables that are worked in like a spreadsheet: every one takes a block and gives it back; numbers as people write them."""

import re

from playwright.sync_api import Page, expect

from design.models import Document
from e2e.browser import BrowserCase, choose, copied_cells, paste_cells, press, press_cell
from e2e.test_bench import fresh, type_in
from e2e.turns import in_turn
from saddle.overlay.spec import CrossfallRow, CrossfallTable


def block_of(text: str) -> list[list[str]]:
    return [line.split("\t") for line in text.splitlines()]


def alike(a: str, b: str) -> bool:
    """Words the same, numbers and chainages nearly: IPs are worked out of elements anew."""
    if re.fullmatch(r"[-\d.+e]+", a) and re.fullmatch(r"[-\d.+e]+", b):
        return abs(float(a.replace("+", "", 1)) - float(b.replace("+", "", 1))) < 2e-3
    return a == b


class Cells(BrowserCase):
    def there_and_back(self, page: Page, cell: str, block: str, at: str = "") -> None:
        """A block laid into a table at a cell, else at one of its first row; what it gives back lays the same rows again, and
        changes nothing."""
        paste_cells(page, at or cell, block)
        expect(page.get_by_text(re.compile(r"^\d+ rows? pasted$")).last).to_be_visible()
        fresh(page)
        given = copied_cells(page, cell)
        for head, value in zip(*(line.split("\t") for line in (block.splitlines()[0], block.splitlines()[-1])), strict=True):
            column = block_of(given)[0].index(head)
            self.assertIn(value, [row[column] for row in block_of(given)[1:]], f"{head} of {cell}")
        paste_cells(page, cell, given)
        expect(page.get_by_text(re.compile(r"^\d+ rows? pasted$")).last).to_be_visible()
        fresh(page)
        again = block_of(copied_cells(page, cell))
        self.assertEqual(len(again), len(block_of(given)))
        for before, after in zip(block_of(given), again, strict=True):
            self.assertTrue(all(map(alike, before, after)), f"{before} came back as {after}")
        page.keyboard.press("Escape")  # the block
        page.keyboard.press("Escape")  # the table: keys are the frame's again
        expect(page.locator("[data-cells]:focus")).to_have_count(0)

    @in_turn
    def test_every_table_takes_a_block_and_gives_it_back(self) -> None:
        page = self.page()
        self.open(page, "alignment?at=400")
        press(page.get_by_role("radiogroup", name="Table"), "Intersection points")
        self.there_and_back(page, "Easting of IP 1", "Radius m\tTransition in m\n310\t0\n235\t0", "Easting of IP 2")
        press(page.get_by_role("radiogroup", name="Table"), "Elements")
        self.there_and_back(page, "Kind of element 1", "Kind\tLength m\nstraight\t211.5")
        page.keyboard.press("5")
        page.get_by_role("button", name="Row at 0+400").click()
        fresh(page)
        self.there_and_back(page, "Chainage of row 1", "Chainage\tLeft %\tRight %\n400\t-2.2\t-2.4\n480\t-3\t-2.75")
        # One more row, filled down, emptied in vain, taken out; each is one step back.
        press_cell(page, "Left of row 1")
        page.keyboard.press("Shift+ArrowDown")
        page.keyboard.press("Control+d")
        fresh(page)
        self.assertEqual([r.left_pct for r in self.crossfalls()], [-2.2, -2.2])
        page.keyboard.press("Delete")
        expect(page.get_by_text("Left % may not be empty")).to_be_visible()
        page.keyboard.press("Insert")
        fresh(page)
        self.assertEqual([r.chainage for r in self.crossfalls()], [390, 400, 480])
        page.keyboard.press("Control+Delete")
        fresh(page)
        self.assertEqual(len(self.crossfalls()), 1)
        page.keyboard.press("Control+z")
        self.until(page, lambda: len(self.crossfalls()) == 3, "the rows are back, in one step")
        page.keyboard.press("Escape")
        page.keyboard.press("Escape")
        self.open(page, "sections?at=400")
        page.get_by_text("Section lines", exact=True).click()
        page.get_by_role("button", name="New group").click()
        expect(page.get_by_role("textbox", name="Name of the group")).to_have_value("Lines 2")
        choose(page, "Widths of the group", "By a table along the road")
        self.there_and_back(page, "Chainage of width 1", "Chainage\tLeft m\tRight m\n0\t10\t11\n250\t12.5\t13")
        self.open(page, "templates?sel=kerb:half-battered")
        self.there_and_back(page, "Name of vertex 1", "Out from lip mm\tUp from lip mm\n262.5\t97", "back out")

    @in_turn
    def test_parts_codes_and_structures_too(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=make_up:lane-new&at=400")
        self.there_and_back(
            page,
            "Name of course 1",
            "Thickness mm\tOutside mm\tOuter end\n45\tthe same\tcarried on 0.3 m",
            "Thickness of course 2",
        )
        press_cell(page, "Name of course 2")
        page.keyboard.press("Alt+ArrowUp")
        fresh(page)
        courses = Document.objects.get(project=self.project, kind="make_up", key="lane-new").spec["courses"]
        self.assertEqual((courses[0]["thickness_mm"], courses[0]["outer"]), (45, {"kind": "carry", "distance": 0.3}))
        self.open(page, "templates?sel=template:wide-shoulder/dimensions/right/wide-shoulder/dimensions&atat=1400")
        self.there_and_back(page, "Name of dimension 1", "Dimension\tValue\tUnit\nverge\t250\tmm", "Value of shoulder width")
        self.open(page, "survey?at=300")
        page.get_by_text("Codes", exact=True).click()
        self.there_and_back(page, "CL means", "Code\tMeans\tGround\tLine px\nKT\tback\tno\t1.8")
        paste_cells(page, "CL means", "Code\tLine px\nXX\t2")
        expect(page.get_by_text("there is no “XX” in the table")).to_be_visible()
        page.get_by_text("Pipes", exact=True).click()
        pit = Document.objects.get(project=self.project, kind="structures").spec["pits"][0]["name"]
        self.there_and_back(page, f"Name of pit {pit}", f"Pit\tCover m\tInvert m\nNew gully\t81.25\t\n{pit}\t78.4\t76.9")
        pits = Document.objects.get(project=self.project, kind="structures").spec["pits"]
        self.assertEqual((pits[0]["invert"], pits[-1]["name"], pits[-1]["invert"]), (76.9, "New gully", None))

    def crossfalls(self) -> list[CrossfallRow]:
        spec = Document.objects.get(project=self.project, kind="crossfalls").spec
        return CrossfallTable.model_validate(spec).rows

    @in_turn
    def test_a_paste_with_blanks_is_shown_first_and_moves_nothing(self) -> None:
        page = self.page()
        self.open(page, "crossfall?at=400")
        page.get_by_role("button", name="Row at 0+400").click()
        fresh(page)
        paste_cells(page, "Chainage of row 1", "Chainage\tLeft %\tRight %\n400\t-2\t-2\n420\t-2.5\t-2.5\n440\t-3\t-3\n")
        fresh(page)
        # The blank in the middle leaves its row as it is: what stood below it moved up once.
        paste_cells(page, "Left of row 1", "-1\n\n-4\n")
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("1 blank cell leaves what stands there")
        dialog.get_by_role("button", name="Cancel").click()
        expect(dialog).to_be_hidden()
        self.assertEqual([r.left_pct for r in self.crossfalls()], [-2, -2.5, -3])
        paste_cells(page, "Left of row 1", "-1\n\n-4\n")
        page.get_by_role("dialog").get_by_role("button", name="Paste").click()
        fresh(page)
        self.until(page, lambda: [r.left_pct for r in self.crossfalls()] == [-1, -2.5, -4], "each figure stands in its own row")
        # Cut: whole rows go.
        press_cell(page, "Chainage of row 3")
        page.keyboard.press("Shift+ArrowRight")
        page.keyboard.press("Shift+ArrowRight")
        page.keyboard.press("Control+x")
        self.until(page, lambda: len(self.crossfalls()) == 2, "the row is cut")

    @in_turn
    def test_numbers_as_people_write_them(self) -> None:
        """Each form in a field of its kind; what can be read in two ways is asked about, and nothing is dropped."""
        page = self.page()
        self.open(page, "alignment?at=400")
        start = page.get_by_role("textbox", name="Start easting")
        for typed, value in (
            ("412 301,5", "412301.5"),
            ("412,302.5", "412302.5"),
            ("412.303,5", "412303.5"),
            ("412300 + 2*2 - 500mm", "412303.5"),
        ):
            type_in(page, "Start easting", typed)
            expect(start).to_have_value(value)
        start.fill("412,300")
        expect(page.get_by_text("412,300 can be read as 412300 or 412.3")).to_be_visible()
        start.blur()
        expect(start).to_have_value("412,300")
        page.get_by_role("button", name="412300", exact=True).click()
        start.press("Enter")
        expect(start).to_have_value("412300")
        for typed, value in (("62°30'", "62.5"), ("62°15'36\"", "62.26"), ("62", "62")):
            type_in(page, "Start bearing", typed)
            expect(page.get_by_role("textbox", name="Start bearing")).to_have_value(value)
        fresh(page)
        page.keyboard.press("5")
        page.get_by_role("button", name="Row at 0+400").click()
        for typed, value in (("-1 in 40", "-2.5"), ("+1:50", "2"), ("-2,25%", "-2.25"), ("-2.5 - 0.5", "-3")):
            type_in(page, "Left of row 1", typed)
            expect(page.get_by_role("textbox", name="Left of row 1")).to_have_value(value)
        for typed, why in (
            ("1 in 40", "Falling or rising?"),
            ("3m", "m does not go with %"),
            ("25", "At most 20 %"),
            ("", "it may not be empty"),
        ):
            page.get_by_role("textbox", name="Left of row 1").fill(typed)
            expect(page.get_by_text(why)).to_be_visible()
        page.get_by_role("textbox", name="Left of row 1").press("Escape")
        expect(page.get_by_role("textbox", name="Left of row 1")).to_have_value("-3")
        for typed, value in (("0,41 km", "0+410.000"), ("0+420,5", "0+420.500"), ("km 0+430", "0+430.000")):
            type_in(page, "Chainage of row 1", typed)
            expect(page.get_by_role("textbox", name="Chainage of row 1")).to_have_value(value)
        page.get_by_role("textbox", name="Chainage of row 1").fill("0+43")
        expect(page.get_by_text("Behind the plus stand three digits")).to_be_visible()
        page.get_by_role("textbox", name="Chainage of row 1").press("Escape")
        fresh(page)
