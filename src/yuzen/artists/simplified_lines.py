"""Lines in pieces that are drawn as plain lines are: without the corners that no pixel shows."""

from typing import Any

from matplotlib.collections import LineCollection
from matplotlib.path import Path
from matplotlib.transforms import Transform


class SimplifiedLines(LineCollection):
    """Lines whose paths have every corner, and of which those are drawn that can be seen.

    Matplotlib simplifies the paths of plain lines and not those of collections, which takes five
    times as long where a line has 100,000 points. Its settings decide here as they do there.
    """

    def draw(self, renderer: Any) -> None:  # noqa: ANN401 - one of many renderers
        """Draw the lines at the scales that the axes have now."""
        transform = self.get_transform()
        every_corner: Any = self.get_paths()
        self._paths = [_simplified(path, transform) for path in every_corner]
        try:
            super().draw(renderer)
        finally:
            self._paths = every_corner


def _simplified(path: Path, transform: Transform) -> Path:
    """A path without corners that lie on straight lines between others, as the axes place them."""
    if not path.should_simplify:
        return path
    on_page = transform.transform_path(path).cleaned(remove_nans=True, simplify=True)
    return transform.inverted().transform_path(on_page)
