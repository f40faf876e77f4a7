"""The one way from rows to marks: keep, group, measure, order, limit, totals."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Literal, TypeAlias

import numpy as np

from yuzen.errors import YuzenError, suggestion, wrong
from yuzen.rules import binding, truth
from yuzen.rules.arrays import Text
from yuzen.rules.grammar import parse_quantity
from yuzen.rules.marks import ITEM_MARK, REST_MARK, TOTAL_MARK, Marks, shown
from yuzen.rules.names import Names, in_conditions, in_quantities
from yuzen.rules.quantities import Field, Summary
from yuzen.shape.columns import Columns
from yuzen.shape.grouping import Groups, floored, joined
from yuzen.shape.measures import check_measure, measure_groups, row_facts

if TYPE_CHECKING:
    from collections.abc import Mapping

    import pandas as pd

    from yuzen.rules.arrays import Bools, Codes, Column, Floats
    from yuzen.rules.conditions import Condition
    from yuzen.rules.facts import Facts
    from yuzen.rules.peers import Peers
    from yuzen.rules.quantities import Quantity
    from yuzen.shape.grouping import Grain

Order: TypeAlias = Literal["largest first", "smallest first", "by name", "as given", "in time"]


TOTAL = "Total"
ALL = "all"


@dataclass(frozen=True)
class Plan:
    """How rows become marks.

    category:    the column that names the marks.
    series:      a second column; each of its values makes marks of its own in every category.
    sums:        whether each category has a total of its series besides.
    panel:       a column whose values have a plot each, with marks, order and limit of its own.
    panel_peers: whether tests compare the marks of one panel or of the whole chart.
    layers:      further values, each a measure's name, a column, or a quantity in words.
    value:       a measure's name, a column (its total is meant), or a quantity in words.
    measures:    further measures by name.
    names:       what rules, labels and titles speak of besides; only that is made.
    keep:        a condition on the rows; `keep_source` is its text as it was written.
    grain:       for a category of dates: what becomes one mark.
    order:       how the marks are drawn; None: largest first where the category is words, else in time
                 or by number.
    limit:       how many marks are drawn; the others are gathered into one called `rest`, or left out.
    totals:      columns whose groups get a total after them, and "all" for one of everything.
    """

    category: str
    value: str
    measures: Mapping[str, Quantity] = field(default_factory=dict)
    names: Names = field(default_factory=Names)
    parameters: Mapping[str, float] = field(default_factory=dict)
    keep: Condition | None = None
    keep_source: str = ""
    series: str | None = None
    sums: bool = False
    panel: str | None = None
    panel_peers: Literal["panel", "chart"] = "panel"
    layers: tuple[str, ...] = ()
    grain: Grain | None = None
    order: Order | None = None
    limit: int | None = None
    rest: str | None = None
    totals: tuple[str, ...] = ()


def shape(rows: pd.DataFrame, plan: Plan) -> Marks:
    """The marks of a plan. Raises YuzenError for what the rows do not have or cannot give."""
    category = _column_name(plan.category, rows, "the category")
    series = () if plan.series is None else (_column_name(plan.series, rows, "the series"),)
    value, measures = _measures(plan, rows)
    facts, columns = _kept(rows, plan, category, measures)
    for name, measure in measures.items():
        check_measure(name, measure, facts)
    column = columns[category]
    if plan.grain is not None:
        column = floored(column, plan.grain, category)
    panel = () if plan.panel is None else (_column_name(plan.panel, rows, "the panels"),)
    categories, panels = Groups.of(column), np.zeros(0, dtype=np.intp)
    for name in panel:
        categories, _ = categories.crossed(Groups.of(columns[name]))
        panels = _ranked(columns[name])[categories.first]
    sizes = measure_groups(measures[value], facts, categories.codes, len(categories))
    drawn = _limited(_drawn(categories, sizes, plan.order, category), panels, plan.limit)
    categories = categories.arranged(drawn, plan.rest, panels)
    items, of = categories, np.arange(len(categories))
    for name in series:
        items, of = categories.crossed(Groups.of(columns[name]))
    told = int(np.count_nonzero(of < len(drawn)))
    layers = [items, *_totals(plan, items, columns), *([categories] if series and plan.sums else [])]
    made: dict[str, Column] = {category: joined([layer.names for layer in layers])}
    made |= {
        name: _named(items.values(columns[name]), len(layers[-1]) * (len(layers) - 1)) for name in series
    }
    made |= {name: joined([layer.values(columns[name]) for layer in layers]) for name in panel}
    for name, measure in measures.items():
        parts = [measure_groups(measure, facts, layer.codes, len(layer)) for layer in layers]
        made[name] = np.concatenate(parts)
    several: dict[str, str] = {}
    for name in sorted(_attributes(plan, columns, made)):
        mixed = items.unlike(columns[name])[:told]
        if mixed.any():
            several[name] = shown(items.names)[int(np.argmax(mixed))]
        else:
            made[name] = joined([layer.values(columns[name]) for layer in layers])
    standing = np.concatenate([np.full(len(layer), TOTAL_MARK) for layer in layers]).astype(np.int8)
    standing[: len(items)] = REST_MARK
    standing[:told] = ITEM_MARK
    marks = Marks(
        made,
        category,
        value,
        series,
        panel=panel[0] if panel else "",
        among=panel if plan.panel_peers == "panel" else (),
        order=_sequence(categories.names[of[:told]], drawn[of[:told]], len(standing)),
        standing=standing if standing.any() else None,
        several=several,
        offered=tuple(rows.columns),
        grain=plan.grain,
        formulas={name: str(measure) for name, measure in measures.items()},
        behind=np.concatenate([layer.counts() for layer in layers]),
        pool=Pooling(measures, facts, items.codes),
    )
    if plan.totals:
        return marks.taken(_interleaved(layers, sizes[drawn], plan))
    if len(layers) == 1 and not panel:
        return marks
    slots = np.append(of, np.arange(len(standing) - len(items)))  # a category's total follows its series
    first = [panels[drawn], _rest_panels(panels, drawn)] if panel else [np.zeros(len(categories), np.intp)]
    return marks.taken(np.lexsort((slots, np.concatenate(first)[slots])))


@dataclass(frozen=True, eq=False)
class Pooling:
    """Recomputes a measure by its own formula from the rows behind several marks (see marks.Pool)."""

    measures: Mapping[str, Quantity]
    rows: Facts
    codes: Codes

    def __call__(self, measure: str, peers: Peers, among: Codes) -> Floats:
        """One number for each group of peers, from all rows behind the items `among`."""
        if measure not in self.measures:
            message = f"overall is said of a measure made from rows, and {measure} is none."
            raise wrong("rule-overall", message)
        size = int(max(self.codes.max(initial=-1), among.max(initial=-1))) + 1
        group = np.full(size + 1, -1, dtype=np.intp)
        group[among] = 0 if peers.codes is None else peers.codes
        return measure_groups(self.measures[measure], self.rows, group[self.codes], peers.count)


def _column_name(said: str, rows: pd.DataFrame, what: str) -> str:
    names = list(rows.columns)
    near = [name for name in names if name.casefold() == said.casefold()]
    if said in names or len(near) == 1:
        return said if said in names else str(near[0])
    hint = suggestion(said, names) or f" There are {', '.join(names[:12])}."
    raise wrong("data-column", f"There is no column '{said}' for {what}.{hint}")


def _measures(plan: Plan, rows: pd.DataFrame) -> tuple[str, dict[str, Quantity]]:
    """The value's name, and every measure to make: told, or the total of a column that is named."""
    measures = dict(plan.measures)
    value = plan.value
    if value not in measures:
        value, measures[value] = _value(value, plan, rows)
    for layer in plan.layers:
        name, quantity = _value(layer, plan, rows)
        measures[layer] = measures.get(name, quantity)
    folded = {str(name).casefold(): str(name) for name in rows.columns}
    known = {name.casefold() for name in (*measures, *plan.parameters)}
    for name in sorted(plan.names.numbers):
        column = folded.get(name.casefold())
        if column is not None and name.casefold() not in known and name not in plan.names.peers:
            measures[column] = Summary("total", Field(column))
    return value, measures


