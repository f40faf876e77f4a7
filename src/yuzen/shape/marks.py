"""The one way from rows to marks: keep, group, measure, order, limit, totals."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.errors import YuzenError, wrong
from yuzen.rules import truth, validity
from yuzen.rules.arrays import Text
from yuzen.rules.marks import ITEM_MARK, REST_MARK, TOTAL_MARK, Marks, shown
from yuzen.rules.names import in_quantities
from yuzen.shape.columns import Columns
from yuzen.shape.groups import Groups, floored, joined
from yuzen.shape.measures import Grouped, check_measures, measure_faults, row_facts
from yuzen.shape.plan import ALL, column_name, settled

if TYPE_CHECKING:
    from collections.abc import Mapping

    from yuzen.rules.arrays import Codes, Column, Floats
    from yuzen.rules.facts import Facts
    from yuzen.rules.peers import Peers
    from yuzen.rules.quantities import Quantity
    from yuzen.shape.plan import Order, Plan
    from yuzen.shape.rows import Rows, Source

TOTAL = "Total"


def shape(source: Source, plan: Plan) -> Marks:
    """The marks of a plan. Raises YuzenError for what the source does not have or cannot give."""
    return marks_of(*source.gathered(settled(plan, source.offered)))


def marks_of(rows: Rows, plan: Plan) -> Marks:
    """The marks of rows by a plan that is settled."""
    category, measures = plan.category, plan.measures
    series = () if plan.series is None else (plan.series,)
    panel = () if plan.panel is None else (plan.panel,)
    rows = kept_rows(rows, plan)
    columns = Columns(rows.frame, in_quantities(measures.values()).numbers)
    facts = row_facts(columns, plan.parameters, category, rows.offered)
    check_measures(measures, facts)
    column = columns[category]
    if plan.grain is not None:
        column = floored(column, plan.grain, category)
    categories, panels = Groups.of(column), np.zeros(0, dtype=np.intp)
    for name in panel:
        categories, _ = categories.crossed(Groups.of(columns[name]))
        panels = _ranked(columns[name])[categories.first]
    gathered = Grouped(facts, categories.codes, len(categories))
    sizes = gathered.values(measures[plan.value])
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
    whole = not series and len(items) == len(drawn)  # then the items are the categories, in another order
    asked = [Grouped(facts, layer.codes, len(layer)) for layer in (layers[1:] if whole else layers)]
    behind = [gathered.counts(rows.weights)[drawn]] if whole else []
    for name, measure in measures.items():
        parts = [gathered.values(measure)[drawn]] if whole else []
        made[name] = np.concatenate([*parts, *(group.values(measure) for group in asked)])
    several: dict[str, str] = {}
    for name in plan.attributes(list(columns)):
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
        plan.value,
        series,
        panel=panel[0] if panel else "",
        among=panel if plan.panel_peers == "panel" else (),
        order=_sequence(categories.names[of[:told]], drawn[of[:told]], len(standing)),
        standing=standing if standing.any() else None,
        several=several,
        offered=rows.offered,
        guesses=rows.guesses,
        grain=plan.grain,
        formulas=plan.formulas,
        behind=np.concatenate([*behind, *(group.counts(rows.weights) for group in asked)]),
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
        return Grouped(self.rows, group[self.codes], peers.count).values(self.measures[measure])


def kept_rows(rows: Rows, plan: Plan) -> Rows:
    """The rows that the plan keeps."""
    for name, value in plan.only.items():
        held = [told == value for told in shown(Columns(rows.frame)[name])]
        rows = rows.taken(np.array(held, dtype=bool))
    if plan.keep is None:
        return rows
    columns = Columns(rows.frame, plan.kept_names.numbers)
    facts = row_facts(columns, plan.parameters, plan.category, rows.offered)
    check_keep(plan, facts)
    return rows.taken(np.asarray(plan.keep.holds(facts) == truth.TRUE))


def check_keep(plan: Plan, facts: Facts) -> None:
    """Raise YuzenError where the condition on the rows cannot be judged, with what else is wrong besides."""
    faults = [] if plan.keep is None else validity.faults(plan.keep, facts, plan.keep_source)
    if faults:
        others = measure_faults(plan.measures, facts)
        raise YuzenError(*(fault.at("keep", "data", "keep") for fault in faults), *others)


def split_rows(rows: Rows, column: str) -> list[tuple[str, Rows]]:
    """The rows of each value of a column, by what the value is called, as they are first named.

    Raises YuzenError (data-column).
    """
    values = Columns(rows.frame)[column_name(column, rows.offered, "each picture")]
    groups = Groups.of(values)
    order = np.argsort(groups.codes, kind="stable")
    parts = np.split(order, np.cumsum(groups.counts())[:-1]) if len(groups) else []
    return [(name, rows.taken(part)) for name, part in zip(shown(groups.names), parts, strict=True)]


def _totals(plan: Plan, items: Groups, columns: Columns) -> list[Groups]:
    """The groups of rows that totals are made of, in the order of the plan."""
    if plan.totals and not isinstance(items.names, Text):
        message = f"Totals need a category of words, and {plan.category} holds none."
        raise wrong("brief-totals", message)
    layers = []
    for said in plan.totals:
        if said == ALL:
            layers.append(items.all(TOTAL))
            continue
        column = columns[said]
        if not isinstance(column, Text) or items.unlike(column).any():
            message = f"Totals of {said} need one word of {said} for each {plan.category}."
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
