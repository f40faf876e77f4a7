"""The texts at bars and dots that have their places, as they are written."""

from collections.abc import Callable, Sequence

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.canvas import Line
from yuzen.draw.places.mark_numbers import Texts
from yuzen.draw.room.occupancy import NO_MARK
from yuzen.draw.shapes.bar import Ground
from yuzen.draw.signs.styled_texts import (
    TEXT_PLATE_OPACITY,
    Signs,
    first_inks,
    stands_out,
    write_pieces,
)
from yuzen.value import Value


class PlacedLabels(Value, eq=False):
    """Texts that have their places.

    shown:  which stand somewhere, shape (n,).
    on:     the number of the mark that each stands on, NO_MARK for paper, shape (n,).
    boxes:  left, top, right and bottom on the sheet, shape (n, 4); NaN where there is none.
    leads:  where a line to each runs, shape (n, 4); NaN where it needs none.
    """

    texts: Texts
    shown: Bools
    on: Codes
    boxes: Floats
    leads: Floats

    @property
    def own_boxes(self) -> Floats:
        """The boxes of shown texts: low and high along, near and far across, shape (m, 4)."""
        return self.texts.layout.of_pixels(self.boxes[self.shown])

    def write(self, under: Callable[[int, float], Ground]) -> None:
        """Write them into their boxes.

        under: what a mark looks like at a place along it, by its number on the ground.
        """
        texts, signs = self.texts, Signs(self.texts.layer.name)
        layout, canvas, pieces = texts.layout, texts.layout.canvas, texts.label.pieces
        marks = np.flatnonzero(self.shown)
        along = self.own_boxes[:, :2].mean(axis=1).tolist()
        grounds = {
            mark: under(int(self.on[mark]), place)
            for mark, place in zip(marks.tolist(), along, strict=True)
            if self.on[mark] != NO_MARK
        }
        plate = canvas.paper(TEXT_PLATE_OPACITY)[0]
        if texts.label.plate:
            plated = dict.fromkeys(grounds, plate)
        else:
            plated = {
                mark: np.append(ground.fill, 1.0)
                for mark, ground in grounds.items()
                if ground.patterned
            }
        canvas.plates(
            self.boxes[list(plated)] + np.array([-4, -2, 4, 2]),
            np.array(list(plated.values())).reshape(-1, 4),
        )
        banded = bool(layout.plot.references.bands)
        for mark, (left, top, _, bottom) in zip(
            marks.tolist(), self.boxes[marks].tolist(), strict=True
        ):
            over = ""
            if mark in grounds:
                ink = canvas.theme.color("ink")
                over = ink if texts.label.plate else canvas.ink_on(grounds[mark].fill)
            elif banded and not stands_out(pieces, mark, [canvas.theme.color("pale")]):
                over = canvas.theme.color("ink")
            write_pieces(
                canvas, layout.measurer, pieces, mark, (left, (top + bottom) / 2), signs, over=over
            )
        signs.draw(canvas)
        self._draw_leads()

    def _draw_leads(self) -> None:
        """The lines to texts that stand far from their marks, in the colours of those."""
        layout, canvas = self.texts.layout, self.texts.layout.canvas
        led = np.flatnonzero(np.isfinite(self.leads[:, 0]))
        horizontal = layout.horizontal
        lines = [middle_line(lead, horizontal=horizontal) for lead in self.leads[led].tolist()]
        inks = first_inks(self.texts.label.pieces, led)
        canvas.lead(lines, inks, self.texts.layer.name, led)


def middle_line(box: Sequence[float], *, horizontal: bool) -> Line:
    """The line along the middle of a box, from left to right or from top to bottom."""
    left, top, right, bottom = box
    x, y = (left + right) / 2, (top + bottom) / 2
    return [(left, y), (right, y)] if horizontal else [(x, top), (x, bottom)]
