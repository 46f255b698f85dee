"""Each form in which people write a number, in a field of each unit; what cannot be meant is told, and stays to be mended."""

from playwright.sync_api import Page, expect

from e2e.browser import LONG, BrowserCase
from e2e.test_bench import fresh
from e2e.turns import in_turn

#: 1 ft = 0.3048 m and 1 in = 25.4 mm by the international agreement of 1959.
TAKEN = {
    "m": {"25,5": "25.5", "82 ft": "24.9936", "82'6\"": "25.146", "2 550 cm": "25.5", "0.026km": "26", "20 + 2*2.5 - 500mm": "24.5"},
    "mm": {"6cm": "60", "0,061 m": "61", "2.5\"": "63.5", "60 + 2*2": "64", "62 mm": "62", "+63": "63"},
    "%": {"-1 in 40": "-2.5", "+1:50": "2", "−2,25%": "-2.25", "-2.5 - 0.5": "-3"},
    "1 in": {"1 in 6": "6", "1:7,5": "7.5", "12.5 %": "8", "9": "9", "5 + 5": "10"},
    "t/m³": {"2,41 t/m³": "2.41", "2.3 + 0.12": "2.42"},
    "per t": {"71,50": "71.5", "70 + 2.25": "72.25"},
    "km/h": {"80km/h": "80", "70 + 20": "90", "70,5": "70.5"},
    "°": {"12°30'": "12.5", "12°15'36\"": "12.26", "10 + 2.5": "12.5", "−7,25°": "-7.25"},
    "": {"2 * 2": "4", "3": "3"},
    "chainage": {"420,5": "0+420.500", "0+430": "0+430.000", "0,44 km": "0+440.000", "km 0+450": "0+450.000", "460 m": "0+460.000"},
}  # fmt: skip
REFUSED = {
    "m": {
        "1 in 40": "A slope is no value in m",
        "30°": "° does not go with m",
        "0+025": "looks like a chainage",
        "wide": "Not a number",
    },
    "mm": {"1,250": "can be read as 1250 or 1.25", "5%": "% does not go with mm", "99999": "between -20000 and 20000 mm"},
    "%": {"1 in 40": "Falling or rising?", "3 m": "m does not go with %", "1 in 0": "no slope", "5000": "between -1000 and 1000"},
    "1 in": {"-1 in 6": "has no sign here", "3 m": "m does not go with 1 in", "0": "At least 0.1"},
    "t/m³": {"1 in 2": "A slope is no value in t/m³", "2 mm": "does not go with t/m³", "11": "At most 10"},
    "per t": {"-1": "At least 0", "12 m": "does not go with per t"},
    "km/h": {"300": "At most 140", "80 m": "m does not go with km/h"},
    "°": {"12°70'": "run to 59", "12 m": "m does not go with °", "400": "between -360 and 360"},
    "": {"5 m": "m does not go with this field", "1 in 3": "A slope is no number here", "1 / 0": "divided by 0"},
    "chainage": {"0+43": "Behind the plus stand three digits", "somewhere": "Not a chainage"},
}


def some(forms: dict[str, str]) -> list[tuple[str, str]]:
    """One form of a unit shows that its field reads them; web/rules judges all of them in every run, and the long run types them too."""
    return list(forms.items())[: None if LONG else 1]


class NumberForms(BrowserCase):
    def forms(self, page: Page, label: str, unit: str) -> None:
        """Every form of a unit in the field of that label, which ends with its first value."""
        field = page.get_by_role("textbox", name=label, exact=True)
        first = field.input_value()
        for typed, value in some(TAKEN[unit]):
            field.fill(typed)
            field.press("Enter")
            expect(field, f"{typed} in {label}").to_have_value(value)
        for typed, words in some(REFUSED[unit]):
            field.fill(typed)
            expect(page.get_by_text(words).last, f"{typed} in {label}").to_be_visible()
            field.blur()
            expect(field, "it stays to be mended").to_have_value(typed)
        field.fill(first)
        field.press("Enter")
        expect(field).to_have_value(first)

    @in_turn
    def test_a_field_of_every_unit(self) -> None:
        page = self.page()
        self.open(page, "overlay?at=400")
        self.forms(page, "Least cover", "mm")
        self.open(page, "overlay?at=400&from=380&to=480")
        page.get_by_role("button", name="Variants").click()
        self.forms(page, "Price per tonne", "per t")
        page.keyboard.press("Escape")
        self.open(page, "sections?at=400")
        self.forms(page, "Width right", "m")
        self.open(page, "levels?at=400")
        self.forms(page, "Speed", "km/h")
        self.open(page, "guides?at=400")
        self.forms(page, "Start of the guide", "chainage")
        self.forms(page, "Ratio of piece 2", "1 in")
        self.open(page, "templates?at=400")
        self.forms(page, "Crossfall left", "%")
        page.get_by_role("tab", name="Materials").click()
        self.forms(page, "Density", "t/m³")
        self.open(page, "sheets?at=400")
        self.forms(page, "One section in", "")
        self.open(page, "alignment?at=400")
        self.forms(page, "Start bearing", "°")
        fresh(page)
