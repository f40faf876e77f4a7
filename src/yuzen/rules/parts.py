"""What a quantity is made of."""

from __future__ import annotations

from typing import TYPE_CHECKING

from yuzen.rules.quantities import Derived, Distinct, Field, Number, Previous, Summary

if TYPE_CHECKING:
    from collections.abc import Iterator

    from yuzen.rules.quantities import Quantity


def inside(quantity: Quantity) -> Iterator[Quantity]:
    """The quantity and every quantity it is made of."""
    yield quantity
    parts = [getattr(quantity, name, None) for name in ("of", "left", "right")]
    for part in parts:
        if part is not None:
            yield from inside(part)


def follows(quantity: Quantity) -> bool:
    """Whether the quantity goes from mark to mark as a line does; one of groups goes in steps.

    >>> from yuzen.rules.quantities import Arithmetic
    >>> follows(Field("target")), follows(Arithmetic(Summary("average"), "*", Number(2)))
    (True, False)
    """
    if isinstance(quantity, Summary | Distinct | Number):
        return False
    parts = [getattr(quantity, name, None) for name in ("of", "left", "right")]
    if isinstance(quantity, Field | Previous | Derived):
        return True
    return any(follows(part) for part in parts if part is not None)
