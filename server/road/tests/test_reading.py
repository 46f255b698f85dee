"""A road that follows another one: in plan and level where that is designed, after every edit, and never in a circle."""

from typing import Any

import numpy as np

from design.models import Document
from projects.tests.cases import DemoCase
from road.model import road_model


class Reading(DemoCase):
    """The demo, and a lane beside it whose left edge is the right edge of the first road."""

    def setUp(self) -> None:
        self.sign_in("designer")
        spec = self.document("alignment")["spec"]
        lane = {**spec, "name": "Lane", "start_east": spec["start_east"] + 9.0, "elements": spec["elements"][:1]}
        self.assertEqual(self.put("alignment", "lane-line", lane, 0).status_code, 200)
        made = self.ask("POST", "/roads", {"name": "Lane", "alignment": "lane-line", "like": "main"})
        self.lane: str = made.json()["key"]
        self.guide("beside", "lane-line", "main", "right_edge")
        self.follow(self.lane, "left_edge", "beside")

    def guide(self, key: str, alignment: str, road: str, line: str, beyond: float = 0.0) -> None:
        source = {"by": "road", "road": road, "line": line, "beyond": beyond}
        there = Document.objects.filter(project=self.project, kind="guide", key=key).first()
        spec = {"name": key, "alignment": alignment, "use": "edge", "side": "left", "source": source}
        self.assertEqual(self.put("guide", key, spec, there.version if there else 0).status_code, 200)

    def follow(self, road: str, edge: str, guide: str) -> Any:
        plan = self.document("treatments", road)
        ranges = [dict(r) for r in plan["spec"]["ranges"][:1]]
        ranges[0]["work"] = {**ranges[0]["work"], edge: {"by": "guide", "guide": guide}}
        return self.put("treatments", road, {"ranges": ranges}, plan["version"])

    def edge(self, road: str, name: str) -> np.ndarray:
        """East and north of an edge on every section, (n, 2)."""
        model, _ = road_model(self.project, road)
        offset = getattr(model.lines, name)
        plan: np.ndarray = model.frames.plan(np.arange(len(offset)), offset)[np.isfinite(offset)]
        return plan

    def off(self, points: np.ndarray, line: np.ndarray) -> np.ndarray:
        """How far points lie from a polyline, m: by every piece of it."""
        a, b = line[:-1], line[1:]
        length = np.maximum((b - a) ** 2 @ np.ones(2), 1e-12)
        t = np.clip(((points[:, None] - a) * (b - a)).sum(-1) / length, 0, 1)
        gap: np.ndarray = np.linalg.norm(points[:, None] - a - t[..., None] * (b - a), axis=-1).min(axis=1)
        return gap

    def test_its_edge_lies_on_the_other_one_s_and_moves_with_it(self) -> None:
        inside = slice(2, -2)  # square lines of the lane's ends miss the end of the other road
        before = self.edge(self.lane, "left_edge")[inside]
        self.assertGreater(len(before), 10)
        np.testing.assert_allclose(self.off(before, self.edge("main", "right_edge")), 0.0, atol=1e-6)
        plan = self.document("treatments")
        plan["spec"]["ranges"][0]["work"]["right_edge"] = {"by": "offset", "offset": 3.9}
        self.put("treatments", "main", plan["spec"], plan["version"])
        after = self.edge(self.lane, "left_edge")[inside]
        np.testing.assert_allclose(self.off(after, self.edge("main", "right_edge")), 0.0, atol=1e-6)
        self.assertGreater(np.abs(after - before).max(), 0.2)

    def test_further_out(self) -> None:
        self.guide("beside", "lane-line", "main", "right_edge", beyond=0.75)
        edge, out = self.edge("main", "right_edge"), road_model(self.project, "main")[0].frames.to_right
        found = np.isfinite(road_model(self.project, "main")[0].lines.right_edge)
        gap = self.off(self.edge(self.lane, "left_edge")[2:-2], edge + 0.75 * out[found])
        np.testing.assert_allclose(gap, 0.0, atol=1e-6)

    def test_what_is_decided_on_the_one_that_follows_is_nothing_to_the_other(self) -> None:
        before = road_model(self.project, "main")[0].key, road_model(self.project, self.lane)[0].key
        plan = self.document("treatments", self.lane)
        plan["spec"]["ranges"][0]["work"]["least_cover_mm"] = 77.0
        self.put("treatments", self.lane, plan["spec"], plan["version"])
        after = road_model(self.project, "main")[0].key, road_model(self.project, self.lane)[0].key
        self.assertEqual(before[0], after[0])
        self.assertNotEqual(before[1], after[1])

    def test_a_template_point_takes_its_level(self) -> None:
        rule = {
            "side": "left", "point": "LaneEdge", "source": {"by": "guide", "guide": "beside"}, "from_chainage": 0.0,
            "to_chainage": 500.0, "what": "level", "plus": 0.1,
        }  # fmt: skip
        there = self.document("follow", self.lane)
        self.assertEqual(self.put("follow", self.lane, {"rules": [rule]}, there["version"]).status_code, 200)
        lane, _ = road_model(self.project, self.lane)
        main, _ = road_model(self.project, "main")
        (followed,) = lane.followed
        edge = main.hinge_level + main.lines.right_pct / 100 * np.abs(main.lines.right_edge - main.lines.hinge)
        place = main.frames.plan(np.arange(len(edge)), main.lines.right_edge)
        mine = lane.frames.plan(np.arange(len(followed.level)), lane.lines.left_edge)
        known = np.flatnonzero(np.isfinite(followed.level))[2:-2]
        good = np.isfinite(edge)
        along = np.concatenate([[0.0], np.cumsum(np.linalg.norm(np.diff(place[good], axis=0), axis=1))])
        for k in known:
            at = np.linalg.norm(place[good] - mine[k], axis=1)
            i = int(at.argmin())
            low, high = max(i - 1, 0), min(i + 1, len(along) - 1)
            self.assertGreaterEqual(followed.level[k] - 0.1, edge[good][low : high + 1].min() - 1e-6)
            self.assertLessEqual(followed.level[k] - 0.1, edge[good][low : high + 1].max() + 1e-6)

    def test_no_road_follows_one_that_follows_it(self) -> None:
        self.guide("back", "main", self.lane, "left_edge")
        refused = self.follow("main", "right_edge", "back")
        self.assertEqual(refused.status_code, 400)
        self.assertIn("would follow each other", refused.json()["message"])
        self.assertIn("Lane", refused.json()["message"])
        self.assertEqual(self.ask("GET", "/model").status_code, 200)

    def test_a_road_that_cannot_be_computed_gives_no_line_and_that_is_told(self) -> None:
        later = self.ask("POST", "/roads", {"name": "Later"}).json()["key"]
        self.guide("beside", "lane-line", later, "right_edge")
        found = self.ask("GET", f"/model?road={self.lane}").json()
        self.assertIn("no left pavement edge", " ".join(p["message"] for p in found["problems"]))
        refused = self.ask("DELETE", f"/roads/{later}")
        self.assertEqual((refused.status_code, "is used by guide" in refused.json()["message"]), (400, True))

    def test_a_guide_that_another_road_follows_is_not_idle(self) -> None:
        other = self.ask("POST", "/roads", {"name": "Third", "alignment": "lane-line"}).json()["key"]
        idle = [p["code"] for p in self.ask("GET", f"/model?road={other}").json()["problems"]]
        self.assertNotIn("idle_guide", idle)
