"""Variants side by side: the same road with other settings, and taking one over."""

from dataclasses import replace
from unittest import TestCase

from saddle.errors import GeometryError
from saddle.overlay.spec import CoverGoverns, EdgesGovern, ProfileGoverns, TieIn
from saddle.pipeline import solve
from saddle.quantities.takeoff import take_off
from saddle.quantities.variants import compare_variants, treatments_with
from saddle.road.spec import GivenCrossfall, MeasuredCrossfall, Overlay, Reconstruct, TreatmentPlan, Variant, VariantPlan
from saddle.stages.run import Run
from tests.cases import demo_inputs, demo_model

THIN = Variant(name="Thin", least_cover_mm=30)
MEASURED = Variant(name="Measured", crossfall=MeasuredCrossfall())
NOMINAL = Variant(name="Nominal", crossfall=GivenCrossfall(pct=-2.5))
EDGES = Variant(name="Edges", governs=EdgesGovern())


class Comparing(TestCase):
    def test_less_cover_needs_less_by_its_area(self) -> None:
        plan = VariantPlan(variants=[THIN], price=100)
        now, thin = compare_variants(demo_inputs(), plan, 500.0, 680.0, Run())
        self.assertEqual((now.name, thin.name), ("As it is", "Thin"))
        self.assertAlmostEqual((now.greatest or 0) - (thin.greatest or 0), 0.02, 6)
        width = 2 * 2.95  # about: between the saw cuts, 180 m long
        self.assertAlmostEqual((now.volume - thin.volume) / (0.02 * 180 * width), 1, delta=0.03)
        self.assertAlmostEqual(thin.cost, 100 * thin.mass)
        self.assertEqual(len(thin.depths), len(thin.chainage))

    def test_agrees_with_the_bill(self) -> None:
        (now,) = compare_variants(demo_inputs(), VariantPlan(), 0.0, 1610.0, Run())
        flat = solve(replace(demo_inputs(), settings=demo_inputs().settings.changed(curvature_correction=False)))
        rows = [r for r in take_off(flat).total.rows if r.kind == "course" and r.name == "Regulating course"]
        self.assertLess(rows[0].volume or 0, now.volume)
        self.assertEqual(now.unknown_length, 0.0)
        self.assertEqual(now.faults + now.cautions, len(demo_model().problems))

    def test_measured_crossfalls_are_far_more_even_in_a_curve(self) -> None:
        """The job's two passes: nominal crossfall piles up asphalt in a superelevated curve."""
        _, nominal, measured = compare_variants(demo_inputs(), VariantPlan(variants=[NOMINAL, MEASURED]), 1060.0, 1300.0, Run())
        self.assertGreater(nominal.greatest or 0, 1.5 * (measured.greatest or 1))
        self.assertGreater(nominal.mass, 1.3 * measured.mass)

    def test_edges_govern_may_leave_cover_short(self) -> None:
        now, edges = compare_variants(demo_inputs(), VariantPlan(variants=[EDGES]), 500.0, 680.0, Run())
        self.assertLessEqual(edges.volume, now.volume + 1e-9)
        self.assertGreaterEqual(edges.faults, now.faults)

    def test_a_range_without_overlay(self) -> None:
        with self.assertRaises(GeometryError):
            compare_variants(demo_inputs(), VariantPlan(), 1520.0, 1600.0, Run())

    def test_volumes_inside_a_curve_are_corrected_as_in_the_bill(self) -> None:
        inputs = demo_inputs()
        flat = replace(inputs, settings=inputs.settings.changed(curvature_correction=not inputs.settings.curvature_correction))
        for low, high, differs in ((250.0, 400.0, True), (490.0, 580.0, False)):
            (one,), (other,) = (compare_variants(i, VariantPlan(), low, high, Run()) for i in (inputs, flat))
            self.assertEqual(abs(one.volume - other.volume) > 1e-6, differs, low)


class TakingOver(TestCase):
    def test_only_the_overlays_of_the_range_change(self) -> None:
        plan = treatments_with(demo_inputs().treatments, THIN, 600.0, 800.0)
        covers = [
            (r.from_chainage, r.to_chainage, getattr(r.work, "least_cover_mm", None))
            for r in plan.ranges
            if 400 < r.to_chainage < 1400
        ]
        self.assertIn((600.0, 700.0, 30.0), covers)
        self.assertIn((700.0, 760.0, None), covers)  # the reconstruction stays
        self.assertIn((760.0, 800.0, 30.0), covers)
        self.assertEqual(sum(r.to_chainage - r.from_chainage for r in plan.ranges), 1610.0)

    def test_ties_stay_at_their_own_ends(self) -> None:
        old = demo_inputs().treatments.ranges
        tied = TreatmentPlan(
            ranges=[
                r.changed(work={**r.work.model_dump(), "begin": TieIn(length=20).model_dump()}) if r.from_chainage == 480 else r
                for r in old
            ]
        )
        plan = treatments_with(tied, THIN, 600.0, 700.0)
        works = {r.from_chainage: r.work for r in plan.ranges}
        first, second = works[480.0], works[600.0]
        assert isinstance(first, Overlay) and isinstance(second, Overlay)
        self.assertIsNotNone(first.begin)
        self.assertIsNone(second.begin)

    def test_taken_over_it_is_what_was_compared(self) -> None:
        _, thin = compare_variants(demo_inputs(), VariantPlan(variants=[THIN]), 500.0, 680.0, Run())
        inputs = replace(demo_inputs(), treatments=treatments_with(demo_inputs().treatments, THIN, 500.0, 680.0))
        (now,) = compare_variants(inputs, VariantPlan(), 500.0, 680.0, Run())
        self.assertAlmostEqual(now.volume, thin.volume, 9)

    def test_given_levels_and_crossfalls_reach_rebuilt_lengths_too(self) -> None:
        """Cover and rules that follow from the old surface are for overlays; a profile or the level table also for what is rebuilt."""
        plan = demo_inputs().treatments
        given = treatments_with(plan, Variant(name="P", governs=ProfileGoverns(profile="regrading")), 600, 800)
        rules = {(r.from_chainage, r.to_chainage): getattr(r.work, "governs", None) for r in given.ranges}
        for stretch in ((600.0, 700.0), (700.0, 760.0), (760.0, 800.0)):
            self.assertEqual(getattr(rules[stretch], "kind", None), "profile", stretch)
        cover = treatments_with(plan, Variant(name="C", governs=CoverGoverns(), least_cover_mm=70), 600, 800)
        rebuilt = [r.work for r in cover.ranges if isinstance(r.work, Reconstruct)]
        self.assertEqual([w.governs for w in rebuilt], [None])
