"""The sheet that a chart is drawn on: pixels from the top left, texts, and one plot."""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Final, Literal

import numpy as np
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.collections import LineCollection, PolyCollection
from matplotlib.colors import to_rgba
from matplotlib.transforms import Transform

from yuzen.arrays import Floats
from yuzen.color.named import luminance, rgb_of
from yuzen.color.themes import TEXT_CONTRAST, Theme
from yuzen.draw.sheet import Sheet
from yuzen.draw.text.drawn_texts import DrawnLine, Writing
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.page.unprintable import replace_unprintable

BEFORE: Final = {"left": 0.0, "center": 0.5, "right": 1.0}  # of a text's width, before its place


class NoRoom(Exception):  # noqa: N818 - it is no fault of the program
    """A plot has less than a pixel left beside the texts around it."""


@dataclass(frozen=True)
class Box:
    """A rectangle in pixels from the sheet's top left corner."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def ends(self) -> tuple[float, float, float, float]:
        """Left, top, right and bottom."""
        return self.left, self.top, self.right, self.bottom

    @property
    def width(self) -> float:
        """Width in pixels."""
        return self.right - self.left

    @property
    def height(self) -> float:
        """Height in pixels."""
        return self.bottom - self.top


class Canvas:
    """A sheet of some pixels, and the pen that writes on it."""

    def __init__(self, theme: Theme, sheet: Sheet) -> None:
        self.theme = theme
        self.measurer = TextMeasurer(theme)
        self.width = sheet.width
        self.height = sheet.height
        self.lines: list[DrawnLine] = []  # what is written
        self.axes: list[Axes] = []  # on parts of the sheet
        self._noted: Counter[str] = Counter()
        self._sheet = sheet

    @property
    def unit(self) -> Transform:
        """From the unit square to the sheet."""
        return self._sheet.unit

    def add(self, artist: Artist) -> None:
        """Put an artist on the sheet, wherever it reaches."""
        self._sheet.add(artist)

    def write(
        self,
        text: str,
        x: float,
        y: float,
        *,
        use: str,
        color: Any,  # noqa: ANN401 - whatever Matplotlib takes as a colour
        bold: bool = False,
        align: Literal["left", "center", "right"] = "left",
        upright: Literal["baseline", "center_baseline"] = "baseline",
        measurer: TextMeasurer | None = None,
    ) -> None:
        """Write a text at a place in pixels; by the sheet's own pen unless there is another one."""
        shown = replace_unprintable(text)
        if not shown:
            return
        face = (measurer or self.measurer).face(use, bold=bold)
        left = x - face.width(shown) * BEFORE[align]
        # By the tall letters and not by the text at hand, so that all texts of a row stand level.
        foot = y + face.rise / 2 * (upright == "center_baseline")
        self.lines.append(DrawnLine(shown, left, foot, to_rgba(color), face))

    def finish(self) -> None:
        """Put all that is written on the sheet."""
        self.add(Writing(self.lines, self.unit, (self.width, self.height)))

    def rule(
        self, segments: Sequence[Sequence[tuple[float, float]]], color: str, width: float
    ) -> None:
        """Straight lines between places in pixels."""
        if not segments:
            return
        collection = LineCollection(
            [[(x / self.width, 1 - y / self.height) for x, y in segment] for segment in segments],
            colors=color,
            linewidths=width,
            capstyle="butt",
            transform=self.unit,
        )
        self.add(collection)

    def rings(self, boxes: Floats) -> list[Floats]:
        """Boxes in pixels, shape (m, 4): left, top, right, bottom; as polygons on the figure."""
        left, top, right, bottom = boxes.T
        corners = np.stack([left, top, right, top, right, bottom, left, bottom], axis=1).reshape(
            -1, 4, 2
        )
        return list(corners / np.array([self.width, -self.height]) + np.array([0, 1]))

    def plates(self, boxes: Floats, fill: Any) -> None:  # noqa: ANN401 - a colour, or one for each
        """Draw plain grounds behind texts, boxes of left, top, right, bottom, shape (m, 4)."""
        if not len(boxes):
            return
        collection = PolyCollection(
            self.rings(boxes), facecolors=fill, linewidths=0, transform=self.unit
        )
        collection.set_gid("plates")
        self.add(collection)

    def paper(self, opacity: float = 1.0) -> tuple[float, float, float, float]:
        """The paper's colour, as much of it as covers what is behind."""
        return to_rgba(self.theme.color("paper"), opacity)

    def ink_on(self, ground: Floats) -> str:
        """The theme's ink or paper, whichever contrasts more with a colour, shape (3,).

        Of those one always has a contrast of 4.5 at the least.
        """
        behind = float(luminance(ground))

        def apart(ink: str) -> float:
            light = float(luminance(rgb_of(ink)))
            return (max(light, behind) + 0.05) / (min(light, behind) + 0.05)

        inks = [self.theme.color("ink"), self.theme.color("paper")]
        best = max(inks, key=apart)
        return best if apart(best) >= TEXT_CONTRAST else max(("#000000", "#FFFFFF"), key=apart)

    def note(self, count: int, what: str) -> None:
        """Keep a note of things that have no room."""
        if count:
            self._noted[what] += count

    def fitted(self, text: str, use: str, room: float, what: str, *, bold: bool = False) -> str:
        """A text, cut to the room if it is too long, which is noted. what: what such texts are."""
        shown = self.measurer.cut(text, use, room, bold=bold)
        self.note(int(shown != text), f"{what} cut for want of room")
        return shown

    @property
    def notes(self) -> tuple[str, ...]:
        """What had no room, for those who want to know: "3 names cut for want of room"."""
        notes = []
        for what, count in self._noted.items():
            one = count == 1 and ("left out" in what or " cut" in what)
            notes.append(f"{count:,} {what.replace('s ', ' ', 1) if one else what}")
        return tuple(notes)

    def plot(self, box: Box, x: Sequence[float], y: Sequence[float]) -> Axes:
        """Bare axes on a part of the sheet, with the data's limits.

        Raises NoRoom.
        """
        if box.width < 1 or box.height < 1:
            raise NoRoom
        axes = self._sheet.axes(
            (
                box.left / self.width,
                1 - box.bottom / self.height,
                box.width / self.width,
                box.height / self.height,
            )
        )
        axes.set_axis_off()
        axes.set_xlim(*x)
        axes.set_ylim(*y)
        self.axes.append(axes)
        return axes
