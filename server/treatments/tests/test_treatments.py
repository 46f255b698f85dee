"""Side roads through the API."""

from projects.tests.cases import DemoCase


class SideRoads(DemoCase):
    ASKED = {"name": "Mill Lane", "side": "left", "from_chainage": 540, "to_chainage": 556, "length": 8, "notch_mm": 40}

    def setUp(self) -> None:
        self.sign_in("designer")

    def test_tied_in_and_taken_back_as_one_step(self) -> None:
        before = {kind: self.document(kind)["spec"] for kind in ("treatments", "template_plan", "milling")}
        self.assertEqual(self.ask("POST", "/side-roads", self.ASKED).json(), ["rural-mill-lane"])
        edges = [r["work"]["left_edge"] for r in self.document("treatments")["spec"]["ranges"] if r["from_chainage"] == 540]
        self.assertEqual(edges, [{"by": "point", "point": "LaneEdge", "beyond": 0.0, "side": None}])
        self.assertEqual(self.document("milling")["spec"]["stretches"][-1]["full_at"], "left")
        rows = self.ask("GET", "/model/quantities").json()["total"]["rows"]
        self.assertTrue(rows)
        self.assertIn("Mill Lane", self.ask("POST", "/undo").json()["title"])
        for kind, spec in before.items():
            self.assertEqual(self.document(kind)["spec"], spec)
        self.assertFalse([d for d in self.ask("GET", "/documents").json()["documents"] if d["key"] == "rural-mill-lane"])

    def test_a_table_of_drives_is_one_step(self) -> None:
        before = {kind: self.document(kind)["spec"] for kind in ("treatments", "template_plan", "milling")}
        rows = [{"chainage": c, "side": s, "width": 4, "kind": k} for c, s, k in
                ((540, "left", "drive"), (580, "right", "field_access"), (620, "left", "drive"), (30, "right", "dropped_kerb"))]  # fmt: skip
        made = self.ask("POST", "/drives", {"rows": rows}).json()
        self.assertEqual(len(made), 3)
        title = self.ask("POST", "/undo").json()["title"]
        self.assertEqual(title, "4 drives tied in")
        for kind, spec in before.items():
            self.assertEqual(self.document(kind)["spec"], spec)
        keys = {d["key"] for d in self.ask("GET", "/documents").json()["documents"]}
        self.assertFalse(keys & set(made))
        self.assertEqual(self.ask("POST", "/redo").status_code, 200)
        # A second table over the same template makes no second one.
        again = self.ask("POST", "/drives", {"rows": [{"chainage": 660, "side": "left", "width": 4, "kind": "drive"}]})
        self.assertEqual(again.json(), [made[0]])

    def test_refusals(self) -> None:
        for change, words in (
            ({"from_chainage": 700, "to_chainage": 720}, "not overlaid"), ({"to_chainage": 500}, "must end after it begins"),
            ({"name": "<b>"}, "name"), ({"length": 0}, "length"),
        ):  # fmt: skip
            answer = self.ask("POST", "/side-roads", {**self.ASKED, **change})
            self.assertEqual(answer.status_code, 400)
            self.assertIn(words, str(answer.json()))
        self.sign_in("viewer")
        self.assertEqual(self.ask("POST", "/side-roads", self.ASKED).status_code, 403)


class OfItsOwn(DemoCase):
    """A side road that becomes a road."""

    ASKED = {"name": "Mill Lane", "side": "left", "from_chainage": 541, "to_chainage": 547, "length": 16, "radius": 5}

    def setUp(self) -> None:
        self.sign_in("designer")

    def test_a_tied_mouth_becomes_a_road_and_the_main_road_is_as_before(self) -> None:
        before = {kind: self.document(kind)["spec"] for kind in ("treatments", "template_plan", "milling")}
        self.ask("POST", "/side-roads", SideRoads.ASKED)
        key = self.ask("POST", "/roads/of-mouth", self.ASKED).json()["key"]
        self.assertEqual(key, "mill-lane")
        for kind, spec in before.items():
            self.assertEqual(self.document(kind)["spec"], spec)
        told = {r["key"]: r for r in self.ask("GET", "/roads").json()}
        self.assertEqual(told[key]["fault"], "")
        rows = {r["key"]: r for r in self.ask("GET", f"/model/quantities?road={key}").json()["total"]["rows"]}
        self.assertGreater(rows["surface"]["area"], 6 * 12)
        self.assertIn("made a road", self.ask("POST", "/undo").json()["title"])
        self.assertEqual([r["key"] for r in self.ask("GET", "/roads").json()], ["main"])
        self.assertEqual(self.ask("POST", "/redo").status_code, 200)
        again = self.ask("POST", "/roads/of-mouth", self.ASKED)
        self.assertEqual((again.status_code, again.json()["subject"]), (400, "name"))

    def test_what_cannot_be_is_named(self) -> None:
        for change, words in (
            ({"from_chainage": 546}, "1.000 m wide"),
            ({"template": "nowhere"}, "no template “nowhere”"),
            ({"from_chainage": 99990, "to_chainage": 99996}, "outside the alignment"),
        ):
            answer = self.ask("POST", "/roads/of-mouth", {**self.ASKED, **change})
            self.assertEqual(answer.status_code, 400)
            self.assertIn(words, answer.json()["message"])
        self.assertEqual(len(self.ask("GET", "/roads").json()), 1)
