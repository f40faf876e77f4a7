"""Rows as they are shaped, and what every source of them can do."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field, replace
from typing import Protocol

from yuzen.arrays import Bools, Codes
from yuzen.formats.periods import Unit
from yuzen.rules.lineage import Remark
from yuzen.sources.cells import RowColumn
from yuzen.sources.wanted import Wanted
from yuzen.value import Value


class Pairing(Value):
    """How a second table was joined: by which columns, and what the table is called."""

    by: tuple[str, ...]
    called: str


class Rows(Value, eq=False):
    """A table to be shaped.

    columns: those that are at hand, all of one length.
    offered: the names of all columns that the source has, at hand or not.
    weights: how many rows of the source each of these stands for; None: one.
    remarks: what was found out of the source and could have been meant otherwise.
    whole:   columns that hold whole numbers in the source, whatever they are here; None: as they
             are here.
    units:   of columns of dates that were written as periods, the period.
    pairing: how a second table was joined; None: none was.
    """

    columns: Mapping[str, RowColumn] = field(repr=False)
    column_names: tuple[str, ...]
    weights: Codes | None = field(default=None, repr=False)
    remarks: tuple[Remark, ...] = ()
    whole: frozenset[str] | None = None
    units: Mapping[str, Unit] = field(default_factory=dict, repr=False)
    pairing: Pairing | None = None

    def __len__(self) -> int:
        """How many rows there are."""
        return len(next(iter(self.columns.values()), ()))

    def taken(self, kept: Codes | Bools) -> Rows:
        """Only these rows, in this order."""
        columns = {name: column[kept] for name, column in self.columns.items()}
        return replace(
            self, columns=columns, weights=None if self.weights is None else self.weights[kept]
        )


class ArrowStream(Protocol):
    """Anything that gives rows as Arrow, such as a Polars or PyArrow table (PyCapsule)."""

    def __arrow_c_stream__(self, requested_schema: object | None = None) -> object:
        """A capsule with a stream of its rows."""


class Source(Protocol):
    """Where rows come from: a table in memory, a file, a database.

    A class whose `groups_in_place` is true has rows that can be grouped where they are; where
    they cannot for some plan, the source `read_instead` is read.
    """

    @property
    def called(self) -> str:
        """What a footer calls it; '' for nothing."""

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of its columns. Raises YuzenError (data-…) where it cannot be read."""

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The names of columns that hold dates, by the first rows."""

    def rows(self, wanted: Wanted) -> Rows:
        """All its rows, with at least these columns."""
