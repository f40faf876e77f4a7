"""A place in the tokens of one rule: looks ahead, takes, and says what was expected."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import NoReturn

from yuzen.errors import Span, suggestion
from yuzen.rules.language.row_condition import RowCondition
from yuzen.rules.language.tokens import MAX_DEPTH, Token, fault, tokenize
from yuzen.rules.language.words import reserved


class Reader:
    """Reads one text from left to right.

    conditions: reads a condition inside a quantity, as quantities are inside conditions.
    """

    def __init__(
        self, source: str, conditions: Callable[[Reader], RowCondition] | None = None
    ) -> None:
        self.source, self.conditions = source, conditions
        self.tokens = tokenize(source)
        self.place = 0
        self.depth = 0
        self.closing = self._brackets()

    @property
    def next(self) -> Token:
        """The token that comes next."""
        return self.tokens[self.place]

    def ahead(self, steps: int = 1) -> Token:
        """The token some steps after the next one; the end from there on."""
        # The last token is the end, so looking further ahead finds the end again.
        return self.tokens[min(self.place + steps, len(self.tokens) - 1)]

    def take(self, *words: str) -> Token | None:
        """The next token if it is one of these words or signs, and go on after it."""
        token = self.next
        if token.word not in words:
            return None
        self.place += 1
        return token

    def take_kind(self, *kinds: str) -> Token | None:
        """The next token if it is of one of these kinds, and go on after it."""
        token = self.next
        if token.kind not in kinds:
            return None
        self.place += 1
        return token

    def must(self, word: str, expected: str) -> Token:
        """As `take`, but it has to be there."""
        return self.take(word) or self.fail(expected)

    def since(self, start: int) -> Span:
        """The stretch from the token at `start` to the last one taken."""
        last = self.tokens[max(start, self.place - 1)]
        return Span(self.tokens[start].span.start, last.span.end, self.source)

    @contextmanager
    def deeper(self) -> Iterator[None]:
        """One level further in; too many are refused before they can exhaust anything."""
        self.depth += 1
        if self.depth > MAX_DEPTH:
            message = (
                f"This rule is nested more than {MAX_DEPTH} deep. Split it into several rules."
            )
            raise fault("rule-depth", message, self.source, self.next.span)
        yield
        self.depth -= 1

    def fail(self, expected: str, known: tuple[str, ...] = ()) -> NoReturn:
        """Say what was expected here, with the nearest word where one is near."""
        token = self.next
        if token.kind == "name":
            hint = suggestion(token.text, known or reserved())
        else:
            hint = ""
        if token.kind == "end":
            raise fault(
                "rule-syntax", f"The rule ends too early: {expected}.", self.source, token.span
            )
        piece = self.source[token.span.start : token.span.end][:60]
        message = f"I cannot read '{piece}' here: {expected}.{hint}"
        raise fault("rule-syntax", message, self.source, token.span)

    def _brackets(self) -> dict[int, int]:
        """The place of each opening bracket's closing one."""
        closing: dict[int, int] = {}
        opened: list[int] = []
        for place, token in enumerate(self.tokens):
            if token.word == "(":
                opened.append(place)
            elif token.word == ")":
                if not opened:
                    message = "This bracket closes nothing."
                    raise fault("rule-bracket", message, self.source, token.span)
                closing[opened.pop()] = place
        if opened:
            message = "This bracket is not closed."
            raise fault("rule-bracket", message, self.source, self.tokens[opened[-1]].span)
        return closing
