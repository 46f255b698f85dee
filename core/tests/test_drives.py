"""Drives, field accesses and dropped kerbs from a table: by hand on level ground, and as laws: a table is its rows one by one in any order,
and what lies outside them stays as it was."""

from dataclasses import replace
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from saddle.errors import GeometryError
from saddle.pipeline import solve
from saddle.road.drives import DriveTable, tie_in_drives
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.side_roads import Around
from saddle.road.spec import TemplatePlan, TemplateRange
from tests.depth import many
from tests.test_side_roads import level_road


def kerbed() -> RoadInputs:
    return replace(
        level_road(), template_plan=TemplatePlan(ranges=[TemplateRange(from_chainage=0, to_chainage=200, template="village")])
    )


def table(*rows: tuple[float, str, float, str], **more: Any) -> DriveTable:
    return DriveTable.model_validate(
        {"rows": [dict(zip(("chainage", "side", "width", "kind"), r, strict=True)) for r in rows], **more}
    )


def tied(inputs: RoadInputs, asked: DriveTable) -> RoadInputs:
    i = inputs
    made = tie_in_drives(asked, Around("main", i.templates, i.make_ups, i.template_plan, i.treatments, i.milling, i.kerbs))
    fields: dict[str, Any] = {name: dict(getattr(i, name)) for name in ("templates", "make_ups", "kerbs")}
    for (kind, key), document in made.items():
        if f"{kind}s" in fields:
            fields[f"{kind}s"][key] = document
        else:
            fields[kind] = document
    return replace(inputs, **fields)


def at(model: RoadModel, chainage: float) -> int:
    return int(np.argmin(np.abs(model.chainage - chainage)))


class ByHand(TestCase):
    def test_a_drive_runs_down_to_the_ground_over_its_width(self) -> None:
        """Lanes 3.25 m and 50 mm high: the drive is 4 m wide and 3 m long beyond the edge."""
        model = solve(tied(level_road(), table((60.0, "right", 4.0, "drive"), (120.0, "left", 8.0, "field_access"))))
        for chainage, side, length in ((60.0, 1, 3.0), (120.0, -1, 6.0)):
            group, k = model.group_of(at(model, chainage))  # type: ignore[misc]
            half, other = (group.right, group.left) if side > 0 else (group.left, group.right)
            end = half.half.column("SideRoadEnd")
            self.assertAlmostEqual(half.u[k, end], 3.25 + length)
            self.assertAlmostEqual(half.z[k, end], 50.0)
            self.assertNotIn("SideRoadEnd", other.half.names)
        stands = [g.name for g in model.groups for c in model.chainage[g.rows] if 58 < c < 62]
        self.assertTrue(all("Drive right" in name for name in stands), stands)

    def test_a_dropped_kerb_leaves_what_is_asked_for(self) -> None:
        """The kerb of 95 mm is 25 mm high over 5 m, and the path behind it goes down with it."""
        model = solve(tied(kerbed(), table((80.0, "left", 5.0, "dropped_kerb"), upstand_mm=25.0)))
        for chainage, up in ((80.0, 0.025), (100.0, 0.095)):
            group, k = model.group_of(at(model, chainage))  # type: ignore[misc]
            names = list(group.left.half.names)
            lip, back = group.left.z[k, names.index("LaneEdge")], group.left.z[k, names.index("Kerb.back")]
            self.assertAlmostEqual(back - lip, up, msg=str(chainage))
            self.assertAlmostEqual(group.right.z[k, group.right.half.names.index("Kerb.back")] - lip, 0.095)
        self.assertAlmostEqual(solve(kerbed()).earthworks.cut[0], model.earthworks.cut[0])

    def test_rows_of_a_kind_share_their_template(self) -> None:
        asked = table(*[(20.0 + 10 * k, "right", 4.0, "drive") for k in range(15)])
        self.assertEqual(len(tied(level_road(), asked).templates), len(level_road().templates) + 1)

    def test_what_cannot_be_names_its_row(self) -> None:
        good = (20.0, "right", 4.0, "drive")
        cases = [
            ((good, (60.0, "right", 4.0, "dropped_kerb")), "row 2, dropped kerb at 0[+]060.000: .* no kerb on the right"),
            ((good, (23.0, "right", 4.0, "drive")), "rows 1 and 2 lie on each other on the right, by 1.000 m"),
            ((good, (199.0, "left", 4.0, "drive")), "row 2, drive at 0[+]199.000"),
        ]
        for rows, words in cases:
            with self.assertRaisesRegex(GeometryError, words):
                tied(level_road(), table(*rows))


class Laws(TestCase):
    @given(st.lists(st.tuples(st.floats(5, 190), st.sampled_from(["left", "right"]), st.floats(2, 9),
                              st.sampled_from(["drive", "field_access", "dropped_kerb"])), min_size=1, max_size=5), st.randoms())  # fmt: skip
    @settings(max_examples=many(12), deadline=None, derandomize=True)
    def test_in_any_order_and_one_by_one(self, rows: list[tuple[float, str, float, str]], order: Any) -> None:
        rows = [(round(c, 1), side, round(w, 1), kind) for c, side, w, kind in rows]
        spans = [(c - w / 2, c + w / 2, side, kind) for c, side, w, kind in rows]
        crossing = [(a, b) for i, a in enumerate(spans) for b in spans[i + 1 :] if a[0] < b[1] and b[0] < a[1]]
        # A side road takes the kerb away that a dropped one would lay low: on one place only the one or the other.
        assume(all(a[2] != b[2] for a, b in crossing))
        inputs, shuffled = kerbed(), list(rows)
        order.shuffle(shuffled)
        whole, mixed, one = tied(inputs, table(*rows)), tied(inputs, table(*shuffled)), inputs
        for row in rows:
            one = tied(one, table(row))
        models = [solve(i) for i in (whole, mixed, one)]
        for other in models[1:]:
            np.testing.assert_allclose(other.chainage, models[0].chainage)
            np.testing.assert_allclose(other.earthworks.cut, models[0].earthworks.cut, atol=1e-9)
            np.testing.assert_allclose(other.earthworks.fill, models[0].earthworks.fill, atol=1e-9)
        plain = solve(inputs)
        away = [i for i, c in enumerate(plain.chainage) if all(not a - 1e-6 <= c <= b + 1e-6 for a, b, _, _ in spans)]
        for i in away:
            self.assertAlmostEqual(
                models[0].earthworks.cut[at(models[0], plain.chainage[i])], plain.earthworks.cut[i], delta=1e-9
            )
