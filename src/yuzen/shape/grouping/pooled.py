"""Measures over the rows behind several marks together, by their own formula."""

from collections.abc import Callable, Sequence

import numpy as np

from yuzen.arrays import Codes, Column, Floats
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.lineage import Pooled
from yuzen.rules.marks import Marks
from yuzen.rules.peers.codes import Peers
from yuzen.rules.quantities.numbers import Quantity
from yuzen.shape.grouping.measures import Grouped
from yuzen.shape.plan.plan import Plan


def pooled_measures(
    marks: Marks, plan: Plan, facts: EvaluationData, rows_of: Callable[[], Sequence[Codes]]
) -> dict[Pooled, Floats]:
    """Measures over several marks, by their own formula over all rows of those.

    rows_of: for the items, then for each level of totals, the mark that each row is behind, −1 for
             none.
    """
    if not plan.overall:
        return {}
    behind = rows_of()
    names = EvaluationData(marks, plan.parameters)
    pooled: dict[Pooled, Floats] = {}
    for asked in plan.overall:
        measure = names.name(asked.measure)
        groups = [asked.within + marks.peer_columns]
        if asked.whole:  # a text of the whole chart asks for all marks, one of a panel for its own
            if marks.panel:
                groups = [asked.within, (*asked.within, marks.panel)]
            else:
                groups = [asked.within]
        for within in groups:
            columns = [names.name(name) for name in within]
            if measure in plan.measures and all(name in marks.columns for name in columns):
                key = Pooled(str(measure), frozenset(map(str, columns)), asked.reach)
                pooled[key] = _pooled(marks, key, plan.measures[key.measure], facts, behind)
    return pooled


def _pooled(
    marks: Marks, key: Pooled, measure: Quantity, facts: EvaluationData, rows_of: Sequence[Codes]
) -> Floats:
    """One number for each mark that is reached, from the rows behind all of its peers; else NaN."""
    if key.reach == "all":
        reached = np.ones(len(marks), dtype=bool)
    else:
        reached = marks.totals == (key.reach == "totals")
    if key.reach != "totals":
        return _of_rows(marks, key, np.flatnonzero(reached), measure, facts, rows_of[0])
    numbers = np.full(len(marks), np.nan)
    # Each level of totals is made of the same rows once more.
    for codes in rows_of:
        level = np.unique(codes[codes >= 0])
        where = level[reached[level]]
        numbers[where] = _of_rows(marks, key, where, measure, facts, codes)[where]
    return numbers


def _of_rows(
    marks: Marks,
    key: Pooled,
    where: Codes,
    measure: Quantity,
    facts: EvaluationData,
    codes: Codes,
) -> Floats:
    """The numbers of some marks; codes: the mark that each row is behind, −1 for none."""
    columns: list[Column] = [marks.columns[name][where] for name in sorted(key.within)]
    if key.reach == "totals":
        columns.append(marks.levels[where].astype(float))
    peers = Peers.by(columns)
    group = np.full(len(marks) + 1, -1, dtype=np.intp)  # the last one is for rows behind no mark
    if peers.codes is None:
        group[where] = 0
    else:
        group[where] = peers.codes
    if key.reach == "all":  # rows of a pillar say again what others have said
        group[:-1][marks.sums] = -1
    numbers = np.full(len(marks), np.nan)
    numbers[where] = peers.spread(Grouped(facts, group[codes], peers.count).values(measure))
    return numbers
