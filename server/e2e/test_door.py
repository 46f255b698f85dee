"""The door: a first file is certified before it is taken, and a levelling sheet is a survey too."""

import re

import numpy as np
from django.contrib.auth.models import User
from playwright.sync_api import Page, expect

from e2e.browser import BrowserCase, pick
from e2e.turns import in_turn
from projects.models import Membership, Role
from survey.models import Survey
from survey.store import in_use, load
from tests.bombs import LINE, block, drawing, insert


def x_to_the_north() -> str:
    """A road of 200 m whose X points to the north, with two levels that nobody measured."""
    rows = ["No,X,Y,Z,Code"]
    for k, (s, (code, offset)) in enumerate((s, c) for s in range(0, 201, 10) for c in (("EP", -3.5), ("CL", 0.0), ("EP", 3.5))):
        level = 0.0 if k in (10, 40) else 511 + 0.01 * s - 0.025 * abs(offset)
        rows.append(f"{k + 1},{2000 + 0.35 * s + offset:.3f},{5000 + 0.93 * s:.3f},{level:.3f},{code}")
    return "\n".join(rows) + "\n"


class Door(BrowserCase):
    def into_a_new_project(self, page: Page, name: str, content: bytes) -> None:
        page.goto(f"{self.live_server_url}/")
        page.get_by_role("textbox", name="Name of the new project").fill("At the door")
        page.keyboard.press("Enter")
        page.get_by_role("button", name="Import a survey").click()
        self.send(page, name, content)

    def bring(self, page: Page, name: str, content: bytes) -> None:
        self.open(page, "survey?at=500")
        page.get_by_role("button", name="Import another survey").click()
        self.send(page, name, content)

    def send(self, page: Page, name: str, content: bytes) -> None:
        file = {"name": name, "mimeType": "application/octet-stream", "buffer": content}
        page.locator("input[type=file]").set_input_files(file)  # type: ignore[arg-type]

    @in_turn
    def test_a_first_file_is_certified(self) -> None:
        self.start_worker()
        page = self.page()
        self.into_a_new_project(page, "north.csv", x_to_the_north().encode())
        for heading, field in (("No", "Number"), ("X", "Easting"), ("Y", "Northing"), ("Z", "Level"), ("Code", "Code")):
            head = page.get_by_role("combobox", name=f"Column {heading}", exact=True)
            expect(page.get_by_role("columnheader").filter(has=head)).to_contain_text(field)
        page.get_by_role("button", name="Check the file").click()
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text("The headings “X” and “Y” do not say which is the easting", timeout=30_000)
        take = page.get_by_role("button", name="Import 61 points")
        expect(take).to_be_disabled()
        page.get_by_role("radio", name=re.compile("Eastings and northings exchanged")).check()
        read = page.get_by_label("How the file was read")
        expect(read).to_contain_text("5,000 to 5,186 m", timeout=30_000)
        expect(read).to_contain_text("in metres, decimal point, letters UTF-8")
        expect(read).to_contain_text("none steeper than 1 in 1")
        expect(read.get_by_role("checkbox", name="left out: it stands for none")).to_be_checked()
        self.judge(page, "certificate")
        take.click()
        expect(page.get_by_role("dialog")).to_be_hidden(timeout=30_000)
        survey = load(Survey.objects.latest("id").pk).survey
        self.assertGreater(float(np.ptp(survey.xyz[:, 0])), 2 * float(np.ptp(survey.xyz[:, 1])))
        self.assertGreater(float(survey.xyz[:, 2].min()), 500)

    @in_turn
    def test_a_levelling_sheet_becomes_sections(self) -> None:
        self.start_worker()
        page = self.page()
        rows = ["Chainage,-4,-3.5,CL,3.5,4"]
        rows += [
            f"{c}," + ",".join(f"{90 + 0.002 * c - 0.025 * abs(o):.3f}" for o in (-4, -3.5, 0, 3.5, 4))
            for c in range(0, 1601, 20)
        ]
        self.bring(page, "levels.csv", "\n".join(rows).encode())
        kind = page.get_by_role("combobox", name="Kind of table")
        expect(page.get_by_role("dialog")).to_contain_text("A row a chainage, offsets above")
        pick(kind, "Levels by chainage and offset")
        pick(kind, "A row a chainage, offsets above")
        page.get_by_role("button", name="Check the file").click()
        expect(page.get_by_role("table", name="Codes found").get_by_role("row", name=re.compile("^CL"))).to_contain_text(
            "81", timeout=30_000
        )
        page.get_by_role("button", name="Import 405 points").click()
        expect(page.get_by_role("dialog")).to_be_hidden(timeout=30_000)
        page.get_by_role("link", name=re.compile("^(sound |problems )?Sections")).click()
        # On the surface of the sheet: 90 + 0.002 x 500 on the alignment.
        expect(page.get_by_role("img", name="Section at 0+500.000")).to_be_visible()
        self.assertEqual(Survey.objects.latest("id").points, 405)

    @in_turn
    def test_a_bomb_is_stopped_and_a_colleague_goes_on(self) -> None:
        other = User.objects.create_user("olga", first_name="Olga", last_name="Reed", password="x")
        Membership.objects.create(project=self.project, user=other, role=Role.DESIGNER)
        page, theirs = self.page(), self.page("olga")
        # Blocks that each hold ten of the one before: ten million lines.
        blocks = "".join(block(f"B{k}", insert(f"B{k - 1}") * 10) for k in range(1, 8))
        bomb = drawing(block("B0", LINE) + blocks, insert("B7"))
        self.bring(page, "small.dxf", bomb)
        self.bring(theirs, "north.csv", x_to_the_north().encode())
        theirs.get_by_role("button", name="Check the file").click()
        page.get_by_role("button", name="Stop", exact=True).click()
        expect(page.get_by_role("progressbar")).to_be_hidden()
        self.start_worker()
        expect(theirs.get_by_role("alert")).to_contain_text("do not say which is the easting", timeout=30_000)
        # Sent again it is read, within its limits, and refused with what is wrong.
        self.bring(page, "small.dxf", bomb)
        expect(page.get_by_role("alert")).to_contain_text("far more than a file of its size", timeout=60_000)

    @in_turn
    def test_degrees_come_into_a_chosen_grid(self) -> None:
        self.start_worker()
        page = self.page()
        rows = "".join(f"{k},{13.8266 + k % 5 * 1e-4:.6f},{47.7213 + k // 5 * 1e-4:.6f},{500 + k % 3}\n" for k in range(20))
        self.into_a_new_project(page, "gnss.csv", rows.encode())
        page.get_by_role("button", name="Check the file").click()
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text("look like degrees of longitude and latitude")
        alert.get_by_role("button", name="Convert them into metres").click()
        alert.get_by_role("radio", name="As it was read").check()
        read = page.get_by_label("How the file was read")
        expect(read).to_contain_text("in degrees, levels in metres")
        grid = page.get_by_role("combobox", name="Reference system of the project")
        grid.click()
        page.keyboard.type("etrs89 utm 33n")
        page.get_by_title("ETRS89 / UTM zone 33N (EPSG:25833)", exact=True).click()
        expect(read).to_contain_text("412,0")
        expect(page.get_by_role("progressbar")).to_be_hidden()
        page.get_by_role("button", name="Import 20 points").click()
        expect(page.get_by_role("dialog")).to_be_hidden(timeout=30_000)
        expect(page.get_by_text("in the reference system")).to_be_visible()
        survey = Survey.objects.latest("id")
        self.assertEqual(in_use(survey.project).system, "EPSG:25833")
