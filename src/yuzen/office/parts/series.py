"""The series of a chart as elements, their children in the order that the standard asks.

The order is that of the schema of charts (ISO/IEC 29500-1, annex A.5.1, CT_BarSer and the others);
strict programs refuse a file with another.
"""

from __future__ import annotations

from collections import Counter
from typing import Final

import numpy as np

from yuzen.arrays import Floats
from yuzen.color.named import rgba_of
from yuzen.formats.periods import days
from yuzen.office.editable.chart import (
    ChartCells,
    ChartGroup,
    ChartSeries,
    EditableChart,
    LineLook,
    MarkerLooks,
    PointLabels,
    Slots,
)
from yuzen.office.parts.looks import default_text, fill_node, line_node, rich_text
from yuzen.office.parts.markup import node, text_node

OUTLINE_PT: Final = 1.5
SLICE_GAP_PT: Final = 1.4
LABEL_SCALE: Final = 1.05  # a slide is a little wider than a page
# Where labels may stand by the kind of chart; a program refuses a file that names another place.
PLACES: Final = {
    "bar": {"end": "outEnd", "above": "outEnd", "right": "outEnd", "inside": "inEnd",
            "base": "inBase", "middle": "ctr"},
    "stacked": {"end": "inEnd", "above": "inEnd", "right": "inEnd", "inside": "inEnd",
                "base": "inBase", "middle": "ctr"},
    "line": {"end": "t", "above": "t", "right": "r", "inside": "b", "base": "b", "middle": "ctr"},
    "scatter": {"end": "t", "above": "t", "right": "r", "inside": "b", "base": "l",
                "left": "l", "middle": "ctr"},
}  # fmt: skip
NOTCH_PT: Final = 1.75
ROW_LETTERS: Final = 0.68  # of the height of a row: that of its letters
LEAST_PT: Final = 4.0
SYMBOLS: Final = {"": "circle", "circle": "circle", "square": "square", "diamond": "diamond",
                  "triangle": "triangle", "dash": "dash"}  # fmt: skip
MARKER_RANGE_PT: Final = (2, 72)  # that the standard knows (21.2.2.106)
SERIAL_ZERO: Final = np.datetime64("1899-12-30", "D")  # from which workbooks count days


def series_node(
    chart: EditableChart,
    group: ChartGroup,
    series: ChartSeries,
    place: int,
    cells: ChartCells,
) -> str:
    """One series of a group. place: its number among all series of the chart."""
    kind = group.kind
    parts: list[str | None] = [
        node("c:idx", val=place),
        node("c:order", val=place),
        _title(series, cells.names[place]),
        _properties(chart, group, series),
    ]
    # Bars below zero would be white in some programs.
    if kind == "bar":
        parts.append(node("c:invertIfNegative", val=False))
    if kind in {"line", "scatter"}:
        parts.append(_marker(chart, series))
    parts += _points(chart, group, series)
    parts.append(_labels(chart, group, series))
    parts.append(_notch(series))
    if kind == "scatter":
        assert series.across is not None  # noqa: S101 - points have both numbers
        parts.append(_number_source("c:xVal", series.across, cells.across[place]))
        parts.append(_number_source("c:yVal", series.values, cells.values[place]))
    else:
        parts.append(_categories(chart.slots, cells.categories))
        parts.append(_number_source("c:val", series.values, cells.values[place]))
    if kind in {"line", "scatter"}:
        parts.append(node("c:smooth", val=series.smooth))
    return node("c:ser", *parts)


def _title(series: ChartSeries, reference: str) -> str:
    """What a series is called, as text or as the cell that says it."""
    if not reference:
        return node("c:tx", text_node("c:v", series.name))
    cache = node("c:strCache", node("c:ptCount", val=1), _point(0, series.name))
    return node("c:tx", node("c:strRef", text_node("c:f", reference), cache))


def _point(place: int, text: str) -> str:
    return node("c:pt", text_node("c:v", text), idx=place)


def _number_source(tag: str, values: Floats, reference: str, code: str = "General") -> str:
    """Numbers, from cells that also stand here as they were; missing ones are left out."""
    points = [
        _point(place, repr(value))
        for place, value in enumerate(values.tolist())
        if np.isfinite(value)
    ]
    held = [text_node("c:formatCode", code), node("c:ptCount", val=len(values)), *points]
    if not reference:
        return node(tag, node("c:numLit", *held))
    cache = node("c:numCache", *held)
    return node(tag, node("c:numRef", text_node("c:f", reference), cache))


