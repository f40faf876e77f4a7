"""Which rows count: those that a plan keeps, and those of each value of a column."""

from collections.abc import Iterator, Mapping
from dataclasses import replace

import numpy as np

from yuzen.arrays import Text
from yuzen.errors import Fault, YuzenError
from yuzen.formats.display import shown
from yuzen.rules import truth, validity
from yuzen.rules.conditions import Condition, all_tests
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.lineage import Remark
from yuzen.rules.misspelt_values import misspelt_values
from yuzen.rules.quantities.numbers import Derived, Previous
from yuzen.rules.quantities.structure import inside
from yuzen.shape.grouping.groups import Groups
from yuzen.shape.grouping.measures import measure_faults, row_facts
from yuzen.shape.plan.plan import Plan
from yuzen.sources.cells import RowColumn
from yuzen.sources.columns import Columns, holds_words, whole_columns
from yuzen.sources.rows import Rows


def kept_rows(rows: Rows, plan: Plan) -> Rows:
    """The rows that the plan keeps, which are of the types that all rows are of.

    The condition is judged among all rows; of those that it holds for, only some values are meant.
    """
    if rows.whole is None:
        # Asked before rows are left out: a column is what it is in all rows.
        rows = replace(rows, whole=whole_columns(rows.columns, plan.columns(rows.column_names)))
    rows = _held(rows, plan)
    for name, value in plan.keep.only.items():
        meant = [value_called == value for value_called in called_in(rows.columns, plan, name)]
        rows = rows.taken(np.array(meant, dtype=bool))
    return rows


def _held(rows: Rows, plan: Plan) -> Rows:
    """The rows that the condition holds for."""
    if plan.keep.condition is None:
        return rows
    asked = {name.casefold() for name in plan.keep.names.numbers}
    named = [name for name in rows.columns if name.casefold() in asked]
    numbers = {name for name in named if not holds_words(rows.columns[name])}
    columns = Columns(plan.periods.with_columns(rows.columns), numbers)
    facts = row_facts(columns, plan, rows.column_names)
    check_keep(plan, facts)
    remarks = [
        Remark("value-unknown", f"In keep, {message}", "Write it as the rows have it.")
        for message in misspelt_values(plan.keep.condition, facts)
    ]
    kept = rows.taken(np.asarray(plan.keep.condition.holds(facts) == truth.TRUE))
    return replace(kept, remarks=(*kept.remarks, *remarks))


def called_in(given: Mapping[str, RowColumn], plan: Plan, column: str) -> list[str]:
    """What the values of a column, which may be one of periods, are called in each row."""
    periods = [period for period in plan.periods.columns if period.name == column]
    if periods:
        given = replace(plan.periods, columns=tuple(periods)).with_columns(given)
    return shown(Columns(given)[column], plan.periods.grains.get(column))


def check_keep(plan: Plan, facts: EvaluationData) -> None:
    """Raise YuzenError where the condition on rows is wrong, with all other faults."""
    condition = plan.keep.condition
    if condition is None:
        return
    # A claim about marks would also be "unknown" here, which would only confuse.
    faults = [*_of_marks(condition)] or validity.faults(condition, facts)
    if faults:
        others = measure_faults(plan.measures, facts)
        raise YuzenError(*(fault.at("keep", "data", "keep") for fault in faults), *others)


def _of_marks(condition: Condition) -> Iterator[Fault]:
    """What the condition says that is about marks, which there are not yet when rows are chosen."""
    for test in all_tests(condition):
        parts = [part for quantity in test.quantities() for part in inside(quantity)]
        compared = next((part for part in parts if isinstance(part, Derived | Previous)), None)
        if test.claim.of_rows and compared is None:
            continue
        message = (
            f"'{compared or test.claim}' is about marks, and keep chooses among rows, before "
            f"there are any. "
            "Say it in a rule; to draw fewer marks, say limit under [chart]; to keep rows, compare "
            "a column "
            'with a number, a word or a date, such as month after "2025-12".'
        )
        yield validity.placed(Fault("keep-marks", message, span=test.span), str(condition))


def split_rows(rows: Rows, plan: Plan, column: str) -> list[tuple[str, Rows]]:
    """The rows of each value of a column, by what the value is called, as they are first named."""
    groups = Groups.of(Text.of(called_in(rows.columns, plan, column)))
    # One sort for all values instead of one mask for each.
    order = np.argsort(groups.codes, kind="stable")
    if len(groups):
        parts = np.split(order, np.cumsum(groups.counts())[:-1])
    else:
        parts = []
    return [(name, rows.taken(part)) for name, part in zip(shown(groups.names), parts, strict=True)]
