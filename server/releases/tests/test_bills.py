"""A figure that changes because a release changed a rule is told once, and what did not change is not."""

from projects.models import Project
from projects.tests.cases import DemoCase
from releases.bills import keep, keep_changed
from releases.models import Billed
from saddle.release import RELEASE


class Bills(DemoCase):
    def told(self) -> dict[str, object] | None:
        answer = self.ask("GET", "/since-release")
        self.assertEqual(answer.status_code, 200)
        found: dict[str, object] | None = answer.json()
        return found

    def older(self, **fields: object) -> Billed:
        """The bill as release 0.19 wrote it down."""
        keep(self.project)
        held = Billed.objects.get(project=self.project)
        held.release = "0.19"
        for name, value in fields.items():
            setattr(held, name, value)
        held.save()
        return held

    def test_this_release_has_nothing_to_tell(self) -> None:
        self.sign_in("designer")
        self.assertIsNone(self.told())
        keep(self.project)
        self.assertIsNone(self.told())

    def test_what_an_older_release_reckoned_is_told_with_its_rules_until_it_was_seen(self) -> None:
        self.sign_in("designer")
        held = self.older()
        row = next(r for r in held.rows if r["kind"] == "course")
        row["volume"] += 7.5
        for r in held.rows:
            r["area"] = None  # it did not measure that
        held.save()
        found = self.told()
        assert found is not None
        self.assertEqual((found["before"], found["now"], found["edited"]), ("0.19", RELEASE, False))
        (item,) = found["items"]  # type: ignore[misc]
        self.assertEqual((item["name"], item["unit"]), (row["name"], "m3"))
        self.assertAlmostEqual(item["before"] - item["after"], 7.5, 6)
        self.assertTrue(item["rules"])
        # The worker does not write over what nobody has seen.
        keep_changed()
        self.assertIsNotNone(self.told())
        self.sign_in("viewer")
        self.assertEqual(self.ask("POST", "/since-release").status_code, 403)
        self.sign_in("designer")
        self.assertEqual(self.ask("POST", "/since-release").status_code, 204)
        self.assertIsNone(self.told())

    def test_a_project_that_was_edited_since_is_told_so(self) -> None:
        self.sign_in("designer")
        held = self.older(stamp="another")
        held.rows[0]["volume"] += 1
        held.save()
        found = self.told()
        assert found is not None
        self.assertTrue(found["edited"])

    def test_a_bill_that_did_not_change_is_not_told_and_is_this_release_s_from_then_on(self) -> None:
        self.sign_in("viewer")
        self.older()
        self.assertIsNone(self.told())
        self.assertEqual(Billed.objects.get(project=self.project).release, RELEASE)

    def test_the_worker_keeps_the_bill_of_what_changed_and_of_nothing_else(self) -> None:
        self.assertEqual(keep_changed(), Project.objects.filter(pk=self.project.pk).count())
        self.assertEqual(keep_changed(), 0)
        Project.objects.create(name="Nothing in it")
        self.assertEqual(keep_changed(), 0)
