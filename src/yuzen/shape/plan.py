"""The plan: how rows become marks, and its names told from those that the rows have."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Literal

from yuzen.errors import Fault, YuzenError, suggestion, wrong
from yuzen.rules.conditions import all_tests, said_of
from yuzen.rules.language.grammar import parse_quantity
from yuzen.rules.names import Names, OverallAsked, in_quantities
from yuzen.rules.parts import adds_up, counts_behind
from yuzen.rules.quantities import Derived, Field, Summary
from yuzen.shape.choices import ALL, Keep, Listing, Order
from yuzen.shape.wanted import Wanted

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence
    from collections.abc import Set as AbstractSet

    from yuzen.rules.conditions import Condition
    from yuzen.rules.quantities import Quantity
    from yuzen.shape.bins import Bins
    from yuzen.shape.groups import Grain


@dataclass(frozen=True)
class Plan:
    """How rows become marks.

    category:    the column that names the marks.
    series:      a second column; each of its values makes marks of its own in every category.
    panel:       a column whose values have a plot each, with marks, order and limit of its own.
    panel_peers: whether tests compare the marks of one panel or of the whole chart.
    further:     further values, each a measure's name, a column, or a quantity in words.
    value:       a measure's name, a column (its total is meant), or a quantity in words.
    measures:    further measures by name.
    formulas:    what the measures are called in words; those that are not named are their own.
    names:       what rules, labels and titles speak of besides; only that is made.
    keep:        which rows count.
    grain:       for a category of dates: what becomes one mark.
    bins:        for a category of numbers or dates: the stretches that become one mark.
    listing:     which marks are drawn, in which order, and their totals.
    overall:     the measures that are asked for over several marks together.
    counted:     for each measure what counts the rows that have a number for it.
    """

    category: str
    value: str
    measures: Mapping[str, Quantity] = field(default_factory=dict)
    formulas: Mapping[str, str] = field(default_factory=dict)
    names: Names = field(default_factory=Names)
    parameters: Mapping[str, float] = field(default_factory=dict)
    keep: Keep = field(default_factory=Keep)
    series: str | None = None
    panel: str | None = None
    panel_peers: Literal["panel", "chart"] = "panel"
    further: tuple[str, ...] = ()
    grain: Grain | None = None
    bins: Bins | None = None
    listing: Listing = field(default_factory=Listing)
    overall: tuple[OverallAsked, ...] = ()
    counted: Mapping[str, tuple[Quantity, ...]] = field(default_factory=dict)

    @property
    def one_group_a_mark(self) -> bool:
        """Whether no measure is asked of more rows than those that share the mark's columns."""
        listing = self.listing
        rest = listing.limit is not None and listing.rest is not None
        gathered = bool(listing.totals) or listing.pillars.any or rest
        return not (gathered or self.series or self.grain or self.bins or self.overall)

    @property
    def parameters_of_rows(self) -> frozenset[str]:
        """Parameters that say which rows count or what measures are, without regard to case."""
        spoken = in_quantities(self.measures.values()).all | self.keep.names.all
        return frozenset({n.casefold() for n in self.parameters} & {n.casefold() for n in spoken})

    @property
    def plain_columns(self) -> tuple[str, ...]:
        """The columns that tell marks from one another, or totals."""
        named = (self.category, self.series, self.panel, *self.listing.totals)
        return tuple(dict.fromkeys(name for name in named if name is not None and name != ALL))

    def attributes(self, columns: Sequence[str]) -> list[str]:
        """Those of the columns that rules ask for as they are: words, dates, and the peers of `within`."""
        wanted = {name.casefold() for name in (*self.names.words, *self.names.peers, *self.listing.totals)}
        made = {self.category, self.series, self.panel, *self.measures, *self.parameters}
        return sorted(name for name in columns if name.casefold() in wanted and name not in made)

    @property
    def implied(self) -> frozenset[str]:
        """The totals of columns that rules or texts ask for by their mere names: if they hold numbers."""
        spoken = _by_fold(self.names.numbers)
        others = self.measures.keys() - {self.value, *self.further}
        return frozenset(
            name
            for name in others
            if name.casefold() in spoken and self.formulas[name] == f"total of {Field(name)}"
        )

    def wanted(self, offered: Sequence[str], *more: str) -> Wanted:
        """The columns of a source that the plan needs, and these, with what each is asked for."""
        names = dict.fromkeys((*self.columns(offered), *more))
        spelled = {*self.plain_columns, *self.keep.only, *self.attributes(offered), *more}
        spelled |= {name for name in names if name.casefold() in _by_fold(self.keep.names.words)}
        measured = in_quantities(self.measures.values())
        kept = _by_fold(self.keep.names.numbers)
        numbers, counted = kept | _by_fold(measured.numbers), _by_fold(measured.words)
        only = frozenset(names) - spelled
        return Wanted(
            tuple(names),
            frozenset(name for name in only if name.casefold() in numbers),
            frozenset(name for name in only if name.casefold() in counted.keys() - numbers.keys()),
            self.implied | frozenset(name for name in only if name.casefold() in kept),
        )

    def without(self, words: AbstractSet[str]) -> Plan:
        """The plan with these columns as what they are: rules asked for their totals, and they hold words."""
        if not words:
            return self
        kept = {name: measure for name, measure in self.measures.items() if name not in words}
        names = replace(self.names, words=self.names.words | words)
        return replace(self, measures=kept, names=names, formulas={n: self.formulas[n] for n in kept})

    def columns(self, offered: Sequence[str]) -> list[str]:
        """Which of the columns that a source offers the plan needs, in the order of the source."""
        spoken = in_quantities(self.measures.values()).all | self.keep.names.all
        wanted = {name.casefold() for name in (*self.plain_columns, *self.keep.only, *spoken)}
        wanted |= {name.casefold() for name in self.attributes(offered)}
        return [name for name in offered if name.casefold() in wanted]