def _categories(slots: Slots, reference: str) -> str:
    """The categories: dates as dates, the others as texts."""
    if is_dated(slots):
        return _number_source("c:cat", serials(slots), reference, date_code(slots))
    points = [_point(place, name) for place, name in enumerate(slots.names)]
    held = [node("c:ptCount", val=len(slots)), *points]
    if not reference:
        return node("c:cat", node("c:strLit", *held))
    return node("c:cat", node("c:strRef", text_node("c:f", reference), node("c:strCache", *held)))


def is_dated(slots: Slots) -> bool:
    """Whether the categories are dates of whole days, on an axis that knows what lies between."""
    return slots.dates is not None and slots.unit in {"day", "week", "month"}


def serials(slots: Slots) -> Floats:
    """The dates of categories as workbooks count them, in days, shape (k,)."""
    assert slots.dates is not None  # noqa: S101 - asked of dates alone
    return np.asarray(days(slots.dates) - days(np.array([SERIAL_ZERO], "datetime64[s]")), float)


def date_code(slots: Slots) -> str:
    """How the dates of categories are written: "Jun 26" of months, "3 Jun 26" of days."""
    return "mmm yy" if slots.unit == "month" else "d mmm yy"


def _properties(chart: EditableChart, group: ChartGroup, series: ChartSeries) -> str:
    """What the whole series looks like: as most of its points do."""
    if group.kind in {"line", "scatter"}:
        return node("c:spPr", line_node(series.line))
    if series.looks is None:
        return node("c:spPr", fill_node((0, 0, 0, 0)), line_node(None))
    return _look(chart, group, series, _usual(series))


def _usual(series: ChartSeries) -> int:
    """A point that looks as most of the series do; the others are said one by one."""
    assert series.looks is not None  # noqa: S101 - asked of what is seen
    keys = look_keys(series)
    return keys.index(_most_common(keys))


def _most_common(keys: list[tuple[object, ...]]) -> tuple[object, ...]:
    """The look that most points have, of several the first."""
    return Counter(keys).most_common(1)[0][0]


def look_keys(series: ChartSeries) -> list[tuple[object, ...]]:
    """What each point looks like, equal for points that look alike."""
    looks = series.looks
    if looks is None:
        return [()] * len(series.values)
    fills = map(tuple, np.round(looks.fill, 4).tolist())
    outlines = map(tuple, np.round(looks.outline, 4).tolist())
    return list(zip(fills, outlines, looks.patterns, strict=True))


def _look(chart: EditableChart, group: ChartGroup, series: ChartSeries, point: int) -> str:
    """The fill and the outline of a point."""
    looks, paper = series.looks, chart.theme.color("paper")
    assert looks is not None  # noqa: S101 - asked of what is seen
    outline = tuple(looks.outline[point].tolist())
    line = LineLook(outline, OUTLINE_PT)
    if outline[3] == 0 and group.kind == "ring":
        # Slices are parted by the paper.
        line = LineLook(rgba_of(paper), SLICE_GAP_PT)
    return node(
        "c:spPr", fill_node(looks.fill[point], looks.patterns[point], paper), line_node(line)
    )


def _points(chart: EditableChart, group: ChartGroup, series: ChartSeries) -> list[str]:
    """The points that look unlike the series."""
    if series.looks is None:
        return []
    keys = look_keys(series)
    usual, usual_marker = _most_common(keys), _usual_marker(series)
    lined = group.kind in {"line", "scatter"}
    points = []
    for place, key in enumerate(keys):
        hidden = series.markers is not None and not series.markers.shown[place]
        # Programs give the slices of a ring colours of their own, unless each has one.
        like_series = key == usual and not lined and group.kind != "ring"
        if like_series or hidden or np.isnan(series.values[place]):
            continue
        if lined and series.markers is not None:
            if not _marker_differs(series.markers, keys, place, usual_marker):
                continue
            points.append(
                node("c:dPt", node("c:idx", val=place), _symbol(chart, series, place),
                     node("c:bubble3D", val=False), node("c:spPr", line_node(series.line)))
            )  # fmt: skip
            continue
        if lined:
            continue
        inverted = node("c:invertIfNegative", val=False) if group.kind == "bar" else None
        look = _look(chart, group, series, place)
        points.append(
            node("c:dPt", node("c:idx", val=place), inverted, node("c:bubble3D", val=False), look)
        )
    return points


def _marker_differs(
    markers: MarkerLooks, keys: list[tuple[object, ...]], place: int, usual: int | None
) -> bool:
    """Whether the marker of a point differs from that of the series, if all points have one."""
    if usual is None:
        return True
    same_size = markers.sizes[place] == markers.sizes[usual]
    return not (keys[place] == keys[usual] and same_size
                and markers.forms[place] == markers.forms[usual])  # fmt: skip


