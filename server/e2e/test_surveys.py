"""Surveys beside each other, and what is edited on them by hand."""

import io
import re

import ezdxf
from playwright.sync_api import Page, expect

from design.models import Document
from e2e.browser import BrowserCase, pick
from e2e.test_bench import fresh, inspector, type_in
from e2e.turns import in_turn
from survey.store import survey_of


def edits(page: Page) -> None:
    """The list of edits is opened."""
    inspector(page).get_by_text(re.compile("Edited by hand")).click()


class ByHand(BrowserCase):
    def lines(self) -> dict[str, list[str]]:
        survey = survey_of(self.project)
        assert survey is not None
        found: dict[str, list[str]] = {}
        for number, code, line in zip(survey.number, survey.code, survey.line, strict=True):
            if line:
                found.setdefault(f"{code} {line}", []).append(str(number))
        return found

    @in_turn
    def test_points_and_lines_are_edited_and_taken_back(self) -> None:
        page = self.page()
        before = self.lines()
        name = next(n for n, members in before.items() if n.startswith("EP ") and len(members) > 60)
        members = before[name]
        self.open(page, f"survey?sel=point:{members[30]}|EP")
        level = page.get_by_role("textbox", name="Level of the point")
        expect(level).to_be_visible()
        raised = float(level.input_value()) + 0.25
        type_in(page, "Level of the point", f"{raised:.3f}")
        fresh(page)
        expect(inspector(page)).to_contain_text("Edited by hand: 1")
        survey = survey_of(self.project)
        assert survey is not None
        self.assertAlmostEqual(float(survey.xyz[list(survey.number).index(members[30]), 2]), raised, 3)

        # In plan the point lies in the middle of what is shown.
        box = page.get_by_role("application", name="Plan").bounding_box()
        assert box is not None
        page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        page.get_by_role("menuitem", name=f"Point {members[30]} EP").click()
        pick(page.get_by_role("combobox", name="Code of the point"), "GR")
        fresh(page)
        expect(page.get_by_role("region", name="Chosen point")).to_contain_text(f"Point {members[30]} GR")
        self.assertEqual(self.lines()[name], [m for m in members if m != members[30]])

        self.open(page, f"survey?sel=surveyed:{name}")
        pick(page.get_by_role("combobox", name="Point of the line"), re.compile(rf"^{members[40]},"))
        page.get_by_role("button", name="Split here").click()
        expect(inspector(page)).to_contain_text("Edited by hand: 2")
        pick(page.get_by_role("combobox", name="Point of the line"), re.compile(rf"^{members[10]},"))
        page.get_by_role("button", name="Open a gap behind it").click()
        expect(inspector(page)).to_contain_text("Edited by hand: 3")
        now = self.lines()
        self.assertEqual(now[name], members[:11])
        pick(page.get_by_role("combobox", name="Join with line"), re.compile(r"-3,"))
        expect(inspector(page)).to_contain_text("Edited by hand: 4")
        self.assertEqual(len(self.lines()[name]), 40)

        page.get_by_role("button", name="Draw line").click()
        field = page.get_by_role("textbox", name="Number of the next point")
        for number in (members[12], "no such", members[14]):
            field.fill(number)
            field.press("Enter")
            if number == "no such":
                expect(page.get_by_text("There is no point no such")).to_be_visible()
        new = page.get_by_role("region", name="New line")
        expect(new).to_contain_text(f"{members[12]} – {members[14]} as EP 1")
        pick(page.get_by_role("combobox", name="Code of the new line"), "DI")
        page.get_by_role("button", name="Make the line").click()
        expect(page.get_by_role("region", name="Chosen line")).to_contain_text("DI 1")
        fresh(page)
        self.assertEqual(self.lines()["DI 1"], [members[12], members[14]])

        edits(page)
        page.get_by_role("button", name=re.compile("Take back edit 2: line")).click()
        expect(inspector(page)).to_contain_text("Edited by hand: 4")
        # What stood on the split has nothing to join now, and says so.
        expect(page.get_by_role("alert").filter(has_text="edit 3")).to_contain_text("there is no line")
        for _ in range(6):
            page.get_by_role("button", name="Undo").click()
        expect(inspector(page)).not_to_contain_text("Edited by hand: 4")
        fresh(page)

    @in_turn
    def test_imports_beside_each_other(self) -> None:
        self.start_worker()
        page = self.page()
        self.open(page, "survey")
        rows = "".join(f"n{i},{412300 + 3 * i},{286600 + i % 5},{90 + i % 3},TREE\n" for i in range(20))
        page.get_by_role("button", name="Import another survey").click()
        page.locator("input[type=file]").set_input_files(
            {"name": "trees.csv", "mimeType": "text/csv", "buffer": f"number,x,y,z,code\n{rows}".encode()}
        )
        page.get_by_role("button", name="Check the file").click()
        page.get_by_role("radio", name="Put it beside").check()
        page.get_by_role("button", name="Import 20 points").click()
        figures = inspector(page).locator("dl").first
        expect(figures).to_contain_text("6,207", timeout=30_000)
        trees = page.get_by_role("group", name="trees.csv")
        trees.get_by_role("switch", name="trees.csv counts").click()
        expect(figures).to_contain_text("6,187")
        trees.get_by_role("switch", name="trees.csv counts").click()
        expect(figures).to_contain_text("6,207")
        pick(trees.get_by_role("combobox", name="trees.csv is cut to"), "BDY")
        expect(figures).not_to_contain_text("6,207")
        pick(trees.get_by_role("combobox", name="trees.csv is cut to"), "all of it")
        trees.get_by_role("button", name="Take it out").click()
        expect(figures).to_contain_text("6,187")
        trees.get_by_role("button", name="Use it").click()
        page.get_by_role("menuitem", name="in place of").click()
        expect(figures).to_contain_text("20")
        expect(figures).not_to_contain_text("6,")
        page.get_by_role("button", name="Undo").click()
        expect(figures).to_contain_text("6,187")
        trees.get_by_role("button", name="Use it").click()
        page.get_by_role("menuitem", name="beside what counts").click()
        expect(figures).to_contain_text("6,207")
        self.assertEqual(len(Document.objects.get(project=self.project, kind="survey").spec["beside"]), 1)

    @in_turn
    def test_a_drawing_without_levels_lies_beneath(self) -> None:
        """All of it is at level 0: it is offered as a background and as nothing else."""
        self.start_worker()
        page = self.page()
        self.open(page, "survey")
        document = ezdxf.new("R2018", units=6)
        document.modelspace().add_lwpolyline([(412310, 286590), (412320, 286590), (412320, 286598)])
        out = io.StringIO()
        document.write(out)
        page.get_by_role("button", name="Import another survey").click()
        page.locator("input[type=file]").set_input_files(
            {"name": "house.dxf", "mimeType": "image/vnd.dxf", "buffer": out.getvalue().encode()}
        )
        page.get_by_role("button", name="Check the file").click()
        expect(page.get_by_role("radio", name="Background only")).to_be_checked()
        expect(page.get_by_role("radio", name="Put it beside")).to_have_count(0)
        page.get_by_role("button", name="Import 3 points").click()
        house = page.get_by_role("group", name="house.dxf")
        expect(house).to_contain_text("background", timeout=30_000)
        expect(page.get_by_role("button", name="Background")).to_have_attribute("aria-pressed", "true")
        expect(inspector(page).locator("dl").first).to_contain_text("6,187")
        house.get_by_role("switch", name="house.dxf is shown").click()
        expect(house.get_by_role("switch")).not_to_be_checked()
        fresh(page)
