"""Scopes: the evaluation data of some marks, bound to the places of these among all marks."""

from collections.abc import Mapping
from typing import TypeVar

import numpy as np

from yuzen.arrays import Bools, Codes, Floats, Truth
from yuzen.errors import YuzenError
from yuzen.rules import truth, validity
from yuzen.rules.conditions import Condition
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.peers.ranks import Ties
from yuzen.rules.quantities.fields import Field
from yuzen.rules.quantities.numbers import Quantity
from yuzen.value import Value

Values = TypeVar("Values", "Floats", "Truth", "Bools")
Kept = TypeVar("Kept")


class Scope(Value, eq=False):
    """The marks that a rule, a text or a reference reaches, as evaluation data.

    data:   the evaluation data of these marks.
    places: their indices among all marks, shape (k,); None where all marks are reached.
    count:  how many marks there are in all.
    drawn:  which of all marks the others ask about, shape (n,); None where these are all.
    """

    data: EvaluationData
    places: Codes | None
    count: int
    drawn: Codes | None = None

    @property
    def indices(self) -> Codes:
        """The index of each reached mark among all marks, shape (k,)."""
        places = np.arange(self.count) if self.places is None else self.places
        if self.drawn is None:
            return places
        index = np.full(self.count, -1, dtype=np.intp)
        index[self.drawn] = np.arange(len(self.drawn))
        return index[places]

    def by_mark(self, of_places: Mapping[int, Kept]) -> dict[int, Kept]:
        """What is known of some reached marks by their places, by their indices instead."""
        indices = self.indices
        return {int(indices[place]): kept for place, kept in of_places.items()}

    def spread(self, values: Values, otherwise: float) -> Values:
        """Values of the reached marks, shape (k,), for all marks, shape (n,), with `otherwise`."""
        spread = values
        if self.places is not None:
            spread = np.full(self.count, otherwise, dtype=values.dtype)
            spread[self.places] = values
        return spread if self.drawn is None else spread[self.drawn]

    def gather(self, values: Values) -> Values:
        """Of values of all marks, shape (n,), those of the reached marks, shape (k,).

        Marks that are not drawn get 0 or False.
        """
        if self.drawn is not None:
            drawn, values = values, np.zeros(self.count, dtype=values.dtype)
            values[self.drawn] = drawn
        return values if self.places is None else values[self.places]

    def truths(self, condition: Condition, ties: Ties = "competition") -> Truth:
        """What a condition says of every mark, shape (n,); FALSE where it does not reach."""
        # Beyond its reach a rule does not hold; unknown would read as if a number were missing.
        return self.spread(condition.holds(self.data, ties), truth.FALSE)

    def held(self, condition: Condition, key: str) -> Bools:
        """The marks that a condition holds for, shape (n,).

        key: under which the condition stands, for messages.
        Raises YuzenError with every fault of a condition that cannot be judged.
        """
        faults = validity.faults(condition, self.data)
        if faults:
            raise YuzenError(*(fault.at(key, key) for fault in faults))
        return np.asarray(self.truths(condition) == truth.TRUE)

    def values(self, quantity: Quantity, within: tuple[str, ...] = ()) -> Floats:
        """A quantity's number for each mark among its peers, shape (n,); NaN beyond its reach.

        Raises YuzenError where the quantity or the peers cannot be judged.
        """
        faults = validity.quantity_faults(quantity, self.data)
        faults += validity.peers_faults(within, self.data)
        if faults:
            raise YuzenError(*faults)
        view = self.data.view(Field(self.data.marks.value), within)
        with np.errstate(all="ignore"):
            every_value = view.all_values(quantity)
        # The values may be a cached or broadcast array; callers write to what they get.
        return self.spread(every_value, np.nan).copy()
