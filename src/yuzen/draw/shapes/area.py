"""Areas between a base and lines, with the lines over them."""

from typing import Final

import numpy as np
from matplotlib.axes import Axes
from matplotlib.colors import to_hex
from matplotlib.patches import PathPatch

from yuzen.color.gradient import hexes
from yuzen.color.named import rgb_of
from yuzen.draw.shapes.curves import by_look, surface
from yuzen.draw.shapes.line import Line
from yuzen.draw.shapes.shape import DrawnLayer
from yuzen.draw.signs.badges import HATCHES
from yuzen.page.layer import Layer

AREA_ZORDER = 0.4  # the order in which Matplotlib draws areas: before the hairlines
AREA_OPACITY = 0.25  # of an area's colour


class Area(Line):
    """Pale areas under lines."""

    def draw(self, drawn: DrawnLayer) -> None:
        """Draw the areas, the lines and the points."""
        draw_areas(drawn.axes, drawn.layer, drawn.layout.canvas.theme.color("paper"))
        super().draw(drawn)


SHAPE: Final = Area()


def draw_areas(axes: Axes, layer: Layer, paper: str) -> None:
    """A layer's areas in pale colours.

    Their edges are not blended, so that neighbours have no seam between them, and a pale opaque
    colour does not grow darker where two pieces share a pixel.
    """
    lines, areas = layer.segments, layer.areas
    if lines is None or areas is None:
        return
    for pieces, color, pattern, _ in by_look(areas.color, areas.pattern, np.zeros(len(areas.low))):
        strength = color[3] * AREA_OPACITY
        # Mixed and opaque where areas do not overlap: pieces that meet would show a seam otherwise.
        pale = strength * np.array(color[:3]) + (1 - strength) * rgb_of(paper)
        outline = surface(lines, areas, pieces, axes)
        patch = PathPatch(
            outline,
            facecolor=(*color[:3], strength) if areas.through else tuple(pale.tolist()),
            linewidth=0,
            antialiased=False,
            zorder=AREA_ZORDER,
        )
        patch.set_gid("area")
        axes.add_artist(patch)
        if pattern:
            hatched = PathPatch(
                outline,
                facecolor="none",
                edgecolor=paper,
                linewidth=0,
                hatch=HATCHES[pattern],
                zorder=AREA_ZORDER,
            )
            hatched.set_gid(f"pattern {pattern}")
            axes.add_artist(hatched)


def pale_areas(layer: Layer, paper: str) -> list[str]:
    """The seen colours of a layer's areas, also where two overlap; [] without areas."""
    if layer.areas is None:
        return []
    styles = by_look(layer.areas.color, layer.areas.pattern, np.zeros(len(layer.areas.low)))
    seen = {to_hex(color[:3]) for _, color, _, _ in styles}
    ground, seen_colors = rgb_of(paper), []
    for color in sorted(seen):
        once = AREA_OPACITY * rgb_of(color) + (1 - AREA_OPACITY) * ground
        seen_colors += hexes(
            np.stack([once, AREA_OPACITY * rgb_of(color) + (1 - AREA_OPACITY) * once])
        )
    return seen_colors
