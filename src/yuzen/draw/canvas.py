"""The page that a chart is drawn on: shapes on plots and around them, and texts."""

from collections.abc import Mapping, Sequence
from dataclasses import field
from typing import Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.color.named import luminance, rgb_of
from yuzen.color.themes import TEXT_CONTRAST, Theme
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.formats.name_lists import listed
from yuzen.formats.words import ENGLISH_WORDS, Words
from yuzen.page.unprintable import replace_unprintable
from yuzen.scene.box import Box, PlotArea
from yuzen.scene.order import LINES, WRITING
from yuzen.scene.primitives import Primitive, Rectangles, Segments, joined
from yuzen.scene.scene import Group, Scene
from yuzen.scene.units import pixels
from yuzen.scene.writing import Writing, WrittenLine
from yuzen.value import Value

BEFORE: Final = {"left": 0.0, "center": 0.5, "right": 1.0}  # of a text's width, before its place

MAX_NOTED_NAMES: Final = 3  # things that a note calls by their names
MAX_NOTED_LETTERS: Final = 60  # of each name
LEADER_PX: Final = pixels(0.7)  # how thick a line from a mark to its text is

Line: TypeAlias = Sequence[tuple[float, float]]


class NoRoom(Exception):  # noqa: N818 - it is no fault of the program
    """A plot has less than a pixel left beside the texts around it."""


class Of(Value):
    """What a text belongs to: its role in the chart, its layer, and the number of its mark."""

    role: str
    layer: str = ""
    mark: int = -1


class Plane(Value, eq=False):
    """What shapes are put on: a plot, or the page itself, which has no numbers (`area` is None).

    of_chart: which of the chart's marks each mark of a layer is, by the layer's name, shape (n,).
    """

    area: PlotArea | None
    of_chart: Mapping[str, Codes] = field(default_factory=dict)
    shapes: list[Primitive] = field(default_factory=list)

    def add(self, shape: Primitive) -> None:
        """Put a shape over those of its order that are there; one of nothing is left out."""
        if len(shape):
            self.shapes.append(shape)

    def group(self) -> Group:
        """What lies on it now."""
        return Group(self.area, tuple(self.shapes), self.of_chart)


