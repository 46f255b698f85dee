"""A document being edited, against the server's own rules of change: nothing typed is lost, nobody conflicts with oneself."""

from typing import Any
from unittest import TestCase

from hypothesis import settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule, run_state_machine_as_test

from design.merging import merge
from rules.asked import asked
from tests.depth import many

#: Mine are typed here, theirs by a colleague; the list is both of ours.
MINE, THEIRS = ("a", "b"), ("x", "y")
VALUES = st.integers(0, 9)


class Draft(RuleBasedStateMachine):
    """One page with one document, and a server that answers in its own time, or not at all."""

    def __init__(self) -> None:
        super().__init__()
        self.spec: dict[str, int] = dict.fromkeys(MINE + THEIRS, 0)
        self.version = 1
        self.state: Any = None
        #: What the page has read of the document last.
        self.saved = {"version": 1, "spec": dict(self.spec)}
        self.requests: list[Any] = []
        self.shelf: Any = None
        #: What I typed last of every field, and what the colleague wrote.
        self.mine: dict[str, int] = {}
        self.theirs: dict[str, int] = {}
        self.shown_preview = False
        self.arrived_unheard = False
        self.in_hand: dict[str, int] = {}

    def happens(self, **event: Any) -> None:
        self.state, effects = asked("draftStep", self.state, event)
        for effect in effects:
            match effect["do"]:
                case "send":
                    assert not self.requests, "one save after another"
                    self.requests.append(effect)
                case "sendLast":
                    self.requests.append(effect)
                case "shelve":
                    self.shelf = {"spec": effect["spec"], "base": effect["base"]}
                case "unshelve":
                    self.shelf = None
                case "wait" | "show":
                    self.shown_preview = True
                case "drop" | "settle":
                    self.shown_preview = False

    @property
    def shown(self) -> dict[str, int]:
        """As the screen has it."""
        state = self.state or {}
        if state.get("held") is not None:
            return dict(state["held"])
        return dict(state["latest"]["spec"] if state.get("latest") else self.saved["spec"])

    def write(self, sent: Any) -> dict[str, Any]:
        """As server/design/actions/change.py writes it. Never a conflict: we touch different fields."""
        base, after = sent["base"], sent["spec"]
        merged = base["version"] != self.version
        if merged:
            found = merge(base.get("spec"), after, self.spec)
            assert base.get("spec") is not None and not found.touching, f"a conflict with oneself: {found.touching}"
            after = found.value
        if after != self.spec:
            self.spec, self.version = dict(after), self.version + 1
        return {"version": self.version, "spec": dict(self.spec), "merged": merged}

    @precondition(lambda self: not (self.state and self.state["held"]))  # whoever drags does not type
    @rule(field=st.sampled_from(MINE), value=VALUES)
    def typed(self, field: str, value: int) -> None:
        self.mine[field] = value
        self.happens(type="typed", spec={**self.shown, field: value}, saved=self.saved)

    @rule()
    def its_time_has_come(self) -> None:
        self.happens(type="due")

    @rule(field=st.sampled_from(THEIRS), value=VALUES)
    def a_colleague_writes(self, field: str, value: int) -> None:
        if self.spec[field] != value:
            self.spec, self.version = {**self.spec, field: value}, self.version + 1
            self.theirs[field] = value

    @rule()
    def the_page_reads(self) -> None:
        self.saved = {"version": self.version, "spec": dict(self.spec)}

    @precondition(lambda self: self.requests)
    @rule(arrives=st.sampled_from(["yes", "not", "unheard"]))
    def answered(self, arrives: str) -> None:
        sent = self.requests.pop(0)
        if arrives == "not":
            self.happens(type="answered", written="unreachable")
            return
        written = self.write(sent)
        self.arrived_unheard = arrives == "unheard"
        if self.arrived_unheard:  # it arrived, and the answer did not
            self.happens(type="answered", written="unreachable")
            return
        if written["version"] > self.saved["version"]:
            self.saved = written
        self.happens(type="answered", written=written)

    @rule(field=st.sampled_from(MINE), value=VALUES, done=st.booleans())
    def dragged(self, field: str, value: int, done: bool) -> None:
        given_up = bool(self.state and self.state["givenUp"])
        if done and not given_up:
            self.mine |= {**self.in_hand, field: value}  # what is let go is all that was in the hand
        self.in_hand = {} if done else {**self.in_hand, field: value}
        self.happens(type="dragged", spec={**self.shown, field: value}, done=done, saved=self.saved)

    @rule()
    def given_up_and_pressed_again(self) -> None:
        before = self.state["latest"] if self.state else None
        self.happens(type="gaveUp")
        self.in_hand = {}
        assert self.state["latest"] == before and self.state["held"] is None
        self.happens(type="dragged", spec={**self.shown, "a": 77}, done=True, saved=self.saved)
        assert self.state["latest"] == before, "what is given up counts for nothing"
        self.happens(type="pressed")

    @rule(arrives=st.booleans())
    def closed_and_opened_again(self, arrives: bool) -> None:
        """What is on its way is finished by the browser or not; what was typed is sent last, and kept."""
        under_way, self.requests, self.in_hand = self.requests, [], {}
        # A request that is lost while the page closes, or was not heard of, may end in a question: what is kept rests on it.
        unsure = (under_way and not arrives) or (self.state and self.state["unheard"] and self.arrived_unheard)
        if self.state and self.state["held"] is not None:
            self.happens(type="dragEnded")
        for sent in under_way:
            if arrives:
                self.write(sent)
        if self.state:
            self.happens(type="closing")
        last, self.requests = self.requests, []
        for sent in last:
            if arrives and not unsure:
                self.write(sent)
                self.shelf = None
        if unsure:
            self.mine, self.shelf = {f: v for f, v in self.mine.items() if self.spec[f] == v}, None
        self.state, self.shown_preview = None, False
        self.the_page_reads()
        kept, self.shelf = self.shelf, None
        if kept and kept["spec"] != self.saved["spec"]:
            self.happens(type="typed", spec=kept["spec"], saved=kept["base"])

    @invariant()
    def the_colleague_keeps_what_was_written(self) -> None:
        for field, value in self.theirs.items():
            assert self.spec[field] == value, f"{field} of the colleague is {self.spec[field]}, not {value}"

    @invariant()
    def what_is_typed_stays_on_the_screen(self) -> None:
        if self.state and self.state["held"] is None and (self.state["latest"] or self.state["sending"]):
            latest = (self.state["latest"] or self.state["sending"])["spec"]
            for field, value in self.mine.items():
                assert latest[field] == value

    def teardown(self) -> None:
        """All is sent and answered: the server has what I typed and what the colleague wrote."""
        if self.state and self.state["held"] is not None:
            self.happens(type="dragEnded")
        for _ in range(6):
            self.happens(type="due")
            while self.requests:
                self.answered("yes")
        for field, value in self.mine.items():
            assert self.spec[field] == value, f"{field} is {self.spec[field]}, and {value} was typed"
        assert self.state["latest"] is None and not self.shown_preview


class Drafts(TestCase):
    def test_nothing_that_is_typed_is_lost(self) -> None:
        run_state_machine_as_test(Draft, settings=settings(max_examples=many(60), stateful_step_count=20, deadline=None))
