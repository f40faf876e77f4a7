"""Charts as figures, and inside somebody else's figure or axes."""

from matplotlib.axes import Axes
from matplotlib.figure import Figure, SubFigure

from yuzen.compose.split_pages import first_sheet
from yuzen.draw.text.font_reader import quiet_fonts
from yuzen.page.page import Page
from yuzen.render.figure import figure_of, put
from yuzen.render.lock import DRAWING
from yuzen.render.scenes import inset_of
from yuzen.render.sheets import sheet_on
from yuzen.scene.scene import Scene
from yuzen.value import Value


class Inset(Value, eq=False):
    """What has been drawn inside somebody else's figure.

    axes:  those of the plots, whose units are the values' along one way, and rows along the other.
    notes: what had no room.

    >>> import yuzen as yz
    >>> from matplotlib.figure import Figure
    >>> chart = yz.chart({"route": ["Brinewick"], "surplus": [-300]}, category="route",
    ...     value="surplus")
    >>> inset = chart.draw(Figure().subplots())
    >>> len(inset.axes), inset.notes
    (1, ())
    """

    axes: tuple[Axes, ...]
    notes: tuple[str, ...]


def figure(scene: Scene) -> Figure:
    """A new figure of a scene."""
    with DRAWING:
        return figure_of(scene)


def draw_on(page: Page, target: Axes | Figure | SubFigure) -> Inset:
    """Draw a page on somebody's axes or figure, in its size; without texts plots fill it.

    Raises YuzenError (call-target, draw-room, draw-font); then nothing has been touched.
    """
    with DRAWING, quiet_fonts():
        sheet = sheet_on(target)
        scene = inset_of(first_sheet(page), sheet.width, sheet.height)
        sheet.clear(scene.paper)
        return Inset(put(scene, sheet), scene.notes)
