"""The houses of the core stand on one another: nothing looks up (docs/decisions/houses.md says which stands on which)."""

import ast
from pathlib import Path
from unittest import TestCase

SADDLE = Path(__file__).resolve().parents[1] / "saddle"
#: From the ground up; a name is a package or a module beside them.
ORDER = [
    "tolerances",
    "limits",
    "release",
    "errors",
    "documents_base",
    "problem",
    "stages",
    "geometry",
    "figures",
    "chainage",
    "standards",
    "alignment",
    "terrain",
    "guides",
    "template",
    "overlay",
    "road",
    "findings",
    "pipeline",
    "lines",
    "views",
    "quantities",
    "drawings",
    "exchange",
    "documents",
]


class Houses(TestCase):
    def test_every_house_has_its_place(self) -> None:
        there = {p.stem for p in SADDLE.iterdir() if p.suffix == ".py" or (p / "__init__.py").exists()} - {"__init__"}
        self.assertEqual(there, set(ORDER))

    def test_nothing_looks_up(self) -> None:
        for file in SADDLE.rglob("*.py"):
            house = file.relative_to(SADDLE).parts[0].removesuffix(".py")
            for node in ast.walk(ast.parse(file.read_text())):
                if isinstance(node, ast.ImportFrom) and node.module and node.module.split(".")[0] == "saddle":
                    parts = node.module.split(".")[1:]
                    for other in parts[:1] or [a.name for a in node.names]:
                        self.assertLessEqual(ORDER.index(other), ORDER.index(house), f"{file} looks up to {other}")
