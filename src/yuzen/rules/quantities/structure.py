"""What a quantity is made of."""

from collections.abc import Callable, Iterator, Mapping
from collections.abc import Set as AbstractSet
from math import inf, nan
from operator import add, mul, sub, truediv
from typing import SupportsFloat

from yuzen.rules.quantities.ago import Ago
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import (
    Arithmetic,
    Derived,
    Distinct,
    Moving,
    Negative,
    Percent,
    Previous,
    Quantity,
    RowCount,
    Summary,
    Where,
    Within,
    with_parts,
)


def inside(quantity: Quantity) -> Iterator[Quantity]:
    """The quantity and every quantity it is made of."""
    yield quantity
    parts = [getattr(quantity, name, None) for name in ("of", "left", "right", "over")]
    ago: Ago | None = getattr(quantity, "ago", None)
    for part in [*parts, None if ago is None else ago.count]:
        if part is not None:
            yield from inside(part)


def where_parts(quantity: Quantity) -> list[Where]:
    """The summaries of chosen rows in a quantity."""
    return [part for part in inside(quantity) if isinstance(part, Where)]


def with_where(quantity: Quantity, change: Callable[[Where], Where]) -> Quantity:
    """A copy with every summary of chosen rows changed.

    >>> from yuzen.rules.grammar.parser import parse_quantity
    >>> share = parse_quantity("(count of rows where wait above 95) / count of rows")
    >>> str(with_where(share, lambda part: Where(Summary("total", Field("wait")), part.where)))
    '(total of wait where wait above 95) / count of rows'
    """
    if isinstance(quantity, Where):
        return change(quantity)
    return with_parts(quantity, lambda part: with_where(part, change))


def constant(quantity: Quantity, parameters: Mapping[str, float]) -> float | None:
    """The number that a quantity is on all marks; None where it depends on them.

    >>> from yuzen.rules.quantities.numbers import Percent
    >>> constant(Negative(Field("N")), {"n": 3.0}), constant(Percent(5, Field("v")), {"n": 3.0})
    (-3.0, None)
    >>> constant(Arithmetic(Field("n"), "/", Number(2)), {"n": 3.0})
    1.5
    """
    match quantity:
        case Number():
            return quantity.value
        case Percent(of=None):
            return quantity.share
        case Negative():
            inner = constant(quantity.of, parameters)
            return None if inner is None else -inner
        case Field():
            fold = quantity.name.casefold()
            return {name.casefold(): value for name, value in parameters.items()}.get(fold)
        case Arithmetic():
            sides = (constant(quantity.left, parameters), constant(quantity.right, parameters))
            return _computed(quantity.sign, *sides)
    return None


def _computed(sign: str, left: float | None, right: float | None) -> float | None:
    """What a sign makes of two numbers; None where one is none, or of a division by zero."""
    if left is None or right is None or (sign == "/" and right == 0):
        return None
    return float({"+": add, "-": sub, "*": mul, "/": truediv}[sign](left, right))


def in_reverse(low: Quantity, high: Quantity, parameters: Mapping[str, float]) -> bool:
    """Whether the lower end lies above the upper one whatever the marks are.

    >>> from yuzen.rules.quantities.numbers import Percent
    >>> in_reverse(Number(5), Number(2), {}), in_reverse(Percent(9, Field("v")), Percent(8,
    ...     Field("v")), {})
    (True, True)
    """
    # Of one and the same quantity the percentages can be compared, though its sign is not known.
    if isinstance(low, Percent) and isinstance(high, Percent) and low.of == high.of:
        return low.percent > high.percent
    first, last = constant(low, parameters), constant(high, parameters)
    return first is not None and last is not None and first > last


def adds_up(quantity: Quantity) -> bool:
    """Whether the number of all rows is the sum of the numbers of their groups.

    >>> from yuzen.rules.quantities.numbers import Arithmetic
    >>> adds_up(Summary("total", Field("v"))), adds_up(Arithmetic(RowCount(), "/", Number(2)))
    (True, False)
    """
    if isinstance(quantity, Where) or (isinstance(quantity, Derived) and quantity.kind == "share"):
        return adds_up(quantity.of)
    if isinstance(quantity, Arithmetic) and quantity.sign in "+-":
        return adds_up(quantity.left) and adds_up(quantity.right)
    return isinstance(quantity, RowCount) or (
        isinstance(quantity, Summary)
        and quantity.kind in {"total", "count"}
        and quantity.of is not None
    )


def of_marks(measure: Quantity) -> bool:
    """Whether a measure compares marks; a share of what adds up is one of all rows.

    >>> from yuzen.rules.grammar.parser import parse_quantity
    >>> (of_marks(parse_quantity("change of fares")),
    ...     of_marks(parse_quantity("share of total of fares")))
    (True, False)
    """
    if isinstance(measure, Derived) and measure.kind == "share":
        return of_marks(measure.of)
    return any(isinstance(part, Derived | Previous | Moving | Within) for part in inside(measure))


