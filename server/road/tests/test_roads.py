"""Several roads in a project: each has its own decisions, all share the rest, and one like another gives the same figures."""

import io
import re
from typing import Any

from openpyxl import Workbook, load_workbook

from design.models import Document
from projects.models import Project
from projects.tests.cases import DemoCase
from saddle.documents import KINDS

#: A second road on a line of its own, beside the first: it crosses the survey at its start.
BESIDE = {
    "name": "Mill Lane", "start_east": 412_230.0, "start_north": 286_480.0, "start_bearing_deg": 62.0, "start_chainage": 100.0,
    "equations": [], "elements": [{"kind": "straight", "length": 300.0}],
}  # fmt: skip


class Roads(DemoCase):
    """The demo with a second road."""

    def setUp(self) -> None:
        self.sign_in("designer")

    def add(self, **more: Any) -> str:
        made = self.ask("POST", "/roads", {"name": "Second road", "alignment": "main", "like": "main", **more})
        self.assertEqual(made.status_code, 200, made.content)
        key: str = made.json()["key"]
        return key

    def bill(self, road: str = "main") -> Any:
        return self.ask("GET", f"/model/quantities?road={road}").json()

    def keys(self, kind: str) -> set[str]:
        return set(Document.objects.filter(project=self.project, kind=kind).values_list("key", flat=True))

    def test_a_road_like_another_gives_the_same_figures_to_the_last_digit(self) -> None:
        key = self.add()
        self.assertEqual(self.bill(key), self.bill())
        first, second = (self.ask("GET", f"/model/sections/40?road={road}").json() for road in ("main", key))
        self.assertEqual([[road["key"] for road in section.pop("roads")] for section in (first, second)], [[key], ["main"]])
        self.assertEqual(first, second)
        self.assertNotEqual(*(self.ask("GET", f"/model?road={road}").json()["stamp"] for road in ("main", key)))

    def test_what_is_decided_on_one_road_is_nothing_to_the_other(self) -> None:
        key, before = self.add(), self.bill()
        for kind in (name for name, of in KINDS.items() if of.of_road):
            self.assertIn(key, self.keys(kind), kind)
        plan = self.document("treatments", key)
        self.put("treatments", key, {"ranges": plan["spec"]["ranges"][:1]}, plan["version"])
        self.assertEqual(self.bill(), before)
        self.assertNotEqual(self.bill(key), before)
        leave = {"version": plan["version"] + 1, "road": key, "from_chainage": 0, "to_chainage": 2000, "work": {"kind": "leave"}}
        self.assertEqual(self.ask("POST", "/treatments", leave).status_code, 200)
        self.assertEqual(self.bill(), before)
        self.assertTrue(all(not row["volume"] for row in self.bill(key)["total"]["rows"]))

    def test_all_roads_add_up_to_what_each_prints(self) -> None:
        key = self.add()
        found = self.ask("GET", "/roads/quantities").json()
        self.assertEqual([road["key"] for road in found["roads"]], ["main", key])
        for row in found["total"]:
            parts = [r for road in found["roads"] for r in road["rows"] if all(r[n] == row[n] for n in ("kind", "name", "key"))]
            for name in ("volume", "mass", "length", "area"):
                known = [r[name] for r in parts if r[name] is not None]
                self.assertAlmostEqual(row[name] or 0.0, sum(known), places=6)
        self.assertEqual(len(found["total"]), len(found["roads"][0]["rows"]))

    def test_adding_and_removing_are_one_step_each(self) -> None:
        before = {kind: self.keys(kind) for kind in KINDS}
        key = self.add()
        self.assertEqual(self.ask("GET", "/documents").json()["undo"], "Road “Second road” added")
        self.assertEqual(self.ask("POST", "/undo").status_code, 200)
        self.assertEqual({kind: self.keys(kind) for kind in KINDS}, before)
        self.assertEqual(self.ask("GET", f"/model?road={key}").status_code, 404)
        self.ask("POST", "/redo")
        there = {kind: self.keys(kind) for kind in KINDS}
        self.assertEqual(self.ask("DELETE", f"/roads/{key}").status_code, 200)
        self.assertEqual({kind: self.keys(kind) for kind in KINDS}, before)
        self.ask("POST", "/undo")
        self.assertEqual({kind: self.keys(kind) for kind in KINDS}, there)
        self.assertEqual(self.bill(key), self.bill())

    def test_what_must_stay_stays(self) -> None:
        self.assertEqual(self.ask("DELETE", "/roads/main").status_code, 400)
        key = self.add()
        for kind in ("road", "treatments"):
            row = self.document(kind, key)
            self.assertEqual(self.ask("DELETE", f"/documents/{kind}/{key}?version={row['version']}").status_code, 400)
        drawing = self.document("drawing", "plan")
        self.put("drawing", "plan", {**drawing["spec"], "road": key}, drawing["version"])
        refused = self.ask("DELETE", f"/roads/{key}")
        self.assertEqual((refused.status_code, "is used by" in refused.json()["message"]), (400, True))
        alignment = self.document("alignment")
        self.assertEqual(self.ask("DELETE", f"/documents/alignment/main?version={alignment['version']}").status_code, 400)
        stray = self.put("treatments", "nowhere", {"ranges": []}, 0)
        self.assertEqual((stray.status_code, stray.json()["subject"]), (400, "road nowhere"))

    def test_a_road_before_its_alignment_says_what_it_needs_and_is_in_no_sum(self) -> None:
        key = self.add(name="Mill Lane", alignment=None, like=None)
        self.assertEqual(self.ask("GET", f"/model?road={key}").json()["missing"], ["alignment"])
        self.assertEqual(self.ask("GET", f"/model/quantities?road={key}").status_code, 409)
        self.assertIn("needs an alignment", self.ask("GET", "/roads").json()[1]["fault"])
        found = self.ask("GET", "/roads/quantities").json()
        self.assertEqual((found["total"], found["roads"][1]["rows"]), (found["roads"][0]["rows"], []))
        self.assertEqual(self.put("alignment", key, BESIDE, 0).status_code, 200)
        self.assertEqual(self.ask("GET", f"/model?road={key}").json()["start"], 100.0)
        plan = self.ask("GET", "/model/plan").json()["others"]
        self.assertEqual([(road["key"], len(road["alignment"]) > 2) for road in plan], [(key, True)])

    def test_another_start_moves_what_lies_along_that_alignment_and_nothing_else(self) -> None:
        key = self.add(name="Mill Lane", alignment=None, like="main")
        self.put("alignment", key, BESIDE, 0)
        guides = {"guide": self.keys("guide")}
        for kind in ("treatments", "remarks", "left_problems"):
            guides[kind] = {key}
        before = {(kind, k): self.document(kind, k)["spec"] for kind, keys in guides.items() for k in keys}
        main = self.document("treatments")["spec"]
        answer = self.ask("POST", f"/alignment/start?road={key}", {"start_chainage": 150.0, "version": 1})
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(self.document("treatments")["spec"], main)
        for name, spec in before.items():
            now = self.document(*name)["spec"]
            if name == ("treatments", key):
                moved = [r["from_chainage"] + 50.0 for r in spec["ranges"]]
                self.assertEqual([r["from_chainage"] for r in now["ranges"]], moved)
            elif name[0] == "guide":
                self.assertEqual(now, spec)

    def test_drawings_and_issues_over_two_roads(self) -> None:
        key = self.add()
        plan = self.document("treatments", key)
        self.put("treatments", key, {"ranges": plan["spec"]["ranges"][:1]}, plan["version"])
        self.shorten("plan", "long")
        drawing = self.document("drawing", "plan")
        named = {**drawing["spec"], "road": key, "name": "{road}"}
        self.put("drawing", "plan", named, drawing["version"])
        self.assertEqual(self.work("sheets", "plan")["result"]["sheets"][0]["title"], "Second road")
        wanted = {"drawings": ["plan", "long"], "status": "approval", "reason": "For comment", "accepted": "they are known"}
        made = self.done(self.ask("POST", "/issues", wanted))["result"]
        paths = {f["path"] for f in self.ask("GET", f"/issues/{made['id']}").json()["files"]}
        self.assertLessEqual({"figures.json", "quantities.csv", f"{key}/figures.json", f"{key}/quantities.csv"}, paths)
        row = self.document("treatments", key)
        self.put("treatments", key, {"ranges": []}, row["version"])
        told = self.done(self.ask("POST", f"/issues/{made['id']}/compare", {}))["result"]
        self.assertEqual({item["road"] for item in told["items"]}, {"Second road"})

    def test_a_road_that_cannot_be_computed_is_no_secret_of_an_issue(self) -> None:
        self.add(name="Later", alignment=None, like=None)
        self.shorten("long")
        wanted = {"drawings": ["long"], "status": "approval", "reason": "For comment", "accepted": "they are known"}
        made = self.done(self.ask("POST", "/issues", wanted))["result"]
        accepted = self.ask("GET", f"/issues/{made['id']}").json()["accepted"]["problems"]
        self.assertIn("Later: the road needs an alignment first", accepted)

    def test_a_new_project_has_its_one_road(self) -> None:
        made = self.ask("POST", "/api/projects", {"name": "New"}).json()["id"]
        project = Project.objects.get(pk=made)
        self.assertEqual(list(Document.objects.filter(project=project, kind="road").values_list("key", flat=True)), ["main"])
        listed = self.ask("GET", f"/api/projects/{made}/roads").json()
        self.assertEqual([(road["name"], road["problems"]) for road in listed], [("Main road", None)])

    def test_one_file_of_all_bills(self) -> None:
        """The sums over the roads are formulas of the sheets of the roads, and give what the page says."""
        key = self.add(name="Second: road/é")
        plan = self.document("treatments", key)
        self.put("treatments", key, {"ranges": plan["spec"]["ranges"][:1]}, plan["version"])
        said = self.ask("GET", "/roads/quantities").json()["total"]
        answer = self.ask("GET", "/files/roads.xlsx")
        self.assertIn("quantities_all-roads.xlsx", answer["Content-Disposition"])
        book = load_workbook(io.BytesIO(answer.content))
        self.assertEqual(book.sheetnames[0], "All roads")
        self.assertEqual(book.sheetnames[2:], ["Second- road-é", "About"])
        first, shown = book["All roads"], {str(cell.value): cell for cell in next(book["All roads"].rows)}
        for i, row in enumerate(said, start=2):
            for head, name in (("Volume m3", "volume"), ("Mass t", "mass"), ("Length m", "length"), ("Area m2", "area")):
                cell = first.cell(i, shown[head].column).value
                if row[name] is None:
                    self.assertIsNone(cell)
                    continue
                refs = re.findall(r"'([^']+)'!([A-Z]+\d+)", str(cell))
                self.assertGreaterEqual(len(refs), 1)
                self.assertAlmostEqual(sum(self.value(book, *ref) for ref in refs), row[name], places=6)
        lines = self.ask("GET", "/files/roads.csv").content.decode().splitlines()
        self.assertEqual(sum(line.startswith("All roads,") for line in lines), len(said))
        self.assertIn(f"{key}_quantities", self.ask("GET", f"/files/quantities.csv?road={key}")["Content-Disposition"])

    @staticmethod
    def value(book: Workbook, title: str, at: str) -> float:
        """What a cell shows: the total of a road is a sum of cells above it."""
        said = book[title][at].value
        if not isinstance(said, str):
            return float(said)
        column = re.sub(r"\d", "", at)
        rows: list[int] = []
        for a, b in re.findall(rf"{column}(\d+)(?::{column}(\d+))?", said):
            rows += range(int(a), int(b or a) + 1)
        return float(sum(book[title][f"{column}{k}"].value or 0 for k in rows))
