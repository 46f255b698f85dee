"""The machinery of stages, and the whole road under it: every field changed, kept results against fresh ones, edits back and forth."""

import threading
import time
from collections.abc import Mapping
from dataclasses import fields, is_dataclass, replace
from functools import partial
from typing import Any
from unittest import TestCase

import numpy as np
from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, initialize, invariant, rule, run_state_machine_as_test

from saddle.geometry.polylines import Floats
from saddle.guides.evaluate import RoadLines
from saddle.guides.spec import FollowPlan
from saddle.overlay.spec import CrossfallTable, LevelTable, MillingPlan
from saddle.pipeline import solve
from saddle.quantities.takeoff import take_off
from saddle.road.model import RoadInputs, RoadModel
from saddle.road.spec import EndsBeside, Overlay, Remark, RemarkList, TemplatePlan, TreatmentPlan
from saddle.stages.cache import Cache, weigh
from saddle.stages.keys import digest
from saddle.stages.run import Run
from saddle.template.starter_medians import MEDIANS
from saddle.terrain.spec import Pit, Structures
from saddle.terrain.tin import Tin
from tests.depth import many
from tests.random_roads import random_road

CALLS: list[str] = []


def double(values: Floats) -> Floats:
    CALLS.append("double")
    return 2 * values


def added(first: Floats, second: Floats) -> Floats:
    CALLS.append("added")
    return first + second


def sign(values: Floats) -> Floats:
    return np.sign(values)


class Callable:
    def __call__(self, values: Floats) -> Floats:
        return values


class Machinery(TestCase):
    def setUp(self) -> None:
        CALLS.clear()

    def test_nothing_is_computed_before_it_is_asked_for_and_then_once(self) -> None:
        run = Run()
        a = run(double, run.given(np.arange(3.0)))
        both = run(added, a, a)
        self.assertEqual(CALLS, [])
        np.testing.assert_array_equal(both.value, [0, 4, 8])
        np.testing.assert_array_equal(run(added, a, run(double, run.given(np.arange(3.0)))).value, [0, 4, 8])
        self.assertEqual(CALLS, ["double", "added"])

    def test_what_could_read_more_than_its_arguments_is_no_stage(self) -> None:
        run, hidden = Run(), 3.0

        def closure(values: Floats) -> Floats:
            return values * hidden

        for wrong in (closure, lambda v: v, Machinery.setUp.__get__(self), partial(double, np.ones(2)), Callable()):
            with self.assertRaisesRegex(TypeError, "is no stage"):
                run(wrong, run.given(np.zeros(1)))

    def test_what_comes_out_as_before_keeps_all_that_follows(self) -> None:
        run = Run()
        for values in ([1.0, 2.0], [3.0, 9.0]):
            kept = run(double, run.settled(run(sign, run.given(np.array(values)))))
            np.testing.assert_array_equal(kept.value, [2, 2])
        self.assertEqual(CALLS, ["double"])

    def test_an_identity_counts_for_its_own_value_only(self) -> None:
        old, new = TreatmentPlan(), MillingPlan()
        inputs = random_road(np.random.default_rng(1))
        named = replace(inputs, treatments=old, identities={"treatments": (old, "change 7")})
        self.assertEqual(named.identity("treatments", named.treatments), "change 7")
        changed = replace(named, treatments=TreatmentPlan(ranges=inputs.treatments.ranges))
        self.assertIsNone(changed.identity("treatments", changed.treatments))
        self.assertIsNone(named.identity("milling", new))

    def test_many_who_ask_at_a_time_compute_it_once(self) -> None:
        cache, made, found = Cache(), [], []

        def slow() -> str:
            time.sleep(0.05)
            made.append(1)
            return "x"

        askers = [threading.Thread(target=lambda: found.append(cache.get("k", "slow", slow))) for _ in range(8)]
        for t in askers:
            t.start()
        for t in askers:
            t.join()
        self.assertEqual((len(made), found), (1, ["x"] * 8))

    def test_in_passing_nothing_is_left_behind(self) -> None:
        cache = Cache()
        known = Run(cache)(double, Run(cache).given(np.arange(3.0)))
        self.assertEqual(known.value[2], 4)
        before = cache.size
        run = Run(cache, passing=True)
        both = run(added, run(double, run.given(np.arange(3.0))), run.settled(run(double, run.given(np.ones(3)))))
        np.testing.assert_array_equal(both.value, [2, 4, 6])
        np.testing.assert_array_equal(both.value, [2, 4, 6])
        self.assertEqual((CALLS, cache.size), (["double", "double", "added"], before))

    def test_what_fails_is_tried_again_by_who_asks_again(self) -> None:
        cache = Cache()
        with self.assertRaises(ZeroDivisionError):
            cache.get("k", "bad", lambda: 1 / 0)
        self.assertEqual(cache.get("k", "good", lambda: 5), 5)

    def test_it_is_bounded_by_bytes_and_keeps_what_was_used_last(self) -> None:
        cache = Cache(most_bytes=100_000)
        for i in range(20):
            cache.get("first", "a", lambda: np.zeros(1000))
            cache.get(f"k{i}", "b", lambda: np.zeros(2000))
            self.assertLessEqual(cache.size, 100_000)
        self.assertIsNone(cache.find("k3"))
        self.assertIsNotNone(cache.find("first"))
        array = np.zeros(500)
        self.assertLess(weigh([array, array]), 2 * array.nbytes)
        rows = [Overlay(least_cover_mm=float(k)) for k in range(1000)]
        self.assertGreater(weigh(rows), 1000 * len(Overlay.model_fields))  # documents are not for nothing

    def test_a_preview_finds_what_is_known_and_drives_nothing_out(self) -> None:
        models = Cache()
        models.get("k", "model", lambda: 1)
        previews = Cache(most_bytes=5000, beneath=models)
        self.assertEqual(previews.get("k", "never", lambda: 2), 1)
        previews.get("p", "preview", lambda: np.zeros(400))
        self.assertIsNone(models.find("p"))


