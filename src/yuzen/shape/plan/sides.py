"""A bridge out of rows: its steps are differences between two sides of the rows."""

from collections.abc import Callable, Sequence
from dataclasses import replace

from yuzen.errors import Fault, YuzenError, make_error
from yuzen.rules.conditions import And, Condition, all_tests
from yuzen.rules.quantities.numbers import (
    Difference,
    Distinct,
    Quantity,
    RowCount,
    Summary,
    Where,
    with_parts,
)
from yuzen.rules.quantities.structure import adds_up, of_marks
from yuzen.shape.plan.plan import Plan
from yuzen.shape.plan.row_subjects import about_dates


def between_sides(
    plan: Plan,
    value: str,
    measures: dict[str, Quantity],
    column_names: Sequence[str],
    date_columns: Callable[[], Sequence[str]],
) -> tuple[Plan, dict[str, Quantity]]:
    """The plan and the measures of a bridge out of rows: each is a difference of both sides.

    Any other plan is as it is. Raises YuzenError (brief-sides) where the value does not add up.
    """
    sides = plan.listing.anchor_totals.sides
    if sides is None:
        return plan, measures
    opening, closing = (about_dates(side, plan, column_names, date_columns) for side in sides)
    for key, side in (("from", opening), ("to", closing)):
        loose = next((test for test in all_tests(side) if test.subject is None), None)
        if loose is not None:
            message = f"'{loose}' does not say of which column. Write the column before it."
            place = ("chart", key)
            raise YuzenError(Fault("brief-sides", message, key, str(side), loose.span, place))
    if not adds_up(measures[value]) or of_marks(measures[value]):
        message = f"A bridge steps from level to level, and {value} does not add up."
        raise make_error(
            "brief-sides", f"{message} Take a total or a count.", key=("chart", "value")
        )
    differences = {
        name: _difference(measure, opening, closing) for name, measure in measures.items()
    }
    anchors = replace(plan.listing.anchor_totals, sides=(opening, closing))
    return replace(plan, listing=replace(plan.listing, anchor_totals=anchors)), differences


def _difference(measure: Quantity, opening: Condition, closing: Condition) -> Quantity:
    """A measure of the closing side less that of the opening one; among marks it is as it is."""
    if of_marks(measure):
        return measure
    return Difference(_chosen(measure, closing), "-", _chosen(measure, opening))


def _chosen(measure: Quantity, condition: Condition) -> Quantity:
    """A measure of those rows only for which a condition holds."""
    # A measure of chosen rows is of those that both conditions choose.
    if isinstance(measure, Where):
        both: Condition = And((condition, measure.where))  # type: ignore[arg-type]  # as parsed
        return Where(measure.of, both)
    if isinstance(measure, Summary | Distinct | RowCount):
        return Where(measure, condition)
    return with_parts(measure, lambda part: _chosen(part, condition))
