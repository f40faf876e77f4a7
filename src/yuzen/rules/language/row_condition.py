"""A condition inside a quantity, which the reader hands on and quantities only print."""

from typing import Protocol


class RowCondition(Protocol):
    """A condition on rows, which prints as the language reads; equal ones are one."""

    def __hash__(self) -> int:
        """Equal conditions have equal hashes."""
