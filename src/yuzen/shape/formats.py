"""What can be told of how a file is written."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from yuzen.shape.dates import DayOrder


@dataclass(frozen=True)
class Format:
    """How a file is written, as far as it was told; None: it is found out.

    delimiter, decimal, thousands: one character each; encoding: as Python names it.
    dates:  whether 3/4/2026 begins with the day or with the month.
    sheet:  of a workbook; None: the first.
    heading: the line with the names of columns, from 1.
    text:   columns that are words although they look like numbers.
    """

    delimiter: str | None = None
    decimal: str | None = None
    thousands: str | None = None
    encoding: str | None = None
    dates: DayOrder | None = None
    sheet: str | None = None
    heading: int | None = None
    text: tuple[str, ...] = ()
