"""Crossfalls through the API: operations that write nothing, files out and in."""

import io

from openpyxl import Workbook

from design.models import EditRecord
from projects.tests.cases import DemoCase

RANGE = {"from_chainage": 480, "to_chainage": 680}


class Crossfalls(DemoCase):
    def setUp(self) -> None:
        self.sign_in("designer")

    def test_measured_and_present(self) -> None:
        found = self.ask("GET", "/crossfalls").json()
        i = found["chainage"].index(560.0)
        self.assertEqual((found["left"][i], found["right"][i]), (-2.5, -2.5))  # given there
        self.assertNotEqual(found["measured_left"][i], -2.5)
        j = found["chainage"].index(900.0)
        self.assertAlmostEqual(found["left"][j], found["measured_left"][j])  # measured there

    def test_an_operation_writes_nothing(self) -> None:
        body = {"operation": {"kind": "one_value", "pct": -3}, **RANGE, "table": {"rows": []}}
        edits = EditRecord.objects.count()
        rows = self.ask("POST", "/crossfalls/apply", body).json()["rows"]
        self.assertEqual((rows[0]["chainage"], rows[-1]["chainage"]), (480, 680))
        self.assertTrue(all(r["left_pct"] == r["right_pct"] == -3 for r in rows))
        self.assertEqual(EditRecord.objects.count(), edits)
        body["to_chainage"] = 400
        self.assertEqual(self.ask("POST", "/crossfalls/apply", body).status_code, 400)

    def test_csv_round_trip_and_bad_lines(self) -> None:
        rows = [{"chainage": 0, "left_pct": -2.5, "right_pct": 1.25}, {"chainage": 99.5, "left_pct": 3, "right_pct": -3}]
        self.put("crossfalls", "main", {"rows": rows}, self.document("crossfalls")["version"])
        text = self.ask("GET", "/files/crossfalls.csv").content.decode()
        self.assertEqual(self.send("/crossfalls/read", text.encode()).json()["rows"], rows)
        book = Workbook()
        for row in [("Chainage m", "Left %", "Right %"), *[tuple(r.values()) for r in rows]]:
            book.active.append(row)  # type: ignore[union-attr]
        book.save(out := io.BytesIO())
        self.assertEqual(self.send("/crossfalls/read", out.getvalue(), "crossfalls.xlsx").json()["rows"], rows)
        for bad, words in (
            ("0;1;2\n10;x;2", "line 2: three numbers"), ("0,1,2\n0,1,2", "line 2: chainage 0 stands on line 1 too"),
            ("5;55;1", "line 1: a crossfall lies between"), ("", "the file is empty"), ("\ufeff", "no crossfalls"), ("Chainage", "no crossfalls"), ("1;2", "line 1: three numbers"),
        ):  # fmt: skip
            answer = self.send("/crossfalls/read", bad.encode())
            self.assertEqual(answer.status_code, 400)
            self.assertIn(words, answer.json()["message"])

    def test_how_the_curves_turn(self) -> None:
        body = {"kind": "superelevate", "speed_kmh": 60, "most_pct": 6, "normal_pct": 2.5, "width": 3.25, "lanes": 1}
        found = self.ask("POST", "/crossfalls/superelevation", body).json()
        self.assertGreaterEqual(len(found), 3)
        self.assertEqual(found[0]["keys"][0]["name"], "normal crown ends")
        self.assertLess(found[0]["keys"][0]["chainage"], found[0]["start"])
