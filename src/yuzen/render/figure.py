"""Scenes as Matplotlib draws them: on a new figure, or on somebody's figure or axes."""

from matplotlib.axes import Axes
from matplotlib.figure import Figure
from matplotlib.transforms import Affine2D, Transform

from yuzen.render.artists import artists_of
from yuzen.render.sheets import Sheet, own_sheet
from yuzen.scene.box import PlotArea
from yuzen.scene.scene import Scene


def figure_of(scene: Scene) -> Figure:
    """A new figure of a scene, in its size and on its paper."""
    sheet = own_sheet(scene.width, scene.height, scene.paper)
    put(scene, sheet)
    return sheet.figure


def put(scene: Scene, sheet: Sheet) -> tuple[Axes, ...]:
    """Put a scene on a sheet; returns the axes of its plots.

    Their units are the values' along one way, and rows along the other, for whoever adds to them.
    """
    pixels = _pixels(scene, sheet.unit)
    made: list[Axes] = []
    for group in scene.groups:
        if group.area is None:
            for shape in group.shapes:
                for artist in artists_of(shape, pixels):
                    sheet.add(artist)
            continue
        axes = _axes(scene, group.area, sheet)
        made.append(axes)
        for shape in group.shapes:
            for artist in artists_of(shape, pixels):
                axes.add_artist(artist)
                artist.set_clip_on(shape.clipped)
    return tuple(made)


def _pixels(scene: Scene, unit: Transform) -> Transform:
    """From the pixels of the page, which run down, to where the sheet is, whose unit runs up."""
    return Affine2D().scale(1 / scene.width, -1 / scene.height).translate(0, 1) + unit


def _axes(scene: Scene, area: PlotArea, sheet: Sheet) -> Axes:
    """Bare axes on a part of the sheet, with the numbers of a plot."""
    box = area.box
    axes = sheet.axes(
        (
            box.left / scene.width,
            1 - box.bottom / scene.height,
            box.width / scene.width,
            box.height / scene.height,
        )
    )
    axes.set_axis_off()
    axes.set_xlim(*area.x)
    axes.set_ylim(*area.y)
    return axes
