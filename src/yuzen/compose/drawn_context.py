"""The marks that are drawn of very many: quantities and texts are those of all."""

from __future__ import annotations

from dataclasses import replace

from yuzen.arrays import Codes
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.locks import cached_property
from yuzen.rules.evaluation_data import EvaluationData
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.lineage import Reach
from yuzen.rules.scope import Scope


class DrawnContext(EvaluationContext, eq=False, kw_only=True):
    """Some marks of a chart.

    every, verdict: the context and the verdict of all marks.
    drawn:          which of them are these, shape (k,).
    """

    every: EvaluationContext
    verdict: ColoredVerdict
    drawn: Codes

    @classmethod
    def of(cls, every: EvaluationContext, verdict: ColoredVerdict, drawn: Codes) -> DrawnContext:
        """The context of some of the marks."""
        marks = every.marks.taken(drawn)
        return cls(
            marks, every.parameters, every.formats, every=every, verdict=verdict, drawn=drawn
        )

    def _scope(self, reach: Reach, value: str | None) -> Scope:
        return replace(self.every.scope(reach, value), drawn=self.drawn)

    @property
    def of_chart(self) -> Codes:
        """Which of the chart's marks each of these is."""
        return self.drawn

    @cached_property
    def whole(self) -> EvaluationData:
        """The items of the whole chart."""
        return self.every.whole

    def about(self, measure: str) -> DrawnContext:
        """A copy whose default measure is `measure`."""
        return DrawnContext.of(self.every.about(measure), self.verdict, self.drawn)
