"""The one way from rows to marks: keep, group, measure, order, limit, totals."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Literal, TypeAlias

import numpy as np

from yuzen.errors import YuzenError, suggestion, wrong
from yuzen.rules import binding, truth
from yuzen.rules.arrays import Text, codes_of, kind_of
from yuzen.rules.grammar import parse_quantity
from yuzen.rules.marks import Marks, shown
from yuzen.rules.names import Names, in_conditions, in_quantities
from yuzen.rules.quantities import Field, Summary
from yuzen.shape.columns import Columns
from yuzen.shape.measures import check_measure, measure_groups, row_facts

if TYPE_CHECKING:
    from collections.abc import Mapping

    import pandas as pd

    from yuzen.rules.arrays import Bools, Codes, Column, Floats
    from yuzen.rules.conditions import Condition
    from yuzen.rules.facts import Facts
    from yuzen.rules.peers import Peers
    from yuzen.rules.quantities import Quantity

Order: TypeAlias = Literal["largest first", "smallest first", "by name", "as given", "in time"]


@dataclass(frozen=True)
class Plan:
    """How rows become marks.

    category:    the column that names the marks.
    value:       a measure's name, a column (its total is meant), or a quantity in words.
    measures:    further measures by name.
    names:       what rules, labels and titles speak of besides; only that is made.
    keep:        a condition on the rows; `keep_source` is its text as it was written.
    order:       how the marks are drawn; None: in time where the category is dates, else largest first.
    """

    category: str
    value: str
    measures: Mapping[str, Quantity] = field(default_factory=dict)
    names: Names = field(default_factory=Names)
    parameters: Mapping[str, float] = field(default_factory=dict)
    keep: Condition | None = None
    keep_source: str = ""
    order: Order | None = None


def shape(rows: pd.DataFrame, plan: Plan) -> Marks:
    """The marks of a plan. Raises YuzenError for what the rows do not have or cannot give."""
    category = _column_name(plan.category, rows, "the category")
    value, measures = _measures(plan, rows)
    numbers = in_quantities(measures.values()).numbers | _kept_names(plan).numbers
    columns = Columns(rows, numbers)
    _refuse_doubles(plan, columns)
    facts = row_facts(columns, plan.parameters, category)
    kept = _kept(facts, plan)
    if kept is not None:
        columns = Columns(rows[kept], numbers)
        facts = row_facts(columns, plan.parameters, category)
    groups = Groups.of(columns[category])
    made: dict[str, Column] = {category: groups.names}
    for name, measure in measures.items():
        check_measure(name, measure, facts)
        made[name] = measure_groups(measure, facts, groups.codes, len(groups))
    several: dict[str, str] = {}
    for name in sorted(_attributes(plan, columns, made)):
        if groups.alike(columns[name]):
            made[name] = columns[name][groups.first]
        else:
            made_of = groups.with_several(columns[name])
            several[name] = shown(groups.names[np.array([made_of])])[0]
    marks = Marks(
        made,
        category,
        value,
        several=several,
        offered=tuple(rows.columns),
        behind=np.bincount(groups.codes, minlength=len(groups)).astype(np.intp),
    )
    drawn = _drawn(marks, plan.order)
    return _arranged(marks, drawn, Pooling(measures, facts, groups.codes, drawn))


@dataclass(frozen=True, eq=False)
class Groups:
    """Rows grouped by category: each row's group, each group's first row, each group's name."""

    codes: Codes
    first: Codes
    names: Column

    @classmethod
    def of(cls, column: Column) -> Groups:
        """Groups in the order in which the rows first name them."""
        codes, count = codes_of(column)
        first = np.full(count, len(codes), dtype=np.intp)
        np.minimum.at(first, codes, np.arange(len(codes)))
        there = np.flatnonzero(first < len(codes))
        there = there[np.argsort(first[there])]
        place = np.zeros(count, dtype=np.intp)
        place[there] = np.arange(len(there))
        return cls(place[codes], first[there], column[first[there]])

    def __len__(self) -> int:
        return len(self.first)

    def alike(self, column: Column) -> bool:
        """Whether every row of each group has the same value."""
        return not self._unlike(column).any()

    def with_several(self, column: Column) -> int:
        """The first group whose rows have several values."""
        return int(self.codes[np.argmax(self._unlike(column))])

    def _unlike(self, column: Column) -> Bools:
        codes, _ = codes_of(column)
        unlike: Bools = codes != codes[self.first][self.codes]
        return unlike


