"""Conditions: tests joined by and, or and not. Frozen trees that print as the language reads.

A condition answers `holds(facts, ties)`: true, false or unknown for each mark, shape (n,). And
`explain(facts, ties)`: a function from a mark's index to the sentence that tells why.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Iterator
from dataclasses import field, replace
from functools import reduce
from typing import Final, TypeAlias

import numpy as np

from yuzen.arrays import Truth
from yuzen.errors import Span, make_error, type_name
from yuzen.rules import truth
from yuzen.rules.claims.base import BaseClaim, Explainer, Side, TextParameters
from yuzen.rules.evaluation_data import EvaluationData, TestView
from yuzen.rules.language.period_names import peer_text
from yuzen.rules.marks import LEVELS
from yuzen.rules.peers.ranks import Ties
from yuzen.rules.quantities.ago import Ago
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Derived, Previous, Quantity, completed
from yuzen.rules.quantities.structure import inside
from yuzen.value import Value

PYTHON_WORDS = (
    "Join conditions with &, | and ~ instead of and, or and not, each side in brackets: "
    '(measure("v") > 3) & (measure("v") < 7). A chain such as 3 < measure("v") < 7 is '
    'measure("v").between(3, 7), in which both ends count.'
)


class BaseCondition(Value, ABC):
    """What all conditions share: `&`, `|` and `~`, and folding truths through the tree."""

    def holds(self, facts: EvaluationData, ties: Ties = "competition") -> Truth:
        """True, false or unknown for each mark."""
        return self.folded(lambda test: test.holds(facts, ties), len(facts.marks))

    @abstractmethod
    def folded(self, of_test: Callable[[Test], Truth], count: int) -> Truth:
        """The condition's truth from that of its tests, shape (count,), by Kleene's logic."""

    def __bool__(self) -> bool:
        """Refuse Python's and, or, not and chains, which would drop one side in silence."""
        # Python's `a and b` would ask the truth of a and hand back b alone.
        message = "A condition is neither true nor false before there are marks."
        raise make_error("rule-python", f"{message} {PYTHON_WORDS}")

    def __and__(self: Condition, other: Condition) -> And:  # type: ignore[misc]
        # Chains are flat, as the parser reads them: a tree built in Python equals the one that was
        # read.
        return And((*(self.parts if isinstance(self, And) else (self,)), _condition(other)))

    def __or__(self: Condition, other: Condition) -> Or:  # type: ignore[misc]
        return Or((*(self.parts if isinstance(self, Or) else (self,)), _condition(other)))

    def __invert__(self: Condition) -> Not:  # type: ignore[misc]
        return Not(self)


def _condition(value: object) -> Condition:
    """The other side of & or |. Raises YuzenError (rule-python) for what is no condition."""
    if isinstance(value, BaseCondition):
        return value  # type: ignore[return-value]  # one of its kinds
    raise make_error("rule-python", f"{type_name(value)} is no condition. {PYTHON_WORDS}")


FOR_EVERY_MARK: Final = "the rule is for every mark"  # the reason of a rule that asks nothing


