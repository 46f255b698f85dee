"""A project with the demo road and one person for each role."""

import json
import os
from typing import Any

from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from demo.load import load_demo
from jobs.run import execute
from projects.models import Membership, Project, Role

LONG = "TIN_SADDLE_LONG" in os.environ


class DemoCase(TestCase):
    """The demo, loaded once for the class. People: owner, designer, checker, viewer, stranger."""

    project: Project

    @classmethod
    def setUpTestData(cls) -> None:
        cls.project = load_demo()
        owner = User.objects.create_user("owner", password="owner")
        Membership.objects.create(project=cls.project, user=owner, role=Role.OWNER)
        User.objects.create_user("stranger", password="stranger")

    def sign_in(self, name: str) -> None:
        self.client.force_login(User.objects.get(username=name))

    def url(self, path: str = "") -> str:
        return f"/api/projects/{self.project.pk}{path}"

    def ask(self, method: str, path: str, body: Any = None) -> Any:
        """The response to a JSON request below the project (or at a path that starts with /api)."""
        url = path if path.startswith("/api") else self.url(path)
        data = {} if body is None else {"data": json.dumps(body), "content_type": "application/json"}
        return getattr(self.client, method.lower())(url, **data)

    def send(self, path: str, content: bytes, name: str = "table.csv") -> Any:
        """The response to a file sent below the project."""
        return self.client.post(self.url(path), {"file": SimpleUploadedFile(name, content)})

    def document(self, kind: str, key: str = "main") -> dict[str, Any]:
        found: list[dict[str, Any]] = self.ask("GET", "/documents").json()["documents"]
        return next(d for d in found if (d["kind"], d["key"]) == (kind, key))

    def put(self, kind: str, key: str, spec: Any, version: int) -> Any:
        return self.ask("PUT", f"/documents/{kind}/{key}", {"kind": kind, "spec": spec, "version": version})

    def shorten(self, *drawings: str) -> None:
        """Of a usual run: drawings end early, which shows what their files are; the long run makes them whole."""
        if LONG:
            return
        self.sign_in("designer")
        for key in drawings:
            found = self.document("drawing", key)
            self.put("drawing", key, {**found["spec"], "from_chainage": 0.0, "to_chainage": 250.0}, found["version"])

    def work(self, kind: str, drawing: str = "sections") -> dict[str, Any]:
        """Work that follows from the project, asked for and done. drawing: whose sheets, of work on them."""
        query = f"?drawing={drawing}" if kind.startswith("sheets") else ""
        return self.done(self.ask("POST", f"/jobs/{kind}{query}"))

    def done(self, answer: Any) -> dict[str, Any]:
        """The job that an answer began, done."""
        asked: dict[str, Any] = answer.json()
        execute(asked["id"])
        found: dict[str, Any] = self.ask("GET", f"/api/jobs/{asked['id']}").json()
        return found

    def file_of(self, job: dict[str, Any], number: int = 0) -> Any:
        """A file of a job that is done."""
        return self.ask("GET", f"/api/jobs/{job['id']}/files/{number}")

    def made(self, kind: str) -> bytes:
        """The file that work of a kind makes."""
        content: bytes = self.file_of(self.work(kind)).content
        return content
