"""Measures from sums of a database: one row for each group instead of all its rows."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from collections.abc import Set as AbstractSet
from dataclasses import field, replace
from typing import TYPE_CHECKING, Any

import numpy as np

from yuzen.arrays import Floats
from yuzen.errors import make_error
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.peers.decimals import decimal_places
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import (
    Quantity,
    Summary,
    rows_column,
)
from yuzen.rules.quantities.structure import inside
from yuzen.shape.grouping.measures import row_numbers
from yuzen.shape.in_place.condensing import WEIGHT, Condensing, Placed
from yuzen.shape.in_place.expressions import Expressions, MatchingValues, NotSaidError
from yuzen.shape.in_place.group_keys import OPENING_SIDE, cut_to, holds_words_in, side_column
from yuzen.shape.plan.plan import Plan
from yuzen.sources.cells import RowColumn
from yuzen.sources.columns import numbers_of
from yuzen.sources.sql.relation import AddedColumns
from yuzen.value import Value

if TYPE_CHECKING:
    from sqlalchemy.sql import ColumnElement, Select


FIRST_ROW = "first row"
SLIGHT_SHARE = 1e-4  # of the last decimal: what adding floats leaves over is far less


class Condensed(Value, eq=False):
    """A statement that gives one row for each group, and what is left of the plan to do with those.

    texts: columns that tell whether some row holds words where numbers are added up, and their
           names.
    sums:  columns that are the sum of a quantity of rows, and that quantity.
    roots: columns of which the square root is meant, for not every database has one.
    unproved: those of the sums that are NaN where a number of their rows is.
    """

    statement: Select[Any]
    plan: Plan
    texts: dict[str, str] = field(default_factory=dict)
    roots: Sequence[str] = ()
    sums: dict[str, Quantity] = field(default_factory=dict)
    unproved: Sequence[str] = ()

    def read(self, given: Mapping[str, RowColumn], first: EvaluationData) -> dict[str, RowColumn]:
        """What the statement gave as it is meant. Raises YuzenError where numbers hold words.

        first: the first rows, which show how many decimals the numbers have that a database adds
               up.
        """
        for label, column in self.texts.items():
            if (numbers_of(given[label], label) > 0).any():
                message = f"{column} must hold numbers, but some rows hold words."
                raise make_error("data-number", message)
        columns = dict(given)
        if OPENING_SIDE in columns and self.plan.listing.anchor_totals.sides is not None:
            opening, _ = self.plan.listing.anchor_totals.sides
            columns[rows_column(opening)] = columns.pop(OPENING_SIDE)
        # Databases differ in how they name the square root, and NumPy has one.
        columns |= {name: np.sqrt(numbers_of(given[name], name)) for name in self.roots}
        for name, of in self.sums.items():
            columns[name] = _on_paper(numbers_of(given[name], name), row_numbers(of, first))
        return columns

    def lacks_sums(self, columns: Mapping[str, RowColumn]) -> bool:
        """Whether some sum of what it gave is missing, as that of NaN is."""
        return any(np.isnan(numbers_of(columns[name], name)).any() for name in self.unproved)


def _on_paper(sums: Floats, first: Floats) -> Floats:
    """Sums with the decimals of what was added, as far as the first numbers tell them.

    Where others have more decimals, a sum is farther from such a number than adding can go wrong.
    """
    places = decimal_places(first)
    if not places:
        return sums
    rounded = np.round(sums, places)
    # A sum that is off by more than rounding has decimals that the first rows did not show.
    slight = np.isclose(rounded, sums, rtol=0, atol=SLIGHT_SHARE * 10.0**-places)
    return np.where(slight, rounded, sums)


def _without_ends(plan: Plan, sorts: AbstractSet[str]) -> tuple[Plan, AbstractSet[str]]:
    """The plan without the spans of dates whose ends a database can tell, and the columns of those.

    What other spans are of tells groups apart, so that all their dates come back.
    """
    spans = plan.periods.spans
    ends = set(spans.values()) & sorts
    others = {name: column for name, column in spans.items() if column not in ends}
    return replace(plan, periods=replace(plan.periods, spans=others)), ends


def condensed(
    plan: Plan,
    expressions: Expressions,
    added: AddedColumns,
    order: ColumnElement[Any] | None,
    kept: Sequence[ColumnElement[bool]],
    sorts: AbstractSet[str],
    matching: MatchingValues,
    moments: AbstractSet[str],
    *,
    loose: bool,
) -> Condensed | None:
    """The plan over rows grouped by the database; None where a measure needs single rows.

    added: the columns as they are added up.
    order: tells which row is first; None: groups stand in the order of what they are called.
    kept: what holds for those that count.  sorts: columns of dates whose first and last the
    database can tell.  matching: the values that tests of rows hold for.  moments: columns
    that the database can cut to hours.  loose: whether columns of numbers may hold words all the
    same.
    """
    placed: dict[Quantity, Placed] = {}
    spans, (plan, ends) = plan.periods.spans, _without_ends(plan, sorts)
    of = in_order(plan)
    # Medians of several groups cannot be put together from the medians of each.
    if of and not plan.one_group_a_mark:
        return None
    try:
        if of:
            inner, order, placed = _placed(plan, expressions, order, kept, of)
            expressions, kept, added = expressions.over(inner), (), AddedColumns(inner)
        condensing = Condensing(expressions, added, placed, matching)
        measures = {name: condensing.rewritten(measure) for name, measure in plan.measures.items()}
        counted = {
            name: tuple(map(condensing.rewritten, counts))
            for name, counts in plan.formulas.counted.items()
        }
    except NotSaidError:
        return None
    condensing.tell_ends(ends)
    counted_keys = plan.periods.in_rows(condensing.keys)
    keys = list(dict.fromkeys([*plan.keys(list(expressions.columns)), *counted_keys]))
    texts = _asked_for_words(plan, expressions, keys) if loose else {}
    cut = plan.cut_dates(moments, condensing.keys)
    columns = {name: cut_to(expressions.columns[name], cut.get(name)) for name in keys}
    columns |= side_column(plan, expressions, matching)
    statement = _grouped(condensing, columns, texts, order, kept)
    formulas, periods = replace(plan.formulas, counted=counted), replace(plan.periods, spans=spans)
    left = replace(plan, measures=measures, formulas=formulas, periods=periods)
    return Condensed(statement, left, texts, condensing.roots, condensing.sums, condensing.unproved)


def _grouped(
    condensing: Condensing,
    keys: Mapping[str, ColumnElement[Any]],
    texts: Mapping[str, str],
    order: ColumnElement[Any] | None,
    kept: Sequence[ColumnElement[bool]],
) -> Select[Any]:
    """A row for each group of rows with equal keys: their sums and their number."""
    import sqlalchemy as sql  # noqa: PLC0415 - an extra

    columns = condensing.expressions.columns
    selected: list[Any] = [column.label(name) for name, column in keys.items()]
    selected += [element.label(name) for name, element in condensing.elements.items()]
    selected.append(sql.func.count().label(WEIGHT))
    if order is not None:
        # Groups come back in the order in which the rows first name them.
        selected.append(sql.func.min(order).label(FIRST_ROW))
    selected += [holds_words_in(columns[name]).label(label) for label, name in texts.items()]
    # A condition has its values bound anew wherever it stands, so it is grouped by its name.
    grouped_by = [
        sql.column(name) if name == OPENING_SIDE else column for name, column in keys.items()
    ]
    grouped = sql.select(*selected).where(*kept).group_by(*grouped_by)
    return grouped if order is None else grouped.order_by(sql.column(FIRST_ROW))


def _asked_for_words(plan: Plan, expressions: Expressions, keys: Sequence[str]) -> dict[str, str]:
    """The columns that are added up, by what tells whether one holds words all the same."""
    parts = [part for measure in plan.measures.values() for part in inside(measure)]
    added = {expressions.facts.name(part.name) or "" for part in parts if isinstance(part, Field)}
    return {
        f"words in {name}": name for name in sorted(added & expressions.columns.keys() - set(keys))
    }


def in_order(plan: Plan) -> list[Quantity]:
    """What medians and deviations are made of."""
    parts = [part for measure in plan.measures.values() for part in inside(measure)]
    return [
        p.of for p in parts if isinstance(p, Summary) and p.kind in {"median", "deviation"} and p.of
    ]


def _placed(
    plan: Plan,
    expressions: Expressions,
    order: ColumnElement[Any] | None,
    kept: Sequence[ColumnElement[bool]],
    of: Sequence[Quantity],
) -> tuple[Mapping[str, ColumnElement[Any]], ColumnElement[Any] | None, dict[Quantity, Placed]]:
    """The rows with each number's place, count and average in its group, by quantity."""
    import sqlalchemy as sql  # noqa: PLC0415 - an extra

    names = list(expressions.columns)
    keys = [expressions.columns[name] for name in plan.keys(names)]
    selected: list[Any] = [column.label(name) for name, column in expressions.columns.items()]
    if order is not None:
        selected.append(order.label(FIRST_ROW))
    for place, quantity in enumerate(of):
        number = expressions.number(quantity)
        selected += [
            number.label(f"number {place}"),
            # Missing numbers are placed last, so that the places of the others begin at 1.
            sql.func.row_number()
            .over(partition_by=keys, order_by=(sql.case((number.is_(None), 1), else_=0), number))
            .label(f"place {place}"),
            sql.func.count(number).over(partition_by=keys).label(f"count {place}"),
            sql.func.avg(number).over(partition_by=keys).label(f"average {place}"),
        ]
    inner = sql.select(*selected).where(*kept).subquery("in_order")
    placed_by_quantity = {
        quantity: Placed(
            *(inner.c[f"{what} {i}"] for what in ("number", "place", "count", "average"))
        )
        for i, quantity in enumerate(of)
    }
    return (
        {name: inner.c[name] for name in names},
        None if order is None else inner.c[FIRST_ROW],
        placed_by_quantity,
    )
