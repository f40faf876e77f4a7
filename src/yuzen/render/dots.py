"""Round points as one artist, however many."""

from typing import Any, Final

import numpy as np
from matplotlib.collections import PathCollection
from matplotlib.transforms import IdentityTransform

from yuzen.render.alike import alike

MOST_LOOKS: Final = 40
MANY_POINTS: Final = 200  # points: with fewer it makes no difference


class DotsArtist(PathCollection):
    """Points as one collection, which is drawn look after look where there are few looks.

    A renderer stamps points of one look many times as fast as it draws points that may all differ.
    """

    def draw(self, renderer: Any) -> None:  # noqa: ANN401 - one of several renderers
        """Draw points of one style together, in the order in which styles first occur."""
        widths = np.asarray(self.get_linewidth(), dtype=float)
        styles = np.column_stack(
            [self.get_facecolor(), self.get_edgecolor(), widths, self.get_sizes()]
        )
        groups = alike(styles)
        first, place = groups.first, groups.places
        # Matplotlib draws a collection of one look many times faster than one of several.
        several_forms = len(self.get_paths()) > 1
        if several_forms or not 1 < len(first) <= MOST_LOOKS or len(styles) < MANY_POINTS:
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
