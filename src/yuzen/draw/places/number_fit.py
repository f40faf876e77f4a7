"""The scale at which every mark with its texts has room, and the texts as they stand at it."""

from collections.abc import Mapping
from dataclasses import replace
from functools import partial
from typing import Final

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.axes.plot_layout import PlotLayout, scales_of
from yuzen.draw.axes.scale import (
    FAR_DOTS_SHARE,
    LABEL_ROOM_PX,
    SET_END_ROOM_HORIZONTAL_PX,
    SET_END_ROOM_PX,
    AxisScale,
    Room,
    fitted,
)
from yuzen.draw.places.mark_ends import PlotEnds
from yuzen.draw.places.mark_numbers import NUMBER_GAP_PX, Texts, past_others
from yuzen.draw.places.number_places import LabelChoices, label_choices
from yuzen.draw.places.placed_labels import PlacedLabels
from yuzen.draw.places.plot_occupancy import ground_of
from yuzen.draw.room.choices import Choices, joined_choices, placed
from yuzen.draw.room.occupancy import JOIN, NO_MARK, STROKE, Occupancy
from yuzen.draw.shapes.shape import drawn_shape
from yuzen.draw.signs.styled_texts import width_of
from yuzen.draw.text.measurer import TextMeasurer
from yuzen.page.layer import Layer
from yuzen.page.plot import Plot
from yuzen.value import Value

UNLABELLED_MARGIN_PX: Final = 2.0  # pixels beyond a value that has no text
LEAST_PLOT_SHARE: Final = (
    0.25  # of the length that marks have without texts, which texts leave them
)
GRANTED_SHARES: Final = (
    1.0,
    0.6,
    0.3,
)  # of the room that texts want, as far as they leave marks enough
NAMES_PX: Final = 6.0  # pixels that the numbers of dots keep from the names beside them
OVERHANG_PX: Final = 8.0  # pixels that texts beside a row may stand out of a plot


class Fit(Value, eq=False):
    """A scale, the texts of all layers as they stand at it, and the ground with all that.

    numbers: by which the marks of each layer are called on the ground.
    """

    scale: AxisScale
    texts: tuple[PlacedLabels, ...]
    ground: Occupancy
    numbers: Mapping[str, Codes]

    @property
    def readable(self) -> tuple[int, int]:
        """How many flagged marks have their texts, and how many marks at all."""
        flagged = sum(
            int(np.count_nonzero(one.shown & one.texts.marks.flagged)) for one in self.texts
        )
        return flagged, sum(int(np.count_nonzero(one.shown)) for one in self.texts)

    @property
    def left_out(self) -> int:
        """How many texts found no place."""
        return sum(int(np.count_nonzero(one.texts.wanted & ~one.shown)) for one in self.texts)

    @property
    def unwritten(self) -> list[str]:
        """The names of the marks whose texts found no place, flagged ones first."""
        gone = []
        for one in self.texts:
            marks, left_out = one.texts.marks, np.flatnonzero(one.texts.wanted & ~one.shown)
            order = left_out[np.argsort(~marks.flagged[left_out], kind="stable")]
            gone += [marks.names[mark] for mark in order.tolist()]
        return gone

    @property
    def moved_out(self) -> list[str]:
        """The names of the marks whose texts were to stand inside, and stand beyond the end."""
        return [
            one.texts.marks.names[mark]
            for one in self.texts
            if one.texts.label.where in {"inside", "base"}
            and one.texts.layer.shape.is_bar
            and not one.texts.marks.stacked
            for mark in np.flatnonzero(one.shown & (one.on == NO_MARK)).tolist()
        ]

    @property
    def complete(self) -> bool:
        """Whether some label has a text at every mark, so that the values need no axis."""
        unsaid = [one.texts.marks.totals & ~one.texts.wanted for one in self.texts]
        return any(
            bool((one.shown | unwanted).all())
            for one, unwanted in zip(self.texts, unsaid, strict=True)
        )


