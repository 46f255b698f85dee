"""Guides through the API."""

from typing import Any

from design.models import Document, EditRecord
from projects.tests.cases import DemoCase


class Guides(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def test_a_lay_by_from_a_few_figures_is_followed(self) -> None:
        what = {"kind": "lay_by", "name": "Lay-by", "base_offset": 3.25, "from_chainage": 600, "extra": 3, "parallel": 30}
        spec = self.ask("POST", "/guides/ready-made", {"what": what}).json()
        self.assertEqual(self.put("guide", "lay-by", spec, 0).status_code, 200)
        rules = self.document("follow")
        rule = {
            "side": "right",
            "point": "LaneEdge",
            "source": {"by": "guide", "guide": "lay-by"},
            "from_chainage": 600,
            "to_chainage": 670,
        }
        self.assertEqual(
            self.put("follow", "main", {"rules": [*rules["spec"]["rules"], rule]}, rules["version"]).status_code, 200
        )
        chainage = self.ask("GET", "/model").json()["chainage"]
        self.assertIn(650.0, chainage)  # the parallel part ends there
        section = self.ask("GET", f"/model/sections/{chainage.index(630.0)}").json()
        edge = next(p for p in section["points"] if (p["name"], p["side"]) == ("LaneEdge", "right"))
        self.assertAlmostEqual(edge["offset"], 6.25, 6)
        followed = self.ask("GET", "/guides/followed").json()
        got = next(f for f in followed if f["side"] == "right")
        self.assertAlmostEqual(got["offset"][chainage.index(630.0)], 6.25, 6)
        in_use = self.ask("DELETE", "/documents/guide/lay-by?version=1")
        self.assertEqual(in_use.status_code, 400)
        self.assertIn("used by follow rules", in_use.json()["message"])

    def test_a_lay_by_on_a_guide_is_made_and_built_in_one_step_and_moved_by_its_start(self) -> None:
        """It stands on the widened right edge, 3 m out of it, and the rule that builds it goes wherever it goes."""
        what = {"kind": "lay_by", "name": "Lay-by", "base_offset": 1.0, "from_chainage": 600, "extra": 3, "parallel": 30}
        edge = next(key for key, spec in self.guides().items() if spec["source"]["by"] == "curves")
        spec = self.ask("POST", "/guides/ready-made", {"what": what, "on": edge}).json()
        steps = EditRecord.objects.filter(project=self.project).values("together").distinct()
        before, (own, _) = steps.count(), (self.edge(610.0), self.edge(670.0))
        made = self.ask("POST", "/guides", {"key": "lay-by", "guide": spec, "built": True})
        self.assertEqual((made.status_code, made.json()), (200, {"point": "LaneEdge right"}))
        self.assertEqual(steps.count(), before + 1)
        chainage = self.ask("GET", "/model").json()["chainage"]
        self.assertIn(650.0, chainage)
        found = next(g for g in self.ask("GET", "/guides/diagram").json()["guides"] if g["key"] == "lay-by")
        i = found["chainage"].index(630.0)
        self.assertAlmostEqual(found["steps"][1][i] - found["steps"][0][i], 3.0, 9)
        self.assertAlmostEqual(self.edge(630.0), found["offset"][i], 6)
        moved = {**spec, "source": {**spec["source"], "parts": [{**spec["source"]["parts"][0], "start_chainage": 640.0}]}}
        self.assertEqual(self.put("guide", "lay-by", moved, 1).status_code, 200)
        self.assertAlmostEqual(self.edge(610.0), own, 9)  # what stood there before
        self.assertAlmostEqual(self.edge(670.0), found["steps"][0][found["chainage"].index(670.0)] + 3.0, 6)

    def test_guides_that_stand_on_each_other_are_named(self) -> None:
        def on(key: str) -> dict[str, Any]:
            return {"name": f"On {key}", "source": {"by": "parts", "base": {"by": "guide", "guide": key}, "parts": []}}

        self.put("guide", "a", {**on("a"), "source": {"by": "line", "code": "X"}}, 0)
        self.put("guide", "b", on("a"), 0)
        self.put("guide", "a", on("b"), 1)
        told = [p["message"] for p in self.ask("GET", "/model").json()["problems"]]
        self.assertEqual(sum("stand on each other" in message for message in told), 2)
        made = self.ask("POST", "/guides", {"key": "c", "guide": on("b"), "built": True})
        self.assertEqual(made.json(), {"point": None})

    def guides(self) -> dict[str, Any]:
        return {d.key: d.spec for d in Document.objects.filter(project=self.project, kind="guide")}

    def edge(self, at: float) -> float:
        chainage = self.ask("GET", "/model").json()["chainage"]
        section = self.ask("GET", f"/model/sections/{chainage.index(at)}").json()
        return float(next(p for p in section["points"] if (p["name"], p["side"]) == ("LaneEdge", "right"))["offset"])

    def test_the_diagram_shows_guides_and_surveyed_lines(self) -> None:
        found = self.ask("GET", "/guides/diagram").json()
        bay = next(g for g in found["guides"] if g["key"] == "bus-bay")
        self.assertEqual([p[:2] for p in bay["pieces"]][:2], [[266.0, -3.2], [286.0, -3.2]])
        self.assertIn("EP", {s["code"] for s in found["surveyed"]})
        crown = next(s for s in found["surveyed"] if s["code"] == "CL")
        self.assertLess(max(abs(o) for o in crown["offset"]), 0.01)

    def test_a_guide_that_cannot_be_laid_is_told(self) -> None:
        bad = {
            "name": "Back",
            "source": {
                "by": "pieces",
                "start_chainage": 500,
                "start_offset": 3,
                "pieces": [{"kind": "hold", "end": {"by": "chainage", "chainage": 400}}],
            },
        }
        self.assertEqual(self.put("guide", "back", bad, 0).status_code, 200)
        found = next(g for g in self.ask("GET", "/guides/diagram").json()["guides"] if g["key"] == "back")
        self.assertIn("before it begins", found["wrong"])
        self.assertIn("guide", {p["code"] for p in self.ask("GET", "/model").json()["problems"]})

    def test_long_section(self) -> None:
        found = self.ask("GET", "/model/long-section").json()
        self.assertEqual(len(found["chainage"]), len(found["existing"]))
        culvert = next(s for s in found["structures"] if s["kind"] == "pipe")
        self.assertAlmostEqual(culvert["chainage"], 872.0, delta=0.1)
        self.assertEqual(sum(s["kind"] == "pit" for s in found["structures"]), 5)
