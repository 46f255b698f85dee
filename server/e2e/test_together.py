"""Two people in one project: what one saves the other sees, and nothing that either typed is lost."""

import re
from typing import Any

from django.contrib.auth.models import User
from playwright.sync_api import Page, expect

from design.actions.change import Change, change_document
from design.models import Document
from design.specs import spec_of
from e2e.browser import BrowserCase
from e2e.turns import in_turn
from projects.models import Membership, Role


class Together(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.other = User.objects.create_user("olga", first_name="Olga", last_name="Reed", password="x")
        Membership.objects.create(project=self.project, user=self.other, role=Role.DESIGNER)

    def work(self, **changes: Any) -> None:
        """Olga changes the treatment at 0+560."""
        row = Document.objects.get(project=self.project, kind="treatments", key="main")
        spec: Any = spec_of(row)
        at = next(i for i, r in enumerate(spec.ranges) if r.from_chainage <= 560 < r.to_chainage)
        ranges = [r.changed(work=r.work.changed(**changes)) if i == at else r for i, r in enumerate(spec.ranges)]
        change_document(self.project, self.other, Change("treatments", "main", spec.changed(ranges=ranges), row.version))

    def spec(self) -> Any:
        spec: Any = spec_of(Document.objects.get(project=self.project, kind="treatments", key="main"))
        return next(r.work for r in spec.ranges if r.from_chainage <= 560 < r.to_chainage)

    def at_the_overlay(self) -> Page:
        page = self.page()
        self.open(page, "overlay?at=560")
        expect(page.get_by_role("textbox", name="Least cover")).to_be_visible()
        return page

    @in_turn
    def test_seen_at_once_and_who_is_where(self) -> None:
        page = self.at_the_overlay()
        again = page.get_by_role("textbox", name="Too deep above")
        again.fill("17")
        self.work(least_cover_mm=65.0)
        expect(page.get_by_role("textbox", name="Least cover")).to_have_value("65")
        expect(again).to_have_value("17")  # what is half typed stays
        theirs = self.page("olga")
        self.open(theirs, "overlay?at=560")
        theirs.get_by_role("textbox", name="Least cover").focus()
        expect(page.get_by_role("group", name="Others here").get_by_role("button")).to_have_accessible_name(
            "Olga Reed, Overlay at 0+560.000"
        )
        expect(page.get_by_role("textbox", name="Least cover")).to_have_attribute("title", "Olga Reed is typing here")
        theirs.close()
        expect(page.get_by_role("group", name="Others here").get_by_role("button")).to_have_count(0, timeout=20_000)

    def test_the_same_field_in_two_windows_of_one_account(self) -> None:
        """The second value does not take the place of the first one unseen, and what is half typed is there after loading again."""
        one, two = self.at_the_overlay(), self.page()
        self.open(two, "overlay?at=560")
        field = two.get_by_role("textbox", name="Least cover")
        field.fill("5")
        cover = one.get_by_role("textbox", name="Least cover")
        cover.fill("65")
        one.keyboard.press("Enter")
        expect(two.get_by_role("tooltip")).to_contain_text("It became 65 while you were typing")
        two.reload()
        expect(field).to_have_value("5")
        field.focus()
        two.keyboard.press("Escape")
        expect(field).to_have_value("65")
        # Typed on after all: it is told, and goes as one step of the history.
        field.fill("7")
        cover.fill("66")
        one.keyboard.press("Enter")
        expect(two.get_by_role("tooltip")).to_contain_text("It became 66")
        field.fill("70")
        two.keyboard.press("Enter")
        expect(two.get_by_text("Least cover became 66 while you were typing; 70 took its place.")).to_be_visible()
        expect(cover).to_have_value("70")
        self.assertEqual(self.spec().least_cover_mm, 70.0)

    def test_both_change_the_treatment(self) -> None:
        """Other fields: both are in. The same field: both versions are shown, and the person chooses."""
        self.expected_statuses = {409}
        page = self.at_the_overlay()
        self.just_before(page, "treatments/main", lambda: self.work(look_again_mm=170.0))
        cover = page.get_by_role("textbox", name="Least cover")
        cover.fill("60")
        cover.press("Enter")
        self.until(page, lambda: self.spec().least_cover_mm == 60, "the cover is saved")
        self.assertEqual(self.spec().look_again_mm, 170)
        expect(page.get_by_text("both changes are in")).to_be_visible()
        self.just_before(page, "treatments/main", lambda: self.work(least_cover_mm=80.0))
        cover.fill("61")
        cover.press("Enter")
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text(re.compile(r"changed by Olga Reed meanwhile at .*least_cover_mm"))
        expect(dialog.get_by_role("row", name=re.compile("least cover"))).to_contain_text("61 mm")
        dialog.get_by_role("button", name="Keep mine").click()
        self.until(page, lambda: self.spec().least_cover_mm == 61, "mine is kept")

    def test_undo_beside_somebody_elses_change(self) -> None:
        self.expected_statuses = {409}
        page = self.at_the_overlay()
        cover = page.get_by_role("textbox", name="Least cover")
        first = self.spec().least_cover_mm
        cover.fill("60")
        cover.press("Enter")
        self.until(page, lambda: self.spec().least_cover_mm == 60, "the cover is saved")
        self.work(look_again_mm=170.0)
        page.get_by_role("button", name="Undo").click()
        dialog = page.get_by_role("dialog")
        expect(dialog).to_contain_text("Only what your edit changed is put back")
        dialog.get_by_role("button", name="Undo beside it").click()
        self.until(page, lambda: self.spec().least_cover_mm == first, "the cover is put back")
        self.assertEqual(self.spec().look_again_mm, 170)
        expect(cover).to_have_value(str(int(first)))
        cover.fill("62")
        cover.press("Enter")
        self.until(page, lambda: self.spec().least_cover_mm == 62, "the cover is saved")
        self.work(least_cover_mm=70.0)
        page.get_by_role("button", name="Undo").click()
        expect(dialog).to_contain_text("Passed over")
        dialog.get_by_role("button", name="Pass over it").click()
        expect(dialog).to_be_hidden()
        self.assertEqual(self.spec().least_cover_mm, 70)
