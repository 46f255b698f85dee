"""What is turned away at the door: text that no database keeps, and what is too large; always in words, never a 500."""

import json
from unittest.mock import patch

from django.db import OperationalError
from django.test import override_settings

from projects.tests.cases import DemoCase

NUL, HALF = "a\0b", "a\ud800b"


class Door(DemoCase):
    def test_text_that_cannot_be_kept(self) -> None:
        """Once each gave a 500, at sign-in to anybody."""
        for text in (NUL, HALF):
            answer = self.ask("POST", "/api/session", {"name": text, "password": "x"})
            self.assertEqual(answer.status_code, 400, answer.content)
            self.assertEqual(answer.json()["subject"], "name")
        self.sign_in("designer")
        material = self.document("material", "topsoil")
        for text in (NUL, HALF):
            answer = self.put("material", "topsoil", {**material["spec"], "name": text}, material["version"])
            self.assertEqual((answer.status_code, answer.json()["subject"]), (400, "spec › name"))
        raw = self.client.put(self.url("/documents/material/topsoil"), b'{"kind": "\0"}', content_type="application/json")
        self.assertEqual(raw.status_code, 400)
        self.assertEqual(self.document("material", "topsoil"), material)

    def test_in_the_address(self) -> None:
        self.sign_in("designer")
        for path in ("/documents/material/a%00b?version=1", "/documents/material/topsoil?version=%00"):
            self.assertEqual(self.ask("DELETE", path).status_code, 400, path)

    def test_other_escapes_are_text_like_any_other(self) -> None:
        self.sign_in("designer")
        material = self.document("material", "topsoil")
        body = json.dumps(
            {
                "kind": "material",
                "spec": {**material["spec"], "name": "Mutterboden \u00e4\U0001f69c"},
                "version": material["version"],
            }
        )
        self.assertIn("\\u00e4", body)
        answer = self.client.put(self.url("/documents/material/topsoil"), body, content_type="application/json")
        self.assertEqual((answer.status_code, answer.json()["spec"]["name"]), (200, "Mutterboden \u00e4\U0001f69c"))

    @override_settings(DATA_UPLOAD_MAX_MEMORY_SIZE=1024 * 1024)
    def test_too_much_at_once(self) -> None:
        self.sign_in("designer")
        answer = self.ask("POST", "/undo", {"text": "x" * 2_000_000})
        self.assertEqual(answer.status_code, 413)
        self.assertIn("more than the 1 MB", answer.json()["message"])

    def test_the_database_is_away(self) -> None:
        self.sign_in("designer")
        with patch("accounts.sessions.OpenSession.objects.filter", side_effect=OperationalError("gone")):
            self.assertEqual(self.ask("GET", "/api/projects").status_code, 503)
        with patch("django.contrib.sessions.backends.db.SessionStore.load", side_effect=OperationalError("gone")):
            self.assertEqual(self.ask("GET", "/api/projects").status_code, 503)
        with patch("projects.api.Membership.objects.select_related", side_effect=OperationalError("gone")):
            answer = self.client.get("/api/projects")
        self.assertEqual(answer.status_code, 503)
        self.assertIn("database cannot be reached", answer.json()["message"])
