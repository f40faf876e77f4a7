"""Panels: one small picture for each value of a column, cut out of the picture of them all."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np

from yuzen.errors import wrong
from yuzen.picture.page import Fields, Label, Lettering, Pieces, References, Strands
from yuzen.picture.references import references
from yuzen.rules.arrays import Text
from yuzen.rules.marks import Shown
from yuzen.rules.paths import Paths

if TYPE_CHECKING:
    from yuzen.picture.judged import Judged
    from yuzen.picture.page import Divider, Picture, Tracing
    from yuzen.rules.arrays import Bools, Codes, Floats


def panels(judged: Judged, picture: Picture) -> tuple[tuple[str, Picture], ...]:
    """The panels by name, in their order; none where the chart has none. Raises YuzenError."""
    of, names = judged.marks.panels
    if len(names) > MOST_PANELS:
        message = (
            f"{judged.marks.panel} has {len(names):,} values, and a page holds {MOST_PANELS} panels at most."
        )
        raise wrong("data-panels", f"{message} Keep fewer rows, or draw a picture for each value.")
    return tuple((name, _panel(judged, picture, np.flatnonzero(of == i))) for i, name in enumerate(names))


def _panel(judged: Judged, picture: Picture, marks: Codes) -> Picture:
    """The picture of some marks, which stand one after another."""
    slots, names, axis = _axis(judged, picture, marks)
    return replace(
        picture,
        slots=slots,
        names=names,
        axis=axis,
        labels=tuple(
            Label(label.where, tuple(_lettering(piece, marks) for piece in label.pieces), label.plate)
            for label in picture.labels
        ),
        layers=tuple(
            replace(
                layer,
                patterns=tuple(layer.patterns[mark] for mark in marks.tolist()),
                tracing=PanelTracing(layer.tracing, marks, len(picture.values)),
                **{key: getattr(layer, key)[marks] for key in ("values", "fill", "opacity")},
            )
            for layer in picture.layers
        ),
        tracing=PanelTracing(picture.tracing, marks, len(picture.values)),
        badges=tuple(picture.badges[mark] for mark in marks.tolist()),
        patterns=tuple(picture.patterns[mark] for mark in marks.tolist()),
        references=_references(judged, picture, marks),
        panels=(),
        note="",
        **{key: getattr(picture, key)[marks] for key in EACH},
    )


MOST_PANELS = 60
EACH = (
    "values", "lines", "fill", "marker", "sizes", "outline", "opacity", "sums", "flagged", "base",
    "starts", "badge_ink",
)  # fmt: skip


def _references(judged: Judged, picture: Picture, marks: Codes) -> References:
    """The panel's own references; of the whole chart where its peers are."""
    spec = judged.spec.chart
    found = picture.references if spec.panel_peers == "chart" else references(judged.taken(marks))
    if found is not picture.references:
        return found
    place = {int(mark): i for i, mark in enumerate(marks)}
    return replace(
        found,
        ticks=tuple(replace(ticks, values=ticks.values[marks]) for ticks in found.ticks),
        dividers=tuple(_moved(line, place) for line in found.dividers if line.after in place),
    )


def _moved(divider: Divider, place: dict[int, int]) -> Divider:
    return replace(divider, after=place[divider.after])


def _axis(judged: Judged, picture: Picture, marks: Codes) -> tuple[Codes, Lettering, Floats | None]:
    """Where the panel's marks stand, what the slots are called, and the axis if it grows.

    Panels that share dates or numbers have one axis, so that they can be compared.
    """
    column = judged.marks.columns[judged.marks.category]
    slots = judged.slots[marks] - judged.slots[marks].min()
    first = np.unique(judged.slots, return_index=True)[1]
    own = np.unique(judged.slots[marks])
    names = _lettering(picture.names, own)
    if isinstance(column, Text) or (judged.marks.standing is not None and (judged.marks.standing == 1).any()):
        return slots, names, None
    stood = column[first]
    every = np.unique(stood)
    if len(every) == len(stood):  # no two panels share a date
        axis = stood[own]
        return slots, names, axis if np.all(np.diff(axis.astype(float)) > 0) else None  # type: ignore[return-value]
    ink = np.broadcast_to(picture.names.ink[:1], (len(every), 3)).copy()
    bold = np.zeros(len(every), dtype=bool)
    places = np.searchsorted(every, stood[own])
    ink[places], bold[places] = picture.names.ink[own], picture.names.bold[own]
    shared = Lettering(Shown(every, judged.marks.grain), ink, bold)  # type: ignore[arg-type]
    return np.searchsorted(every, column[marks]), shared, every  # type: ignore[return-value]


def _lettering(lettering: Lettering, own: Codes) -> Lettering:
    texts = [lettering.texts[place] for place in own.tolist()]
    return Lettering(texts, lettering.ink[own], lettering.bold[own])


@dataclass(frozen=True, eq=False)
class PanelTracing:
    """The colours of pieces of some marks, asked of the tracing of them all (see picture.Tracing)."""

    whole: Tracing
    marks: Codes
    size: int

    def strands(self, paths: Paths, values: Floats) -> Strands:
        """The panel's lines."""
        return self.whole.strands(self._paths(paths), self._everywhere(values))

    def fields(self, paths: Paths, values: Floats, floor: Floats) -> Fields:
        """The panel's areas."""
        return self.whole.fields(self._paths(paths), self._everywhere(values), self._everywhere(floor))

    def pieces(self) -> Pieces | None:
        """The panel's bars in their parts."""
        found = self.whole.pieces()
        if found is None:
            return None
        own = np.flatnonzero(np.isin(found.mark, self.marks))
        return Pieces(
            np.searchsorted(self.marks, found.mark[own]),
            found.low[own],
            found.high[own],
            found.color[own],
            found.pattern[own],
            tuple(found.texts[piece] for piece in own.tolist()),
        )

    def points(self) -> Bools:
        """The panel's points."""
        return self.whole.points()[self.marks]

    def peaks(self) -> Bools:
        """The panel's peaks."""
        return self.whole.peaks()[self.marks]

    def _everywhere(self, values: Floats) -> Floats:
        spread = np.full(self.size, np.nan)
        spread[self.marks] = values
        return spread

    def _paths(self, paths: Paths) -> Paths:
        starts, ends = self.marks[paths.starts], self.marks[paths.ends]
        return Paths(starts, ends, self._everywhere(paths.places), paths.smooth)