def resolved(plan: Plan, offered: Sequence[str]) -> Plan:
    """The plan with every name as the source has it, and every measure that it makes.

    Raises YuzenError (data-column, brief-…) for what the source does not offer.
    """
    asked = (
        (plan.category, "the category"),
        *((said, what) for said, what in ((plan.series, "the series"), (plan.panel, "the panels")) if said),
    )
    faults = [fault for said, what in asked for fault in _missing(said, offered, what)]
    try:
        value, measures = _measures(plan, offered)
        order = _ordered_by(plan, offered, measures)
    except YuzenError as error:
        faults += error.faults
    if faults:
        raise YuzenError(*faults)
    category = column_name(plan.category, offered, "the category")
    series = plan.series and column_name(plan.series, offered, "the series")
    panel = plan.panel and column_name(plan.panel, offered, "the panels")
    totals = tuple(_total(total, offered) for total in plan.listing.totals)
    only = {column_name(n, offered, "the rows that count"): v for n, v in plan.keep.only.items()}
    if totals and panel is not None:
        message = "A chart with panels has no totals besides; leave out one of the two."
        raise wrong("brief-totals", message, key=("chart", "totals"))
    plan = replace(
        plan,
        category=category,
        series=series,
        panel=panel,
        value=value,
        measures=measures,
        formulas={name: str(measure) for name, measure in measures.items()},
        keep=Keep(_kept(plan.keep.condition, value, measures[value], offered), only),
        listing=replace(plan.listing, order=order, totals=totals),
        overall=_pooled(plan.overall, measures),
        counted={name: counts_behind(measure) for name, measure in measures.items()},
    )
    _refuse_doubles(plan, offered)
    return plan


def _missing(said: str, offered: Sequence[str], what: str) -> Sequence[Fault]:
    """What is wrong with the name of a column; nothing for one that is there."""
    try:
        column_name(said, offered, what)
    except YuzenError as error:
        return error.faults
    return ()


def column_name(said: str, offered: Sequence[str], what: str) -> str:
    """The column that is meant: the same name, or the only one but for case."""
    near = [name for name in offered if name.casefold() == said.casefold()]
    if said in offered or len(near) == 1:
        if said in offered:
            return said
        return near[0]
    hint = suggestion(said, offered) or f" There are {', '.join(offered[:12])}."
    raise wrong(
        "data-column",
        f"There is no column '{said}' for {what}.{hint}",
        key=("chart", what.rsplit(maxsplit=1)[-1]),
    )


def _measures(plan: Plan, offered: Sequence[str]) -> tuple[str, dict[str, Quantity]]:
    """The value's name, and every measure to make: told, or the total of a column that is named."""
    measures = dict(plan.measures)
    value, measures[value] = _value(plan.value, plan, offered)
    for said in plan.further:
        name, quantity = _value(said, plan, offered, "what is shown besides")
        measures[said] = measures.get(name, quantity)
    # What tells marks apart is in a rule what it is in the mark, so it is never added up.
    told_apart = (*plan.plain_columns, *plan.names.peers)
    known = _by_fold((*measures, *plan.parameters, *told_apart))
    spoken = _by_fold(plan.names.numbers)
    for fold, column in sorted(_by_fold(offered).items()):
        if fold in spoken and fold not in known:
            measures[column] = Summary("total", Field(column))
    return value, {name: _share_of_total(measure, measures, offered) for name, measure in measures.items()}


