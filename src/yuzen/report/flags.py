"""The flags table: the analyst's helper column, made once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Final

import numpy as np
import pandas as pd

from yuzen.rules import truth
from yuzen.rules.arrays import Text, kind_of

LARGEST: Final = 2.0**53  # beyond which a float need not be the whole number that was meant

if TYPE_CHECKING:
    from yuzen.picture.palette import Palette
    from yuzen.rules.arrays import Bools, Column
    from yuzen.rules.judge import Verdict
    from yuzen.rules.marks import Marks
    from yuzen.rules.origin import Kept


def flags_table(marks: Marks, verdict: Verdict, palette: Palette) -> pd.DataFrame:
    """One row for each mark and target, the marks in drawing order, target after target.

    Columns: the category, the series, every measure and what rules asked of, then `target`, `rule`
    (the winner's name or ''), `role`, `color` (#RRGGBB), `also` and `unknown` (names of rules,
    joined by '; ').
    """
    targets = list(dict.fromkeys(["mark", *(rule.on for rule in verdict.rules)]))
    return pd.concat([_of_target(marks, verdict, palette, t) for t in targets], ignore_index=True)


def _of_target(marks: Marks, verdict: Verdict, palette: Palette, target: str) -> pd.DataFrame:
    winner = verdict.winner(target)
    own = np.array([rule.on == target for rule in verdict.rules], dtype=bool)
    held = (verdict.truths == truth.TRUE) & own[:, None]
    won = np.arange(len(verdict.rules))[:, None] == winner
    base = palette.base(target)
    plain = np.array(base, dtype=object)[palette.lines if len(base) > 1 else 0]
    names = [rule.name for rule in verdict.rules]
    roles = [palette.role(index) for index in range(len(names))]
    types = marks.origin.types
    columns = {name: _as_it_was(marks.columns[name], types.get(name)) for name in _in_order(marks)}
    if marks.rest:
        columns[marks.category] = np.array(marks.category_names(), dtype=object)
    table = pd.DataFrame(
        {
            **columns,
            "target": target,
            "rule": np.array([*names, ""], dtype=object)[winner],
            "role": np.where(winner >= 0, np.array([*roles, ""], dtype=object)[winner], plain),
            "color": palette.words(verdict, target),
            "also": _joined(names, held & ~won),
            "unknown": _joined(names, (verdict.truths == truth.UNKNOWN) & own[:, None]),
        }
    )
    reached = marks.reached_by(target)
    if reached.all():
        return table
    return table[reached]


def _as_it_was(column: Column, kept: Kept | None) -> object:
    """The values of a column as they were in the rows: whole numbers whole, true and false as such.

    Whole numbers of which some are missing are floats, as pandas has them; in files they are whole again.
    """
    if isinstance(column, Text):
        if kept == "boolean":
            words = pd.Series(column.values(), dtype=object).map({"True": True, "False": False})
            return words.astype("boolean" if words.hasnans else "bool").array
        return column.values()
    if kept == "whole" and np.isfinite(column).all() and np.abs(column).max(initial=0.0) < LARGEST:
        return column.astype(np.int64)
    return column


def _in_order(marks: Marks) -> list[str]:
    """The category, the series and the value first, then the other columns, words before numbers."""
    first = [marks.category, *marks.series]
    rest = [name for name in marks.columns if name not in {*first, marks.value}]
    rest.sort(key=lambda name: kind_of(marks.columns[name]) == "number")
    return [*first, marks.value, *rest]


def _joined(names: list[str], which: Bools) -> np.ndarray[tuple[int], np.dtype[np.object_]]:
    """For each mark the names of its rules, joined: as many text operations as rules."""
    found = np.full(which.shape[1], "", dtype=object)
    for name, marked in zip(names, which, strict=True):
        found[marked] = np.where(found[marked] == "", name, found[marked] + f"; {name}")
    return found
