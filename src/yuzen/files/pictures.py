"""Pages as the bytes of files, with the chart's own record inside."""

from collections.abc import Callable
from dataclasses import replace
from functools import cache
from importlib import import_module

from yuzen.files.picture import Drawn, Picture
from yuzen.files.picture_types import TYPES
from yuzen.render.loading import loading_matplotlib


def picture_of(drawn: Drawn) -> Picture:
    """The page as a file. Raises YuzenError (call-format) for HTML of anything but a table."""
    writer = TYPES[drawn.kind]
    picture = _writer(writer)(drawn)
    if drawn.page.size.letters == "text" or writer == "svg":
        return picture
    note = f"letters is about SVG, so this {drawn.kind} does not show it."
    return replace(picture, notes=(*picture.notes, note))


@cache
def _writer(name: str) -> Callable[[Drawn], Picture]:
    """The writer of a name: a file in this folder, which is loaded when it is needed."""
    with loading_matplotlib():
        write: Callable[[Drawn], Picture] = import_module(f"yuzen.files.{name}").write
    return write
