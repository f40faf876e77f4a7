"""The ways to write the numbers of a chart, for all of its plots alike: as they are, shorter, smaller."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from yuzen.draw.pen import Pen
    from yuzen.picture.plot import Plot

SIZES: Final = (0.93, 0.86, 0.78)
SMALLEST: Final = 8.5  # points
MANY: Final = 300  # marks from which on not all sizes are tried


@dataclass(frozen=True, eq=False)
class Manner:
    """Plots with their numbers written in one way, and the pen that writes them."""

    plots: tuple[Plot, ...]
    pen: Pen


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
