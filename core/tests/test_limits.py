"""Every number of every document has limits of what can be meant: a slip of the finger is refused at the door, not solved."""

import math
from collections.abc import Iterator
from typing import Any
from unittest import TestCase

from pydantic import ValidationError

from saddle.documents import KINDS
from saddle.overlay.spec import LevelRow
from saddle.road.spec import Overlay
from saddle.template.parts import KerbProfile
from tests.cases import demo_inputs

#: Taken from a short list, which says itself what it takes; lengths of elements are judged together, with the length of the road.
JUDGED_ELSEWHERE = (
    "Straight.length",
    "Arc.length",
    "Clothoid.length",
    "LongRow.lettering",
    "SectionRow.lettering",
    "SurfaceLine.width",
    "drawing_style.text_height",
)


def numbers(schema: Any, name: str) -> Iterator[tuple[str, dict[str, Any]]]:
    """Fields of a JSON schema that hold numbers, by name."""
    if isinstance(schema, list):
        for part in schema:
            yield from numbers(part, name)
    elif isinstance(schema, dict):
        if schema.get("type") == "number" and "enum" not in schema and "const" not in schema:
            yield name, schema
        for key, part in schema.items():
            inside = isinstance(part, dict) and key in ("properties", "$defs")
            for field, value in part.items() if inside else [(name, part)]:
                yield from numbers(value, f"{name}.{field}" if inside else name)


class Limits(TestCase):
    def test_every_number_has_limits(self) -> None:
        count = 0
        for kind, of in KINDS.items():
            for field, schema in numbers(of.model.model_json_schema(), kind):
                count += 1
                if field.endswith(JUDGED_ELSEWHERE):
                    continue
                low = schema.get("minimum", schema.get("exclusiveMinimum"))
                high = schema.get("maximum", schema.get("exclusiveMaximum"))
                self.assertTrue(low is not None and high is not None, f"{field} has no limits: use a type of documents_base.py")
                self.assertLessEqual(max(abs(low), abs(high)), 1e8, field)
                if field.endswith("_mm"):
                    self.assertLessEqual(high, 20_000, field)
        self.assertGreater(count, 150)

    def test_what_was_once_accepted(self) -> None:
        """A start chainage of 1e308, a kerb of 1e7 mm, a cover of ten kilometres, a level beyond any mountain."""
        inputs = demo_inputs()
        kerb = next(iter(inputs.kerbs.values()))
        for make in (
            lambda: inputs.alignment.changed(start_chainage=1e308),
            lambda: kerb.changed(base_mm=1e7),
            lambda: KerbProfile(**{**kerb.model_dump(), "bed_mm": math.inf}),
            lambda: Overlay(least_cover_mm=1e7),
            lambda: LevelRow(chainage=0.0, level=1e6),
        ):
            self.assertRaises(ValidationError, make)
