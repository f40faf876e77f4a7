"""A plan with every name resolved against those of the rows."""

from collections.abc import Callable, Mapping, Sequence
from contextlib import suppress
from dataclasses import replace

from yuzen.errors import Fault, YuzenError, make_error, suggestion
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.names import Names, OverallAsked, in_conditions, in_quantities, in_where
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Derived, Distinct, Quantity, Summary
from yuzen.rules.quantities.structure import adds_up, counts_behind, inside
from yuzen.shape.plan.among_marks import parted, spelled_out
from yuzen.shape.plan.choices import OVERALL_TOTAL, Order
from yuzen.shape.plan.period_columns import DateColumns, PeriodColumn, period_columns
from yuzen.shape.plan.plan import Formulas, Plan
from yuzen.shape.plan.row_subjects import kept_condition, with_subjects
from yuzen.shape.plan.sides import between_sides
from yuzen.sources.wanted import by_fold, column_name


def resolved(
    plan: Plan, column_names: Sequence[str], date_columns: Callable[[], Sequence[str]], *more: str
) -> Plan:
    """The plan with every name as the source has it, and every measure that it makes.

    offered, dated: the columns of the source, and those that hold dates; more: further columns that
    are asked for. Raises YuzenError (brief-column, brief-…) for what the source does not offer.
    """
    plan = _with_periods(plan, column_names, date_columns, more)
    column_names = (*column_names, *plan.periods.bases)
    asked = (
        (plan.category, "the category"),
        *(
            (written, what)
            for written, what in ((plan.series, "the series"), (plan.panel, "the panels"))
            if written
        ),
    )
    # All names are looked at before anything is refused: an analyst mends them in one go.
    faults = [fault for written, what in asked for fault in _missing(written, column_names, what)]
    try:
        value, measures = _measures(plan, column_names)
        order = _ordered_by(plan, plan.listing.order, column_names, measures)
        group_order = _ordered_by(plan, plan.listing.group_order, column_names, measures)
    except YuzenError as error:
        faults += error.faults
    if faults:
        raise YuzenError(*faults)
    plan = _named(plan, column_names)
    measures = with_subjects(measures, plan, column_names, date_columns)
    measures = spelled_out(measures, plan.measures)
    plan, measures = between_sides(plan, value, measures, column_names, date_columns)
    rows, peer_columns = parted(measures, plan, column_names)
    _refuse_overall(plan.overall, peer_columns)
    kept = kept_condition(plan, value, measures[value], column_names, date_columns)
    plan = replace(
        plan,
        value=value,
        measures=rows,
        formulas=_formulas(measures, rows, peer_columns),
        keep=replace(plan.keep, condition=kept),
        listing=replace(plan.listing, order=order, group_order=group_order),
        overall=_pooled(plan.overall, rows),
    )
    _refuse_doubles(plan, column_names)
    return plan


def _formulas(
    measures: Mapping[str, Quantity],
    rows: Mapping[str, Quantity],
    peer_columns: Mapping[str, Quantity],
) -> Formulas:
    """How measures are made; those of rows and those among marks were split off others."""
    computed = {**rows, **peer_columns}
    # The text as it was written, where there is one; parts that were split off print themselves.
    texts = {name: str(measures.get(name, measure)) for name, measure in computed.items()}
    counted = {name: counts_behind(measure) for name, measure in rows.items()}
    return Formulas(texts, counted, peer_columns)


def _named(plan: Plan, column_names: Sequence[str]) -> Plan:
    """The plan with the columns that tell marks apart as the source calls them."""
    category = column_name(plan.category, column_names, "the category")
    series = plan.series and column_name(plan.series, column_names, "the series")
    panel = plan.panel and column_name(plan.panel, column_names, "the panels")
    totals = tuple(_total(total, column_names) for total in plan.listing.totals)
    only = {
        column_name(n, column_names, "the rows that count"): v for n, v in plan.keep.only.items()
    }
    if totals and panel is not None:
        message = "A chart with panels has no totals besides; leave out one of the two."
        raise make_error("brief-totals", message, key=("chart", "totals"))
    listing, keep = replace(plan.listing, totals=totals), replace(plan.keep, only=only)
    return replace(plan, category=category, series=series, panel=panel, listing=listing, keep=keep)


