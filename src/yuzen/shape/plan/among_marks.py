"""Measures that compare marks: change, running share, rank, moving average of others."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.errors import YuzenError, make_error
from yuzen.rules import validity
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.marks import Marks, Past
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import (
    Derived,
    Distinct,
    Quantity,
    RowCount,
    Summary,
    Where,
    with_parts,
)
from yuzen.rules.quantities.structure import inside, of_marks
from yuzen.shape.plan.plan import Plan
from yuzen.sources.wanted import by_fold, column_name


def parted(
    measures: Mapping[str, Quantity], plan: Plan, column_names: Sequence[str]
) -> tuple[dict[str, Quantity], dict[str, Quantity]]:
    """The measures of rows, with those that others are made of, and the measures of marks.

    Measures of marks stand after those that they speak of. A name in them is a measure, or the
    total of a column; a summary that says of which column is one of the rows behind a mark. Raises
    YuzenError (brief-measure) for measures that speak of themselves.
    """
    waiting = {name: measure for name, measure in measures.items() if of_marks(measure)}
    # A measure that uses one of marks is one of marks, however long the chain is.
    while more := {n: m for n, m in measures.items() if n not in waiting and _spoken(m, waiting)}:
        waiting |= more
    rows = {name: measure for name, measure in measures.items() if name not in waiting}
    leaves = _Leaves(rows, by_fold((*measures, *plan.parameters)), column_names)
    rewritten = {name: leaves.among(measure) for name, measure in waiting.items()}
    return rows, _in_order(rewritten)


def spelled_out(measures: Mapping[str, Quantity], defined: Collection[str]) -> dict[str, Quantity]:
    """Measures of rows with the formulas of other measures in the place of their names.

    defined: the measures that somebody wrote; totals that only rules or texts refer to are none.

    `gain = "sold / sold_before - 1"` is a ratio of totals wherever it is worked out. Measures that
    compare marks refer to others as they are.  Raises YuzenError (brief-measure) for circles.
    """
    by_name = {name.casefold(): name for name in measures if name in defined}

    def spelled(quantity: Quantity, around: tuple[str, ...]) -> Quantity:
        # A name inside a summary is a column of the rows.
        if isinstance(quantity, Summary | Distinct | Where):
            return quantity
        if isinstance(quantity, Field):
            name = by_name.get(quantity.name.casefold())
            if name is None or of_marks(measures[name]):
                return quantity
            if name in around:
                message = f"The measure {name} refers to itself."
                raise make_error("brief-measure", message, key=("measures", name))
            return spelled(measures[name], (*around, name))
        return with_parts(quantity, lambda part: spelled(part, around))

    return {
        name: measure if of_marks(measure) else spelled(measure, (name,))
        for name, measure in measures.items()
    }


class _Leaves:
    """Replaces parts of measures that are about rows by measures of rows, which it adds."""

    def __init__(
        self, rows: dict[str, Quantity], known: Mapping[str, str], column_names: Sequence[str]
    ) -> None:
        self._rows, self._known, self._offered = rows, known, column_names

    def among(self, quantity: Quantity) -> Quantity:
        """The quantity as it is worked out among the marks."""
        if isinstance(quantity, Field):
            return self._named(quantity)
        of_column = isinstance(quantity, Summary) and quantity.of is not None
        # A summary of a column is worked out from the rows; one of a measure compares marks.
        if of_column and quantity.kind != "overall" and not self._of_measures(quantity.of):  # type: ignore[union-attr]
            return self._leaf(str(quantity), quantity)
        if isinstance(quantity, Distinct | RowCount | Where):
            return self._leaf(str(quantity), quantity)
        return with_parts(quantity, self.among)

    def _named(self, field: Field) -> Field:
        """A measure or a parameter as it is; of a column its total."""
        known = self._known.get(field.name.casefold())
        if known is not None:
            return Field(known, field.span)
        column = column_name(field.name, self._offered, "a measure")
        return self._leaf(column, Summary("total", Field(column)))

    def _leaf(self, name: str, measure: Quantity) -> Field:
        self._rows.setdefault(name, measure)
        return Field(name)

    def _of_measures(self, quantity: Quantity | None) -> bool:
        parts = () if quantity is None else inside(quantity)
        return any(
            isinstance(part, Field) and part.name.casefold() in self._known for part in parts
        )


def _in_order(measures: dict[str, Quantity]) -> dict[str, Quantity]:
    """The measures, each after those that it uses. Raises YuzenError (brief-measure)."""
    done: dict[str, Quantity] = {}
    while len(done) < len(measures):
        ready = [
            name
            for name, measure in measures.items()
            if name not in done and _spoken(measure, measures) <= done.keys()
        ]
        if not ready:
            loose = next(name for name in measures if name not in done)
            message = f"The measure {loose} refers to itself. Give what it is made of another name."
            raise make_error("brief-measure", message, key=("measures", loose))
        done |= {name: measures[name] for name in ready}
    return done


def _spoken(measure: Quantity, measures: Mapping[str, Quantity]) -> set[str]:
    names = {part.name.casefold() for part in inside(measure) if isinstance(part, Field)}
    return {name for name in measures if name.casefold() in names}


def with_measures(marks: Marks, plan: Plan) -> Marks:
    """The marks with measures that compare them. Raises YuzenError for a wrong one."""
    for name, measure in plan.formulas.peer_columns.items():
        numbers = np.full(len(marks), np.nan)
        peers = _peers(marks, measure)
        numbers[peers] = _values(marks.taken(np.flatnonzero(peers)), name, measure, plan)
        sums = marks.sums
        if marks.series and sums.any():  # which layers draw: each category's total among the totals
            numbers[sums] = _values(marks.taken(np.flatnonzero(sums)), name, measure, plan)
        marks = replace(marks, columns={**marks.columns, name: numbers})
        if marks.past is not None:
            marks = replace(marks, past=_with_measure(marks.past, name, measure, plan))
    return marks


def _with_measure(past: Past, name: str, measure: Quantity, plan: Plan) -> Past:
    """The past with a measure that compares marks: among the shown ones, for all of them."""
    facts = EvaluationData(replace(past.marks, role=None), plan.parameters, hidden=past.hidden)
    with np.errstate(all="ignore"):
        numbers = np.array(facts.view(Field(past.marks.value)).all_values(measure))
    columns = {**past.marks.columns, name: numbers}
    return replace(past, marks=replace(past.marks, columns=columns))


def sizes_among(marks: Marks, name: str, plan: Plan) -> Floats:
    """By what categories are ordered where that is a measure of marks; marks: one for each of them.

    One that adds up along the drawn order, which it would make itself, goes by what it adds up.
    """
    for other, measure in plan.formulas.peer_columns.items():
        asked = measure
        if other == name and isinstance(measure, Derived) and measure.kind.startswith("running"):
            # Ordered by a running total its own order would be needed first, so what it runs over
            # is taken.
            asked = measure.of
        numbers = _values(marks, other, asked, plan)
        if other == name:
            return numbers
        marks = replace(marks, columns={**marks.columns, other: numbers})
    raise KeyError(name)


def _peers(marks: Marks, measure: Quantity) -> Bools:
    """The marks of a measure: items, and the rest where it shares out or adds up."""
    kinds = {part.kind for part in inside(measure) if isinstance(part, Derived)}
    if kinds & {"share", "running share", "running total"}:
        return ~marks.sums
    return ~marks.totals


def _values(marks: Marks, name: str, measure: Quantity, plan: Plan) -> Floats:
    """The numbers of peers."""
    facts = EvaluationData(replace(marks, role=None), plan.parameters)
    faults = validity.quantity_faults(measure, facts)
    if faults:
        raise YuzenError(*(fault.at(f"measure {name}", "measures", name) for fault in faults))
    with np.errstate(all="ignore"):
        return np.array(facts.view(Field(marks.value)).all_values(measure))
