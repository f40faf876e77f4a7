"""A chart for each value of a column, of rows that are grouped once for all of them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from yuzen.shape.choices import Keep
from yuzen.shape.keep import Part, kept_rows, split_rows

if TYPE_CHECKING:
    from yuzen.shape.plan import Plan
    from yuzen.shape.rows import Rows, Source
    from yuzen.shape.wanted import Wanted


@dataclass(frozen=True, eq=False)
class GroupedPart:
    """The groups of one value of a column.

    source: which has made those of all values at once, by the plan `asked`, and is asked anew for another.
    left:   what is still to do with the groups.
    """

    held: Rows
    source: Source
    asked: Plan
    left: Plan

    @property
    def called(self) -> str:
        """What the source is called."""
        return self.source.called

    @property
    def offered(self) -> tuple[str, ...]:
        """The names of the source's columns."""
        return self.source.offered

    @property
    def dated(self) -> tuple[str, ...]:
        """Those that hold dates."""
        return self.source.dated

    def rows(self, wanted: Wanted) -> Rows:
        """All rows of the source; `only` in a plan says which are meant."""
        return self.source.rows(wanted)

    def gathered(self, plan: Plan) -> tuple[Rows, Plan]:
        """The groups, or, of a plan that asks for more, what the source makes of it."""
        if replace(plan, keep=self.asked.keep) == self.asked:
            return self.held, self.left
        return self.source.gathered(plan)

    def split(self, plan: Plan, column: str) -> list[tuple[str, Source]]:
        """The source once for each value that the kept rows have."""
        return split_grouped(self.source, plan, column)


def split_grouped(source: Source, plan: Plan, column: str) -> list[tuple[str, Source]]:
    """The kept rows of each value of a column, which the source groups by it besides."""
    names = replace(plan.names, words=plan.names.words | {column})
    rows, left = source.gathered(replace(plan, names=names))
    parts = split_rows(kept_rows(rows, left), left, column)
    if rows.weights is None:
        return [(name, Part(part, source.called)) for name, part in parts]
    left = replace(left, names=plan.names, keep=Keep())
    return [(name, GroupedPart(part, source, plan, left)) for name, part in parts]
