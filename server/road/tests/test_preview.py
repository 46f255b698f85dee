"""What is in view while the hand moves: the figures of an edit before it is written."""

from typing import Any

from demo.documents import TREATMENTS
from projects.tests.cases import DemoCase


class Preview(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def sections(self, rows: list[int], *documents: dict[str, Any]) -> list[dict[str, Any]]:
        answer = self.ask("POST", "/model/preview/sections", {"documents": list(documents), "sections": rows})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        found: list[dict[str, Any]] = answer.json()["sections"]
        return found

    def along(self, *documents: dict[str, Any]) -> dict[str, Any]:
        answer = self.ask("POST", "/model/preview/along", {"documents": list(documents)})
        self.assertEqual(answer.status_code, 200, answer.content[:300])
        found: dict[str, Any] = answer.json()
        return found

    def assert_same(self, a: Any, b: Any, where: str = "") -> None:
        """Two answers with the same figures: sections solved alone and together add up in another order."""
        if isinstance(a, dict):
            self.assertEqual(a.keys(), b.keys(), where)
            for name in a:
                self.assert_same(a[name], b[name], f"{where}.{name}")
        elif isinstance(a, list):
            self.assertEqual(len(a), len(b), where)
            for i, (x, y) in enumerate(zip(a, b, strict=True)):
                self.assert_same(x, y, f"{where}[{i}]")
        elif isinstance(a, float):
            self.assertAlmostEqual(a, b, 9, where)
        else:
            self.assertEqual(a, b, where)

    def row_at(self, chainage: float) -> int:
        found: int = self.ask("GET", "/model").json()["chainage"].index(chainage)
        return found

    def written(self, kind: str, key: str = "main") -> dict[str, Any]:
        """A document as it is, as one of a change set."""
        return {"kind": kind, "key": key, "version": 0, "spec": self.document(kind, key)["spec"]}

    def test_an_unsaved_template_shows_and_nothing_is_written(self) -> None:
        tried = self.written("template", "rural")
        tried["spec"]["right"]["points"][1]["offset"]["width"] = 2.0
        row = self.row_at(600.0)
        (shown,) = self.sections([row], tried)
        edge = next(p for p in shown["points"] if p["name"] == "ShoulderEdge" and p["side"] == "right")
        self.assertAlmostEqual(edge["offset"], 5.25)
        self.assertEqual((shown["index"], shown["chainage"]), (row, 600.0))
        saved = self.ask("GET", f"/model/sections/{row}").json()
        there = next(p for p in saved["points"] if p["name"] == "ShoulderEdge" and p["side"] == "right")
        self.assertAlmostEqual(there["offset"], 4.25)

    def test_what_is_previewed_is_what_comes_of_it_when_it_is_saved(self) -> None:
        """Several documents at once, several sections, the strip: the same figures, to 1e-9."""
        treatments = self.written("treatments")
        treatments["spec"]["ranges"][0]["work"] = TREATMENTS.ranges[0].work.changed(least_cover_mm=83.0).model_dump(mode="json")
        template = self.written("template", "rural")
        template["spec"]["right"]["points"][1]["offset"]["width"] = 1.7
        rows = [3, 9, self.row_at(600.0), 40]
        shown, along = self.sections(rows, treatments, template), self.along(treatments, template)
        for d in (treatments, template):
            version = self.document(d["kind"], d["key"])["version"]
            self.assertEqual(self.put(d["kind"], d["key"], d["spec"], version).status_code, 200)
        summary = self.ask("GET", "/model").json()
        self.assert_same({name: summary[name] for name in along}, along)
        for row, section in zip(rows, shown, strict=True):
            self.assert_same(self.ask("GET", f"/model/sections/{row}").json(), section)

    def test_inside_a_bridged_length(self) -> None:
        row = self.row_at(730.0)
        (shown,) = self.sections([row], self.written("template", "rural"))
        self.assert_same(shown, self.ask("GET", f"/model/sections/{row}").json())

    def test_the_alignment_moves_with_its_sections(self) -> None:
        moved = self.written("alignment")
        moved["spec"]["start_chainage"] += 0.25
        row = self.row_at(300.0)
        (shown,) = self.sections([row], moved)
        self.assertEqual(shown["index"], row)
        self.assertAlmostEqual(shown["chainage"], 300.0, 6)
        self.assertAlmostEqual(self.along(moved)["start"], moved["spec"]["start_chainage"], 9)

    def test_other_sections_at_another_interval(self) -> None:
        settings = self.written("sections")
        settings["spec"]["interval"] = 50.0
        row = self.row_at(300.0)
        self.assertAlmostEqual(self.sections([row], settings)[0]["chainage"], 300.0, 6)
        self.assertLess(len(self.along(settings)["chainage"]), len(self.ask("GET", "/model").json()["chainage"]))

    def test_a_broken_template_costs_its_sections_and_says_so_when_it_cannot_be_read(self) -> None:
        broken = self.written("template", "rural")
        broken["spec"]["right"]["points"][0]["offset"]["parent"] = "ShoulderEdge"
        self.assertEqual(len(self.sections([self.row_at(600.0)], broken)), 1)
        wrong = {**broken, "spec": {"name": ""}}
        answer = self.ask("POST", "/model/preview/sections", {"documents": [wrong], "sections": [0]})
        self.assertEqual(answer.status_code, 400)

    def test_outside_the_road_and_too_much_at_once(self) -> None:
        tried = self.written("treatments")
        for sections, status in (([99999], 404), ([0] * 25, 400)):
            answer = self.ask("POST", "/model/preview/sections", {"documents": [tried], "sections": sections})
            self.assertEqual(answer.status_code, status)
        self.assertEqual(self.ask("POST", "/model/preview/along", {"documents": []}).status_code, 400)
