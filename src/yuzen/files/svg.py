"""Pages as SVG."""

from yuzen.compose.split_pages import first_sheet
from yuzen.files.picture import Drawn, Picture
from yuzen.render.scenes import scene_of
from yuzen.render.svg.document import svg_of


def write(drawn: Drawn) -> Picture:
    """A page as an SVG, with its record in it."""
    page = first_sheet(drawn.page)
    scene = scene_of(page)
    text = svg_of(
        scene, drawn.record(), drawn.answers(), prefix=drawn.ids, letters=page.size.letters
    )
    return Picture(text.encode(), scene.notes)
