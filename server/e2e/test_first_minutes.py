"""The first minutes of somebody new: an empty project, the demo road in it, a way around, the guide beside the work."""

from playwright.sync_api import expect

from design.models import Document
from e2e.browser import BrowserCase, choose
from e2e.test_journeys import fresh
from e2e.turns import in_turn
from projects.models import Project


class FirstMinutes(BrowserCase):
    @in_turn
    def test_a_demo_road_of_ones_own(self) -> None:
        self.start_worker()
        page = self.page()
        page.goto(self.live_server_url)
        page.get_by_role("textbox", name="Name of the new project").fill("First road")
        choose(page, "Standards of the new project", "CD 109")
        page.get_by_role("button", name="Make project").click()
        page.get_by_role("button", name="Look at a demo road").click()
        shown = page.get_by_role("status", name="Shown around")
        told = [shown.inner_text()]
        while page.get_by_role("button", name="Next").count():
            page.get_by_role("button", name="Next").click()
            expect(shown).not_to_have_text(told[-1])
            told.append(shown.inner_text())
        self.assertGreaterEqual(len(set(told)), 6)
        page.get_by_role("button", name="Finish").click()
        expect(shown).to_be_hidden()
        fresh(page)
        self.assertTrue(told[0].startswith("From the survey to the sheets"))
        page.get_by_role("button", name="Guide").click()
        guide = page.get_by_role("dialog", name="Guide")
        expect(guide.get_by_role("heading", level=1)).to_contain_text("surveyor's file")
        page.keyboard.press("Escape")
        expect(guide).to_be_hidden()
        page.keyboard.press("6")
        page.get_by_role("button", name="Guide").click()
        expect(guide.get_by_role("heading", level=1)).to_have_text("Treatments: overlay, reconstruct, leave")
        guide.get_by_role("button", name="All pages").click()
        guide.get_by_role("button", name="Crossfalls", exact=True).click()
        expect(guide.get_by_role("heading", level=1)).to_have_text("Crossfalls")
        fresh(page)
        project = Project.objects.get(name="First road")
        self.assertTrue(Document.objects.filter(project=project, kind="alignment").exists())
        standards = Document.objects.get(project=project, kind="standards").spec
        self.assertEqual(standards["vertical"]["name"], "CD 109")

    def test_a_viewer_is_told_why_nothing_can_be_changed(self) -> None:
        page = self.page("viewer")
        self.open(page, "overlay?at=560")
        read_only = page.get_by_text("Read only", exact=True)
        read_only.focus()
        expect(page.get_by_role("tooltip")).to_contain_text("You are a viewer here")
