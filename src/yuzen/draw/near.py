"""Texts and badges that rules write at the marks of further layers: each at the first free place near it."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.callouts import CLEAR, GAP
from yuzen.draw.lettering import Signs, width_of, write_pieces

if TYPE_CHECKING:
    from yuzen.draw.callouts import Trails
    from yuzen.draw.layout import Layout
    from yuzen.draw.scale import Scale
    from yuzen.picture.layer import Layer
    from yuzen.rules.arrays import Floats

MOST_MOVES = 40  # past other texts, bars and lines


def write_near(layout: Layout, scale: Scale, layer: Layer, trails: Trails, taken: Floats) -> Floats:
    """Write what rules say at the marks of a layer. What finds no place is noted.

    taken: boxes of texts and bars that stand already, shape (m, 4). Returns the boxes of what is written.
    """
    pieces = [piece for label in layer.labels if label.where == "near" for piece in label.pieces]
    signs, boxes, left_out = Signs(), np.empty((0, 4)), 0
    across, tall = layout.across(layer.marks), layout.canvas.pen.height("number")
    if layer.shape == "line":
        across = layout.rows[layer.marks.slots]
    if pieces:
        marks = np.flatnonzero(~np.isnan(layer.marks.heights))
    else:
        marks = np.empty(0, dtype=np.intp)
    for mark in marks.tolist():
        width = width_of(pieces, layout.canvas.pen, mark)
        if not width:
            continue
        if layout.lying:
            size = (width, tall)
        else:
            size = (tall, width)
        point = scale(float(layer.marks.heights[mark])), float(across[mark])
        box = _free_box(layout, point, size, np.concatenate([taken, boxes]), trails)
        if box is None:
            left_out += 1
            continue
        boxes = np.concatenate([boxes, box[None]])
        left, top, _, bottom = layout.pixels(box[None])[0].tolist()
        write_pieces(layout.canvas, pieces, mark, (left, (top + bottom) / 2), signs)
    signs.draw(layout.canvas)
    layout.canvas.note(left_out, "texts of layers left out for want of room")
    return boxes


def bar_boxes(layout: Layout, scale: Scale, layer: Layer) -> Floats:
    """Where a layer's bars stand, as boxes of low and high along, near and far across, shape (n, 4)."""
    marks = layer.marks
    start = scale.zero + scale.unit * marks.starts
    end = scale.zero + scale.unit * marks.tips
    middle, half = layout.across(marks), layout.thickness * layer.width / 2
    found = np.stack([np.minimum(start, end), np.maximum(start, end), middle - half, middle + half], axis=1)
    return found[~np.isnan(marks.heights)]


def _free_box(
    layout: Layout, point: tuple[float, float], size: tuple[float, float], taken: Floats, trails: Trails
) -> Floats | None:
    """A box of a size along and across, beyond a point or before it, that touches nothing."""
    (along, across), (long, wide) = point, size
    near, far = across - wide / 2, across + wide / 2
    lines = [(low, high, near, far) for low, high in trails.between(near - CLEAR, far + CLEAR)]
    beside = taken[(taken[:, 2] < far + CLEAR) & (taken[:, 3] > near - CLEAR)]
    blocked = np.concatenate([beside, np.array(lines).reshape(-1, 4)])
    if layout.lying:
        most = layout.outer.right - layout.box.left
    else:
        most = layout.length + 12
    # Outward first: a text inside the plot would be read as another bar's.
    for up in (True, False):
        low = _moved(along + GAP if up else along - GAP - long, long, blocked, up=up)
        if low is not None and low >= 0 and low + long <= most:
            return np.array([low, low + long, near, far])
    return None


def _moved(low: float, long: float, blocked: Floats, *, up: bool) -> float | None:
    """Where a stretch is free when it has moved past all that blocks it; None: it never is."""
    for _ in range(MOST_MOVES):
        hit = blocked[(blocked[:, 0] < low + long + CLEAR) & (blocked[:, 1] > low - CLEAR)]
        if not len(hit):
            return low
        if up:
            low = float(hit[:, 1].max()) + CLEAR + 1
        else:
            low = float(hit[:, 0].min()) - CLEAR - 1 - long
    return None
