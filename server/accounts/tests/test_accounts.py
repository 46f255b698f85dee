"""Signing in, guessing, passwords, the second factor, sessions, and what the door says and does not say."""

import json
import re
import time
from datetime import timedelta
from typing import Any

from axes.models import AccessFailureLog, AccessLog
from django.conf import settings
from django.contrib.auth.models import User
from django.core import checks, mail
from django.core.cache import cache
from django.test import Client, TestCase, override_settings
from django.utils import timezone
from django_otp.oath import TOTP
from django_otp.plugins.otp_totp.models import TOTPDevice

from accounts.models import OpenSession

PASSWORD = "three-brown-culverts"


class Case(TestCase):
    def setUp(self) -> None:
        cache.clear()  # where the throttles count
        self.user = User.objects.create_user("ada", email="ada@example.invalid", password=PASSWORD)
        self.browser = self.fresh()

    def fresh(self) -> Client:
        client = Client(enforce_csrf_checks=True)
        client.get("/api/session")
        return client

    def ask(self, method: str, path: str, body: Any = None, client: Client | None = None) -> Any:
        client = client or self.browser
        csrf = {"HTTP_X_CSRFTOKEN": client.cookies["csrftoken"].value}
        return client.generic(method, f"/api/session{path}", json.dumps(body or {}), "application/json", **csrf)

    def sign_in(self, password: str = PASSWORD, client: Client | None = None, **more: str) -> Any:
        return self.ask("POST", "", {"name": "ada", "password": password, **more}, client)


class SigningIn(Case):
    def test_recorded(self) -> None:
        self.assertEqual(self.sign_in("wrong").status_code, 401)
        self.assertEqual(self.sign_in().json()["name"], "ada")
        self.assertEqual((AccessFailureLog.objects.count(), AccessLog.objects.get().username), (1, "ada"))

    def test_guessing_is_stopped_for_a_while(self) -> None:
        for _ in range(settings.AXES_FAILURE_LIMIT - 1):
            self.assertEqual(self.sign_in("wrong").status_code, 401)
        self.assertEqual(self.sign_in("wrong").status_code, 429)
        locked = self.sign_in()
        self.assertEqual(locked.status_code, 429)
        self.assertIn("wait 15 minutes", locked.json()["hint"])

    def test_one_address_may_not_ask_for_ever(self) -> None:
        found = [self.ask("POST", "/reset", {"name": "nobody"}).status_code for _ in range(12)]
        self.assertEqual((found[0], found[-1]), (200, 429))

    def test_the_description_and_metrics_are_not_for_strangers(self) -> None:
        self.assertEqual(self.browser.get("/api/openapi.json").status_code, 401)
        self.assertEqual(self.browser.get("/api/metrics", REMOTE_ADDR="10.1.2.3").status_code, 404)
        self.sign_in()
        self.assertIn("/api/projects", self.browser.get("/api/openapi.json").json()["paths"])

    def test_what_every_answer_carries(self) -> None:
        answer = self.browser.get("/api/session")
        self.assertEqual(answer["Cache-Control"], "no-store")
        self.assertIn("script-src 'self';", answer["Content-Security-Policy"] + ";")
        self.assertNotIn("unsafe-inline", re.findall("script-src[^;]*", answer["Content-Security-Policy"])[0])
        self.assertEqual(self.browser.get("/api/session", HTTP_X_REQUEST_ID="abc-1")["X-Request-ID"], "abc-1")
        self.assertNotEqual(self.browser.get("/api/session", HTTP_X_REQUEST_ID="a\nb")["X-Request-ID"], "a\nb")


class Passwords(Case):
    def test_changed_with_the_rules_and_other_sessions_end(self) -> None:
        other = self.fresh()
        self.sign_in(client=other)
        self.sign_in()
        self.assertEqual(self.ask("POST", "/password", {"old": "wrong", "new": "x"}).status_code, 400)
        for bad, words in (("short1", "at least 8"), ("password", "too common"), ("73519462", "entirely numeric")):
            refused = self.ask("POST", "/password", {"old": PASSWORD, "new": bad})
            self.assertEqual(refused.status_code, 400)
            self.assertIn(words, refused.json()["message"])
        self.assertEqual(self.ask("POST", "/password", {"old": PASSWORD, "new": "four-grey-culverts"}).status_code, 200)
        self.assertEqual(self.browser.get("/api/session").json()["name"], "ada")
        self.assertIsNone(other.get("/api/session").json()["name"])
        self.assertEqual(OpenSession.objects.count(), 1)

    def test_reset_by_mail(self) -> None:
        self.sign_in()
        self.assertEqual(self.ask("POST", "/reset", {"name": "nobody"}).status_code, 200)
        self.assertEqual(len(mail.outbox), 0)
        self.ask("POST", "/reset", {"name": "ADA@example.invalid"})
        (who, token), *_ = re.findall(r"who=(\S+)&token=(\S+)", str(mail.outbox[0].body))
        stranger = self.fresh()
        body = {"who": who, "token": token, "new": "four-grey-culverts"}
        self.assertEqual(self.ask("POST", "/reset/confirm", {**body, "token": "x"}, stranger).status_code, 400)
        self.assertEqual(self.ask("POST", "/reset/confirm", body, stranger).status_code, 200)
        self.assertEqual(self.ask("POST", "/reset/confirm", body, stranger).status_code, 400)  # once
        self.assertIsNone(self.browser.get("/api/session").json()["name"])
        self.assertEqual(self.sign_in("four-grey-culverts", stranger).status_code, 200)


