"""The template bench in the browser: drawing a template, trying it out, sharing it, applying it."""

import json
import re
import time
from pathlib import Path
from typing import Any

from playwright.sync_api import FilePayload, Locator, Page, Route, expect

from design.models import Document
from e2e.browser import BrowserCase, choose, press, still
from e2e.turns import in_turn
from library.models import Version
from saddle.exchange.bundle import read_bundle


def fresh(page: Page) -> None:
    """Until nothing is being saved or computed."""
    page.wait_for_timeout(700)
    expect(page.get_by_role("status", name="Freshness")).to_have_text(re.compile("Up to date|problem"))


def inspector(page: Page) -> Locator:
    return page.get_by_role("complementary", name="Inspector")


def outline(page: Page) -> Locator:
    return page.get_by_role("navigation", name="Outline")


def type_in(page: Page, label: str, value: str) -> None:
    field = page.get_by_role("textbox", name=label, exact=True)
    field.fill(value)
    field.press("Enter")


class Bench(BrowserCase):
    def spec(self, key: str = "rural") -> dict[str, Any]:
        return Document.objects.get(project=self.project, kind="template", key=key).spec

    @in_turn
    def test_a_kerbed_street_from_nothing(self) -> None:
        """Drawn, mirrored, broken and mended, tried out, kept in the library, applied, seen."""
        page = self.page()
        self.open(page, "templates?at=900")
        page.get_by_role("button", name="New template").click()
        expect(page.get_by_role("textbox", name="Name of the template")).to_have_value("New template")
        type_in(page, "Name of the template", "Market street")
        outline(page).get_by_role("button", name="LaneEdge").click()
        expect(inspector(page)).to_contain_text("LaneEdge lies 3.25 m out from hinge, turning about hinge")
        type_in(page, "Width of LaneEdge", "3400mm")
        outline(page).get_by_role("button", name="Add a kerb").click()
        expect(inspector(page)).to_contain_text("with its lip at LaneEdge")
        outline(page).get_by_role("button", name="Add a strip").click()
        expect(inspector(page).get_by_role("heading", name="Strip Strip")).to_be_visible()
        type_in(page, "Name of the strip", "Pavement")
        choose(page, "Kind of strip", "footpath")
        choose(page, "Make-up when built new", "Footpath")
        outline(page).get_by_role("button", name="StripEdge").click()
        type_in(page, "Name of the point", "PathBack")
        type_in(page, "Width of PathBack", "1.8")
        type_in(page, "Crossfall of PathBack", "+1 in 50")
        expect(inspector(page)).to_contain_text("PathBack lies 1.80 m out from Kerb.back, rising 2.0 % from Kerb.back")
        for name, when, way in (("Batter down", "fill", "down"), ("Batter up", "cut", "up")):
            outline(page).get_by_role("button", name="Add a rung").click()
            expect(inspector(page).get_by_role("heading", name="Rung Slope")).to_be_visible()
            type_in(page, "Name of the rung", name)
            press(inspector(page).get_by_role("radiogroup", name="When the rung is tried"), when)
            press(inspector(page).get_by_role("radiogroup", name="Direction of link 1"), way)
        outline(page).get_by_role("button", name="Add a floor").click()
        expect(inspector(page).get_by_role("heading", name="Floor Subgrade")).to_be_visible()
        type_in(page, "Depth of zone 1", "700")
        expect(page.get_by_role("status", name="Layer balance")).to_contain_text("closed")
        fresh(page)

        handle = page.get_by_role("button", name="Point PathBack right").locator("rect").last
        box = handle.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 30, y + 1, steps=4)
        page.mouse.up()
        width = page.get_by_role("textbox", name="Width of PathBack")
        expect(width).not_to_have_value("1.8")
        self.assertGreater(float(width.input_value()), 1.9)
        fresh(page)

        outline(page).get_by_role("button", name="Template", exact=True).click()
        page.get_by_role("switch", name="Left mirrors right").click()
        expect(page.get_by_text("Left half", exact=True)).to_be_visible()
        fresh(page)
        page.get_by_role("switch", name="Left mirrors right").click()
        expect(page.get_by_text("Left half", exact=True)).to_be_hidden()
        fresh(page)

        outline(page).get_by_role("button", name="LaneEdge", exact=False).first.click()
        choose(page, "Parent of LaneEdge for its offset", "PathBack")
        expect(page.get_by_role("alert")).to_contain_text("form a circle")
        expect(page.get_by_role("alert")).to_contain_text("LaneEdge")
        fresh(page)
        page.get_by_role("button", name=re.compile("^Undo")).click()
        expect(page.get_by_role("alert")).to_be_hidden()
        expect(page.get_by_role("status", name="Layer balance")).to_contain_text("closed")

        ladder = page.get_by_role("group", name="Slope ladder, right")
        expect(ladder).to_contain_text("Batter down: lands")
        type_in(page, "Ground at the hinge", "2.5")
        expect(ladder).to_contain_text("Batter down: the ground is above")
        expect(ladder).to_contain_text("Batter up: lands")

        page.get_by_role("button", name="Keep in library").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Market street")
        dialog.get_by_role("button", name=re.compile("^Bring")).click()
        expect(page.get_by_text("brought into the library")).to_be_visible()
        self.assertTrue(Version.objects.filter(kind="template", spec__name="Market street").exists())

        page.get_by_role("button", name="Apply to a range").click()
        type_in(page, "Apply from", "0+850")
        type_in(page, "Apply to", "0+950")
        page.get_by_role("dialog").get_by_role("button", name="Apply", exact=True).click()
        expect(page.get_by_role("dialog")).to_be_hidden()
        fresh(page)
        page.keyboard.press("6")
        expect(page.get_by_text("Overlay · Market street")).to_be_visible()

    @in_turn
    def test_halves_apart_and_sizes(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=template:rural/point/right/ShoulderEdge&at=600")
        type_in(page, "Width of ShoulderEdge", "1.5")
        outline(page).get_by_role("button", name="Template", exact=True).click()
        page.get_by_role("switch", name="Left mirrors right").click()
        inspector(page).get_by_text("Left half", exact=True).click()
        outline(page).get_by_role("button", name="ShoulderEdge").click()
        type_in(page, "Width of ShoulderEdge", "500mm")
        fresh(page)
        widths = {side: self.spec()[side]["points"][1]["offset"]["width"] for side in ("left", "right")}
        self.assertEqual(widths, {"left": 0.5, "right": 1.5})
        outline(page).get_by_role("button", name="Dimensions").click()
        inspector(page).get_by_role("button", name="Add row").click()
        type_in(page, "Value of lane width", "3.6")
        outline(page).get_by_role("button", name="LaneEdge").click()
        page.get_by_role("button", name="Dimension for Width of LaneEdge").click()
        page.get_by_role("menuitem", name=re.compile("lane width")).click()
        expect(inspector(page)).to_contain_text("LaneEdge lies lane width (3.60 m) out from hinge")
        page.get_by_text("Table", exact=True).click()
        expect(page.get_by_role("table", name="Points and their ties")).to_contain_text("3.600")
        fresh(page)
        self.assertEqual(self.spec()["left"]["points"][0]["offset"]["width"], "lane width")

    @in_turn
    def test_what_is_wrong_is_said_by_name(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=template:rural/point/right/ShoulderEdge&at=600")
        type_in(page, "Crossfall of ShoulderEdge", "5")
        wrong = page.get_by_role("region", name="What is wrong")
        expect(wrong).to_contain_text("Shoulder rises outward by 5.0 % where the crown is normal")
        for name in ("Plain", "Again"):
            outline(page).get_by_role("button", name="Add a rung").click()
            expect(inspector(page).get_by_role("heading", name="Rung Slope")).to_be_visible()
            type_in(page, "Name of the rung", name)
        expect(wrong).to_contain_text("rung Again can never be taken")

    @in_turn
    def test_make_up_ends_show_on_the_bench(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=template:rural/strip/right/Lane&at=600")
        inspector(page).get_by_role("button", name="Open make-up “Lane, full depth”").click()
        type_in(page, "Outer end of course 4", "carried on 400mm")
        type_in(page, "Thickness of course 1", "45")
        fresh(page)
        courses = Document.objects.get(project=self.project, kind="make_up", key="lane-new").spec["courses"]
        self.assertEqual((courses[0]["thickness_mm"], courses[3]["outer"]), (45, {"kind": "carry", "distance": 0.4}))
        page.get_by_role("tab", name="Templates").click()
        page.get_by_role("button", name="Rural, shoulders").click()
        outline(page).get_by_role("button", name="Lane lane").click()
        expect(inspector(page)).to_contain_text("0.4 m on")
        expect(page.get_by_role("group", name="Rural, shoulders")).to_contain_text("Sub-base")

    @in_turn
    def test_a_kerb_profile_is_drawn(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=kerb:half-battered&at=600")
        type_in(page, "face up", "120")
        type_in(page, "back up", "120")
        type_in(page, "Backing height", "150")
        expect(page.get_by_role("textbox", name="Backing width")).to_have_value("100")
        fresh(page)
        spec = Document.objects.get(project=self.project, kind="kerb", key="half-battered").spec
        self.assertEqual([v["up_mm"] for v in spec["top"]], [0, -5, 120, 120])
        self.assertEqual((spec["backing_height_mm"], spec["backing_width_mm"]), (150, 100))

    @in_turn
    def test_two_people_edit_the_same_template(self) -> None:
        self.expected_statuses = {409}
        page = self.page()
        self.open(page, "templates?sel=template:rural/point/right/LaneEdge&at=600")
        width = page.get_by_role("textbox", name="Width of LaneEdge")
        expect(width).to_have_value("3.25")

        def theirs() -> None:
            row = Document.objects.get(project=self.project, kind="template", key="rural")
            row.spec["right"]["points"][0]["offset"]["width"] = 3.1
            row.spec["right"]["points"][1]["offset"]["width"] = 1.25
            row.version += 1
            row.save()

        self.just_before(page, "template/rural", theirs)
        type_in(page, "Width of LaneEdge", "3.4")
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("meanwhile")
        expect(dialog.get_by_role("row", name=re.compile("3.1"))).to_contain_text("LaneEdge")
        dialog.get_by_role("button", name="Keep mine").click()
        expect(dialog).to_be_hidden()
        fresh(page)
        self.assertEqual([p["offset"]["width"] for p in self.spec()["right"]["points"]], [3.4, 1.0])

    @in_turn
    def test_typing_on_while_a_save_is_under_way_asks_nothing(self) -> None:
        """Once the second save was sent on the version before the first, and the person was asked to choose against herself."""
        page = self.page()
        self.open(page, "templates?sel=template:rural/point/right/LaneEdge&at=600")
        expect(page.get_by_role("textbox", name="Width of LaneEdge")).to_be_visible()

        def slowly(route: Route) -> None:
            time.sleep(1.2)
            route.continue_()

        page.route("**/documents/template/rural", slowly)
        for value in ("3.4", "3.5", "3.6"):
            type_in(page, "Width of LaneEdge", value)
            page.wait_for_timeout(750)
        page.wait_for_timeout(3000)
        fresh(page)
        expect(page.get_by_role("dialog")).to_have_count(0)
        self.assertEqual(self.spec()["right"]["points"][0]["offset"]["width"], 3.6)

    @in_turn
    def test_new_parts_and_what_is_in_use(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=material&at=600")
        page.get_by_role("button", name="New material").click()
        expect(page.get_by_role("textbox", name="Name of the material")).to_have_value("New material")
        type_in(page, "Name of the material", "Washed sand")
        type_in(page, "Density", "1.75")
        fresh(page)
        sand = Document.objects.filter(project=self.project, kind="material", spec__name="Washed sand")
        self.assertEqual(sand.get().spec["density"], 1.75)
        page.get_by_role("button", name="Crushed rock").click()
        remove = page.get_by_role("button", name="Remove", exact=True)
        expect(remove).to_be_disabled()
        expect(page.get_by_title(re.compile("^Used by: Make-up “"))).to_be_visible()
        page.get_by_role("button", name="Washed sand").click()
        remove.click()
        page.get_by_role("button", name="Really remove it?").click()
        fresh(page)
        self.assertFalse(sand.exists())


class Library(BrowserCase):
    @in_turn
    def test_bring_share_and_exchange(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=library")
        page.get_by_role("button", name="Favourite With median").click()
        expect(page.get_by_role("button", name="Favourite With median")).to_have_attribute("aria-pressed", "true")
        page.get_by_role("checkbox", name="Choose With median").check()
        page.get_by_role("button", name="Bring into the project").click()
        dialog = page.get_by_role("dialog")
        expect(dialog.get_by_role("table", name="What would be brought")).to_contain_text("the same is there")
        dialog.get_by_role("button", name=re.compile("^Bring")).click()
        expect(page.get_by_text("brought into the project")).to_be_visible()
        page.get_by_role("tab", name="Templates").click()
        page.get_by_role("button", name="With median").click()
        expect(inspector(page).get_by_role("status", name="Layer balance")).to_contain_text("closed")

        page.get_by_role("tab", name="Library").click()
        choose(page, "Where from", f"This project ({self.project.name})")
        page.get_by_role("checkbox", name="Choose Village, kerbs").check()
        with page.expect_download() as download:
            page.get_by_role("button", name="Save as file").click()
        text = Path(download.value.path()).read_text()
        self.assertIn(("template", "village"), read_bundle(text).specs())

        changed = json.loads(text)
        for item in changed["items"]:
            if item["kind"] == "template":
                item["spec"]["right"]["points"][0]["offset"]["width"] = 3.0
        file = FilePayload(name="village.json", mimeType="application/json", buffer=json.dumps(changed).encode())
        page.locator("input[type=file]").set_input_files(file)
        dialog = page.get_by_role("dialog", name=re.compile("village.json"))
        expect(dialog).to_contain_text("another is there")
        expect(dialog.get_by_role("button", name="Nothing to bring")).to_be_disabled()
        choose(page, "What to do with Village, kerbs", "bring beside it")
        dialog.get_by_role("button", name="Bring 1").click()
        expect(page.get_by_text("1 brought into the project")).to_be_visible()
        rows = Document.objects.filter(project=self.project, kind="template", spec__name="Village, kerbs").order_by("key")
        self.assertEqual(
            [(r.key, r.spec["right"]["points"][0]["offset"]["width"]) for r in rows], [("village", 3.2), ("village-2", 3.0)]
        )

    @in_turn
    def test_a_file_that_is_none(self) -> None:
        self.expected_statuses = {400}
        page = self.page()
        self.open(page, "templates?sel=library")
        file = FilePayload(name="notes.json", mimeType="application/json", buffer=b'{"format": "notes",\n')
        page.locator("input[type=file]").set_input_files(file)
        expect(page.get_by_role("dialog")).to_contain_text("this is not JSON (line 2)")


class TestGround(BrowserCase):
    """The ground, the boundary and old pavement are dragged; the ladder and the layers follow."""

    def drag(self, page: Page, name: str, right: float, down: float) -> None:
        x, y = still(page.get_by_role("button", name=name, exact=True))
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + right, y + down, steps=6)
        page.mouse.up()
        page.wait_for_timeout(500)

    @in_turn
    def test_ground_and_boundary_choose_the_rung(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=template:wide-shoulder&at=1400")
        ladder = page.get_by_role("group", name="Slope ladder, right")
        expect(ladder.get_by_role("listitem").filter(has_text="lands")).to_contain_text("Toe drain")
        self.drag(page, "Ground at the hinge", 0, 90)
        expect(page.get_by_role("textbox", name="Ground at the hinge")).not_to_have_value("-1")
        expect(ladder.get_by_role("listitem").filter(has_text="lands")).not_to_contain_text("Toe drain")
        type_in(page, "Ground at the hinge", "-2")
        expect(ladder).to_contain_text("the height is")
        expect(ladder).to_contain_text("is inside the boundary")
        type_in(page, "Boundary right", "30")
        expect(ladder).to_contain_text("Flat fill: lands")
        self.drag(page, "Ground right", 0, -120)
        expect(page.get_by_role("textbox", name="Ground tilt")).not_to_have_value("0")
        page.get_by_role("switch", name="Use Boundary right").click()
        expect(ladder).to_contain_text("there is no boundary here")

    @in_turn
    def test_old_pavement_and_dimensions(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=template:wide-shoulder&at=1400")
        type_in(page, "Ground at the hinge", "-0.1")
        page.get_by_role("switch", name="Use Old pavement out to").click()
        drawing = page.get_by_role("group", name="Rural, widened shoulder")
        expect(drawing).to_contain_text("Regulating course")
        area = page.get_by_role("status", name="Layer balance").inner_text()
        type_in(page, "shoulder width", "1")
        expect(page.get_by_role("status", name="Layer balance")).not_to_have_text(area)
        expect(page.get_by_role("status", name="Layer balance")).to_contain_text("closed")

    @in_turn
    def test_on_the_road_before_it_is_saved(self) -> None:
        page = self.page()
        self.open(page, "templates?sel=template:rural/point/right/ShoulderEdge&at=600")
        page.get_by_text("On the road", exact=True).click()
        shown = page.get_by_role("img", name="Section at 0+600.000")
        expect(shown).to_contain_text("ShoulderEdge")
        page.get_by_role("button", name="Next section").click()
        expect(page.get_by_role("img", name="Section at 0+610.000")).to_be_visible()
        page.get_by_role("button", name="Village, kerbs").click()
        expect(page.get_by_text("Here stands “Rural, shoulders”")).to_be_visible()


class Inserting(BrowserCase):
    @in_turn
    def test_a_cycle_lane_between_lane_and_kerb_in_five_acts(self) -> None:
        """A plus below the joint, what is put there, its name, kind and width; and one undo takes the strip away again."""
        page = self.page()
        self.open(page, "templates?sel=template:village")
        page.get_by_role("button", name="Insert at LaneEdge").click()
        page.get_by_role("group", name="Insert at LaneEdge").get_by_role("button", name="Strip").click()
        fresh(page)
        self.assertEqual(
            {s["name"]: (s["from_point"], s["to_point"]) for s in self.half()["strips"]},
            {"Lane": ("hinge", "LaneEdge"), "Strip": ("LaneEdge", "StripEdge"), "Footpath": ("Kerb.back", "PathBack")},
        )
        self.assertEqual([k["at"] for k in self.half()["kerbs"]], ["StripEdge"])
        name = page.get_by_role("textbox", name="Name of the strip")
        name.fill("Cycle lane")
        name.press("Enter")
        choose(page, "Kind of strip", "cycle path")
        width = page.get_by_role("textbox", name="Width of the strip")
        width.fill("1.75")
        width.press("Enter")
        fresh(page)
        strip = next(s for s in self.half()["strips"] if s["name"] == "Cycle lane")
        self.assertEqual(strip["kind"], "cycle_path")
        edge = next(p for p in self.half()["points"] if p["name"] == strip["to_point"])
        self.assertEqual((edge["offset"]["parent"], edge["offset"]["width"]), ("LaneEdge", 1.75))
        expect(inspector(page)).to_contain_text("Cycle lane")

        # A point in the middle of the lane: the same surface, one strip more.
        page.get_by_role("button", name="Insert at hinge").press("Enter")
        page.get_by_role("button", name="Point in the middle of Lane").click()
        fresh(page)
        self.assertEqual(len(self.half()["strips"]), 4)
        page.keyboard.press("Control+z")
        fresh(page)
        self.assertEqual(len(self.half()["strips"]), 3)

    def half(self) -> dict[str, Any]:
        spec: dict[str, Any] = Document.objects.get(project=self.project, kind="template", key="village").spec
        half: dict[str, Any] = spec["right"]
        return half
