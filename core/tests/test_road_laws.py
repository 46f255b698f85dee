"""Laws that hold on any road, on random ones: it is the same road in a mirror, walked back, under other chainages, and out of a file;
closer sections change less and less."""

from dataclasses import replace
from unittest import TestCase

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from saddle.documents_base import moved_along
from saddle.exchange.bundle import bundle_of, read_bundle, write_bundle
from saddle.exchange.crossfall_csv import read_crossfalls, write_crossfalls
from saddle.exchange.landxml_read import read_landxml
from saddle.exchange.landxml_write import write_landxml
from saddle.pipeline import solve
from saddle.quantities.takeoff import Quantities, layer_areas, take_off
from saddle.road.intervals import intervals
from saddle.road.model import RoadInputs, RoadModel
from saddle.terrain.survey import Survey, collect
from tests.depth import ROADS, SAME_ONES
from tests.other_views import DOCUMENTS, MAPS, from_the_other_end, mirrored, rechained
from tests.random_roads import random_road

SEEDS = st.integers(0, 2**32 - 1)


def roads(share: int):
    """So many of the run's roads."""
    known = settings(max_examples=max(1, ROADS // share), deadline=None, derandomize=SAME_ONES)
    return lambda test: known(given(SEEDS)(test))


def road(seed: int) -> RoadInputs:
    return random_road(np.random.default_rng(seed))


class SameBill(TestCase):
    def same(self, a: Quantities, b: Quantities, share: float) -> None:
        ours, theirs = ({(r.kind, r.name, r.key): r for r in q.total.rows} for q in (a, b))
        fields = ("volume", "mass", "length", "area", "unknown_length")
        # Files are written with six decimals: of what is nothing, or not known at all, there may be a row or none.
        for bill, other in ((ours, theirs), (theirs, ours)):
            for key in set(bill) - set(other):
                self.assertTrue(all(abs(getattr(bill[key], field) or 0.0) < 10 * share for field in fields[:-1]), key)
        for key in set(ours) & set(theirs):
            row = ours[key]
            for field in fields:
                x, y = getattr(row, field), getattr(theirs[key], field)
                self.assertEqual(x is None, y is None)
                if x is not None:
                    self.assertAlmostEqual(x, y, delta=share * max(10.0, abs(y)), msg=f"{key} {field}")

    def findings(self, model: RoadModel) -> list[str]:
        return sorted(p.code for p in model.problems)


class OtherViews(SameBill):
    @roads(12)
    def test_other_chainages_change_nothing(self, seed: int) -> None:
        inputs = road(seed)
        by = 60.0 * int(np.random.default_rng(seed + 4).integers(-250, 250))  # sections stand at multiples of 10, 15 or 20 m
        told = rechained(inputs, by)
        for name in DOCUMENTS:
            self.assertEqual(moved_along(getattr(inputs, name), by), getattr(told, name))
        for name in MAPS:
            self.assertEqual({k: moved_along(d, by) for k, d in getattr(inputs, name).items()}, getattr(told, name))
        one, other = solve(inputs), solve(told)
        np.testing.assert_allclose(other.chainage - by, one.chainage, atol=1e-6)
        np.testing.assert_allclose(other.hinge_level, one.hinge_level, atol=1e-5)
        self.same(take_off(other), take_off(one), 3e-5)
        self.assertEqual(self.findings(other), self.findings(one))

    @roads(12)
    def test_in_a_mirror(self, seed: int) -> None:
        inputs = road(seed)
        one, other = solve(inputs), solve(mirrored(inputs))
        np.testing.assert_allclose(other.hinge_level, one.hinge_level, atol=1e-5)
        np.testing.assert_allclose(other.lines.left_edge, -one.lines.right_edge, atol=1e-5)
        self.same(take_off(other), take_off(one), 3e-5)
        self.assertEqual(self.findings(other), self.findings(one))

    @roads(12)
    def test_walked_from_the_other_end(self, seed: int) -> None:
        inputs = both_ways(road(seed))
        one, other = solve(inputs), solve(from_the_other_end(inputs))
        self.assertEqual(len(one.chainage), len(other.chainage))
        np.testing.assert_allclose(other.frames.origin[::-1], one.frames.origin, atol=1e-5)
        # Of two chainages less than a millimetre apart one stands for both, and from the other end it is the other one.
        np.testing.assert_allclose(other.hinge_level[::-1], one.hinge_level, atol=1e-4)
        self.same(take_off(other), take_off(one), 3e-5)
        self.assertEqual(self.findings(other), self.findings(one))


def both_ways(inputs: RoadInputs) -> RoadInputs:
    """The road with nothing on it that begins at one of its ends: its sections stand at the same places seen from both."""
    a = inputs.alignment
    start, end = a.start_chainage, a.start_chainage + sum(e.length for e in a.elements)
    round_ones = np.arange(np.ceil(start / 500), end / 500) * 500
    stands = [float(c) for c in np.r_[np.linspace(start, end, 23)[1:-1], round_ones, start + end - round_ones]]
    offset = {
        "left_edge": {"by": "offset", "offset": -3.4},
        "right_edge": {"by": "offset", "offset": 3.6},
        "hinge": {"by": "offset", "offset": 0.1},
    }

    def plain(work: object) -> dict[str, object]:
        found = work.model_dump()  # type: ignore[attr-defined]
        return {k: offset[k] if k in offset and v["by"] == "guide" else v for k, v in found.items()}

    treatments = [{**r.model_dump(), "work": plain(r.work)} for r in inputs.treatments.ranges]
    templates = [r.changed(transition=0.0).model_dump() for r in inputs.template_plan.ranges]
    return replace(
        inputs,
        settings=inputs.settings.changed(interval=500.0, key_points=False, chord_limit_mm=0.0, extra=stands),
        treatments=inputs.treatments.changed(ranges=treatments),
        template_plan=inputs.template_plan.changed(ranges=templates),
        follow=inputs.follow.changed(rules=[]),
    )


def survey_of(inputs: RoadInputs) -> Survey:
    """The road's survey lines as a survey: where a segment does not begin at the end of the one before, a line of its own."""
    xyz, code, line, segments = [], [], [], []
    for name, lines in inputs.lines.items():
        number = 0
        for k, (start, end) in enumerate(zip(lines.start, lines.end, strict=True)):
            if k == 0 or not np.array_equal(start, lines.end[k - 1]):
                number += 1
                xyz.append(start)
                code.append(name)
                line.append(str(number))
            segments.append((len(xyz) - 1, len(xyz)))
            xyz.append(end)
            code.append(name)
            line.append(str(number))
    numbers = np.array([str(n + 1) for n in range(len(xyz))])
    return Survey(numbers, np.array(xyz), np.array(code), np.array(line), np.array(segments))


class Files(SameBill):
    @roads(20)
    def test_out_of_files_comes_the_same_road(self, seed: int) -> None:
        inputs = road(seed)
        name = inputs.alignment.name
        data = write_landxml(
            survey_of(inputs), {"Ground": inputs.surface}, [inputs.alignment], {name: [inputs.profiles["p"]]}, "2026-11-26"
        )
        found = read_landxml(data)
        (alignment,), (surface,) = found.alignments, found.surfaces
        names = [("template", k) for k in inputs.templates]
        specs = {("template", k): t for k, t in inputs.templates.items()} | {
            ("make_up", k): m for k, m in inputs.make_ups.items()
        }
        specs |= {("kerb", k): p for k, p in inputs.kerbs.items()} | {("material", k): m for k, m in inputs.materials.items()}
        brought = read_bundle(write_bundle(bundle_of(specs, names))).specs()
        again = replace(
            inputs,
            alignment=alignment.spec,
            profiles={"p": alignment.profiles[0]},
            surface=surface.tin,
            lines=collect(found.table).lines_by_code(),
            templates={k: brought["template", k] for k in inputs.templates},
            make_ups={**inputs.make_ups, **{k: m for (kind, k), m in brought.items() if kind == "make_up"}},
            crossfalls=read_crossfalls(write_crossfalls(inputs.crossfalls)),
        )
        one, other = take_off(solve(inputs)), take_off(solve(again))
        unknown = [[[area is None for area in s.areas] for s in bill.sections] for bill in (one, other)]
        if unknown[0] != unknown[1]:
            return  # a section on the rim of a hole: six decimals say on which side
        self.same(other, one, 2e-3)


class Closer(SameBill):
    @roads(30)
    def test_closer_sections_change_less_and_less(self, seed: int) -> None:
        inputs = replace(road(seed), milling=road(seed).milling.changed(stretches=[]))
        volumes = []
        for interval in (20.0, 5.0, 1.25):
            model = solve(replace(inputs, settings=inputs.settings.changed(interval=interval)))
            volumes.append(sum(r.volume or 0.0 for r in take_off(model).total.rows if r.kind in ("over_existing", "new")))
        coarse, fine = abs(volumes[0] - volumes[2]), abs(volumes[1] - volumes[2])
        self.assertLess(fine, 0.5 * coarse + 0.01 * volumes[2] + 0.05)

    @roads(20)
    def test_lengths_not_known_are_those_of_the_sections(self, seed: int) -> None:
        """An interval whose area is not known at one of its ends is not known: every row says how long those are together."""
        model = solve(road(seed))
        length, _ = intervals(model)
        bill = {(r.kind, r.name, r.key): r for r in take_off(model).total.rows}
        for key, laid in layer_areas(model).items():
            lost = np.isnan(laid.area[:-1]) | np.isnan(laid.area[1:])
            if key in bill:
                self.assertAlmostEqual(bill[key].unknown_length, float(length[lost].sum()), delta=1e-6)
