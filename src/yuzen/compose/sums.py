"""What charts of parts of a whole, and of steps, have to say of their sums."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.compose.axes.baselines import steps_of
from yuzen.compose.axes.panel_axes import panel_axes
from yuzen.rules.language.grammar import parse_quantity
from yuzen.rules.quantities.structure import adds_up

if TYPE_CHECKING:
    from yuzen.compose.judged import Judged

ROUNDING: Final = 1e-9  # of the largest number on the way: what sums of floats may differ by


@dataclass(frozen=True)
class PillarGap:
    """A pillar that says something else than its steps lead to."""

    name: str
    said: str
    reached: str

    @property
    def message(self) -> str:
        """Both numbers in a sentence."""
        return f"{self.name} is {self.said}, and the steps before it lead to {self.reached}."


def adds_up_over(judged: Judged) -> bool:
    """Whether the chart's value of all rows is the sum of those of its marks."""
    formula = judged.marks.origin.formulas.get(judged.marks.value)
    return formula is None or adds_up(parse_quantity(formula))


def pillar_gaps(judged: Judged) -> list[PillarGap]:
    """The pillars of a bridge that differ from what the steps before them lead to."""
    plots = tuple(stand.marks for stand in panel_axes(judged))
    steps = steps_of(judged, plots, judged.values)
    largest = float(np.max(np.abs(np.nan_to_num(steps.ends)), initial=0.0))
    off = np.flatnonzero(np.abs(steps.gaps) > ROUNDING * largest)
    names = judged.marks.names()
    told = []
    for mark in off.tolist():
        said, reached = judged.bench.formats.named(judged.marks.value).tell(
            float(steps.ends[mark]), float(steps.ends[mark] - steps.gaps[mark])
        )
        told.append(PillarGap(names[mark], said, reached))
    return told
