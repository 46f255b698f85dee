"""The overlay report and the overlay's volume two ways."""

import csv
import io
from unittest import TestCase

import numpy as np
import trimesh
from openpyxl import load_workbook

from saddle.exchange.tables import rows_csv, rows_xlsx
from saddle.overlay.depth_map import depth_bands, depth_triangles
from saddle.quantities.overlay_check import overlay_check
from saddle.road.report import overlay_report
from tests.cases import demo_model


class Report(TestCase):
    def test_rows_agree_with_the_model(self) -> None:
        model = demo_model()
        head, rows = overlay_report(model)
        at = {name: i for i, name in enumerate(head)}
        self.assertEqual(len(rows), int(np.isfinite(model.depth.least).sum()))
        row = next(r for r in rows if r[0] == 560.0)
        i = int(np.flatnonzero(model.chainage == 560.0)[0])
        self.assertAlmostEqual(row[at["Design at hinge m"]] or 0, model.hinge_level[i], delta=6e-4)
        depth = 1000 * (model.hinge_level[i] - model.lines.existing_hinge[i])
        self.assertAlmostEqual(row[at["Depth at hinge mm"]] or 0, depth, delta=0.6)
        for r in rows:
            at_edges = [r[at[f"Depth at {side} edge mm"]] for side in ("left", "right")]
            self.assertTrue(
                all(v is not None and r[at["Least depth mm"]] - 1 <= v <= r[at["Greatest depth mm"]] + 1 for v in at_edges)
            )  # type: ignore[operator]
        self.assertIsNone(row[at["Milled mm"]])

    def test_files_hold_the_same(self) -> None:
        head, rows = overlay_report(demo_model())
        read = list(csv.reader(io.StringIO(rows_csv(head, rows))))
        sheet = load_workbook(io.BytesIO(rows_xlsx("Overlay", head, rows))).active
        assert sheet is not None
        self.assertEqual(read[0], head)
        for i in (1, 40, len(rows)):
            for k, value in enumerate(rows[i - 1]):
                self.assertEqual(float(read[i][k]) if read[i][k] else None, value)
                self.assertEqual(sheet.cell(i + 1, k + 1).value, value)


class TwoWays(TestCase):
    def test_end_areas_and_triangles_nearly_agree(self) -> None:
        found = overlay_check(demo_model())
        self.assertGreater(found.end_areas, 400)
        self.assertAlmostEqual(found.triangles / found.end_areas, 1, delta=0.005)

    def test_prisms_against_trimesh(self) -> None:
        """The solid between depth 0 and the depth over every triangle, closed, measured by trimesh."""
        t = depth_triangles(demo_model())
        volume = 0.0
        for plan, depth in zip(t.plan[:400], t.depth[:400], strict=True):
            flat = np.column_stack([plan - plan[0], np.zeros(3)])
            top = np.column_stack([plan - plan[0], depth])
            mesh = trimesh.Trimesh(
                np.vstack([flat, top]), trimesh.convex.convex_hull(np.vstack([flat, top])).faces, process=False
            )
            volume += abs(mesh.convex_hull.volume)
        self.assertAlmostEqual(volume, float(t.area[:400] @ t.depth[:400].mean(axis=1)), delta=1e-6 * volume + 1e-9)

    def test_bands_add_up_to_the_overlay(self) -> None:
        t = depth_triangles(demo_model())
        total = float(t.area.sum())
        self.assertAlmostEqual(sum(b.area for b in depth_bands(t)) / total, 1, delta=1e-6)
