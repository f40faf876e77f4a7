"""A source for each value of a column, of rows that are read, or grouped, once for all values."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

from yuzen.shape.choices import Keep
from yuzen.shape.keep import kept_rows, split_rows

if TYPE_CHECKING:
    from yuzen.shape.plan import Plan
    from yuzen.shape.rows import Rows, Source
    from yuzen.shape.wanted import Wanted


@dataclass(frozen=True, eq=False)
class Part:
    """The rows, or the groups of rows, of one value of a column, which have been made ready.

    source: where they come from; it is asked anew for a plan that asks for more than they were made by.
    asked:  that plan; left: what is still to do with them.
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
        """What is held, or, of a plan that asks for more, what the source makes of it."""
        if replace(plan, keep=self.asked.keep) == self.asked:
            return self.held, self.left
        return self.source.gathered(plan)

    def split(self, plan: Plan, column: str) -> list[tuple[str, Source]]:
        """The source once for each value that the kept rows have."""
        return self.source.split(plan, column)


def split_source(source: Source, plan: Plan, column: str) -> list[tuple[str, Source]]:
    """The kept rows of each value of a column of a source whose rows are at hand."""
    rows = kept_rows(source.rows(plan.wanted(source.offered, column)), plan)
    left = replace(plan, keep=Keep())
    parts = split_rows(replace(rows, remarks=()), plan, column)
    return [(name, Part(part, source, plan, left)) for name, part in parts]


def split_grouped(source: Source, plan: Plan, column: str) -> list[tuple[str, Source]]:
    """The kept rows of each value of a column, which the source groups by it besides."""
    names = replace(plan.names, words=plan.names.words | {column})
    rows, left = source.gathered(replace(plan, names=names))
    parts = split_rows(kept_rows(rows, left), left, column)
    left = replace(left, names=plan.names, keep=Keep())
    return [(name, Part(part, source, plan, left)) for name, part in parts]
