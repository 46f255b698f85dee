"""Library files: a round trip loses nothing, damage is refused by place, conflicts are settled as chosen; kerbs as published."""

import json
import random
from unittest import TestCase

from saddle.errors import ImportProblem
from saddle.exchange import starting
from saddle.exchange.bundle import Bundle, bundle_of, compare, read_bundle, settled, write_bundle
from saddle.template import starter
from saddle.template.spec import TemplateSpec

WHOLE = bundle_of(starting.LIBRARY, starting.LIBRARY)


class Files(TestCase):
    def test_round_trip(self) -> None:
        self.assertEqual(read_bundle(write_bundle(WHOLE)), WHOLE)
        self.assertEqual(WHOLE.specs(), starting.LIBRARY)

    def test_a_template_brings_what_it_needs_and_no_more(self) -> None:
        names = set(bundle_of(starting.LIBRARY, [("template", "village")]).specs())
        needed = {
            ("kerb", "half-battered"),
            ("make_up", "lane-new"),
            ("make_up", "lane-overlay"),
            ("make_up", "footpath"),
            ("material", "concrete"),
            ("material", "fill"),
        }
        self.assertLessEqual(needed, names)
        self.assertEqual({k for k, _ in names}, {"template", "make_up", "kerb", "material"})
        self.assertNotIn(("make_up", "shoulder"), names)
        with self.assertRaises(ImportProblem):
            bundle_of(starting.LIBRARY, [("template", "none")])

    def test_what_is_wrong_is_named(self) -> None:
        good = json.loads(write_bundle(WHOLE))
        place = next(i for i, item in enumerate(good["items"]) if item["key"] == "village")
        broken = json.loads(write_bundle(WHOLE))
        broken["items"][place]["spec"]["right"]["points"][0]["offset"]["width"] = -3
        lost = json.loads(write_bundle(bundle_of(starting.LIBRARY, [("template", "village")])))
        lost["items"] = [i for i in lost["items"] if i["key"] != "half-battered"]
        for text, words in (
            ("{", ("not JSON", "line 1")),
            ("[1]", ("not a library file",)),
            (json.dumps({**good, "version": 2}), ("version 2", "reads version 1")),
            (json.dumps(broken), (f"item {place + 1} (village)", "width")),
            (json.dumps({**good, "items": good["items"] + good["items"][:1]}), ("twice",)),
        ):
            with self.assertRaises(ImportProblem) as caught:
                read_bundle(text)
            for word in words:
                self.assertIn(word, caught.exception.message)
        with self.assertRaises(ImportProblem) as caught:
            compare(read_bundle(json.dumps(lost)), {})
        self.assertIn("needs the kerb “half-battered”", caught.exception.message)

    def test_damaged_at_random(self) -> None:
        """Never anything but a bundle or a problem that a person can read."""
        text = write_bundle(bundle_of(starting.LIBRARY, [("template", "urban")]))
        rng = random.Random(5)
        refused = 0
        for _ in range(400):
            i, j = sorted(rng.sample(range(len(text)), 2))
            damaged = rng.choice(
                [text[:i], text[:i] + text[min(j, i + 12) :], text[:i] + rng.choice('0x"{}[],:-') + text[i + 1 :]]
            )
            try:
                read_bundle(damaged)
            except ImportProblem as problem:
                refused += 1
                self.assertTrue(problem.message and problem.subject)
        self.assertGreater(refused, 200)


class Settling(TestCase):
    def brought(self) -> tuple[Bundle, dict[tuple[str, str], object]]:
        mine = dict(starting.LIBRARY)
        rock = starter.MATERIALS["rock"].changed(density=2.3)
        mine["material", "rock"] = rock
        return bundle_of(mine, [("template", "rural")]), dict(starting.LIBRARY)

    def test_states(self) -> None:
        bundle, there = self.brought()
        states = {c.key: c.state for c in compare(bundle, there)}  # type: ignore[arg-type]
        self.assertEqual(states["rock"], "different")
        self.assertEqual(states["rural"], "same")
        self.assertTrue(all(c.state == "new" for c in compare(bundle, {})))

    def test_choices(self) -> None:
        bundle, there = self.brought()
        self.assertEqual(settled(bundle, there, {}), {})  # type: ignore[arg-type]
        over = settled(bundle, there, {("material", "rock"): "overwrite"})  # type: ignore[arg-type]
        self.assertEqual([*over], [("material", "rock")])
        beside = settled(bundle, {("material", "rock"): starter.MATERIALS["rock"]}, {("material", "rock"): "both"})
        self.assertIn(("material", "rock-2"), beside)
        self.assertNotIn(("material", "rock"), beside)
        lane = beside["make_up", "lane-new"]
        self.assertEqual([c.material for c in lane.courses], ["surface", "binder", "base", "rock-2"])  # type: ignore[attr-defined]
        self.assertIsInstance(beside["template", "rural"], TemplateSpec)

    def test_a_template_names_what_was_brought_beside(self) -> None:
        bundle = bundle_of(starting.LIBRARY, [("template", "village")])
        mine = {
            ("make_up", "lane-new"): starter.MAKE_UPS["lane-new"].changed(name="Mine"),
            ("kerb", "half-battered"): starter.KERBS["half-battered"].changed(name="Mine"),
            ("material", "fill"): starter.MATERIALS["fill"].changed(density=1.5),
        }
        written = settled(bundle, mine, dict.fromkeys(mine, "both"))  # type: ignore[arg-type]
        village = written["template", "village"]
        assert isinstance(village, TemplateSpec)
        self.assertEqual(village.right.strips[0].new, "lane-new-2")
        self.assertEqual(village.right.strips[0].over_existing, "lane-overlay")
        self.assertEqual((village.right.kerbs[0].profile, village.right.fill), ("half-battered-2", "fill-2"))
        self.assertIn(("kerb", "half-battered-2"), written)


class PublishedKerbs(TestCase):
    def test_envelopes_of_precast_kerbs(self) -> None:
        """Checks 8.1: BS 7263-1 shapes HB1 150 x 305, HB2 125 x 255, HB3 125 x 150 mm; from memory. A length of 915 mm at
        2.4 t/m3 weighs at most as much as the full rectangle: 100.47, 70.00, 41.17 kg."""
        for key, width, height, most_kg, channel in (
            ("tall", 150, 305, 100.47, 0),
            ("half-battered", 125, 255, 70.00, 125),
            ("flush", 125, 150, 41.17, 0),
        ):
            kerb = starter.KERBS[key]
            back = kerb.top[-1]
            self.assertEqual(back.out_mm - channel, width)
            self.assertEqual(back.up_mm + kerb.base_mm, height)
            area = sum(
                (b.out_mm - a.out_mm) * ((a.up_mm + b.up_mm) / 2 + kerb.base_mm)
                for a, b in zip(kerb.top, kerb.top[1:], strict=False)
                if a.out_mm >= channel
            )
            mass = area * 1e-6 * 0.915 * 2400
            self.assertLessEqual(mass, most_kg + 0.01)
            self.assertGreater(mass, 0.85 * most_kg)

    def test_sloping_kerb_within_the_published_limits(self) -> None:
        """Checks 8.2: between 1 V : 1 H and 1 V : 2 H up to 150 mm (Green Book 4.7, from memory)."""
        lip, top = starter.KERBS["sloping"].top[:2]
        height, run = top.up_mm - lip.up_mm, top.out_mm - lip.out_mm
        self.assertTrue(height <= run <= 2 * height and height <= 150)
