"""Numbers and chainages as people write them: every form against Python's own fractions.

1 ft = 0.3048 m and 1 in = 25.4 mm by the international agreement of 1959; the other forms are common practice.
"""

import math
from fractions import Fraction
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from rules.asked import asked

PER = {"m": Fraction(1), "mm": Fraction(1, 1000), "cm": Fraction(1, 100), "km": Fraction(1000), "ft": Fraction(3048, 10000), "in": Fraction(254, 10000)}  # fmt: skip
WORDS = {
    "m": ["m", " m", "M", " metres", " meter"], "mm": ["mm", " mm", "MM", " millimetres"], "cm": ["cm", " cm"], "km": [" km", "Km"],
    "ft": [" ft", "'", "′", " feet"], "in": [" in", '"', "″", " inches"],
}  # fmt: skip
MINUS = st.sampled_from(["-", "−", "–"])
DIGITS = st.integers(0, 999_999).flatmap(lambda n: st.integers(0, 4).map(lambda d: Fraction(n, 10**d)))


def decimal(value: Fraction, mark: str = ".") -> str:
    """A positive decimal fraction in digits, all of them."""
    places = next(d for d in range(12) if (value * 10**d).denominator == 1)
    whole = str(int(value * 10**places)).rjust(places + 1, "0")
    return whole if places == 0 else f"{whole[:-places]}{mark}{whole[-places:]}"


def read(text: str, unit: str) -> Any:
    return asked("readNumber", text, unit)


