"""Which rows count: those that a plan keeps, and those of each value of a column."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

import numpy as np

from yuzen.arrays import Column, Text, sequence_of
from yuzen.errors import Fault, YuzenError, make_error
from yuzen.formats.display import shown
from yuzen.rules import truth, validity
from yuzen.rules.conditions import Condition, all_tests
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.lineage import Remark
from yuzen.rules.misspelt_values import misspelt_values
from yuzen.rules.names import row_conditions
from yuzen.rules.quantities.numbers import Derived, Previous, RowCount, Where, rows_column
from yuzen.rules.quantities.structure import inside
from yuzen.shape.grouping.groups import Groups
from yuzen.shape.grouping.measures import measure_faults, row_facts
from yuzen.shape.plan.plan import Plan
from yuzen.sources.cells import RowColumn
from yuzen.sources.columns import Columns, holds_words, whole_columns
from yuzen.sources.joined_tables import refuse_unpaired
from yuzen.sources.rows import Rows


def kept_rows(rows: Rows, plan: Plan) -> Rows:
    """The rows that the plan keeps, which are of the types that all rows are of.

    The condition is judged among all rows; of those that it holds for, only some values are meant.
    """
    if rows.whole is None:
        # Asked before rows are left out: a column is what it is in all rows.
        rows = replace(rows, whole=whole_columns(rows.columns, plan.columns(rows.column_names)))
    chosen = row_conditions(plan.measures.values())
    if plan.keep.condition is not None or chosen:
        facts = _condition_facts(rows, plan)
        check_row_conditions(plan, facts)
        rows = replace(rows, remarks=(*rows.remarks, *_misspelt(plan, facts)))
        if plan.keep.condition is not None:
            rows = rows.taken(np.asarray(plan.keep.condition.holds(facts) == truth.TRUE))
    for name, value in plan.keep.only.items():
        meant = [value_called == value for value_called in called_in(rows.columns, plan, name)]
        rows = rows.taken(np.array(meant, dtype=bool))
    refuse_unpaired(rows)
    if not chosen:
        return rows
    return _on_one_side(_with_chosen(rows, chosen, plan), plan)


def _on_one_side(rows: Rows, plan: Plan) -> Rows:
    """Of a bridge out of rows those on either side, with a column that tells the opening one.

    Raises YuzenError (data-sides) for rows on both sides.
    """
    sides = plan.listing.anchor_totals.sides
    if sides is None:
        return rows
    facts = _condition_facts(rows, plan)
    opening, closing = (np.asarray(side.holds(facts) == truth.TRUE) for side in sides)
    refuse_both_sides(int(np.count_nonzero(opening & closing)), plan)
    if len(rows):
        refuse_empty_side((bool(opening.any()), bool(closing.any())), plan)
    columns = {**rows.columns, rows_column(sides[0]): opening.astype(float)}
    return replace(rows, columns=columns).taken(opening | closing)


def refuse_empty_side(there: tuple[bool, bool], plan: Plan) -> None:
    """Raise YuzenError (data-sides) where no row is on one side of a bridge.

    there: whether there are rows on the opening side, and on the closing one.
    """
    sides = plan.listing.anchor_totals.sides or ()
    for key, side, has_rows in zip(("from", "to"), sides, there, strict=False):
        if not has_rows:
            message = f"{key} holds for no row: '{side}'."
            remedy = "A bridge goes from the total of some rows to that of others."
            raise make_error("data-sides", f"{message} {remedy}", key=("chart", key))


def refuse_both_sides(count: int, plan: Plan) -> None:
    """Raise YuzenError (data-sides) where rows are on both sides of a bridge."""
    if count:
        opening, closing = plan.listing.anchor_totals.sides or ("", "")
        message = f"{count:,} rows are on both sides: '{opening}' and '{closing}' hold for them."
        remedy = "Write from and to so that each row is on one side."
        raise make_error("data-sides", f"{message} {remedy}", key=("chart", "to"))


def _with_chosen(rows: Rows, conditions: Sequence[Condition], plan: Plan) -> Rows:
    """The rows with a column for each condition inside measures: 1 where it holds, else 0."""
    # Asked among the rows that are kept, and answered once for all measures.
    facts = _condition_facts(rows, plan)
    columns = {
        rows_column(condition): (condition.holds(facts) == truth.TRUE).astype(float)
        for condition in conditions
    }
    return replace(rows, columns={**rows.columns, **columns})


def _condition_facts(rows: Rows, plan: Plan) -> EvaluationData:
    """The rows as conditions on them ask for them."""
    asked = {name.casefold() for name in plan.row_names.numbers}
    named = [name for name in rows.columns if name.casefold() in asked]
    numbers = {name for name in named if not holds_words(rows.columns[name])}
    columns = Columns(plan.periods.with_columns(rows.columns), numbers)
    return row_facts(columns, plan, rows.column_names)


def _misspelt(plan: Plan, facts: EvaluationData) -> list[Remark]:
    """Remarks on values that conditions on rows name and that columns have only nearly."""
    kept = plan.keep.condition
    conditions = {"keep": [] if kept is None else [kept]}
    for name, measure in plan.measures.items():
        conditions[f"measure {name}"] = row_conditions([measure])
    return [
        Remark("value-unknown", f"In {where}, {message}", "Write it as the rows have it.")
        for where, several in conditions.items()
        for condition in several
        for message in misspelt_values(condition, facts)
    ]


def called_in(given: Mapping[str, RowColumn], plan: Plan, column: str) -> list[str]:
    """What the values of a column, which may be one of periods, are called in each row."""
    return shown(column_in(given, plan, column), plan.periods.grains.get(column))


def column_in(given: Mapping[str, RowColumn], plan: Plan, column: str) -> Column:
    """A column of rows, which may be one of periods."""
    periods = [period for period in plan.periods.columns if period.name == column]
    if periods:
        given = replace(plan.periods, columns=tuple(periods)).with_columns(given)
    return Columns(given)[column]


def check_row_conditions(plan: Plan, facts: EvaluationData) -> None:
    """Raise YuzenError where a condition on rows is wrong, with all other faults."""
    faults = []
    for key, side in zip(("from", "to"), plan.listing.anchor_totals.sides or (), strict=False):
        side_faults = _condition_faults(side, key, facts)
        faults += [fault.at(key, "chart", key) for fault in side_faults]
    if plan.keep.condition is not None:
        keep_faults = _condition_faults(plan.keep.condition, "keep", facts)
        faults += [fault.at("keep", "data", "keep") for fault in keep_faults]
    for name, measure in plan.measures.items():
        for condition in row_conditions([measure]):
            measure_faults_there = _condition_faults(condition, "where", facts)
            faults += [f.at(f"measure {name}", "measures", name) for f in measure_faults_there]
    if faults:
        raise YuzenError(*faults, *measure_faults(plan.measures, facts))


def _condition_faults(condition: Condition, word: str, facts: EvaluationData) -> list[Fault]:
    """What is wrong with a condition on rows, which stands after a word."""
    # A claim about marks would also be "unknown" here, which would only confuse.
    return [*_of_marks(condition, word)] or validity.faults(condition, facts)


def _of_marks(condition: Condition, word: str) -> Iterator[Fault]:
    """What the condition says that is about marks, which there are not yet when rows are chosen."""
    for test in all_tests(condition):
        parts = [part for quantity in test.quantities() for part in inside(quantity)]
        of_groups = Derived | Previous | RowCount | Where
        compared = next((part for part in parts if isinstance(part, of_groups)), None)
        if test.claim.of_rows and compared is None:
            continue
        message = (
            f"'{compared or test.claim}' is about marks, and {word} chooses among rows, before "
            f"there are any. "
        )
        if isinstance(compared, Where):
            message = "A condition on rows has no where of its own; make two measures of it."
        elif isinstance(compared, RowCount):
            message += "A condition goes on to the end, so put what comes before it in brackets: "
            message += "(count of rows where wait above 95) / count of rows."
        else:
            message += (
                "Say it in a rule; to draw fewer marks, say limit under [chart]; to choose rows, "
                'compare a column with a number, a word or a date, such as month after "2025-12".'
            )
        yield validity.placed(Fault("keep-marks", message, span=test.span), str(condition))


def split_rows(rows: Rows, plan: Plan, column: str) -> list[tuple[str, Rows]]:
    """The rows of each value of a column, by what the value is called.

    Dates, numbers and what comes round again stand in their order, words as they are first named.
    """
    values = column_in(rows.columns, plan, column)
    groups = Groups.of(Text.of(shown(values, plan.periods.grains.get(column))))
    places = sequence_of(values[groups.first]) if len(groups) else None
    if places is not None:
        groups = groups.arranged(np.argsort(places, kind="stable"), None, np.zeros(0, np.intp))
    # One sort for all values instead of one mask for each.
    order = np.argsort(groups.codes, kind="stable")
    if len(groups):
        parts = np.split(order, np.cumsum(groups.counts())[:-1])
    else:
        parts = []
    return [(name, rows.taken(part)) for name, part in zip(shown(groups.names), parts, strict=True)]
