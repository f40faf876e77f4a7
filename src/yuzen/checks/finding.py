"""A finding: what is wrong or misleading in a chart, where, and what to do about it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes
from yuzen.brief.toml.source import BriefSource
from yuzen.compose.judged_chart import JudgedChart
from yuzen.compose.mark_cutter import bar_slices
from yuzen.locks import cached_property
from yuzen.page.page import Page
from yuzen.rules.cuts.segments import BarSlices
from yuzen.rules.judge import rule_title
from yuzen.rules.target import MARK
from yuzen.value import Value

# What makes flags wrong, where other findings make a picture hard to read. A tie is none of it, as
# sentences tell of it.
MAKES_FLAGS_WRONG: Final = frozenset(
    {
        "name-twice",
        "total-among-items",
        "value-unknown",
        "sequence-order",
        "ratio-averaged",
        "partial-period",
        "no-sum",
        "no-rows",
    }
)


class Finding(Value):
    """A code, a sentence, a remedy, and the place: in words, as a key of the brief, and a line.

    >>> print(Finding("rule-never", "It holds for no mark.", "Correct it.", "rule 1"))
    rule 1: It holds for no mark.
        Correct it.  [rule-never]
    """

    code: str
    message: str
    remedy: str
    where: str = ""
    key: tuple[str | int, ...] = ()
    line: int | None = None

    def __str__(self) -> str:
        """The finding as an analyst reads it."""
        if self.where:
            head = f"{self.where}: {self.message}"
        else:
            head = self.message
        return f"{head}\n    {self.remedy}  [{self.code}]"

    def on_line(self, written: BriefSource) -> Finding:
        """A copy with the file of the brief and, if known, the line."""
        line = written.line(self.key)
        if line is None:
            place = written.called
        else:
            place = f"{written.called}, line {line}"
        return replace(self, where=f"{place}, {self.where}" if self.where else place, line=line)


class Examined(Value, eq=False):
    """A chart that is checked, by what its rules say of its marks."""

    judged: JudgedChart

    @property
    def items(self) -> Codes:
        """The marks that are no totals."""
        return np.flatnonzero(~self.judged.marks.totals)

    @cached_property
    def slices(self) -> BarSlices | None:
        """Which rule wins in each part of each bar; None where no rule is of a part."""
        context, verdict = self.judged.context, self.judged.verdict
        return bar_slices(self.judged.design, context, verdict, MARK, context.values)

    def of_rule(
        self, code: str, rule: int, message: str, remedy: str, key: str = "when"
    ) -> Finding:
        """A finding about a rule, by its place among all rules."""
        design_rule = self.judged.design.rules[rule]
        where = rule_title(rule + 1, design_rule.section.called)
        return Finding(code, message, remedy, where, (*design_rule.key, key))


class ExaminedPage(Examined, eq=False):
    """A chart that is checked as it is drawn, with what the drawing noted."""

    page: Page
    notes: Sequence[str]


def marks(count: int) -> str:
    """How many marks, in words.

    >>> marks(1), marks(1200)
    ('1 mark', '1,200 marks')
    """
    return f"{count:,} mark{'' if count == 1 else 's'}"