class Numbers(TestCase):
    def takes(self, text: str, unit: str, value: Fraction | float) -> None:
        found = read(text, unit)
        self.assertIsNone(found["wrong"], f"{text!r} in {unit}")
        self.assertTrue(math.isclose(found["value"], float(value), rel_tol=1e-11, abs_tol=1e-12), f"{text!r} in {unit}: {found}")

    @given(DIGITS, st.sampled_from("., "), st.sampled_from(["", "-", "+", "−", "–"]), st.sampled_from(["m", "mm", "%", "°", ""]))
    def test_plain_ones(self, value: Fraction, mark: str, sign: str, unit: str) -> None:
        """With point or comma; thousands parted by blanks. What has one comma before three digits is asked about, with both readings."""
        text = decimal(value, "," if mark == "," else ".")
        if mark == " " and value >= 1000:
            whole, _, rest = text.partition(".")
            text = f"{int(whole):,}".replace(",", " ") + (f".{rest}" if rest else "")
        signed = -value if sign in ("-", "−", "–") else value
        head, _, tail = text.partition(",")
        if mark == "," and len(tail) == 3 and len(head) <= 3 and head[0] != "0":
            found = read(sign + text, unit)
            self.assertIsNone(found["value"])
            self.assertEqual(sorted(abs(v) for v in found["choices"]), sorted([float(head + tail), float(f"{head}.{tail}")]))
            self.assertTrue(all((v < 0) == (signed < 0) for v in found["choices"]))
        else:
            self.takes(sign + text, unit, signed)

    @given(DIGITS, st.sampled_from(sorted(PER)), st.sampled_from(["m", "mm"]), st.data())
    def test_lengths_in_any_unit(self, value: Fraction, given_in: str, unit: str, data: st.DataObject) -> None:
        word = data.draw(st.sampled_from(WORDS[given_in]))
        self.takes(decimal(value) + word, unit, value * PER[given_in] / PER[unit])

    @given(st.integers(0, 900), st.integers(0, 11), st.sampled_from(["'%s\"", " ft %s in", "' %s″", "ft %sin"]))
    def test_feet_and_inches(self, feet: int, inches: int, form: str) -> None:
        self.takes(f"{feet}{form % inches}", "m", feet * PER["ft"] + inches * PER["in"])

    @given(
        st.integers(0, 359),
        st.integers(0, 59),
        st.integers(0, 59),
        st.sampled_from(["{}°{}'{}\"", "{}-{:02}-{:02}", "{} {} {}", "{}° {}′ {}″"]),
    )
    def test_bearings(self, d: int, m: int, s: int, form: str) -> None:
        self.takes(form.format(d, m, s), "°", d + Fraction(m, 60) + Fraction(s, 3600))

    def test_a_bearing_of_degrees_and_minutes_could_be_a_difference(self) -> None:
        self.assertEqual(read("62-30", "°")["choices"], [62.5, 32])
        self.takes("62 30", "°", 62.5)
        self.assertIn("59", read("62-70-00", "°")["wrong"])
        self.takes("62-30", "m", 32)  # of lengths nobody writes minutes

    @given(st.integers(0, 40), st.integers(1, 15), st.sampled_from([2, 4, 8, 16]), st.sampled_from(["", " in", " mm"]))
    def test_fractions(self, whole: int, part: int, of: int, word: str) -> None:
        if part < of:
            per = {"": PER["mm"], " in": PER["in"], " mm": PER["mm"]}[word]
            self.takes(f"{whole} {part}/{of}{word}", "mm", (whole + Fraction(part, of)) * per / PER["mm"])

    def test_signs_for_fractions_and_times(self) -> None:
        for text, unit, value in (
            ("½", "m", 0.5), ("3½", "m", 3.5), ("2¾ in", "mm", 69.85), ("2x3.5", "m", 7), ("2×3.5", "m", 7), ("2 X 3.5", "m", 7),
            ("-25‰", "%", -2.5), ("25 %", "1 in", 4), ("250‰", "1 in", 4), ("2 * 350mm", "m", 0.7), ("350mm * 2", "m", 0.7),
            ("(3 + 0.5) * 2", "m", 7), ("-(1 + 2)", "m", -3), ("2 * (350mm + 0.15)", "m", 1), ("3 ft + 2 in", "m", 0.9652), ("7 / 2", "m", 3.5),
            ("1e3", "m", 1000), ("412.303,5", "m", 412303.5), ("412,303.5", "m", 412303.5), ("1.234.567", "m", 1234567),
        ):  # fmt: skip
            self.takes(text, unit, value)

    @given(st.integers(1, 400), st.sampled_from([" in ", ":", " : "]), MINUS)
    def test_slopes(self, n: int, form: str, minus: str) -> None:
        """Of a side slope 1 in n is n; a crossfall needs its sign, and is asked for it."""
        self.takes(f"1{form}{n}", "1 in", n)
        self.takes(f"{minus}1{form}{n}", "%", Fraction(-100, n))
        self.takes(f"+1{form}{n}", "%", Fraction(100, n))
        without = read(f"1{form}{n}", "%")
        self.assertIsNone(without["value"])
        self.assertTrue(math.isclose(without["choices"][1], 100 / n, rel_tol=1e-11))
        self.assertEqual(without["choices"][0], -without["choices"][1])

    def test_three_to_one_has_two_meanings(self) -> None:
        self.assertEqual(read("3:1", "1 in")["choices"], [3, 0.333333333333])
        self.assertIn("1 in 3", read("3:1", "%")["wrong"])

    @given(st.recursive(st.integers(1, 99).map(str), lambda of: st.tuples(of, st.sampled_from("+-*"), of).map(lambda t: f"({t[0]} {t[1]} {t[2]})"), max_leaves=7))  # fmt: skip
    def test_sums_products_and_brackets(self, text: str) -> None:
        self.takes(text, "m", eval(text))
        self.takes(text[1:-1] if text.startswith("(") and text.count("(") == 1 else text, "m", eval(text))

    def test_what_is_none_is_told_with_three_forms_that_the_field_takes(self) -> None:
        for unit in ("m", "mm", "%", "1 in", "t/m³", "°", "km/h", "per t", "m/%", ""):
            for text in ("wide", "3..5", "3 +", "(3", "3 3.5 m x", "--3"):
                found = read(text, unit)
                self.assertIsNone(found["value"], f"{text} in {unit}")
                self.assertTrue(found["wrong"])
            self.assertIn(asked("forms", unit), read("wide", unit)["wrong"])

    def test_every_form_that_is_offered_is_taken(self) -> None:
        for unit in ("m", "mm", "%", "1 in", "t/m³", "°", "m right +", "km/h", "per t", "m/%", ""):
            for form in asked("forms", unit).replace(" or ", "; ").replace(", ", "; ").split("; "):
                self.assertIsNone(read(form, unit)["wrong"], f"{form} in {unit}")

    def test_units_that_do_not_go_together(self) -> None:
        for text, unit in (("3 m", "%"), ("5%", "mm"), ("30°", "m"), ("80 m", "km/h"), ("12 m", "per t"), ("5 m", ""), ("3 m * 2 m", "m"), ("3 / 2 m", "m")):  # fmt: skip
            self.assertIsNone(read(text, unit)["value"], f"{text} in {unit}")

    def test_limits_of_a_field_and_of_sense(self) -> None:
        within = {"least": 0, "most": 20}
        self.assertEqual(asked("readWithin", "20", "m", within)["value"], 20)
        self.assertEqual(asked("readWithin", "0", "m", within)["value"], 0)
        self.assertIn("At most 20 m", asked("readWithin", "20.001", "m", within)["wrong"])
        self.assertIn("At least 0 m", asked("readWithin", "-0.001", "m", within)["wrong"])
        self.assertIn("between", asked("readWithin", "1e308", "m", {})["wrong"])
        self.assertIsNone(asked("readWithin", "-20000", "mm", {})["wrong"])
        self.assertIn("between", asked("readWithin", "20001", "mm", {})["wrong"])


