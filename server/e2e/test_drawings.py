"""Drawings in the browser: a style, a title block, an issue, an edit, another issue, what changed, and the road as it was."""

import io
import re
import zipfile

from playwright.sync_api import Page, expect

from design.models import Document
from drawings.models import Issue
from e2e.browser import BrowserCase, pick, press_cell
from e2e.test_journeys import fresh
from e2e.turns import in_turn


def issue(page: Page, reason: str, leave: tuple[str, ...] = ()) -> None:
    """All drawings but some."""
    page.get_by_role("button", name="Issue", exact=True).click()
    dialog = page.get_by_role("dialog", name="Issue drawings")
    dialog.get_by_role("textbox", name="Reason of the issue").fill(reason)
    for number in leave:
        dialog.get_by_role("checkbox", name=re.compile(f"^{number} ")).uncheck()
    dialog.get_by_role("textbox", name="Why the problems are accepted").fill("settled in the next one")
    dialog.get_by_role("button", name="Issue", exact=True).click()
    expect(dialog).to_have_count(0, timeout=60_000)


class Drawings(BrowserCase):
    def rows(self) -> list[str]:
        spec = Document.objects.get(project=self.project, kind="drawing_style", key="sections_a3").spec
        return [row["kind"] for row in spec["sheets"]["rows"]]

    def order(self) -> list[str]:
        drawings = Document.objects.filter(project=self.project, kind="drawing")
        return [d.spec["number"] for d in sorted(drawings, key=lambda d: d.spec["place"])]

    @in_turn
    def test_from_style_to_the_second_issue(self) -> None:
        self.start_worker()
        page = self.page()
        self.open(page, "sheets")
        sheet = page.get_by_role("figure", name="Sheet XS-01")
        expect(sheet).to_contain_text("not issued", timeout=90_000)
        # A title that holds a field nobody knows is told; the right one shows on the paper.
        title = page.get_by_role("textbox", name="Title")
        title.fill("Sections {form}")
        title.press("Tab")
        expect(page.get_by_role("alert")).to_contain_text("There is no field {form}")
        title.fill("Sections {from} on")
        title.press("Enter")
        expect(sheet).to_contain_text("Sections 0+000.000 on")
        page.get_by_role("radiogroup", name="Part of the drawing").get_by_text("Style").click()
        page.get_by_role("checkbox", name="Areas beside each section").check()
        expect(sheet).to_contain_text("Areas m²")
        press_cell(page, "Row 4")
        page.keyboard.press("Alt+ArrowUp")
        self.until(page, lambda: self.rows() == ["offset", "existing", "difference", "design"], "the row is further up")
        page.get_by_role("radiogroup", name="Part of the drawing").get_by_text("Title block").click()
        owner = page.get_by_role("textbox", name="Owner")
        owner.fill("Vale Roads")
        owner.press("Enter")
        # Saved before what is undone below: one step of undo is the last that was saved.
        block = Document.objects.filter(project=self.project, kind="title_block")
        self.until(page, lambda: block.get().spec["owner"] == "Vale Roads", "the owner is saved")
        expect(sheet).not_to_contain_text("Vale Roads Office")
        expect(sheet).to_contain_text("Vale Roads")

        # The other kinds are a click away, and the register is in the order that it is dragged into.
        register = page.get_by_role("navigation", name="Register")
        expect(register).to_contain_text("Schedules, 2 sheets")
        fresh(page)  # the list stands still while it is dragged in
        first = self.order()
        register.get_by_role("button", name=re.compile("^QS ")).drag_to(register.get_by_role("button", name=re.compile("^PL ")))
        self.until(page, lambda: self.order() == ["QS", *(n for n in first if n != "QS")], "the quantities come first")
        register.get_by_role("button", name=re.compile("^QS ")).press("Alt+ArrowDown")
        self.until(page, lambda: self.order()[:2] == ["PL", "QS"], "and then second")
        page.keyboard.press("Control+z")
        page.keyboard.press("Control+z")
        self.until(page, lambda: self.order() == first, "both moves are undone")
        register.get_by_role("button", name="Add a drawing").click()
        page.get_by_role("menuitem", name="Register of drawings, A4").click()
        listed = page.get_by_role("figure", name="Sheet RG-01")
        expect(listed).to_contain_text("Register of drawings")
        expect(listed).to_contain_text("Sections 0+000.000 on")
        for number, words in (("PL", "see sheet 2"), ("LS", "Existing level m"), ("TS", "Courses"), ("QS", "Layer quantities")):
            register.get_by_role("button", name=re.compile(f"^{number} ")).click()
            expect(page.get_by_role("figure", name=f"Sheet {number}-01")).to_contain_text(words)

        fresh(page)
        issue(page, "First", leave=("PL", "TS", "XS", "RG"))
        expect(page.get_by_role("heading", name="Issue A")).to_be_visible()
        expect(page.get_by_role("figure", name="Sheet LS-01 of issue A")).to_contain_text("for comment")

        page.keyboard.press("6")
        cover = page.get_by_role("textbox", name="Least cover")
        cover.fill("70")
        cover.press("Enter")
        fresh(page)
        self.open(page, "sheets")
        long = page.get_by_role("navigation", name="Register").get_by_role("button", name=re.compile("^LS "))
        expect(long.get_by_role("img", name=re.compile("sheets are not as issued"))).to_be_visible(timeout=90_000)
        issue(page, "Thicker", leave=("PL", "TS", "XS", "RG"))
        expect(page.get_by_role("heading", name="Issue B")).to_be_visible()

        pick(page.get_by_role("combobox", name="Compare with"), "issue A")
        expect(page.get_by_role("table", name="Documents changed")).to_contain_text("least cover 50 to 70 mm", timeout=30_000)
        views = page.get_by_role("radiogroup", name="Differences in")
        views.get_by_text("Quantities").click()
        expect(page.get_by_role("table", name="Quantities changed")).to_contain_text("Regulating course")
        views.get_by_text("Sections").click()
        expect(page.get_by_role("table", name="Sections changed")).to_contain_text("+20")
        views.get_by_text("Sheets").click()
        for state in "AB":
            expect(page.get_by_role("figure", name=f"LS-01 as in {state}")).to_contain_text("Existing level m")

        page.get_by_role("button", name="Back to the issue").click()
        expect(page.get_by_role("heading", name="Issue A")).to_be_visible()
        with page.expect_download() as saving:
            page.get_by_role("button", name="Save the package").click()
        with zipfile.ZipFile(io.BytesIO(saving.value.path().read_bytes())) as package:
            self.assertLessEqual({"drawings/LS rev A.pdf", "transmittal.pdf", "sha256.txt"}, set(package.namelist()))
        page.get_by_role("link", name="Look at it as issued").click()
        expect(page.get_by_role("banner")).to_contain_text("as issued A, for comment")
        page.keyboard.press("6")
        cover = page.get_by_role("textbox", name="Least cover")
        expect(cover).to_have_value(re.compile("^50"))
        expect(cover).to_be_disabled()
        page.get_by_role("link", name="Back to now").click()
        expect(page.get_by_role("banner")).not_to_contain_text("as issued")
        self.assertEqual([i.revision for i in Issue.objects.order_by("number")], ["A", "B"])


