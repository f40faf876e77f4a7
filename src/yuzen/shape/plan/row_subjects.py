"""What conditions on rows are about where they name nothing: the value's column, the dates."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import replace
from functools import partial

from yuzen.errors import Fault, YuzenError
from yuzen.rules.claims import Recent
from yuzen.rules.conditions import Condition, about, all_tests, with_subject
from yuzen.rules.language.period_names import PeriodName
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Distinct, Quantity, RowCount, Summary, Where
from yuzen.rules.quantities.structure import with_where
from yuzen.shape.plan.period_columns import DateColumns
from yuzen.shape.plan.plan import Plan


def kept_condition(
    plan: Plan,
    value: str,
    measure: Quantity,
    column_names: Sequence[str],
    date_columns: Callable[[], Sequence[str]],
) -> Condition | None:
    """The condition on rows, about the value's column where it names none."""
    condition = plan.keep.condition
    if condition is not None:
        condition = about_dates(condition, plan, column_names, date_columns)
    if condition is None or all(test.subject is not None for test in all_tests(condition)):
        return condition
    # The chart's value is a total of one column, so `keep = "above 100"` can only mean that.
    if isinstance(measure, Summary) and isinstance(measure.of, Field):
        return with_subject(condition, measure.of)
    if value in column_names:
        return with_subject(condition, Field(value))
    loose = next(test for test in all_tests(condition) if test.subject is None)
    message = (
        f"'{loose}' does not say of which column, and the chart's value {value} is made of several "
        f"rows. Write the column before it, such as {Field(column_names[-1])} {loose}."
    )
    raise YuzenError(
        Fault("keep-subject", message, "keep", str(condition), loose.span, ("data", "keep"))
    )


def with_subjects(
    measures: Mapping[str, Quantity],
    plan: Plan,
    column_names: Sequence[str],
    date_columns: Callable[[], Sequence[str]],
) -> dict[str, Quantity]:
    """Measures whose conditions on rows are about what they summarise if they name nothing."""

    def completed_where(name: str, part: Where) -> Where:
        condition: Condition = part.where  # type: ignore[assignment]  # as parsed
        condition = about_dates(condition, plan, column_names, date_columns)
        tests = [test for test in all_tests(condition) if test.claim.of_rows]
        loose = [test for test in tests if test.subject is None]
        of = None if isinstance(part.of, Distinct | RowCount) else part.of.of
        if loose and of is not None:
            return replace(part, where=with_subject(condition, of))
        if not loose:
            return replace(part, where=condition)
        message = f"'{loose[0]}' does not say of which column."
        remedy = f"Write the column before it, such as {Field(column_names[-1])} {loose[0]}."
        span, key = loose[0].span, ("measures", name)
        source = span.source if span and span.source else str(condition)
        where, said = f"measure {name}", f"{message} {remedy}"
        raise YuzenError(Fault("measure-subject", said, where, source, span, key))

    return {
        name: with_where(measure, partial(completed_where, name))
        for name, measure in measures.items()
    }


def about_dates(
    condition: Condition,
    plan: Plan,
    column_names: Sequence[str],
    date_columns: Callable[[], Sequence[str]],
) -> Condition:
    """The condition with tests of latest dates about the chart's dates, if they name none."""
    loose = [t for t in all_tests(condition) if t.subject is None and isinstance(t.claim, Recent)]
    for test in loose:
        assert isinstance(test.claim, Recent)  # noqa: S101 - as asked
        along = [name for name in (plan.category, plan.series) if name in column_names]
        dates = DateColumns(column_names, [str(name) for name in along], date_columns)
        column = dates.of(PeriodName(test.claim.unit), str(test.claim))
        condition = about(condition, test, Field(column))
    return condition
