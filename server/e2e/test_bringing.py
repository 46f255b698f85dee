"""Surveys of other makes: decimal commas, saved mappings, adding to what is there, drawings."""

import csv
import io
import re
from typing import Any

import ezdxf
from playwright.sync_api import Page, expect

from demo.road import survey_csv
from design.models import Document
from e2e.browser import BrowserCase, pick
from e2e.test_journeys import fresh
from e2e.turns import in_turn
from survey.models import Survey
from survey.store import load


def choose(page: Page, name: str, content: bytes) -> None:
    file: Any = {"name": name, "mimeType": "application/octet-stream", "buffer": content}
    page.locator("input[type=file]").set_input_files(file)


def begin(page: Page) -> None:
    page.get_by_role("button", name="Import another survey").click()


COMMAS = "Punkt;Hoch;Rechts;Hoehe;Art\n" + "".join(
    f"n{i};{286600 + i},5;{412310 + 3 * (i % 5)},25;{90 + i / 10:.1f};GR\n".replace(".", ",") for i in range(12)
)


class OtherMakes(BrowserCase):
    @in_turn
    def test_decimal_commas_a_kept_mapping_and_adding(self) -> None:
        rules = [{"code": "LIP", "meaning": "median"}, {"code": "NEW", "meaning": "shoulder"}]
        Document.objects.create(
            project=self.project, kind="saved_codes", key="office", spec={"name": "Office codes", "codes": {"rules": rules}}
        )
        self.start_worker()
        page = self.page()
        self.open(page, "survey?at=100")
        begin(page)
        choose(page, "commas.csv", COMMAS.encode())
        expect(page.get_by_role("checkbox", name="The first row holds headings")).to_be_checked()
        check = page.get_by_role("button", name="Check the file")
        # Headings of another language are known; what they name is told.
        for field, heading in (
            ("Number", "Punkt"),
            ("Easting", "Rechts"),
            ("Northing", "Hoch"),
            ("Level", "Hoehe"),
            ("Code", "Art"),
        ):
            said = page.get_by_role("combobox", name=f"Column {heading}", exact=True)
            expect(page.get_by_role("columnheader").filter(has=said)).to_contain_text(field)
        code = page.get_by_role("combobox", name="Column Art", exact=True)
        pick(code, "not taken")
        pick(code, "Code")
        page.get_by_role("textbox", name="Name for this mapping").fill("Commas, north first")
        page.get_by_role("button", name="Keep mapping").click()
        expect(page.get_by_role("combobox", name="Saved mapping")).to_be_visible()
        check.click()
        expect(page.get_by_role("table", name="Codes found")).to_contain_text("GR")
        expect(page.get_by_role("img", name="The file from above, beside what is there")).to_be_visible()
        page.get_by_role("radio", name="Put it beside").check()
        page.get_by_role("button", name="Import 12 points").click()
        expect(page.get_by_role("complementary", name="Inspector")).to_contain_text("6,199", timeout=30_000)
        self.assertEqual(Survey.objects.latest("id").points, 12)
        page.get_by_text("Codes", exact=True).click()
        expect(page.get_by_role("group", name="Code list")).to_contain_text("LIP")
        # What the office says of codes is taken over, and counts for those to come; the list that results is kept as another.
        pick(page.get_by_role("combobox", name="Take over a list of codes"), "Office codes")
        expect(page.get_by_role("group", name="Code list")).to_contain_text("median")
        page.get_by_role("textbox", name="Name of the list of codes").fill("This road")
        page.get_by_role("button", name="Keep", exact=True).click()
        expect(page.get_by_role("textbox", name="Name of the list of codes")).to_have_value("")
        fresh(page)
        lists = {
            d.spec["name"]: d.spec["codes"]["rules"] for d in Document.objects.filter(project=self.project, kind="saved_codes")
        }
        meanings = {r["code"]: r["meaning"] for r in lists["This road"]}
        self.assertEqual((meanings["LIP"], meanings["NEW"], meanings["CL"]), ("median", "shoulder", "crown"))
        kept = Document.objects.get(project=self.project, kind="mapping").spec
        self.assertEqual((kept["name"], kept["mapping"]["decimal"], kept["mapping"]["east"]), ("Commas, north first", ",", 2))
        # The road still stands on the old points, to which the new ones were added.
        page.get_by_role("link", name="Overlay").click()
        expect(page.get_by_role("img", name="Section at 0+100.000")).to_contain_text("LaneEdge")
        page.get_by_role("link", name="Survey").click()
        begin(page)
        choose(page, "again.csv", COMMAS.encode())
        pick(page.get_by_role("combobox", name="Saved mapping"), "Commas, north first")
        expect(check).to_be_enabled()

    @in_turn
    def test_another_delimiter_and_fixed_widths(self) -> None:
        page = self.page()
        self.open(page, "survey?at=100")
        begin(page)
        choose(page, "bars.txt", b"1|412310|286600|90\n2|412320|286600|91\n3|412310|286620|92\n")
        pick(page.get_by_role("combobox", name="Delimiter"), "bar")
        first = page.get_by_role("table", name="First rows")
        expect(first.get_by_role("cell", name="412310").first).to_be_visible()
        expect(page.get_by_role("button", name="Check the file")).to_be_enabled()
        # Nothing stands between number and easting: the ruler there is made by a click, and moved.
        self.open(page, "survey?at=100")
        begin(page)
        choose(page, "wide.txt", b"1001412310.25 286600 90\n1002412320.25 286600 91\n1003412310.25 286620 92\n")
        pick(page.get_by_role("combobox", name="Delimiter"), "fixed widths")
        expect(first.get_by_role("cell", name="1001412310.25", exact=True)).to_be_visible()
        sheet = page.get_by_role("group", name="Where columns begin")
        sheet.locator("pre").click(position={"x": 22, "y": 12})  # about the third letter
        ruler = page.get_by_role("slider", name="Column 2 begins at")
        expect(first.get_by_role("cell", name="1001412310.25", exact=True)).to_have_count(0)
        for _ in range(9):
            at = int(ruler.get_attribute("aria-valuenow") or 0)
            if at == 4:
                break
            ruler.focus()
            page.keyboard.press("ArrowRight" if at < 4 else "ArrowLeft")
            expect(ruler).to_have_attribute("aria-valuenow", str(at + (1 if at < 4 else -1)))
        expect(first.get_by_role("cell", name="412310.25", exact=True).first).to_be_visible()
        expect(page.get_by_role("button", name="Check the file")).to_be_enabled()

    @in_turn
    def test_a_drawing_by_layers(self) -> None:
        self.start_worker()
        document = ezdxf.new("R2010")
        space = document.modelspace()
        for x in range(0, 60, 10):
            for y in range(0, 40, 10):
                space.add_point((412300 + x, 286540 + y, 80 + x / 100), dxfattribs={"layer": "GROUND"})
        space.add_polyline3d([(412300, 286545, 80), (412330, 286546, 80.3), (412350, 286545, 80.5)], dxfattribs={"layer": "KERB"})
        space.add_circle((412310, 286550), 3, dxfattribs={"layer": "TREES"})  # nobody gave it a level
        space.add_text("north")
        document.header["$INSUNITS"] = 1  # inches, which no survey is drawn in
        out = io.StringIO()
        document.write(out)
        page = self.page()
        self.open(page, "survey?at=10")
        begin(page)
        choose(page, "field.dxf", out.getvalue().encode())
        layers = page.get_by_role("group", name="Layers of the drawing")
        expect(layers).to_contain_text("GROUND", timeout=30_000)
        expect(page.get_by_role("dialog").get_by_role("status")).to_contain_text(
            "It says inches. In metres it is 50 m by 30 m, from E 412,300 N 286,540."
        )
        pick(page.get_by_role("combobox", name="Unit of the drawing"), "feet")
        expect(page.get_by_role("dialog").get_by_role("status")).to_contain_text("In feet it is 15 m by 9.14 m")
        check = page.get_by_role("button", name="Check the file")
        check.click()
        # In feet it would lie elsewhere: that is found out, and put right with one click.
        expect(page.get_by_role("alert")).to_contain_text("In metres the points would lie", timeout=30_000)
        expect(page.get_by_role("button", name=re.compile("Import 27"))).to_be_disabled()
        page.get_by_role("radio", name=re.compile("In metres")).check()
        codes = page.get_by_role("table", name="Codes found")
        expect(codes).to_contain_text("GROUND", timeout=30_000)
        expect(codes).to_contain_text("KERB")
        told = page.get_by_role("table", name="Left out or noticed")
        expect(told).to_contain_text("on TREES left out; all else lies from 80.00 to 80.50 m")
        expect(told).to_contain_text("the drawing says that its unit is the inch; it was read in metres")
        page.get_by_role("checkbox", name="KERB breakline").uncheck()
        page.get_by_role("button", name=re.compile("Import 27 points")).click()
        page.get_by_text("Codes", exact=True).click(timeout=30_000)
        expect(page.get_by_role("checkbox", name="KERB is a breakline")).not_to_be_checked()
        self.assertEqual(Survey.objects.latest("id").points, 27)

    def test_a_broken_file_says_so_and_leaves_all_as_it_was(self) -> None:
        self.start_worker()
        before = Survey.objects.count()
        page = self.page()
        self.open(page, "survey?at=10")
        begin(page)
        choose(page, "broken.xml", b"<LandXML><CgPoints></LandXML>")
        expect(page.get_by_role("alert")).to_contain_text("not sound XML", timeout=30_000)
        choose_again = survey_csv()[:2000].encode()
        choose(page, "part.csv", choose_again)
        expect(page.get_by_role("table", name="First rows")).to_be_visible()
        self.assertEqual(Survey.objects.count(), before)


