"""Many files grouped one by one on the workers of an executor, and their groups put together here."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

import numpy as np

from yuzen.errors import outside, wrong
from yuzen.release import VERSION
from yuzen.shape.cells import in_own_order, stacked
from yuzen.shape.parts import split_grouped
from yuzen.shape.rows import Rows
from yuzen.shape.sql.condensed import WEIGHT, in_order

if TYPE_CHECKING:
    from collections.abc import Sequence
    from concurrent.futures import Executor

    from yuzen.shape.plan import Plan
    from yuzen.shape.rows import Source
    from yuzen.shape.shards import Shards
    from yuzen.shape.wanted import Wanted


@dataclass(frozen=True, eq=False)
class Spread:
    """Files that are grouped shard by shard, each by whichever worker is free.

    A total is the total of the shards' totals, an average that of totals over counts, and so on, as when a
    database has grouped rows; a median or a deviation needs the rows themselves, which are brought here.
    """

    shards: Shards
    executor: Executor

    def __reduce__(self) -> tuple[Any, ...]:
        """What goes to another process: the files, which it groups by itself."""
        return _itself, (self.shards,)

    @property
    def called(self) -> str:
        """What the files are called."""
        return self.shards.called

    @property
    def offered(self) -> tuple[str, ...]:
        """The names of the columns."""
        return self.shards.offered

    @property
    def dated(self) -> tuple[str, ...]:
        """Those that hold dates."""
        return self.shards.dated

    def asked(self, query: str) -> Spread:
        """What a query makes of each of the files. Raises YuzenError (data-query)."""
        return replace(self, shards=self.shards.asked(query))

    def rows(self, wanted: Wanted) -> Rows:
        """All their rows, with these columns."""
        return self.shards.rows(wanted)

    def gathered(self, plan: Plan) -> tuple[Rows, Plan]:
        """The groups of all shards; where some shard cannot be grouped as the others, the files as one.

        What stands in the middle of a group, its median or deviation, is not told by its parts.
        """
        if in_order(plan):
            return self.shards.gathered(plan)
        asked = [self.executor.submit(gathered_of, VERSION, shard, plan) for shard in self.shards.apart()]
        found: list[tuple[Rows, Plan]] = []
        for one, path in zip(asked, self.shards.paths, strict=True):
            with outside("call-cluster", "The workers could not group it: {reason}.", where=str(path)):
                groups = one.result()
            if groups is None:  # all have to be read then
                return self.shards.gathered(plan)
            found.append(groups)
        left = found[0][1]
        if any(others != left for _, others in found):
            return self.shards.gathered(plan)
        return _together([rows for rows, _ in found], plan.keys(self.offered)), left

    def split(self, plan: Plan, column: str) -> list[tuple[str, Source]]:
        """The kept rows of each value, which are grouped once for all."""
        return split_grouped(self, plan, column)


def refuse_other(version: str) -> None:
    """Raise YuzenError (call-cluster) in a worker that has another release than who sends it work."""
    if version != VERSION:
        message = f"A worker has yuzen {VERSION}, and this is yuzen {version}; install one on all."
        raise wrong("call-cluster", message)


def gathered_of(version: str, shard: Shards, plan: Plan) -> tuple[Rows, Plan] | None:
    """The groups of one shard, which a worker makes; None where it cannot."""
    refuse_other(version)
    return shard.grouped(plan)


def _itself(shards: Shards) -> Shards:
    return shards


def _together(parts: Sequence[Rows], keys: Sequence[str]) -> Rows:
    """The groups of shards below one another, in the order of what they are called.

    keys: the columns by which they stand.
    """
    first = parts[0]
    columns = {name: stacked([part.columns[name] for part in parts], name) for name in first.columns}
    weights = np.concatenate([part.weights for part in parts if part.weights is not None])
    whole = frozenset.intersection(*(part.whole or frozenset() for part in parts))
    ordered = in_own_order({**columns, WEIGHT: weights}, keys)
    weights = np.asarray(ordered[WEIGHT])
    return Rows({name: ordered[name] for name in columns}, first.offered, weights, whole=whole)