def _usual_marker(series: ChartSeries) -> int | None:
    """A point whose marker all points of the series have; None where some have none."""
    markers = series.markers
    if markers is None or series.looks is None:
        return None
    # The marker that all points have is said once; where one has none, each is said.
    known = np.flatnonzero(~np.isnan(series.values))
    if not len(known) or not markers.shown[known].all():
        return None
    keys = look_keys(series)
    common = [keys[place] for place in known.tolist()]
    return int(known[common.index(_most_common(common))])


def _marker(chart: EditableChart, series: ChartSeries) -> str:
    """The markers of the whole series, none where only some points have one."""
    usual = _usual_marker(series)
    if usual is None:
        return node("c:marker", node("c:symbol", val="none"))
    return _symbol(chart, series, usual)


def _symbol(chart: EditableChart, series: ChartSeries, point: int) -> str:
    """The marker of a point."""
    markers, looks = series.markers, series.looks
    assert markers is not None  # noqa: S101 - asked of points with markers
    assert looks is not None  # noqa: S101
    low, high = MARKER_RANGE_PT
    size = min(max(round(float(markers.sizes[point])), low), high)
    outline = tuple(looks.outline[point].tolist())
    line = LineLook(outline, OUTLINE_PT)
    if outline[3] == 0:
        line = LineLook(rgba_of(chart.theme.color("paper")), 0.75)
    return node(
        "c:marker",
        node("c:symbol", val=SYMBOLS[markers.forms[point]]),
        node("c:size", val=size),
        node("c:spPr", fill_node(looks.fill[point]), line_node(line)),
    )


def _labels(chart: EditableChart, group: ChartGroup, series: ChartSeries) -> str:
    """What stands at the points of a series: texts that follow their values, or pieces of text."""
    labels = series.labels
    if labels is None or not any(labels.runs):
        # Without this element some programs write the value at every point.
        return node("c:dLbls", *_shown(value=False))
    # Stacks have fewer places for labels than bars side by side.
    kind = "stacked" if group.kind == "bar" and group.stacked else group.kind
    places = labels.each or (labels.where,) * len(labels.runs)
    named = PLACES.get(kind)
    texts = [
        _label(chart, labels, point, None if named is None else named[places[point]])
        for point, runs in enumerate(labels.runs)
        if runs and not np.isnan(series.values[point])
    ]
    return node("c:dLbls", *texts, *_shown(value=False))


def _label(chart: EditableChart, labels: PointLabels, point: int, place: str | None) -> str:
    """What stands at one point."""
    theme, runs = chart.theme, labels.runs[point]
    size = min(theme.sizes["number"] * LABEL_SCALE, name_size(chart))
    where = None if place is None else node("c:dLblPos", val=place)
    if labels.code and len(runs) == 1:
        text = [
            node("c:numFmt", formatCode=labels.code, sourceLinked=False),
            node("c:spPr", fill_node((0, 0, 0, 0)), line_node(None)),
            default_text(runs[0].ink, size, theme.fonts, bold=runs[0].bold),
        ]
    else:
        text = [
            node("c:tx", rich_text(runs, size, theme.fonts, lines=place is None)),
            node("c:spPr", fill_node((0, 0, 0, 0)), line_node(None)),
        ]
    return node("c:dLbl", node("c:idx", val=point), *text, where, *_shown(value=True))


def name_size(chart: EditableChart) -> float:
    """The size of the names of categories in points: of many rows as small as they need."""
    size = chart.theme.sizes["name"] * LABEL_SCALE
    if not chart.horizontal:
        return size
    return max(min(size, ROW_LETTERS * chart.height_pt / len(chart.slots)), LEAST_PT)


def _shown(*, value: bool) -> list[str]:
    """What labels write by themselves: the value, or nothing."""
    names = ("LegendKey", "Val", "CatName", "SerName", "Percent", "BubbleSize")
    return [node(f"c:show{name}", val=value and name == "Val") for name in names]


def _notch(series: ChartSeries) -> str | None:
    """A line across the ends of horizontal bars: the two caps of an error bar of no length."""
    notch = series.notch
    if notch is None:
        return None
    return node(
        "c:errBars",
        node("c:errBarType", val="both"),
        node("c:errValType", val="fixedVal"),
        node("c:noEndCap", val=False),
        node("c:val", val=repr(notch.half)),
        node("c:spPr", line_node(LineLook(rgba_of(notch.ink), NOTCH_PT))),
    )