def _share_of_total(measure: Quantity, measures: Mapping[str, Quantity], offered: Sequence[str]) -> Quantity:
    """A measure as it is, or a share of what a name means: of that measure, or of the column's total."""
    if not isinstance(measure, Derived) or measure.kind != "share" or not isinstance(measure.of, Field):
        return measure
    said = measure.of.name
    if said in measures:
        return replace(measure, of=measures[said])
    return replace(measure, of=Summary("total", Field(column_name(said, offered, "a share"))))


def _ordered_by(plan: Plan, offered: Sequence[str], measures: dict[str, Quantity]) -> Order | None:
    """The order with the measure that it is by, which is added to those that are made."""
    order = plan.listing.order
    if order is None or not order.by:
        return order
    if plan.series is not None and order.by.casefold() not in _by_fold((*measures, *offered)):
        return order  # by one of the series, of which only the rows tell
    name, quantity = _value(order.by, plan, offered, "the order")
    measures.setdefault(name, quantity)
    return replace(order, by=name)


def _value(said: str, plan: Plan, offered: Sequence[str], what: str = "the value") -> tuple[str, Quantity]:
    """What a value is called, and its measure: that of this name, else the total of the column, else words.

    A column's exact name comes before what it could mean as a quantity: 2024, average, a-b.
    """
    if said in plan.measures:
        return said, plan.measures[said]
    if said in offered:
        return said, Summary("total", Field(said))
    try:
        quantity = parse_quantity(said)
    except YuzenError:
        quantity = Field(said)
    if not isinstance(quantity, Field):
        return said, quantity
    name = column_name(quantity.name, [*offered, *plan.measures], what)
    return name, plan.measures.get(name, Summary("total", Field(name)))


def _pooled(asked: Sequence[OverallAsked], measures: Mapping[str, Quantity]) -> tuple[OverallAsked, ...]:
    """What has to be pooled over rows: of measures, unless a text asks for one that adds up over marks."""
    by_fold = {name.casefold(): measure for name, measure in measures.items()}
    known = [(one, by_fold.get(one.measure.casefold())) for one in asked]
    return tuple(
        one
        for one, measure in known
        if measure is not None and not (one.whole and one.reach == "all" and adds_up(measure))
    )


def _kept(
    condition: Condition | None, value: str, measure: Quantity, offered: Sequence[str]
) -> Condition | None:
    """The condition on rows, of the chart's value where it names nothing: the column that the value is of."""
    if condition is None or all(test.subject is not None for test in all_tests(condition)):
        return condition
    if isinstance(measure, Summary) and isinstance(measure.of, Field):
        return said_of(condition, measure.of)
    if value in offered:
        return said_of(condition, Field(value))
    loose = next(test for test in all_tests(condition) if test.subject is None)
    message = (
        f"'{loose}' does not say of which column, and the chart's value {value} is made of several rows. "
        f"Write the column before it, such as {Field(offered[-1])} {loose}."
    )
    raise YuzenError(Fault("keep-subject", message, "keep", str(condition), loose.span, ("data", "keep")))


def _total(said: str, offered: Sequence[str]) -> str:
    name = next((name for name in (*offered, ALL) if name.casefold() == said.casefold()), None)
    if name is None:
        hint = suggestion(said, [*offered, ALL])
        raise wrong("brief-totals", f"There is no column '{said}' to make totals of.{hint}")
    return name


def _refuse_doubles(plan: Plan, offered: Sequence[str]) -> None:
    """One name for a parameter and a measure, a column or another parameter is an error, whatever its case.

    And what tells marks apart cannot be a number of theirs besides.
    """
    for name in dict.fromkeys(filter(None, (plan.category, plan.series, plan.panel))):
        if name in plan.measures:
            message = (
                f"{name} tells marks apart and is a measure too. Give the measure a name of its own, or draw "
                f'another value, such as "count of rows" or "average of {Field(name)}".'
            )
            raise wrong("brief-name", message, key=("chart",))
    measures, columns = _by_fold(plan.measures), _by_fold(offered)
    parameters: dict[str, str] = {}
    for name in plan.parameters:
        fold = name.casefold()
        for others, what in ((measures, "measure"), (columns, "column"), (parameters, "parameter")):
            if fold in others:
                message = f"{name} is a parameter, and {others[fold]} is a {what}"
                remedy = "give the parameter another name."
                raise wrong("brief-name", f"{message}; {remedy}", key=("parameters", name))
        parameters[fold] = name


def _by_fold(names: Iterable[str]) -> dict[str, str]:
    """Names by what they are without regard to case."""
    return {name.casefold(): name for name in names}
