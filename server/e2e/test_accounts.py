"""A person's own account: second factor, password by mail, sessions, and what is kept when a session ends."""

import re
import time
from datetime import timedelta

from django.conf import settings
from django.core import mail
from django.utils import timezone
from django_otp.oath import TOTP
from django_otp.plugins.otp_totp.models import TOTPDevice
from playwright.sync_api import Page, expect

from accounts.models import OpenSession
from design.models import Document
from e2e.browser import BrowserCase
from e2e.turns import in_turn


def sign_in(page: Page, password: str) -> None:
    page.get_by_role("textbox", name="Name").fill("designer")
    page.get_by_role("textbox", name="Password").fill(password)
    page.get_by_role("button", name="Sign in").click()


class Accounts(BrowserCase):
    def test_second_factor_and_a_new_password_by_mail(self) -> None:
        self.expected_statuses = {400, 401}
        page = self.page(None)
        page.goto(self.live_server_url)
        sign_in(page, "designer")
        page.get_by_role("button", name="Signed in as Dana Noll").click()
        page.get_by_text("Account", exact=True).click()
        part = page.get_by_role("region", name="Second factor")
        part.get_by_label("Password for the second factor").fill("designer")
        part.get_by_role("button", name="Set up").click()
        expect(part.get_by_role("img", name=re.compile("Code for the app"))).to_be_visible()
        totp = TOTP(TOTPDevice.objects.get().bin_key)
        totp.time = time.time()
        part.get_by_role("textbox", name="Code of the app").fill(f"{totp.token():06d}")
        part.get_by_role("button", name="Confirm").click()
        code = re.findall(r"\b[a-z2-7]{8}\b", part.get_by_role("alert").locator(".mono").inner_text())[0]
        expect(page.get_by_role("region", name="Open sessions")).to_contain_text("this one")
        page.keyboard.press("Escape")
        page.get_by_role("button", name="Signed in as Dana Noll").click()
        page.get_by_text("Sign out").click()
        page.get_by_role("button", name="I do not know my password").click()
        page.get_by_role("textbox", name="Name or mail address").fill("designer")
        page.get_by_role("button", name="Mail the link").click()
        expect(page.get_by_role("alert")).to_contain_text("on its way")
        (link,) = re.findall(r"http\S+", str(mail.outbox[0].body))
        page.goto(link)
        page.get_by_role("textbox", name="New password").fill("designer")
        page.get_by_role("button", name="Set the password").click()
        expect(page.get_by_role("alert")).to_contain_text("too similar to the username")
        page.get_by_role("textbox", name="New password").fill("four-grey-culverts")
        page.get_by_role("button", name="Set the password").click()
        page.get_by_role("link", name="To signing in").click()
        sign_in(page, "four-grey-culverts")
        expect(page.get_by_role("alert")).to_contain_text("the code of your second factor")
        page.get_by_role("textbox", name="Code").fill(code)
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="Projects")).to_be_visible()

    @in_turn
    def test_what_was_typed_is_there_after_the_session_has_ended(self) -> None:
        self.expected_statuses = {401, 403}
        page = self.page()
        self.open(page, "overlay?at=560")
        cover = page.get_by_role("textbox", name="Least cover")
        expect(cover).to_be_visible()

        def ended() -> None:
            OpenSession.objects.update(seen_at=timezone.now() - settings.IDLE_LIMIT - timedelta(minutes=5))

        self.just_before(page, "treatments/main", ended)
        cover.fill("61")
        cover.press("Enter")
        expect(page.get_by_role("button", name="Sign in")).to_be_visible()
        sign_in(page, "designer")
        expect(cover).to_have_value("61")

        def saved() -> bool:
            ranges = Document.objects.get(project=self.project, kind="treatments", key="main").spec["ranges"]
            return any(r["work"].get("least_cover_mm") == 61 for r in ranges)

        self.until(page, saved, "what was typed is saved after signing in again")
