"""The swatches of a key: areas, lines and points as large as capitals, with all that marks have."""

from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.color.named import rgb_of
from yuzen.draw.canvas import Canvas, colors
from yuzen.draw.signs.badges import BADGE_SIZE_PX, badges_at
from yuzen.page.page import KeyEntry, KeyRamp
from yuzen.scene.box import Box
from yuzen.scene.order import SWATCHES
from yuzen.scene.primitives import Dots, Rectangles, Segments
from yuzen.scene.units import pixels

SWATCH_PX: Final = 12  # as high as capitals, on whose foot it stands
DASHED_PX: Final = 26  # of a line with dashes, so that two of them are seen
LINE_SWATCH_PX: Final = 3.0  # how thick
SWATCH_EDGE_PX: Final = pixels(0.3)  # of its own colour, so that neighbours leave no seam
SWATCH_OUTLINE_PX: Final = pixels(1.5)
POINT_SWATCH_PX: Final = 8.4  # across
POINT_OUTLINE_PX: Final = 2.2
LARGEST_POINT_PX: Final = 15.0  # across, of a point that a rule makes larger


def swatch_width(entry: KeyEntry) -> float:
    """Pixels across of an entry's swatch; 0 for words and for a sign alone."""
    if entry.seen in {"words", "sign"}:
        return 0.0
    if entry.seen == "line" and entry.pattern:
        return DASHED_PX
    return max(SWATCH_PX, _point_size(entry) if entry.seen == "point" else 0.0)


def draw_swatch(canvas: Canvas, entry: KeyEntry, x: float, y: float) -> None:
    """Draw an entry's swatch in a line of the key that begins at a place."""
    foot = y + 4 + SWATCH_PX
    width = swatch_width(entry)
    if entry.seen == "line":
        _draw_line(canvas, entry, (x, foot - SWATCH_PX / 2), width)
    elif entry.seen == "point":
        _draw_point(canvas, entry, (x + width / 2, foot - SWATCH_PX / 2))
    elif width:
        _draw_area(canvas, entry, Box(x, y + 4, x + width, foot))


def draw_sign(canvas: Canvas, entry: KeyEntry, left: float, y: float) -> None:
    """Draw an entry's badge, as large as those at marks."""
    center = np.array([[left + BADGE_SIZE_PX / 2, y + 4 + SWATCH_PX / 2]])
    canvas.page.add(badges_at([entry.badge], center, rgb_of(entry.ink)[None]))


def draw_ramp(canvas: Canvas, ramp: KeyRamp, box: Box) -> None:
    """Draw the colours of a shade from left to right, with a line over its middle."""
    count = len(ramp.colors)
    sides = box.left + box.width / count * np.arange(count + 1)
    corners = np.column_stack(
        [sides[:-1], np.full(count, box.top), sides[1:], np.full(count, box.bottom)]
    )
    fill = colors(list(ramp.colors))
    if ramp.middle:
        middle = (box.left + box.right) / 2
        line = [middle - 0.5, box.top - 3, middle + 0.5, box.bottom + 3]
        corners = np.vstack([corners, line])
        fill = np.vstack([fill, colors([canvas.theme.color("slate")])])
    canvas.page.add(
        Rectangles(
            role="swatches",
            corners=corners,
            fill=fill,
            edge=fill,
            edge_px=np.array([SWATCH_EDGE_PX]),
        )
    )


def _draw_area(canvas: Canvas, entry: KeyEntry, box: Box) -> None:
    paper = canvas.theme.color("paper")
    corners, fill = np.array([box.ends]), colors([entry.color or paper])
    edge, edge_px = fill, SWATCH_EDGE_PX
    if entry.outline:
        edge, edge_px = colors([entry.outline]), SWATCH_OUTLINE_PX
        inset = edge_px / 2
        corners = corners + np.array([inset, inset, -inset, -inset])
    canvas.page.add(
        Rectangles(
            role="swatches",
            corners=corners,
            fill=fill,
            edge=edge,
            edge_px=np.array([edge_px]),
            strokes=(entry.stroke,) * bool(entry.outline),
        )
    )
    if entry.pattern:
        canvas.page.add(
            Rectangles(
                role="swatches",
                corners=corners,
                patterns=(entry.pattern,),
                pattern_ink=paper,
                pattern_dense=True,
                order=SWATCHES,
            )
        )


def _draw_line(canvas: Canvas, entry: KeyEntry, place: tuple[float, float], width: float) -> None:
    """A line, and over it a point where marks of the look have an outline."""
    x, y = place
    canvas.page.add(
        Segments(
            role="swatches",
            points=np.array([[x, y], [x + width, y]]),
            ends=np.array([2]),
            ink=colors([entry.color or canvas.theme.color("slate")]),
            width_px=np.array([LINE_SWATCH_PX]),
            strokes=(entry.pattern,) * bool(entry.pattern),
        )
    )
    if entry.outline or entry.size:
        _draw_point(canvas, entry, (x + width / 2, y))


def _draw_point(canvas: Canvas, entry: KeyEntry, center: tuple[float, float]) -> None:
    color = colors([entry.color or canvas.theme.color("paper")])
    edge: Floats = colors([entry.outline]) if entry.outline else color
    canvas.page.add(
        Dots(
            role="swatches",
            centers=np.array([center]),
            radii=np.array([_point_size(entry) / 2]),
            fill=color,
            edge=edge,
            edge_px=np.array([POINT_OUTLINE_PX if entry.outline else SWATCH_EDGE_PX]),
            strokes=(entry.stroke,) * bool(entry.stroke),
            forms=(entry.form,) * bool(entry.form),
        )
    )


def _point_size(entry: KeyEntry) -> float:
    """Pixels across of a point: as usual, or as a rule makes it, as far as the line has room."""
    return min(max(entry.size, POINT_SWATCH_PX), LARGEST_POINT_PX)
