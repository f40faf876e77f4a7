"""A sum for SQLite that is the same in whatever order the rows stand."""

from __future__ import annotations

import math
import sqlite3
from array import array
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from sqlalchemy import Connection

NAME: Final = "exact_total"


class ExactTotal:
    """The sum of the numbers of a group, rounded once, as SQLite asks for it row by row."""

    def __init__(self) -> None:
        self._numbers = array("d")

    def step(self, number: float | None) -> None:
        """Add a number; a missing one is left out."""
        if number is not None:
            self._numbers.append(number)

    def finalize(self) -> float | None:
        """The sum; NULL of no numbers, and of infinities of both signs."""
        if not self._numbers:
            return None
        try:
            return math.fsum(self._numbers)
        except (OverflowError, ValueError):
            return sum(self._numbers)


def add_exact_total(connection: Connection) -> None:
    """Let a connection to SQLite know the function; other databases have their own."""
    driver = connection.connection.driver_connection
    if isinstance(driver, sqlite3.Connection):
        driver.create_aggregate(NAME, 1, ExactTotal)  # type: ignore[arg-type]  # its step is typed