def _value(said: str, plan: Plan, rows: pd.DataFrame) -> tuple[str, Quantity]:
    try:
        quantity = parse_quantity(said)
    except YuzenError:
        quantity = Field(said)
    if not isinstance(quantity, Field):
        return said, quantity
    names = [*rows.columns, *plan.measures]
    near = [name for name in names if name.casefold() == quantity.name.casefold()]
    if len(near) != 1 and quantity.name not in names:
        hint = suggestion(quantity.name, names) or f" There are {', '.join(names[:12])}."
        raise wrong("data-column", f"There is no column '{quantity.name}' for the value.{hint}")
    name = quantity.name if quantity.name in names else str(near[0])
    return name, plan.measures.get(name, Summary("total", Field(name)))


def _kept_names(plan: Plan) -> Names:
    return Names() if plan.keep is None else in_conditions([plan.keep])


def _refuse_doubles(plan: Plan, columns: Columns) -> None:
    """One name for a parameter and a measure or column is an error."""
    for name in plan.parameters:
        if name in plan.measures or name in columns:
            what = "measure" if name in plan.measures else "column"
            message = f"{name} is a parameter and a {what}; give the parameter another name."
            raise wrong("brief-name", message)


def kept_rows(rows: pd.DataFrame, plan: Plan) -> pd.DataFrame:
    """The rows that the plan keeps."""
    if plan.keep is None:
        return rows
    category = _column_name(plan.category, rows, "the category")
    columns = Columns(rows, _kept_names(plan).numbers)
    return rows[_held(row_facts(columns, plan.parameters, category), plan.keep, plan)]


