"""Round points as one artist, however many."""

from typing import Any

import numpy as np
from matplotlib.collections import PathCollection
from matplotlib.transforms import IdentityTransform

from yuzen.render.alike import look_after_look


class DotsArtist(PathCollection):
    """Points as one collection, which is drawn look after look where there are few looks."""

    def draw(self, renderer: Any) -> None:  # noqa: ANN401 - one of several renderers
        """Draw points of one style together, in the order in which styles first occur."""
        fill, edge = np.asarray(self.get_facecolor()), np.asarray(self.get_edgecolor())
        widths = np.asarray(self.get_linewidth(), dtype=float)
        styles = np.column_stack([fill, edge, widths, self.get_sizes()])
        groups = [] if len(self.get_paths()) > 1 else look_after_look(styles)
        if not groups:
            super().draw(renderer)
            return
        offsets, figure = np.asarray(self.get_offsets()), self.get_figure()
        assert figure is not None  # noqa: S101 - what is drawn is on one
        for dots in groups:
            one = dots[:1]
            collection = PathCollection(
                self.get_paths(),
                sizes=self.get_sizes()[one],
                offsets=offsets[dots],
                offset_transform=self.get_offset_transform(),
                transform=IdentityTransform(),
                facecolors=fill[one],
                edgecolors=edge[one],
                linewidths=float(widths[one[0]]),
            )
            collection.axes = self.axes
            collection.set_figure(figure)
            collection.set_clip_on(False)
            collection.draw(renderer)
        self.stale = False