def same(a: Any, b: Any, where: str = "") -> None:
    """Raises AssertionError where anything of two results differs."""
    if isinstance(a, np.ndarray):
        np.testing.assert_array_equal(a, b, err_msg=where)
    elif is_dataclass(a) and not isinstance(a, type):
        for f in fields(a):
            if not callable(getattr(a, f.name)) and f.name not in ("inputs", "key"):
                same(getattr(a, f.name), getattr(b, f.name), f"{where}.{f.name}")
    elif isinstance(a, Mapping):
        assert set(a) == set(b), where
        for key in a:
            same(a[key], b[key], f"{where}[{key}]")
    elif isinstance(a, list | tuple):
        assert len(a) == len(b), where
        for i, (x, y) in enumerate(zip(a, b, strict=True)):
            same(x, y, f"{where}[{i}]")
    else:
        assert a == b or (a != a and b != b), f"{where}: {a} and {b}"


def all_of(model: RoadModel) -> list[Any]:
    return [model, model.earthworks, model.problems, take_off(model)]


#: A change of every field of the inputs.
CHANGES: dict[str, Any] = {
    "alignment": lambda i: i.alignment.changed(start_chainage=i.alignment.start_chainage + 1.0),
    "surface": lambda i: Tin(i.surface.points + [0, 0, 0.1], i.surface.triangles.copy()),
    "lines": lambda i: dict(list(i.lines.items())[:1]),
    "settings": lambda i: i.settings.changed(left=-15.0, design_speed_kmh=90.0, curvature_correction=False),
    "treatments": lambda i: TreatmentPlan(ranges=i.treatments.ranges[:1]),
    "template_plan": lambda i: TemplatePlan(ranges=i.template_plan.ranges[:1]),
    "templates": lambda i: {k: t for k, t in i.templates.items() if k != i.template_plan.ranges[0].template},
    "make_ups": lambda i: {k: m.changed(courses=[c.model_dump() for c in m.courses[:1]]) for k, m in i.make_ups.items()},
    "kerbs": lambda i: {k: v.changed(base_mm=v.base_mm + 30) for k, v in i.kerbs.items()},
    "materials": lambda i: {k: m.changed(density=m.density + 1) for k, m in i.materials.items()},
    "guides": lambda i: {},
    "follow": lambda i: FollowPlan(),
    "structures": lambda i: Structures(
        pits=[Pit(name="P", east=i.alignment.start_east, north=i.alignment.start_north, cover=1.0)]
    ),
    "surfaces": lambda i: {"other": i.surface},
    "crossfalls": lambda i: CrossfallTable(rows=[r.changed(left_pct=-4.0).model_dump() for r in i.crossfalls.rows]),
    "levels": lambda i: LevelTable(rows=[r.changed(level=r.level + 0.05).model_dump() for r in i.levels.rows]),
    "profiles": lambda i: {},
    "milling": lambda i: MillingPlan(),
    "standards": lambda i: i.standards.changed(steepest_pct=0.5),
    "remarks": lambda _: RemarkList(remarks=[Remark(text="Gate", from_chainage=100.0)]),
    "roads": lambda i: {"beside": RoadLines(*(i.surface.points[:4] + [0, 0, k] for k in range(5)), np.ones((4, 2)))},
    "medians": lambda i: MEDIANS,
    "beside": lambda i: (EndsBeside.model_validate({"side": "left", "to": {"by": "middle", "road": "beside"}}),),
    "neighbours": lambda i: {"beside": RoadLines(*(i.surface.points[:4] + [0, 0, k] for k in range(5)), np.ones((4, 2)))},
    "followed_elsewhere": lambda i: tuple(sorted(i.guides)) or ("none",),
}


