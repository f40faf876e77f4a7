"""A chart after judging: the value that pages, reports and checks are made of."""

from dataclasses import dataclass

from yuzen.brief.design import Design
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.marks import Marks


@dataclass(frozen=True, eq=False)
class JudgedChart:
    """What a chart is to be, its marks, and what rules decided of them.

    design:  the brief, resolved for drawing.
    context: the marks, and the scopes that texts and references are worked out in.
    verdict: which rule won where, with the colours of the rules.
    """

    design: Design
    context: EvaluationContext
    verdict: ColoredVerdict

    @property
    def marks(self) -> Marks:
        """All marks that are drawn."""
        return self.context.marks