@dataclass(frozen=True, eq=False)
class Pooling:
    """Recomputes a measure by its own formula from the rows behind several marks (see marks.Pool)."""

    measures: Mapping[str, Quantity]
    rows: Facts
    codes: Codes
    drawn: Codes

    def __call__(self, measure: str, peers: Peers, among: Codes) -> Floats:
        """One number for each group of peers, from all rows behind the marks `among`."""
        if measure not in self.measures:
            message = f"overall is said of a measure made from rows, and {measure} is none."
            raise wrong("rule-overall", message)
        group = np.full(len(self.drawn), peers.count, dtype=np.intp)
        group[self.drawn[among]] = 0 if peers.codes is None else peers.codes
        pooled = measure_groups(self.measures[measure], self.rows, group[self.codes], peers.count + 1)
        return pooled[:-1]


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
        value, measures[value] = _value(plan, rows)
    folded = {str(name).casefold(): str(name) for name in rows.columns}
    known = {name.casefold() for name in (*measures, *plan.parameters)}
    for name in sorted(plan.names.numbers):
        column = folded.get(name.casefold())
        if column is not None and name.casefold() not in known and name not in plan.names.peers:
            measures[column] = Summary("total", Field(column))
    return value, measures


def _value(plan: Plan, rows: pd.DataFrame) -> tuple[str, Quantity]:
    try:
        quantity = parse_quantity(plan.value)
    except YuzenError:
        quantity = Field(plan.value)
    if not isinstance(quantity, Field):
        return plan.value, quantity
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


def _kept(facts: Facts, plan: Plan) -> Bools | None:
    if plan.keep is None:
        return None
    faults = binding.faults(plan.keep, facts, plan.keep_source)
    if faults:
        raise YuzenError(*(fault.at("keep") for fault in faults))
    kept: Bools = plan.keep.holds(facts) == truth.TRUE
    return kept


def _attributes(plan: Plan, columns: Columns, made: Mapping[str, Column]) -> set[str]:
    """The columns that rules ask for as they are: words, dates, and the peers of `within`."""
    wanted = {name.casefold() for name in plan.names.words | plan.names.peers}
    found = {name for name in columns if name.casefold() in wanted and name not in made}
    return {name for name in found if name not in plan.parameters}


def _drawn(marks: Marks, order: Order | None) -> Codes:
    """The marks listed in the order in which they are drawn; equal ones as they were first named."""
    column = marks.columns[marks.category]
    if order is None:
        order = "in time" if kind_of(column) == "date" else "largest first"
    if order in {"largest first", "smallest first"}:
        values = np.asarray(marks.columns[marks.value], dtype=float)
        return np.argsort(-values if order == "largest first" else values, kind="stable")
    if order == "as given":
        return np.arange(len(marks))
    if isinstance(column, Text):
        if order == "in time":
            message = f"{marks.category} holds words, which have no order in time."
            raise wrong("brief-order", f'{message} Say order = "as given" or "by name".')
        folded = np.array([name.casefold() for name in marks.names()])
        return np.argsort(folded, kind="stable")
    return np.argsort(column, kind="stable")


def _arranged(marks: Marks, drawn: Codes, pool: Pooling) -> Marks:
    """The marks in drawing order, with their sequence: time or number order, or first naming."""
    category = marks.columns[marks.category]
    sequence = drawn if isinstance(category, Text) else category[drawn]
    order = np.argsort(sequence, kind="stable")
    same = bool(np.array_equal(order, np.arange(len(order))))
    return Marks(
        {name: column[drawn] for name, column in marks.columns.items()},
        marks.category,
        marks.value,
        order=None if same else order,
        several=marks.several,
        offered=marks.offered,
        behind=None if marks.behind is None else marks.behind[drawn],
        pool=pool,
    )
