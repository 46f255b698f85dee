"""The overlay report and the overlay's volume two ways."""

import csv
import io
from unittest import TestCase

import numpy as np
import shapely
import trimesh
from openpyxl import load_workbook

from saddle.exchange.tables import rows_csv, rows_xlsx
from saddle.quantities.overlay_check import overlay_check
from saddle.views.depth_map import depth_bands, depth_triangles, section_bands, surface_triangles
from saddle.views.report import overlay_report
from tests.cases import demo_model


class Report(TestCase):
    def test_rows_agree_with_the_model(self) -> None:
        model = demo_model()
        head, rows = overlay_report(model)
        at = {name: i for i, (name, _) in enumerate(head)}
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
        self.assertEqual(read[0], [name for name, _ in head])
        for i in (1, 40, len(rows)):
            for k, value in enumerate(rows[i - 1]):
                self.assertEqual(float(read[i][k]) if read[i][k] else None, value)
                self.assertEqual(sheet.cell(i + 1, k + 1).value, value)


class TwoWays(TestCase):
    def test_end_areas_and_triangles_nearly_agree(self) -> None:
        found = overlay_check(demo_model())
        self.assertGreater(found.end_areas, 400)
        self.assertAlmostEqual(found.sections / found.end_areas, 1, delta=0.005)
        # The survey has breaklines along the edges: its triangles between sections differ little from straight lines.
        self.assertAlmostEqual(found.surfaces / found.sections, 1, delta=0.02)

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
        self.assertAlmostEqual(sum(b.area for b in depth_bands(t, (50, 60, 75, 100, 150))) / total, 1, delta=1e-6)

    def test_between_two_surfaces_against_a_second_way(self) -> None:
        """Depths at random places: the design's plane between sections less the survey's own triangle there; the
        bands of the exact map add up too."""
        model = demo_model()
        t = surface_triangles(model)
        total = float(t.area.sum())
        sections = depth_triangles(model)
        self.assertAlmostEqual(total / float(sections.area.sum()), 1, delta=1e-6)
        self.assertAlmostEqual(sum(b.area for b in depth_bands(t, (40, 90))) / total, 1, delta=1e-6)
        rng = np.random.default_rng(1)
        own = model.inputs.surface
        tree = shapely.STRtree(shapely.polygons(own.points[own.triangles, :2]))
        for k in rng.choice(len(t.plan), 40, p=t.area / total):
            place = t.plan[k].mean(axis=0)
            hit = tree.query(shapely.Point(place), predicate="intersects")[0]
            corner = own.points[own.triangles[hit]]
            level = float(np.linalg.solve(np.column_stack([corner[:, :2] - place, np.ones(3)]), corner[:, 2])[2])
            chainage, offset = model.alignment.locate(place[None])
            i = int(np.searchsorted(model.chainage, chainage[0], side="right")) - 1
            a, b = model.chainage[i], model.chainage[i + 1]
            share = (chainage[0] - a) / (b - a)
            design = [
                np.interp(offset[0], *(v[np.isfinite(v)] for v in (model.depth.offsets[j], model.depth.design[j])))
                for j in (i, i + 1)
            ]
            if np.isfinite(design).all() and b - a > 1:
                between = design[0] + share * (design[1] - design[0])
                self.assertAlmostEqual(t.depth[k].mean(), between - level, delta=0.004)  # chords and taper of the width

    def test_bands_of_a_section_by_hand(self) -> None:
        # Depth 40 mm at -2, 120 mm at 0, 60 mm at 3: bands below 50, to 100, over 100.
        o = np.array([-2.0, 0.0, 3.0])
        found = section_bands(o, np.array([1.04, 1.12, 1.06]), np.ones(3), (50, 100))
        self.assertEqual([band for band, _ in found], [0, 1, 2, 1])
        limits = [float(ring[:, 0].min()) for _, ring in found] + [3.0]
        np.testing.assert_allclose(limits, [-2, -1.75, -0.5, 1.0, 3.0], atol=1e-9)
        area = sum(shapely.Polygon(ring).area for _, ring in found)
        self.assertAlmostEqual(area, 2 * 0.08 + 3 * 0.09, 9)

    def test_bands_of_every_section_add_up(self) -> None:
        d = demo_model().depth
        for i in np.flatnonzero(np.isfinite(d.least))[::7]:
            found = section_bands(d.offsets[i], d.design[i], d.existing[i], (50, 75, 100))
            area = sum(shapely.Polygon(ring).area for _, ring in found if len(ring) > 3)
            self.assertAlmostEqual(area, d.mean[i] * (d.right[i] - d.left[i]), delta=2e-4)
