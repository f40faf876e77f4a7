"""Measures: quantities whose peers are the rows behind one mark."""

from collections.abc import Mapping

import numpy as np

from yuzen.arrays import Codes, Column, Floats, Text, missing_in
from yuzen.errors import Fault, YuzenError
from yuzen.formats.periods import Times
from yuzen.rules import validity
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.marks import Marks
from yuzen.rules.memo import Memo
from yuzen.rules.peers.codes import Peers
from yuzen.rules.quantities.fields import Field, Number
from yuzen.rules.quantities.numbers import (
    Arithmetic,
    Derived,
    Distinct,
    Negative,
    Percent,
    Quantity,
    RowCount,
    Summary,
    Where,
)
from yuzen.rules.quantities.structure import adds_up
from yuzen.shape.plan.plan import Plan
from yuzen.sources.cells import RowColumn
from yuzen.sources.columns import holds_words

NOBODY = Number(0)


def row_facts(
    columns: Mapping[str, Column], plan: Plan, column_names: tuple[str, ...]
) -> EvaluationData:
    """The rows as marks of their own: for conditions on rows, and for measures."""
    category = plan.category
    marks = Marks(
        columns,
        category,
        category,
        column_names=column_names,
        times=Times(calendar=plan.periods.calendar),
    )
    return EvaluationData(marks, plan.parameters)


def check_measures(measures: Mapping[str, Quantity], rows: EvaluationData) -> None:
    """Raise YuzenError for measures that cannot be computed, or vary within a mark."""
    if faults := measure_faults(measures, rows):
        raise YuzenError(*faults)


def shares_among(parts: Floats, whole: Floats) -> Floats:
    """Each mark's part of a whole, shape (n,); unknown where that is zero or unknown."""
    with np.errstate(all="ignore"):
        shares = parts / whole
    return np.where(np.isfinite(shares), shares, np.nan)


def row_numbers(quantity: Quantity, rows: EvaluationData) -> Floats:
    """A quantity of each row that compares no rows, shape (n,)."""
    with np.errstate(all="ignore"):
        return np.broadcast_to(quantity.values(rows.view(NOBODY, ())), len(rows.marks))


def measure_faults(measures: Mapping[str, Quantity], rows: EvaluationData) -> list[Fault]:
    """What is wrong with measures on such rows."""
    return [
        fault.at(f"measure {name}", "measures", name)
        for name, measure in measures.items()
        for fault in (*_faults(measure, rows), *validity.quantity_faults(measure, rows))
    ]


def implied_words(plan: Plan, given: Mapping[str, RowColumn]) -> frozenset[str]:
    """The columns that rules use as numbers by name, and that hold texts or dates."""
    return frozenset(
        name for name in plan.auto_totals if name in given and holds_words(given[name])
    )


def has_gaps(count: Quantity, rows: EvaluationData) -> bool:
    """Whether some row may lack a number for a count; a database has counted already."""
    if not isinstance(count, Summary) or count.kind != "count" or not isinstance(count.of, Field):
        return True
    column = rows.column(count.of.name)
    if isinstance(column, Text):
        return False
    if column.dtype.kind == "M":
        return bool(np.isnat(column).any())
    return bool(missing_in(np.asarray(column, dtype=float)).any())


class Grouped:
    """Rows in groups, of which measures are computed; shared parts are made once.

    codes: each row's group, −1 for none; count: how many groups there are.
    """

    def __init__(self, rows: EvaluationData, codes: Codes, count: int) -> None:
        self._count = count
        # Rows of no group get one of their own, which is cut off again from every answer.
        self._all = not len(codes) or int(codes.min()) >= 0
        if self._all:
            peers = Peers(codes, count)
        else:
            peers = Peers(np.where(codes < 0, count, codes), count + 1)
        self._peers, self._facts = (
            peers,
            EvaluationData(rows.marks, rows.parameters, memo=Memo({("peers", ("group",)): peers})),
        )

    def counts(self, weights: Codes | None) -> Codes:
        """The number of rows of each group, shape (count,); `weights`: how many each row is for."""
        if weights is None:
            return self._peers.sizes(len(self._facts.marks))[: self._count]
        if self._peers.codes is None:
            codes = np.zeros(len(weights), dtype=np.intp)
        else:
            codes = self._peers.codes
        return np.bincount(codes, weights, self._peers.count).astype(np.intp)[: self._count]

    def values(self, measure: Quantity) -> Floats:
        """The measure of each group, shape (count,); NaN for one without rows."""
        if isinstance(measure, Derived):  # of a share what it is the share of: both have one order
            measure = measure.of
        view = self._facts.view(NOBODY, ("group",))
        with np.errstate(all="ignore"):
            # A total over no rows is 0 in NumPy, and missing for an analyst.
            if isinstance(measure, Summary | Where):
                empty = self._peers.sizes(len(view)) == 0
                groups = measure.groups(view)[: self._count]
                return np.where(empty[: self._count], np.nan, groups) if empty.any() else groups
            values = measure.values(view)
        groups = np.full(self._peers.count, np.nan)
        # A measure has one number for each row of a group, the same one; any of them will do.
        groups[self._peers.codes] = values
        return groups[: self._count]


def _faults(measure: Quantity, rows: EvaluationData) -> list[Fault]:
    """What is wrong with a measure itself; a share is one of what adds up."""
    if not isinstance(measure, Derived) or measure.kind != "share":
        return _loose(measure, rows, str(measure))
    if adds_up(measure.of):
        return _loose(measure.of, rows, str(measure.of))
    message = f"A share is of what adds up, such as share of total of fares; {measure.of} does not."
    return [Fault("measure-row", message, "", str(measure), None)]


def _loose(quantity: Quantity, rows: EvaluationData, text: str) -> list[Fault]:  # noqa: PLR0911 - one for each kind
    """The parts that differ from row to row, where one number for each mark is needed."""
    if isinstance(quantity, Number | Distinct | RowCount):
        return []
    if isinstance(quantity, Percent | Negative | Where):
        return [] if quantity.of is None else _loose(quantity.of, rows, text)
    if isinstance(quantity, Arithmetic):
        return _loose(quantity.left, rows, text) + _loose(quantity.right, rows, text)
    if isinstance(quantity, Summary):
        if quantity.of is not None and quantity.kind != "overall":
            return []
        message = f"In a measure, {quantity.kind} needs a column, such as {quantity.kind} of fares."
        if quantity.kind == "overall":
            message = "overall is for rules: it pools a measure over several marks."
        return [Fault("measure-of", message, "", text, quantity.span)]
    if isinstance(quantity, Field):
        if rows.name(quantity.name) not in rows.marks.columns:
            return []  # a parameter, or unknown, of which binding speaks
        message = (
            f"{quantity} differs from row to row; say which number of the rows behind a mark is "
            f"meant, such as total of {quantity} or average of {quantity}."
        )
        return [Fault("measure-row", message, "", text, quantity.span)]
    return []  # what compares marks is worked out among those
