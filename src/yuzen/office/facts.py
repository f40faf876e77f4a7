"""What a workbook and the notes of a slide say of a chart besides what is drawn."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import field

from yuzen.value import Value


class FactColumn(Value, eq=False):
    """A column of the marks, one cell for each mark.

    head:  what it is called; cells: numbers, texts, dates as datetimes, None for nothing.
    code:  how a workbook writes its numbers; '' as it likes.
    fills, inks: the colour of each cell and of its text, '' for none; (): none at all.
    bold:  whether the text of each is bold; (): none is.
    """

    head: str
    cells: Sequence[object]
    code: str = ""
    fills: Sequence[str] = ()
    inks: Sequence[str] = ()
    bold: Sequence[bool] = ()


class RuleFact(Value):
    """A rule as a workbook lists it.

    does:    what it changes, in words; color: its colour, '' for a shade or none.
    flagged: how many marks it holds for; reasons: of each of them its name and why.
    """

    name: str
    condition: str
    target: str
    does: str
    color: str
    flagged: int
    reasons: tuple[tuple[str, str], ...]


class ChartFacts(Value, eq=False):
    """Sentences, the marks as columns, and the rules.

    value: the head of the column that is drawn.
    """

    sentences: tuple[str, ...] = ()
    columns: tuple[FactColumn, ...] = ()
    rules: tuple[RuleFact, ...] = ()
    value: str = ""
    notes: tuple[str, ...] = field(default=())
