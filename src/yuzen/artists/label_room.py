"""Room for the text of a reference: where along its line no mark of the axes lies."""

from typing import Final

import numpy as np
from matplotlib.axes import Axes

from yuzen.arrays import Floats
from yuzen.artists.axes_content import AxesContent
from yuzen.color.themes import Theme
from yuzen.draw.text.font_reader import quiet_fonts
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.scene.units import DPI

SEARCH_STEP: Final = 0.02  # of the axes, from one place to the next that is tried
TEXT_GAP_PX: Final = 4.0  # pixels between a text and its line, or the edge


def free_place(
    axes: Axes, drawn: AxesContent, theme: Theme, text: str, value: float
) -> tuple[float, bool]:
    """Where along a level line a text ends, from 0 to 1, and whether it stands above the line.

    The first free place from the right end on, above the line before below it; where none is, the
    right end.
    """
    measurer, scale = TextMeasurer(theme), _scale(axes)
    with quiet_fonts():
        width, height = (
            size * scale
            for size in (measurer.width(text, "reference"), measurer.height("reference"))
        )
    box = axes.bbox
    level = float(axes.transData.transform((0.0, value))[1] - box.y0)
    marks = _boxes(axes, drawn)
    for end in np.arange(1.0, 0.0, -SEARCH_STEP).tolist():
        right = end * box.width - TEXT_GAP_PX * scale
        if right - width < 0:
            break
        for above in (True, False):
            low = level + TEXT_GAP_PX * scale if above else level - TEXT_GAP_PX * scale - height
            inside = low >= 0 and low + height <= box.height
            if inside and not _covered(marks, np.array([right - width, low, right, low + height])):
                return end, above
    return 1.0, True


def _covered(marks: Floats, box: Floats) -> bool:
    """Whether some mark lies in a box: left, bottom, right and top, of marks shape (n, 4)."""
    across = (marks[:, 0] < box[2]) & (marks[:, 2] > box[0])
    return bool((across & (marks[:, 1] < box[3]) & (marks[:, 3] > box[1])).any())


def _boxes(axes: Axes, drawn: AxesContent) -> Floats:
    """The marks as boxes in dots from the lower left corner of the axes, shape (n, 4)."""
    covered_boxes = []
    for series in drawn.series:
        half, tips = series.widths / 2, series.floors + series.heights
        starts = series.floors if drawn.shape == "bars" else tips
        corners = [
            _dots(axes, drawn, series.places + side * half, end)
            for side, end in ((-1, starts), (1, tips))
        ]
        if drawn.shape in {"lines", "areas"}:  # what lies from one mark to the next is covered too
            corners = [corners[0][:-1], corners[0][1:]]
        both = np.stack(corners)
        covered_boxes.append(np.concatenate([both.min(axis=0), both.max(axis=0)], axis=1))
    corner = np.tile([axes.bbox.x0, axes.bbox.y0], 2)
    boxes: Floats = np.nan_to_num(np.concatenate(covered_boxes), nan=-1e9) - corner
    return boxes


def _dots(axes: Axes, drawn: AxesContent, places: Floats, values: Floats) -> Floats:
    """Places and values as dots, shape (n, 2)."""
    points = np.stack([places, values], axis=1)
    if drawn.horizontal:
        points = points[:, ::-1]
    return np.asarray(axes.transData.transform(points))


def _scale(axes: Axes) -> float:
    """Dots of the figure for each pixel that texts are measured in."""
    return axes.figure.dpi / DPI
