"""Marks given one by one: each row is a mark, nothing is grouped, rows keep their order."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from yuzen.arrays import Codes, Column, sequence_of
from yuzen.formats.periods import Times
from yuzen.rules.lineage import Origin
from yuzen.rules.marks import Marks
from yuzen.shape.grouping.measures import row_facts
from yuzen.shape.grouping.pooled import pooled_measures
from yuzen.shape.plan.plan import Plan
from yuzen.shape.plan.resolved import resolved
from yuzen.sources.bounds import refuse_rows
from yuzen.sources.cells import PROBED_CELLS
from yuzen.sources.columns import Columns, dated_columns, types_of, whole_columns
from yuzen.sources.frames import columns_from, readable_columns

if TYPE_CHECKING:
    import pandas as pd


def given_rows(frame: pd.DataFrame, plan: Plan, peer_columns: tuple[str, ...] = ()) -> Marks:
    """The rows of a table, each of which is a mark: measures can be pooled over several of them.

    Raises YuzenError (data-…) as `given_marks` does.
    """
    plan = _resolved(plan, frame)
    marks = _marks(frame, plan, peer_columns)
    if not plan.overall:
        return marks
    facts = row_facts(marks.columns, plan, marks.column_names)
    overall = pooled_measures(marks, plan, facts, lambda: [np.arange(len(marks))])
    origin = replace(marks.origin, formulas=plan.formulas.texts, overall=overall)
    return replace(marks, origin=origin)


def given_marks(
    frame: pd.DataFrame,
    plan: Plan,
    peer_columns: tuple[str, ...] = (),
    column_names: Sequence[str] = (),
) -> Marks:
    """The rows of a table as marks, with the columns that a plan uses.

    among: columns whose marks are peers of one another only, whatever a rule says; offered: the
    names of further columns, by which a misspelt name is told.
    Raises YuzenError (data-…) for columns that are not there, or are no numbers where numbers are
    needed.
    """
    return _marks(frame, _resolved(plan, frame), peer_columns, column_names)


def _marks(
    frame: pd.DataFrame,
    plan: Plan,
    peer_columns: tuple[str, ...],
    column_names: Sequence[str] = (),
) -> Marks:
    """The marks by a resolved plan."""
    frame_columns = tuple(frame.columns)
    given = columns_from(
        frame,
        dict.fromkeys(
            (*plan.wanted(frame_columns).names, plan.value, *plan.further, *peer_columns)
        ),
    )
    columns = Columns(plan.periods.with_columns(given), {plan.value, *plan.further})
    wanted = _names(plan, columns, peer_columns)
    category = columns[plan.category]
    return Marks(
        {name: columns[name] for name in wanted},
        plan.category,
        plan.value,
        () if plan.series is None else (plan.series,),
        peer_columns=peer_columns,
        order=_in_sequence(category),
        column_names=tuple(dict.fromkeys((*frame_columns, *column_names))),
        times=Times({}, plan.periods.calendar),
        origin=Origin(types=types_of(given, wanted, whole_columns(given, wanted))),
    )


def _resolved(plan: Plan, frame: pd.DataFrame) -> Plan:
    refuse_rows(len(frame), "the values")
    head = frame.head(20 * PROBED_CELLS)
    return resolved(plan, tuple(frame.columns), lambda: dated_columns(readable_columns(head)))


def _names(plan: Plan, columns: Columns, peer_columns: tuple[str, ...]) -> list[str]:
    """What tells marks apart, their numbers, and what rules ask of them besides."""
    apart = (*plan.plain_columns, plan.value, *plan.further, *peer_columns)
    spoken = {*plan.columns(list(columns)), *plan.attributes(list(columns))}
    return list(dict.fromkeys([*apart, *(name for name in columns if name in spoken)]))


def _in_sequence(category: Column) -> Codes | None:
    """The marks in the order of time or of numbers; None: as they are given."""
    places = sequence_of(category)
    if places is None or len(places) < 2:
        return None
    # Rows that are in order already need no index, and the judge then copies nothing.
    if bool((places[1:] >= places[:-1]).all()):
        return None
    return np.argsort(places, kind="stable")