def _with_periods(
    plan: Plan,
    column_names: Sequence[str],
    date_columns: Callable[[], Sequence[str]],
    more: Sequence[str],
) -> Plan:
    """The plan with the period columns that it uses, and the dates whose ends texts show."""
    quantities_used = [*plan.measures.values(), *_quantities_said(plan)]
    counted = [
        part.of.name
        for measure in quantities_used
        for part in inside(measure)
        if isinstance(part, Distinct)
    ]
    told_apart = (*plan.plain_columns, *plan.keep.only, *more)
    row_names = plan.keep.names | in_where(quantities_used)
    row_names |= in_conditions(plan.listing.anchor_totals.sides or ())
    names = plan.names | row_names | Names(peers=in_quantities(quantities_used).peers)
    # An hour is a number of each row; a rule knows it only where it tells marks apart.
    spoken = (*sorted(names.peers), *sorted(names.words), *sorted(row_names.numbers), *counted)
    along = [name for name in (plan.category, plan.series) if name is not None]
    period_names = [name for name in column_names if name.casefold() in by_fold(along)]
    dates = DateColumns(column_names, period_names, date_columns)
    known = (*column_names, *plan.measures, *plan.parameters)
    periods_made = period_columns((*told_apart, *spoken), known, dates, plan.periods.calendar)
    spans = {str(period): dates.of(period, str(period)) for period in plan.periods.asked}
    return _calling(replace(plan, periods=replace(plan.periods, spans=spans)), periods_made)


def _quantities_said(plan: Plan) -> list[Quantity]:
    """What is shown as a quantity, and not by the name of a measure or a column."""
    quantities: list[Quantity] = []
    for name in (plan.value, *plan.further):
        with suppress(YuzenError):
            quantities.append(parse_quantity(name))
    return quantities


def _calling(plan: Plan, periods: Mapping[str, PeriodColumn]) -> Plan:
    """The plan with these columns, by which it calls what it calls by periods."""
    if not periods:
        return plan

    def name(written: str) -> str:
        period = periods.get(written.casefold())
        return written if period is None else period.name

    columns = tuple({column.name: column for column in periods.values()}.values())
    return replace(
        plan,
        category=name(plan.category),
        series=plan.series and name(plan.series),
        panel=plan.panel and name(plan.panel),
        periods=replace(plan.periods, columns=columns),
        keep=replace(
            plan.keep, only={name(written): value for written, value in plan.keep.only.items()}
        ),
    )


def _missing(name: str, column_names: Sequence[str], what: str) -> Sequence[Fault]:
    """What is wrong with the name of a column; nothing for one that is there."""
    try:
        column_name(name, column_names, what)
    except YuzenError as error:
        return error.faults
    return ()


def _measures(plan: Plan, column_names: Sequence[str]) -> tuple[str, dict[str, Quantity]]:
    """The value's name, and every measure: from the brief, or the total of a named column."""
    measures = dict(plan.measures)
    value, measures[value] = _value(plan.value, plan, column_names)
    for written in plan.further:
        name, quantity = _value(written, plan, column_names, "what is shown besides")
        measures[written] = measures.get(name, quantity)
    # What tells marks apart is in a rule what it is in the mark, so it is never added up.
    told_apart = (*plan.plain_columns, *plan.names.peers)
    known = by_fold((*measures, *plan.parameters, *told_apart))
    spoken = by_fold(plan.names.numbers)
    for fold, column in sorted(by_fold(column_names).items()):
        # A bare name in a rule is the total of that column, unless it is something else.
        if fold in spoken and fold not in known:
            measures[column] = Summary("total", Field(column))
    return value, {
        name: _share_of_total(measure, measures, column_names) for name, measure in measures.items()
    }


def _share_of_total(
    measure: Quantity, measures: Mapping[str, Quantity], column_names: Sequence[str]
) -> Quantity:
    """A measure, or a share of a name: of that measure, or of the column's total."""
    if (
        not isinstance(measure, Derived)
        or measure.kind != "share"
        or not isinstance(measure.of, Field)
    ):
        return measure
    name = measure.of.name
    if name in measures:
        return replace(measure, of=measures[name])
    return replace(measure, of=Summary("total", Field(column_name(name, column_names, "a share"))))


