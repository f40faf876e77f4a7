"""Scenes as pixels, by the renderer of Matplotlib's figures without a figure.

Figures, axes and artists are half of what Matplotlib loads, and a picture needs none of them. What
is drawn is what `figure` shows, pixel by pixel. A new shape is a function here and a line in the
table.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import field
from itertools import cycle, islice
from math import lcm
from typing import Any, Final

import numpy as np
from matplotlib.backends import _backend_agg
from matplotlib.path import Path
from numpy.typing import NDArray

from yuzen.arrays import Codes, Floats
from yuzen.color.named import rgba_of
from yuzen.render.alike import look_after_look
from yuzen.render.letters import text_image
from yuzen.render.paths import (
    badge_path,
    form_paths,
    hatch_of,
    path_of_rings,
    patterned,
    scaled_dashes,
    square_to,
)
from yuzen.render.whole_pixels import covers_whole_pixels, fill_rectangles
from yuzen.scene.box import Box
from yuzen.scene.primitives import (
    NO_COLOR,
    Badges,
    Dots,
    Filled,
    Polygons,
    Polyline,
    Primitive,
    Rectangles,
    Segments,
    Spots,
)
from yuzen.scene.scene import Scene
from yuzen.scene.strokes import DASHES, STROKES, Dashes
from yuzen.scene.units import DPI, points
from yuzen.scene.writing import Writing
from yuzen.value import Value

HATCH_DENSITY: Final = 6  # strokes of a pattern in an inch, as figures have them
HATCH_WIDTH: Final = 1.0  # points
IDENTITY: Final = np.eye(3)
NO_PLACES: Final = np.zeros((1, 2))  # of paths that stand where their corners are


class Pen:
    """How a shape is drawn, as the renderer asks: by these names."""

    _alpha = 1.0
    _forced_alpha = False
    _capstyle = "butt"
    _joinstyle = "round"

    def __init__(self, clip: Floats | None) -> None:
        """A thin black line that ends with a box: its corners, shape (2, 2); None: nowhere."""
        self._cliprect = self.clip_box = clip
        self._rgb: tuple[float, ...] = (0.0, 0.0, 0.0, 1.0)
        self._linewidth = 1.0
        self._antialiased = True
        self.dashes: tuple[float, tuple[float, ...] | None] = (0.0, None)
        self.pattern = ""

    def get_dashes(self) -> tuple[float, tuple[float, ...] | None]:
        """Where dashes begin, and their lengths."""
        return self.dashes

    def get_clip_path(self) -> tuple[None, None]:
        """Nothing is cut by anything but a box."""
        return None, None

    def get_snap(self) -> None:
        """Level and upright lines are moved to whole pixels."""

    def get_sketch_params(self) -> None:
        """No line is drawn by a shaking hand."""

    def get_hatch_path(self) -> Path | None:
        """The strokes of the pattern."""
        return Path.hatch(self.pattern, HATCH_DENSITY) if self.pattern else None

    def get_hatch_color(self) -> tuple[float, ...]:
        """Not asked of a shape whose pattern has a colour of its own."""
        return self._rgb

    def get_hatch_linewidth(self) -> float:
        """In points."""
        return HATCH_WIDTH

    def look(self, ink: Floats, width: float, dashes: Dashes, *, blended: bool = True) -> None:
        """Take a colour, a width in points, dashes, and whether pixels that it cuts are blended."""
        self._rgb, self._linewidth, self._antialiased = tuple(ink.tolist()), width, blended
        self.dashes = scaled_dashes(dashes, width)


class ShapeLook(Value, eq=False):
    """How several shapes are filled and outlined; widths are points, shape (n,) or (1,)."""

    widths: Floats
    fill: Floats = field(default_factory=lambda: NO_COLOR)
    edge: Floats = field(default_factory=lambda: NO_COLOR)
    dashes: Sequence[Dashes] = ((),)
    blended: bool = True
    pattern: str = ""

    @property
    def single(self) -> bool:
        """Whether all shapes look alike, have an outline without gaps, and no pattern."""
        counts = {len(self.fill), len(self.edge), len(self.widths), len(self.dashes)}
        return counts == {1} and not self.dashes[0] and not self.pattern


class RasterSheet:
    """A page of pixels; `unit` are its pixels in a pixel of the page."""

    def __init__(self, scene: Scene, dpi: float) -> None:
        """A page in the colour of its paper."""
        self.dpi, self.unit = dpi, dpi / DPI
        self.width, self.height = round(scene.width * self.unit), round(scene.height * self.unit)
        self.renderer: Any = _backend_agg.RendererAgg(self.width, self.height, dpi)  # type: ignore[attr-defined]
        self.pixels: NDArray[np.uint8] = np.asarray(self.renderer)
        # As one number for each pixel, which is ten times as fast as four.
        paper = np.array([round(255 * part) for part in rgba_of(scene.paper)], dtype=np.uint8)
        self.pixels.view(np.uint32)[:] = paper.view(np.uint32)[0]
        # From the page's pixels, which run down, to those of the renderer, which run up.
        # By way of shares of the page, as figures go, so that halves of pixels are rounded alike.
        across, down = 1 / scene.width * self.width, -1 / scene.height * self.height
        self.transform = np.array([[across, 0, 0], [0, down, self.height], [0, 0, 1]])

    def clip(self, box: Box) -> Floats:
        """A box of the page in the renderer's pixels: its lower left and upper right corner."""
        left, top, right, bottom = box.ends
        corners: Floats = np.array([[left, bottom, 1], [right, top, 1]]) @ self.transform.T
        return corners[:, :2]

    def collection(
        self,
        pen: Pen,
        paths: Sequence[Path],
        look: ShapeLook,
        *,
        stretched: Floats = np.empty((0, 3, 3)),  # noqa: B008 - never changed
        offsets: Floats = NO_PLACES,
        moved: bool = False,
    ) -> None:
        """Draw paths, each stretched by its own matrix, then moved by its own offset.

        moved: whether paths are around their offsets; otherwise their corners are on the page.
        Paths that are all alike are drawn once and stamped, which is many times as fast.
        """
        master, placing = (IDENTITY, self.transform) if moved else (self.transform, IDENTITY)
        if len(paths) == 1 and len(stretched) <= 1 and look.single:
            whole = master @ (stretched[0] if len(stretched) else IDENTITY)
            if self._fits(paths[0], whole):
                pen.look(look.edge[0], float(look.widths[0]), (), blended=look.blended)
                fill = tuple(look.fill[0].tolist())
                self.renderer.draw_markers(pen, paths[0], whole, Path(offsets), placing, fill)
                return
        # The renderer goes round in each list, so widths and dashes have to be of one length.
        count = lcm(len(look.widths), len(look.dashes))
        widths = list(islice(cycle(look.widths.tolist()), count))
        dashes = islice(cycle(look.dashes), count)
        pen.pattern = look.pattern
        # The collection's own hatch colours are asked first, so that ink and outline may differ.
        self.renderer.draw_path_collection(
            pen, master, paths, stretched, offsets, placing, look.fill, look.edge, widths,
            [scaled_dashes(*pair) for pair in zip(dashes, widths, strict=True)], [look.blended],
            [None], "screen", hatchcolors=look.edge,
        )  # fmt: skip

    def _fits(self, path: Path, transform: Floats) -> bool:
        """Whether a path is smaller than the page, as a stamp has to be."""
        corners = np.asarray(path.vertices) @ transform[:2, :2].T
        width, height = np.ptp(corners, axis=0)
        return bool(width < self.width and height < self.height)