class Test(BaseCondition):
    """A claim about a quantity among its peers; with no subject, about the chart's own value."""

    __test__ = False  # not one of pytest's

    subject: Quantity | None
    claim: BaseClaim
    within: tuple[str, ...] = ()
    span: Span | None = field(default=None, compare=False, repr=False)

    def __str__(self) -> str:
        if self.subject is None:
            subject = ""
        else:
            subject = f"{self.subject} "
        fields = ", ".join(map(peer_text, self.within))
        return f"{subject}{self.claim}" + (f" within {fields}" if fields else "")

    def among(self, *columns: str) -> Test:
        """A copy of the test among the peers that columns name."""
        return replace(self, within=columns)

    def quantities(self) -> tuple[Quantity, ...]:
        """The subject, if there is one, and what the claim mentions."""
        return (*(() if self.subject is None else (self.subject,)), *self.claim.quantities())

    def view(self, facts: EvaluationData, ties: Ties) -> TestView:
        """The facts as this test sees them."""
        value = Field(self.claim.meant(facts.marks))
        subject = value if self.subject is None else completed(self.subject, value)
        return facts.view(subject, self.within, ties)

    def holds(self, facts: EvaluationData, ties: Ties = "competition") -> Truth:
        """What the claim says of each mark."""
        view, past = self.view(facts, ties), facts.marks.past
        with np.errstate(all="ignore"):
            if self.claim.looks_back and past is not None and view.history is not None:
                # Totals have no place among those marks, and know nothing of steps.
                held = np.append(self.claim.holds(view.history), np.int8(truth.UNKNOWN))
                return held[past.places]
            held = self.claim.holds(view)
        if held.ndim:
            return held
        return np.full(len(facts.marks), held)

    def folded(self, of_test: Callable[[Test], Truth], count: int) -> Truth:  # noqa: ARG002
        """The result for the test itself."""
        return of_test(self)

    def sides(self, facts: EvaluationData) -> tuple[Side, ...]:
        """On which sides of quantities the chart's own value has to lie for the test to hold.

        None: the test is of whole marks, or of another quantity than the one that is drawn.
        """
        value = facts.marks.value
        if self.subject is None or _is_field(self.subject, value, facts):
            return self.claim.sides()
        # "average below fares" cuts fares just as "fares above average" does, from the other side.
        if len(sides := self.claim.sides()) == 1 and _is_field(sides[0].of, value, facts):
            return (replace(sides[0], of=self.subject, above=not sides[0].above),)
        return ()

    def explain(self, facts: EvaluationData, ties: Ties = "competition") -> Explainer:
        """The claim's own reason."""
        view = self.view(facts, ties)
        with np.errstate(all="ignore"):
            because = self._reasons(view)
        outsiders = facts.outsiders if self.claim.among_peers else None
        named = [name for name in view.within if name != LEVELS]
        if named:
            among = f" within {', '.join(named)}"
        else:
            among = ""

        def told(mark: int) -> str:
            if outsiders is not None and outsiders[mark]:
                return f"it is no item, and '{self.claim}' compares items"
            with np.errstate(all="ignore"):
                return because(mark) + among

        return told

    def _reasons(self, view: TestView) -> Explainer:
        """The claim's reasons; of one that looks back, among all marks, shown or not."""
        history, past = view.history, view.facts.marks.past
        if not self.claim.looks_back or past is None or history is None:
            return self.claim.explain(view)
        because, places = self.claim.explain(history), past.places
        return lambda mark: because(int(places[mark])) if places[mark] >= 0 else "it is no item"


class Always(BaseCondition):
    """True of every mark."""

    def __str__(self) -> str:
        return "always"

    def folded(self, of_test: Callable[[Test], Truth], count: int) -> Truth:  # noqa: ARG002
        """True."""
        return np.full(count, truth.TRUE, dtype=np.int8)

    def explain(self, facts: EvaluationData, ties: Ties = "competition") -> Explainer:  # noqa: ARG002
        """'always'."""
        return lambda mark: FOR_EVERY_MARK  # noqa: ARG005


class Not(BaseCondition):
    """True where the other is false; unknown stays unknown."""

    of: Condition

    def __str__(self) -> str:
        if isinstance(self.of, And | Or):
            return f"not ({self.of})"
        return f"not {self.of}"

    def folded(self, of_test: Callable[[Test], Truth], count: int) -> Truth:
        """The opposite."""
        return np.negative(self.of.folded(of_test, count))

    def explain(self, facts: EvaluationData, ties: Ties = "competition") -> Explainer:
        """The other's reason serves both ways."""
        return self.of.explain(facts, ties)


