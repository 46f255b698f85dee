"""What a stop may load first: the packed script of each is held against web/budgets.json, and over by 5 % it fails and says by what."""

import gzip
import json
from functools import cache
from typing import Any

from django.conf import settings
from django.test import SimpleTestCase

BUDGETS = settings.ROOT / "web" / "budgets.json"
#: So much more than its budget something may take before the run fails.
OVER = 1.05


@cache
def manifest() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((settings.WEB_DIST / ".vite" / "manifest.json").read_text(encoding="utf-8"))
    return found


@cache
def packed(file: str) -> int:
    """Bytes of a script as it goes over the line."""
    return len(gzip.compress((settings.WEB_DIST / file).read_bytes()))


def first_load(page: str) -> dict[str, float]:
    """Scripts that are loaded before a page shows, kB packed by name: those of the frame and its own, with all that they import."""
    scripts: dict[str, float] = {}
    waiting = ["index.html", page]
    while waiting:
        entry = manifest()[waiting.pop()]
        if entry["file"] not in scripts:
            scripts[entry["file"]] = packed(entry["file"]) / 1000
            waiting += entry.get("imports", [])
    return scripts


class Budgets(SimpleTestCase):
    def test_no_stop_loads_more_than_its_budget(self) -> None:
        budgets = json.loads(BUDGETS.read_text(encoding="utf-8"))["first_load_kb"]
        pages = {key.split("/")[2]: key for key in manifest() if key.endswith("Stop.tsx")}
        self.assertEqual(set(pages), set(budgets))
        for stop, page in pages.items():
            scripts = first_load(page)
            total = sum(scripts.values())
            heaviest = sorted(((kb, name.split("/")[-1]) for name, kb in scripts.items()), reverse=True)[:6]
            told = ", ".join(f"{name} {kb:.0f}" for kb, name in heaviest)
            self.assertLessEqual(total, OVER * budgets[stop], f"{stop} loads {total:.0f} kB, budget {budgets[stop]}: {told}")
