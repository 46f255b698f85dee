"""What a stage may see: its arguments, functions, classes and constants of its module, and nothing that changes."""

import ast
import inspect
import pickle
import sys
from dataclasses import replace
from functools import partial
from pathlib import Path
from types import FunctionType, ModuleType
from typing import Any
from unittest import TestCase

import numpy as np

from saddle.pipeline import solve
from saddle.quantities.takeoff import take_off
from saddle.stages.cache import Cache
from saddle.stages.run import Run
from saddle.views.section import section_view
from tests.random_roads import random_road

PIPELINE = Path(__file__).resolve().parents[1] / "saddle" / "pipeline.py"


def stages() -> list[Any]:
    """Every function that the page of stages hands to run(...), run.bundle(...) or run.part(..., ...)."""
    module = sys.modules.get("saddle.pipeline") or __import__("saddle.pipeline", fromlist=["solve"])
    found = []
    for node in ast.walk(ast.parse(PIPELINE.read_text())):
        if isinstance(node, ast.Call) and node.args:
            called = node.func
            whose = called.value if isinstance(called, ast.Attribute) else called
            if isinstance(whose, ast.Name) and whose.id == "run":
                names = [a.id for a in node.args if isinstance(a, ast.Name)]
                found += [getattr(module, n) for n in names if isinstance(getattr(module, n, None), FunctionType)]
    return found


def named(function: Any) -> set[str]:
    """Global names that a function reads, and those of the functions of its own module that it calls."""
    seen: set[Any] = set()
    names: set[tuple[str, str]] = set()

    def walk(f: Any) -> None:
        if f in seen:
            return
        seen.add(f)
        for name in f.__code__.co_names:
            if name in f.__globals__:
                names.add((f.__module__, name))
                other = f.__globals__[name]
                if isinstance(other, FunctionType) and other.__module__ == f.__module__:
                    walk(other)

    walk(function)
    return names  # type: ignore[return-value]


def content(value: Any) -> bytes:
    """All arrays in a value, one behind the other."""
    found: list[bytes] = []

    def walk(part: Any, seen: set[int]) -> None:
        if id(part) in seen or part is None or isinstance(part, str | int | float | bool):
            return
        seen.add(id(part))
        if isinstance(part, np.ndarray):
            found.append(part.tobytes() if part.dtype != object else pickle.dumps(part.tolist()))
        elif isinstance(part, dict):
            for v in part.values():
                walk(v, seen)
        elif isinstance(part, list | tuple):
            for v in part:
                walk(v, seen)
        elif hasattr(part, "__dataclass_fields__"):
            for name in part.__dataclass_fields__:
                walk(getattr(part, name), seen)

    walk(value, set())
    return b"|".join(found)


class Purity(TestCase):
    def test_stages_name_nothing_that_changes(self) -> None:
        found = stages()
        self.assertGreater(len(found), 30)
        for stage in found:
            for module, name in named(stage):
                value = getattr(sys.modules[module], name)
                fixed = isinstance(value, FunctionType | type | ModuleType | str | int | float | tuple | frozenset) or callable(
                    value
                )
                # A mapping of rules by name is a constant: it is written in capitals and nothing of its module changes it.
                constant = name.isupper() or (name.startswith("_") and name[1:].isupper())
                self.assertTrue(fixed or constant, f"{stage.__name__} reads {module}.{name}")
                self.assertFalse(hasattr(value, "cache_info"), f"{stage.__name__} reads the memory of {name}")
                self.assertNotIn(name, ("environ", "getenv"), stage.__name__)

    def test_stages_have_no_defaults_that_could_change(self) -> None:
        for stage in stages():
            for p in inspect.signature(stage).parameters.values():
                self.assertNotIsInstance(p.default, list | dict | set, f"{stage.__name__}({p.name})")

    def test_what_could_read_more_than_its_arguments_is_no_stage(self) -> None:
        run = Run()
        for wrong in (partial(max, 1), lambda x: x, [].append):
            with self.assertRaises((TypeError, AttributeError)):
                run(wrong, run.given(1))

    def test_what_is_kept_stays_as_it_is(self) -> None:
        """Whoever looks at a road, measures or draws it, and solves it again with another edit, writes to nothing that is kept."""
        run = Run()
        inputs = random_road(np.random.default_rng(5))
        model = solve(inputs, run)
        before = {key: content(entry.value) for key, entry in run.cache._kept.items()}
        take_off(model)
        for i in range(len(model.chainage)):
            section_view(model, i)
        self.assertIsNotNone(model.problems)
        solve(replace(inputs, settings=inputs.settings.changed(interval=13.0)), run)
        self.assertGreater(len(before), 20)
        for key, was in before.items():
            self.assertEqual(content(run.cache._kept[key].value), was)

    def test_arguments_the_other_way_round_are_another_result(self) -> None:
        run = Run()
        a, b = run.given(2.0), run.given(3.0)
        self.assertNotEqual(run(np_divide, a, b).key, run(np_divide, b, a).key)
        self.assertEqual((run(np_divide, a, b).value, run(np_divide, b, a).value), (2 / 3, 1.5))

    def test_arrays_of_another_shape_are_another_value(self) -> None:
        run = Run()
        self.assertNotEqual(run.given(np.zeros((2, 3))).key, run.given(np.zeros((3, 2))).key)
        self.assertNotEqual(run.given(np.zeros(4)).key, run.given(np.zeros(4, dtype=np.float32)).key)

    def test_what_was_used_last_goes_last(self) -> None:
        """Room for two: the one that was asked for again stays."""
        cache = Cache(most_bytes=2 * 9000)
        for key in "ab":
            cache.get(key, key, lambda: np.zeros(1000))
        cache.get("a", "a", lambda: np.ones(1000))
        cache.get("c", "c", lambda: np.zeros(1000))
        self.assertIsNotNone(cache.find("a"))
        self.assertIsNone(cache.find("b"))


def np_divide(a: float, b: float) -> float:
    return a / b
