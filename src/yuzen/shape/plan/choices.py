"""What a plan chooses: which rows count, which marks are drawn, and in which order."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field, replace
from typing import Final, Literal, TypeAlias

from yuzen.rules.conditions import Condition
from yuzen.rules.names import Names, in_conditions
from yuzen.value import Value

Way: TypeAlias = Literal[
    "largest first", "smallest first", "by name", "as given", "in time", "listed"
]
ORDERS: Final[tuple[Way, ...]] = (
    "largest first",
    "smallest first",
    "by name",
    "as given",
    "in time",
)

OVERALL_TOTAL: Final = "all"


class Keep(Value):
    """Which rows count: by a condition, and by one value of a column."""

    condition: Condition | None = None
    only: Mapping[str, str] = field(default_factory=dict)

    @property
    def names(self) -> Names:
        """The names that the condition uses."""
        if self.condition is None:
            return Names()
        return in_conditions([self.condition])


class Order(Value):
    """The order in which marks are drawn.

    by:    the measure whose size counts, or one of the series; '' for the chart's value.
    names: for "listed", what marks are called, in their order; those that are not named come after.
    """

    way: Way
    by: str = ""
    names: tuple[str, ...] = ()


class AnchorTotals(Value):
    """The categories of opening and closing levels: drawn as totals, and no peers of others.

    opening:   the first of all, by its name in the rows.
    closing:   the last of all: by its name in the rows, or the total of the opening and of all
               steps.
    subtotals: further ones in the rows.
    after:     further ones that are totals up to a step: what each is called, and the step.
    sides:     conditions on rows of the opening and of the closing level, where steps are the
               differences between both; those levels are no categories of the rows then.
    """

    opening: str | None = None
    closing: str | None = None
    subtotals: tuple[str, ...] = ()
    after: tuple[tuple[str, str], ...] = ()
    sides: tuple[Condition, Condition] | None = None

    @property
    def in_rows(self) -> tuple[str | None, ...]:
        """The names that categories of the rows may have which are levels."""
        if self.sides is not None:
            return self.subtotals
        return (self.opening, self.closing, *self.subtotals)

    @property
    def any(self) -> bool:
        """Whether there are some."""
        return self != AnchorTotals()


class Listing(Value):
    """Which marks are drawn, and in which order.

    order:  None: as `words` says where the category is words, else in time or by number.
    show:   a condition on all marks; those that it does not hold for are known to what looks back
            alone.
    limit:  how many are drawn; the others are gathered into one called `rest`, or left out.
    totals: columns whose groups get a total after them, and "all" for one of everything.
    group_order: in which order groups with totals stand; None: as their first categories do.
    across: whether each category, or total of some, has a total of its series besides.
    words:  how a category of words is listed where no order is said.
    pillars: which categories are no steps but say how far those have come.
    joined: whether lines go from series to series of a category.
    """

    order: Order | None = None
    limit: int | None = None
    rest: str | None = None
    totals: tuple[str, ...] = ()
    across: bool = False
    words: Way = "largest first"
    anchor_totals: AnchorTotals = field(default_factory=AnchorTotals)
    joined: bool = False
    show: Condition | None = None
    group_order: Order | None = None

    @property
    def keeps_largest_steps(self) -> bool:
        """Whether a limit keeps the steps that are the largest, up or down, as they stand."""
        return (
            self.order is None and self.limit is not None and self.anchor_totals.sides is not None
        )

    @property
    def of_all(self) -> Listing:
        """How all items are listed, shown or not."""
        return replace(self, limit=None, rest=None, totals=(), across=False, show=None)
