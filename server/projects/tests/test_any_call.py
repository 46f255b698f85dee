"""Calls made up from the API's own description, as every role: no internal error, no hang, and what is refused writes nothing.

SADDLE_CALLS is how many are made of each operation and asked as each role. Schemathesis makes them. The long run makes 25 of
every operation and writes down in called.json what each looked like; a usual run makes one of every operation that looks otherwise
by now, and of one in five of the others."""

import hashlib
import json
import os
import time
from collections import Counter
from pathlib import Path
from typing import Any
from urllib.parse import urlencode
from zlib import crc32

import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from hypothesis import strategies as st

from design.models import Document, EditRecord
from front.api import api
from jobs.models import Job
from projects.tests.cases import DemoCase
from survey.models import Survey

LONG = "TIN_SADDLE_LONG" in os.environ
CALLS = int(os.environ.get("SADDLE_CALLS", "25" if LONG else "1"))
CALLED = Path(__file__).with_name("called.json")
ONE_IN = 5
#: An answer that takes longer hangs, s. A whole run may stand on a busy machine, where slow is not yet hanging.
LONGEST = 10.0 if CALLS > 1 else 90.0
ROLES = ("", "stranger", "viewer", "checker", "designer", "owner")
#: What ends the session of whoever asks: the next ones would ask as nobody.
ENDS = {"DELETE /api/session"}


def looks(schema: Any) -> dict[str, str]:
    """A hash of each operation's description, with all that it refers to, by method and path."""

    def named(part: Any, seen: set[str]) -> set[str]:
        for value in part.values() if isinstance(part, dict) else part if isinstance(part, list) else ():
            if isinstance(value, str) and value.startswith("#/components/schemas/") and value not in seen:
                seen.add(value)
                named(schema["components"]["schemas"][value.rsplit("/", 1)[1]], seen)
            named(value, seen)
        return seen

    def hashed(operation: Any) -> str:
        parts = [schema["components"]["schemas"][name.rsplit("/", 1)[1]] for name in sorted(named(operation, set()))]
        return hashlib.blake2b(json.dumps([operation, parts], sort_keys=True).encode(), digest_size=6).hexdigest()

    return {f"{method.upper()} {path}": hashed(op) for path, ops in schema["paths"].items() for method, op in ops.items()}


class AnyCall(DemoCase):
    def state(self) -> tuple[Any, ...]:
        """What a refused call must leave as it is."""
        documents = tuple(Document.objects.order_by("pk").values_list("project", "kind", "key", "version"))
        return documents, EditRecord.objects.count(), Survey.objects.count(), Job.objects.count()

    def test_every_operation_as_every_role(self) -> None:
        self.client.raise_request_exception = False
        schema = json.loads(json.dumps(api.get_openapi_schema()))
        now, known = looks(schema), json.loads(CALLED.read_text(encoding="utf-8"))
        operations = [found.ok() for found in schemathesis.openapi.from_dict(schema).get_all_operations()]
        self.assertGreater(len(operations), 80)
        self.assertEqual({o.label for o in operations}, set(now))
        chosen = [
            o for o in operations if CALLS > 1 or known.get(o.label) != now[o.label] or crc32(o.label.encode()) % ONE_IN == 0
        ]
        answers: Counter[int] = Counter()
        for operation in chosen:
            if operation.label not in ENDS:
                self.try_out(operation, answers)
        self.assertTrue({200, 400, 401, 403, 404} <= set(answers), answers)
        if LONG:
            CALLED.write_text(json.dumps(now, indent=0, sort_keys=True) + "\n", encoding="utf-8")
        print(f"{answers.total()} calls of {len(chosen)} operations, answers by status: {dict(sorted(answers.items()))}")

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
