"""Something put between others on the bench, judged by the core: what lies further in stays to the last digit, what lies further out
goes out by what was put there, and the template is as sound as it was."""

from typing import Any
from unittest import TestCase

import numpy as np

from rules.asked import asked
from saddle.documents import KINDS
from saddle.exchange import starting
from saddle.template.compiled import compile_template
from saddle.template.parts import Parts
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
