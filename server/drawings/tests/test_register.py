"""The register, drawings and styles as documents: in order, shared, brought from the library, undone."""

import base64
import io
import json
import zipfile
from typing import Any

import ezdxf
from pypdf import PdfReader

from projects.tests.cases import DemoCase
from saddle.drawings.starting import DRAWINGS, STYLES
from saddle.exchange.bundle import bundle_of, read_bundle, write_bundle
from saddle.exchange.starting import LIBRARY


def address(svg: str) -> str:
    """A drawing as a data address."""
    return "data:image/svg+xml;base64," + base64.b64encode(svg.encode()).decode()


class Register(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def rows(self) -> dict[str, dict[str, Any]]:
        return {d["key"]: d for d in self.work("register")["result"]["drawings"]}

    def test_a_new_project_has_every_kind_and_all_can_be_drawn(self) -> None:
        found = self.work("register")["result"]
        rows = found["drawings"]
        self.assertLessEqual(set(DRAWINGS), {d["key"] for d in rows})
        self.assertEqual(
            {d["kind"] for d in rows}, {"Plan", "Long section", "Typical cross-sections", "Cross-sections", "Schedule"}
        )
        self.assertEqual([d["fault"] for d in rows if d["fault"]], [])
        self.assertTrue(all(d["sheets"] and d["revision"] == "" for d in rows))
        numbers = [s["number"] for d in rows for s in d["sheets"]]
        self.assertEqual(len(numbers), len(set(numbers)))
        self.assertEqual(
            found["open_problems"], len([p for p in self.ask("GET", "/model").json()["problems"] if p["left"] is None])
        )

    def test_drawings_stand_in_the_order_that_people_give_them(self) -> None:
        before = list(self.rows())
        drawing = self.document("drawing", before[-1])
        self.put("drawing", before[-1], {**drawing["spec"], "place": 0}, drawing["version"])
        self.assertEqual(list(self.rows()), [before[-1], *before[:-1]])

    def test_numbers_and_titles_follow_their_patterns(self) -> None:
        block = self.document("title_block")
        self.put("title_block", "main", {**block["spec"], "numbering": "FV-{number}-{n} of {of}"}, block["version"])
        drawing = self.document("drawing", "long")
        self.put("drawing", "long", {**drawing["spec"], "name": "{alignment}: {from} to {to}"}, drawing["version"])
        sheet = self.rows()["long"]["sheets"][1]
        self.assertRegex(sheet["number"], r"^FV-LS-02 of 0\d$")
        self.assertRegex(sheet["title"], r"^.+: 0\+\d{3}\.000 to 0\+\d{3}\.000$")
        wrong = self.put("drawing", "long", {**drawing["spec"], "name": "{chainage}"}, drawing["version"] + 1)
        self.assertEqual(wrong.status_code, 400)
        self.assertIn("there is no field {chainage}", wrong.json()["message"])

    def test_a_range_and_a_list_choose_the_sections(self) -> None:
        drawing = self.document("drawing", "sections")
        some = {**drawing["spec"], "chainages": [200.0, 555.5]}
        self.assertEqual(self.put("drawing", "sections", some, drawing["version"]).status_code, 200)
        sheets = self.rows()["sections"]["sheets"]
        self.assertEqual([s["title"] for s in sheets], ["Cross-sections 0+200.000 to 0+560.000"])
        part = {**drawing["spec"], "from_chainage": 100.0, "to_chainage": 120.0}
        self.assertEqual(self.put("drawing", "sections", part, drawing["version"] + 1).status_code, 200)
        text = self.file_of(self.work("sheets")).content.decode()
        self.assertIn(">0+110.000<", text)
        self.assertNotIn(">0+130.000<", text)

    def test_files_of_every_drawing_open_elsewhere(self) -> None:
        self.shorten(*self.rows())
        for key, row in self.rows().items():
            pdf = PdfReader(io.BytesIO(self.file_of(self.work("sheets_pdf", key)).content))
            self.assertEqual(len(pdf.pages), len(row["sheets"]), key)
            self.assertEqual(len(pdf.outline), len(row["sheets"]))
            assert pdf.metadata is not None
            self.assertIn(row["number"], str(pdf.metadata.title))
            document = ezdxf.read(io.StringIO(self.file_of(self.work("sheets_dxf", key)).content.decode()))
            self.assertEqual(document.audit().errors, [], key)
            self.assertEqual(len(document.layouts) - 1, len(row["sheets"]))

    def test_dashes_are_line_types_in_dxf(self) -> None:
        document = ezdxf.read(io.StringIO(self.file_of(self.work("sheets_dxf", "plan")).content.decode()))
        used = {e.dxf.linetype for layout in document.layouts for e in layout.query("LWPOLYLINE")}
        self.assertIn("DASHES 6 1.2 1.2 1.2", used)
        for name in used - {"Continuous", "BYLAYER"}:
            self.assertIn(name, document.linetypes)

    def test_an_edit_of_section_lines_or_codes_shows_on_the_plan_at_once(self) -> None:
        """They are no part of the road's own figures, but of what is drawn."""
        before = [s["content"] for s in self.rows()["plan"]["sheets"]]
        group = self.document("section_lines", "drainage")
        lines = [*group["spec"]["lines"], {"kind": "at", "chainage": 100.0, "angle_deg": 0.0, "name": "New one"}]
        self.assertEqual(
            self.put("section_lines", "drainage", {**group["spec"], "lines": lines}, group["version"]).status_code, 200
        )
        after = [s["content"] for s in self.rows()["plan"]["sheets"]]
        self.assertNotEqual(before[0], after[0])
        self.assertEqual(before[3:], after[3:])
        self.assertIn(">New one<", self.file_of(self.work("sheets", "plan")).content.decode())
        codes = self.document("code_list")
        rules = [{**r, "colour": "#112233"} for r in codes["spec"]["rules"]] or [
            {"code": "EP", "meaning": "edge", "colour": "#112233"}
        ]
        self.assertEqual(self.put("code_list", "main", {"rules": rules}, codes["version"]).status_code, 200)
        self.assertIn("#112233", self.file_of(self.work("sheets", "plan")).content.decode())

    def test_the_register_is_a_drawing_too(self) -> None:
        listed = {"name": "Register of drawings", "number": "RG", "style": "register_a4", "place": 99}
        self.assertEqual(self.put("drawing", "listed", listed, 0).status_code, 200)
        rows = self.rows()
        self.assertEqual(rows["listed"]["kind"], "Register")
        words = " ".join(
            p.extract_text() for p in PdfReader(io.BytesIO(self.file_of(self.work("sheets_pdf", "listed")).content)).pages
        )
        for row in rows.values():
            self.assertRegex(words.replace("\n", " "), rf"{row['number']} .*{row['kind']} {len(row['sheets'])} - not issued")
        self.assertIn("Cross-sections 0+000.000 to 1+", words, "the range that the sheets cover together")
        # A drawing fewer is another register.
        drawing = self.document("drawing", "plan")
        self.ask("DELETE", f"/documents/drawing/plan?version={drawing['version']}")
        self.assertNotEqual(self.rows()["listed"]["sheets"][0]["content"], rows["listed"]["sheets"][0]["content"])

    def test_another_surface_stands_on_the_sections(self) -> None:
        drawing, style = self.document("drawing", "sections"), self.document("drawing_style", "sections_a3")
        self.put("drawing", "sections", {**drawing["spec"], "chainages": [200.0]}, drawing["version"])
        rows = [*style["spec"]["sheets"]["rows"], {"kind": "surface", "of": "Flood of last year"}]
        sheets = {
            **style["spec"]["sheets"],
            "rows": rows,
            "surfaces": [{"of": "other", "name": "Flood of last year", "line": "dotted"}],
        }
        self.assertEqual(
            self.put("drawing_style", "sections_a3", {**style["spec"], "sheets": sheets}, style["version"]).status_code, 200
        )
        self.assertIn("the project has none of this name", self.rows()["sections"]["sheets"][0]["left_out"][-1])
        level = {"name": "Flood of last year", "source": {"by": "plane", "level": 83.25}}
        self.assertEqual(self.put("surface", "flood", level, 0).status_code, 200)
        text = self.file_of(self.work("sheets")).content.decode()
        self.assertEqual(self.rows()["sections"]["sheets"][0]["left_out"], [])
        self.assertIn('data-layer="surfaces"', text)
        self.assertNotIn('data-layer="existing"', text)
        self.assertGreater(text.count(">83.250<"), 5)

    def test_another_road_is_named_as_it_is_called_now(self) -> None:
        """On plan and long section; another name is no change of any figure, and is drawn all the same."""
        asked = {"name": "Mill Lane", "side": "left", "from_chainage": 540, "to_chainage": 546}
        self.assertEqual(self.ask("POST", "/roads/of-mouth", asked).status_code, 200)
        for name, other in (("Mill Lane", "Kiln Lane"), ("Kiln Lane", "Mill Lane")):
            road = self.document("road", "mill-lane")
            self.assertEqual(self.put("road", "mill-lane", {**road["spec"], "name": name}, road["version"]).status_code, 200)
            for drawing in ("plan", "long"):
                job = self.work("sheets", drawing)
                count = len(self.rows()[drawing]["sheets"])
                text = "".join(self.file_of(job, k).content.decode() for k in range(count))
                self.assertIn(f">{name}<", text, drawing)
                self.assertNotIn(f">{other}<", text, drawing)

    def test_a_logo_is_looked_at_before_it_is_kept(self) -> None:
        block = self.document("title_block")
        for logo, why in (("data:text/html;base64,AAAA", "PNG or SVG"), (address("<svg><script>1</script></svg>"), "<script>")):
            refused = self.put("title_block", "main", {**block["spec"], "logo": logo}, block["version"])
            self.assertEqual(refused.status_code, 400)
            self.assertIn(why, refused.json()["message"])
        square = address('<svg xmlns="http://www.w3.org/2000/svg"><rect width="9" height="9" fill="#204060"/></svg>')
        self.assertEqual(self.put("title_block", "main", {**block["spec"], "logo": square}, block["version"]).status_code, 200)
        self.assertIn('data-source="logo"', self.file_of(self.work("sheets", "quantities")).content.decode())

    def test_a_style_that_a_drawing_has_stays(self) -> None:
        style = self.document("drawing_style", "long_a3")
        refused = self.ask("DELETE", f"/documents/drawing_style/long_a3?version={style['version']}")
        self.assertEqual(refused.status_code, 400)
        self.assertIn("Long section", refused.json()["message"])
        missing = self.put("drawing", "another", {"name": "x", "number": "N", "style": "nowhere"}, 0)
        self.assertEqual(missing.status_code, 200)
        for job in (self.work("sheets", "another"), self.work("sheets_pdf", "another")):
            self.assertEqual((job["state"], job["error"]["message"]), ("failed", "the style of this drawing is not there"))
        self.assertEqual(self.rows()["another"]["fault"], "the style of this drawing is not there")
        self.assertEqual(self.ask("POST", "/jobs/sheets?drawing=nothing").status_code, 404)

    def test_an_edit_is_one_step_told_in_words(self) -> None:
        style = self.document("drawing_style", "sections_a3")
        sheets = {**style["spec"]["sheets"], "areas": True}
        self.put("drawing_style", "sections_a3", {**style["spec"], "sheets": sheets}, style["version"])
        title = self.ask("GET", "/history").json()[0]["title"]
        self.assertEqual(title, "Drawing style “Sections, A3”: areas no to yes")
        self.ask("POST", "/undo")
        self.assertFalse(self.document("drawing_style", "sections_a3")["spec"]["sheets"]["areas"])

    def test_styles_and_reports_come_from_the_library_and_go_out_as_a_file(self) -> None:
        entries = {(e["kind"], e["key"]) for e in self.ask("GET", "/api/library").json()}
        self.assertLessEqual({("drawing_style", key) for key in STYLES}, entries)
        self.assertIn(("report", "setting_out"), entries)
        text = write_bundle(bundle_of(LIBRARY, [("drawing_style", "quantities_a4")]))
        self.assertEqual(
            {i["kind"] for i in json.loads(text)["items"]}, {"drawing_style", "report"}, "with the report that it draws"
        )
        self.assertEqual(read_bundle(text).specs()["drawing_style", "quantities_a4"], STYLES["quantities_a4"])
        checked = self.ask("POST", "/bundle/check", {"text": text}).json()
        self.assertEqual({c["state"] for c in checked}, {"same"})

    def test_insets_show_on_their_sheet_and_what_is_wrong_with_one_is_told(self) -> None:
        drawing = self.document("drawing", "plan")
        inset = {"sheet": 1, "chainage": 100.0, "width": 150.0, "height": 45.0, "scale": 100}
        self.put("drawing", "plan", {**drawing["spec"], "insets": [inset]}, drawing["version"])
        self.assertIn(">Section 0+100.000, 1:100<", self.file_of(self.work("sheets", "plan")).content.decode())
        self.put("drawing", "plan", {**drawing["spec"], "insets": [{**inset, "sheet": 50}]}, drawing["version"] + 1)
        job = self.work("sheets", "plan")
        self.assertEqual((job["state"], "inset 1 is on sheet 50" in job["error"]["message"]), ("failed", True))
        self.assertIn("inset 1", self.rows()["plan"]["fault"])

    def test_packages_of_one_issue_are_the_same_bytes(self) -> None:
        wanted = {"drawings": ["quantities"], "status": "construction", "reason": "To be built", "accepted": "known"}
        pk = self.done(self.ask("POST", "/issues", wanted))["result"]["id"]
        first, second = (
            self.file_of(self.done(self.ask("POST", f"/issues/{pk}/package"))).content for _ in range(2)
        )  # fmt: skip
        self.assertEqual(first, second)
        with zipfile.ZipFile(io.BytesIO(first)) as package:
            self.assertIn("drawings/QS rev A.pdf", package.namelist())
            words = PdfReader(io.BytesIO(package.read("drawings/QS rev A.pdf"))).pages[0].extract_text()
        for text in ("for construction", "To be built", "QS-01"):
            self.assertIn(text, words)