def fit_texts(layout: PlotLayout, further: Floats, given: AxisScale | None = None) -> Fit:
    """The scale at which every bar with its texts has room, and the texts as they stand then.

    `further` are values of references and lines that have to lie in the plot; a scale that is given
    is kept. A text that does not fit into its bar goes beyond the end, which needs room there and
    shrinks
    the scale: a few rounds settle it.
    """
    layers = [
        layer
        for layer in layout.plot.layers
        if drawn_shape(layer.shape.name).holds_numbers and not layer.own_axis
    ]
    texts = [
        Texts.of(layout, layer, label)
        for layer in layers
        for label in layer.labels
        if label.where != "near"
    ]
    # A text moves out of its bar at most once and never back, so that this ends.
    while True:
        scale = given or _scale(layout, layers, texts, further)
        moved = [text.fitting(scale) for text in texts]
        same = all(np.array_equal(a.outside, b.outside) for a, b in zip(texts, moved, strict=True))
        texts = moved
        if same:
            ground, numbers = ground_of(layout, scale)
            return Fit(
                scale, tuple(_placed(layout, texts, scale, ground, numbers)), ground, numbers
            )


def _placed(
    layout: PlotLayout,
    texts: list[Texts],
    scale: AxisScale,
    ground: Occupancy,
    numbers: Mapping[str, Codes],
) -> list[PlacedLabels]:
    """The texts with their places; those of flagged marks of all labels choose first.

    numbers: by which the marks of each layer are called on the ground.
    """
    if not texts:
        return []
    found = PlotEnds.of(layout, scales_of(layout, scale))
    labels = [label_choices(text, scale, numbers, found.marks[text.layer.name]) for text in texts]
    choices = joined_choices([label.places for label in labels])
    choices = replace(choices, boxes=_in_room(layout, choices.boxes))
    flagged = np.concatenate([one.text.marks.flagged[one.marks] for one in labels])
    single = np.concatenate([np.full(len(one.marks), not one.text.marks.stacked) for one in labels])
    taken = np.full(len(choices), -1, dtype=np.intp)
    # Flagged marks choose first, of all labels and layers together.
    order = _by_weight(labels)
    first = order[flagged[order]]
    taken[first] = placed(ground, choices.take(first), found.ends, ignoring=STROKE | JOIN)
    # A number of a mark that is no exception would be a puzzle where an exception of the same
    # kind has none.
    if not (flagged & single & (taken < 0)).any():
        others = ~flagged
        taken[others] = placed(
            ground, choices.take(np.flatnonzero(others)), found.ends, ignoring=STROKE
        )
    ends = np.cumsum([len(one.marks) for one in labels])[:-1]
    places = zip(labels, np.split(taken, ends), np.split(np.arange(len(taken)), ends), strict=True)
    return [_placed_labels(one, taken_of, choices.take(of)) for one, taken_of, of in places]


def _by_weight(labels: list[LabelChoices]) -> Codes:
    """All texts in the order in which they choose: extremes first, then the last, then the others.

    Extremes are the marks of a layer that are farthest from its middle.
    """
    far, last = [], []
    for one in labels:
        values, slots = one.text.marks.values[one.marks], one.text.marks.slots[one.marks]
        highest, lowest = np.nanmax(values, initial=-np.inf), np.nanmin(values, initial=np.inf)
        far.append((values == highest) | (values == lowest))
        last.append(slots == slots.max(initial=0))
    return np.lexsort((~np.concatenate(last), ~np.concatenate(far)))


def _placed_labels(one: LabelChoices, taken: Codes, choices: Choices) -> PlacedLabels:
    """The texts of a label at those of their places that they have found."""
    text = one.text
    on = np.full(len(text.marks), NO_MARK)
    shown = np.zeros(len(text.marks), dtype=bool)
    own_boxes, own_leads = np.full((2, len(text.marks), 4), np.nan)
    there = np.flatnonzero(taken >= 0)
    marks, chosen = one.marks[there], taken[there]
    shown[marks] = True
    on[marks] = choices.inside[there, chosen]
    own_boxes[marks], own_leads[marks] = choices.boxes[there, chosen], choices.leads[there, chosen]
    return PlacedLabels(text, shown, on, own_boxes, own_leads)


