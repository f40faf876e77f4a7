"""Names of lines over two or three periods, beside both ends of each line."""

from collections import Counter
from dataclasses import replace
from typing import Final

import numpy as np

from yuzen.arrays import Codes, Floats
from yuzen.draw.axes.plot_layout import SLACK_PX, PlotLayout
from yuzen.draw.axes.scale import AxisScale
from yuzen.draw.canvas import Line, Of, colors
from yuzen.draw.places.callouts import pieces_of
from yuzen.draw.room.placement import spread_out
from yuzen.draw.shapes.line import beside_end, line_ends, spoken
from yuzen.draw.signs.styled_texts import Signs, width_of, write_pieces
from yuzen.draw.text.measurer import ELLIPSIS
from yuzen.page.layer import Layer
from yuzen.page.plot import Plot
from yuzen.value import Value

MOST_PERIODS: Final = 3
CLOSE_PX: Final = 8.0  # pixels more than a name is high, within which other lines end close by
UNMOVED_PX: Final = 3.0  # pixels up or down that a name needs no line for
LEAD_GAP_PX: Final = 3.0  # pixels between a line to a name and what it joins
LEAD_RUN_PX: Final = 10.0  # pixels that a moved name stands farther aside
END_NAME_GAP_PX: Final = 8  # pixels between the end of a line and its name


class SideName(Value):
    """A name beside an end of a line, in pixels, and the number of the point if that is called out.

    left:   where the name begins; number: where the number does, nearer to the point.
    middle: of both, upright.
    layer:  the line's, and its mark at that end; told: whether its number is written.
    box:    of both, as low and high along, near and far across.
    lead:   the line from the end of its line, where the name is moved; () for none.
    """

    text: str
    left: float
    number: float
    middle: float
    color: str
    layer: Layer
    mark: int
    is_numbered: bool
    box: tuple[float, float, float, float]
    lead: Line = ()


def is_slope(plot: Plot) -> bool:
    """Whether a plot is of lines over two or three periods, which are named at both ends."""
    named = any(layer.named and layer.segments is not None for layer in plot.layers)
    return named and 1 < len(plot.axes.category) <= MOST_PERIODS


def side_names(layout: PlotLayout, scale: AxisScale) -> list[SideName]:
    """The names of all lines of a slope, moved up or down so that none overlap."""
    if not is_slope(layout.plot):
        return []
    return [
        name
        for layer in layout.plot.layers
        if layer.named and layer.segments is not None
        for last in (False, True)
        for name in _beside(layout, scale, layer, last=last)
    ]


def boxes_of(names: list[SideName]) -> Floats:
    """The boxes of names, shape (m, 4)."""
    return np.array([name.box for name in names]).reshape(-1, 4)


def told_beside(names: list[SideName], layer: Layer) -> Codes:
    """The marks of a layer whose numbers stand beside their line's name."""
    return np.array(
        [name.mark for name in names if name.is_numbered and name.layer is layer], dtype=np.intp
    )


def write_side_names(layout: PlotLayout, names: list[SideName]) -> None:
    """Write them, and note what gave way."""
    if not names:
        return
    _note_what_gave_way(layout, names)
    canvas, signs = layout.canvas, Signs()
    for name in names:
        place = name.left, name.middle
        canvas.write(
            name.text,
            *place,
            use="reference",
            color=name.color,
            upright="center_baseline",
            of=Of("name", name.layer.name, name.mark),
        )
        if name.lead:
            ink, own = colors([name.color]), np.array([name.mark])
            canvas.lead([name.lead], ink, name.layer.name, own)
        if name.is_numbered:
            write_pieces(
                canvas,
                layout.measurer,
                pieces_of(name.layer),
                name.mark,
                (name.number, name.middle),
                signs,
            )
    signs.draw(canvas)


