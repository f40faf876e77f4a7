"""A source for each value of a column, whose rows were read, or grouped, once for all values."""

from yuzen.shape.plan.plan import Plan
from yuzen.sources.rows import Rows, Source
from yuzen.sources.wanted import Wanted
from yuzen.value import Value


class SourceSubset(Value, eq=False):
    """The rows, or the groups of rows, of one value of a column.

    held:      those rows or groups.
    source:    where they come from; a plan that needs more than they have is asked of it.
    plan:      the plan that they were made by.
    remainder: what is left of that plan to do with them.
    """

    held: Rows
    source: Source
    plan: Plan
    remainder: Plan

    @property
    def called(self) -> str:
        """What the source is called."""
        return self.source.called

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of the source's columns."""
        return self.source.column_names

    @property
    def date_columns(self) -> tuple[str, ...]:
        """The columns that hold dates."""
        return self.source.date_columns

    def rows(self, wanted: Wanted) -> Rows:
        """All rows of the source; `only` in a plan says which of them count."""
        return self.source.rows(wanted)
