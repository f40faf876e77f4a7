"""What all charts on a category's axis share around their marks: room, axes, values to reach."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from matplotlib.axes import Axes

    from yuzen.draw.canvas import Canvas
    from yuzen.draw.layout import Layout
    from yuzen.draw.lettering import Pen
    from yuzen.draw.picture import Picture
    from yuzen.draw.scale import Scale
    from yuzen.rules.arrays import Floats


def says_empty(picture: Picture, canvas: Canvas) -> bool:
    """Whether there is nothing to draw; then that is said in the middle of the sheet."""
    if np.isfinite(picture.values).any():
        return False
    note, ink = picture.note or "There are no numbers to draw.", canvas.theme.color("slate")
    canvas.write(note, canvas.width / 2, canvas.height / 2, use="subtitle", color=ink, align="center")
    return True


def axes_of(layout: Layout, scale: Scale) -> Axes:
    """Axes whose one direction is the rows and whose other the values."""
    along = scale.value(0), scale.value(layout.length)
    across = -0.5, layout.extent - 0.5
    if layout.lying:
        return layout.canvas.plot(layout.box, along, across[::-1])
    return layout.canvas.plot(layout.box, across, along)


def reached(picture: Picture) -> Floats:
    """The values of references, which have to lie in the plot."""
    references = picture.references
    values = [line.value for line in references.lines]
    values += [value for ticks in references.ticks for value in ticks.values.tolist()]
    values += [end for band in references.bands for end in (band.low, band.high)]
    found = np.array(values, dtype=float)
    return np.asarray(found[np.isfinite(found)])


def reference_room(picture: Picture, pen: Pen, names: tuple[str, ...] = ()) -> float:
    """Pixels to the right of standing marks for the labels of references, and for further names."""
    texts = [(line.text, False) for line in picture.references.lines]
    texts += [(band.text, False) for band in picture.references.bands]
    texts += [(name, True) for name in names]
    widest = max((pen.width(text, "reference", bold=bold) for text, bold in texts), default=0)
    return min(widest + 12, picture.width * 0.25) if widest else 0
