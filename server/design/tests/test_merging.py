"""Changes put together where they do not touch: laws on random values, and cases by hand."""

from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from design.merging import merge

VALUES = st.recursive(
    st.integers(0, 3) | st.booleans(),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.sampled_from("abcd"), inner, max_size=4),
    max_leaves=12,
)


class Merging(TestCase):
    @given(VALUES, VALUES)
    def test_one_change_alone_is_taken_as_it_is(self, base: Any, other: Any) -> None:
        for mine, theirs in ((base, other), (other, base), (other, other)):
            found = merge(base, mine, theirs)
            self.assertEqual((found.value, found.touching), (other, []))

    @given(VALUES, VALUES, VALUES)
    def test_who_is_who_does_not_matter_where_nothing_touches(self, base: Any, mine: Any, theirs: Any) -> None:
        one, other = merge(base, mine, theirs), merge(base, theirs, mine)
        self.assertEqual(bool(one.touching), bool(other.touching))
        if not one.touching:
            self.assertEqual(one.value, other.value)

    @given(st.lists(st.integers(0, 99), min_size=4, max_size=8, unique=True), st.data())
    def test_items_taken_out_and_changed_elsewhere(self, base: list[int], data: Any) -> None:
        """An item taken out by one and another one changed by the other, not beside it: both hold."""
        gone = data.draw(st.integers(0, len(base) - 3))
        changed = data.draw(st.integers(gone + 2, len(base) - 1))
        theirs = [-1 if i == changed else v for i, v in enumerate(base)]
        found = merge({"rows": base}, {"rows": base[:gone] + base[gone + 1 :]}, {"rows": theirs})
        self.assertEqual((found.value["rows"], found.touching), (theirs[:gone] + theirs[gone + 1 :], []))

    def test_fields_of_one_row(self) -> None:
        base = {"ranges": [{"cover": 50, "cut": 0.1}, {"cover": 60, "cut": 0.1}]}
        mine = {"ranges": [{"cover": 55, "cut": 0.1}, {"cover": 60, "cut": 0.1}]}
        theirs = {"ranges": [{"cover": 50, "cut": 0.2}, {"cover": 60, "cut": 0.1}, {"cover": 1, "cut": 0}]}
        found = merge(base, mine, theirs)
        self.assertEqual((found.value["ranges"], found.touching), ([{"cover": 55, "cut": 0.2}, *theirs["ranges"][1:]], []))
        same_length = {"ranges": theirs["ranges"][:2]}
        self.assertEqual(merge(base, mine, same_length).value["ranges"][0], {"cover": 55, "cut": 0.2})

    def test_a_key_that_one_takes_out_is_gone(self) -> None:
        """While the other one changes a key beside it; with another value for it both touch."""
        found = merge({"a": 1, "b": 2}, {"a": 1}, {"a": 3, "b": 2})
        self.assertEqual((found.value, found.touching), ({"a": 3}, []))
        self.assertEqual(merge({"a": 1, "b": 2}, {"a": 3, "b": 2}, {"a": 1}).value, {"a": 3})
        self.assertEqual(merge({"a": 1, "b": 2}, {"a": 1}, {"a": 1, "b": 5}).touching, ["b"])

    def test_where_both_said_something_else(self) -> None:
        found = merge({"a": 1, "b": [1]}, {"a": 2, "b": [1, 2]}, {"a": 3, "b": [1, 3]})
        self.assertEqual(found.touching, ["a", "b › after 1"])
        self.assertEqual(found.value, {"a": 3, "b": [1, 3]})
