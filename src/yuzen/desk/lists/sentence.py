"""A condition as a sentence of lists: what is chosen in each list is the condition's text."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace
from functools import cache
from typing import Final, Literal, TypeAlias

from yuzen.regex import regex
from yuzen.rules.claims import CLAIMS, BaseClaim
from yuzen.rules.conditions import And, Condition, Not, Or, Test
from yuzen.rules.grammar.parser import parse
from yuzen.rules.language.period_names import peer_text
from yuzen.value import Value

Joint: TypeAlias = Literal["and", "or"]
SLOT: Final = regex(r"\{(\w+)\}")
ALWAYS_FORM: Final = "always"


class ListedTest(Value):
    """One test as lists show it.

    subject: the quantity that it is about, as text; '' for the chart's value.
    form:    what is said of it, with a place for each thing to choose: "top {amount}".
    slots:   what is chosen for these places, as the language writes it.
    within:  the peers, as text; '' for all marks.

    >>> ListedTest("passengers", "top {amount}", ("3",), within="waters").text
    'passengers top 3 within waters'
    """

    subject: str = ""
    form: str = "top {amount}"
    slots: tuple[str, ...] = ()
    within: str = ""
    negated: bool = False

    @property
    def text(self) -> str:
        """The test as the language writes it."""
        parts = iter(self.slots)
        claim = SLOT.sub(lambda _: next(parts, ""), self.form)
        peers = f"within {self.within}" if self.within else ""
        words = ("not" if self.negated else "", self.subject, claim, peers)
        return " ".join(filter(None, words))


class ListedSentence(Value):
    """Tests that are joined by and, or by or."""

    tests: tuple[ListedTest, ...]
    joint: Joint = "and"

    @property
    def text(self) -> str:
        """The condition as the language writes it."""
        return f" {self.joint} ".join(test.text for test in self.tests)


def sentence_of(text: str) -> ListedSentence | None:
    """The lists of a condition; None for one with brackets, which lists cannot show.

    Raises YuzenError for what is no condition.

    >>> sentence = sentence_of("surplus negative and not in top 3")
    >>> [(test.subject, test.form, test.slots) for test in sentence.tests]
    [('surplus', 'negative', ()), ('', 'top {amount}', ('3',))]
    """
    condition = parse(text)
    joint: Joint = "or" if isinstance(condition, Or) else "and"
    parts = condition.parts if isinstance(condition, And | Or) else (condition,)
    tests = [_listed(part) for part in parts]
    if any(test is None for test in tests):
        return None
    sentence = ListedSentence(tuple(test for test in tests if test is not None), joint)
    # What lists say is the condition, or they are not shown.
    return sentence if parse(sentence.text) == condition else None


def forms() -> list[tuple[type[BaseClaim], str]]:
    """What can be said of a subject, each with its claim, in the order of the language."""
    return [(claim, form) for claim in CLAIMS for form in claim.forms]


def _listed(condition: Condition) -> ListedTest | None:
    if isinstance(condition, Not):
        inner = _listed(condition.of)
        return None if inner is None else replace(inner, negated=not inner.negated)
    if not isinstance(condition, Test):
        return None
    subject = "" if condition.subject is None else str(condition.subject)
    within = ", ".join(map(peer_text, condition.within))
    written = str(condition.claim)
    for form, pattern in _patterns(type(condition.claim)):
        if match := pattern.fullmatch(written):
            return ListedTest(subject, form, match.groups(), within)
    return None


@cache
def _patterns(claim: type[BaseClaim]) -> list[tuple[str, re.Pattern[str]]]:
    """The forms of a claim, each with what finds its places; the longest first."""
    return [(form, _pattern(form)) for form in sorted(claim.forms, key=_plain_length)]


def _pattern(form: str) -> re.Pattern[str]:
    return re.compile("".join(_pieces(form)), re.DOTALL)


def _pieces(form: str) -> Iterator[str]:
    """The words of a form as they are, and for each place whatever may stand there."""
    for place, piece in enumerate(SLOT.split(form)):
        yield "(.+)" if place % 2 else re.escape(piece)


def _plain_length(form: str) -> int:
    """How much of a form is fixed, the most first."""
    return -len(SLOT.sub("", form))
