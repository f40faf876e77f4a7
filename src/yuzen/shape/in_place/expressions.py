"""Quantities and conditions on rows in the words of SQL, which SQLAlchemy quotes."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, Protocol

from yuzen.arrays import Bools
from yuzen.rules.claims.base import SqlSubject
from yuzen.rules.conditions import Always, And, Condition, Not, Or, Test
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import Arithmetic, Negative, Percent, Quantity
from yuzen.sources.cells import is_missing

if TYPE_CHECKING:
    from sqlalchemy.sql import ColumnElement


class NotSaidError(Exception):
    """SQL cannot express this with the same meaning, so that the rows are read instead."""


class MatchingValues(Protocol):
    """The values of a column, or of its periods, that a test holds for; None: too many."""

    def __call__(self, name: str, test: Test) -> Sequence[Any] | None:
        """The values."""


class Expressions:
    """SQL for the columns of a table.

    facts: those of its first rows, which tell what columns hold.  moments: columns that are dates
    to the database.  bases: for columns of periods the dates that those are of.
    """

    def __init__(
        self,
        columns: Mapping[str, ColumnElement[Any]],
        facts: EvaluationData,
        moments: frozenset[str],
        bases: Mapping[str, str],
    ) -> None:
        self.columns, self.facts, self.moments, self.bases = columns, facts, moments, bases

    def over(self, columns: Mapping[str, ColumnElement[Any]]) -> Expressions:
        """A copy over the columns of another statement with the same names."""
        return Expressions(columns, self.facts, self.moments, self.bases)

    def number(self, quantity: Quantity) -> ColumnElement[Any]:  # noqa: PLR0911 - one for each kind
        """A quantity of each row as a number. Raises NotSaidError where it compares rows."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        if isinstance(quantity, Number):
            return sql.literal(quantity.value, sql.Double)
        if isinstance(quantity, Percent):
            share = sql.literal(quantity.share, sql.Double)
            if quantity.of is None:
                return share
            return share * self.number(quantity.of)
        if isinstance(quantity, Field):
            return self._field(quantity)
        if isinstance(quantity, Negative):
            return -self.number(quantity.of)
        if not isinstance(quantity, Arithmetic):
            raise NotSaidError
        left, right = self.number(quantity.left), self.number(quantity.right)
        if quantity.sign == "/":
            # Databases raise, give infinity or NULL; here a division by zero is missing.
            return left / sql.func.nullif(right, 0.0)
        return {"+": left + right, "-": left - right, "*": left * right}[quantity.sign]

    def holds(self, condition: Condition, held: MatchingValues) -> ColumnElement[bool]:
        """A condition on each row, unknown where it is. Raises NotSaidError."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        if isinstance(condition, Always):
            return sql.true()
        if isinstance(condition, Not):
            return sql.not_(self.holds(condition.of, held))
        if isinstance(condition, And | Or):
            join = sql.and_ if isinstance(condition, And) else sql.or_
            return join(*(self.holds(part, held) for part in condition.parts))
        if condition.claim.needs == "words":
            return self._worded(condition, held)
        return self._numeric(condition)

    def _field(self, field: Field) -> ColumnElement[Any]:
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        from yuzen.sources.sql.doubles import AsDouble  # noqa: PLC0415 - loads it

        name = self.facts.name(field.name) or field.name
        if name in self.facts.parameters:
            return sql.literal(float(self.facts.parameters[name]), sql.Double)
        self.facts.numbers(name)  # says what is wrong with one that holds none
        if name not in self.columns:  # the hour of a date, the only period that is a number
            if self.bases[name] not in self.moments:
                raise NotSaidError
            moment = sql.cast(self.columns[self.bases[name]], sql.DateTime)
            return sql.cast(sql.extract("hour", moment), sql.Double)
        # Whole numbers divided in SQL would be cut to whole numbers.
        return AsDouble(self.columns[name])

    def _numeric(self, test: Test) -> ColumnElement[bool]:
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        subject = test.subject
        assert subject is not None  # noqa: S101 - a plan that is resolved says of what its condition is
        column = None
        if isinstance(subject, Field):
            column = self.columns.get(self.facts.name(subject.name) or subject.name)
        clause = test.claim.sql(SqlSubject(subject, column, self.number, sql.func.abs))
        if clause is None:
            raise NotSaidError
        return clause  # type: ignore[no-any-return]  # an expression, as claims make of expressions

    def _worded(self, test: Test, held: MatchingValues) -> ColumnElement[bool]:
        name = str(getattr(test.subject, "name", test.subject))
        name = self.facts.name(name) or name
        if name in self.moments:
            date_columns = test.claim.sql_of_dates(self.columns[name], self.facts.marks.calendar)
        else:
            date_columns = None
        if date_columns is not None:
            return date_columns  # type: ignore[no-any-return]  # an expression, as above
        values = held(name, test)
        if values is None:
            raise NotSaidError
        return one_of(self.columns[self.bases.get(name, name)], values)


def one_of(column: ColumnElement[Any], values: Sequence[Any]) -> ColumnElement[bool]:
    """Whether a column has one of some values, unknown where it is missing; None is missing."""
    # `in (NULL)` is never true in SQL.
    if None in values:
        return column.is_(None) | one_of(column, [value for value in values if value is not None])
    if not values:
        return column != column  # noqa: PLR0124 - false, and unknown where it is missing
    return column.in_(list(values))


def plain_values(values: Sequence[Any], held: Bools) -> list[Any]:
    """The values for which the test holds; None for a missing one."""
    chosen = [value for value, holds in zip(values, held.tolist(), strict=True) if holds]
    return [None if is_missing(value) else value for value in chosen]
