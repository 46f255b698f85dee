"""The test bench: the same answers as the road gives, faults by name, sentences that read back."""

from unittest import TestCase

import numpy as np

from saddle.geometry.polylines import pack
from saddle.template import starter
from saddle.template.bench import BenchView, Trial, try_out
from saddle.template.spec import TemplateSpec
from tests.templates import PARTS, areas, built, compiled, half_with
from tests.test_ties import LANE, point


def tried(spec: TemplateSpec, **trial: object) -> BenchView:
    return try_out(spec, PARTS, Trial.model_validate(trial), {"guide kerb-line": "Kerb line right", "surface main": "Existing"})


class SameAsTheRoad(TestCase):
    def test_layers_and_slopes(self) -> None:
        for key in ("urban", "wide-shoulder", "median"):
            spec = starter.TEMPLATES[key]
            ground = [(-60.0, -3.0), (0.0, -1.5), (60.0, 4.0)]
            view = tried(spec, ground=ground, right_pct=-3.0, right_boundary=14.0)
            line = pack([(np.array([o for o, _ in ground]), np.array([z for _, z in ground]))])
            sizes = {d.name: d.value for d in spec.dimensions}
            half = built(compiled(spec), np.array([-3.0]), np.zeros(1), line, boundary=np.array([14.0]), dimensions=sizes)
            slope = next(s for s in view.slopes if s.side == "right")
            self.assertAlmostEqual(slope.catch[0] if slope.catch else np.nan, float(half.slopes.catch_offset[0]), 9)
            sums = {(e, n): float(v[0]) for (e, n), v in areas(half).items() if v[0] > 1e-9}
            shown: dict[tuple[str, str], float] = {}
            for lay in view.layers:
                if lay.side == "right":
                    shown[lay.element, lay.name] = shown.get((lay.element, lay.name), 0.0) + lay.area
            self.assertEqual(set(shown), set(sums))
            for name, area in sums.items():
                self.assertAlmostEqual(shown[name], area, 8)

    def test_sides_are_told_apart(self) -> None:
        view = tried(starter.TEMPLATES["rural"], ground=[(-30, 8), (0, -1), (50, -1)])
        self.assertEqual([s.rung for s in view.slopes], ["Cut slope", "Fill slope"])
        self.assertEqual([[r.state for r in h.rungs] for h in view.halves], [["taken", "not tried"], ["passed", "taken"]])
        self.assertEqual(view.halves[1].rungs[0].why, "the ground is below")

    def test_over_an_old_pavement(self) -> None:
        view = tried(starter.TEMPLATES["rural"], ground=[(-30, -0.08), (30, -0.08)], old_edge=2.5, left_pct=0.0, right_pct=0.0)
        over = [x for x in view.layers if x.construction == "over_existing" and x.side == "right"]
        self.assertAlmostEqual(sum(x.area for x in over), 2.5 * 0.08, 9)
        self.assertTrue(any(x.construction == "new" and x.element == "Lane" for x in view.layers))

    def test_what_is_followed_is_put_where_the_trial_says(self) -> None:
        spec = half_with(
            LANE.changed(
                offset={"kind": "follow", "source": {"by": "guide", "guide": "kerb-line"}, "parent": "hinge", "width": 3.0}
            )
        )
        source = {"by": "guide", "guide": "kerb-line"}
        view = tried(spec, followed=[{"source": source, "side": "left", "offset": -4.2}])
        self.assertEqual([(p.side, round(p.offset, 9)) for p in view.points if p.name == "A"], [("left", -4.2), ("right", 3.0)])
        self.assertIn(
            "A lies on guide Kerb line right where that is found, otherwise 3.00 m out from hinge",
            view.sentences["point right A"],
        )


