"""The categories' names: beside lying marks, below standing ones."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from yuzen.draw.furniture import MARGIN
from yuzen.draw.lettering import ELLIPSIS
from yuzen.draw.placement import sampled, thinned

if TYPE_CHECKING:
    from yuzen.draw.layout import Layout
    from yuzen.draw.lettering import Pen
    from yuzen.draw.picture import Lettering
    from yuzen.rules.arrays import Bools

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


def names_below(layout: Layout) -> None:
    """Write the names below standing marks; those that find no room give way, flagged last."""
    names, pen = layout.picture.names, layout.canvas.pen
    rows = column_names(names, pen, layout.pitch, layout.picture.flagged)
    sizes = np.zeros(layout.count)
    for mark, lines in rows.texts.items():
        sizes[mark] = max((pen.width(line, "name", bold=True) for line in lines), default=0) + 6
    half = np.minimum(sizes, layout.canvas.width) / 2
    centers = np.clip(layout.rows, half, layout.canvas.width - half)
    written = 0
    for lane in range(rows.lanes):
        wanted = np.isin(np.arange(layout.count), list(rows.texts))
        wanted &= np.arange(layout.count) % rows.lanes == lane
        kept = thinned(centers, sizes, wanted, layout.picture.flagged)
        written += int(np.count_nonzero(kept))
        for mark in np.flatnonzero(kept).tolist():
            for place, line in enumerate(rows.texts[mark]):
                y = layout.box.bottom + NAME_LINE * (place + lane + 1) + 5
                layout.canvas.write(line, centers[mark], y, use="name", color=names.ink[mark],
                                    bold=bool(names.bold[mark]), align="center")  # fmt: skip
    layout.canvas.note(layout.count - written, "names left out for want of room; lying bars have more")
    cut = sum(line.endswith(ELLIPSIS) for lines in rows.texts.values() for line in lines)
    layout.canvas.note(cut, "names cut; lying bars have more room")


def names_beside(layout: Layout) -> None:
    """Write the names to the left of lying marks, cut to their column."""
    names, pen = layout.picture.names, layout.canvas.pen
    line = pen.height("name")
    wanted = np.ones(layout.count, dtype=bool)
    sizes = np.full(layout.count, line + 1)
    room = layout.box.left - MARGIN - 12
    kept = thinned(layout.rows, sizes, wanted, layout.picture.flagged)
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
