"""Measures: quantities whose peers are the rows behind one mark."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.errors import Fault, YuzenError
from yuzen.rules import binding
from yuzen.rules.facts import Facts
from yuzen.rules.marks import Marks
from yuzen.rules.peers import Peers
from yuzen.rules.quantities import (
    Arithmetic,
    Derived,
    Distinct,
    Field,
    Negative,
    Number,
    Percent,
    Previous,
    Summary,
)

if TYPE_CHECKING:
    from collections.abc import Mapping

    from yuzen.rules.arrays import Codes, Column, Floats
    from yuzen.rules.quantities import Quantity

NOBODY = Number(0)


def row_facts(
    columns: Mapping[str, Column], parameters: Mapping[str, float], category: str, offered: tuple[str, ...]
) -> Facts:
    """The rows as marks of their own: for conditions on rows, and for measures."""
    return Facts(Marks(columns, category, category, offered=offered), parameters)


def check_measures(measures: Mapping[str, Quantity], rows: Facts) -> None:
    """Raise YuzenError with all measures that cannot be computed, or have not one number for each mark."""
    faults = [
        fault.at(f"measure {name}", "measures", name)
        for name, measure in measures.items()
        for fault in (*_loose(measure, rows, str(measure)), *binding.quantity_faults(measure, rows))
    ]
    if faults:
        raise YuzenError(*faults)


def measure_groups(measure: Quantity, rows: Facts, codes: Codes, count: int) -> Floats:
    """The measure of each group of rows, shape (count,): `codes` tells each row's group.

    A group without rows has NaN; rows of the code −1 belong to none.
    """
    groups = np.full(count + 1, np.nan)
    peers = Peers(np.where(codes < 0, count, codes), count + 1)
    scope = Facts(rows.marks, rows.parameters, {("peers", ("group",)): peers})
    with np.errstate(all="ignore"):
        values = measure.values(scope.view(NOBODY, ("group",)))
    groups[peers.codes] = values
    return groups[:-1]


def _loose(quantity: Quantity, rows: Facts, text: str) -> list[Fault]:  # noqa: PLR0911 - one for each kind
    """The parts that differ from row to row, where one number for each mark is needed."""
    if isinstance(quantity, Number | Distinct):
        return []
    if isinstance(quantity, Percent | Negative):
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
    assert isinstance(quantity, Derived | Previous)  # noqa: S101 - the only ones left
    message = f"{quantity} compares rows with one another, which a measure cannot; ask it in a rule."
    return [Fault("measure-row", message, "", text, None)]
