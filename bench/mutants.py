"""Whether the tests notice a break: a sign, a comparison or a limit is changed in a copy of the sources, one at a time, and the tests of
that area run on the copy. What no test notices is printed with its place.

    bin/mutants AREA [--count 40] [--seed 1] [--whole]

A break that changes nothing anybody could see (a message of an error nobody raises, a slack of 1e-9 made 1e-9 greater) is no fault of
the tests; the others each want a test of their own.
"""

import argparse
import ast
import os
import random
import re
import shutil
import subprocess
import sys
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from pathlib import Path
from queue import Queue

ROOT = Path(__file__).resolve().parents[1]
#: Seconds that the tests of one break may take; a loop that never ends has been noticed.
PATIENCE = 600


@dataclass(frozen=True, slots=True)
class Area:
    """Sources that are broken and tests that should notice, as paths and labels from the root."""

    sources: tuple[str, ...]
    tests: tuple[str, ...]


def _core(*names: str) -> tuple[str, ...]:
    return tuple(f"core/tests/test_{name}.py" for name in names)


AREAS = {
    "template": Area(
        ("core/saddle/template/*.py",),
        _core("template", "ties", "bench", "layers", "boxing", "slopes", "unusual", "section_components", "divided_roads",
              "shapes_nobody_drew", "template_ranges", "random_roads", "road_laws"),
    ),
    "overlay": Area(
        ("core/saddle/overlay/*.py",),
        _core("overlay", "crossfalls", "superelevation", "level_ops", "best_levels", "given_levels", "levelling", "placing",
              "pairs_and_parts", "wrong_figures", "random_roads", "road_laws"),
    ),
    "quantities": Area(
        ("core/saddle/quantities/*.py",),
        _core("quantities", "compared", "variants", "reports", "report", "between", "wrong_figures", "pairs_and_parts", "road_laws"),
    ),
    "roads": Area(
        ("core/saddle/road/beyond.py", "core/saddle/road/mouths.py", "core/saddle/road/given.py", "core/saddle/road/drives.py"),
        _core("divided_roads", "mouths", "drives", "between_roads", "roads_met"),
    ),
    "numbers": Area(("web/src/common/numbers.ts",), ("web/rules/test_numbers.py",)),
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Break:
    """One change of a file: what stands at [start, end) of its text, and what takes its place."""

    path: str
    line: int
    start: int
    end: int
    was: str
    now: str

    def __str__(self) -> str:
        return f"{self.path}:{self.line}: {self.was} -> {self.now}"


#: What each sign is changed to, in the order in which they stand in a text so that none is found inside another.
SIGNS = {
    "===": "!==", "!==": "===", "<=": "<", ">=": ">", "==": "!=", "!=": "==", "&&": "||", "||": "&&",
    "<": "<=", ">": ">=", "+": "-", "-": "+", "*": "/", "/": "*", " and ": " or ", " or ": " and ", "not ": "",
}  # fmt: skip
#: Functions whose name is changed.
CALLS = {
    "min": "max", "max": "min", "minimum": "maximum", "maximum": "minimum", "fmin": "fmax", "fmax": "fmin", "floor": "ceil",
    "ceil": "floor", "any": "all", "all": "any", "left": "right", "right": "left",
}  # fmt: skip


def breaks_of_python(path: str, text: str) -> Iterator[Break]:
    """Every operator, comparison, junction and call with a twin; none in annotations, docstrings or imports."""
    starts = [0]
    for line in text.encode().splitlines(keepends=True):
        starts.append(starts[-1] + len(line))
    raw = text.encode()

    def at(line: int, column: int) -> int:
        return len(raw[: starts[line - 1] + column].decode())

    def between(first: ast.expr, second: ast.expr) -> Iterator[Break]:
        a, b = at(first.end_lineno or 0, first.end_col_offset or 0), at(second.lineno, second.col_offset)
        found = re.search(r"<=|>=|==|!=|(?<!\*)\*(?!\*)|(?<!/)/(?!/)|[<>+-]| and | or ", text[a:b])
        if found:
            yield Break(path, second.lineno, a + found.start(), a + found.end(), found.group(), SIGNS[found.group()])

    skipped: set[int] = set()
    tree = ast.parse(text)
    for node in ast.walk(tree):
        for owner in (getattr(node, "annotation", None), getattr(node, "returns", None)):
            if owner is not None:
                skipped.update(id(n) for n in ast.walk(owner))
    for node in ast.walk(tree):
        if id(node) in skipped:
            continue
        match node:
            case ast.BinOp(left=left, right=right):
                yield from between(left, right)
            case ast.Compare(left=left, comparators=[right]):
                yield from between(left, right)
            case ast.BoolOp(values=[first, second, *_]):
                yield from between(first, second)
            case ast.UnaryOp(op=ast.USub() | ast.Not(), operand=operand):
                start, end = at(node.lineno, node.col_offset), at(operand.lineno, operand.col_offset)
                yield Break(path, node.lineno, start, end, text[start:end], "")
            case ast.Call(func=ast.Name(id=name) as called) if name in CALLS:
                start = at(called.lineno, called.col_offset)
                yield Break(path, called.lineno, start, start + len(name), name, CALLS[name])
            case ast.Attribute(attr=name) if name in CALLS:
                end = at(node.end_lineno or 0, node.end_col_offset or 0)
                yield Break(path, node.lineno, end - len(name), end, name, CALLS[name])


def breaks_of_script(path: str, text: str) -> Iterator[Break]:
    """Every sign with blanks on both sides, outside lines that only remark or import."""
    start = 0
    for number, line in enumerate(text.splitlines(keepends=True), 1):
        if not re.match(r"\s*(//|\*|/\*|import )", line):
            for found in re.finditer(r" (===|!==|<=|>=|&&|\|\||[<>+*/-]) ", line):
                a, b = start + found.start(1), start + found.end(1)
                yield Break(path, number, a, b, found.group(1), SIGNS[found.group(1)])
        start += len(line)


def breaks(area: Area) -> list[Break]:
    """All of an area, in the order of its sources."""
    found: list[Break] = []
    for pattern in area.sources:
        for file in sorted(ROOT.glob(pattern)):
            path, text = str(file.relative_to(ROOT)), file.read_text()
            found += breaks_of_script(path, text) if file.suffix == ".ts" else breaks_of_python(path, text)
    return found


class Copy:
    """A copy of what the tests need, in which one thing at a time is broken."""

    def __init__(self, number: int) -> None:
        self.root = ROOT / ".local" / "mutants" / str(number)
        shutil.rmtree(self.root, ignore_errors=True)
        for part in ("core", "server", "demo", "bench", "web/src", "web/rules"):
            shutil.copytree(ROOT / part, self.root / part, ignore=shutil.ignore_patterns("__pycache__"))
        for file in (ROOT / "web").glob("*.*"):
            if file.is_file():
                shutil.copy(file, self.root / "web")
        (self.root / "web/node_modules").symlink_to(ROOT / "web/node_modules")

    def noticed(self, broken: Break | None, tests: tuple[str, ...]) -> bool:
        """Whether a test fails once this is broken."""
        file = self.root / broken.path if broken else self.root
        text = file.read_text() if broken else ""
        if broken:
            file.write_text(text[: broken.start] + broken.now + text[broken.end :])
        environment = os.environ | {
            "PYTHONPATH": str(self.root / "core"), "NUMBA_CACHE_DIR": str(self.root / "numba"), "DJANGO_SETTINGS_MODULE": "config.bare",
            "TIN_SADDLE_MODE": "test", "PYTHONDONTWRITEBYTECODE": "1",
        }  # fmt: skip
        command = [sys.executable, "server/manage.py", "test", "--noinput", "--failfast", *tests]
        try:
            done = subprocess.run(command, cwd=self.root, env=environment, capture_output=True, timeout=PATIENCE, check=False)
            return done.returncode != 0
        except subprocess.TimeoutExpired:
            return True
        finally:
            if broken:
                file.write_text(text)


def main() -> None:
    """Tries a sample of an area's breaks and prints what no test noticed; ends with 1 where there is any."""
    asked = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    asked.add_argument("area", choices=sorted(AREAS))
    asked.add_argument("--count", type=int, default=40)
    asked.add_argument("--seed", type=int, default=1)
    asked.add_argument("--processes", type=int, default=2)
    asked.add_argument(
        "--whole", action="store_true", help="what the area's tests do not notice is shown to all tests of the core"
    )
    given = asked.parse_args()
    area = AREAS[given.area]
    every = breaks(area)
    chosen = random.Random(given.seed).sample(every, min(given.count, len(every)))
    copies: Queue[Copy] = Queue()
    for number in range(given.processes):
        copies.put(Copy(number))
    first = copies.get()
    if first.noticed(None, area.tests):
        raise SystemExit("the tests fail with nothing broken")
    copies.put(first)

    def survives(broken: Break) -> bool:
        copy = copies.get()
        try:
            noticed = copy.noticed(broken, area.tests) or (given.whole and copy.noticed(broken, ("core/tests",)))
        finally:
            copies.put(copy)
        print(f"{'noticed ' if noticed else 'SURVIVED'} {broken}", flush=True)
        return not noticed

    with ThreadPoolExecutor(given.processes) as pool:
        left = sum(pool.map(survives, chosen))
    print(f"{given.area}: {len(chosen)} of {len(every)} breaks tried, {left} not noticed")
    sys.exit(1 if left else 0)


if __name__ == "__main__":
    main()