def road_rows(west: float, east: float) -> list[list[str]]:
    """Rows of the demo survey between two eastings, without pipes and pits."""
    rows = [row.split(",") for row in survey_csv().splitlines()[1:]]
    return [row for row in rows if west < float(row[1]) < east and row[4] in ("CL", "EP", "GR", "LIP")]


class Later(BrowserCase):
    @in_turn
    def test_northing_first_and_a_part_surveyed_again(self) -> None:
        """A second survey of 200 m, whose columns are exchanged: it is noticed, put right, and replaces its part alone."""
        self.start_worker()
        before = load(Survey.objects.latest("id").pk).survey
        again = [[r[0], r[2], r[1], f"{float(r[3]) + 0.03:.3f}", *r[4:]] for r in road_rows(412_600, 412_800)]
        text = "number,x,y,level,code,line,order\n" + "\n".join(",".join(row) for row in again)
        page = self.page()
        self.open(page, "survey?at=400")
        begin(page)
        choose(page, "again.csv", text.encode())
        page.get_by_role("button", name="Check the file").click()
        alert = page.get_by_role("alert")
        expect(alert).to_contain_text(
            re.compile("With eastings and northings exchanged the points would lie . m from what is there"), timeout=30_000
        )
        expect(page.get_by_role("img", name="The file as it was read, beside what is there")).to_be_visible()
        expect(page.get_by_role("button", name=f"Import {len(again)} points")).to_be_disabled()
        page.get_by_role("radio", name=re.compile("Eastings and northings exchanged")).check()
        page.get_by_role("radio", name="Replace the part that it covers").check(timeout=30_000)
        expect(alert).to_be_hidden()
        expect(page.get_by_role("img", name=re.compile("Levels move by .* mm, .* on average"))).to_be_visible()
        page.get_by_role("button", name=f"Import {len(again)} points").click()
        expect(page.get_by_role("dialog")).to_be_hidden(timeout=30_000)
        after = load(Survey.objects.latest("id").pk).survey
        old = {str(n): z for n, z in zip(before.number, before.xyz[:, 2], strict=True)}
        for number, east, z in zip(after.number, after.xyz[:, 0], after.xyz[:, 2], strict=True):
            if east < 412_590 or east > 412_810:
                self.assertEqual(z, old[str(number)])
        self.assertEqual(
            sum(
                abs(z - old.get(n.rstrip("+"), z) - 0.03) < 1e-6
                for n, z in zip(after.number.astype(str), after.xyz[:, 2], strict=True)
            ),
            len(again),
        )
        # The road still stands where nothing was surveyed again.
        page.get_by_role("link", name="Overlay").click()
        expect(page.get_by_role("img", name="Section at 0+400.000")).to_contain_text("LaneEdge")


