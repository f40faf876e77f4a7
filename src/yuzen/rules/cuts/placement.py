"""Where numbers of marks stand on the axis that lines are drawn along."""

from typing import Final, Protocol

from yuzen.arrays import Floats
from yuzen.value import Value


class Placement(Protocol):
    """How an axis places numbers: lines are straight between places, and levels cut them there."""

    def placed(self, values: Floats) -> Floats:
        """The place of a number of each mark, shape (n,)."""


class AsTheyAre(Value):
    """An axis on which numbers stand where they are."""

    def placed(self, values: Floats) -> Floats:
        """The numbers themselves."""
        return values


PLAIN: Final = AsTheyAre()