def raster(scene: Scene, dpi: float) -> NDArray[np.uint8]:
    """The pixels of a scene: red, green, blue and opacity, shape (rows, columns, 4)."""
    sheet = RasterSheet(scene, dpi)
    for group in scene.groups:
        clip = None if group.area is None else sheet.clip(group.area.box)
        for shape in group.layered():
            DRAWN[type(shape)](shape, sheet, Pen(clip if shape.clipped else None))
    return sheet.pixels


def _rectangles(shape: Rectangles, sheet: RasterSheet, pen: Pen) -> None:
    plain, *patterns = _looks(shape)
    if covers_whole_pixels(shape):
        fill_rectangles(sheet.pixels, shape, sheet.transform, pen.clip_box)
        looks = patterns
    else:
        looks = [plain, *patterns]
    stretched = square_to(shape.corners)
    # One square for all: a path for each would cost a Python object each.
    square, offsets = [Path.unit_rectangle()], np.zeros((len(shape), 2))
    for look, kept in looks:
        sheet.collection(pen, square, look, stretched=stretched[kept], offsets=offsets[kept])


def _polygons(shape: Polygons, sheet: RasterSheet, pen: Pen) -> None:
    paths = [path_of_rings(*outline) for outline in shape.outlines()]
    for look, kept in _looks(shape):
        sheet.collection(pen, [paths[place] for place in kept.tolist()], look)


