"""What is set for the moment and is not in the brief: filters, and one value of a column."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import field

from yuzen.brief.model import Brief
from yuzen.brief.sections.phrases import Phrase
from yuzen.brief.toml.document import of_value
from yuzen.rules.claims import Compare, OneOf
from yuzen.rules.conditions import And, Condition, Or, Test
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.structure import number
from yuzen.value import Value


class Moment(Value):
    """Filters of rows by the values of columns, and the value that a picture is of.

    filters: for each column the values that are kept.
    each:    the column of which each value has a picture, and the value that is shown.
    """

    filters: Mapping[str, Sequence[str | float]] = field(default_factory=dict)
    each: tuple[str, str] | None = None

    def applied(self, spec: Brief) -> Brief:
        """The brief with these filters."""
        if self.each is not None:
            spec = of_value(spec, *self.each)
        kept = self.condition
        if kept is None:
            return spec
        held = spec.data.keep
        tree: Condition = kept if held is None else And((*_parts(held.tree), *_parts(kept)))
        keep = Phrase(str(tree), tree)
        return spec.having(data=spec.data.model_copy(update={"keep": keep}))

    @property
    def condition(self) -> Condition | None:
        """The filters as a condition on rows; None: there are none."""
        tests = [_among(column, values) for column, values in self.filters.items()]
        if len(tests) < 2:
            return next(iter(tests), None)
        return And(tuple(tests))


def _among(column: str, values: Sequence[str | float]) -> Condition:
    """That a column has one of some values."""
    subject = Field(column)
    texts = tuple(value for value in values if isinstance(value, str))
    tests: list[Condition] = [Test(subject, OneOf(texts))] if texts else []
    tests += [
        Test(subject, Compare("=", number(value))) for value in values if not isinstance(value, str)
    ]
    return tests[0] if len(tests) == 1 else Or(tuple(tests))


def _parts(condition: Condition) -> tuple[Condition, ...]:
    """What a condition is joined of by and, so that trees stay flat as the language prints them."""
    return condition.parts if isinstance(condition, And) else (condition,)
