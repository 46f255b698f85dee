"""Something put between others on the bench, judged by the core: what lies further in stays to the last digit, what lies further out
goes out by what was put there, and the template is as sound as it was."""

from typing import Any
from unittest import TestCase

import numpy as np

from rules.asked import asked
from saddle.exchange import starting
from saddle.template import starter_medians
from saddle.template.compiled import Parts, compile_template
from saddle.template.solve import plain, solve_points
from saddle.template.spec import TemplateSpec

KERBS: dict[str, Any] = {key: spec for (kind, key), spec in starting.LIBRARY.items() if kind == "kerb"}
PARTS = Parts({key: spec for (kind, key), spec in starting.LIBRARY.items() if kind == "make_up"}, KERBS)
SENT = [{"key": key, "spec": spec.model_dump(mode="json")} for key, spec in KERBS.items()]


def solved(spec: TemplateSpec) -> dict[str, tuple[float, float]]:
    """Offset and level of every point of the right half at a normal crossfall. Raises TemplateError where it cannot be built."""
    compiled = compile_template(spec, PARTS)
    sizes = {name: np.array([d.value]) for name, d in compiled.dimensions.items()}
    u, z = solve_points(compiled.right, plain(np.array([-2.5]), dimensions=sizes))
    return {name: (float(u[0, k]), float(z[0, k])) for k, name in enumerate(compiled.right.names)}


class Inserting(TestCase):
    def each(self) -> Any:
        for (kind, key), spec in starting.LIBRARY.items():
            if kind == "template" and key not in starter_medians.SHAPES:
                assert isinstance(spec, TemplateSpec)
                half = spec.right.model_dump(mode="json")
                before = solved(spec)
                for i, at in enumerate(joints := asked("joints", half, SENT)):
                    yield key, spec, half, before, at, joints[: i + 1], joints[i + 1 :]

    def put(self, spec: TemplateSpec, half: Any, at: str, what: str) -> tuple[str, dict[str, tuple[float, float]]]:
        made = asked("insertedAt", half, SENT, at, what, {"kerb": "sloping", "makeUp": "lane-new"})
        return made["name"], solved(spec.changed(right=made["half"]))

    def moved(self, before: tuple[float, float], after: tuple[float, float], out: float, up: float) -> None:
        """A level that comes from a ground, of which there is none here, stays unknown."""
        self.assertAlmostEqual(after[0] - before[0], out, 9)
        if not np.isnan(before[1]):
            self.assertAlmostEqual(after[1] - before[1], up, 9)

    def test_a_strip_moves_what_lies_further_out_by_its_width_and_nothing_else(self) -> None:
        tried = 0
        for key, spec, half, before, at, inner, outer in self.each():
            with self.subTest(template=key, at=at):
                _, after = self.put(spec, half, at, "strip")
                new = next(p for p in after if p not in before)
                self.assertAlmostEqual(after[new][0] - before[at][0], 1.5, 9)
                for p in inner:
                    np.testing.assert_array_equal(after[p], before[p], err_msg=p)
                rise = after[new][1] - before[at][1]
                for p in outer:
                    self.moved(before[p], after[p], 1.5, rise)
                tried += 1
        self.assertGreater(tried, 40)

    def test_a_kerb_moves_it_by_the_kerb(self) -> None:
        out, up = (getattr(KERBS["sloping"].top[-1], f) / 1000 for f in ("out_mm", "up_mm"))
        for key, spec, half, before, at, inner, outer in self.each():
            with self.subTest(template=key, at=at):
                _, after = self.put(spec, half, at, "kerb")
                for p in inner:
                    np.testing.assert_array_equal(after[p], before[p], err_msg=p)
                for p in outer:
                    self.moved(before[p], after[p], out, up)

    def test_a_split_strip_is_the_same_surface(self) -> None:
        for key, spec, half, before, at, _, outer in self.each():
            if outer and any(s["from_point"] == at for s in half["strips"]):
                with self.subTest(template=key, at=at):
                    name, after = self.put(spec, half, at, "split")
                    for p in before:
                        np.testing.assert_array_equal(after[p], before[p], err_msg=p)
                    middle = np.add(before[at], before[outer[0]]) / 2
                    np.testing.assert_allclose(after[name], middle, atol=1e-9)
