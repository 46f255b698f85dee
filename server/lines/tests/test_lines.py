"""Section lines through the API: in plan, along the road, files, what is refused."""

import io
import json
from typing import Any

from openpyxl import Workbook

from projects.tests.cases import DemoCase

AT = {"kind": "at", "chainage": 615.0, "angle_deg": 30.0}


class Lines(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def group(self, *lines: dict[str, Any], **more: Any) -> None:
        answer = self.put("section_lines", "mine", {"name": "Mine", "lines": list(lines), **more}, 0)
        self.assertEqual(answer.status_code, 200, answer.content)

    def placed(self, key: str = "mine") -> dict[str, Any]:
        found: dict[str, Any] = next(g for g in self.ask("GET", "/lines").json() if g["key"] == key)
        return found

    def test_groups_in_plan_and_what_cannot_be_placed(self) -> None:
        self.group(AT, {"kind": "structure", "structure": "none"}, {"kind": "at", "chainage": 99999.0})
        found = self.placed()
        self.assertEqual([(line["number"], line["chainage"]) for line in found["lines"]], [(0, 615.0)])
        self.assertEqual([w["number"] for w in found["wrong"]], [1, 2])
        self.assertIn("no structure “none”", found["wrong"][0]["why"])
        self.assertIn("outside the alignment", found["wrong"][1]["why"])

    def test_along_a_line_and_the_quantities_stay(self) -> None:
        before = self.ask("GET", "/model/quantities").json()["total"]
        self.group(AT, levels_at=[0.0], marked_codes=["CL"])
        view = self.ask("GET", "/lines/mine/parts/0?surfaces=main").json()
        self.assertEqual((view["angle_deg"], view["crosses"], view["template"]), (30.0, True, "Rural, shoulders"))
        self.assertTrue(view["layers"] and view["design"] and view["others"]["Existing"])
        self.assertEqual([m["name"] for m in view["marks"] if m["kind"] == "line"], ["CL"])
        self.assertEqual(self.ask("GET", "/model/quantities").json()["total"], before)
        self.assertEqual(self.ask("GET", "/lines/mine/parts/7").status_code, 404)
        self.assertEqual(self.ask("GET", "/lines/none/parts/0").status_code, 404)

    def test_angles_and_places(self) -> None:
        self.group(AT)
        (line,) = self.placed()["lines"]
        found = self.ask("POST", "/lines/angle", {"first": line["path"][1], "last": line["path"][0]}).json()
        self.assertAlmostEqual(found["chainage"], 615.0, places=6)
        self.assertAlmostEqual(found["angle_deg"], 30.0, places=6)
        self.assertAlmostEqual(self.ask("POST", "/lines/square", {"at": [412300.0, 286540.0]}).json()["chainage"], 0.0, places=6)
        self.assertEqual(self.ask("POST", "/lines/square", {"at": [0.0, 0.0]}).status_code, 400)
        self.assertEqual(self.ask("POST", "/lines/angle", {"first": [1.0, 1.0], "last": [1.0, 1.0]}).status_code, 400)

    def test_files_out_and_in(self) -> None:
        self.group(AT, {"kind": "at", "chainage": 700.0})
        text = self.ask("GET", "/lines/mine/file").content.decode()
        self.assertEqual(self.send("/lines/read", text.encode()).json()["name"], "Mine")
        rows = self.ask("GET", "/lines/mine/file?form=csv").content.decode()
        self.assertEqual(rows.splitlines()[1].split(",")[:2], ["615.000", "30.000"])
        again = self.send("/lines/read", rows.encode()).json()
        self.assertEqual([line["chainage"] for line in again["lines"]], [615.0, 700.0])
        book = Workbook()
        book.active.append([615, 30, None, 8, "Culvert"])  # type: ignore[union-attr]
        book.save(out := io.BytesIO())
        taken = self.send("/lines/read", out.getvalue(), "Mine too.xlsx").json()
        self.assertEqual((taken["name"], taken["lines"][0]["right"], taken["lines"][0]["name"]), ("Mine too", 8, "Culvert"))
        refused = self.send("/lines/read", b"12\n13,99\n")
        self.assertEqual((refused.status_code, refused.json()["subject"]), (400, "row 2"))
        for text in ("{", json.dumps({"format": "other"})):
            self.assertEqual(self.send("/lines/read", text.encode()).status_code, 400)

    def test_they_move_with_the_start_chainage(self) -> None:
        self.group(AT)
        alignment = self.document("alignment")
        self.ask("POST", "/alignment/start", {"start_chainage": 1000.0, "version": alignment["version"]})
        self.assertEqual(self.document("section_lines", "mine")["spec"]["lines"][0]["chainage"], 1615.0)

    def test_who_may_not(self) -> None:
        self.sign_in("viewer")
        self.assertEqual(self.ask("GET", "/lines").status_code, 200)
        self.assertEqual(self.put("section_lines", "x", {"name": "X", "lines": []}, 0).status_code, 403)
        self.sign_in("stranger")
        self.assertEqual(self.ask("GET", "/lines").status_code, 404)
