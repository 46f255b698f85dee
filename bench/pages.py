"""What a designer feels of the pages: a step along the road, a switch of stops, an edit's way to the strip, what a stop loads first, and
what the browser holds after many switches. On the demo road of a product that runs (`bin/demo`).

    PYTHONPATH=core:. .venv/bin/python -m bench.pages [address] [--switches N]
"""

import argparse
import re
import time

import numpy as np
from playwright.sync_api import Page, sync_playwright

from bench.timing import table

STOPS = ["survey", "alignment", "guides", "templates", "crossfall", "overlay", "levels", "sections", "quantities", "sheets"]
#: Ends with the frame in which something came to show what is asked for.
SHOWN = """([selector, path, key]) => new Promise((done) => {
  const told = () => [...document.querySelectorAll(selector)].map((n) => n.outerHTML).join();
  const before = told();
  const begun = performance.now();
  document.body.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true }));
  const look = () =>
    location.pathname.endsWith(path) && told() !== before && told() !== ""
      ? requestAnimationFrame(() => done(performance.now() - begun))
      : requestAnimationFrame(look);
  look();
})"""

#: What is drawn on the strip, without the marks of what is under way.
DRAWN = """() => [...document.querySelectorAll(".strip svg *")]
  .map((n) => ["points", "d", "x", "y", "height", "fill"].map((a) => n.getAttribute(a))).join()"""


def step(page: Page) -> list[float]:
    """Milliseconds from the key to the frame that shows the next section."""
    took = []
    for _ in range(60):
        took.append(page.evaluate(SHOWN, [".section svg", "", "ArrowRight"]))
        page.wait_for_timeout(60)
    return took


def switch(page: Page, times: int) -> list[float]:
    """Milliseconds from the key to the frame in which the stop's inspector stands, each stop seen before."""
    took = []
    for i in range(times):
        at = (i * 3) % 10
        took.append(page.evaluate(SHOWN, [".inspector h1, .inspector h2, .page h2", f"/{STOPS[at]}", "1234567890"[at]]))
        page.wait_for_timeout(40)
    return took


def edit(page: Page) -> list[float]:
    """Milliseconds from Enter in the field of the least cover to the strip that has followed, and is not waiting any more."""
    took = []
    for i in range(20):
        field = page.get_by_role("textbox", name="Least cover")
        field.fill(str(61 + i % 9))
        depth = page.evaluate(DRAWN)
        field.evaluate(
            "f => { window.begun = 0; f.addEventListener('keydown', () => { window.begun = performance.now(); }, { once: true }); }"
        )
        field.press("Enter")
        followed = f"was => ({DRAWN})() !== was && document.querySelector('.strip [aria-busy=false]')"
        page.wait_for_function(followed, arg=depth, polling="raf")
        took.append(page.evaluate("() => performance.now() - window.begun"))
        page.wait_for_timeout(500)
    return took


def loads(page: Page, address: str) -> list[list[object]]:
    """Of each stop opened first: kB of script that came over the line, packed."""
    rows: list[list[object]] = []
    for stop in STOPS:
        context = page.context.browser.new_context(storage_state=page.context.storage_state())  # type: ignore[union-attr]
        fresh = context.new_page()
        client = context.new_cdp_session(fresh)
        client.send("Network.enable")
        sizes: dict[str, float] = {}
        scripts: set[str] = set()
        client.on("Network.responseReceived", lambda e: scripts.add(e["requestId"]) if e["type"] == "Script" else None)  # noqa: B023
        client.on("Network.loadingFinished", lambda e: sizes.update({e["requestId"]: e["encodedDataLength"]}))  # noqa: B023
        fresh.goto(address + re.sub(r"/[a-z]+$", f"/{stop}", page.url.split("?")[0].removeprefix(address)))
        fresh.wait_for_timeout(2500)
        rows.append([stop, sum(sizes.get(i, 0) for i in scripts) / 1000])
        context.close()
    return rows


def main() -> None:
    asked = argparse.ArgumentParser()
    asked.add_argument("address", nargs="?", default="http://127.0.0.1:8000")
    asked.add_argument("--switches", type=int, default=500)
    a = asked.parse_args()
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=["--js-flags=--expose-gc"])
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(a.address)
        page.get_by_label("Name", exact=False).first.fill("designer")
        page.get_by_label("Password").fill("designer")
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("link", name=re.compile("Fennick Vale Road")).last.click()
        page.get_by_role("link", name=re.compile("Overlay")).click()
        page.locator(".section svg polyline").first.wait_for()
        time.sleep(2)
        steps, edits = step(page), edit(page)
        page.locator(".strip").click(position={"x": 400, "y": 50})
        switch(page, 20)
        page.evaluate("gc()")
        before = page.evaluate("performance.memory.usedJSHeapSize")
        switches = switch(page, a.switches)
        page.evaluate("gc()")
        held = (page.evaluate("performance.memory.usedJSHeapSize") - before) / 1e6
        rows = [
            [name, *(float(np.percentile(took, q)) for q in (50, 95))]
            for name, took in (("step along the road", steps), ("switch of stops", switches), ("edit to strip", edits))
        ]
        table("From the key to the picture, ms", ["what", "p50", "p95"], rows)
        table(f"Held after {a.switches} switches", ["MB more", "MB a switch"], [[held, held / a.switches]])
        table("Script that a stop loads first, packed", ["stop", "kB"], loads(page, a.address))


if __name__ == "__main__":
    main()