def _looks(shape: Filled) -> list[tuple[ShapeLook, Codes]]:
    """How shapes are filled and outlined, then each pattern over those that have it."""
    plain = ShapeLook(
        fill=shape.fill,
        edge=shape.edge,
        widths=points(shape.edge_px),
        dashes=[STROKES[name] for name in shape.strokes] or [()],
        blended=shape.blended,
    )
    looks = [(plain, np.arange(len(shape)))]
    # A pattern is laid over a shape, as its colour may differ from the outline's.
    for name, kept in patterned(shape):
        ink = np.array([rgba_of(shape.pattern_ink)])
        hatch = hatch_of(shape, name)
        looks.append((ShapeLook(edge=ink, widths=np.zeros(1), pattern=hatch), kept))
    return looks


def _segments(shape: Segments, sheet: RasterSheet, pen: Pen) -> None:
    look = ShapeLook(
        edge=shape.ink,
        widths=points(shape.width_px),
        dashes=[DASHES[name] for name in shape.strokes] or [()],
    )
    sheet.collection(pen, [Path(line) for line in shape.lines()], look)


def _polyline(shape: Polyline, sheet: RasterSheet, pen: Pen) -> None:
    pen.look(shape.ink[0], points(shape.width_px), DASHES[shape.stroke])
    sheet.renderer.draw_path(pen, Path(shape.points), sheet.transform, None)


def _dots(shape: Dots, sheet: RasterSheet, pen: Pen) -> None:
    paths, every, groups = form_paths(shape.forms), np.arange(len(shape)), []
    if len(paths) == 1:
        styles = [shape.fill, shape.edge, shape.edge_px, shape.radii]
        groups = look_after_look(np.column_stack(styles))
    if not groups:
        _points(shape, sheet, pen, paths, every, every)
    for dots in groups:
        _points(shape, sheet, pen, paths, dots, dots[:1])


def _points(
    shape: Dots, sheet: RasterSheet, pen: Pen, paths: list[Path], dots: Codes, styles: Codes
) -> None:
    """Some of the points, in the styles of some."""
    look = ShapeLook(
        fill=shape.fill[styles],
        edge=shape.edge[styles],
        widths=points(shape.edge_px[styles]),
        dashes=[STROKES[name] for name in shape.strokes] or [()],
    )
    sheet.collection(
        pen,
        paths,
        look,
        stretched=_scales(shape.radii[styles] * sheet.unit),
        offsets=shape.centers[dots],
        moved=True,
    )


def _spots(shape: Spots, sheet: RasterSheet, pen: Pen) -> None:
    del shape, sheet, pen  # there is nothing to be seen of them


def _badges(shape: Badges, sheet: RasterSheet, pen: Pen) -> None:
    names = np.array(shape.names, dtype=np.str_)
    # One collection for each form, in the order in which forms first occur.
    for name in dict.fromkeys(shape.names):
        kept = names == name
        sheet.collection(
            pen,
            [badge_path(name)],
            ShapeLook(fill=shape.ink[kept], widths=np.zeros(1)),
            stretched=_scales(np.array([shape.size_px / 2 * sheet.unit])),
            offsets=shape.centers[kept],
            moved=True,
        )


def _scales(lengths: Floats) -> Floats:
    """Matrices that stretch by some lengths both ways, shape (n, 3, 3)."""
    stretched = np.zeros((len(lengths), 3, 3))
    stretched[:, 0, 0] = stretched[:, 1, 1] = lengths
    stretched[:, 2, 2] = 1.0
    return stretched


def _writing(shape: Writing, sheet: RasterSheet, pen: Pen) -> None:
    for line in shape.lines:
        image = text_image(line, line.left * sheet.unit, line.foot * sheet.unit, sheet.dpi)
        if image.pixels.size:
            # Images stand on their lower edge, and their rows run up.
            below = sheet.height - image.top - len(image.pixels)
            sheet.renderer.draw_image(pen, image.left, below, image.pixels[::-1])


DRAWN: Final[Mapping[type[Primitive], Callable[[Any, RasterSheet, Pen], None]]] = {
    Rectangles: _rectangles,
    Polygons: _polygons,
    Segments: _segments,
    Polyline: _polyline,
    Dots: _dots,
    Spots: _spots,
    Badges: _badges,
    Writing: _writing,
}
