"""The names that conditions and quantities use, and as what, so that only those are made."""

from __future__ import annotations

from collections.abc import Iterable

from yuzen.rules.conditions import Condition, all_tests
from yuzen.rules.lineage import Reach, compared_with
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Distinct, Quantity, Summary, Within, completed
from yuzen.rules.quantities.structure import inside, where_parts
from yuzen.value import Value


class Names(Value):
    """Names by use: as numbers, as texts or dates (or only if missing), as peers."""

    numbers: frozenset[str] = frozenset()
    words: frozenset[str] = frozenset()
    peers: frozenset[str] = frozenset()

    def __or__(self, other: Names) -> Names:
        return Names(
            self.numbers | other.numbers, self.words | other.words, self.peers | other.peers
        )

    @property
    def all(self) -> frozenset[str]:
        """Every name, however it is used."""
        return self.numbers | self.words | self.peers


def in_quantities(quantities: Iterable[Quantity]) -> Names:
    """The names that quantities use; what is only counted need not be a number."""
    numbers: set[str] = set()
    words: set[str] = set()
    peers: set[str] = set()
    for quantity in quantities:
        counted = {
            part.of
            for part in inside(quantity)
            if isinstance(part, Distinct) or (isinstance(part, Summary) and part.kind == "count")
        }
        for part in inside(quantity):
            if isinstance(part, Within):
                peers.update(part.peers)
            if isinstance(part, Field):
                # What is only counted may be a column of words.
                (words if part in counted else numbers).add(part.name)
    return Names(frozenset(numbers), frozenset(words), frozenset(peers))


def in_conditions(conditions: Iterable[Condition]) -> Names:
    """The names that conditions use."""
    names = Names()
    for condition in conditions:
        for test in all_tests(condition):
            names |= Names(peers=frozenset(test.within)) | in_quantities(test.claim.quantities())
            subject = test.subject
            if subject is None:
                continue
            plain = isinstance(subject, Field) and test.claim.needs != "number"
            names |= (
                Names(words=frozenset({str(subject.name)})) if plain else in_quantities([subject])  # type: ignore[union-attr]
            )
    return names


def in_where(quantities: Iterable[Quantity]) -> Names:
    """The names that the conditions of summaries of chosen rows use."""
    return in_conditions(row_conditions(quantities))


def row_conditions(quantities: Iterable[Quantity]) -> list[Condition]:
    """The conditions by which summaries in quantities choose their rows, each once."""
    parts = [part for quantity in quantities for part in where_parts(quantity)]
    return list(dict.fromkeys(part.where for part in parts))  # type: ignore[misc]  # as parsed


def in_rules(conditions: Iterable[Condition]) -> Names:
    """The names that conditions on marks use: a number column that any claim is about is totalled.

    `u missing` and `u first` are about the total of u, as `u above 9` is, unless u holds words.
    """
    conditions = list(conditions)
    totalled = {
        test.subject.name
        for condition in conditions
        for test in all_tests(condition)
        if isinstance(test.subject, Field) and test.claim.needs in {"any", "nothing"}
    }
    return in_conditions(conditions) | Names(numbers=frozenset(totalled))


class OverallAsked(Value):
    """A measure needed over several marks together: which marks, and for what.

    whole: whether a text of the whole chart asks, which does not part the chart's panels.
    """

    measure: str
    within: tuple[str, ...] = ()
    reach: Reach = "items"
    whole: bool = False


def overall_in(quantity: Quantity, subject: Quantity) -> list[str]:
    """The measures that a quantity needs over several marks; `subject` if none is named."""
    parts = inside(completed(quantity, subject))
    asked = [part.of for part in parts if isinstance(part, Summary) and part.kind == "overall"]
    return [of.name for of in asked if isinstance(of, Field)]


def overall_in_condition(condition: Condition, value: str, reach: Reach) -> list[OverallAsked]:
    """Like `overall_in`, for a condition's tests; `value` is the measure if none is named."""
    asked = []
    for test in all_tests(condition):
        meant: Quantity = Field(value)
        if test.subject is None:
            subject = meant
        else:
            subject = completed(test.subject, meant)
        names = overall_in(subject, meant)
        names += [
            name for quantity in test.claim.quantities() for name in overall_in(quantity, subject)
        ]
        asked += [OverallAsked(name, test.within, compared_with(reach)) for name in names]
    return asked
