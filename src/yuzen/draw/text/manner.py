"""The ways to write the numbers of a chart, for all of its plots alike: as they are, shorter, smaller."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from yuzen.draw.text.pen import Pen
    from yuzen.page.plot import Plot

SIZES: Final = (0.93, 0.86, 0.78)
HEADROOM: Final = (2, 4)
SMALLEST: Final = 8.5  # points
MANY: Final = 300  # marks from which on not all sizes are tried


@dataclass(frozen=True, eq=False)
class Manner:
    """Plots with their numbers written in one way, the pen that writes them, and the room beyond them.

    headroom: lines of text for which there is room beyond all marks and their numbers.
    """

    plots: tuple[Plot, ...]
    pen: Pen
    headroom: int = 0


def manners(plots: Sequence[Plot], pen: Pen) -> Iterator[Manner]:
    """The ways to write the numbers of some plots, the best first."""
    plots = tuple(plots)
    yield Manner(plots, pen)
    shorter = tuple(plot.shortened for plot in plots)
    if any(plot is not short for plot, short in zip(plots, shorter, strict=True)):
        yield Manner(shorter, pen)
    size = pen.size("number")
    sizes = [part for part in SIZES if part * size >= SMALLEST]
    if sum(len(layer.marks) for plot in plots for layer in plot.layers) > MANY:
        sizes = sizes[-1:]
    for part in sizes:
        yield Manner(shorter, pen.scaled(part))
    for headroom in HEADROOM:
        yield Manner(shorter, pen.scaled(min(sizes, default=1.0)), headroom)
