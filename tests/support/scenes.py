"""What was drawn, asked of the scene: shapes by their roles, with their places in numbers."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import combinations, pairwise
from typing import Any

import numpy as np
from matplotlib.backends.backend_agg import RendererAgg
from matplotlib.font_manager import FontProperties
from matplotlib.transforms import Bbox

import yuzen as yz
from yuzen.arrays import Floats
from yuzen.color.gradient import hexes
from yuzen.draw.text.font_reader import quiet_fonts
from yuzen.scene.box import PlotArea
from yuzen.scene.primitives import Primitive, Segments
from yuzen.scene.scene import Scene
from yuzen.scene.units import DPI


@dataclass(frozen=True)
class Seen:
    """A shape with the plot that it lies on; it answers in the plot's numbers, not in pixels."""

    shape: Any
    area: PlotArea

    @property
    def corners(self) -> Floats:
        """Rectangles as left, bottom, right and top, shape (n, 4)."""
        ends = self.area.numbers(self.shape.corners.reshape(-1, 2)).reshape(-1, 2, 2)
        return np.concatenate([ends.min(axis=1), ends.max(axis=1)], axis=1)

    @property
    def offsets(self) -> Floats:
        """The middles of points, shape (n, 2)."""
        return self.area.numbers(self.shape.centers)

    @property
    def lines(self) -> list[Floats]:
        """Lines by their ends."""
        return [self.area.numbers(line) for line in self.shape.lines()]

    @property
    def points(self) -> Floats:
        """The corners of a line, or of areas, shape (p, 2)."""
        return self.area.numbers(self.shape.points)

    @property
    def colors(self) -> list[str]:
        """The fills, as '#RRGGBB'."""
        return hexes(self.shape.fill[:, :3])


def drawn(chart: yz.Chart) -> Scene:
    return chart.stages.scene


def seen(
    scene: Scene, role: str, layer: str | None = None, *, plot: int | None = None
) -> list[Seen]:
    """The shapes of a role, of all layers or of one, on all plots or on one."""
    groups = scene.groups if plot is None else scene.groups[plot : plot + 1]
    page = PlotArea(scene.groups[0].area.box, (0, 1), (0, 1)) if scene.groups[0].area else None
    return [
        Seen(shape, group.area or page)  # type: ignore[arg-type]  # only shapes of plots are asked for numbers
        for group in groups
        for shape in group.layered()
        if shape.role == role and layer in {None, shape.layer}
    ]


def only(scene: Scene, role: str, layer: str | None = None) -> Seen:
    """The one shape of a role."""
    (found,) = seen(scene, role, layer)
    return found


def bars_of(scene: Scene) -> Seen:
    """The bars of the first layer."""
    return seen(scene, "bars")[0]


def texts_of(scene: Scene) -> list[str]:
    """All that is written."""
    return [line.text for line in scene.texts]


def upward(scene: Scene, places: Floats) -> Floats:
    """Places counted from the lower left corner of the page, as in a diagram."""
    return places * [1, -1] + [0, scene.height]


def spot(scene: Scene, x: float, y: float, plot: int = 0) -> tuple[float, float]:
    """Where two numbers of a plot are, in pixels from the lower left."""
    area = scene.groups[plot].area
    assert area is not None
    right, up = upward(scene, area.places(np.array([[x, y]])))[0].tolist()
    return right, up


def boxes_of(scene: Scene) -> list[tuple[str, Any]]:
    """Every text with its box in pixels from the lower left, as Matplotlib's renderer measures it."""
    renderer, boxes = RendererAgg(1, 1, DPI), []
    for line in scene.texts:
        weight = "bold" if line.font.bold else "normal"
        font = FontProperties(family=list(line.font.families), size=line.font.size, weight=weight)
        with quiet_fonts():
            measure = renderer.get_text_width_height_descent
            wide, tall, below = measure(line.text, font, ismath=False)
        x, y = line.left, scene.height - line.foot
        boxes.append((line.text, Bbox.from_extents(x, y - below, x + wide, y - below + tall)))
    return boxes


def straight_lines(scene: Scene, *, on_plots: bool = True) -> list[Floats]:
    """All straight lines by their ends from the lower left, on plots or on the page around them."""
    shapes = [
        shape
        for group in scene.groups
        if (group.area is not None) == on_plots
        for shape in group.layered()
        if isinstance(shape, Segments)
    ]
    return [upward(scene, line) for shape in shapes for line in shape.lines()]


def shapes_of(scene: Scene, kind: type[Primitive]) -> list[Any]:
    """All shapes of a type."""
    return [shape for shape in scene.shapes if isinstance(shape, kind)]


def assert_tidy(scene: Scene) -> None:
    """No text on another, none off the page, none under a reference line or a hairline."""
    boxes = boxes_of(scene)
    for text, box in boxes:
        on_page = box.x0 >= 0 and box.y0 >= 0 and box.x1 <= scene.width and box.y1 <= scene.height
        assert on_page, f"{text} is off the page"
    for (one, a), (other, b) in combinations(boxes, 2):
        apart = a.x1 <= b.x0 + 1 or b.x1 <= a.x0 + 1 or a.y1 <= b.y0 + 2 or b.y1 <= a.y0 + 2
        assert apart, f"{one} lies on {other}"
    for line in straight_lines(scene):
        (x0, y0), (x1, y1) = np.sort(line, axis=0)
        for text, box in boxes:
            crossed = x0 < box.x1 - 1 and x1 > box.x0 + 1 and y0 < box.y1 - 2 and y1 > box.y0 + 2
            assert not crossed, f"a line runs through {text}"


def hex_colors(colors: Floats) -> list[str]:
    """Colours as '#rrggbb'."""
    return [name.lower() for name in hexes(np.asarray(colors)[:, :3])]


def strokes(scene: Scene) -> list[tuple[str, Floats]]:
    """Every straight piece that is drawn of a line, shape (2, 2), with its colour, from the left."""
    found = []
    for line in seen(scene, "line", plot=0):
        color = hex_colors(line.shape.ink)[0]
        pieces = pairwise(line.points)
        found += [(color, np.array([a, b])) for a, b in pieces if not np.isnan([a, b]).any()]
    return sorted(found, key=lambda piece: piece[1][0, 0])


def points_of(scene: Scene) -> Seen:
    """The points of the first layer that has some."""
    return seen(scene, "points")[0]


def limits(scene: Scene, plot: int = 0) -> tuple[tuple[float, float], tuple[float, float]]:
    """The numbers at the edges of a plot: left and right, bottom and top."""
    area = scene.groups[plot].area
    assert area is not None
    return area.x, area.y


def plots(scene: Scene) -> list[PlotArea]:
    """The areas of all plots."""
    return [group.area for group in scene.groups if group.area is not None]


def scale_ends(area: PlotArea, kind: str) -> tuple[float, float]:
    """The values at the ends of a plot of horizontal bars, or of upright marks, without noise."""
    low, high = area.x if kind == "bar" else area.y
    return round(low, 6), round(high, 6)
