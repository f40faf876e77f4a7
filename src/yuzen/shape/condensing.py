"""Measures put together from what a database adds up: for each group one row instead of all of its own."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

from yuzen.errors import wrong
from yuzen.rules.quantities import Arithmetic, Distinct, Field, Negative, Number, Percent, Summary, inside
from yuzen.shape.expressions import NotSaidError

if TYPE_CHECKING:
    import pandas as pd
    from sqlalchemy.sql import ColumnElement, Select

    from yuzen.rules.quantities import Quantity
    from yuzen.shape.expressions import Expressions
    from yuzen.shape.plan import Plan

WEIGHT = "rows behind it"
FIRST = "first row"


@dataclass(frozen=True, eq=False)
class Condensed:
    """A statement that gives one row for each group, and what is left of the plan to do with those."""

    statement: Select[Any]
    plan: Plan
    texts: dict[str, str] = field(default_factory=dict)

    def refuse_words(self, frame: pd.DataFrame) -> None:
        """Raise YuzenError where a column that is added up holds words in some row."""
        for label, column in self.texts.items():
            if len(frame) and frame[label].max() > 0:
                raise wrong("data-number", f"{column} must hold numbers, but some rows hold words.")


class Condensing:
    """Rewrites measures: what is summarised over rows becomes a column that the database makes.

    A total of rows is the total of the groups' totals, an average the total of totals over the total of
    counts, and so on; what cannot be put together from parts is not said.
    """

    def __init__(self, expressions: Expressions) -> None:
        self.expressions = expressions
        self.made: dict[str, ColumnElement[Any]] = {}
        self.keys: list[str] = []

    def rewritten(self, measure: Quantity) -> Quantity:
        """The measure over the groups instead of the rows. Raises NotSaidError."""
        if isinstance(measure, Summary):
            return self._summary(measure)
        if isinstance(measure, Distinct):
            self.keys.append(self.expressions.facts.name(measure.of.name) or measure.of.name)
            return measure
        if isinstance(measure, Arithmetic):
            return replace(measure, left=self.rewritten(measure.left), right=self.rewritten(measure.right))
        if isinstance(measure, Percent | Negative):
            return measure if measure.of is None else replace(measure, of=self.rewritten(measure.of))
        if isinstance(measure, Number | Field):
            return measure
        raise NotSaidError

    def _summary(self, summary: Summary) -> Quantity:
        import sqlalchemy as sql  # noqa: PLC0415 - an extra

        of = summary.of
        if of is None:
            raise NotSaidError
        if summary.kind == "count":
            counted = self._column(of) if isinstance(of, Field) else self.expressions.number(of)
            return Summary("total", self._part(summary, sql.func.count(counted)))
        number = self.expressions.number(of)
        if summary.kind == "total":
            return Summary("total", self._part(summary, sql.func.sum(number)))
        if summary.kind == "average":
            total = self._part(Summary("total", of), sql.func.sum(number))
            count = self._part(Summary("count", of), sql.func.count(number))
            return Arithmetic(Summary("total", total), "/", Summary("total", count))
        if summary.kind in {"highest", "lowest"}:
            reach = sql.func.max if summary.kind == "highest" else sql.func.min
            return Summary(summary.kind, self._part(summary, reach(number)))
        raise NotSaidError

    def _column(self, field: Field) -> ColumnElement[Any]:
        name = self.expressions.facts.name(field.name) or field.name
        return (
            self.expressions.columns[name]
            if name in self.expressions.columns
            else self.expressions.number(field)
        )

    def _part(self, summary: Summary, made: ColumnElement[Any]) -> Field:
        name = f"rows' {summary}"
        self.made[name] = made
        return Field(name)


def condensed(
    plan: Plan, expressions: Expressions, order: ColumnElement[Any], *, loose: bool
) -> Condensed | None:
    """The plan with its rows grouped by the database; None where a measure needs the rows themselves.

    order: tells which row is first; loose: whether columns of numbers may hold words all the same.
    """
    import sqlalchemy as sql  # noqa: PLC0415 - an extra

    condensing = Condensing(expressions)
    try:
        measures = {name: condensing.rewritten(measure) for name, measure in plan.measures.items()}
    except NotSaidError:
        return None
    columns = expressions.columns
    keys = dict.fromkeys([*plan.plain_columns, *plan.attributes(list(columns)), *condensing.keys])
    texts = {}
    if loose:
        added = {
            expressions.facts.name(part.name)
            for measure in plan.measures.values()
            for part in inside(measure)
            if isinstance(part, Field)
        }
        texts = {
            f"words in {name}": name for name in sorted(added & columns.keys() - keys.keys(), key=str) if name
        }
    statement = (
        sql.select(
            *(columns[name].label(name) for name in keys),
            *(made.label(name) for name, made in condensing.made.items()),
            sql.func.count().label(WEIGHT),
            sql.func.min(order).label(FIRST),
            *(_holds_words(columns[name]).label(label) for label, name in texts.items()),
        )
        .group_by(*(columns[name] for name in keys))
        .order_by(sql.column(FIRST))
    )
    return Condensed(statement, replace(plan, measures=measures), texts)


def _holds_words(column: ColumnElement[Any]) -> ColumnElement[int]:
    import sqlalchemy as sql  # noqa: PLC0415 - an extra

    return sql.func.max(sql.case((sql.func.typeof(column) == "text", 1), else_=0))
