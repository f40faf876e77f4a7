"""The rule language in Python: the same trees, built from objects.

top(3, within="waters") & measure("surplus").negative
"""

from numbers import Real
from typing import Final

from yuzen.errors import make_error, type_name
from yuzen.rules.conditions import Always
from yuzen.rules.grammar.measure import Measure
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


VALUE: Final = Measure(None)
average: Final = Measure(Summary("average"))
median: Final = Measure(Summary("median"))
deviation: Final = Measure(Summary("deviation"))
previous: Final = Measure(Previous())
always: Final = Always()
top: Final = VALUE.top
bottom: Final = VALUE.bottom
rank: Final = VALUE.rank
first: Final = VALUE.first
last: Final = VALUE.last
position: Final = VALUE.position
every: Final = VALUE.every
outlier: Final = VALUE.outlier
rises: Final = VALUE.rises
falls: Final = VALUE.falls
above: Final = VALUE.above
below: Final = VALUE.below
between: Final = VALUE.between
