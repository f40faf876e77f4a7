"""Scopes: the evaluation data of some marks, bound to the places of these among all marks."""

from dataclasses import dataclass
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

Values = TypeVar("Values", "Floats", "Truth", "Bools")


@dataclass(frozen=True, eq=False)
class Scope:
    """The marks that a rule, a text or a reference reaches, as evaluation data.

    data:   the evaluation data of these marks.
    places: their indices among all marks, shape (k,); None where all marks are reached.
    count:  how many marks there are in all.
    """

    data: EvaluationData
    places: Codes | None
    count: int

    @property
    def indices(self) -> Codes:
        """The index of each reached mark among all marks, shape (k,)."""
        if self.places is None:
            return np.arange(self.count)
        return self.places

    def spread(self, values: Values, otherwise: float) -> Values:
        """Values of the reached marks, shape (k,), for all marks, shape (n,), with `otherwise`."""
        if self.places is None:
            return values
        spread = np.full(self.count, otherwise, dtype=values.dtype)
        spread[self.places] = values
        return spread

    def gather(self, values: Values) -> Values:
        """Of values of all marks, shape (n,), those of the reached marks, shape (k,)."""
        if self.places is None:
            return values
        return values[self.places]

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
