"""Profiles and standards through the API."""

from design.models import EditRecord
from projects.tests.cases import DemoCase


class Profiles(DemoCase):
    SPEC = {"name": "P", "points": [{"chainage": 480, "level": 88.9}, {"chainage": 900, "level": 94.3}]}

    def setUp(self) -> None:
        self.sign_in("designer")

    def test_tried_without_being_written(self) -> None:
        edits = EditRecord.objects.count()
        plain = self.ask("POST", "/profiles/try", {"spec": self.SPEC}).json()
        self.assertEqual([p["chainage"] for p in plain["spec"]["points"]], [480, 900])
        self.assertIsNone(plain["level"][0])
        self.assertEqual(plain["clearances"][0]["name"][:3], "CUL")
        fit = {"kind": "fit", "through": "design", "from_chainage": 480, "to_chainage": 900}
        fitted = self.ask("POST", "/profiles/try", {"spec": self.SPEC, "edit": fit, "speed_kmh": 60}).json()
        self.assertGreater(len(fitted["ips"]), 4)
        self.assertTrue(all(ip["remarks"] == [] for ip in fitted["ips"]))
        self.assertEqual(EditRecord.objects.count(), edits)

    def test_what_does_not_fit_is_a_clear_error(self) -> None:
        for edit, words in (
            ({"kind": "at", "index": 5, "chainage": 500, "level": 1}, "no IP 6"),
            ({"kind": "curves", "indices": [0], "by": "length", "value": 10}, "no curve"),
            ({"kind": "fit", "through": "level_table", "from_chainage": 0, "to_chainage": 400}, "no levels of the level table"),
        ):
            answer = self.ask("POST", "/profiles/try", {"spec": self.SPEC, "edit": edit})
            self.assertEqual(answer.status_code, 400)
            self.assertIn(words, answer.json()["message"])

    def test_a_standard_copied_and_changed_judges_at_once(self) -> None:
        published = self.ask("GET", "/standards/published").json()
        self.assertEqual(set(published["vertical"]), {"austroads", "aashto", "texas", "uk"})
        standards = self.document("standards")
        spec = {**standards["spec"], "vertical": published["vertical"]["aashto"], "least_cover_over_pipes": 3}
        spec["vertical"]["most_grade"]["rows"] = [{"speed_kmh": 60, "value": 1.0, "source": "set in this project"}]
        self.put("standards", "main", spec, standards["version"])
        found = self.ask("POST", "/profiles/try", {"spec": self.SPEC, "speed_kmh": 60}).json()
        self.assertEqual((found["crest_k"], found["sag_k"], found["most_grade"]), (11, 18, 1))
        self.assertIn("over 1 %", found["ips"][0]["remarks"][0])
        self.assertTrue(found["clearances"][0]["short"])
        broken = {**spec, "vertical": {**spec["vertical"], "stopping": {"source": "", "rows": []}}}
        answer = self.ask("PUT", "/documents/standards/main", {"kind": "standards", "spec": broken, "version": 2})
        self.assertEqual(answer.status_code, 400)
