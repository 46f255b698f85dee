"""Other roads on a section: what a road's own sections have stands there, at the section's offsets, and nothing where it has none."""

from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.documents_base import moved_along
from saddle.lines.place import CutLine
from saddle.pipeline import lines_of, solve
from saddle.road.spec import Leave
from saddle.views.roads import OtherRoad, roads_met, section_line
from saddle.views.section import design_line, section_view
from tests.cases import demo_model
from tests.depth import many
from tests.random_roads import random_road


class Met(TestCase):
    @given(st.integers(0, 2**32 - 1))
    @settings(max_examples=many(10), deadline=None, derandomize=True)
    def test_the_same_road_by_other_chainages_is_met_as_it_is(self, seed: int) -> None:
        """A second road on the same ground whose alignment begins elsewhere: every section meets of it what it has itself."""
        rng = np.random.default_rng(seed)
        inputs = random_road(rng)
        model = solve(inputs)
        rows = np.flatnonzero(model.stations.side == 0)[1:-1]
        other = OtherRoad("b", "B", model)
        for row in rng.choice(rows, min(4, len(rows)), replace=False):
            view = section_view(model, int(row), [other])
            group = model.group_of(int(row))
            if group is None or not all(h.layers.solved[group[1]] for h in (group[0].left, group[0].right)):
                continue
            (met,) = view.roads
            self.assertEqual(met.unknown, [])
            for name in {(v.name, v.side) for v in view.layers}:
                areas = [sum(v.area for v in of if (v.name, v.side) == name) for of in (view.layers, met.layers)]
                self.assertAlmostEqual(*areas, delta=1e-8, msg=f"{name} at {view.chainage}")
            if view.hinge is not None and met.hinge is not None:
                np.testing.assert_allclose(met.hinge, view.hinge, atol=1e-6)

    @given(st.integers(0, 2**32 - 1))
    @settings(max_examples=many(12), deadline=None, derandomize=True)
    def test_lines_that_others_follow_lie_on_the_designed_surface(self, seed: int) -> None:
        """Hinge and edges, also of a reconstruction, beside a kerb, at a pair of sections and with a half of no width: a hair towards
        the hinge the finished surface has that level; where nothing is designed there is none."""
        inputs = random_road(np.random.default_rng(seed))
        model, found = solve(inputs), lines_of(inputs).value
        lines = model.lines
        for name, offset in (("hinge", lines.hinge), ("left_edge", lines.left_edge), ("right_edge", lines.right_edge)):
            line = getattr(found, name)
            for i, e in enumerate(offset):
                surface = np.array(design_line(model, i)).reshape(-1, 2)
                if np.isnan(e) or len(surface) < 2:
                    self.assertTrue(np.isnan(line[i]).all() or (name == "hinge" and np.isfinite(e)) or np.isnan(line[i, 2]))
                    continue
                np.testing.assert_allclose(line[i, :2], model.frames.plan(np.array([i]), np.array([e]))[0], atol=1e-9)
                group, k = model.group_of(i) or (None, 0)
                if (
                    group is not None
                    and not -group.left.u[k, group.left.half.outer] <= e <= group.right.u[k, group.right.half.outer]
                ):
                    self.assertTrue(np.isnan(line[i, 2]))  # on the slope beyond the template nothing is followed
                    continue
                inward = e + 1e-5 * np.sign(lines.hinge[i] - e)
                if not surface[0, 0] < inward < surface[-1, 0] or (np.diff(surface[:, 0]) < -1e-9).any():
                    continue  # beyond it, or it runs back where a point lies inside the one before, which is told
                steep = np.abs(np.diff(surface[:, 1]) / np.maximum(np.diff(surface[:, 0]), 1e-9))
                near = steep[(surface[:-1, 0] < max(e, inward) + 1e-5) & (surface[1:, 0] > min(e, inward) - 1e-5)]
                near = np.max(near[near < 1e3], initial=0.0)  # but for faces of kerbs that stand upright
                self.assertAlmostEqual(
                    line[i, 2], float(np.interp(inward, *surface.T)), delta=2e-5 * (1 + near), msg=f"{name} {model.chainage[i]}"
                )

    def test_turned_line_and_moved_chainages(self) -> None:
        """The demo met from the other end and by chainages 1000 m on: offsets change sign, areas stay."""
        model = demo_model()
        i = 60
        own = section_view(model, i)
        line = section_line(model, i)
        turned = CutLine(0, "at", "", "", line.chainage, 0.0, line.path[::-1], float(line.along[-1]))
        on = model.inputs
        later = solve(
            type(on)(**{
                name: moved_along(value, 1000.0) if hasattr(value, "model_fields") else value
                for name, value in ((n, getattr(on, n)) for n in on.__dataclass_fields__)
                if name not in ("identities", "guides", "profiles")
            } | {kind: {k: moved_along(v, 1000.0) for k, v in getattr(on, kind).items()} for kind in ("guides", "profiles")})
        )  # fmt: skip
        (met,) = roads_met(turned, [OtherRoad("b", "B", later)])
        for name in {v.name for v in own.layers}:
            areas = [sum(v.area for v in of if v.name == name) for of in (own.layers, met.layers)]
            self.assertAlmostEqual(*areas, delta=1e-6, msg=name)
        (run,) = met.designs
        self.assertAlmostEqual(run[0][0], -own.design[-1][0], delta=1e-6)
        self.assertAlmostEqual(run[-1][0], -own.design[0][0], delta=1e-6)

    def test_nothing_is_met_where_nothing_is_built(self) -> None:
        model = demo_model()
        left = next(i for i in range(len(model.chainage)) if isinstance(model.work_at(i), Leave) and model.stations.side[i] == 0)
        self.assertEqual(roads_met(section_line(model, left + 1), [OtherRoad("b", "B", model)]), [])
        away = section_line(model, 60)
        away = CutLine(0, "at", "", "", np.nan, np.nan, away.path + 5000.0, away.zero)
        self.assertEqual(roads_met(away, [OtherRoad("b", "B", model)]), [])
