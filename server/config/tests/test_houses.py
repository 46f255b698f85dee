"""Which part of the server may know which: config knows no app, the front knows all and nobody knows it, and no import hides in a
function, where it would hide a circle."""

import ast
from collections.abc import Iterator
from pathlib import Path
from unittest import TestCase

SERVER = Path(__file__).parents[2]
#: What is started on its own, and what only tests use.
APART = {"e2e", "tests", "migrations"}
#: Imports that must wait: the settings are made before anything of Django may be imported.
WAITING = {"manage.py", "supervise.py", "config/testing.py"}


def modules() -> Iterator[tuple[str, ast.Module]]:
    for path in sorted(SERVER.rglob("*.py")):
        name = path.relative_to(SERVER).as_posix()
        if not APART & set(name.split("/")) and name not in WAITING:
            yield name, ast.parse(path.read_text())


def imported(tree: ast.AST) -> Iterator[str]:
    for node in ast.walk(tree):
        if isinstance(node, ast.ImportFrom) and node.module and not node.level:
            yield node.module.split(".")[0]
        elif isinstance(node, ast.Import):
            yield from (n.name.split(".")[0] for n in node.names)


class Houses(TestCase):
    def test_arrows_point_down(self) -> None:
        apps = {p.name for p in SERVER.iterdir() if p.is_dir() and (p / "__init__.py").is_file()} - {"config", "front", "e2e"}
        self.assertIn("releases", apps)
        for name, tree in modules():
            known = set(imported(tree))
            if name.startswith("config/"):
                self.assertFalse(known & (apps | {"front"}), f"{name} looks up to {known & apps}")
            if not name.startswith("front/"):
                self.assertNotIn("front", known, name)

    def test_no_import_hides_in_a_function(self) -> None:
        for name, tree in modules():
            for node in ast.walk(tree):
                if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
                    hidden = [n.lineno for n in ast.walk(node) if isinstance(n, ast.Import | ast.ImportFrom)]
                    self.assertFalse(hidden, f"{name} imports inside {node.name}")