class SecondFactor(Case):
    def code(self) -> str:
        """As an app makes it (RFC 6238)."""
        device = TOTPDevice.objects.get(user=self.user)
        totp = TOTP(device.bin_key)
        totp.time = time.time()
        return f"{totp.token():06d}"

    def test_on_needed_and_off(self) -> None:
        self.sign_in()
        self.assertEqual(self.ask("POST", "/second-factor", {"password": "wrong"}).status_code, 400)
        begun = self.ask("POST", "/second-factor", {"password": PASSWORD}).json()
        self.assertIn("otpauth://totp/", begun["address"])
        self.assertIn("<svg", begun["picture"])
        self.assertFalse(self.browser.get("/api/session").json()["second_factor"])
        self.assertEqual(self.ask("POST", "/second-factor/confirm", {"code": "000"}).status_code, 400)
        TOTPDevice.objects.update(throttling_failure_count=0)
        code = self.code()
        codes = self.ask("POST", "/second-factor/confirm", {"code": code}).json()["codes"]
        self.assertEqual(len(codes), 8)
        fresh = self.fresh()
        asked = self.sign_in(client=fresh)
        self.assertEqual((asked.status_code, asked.json()["subject"]), (401, "code"))
        self.assertEqual(self.sign_in(client=fresh, code=code).status_code, 401)  # it was used already
        self.assertEqual(self.sign_in(client=fresh, code=codes[0]).status_code, 200)
        again = self.fresh()
        self.assertEqual(self.sign_in(client=again, code=codes[0]).status_code, 401)  # once
        self.assertEqual(self.ask("POST", "/second-factor/off", {"password": PASSWORD}).status_code, 200)
        self.assertEqual(self.sign_in(client=again).status_code, 200)


class Sessions(Case):
    def test_listed_and_ended(self) -> None:
        self.sign_in()
        other = self.fresh()
        self.sign_in(client=other)
        rows = self.browser.get("/api/session/open").json()
        self.assertEqual(sorted(r["here"] for r in rows), [False, True])
        there = next(r for r in rows if not r["here"])
        self.assertEqual(self.ask("DELETE", f"/open/{there['id']}").status_code, 200)
        self.assertIsNone(other.get("/api/session").json()["name"])
        self.assertEqual(self.ask("DELETE", f"/open/{there['id']}").status_code, 404)
        self.ask("DELETE", "")
        self.assertEqual(OpenSession.objects.count(), 0)

    def test_one_that_nobody_came_back_to_is_not_listed(self) -> None:
        self.sign_in(client=self.fresh())
        OpenSession.objects.update(seen_at=timezone.now() - settings.IDLE_LIMIT - timedelta(minutes=2))
        self.sign_in()
        self.assertEqual([r["here"] for r in self.browser.get("/api/session/open").json()], [True])
        self.assertEqual(OpenSession.objects.count(), 1)

    def test_one_from_before_they_were_written_down(self) -> None:
        self.sign_in()
        OpenSession.objects.all().delete()
        self.assertEqual(self.browser.get("/api/session").json()["name"], "ada")
        self.assertEqual(OpenSession.objects.count(), 1)

    def test_who_does_nothing_is_signed_out(self) -> None:
        self.sign_in()
        long_ago = timezone.now() - settings.IDLE_LIMIT + timedelta(minutes=2)
        OpenSession.objects.update(seen_at=long_ago)
        self.browser.get("/api/jobs/6a1ff3d8-0e0f-4f2a-9b1e-4a4f3a3f0a11")  # an open page asks that by itself
        self.assertEqual(OpenSession.objects.get().seen_at, long_ago)
        self.browser.get("/api/projects")
        self.assertGreater(OpenSession.objects.get().seen_at, long_ago)
        OpenSession.objects.update(seen_at=timezone.now() - settings.IDLE_LIMIT - timedelta(minutes=2))
        self.assertIsNone(self.browser.get("/api/session").json()["name"])


class Warnings(Case):
    def test_demo_sign_ins_outside_the_demo(self) -> None:
        User.objects.create_user("viewer", password="viewer")
        User.objects.create_user("checker", password=PASSWORD)
        with override_settings(LOCAL=False):
            found = [w.msg for w in checks.run_checks(tags=["database"], databases=["default"]) if w.id == "accounts.W001"]
        self.assertEqual(found, ["sign-ins of the demo are open: viewer, with their name as password"])
