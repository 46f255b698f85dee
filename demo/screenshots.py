"""Takes a picture of each main view of the running demo."""

import argparse
import math
import os
import re
from pathlib import Path

from playwright.sync_api import FilePayload, Page, sync_playwright

from demo.road import survey_csv

ROOT = Path(__file__).resolve().parent.parent
ADDRESS = os.environ.get("TIN_SADDLE_ADDRESS", "http://127.0.0.1:8000")
ARGUMENTS = ["--host-resolver-rules=MAP * ~NOTFOUND , EXCLUDE 127.0.0.1 , EXCLUDE localhost"]


def _import_dialog(page: Page) -> None:
    page.get_by_role("button", name="Import another survey").click()
    head, *rows = (row.split(",") for row in survey_csv().splitlines())
    part = [row for row in rows if 412_600 < float(row[1]) < 412_800 and row[4] not in ("BDY", "CUL", "PIT")]
    for row in part:
        row[3] = f"{float(row[3]) + 0.02 * math.sin(float(row[1]) / 20):.3f}"
    part[40][1] = "x"
    text = "\n".join(",".join(row) for row in (head, *part))
    file = FilePayload(name="resurvey.csv", mimeType="text/csv", buffer=text.encode())
    page.locator("input[type=file]").set_input_files(file)
    page.get_by_role("button", name="Check the file").click()
    page.get_by_role("radio", name="Replace the part that it covers").check()


def _depth_drawn(page: Page) -> None:
    page.get_by_role("region", name="Overlay depth").wait_for()
    page.wait_for_timeout(700)


def _bench(page: Page) -> None:
    page.get_by_role("status", name="Layer balance").wait_for()
    page.wait_for_timeout(700)


def _adopted(page: Page) -> None:
    page.get_by_role("status", name="What it would change").get_by_text("would change").wait_for()
    page.get_by_role("button", name="Show").hover()
    page.wait_for_timeout(500)


def _best(page: Page) -> None:
    page.get_by_role("button", name="Find best levels").click()
    page.get_by_role("status", name="What is saved").wait_for()
    page.wait_for_timeout(500)


def _profile(page: Page) -> None:
    page.get_by_role("group", name="IPs of the profile").wait_for()
    page.get_by_label("Level of IP 4", exact=True).click(force=True)  # the cell around it takes the press
    page.wait_for_timeout(700)


def _drawn(page: Page) -> None:
    page.get_by_label("Straightened diagram").wait_for()
    page.wait_for_timeout(700)


def _line(page: Page) -> None:
    page.get_by_role("table", name="Levels on the line").wait_for()
    page.wait_for_timeout(900)


def _fit(page: Page) -> None:
    page.get_by_role("button", name="Find elements").click()
    page.get_by_role("table", name="Residuals").wait_for(timeout=60_000)
    page.get_by_text("Intersection points", exact=True).click()
    page.wait_for_timeout(600)


def _sheet(page: Page) -> None:
    page.get_by_role("figure", name=re.compile("^Sheet ")).wait_for(timeout=60_000)
    page.get_by_role("navigation", name="Register").get_by_text("sheets").first.wait_for(timeout=60_000)


def _issue(page: Page, reason: str, letter: str) -> None:
    page.get_by_role("button", name="Issue", exact=True).click()
    page.get_by_role("textbox", name="Reason of the issue").fill(reason)
    page.get_by_role("textbox", name="Why the problems are accepted").fill("Settled in the next issue")
    page.get_by_role("dialog").get_by_role("button", name="Issue", exact=True).click()
    page.get_by_role("heading", name=f"Issue {letter}").wait_for(timeout=120_000)


def _compare(page: Page) -> None:
    """Two issues with an edit between them. It comes last, because the demo's road is another one afterwards."""
    _issue(page, "First issue", "A")
    sheets = page.url.split("?")[0]
    page.goto(sheets.replace("/sheets", "/overlay?at=200"))
    cover = page.get_by_role("textbox", name="Least cover")
    cover.fill("60")
    cover.press("Enter")
    page.wait_for_timeout(1500)
    page.goto(sheets)
    _issue(page, "Cover to 60 mm", "B")
    page.get_by_role("combobox", name="Compare with").click()
    page.get_by_title("issue A", exact=True).click()
    page.get_by_role("table", name="Documents changed").wait_for(timeout=60_000)
    page.get_by_role("radiogroup", name="Differences in").get_by_text("Sheets").click()
    page.get_by_role("button", name=re.compile("^XS-01")).click()
    page.get_by_role("figure", name="XS-01 as in B").wait_for()
    page.wait_for_timeout(700)


VIEWS = {
    "survey": ("survey?at=470", None),
    "import": ("survey", _import_dialog),
    "alignment": ("alignment?at=300", None),
    "guides": ("guides?sel=bus-bay&at=310", _drawn),
    "fit": ("alignment?at=300", _fit),
    "templates": ("templates?sel=template:urban/point/right/PathBack&at=150", _bench),
    "library": ("templates?sel=library&at=150", None),
    "crossfall": ("crossfall?at=1200&from=1040&to=1330", _adopted),
    "levels": ("levels?at=560&from=490&to=690", _best),
    "profile": ("levels?at=726&sel=profile:regrading:3", _profile),
    "overlay": ("overlay?at=520&from=480&to=700", _depth_drawn),
    "sections": ("sections?at=560", None),
    "divided": ("sections?road=right&at=1400", None),
    "section-lines": ("sections?sel=lines:drainage:0&at=872", _line),
    "quantities": ("quantities?at=300", None),
    "sheets": ("sheets", _sheet),
    "plan": ("sheets?sel=drawing:plan", _sheet),
    "reports": ("sheets?sel=report:layers", None),
    "compare": ("sheets", _compare),
}


FIRST = "Fennick Vale Road"
#: Views of another project than the first.
OF_PROJECT = {"divided": "Larkmoor Road"}


def main() -> None:
    parser = argparse.ArgumentParser()
    parser.add_argument("--to", type=Path, default=ROOT / "docs" / "screenshots")
    parser.add_argument("names", nargs="*", choices=[[], *VIEWS])
    options = parser.parse_args()
    options.to.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as p:
        browser = p.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=ARGUMENTS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.on("console", lambda m: print(m.type, m.text) if m.type in ("error", "warning") else None)
        page.on("pageerror", lambda e: print("page error", e))
        page.goto(ADDRESS)
        page.get_by_role("button", name="designer").click()
        page.get_by_role("heading", name="Projects").wait_for()
        projects = {
            name: str(page.get_by_role("link", name=re.compile(name)).get_attribute("href"))
            for name in (FIRST, *OF_PROJECT.values())
        }
        for name in options.names or VIEWS:
            path, prepare = VIEWS[name]
            page.goto(f"{ADDRESS}{projects[OF_PROJECT.get(name, FIRST)]}/{path}")
            page.wait_for_load_state("networkidle")
            if prepare:
                prepare(page)
            page.wait_for_timeout(500)
            page.screenshot(path=options.to / f"{name}.png")
            print(name)
        browser.close()


if __name__ == "__main__":
    main()
