"""What a database groups rows by besides columns as they are: cut moments, sides of a bridge."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Final

from yuzen.shape.in_place.expressions import Expressions, MatchingValues
from yuzen.shape.plan.plan import Plan

if TYPE_CHECKING:
    from sqlalchemy.sql import ColumnElement


OPENING_SIDE: Final = "opening side"  # a name that every database can call a column by


def side_column(
    plan: Plan, expressions: Expressions, matching: MatchingValues
) -> dict[str, ColumnElement[Any]]:
    """Of a bridge out of rows the column that tells its opening side, by which rows are grouped."""
    import sqlalchemy as sql  # noqa: PLC0415 - an extra

    sides = plan.listing.anchor_totals.sides
    if sides is None:
        return {}
    opens = sql.case((expressions.holds(sides[0], matching), 1.0), else_=0.0)
    return {OPENING_SIDE: opens}


def cut_to(column: ColumnElement[Any], unit: str | None) -> ColumnElement[Any]:
    """A column of moments cut to hours or days, so that groups are as many as marks need."""
    import sqlalchemy as sql  # noqa: PLC0415 - an extra

    if unit is None:
        return column
    # A unit that is bound as a value would be another expression in GROUP BY than in SELECT.
    return sql.func.date_trunc(sql.literal_column(f"'{unit}'"), column)


def holds_words_in(column: ColumnElement[Any]) -> ColumnElement[int]:
    """Whether some row of a group holds words in a column of numbers."""
    import sqlalchemy as sql  # noqa: PLC0415 - an extra

    # SQLite keeps words in a column of numbers and adds them up as 0, without a word.
    return sql.func.max(sql.case((sql.func.typeof(column) == "text", 1), else_=0))
