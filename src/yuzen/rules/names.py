"""Which names conditions and quantities speak of, and as what: so that only those are made."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from yuzen.rules.conditions import all_tests
from yuzen.rules.quantities import Distinct, Field, Summary, inside

if TYPE_CHECKING:
    from collections.abc import Iterable

    from yuzen.rules.conditions import Condition
    from yuzen.rules.quantities import Quantity


@dataclass(frozen=True)
class Names:
    """Names by their use: as numbers, as words or dates (or only asked whether missing), as peers."""

    numbers: frozenset[str] = frozenset()
    words: frozenset[str] = frozenset()
    peers: frozenset[str] = frozenset()

    def __or__(self, other: Names) -> Names:
        return Names(self.numbers | other.numbers, self.words | other.words, self.peers | other.peers)

    @property
    def all(self) -> frozenset[str]:
        """Every name, however it is used."""
        return self.numbers | self.words | self.peers


def in_quantities(quantities: Iterable[Quantity]) -> Names:
    """The names that quantities speak of; what is only counted need not be a number."""
    numbers: set[str] = set()
    words: set[str] = set()
    for quantity in quantities:
        counted = {
            part.of
            for part in inside(quantity)
            if isinstance(part, Distinct) or (isinstance(part, Summary) and part.kind == "count")
        }
        for part in inside(quantity):
            if isinstance(part, Field):
                (words if part in counted else numbers).add(part.name)
    return Names(frozenset(numbers), frozenset(words))


def in_conditions(conditions: Iterable[Condition]) -> Names:
    """The names that conditions speak of."""
    found = Names()
    for condition in conditions:
        for test in all_tests(condition):
            found |= Names(peers=frozenset(test.within)) | in_quantities(test.claim.quantities())
            subject = test.subject
            if subject is None:
                continue
            plain = isinstance(subject, Field) and test.claim.needs != "number"
            found |= Names(words=frozenset({str(subject.name)})) if plain else in_quantities([subject])  # type: ignore[union-attr]
    return found


def ask_overall(conditions: Iterable[Condition], quantities: Iterable[Quantity]) -> bool:
    """Whether some of them ask for a measure over several marks together."""
    tests = [test for condition in conditions for test in all_tests(condition)]
    told = [*quantities, *(quantity for test in tests for quantity in test.quantities())]
    return any(isinstance(p, Summary) and p.kind == "overall" for quantity in told for p in inside(quantity))
