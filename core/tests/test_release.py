"""Releases and the rules that they changed, against the changelog that people read."""

import re
from pathlib import Path
from unittest import TestCase

from saddle.release import RELEASE, RULES, order_of, rules_since

CHANGELOG = (Path(__file__).parents[2] / "CHANGELOG.md").read_text()


class Releases(TestCase):
    def test_the_changelog_is_headed_by_this_release(self) -> None:
        self.assertEqual(re.findall(r"^## (\S+)$", CHANGELOG, re.MULTILINE)[0], RELEASE)

    def test_every_rule_is_in_the_changelog_under_its_release(self) -> None:
        parts = dict(re.findall(r"^## (\S+)\n(.*?)(?=^## |\Z)", CHANGELOG, re.MULTILINE | re.DOTALL))
        for rule in RULES:
            self.assertIn(rule.words, parts[rule.release])
            self.assertLessEqual(order_of(rule.release), order_of(RELEASE))

    def test_releases_are_numbers_not_words(self) -> None:
        self.assertLess(order_of("0.6"), order_of("0.12"))
        self.assertTrue(rules_since("0.6", "m3"))
        self.assertEqual(rules_since(RELEASE, "m3"), [])