class EveryField(TestCase):
    def test_a_change_of_any_field_comes_out_as_if_fresh(self) -> None:
        self.assertEqual(set(CHANGES), {f.name for f in fields(RoadInputs)} - {"identities"})
        differed = set()
        for seed in (18, 61):
            inputs, run = random_road(np.random.default_rng(seed)), Run()
            all_of(solve(inputs, run))
            for name, change in CHANGES.items():
                changed = replace(inputs, **{name: change(inputs)})
                with self.subTest(seed=seed, field=name):
                    differs = digest(getattr(changed, name)) != digest(getattr(inputs, name))
                    differed |= {name} if differs else set()
                    self.assertEqual(solve(changed, run).key != solve(inputs, run).key, differs)
                    same(all_of(solve(changed, run)), all_of(solve(changed)))
            same(all_of(solve(inputs, run)), all_of(solve(inputs)))
        self.assertEqual(differed, set(CHANGES))


class BackAndForth(RuleBasedStateMachine):
    """Edits, undo and redo in any order, with one memory for all of them."""

    @initialize(seed=st.sampled_from([7, 18, 61]))
    def begin(self, seed: int) -> None:
        self.first = random_road(np.random.default_rng(seed))
        self.done, self.undone, self.run = [self.first], list[RoadInputs](), Run()

    @rule(name=st.sampled_from(sorted(CHANGES)), back=st.booleans())
    def edit(self, name: str, back: bool) -> None:
        now = self.done[-1]
        if name == "templates" and not now.template_plan.ranges:
            return
        self.done.append(replace(now, **{name: getattr(self.first, name) if back else CHANGES[name](now)}))
        self.undone.clear()

    @rule()
    def undo(self) -> None:
        if len(self.done) > 1:
            self.undone.append(self.done.pop())

    @rule()
    def redo(self) -> None:
        if self.undone:
            self.done.append(self.undone.pop())

    @invariant()
    def as_if_fresh(self) -> None:
        if hasattr(self, "done"):
            same(all_of(solve(self.done[-1], self.run)), all_of(solve(self.done[-1])))


class EditsUndoRedo(TestCase):
    def test_any_order_of_edits_comes_out_as_if_fresh(self) -> None:
        run_state_machine_as_test(BackAndForth, settings=settings(max_examples=many(6), stateful_step_count=8, deadline=None))
