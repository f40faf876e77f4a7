"""What charts of parts of a whole, and of steps, have to say of their sums."""

from typing import Final

import numpy as np

from yuzen.compose.baselines import bridge_steps
from yuzen.compose.mark_names import marks_in_words
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.marks import Marks
from yuzen.rules.quantities.structure import adds_up
from yuzen.value import Value

ROUNDING: Final = 1e-9  # of the largest number on the way: what sums of floats may differ by


class AnchorGap(Value):
    """An anchor of a bridge that differs from what its steps lead to, both as they are written."""

    name: str
    number: str
    reached: str

    @property
    def message(self) -> str:
        """Both numbers in a sentence."""
        return f"{self.name} is {self.number}, and the steps before it lead to {self.reached}."


def adds_up_over(marks: Marks) -> bool:
    """Whether the chart's value of all rows is the sum of those of its marks."""
    formula = marks.origin.formulas.get(marks.value)
    return formula is None or adds_up(parse_quantity(formula))


def anchor_gaps(context: EvaluationContext) -> list[AnchorGap]:
    """The anchors of a bridge that differ from what the steps before them lead to."""
    marks = context.marks
    panel_of, panels = marks.panels
    plots = [np.flatnonzero(panel_of == panel) for panel in range(max(1, len(panels)))]
    steps = bridge_steps(marks, plots, context.values)
    largest = float(np.max(np.abs(np.nan_to_num(steps.ends)), initial=0.0))
    names, gaps = marks_in_words(marks, context.formats.locale), []
    for mark in np.flatnonzero(np.abs(steps.gaps) > ROUNDING * largest).tolist():
        end, reached = steps.ends[mark], steps.ends[mark] - steps.gaps[mark]
        numbers = context.formats.named(marks.value).tell(float(end), float(reached))
        gaps.append(AnchorGap(names[mark], *numbers))
    return gaps
