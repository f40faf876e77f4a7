"""The categories' names: beside lying marks, below standing ones."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.dates import ticks_of
from yuzen.draw.layout import SLACK
from yuzen.draw.pen import ELLIPSIS
from yuzen.draw.placement import sampled, thinned

if TYPE_CHECKING:
    from yuzen.draw.layout import Layout
    from yuzen.draw.pen import Pen
    from yuzen.picture.page import Lettering, Picture
    from yuzen.rules.arrays import Bools, Dates, Floats

NAME_LINE = 17  # pixels from one line of names to the next
MOST_LANES = 3
LEAST_ROOM = 120  # pixels that a name gets even where marks are closer; its neighbours give way
MOST_NAMES = 400  # that are measured one by one


@dataclass(frozen=True)
class NameRows:
    """Names below standing marks: each one's lines of text, and in how many lanes they alternate."""

    texts: dict[int, list[str]]
    lanes: int

    @property
    def lines(self) -> int:
        """How many lines of text stand below one another."""
        return max(self.lanes, *(len(lines) for lines in self.texts.values()), 1)


def column_names(names: Lettering, pen: Pen, pitch: float, flagged: Bools) -> NameRows:
    """Names in one lane, broken into lines, or alternating in two or three where they are wider."""
    marks = sampled(len(names.texts), MOST_NAMES, flagged).tolist()
    words = max((pen.width(w, "name", bold=True) for m in marks for w in names.texts[m].split()), default=0)
    if words + 6 <= pitch:
        return NameRows(
            {m: pen.broken(names.texts[m], "name", pitch - 6, lines=3, bold=True) for m in marks}, 1
        )
    widest = max((pen.width(names.texts[mark], "name", bold=True) for mark in marks), default=0)
    lanes = next((n for n in range(2, MOST_LANES + 1) if widest + 8 <= n * pitch), 1)
    room = max(lanes * pitch - 8, LEAST_ROOM) if lanes == 1 else widest
    return NameRows({m: [pen.cut(names.texts[m], "name", room, bold=True)] for m in marks}, lanes)


def lines_below(picture: Picture, pen: Pen, pitch: float) -> int:
    """How many lines of text stand below standing marks."""
    if picture.axis is not None:
        return 2 if picture.axis.dtype.kind == "M" else 1
    return column_names(picture.names, pen, pitch, picture.flagged_slots).lines


def names_below(layout: Layout) -> None:
    """Write below standing marks what they are called: names, or sparse dates and numbers."""
    if layout.picture.axis is None:
        _words_below(layout)
    else:
        _axis_below(layout, layout.picture.axis)


def _axis_below(layout: Layout, axis: Dates | Floats) -> None:
    names, box, pen = layout.picture.names, layout.box, layout.canvas.pen
    ticks = ticks_of(axis, layout.picture.grain, layout.rows, pen, box.width)
    slate, every = layout.canvas.theme.color("slate"), len(ticks.slots) == len(axis)
    for slot, upper, lower in zip(ticks.slots.tolist(), ticks.upper, ticks.lower, strict=True):
        x = layout.rows[slot]
        layout.canvas.write(upper, x, box.bottom + NAME_LINE + 5, use="name", color=names.ink[slot],
                            bold=every and bool(names.bold[slot]), align="center")  # fmt: skip
        if lower:
            half = pen.width(lower, "name") / 2
            x = min(max(x, layout.outer.left - SLACK + half), layout.outer.right + SLACK - half)
            y = box.bottom + 2 * NAME_LINE + 5
            layout.canvas.write(lower, x, y, use="name", color=slate, align="center")


def _words_below(layout: Layout) -> None:
    """Names; those that find no room give way, flagged last."""
    names, pen, count = layout.picture.names, layout.canvas.pen, len(layout.rows)
    flagged = layout.picture.flagged_slots
    rows = column_names(names, pen, layout.pitch, flagged)
    sizes = np.zeros(count)
    for mark, lines in rows.texts.items():
        sizes[mark] = max((pen.width(line, "name", bold=True) for line in lines), default=0) + 6
    outer = layout.outer
    half = np.minimum(sizes, outer.width) / 2
    centers = np.clip(layout.rows, outer.left - SLACK + half, outer.right + SLACK - half)
    written = 0
    for lane in range(rows.lanes):
        wanted = np.isin(np.arange(count), list(rows.texts))
        wanted &= np.arange(count) % rows.lanes == lane
        kept = thinned(centers, sizes, wanted, flagged)
        written += int(np.count_nonzero(kept))
        for mark in np.flatnonzero(kept).tolist():
            for place, line in enumerate(rows.texts[mark]):
                y = layout.box.bottom + NAME_LINE * (place + lane + 1) + 5
                layout.canvas.write(line, centers[mark], y, use="name", color=names.ink[mark],
                                    bold=bool(names.bold[mark]), align="center")  # fmt: skip
    layout.canvas.note(count - written, "names left out for want of room; lying bars have more")
    cut = sum(line.endswith(ELLIPSIS) for lines in rows.texts.values() for line in lines)
    layout.canvas.note(cut, "names cut; lying bars have more room")


def names_beside(layout: Layout) -> None:
    """Write the names to the left of lying marks, cut to their column."""
    names, pen = layout.picture.names, layout.canvas.pen
    line = pen.height("name")
    wanted = np.ones(len(layout.rows), dtype=bool)
    sizes = np.full(len(layout.rows), line + 1)
    room = layout.box.left - layout.outer.left - 12
    kept = thinned(layout.rows, sizes, wanted, layout.picture.flagged_slots)
    layout.canvas.note(int(np.count_nonzero(~kept)), "names left out for want of room")
    cut = 0
    for mark in np.flatnonzero(kept).tolist():
        bold = bool(names.bold[mark])
        text = pen.cut(names.texts[mark], "name", room, bold=bold)
        cut += text != names.texts[mark]
        y = layout.rows[mark] + line * 0.36
        layout.canvas.write(text, layout.box.left - 12, y, use="name", color=names.ink[mark],
                            bold=bold, align="right")  # fmt: skip
    layout.canvas.note(cut, "names cut to a third of the page")
