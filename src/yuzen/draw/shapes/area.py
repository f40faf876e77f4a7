"""Areas between a base and lines, with the lines over them."""

from typing import Final

import numpy as np

from yuzen.color.gradient import hexes
from yuzen.color.named import rgb_of
from yuzen.draw.shapes.curves import by_look, surface
from yuzen.draw.shapes.line import Line
from yuzen.draw.shapes.shape import DrawnLayer
from yuzen.page.layer import Layer
from yuzen.scene.order import AREAS
from yuzen.scene.primitives import Polygons

AREA_OPACITY = 0.25  # of an area's colour


class Area(Line):
    """Pale areas under lines."""

    def draw(self, drawn: DrawnLayer) -> None:
        """Draw the areas, the lines and the points."""
        draw_areas(drawn)
        super().draw(drawn)


SHAPE: Final = Area()


def draw_areas(drawn: DrawnLayer) -> None:
    """A layer's areas in pale colours.

    Their edges are not blended, so that neighbours have no seam between them, and a pale opaque
    colour does not grow darker where two pieces share a pixel.
    """
    layer, lines, areas = drawn.layer, drawn.layer.segments, drawn.layer.areas
    paper = drawn.layout.canvas.theme.color("paper")
    if lines is None or areas is None:
        return
    for look in by_look(areas.color, areas.pattern, np.zeros(len(areas.low))):
        strength = look.color[3] * AREA_OPACITY
        # Mixed and opaque where areas do not overlap: pieces that meet would show a seam otherwise.
        pale = strength * np.array(look.color[:3]) + (1 - strength) * rgb_of(paper)
        fill = (*look.color[:3], strength) if areas.through else (*pale.tolist(), 1.0)
        corners, ends = surface(lines, areas, look.pieces, drawn.layout.pixel_rows)
        drawn.plane.add(
            Polygons(
                role="area",
                layer=layer.name,
                points=drawn.on_page(corners),
                rings=ends,
                shapes=np.array([len(ends)]),
                fill=np.array([fill]),
                patterns=(look.pattern,) * bool(look.pattern),
                pattern_ink=paper,
                blended=False,
                order=AREAS,
                clipped=True,
            )
        )


def pale_areas(layer: Layer, paper: str) -> list[str]:
    """The seen colours of a layer's areas, also where two overlap; [] without areas."""
    if layer.areas is None:
        return []
    looks = by_look(layer.areas.color, layer.areas.pattern, np.zeros(len(layer.areas.low)))
    ground, seen_colors = rgb_of(paper), []
    for color in np.unique([look.color[:3] for look in looks], axis=0):
        once = AREA_OPACITY * color + (1 - AREA_OPACITY) * ground
        seen_colors += hexes(np.stack([once, AREA_OPACITY * color + (1 - AREA_OPACITY) * once]))
    return seen_colors
