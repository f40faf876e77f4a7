"""Which columns of a source are asked for, and as what."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Wanted:
    """The columns that are asked for; `numbers` only as numbers, `counted` only as being there or not.

    The others are names: how they are spelled is what they are. Of those that are `implied` it is only
    supposed that they hold numbers.
    """

    names: tuple[str, ...]
    numbers: frozenset[str] = frozenset()
    counted: frozenset[str] = frozenset()
    implied: frozenset[str] = frozenset()
