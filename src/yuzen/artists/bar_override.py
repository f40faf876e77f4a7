"""Colours on bars made elsewhere: each patch stays and gets another fill."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from itertools import chain
from typing import Any

import numpy as np
from matplotlib.artist import Artist
from matplotlib.container import BarContainer
from matplotlib.patches import Patch

from yuzen.arrays import Floats
from yuzen.artists.overrides import remove


@dataclass(eq=False)
class BarOverride:
    """The colours of the bars of one call, and what lies over them: parts, patterns, outlines."""

    bars: BarContainer
    over: list[Artist] = field(default_factory=list)
    label: None = None
    alphas: dict[int, Any] = field(default_factory=dict)
    colors: Floats = field(init=False)  # as every coat
    signature: Floats = field(init=False)
    alike: bool = field(init=False)  # in what else makes a colour than the colour that is set

    def __post_init__(self) -> None:
        # One way through the bars, as to come by each costs more than to ask it three things at
        # once; and nothing is made on the way, as a thousand new values make Python look for waste
        # among all bars.
        fills: list[Any] = []
        alphas, filled = set(), set()
        for bar in self.bars.patches:
            fills.append(bar.get_facecolor())
            alphas.add(bar.get_alpha())
            filled.add(bar.get_fill())
        parts: Iterator[float] = chain.from_iterable(fills)
        self.colors = np.fromiter(parts, float, 4 * len(fills)).reshape(-1, 4)
        self.signature, self.alike = self.colors, len(alphas) == len(filled) == 1

    def on(self, fill: Floats, over: Sequence[Artist]) -> None:
        """Give the bars these fills, shape (n, 4).

        `over` are artists over them, already in the axes.
        """
        changed = np.flatnonzero((fill != self.signature).any(axis=1))
        for place in np.flatnonzero(fill[:, 3] != self.colors[:, 3]).tolist():
            bar = self.bars.patches[place]
            self.alphas.setdefault(place, bar.get_alpha())
            bar.set_alpha(None)  # it would outdo the opacity of the colour
        bars = [self.bars.patches[place] for place in changed.tolist()]
        if self.alike and not self.alphas:
            _set_colors(bars, fill[changed])
        else:
            for bar, color in zip(bars, map(tuple, fill[changed].tolist()), strict=True):
                bar.set_facecolor(color)
        self.signature = fill
        remove(self.over)
        self.over = list(over)

    def off(self) -> None:
        """Restore the artists as they were before painting."""
        self.on(self.colors, [])
        for place, alpha in self.alphas.items():
            self.bars.patches[place].set_alpha(alpha)
        self.alphas.clear()


def _set_colors(bars: Sequence[Patch], colors: Floats) -> None:
    """Give each bar its colour, shape (n, 4).

    To set the colour of one costs as much as to judge a hundred, and of twenty thousand bars most
    have
    one of a few: so one of each colour has it set, and what that changed in it is given to the
                  others.
    """
    # A number for each colour, as whole numbers are sorted many times faster than rows.
    keys = np.round(colors * 65535).astype(np.uint64) @ (
        np.uint64(65536) ** np.arange(4, dtype=np.uint64)
    )
    _, first_ones, which = np.unique(keys, return_index=True, return_inverse=True)
    distinct = colors[first_ones]
    changes = []
    for bar, color in zip(
        (bars[place] for place in first_ones), map(tuple, distinct.tolist()), strict=True
    ):
        before = dict(vars(bar))
        bar.set_facecolor(color)
        # What setting a colour changes in one bar is copied to all bars of that colour: it is the
        # same for each.
        changes.append(
            {name: part for name, part in vars(bar).items() if before.get(name) is not part}
        )
    for bar, kind in zip(bars, which.tolist(), strict=True):
        vars(bar).update(changes[kind])
