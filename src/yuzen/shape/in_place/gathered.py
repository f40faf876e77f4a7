"""The rows that a plan needs of a source, grouped where they are if the source can group them."""

from dataclasses import replace

from yuzen.shape.in_place.subsets import SourceSubset
from yuzen.shape.keep import kept_rows, split_rows
from yuzen.shape.plan.choices import Keep
from yuzen.shape.plan.plan import Plan
from yuzen.sources.cells import in_own_order
from yuzen.sources.rows import Rows, Source
from yuzen.sources.sets.concatenated import ConcatenatedFiles


def gathered(source: Source, plan: Plan) -> tuple[Rows, Plan]:
    """The rows that a resolved plan needs, and what is then left of the plan to do with them.

    Raises YuzenError (data-…) where the source cannot be read.
    """
    if isinstance(source, SourceSubset):
        return _of_subset(source, plan)
    if not groups_in_place(source):
        return _read(source, plan)
    from yuzen.shape.in_place.grouped import grouped  # noqa: PLC0415 - loads what speaks SQL

    return grouped(source, plan) or gathered(source.read_instead, plan)  # type: ignore[attr-defined]  # only of those


def split(source: Source, plan: Plan, column: str) -> list[tuple[str, Source]]:
    """A source for each value of a column of the kept rows, with the name of the value.

    Rows are read, or grouped by the column besides, once for all values.
    """
    if isinstance(source, SourceSubset):
        return split(source.source, plan, column)
    if groups_in_place(source):
        return _split_groups(source, plan, column)
    return _split_rows(source, plan, column)


def groups_in_place(source: Source) -> bool:
    """Whether rows of the source can be grouped where they are."""
    return getattr(type(source), "groups_in_place", False)


def _read(source: Source, plan: Plan) -> tuple[Rows, Plan]:
    """The rows with the columns that the plan needs; all of the plan is left to do.

    Rows of several files are sorted by what they are called, as an engine returns its groups, which
    reads several places at once.
    """
    rows = source.rows(plan.wanted(source.column_names))
    if isinstance(source, ConcatenatedFiles) and len(source.files) > 1:
        return replace(
            # Files have no order among one another, so which is read first must not matter.
            rows,
            columns=in_own_order(rows.columns, plan.keys(source.column_names)),
        ), plan
    return rows, plan


def _of_subset(subset: SourceSubset, plan: Plan) -> tuple[Rows, Plan]:
    """What the subset holds or, for a plan that needs more, what its source makes of it."""
    # A plan that differs in what it keeps only asks for a part of what is held.
    if replace(plan, keep=subset.plan.keep) == subset.plan:
        return subset.held, subset.remainder
    return gathered(subset.source, plan)


def _split_rows(source: Source, plan: Plan, column: str) -> list[tuple[str, Source]]:
    """The kept rows of each value, of a source whose rows are at hand."""
    rows = kept_rows(source.rows(plan.wanted(source.column_names, column)), plan)
    remainder = replace(plan, keep=Keep())
    parts = split_rows(replace(rows, remarks=()), plan, column)
    return [(name, SourceSubset(part, source, plan, remainder)) for name, part in parts]


def _split_groups(source: Source, plan: Plan, column: str) -> list[tuple[str, Source]]:
    """The groups of each value, of a source that groups its rows by the column besides."""
    names = replace(plan.names, words=plan.names.words | {column})
    rows, remainder = gathered(source, replace(plan, names=names))
    parts = split_rows(kept_rows(rows, remainder), remainder, column)
    remainder = replace(remainder, names=plan.names, keep=Keep())
    return [(name, SourceSubset(part, source, plan, remainder)) for name, part in parts]
