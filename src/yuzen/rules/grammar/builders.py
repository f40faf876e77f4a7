"""The rule language in Python: the same trees, built from objects.

top(3, within="waters") & measure("surplus").negative
"""

from numbers import Real
from typing import Final, Literal

from yuzen.errors import make_error, type_name
from yuzen.rules import claims
from yuzen.rules.conditions import Always, Test
from yuzen.rules.grammar.amounts import count_of
from yuzen.rules.grammar.measure import Measure, Within
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Percent, Previous, Summary


def measure(name: str | int) -> Measure:
    """A measure, a column or a parameter by its name, which tables may call by a whole number.

    >>> str(measure("surplus").negative), str(measure("cost") > 2 * measure("fares"))
    ('surplus negative', 'cost above 2 * fares')
    """
    if not isinstance(name, str | int) or isinstance(name, bool):
        raise make_error("rule-python", f"{type_name(name)} is no name of a measure or a column.")
    return Measure(Field(str(name)))


def percent(value: float) -> Measure:
    """A percentage; 15 means the number 0.15.

    >>> str(measure("margin").above(percent(15)))
    'margin above 15%'
    """
    if not isinstance(value, Real):
        raise make_error(
            "rule-python", f"{type_name(value)} is no percentage; write percent(15) for 15%."
        )
    return Measure(Percent(float(value)))


def first(count: float | str | None = None, *, within: Within = ()) -> Test:
    """Among the first that are drawn.

    >>> str(first(3, within="waters"))
    'first 3 within waters'
    """
    return _placed("first", count, within)


def last(count: float | str | None = None, *, within: Within = ()) -> Test:
    """Among the last that are drawn.

    >>> str(last(3))
    'last 3'
    """
    return _placed("last", count, within)


def position(low: float | str, high: float | str | None = None, *, within: Within = ()) -> Test:
    """Drawn at a position, or in a range of them.

    >>> str(position(2, 4))
    'position 2 to 4'
    """
    return VALUE.says(
        claims.Position(count_of(low), None if high is None else count_of(high)), within
    )


def every(step: float | str, *, start: float | str | None = None, within: Within = ()) -> Test:
    """Drawn at every step-th position, from `start` on or from the step itself.

    >>> str(every(3)), str(every(3, start=1))
    ('every 3', 'every 3 from 1')
    """
    first_one = None if start is None else count_of(start)
    return VALUE.says(claims.Every(count_of(step), first_one), within)


def _placed(end: Literal["first", "last"], count: float | str | None, within: Within) -> Test:
    return VALUE.says(claims.FirstLast(end, None if count is None else count_of(count)), within)


VALUE: Final = Measure(None)
average: Final = Measure(Summary("average"))
median: Final = Measure(Summary("median"))
deviation: Final = Measure(Summary("deviation"))
previous: Final = Measure(Previous())
always: Final = Always()
top: Final = VALUE.top
bottom: Final = VALUE.bottom
rank: Final = VALUE.rank
outlier: Final = VALUE.outlier
rises: Final = VALUE.rises
falls: Final = VALUE.falls
above: Final = VALUE.above
below: Final = VALUE.below
between: Final = VALUE.between