class Canvas:
    """A page of some pixels, and the pen that writes on it."""

    def __init__(self, theme: Theme, width: int, height: int, words: Words = ENGLISH_WORDS) -> None:
        self.theme = theme
        self.words = words
        self.measurer = TextMeasurer(theme)
        self.width = width
        self.height = height
        self.page = Plane(None)
        self._plots: list[Plane] = []
        self._lines: list[WrittenLine] = []
        self._noted: dict[str, list[str]] = {}

    def write(
        self,
        text: str,
        x: float,
        y: float,
        *,
        use: str,
        color: str | Floats,
        bold: bool = False,
        align: Literal["left", "center", "right"] = "left",
        upright: Literal["baseline", "center_baseline"] = "baseline",
        measurer: TextMeasurer | None = None,
        of: Of | None = None,
    ) -> None:
        """Write a text at a place in pixels; by the page's own pen unless there is another one.

        of: what it belongs to; left out, to the chart, in the role that its letters are for.
        """
        shown = replace_unprintable(text)
        if not shown:
            return
        face = (measurer or self.measurer).face(use, bold=bold)
        width = face.width(shown)
        left = x - width * BEFORE[align]
        # By the tall letters and not by the text at hand, so that all texts of a row stand level.
        foot = y + face.rise / 2 * (upright == "center_baseline")
        of = of or Of(use)
        self._lines.append(
            WrittenLine(
                shown, float(left), float(foot), width, ink_of(color), face.font,
                of.role, of.layer, of.mark,
            )
        )  # fmt: skip

    def rule(self, role: str, lines: Sequence[Line], color: str, width_px: float) -> None:
        """Straight lines between places in pixels."""
        self.page.add(straight(role, lines, color, width_px, LINES))

    def lead(self, lines: Sequence[Line], inks: Floats, layer: str, marks: Codes) -> None:
        """Thin lines from marks to their texts, in colours of shape (n, 4)."""
        points, ends = joined([np.array(line) for line in lines])
        self.page.add(
            Segments(
                role="leads",
                layer=layer,
                marks=marks,
                points=points,
                ends=ends,
                ink=inks,
                width_px=np.array([LEADER_PX]),
                order=LINES,
            )
        )

    def plates(self, boxes: Floats, fill: Floats) -> None:
        """Draw plain grounds behind texts: boxes of shape (m, 4), colours of (m, 4) or (1, 4)."""
        self.page.add(Rectangles(role="plates", corners=boxes, fill=fill))

    def paper(self, opacity: float = 1.0) -> Floats:
        """The paper's colour, as much of it as covers what is behind, shape (1, 4)."""
        return colors([self.theme.color("paper")], opacity)

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

    def note(self, names: Sequence[str], what: str) -> None:
        """Keep a note of things that have no room, by their names.

        what: what they are, and after a semicolon what to do: "names left out; widen the page".
        """
        if names:
            self._noted.setdefault(what, []).extend(names)

    def fitted(self, text: str, use: str, room: float, what: str, *, bold: bool = False) -> str:
        """A text, cut to the room if it is too long, which is noted. what: what such texts are."""
        shown = self.measurer.cut(text, use, room, bold=bold)
        if shown != text:
            self.note([text], f"{what} cut for want of room")
        return shown

    @property
    def notes(self) -> tuple[str, ...]:
        """What had no room: "3 names cut for want of room: Brinewick, Kelpwick and Eelstone"."""
        return tuple(_note(what, names) for what, names in self._noted.items())

    def plot(
        self,
        box: Box,
        x: tuple[float, float],
        y: tuple[float, float],
        of_chart: Mapping[str, Codes] | None = None,
    ) -> Plane:
        """A new plot over those that are there: a box, and the numbers at its edges.

        of_chart: which of the chart's marks each mark of a layer is, by the layer's name.
        Raises NoRoom.
        """
        if box.width < 1 or box.height < 1:
            raise NoRoom
        plane = Plane(PlotArea(box, x, y), of_chart or {})
        self._plots.append(plane)
        return plane

    def whole(self, of_chart: Mapping[str, Codes]) -> Plane:
        """A new plot as large as the page, whose numbers are pixels; `of_chart` as of a plot."""
        box = Box(0, 0, self.width, self.height)
        return self.plot(box, (0, self.width), (self.height, 0), of_chart)

    def scene(self) -> Scene:
        """All that has been drawn and written."""
        writing = Writing(role="writing", lines=tuple(self._lines), order=WRITING)
        page = Group(None, (*self.page.shapes, writing))
        groups = (*(plot.group() for plot in self._plots), page)
        return Scene(self.width, self.height, self.theme.color("paper"), groups, self.notes)


def _note(what: str, names: Sequence[str]) -> str:
    """How many of what, the first three of them by name, and what to do."""
    what, *hint = what.split("; ", 1)
    if len(names) == 1 and any(verb in what for verb in (" left out", " cut", " moved")):
        what = what.replace("s ", " ", 1)
    if not any(names):  # of very many marks none is called by its name
        return "; ".join([f"{len(names):,} {what}", *hint])
    shown = [name if len(name) <= MAX_NOTED_LETTERS else f"{name[:MAX_NOTED_LETTERS]}…"
             for name in names]  # fmt: skip
    listed_names = listed(shown, most=MAX_NOTED_NAMES + (len(shown) > MAX_NOTED_NAMES))
    return "; ".join([f"{len(names):,} {what}: {listed_names}", *hint])


def colors(names: Sequence[str], opacity: float = 1.0) -> Floats:
    """Colours of '#RRGGBB' as numbers, shape (n, 4)."""
    opaque = np.full((len(names), 4), opacity)
    for place, name in enumerate(names):
        opaque[place, :3] = rgb_of(name)
    return opaque


def ink_of(color: str | Floats) -> tuple[float, float, float, float]:
    """A colour of '#RRGGBB', or of three or four numbers, as red, green, blue and opacity."""
    parts = rgb_of(color) if isinstance(color, str) else color
    red, green, blue, opacity = [*parts.tolist(), 1.0][:4]
    return red, green, blue, opacity


def straight(
    role: str, lines: Sequence[Line], color: str, width_px: float, order: float
) -> Segments:
    """Straight lines in one colour and width."""
    points, ends = joined([np.array(line) for line in lines])
    return Segments(
        role=role,
        points=points,
        ends=ends,
        ink=colors([color]),
        width_px=np.array([width_px]),
        order=order,
    )