def _beside(layout: PlotLayout, scale: AxisScale, layer: Layer, *, last: bool) -> list[SideName]:
    """The names at one end of each line."""
    measurer, marks = layout.canvas.measurer, layer.marks
    tall = measurer.height("reference")
    ends = _with_room(layout, layer, line_ends(layer, last=last), tall + 3)
    at = [scale(float(marks.heights[mark])) for mark in ends.tolist()]
    middles = spread_out(at, [tall + 3] * len(at), 0.0, layout.length)
    names = []
    for mark, value_px in zip(ends.tolist(), middles, strict=True):
        end = scale(float(marks.heights[mark]))
        crowded = others_near(np.array(at), end, tall + CLOSE_PX)
        led = crowded or abs(value_px - end) > UNMOVED_PX
        name = _side_name(layout, layer, mark, last=last, run=LEAD_RUN_PX * led)
        near, far = name.box[2:]
        way, edge = (1, near) if last else (-1, far)
        middle = layout.box.bottom - value_px
        line = [
            (float(layout.rows[marks.slots[mark]]) + way * LEAD_GAP_PX, layout.box.bottom - end),
            (edge - way * LEAD_GAP_PX, middle),
        ]
        box = value_px - tall / 2, value_px + tall / 2, near, far
        lead = line if led and (name.text or name.is_numbered) else ()
        names.append(replace(name, middle=middle, box=box, lead=lead))
    return names


def _side_name(layout: PlotLayout, layer: Layer, mark: int, *, last: bool, run: float) -> SideName:
    """A name and its number beside an end of a line, across the page; its height comes later.

    run: pixels that a line to it needs.
    """
    series = layer.series[int(layer.marks.series[mark])]
    point = float(layout.rows[layer.marks.slots[mark]])
    aside = layout.outer.right + SLACK_PX - point, point - layout.outer.left + SLACK_PX
    gap = beside_end(layer, mark, END_NAME_GAP_PX)
    room = min(layout.pitch / 2, *map(abs, aside)) - gap - END_NAME_GAP_PX
    number = _number_width(layout, layer, mark)
    if number > room:  # it is called out elsewhere
        number = 0.0
    text = _name(layout, series.name, room - number - run)
    width = layout.canvas.measurer.width(text, "reference")
    if last:
        near = point + gap + run
        left, places_number = near + number, near
    else:
        near = point - gap - run - number - width
        left, places_number = near, near + width + END_NAME_GAP_PX
    box = 0.0, 0.0, near, near + number + width
    color = layout.readable(series.color)
    return SideName(text, left, places_number, 0.0, color, layer, mark, number > 0, box)


def others_near(ends: Floats, end: float, reach: float) -> bool:
    """Whether another line ends within some pixels."""
    return int(np.count_nonzero(np.abs(ends - end) < reach)) > 1


def _name(layout: PlotLayout, name: str, room: float) -> str:
    """As much of a name as has room, '' for none."""
    text = layout.canvas.measurer.cut(name, "reference", room)
    if text == ELLIPSIS != name:
        return ""
    return text


def _note_what_gave_way(layout: PlotLayout, names: list[SideName]) -> None:
    """Say how many names are cut or left out."""
    layers = [layer for layer in layout.plot.layers if layer.named and layer.segments is not None]
    wanted = [
        _series_name(layer, mark)
        for layer in layers
        for last in (False, True)
        for mark in line_ends(layer, last=last).tolist()
    ]
    texts = [(name.text, _series_name(name.layer, name.mark)) for name in names]
    written = [(text, name) for text, name in texts if text]
    gone = Counter(wanted) - Counter(name for _, name in written)
    layout.canvas.note(list(gone.elements()), "names of lines left out for want of room")
    cut = [name for text, name in written if text != name]
    layout.canvas.note(cut, "names of lines cut for want of room")


def _series_name(layer: Layer, mark: int) -> str:
    return layer.series[int(layer.marks.series[mark])].name


def _with_room(layout: PlotLayout, layer: Layer, ends: Codes, tall: float) -> Codes:
    """The ends whose names fit below one another: of flagged lines first, then of the highest."""
    most = int(layout.length // tall)
    if len(ends) <= most:
        return ends
    marks = layer.marks
    flagged = np.isin(marks.series[ends], marks.series[marks.flagged])
    return ends[np.lexsort((-marks.heights[ends], ~flagged))][:most]


def _number_width(layout: PlotLayout, layer: Layer, mark: int) -> float:
    """Pixels of the number of a point that is called out, with a gap to its name; 0 for none."""
    if layer.points is None or not spoken(layer)[0][mark]:
        return 0.0
    width = width_of(pieces_of(layer), layout.measurer, mark)
    return width + END_NAME_GAP_PX if width else 0.0
