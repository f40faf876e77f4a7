"""What marks are made of: rows, column types, and remarks on what was guessed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Codes

ColumnType: TypeAlias = Literal["whole", "boolean"]
PARTS_UNLIKE: Final = "parts-unlike"  # the code of a remark on a ratio of unlike rows
COLUMN_TYPES: Final[tuple[ColumnType, ...]] = ("whole", "boolean")


@dataclass(frozen=True)
class Remark:
    """A guess about the rows that could be meant otherwise: a code, a sentence, a remedy."""

    code: str
    message: str
    remedy: str

    def __str__(self) -> str:
        return f"{self.message} {self.remedy}"


@dataclass(frozen=True, eq=False)
class Origin:
    """Where marks come from.

    row_counts: how many rows each mark was made of, shape (n,); None where marks are the rows
              themselves.
    value_counts: for measures that some rows lack a number for, how many rows of each mark have it,
              shape (n,).
    types:    columns that held whole numbers, or true and false, in the rows: in tables they are so
              again.
    remarks:  what was found out of the rows.
    formulas: how each measure was made from rows, in words.
    spans:    for periods that texts speak of, such as "month", the first and the last moment of the
              rows.
    partial:  periods of the grain that the rows cover in part, by their first moment, and what of
              them is covered; pictures do not hold it.
    """

    row_counts: Codes | None = None
    value_counts: Mapping[str, Codes] = field(default_factory=dict)
    types: Mapping[str, ColumnType] = field(default_factory=dict)
    remarks: tuple[Remark, ...] = ()
    formulas: Mapping[str, str] = field(default_factory=dict)
    spans: Mapping[str, tuple[str, str]] = field(default_factory=dict)
    partial: Mapping[np.datetime64, str] = field(default_factory=dict)

    def has_unlike_parts(self, measure: str) -> bool:
        """Whether a remark tells that the parts of a measure are of unlike rows."""
        return any(
            remark.code == PARTS_UNLIKE and remark.message.startswith(f"{measure} of ")
            for remark in self.remarks
        )

    def taken(self, kept: Codes) -> Origin:
        """The origin of these marks."""
        return replace(
            self,
            row_counts=None if self.row_counts is None else self.row_counts[kept],
            value_counts={name: counts[kept] for name, counts in self.value_counts.items()},
        )
