"""Reports against the quantities and sections that they are made of, and against sums worked out by hand."""

import csv
import io
from decimal import Decimal
from typing import get_args
from unittest import TestCase

import numpy as np
from openpyxl import load_workbook
from pydantic import ValidationError

from saddle.exchange.tables import report_csv, report_xlsx
from saddle.pipeline import solve
from saddle.quantities.bill import as_printed
from saddle.quantities.reports.spec import FIELDS, Of, PayItem, ReportColumn, ReportLayout
from saddle.quantities.reports.starting import REPORTS
from saddle.quantities.reports.table import ROWS, report, written
from saddle.quantities.takeoff import take_off
from saddle.views.section import section_view
from tests.cases import demo_model
from tests.random_roads import random_road


def every(of: Of, **more: object) -> ReportLayout:
    """A layout with every column that it may have."""
    return ReportLayout(of=of, columns=[ReportColumn(field=f) for f in FIELDS[of]], **more)  # type: ignore[arg-type]


class Reports(TestCase):
    def test_every_kind_of_row_has_every_field_and_no_other(self) -> None:
        self.assertEqual(set(FIELDS), set(ROWS), set(get_args(Of)))
        for of in get_args(Of):
            for row in ROWS[of](demo_model(), every(of)):
                self.assertLessEqual(set(row), set(FIELDS[of]))
                self.assertGreaterEqual(set(row), {"chainage"} if of in ("sections", "points") else {"volume"} & set(FIELDS[of]))

    def test_parts_add_up_to_the_total_of_the_quantities(self) -> None:
        for model in (demo_model(), *(solve(random_road(np.random.default_rng(seed))) for seed in range(4))):
            total = take_off(model).total.rows
            found = report(model, every("treatments"))
            heads = [h.title for h in found.heads]
            for title, name in (("Volume m3", "volume"), ("Mass t", "mass"), ("Length m", "length")):
                k = heads.index(title)
                wanted = sum(getattr(r, name) or 0.0 for r in total)
                parts = sum(row[k] or 0.0 for i, row in enumerate(found.rows) if i not in found.strong)  # type: ignore[misc]
                self.assertAlmostEqual(parts, wanted, delta=0.05 * len(found.rows))
                sums = sum(found.rows[i][k] or 0.0 for i in found.strong)  # type: ignore[misc]
                self.assertAlmostEqual(sums, parts, 6)
            materials = {row[0]: row[1] for row in report(model, every("materials", totals=False)).rows}
            built = [r for r in total if r.volume is not None and r.kind not in ("cut", "fill")]
            for material in {r.material for r in built}:
                wanted = sum(r.volume or 0 for r in built if r.material == material)
                self.assertAlmostEqual(materials[material], wanted, delta=0.05 + 1e-9)  # type: ignore[arg-type]

    def test_bills_add_up_as_they_are_printed(self) -> None:
        """Whoever adds up the written figures of a page, with the rule that the workbook states, gets the written total; an amount is
        the written quantity times the rate."""
        for model in (demo_model(), *(solve(random_road(np.random.default_rng(seed))) for seed in range(4))):
            pay = [PayItem(item=r.name, number=str(k), unit="m" if r.length is not None else "m3", rate=1.37 * k) for k, r in enumerate(take_off(model).total.rows)]  # fmt: skip
            for of in ("treatments", "materials", "pay_items"):
                found = report(model, every(of, pay_items=pay if of == "pay_items" else []))  # type: ignore[arg-type]
                words = [[written(c, h) for c, h in zip(row, found.heads, strict=True)] for row in found.rows]
                self.assertNotIn("-0.0", {w for row in words for w in row})
                for (row, column), parts in found.sums.items():
                    added = sum(Decimal(words[i][column] or "0") for i in parts)
                    self.assertEqual(Decimal(words[row][column]), added, (of, found.heads[column].title))
                for (row, column), (quantity, rate) in found.products.items():
                    exact = Decimal(words[row][quantity]) * Decimal(str(found.rows[row][rate]))
                    self.assertLessEqual(abs(Decimal(words[row][column]) - exact), Decimal("0.005") + Decimal("1e-9"))
            bill = as_printed(take_off(model))
            for total in bill.total.rows:
                parts = [r for g in bill.groups for r in g.rows if (r.kind, r.name, r.key) == (total.kind, total.name, total.key)]
                for name in ("volume", "mass", "length", "area", "unknown_length"):
                    if getattr(total, name) is not None:
                        self.assertEqual(getattr(total, name), round(sum(getattr(r, name) or 0 for r in parts), 1))

    def test_two_halves_of_a_range_are_the_whole(self) -> None:
        model = demo_model()
        layout = REPORTS["materials"]

        def sums(low: float | None, high: float | None) -> dict[object, float]:
            found = report(model, layout.changed(from_chainage=low, to_chainage=high, totals=False))
            return {row[0]: float(row[1] or 0) for row in found.rows}

        whole, first, second = sums(None, None), sums(None, 600), sums(600, None)
        for material, volume in whole.items():
            self.assertAlmostEqual(first.get(material, 0) + second.get(material, 0), volume, delta=0.15 + 1e-9)
        self.assertIn("From 0.000 to 600.000.", report(model, layout.changed(to_chainage=600)).note)
        self.assertEqual(report(model, layout.changed(from_chainage=9000, totals=False)).rows, [])

    def test_what_is_paid_for_is_quantity_times_rate_and_nothing_is_lost(self) -> None:
        model = demo_model()
        pay = [
            PayItem(item="Surface course", number="3.1", unit="t", rate=120.5),
            PayItem(item="Half-battered kerb and channel", number="4.2", unit="m", rate=30),
        ]
        rows = list(ROWS["pay_items"](model, every("pay_items", pay_items=pay)))
        total = take_off(model).total.rows
        self.assertEqual({r["item"] for r in rows}, {r.name for r in total})
        self.assertEqual(len({r["number"] for r in rows if r["number"]}), 2)
        surface = next(r for r in rows if r["number"] == "3.1")
        tonnes = next(r.mass for r in total if r.name == "Surface course")
        assert tonnes is not None
        self.assertAlmostEqual(float(surface["amount"] or 0), 120.5 * tonnes, 6)
        kerbs = [r for r in rows if r["number"] == "4.2"]
        self.assertEqual({r["unit"] for r in kerbs}, {"m"})
        unpaid = [r for r in rows if r["number"] is None]
        self.assertTrue(unpaid and all(r["rate"] is None and r["amount"] is None and r["quantity"] is not None for r in unpaid))

    def test_a_pay_item_is_there_once_and_in_each_unit_the_first_one_pays(self) -> None:
        """Two kerbs of one name in the bill are one item; the square metres of a course are paid beside its tonnes."""
        model = demo_model()
        total = take_off(model).total.rows
        name = next(r.name for r in total if r.kind == "course")
        pay = [
            PayItem(item=name, number="1", unit="t", rate=100),
            PayItem(item=name, number="2", unit="m2", rate=2),
            PayItem(item=name, number="3", unit="t", rate=50),
        ]
        rows = {r["number"]: r for r in ROWS["pay_items"](model, every("pay_items", pay_items=pay)) if r["number"]}
        self.assertEqual(set(rows), {"1", "2"})
        mine = [r for r in total if r.name == name]
        self.assertAlmostEqual(float(rows["1"]["quantity"] or 0), sum(r.mass or 0 for r in mine), 6)
        self.assertAlmostEqual(float(rows["2"]["quantity"] or 0), sum(r.area or 0 for r in mine), 6)

    def test_running_totals_end_at_the_volumes(self) -> None:
        """To the figure, also over a part of the road: what cut and fill count twice is taken off in both."""
        model = demo_model()
        found = take_off(model)
        last = list(ROWS["sections"](model, every("sections")))[-1]
        for field, name in (("cut_to_here", "cut"), ("fill_to_here", "fill")):
            wanted = next(r.volume for r in found.total.rows if r.kind == name)
            assert wanted is not None
            self.assertAlmostEqual(float(last[field] or 0), wanted, 6)
        self.assertAlmostEqual(float(last["balance"] or 0), float(last["cut_to_here"] or 0) - float(last["fill_to_here"] or 0), 9)

    def test_running_totals_of_a_part_begin_at_its_beginning(self) -> None:
        model = demo_model()
        layout = every("sections", from_chainage=300.0, to_chainage=900.0)
        rows = list(ROWS["sections"](model, layout))
        self.assertEqual((rows[0]["cut_to_here"], rows[0]["fill_to_here"]), (0.0, 0.0))
        bill = report(model, every("treatments", from_chainage=300.0, to_chainage=900.0, items=["Cut"], totals=True))
        volume = [h.title for h in bill.heads].index("Volume m3")
        self.assertAlmostEqual(float(rows[-1]["cut_to_here"] or 0), float(bill.rows[-1][volume] or 0), delta=0.3)  # type: ignore[arg-type]

    def test_what_is_built_and_what_is_dug_are_never_added_up(self) -> None:
        """Facts of the trade: a total is of one item of one material, over all treatments."""
        model = demo_model()
        fields = ("treatment", "item", "material", "volume", "mass")
        layout = ReportLayout(of="treatments", columns=[ReportColumn(field=f) for f in fields])
        found = report(model, layout)
        sums = [found.rows[k] for k in found.strong]
        total = take_off(model).total.rows
        self.assertEqual(len(sums), len(total))
        for label, item, material, volume, mass in sums:
            (r,) = (r for r in total if (r.name, r.material or None) == (item, material))
            self.assertEqual(label, "Total")
            self.assertAlmostEqual(float(volume or 0), r.volume or 0.0, delta=0.3)
            self.assertAlmostEqual(float(mass or 0), r.mass or 0.0, delta=0.3)
        by_item = report(model, layout.changed(columns=[ReportColumn(field=f) for f in ("item", "volume")]))
        labels = [by_item.rows[k][0] for k in by_item.strong]
        self.assertEqual(labels, list(dict.fromkeys(f"Total {r.name}" for r in total)))

    def test_what_is_not_known_is_said_beside_the_sums(self) -> None:
        """Also where no column says it. A survey that ends early leaves sections that cannot be solved."""
        met = 0
        for seed in range(12):
            model = solve(random_road(np.random.default_rng(seed)))
            total = take_off(model).total.rows
            unknown = max((r.unknown_length for r in total), default=0.0)
            layout = ReportLayout(of="treatments", columns=[ReportColumn(field="item"), ReportColumn(field="volume")])
            note = report(model, layout).note
            self.assertEqual("Not known over" in note, unknown > 0, note)
            self.assertIn(f"Not known over {unknown:.1f} m" if unknown > 0 else "", note)
            # Of each item over all treatments, not over the worst one.
            fields = [ReportColumn(field=f) for f in ("treatment", "item", "material", "unknown")]
            beside = report(model, layout.changed(columns=fields))
            for _, item, material, length in (beside.rows[k] for k in beside.strong):
                (r,) = (r for r in total if (r.name, r.material or None) == (item, material))
                self.assertAlmostEqual(float(length or 0), r.unknown_length, delta=0.3)
            earth = [r.unknown_length for r in total if r.kind in ("cut", "fill")]
            running = report(model, ReportLayout(of="sections", columns=[ReportColumn(field="cut_to_here")])).note
            self.assertEqual("Not known over" in running, any(v > 0 for v in earth), running)
            self.assertEqual(report(model, ReportLayout(of="sections", columns=[ReportColumn(field="cut")])).note, "")
            met += unknown > 0
        self.assertGreater(met, 2)

    def test_points_are_those_of_the_sections_one_by_one(self) -> None:
        for seed in range(8):
            model = solve(random_road(np.random.default_rng(seed)))
            found = list(ROWS["points"](model, every("points")))
            wanted = []
            for i in range(len(model.chainage)):
                view = section_view(model, i)
                wanted += [(round(view.shown, 6), p.name, p.offset, p.level, p.existing, view.template) for p in view.points]
            told = [
                (round(float(r["chainage"] or 0), 6), r["point"], r["offset"], r["level"], r["existing"], r["template"])
                for r in found
            ]
            key = lambda r: (r[0], r[2], str(r[1]), r[3])  # noqa: E731
            for a, b in zip(sorted(told, key=key), sorted(wanted, key=key), strict=True):
                self.assertEqual((a[0], a[1], a[5]), (b[0], b[1], b[5]))
                np.testing.assert_allclose([a[2], a[3]], [b[2], b[3]], atol=1e-9)  # type: ignore[arg-type]
                self.assertEqual(a[4] is None, b[4] is None)
                if a[4] is not None:
                    self.assertAlmostEqual(a[4], b[4], 6)  # type: ignore[arg-type]

    def test_points_stand_where_the_sections_have_them(self) -> None:
        model = demo_model()
        found = list(ROWS["points"](model, every("points", from_chainage=300, to_chainage=300, points=["LaneEdge", "hinge"])))
        view = section_view(model, int(np.abs(model.chainage - 300).argmin()))
        points = [p for p in view.points if p.name in ("LaneEdge", "hinge")]
        self.assertEqual([(r["point"], r["offset"], r["level"]) for r in found], [(p.name, p.offset, p.level) for p in points])
        for row in found:
            chainage, offset = model.alignment.locate(np.array([[row["east"], row["north"]]], dtype=float))
            np.testing.assert_allclose([chainage[0], offset[0]], [300.0, row["offset"]], atol=1e-6)

    def test_headings_decimals_and_files(self) -> None:
        layout = ReportLayout(
            name="=Volumes [m3]", of="materials", columns=[
                ReportColumn(field="material", heading="Of what"), ReportColumn(field="volume", decimals=3), ReportColumn(field="mass", decimals=0),
            ],
        )  # fmt: skip
        found = report(demo_model(), layout)
        rows = list(csv.reader(io.StringIO(report_csv(found))))
        self.assertEqual(rows[0], ["Of what", "Volume m3", "Mass t"])
        self.assertRegex(rows[1][1], r"^\d+\.\d{3}$")
        self.assertRegex(rows[1][2], r"^\d+$")
        self.assertEqual([[written(c, h) for c, h in zip(r, found.heads, strict=True)] for r in found.rows], rows[1:])
        book = load_workbook(io.BytesIO(report_xlsx(found)))
        sheet = book.worksheets[0]
        self.assertEqual(sheet.title, "=Volumes -m3-")
        self.assertEqual([sheet.cell(2, 2).number_format, sheet.cell(2, 3).number_format], ["0.000", "0"])
        last = sheet.cell(sheet.max_row, 1)
        self.assertEqual((last.value, last.font.bold), ("Total", True))
        self.assertEqual(sheet.cell(sheet.max_row, 2).value, f"=SUM(B2:B{sheet.max_row - 1})")
        added = sum(Decimal(row[1]) for row in rows[1:-1])
        self.assertEqual(Decimal(rows[-1][1]), added)

    def test_a_column_that_is_not_there_is_named(self) -> None:
        with self.assertRaises(ValidationError) as caught:
            ReportLayout(of="points", columns=[ReportColumn(field="volume")])
        self.assertIn("there is no column volume here: use chainage, side", str(caught.exception))

    def test_the_starting_reports_are_there_for_roads_unlike_the_demo(self) -> None:
        for seed in range(6):
            model = solve(random_road(np.random.default_rng(seed)))
            for layout in REPORTS.values():
                found = report(model, layout)
                texts = [written(c, h) for row in found.rows for c, h in zip(row, found.heads, strict=True)]
                self.assertFalse([t for t in texts if "nan" in t or "inf" in t], layout.name)
