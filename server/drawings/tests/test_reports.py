"""Reports over the API, and on sheets."""

import csv
import io

from openpyxl import load_workbook

from projects.tests.cases import DemoCase


class Reports(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def test_table_files_and_sheet_say_the_same(self) -> None:
        found = self.ask("GET", "/reports/layers").json()
        heads = [h["title"] for h in found["heads"]]
        rows = list(csv.reader(io.StringIO(self.ask("GET", "/files/reports/layers.csv").content.decode())))
        self.assertEqual(rows, [heads, *found["rows"]])
        file = self.ask("GET", "/files/reports/layers.xlsx")
        self.assertIn("Fennick-Vale-Road_Layer-quantities-by-treatment.xlsx", file["Content-Disposition"])
        book = load_workbook(io.BytesIO(file.content)).worksheets[0]
        self.assertEqual(book.max_row, len(rows))
        sheets = self.work("sheets", "quantities")
        svg = "".join(self.file_of(sheets, i).content.decode() for i in range(len(sheets["result"]["sheets"])))
        for row in found["rows"]:
            for cell in filter(None, row):
                self.assertIn(f">{cell}<", svg)

    def test_an_edit_of_the_layout_shows_at_once_and_on_the_sheet(self) -> None:
        layout = self.document("report", "layers")
        spec = {**layout["spec"], "name": "Only asphalt", "items": ["Surface course"], "to_chainage": 480}
        self.assertEqual(self.put("report", "layers", spec, layout["version"]).status_code, 200)
        found = self.ask("GET", "/reports/layers").json()
        self.assertEqual({row[3] for row in found["rows"][:-1]}, {"Surface course"})
        self.assertEqual(found["note"], "From 0.000 to 480.000.")
        self.assertIn(">Only asphalt<", self.file_of(self.work("sheets", "quantities")).content.decode())

    def test_what_is_wrong_is_named(self) -> None:
        self.assertEqual(self.ask("GET", "/reports/nothing").status_code, 404)
        self.assertEqual(self.ask("GET", "/files/reports/layers.pdf").status_code, 400)
        layout = self.document("report", "layers")
        wrong = self.put("report", "layers", {**layout["spec"], "columns": [{"field": "colour"}]}, layout["version"])
        self.assertEqual(wrong.status_code, 400)
        self.assertIn("there is no column colour here", wrong.json()["message"])
        refused = self.ask("DELETE", f"/documents/report/layers?version={layout['version']}")
        self.assertEqual(refused.status_code, 400)
        self.assertIn("Layer quantities, A4", refused.json()["message"])