class Chainages(TestCase):
    def read(self, text: str, equations: list[dict[str, float]] | None = None) -> Any:
        return asked("readChainage", text, equations or [])

    @given(st.integers(0, 199_999_999), st.sampled_from(["{km}+{m:07.3f}", "{c:.3f}", "km {km}+{m:07.3f}", "{c:.3f} m", "{k:.6f} km", "km {k:.6f}", "KM {k:.6f}", "{km} + {m:07.3f}"]))  # fmt: skip
    def test_every_form_is_the_same_place(self, millimetres: int, form: str) -> None:
        c = millimetres / 1000
        found = self.read(form.format(c=c, km=int(c // 1000), m=c % 1000 if c % 1000 < 999.9995 else 999.999, k=c / 1000))
        self.assertIsNone(found["wrong"], form)
        self.assertAlmostEqual(found["value"], c, delta=1.1e-3)

    @given(st.integers(-9_999_999, 99_999_999))
    def test_what_is_written_is_read(self, millimetres: int) -> None:
        text = asked("chainageText", millimetres / 1000, 3, [])
        self.assertAlmostEqual(self.read(text)["value"], millimetres / 1000, delta=1e-9)

    def test_words_and_blanks(self) -> None:
        for text, value in (
            ("1 234.5", 1234.5),
            ("km 1.2345", 1234.5),
            ("1,2345 km", 1234.5),
            ("ch. 420", 420),
            ("Sta 0+420,5", 420.5),
            ("–20", -20),
        ):
            self.assertAlmostEqual(self.read(text)["value"], value, delta=1e-9, msg=text)
        for text in ("1,234", "0+43", "somewhere", "1+2+3", ""):
            self.assertIsNone(self.read(text)["value"], text)

    @given(st.floats(-500, 500), st.floats(0, 1999))
    def test_equations_there_and_back(self, jump: float, c: float) -> None:
        equations = [{"back": 1000.0, "ahead": 1000.0 + round(jump, 3)}]
        running = round(c, 3)
        text = asked("chainageText", running, 3, equations)
        found = self.read(text, equations)
        self.assertIsNone(found["wrong"])
        again = asked("chainageText", found["value"], 3, equations)
        self.assertEqual(again, text)
        if running < 1000 or jump >= 0:
            self.assertAlmostEqual(found["value"], running, delta=1e-6)

    @given(st.lists(st.floats(0, 1000), min_size=1, max_size=30), st.floats(-10, 1010), st.integers(-1, 1))
    def test_the_nearest_section(self, found: list[float], at: float, side: int) -> None:
        chainages = sorted(found)
        sides = [0] * len(chainages)
        i = asked("nearestSection", chainages, sides, at, side)
        self.assertAlmostEqual(abs(chainages[i] - at), min(abs(c - at) for c in chainages), delta=2e-6)

    def test_of_a_pair_the_side_that_is_asked_for_else_the_later(self) -> None:
        pair = [0, 50, 50, 100], [0, -1, 1, 0]
        self.assertEqual([asked("nearestSection", *pair, 50, side) for side in (-1, 1, 0)], [1, 2, 2])
