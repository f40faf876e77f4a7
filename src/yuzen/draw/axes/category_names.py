"""The categories' names: beside horizontal marks, below vertical ones."""

import numpy as np

from yuzen.arrays import Bools, Codes
from yuzen.draw.axes.date_ticks import DATE_TEXT_GAP_PX, ticks_of
from yuzen.draw.axes.plot_layout import SLACK_PX, PlotLayout
from yuzen.draw.room.placement import sampled, thinned
from yuzen.draw.signs.badges import BADGE_ROOM_PX
from yuzen.draw.signs.styled_texts import Signs
from yuzen.draw.text.measurer import ELLIPSIS, TextMeasurer
from yuzen.page.plot import CategoryAxis
from yuzen.page.styled_texts import StyledTexts

NAME_LINE_HEIGHT_PX = 17  # pixels from one line of names to the next, if they are of the usual size
NAME_GAP_PX = 6  # pixels between names below one row of marks
NARROWEST_NAME_PX = 40  # pixels in which a shortened name still tells what it is
LEAST_NAME_ROOM_PX = (
    120  # pixels that a name gets even where marks are closer; its neighbours give way
)
MAX_MEASURED_NAMES = 200  # that are measured one by one


def name_line(measurer: TextMeasurer) -> float:
    """Pixels from one line of names to the next."""
    return measurer.line("name", NAME_LINE_HEIGHT_PX)


def column_names(
    names: StyledTexts, measurer: TextMeasurer, pitch: float, flagged: Bools
) -> dict[int, list[str]]:
    """Names below vertical marks, level in one row: in one line, broken into two, or shortened.

    Where marks are too close for that, as many as have room; their neighbours give way.
    """
    marks, room = (
        sampled(len(names.texts), MAX_MEASURED_NAMES, flagged).tolist(),
        pitch - NAME_GAP_PX,
    )

    def wide(text: str) -> float:
        return measurer.width(text, "name", bold=True)

    whole = {mark: names.texts[mark] for mark in marks}
    if all(wide(text) <= room for text in whole.values()):
        return {mark: [text] for mark, text in whole.items()}
    # Two lines help as long as words are whole, or long enough to be told apart when cut.
    if room >= NARROWEST_NAME_PX or all(
        wide(word) <= room for text in whole.values() for word in text.split()
    ):
        return {
            mark: measurer.broken(text, "name", room, lines=2, bold=True)
            for mark, text in whole.items()
        }
    return {
        mark: [measurer.cut(text, "name", max(room, LEAST_NAME_ROOM_PX), bold=True)]
        for mark, text in whole.items()
    }


def lines_below(axis: CategoryAxis, measurer: TextMeasurer, pitch: float) -> int:
    """How many lines of text stand below vertical marks."""
    if axis.values is not None:
        if axis.unit and not axis.edges:
            return 2
        return 1
    return max(
        (len(lines) for lines in column_names(axis.names, measurer, pitch, axis.flagged).values()),
        default=1,
    )


def names_below(layout: PlotLayout) -> None:
    """Write below vertical marks what they are called: names, or sparse dates and numbers."""
    if layout.axis.values is None:
        _words_below(layout)
    elif layout.axis.edges and layout.plot.layers[0].shape.is_bar:
        _edges_below(layout)
    else:
        _axis_below(layout)


def _axis_below(layout: PlotLayout) -> None:
    box, measurer = layout.box, layout.canvas.measurer
    ticks = ticks_of(layout.axis, layout.rows, measurer, box.width)
    slate, every = layout.canvas.theme.color("slate"), len(ticks.slots) == len(layout.axis)
    signs = Signs()
    for slot, upper, lower in zip(ticks.slots.tolist(), ticks.upper, ticks.lower, strict=True):
        x = layout.rows[slot]
        _name(
            layout, upper, slot, (x, box.bottom + name_line(measurer) + 5), signs, plain=not every
        )
        if lower:
            half = measurer.width(lower, "name") / 2
            x = min(
                max(x, layout.outer.left - SLACK_PX + half), layout.outer.right + SLACK_PX - half
            )
            y = box.bottom + 2 * name_line(measurer) + 5
            layout.canvas.write(lower, x, y, use="name", color=slate, align="center")
    signs.draw(layout.canvas)
    unseen = layout.axis.ruled.copy()
    unseen[ticks.slots] = False
    gone = _called(layout, np.flatnonzero(unseen))
    layout.canvas.note(gone, "names that rules change left out of the sparse axis")


