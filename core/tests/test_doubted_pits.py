"""Pits whose levels cannot be right are asked about."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from saddle.pipeline import solve
from saddle.terrain.spec import Pit, Structures
from tests.test_side_roads import level_road


class Pits(TestCase):
    def test_a_cover_far_from_the_ground_is_doubted(self) -> None:
        """The ground lies at 50 m. A cover 1.15 m below the road was once taken as it was; one that stands 63 mm low is raised as
        usual, and one that lies far from the road is none of our business."""
        pits = [
            Pit(name="P1", east=60, north=-1, cover=48.85), Pit(name="P2", east=80, north=1, cover=49.937),
            Pit(name="P3", east=100, north=2, cover=51.4), Pit(name="P4", east=120, north=19, cover=10.0),
            Pit(name="P5", east=140, north=0, invert=48.0), Pit(name="P6", east=200, north=0, cover=49.0),
        ]  # fmt: skip
        found = [p for p in solve(replace(level_road(), structures=Structures(pits=pits))).problems if p.code == "pit_level"]
        self.assertEqual([p.chainage_from for p in found], [60.0, 100.0, 200.0])
        self.assertIn("pit P1 lies 1.150 m below the surveyed surface", found[0].message)
        self.assertIn("pit P3 lies 1.400 m above", found[1].message)

    def test_a_section_shows_the_same_pits_whichever_others_are_solved(self) -> None:
        """A pit 4 m on belongs to the section at 60, not to the one at 50, also where 50 alone is solved: a preview once showed it there."""
        inputs = replace(level_road(), structures=Structures(pits=[Pit(name="P1", east=58.9, north=-1, cover=50.0)]))
        inputs = replace(inputs, settings=inputs.settings.changed(interval=5.0))
        whole = solve(inputs)
        for i in range(len(whole.chainage)):
            alone = solve(inputs, pick=lambda stations, i=i: np.array([i]))  # type: ignore[misc]
            there = [m.name for m in whole.crossed if m.row == i]
            self.assertEqual([m.name for m in alone.crossed], there, float(whole.chainage[i]))
