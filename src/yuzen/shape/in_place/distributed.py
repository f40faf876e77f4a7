"""Grouping many files on the workers of an executor, one task for each file."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

import numpy as np

from yuzen.errors import external_call, make_error
from yuzen.release import VERSION
from yuzen.rules.claims import Recent
from yuzen.rules.conditions import all_tests
from yuzen.rules.names import row_conditions
from yuzen.shape.in_place.condensed import in_order
from yuzen.shape.in_place.condensing import WEIGHT
from yuzen.shape.in_place.file_set import grouped_by_engine
from yuzen.shape.plan.plan import Plan
from yuzen.sources.cells import concatenated, in_own_order
from yuzen.sources.rows import Rows
from yuzen.sources.sets.distributed import DistributedFiles

if TYPE_CHECKING:
    from yuzen.sources.sets.file_set import FileSet


def grouped_by_workers(distributed: DistributedFiles, plan: Plan) -> tuple[Rows, Plan] | None:
    """The groups of all files, and the remaining plan; None where they need one table.

    A total of rows is the total of the files' totals, an average that of totals over counts, and so
    on, as when a database has grouped rows. A median or a deviation needs the rows themselves, and
    the last months are those of all files.
    Raises YuzenError (call-cluster) where the workers fail.
    """
    conditions = [*row_conditions(plan.measures.values()), plan.keep.condition]
    tests = [test for one in conditions if one is not None for test in all_tests(one)]
    if in_order(plan) or any(isinstance(test.claim, Recent) for test in tests):
        return None
    files, executor = distributed.files, distributed.executor
    tasks = [executor.submit(groups_of, VERSION, file, plan) for file in files.apart()]
    results: list[tuple[Rows, Plan]] = []
    for task, path in zip(tasks, files.paths, strict=True):
        with external_call(
            "call-cluster", "The workers could not group it: {reason}.", where=str(path)
        ):
            groups = task.result()
        if groups is None:
            return None
        results.append(groups)
    remainder = results[0][1]
    # One file was grouped and another only read: their parts cannot be put together.
    if any(other != remainder for _, other in results):
        return None
    return _merged([rows for rows, _ in results], plan.keys(distributed.column_names)), remainder


def refuse_other(version: str) -> None:
    """Raise YuzenError (call-cluster) in a worker with another release than its caller."""
    if version != VERSION:
        message = f"A worker has yuzen {VERSION}, and this is yuzen {version}; install one on all."
        raise make_error("call-cluster", message)


def groups_of(version: str, file: FileSet, plan: Plan) -> tuple[Rows, Plan] | None:
    """The groups of one file, which a worker makes; None where only the rows themselves will do."""
    refuse_other(version)
    grouped = grouped_by_engine(file, plan)
    if grouped is None or grouped[0].weights is None:
        return None
    return grouped


def _merged(parts: Sequence[Rows], keys: Sequence[str]) -> Rows:
    """The groups of all files below one another, sorted by their key columns."""
    first = parts[0]
    columns = {
        name: concatenated([part.columns[name] for part in parts], name) for name in first.columns
    }
    weights = np.concatenate([part.weights for part in parts if part.weights is not None])
    # A column is whole only if it is so in every file.
    whole = frozenset.intersection(*(part.whole or frozenset() for part in parts))
    ordered = in_own_order({**columns, WEIGHT: weights}, keys)
    weights = np.asarray(ordered[WEIGHT])
    return Rows({name: ordered[name] for name in columns}, first.column_names, weights, whole=whole)