def _edges_below(layout: PlotLayout) -> None:
    """Write the edges of bins where they are: every one, or every second, fifth or tenth."""
    edges, measurer = layout.axis.edges, layout.canvas.measurer
    places = layout.start + layout.pitch * (np.array([place for place, _ in edges]) + 0.5)
    texts = [text for _, text in edges]
    widths = np.array([measurer.width(text, "name") for text in texts])
    for every in (step * 10**power for power in range(4) for step in (1, 2, 5)):
        kept = np.arange(0, len(edges), every)
        if np.all(
            np.diff(places[kept]) >= (widths[kept][1:] + widths[kept][:-1]) / 2 + DATE_TEXT_GAP_PX
        ):
            break
    ink = layout.canvas.theme.color("ink")
    for edge in kept.tolist():
        y = layout.box.bottom + name_line(measurer) + 5
        layout.canvas.write(texts[edge], places[edge], y, use="name", color=ink, align="center")
    unseen = _called(layout, np.flatnonzero(layout.axis.ruled))
    layout.canvas.note(
        unseen, "names that rules change left out of the axis of edges; horizontal bars have them"
    )


def _name(
    layout: PlotLayout,
    text: str,
    slot: int,
    place: tuple[float, float],
    signs: Signs,
    *,
    plain: bool = False,
    first: bool = True,
) -> None:
    """Write a slot's name, or a line of it, around a place; its badge is before the first line."""
    names, (x, y) = layout.axis.names, place
    bold = bool(names.bold[slot]) and not plain
    if first and (badge := names.badge(slot)) and names.badge_ink is not None:
        left = x - (layout.canvas.measurer.width(text, "name", bold=bold) + BADGE_ROOM_PX) / 2
        signs.badge(badge, left, y - 4, names.badge_ink[slot])
        x += BADGE_ROOM_PX / 2
    layout.canvas.write(text, x, y, use="name", color=names.ink[slot], bold=bold, align="center")


def _words_below(layout: PlotLayout) -> None:
    """Names; those that find no room give way, flagged last."""
    names, measurer, count = layout.axis.names, layout.canvas.measurer, len(layout.rows)
    flagged, signs = layout.axis.flagged, Signs()
    texts = column_names(names, measurer, layout.pitch, flagged)
    sizes = np.zeros(count)
    for mark, lines in texts.items():
        sizes[mark] = (
            max((measurer.width(line, "name", bold=True) for line in lines), default=0)
            + NAME_GAP_PX
        )
        sizes[mark] += BADGE_ROOM_PX * bool(names.badge(mark))
    outer = layout.outer
    half = np.minimum(sizes, outer.width) / 2
    centers = np.clip(layout.rows, outer.left - SLACK_PX + half, outer.right + SLACK_PX - half)
    kept = np.flatnonzero(thinned(centers, sizes, np.isin(np.arange(count), list(texts)), flagged))
    for mark in kept.tolist():
        for place, line in enumerate(texts[mark]):
            y = layout.box.bottom + name_line(measurer) * (place + 1) + 5
            _name(layout, line, mark, (centers[mark], y), signs, first=place == 0)
    signs.draw(layout.canvas)
    gone = np.setdiff1d(np.arange(count), kept)
    layout.canvas.note(
        _called(layout, gone), "names left out for want of room; horizontal bars have more"
    )
    cut = [mark for mark in kept.tolist() if any(line.endswith(ELLIPSIS) for line in texts[mark])]
    layout.canvas.note(
        _called(layout, np.array(cut, dtype=np.intp)), "names cut; horizontal bars have more room"
    )


def _called(layout: PlotLayout, slots: Codes) -> list[str]:
    """What some slots are called, by their names or by their marks'."""
    texts = layout.axis.names.texts
    if not len(slots):
        return []
    if len(texts):
        return [texts[slot] for slot in slots.tolist()]
    marks = layout.plot.layers[0].marks
    called = dict(zip(marks.slots.tolist(), marks.names, strict=True))
    return [called.get(slot, "") for slot in slots.tolist()]


def names_beside(layout: PlotLayout) -> None:
    """Write the names to the left of horizontal marks, cut to their column."""
    names, measurer, signs = layout.axis.names, layout.canvas.measurer, Signs()
    line = measurer.height("name")
    wanted = np.ones(len(layout.rows), dtype=bool)
    sizes = np.full(len(layout.rows), line + 1)
    room = layout.box.left - layout.outer.left - 12
    kept = thinned(layout.rows, sizes, wanted, layout.axis.flagged)
    layout.canvas.note(_called(layout, np.flatnonzero(~kept)), "names left out for want of room")
    cut = []
    for mark in np.flatnonzero(kept).tolist():
        bold = bool(names.bold[mark])
        badge = names.badge(mark)
        text = measurer.cut(
            names.texts[mark], "name", room - BADGE_ROOM_PX * bool(badge), bold=bold
        )
        if text != names.texts[mark]:
            cut.append(names.texts[mark])
        y = layout.rows[mark] + line * 0.36
        if badge and names.badge_ink is not None:
            left = layout.box.left - 12 - measurer.width(text, "name", bold=bold) - BADGE_ROOM_PX
            signs.badge(badge, left, layout.rows[mark], names.badge_ink[mark])
        layout.canvas.write(text, layout.box.left - 12, y, use="name", color=names.ink[mark],
                            bold=bold, align="right")  # fmt: skip
    signs.draw(layout.canvas)
    layout.canvas.note(cut, "names cut to a third of the page")