def is_ratio(quantity: Quantity, formulas: Mapping[str, Quantity]) -> bool:
    """Whether a measure is a share: of a total, a ratio of like totals, or a change of one.

    formulas: what other measures are that it speaks of.

    >>> from yuzen.rules.grammar.parser import parse_quantity
    >>> is_ratio(parse_quantity("total of surplus / total of fares - 1"), {})
    True
    >>> is_ratio(parse_quantity("1000 * total of complaints / total of passengers"), {})
    False
    """
    if isinstance(quantity, Derived) and "share" in quantity.kind:
        return True
    if isinstance(quantity, Derived | Previous | Moving | Within) and quantity.of is not None:
        return getattr(quantity, "kind", "") != "rank" and is_ratio(quantity.of, formulas)
    if isinstance(quantity, Field):
        named = formulas.get(quantity.name)
        return named is not None and is_ratio(named, _without(quantity.name, formulas))
    if not isinstance(quantity, Arithmetic) or quantity.sign == "*":
        return False
    sides = (quantity.left, quantity.right)
    if quantity.sign == "/":
        return all(_is_total(side, formulas) for side in sides)
    ratios = [is_ratio(side, formulas) for side in sides]
    plain = [isinstance(side, Number | Percent) for side in sides]
    return any(ratios) and all(one or other for one, other in zip(ratios, plain, strict=True))


def _without(name: str, formulas: Mapping[str, Quantity]) -> dict[str, Quantity]:
    """The other measures, so that one which refers to itself is followed once."""
    return {other: formula for other, formula in formulas.items() if other != name}


def _is_total(quantity: Quantity, formulas: Mapping[str, Quantity]) -> bool:
    """Whether it is a total, a count or what is made of such along a sequence."""
    if isinstance(quantity, Field):
        named = formulas.get(quantity.name)
        return named is not None and _is_total(named, _without(quantity.name, formulas))
    if isinstance(quantity, Derived | Previous | Moving) and quantity.of is not None:
        kept = getattr(quantity, "kind", "change") in {"change", "running total"}
        return kept and _is_total(quantity.of, formulas)
    if isinstance(quantity, Arithmetic) and quantity.sign in "+-":
        return _is_total(quantity.left, formulas) and _is_total(quantity.right, formulas)
    return adds_up(quantity)


def stays_whole(quantity: Quantity, whole: AbstractSet[str]) -> bool:
    """Whether a measure of rows is a whole number wherever these columns hold whole numbers.

    >>> stays_whole(Summary("total", Field("v")), {"v"}), stays_whole(Summary("average",
    ...     Field("v")), {"v"})
    (True, False)
    """
    for part in inside(quantity):
        if isinstance(part, Field) and part.name.casefold() not in whole:
            return False
        if isinstance(part, Number) and part.value != int(part.value):
            return False
        if isinstance(part, Summary) and part.kind in {"average", "median", "deviation", "overall"}:
            return False
        if (
            isinstance(part, Percent | Derived | Previous | Moving)
            or getattr(part, "sign", "") == "/"
        ):
            return False
    return True


def counts_behind(quantity: Quantity) -> tuple[Summary, ...]:
    """What counts the rows that have a number for each summary in a measure.

    Summaries of chosen rows are left out: that they are of fewer rows is what was asked for.
    """
    chosen = {id(part.of) for part in where_parts(quantity)}
    parts = [
        part
        for part in inside(quantity)
        if isinstance(part, Summary) and part.kind != "count" and id(part) not in chosen
    ]
    return tuple(dict.fromkeys(Summary("count", part.of) for part in parts if part.of is not None))


def loose_names(quantity: Quantity) -> list[str]:
    """The names that a quantity uses directly, not in a summary or a rank.

    >>> from yuzen.rules.quantities.numbers import Arithmetic
    >>> loose_names(Arithmetic(Field("margin"), "-", Summary("average", Field("margin"))))
    ['margin']
    """
    if isinstance(quantity, Field):
        return [quantity.name]
    if isinstance(quantity, Arithmetic):
        return [*loose_names(quantity.left), *loose_names(quantity.right)]
    if isinstance(quantity, Negative | Percent) and quantity.of is not None:
        return loose_names(quantity.of)
    return []


def follows(quantity: Quantity) -> bool:
    """Whether the quantity goes from mark to mark as a line does; one of groups goes in steps.

    >>> from yuzen.rules.quantities.numbers import Arithmetic
    >>> follows(Field("target")), follows(Arithmetic(Summary("average"), "*", Number(2)))
    (True, False)
    """
    if isinstance(quantity, Summary | Distinct | RowCount | Where | Number):
        return False
    parts = [getattr(quantity, name, None) for name in ("of", "left", "right")]
    if isinstance(quantity, Field | Previous | Moving | Derived):
        return True
    return any(follows(part) for part in parts if part is not None)


def number(value: SupportsFloat) -> Number | Negative:
    """A number of either sign as the language writes it. Raises YuzenError (rule-number)."""
    try:
        plain_number = float(value)
    except OverflowError:
        plain_number = inf  # a whole number of 400 digits
    except ValueError:
        plain_number = nan  # a decimal that only signals
    if plain_number < 0:
        return Negative(Number(-plain_number))
    return Number(plain_number)
