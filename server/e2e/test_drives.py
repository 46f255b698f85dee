"""Drives and dropped kerbs out of a pasted table."""

import re

from playwright.sync_api import expect

from design.models import Document
from e2e.browser import BrowserCase, paste_cells
from e2e.test_journeys import fresh
from e2e.turns import in_turn


class Drives(BrowserCase):
    @in_turn
    def test_a_table_is_pasted_and_tied_in(self) -> None:
        self.expected_statuses = {400}
        page = self.page()
        self.open(page, "overlay?at=560&from=500&to=690")
        page.get_by_role("region", name="Side road").get_by_role("button", name="Drives from a table").click()
        dialog = page.get_by_role("dialog", name="Drives and dropped kerbs")
        paste_cells(page, "Chainage of drive 1", "560\tright\t4\tdrive\n600\tleft\t8\tfield access\n640\tright\t4\tdropped kerb")

        # One that cannot be names its row, and nothing is written.
        dialog.get_by_role("button", name="Tie them in").click()
        expect(page.get_by_text(re.compile(r"row 3, dropped kerb at 0\+640\.000: .* no kerb on the right"))).to_be_visible()
        self.assertFalse(Document.objects.filter(project=self.project, kind="template", spec__name__contains="Drive").exists())
        paste_cells(page, "Kind of drive 3", "drive")
        dialog.get_by_role("button", name="Tie them in").click()
        expect(dialog).to_be_hidden()
        fresh(page)
        plan = Document.objects.get(project=self.project, kind="template_plan", key="main").spec["ranges"]
        tied = [(r["from_chainage"], r["to_chainage"]) for r in plan if "drive" in r["template"] or "field" in r["template"]]
        self.assertEqual(tied, [(558.0, 562.0), (596.0, 604.0), (638.0, 642.0)])
        self.assertEqual(len({r["template"] for r in plan if "drive-right" in r["template"]}), 1)

        # All of it is one step.
        page.get_by_role("button", name="Undo").click()
        templates = Document.objects.filter(project=self.project, kind="template", key__contains="drive")
        self.until(page, lambda: not templates.exists(), "the drives are taken back")
        plan = Document.objects.get(project=self.project, kind="template_plan", key="main").spec["ranges"]
        self.assertFalse([r for r in plan if "drive" in r["template"]])