class WhatIsWrong(TestCase):
    def found(self, spec: TemplateSpec, **trial: object) -> list[str]:
        return [f.message for f in tried(spec, thorough=True, **trial).faults]

    def test_nothing_with_the_starting_library(self) -> None:
        for key, spec in starter.TEMPLATES.items():
            with self.subTest(key):
                self.assertEqual(self.found(spec), [])

    def test_a_circle_leaves_nothing_to_draw(self) -> None:
        a = point("A", {"kind": "width", "parent": "B", "width": 1}, {"kind": "rise", "parent": "hinge", "rise": 0})
        b = point("B", {"kind": "width", "parent": "A", "width": 1}, {"kind": "rise", "parent": "hinge", "rise": 0})
        view = tried(half_with(a, b))
        self.assertEqual((view.built, view.layers), (False, []))
        self.assertEqual(view.faults[0].names, ["A", "B"])

    def test_rising_lanes_wrong_sides_and_one_place(self) -> None:
        rises = LANE.changed(level={"kind": "fall", "parent": "hinge", "crossfall_pct": 3.0})
        self.assertIn("Lane rises outward by 3.0 % where the crown is normal", self.found(half_with(rises)))
        twin = point("B", {"kind": "same_as", "parent": "A"}, {"kind": "rise", "parent": "A", "rise": 0})
        self.assertIn("A and B lie in one place", self.found(half_with(LANE, twin)))
        inward = half_with(LANE.changed(offset={"kind": "width", "parent": "hinge", "width": "w"})).changed(
            dimensions=[{"name": "w", "value": -1.0}]
        )
        self.assertIn("A lies 1.000 m inside hinge", self.found(inward))

    def test_idle_rungs_and_missing_boundaries(self) -> None:
        plain = {"name": "Any", "when": "either", "links": [{"kind": "to_ground", "one_in": 2, "direction": "down"}]}
        ladder = [plain, {**plain, "name": "Hidden", "when": "fill"}, {**plain, "name": "Bounded", "inside_boundary": True}]
        found = self.found(half_with(LANE, ladder=ladder))
        self.assertIn("rung Hidden can never be taken", found)
        self.assertIn("Bounded must land inside the boundary, but the half names none", found)
        self.assertFalse(any("Any" in f for f in found))

    def test_a_floor_above_the_courses_is_noted(self) -> None:
        floor = {"name": "Subgrade", "zones": [{"to": {"point": "A"}, "depth_mm": 200}]}
        notes = tried(half_with(LANE, floors=[floor])).halves[1].notes
        self.assertEqual(notes, ["floor Subgrade lies up to 190 mm above the bottom of the courses: dig it deeper"])


class Sentences(TestCase):
    def test_read_back(self) -> None:
        spec = starter.TEMPLATES["bus-bay"]
        said = tried(spec).sentences
        for name, text in (
            ("point right LaneEdge", "LaneEdge lies 3.25 m out from hinge, turning about hinge with the crossfall of its side."),
            ("point right BayEdge", "BayEdge lies bay width (3.00 m) out from LaneEdge, falling 2.5 % from LaneEdge."),
            ("strip right Bay", "Bay is the lane from LaneEdge to BayEdge, built new as “Lane, base under the kerb” everywhere."),
            ("kerb right Kerb", "Kerb is a “Tall kerb” with its lip at BayEdge."),
            ("rung left Toe drain", "In fill of at most 1.0 m: 1 in 2 down to a toe drain 0.30 m below the ground, then 1 in 1.5 up to the ground, if it lands inside the boundary."),
        ):  # fmt: skip
            self.assertEqual(said[name], text)
        wedge = tried(starter.TEMPLATES["wedge"]).sentences["point right WedgeEdge"]
        self.assertEqual(
            wedge,
            "WedgeEdge lies widening (0.50 m) out from LaneEdge, carrying on from LaneEdge the fall that surface Existing has between hinge and LaneEdge.",
        )

    def test_every_point_strip_and_rung_has_one(self) -> None:
        for spec in starter.TEMPLATES.values():
            said = tried(spec).sentences
            for side, half in (("right", spec.right), ("left", spec.left)):
                if half is not None:
                    for kind, items in (
                        ("point", half.points),
                        ("strip", half.strips),
                        ("kerb", half.kerbs),
                        ("floor", half.floors),
                        ("rung", half.ladder),
                    ):
                        for item in items:
                            self.assertTrue(said[f"{kind} {side} {item.name}"].endswith("."))
