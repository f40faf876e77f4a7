"""A chart after judging: the value that pages, reports and checks are made of."""

from typing import Final

import numpy as np

from yuzen.arrays import Bools
from yuzen.brief.design import Design
from yuzen.compose.mark_names import mark_in_words, marks_in_words
from yuzen.compose.styles.colored_verdict import ColoredVerdict
from yuzen.formats.words import Words
from yuzen.locks import cached_property
from yuzen.rules.judge import EvaluationContext
from yuzen.rules.marks import Marks
from yuzen.rules.truth import TRUE
from yuzen.value import Value

MAX_NAMED_MARKS: Final = 5_000  # marks beyond which not all are named, as that takes a while


class JudgedChart(Value, eq=False):
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

    def held_by(self, index: int) -> Bools:
        """The marks that a rule holds for, of those that it reaches, shape (n,)."""
        verdict = self.verdict.whole
        reached = self.marks.reached_by(verdict.rules[index].on)
        return np.asarray((verdict.truths[index] == TRUE) & reached)

    @cached_property
    def words(self) -> Words:
        """The words that Yuzen writes itself: of the locale, of the house, of the brief."""
        words = self.context.formats.locale.words.changed(self.verdict.theme.words)
        return words.changed(self.design.brief.words)

    @cached_property
    def called(self) -> tuple[str, ...]:
        """What each mark is called in a sentence."""
        return tuple(marks_in_words(self.marks, self.context.formats.locale))

    @property
    def drawn_names(self) -> tuple[str, ...]:
        """What marks are called in notes on what has no room; of very many nothing."""
        if len(self.marks) > MAX_NAMED_MARKS:
            return ("",) * len(self.marks)
        return self.called

    @cached_property
    def _gathers(self) -> bool:
        """Whether some mark stands for several: a sum, the rest, a bin."""
        return bool(self.marks.sums.any() or self.marks.rest or self.marks.bins)

    def name_of(self, mark: int) -> str:
        """What one mark is called in a sentence, whatever the others are called."""
        if len(self.marks) > MAX_NAMED_MARKS and not self._gathers:
            return mark_in_words(self.marks, mark, self.context.formats.locale)
        return self.called[mark]
