"""Other roads in the long section: what a line of one is there is what every section meets of it, whichever way it runs."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.alignment.spec import AlignmentSpec, Arc, Straight
from saddle.pipeline import solve
from saddle.road.model import RoadModel
from saddle.road.spec import SectionSettings
from saddle.terrain.tin import plane_over
from saddle.views.long_section import others_along
from saddle.views.roads import OtherRoad, roads_met, section_line
from tests.depth import many
from tests.test_side_roads import level_road

GROUND = plane_over(np.array([-600.0, -600.0, 600.0, 600.0]), 50.0)
SLOPED = replace(
    GROUND, points=GROUND.points + np.column_stack([np.zeros((len(GROUND.points), 2)), GROUND.points @ [0.02, -0.03, 0]])
)


def road(east: float, north: float, bearing: float, radius: float = 0.0) -> RoadModel:
    way = [Straight(length=200)] if radius == 0 else [Arc(length=200, radius=radius)]
    line = AlignmentSpec(start_east=east, start_north=north, start_bearing_deg=bearing % 360, elements=way)
    settings = SectionSettings(left=-20, right=20, interval=5.0)
    return solve(replace(level_road(), alignment=line, surface=SLOPED, settings=settings))


class Beside(TestCase):
    @settings(max_examples=many(12), deadline=None)
    @given(
        bearing=st.floats(0, 359), apart=st.floats(8, 14), turned=st.floats(-4, 4), back=st.booleans(), radius=st.sampled_from([0.0, 400.0])
    )  # fmt: skip
    def test_it_is_what_every_section_meets(self, bearing: float, apart: float, turned: float, back: bool, radius: float) -> None:
        """A second road beside the first, a little askew, the other way round or bent: between the ends of its line every section of the
        first meets its hinge, at the level of the line, as near as chords of 5 m are."""
        first = road(0, 0, bearing, radius)
        at, far = (first.alignment.frames(np.array([c])) for c in (0.0, 200.0))
        start = (far if back else at).plan(0, np.array([apart]))[0]
        way = np.degrees((far if back else at).bearing[0]) + (180 if back else 0)
        second = road(
            float(start[0]),
            float(start[1]),
            way + turned,
            (-radius if back else radius) and (-1 if back else 1) * (radius - apart),
        )
        other = OtherRoad("other", "Other road", second)
        (along,) = others_along(first, [other])
        met = 0
        for i, c in enumerate(first.chainage.tolist()):
            found = roads_met(section_line(first, i), [other])
            hinge = found[0].hinge if found else None
            runs = [run[np.argsort(run[:, 0])] for run in along.runs]
            inside = [run for run in runs if run[0, 0] < c < run[-1, 0]]
            if hinge is None or not inside or not -19.9 < hinge[0] < 19.9:
                continue
            met += 1
            self.assertAlmostEqual(float(np.interp(c, inside[0][:, 0], inside[0][:, 1])), hinge[1], delta=2e-3)
        self.assertGreater(met, 10)

    def test_one_that_crosses_stands_upright_and_one_far_away_is_not_there(self) -> None:
        first = road(0, 0, 90)
        crossing, away = road(100, -100, 0), road(0, 300, 90)
        found = others_along(first, [OtherRoad("x", "Crossing", crossing), OtherRoad("y", "Away", away)])
        self.assertEqual([f.name for f in found], ["Crossing"])
        (run,) = found[0].runs
        np.testing.assert_allclose(run[:, 0], 100.0, atol=1e-9)
        self.assertLessEqual(len(run), 9)  # as far as the sections reach, 20 m either side
