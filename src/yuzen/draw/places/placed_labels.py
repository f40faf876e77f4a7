"""The texts at bars and dots that have their places, as they are written."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from yuzen.arrays import Bools, Floats
from yuzen.draw.canvas import LEADER_PX
from yuzen.draw.places.mark_numbers import Texts
from yuzen.draw.signs.styled_texts import TEXT_PLATE_OPACITY, Signs, stands_out, write_pieces


@dataclass(frozen=True, eq=False)
class PlacedLabels:
    """Texts that have their places.

    shown:  which stand somewhere, shape (n,).
    inside: of those, which stand in their mark.
    boxes:  left, top, right and bottom on the sheet, shape (n, 4); NaN where there is none.
    leads:  where a line to each runs, shape (n, 4); NaN where it needs none.
    """

    texts: Texts
    shown: Bools
    inside_mark: Bools
    boxes: Floats
    leads: Floats

    @property
    def own_boxes(self) -> Floats:
        """The boxes of shown texts: low and high along, near and far across, shape (m, 4)."""
        return self.texts.layout.of_pixels(self.boxes[self.shown])

    def write(self, ground: Callable[[int, float], Floats]) -> None:
        """Write them into their boxes.

        ground: the colour of a mark at a place along it, for texts that stand inside.
        """
        texts, signs = self.texts, Signs(self.texts.layer.name)
        layout, canvas, pieces = texts.layout, texts.layout.canvas, texts.label.pieces
        marks, plate = np.flatnonzero(self.shown), texts.label.plate
        plated, fills = self.inside_mark & self._patterned, texts.layer.styles.fill
        if plate:
            plated, fills = (
                self.inside_mark,
                np.repeat(canvas.paper(TEXT_PLATE_OPACITY), len(self.inside_mark), axis=0),
            )
        canvas.plates(self.boxes[plated] + np.array([-4, -2, 4, 2]), fills[plated])
        along = self.own_boxes[:, :2].mean(axis=1)
        banded = bool(layout.plot.references.bands)
        for mark, place, (left, top, _, bottom) in zip(
            marks.tolist(), along.tolist(), self.boxes[marks].tolist(), strict=True
        ):
            over = ""
            if self.inside_mark[mark]:
                over = canvas.theme.color("ink") if plate else canvas.ink_on(ground(mark, place))
            elif banded and not stands_out(pieces, mark, [canvas.theme.color("pale")]):
                over = canvas.theme.color("ink")
            write_pieces(
                canvas, layout.measurer, pieces, mark, (left, (top + bottom) / 2), signs, over=over
            )
        signs.draw(canvas)
        self._draw_leads()

    def _draw_leads(self) -> None:
        """The lines to texts that stand far from their marks."""
        layout, canvas = self.texts.layout, self.texts.layout.canvas
        lines = []
        for left, top, right, bottom in self.leads[np.isfinite(self.leads[:, 0])].tolist():
            x, y = (left + right) / 2, (top + bottom) / 2
            if layout.horizontal:
                lines.append([(left, y), (right, y)])
            else:
                lines.append([(x, top), (x, bottom)])
        canvas.rule("leads", lines, canvas.theme.color("slate"), LEADER_PX)

    @property
    def _patterned(self) -> Bools:
        """Which marks have a pattern, in their whole or in a part."""
        layer = self.texts.layer
        patterned = layer.styles.patterns > 0
        if layer.parts is not None:
            patterned[layer.parts.mark[layer.parts.pattern > 0]] = True
        return patterned
