"""How quickly the picture follows the hand, in the browser: from the pointer's move to the frame in which the section and the strip
have followed, and frames a second while it keeps moving. Two made-up roads, 1 km and 10 km, on a product that runs (`bin/demo`).

    PYTHONPATH=core:. .venv/bin/python -m bench.live [address]
"""

import argparse
import json
import time
from typing import Any

import numpy as np
from playwright.sync_api import Page, sync_playwright

from bench.run import long_road
from bench.timing import table
from saddle.overlay.spec import CrossfallRow, CrossfallTable
from saddle.road.spec import AdoptedCrossfall, Overlay, Treatment, TreatmentPlan

MOVES = 60
#: Watches what is drawn of the section and of the strip's depth; tells when the frame came that shows it.
WATCH = """() => {
  window.seen = {};
  const watch = (name, selector) => {
    const node = document.querySelector(selector);
    new MutationObserver(() => requestAnimationFrame((at) => { (window.seen[name] ??= []).push(at); }))
      .observe(node, { subtree: true, childList: true, attributes: true, attributeFilter: ["points", "d", "height", "y"] });
  };
  watch("section", ".live .section svg");
  watch("strip", ".strip [aria-busy]");
}"""


class Client:
    """The API through the browser's own session."""

    def __init__(self, page: Page, address: str) -> None:
        self.page, self.address = page, address

    def ask(self, method: str, path: str, **body: Any) -> Any:
        token = next((c["value"] for c in self.page.context.cookies() if c["name"] == "csrftoken"), "")
        answer = self.page.request.fetch(
            self.address + path, method=method, headers={"X-CSRFToken": token, "Referer": self.address}, **body
        )
        if not answer.ok:
            raise SystemExit(f"{method} {path}: {answer.status} {answer.text()[:300]}")
        return answer.json()

    def put(self, project: int, kind: str, key: str, spec: Any) -> None:
        there = self.ask("GET", f"/api/projects/{project}/documents")["documents"]
        version = next((d["version"] for d in there if (d["kind"], d["key"]) == (kind, key)), 0)
        data = {"kind": kind, "spec": spec.model_dump(mode="json"), "version": version}
        self.ask("PUT", f"/api/projects/{project}/documents/{kind}/{key}", data=json.dumps(data))

    def road(self, length: float) -> int:
        """A project with a road of the generator whose crossfalls stand in a table."""
        inputs = long_road(length)
        project: int = self.ask("POST", "/api/projects", data=json.dumps({"name": f"Live {length:.0f} m"}))["id"]
        rows = "\n".join(f"{i},{x:.3f},{y:.3f},{z:.3f},T" for i, (x, y, z) in enumerate(inputs.surface.points))
        file = {"name": "live.csv", "mimeType": "text/csv", "buffer": f"number,easting,northing,level,code\n{rows}\n".encode()}
        upload = self.ask("POST", f"/api/projects/{project}/uploads", multipart={"file": file})
        names = ("delimiter", "decimal", "header")
        mapping = {**{n: upload[n] for n in names}, **upload["columns"]}
        job = self.ask("POST", f"/api/projects/{project}/uploads/{upload['id']}/import", data=json.dumps({"mapping": mapping, "rules": [{"code": "T"}], "longest_edge": 60}))  # fmt: skip
        while job["state"] in ("waiting", "running"):
            time.sleep(0.5)
            job = self.ask("GET", f"/api/jobs/{job['id']}")
        if job["state"] != "done":
            raise SystemExit(f"the survey did not import: {job['error']}")
        for kind, specs in (
            ("material", inputs.materials), ("make_up", inputs.make_ups), ("kerb", inputs.kerbs), ("template", inputs.templates),
        ):  # fmt: skip
            for key, spec in specs.items():
                self.put(project, kind, key, spec)
        table_work = inputs.treatments.ranges[0].work
        assert isinstance(table_work, Overlay)
        work = table_work.changed(left_crossfall=AdoptedCrossfall(), right_crossfall=AdoptedCrossfall())
        self.put(project, "alignment", "main", inputs.alignment)
        self.put(project, "sections", "main", inputs.settings)
        self.put(project, "template_plan", "main", inputs.template_plan)
        self.put(project, "treatments", "main", TreatmentPlan(ranges=[Treatment(from_chainage=0, to_chainage=length, work=work)]))
        at = [0.0, length / 2, length]
        rows_of = [CrossfallRow(chainage=c, left_pct=-2.5, right_pct=-2.5) for c in at]
        self.put(project, "crossfalls", "main", CrossfallTable(rows=rows_of))
        return project


def measure(page: Page, address: str, project: int, length: float) -> list[object]:
    """Milliseconds from a move to the picture, for the section and the strip; frames a second while the hand moves on."""
    page.goto(f"{address}/p/{project}/crossfall?at={length / 2:.0f}")
    handle = page.get_by_role("button", name="right at", exact=False).nth(1)
    handle.wait_for(timeout=120_000)
    page.locator(".live .section polyline").first.wait_for(timeout=120_000)
    page.wait_for_timeout(1500)
    page.evaluate(WATCH)
    box = handle.bounding_box()
    assert box is not None
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    took: dict[str, list[float]] = {"section": [], "strip": []}
    for i in range(MOVES):
        page.evaluate("() => { window.seen = {}; window.begun = null; addEventListener('pointermove', () => { window.begun ??= performance.now(); }, { capture: true, once: true }); }")  # fmt: skip
        page.mouse.move(x, y + 10 * (1 + i % 5))  # each a tenth of a percent or more from the last
        # Only what has followed counts: the last frame after which nothing changes any more.
        page.wait_for_function("() => window.begun !== null")
        page.wait_for_timeout(60)
        page.wait_for_function("() => document.querySelector('.strip [aria-busy=false]') && window.seen.section", timeout=20_000)
        page.wait_for_timeout(60)
        begun, seen = page.evaluate("() => [window.begun, window.seen]")
        for name in took:
            if seen.get(name):
                took[name].append(seen[name][-1] - begun)
    page.evaluate("() => { window.seen = {}; }")
    start = time.perf_counter()
    while time.perf_counter() - start < 4:
        page.mouse.move(x, y + 10 + 40 * abs(np.sin(2 * time.perf_counter())))
        page.wait_for_timeout(16)
    seconds = time.perf_counter() - start
    frames = len(set(page.evaluate("() => window.seen.section ?? []")))
    page.keyboard.press("Escape")
    page.mouse.up()
    return [
        f"{length:.0f} m", *(float(np.percentile(took[name], p)) for name in ("section", "strip") for p in (50, 95)), frames / seconds,
    ]  # fmt: skip


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("address", nargs="?", default="http://127.0.0.1:8000")
    address = asked.parse_args().address
    with sync_playwright() as p:
        page = p.chromium.launch(executable_path="/usr/bin/chromium-headless-shell").new_page(
            viewport={"width": 1280, "height": 800}
        )
        page.goto(address)
        page.get_by_label("Name", exact=False).first.fill("designer")
        page.get_by_label("Password").fill("designer")
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("textbox", name="Name of the new project").wait_for()
        client = Client(page, address)
        rows = [measure(page, address, client.road(length), length) for length in (1000.0, 10_000.0)]
    table(
        "From the pointer to the picture, ms",
        ["road", "section p50", "section p95", "strip p50", "strip p95", "frames a second"],
        rows,
    )


if __name__ == "__main__":
    main()
