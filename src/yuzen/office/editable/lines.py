"""Layers of lines and areas as groups of series: one for each look that their stretches have."""

from __future__ import annotations

import numpy as np

from yuzen.arrays import Bools, Codes, Floats
from yuzen.draw.shapes.area import AREA_OPACITY
from yuzen.formats.number_format import NumberFormat
from yuzen.office.editable.bars import in_slots
from yuzen.office.editable.chart import (
    ChartGroup,
    ChartSeries,
    LineLook,
    MarkerLooks,
    NotEditable,
    PointLabels,
    PointLooks,
    TextRun,
    no_marks,
)
from yuzen.office.editable.labels import labels_at
from yuzen.page.layer import PATTERN_NAMES, Layer, PointStyles
from yuzen.scene.units import points

MARKER_PT = 7.0


def line_groups(layer: Layer, count: int, numbers: NumberFormat) -> list[ChartGroup]:
    """The groups of a layer of lines, and of areas the ground under them.

    Raises NotEditable where a line changes its colour between two points: such charts know one
    colour from point to point, and another place would be a false one.
    """
    segments = layer.segments
    if segments is not None:
        stretches = segments.stretches
        if ((stretches.low > 0) | (stretches.high < 1)).any():
            raise NotEditable("lines that change their colour between two points")
    groups = []
    if layer.areas is not None:
        groups.append(_area_group(layer, count))
    lines = [
        one for place in range(len(layer.series)) for one in _lines(layer, place, count, numbers)
    ]
    return [*groups, ChartGroup("line", tuple(lines), layer.own_axis)]


def _area_group(layer: Layer, count: int) -> ChartGroup:
    """The ground under a line, which has one colour there."""
    areas = layer.areas
    assert areas is not None  # noqa: S101 - asked of areas alone
    # Every piece of an area has a colour, and a series there has one.
    looks = np.unique(np.round(areas.color, 4), axis=0)
    if len(looks) > len(layer.series) or (layer.marks.floating and layer.marks.starts.any()):
        raise NotEditable("areas of several colours")
    series = []
    for place, named in enumerate(layer.series):
        marks = in_slots(layer, place, count)
        values = np.where(marks >= 0, layer.marks.values[marks], np.nan)
        # The ground is paler than the line: a quarter of its colour.
        color = looks[min(place, len(looks) - 1)] * np.array([1.0, 1.0, 1.0, AREA_OPACITY])
        fill = np.tile(color, (count, 1))
        ground = PointLooks(fill, np.zeros((count, 4)), ("",) * count)
        name = f"{named.name or layer.name} area".strip()
        series.append(ChartSeries(name, values, no_marks(count), ground))
    return ChartGroup("area", tuple(series), layer.own_axis, stacked=layer.marks.stacked)


def _lines(layer: Layer, place: int, count: int, numbers: NumberFormat) -> list[ChartSeries]:
    """A line, and over it one for each look that some of its stretches have."""
    marks = in_slots(layer, place, count)
    known = marks >= 0
    values = np.where(known, layer.marks.values[marks], np.nan)
    usual, others = _looks(layer, marks)
    shown = _called(layer, marks)
    labels = labels_at(layer.labels, np.where(shown, marks, -1), values, numbers)
    _refuse_gaps(layer, marks, values)
    own = ChartSeries(
        layer.series[place].name or layer.name,
        values,
        np.where(known, layer.marks.of_chart[marks], -1),
        line=usual,
        labels=_with_name(labels, layer, place, values),
        smooth=layer.segments is not None and layer.segments.smooth,
    )
    over = [
        ChartSeries(f"{own.name} {number}".strip(), np.where(reach, values, np.nan),
                    no_marks(count), line=look)
        for number, (look, reach) in enumerate(others, start=2)
    ]  # fmt: skip
    return [own, *over, *_marked(layer, marks, shown, own)]


def _refuse_gaps(layer: Layer, marks: Codes, values: Floats) -> None:
    """Raise NotEditable where a line is joined otherwise than such charts join their points.

    They join neighbours that have a number, and nothing over a missing one. Of an area they draw
    a missing number as zero.
    """
    known = np.flatnonzero(~np.isnan(values))
    segments = layer.segments
    if segments is None or len(known) < 2:
        return
    joined = set(zip(segments.starts.tolist(), segments.ends.tolist(), strict=True))
    for first, second in zip(known[:-1].tolist(), known[1:].tolist(), strict=True):
        neighbours = second == first + 1
        drawn = (int(marks[first]), int(marks[second])) in joined
        if neighbours != drawn or (layer.areas is not None and not neighbours):
            raise NotEditable("lines that break off or pass over missing numbers")