def field_file() -> str:
    """Crown, edges and ground of the demo road as a surveyor writes them: no column for lines, words at their ends."""
    rows = [row for row in csv.DictReader(io.StringIO(survey_csv())) if row["code"] in ("CL", "EP", "GR")]
    lines: dict[tuple[str, str], list[int]] = {}
    for k, row in enumerate(rows):
        if row["line"]:
            lines.setdefault((row["code"], row["line"]), []).append(k)
    written = {k: row["code"] for k, row in enumerate(rows)}
    for name, ((code, _), members) in zip("ABCDEF", lines.items(), strict=False):
        for k in members:
            written[k] = f"{code}-{name}{' ST' if k == members[0] else ' END' if k == members[-1] else ''}"
    head = "number,easting,northing,level,code\n"
    return head + "".join(f"{r['number']},{r['easting']},{r['northing']},{r['level']},{written[k]}\n" for k, r in enumerate(rows))


class FromTheField(BrowserCase):
    @in_turn
    def test_lines_from_codes_with_words(self) -> None:
        """No column says which points make a line: the codes do, and it is seen before anything is written."""
        self.start_worker()
        page = self.page()
        self.open(page, "survey?at=100")
        begin(page)
        choose(page, "field.csv", field_file().encode())
        apart = page.get_by_role("table", name="Codes taken apart")
        expect(apart).to_contain_text("CL A")
        expect(page.get_by_role("img", name=re.compile("lines in plan"))).to_be_visible()
        expect(page.get_by_role("textbox", name="Joined by")).to_have_value("-")
        expect(page.get_by_label("Meaning of word 2", exact=True)).to_be_visible()
        # Said at an example: what is no word is a code, and back.
        word = apart.get_by_role("button", name="ST", exact=True).first
        expect(word).to_have_class("piece control")
        for said, kind in (("a code of lines", "code"), ("a word: a line begins", "control")):
            word.click()
            page.get_by_role("menuitem", name=said).click()
            expect(word).to_have_class(f"piece {kind}")
        page.get_by_role("textbox", name="Name for this mapping").fill("Field book")
        page.get_by_role("button", name="Keep mapping").click()
        expect(page.get_by_role("combobox", name="Saved mapping")).to_be_visible()
        page.get_by_role("button", name="Check the file").click()
        codes = page.get_by_role("table", name="Codes found")
        expect(codes.get_by_role("row", name=re.compile("^CL"))).to_contain_text("crown")
        page.get_by_role("button", name=re.compile(r"^Import \d")).click()
        expect(page.get_by_role("dialog")).to_be_hidden(timeout=30_000)
        found = load(Survey.objects.latest("id").pk).survey.lines_by_code()
        was = load(Survey.objects.earliest("id").pk).survey.lines_by_code()
        self.assertEqual({c: len(lines.start) for c, lines in found.items()}, {c: len(was[c].start) for c in ("CL", "EP")})
        kept = Document.objects.get(project=self.project, kind="mapping").spec["mapping"]["grammar"]
        self.assertEqual((kept["marks"], kept["points"]), ("-", ["GR"]))


