"""What is unusual is asked about, not refused; bands of common practice, no source."""

from dataclasses import replace
from unittest import TestCase

import numpy as np

from saddle.findings.unusual import COURSE, _lanes
from saddle.pipeline import solve
from tests.cases import demo_inputs, demo_model


class Unusual(TestCase):
    def test_nothing_of_the_demo_road_is(self) -> None:
        self.assertFalse([p for p in demo_model().problems if p.code == "unusual"])

    def test_a_course_of_the_wrong_unit_is_asked_about(self) -> None:
        """40 cm typed as 4000 mm, and 4 cm as 4 mm."""
        inputs = demo_inputs()
        for slip in (4000.0, 4.0):
            course = inputs.make_ups["lane-new"].courses[0].changed(thickness_mm=slip)
            new = inputs.make_ups["lane-new"].changed(courses=[course, *inputs.make_ups["lane-new"].courses[1:]])
            problems = solve(replace(inputs, make_ups={**inputs.make_ups, "lane-new": new})).problems
            (asked,) = (p for p in problems if p.code == "unusual")
            self.assertIn(f"{slip:g} mm thick, usual are {COURSE[0]:g} to {COURSE[1]:g} mm", asked.message)
            self.assertEqual(asked.severity, "caution")

    def test_saw_cuts_and_depths_that_cannot_be_meant(self) -> None:
        inputs = demo_inputs()
        (k,) = (i for i, r in enumerate(inputs.treatments.ranges) if r.from_chainage == 480)
        ranges = list(inputs.treatments.ranges)
        work = ranges[k].work
        ranges[k] = ranges[k].changed(work=work.changed(saw_cut=1.5, least_cover_mm=80, look_again_mm=60))
        found = [
            p for p in solve(replace(inputs, treatments=inputs.treatments.changed(ranges=ranges))).problems if p.code == "unusual"
        ]
        self.assertEqual({(p.chainage_from, p.subject) for p in found}, {(480.0, "Overlay")})
        self.assertEqual(len(found), 2)
        self.assertIn("below the least cover of 80 mm", " ".join(p.message for p in found))

    def test_a_lane_of_twelve_metres_is_asked_about_and_a_taper_is_not(self) -> None:
        inputs = demo_inputs()
        key, template = next((k, t) for k, t in inputs.templates.items() if any(r.template == k for r in inputs.template_plan.ranges) and any(d.name == "lane width" for d in t.dimensions))  # fmt: skip
        wide = template.changed(dimensions=[d.changed(value=12.0) if d.name == "lane width" else d for d in template.dimensions])
        asked = [p for p in solve(replace(inputs, templates={**inputs.templates, key: wide})).problems if p.code == "unusual"]
        self.assertTrue(any("m wide, usual are 2 to 6 m" in p.message for p in asked))

    def test_a_section_that_cannot_be_solved_hides_nothing(self) -> None:
        """The same wide lane on a road whose hinge line ends early."""
        inputs = demo_inputs()
        key, template = next((k, t) for k, t in inputs.templates.items() if any(r.template == k for r in inputs.template_plan.ranges) and any(d.name == "lane width" for d in t.dimensions))  # fmt: skip
        wide = template.changed(dimensions=[d.changed(value=12.0) if d.name == "lane width" else d for d in template.dimensions])
        model = solve(replace(inputs, templates={**inputs.templates, key: wide}))
        (group,) = (g for g in model.groups if g.key == key)
        before = len(_lanes(model, group, group.right))
        u = group.right.u.copy()
        u[0] = np.nan
        self.assertGreater(before, 0)
        self.assertEqual(len(_lanes(model, group, replace(group.right, u=u))), before)
