"""What quantities ask of the marks: protocols, as those who answer are defined above them."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from typing import Any, Protocol, TypeVar

from yuzen.arrays import Codes, Column, Floats
from yuzen.formats.periods import Unit
from yuzen.rules.peers.codes import Peers, SortedGroups
from yuzen.rules.peers.ranks import Sorted, Ties

AnyQuantity = TypeVar("AnyQuantity")


class TimeBefore(Protocol):
    """A stretch of time before a mark, such as a year."""

    @property
    def unit(self) -> Unit:
        """The unit of time."""

    def units(self, view: QuantityContext[Any]) -> int:
        """How many units."""


class QuantityContext(Protocol[AnyQuantity]):
    """The marks as one test sees them, for quantities: subject, peers, sequence."""

    @property
    def subject(self) -> AnyQuantity:
        """What the test is about."""

    @property
    def ties(self) -> Ties:
        """How ties are counted."""

    @property
    def peers(self) -> Peers:
        """The groups of marks that are compared with one another."""

    @property
    def line(self) -> QuantityContext[AnyQuantity]:
        """The context in which the peers are the marks of one series."""

    def among(self, names: tuple[str, ...]) -> QuantityContext[AnyQuantity]:
        """The context in which the peers are the marks that share the values of columns."""

    def sizes(self) -> Codes:
        """How many marks each group of peers has, shape (k,)."""

    def column(self, name: str) -> Column:
        """A column, or a parameter as one number."""

    def numbers(self, name: str) -> Floats:
        """A column of numbers, shape (n,), or a parameter, shape ()."""

    def is_binned(self, name: str) -> bool:
        """Whether a column is what marks are bins of, of which only the edges are known."""

    def pooled(self, measure: str) -> Floats:
        """A measure over all rows behind each group of peers, shape (k,)."""

    def all_values(self, quantity: AnyQuantity) -> Floats:
        """A quantity's values, shape (n,)."""

    def peer_values(self, quantity: AnyQuantity) -> Floats:
        """A quantity's values among peers, shape (n,): NaN of totals that are nobody's peers."""

    def step_values(self, quantity: AnyQuantity) -> Floats:
        """A quantity's values along sequences, shape (n,): NaN of totals among items."""

    def looking_back(self, values: Callable[[QuantityContext[AnyQuantity]], Floats]) -> Floats:
        """What is worked out along sequences, in which marks that are not shown stand too."""

    def of_peers(self, values: Floats) -> Floats:
        """Values of marks, shape (n,), with NaN for totals that are nobody's peers."""

    def sorted(self, quantity: AnyQuantity) -> Sorted:
        """A quantity's values, sorted within each group of peers."""

    def sequence(self) -> SortedGroups:
        """The peers of one series brought together, in their sequence."""

    def drawn_sequence(self) -> SortedGroups:
        """The peers of one series in time or number order; along words as they are drawn."""

    def before(self, values: Floats, ago: TimeBefore | None) -> Floats:
        """The value that each mark is compared with: of the mark before it, or of a time before.

        NaN where there is none; shape (n,).
        """

    def once(self, key: Hashable, make: Callable[[], Floats]) -> Floats:
        """What is made once for all tests with the same peers."""