class Following(BrowserCase):
    @in_turn
    def test_a_point_follows_the_surveyed_edge(self) -> None:
        page = self.page()
        self.open(page, "guides?at=1030&from=900&to=1080")
        page.get_by_text("Follow rules", exact=True).click()
        page.get_by_role("button", name="Add rule").click()
        rule = page.get_by_role("region", name="Follow rules")
        # It begins with the side of the guide that is chosen.
        rule.get_by_role("radiogroup", name="Side of rule 3").get_by_text("right").click()
        pick(rule.get_by_role("combobox", name="Follows source").last, "Line EP")
        fresh(page)
        page.get_by_text("Followed points", exact=True).click()
        # The demo's old pavement is 0.55 m narrower here than the lane of the template.
        expect(page.get_by_role("table", name="Followed points")).to_contain_text(re.compile(r"\+2\.[5-6]\d\d"))
        rules = Document.objects.get(project=self.project, kind="follow").spec["rules"]
        self.assertEqual(rules[-1]["source"], {"by": "line", "code": "EP", "within": 8.0, "side": None})
        page.get_by_role("link", name="Sections").click()
        expect(page.get_by_role("table", name="Points of the section")).to_contain_text(re.compile(r"\+2\.[5-6]\d\d"))

    @in_turn
    def test_a_lay_by_from_the_menu_to_concrete(self) -> None:
        """Made, told that nothing follows it, and built with one click."""
        page = self.page()
        self.open(page, "guides?at=1430&from=1400&to=1480")
        page.get_by_role("button", name="New guide").click()
        page.get_by_role("menuitem", name="Lay-by").click()
        page.get_by_role("checkbox", name=re.compile("^The edge of the lane follows it")).uncheck()
        page.get_by_role("dialog").get_by_role("button", name="Make guide").click()
        expect(page.get_by_role("group", name="Pieces")).to_contain_text("1+400.00")
        fresh(page)
        key = Document.objects.filter(project=self.project, kind="guide").latest("id").key
        page.get_by_role("link", name="Overlay").click()
        problems = page.get_by_role("region", name="Problems")
        expect(problems).to_contain_text("nothing follows guide")
        problems.get_by_role("button", name=re.compile("^Let LaneEdge .* follow it")).click()
        self.until(
            page,
            lambda: Document.objects.get(project=self.project, kind="follow").spec["rules"][0]["source"].get("guide") == key,
            "a rule lets the lane follow the lay-by",
        )
        expect(problems).not_to_contain_text("nothing follows guide")

    @in_turn
    def test_an_edge_widened_on_curves_by_a_standard(self) -> None:
        page = self.page()
        self.open(page, "guides?at=300")
        page.get_by_role("button", name="New guide").click()
        page.get_by_role("menuitem", name="Edge widened on curves by a standard").click()
        pick(page.get_by_role("combobox", name="Standard", exact=True), "IRC, table")
        fresh(page)
        spec = Document.objects.filter(project=self.project, kind="guide").latest("id").spec
        self.assertEqual(spec["source"]["rule"]["standard"], "radius_table")
        page.get_by_role("link", name="Overlay").click()
        pick(page.get_by_role("combobox", name="Right edge source"), "Edge widened on curves")
        fresh(page)
        treatments = Document.objects.get(project=self.project, kind="treatments").spec["ranges"]
        self.assertEqual(treatments[0]["work"]["right_edge"]["by"], "guide")
        page.get_by_role("link", name="Guides").click()
        page.get_by_role("button", name=re.compile("^Edge widened on curves")).click()
        expect(page.get_by_role("button", name="Remove guide")).to_be_disabled()
        expect(page.get_by_title("Used by: Treatments")).to_be_visible()