def _looks(layer: Layer, marks: Codes) -> tuple[LineLook, list[tuple[LineLook, Bools]]]:
    """The look that most of a line has, and each other one with the points that it runs through."""
    segments = layer.segments
    ink = LineLook(tuple(_series_color(layer, marks)), points(2.0))
    if segments is None or not len(segments):
        return ink, []
    stretches = segments.stretches
    # Of several lines only the stretches of this one.
    inside = np.isin(segments.starts[stretches.segment], marks[marks >= 0])
    found: dict[LineLook, list[int]] = {}
    for piece in np.flatnonzero(inside).tolist():
        color = tuple(np.round(stretches.color[piece], 4).tolist())
        pattern = PATTERN_NAMES[int(stretches.pattern[piece])]
        look = LineLook(color, float(points(stretches.width[piece])), pattern)
        found.setdefault(look, []).append(int(stretches.segment[piece]))
    if not found:
        return ink, []
    # What most stretches look like is the line itself; the others lie over it.
    usual = max(found, key=lambda look: len(found[look]))
    slot_of = {mark: slot for slot, mark in enumerate(marks.tolist()) if mark >= 0}
    others = []
    for look, pieces in found.items():
        if look == usual:
            continue
        reaches = _apart(pieces, segments.starts, segments.ends, slot_of, len(marks))
        others += [(look, reach) for reach in reaches]
    return usual, others


def _apart(
    pieces: list[int], starts: Codes, ends: Codes, slot_of: dict[int, int], count: int
) -> list[Bools]:
    """The points of some stretches, in as many series as keep what is not joined apart."""
    reaches: list[Bools] = []
    lasts: list[int] = []
    for piece in sorted(pieces, key=lambda piece: slot_of[int(starts[piece])]):
        start, end = slot_of[int(starts[piece])], slot_of[int(ends[piece])]
        # A line joins all neighbours that have a number, so a stretch goes where it touches none.
        place = next((i for i, last in enumerate(lasts) if start == last or start > last + 1), None)
        if place is None:
            reaches.append(np.zeros(count, dtype=bool))
            lasts.append(-1)
            place = len(reaches) - 1
        reaches[place][[start, end]] = True
        lasts[place] = end
    return reaches


def _series_color(layer: Layer, marks: Codes) -> Floats:
    known = marks[marks >= 0]
    return np.asarray(layer.styles.fill[known[0]] if len(known) else np.zeros(4))


def _called(layer: Layer, marks: Codes) -> Bools:
    """Which points have a marker and a number."""
    if layer.points is None:
        return np.zeros(len(marks), dtype=bool)
    said = np.zeros(len(layer.marks), dtype=bool)
    for label in layer.labels:
        said |= label.said
    # Peaks have a number only where there is something to say.
    called = layer.points.called | (layer.points.peaks & said) | _alone(layer)
    return np.asarray((marks >= 0) & called[marks])


def _alone(layer: Layer) -> Bools:
    """The points that no line reaches, which without a marker would not be seen."""
    alone = ~np.isnan(layer.marks.values)
    if layer.segments is not None:
        alone[layer.segments.starts] = False
        alone[layer.segments.ends] = False
    return np.asarray(alone)


def _marked(layer: Layer, marks: Codes, shown: Bools, own: ChartSeries) -> list[ChartSeries]:
    """The points with a marker, in a series for each look.

    Programs do not all show a point of a line in a colour of its own, but they show that of a
    series.
    """
    looks, markers = _marker_looks(layer, marks), _markers(layer, marks, shown)
    if looks is None or markers is None or not shown.any():
        return []
    found: dict[tuple[object, ...], list[int]] = {}
    for slot in np.flatnonzero(shown).tolist():
        look = (*looks.fill[slot].tolist(), *looks.outline[slot].tolist(),
                float(markers.sizes[slot]), markers.forms[slot])  # fmt: skip
        found.setdefault(look, []).append(slot)
    series = []
    for number, slots in enumerate(found.values(), start=1):
        reach = np.zeros(len(marks), dtype=bool)
        reach[slots] = True
        series.append(
            ChartSeries(
                f"{own.name} points {number}".strip(),
                np.where(reach, own.values, np.nan),
                no_marks(len(marks)),
                looks,
                markers=MarkerLooks(reach, markers.sizes, markers.forms),
            )
        )
    return series


def _marker_looks(layer: Layer, marks: Codes) -> PointLooks | None:
    styles: PointStyles | None = layer.points
    if styles is None:
        return None
    return PointLooks(styles.fill[marks], styles.outline[marks], ("",) * len(marks))


def _markers(layer: Layer, marks: Codes, shown: Bools) -> MarkerLooks | None:
    styles = layer.points
    if styles is None:
        return None
    # No size is the usual one.
    sizes = np.where(np.isnan(styles.sizes[marks]), MARKER_PT, styles.sizes[marks])
    return MarkerLooks(shown, sizes, tuple(styles.forms[marks].tolist()))


def _with_name(
    labels: PointLabels | None, layer: Layer, place: int, values: Floats
) -> PointLabels | None:
    """The labels of a line, whose last point is named instead of in a legend."""
    known = np.flatnonzero(~np.isnan(values))
    named = layer.series[place]
    if not layer.named or not named.name or not len(known):
        return labels
    last = int(known[-1])
    runs: list[tuple[TextRun, ...]] = [()] * len(values)
    if labels is not None:
        runs = list(labels.runs)
    name = TextRun(f"  {named.name}" if runs[last] else named.name, named.color)
    runs[last] = (*runs[last], name)
    # Texts beside numbers are what they are.
    where = labels.where if labels is not None else "right"
    return PointLabels(tuple(runs), where)
