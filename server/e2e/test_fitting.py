"""Fitting the overlay in the browser: crossfalls measured and smoothed, a range milled, best levels, spreadsheet out and in."""

import io
import re

import numpy as np
from openpyxl import load_workbook
from playwright.sync_api import FilePayload, Page, expect

from design.models import Document
from e2e.browser import BrowserCase, choose, press, press_cell
from e2e.test_bench import fresh, type_in
from e2e.turns import in_turn
from road.model import road_model
from saddle.alignment.profile import ProfileSpec
from saddle.overlay.spec import CrossfallTable, LevelTable, MillingPlan
from saddle.road.spec import TemplatePlan, TreatmentPlan
from saddle.standards.spec import Standards


class Fitting(BrowserCase):
    def spec(self, kind: str) -> dict[str, object]:
        return Document.objects.get(project=self.project, kind=kind).spec

    def depth(self, page: Page, what: str) -> float:
        """A figure of the overlay's card at the current section, mm."""
        cell = page.locator(".figures div").filter(has=page.get_by_text(what, exact=True)).locator("dd")
        return float(re.sub(r"[^0-9.]", "", cell.inner_text()))

    @in_turn
    def test_two_passes_milling_and_best_levels(self) -> None:
        self.start_worker()
        page = self.page()
        # First pass: a nominal crossfall over the whole length fails in the superelevated curve.
        self.open(page, "overlay?at=1200&from=760&to=1330")
        page.get_by_role("region", name="Marked range").get_by_role("button", name="Set treatment").click()
        dialog = page.get_by_role("dialog")
        for side in ("left", "right"):
            choose(dialog, f"Crossfall {side} source", "Given")
        dialog.get_by_role("button", name="Set treatment").click()
        expect(dialog).to_be_hidden()
        fresh(page)
        page.wait_for_timeout(500)
        first = self.depth(page, "greatest")
        self.assertGreater(first, 150)
        # Second pass: measured crossfalls, smoothed, adopted.
        page.keyboard.press("5")
        expect(page.get_by_role("group", name="Crossfalls along the road")).to_be_visible()
        change = page.get_by_role("status", name="What it would change")
        expect(change).to_contain_text("This would change")
        page.get_by_role("button", name="Do it").click()
        expect(
            page.get_by_role("group", name="Adopted crossfalls").get_by_role("textbox", name=re.compile("^Left of row")).first
        ).to_be_visible()
        fresh(page)
        many = len(CrossfallTable.model_validate(self.spec("crossfalls")).rows)
        choose(page, "Operation", "drop rows within a tolerance")
        expect(change).to_contain_text(re.compile(r"would change \d+ rows"))
        page.get_by_role("button", name="Do it").click()
        fresh(page)
        few = len(CrossfallTable.model_validate(self.spec("crossfalls")).rows)
        self.assertLess(few, many / 2)
        page.get_by_role("button", name="Use adopted in all").click()
        fresh(page)
        page.keyboard.press("6")
        page.wait_for_timeout(800)
        second = self.depth(page, "greatest")
        self.assertLess(second, first / 1.5)
        # Mill a range.
        page.get_by_role("region", name="Milling").get_by_role("button", name="Mill the range").click()
        type_in(page, "Depth 1 of milling 1", "30")
        fresh(page)
        rows = self.spec("milling")["stretches"][0]["rows"]  # type: ignore[index]
        self.assertEqual([(r["chainage"], r["depth_mm"]) for r in rows], [(760, 30), (1330, 40)])
        stops = page.get_by_role("navigation", name="Stops")
        stops.get_by_role("link", name="Quantities").click()
        expect(page.get_by_role("main")).to_contain_text("Old pavement")
        # Best levels: what they save or cost, taken, governing.
        stops.get_by_role("link", name="Levels").click()
        page.get_by_role("button", name="Find best levels").click()
        saved = page.get_by_role("status", name="What is saved")
        expect(saved).to_contain_text("least cover", timeout=60_000)
        expect(saved).to_contain_text("t")
        page.get_by_role("button", name="Take and let them govern").click()
        fresh(page)
        plan = TreatmentPlan.model_validate(self.spec("treatments"))
        self.assertIn(
            (760.0, 1330.0, "level_table"),
            [(r.from_chainage, r.to_chainage, r.work.governs.kind) for r in plan.ranges if r.work.kind == "overlay"],
        )
        levels = LevelTable.model_validate(self.spec("levels")).rows
        self.assertGreater(len(levels), 40)
        # The spreadsheet out, one level changed, in again.
        with page.expect_download() as got:
            page.get_by_role("link", name="Save as XLSX").click()
        book = load_workbook(io.BytesIO(got.value.path().read_bytes()))
        sheet = book["Levels"]
        self.assertTrue(str(sheet["G4"].value).startswith("="))
        row = next(r for r in range(2, 400) if sheet[f"A{r}"].value == 1000)
        before = sheet[f"D{row}"].value
        sheet[f"D{row}"] = before + 0.012
        out = io.BytesIO()
        book.save(out)
        file = FilePayload(
            name="levels.xlsx",
            mimeType="application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
            buffer=out.getvalue(),
        )
        page.locator("input[type=file]").set_input_files(file)
        changes = page.get_by_role("table", name="Levels that would change")
        expect(changes).to_contain_text("1+000.000")
        expect(changes).to_contain_text("+12")
        page.get_by_role("button", name="Take them").click()
        fresh(page)
        adopted = {r.chainage: r.level for r in LevelTable.model_validate(self.spec("levels")).rows}
        self.assertAlmostEqual(adopted[1000.0], before + 0.012, 4)

    @in_turn
    def test_crossfalls_dragged_typed_pasted_and_read(self) -> None:
        page = self.page()
        self.open(page, "crossfall?at=560&from=480&to=680")
        choose(page, "Operation", "one value")
        type_in(page, "Crossfall", "-3")
        page.get_by_role("button", name="Do it").click()
        fresh(page)
        type_in(page, "Left of row 1", "-2")
        fresh(page)
        handle = page.get_by_role("button", name="left at 0+480.000")
        box = handle.bounding_box()
        assert box
        page.mouse.move(box["x"] + 4, box["y"] + 4)
        page.mouse.down()
        page.mouse.move(box["x"] + 4, box["y"] - 40, steps=4)
        page.mouse.up()
        fresh(page)
        rows = CrossfallTable.model_validate(self.spec("crossfalls")).rows
        self.assertGreater(rows[0].left_pct, -2.0)
        self.assertEqual(rows[0].right_pct, -3.0)
        # Taken on downward from the first row, and copied out.
        page.context.grant_permissions(["clipboard-read", "clipboard-write"])
        field = page.get_by_role("textbox", name="Right of row 1", exact=True)
        field.fill("-2.2")
        field.press("Enter")
        press_cell(page, "Right of row 1")
        page.keyboard.press("Control+d")
        fresh(page)
        self.assertEqual({r.right_pct for r in CrossfallTable.model_validate(self.spec("crossfalls")).rows}, {-2.2})
        page.get_by_role("button", name="Copy rows").click()
        expect(page.get_by_text(re.compile(r"\d+ rows copied"))).to_be_visible()
        lines = page.evaluate("navigator.clipboard.readText()").splitlines()
        self.assertEqual(lines[0], "Chainage\tLeft %\tRight %\tmeasured")
        self.assertEqual(lines[1].split("\t")[2], "-2.2")
        text = "Chainage;Left;Right\n500;-2,5;-2,5\n600;-3;+1\n"
        page.locator("input[type=file]").set_input_files(FilePayload(name="x.csv", mimeType="text/csv", buffer=text.encode()))
        expect(page.get_by_text("2 rows read")).to_be_visible()
        fresh(page)
        found = [(r.chainage, r.left_pct, r.right_pct) for r in CrossfallTable.model_validate(self.spec("crossfalls")).rows]
        self.assertEqual(found, [(500, -2.5, -2.5), (600, -3, 1)])

    @in_turn
    def test_limits_in_conflict_are_named(self) -> None:
        self.start_worker()
        page = self.page()
        row = Document.objects.get(project=self.project, kind="levels")
        pinned = {"rows": [{"chainage": 560, "level": 90.2, "pinned": True}, {"chainage": 570, "level": 90.9}]}
        row.spec = LevelTable.model_validate(pinned).model_dump()
        row.save()
        self.open(page, "levels?at=560&from=500&to=640")
        page.get_by_role("button", name="Find best levels").click()
        expect(page.get_by_role("alert")).to_contain_text("No levels keep every limit", timeout=60_000)
        expect(page.get_by_role("alert")).to_contain_text("0+560.0")
        page.get_by_text("Level table", exact=True).click()
        expect(page.get_by_role("checkbox", name="Pin 0+560.000")).to_be_checked()

    def test_best_levels_across_the_end_of_a_milling(self) -> None:
        """Milled 40 mm from 800 to 900: two sections stand at either end, and what is adopted keeps the cover of both."""
        self.start_worker()
        rows = [{"chainage": c, "depth_mm": 40} for c in (800, 900)]
        row = Document.objects.get(project=self.project, kind="milling")
        row.spec = MillingPlan.model_validate({"stretches": [{"rows": rows}]}).model_dump()
        row.save()
        page = self.page()
        self.open(page, "levels?at=900&from=780&to=950")
        page.get_by_role("button", name="Find best levels").click()
        saved = page.get_by_role("status", name="What is saved")
        expect(saved).to_contain_text("above the least", timeout=60_000)
        page.get_by_role("button", name="Take and let them govern").click()
        fresh(page)
        model, _ = road_model(self.project, "main")
        within = model.stations.within(780, 950)
        self.assertEqual(int((np.abs(model.chainage[within] - 900) < 1e-6).sum()), 2)
        self.assertGreaterEqual(float(np.nanmin(model.depth.least[within])), 0.05 - 5e-4)
        page.keyboard.press("6")
        expect(page.get_by_role("complementary", name="Inspector")).not_to_contain_text("cover is")

    @in_turn
    def test_variants_side_by_side(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=560&from=480&to=700")
        page.get_by_role("button", name="Variants").click()
        page.get_by_role("button", name="Add variant").click()
        rows = page.get_by_role("table", name="Variants").get_by_role("row")
        expect(rows).to_have_count(3)
        type_in(page, "Name of variant 1", "Measured falls")
        choose(page, "Crossfall of variant 1", "Measured")
        type_in(page, "Price per tonne", "95")
        fresh(page)
        cells = [row.get_by_role("cell").all_inner_texts() for row in rows.all()[1:]]
        mass = [float(c[7]) for c in cells]
        self.assertLess(mass[1], mass[0])
        self.assertAlmostEqual(float(cells[0][8]), 95 * mass[0], delta=10)
        page.get_by_role("button", name="Take over").click()
        expect(page.get_by_text("“Measured falls” taken over")).to_be_visible()
        fresh(page)
        plan = TreatmentPlan.model_validate(self.spec("treatments"))
        works = [r.work for r in plan.ranges if r.from_chainage <= 480 < r.to_chainage and r.work.kind == "overlay"]
        self.assertEqual([w.left_crossfall.by for w in works], ["measured"])

    @in_turn
    def test_a_profile_fitted_dragged_typed_and_governing(self) -> None:
        page = self.page()
        self.open(page, "levels?at=700&from=480&to=900")
        press(page.get_by_role("radiogroup", name="What is graded"), "Profile")
        expect(page.get_by_role("group", name="IPs of the profile")).to_be_visible()
        page.get_by_role("button", name="New", exact=True).click()
        table = page.get_by_role("group", name="IPs of the profile")
        expect(table.get_by_role("textbox", name=re.compile("^Level of IP"))).to_have_count(2)
        # Fitted through the overlay's levels: looked at before it is taken.
        page.get_by_text("Fit, ends", exact=True).click()
        fit = page.get_by_role("region", name="Fit through levels")
        fit.get_by_role("button", name="Show").click()
        expect(fit).to_contain_text("furthest")
        expect(table.get_by_role("textbox", name=re.compile("^Level of IP"))).to_have_count(2)
        fit.get_by_role("button", name="Fit", exact=True).click()
        expect(table.get_by_role("textbox", name="Level of IP 4")).to_be_visible()
        fresh(page)
        first = self.profile()
        self.assertEqual((first.points[0].chainage, first.points[-1].chainage), (480, 900))
        self.assertTrue(all(p.length_in > 10 for p in first.points[1:-1]))
        # Dragged: the limits answer while the pointer is down, the profile stays where it was let go.
        handle = page.get_by_role("button", name="IP 3", exact=True)
        box = handle.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x + 3, y - 45, steps=5)
        limits = page.get_by_role("region", name="Limits of the profile")
        expect(limits).to_contain_text("at least K")
        page.mouse.up()
        self.until(page, lambda: self.profile().points[2].level > first.points[2].level + 0.3, "IP 3 stays where it was let go")
        fresh(page)
        page.get_by_role("button", name=re.compile("^Undo")).click()
        expect(limits).to_contain_text("Every limit is kept")
        # Typed: a level that breaks a limit is named, a curve by K, an IP by the grade in, one that cannot be.
        type_in(page, "K of IP 2", "30")
        self.until(page, lambda: self.profile().points[1].length_in < first.points[1].length_in, "the curve by its K")
        # Nearer to the IP the curve that passes a level is shorter.
        page.get_by_role("radiogroup", name="What to do with the profile").get_by_text(re.compile("^IP")).click()
        passing = page.get_by_role("group", name="Curve through a level").get_by_role(
            "textbox", name="Level that the curve passes"
        )
        chosen = int(re.search(r"IP (\d) at", page.get_by_role("region", name="Chosen IP").inner_text())[1]) - 1  # type: ignore[index]
        ip, was = self.profile().points[chosen], float(passing.input_value())
        type_in(page, "Level that the curve passes", f"{was + 0.25 * (ip.level - was):.3f}")
        page.get_by_role("button", name="Fit curve").click()
        self.until(page, lambda: self.profile().points[chosen].length_in < ip.length_in - 1, "the curve through a level")
        fresh(page)
        page.get_by_text("Place", exact=True).click()
        choose(page, "How the IP is placed", "chainage and grade in")
        type_in(page, "Chainage of the placed IP", "950")
        type_in(page, "Grade in of the placed IP", "0.5")
        page.get_by_role("button", name="Add", exact=True).click()
        self.until(page, lambda: self.profile().points[-1].chainage == 950, "the placed IP")
        last = self.profile().points
        self.assertAlmostEqual(last[-1].level, last[-2].level + 0.25, 3)
        self.expected_statuses = {400}
        type_in(page, "Curve of IP 2", "400")
        expect(page.get_by_text(re.compile("does not fit at IP 2; the longest is"))).to_be_visible()
        # Many at once, then it governs the rebuilt length, and its levels go to the level table.
        page.get_by_role("checkbox", name="Mark all IPs").check()
        page.get_by_text("Many", exact=True).click()
        type_in(page, "Shift up", "20mm")
        page.get_by_role("button", name="Shift", exact=True).click()
        self.until(page, lambda: self.profile().points[0].level > last[0].level + 0.01, "all IPs shifted")
        np.testing.assert_allclose([p.level for p in self.profile().points], [p.level + 0.02 for p in last], atol=1e-4)
        page.get_by_role("button", name="Let it govern 0+480 to 0+900").click()
        fresh(page)
        plan = TreatmentPlan.model_validate(self.spec("treatments"))
        kinds = {r.work.kind for r in plan.ranges if getattr(getattr(r.work, "governs", None), "kind", "") == "profile"}
        self.assertEqual(kinds, {"overlay", "reconstruct"})
        press(page.get_by_role("radiogroup", name="What is graded"), "Overlay levels")
        page.get_by_text("Level table", exact=True).click()
        choose(page, "Operation", "fill from a profile")
        expect(page.get_by_role("status", name="What it would change")).to_contain_text(re.compile(r"would change \d+ rows"))
        page.get_by_role("button", name="Do it").click()
        choose(page, "Operation", "running mean")
        expect(page.get_by_role("status", name="What it would change")).to_contain_text(re.compile(r"would change \d+ rows"))
        page.get_by_role("button", name="Do it").click()
        fresh(page)
        rows = LevelTable.model_validate(self.spec("levels")).rows
        self.assertGreater(len(rows), 30)

    @in_turn
    def test_a_standard_chosen_and_changed_turns_the_curves(self) -> None:
        page = self.page()
        self.open(page, "crossfall?at=700")
        expect(page.get_by_role("region", name="Water")).to_contain_text("film, left")
        choose(page, "Operation", "design superelevation")
        expect(page.get_by_text("By AASHTO, shared by curvature: 2 of 3 curves turn")).to_be_visible()
        page.get_by_role("button", name="Standards").click()
        dialog = page.get_by_role("dialog", name="Standards of this project")
        choose(dialog, "Copy a published standard", "Austroads")
        page.get_by_role("button", name="Copy", exact=True).click()
        expect(dialog.get_by_text("In use: Austroads")).to_be_visible()
        field = dialog.get_by_role("textbox", name="Side friction at 60 km/h")
        field.fill("0.2")
        field.press("Enter")
        expect(dialog.get_by_text("60 km/h: set in this project, was 0.33")).to_be_visible()
        dialog.get_by_role("button", name="Close").last.click()
        fresh(page)
        found = Standards.model_validate(self.spec("standards")).superelevation
        self.assertEqual((found.name, found.friction.at(60)), ("Austroads", 0.2))
        page.get_by_role("button", name="Key chainages").click()
        keys = page.get_by_role("table", name="Key chainages")
        expect(keys.get_by_role("row")).to_have_count(4)
        expect(keys).to_contain_text("full superelevation")
        page.get_by_role("dialog", name="How the curves turn").get_by_role("button", name="Close").last.click()
        page.get_by_role("button", name="Do it").click()
        fresh(page)
        self.assertGreater(len(CrossfallTable.model_validate(self.spec("crossfalls")).rows), 10)
        # Measured at every surveyed point instead, over a part.
        choose(page, "Operation", "take the measured ones")
        choose(page, "Measured", "at every surveyed point")
        expect(page.get_by_role("status", name="What it would change")).to_contain_text(re.compile(r"would change \d+ rows"))

    @in_turn
    def test_a_mouth_becomes_a_road(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=548&from=545&to=551")
        side = page.get_by_role("region", name="Side road")
        side.get_by_role("textbox", name="Name of the side road").fill("Mill Lane")
        side.get_by_role("button", name="Tie in, 0+545 to 0+551").click()
        expect(page.get_by_text("Tied in, by template rural-mill-lane")).to_be_visible()
        side.get_by_role("button", name="Make this mouth a road").click()
        expect(side).to_contain_text("The mouth that is tied in here is taken back.")
        side.get_by_role("textbox", name="Name of the side road").fill("Mill Lane")
        type_in(page, "Length of the side road", "25")
        type_in(page, "Turned from square", "10")
        side.get_by_role("button", name="Make it a road, 0+545 to 0+551").click()
        expect(page.get_by_role("button", name="Road Mill Lane")).to_be_visible()
        fresh(page)
        expect(page.get_by_role("img", name=re.compile("^Section at"))).to_be_visible()
        main = TemplatePlan.model_validate(Document.objects.get(project=self.project, kind="template_plan", key="main").spec)
        self.assertFalse([r for r in main.ranges if "mill" in r.template])
        self.assertEqual(Document.objects.get(project=self.project, kind="alignment", key="mill-lane").spec["name"], "Mill Lane")

    @in_turn
    def test_a_side_road_tied_in_and_bands_changed(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=548&from=540&to=556")
        side = page.get_by_role("region", name="Side road")
        side.get_by_role("textbox", name="Name of the side road").fill("Mill Lane")
        press(side.get_by_role("radiogroup", name="Side of the side road"), "left")
        type_in(page, "Length of the tie", "8")
        type_in(page, "Notch of the side road", "40")
        side.get_by_role("button", name="Tie in, 0+540 to 0+556").click()
        expect(page.get_by_text("Tied in, by template rural-mill-lane")).to_be_visible()
        fresh(page)
        expect(page.locator(".about").get_by_text("Rural, shoulders, Mill Lane")).to_be_visible()
        expect(page.get_by_role("img", name=re.compile("^Section at"))).to_contain_text("SideRoadEnd")
        milling = page.get_by_role("region", name="Milling")
        expect(milling.get_by_role("radiogroup", name="Full depth of milling 1")).to_be_visible()
        page.get_by_role("button", name=re.compile("^Undo")).click()
        expect(page.locator(".about").get_by_text("Rural, shoulders, Mill Lane")).to_be_hidden()
        self.assertFalse(Document.objects.filter(project=self.project, key="rural-mill-lane").exists())
        # Bands with limits of one's own, in plan, legend and section; depth between surfaces.
        legend = page.get_by_role("region", name="Overlay depth")
        legend.get_by_role("button", name="Change the bands").click()
        for _ in range(3):
            legend.get_by_role("button", name="Remove band 3").click()
        type_in(page, "Band 2 up to", "90")
        fresh(page)
        legend.get_by_role("button", name="Change the bands").click()
        expect(legend).to_contain_text("over 90 mm")
        by_sections = legend.inner_text()
        press(legend.get_by_role("radiogroup", name="Depth between"), "surfaces")
        expect(legend).not_to_have_text(by_sections)
        page.get_by_role("button", name="Depth in section").click()
        self.assertEqual(self.spec("sections")["depth_bands_mm"], [50, 90])

    def profile(self) -> ProfileSpec:
        newest = Document.objects.filter(project=self.project, kind="profile").latest("id")
        return ProfileSpec.model_validate(newest.spec)
