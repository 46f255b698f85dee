"""Documents: saving, two people at once, undo, ranges, bad input."""

import json
from typing import Any

from projects.tests.cases import DemoCase

LEAVE = {"kind": "leave"}


class Saving(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def test_versions_count_and_specs_come_back(self) -> None:
        rural = self.document("template", "rural")
        rural["spec"]["name"] = "Rural, wide"
        saved = self.put("template", "rural", rural["spec"], rural["version"]).json()
        self.assertEqual((saved["version"], saved["spec"]["name"]), (rural["version"] + 1, "Rural, wide"))
        again = self.put("template", "rural", rural["spec"], saved["version"]).json()
        self.assertEqual(again["version"], saved["version"])  # nothing changed, nothing counted

    def test_two_people_edit_one_template(self) -> None:
        """The second to save is told, sees the other's version, and loses nothing."""
        mine = self.document("template", "rural")
        theirs = self.document("template", "rural")
        theirs["spec"]["right"]["points"][0]["offset"]["width"] = 3.6
        self.sign_in("owner")
        self.assertEqual(self.put("template", "rural", theirs["spec"], theirs["version"]).status_code, 200)
        self.sign_in("designer")
        mine["spec"]["name"] = "Mine"
        refused = self.put("template", "rural", mine["spec"], mine["version"])
        self.assertEqual(refused.status_code, 409)
        told = refused.json()
        self.assertIn("changed by owner meanwhile", told["message"])
        self.assertEqual(told["current"]["spec"]["right"]["points"][0]["offset"]["width"], 3.6)
        self.assertEqual(self.document("template", "rural")["spec"]["name"], "Rural, shoulders")
        kept = self.put("template", "rural", mine["spec"], told["current"]["version"])
        self.assertEqual(kept.json()["spec"]["name"], "Mine")

    def test_changes_that_do_not_touch_are_both_written(self) -> None:
        """With the spec that it was made on, a stale change is put together with the other one; where they touch it is refused."""
        base = self.document("template", "rural")
        self.sign_in("owner")
        wider = self.document("template", "rural")["spec"]
        wider["right"]["points"][0]["offset"]["width"] = 3.6
        self.put("template", "rural", wider, base["version"])
        self.sign_in("designer")

        def save(spec: object) -> Any:
            body = {"kind": "template", "spec": spec, "version": base["version"], "base": base["spec"]}
            return self.ask("PUT", "/documents/template/rural", body)

        # A change that changes nothing tells of the other one too: the version alone would not.
        self.assertTrue(save(base["spec"]).json()["merged"])
        answer = save({**base["spec"], "name": "Renamed"}).json()
        self.assertTrue(answer["merged"])
        self.assertFalse(self.put("template", "rural", {**answer["spec"], "name": "Again"}, answer["version"]).json()["merged"])
        written = answer["spec"]
        self.assertEqual((written["name"], written["right"]["points"][0]["offset"]["width"]), ("Renamed", 3.6))
        narrower = json.loads(json.dumps(base["spec"]))
        narrower["right"]["points"][0]["offset"]["width"] = 3.0
        refused = save(narrower)
        self.assertEqual(refused.status_code, 409)
        self.assertIn("right › points › 1 › offset › width", refused.json()["message"])

    def test_what_would_not_be_sound_together_touches(self) -> None:
        """Two points of one name, one from each: neither change is lost, and nothing unsound is written."""
        base = self.document("template", "rural")
        first, second = (json.loads(json.dumps(base["spec"])) for _ in range(2))
        for spec, at in ((first, 0), (second, -1)):
            spec["dimensions"] = [{"name": "Wide", "value": 1.0}] if at else [{"name": "Wide", "value": 2.0}]
        self.put("template", "rural", first, base["version"])
        body = {"kind": "template", "spec": second, "version": base["version"], "base": base["spec"]}
        self.assertEqual(self.ask("PUT", "/documents/template/rural", body).status_code, 409)

    def test_a_document_removed_meanwhile(self) -> None:
        spec = self.document("material", "topsoil")["spec"]
        self.put("material", "sand", {**spec, "name": "Sand"}, 0)
        self.assertEqual(self.ask("DELETE", "/documents/material/sand?version=1").status_code, 200)
        refused = self.put("material", "sand", spec, 1)
        self.assertEqual((refused.status_code, refused.json()["current"]), (409, None))

    def test_what_is_in_use_is_not_removed(self) -> None:
        for kind, key, user in (
            ("material", "rock", "make-up"), ("make_up", "shoulder", "template"), ("kerb", "half-battered", "template"),
            ("template", "rural", "template ranges"),
        ):  # fmt: skip
            answer = self.ask("DELETE", f"/documents/{kind}/{key}?version=1")
            self.assertEqual(answer.status_code, 400)
            self.assertIn(f"used by {user}", answer.json()["message"])
        self.assertEqual(self.ask("DELETE", "/documents/treatments/main?version=2").status_code, 400)
        self.assertEqual(self.ask("DELETE", "/documents/nonsense/main?version=2").status_code, 404)

    def test_what_cannot_be_computed_is_not_written(self) -> None:
        """A mistyped number once took the whole server down: it is refused by name, and the road stays as it is."""
        line, settings = self.document("alignment"), self.document("sections")
        long = {**line["spec"], "elements": [{"kind": "straight", "length": 1e9}]}
        fine = {**settings["spec"], "chord_limit_mm": 1e-9}
        for kind, spec, version, words in (
            ("alignment", long, line["version"], "at most 200 km"), ("sections", fine, settings["version"], "at most 20,000 are computed"),
        ):  # fmt: skip
            answer = self.put(kind, "main", spec, version)
            self.assertEqual(answer.status_code, 400, answer.content)
            self.assertIn(words, answer.json()["message"])
        self.assertEqual((self.document("alignment"), self.document("sections")), (line, settings))
        self.assertEqual(self.ask("GET", "/model").status_code, 200)

    def test_bad_specs_name_the_field(self) -> None:
        rural = self.document("template", "rural")["spec"]
        rural["right"]["points"][0]["offset"]["width"] = -1
        settings = self.document("sections")["spec"]
        for kind, key, spec, word in (
            ("template", "rural", rural, "width"),
            ("sections", "main", {**settings, "interval": "x"}, "interval"),
            ("sections", "main", {**settings, "interval": 0}, "interval"),
            ("sections", "main", {**settings, "surprise": 1}, "surprise"),
            ("alignment", "main", {"start_east": 0}, "start_north"),
            ("material", "m", {"name": "", "density": 2, "colour": "#000000"}, "name"),
            ("material", "m", {"name": "x", "density": 2, "colour": "red"}, "colour"),
        ):
            answer = self.put(kind, key, spec, 1)
            self.assertEqual(answer.status_code, 400, answer.content)
            self.assertIn(word, answer.json()["message"])
        self.assertEqual(self.put("template", "a b", rural, 0).status_code, 400)
        self.assertEqual(self.put("sections", "other", settings, 0).status_code, 400)
        nan = self.client.put(
            self.url("/documents/sections/main"),
            '{"kind":"sections","version":1,"spec":{"interval":NaN}}',
            content_type="application/json",
        )
        self.assertEqual(nan.status_code, 400)
        elsewhere = self.ask("PUT", "/documents/kerb/main", {"kind": "sections", "spec": settings, "version": 1})
        self.assertEqual(elsewhere.status_code, 400)
        garbage = self.client.put(self.url("/documents/sections/main"), "{not json", content_type="application/json")
        self.assertEqual(garbage.status_code, 400)


class UndoRedo(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def width(self) -> float:
        return float(self.document("template", "rural")["spec"]["right"]["points"][0]["offset"]["width"])

    def set_width(self, width: float) -> None:
        found = self.document("template", "rural")
        found["spec"]["right"]["points"][0]["offset"]["width"] = width
        self.assertEqual(self.put("template", "rural", found["spec"], found["version"]).status_code, 200)

    def test_back_and_forth_across_sessions(self) -> None:
        first = self.width()
        for width in (3.3, 3.4, 3.5):
            self.set_width(width)
        seen = []
        for step in ("undo", "undo", "redo", "undo", "undo", "redo", "redo", "redo"):
            self.client.logout()
            self.sign_in("designer")
            self.assertEqual(self.ask("POST", f"/{step}").status_code, 200)
            seen.append(self.width())
        self.assertEqual(seen, [3.4, 3.3, 3.4, 3.3, first, 3.3, 3.4, 3.5])
        self.assertEqual(self.ask("POST", "/redo").status_code, 400)

    def test_a_new_edit_drops_what_was_undone(self) -> None:
        self.set_width(3.3)
        self.ask("POST", "/undo")
        self.set_width(3.7)
        self.assertIsNone(self.ask("GET", "/documents").json()["redo"])
        self.assertEqual(self.ask("POST", "/redo").status_code, 400)

    def test_only_ones_own_and_never_over_anothers(self) -> None:
        self.set_width(3.3)
        self.sign_in("owner")
        self.assertEqual(self.ask("POST", "/undo").status_code, 400)
        self.set_width(3.9)
        self.sign_in("designer")
        refused = self.ask("POST", "/undo")
        self.assertEqual(refused.status_code, 409)
        self.assertIn("changed again", refused.json()["message"])
        self.assertTrue(refused.json()["current"]["touching"])
        self.assertEqual(self.ask("POST", "/undo?how=beside").status_code, 409)
        self.assertEqual(self.width(), 3.9)
        self.assertEqual(self.ask("POST", "/undo?how=pass_over").status_code, 200)
        self.assertEqual(self.width(), 3.9)
        self.assertEqual(self.ask("POST", "/undo").status_code, 400)  # nothing is in the way any more

    def test_beside_somebody_elses_change(self) -> None:
        first = self.width()
        self.set_width(3.3)
        self.sign_in("owner")
        found = self.document("template", "rural")
        self.put("template", "rural", {**found["spec"], "name": "Theirs"}, found["version"])
        self.sign_in("designer")
        refused = self.ask("POST", "/undo")
        self.assertEqual((refused.status_code, refused.json()["current"]["touching"]), (409, []))
        self.assertEqual(self.ask("POST", "/undo?how=beside").status_code, 200)
        self.assertEqual((self.width(), self.document("template", "rural")["spec"]["name"]), (first, "Theirs"))
        self.assertEqual(self.ask("POST", "/redo?how=beside").status_code, 200)
        self.assertEqual((self.width(), self.document("template", "rural")["spec"]["name"]), (3.3, "Theirs"))

    def test_made_and_removed_documents_come_back(self) -> None:
        spec = self.document("material", "topsoil")["spec"]
        self.put("material", "sand", {**spec, "name": "Sand"}, 0)
        self.ask("DELETE", "/documents/material/sand?version=1")
        self.ask("POST", "/undo")
        self.assertEqual(self.document("material", "sand")["spec"]["name"], "Sand")
        self.ask("POST", "/undo")
        keys = [d["key"] for d in self.ask("GET", "/documents").json()["documents"]]
        self.assertNotIn("sand", keys)

    def test_the_history_tells_who_and_what(self) -> None:
        self.set_width(3.3)
        line = self.ask("GET", "/history").json()[0]
        self.assertEqual(
            (line["who"], line["title"], line["state"]),
            ("Dana Noll", "Template “Rural, shoulders”, LaneEdge: width 3.25 to 3.3", "done"),
        )


class RangesLaid(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def lay(self, path: str, kind: str, **body: object) -> dict[str, object]:
        version = self.document(kind)["version"]
        answer = self.ask("POST", path, {"version": version, **body})
        return {"status": answer.status_code, **answer.json()}

    def test_a_treatment_over_part_of_another(self) -> None:
        done = self.lay("/treatments", "treatments", from_chainage=900, to_chainage=1000, work=LEAVE)
        ranges = [(r["from_chainage"], r["to_chainage"], r["work"]["kind"]) for r in done["spec"]["ranges"]]  # type: ignore[index]
        self.assertIn((760.0, 900.0, "overlay"), ranges)
        self.assertIn((900.0, 1000.0, "leave"), ranges)
        self.assertIn((1000.0, 1330.0, "overlay"), ranges)

    def test_clearing_and_templates(self) -> None:
        done = self.lay("/treatments", "treatments", from_chainage=0, to_chainage=5000, work=None)
        self.assertEqual(done["spec"], {"ranges": []})
        done = self.lay("/template-ranges", "template_plan", from_chainage=100, to_chainage=200, template="narrow")
        self.assertEqual([r["template"] for r in done["spec"]["ranges"]][:3], ["village", "narrow", "village"])  # type: ignore[index]

    def test_refusals(self) -> None:
        self.assertEqual(self.lay("/treatments", "treatments", from_chainage=5, to_chainage=5, work=LEAVE)["status"], 400)
        gone = self.lay("/template-ranges", "template_plan", from_chainage=1, to_chainage=2, template="gone")
        self.assertEqual(gone["status"], 400)
        stale = self.ask("POST", "/treatments", {"version": 1, "from_chainage": 1, "to_chainage": 2, "work": LEAVE})
        self.assertEqual(stale.status_code, 409)


class Together(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def changes(self, *kinds: str) -> list[dict[str, object]]:
        out = []
        for kind in kinds:
            d = self.document(kind)
            out.append({"kind": kind, "key": "main", "version": d["version"], "spec": d["spec"]})
        return out

    def test_one_step_forth_and_back(self) -> None:
        levels, sections = self.changes("levels", "sections")
        levels["spec"] = {"rows": [{"chainage": 0, "level": 80.0}, {"chainage": 10, "level": 80.2}]}
        sections["spec"] = {**sections["spec"], "interval": 20}  # type: ignore[dict-item]
        written = self.ask("POST", "/changes", {"title": "Both", "documents": [levels, sections]})
        self.assertEqual([d["kind"] for d in written.json()], ["levels", "sections"])
        self.assertEqual(self.ask("GET", "/documents").json()["undo"], "Both")
        for way, rows, interval in (("undo", 0, 10), ("redo", 2, 20), ("undo", 0, 10)):
            self.assertEqual(self.ask("POST", f"/{way}").json()["title"], "Both")
            self.assertEqual(len(self.document("levels")["spec"]["rows"]), rows)
            self.assertEqual(self.document("sections")["spec"]["interval"], interval)

    def test_all_or_nothing(self) -> None:
        levels, sections = self.changes("levels", "sections")
        levels["spec"] = {"rows": [{"chainage": 0, "level": 80.0}]}
        sections["spec"] = {**sections["spec"], "interval": 20}  # type: ignore[dict-item]
        sections["version"] = 99
        refused = self.ask("POST", "/changes", {"title": "Both", "documents": [levels, sections]})
        self.assertEqual(refused.status_code, 409)
        self.assertEqual(self.document("levels")["spec"]["rows"], [])
        self.assertEqual(self.ask("POST", "/changes", {"title": "", "documents": []}).status_code, 400)
        levels["key"], levels["version"] = "second", 0
        self.assertEqual(self.ask("POST", "/changes", {"title": "x", "documents": [levels]}).status_code, 400)
