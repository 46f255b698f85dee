"""Meanings by place: roads with a cross-section of the trade, under codes that say nothing."""

import math
import random
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.terrain.meanings import suggested
from saddle.terrain.survey import Survey
from tests.cases import demo_model, demo_survey
from tests.depth import many

#: Offset and level over the crown, m, by what it is: common practice for a rural road, and for a street with kerbs.
RURAL = {"crown": (0.0, 0.0), "edge": (3.5, -0.0875), "shoulder": (5.0, -0.25), "ditch": (7.0, -1.1), "bank": (8.5, 0.2)}
STREET = {"crown": (0.0, 0.0), "edge": (3.25, -0.08), "kerb": (3.45, 0.04), "path": (5.2, 0.08)}


def road(section: dict[str, tuple[float, float]], seed: int) -> tuple[Survey, dict[str, str], np.ndarray]:
    rng = random.Random(seed)
    code = {what: f"Q{k}" for k, what in enumerate(rng.sample(list(section), len(section)))}
    heading, bend, east, north = rng.uniform(0, 6.28), rng.uniform(-1, 1) / 150, 4e5, 2e5
    centre = []
    for k in range(50):
        east, north, heading = east + 8 * math.sin(heading), north + 8 * math.cos(heading), heading + 8 * bend
        centre.append((east, north, heading, 80 + 0.03 * k * 8))
    number, xyz, codes, line, segments = [], [], [], [], []
    for what, (offset, rise) in section.items():
        for side in (1, -1) if offset else (1,):
            for k, (e, n, h, z) in enumerate(centre):
                o = side * offset + rng.uniform(-0.1, 0.1)
                number.append(f"{what}{side}{k}")
                xyz.append((e + o * math.cos(h), n - o * math.sin(h), z + rise + rng.uniform(-0.01, 0.01)))
                codes.append(code[what])
                line.append(f"{side}")
                if k:
                    segments.append((len(number) - 2, len(number) - 1))
    survey = Survey(np.array(number), np.array(xyz), np.array(codes), np.array(line), np.array(segments))
    return survey, code, np.array([(e, n) for e, n, *_ in centre])


class Meanings(TestCase):
    @settings(max_examples=many(30))
    @given(st.integers(0, 9999), st.booleans())
    def test_roads_of_the_trade(self, seed: int, with_way: bool) -> None:
        for section in (RURAL, STREET):
            survey, code, way = road(section, seed)
            found = {s.meaning: s.code for s in suggested(survey, way if with_way else None, set())}
            said = (
                {"back": "kerb", "lip": "edge", "path": "path"}
                if section is STREET
                else {"edge": "edge", "shoulder": "shoulder", "ditch": "ditch"}
            )
            expected = {"crown": code["crown"], **{meaning: code[what] for meaning, what in said.items()}}
            if section is RURAL:
                # A gravel shoulder at 11 % is no pavement.
                self.assertNotEqual(found["edge"], code["shoulder"])
            self.assertEqual(found, expected)
            self.assertEqual({s.code for s in suggested(survey, way, {code["crown"]})}, set(expected.values()) - {code["crown"]})

    def test_wheel_paths_lie_between_crown_and_edges(self) -> None:
        survey, code, way = road({"crown": (0.0, 0.0), "wheel": (1.7, -0.04), "edge": (3.5, -0.0875)}, 3)
        found = {s.meaning: s.code for s in suggested(survey, way, set())}
        self.assertEqual(found, {"crown": code["crown"], "wheel path": code["wheel"], "edge": code["edge"]})

    def test_the_demo_road(self) -> None:
        survey = demo_survey()
        way = demo_model().frames.origin
        found = {s.meaning: s.code for s in suggested(survey, way, set())}
        self.assertEqual((found["crown"], found["edge"]), ("CL", "EP"))

    def test_nothing_is_said_where_nothing_is_known(self) -> None:
        none = np.empty(0, dtype=str)
        self.assertEqual(suggested(Survey(none, np.empty((0, 3)), none, none, np.empty((0, 2), dtype=int)), None, set()), [])
        survey, code, way = road({"wall": (0.0, 0.0)}, 1)
        self.assertEqual(suggested(survey, way, set()), [])
        self.assertEqual(len(code), 1)
