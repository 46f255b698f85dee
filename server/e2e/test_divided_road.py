"""Journeys on the third demo road: two carriageways with a median by its width, and a lane."""

import math
import re

import numpy as np
from playwright.sync_api import expect

from demo.load import load_divided_road
from design.models import Document
from e2e.browser import BrowserCase, choose, turn_to
from e2e.test_journeys import fresh
from e2e.turns import in_turn
from road.model import road_model


class DividedRoad(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.project = load_divided_road()

    @in_turn
    def test_a_median_is_applied_and_its_shapes_changed(self) -> None:
        page = self.page()
        self.open(page, "templates?road=right&at=1400&selection=template:carriageway-right")
        strip = page.get_by_role("region", name="Chainage strip")
        shapes = strip.get_by_role("img", name="Shapes of Median by width, left")
        expect(shapes).to_contain_text("Median, verge and drain")

        # Without it the road ends at its margin, and it comes back up to the other road's end, by a guide that is made for it.
        page.get_by_role("button", name="Right carriageway, two lanes").click()
        page.get_by_role("button", name="Apply to a range").click()
        dialog = page.get_by_role("dialog")
        choose(dialog, "Beyond on the left", "nothing: it ends there")
        dialog.get_by_role("button", name="Apply", exact=True).click()
        expect(dialog).to_be_hidden()
        expect(shapes).to_be_hidden()
        page.get_by_role("button", name="Apply to a range").click()
        dialog = page.get_by_role("dialog")
        choose(dialog, "Beyond on the left", "Median by width")
        choose(dialog, "What the median on the left reaches to", "Left carriageway, where it ends on the left")
        choose(dialog, "What the median on the left reaches to", "Left carriageway, where it ends on the right")
        dialog.get_by_role("button", name="Apply", exact=True).click()
        expect(dialog).to_be_hidden()
        expect(shapes).to_contain_text("Median, barrier")
        fresh(page)
        (plan,) = Document.objects.get(project=self.project, kind="template_plan", key="right").spec["ranges"]
        # The same line was followed before: no second guide is made.
        self.assertEqual(plan["left_beyond"], {"kind": "median", "median": "median", "guide": "far-side"})

        # A shape that needs more than there is is built nowhere, at once.
        page.get_by_role("tab", name="Medians").click()
        width = page.get_by_role("textbox", name="Least width of shape 1")
        width.fill("7")
        width.press("Enter")
        expect(shapes).not_to_contain_text("Median, verge and drain")
        fresh(page)
        page.get_by_role("link", name="Sections").click()
        card = page.get_by_role("region", name="Median by width, left")
        expect(card.get_by_role("row", name=re.compile("Median, kerb to kerb"))).to_contain_text(re.compile(r"4\d of 7\d"))
        expect(card).to_contain_text(re.compile(r"Median, kerb to kerb is taken: 1\.7\d\d m wide here"))

    @in_turn
    def test_roads_that_end_at_each_others_middle(self) -> None:
        page = self.page()
        self.open(page, "sections?road=right&at=1100")
        page.get_by_role("button", name="Road Right carriageway").click()
        page.get_by_role("menuitem", name="List of roads").click()
        ends = page.get_by_role("dialog", name="Roads").get_by_role("region", name="Where Right carriageway ends")
        ends.get_by_role("button", name="Add an end").click()
        choose(ends, "What end 1 is at", "to Left carriageway")
        choose(ends, "Side of end 1", "on the left")
        expect(ends.get_by_role("button", name="Remove end 1")).to_be_visible()
        fresh(page)
        road = Document.objects.get(project=self.project, kind="road", key="right").spec
        self.assertEqual(road["beside"], [{"side": "left", "to": {"by": "middle", "road": "main"}}])

    @in_turn
    def test_a_lane_is_tied_in_and_moved(self) -> None:
        page = self.page()
        self.open(page, "overlay?road=pell-lane&at=20")
        inspector = page.get_by_role("complementary", name="Inspector")
        choose(inspector, "Ties in at its start, and meets", "the old road")
        choose(inspector, "Ties in at its start, and meets", "Shoulder of the main road")
        fresh(page)
        before = self.mouth()

        # Moved 20 m along the main road, which is at 24° there: the mouth goes with it, and lies on the main road where it is now.
        page.get_by_role("link", name="Alignment").click()
        for label, by in (
            ("Start easting", 20 * math.sin(math.radians(24))),
            ("Start northing", 20 * math.cos(math.radians(24))),
        ):
            field = page.get_by_role("textbox", name=label)
            field.fill(f"{float(field.input_value().replace(' ', '')) + by:.3f}")
            field.press("Enter")
            fresh(page)
        after = self.mouth()
        self.assertAlmostEqual(math.hypot(after[0] - before[0], after[1] - before[1]), 20.0, delta=0.1)
        page.get_by_role("link", name="Overlay").click()
        expect(inspector).to_contain_text("Treatment 1 of 1")
        expect(inspector).not_to_contain_text("does not cross")

    @in_turn
    def test_a_corner_becomes_three_centred(self) -> None:
        """The longer arcs begin further out on the main road and end further in on the lane."""
        page = self.page()
        self.open(page, "guides?road=pell-lane&at=20&sel=corner-right")
        before = self.bent()
        turn_to(page.get_by_role("radiogroup", name="Curve of the corner"), "three-centred")
        fresh(page)
        times = page.get_by_role("textbox", name="Own edge, so many times the radius")
        expect(times).to_have_value("3")
        self.assertEqual(
            Document.objects.get(project=self.project, kind="guide", key="corner-right").spec["source"]["ends"]["last_times"], 3
        )
        after = self.bent()
        self.assertGreater(after, before + 3.0)
        times.fill("4")
        times.press("Enter")
        fresh(page)
        self.assertGreater(self.bent(), after + 0.5)

    def bent(self) -> float:
        """The last chainage of the lane at which its right edge still bends, by the right corner."""
        model, _ = road_model(self.project, "pell-lane")
        return float(model.chainage[model.lines.right_edge > 2.75 + 1e-3].max())

    def mouth(self) -> tuple[float, float]:
        """East and north of the hinge of the first section that is built, which must lie on the right carriageway's end."""
        model, _ = road_model(self.project, "pell-lane")
        i = int(np.flatnonzero(model.worked_on())[0])
        at = model.frames.plan(np.array([i]), model.lines.hinge[i : i + 1])[0]
        main, _ = road_model(self.project, "right")
        _, offset = main.alignment.locate(at[None, :])
        self.assertAlmostEqual(float(offset[0]), 13.0, delta=0.02)
        return float(at[0]), float(at[1])
