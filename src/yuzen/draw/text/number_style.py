"""Ways to write the numbers of a chart, alike in all its plots: full, shorter, smaller."""

from collections.abc import Iterator, Sequence
from typing import Final

from yuzen.draw.text.measurer import TextMeasurer
from yuzen.page.plot import Plot
from yuzen.value import Value

TEXT_SCALES: Final = (0.93, 0.86, 0.78)
HEADROOM_LINES: Final = (2, 4)
SMALLEST_TEXT_PT: Final = 8.5  # points
MANY_MARKS: Final = 300  # marks from which on not all sizes are tried


class NumberStyle(Value, eq=False):
    """Plots with their numbers written in one way, their measurer, and the room beyond.

    headroom: lines of text for which there is room beyond all marks and their numbers.
    """

    plots: tuple[Plot, ...]
    measurer: TextMeasurer
    headroom: int = 0


def number_styles(plots: Sequence[Plot], measurer: TextMeasurer) -> Iterator[NumberStyle]:
    """The ways to write the numbers of some plots, the best first."""
    plots = tuple(plots)
    yield NumberStyle(plots, measurer)
    shorter = tuple(plot.shortened for plot in plots)
    if any(plot is not short for plot, short in zip(plots, shorter, strict=True)):
        yield NumberStyle(shorter, measurer)
    size = measurer.size("number")
    # A theme of large letters may be made smaller more often than one of small ones.
    sizes = [part for part in TEXT_SCALES if part * size >= SMALLEST_TEXT_PT]
    if sum(len(layer.marks) for plot in plots for layer in plot.layers) > MANY_MARKS:
        sizes = sizes[-1:]
    for part in sizes:
        yield NumberStyle(shorter, measurer.scaled(part))
    for headroom in HEADROOM_LINES:
        yield NumberStyle(shorter, measurer.scaled(min(sizes, default=1.0)), headroom)
