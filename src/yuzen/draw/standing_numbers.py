"""The texts at bars and dots that have their places, as they are written."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np
from matplotlib.collections import PolyCollection
from matplotlib.colors import to_rgba

from yuzen.draw.lettering import Signs, rings, stands_out, write_pieces

if TYPE_CHECKING:
    from collections.abc import Callable

    from yuzen.draw.numbers import Texts
    from yuzen.rules.arrays import Bools, Floats

LEAD: Final = 0.7  # points
PLATE: Final = 0.82  # of the paper's colour


@dataclass(frozen=True, eq=False)
class Standing:
    """Texts that have their places.

    shown:  which stand somewhere, shape (n,).
    inside: of those, which stand in their mark.
    boxes:  left, top, right and bottom on the sheet, shape (n, 4); NaN where there is none.
    leads:  where a line to each runs, shape (n, 4); NaN where it needs none.
    """

    texts: Texts
    shown: Bools
    inside: Bools
    boxes: Floats
    leads: Floats

    @property
    def own_boxes(self) -> Floats:
        """The boxes of those that are shown, as low and high along, near and far across, shape (m, 4)."""
        return self.texts.layout.of_pixels(self.boxes[self.shown])

    def write(self, ground: Callable[[int, float], Floats]) -> None:
        """Write them into their boxes.

        ground: the colour of a mark at a place along it, for texts that stand inside.
        """
        texts, signs = self.texts, Signs()
        layout, canvas, pieces = texts.layout, texts.layout.canvas, texts.label.pieces
        marks, plate = np.flatnonzero(self.shown), texts.label.plate
        if plate:
            paper = to_rgba(canvas.theme.color("paper"), PLATE)
            self._plates(self.inside, np.array([paper] * len(self.inside)))
        else:
            self._plates(self.inside & self._patterned, texts.layer.looks.fill)
        along = self.own_boxes[:, :2].mean(axis=1)
        banded = bool(layout.plot.references.bands)
        for mark, place, (left, top, _, bottom) in zip(
            marks.tolist(), along.tolist(), self.boxes[marks].tolist(), strict=True
        ):
            over = ""
            if self.inside[mark]:
                over = canvas.theme.color("ink") if plate else canvas.ink_on(ground(mark, place))
            elif banded and not stands_out(pieces, mark, [canvas.theme.color("pale")]):
                over = canvas.theme.color("ink")
            write_pieces(canvas, layout.pen, pieces, mark, (left, (top + bottom) / 2), signs, over=over)
        signs.draw(canvas)
        led = self.leads[np.isfinite(self.leads[:, 0])]
        middles = [((a + c) / 2, (b + d) / 2) for a, b, c, d in led.tolist()]
        lines = [
            [(x, b), (x, d)] if not layout.lying else [(a, y), (c, y)]
            for (a, b, c, d), (x, y) in zip(led.tolist(), middles, strict=True)
        ]
        canvas.rule(lines, canvas.theme.color("slate"), LEAD)

    @property
    def _patterned(self) -> Bools:
        """Which marks have a pattern, in their whole or in a part."""
        layer = self.texts.layer
        patterned = layer.looks.patterns > 0
        if layer.parts is not None:
            patterned[layer.parts.mark[layer.parts.pattern > 0]] = True
        return patterned

    def _plates(self, own: Bools, fills: Floats) -> None:
        """Grounds behind the texts of some marks, in colours of shape (n, 4)."""
        if not own.any():
            return
        canvas = self.texts.layout.canvas
        made = PolyCollection(
            rings(self.boxes[own] + np.array([-4, -2, 4, 2]), canvas),
            facecolors=fills[own],
            linewidths=0,
            transform=canvas.figure.transFigure,
        )
        made.set_gid("plates")
        canvas.figure.add_artist(made)
