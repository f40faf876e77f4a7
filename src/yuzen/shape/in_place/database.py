"""Grouping rows in their database, as far as SQL can express it."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import TYPE_CHECKING, Any

import numpy as np

from yuzen.rules import truth
from yuzen.rules.claims import Recent
from yuzen.rules.conditions import Test
from yuzen.rules.names import in_quantities
from yuzen.shape.grouping.measures import check_measures, implied_words, row_facts
from yuzen.shape.in_place.condensed import Condensed, condensed
from yuzen.shape.in_place.condensing import WEIGHT
from yuzen.shape.in_place.expressions import (
    Expressions,
    MatchingValues,
    NotSaidError,
    one_of,
    plain_values,
)
from yuzen.shape.keep import called_in, check_row_conditions, refuse_both_sides, refuse_empty_side
from yuzen.shape.lineage import long_values
from yuzen.shape.plan.choices import Keep
from yuzen.shape.plan.plan import Plan
from yuzen.sources.cells import RowColumn, column_from
from yuzen.sources.columns import Columns, numbers_of
from yuzen.sources.rows import Rows

if TYPE_CHECKING:
    from sqlalchemy.sql import ColumnElement

    from yuzen.sources.sql.relation import AddedColumns, Relation


def grouped_by_database(relation: Relation, plan: Plan) -> tuple[Rows, Plan]:
    """Rows grouped by their database as far as measures allow, else the kept rows."""
    sample = relation.sample_of(plan.wanted(relation.column_names).names)
    plan = plan.without(implied_words(plan, sample))
    expressions = _expressions(relation, plan, sample)
    check_measures(plan.measures, expressions.facts)
    try:
        kept = _kept(relation, plan, expressions)
    # What SQL cannot say with the same meaning is done here, on the rows.
    except NotSaidError:
        return _rows(relation, plan.wanted(relation.column_names).names, []), plan
    plan = replace(plan, keep=Keep())
    found = _sums(relation, plan, expressions, kept, relation.unproved_columns)
    # NaN among the numbers that were added up has to be looked for row by row.
    if found is not None and found[0].lacks_sums(found[1]):
        found = _sums(relation, plan, expressions, kept, relation.added_columns)
    if found is None:
        return _rows(relation, plan.columns(relation.column_names), kept), plan
    grouping, columns = found
    weights = numbers_of(columns[WEIGHT], WEIGHT).astype(np.intp)
    remarks, whole = tuple(long_values(sample, plan)), relation.whole(tuple(sample))
    rows = Rows(columns, relation.column_names, weights, remarks, whole=whole)
    return rows, grouping.plan


def _sums(
    relation: Relation,
    plan: Plan,
    expressions: Expressions,
    kept: Sequence[ColumnElement[bool]],
    added: AddedColumns,
) -> tuple[Condensed, dict[str, RowColumn]] | None:
    """The columns of groups, and how they are read on; None where a measure needs single rows."""
    names = plan.wanted(relation.column_names).names
    grouping = condensed(
        plan,
        expressions,
        added,
        relation.row_order,
        kept,
        relation.sortable_dates(names),
        _matching(relation, plan, kept),
        relation.moments(names),
        # SQLite alone lets a column of numbers hold words.
        loose=relation.dialect == "sqlite",
    )
    if grouping is None:
        return None
    return grouping, grouping.read(relation.fetch(grouping.statement), expressions.facts)


def _expressions(relation: Relation, plan: Plan, sample: Mapping[str, RowColumn]) -> Expressions:
    """The plan's quantities and conditions in SQL. Raises YuzenError where one cannot be judged."""
    numbers = in_quantities(plan.measures.values()).numbers | plan.row_names.numbers
    columns = Columns(plan.periods.with_columns(sample), numbers)
    facts = row_facts(columns, plan, relation.column_names)
    check_row_conditions(plan, facts)
    dates = relation.native_dates(tuple(sample))
    return Expressions(relation.columns, facts, dates, plan.periods.bases)


def _kept(relation: Relation, plan: Plan, expressions: Expressions) -> list[ColumnElement[bool]]:
    """The plan's condition on rows in SQL. Raises NotSaidError where SQL cannot express it."""
    clauses = []
    for name, called in plan.keep.only.items():
        [base] = plan.periods.in_rows([name])
        values = relation.distinct_values(base)
        if values is None:
            raise NotSaidError
        equal_names = [
            word == called for word in called_in({base: column_from(values, base)}, plan, name)
        ]
        clauses.append(
            one_of(relation.columns[base], plain_values(values, np.array(equal_names, dtype=bool)))
        )
    if plan.keep.condition is not None:
        held = _matching(relation, replace(plan, keep=Keep()))
        clauses.append(expressions.holds(plan.keep.condition, held))
    sides = plan.listing.anchor_totals.sides
    if sides is None:
        return clauses
    among_kept = _matching(relation, plan, clauses)
    opening, closing = (expressions.holds(side, among_kept) for side in sides)
    refuse_both_sides(relation.count(opening & closing, *clauses), plan)
    there = relation.count(opening, *clauses) > 0, relation.count(closing, *clauses) > 0
    refuse_empty_side(there, plan)
    return [*clauses, opening | closing]


def _matching(
    relation: Relation, plan: Plan, kept: Sequence[ColumnElement[bool]] = ()
) -> MatchingValues:
    """The values of a column that a test on rows holds for, by the different values there are.

    kept: what holds for the rows that the test is among.
    """

    def held(name: str, test: Test) -> list[Any] | None:
        [base] = plan.periods.in_rows([name])
        # The latest date among the rows that are kept is not that of all rows.
        among = kept if isinstance(test.claim, Recent) else ()
        if (values := relation.distinct_values(base, *among)) is None:
            return None
        # The condition is judged on the different values, by the same code as elsewhere; the
        # database then compares with those.
        columns = Columns(plan.periods.with_columns({base: column_from(values, base)}))
        facts = row_facts(columns, replace(plan, category=base), relation.column_names)
        return plain_values(values, test.holds(facts) == truth.TRUE)

    return held


def _rows(relation: Relation, names: Sequence[str], kept: Sequence[ColumnElement[bool]]) -> Rows:
    """The rows for which all clauses hold, ungrouped."""
    columns = relation.fetch(relation.select(names).where(*kept))
    return Rows(columns, relation.column_names, whole=relation.whole(names))