class And(BaseCondition):
    """True where every part is; false where one is false, whatever the others are."""

    parts: tuple[Condition, ...]

    def __str__(self) -> str:
        return " and ".join(f"({p})" if isinstance(p, And | Or) else str(p) for p in self.parts)

    def folded(self, of_test: Callable[[Test], Truth], count: int) -> Truth:
        """The least true of the parts."""
        return reduce(np.minimum, (part.folded(of_test, count) for part in self.parts))

    def explain(self, facts: EvaluationData, ties: Ties = "competition") -> Explainer:
        """The reasons of those parts that decide."""
        return _deciding(self.parts, facts, ties, min)


class Or(BaseCondition):
    """True where one part is; false only where every part is false."""

    parts: tuple[Condition, ...]

    def __str__(self) -> str:
        return " or ".join(f"({p})" if isinstance(p, Or) else str(p) for p in self.parts)

    def folded(self, of_test: Callable[[Test], Truth], count: int) -> Truth:
        """The most true of the parts."""
        return reduce(np.maximum, (part.folded(of_test, count) for part in self.parts))

    def explain(self, facts: EvaluationData, ties: Ties = "competition") -> Explainer:
        """The reasons of those parts that decide."""
        return _deciding(self.parts, facts, ties, max)


Condition: TypeAlias = Test | Always | Not | And | Or


def with_tests(condition: Condition, change: Callable[[Test], Test]) -> Condition:
    """A copy with every test changed."""
    match condition:
        case Test():
            return change(condition)
        case Not():
            return Not(with_tests(condition.of, change))
        case And() | Or():
            return replace(condition, parts=tuple(with_tests(p, change) for p in condition.parts))
    return condition


def with_subject(condition: Condition, subject: Quantity) -> Condition:
    """A copy in which every test without a subject is about this one."""
    return with_tests(condition, lambda t: replace(t, subject=t.subject or subject))


def about(condition: Condition, test: Test, subject: Quantity) -> Condition:
    """A copy in which one of the tests is about a subject."""
    return with_tests(condition, lambda t: replace(t, subject=subject) if t is test else t)


def with_text_parameters(condition: Condition, words: TextParameters) -> Condition:
    """A copy with texts in place of parameters, whose names are in small letters."""
    return with_tests(condition, lambda t: replace(t, claim=t.claim.worded(words)))


def all_tests(condition: Condition) -> Iterator[Test]:
    """Every test of a condition, from left to right."""
    if isinstance(condition, Test):
        yield condition
    elif isinstance(condition, Not):
        yield from all_tests(condition.of)
    elif isinstance(condition, And | Or):
        for part in condition.parts:
            yield from all_tests(part)


def compares_marks(test: Test) -> bool:
    """Whether a test compares a mark with others of its sequence: those before it, or so far."""
    parts = [part for quantity in test.quantities() for part in inside(quantity)]
    along = {"running share", "running total", "change"}
    return test.claim.sequential or any(
        isinstance(part, Previous) or (isinstance(part, Derived) and part.kind in along)
        for part in parts
    )


def times_before(test: Test) -> list[Ago]:
    """How long before their own date a test compares marks: a year before, 3 months before."""
    parts = [part for quantity in test.quantities() for part in inside(quantity)]
    times = [getattr(test.claim, "on", None), *(getattr(part, "ago", None) for part in parts)]
    return [ago for ago in times if ago is not None]


def _is_field(quantity: Quantity, name: str, facts: EvaluationData) -> bool:
    return isinstance(quantity, Field) and facts.name(quantity.name) == name


def _deciding(
    parts: tuple[Condition, ...],
    facts: EvaluationData,
    ties: Ties,
    decide: Callable[[list[int]], int],
) -> Explainer:
    """One sentence of the deciding parts: all of a true `and`, the failed ones of a false one."""
    truths = [part.holds(facts, ties) for part in parts]
    reasons = [part.explain(facts, ties) for part in parts]

    def because(mark: int) -> str:
        truths_there = [int(held[mark]) for held in truths]
        # Of a failed `and` only the parts that failed matter; of one that holds, all do. `or` is
        # the mirror image.
        decisive = decide(truths_there)
        return ", and ".join(
            because(mark)
            for because, held in zip(reasons, truths_there, strict=True)
            if held == decisive
        )

    return because
