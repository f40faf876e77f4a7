"""Measures of rows as sums of groups, which a database makes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from collections.abc import Set as AbstractSet
from dataclasses import replace
from typing import TYPE_CHECKING, Any, Final

from yuzen.rules.conditions import Condition
from yuzen.rules.peers.decimals import decimal_places
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import (
    Arithmetic,
    Distinct,
    Mean,
    Negative,
    Percent,
    Quantity,
    RowCount,
    Summary,
    TotalOrNothing,
    Where,
)
from yuzen.rules.quantities.structure import inside
from yuzen.shape.grouping.measures import row_numbers
from yuzen.shape.in_place.expressions import Expressions, MatchingValues, NotSaidError
from yuzen.shape.plan.period_columns import earliest, latest
from yuzen.sources.sql.relation import AddedColumns
from yuzen.value import Value

if TYPE_CHECKING:
    from sqlalchemy.sql import ColumnElement

MAX_LABEL = 60  # characters, as PostgreSQL cuts longer names
WHOLE: Final = frozenset({"median", "deviation", "overall"})  # no parts make these up
WEIGHT = "rows behind it"


class Placed(Value, eq=False):
    """A number of each row, its place among those of its group, their count and their average."""

    number: ColumnElement[Any]
    place: ColumnElement[Any]
    count: ColumnElement[Any]
    average: ColumnElement[Any]


class Condensing:
    """Rewrites measures: what is summarised over rows becomes a column that the database makes.

    A total of rows is the total of the groups' totals, an average the total of totals over the
    total of counts, and so on. What cannot be put together from parts, a median or a deviation, is
    said where each
    mark is one group: `placed` then tells the columns that hold its numbers with their places and
                       averages.
    """

    def __init__(
        self,
        expressions: Expressions,
        added: AddedColumns,
        placed: Mapping[Quantity, Placed],
        matching: MatchingValues,
    ) -> None:
        self.expressions, self.placed, self.matching = expressions, placed, matching
        self.added, self.numbers = added, expressions.over(added.columns)
        self.roots: list[str] = []
        self.sums: dict[str, Quantity] = {}
        self.unproved: list[str] = []
        self.totalled: set[tuple[Quantity, str]] = set()  # and of which rows
        self.elements: dict[str, ColumnElement[Any]] = {}
        self.keys: list[str] = []
        self.labels: dict[str, int] = {}

    def rewritten(self, measure: Quantity) -> Quantity:  # noqa: PLR0911 - one for each kind
        """The measure over the groups instead of the rows. Raises NotSaidError."""
        if isinstance(measure, Summary):
            return self._summary(measure)
        if isinstance(measure, Where):
            return self._chosen(measure)
        if isinstance(measure, Distinct):
            self.keys.append(self._name(measure.of.name))
            return measure
        # The rows of one group are counted by the database; over marks the counts are added up.
        if isinstance(measure, RowCount):
            return Summary("total", Field(WEIGHT))
        if isinstance(measure, Arithmetic):
            return replace(
                measure, left=self.rewritten(measure.left), right=self.rewritten(measure.right)
            )
        if isinstance(measure, Percent | Negative):
            if measure.of is None:
                return measure
            return replace(measure, of=self.rewritten(measure.of))
        if isinstance(measure, Number | Field):
            return measure
        raise NotSaidError

    def _total(
        self, of: Quantity, taken: Callable[[ColumnElement[Any]], ColumnElement[Any]]
    ) -> ColumnElement[Any]:
        """The sum of a quantity of rows, of those that are taken; of whole numbers it is exact."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        from yuzen.sources.sql.doubles import AsDouble, MeasuredTotal, TotalOf  # noqa: PLC0415

        if isinstance(of, Field) and isinstance(self._column(of).type, sql.BigInteger):
            # Whole numbers are added in half the time that they take as decimals.
            return AsDouble(sql.func.sum(taken(self._column(of))))
        number = taken(self.numbers.number(of))
        if not isinstance(number.type, sql.Double | sql.Float):
            return sql.func.sum(number)
        # Sums of numbers with few decimals are rounded to these, so that any sum is near enough.
        if decimal_places(row_numbers(of, self.expressions.facts)) is None:
            return MeasuredTotal(number)
        return TotalOf(number)

    def _count(
        self,
        summary: Summary,
        taken: Callable[[ColumnElement[Any]], ColumnElement[Any]],
        named: str,
    ) -> Field:
        """How many rows have a number for a summary, of those that are taken."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        of = summary.of
        assert of is not None  # noqa: S101 - what is counted is named
        if not isinstance(of, Field):
            return self._part(summary, sql.func.count(taken(self.expressions.number(of))), named)
        name = self._name(of.name)
        column, proved = self._column(of), name not in self.added.unproved
        if (of, named) in self.totalled and name in self.added.columns:
            # A total of these rows that is no NaN shows that none of them is.
            column, proved = self.added.columns[name], True
        if not named and name in self.added.complete and proved:
            return Field(WEIGHT)
        return self._part(summary, sql.func.count(taken(column)), named)

    def _over(
        self,
        summary: Summary,
        taken: Callable[[ColumnElement[Any]], ColumnElement[Any]],
        named: str = "",
    ) -> Quantity:
        """A summary that parts of groups make up.

        taken: what is summarised, of the number of each row; named: how its columns are told from
               those of the same summary of all rows.
        """
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        of = summary.of
        if of is None or summary.kind in WHOLE:
            raise NotSaidError
        if summary.kind == "count":
            return Summary("total", self._count(summary, taken, named))
        number = taken(self.expressions.number(of))
        if summary.kind in {"highest", "lowest"}:
            reach: Any = sql.func.max if summary.kind == "highest" else sql.func.min
            return Summary(summary.kind, self._part(summary, reach(number), named))
        total = self._part(Summary("total", of), self._total(of, taken), named)
        # Rounded to the decimals of what was added, so that a quotient is that of the exact total.
        self.sums[total.name] = of
        self.totalled.add((of, named))
        fields = [part.name for part in inside(of) if isinstance(part, Field)]
        if not self.added.unproved.isdisjoint(map(self._name, fields)):
            self.unproved.append(total.name)
        if summary.kind == "total":
            return Summary("total", total)
        # An average of averages would be wrong, so a total and a count come back instead.
        count = self._count(Summary("count", of), taken, named)
        return Mean(Summary("total", total), "/", Summary("total", count))

    def _summary(self, summary: Summary) -> Quantity:
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        of = summary.of
        if summary.kind not in WHOLE:
            return self._over(summary, lambda element: element)
        if of is None or of not in self.placed:
            raise NotSaidError
        place = self.placed[of]
        if summary.kind == "median":  # the middle one, or the average of the middle two
            middle = sql.case(
                (
                    sql.and_(2 * place.place >= place.count, 2 * place.place <= place.count + 2),
                    place.number,
                )
            )
            return Summary("highest", self._part(summary, sql.func.avg(middle)))
        # Two passes: the sum of squares less the square of the sum would cancel out.
        away = sql.func.sum((place.number - place.average) * (place.number - place.average))
        part = self._part(summary, away / sql.func.nullif(sql.func.count(place.number) - 1, 0))
        self.roots.append(part.name)
        return Summary("highest", part)

    def _chosen(self, measure: Where) -> Quantity:
        """A summary of the rows for which a condition holds. Raises NotSaidError."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        condition: Condition = measure.where  # type: ignore[assignment]  # as parsed
        holds = self.expressions.holds(condition, self.matching)
        summary, named = measure.of, f" where {condition}"
        if isinstance(summary, Distinct):
            raise NotSaidError
        rows = self._part(RowCount(), sql.func.sum(sql.case((holds, 1), else_=0)), named)
        if isinstance(summary, RowCount):
            return Summary("total", rows)
        chosen = self._over(summary, lambda element: sql.case((holds, element)), named)
        if summary.kind == "total":
            return TotalOrNothing(chosen, "+", Summary("total", rows))
        return chosen

    def tell_ends(self, columns: AbstractSet[str]) -> None:
        """Make columns with the first and the last date of each of these."""
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        for name in sorted(columns):
            self.elements[earliest(name)] = sql.func.min(self.expressions.columns[name])
            self.elements[latest(name)] = sql.func.max(self.expressions.columns[name])

    def _name(self, written: str) -> str:
        """The name of the column that is meant."""
        return self.expressions.facts.name(written) or written

    def _column(self, field: Field) -> ColumnElement[Any]:
        name = self._name(field.name)
        if name in self.expressions.columns:
            return self.expressions.columns[name]
        return self.expressions.number(field)

    def _part(
        self, summary: Summary | RowCount, element: ColumnElement[Any], named: str = ""
    ) -> Field:
        name = f"rows' {summary}{named}"
        if len(name) > MAX_LABEL or '"' in name:  # not every database can call a column so
            name = f"rows' part {self.labels.setdefault(name, len(self.labels))}"
        self.elements[name] = element
        return Field(name)
