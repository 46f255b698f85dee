"""Guides through the API."""

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
