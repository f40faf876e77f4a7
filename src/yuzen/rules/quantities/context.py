"""What quantities ask of the marks: a protocol, for those who answer come after."""

from __future__ import annotations

from typing import TYPE_CHECKING, Protocol

if TYPE_CHECKING:
    from collections.abc import Callable, Hashable

    from yuzen.arrays import Codes, Column, Floats
    from yuzen.rules.peers.codes import Peers, SortedGroups
    from yuzen.rules.peers.ranks import Sorted, Ties
    from yuzen.rules.quantities.ago import Ago
    from yuzen.rules.quantities.numbers import Quantity


class QuantityContext(Protocol):
    """What a quantity asks of the marks, as one test sees them: its subject, its peers, its sequence."""

    @property
    def subject(self) -> Quantity:
        """What the test is about."""

    @property
    def ties(self) -> Ties:
        """How ties are counted."""

    @property
    def peers(self) -> Peers:
        """The groups of marks that are compared with one another."""

    @property
    def line(self) -> QuantityContext:
        """The same among the marks of one series."""

    def sizes(self) -> Codes:
        """How many marks each group of peers has, shape (k,)."""

    def column(self, name: str) -> Column:
        """A column, or a parameter as one number."""

    def numbers(self, name: str) -> Floats:
        """The same as numbers."""

    def pooled(self, measure: str) -> Floats:
        """A measure over all rows behind each group of peers, shape (k,)."""

    def all_values(self, quantity: Quantity) -> Floats:
        """A quantity's values, shape (n,)."""

    def sorted(self, quantity: Quantity) -> Sorted:
        """The same sorted within each group."""

    def sequence(self) -> SortedGroups:
        """The peers of one series brought together, in their sequence."""

    def before(self, values: Floats, ago: Ago | None) -> Floats:
        """What each mark is compared with: the mark before it, or that of a time before; NaN for none."""

    def once(self, key: Hashable, make: Callable[[], Floats]) -> Floats:
        """What is made once for all tests with the same peers."""