def split_rows(rows: pd.DataFrame, column: str) -> list[tuple[str, pd.DataFrame]]:
    """The rows of each value of a column, by what the value is called, as they are first named.

    Raises YuzenError (data-column).
    """
    values = Columns(rows)[_column_name(column, rows, "each picture")]
    groups = Groups.of(values)
    order = np.argsort(groups.codes, kind="stable")
    parts = np.split(order, np.cumsum(groups.counts())[:-1]) if len(groups) else []
    return [(name, rows.iloc[part]) for name, part in zip(shown(groups.names), parts, strict=True)]


def only_rows(rows: pd.DataFrame, only: Mapping[str, str]) -> pd.DataFrame:
    """The rows whose columns have these values, as they are called."""
    for said, value in only.items():
        name = _column_name(said, rows, "the rows that count")
        held = np.array([told == value for told in shown(Columns(rows)[name])], dtype=bool)
        rows = rows[held]
    return rows


def _kept(
    rows: pd.DataFrame, plan: Plan, category: str, measures: Mapping[str, Quantity]
) -> tuple[Facts, Columns]:
    """The rows that are kept, as facts and as columns."""
    numbers = in_quantities(measures.values()).numbers | _kept_names(plan).numbers
    columns = Columns(rows, numbers)
    _refuse_doubles(plan, columns)
    facts = row_facts(columns, plan.parameters, category)
    if plan.keep is None:
        return facts, columns
    columns = Columns(rows[_held(facts, plan.keep, plan)], numbers)
    return row_facts(columns, plan.parameters, category), columns


def _held(facts: Facts, keep: Condition, plan: Plan) -> Bools:
    """For which rows the condition holds."""
    faults = binding.faults(keep, facts, plan.keep_source)
    if faults:
        raise YuzenError(*(fault.at("keep") for fault in faults))
    return np.asarray(keep.holds(facts) == truth.TRUE)


def _totals(plan: Plan, items: Groups, columns: Columns) -> list[Groups]:
    """The groups of rows that totals are made of, in the order of the plan."""
    if plan.totals and (plan.series is not None or plan.panel is not None):
        message = "A chart with series or panels has no totals besides; leave out one of the two."
        raise wrong("brief-totals", message)
    if plan.totals and not isinstance(items.names, Text):
        message = f"Totals need a category of words, and {plan.category} holds none."
        raise wrong("brief-totals", message)
    layers = []
    for said in plan.totals:
        if said == ALL:
            layers.append(items.all(TOTAL))
            continue
        name = next((name for name in columns if name.casefold() == said.casefold()), None)
        if name is None:
            hint = suggestion(said, [*columns, ALL])
            raise wrong("brief-totals", f"There is no column '{said}' to make totals of.{hint}")
        column = columns[name]
        if not isinstance(column, Text) or items.unlike(column).any():
            message = f"Totals of {name} need one word of {name} for each {plan.category}."
            raise wrong("brief-totals", message)
        layers.append(items.total_by(column))
    return layers


