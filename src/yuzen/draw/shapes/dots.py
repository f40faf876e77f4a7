"""Round points, of lines, rows and scatters: one collection, however many."""

from typing import Any

import numpy as np
from matplotlib.axes import Axes
from matplotlib.collections import PathCollection
from matplotlib.path import Path
from matplotlib.transforms import IdentityTransform

from yuzen.arrays import Floats
from yuzen.color.named import rgb_of
from yuzen.draw.strokes import strokes
from yuzen.draw.text.measurer import DPI
from yuzen.page.layer import PointStyles

POINT_EDGE_PX = 1.4  # pixels of paper around a point
POINT_OUTLINE_PX = 2.6  # of an outline that a rule gives
MOST_LOOKS = 40
MIX = np.sqrt([2.0, 3.0, 5.0, 7.0, 11.0, 13.0, 17.0, 19.0, 23.0, 29.0])  # sums of which are unlike
MANY_POINTS = 200  # points: with fewer it makes no difference
OUTLINED_AREA_TIMES = 1.6  # times the area of a point with an outline


def pixels(size: float) -> float:
    """Pixels as the points that Matplotlib measures lines in."""
    return size * 72 / DPI


def draw_dots(
    axes: Axes, paper: str, points: PointStyles, offsets: Floats, size: float, name: str = ""
) -> PathCollection:
    """Draw points at places in the axes' units, shape (k, 2), in this order.

    size: pixels across of those for which no rule says one. They have a thin edge of paper, or
          their outline.
    """
    diameters = np.where(np.isnan(points.sizes), pixels(size), points.sizes)
    outlined = points.outline[:, 3] > 0
    edge = np.where(outlined[:, None], points.outline[:, :3], rgb_of(paper))
    dots = Dots(
        [Path.unit_circle()],
        sizes=(diameters / 2) ** 2 * np.where(outlined, OUTLINED_AREA_TIMES, 1.0),
        offsets=offsets,
        offset_transform=axes.transData,
        transform=IdentityTransform(),  # else the axes would set their own
        facecolors=points.fill,
        edgecolors=edge,
        linewidths=np.where(outlined, pixels(POINT_OUTLINE_PX), pixels(POINT_EDGE_PX)),
        linestyles=strokes(points.strokes),
        zorder=3,
    )
    dots.set_gid(f"points {name}".rstrip())
    dots.set_clip_on(False)
    axes.add_collection(dots, autolim=False)
    return dots


class Dots(PathCollection):
    """Points as one collection, which is drawn look after look where there are few looks.

    A renderer stamps points of one look many times as fast as it draws points that may all differ.
    """

    def draw(self, renderer: Any) -> None:  # noqa: ANN401 - one of several renderers
        """Draw points of one style together, in the order in which styles first occur."""
        widths = np.asarray(self.get_linewidth(), dtype=float)
        styles = np.column_stack(
            [self.get_facecolor(), self.get_edgecolor(), widths, self.get_sizes()]
        )
        # One number for each look, as np.unique on rows is many times slower than on numbers.
        _, first, place = np.unique(
            np.round(styles, 6) @ MIX, return_index=True, return_inverse=True
        )
        # Matplotlib draws a collection of one look many times faster than one of several.
        if not 1 < len(first) <= MOST_LOOKS or len(styles) < MANY_POINTS:
            super().draw(renderer)
            return
        offsets, figure = np.asarray(self.get_offsets()), self.get_figure()
        assert figure is not None  # noqa: S101 - what is drawn is on one
        for look in np.argsort(first, kind="stable").tolist():
            dots_of_look, one = np.flatnonzero(place == look), first[look]
            collection = PathCollection(
                self.get_paths(),
                sizes=self.get_sizes()[one : one + 1],
                offsets=offsets[dots_of_look],
                offset_transform=self.get_offset_transform(),
                transform=IdentityTransform(),
                facecolors=self.get_facecolor()[one : one + 1],
                edgecolors=self.get_edgecolor()[one : one + 1],
                linewidths=float(widths[one]),
            )
            collection.axes = self.axes
            collection.set_figure(figure)
            collection.set_clip_on(False)
            collection.draw(renderer)
        self.stale = False
