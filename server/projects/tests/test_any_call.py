"""Calls made up from the API's own description, as every role: no internal error, no hang, and what is refused writes nothing.

SADDLE_CALLS is how many are made of each operation and asked as each role: one in every run, many by hand. Schemathesis makes
them."""

import json
import os
import time
from collections import Counter
from typing import Any
from urllib.parse import urlencode

import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from config.api import api
from design.models import Document, EditRecord
from jobs.models import Job
from projects.tests.cases import DemoCase
from survey.models import Survey

CALLS = int(os.environ.get("SADDLE_CALLS", "1"))
#: An answer that takes longer hangs, s. A whole run may stand on a busy machine, where slow is not yet hanging.
LONGEST = 10.0 if CALLS > 1 else 90.0
ROLES = ("", "stranger", "viewer", "checker", "designer", "owner")
#: What ends the session of whoever asks: the next ones would ask as nobody.
ENDS = {"DELETE /api/session"}


class AnyCall(DemoCase):
    def state(self) -> tuple[Any, ...]:
        """What a refused call must leave as it is."""
        documents = tuple(Document.objects.order_by("pk").values_list("project", "kind", "key", "version"))
        return documents, EditRecord.objects.count(), Survey.objects.count(), Job.objects.count()

    def test_every_operation_as_every_role(self) -> None:
        self.client.raise_request_exception = False
        description = schemathesis.openapi.from_dict(json.loads(json.dumps(api.get_openapi_schema())))
        operations = [found.ok() for found in description.get_all_operations()]
        answers: Counter[int] = Counter()
        for operation in operations:
            if operation.label not in ENDS:
                self.try_out(operation, answers)
        self.assertGreater(len(operations), 80)
        self.assertTrue({200, 400, 401, 403, 404} <= set(answers), answers)
        print(f"{answers.total()} calls, answers by status: {dict(sorted(answers.items()))}")

    def try_out(self, operation: Any, answers: Counter[int]) -> None:
        there = list(Document.objects.filter(project=self.project).values_list("kind", "key"))

        @settings(
            max_examples=CALLS,
            derandomize=CALLS == 1,
            database=None,
            deadline=None,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        @given(operation.as_strategy(), st.sampled_from(there), st.integers(0, 3))
        def call(case: Any, name: tuple[str, str], dice: int) -> None:
            # Most calls are about what is there: a made-up id would always be answered alike.
            known = {"project_id": self.project.pk, **(dict(zip(("kind", "key"), name, strict=True)) if dice else {})}
            case.path_parameters = {k: known.get(k, v) for k, v in (case.path_parameters or {}).items()}
            if dice and isinstance(case.body, dict) and "kind" in case.body and "kind" in case.path_parameters:
                case.path_parameters["kind"] = case.body["kind"]
            path = case.formatted_path + (f"?{urlencode(case.query, doseq=True)}" if case.query else "")
            data, kind = b"", "application/json"
            if case.media_type == "multipart/form-data":
                kind, data = "multipart/form-data; boundary=edge", b"--edge--\r\n"
            elif case.media_type:
                data = json.dumps(case.body, default=str).encode()
            for role in ROLES:
                self.ask_as(role, case.method, path, data, kind, answers)

        call()

    def ask_as(self, role: str, method: str, path: str, data: bytes, kind: str, answers: Counter[int]) -> None:
        """One call, by somebody."""
        self.client.logout()
        if role:
            self.sign_in(role)
        before, begun = self.state(), time.monotonic()
        answer = self.client.generic(method.upper(), path, data, kind)
        asked = f"{method} {path} as {role or 'nobody'}: {data[:2000]!r}"
        self.assertLess(answer.status_code, 500, asked)
        self.assertLess(time.monotonic() - begun, LONGEST, asked)
        if answer.status_code >= 400:
            self.assertEqual(self.state(), before, f"refused and yet written: {asked}")
        answers[answer.status_code] += 1
