"""What two states differ by, against sections laid over each other by dense sampling and bills subtracted line by line."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from saddle.overlay.spec import CoverGoverns
from saddle.pipeline import solve
from saddle.quantities.compared import SAME_LEVEL, RoadFigures, compare_figures, figures_of
from saddle.quantities.takeoff import take_off
from saddle.road.model import RoadModel
from saddle.road.spec import Overlay, SectionSettings
from saddle.views.section import section_view
from tests.cases import demo_inputs, demo_model
from tests.random_roads import random_road


def with_cover(model: RoadModel, number: int, mm: float) -> RoadModel:
    """The road with another least cover in its treatment of a number, from 0."""
    ranges = list(model.inputs.treatments.ranges)
    work = ranges[number].work
    assert isinstance(work, Overlay)
    ranges[number] = ranges[number].changed(work=work.changed(least_cover_mm=mm).model_dump())
    return solve(replace(model.inputs, treatments=model.inputs.treatments.changed(ranges=[r.model_dump() for r in ranges])))


def overlays(model: RoadModel) -> list[int]:
    """Numbers of the treatments in which the cover counts."""
    works = [r.work for r in model.inputs.treatments.ranges]
    return [k for k, w in enumerate(works) if isinstance(w, Overlay) and isinstance(w.governs, CoverGoverns)]


class ScriptedChanges(TestCase):
    def sections_moved(self, before: RoadModel, after: RoadModel) -> set[tuple[float, int]]:
        """By sampling the finished surfaces every 2 cm."""
        moved = set()
        for i, (c, side) in enumerate(zip(before.chainage.tolist(), before.stations.side.tolist(), strict=True)):
            a, b = (np.array(section_view(m, i).design) for m in (before, after))
            if len(a) == 0 or len(b) == 0:
                if len(a) != len(b):
                    moved.add((c, side))
                continue
            low, high = max(a[0, 0], b[0, 0]), min(a[-1, 0], b[-1, 0])
            o = np.unique(np.r_[np.arange(low, high, 0.02), high, a[:, 0], b[:, 0]])
            o = o[(o >= low) & (o <= high)]
            # Steps would be met from one side only: a hair to either side of them both are.
            off = np.concatenate([o - 1e-7, o + 1e-7])
            off = off[(off >= low) & (off <= high)]
            d = np.interp(off, b[:, 0], b[:, 1]) - np.interp(off, a[:, 0], a[:, 1])
            wider = abs(a[0, 0] - b[0, 0]) >= SAME_LEVEL or abs(a[-1, 0] - b[-1, 0]) >= SAME_LEVEL
            if np.abs(d).max(initial=0.0) >= SAME_LEVEL - 1e-6 or wider:
                moved.add((c, side))
        return moved

    def test_just_the_sections_that_moved_are_told(self) -> None:
        model = demo_model()
        for number in overlays(model)[:3]:
            other = with_cover(model, number, 90.0)
            found = compare_figures(figures_of(model), figures_of(other))
            self.assertEqual({(s.chainage, s.side) for s in found.sections}, self.sections_moved(model, other))
            self.assertGreater(len(found.sections), 5)

    def test_items_differ_by_what_their_bills_differ_by(self) -> None:
        for seed in range(6):
            model = solve(random_road(np.random.default_rng(seed)))
            numbers = overlays(model)
            if not numbers:
                continue
            other = with_cover(model, numbers[0], 130.0)
            found = compare_figures(figures_of(model), figures_of(other))
            bills = [{(r.kind, r.name, r.key): r for r in take_off(m).total.rows} for m in (model, other)]
            wanted = {}
            for name in bills[0].keys() | bills[1].keys():
                a, b = (bill.get(name) for bill in bills)
                x, y = ((r.volume or 0.0) if r else 0.0 for r in (a, b))
                row = a or b
                assert row is not None
                if row.volume is not None and (abs(x - y) >= 0.05 or (a is None) != (b is None)):
                    wanted[name] = round(y - x, 6)
            told = [(i.before or 0.0, i.after or 0.0) for i in found.items if i.unit == "m3"]
            self.assertEqual(sorted(round(y - x, 6) for x, y in told), sorted(wanted.values()))

    def test_sections_that_come_and_go_are_told_apart_from_those_that_move(self) -> None:
        inputs = demo_inputs()
        closer = solve(
            replace(inputs, settings=SectionSettings.model_validate({**inputs.settings.model_dump(), "interval": 20.0}))
        )
        model = demo_model()
        found = compare_figures(figures_of(closer), figures_of(model))
        told = {(s.chainage, s.side): s.what for s in found.sections}
        there = set(zip(closer.chainage.round(6).tolist(), closer.stations.side.tolist(), strict=True))
        for c, side in zip(model.chainage.tolist(), model.stations.side.tolist(), strict=True):
            if (round(c, 6), side) not in there:
                self.assertEqual(told.get((c, side)), "section is new")
        back = compare_figures(figures_of(model), figures_of(closer))
        self.assertEqual(
            {s.chainage for s in back.sections if s.what == "section is gone"},
            {s.chainage for s in found.sections if s.what == "section is new"},
        )

    def test_figures_come_back_from_their_file_as_they_were(self) -> None:
        figures = figures_of(demo_model())
        again = RoadFigures.model_validate_json(figures.model_dump_json())
        self.assertEqual(again, figures)
        same = compare_figures(figures, again)
        self.assertEqual((same.items, same.sections), ([], []))

    def test_what_is_not_known_any_more_is_told(self) -> None:
        figures = figures_of(demo_model())
        first = figures.quantities[0].model_copy(update={"unknown_length": 25.0})
        other = figures.model_copy(update={"quantities": [first, *figures.quantities[1:]]})
        (item,) = compare_figures(figures, other).items
        self.assertEqual((item.unit, item.before, item.after), ("m not known", 0.0, 25.0))
        lost = figures.sections[10].model_copy(update={"design": []})
        other = figures.model_copy(update={"sections": [*figures.sections[:10], lost, *figures.sections[11:]]})
        (section,) = compare_figures(figures, other).sections
        self.assertEqual((section.what, section.difference), ("built on no more", None))
