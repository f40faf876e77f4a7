"""The texts of parts: each inside its own piece of a bar, in ink that can be read there."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

if TYPE_CHECKING:
    from collections.abc import Callable

    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.picture.page import Picture, Pieces
    from yuzen.rules.arrays import Floats

INSET = 5  # pixels between a piece's edge and its text


def grounds(picture: Picture, scale: Scale, pieces: Pieces | None) -> Callable[[int, float], Floats]:
    """The colour of a mark at some pixels along it: of the piece there, or of the whole mark."""

    def ground(mark: int, along: float) -> Floats:
        whole: Floats = picture.fill[mark]
        if pieces is None:
            return whole
        value = scale.value(along) - picture.starts[mark]
        own = np.flatnonzero((pieces.mark == mark) & (pieces.low <= value) & (pieces.high >= value))
        return np.asarray(pieces.color[own[0], :3]) if len(own) else whole

    return ground


def write_pieces(layout: Layout, scale: Scale, pieces: Pieces, taken: Floats) -> Floats:
    """Write each text in the middle of its piece if it fits and nothing stands there.

    Returns the boxes of those that are written, as low and high along, near and far across.
    """
    pen, tall = layout.canvas.pen, layout.canvas.pen.height("number")
    boxes, left_out = [], 0
    for piece in [i for i, text in enumerate(pieces.texts) if text]:
        start = float(layout.picture.starts[pieces.mark[piece]])
        ends = start + np.array([pieces.low[piece], pieces.high[piece]])
        low, high = (scale(end) for end in np.clip(ends, *layout.picture.bounds).tolist())
        middle, width = float(layout.across[pieces.mark[piece]]), pen.width(pieces.texts[piece], "number")
        long, wide = (width, tall) if layout.lying else (tall, width)
        center = (low + high) / 2
        box = np.array([center - long / 2, center + long / 2, middle - wide / 2, middle + wide / 2])
        near = taken[(taken[:, 2] < box[3]) & (taken[:, 3] > box[2])] if len(taken) else taken
        free = not len(near) or not np.any((near[:, 0] < box[1] + INSET) & (near[:, 1] > box[0] - INSET))
        if free and long + 2 * INSET <= high - low and wide <= layout.thickness + 2:
            boxes.append(box)
            left, top, right, bottom = layout.pixels(box[None])[0]
            ink = layout.canvas.ink_on(pieces.color[piece, :3])
            layout.canvas.write(pieces.texts[piece], (left + right) / 2, (top + bottom) / 2 + tall * 0.36,
                                use="number", color=ink, align="center")  # fmt: skip
        else:
            left_out += 1
    layout.canvas.note(left_out, "texts of parts left out for want of room")
    return np.array(boxes).reshape(-1, 4)