def _interleaved(layers: list[Groups], sizes: Floats, plan: Plan) -> Codes:
    """All marks listed as they are drawn: the items of a group together, then the group's total."""
    items = layers[0]
    rank, place = np.zeros(len(items)), np.arange(len(items), dtype=float)
    keys = [np.stack([rank, np.zeros(len(items)), place])]
    for said, layer in zip(plan.totals, layers[1:], strict=True):
        if said == ALL:
            keys.append(np.array([[np.inf], [1.0], [0.0]]))
            continue
        group = layer.codes[items.first].astype(float)
        group[len(sizes) :] = len(layer)  # the rest stands after all groups
        order = np.argsort([np.min(place[group == g], initial=np.inf) for g in range(len(layer))])
        rank_of = np.append(np.argsort(order), len(layer)).astype(float)
        keys[0][0] = rank_of[group.astype(np.intp)]
        keys.append(np.stack([rank_of[:-1], np.ones(len(layer)), np.zeros(len(layer))]))
    rows = np.concatenate(keys, axis=1)
    return np.lexsort((rows[2], rows[1], rows[0]))


def _attributes(plan: Plan, columns: Columns, made: Mapping[str, Column]) -> set[str]:
    """The columns that rules ask for as they are: words, dates, and the peers of `within`."""
    wanted = {name.casefold() for name in plan.names.words | plan.names.peers}
    found = {name for name in columns if name.casefold() in wanted and name not in made}
    return {name for name in found if name not in plan.parameters}


def _named(series: Column, totals: int) -> Column:
    """The series of the items, then of so many totals, which are of none."""
    if not totals:
        return series
    if isinstance(series, Text):
        return joined([series, Text.of([TOTAL] * totals)])
    return np.append(
        series, np.full(totals, np.array("NaT" if series.dtype.kind == "M" else np.nan, series.dtype))
    )


def _ranked(column: Column) -> Codes:
    """A number for each row: words as they are first named, dates and numbers in their order."""
    groups = Groups.of(column)
    if isinstance(groups.names, Text):
        return groups.codes
    return np.argsort(np.argsort(groups.names))[groups.codes]


def _limited(drawn: Codes, panels: Codes, limit: int | None) -> Codes:
    """The groups that are drawn, panel after panel, at most so many in each."""
    if not len(panels):
        return drawn[:limit]
    drawn = drawn[np.argsort(panels[drawn], kind="stable")]
    own = panels[drawn]
    place = np.arange(len(own)) - np.searchsorted(own, own)
    return drawn if limit is None else drawn[place < limit]


def _rest_panels(panels: Codes, drawn: Codes) -> Codes:
    """The panels that have a rest, in their order."""
    return np.unique(np.delete(panels, drawn))


def _drawn(items: Groups, sizes: Floats, order: Order | None, category: str) -> Codes:
    """The groups listed in the order in which they are drawn; equal ones as they were first named."""
    column = items.names
    if order is None:
        order = "largest first" if isinstance(column, Text) else "in time"
    if order in {"largest first", "smallest first"}:
        return np.argsort(-sizes if order == "largest first" else sizes, kind="stable")
    if order == "as given":
        return np.arange(len(items))
    if isinstance(column, Text):
        if order == "in time":
            message = f"{category} holds words, which have no order in time."
            raise wrong("brief-order", f'{message} Say order = "as given" or "by name".')
        return np.argsort(np.array([name.casefold() for name in shown(column)]), kind="stable")
    return np.argsort(column, kind="stable")


def _sequence(names: Column, named: Codes, count: int) -> Codes | None:
    """The marks listed in time or number order, else as first named; what is no item comes last."""
    order = np.argsort(named if isinstance(names, Text) else names, kind="stable")
    order = np.append(order, np.arange(len(named), count))
    return None if np.array_equal(order, np.arange(count)) else order