class Reports(BrowserCase):
    @in_turn
    def test_a_report_is_built_and_pasted(self) -> None:
        page = self.page()
        self.open(page, "sheets?sel=report:setting_out")
        page.get_by_role("button", name="Add a report").click()
        page.get_by_role("menuitem", name="A row for a material").click()
        name = page.get_by_role("textbox", name="Name", exact=True)
        expect(name).to_have_value("Quantities by material, copy")
        name.fill("Tonnes")
        name.press("Enter")
        page.get_by_role("checkbox", name="The whole road").uncheck()
        last = page.get_by_role("textbox", name="To", exact=True)
        last.fill("0+480")
        last.press("Enter")
        table = page.get_by_role("table", name="Tonnes")
        expect(table).to_be_visible()
        expect(page.get_by_role("group", name="Report", exact=True)).to_contain_text("From 0.000 to 480.000.")
        # Everything into a spreadsheet, with two keys.
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        page.get_by_role("group", name="Report", exact=True).focus()
        page.keyboard.press("Control+a")
        page.keyboard.press("Control+c")
        expect(page.get_by_text("rows copied")).to_be_visible()
        pasted = [line.split("\t") for line in page.evaluate("navigator.clipboard.readText()").split("\n")]
        self.assertEqual(pasted[0][:3], ["Material", "Volume m3", "Mass t"])
        self.assertEqual(pasted[-1][0], "Total")
        self.assertAlmostEqual(sum(float(r[1]) for r in pasted[1:-1]), float(pasted[-1][1]), delta=0.5)
        with page.expect_download() as saving:
            page.get_by_role("link", name="Save as XLSX").click()
        self.assertEqual(saving.value.suggested_filename, "Fennick-Vale-Road_Tonnes.xlsx")
        fresh(page)
