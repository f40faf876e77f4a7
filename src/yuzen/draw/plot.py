"""What all charts on a category's axis share around their marks: room, axes, values to reach."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Final

import numpy as np

from yuzen.draw.scale import drawable

PAGE_HEIGHT: Final = 800
TICK_ROOM: Final = 62  # pixels beside standing marks for the numbers of an axis

if TYPE_CHECKING:
    from collections.abc import Callable

    from matplotlib.axes import Axes

    from yuzen.draw.canvas import Box, Canvas
    from yuzen.draw.layout import Layout
    from yuzen.draw.pen import Pen
    from yuzen.draw.scale import Scale
    from yuzen.picture.page import Picture
    from yuzen.rules.arrays import Floats


@dataclass(frozen=True)
class Kind:
    """How one kind of chart is drawn.

    height:  pixels of its page, from the picture and the pixels around the plot.
    panel:   pixels that a small plot needs at the least.
    lay_out: the plot's place in a box of the sheet.
    scale:   the scale that gives everything in it room.
    draw:    draws it all at a scale.
    thin:    whether its colours are seen in lines and points.
    """

    height: Callable[[Picture, float], int]
    panel: Callable[[Picture], int]
    lay_out: Callable[[Picture, Canvas, Box], Layout]
    scale: Callable[[Layout], Scale]
    draw: Callable[[Layout, Scale], None]
    thin: bool = False


def says_empty(picture: Picture, canvas: Canvas, box: Box) -> bool:
    """Whether there is nothing to draw; then that is said in the middle of the box."""
    if np.isfinite(picture.values).any():
        return False
    note, ink = picture.note or "There are no numbers to draw.", canvas.theme.color("slate")
    x, y = (box.left + box.right) / 2, (box.top + box.bottom) / 2
    text = canvas.pen.cut(note, "subtitle", box.width)
    canvas.write(text, x, y, use="subtitle", color=ink, align="center")
    return True


def drawn_values(picture: Picture) -> Floats:
    """The values as they are drawn: no sums, infinite ones a little beyond the others, within told ends."""
    values = drawable(np.where(picture.sums, np.nan, picture.values))
    return np.asarray(np.clip(values, *picture.bounds))


def note_beyond(picture: Picture, canvas: Canvas) -> None:
    """Say how many marks go beyond the ends of the scale that the brief tells."""
    low, high = picture.bounds
    beyond = (picture.values < low) | (picture.values > high)
    canvas.note(int(np.count_nonzero(beyond & ~picture.sums)), "marks go beyond the scale that is told")


def axes_of(layout: Layout, scale: Scale) -> Axes:
    """Axes whose one direction is the rows and whose other the values."""
    along = scale.value(0), scale.value(layout.length)
    across = -0.5, layout.extent - 0.5
    if layout.lying:
        return layout.canvas.plot(layout.box, along, across[::-1])
    return layout.canvas.plot(layout.box, across, along)


def reached(picture: Picture) -> Floats:
    """The values of references and of layers, which have to lie in the plot."""
    references = picture.references
    values = [line.value for line in references.lines]
    values += [value for ticks in references.ticks for value in ticks.values.tolist()]
    values += [end for band in references.bands for end in (band.low, band.high)]
    values += [value for layer in picture.layers if not layer.own for value in layer.values.tolist()]
    found = np.array(values, dtype=float)
    return np.asarray(np.clip(found[np.isfinite(found)], *picture.bounds))


def reference_room(picture: Picture, pen: Pen, names: tuple[str, ...] = ()) -> float:
    """Pixels to the right of standing marks for the labels of references, and for further names."""
    texts = [(line.text, False) for line in picture.references.lines]
    texts += [(band.text, False) for band in picture.references.bands]
    texts += [(name, True) for name in names]
    widest = max((pen.width(text, "reference", bold=bold) for text, bold in texts), default=0)
    axis = TICK_ROOM * any(layer.own for layer in picture.layers)
    return axis + (min(widest + 12, picture.width * 0.25) if widest else 0)
