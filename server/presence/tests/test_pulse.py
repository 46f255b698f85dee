"""The pulse: a saved edit is seen by others, and who is where."""

from datetime import timedelta
from uuid import uuid4

from django.contrib.auth.models import User
from django.utils import timezone

from presence.models import Presence
from projects.tests.cases import DemoCase


class Pulses(DemoCase):
    def pulse(self, **more: object) -> dict[str, object]:
        answer = self.ask("POST", "/pulse", {"tab": str(uuid4()), "stop": "overlay", "chainage": 560, **more})
        self.assertEqual(answer.status_code, 200, answer.content)
        found: dict[str, object] = answer.json()
        return found

    def test_the_stamp_is_that_of_the_model_and_changes_with_every_edit(self) -> None:
        self.sign_in("designer")
        seen = [self.pulse()["stamp"]]
        self.assertEqual(seen[0], self.ask("GET", "/model").json()["stamp"])
        found = self.document("material", "topsoil")
        self.put("material", "topsoil", {**found["spec"], "name": "Other"}, found["version"])
        seen.append(self.pulse()["stamp"])
        self.ask("POST", "/undo")
        seen.append(self.pulse()["stamp"])
        self.assertEqual(len(set(seen)), 3)

    def test_others_are_told_and_go(self) -> None:
        self.sign_in("owner")
        tab = str(uuid4())
        self.pulse(tab=tab, field="overlay||Least cover")
        self.pulse(tab=tab, chainage=600.0, field="overlay||Least cover")
        self.sign_in("viewer")
        owner = User.objects.get(username="owner")
        self.assertEqual([o["name"] for o in self.pulse()["others"]], [owner.get_full_name() or "owner"])  # type: ignore[attr-defined]
        other = self.pulse()["others"][0]  # type: ignore[index]
        self.assertEqual((other["tab"], other["chainage"], other["field"]), (tab, 600.0, "overlay||Least cover"))
        Presence.objects.update(seen_at=timezone.now() - timedelta(seconds=30))
        self.assertEqual(self.pulse()["others"], [])
        Presence.objects.update(seen_at=timezone.now() - timedelta(days=2))
        self.pulse()
        self.assertEqual(Presence.objects.count(), 1)

    def test_two_tabs_of_one_person_are_not_others(self) -> None:
        self.sign_in("designer")
        self.pulse()
        self.assertEqual(self.pulse()["others"], [])
        self.assertEqual(self.ask("POST", "/pulse", {"tab": "x", "stop": "overlay"}).status_code, 400)