def _ordered_by(
    plan: Plan, order: Order | None, column_names: Sequence[str], measures: dict[str, Quantity]
) -> Order | None:
    """An order with the measure that it is by, which is added to those that are made."""
    if order is None or not order.by:
        return order
    if plan.series is not None and order.by.casefold() not in by_fold((*measures, *column_names)):
        return order  # by one of the series, of which only the rows tell
    name, quantity = _value(order.by, plan, column_names, "the order")
    measures.setdefault(name, quantity)
    return replace(order, by=name)


def _value(
    written: str, plan: Plan, column_names: Sequence[str], what: str = "the value"
) -> tuple[str, Quantity]:
    """A value's name and measure: of this name, else the total of the column, else texts.

    A column's exact name comes before what it could mean as a quantity: 2024, average, a-b.
    """
    # Exact names first: a column may be called "top 3".
    if written in plan.measures:
        return written, plan.measures[written]
    if written in column_names:
        return written, Summary("total", Field(written))
    quantity, unread = _read_value(written)
    if not isinstance(quantity, Field):
        return written, quantity
    try:
        name = column_name(quantity.name, [*column_names, *plan.measures], what)
    except YuzenError as error:
        # What was meant as a quantity is told why it is none.
        raise YuzenError(*error.faults, *unread) from None
    return name, plan.measures.get(name, Summary("total", Field(name)))


def _read_value(written: str) -> tuple[Quantity, Sequence[Fault]]:
    """A value's text as a quantity; as a name, with what is wrong, where it reads as none."""
    try:
        return parse_quantity(written), ()
    except YuzenError as error:
        several_words = len(written.split()) > 1
        return Field(written), error.faults if several_words else ()


def _pooled(
    asked: Sequence[OverallAsked], measures: Mapping[str, Quantity]
) -> tuple[OverallAsked, ...]:
    """What is pooled over rows: all measures, unless a text needs one that adds up over marks."""
    by_fold = {name.casefold(): measure for name, measure in measures.items()}
    known = [(one, by_fold.get(one.measure.casefold())) for one in asked]
    return tuple(
        one
        for one, measure in known
        if measure is not None and not (one.whole and one.reach == "all" and adds_up(measure))
    )


def _refuse_overall(asked: Sequence[OverallAsked], peer_columns: Mapping[str, Quantity]) -> None:
    """Raise YuzenError (rule-overall) where a measure of marks is to be pooled over rows."""
    names = by_fold(peer_columns)
    for one in asked:
        if one.measure.casefold() in names and not one.whole:
            message = (
                f"overall pools a measure of rows, and {one.measure} compares marks with one "
                "another."
            )
            raise make_error("rule-overall", message)


def _total(written: str, column_names: Sequence[str]) -> str:
    name = next(
        (name for name in (*column_names, OVERALL_TOTAL) if name.casefold() == written.casefold()),
        None,
    )
    if name is None:
        hint = suggestion(written, [*column_names, OVERALL_TOTAL])
        raise make_error("brief-totals", f"There is no column '{written}' to make totals of.{hint}")
    return name


def _refuse_doubles(plan: Plan, column_names: Sequence[str]) -> None:
    """Raise YuzenError for one name of a parameter and a measure, column or parameter.

    And what tells marks apart cannot be a number of theirs besides.
    """
    for name in dict.fromkeys(filter(None, (plan.category, plan.series, plan.panel))):
        if name in {*plan.measures, *plan.formulas.peer_columns}:
            message = (
                f"{name} is a column of the marks and a measure too. Give the measure a name of "
                "its own, or draw "
                f'another value, such as "count of rows" or "average of {Field(name)}".'
            )
            raise make_error("brief-name", message, key=("chart",))
    measures, columns = (
        by_fold((*plan.measures, *plan.formulas.peer_columns)),
        by_fold(column_names),
    )
    parameters: dict[str, str] = {}
    for name in plan.parameters:
        fold = name.casefold()
        for others, what in ((measures, "measure"), (columns, "column"), (parameters, "parameter")):
            if fold in others:
                message = f"{name} is a parameter, and {others[fold]} is a {what}"
                remedy = "give the parameter another name."
                raise make_error("brief-name", f"{message}; {remedy}", key=("parameters", name))
        parameters[fold] = name
