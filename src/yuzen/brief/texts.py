"""Texts of the rule language inside a brief: checked as they come in, kept as they were written."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING, Annotated, TypeAlias

from pydantic import AfterValidator, StringConstraints
from pydantic_core import PydanticCustomError

from yuzen.errors import YuzenError, wrong
from yuzen.rules.conditions import Test
from yuzen.rules.language.grammar import parse, parse_quantity
from yuzen.rules.language.wording import parse_text
from yuzen.rules.quantities import Negative, Number, Percent
from yuzen.rules.shades import Edge

if TYPE_CHECKING:
    from collections.abc import Callable

    from yuzen.rules.conditions import Condition


def _checked_by(read: Callable[[str], object]) -> Callable[[str], str]:
    def check(text: str) -> str:
        try:
            read(text)
        except YuzenError as error:
            raise PydanticCustomError("yuzen", "{text}", {"text": str(error), "error": error}) from None
        return text

    return check


def parse_range(text: str) -> tuple[Edge, Edge]:
    """The two ends of a shade: "5% to 95%" or "0 to 100".

    >>> parse_range("5% to 1_000")
    (Edge(value=5.0, percentile=True), Edge(value=1000.0, percentile=False))
    """
    low, *others = _TO.split(text)
    if len(others) != 1:
        raise wrong("brief-range", f'"{text[:40]}" is no range; write "5% to 95%" or "0 to 100".')
    return _edge(low), _edge(others[0])


def _edge(text: str) -> Edge:
    end = parse_quantity(text)
    sign = -1.0 if isinstance(end, Negative) else 1.0
    end = end.of if isinstance(end, Negative) else end
    if isinstance(end, Percent) and end.of is None and end.percent <= 100:
        return Edge(end.percent, percentile=True)
    if isinstance(end, Number):
        return Edge(sign * end.value)
    raise wrong("brief-range", f'"{text[:40]}" is neither a number nor a percentile.')


_TO = re.compile(r"\s+to\s+", re.IGNORECASE)

ConditionText: TypeAlias = Annotated[str, AfterValidator(_checked_by(parse))]
MeasureText: TypeAlias = Annotated[str, AfterValidator(_checked_by(parse_quantity))]


def parse_part(text: str) -> Test:
    """The comparison of a part: one test that has sides, such as "above average within waters"."""
    test = parse(text)
    if isinstance(test, Test) and test.claim.sides():
        return test
    message = f"'{text[:60]}' does not say on which side of a value the part lies."
    raise wrong("brief-part", f"{message} Say 'above average' or 'between 0 and limit'.")


PartText: TypeAlias = Annotated[str, AfterValidator(_checked_by(parse_part))]


def parse_show(text: str) -> Condition | None:
    """For which marks a label is shown: a condition; None for the words all, flagged and totals."""
    return None if text in {"all", "flagged", "totals"} else parse(text)


ShowText: TypeAlias = Annotated[str, AfterValidator(_checked_by(parse_show))]
RangeText: TypeAlias = Annotated[str, AfterValidator(_checked_by(parse_range))]
WordingText: TypeAlias = Annotated[
    str, StringConstraints(max_length=2_000), AfterValidator(_checked_by(parse_text))
]