def _in_room(layout: PlotLayout, boxes: Floats) -> Floats:
    """Boxes without those that lie out of the plot, shape (n, k, 4)."""
    box = layout.box
    reach = max(1.0, OVERHANG_PX * layout.horizontal)
    # A dot at the low end of its scale stands right beside the names.
    names_px = NAMES_PX if layout.horizontal and _all_dots(layout.plot) else -1.0
    low = np.array([box.left + names_px, box.top - reach])
    high = np.array([box.right + 1, box.bottom + reach])
    out: Bools = np.any(boxes[:, :, :2] < low, axis=2) | np.any(boxes[:, :, 2:] > high, axis=2)
    return np.where(out[:, :, None], np.nan, boxes)


def _scale(
    layout: PlotLayout, layers: list[Layer], texts: list[Texts], further: Floats
) -> AxisScale:
    """The scale at which bars have room, with their texts where they stand now."""
    rooms = [Room.beyond(further, np.full(len(further), UNLABELLED_MARGIN_PX), further < 0)]
    for layer in layers:
        extras = [text.extra for text in texts if text.layer is layer]
        ends, starts = layer.marks.tips, layer.marks.starts
        margin = np.full(len(ends), 0.0 if extras or not texts else UNLABELLED_MARGIN_PX)
        rooms.append(Room.beyond(ends, margin, ends < starts))
        if layer.marks.floating:
            rooms.append(
                Room.beyond(starts, np.full(len(ends), UNLABELLED_MARGIN_PX), ends >= starts)
            )
        if extras:
            tips = past_others(layout, layer)
            rooms.append(Room.beyond(tips, np.max(extras, axis=0), tips < starts))
    for layer in layout.plot.layers:
        if not layer.own_axis and any(label.where == "near" for label in layer.labels):
            tips = past_others(layout, layer)
            rooms.append(Room.beyond(tips, _near_room(layout, layer, texts), tips < 0))
    end_room = SET_END_ROOM_HORIZONTAL_PX if layout.horizontal else SET_END_ROOM_PX
    room = Room.of_all(rooms)
    # Bars show numbers by their length from zero; those that float do so by where they begin and
    # end.
    origin = 0.0
    if layers and _all_dots(layout.plot):
        origin = room.least(FAR_DOTS_SHARE)
    elif any(layer.marks.floating for layer in layers if layer.shape.is_bar):
        origin = room.least(LABEL_ROOM_PX)
    fit = partial(
        fitted,
        length=layout.length,
        ends=layout.plot.axes.value.ends,
        origin=origin,
        ends_set=end_room,
    )
    if not texts:
        return fit(room)
    # What marks would have without any text: texts may take three quarters of it and no more.
    bare = fit(room.times(0.0))
    granted = (fit(room.times(part)) for part in GRANTED_SHARES)
    return next((scale for scale in granted if scale.unit >= LEAST_PLOT_SHARE * bare.unit), bare)


def _all_dots(plot: Plot) -> bool:
    """Whether all marks are dots in rows."""
    return all(layer.shape.shares_row for layer in plot.layers)


def _near_room(layout: PlotLayout, layer: Layer, texts: list[Texts]) -> Floats:
    """Pixels for texts at the marks of a further layer, beyond the numbers there."""
    measurer, beyond = layout.measurer, np.zeros(len(layer.marks))
    for text in texts:
        beyond = np.maximum(beyond, text.extra)
    pieces = [piece for label in layer.labels if label.where == "near" for piece in label.pieces]
    widths = np.array([width_of(pieces, measurer, mark) for mark in range(len(layer.marks))])
    if layout.horizontal:
        size = widths
    else:
        size = np.full(len(widths), measurer.height("number"))
    return np.where(widths > 0, size + NUMBER_GAP_PX + beyond, 0.0)


def all_fit(plot: Plot, measurer: TextMeasurer, room: float) -> bool:
    """Whether every vertical bar has room for its number when all have this room together."""
    layer = plot.layers[0]
    count = len(layer.marks)
    ends = [label for label in layer.labels if label.where != "base"]
    if len(plot.layers) > 1 or not ends or count * 10 > room:
        return False
    return all(
        ends[0].says(mark) and width_of(ends[0].pieces, measurer, mark) + 6 <= room / max(1, count)
        for mark in range(count)
    )
