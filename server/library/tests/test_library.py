"""The shared library and bundles through the API: bringing, sharing, favourites, conflicts, bad files; the test bench."""

import json
from importlib import import_module
from typing import Any

from django.contrib.auth.models import User

from design.models import Document, EditRecord
from library.models import Version
from projects.models import Membership, Project, Role
from projects.tests.cases import DemoCase
from saddle.template import starter


class Library(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def bundle(self, path: str) -> str:
        answer = self.ask("GET", path)
        self.assertEqual(answer.status_code, 200)
        return answer.content.decode()

    def entry(self, kind: str, key: str) -> dict[str, Any]:
        return next(e for e in self.ask("GET", "/api/library").json() if (e["kind"], e["key"]) == (kind, key))

    def test_starting_library_is_there_for_everybody(self) -> None:
        for who in ("designer", "viewer", "stranger"):
            self.sign_in(who)
            found = self.ask("GET", "/api/library").json()
            self.assertGreaterEqual(len([e for e in found if e["kind"] == "template"]), 10)
            self.assertTrue(all(e["by"] == "" and not e["mine"] for e in found))

    def test_bring_a_template_with_all_that_it_needs(self) -> None:
        text = self.bundle("/api/library/bundle?items=template:median")
        states = {c["key"]: c["state"] for c in self.ask("POST", "/bundle/check", {"text": text}).json()}
        self.assertEqual((states["median"], states["concrete"]), ("new", "same"))
        before = Document.objects.filter(project=self.project).count()
        self.assertEqual(self.ask("POST", "/bundle/check", {"text": text}).status_code, 200)
        self.assertEqual(Document.objects.filter(project=self.project).count(), before)  # a look writes nothing
        written = self.ask("POST", "/bundle", {"text": text}).json()["written"]
        self.assertIn(["template", "median"], written)
        self.assertEqual(self.document("template", "median")["spec"]["name"], "With median")
        self.assertEqual(self.ask("POST", "/bundle", {"text": text}).json()["written"], [])
        self.ask("POST", "/undo")  # the template came last, so it goes first
        self.assertFalse(Document.objects.filter(project=self.project, kind="template", key="median").exists())

    def test_what_differs_is_kept_unless_chosen(self) -> None:
        mine = self.document("template", "rural")
        mine["spec"]["right"]["points"][0]["offset"]["width"] = 3.0
        self.put("template", "rural", mine["spec"], mine["version"])
        text = self.bundle("/api/library/bundle?items=template:rural")
        self.assertEqual(self.ask("POST", "/bundle", {"text": text}).json()["written"], [])
        choice = {"kind": "template", "key": "rural", "choice": "both"}
        self.assertEqual(
            self.ask("POST", "/bundle", {"text": text, "choices": [choice]}).json()["written"], [["template", "rural-2"]]
        )
        choice["choice"] = "overwrite"
        self.ask("POST", "/bundle", {"text": text, "choices": [choice]})
        self.assertEqual(self.document("template", "rural")["spec"]["right"]["points"][0]["offset"]["width"], 3.25)

    def test_keep_share_and_take_out(self) -> None:
        spec = {**self.document("template", "rural")["spec"], "name": "Ours"}
        self.put("template", "ours", spec, 0)
        text = self.bundle(self.url("/bundle?items=template:ours"))
        self.ask("POST", "/api/library", {"text": text})
        found = self.entry("template", "ours")
        self.assertEqual((found["by"], found["mine"]), ("Dana Noll", True))
        self.assertIn("Lane, full depth", found["needs"])
        self.assertEqual(Version.objects.count(), 1)  # its parts are those of the starting library
        self.sign_in("checker")
        self.assertFalse(self.entry("template", "ours")["mine"])
        self.assertEqual(self.ask("POST", "/api/library", {"text": text}).status_code, 403)
        self.assertEqual(self.ask("DELETE", "/api/library/template/ours").status_code, 403)
        self.assertEqual(self.ask("DELETE", "/api/library/template/rural").status_code, 404)
        self.sign_in("designer")
        self.assertEqual(self.ask("DELETE", "/api/library/template/ours").status_code, 200)
        self.assertTrue(self.entry("template", "ours")["taken_out"])
        self.sign_in("checker")
        self.assertNotIn("ours", {e["key"] for e in self.ask("GET", "/api/library").json()})

    def test_what_somebody_else_put_there_is_copied_not_replaced(self) -> None:
        """Once anybody who was signed in could overwrite the shared library."""
        spec = {**self.document("template", "rural")["spec"], "name": "Ours"}
        for who, name in (("designer", "Ours"), ("owner", "Theirs"), ("designer", "Ours, wider")):
            self.sign_in(who)
            there = next((d["version"] for d in self.ask("GET", "/documents").json()["documents"] if d["key"] == "ours"), 0)
            self.put("template", "ours", {**spec, "name": name}, there)
            text = self.bundle(self.url("/bundle?items=template:ours"))
            checked = {c["key"]: c for c in self.ask("POST", "/api/library/check", {"text": text}).json()}["ours"]
            self.assertEqual(
                (checked["state"], checked["may_overwrite"]), ("different" if there else "new", there and who == "designer")
            )
            choice = {"kind": "template", "key": "ours", "choice": "overwrite"}
            self.ask("POST", "/api/library", {"text": text, "choices": [choice]})
        names = {(e["key"], e["name"], e["by"]) for e in self.ask("GET", "/api/library").json() if e["by"]}
        self.assertEqual({(key, name) for key, name, _ in names}, {("ours", "Ours, wider"), ("ours-2", "Theirs")})
        self.assertEqual(len({by for _, _, by in names}), 2)

    def test_versions_are_kept_and_can_be_taken_again(self) -> None:
        spec = self.document("template", "rural")["spec"]
        for number, name in enumerate(("Ours", "Ours, wider")):
            self.put("template", "ours", {**spec, "name": name}, number)
            text = self.bundle(self.url("/bundle?items=template:ours"))
            choice = {"kind": "template", "key": "ours", "choice": "overwrite"}
            self.ask("POST", "/api/library", {"text": text, "choices": [choice]})
        self.ask("POST", "/api/library", {"text": text, "choices": [choice]})  # the same again is no version
        self.ask("DELETE", "/api/library/template/ours")
        path = "/api/library/template/ours/versions"
        found = self.ask("GET", path).json()
        self.assertEqual(
            [(v["number"], v["name"], v["by"]) for v in found],
            [(3, None, "Dana Noll"), (2, "Ours, wider", "Dana Noll"), (1, "Ours", "Dana Noll")],
        )
        old = json.loads(self.bundle("/api/library/bundle?items=template:ours@1"))
        self.assertEqual([i["spec"]["name"] for i in old["items"] if i["key"] == "ours"], ["Ours"])
        self.sign_in("owner")
        self.assertEqual(self.ask("POST", f"{path}/1").status_code, 403)
        self.sign_in("designer")
        self.assertEqual(self.ask("POST", f"{path}/1").status_code, 200)
        self.assertEqual([self.entry("template", "ours")[f] for f in ("name", "version", "taken_out")], ["Ours", 4, False])
        for wrong, status in ((f"{path}/3", 404), (f"{path}/99", 404), ("/api/library/template/rural/versions/1", 404)):
            self.assertEqual(self.ask("POST", wrong).status_code, status)
        for item in ("template:ours@9", "template:ours@x", "template:ours@"):
            self.assertIn(self.ask("GET", f"/api/library/bundle?items={item}").status_code, (400, 404))

    def test_favourites_are_each_persons_own_and_come_first(self) -> None:
        self.assertEqual(self.ask("PUT", "/api/library/favourites/template/wedge", {"on": True}).status_code, 200)
        self.assertEqual(self.ask("GET", "/api/library").json()[0]["key"], "wedge")
        self.sign_in("checker")
        self.assertFalse(self.entry("template", "wedge")["favourite"])
        self.sign_in("designer")
        self.ask("PUT", "/api/library/favourites/template/wedge", {"on": False})
        self.assertFalse(self.entry("template", "wedge")["favourite"])
        self.assertEqual(self.ask("PUT", "/api/library/favourites/template/none", {"on": True}).status_code, 404)

    def test_between_projects(self) -> None:
        other = Project.objects.create(name="Other")
        Membership.objects.create(project=other, user=User.objects.get(username="designer"), role=Role.OWNER)
        text = self.bundle(self.url("/bundle?items=template:narrow"))
        path = f"/api/projects/{other.pk}/bundle"
        self.assertIn(["template", "narrow"], self.ask("POST", path, {"text": text}).json()["written"])
        self.assertTrue(Document.objects.filter(project=other, kind="make_up", key="lane-new").exists())

    def test_bad_files_write_nothing(self) -> None:
        whole = json.loads(self.bundle(self.url("/bundle")))
        edits = EditRecord.objects.count()
        broken = json.loads(json.dumps(whole))
        next(i for i in broken["items"] if i["key"] == "narrow")["spec"]["right"]["strips"] = []
        for text, words in (
            ("nothing", "not JSON"), ("{}", "not a library file"), (json.dumps({**whole, "version": 7}), "version 7"),
            (json.dumps(broken), "narrow"),
        ):  # fmt: skip
            for path in ("/bundle/check", "/bundle"):
                answer = self.ask("POST", path, {"text": text})
                self.assertEqual(answer.status_code, 400)
                self.assertIn(words, answer.json()["message"])
        self.assertEqual(EditRecord.objects.count(), edits)
        answer = self.ask("GET", "/api/library/bundle?items=guide:x")
        self.assertEqual((answer.status_code, answer.json()["subject"]), (400, "items"))


class BenchThroughTheApi(DemoCase):
    def setUp(self) -> None:
        self.sign_in("viewer")

    def test_an_unsaved_template_on_a_ground(self) -> None:
        body = {
            "template": starter.TEMPLATES["urban"].model_dump(mode="json"),
            "trial": {"ground": [[-40, 2], [40, 2]], "right_boundary": 20, "left_boundary": -20},
        }
        found = self.ask("POST", "/bench", body).json()
        self.assertTrue(found["built"])
        self.assertEqual([s["rung"] for s in found["slopes"]], ["Drain and cut"] * 2)
        self.assertTrue(all(abs(h["balance"]) < 1e-9 for h in found["halves"]))

    def test_unsaved_parts_count(self) -> None:
        spec = starter.TEMPLATES["rural"].model_dump(mode="json")
        thick = starter.MAKE_UPS["shoulder"].changed(courses=[{"name": "Shoulder", "material": "gravel", "thickness_mm": 300}])
        area = []
        for more in ({}, {"make_ups": {"shoulder": thick.model_dump(mode="json")}}):
            found = self.ask("POST", "/bench", {"template": spec, "trial": {}, **more}).json()
            area.append(sum(x["area"] for x in found["layers"] if x["element"] == "Shoulder"))
        self.assertAlmostEqual(area[1], 2 * area[0], 9)

    def test_bad_trials_name_the_field(self) -> None:
        spec = starter.TEMPLATES["rural"].model_dump(mode="json")
        for trial in ({"ground": [[0, 0]]}, {"left_pct": 99}, {"ground": [[0, 0], [1, None]]}):
            answer = self.ask("POST", "/bench", {"template": spec, "trial": trial})
            self.assertEqual(answer.status_code, 400)
            self.assertIn("trial", answer.json()["subject"])

    def test_ranges_take_dimensions(self) -> None:
        self.sign_in("designer")
        version = self.document("template_plan")["version"]
        body = {
            "version": version,
            "from_chainage": 1330,
            "to_chainage": 1400,
            "template": "wide-shoulder",
            "dimensions": {"shoulder width": 0.9},
            "transition": 10,
        }
        self.assertEqual(self.ask("POST", "/template-ranges", body).status_code, 200)
        index = self.ask("GET", "/model").json()["chainage"].index(1380.0)
        section = self.ask("GET", f"/model/sections/{index}").json()
        self.assertEqual(section["dimensions"], {"lane width": 3.5, "shoulder width": 0.9})
        self.assertEqual(self.ask("POST", "/template-ranges", {**body, "transition": -1}).status_code, 400)


class OldTemplates(DemoCase):
    def test_rungs_of_old_documents_become_chains(self) -> None:
        old = {"right": {"ladder": [{"name": "Cut", "when": "cut", "one_in": 1.5, "most_width": 20}]}, "left": None}
        new = import_module("design.migrations.0002_links_of_rungs")._with_links(old)
        link = {"kind": "to_ground", "one_in": 1.5, "direction": "up", "most_width": 20}
        self.assertEqual(new["right"]["ladder"], [{"name": "Cut", "when": "cut", "links": [link]}])