def strangers_file() -> bytes:
    """A field file as nobody here writes one: a title, northing first, compound headings, words of its own, ground that lies about."""
    points = list(csv.DictReader(io.StringIO(survey_csv())))
    rows: list[str] = []
    for code, name in (("EP", "RAND"), ("CL", "ACHSE"), ("GR", "GEL")):
        lines: dict[str, list[dict[str, str]]] = {}
        for point in points:
            if point["code"] == code:
                lines.setdefault(point["line"], []).append(point)
        for k, members in enumerate(lines.values(), start=1):
            for at, point in enumerate(members):
                word = "" if code == "GR" else " ANF" if at == 0 else " SCHL" if at == len(members) - 1 else ""
                written = f"{name}{'' if code == 'GR' else k}{word}"
                place = ";".join(point[f].replace(".", ",") for f in ("northing", "easting", "level"))
                rows.append(f"P{len(rows)};{place};{written}")
    return ("Los 2, zweiter Teil\r\nPunktnr;Hochwert;Rechtswert;Höhe (m);Punktcode\r\n" + "\r\n".join(rows)).encode("cp1252")


class Strangers(BrowserCase):
    @in_turn
    def test_a_field_file_that_nobody_prepared(self) -> None:
        self.start_worker()
        page = self.page()
        self.open(page, "survey?at=100")
        begin(page)
        choose(page, "aufnahme.txt", strangers_file())
        dialog = page.get_by_role("dialog")
        apart = dialog.get_by_role("table", name="Codes taken apart")
        expect(apart.get_by_role("row").first).to_contain_text("RAND1 ANF")
        expect(dialog).to_contain_text("ANF is taken for a word: lines begin at 3 points.")
        expect(dialog.get_by_role("textbox", name="Codes without lines")).to_have_value("GEL")
        page.get_by_role("button", name="Check the file").click()
        found = page.get_by_role("table", name="Codes found")
        for code, offered, lines in (("RAND", "may be edge", "2"), ("ACHSE", "may be crown", "1")):
            row = found.get_by_role("row").filter(has_text=code)
            expect(row).to_contain_text(offered, timeout=30_000)
            expect(row.get_by_role("cell").nth(2)).to_have_text(lines)
            row.get_by_role("button", name=offered).click()
            expect(row).not_to_contain_text("may be")
        page.get_by_role("button", name=re.compile("Import [0-9,]+ points")).click()
        expect(dialog).to_have_count(0, timeout=30_000)
        codes = Document.objects.get(project=self.project, kind="code_list").spec["rules"]
        meanings = {r["code"]: r["meaning"] for r in codes}
        self.assertEqual((meanings["RAND"], meanings["ACHSE"], meanings["GEL"]), ("edge", "crown", "ground"))
        fresh(page)
