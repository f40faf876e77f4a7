"""A chart as a part of a slide or a workbook: its groups, its axes and its letters."""

from __future__ import annotations

from typing import Final

import numpy as np

from yuzen.color.named import rgba_of
from yuzen.office.editable.chart import (
    ChartCells,
    ChartGroup,
    EditableChart,
    LineLook,
    NumberAxis,
    Slots,
    TextRun,
)
from yuzen.office.parts.looks import default_text, fill_node, line_node, rich_text
from yuzen.office.parts.markup import document, node
from yuzen.office.parts.series import LABEL_SCALE, date_code, is_dated, name_size, series_node
from yuzen.value import Value

HAIRLINE_PT: Final = 0.75
ZERO_PT: Final = 1.0
MIDDLE_PT: Final = 14.0
HOLE_PERCENT: Final = 58  # of a ring's width
CATEGORY_AXIS, VALUE_AXIS, SECOND_CATEGORY, SECOND_VALUE = 111, 112, 113, 114  # the axes' numbers
ALL_NAMES: Final = 40  # categories of which all are named
MIDDLE_LETTER: Final = 0.0105  # of the width of a chart: a letter in the middle of a ring, about
NAMED_DATES: Final = 14  # of an axis, at the most
TIME_UNITS: Final = {"day": "days", "week": "days", "month": "months"}


def chart_part(chart: EditableChart, cells: ChartCells, workbook: str = "") -> bytes:
    """The part of a chart as XML.

    cells:    where its numbers stand in a sheet.
    workbook: the relation by which a slide's chart finds the workbook of its numbers.
    """
    # A ring has no axes, and its whole stands in the middle.
    ring = any(group.kind == "ring" for group in chart.groups)
    middle = _middle(chart) if ring and chart.middle else None
    drawn = node(
        "c:chart",
        middle,
        node("c:autoTitleDeleted", val=middle is None),
        node("c:plotArea", node("c:layout"), *_groups(chart, cells), *_axes(chart), _ground()),
        node("c:plotVisOnly", val=False),
        node("c:dispBlanksAs", val="gap"),
    )
    root = node(
        "c:chartSpace",
        node("c:date1904", val=False),
        node("c:roundedCorners", val=False),
        drawn,
        node("c:spPr", fill_node((0, 0, 0, 0)), line_node(None)),
        default_text(chart.theme.color("ink"), name_size(chart), chart.theme.fonts),
        node("c:externalData", node("c:autoUpdate", val=False), **{"r:id": workbook})
        if workbook
        else None,
    )
    return document(root)


def _ground() -> str:
    return node("c:spPr", fill_node((0, 0, 0, 0)), line_node(None))


def _place(*, left: float, top: float) -> str:
    """Where something begins, in parts of the whole chart."""
    return node(
        "c:layout",
        node(
            "c:manualLayout",
            node("c:xMode", val="edge"),
            node("c:yMode", val="edge"),
            node("c:x", val=left),
            node("c:y", val=top),
        ),
    )


def _groups(chart: EditableChart, cells: ChartCells) -> list[str]:
    """The groups with their series, which are numbered through all of them."""
    groups, place = [], 0
    for group in chart.groups:
        series = []
        for one in group.series:
            series.append(series_node(chart, group, one, place, cells))
            place += 1
        groups.append(_group(chart, group, series))
    return groups


def _group(chart: EditableChart, group: ChartGroup, series: list[str]) -> str:
    """A group by its kind; the children in the order of CT_BarChart and the others."""
    axes = [node("c:axId", val=axis) for axis in _axis_numbers(group)]
    same = node("c:varyColors", val=False)
    if group.kind == "bar":
        # Bars of one slot lie over one another unless they stand side by side.
        overlap = None if group.side_by_side else node("c:overlap", val=100)
        return node(
            "c:barChart",
            node("c:barDir", val="bar" if chart.horizontal else "col"),
            node("c:grouping", val="stacked" if group.stacked else "clustered"),
            same,
            *series,
            node("c:gapWidth", val=group.gap),
            overlap,
            *axes,
        )
    if group.kind == "line":
        grouping = node("c:grouping", val="standard")
        return node("c:lineChart", grouping, same, *series, node("c:marker", val=True), *axes)
    if group.kind == "area":
        grouping = node("c:grouping", val="stacked" if group.stacked else "standard")
        return node("c:areaChart", grouping, same, *series, *axes)
    if group.kind == "scatter":
        return node(
            "c:scatterChart", node("c:scatterStyle", val="lineMarker"), same, *series, *axes
        )
    angle, hole = node("c:firstSliceAng", val=0), node("c:holeSize", val=HOLE_PERCENT)
    return node("c:doughnutChart", same, *series, angle, hole)


def _axis_numbers(group: ChartGroup) -> tuple[int, int]:
    if group.secondary:
        return SECOND_CATEGORY, SECOND_VALUE
    return CATEGORY_AXIS, VALUE_AXIS


def _axes(chart: EditableChart) -> list[str]:
    """The axes that the groups stand on."""
    kinds = {group.kind for group in chart.groups if not group.secondary}
    if kinds == {"ring"}:
        return []
    if kinds == {"scatter"}:
        return _scatter_axes(chart)
    names, values = ("l", "b") if chart.horizontal else ("b", "l")
    labels = "high" if chart.horizontal else "low"
    between = "between" if _has_bars(chart) else "midCat"
    first = AxisPlace(VALUE_AXIS, CATEGORY_AXIS, values, labels, "autoZero", between)
    axes = [_category_axis(chart, names), _value_axis(chart, chart.upright, first)]
    if any(group.secondary for group in chart.groups):
        assert chart.second is not None  # noqa: S101 - such groups have one
        far = "t" if chart.horizontal else "r"
        second = AxisPlace(SECOND_VALUE, SECOND_CATEGORY, far, "nextTo", "max", "between",
                           grid=False)  # fmt: skip
        axes.append(_hidden_categories(chart, names))
        axes.append(_value_axis(chart, chart.second, second))
    return axes


def _scaling(low: float, high: float, *, backwards: bool = False) -> str:
    """The ends of an axis; the children in the order of CT_Scaling."""
    return node(
        "c:scaling",
        node("c:orientation", val="maxMin" if backwards else "minMax"),
        None if np.isnan(high) else node("c:max", val=repr(high)),
        None if np.isnan(low) else node("c:min", val=repr(low)),
    )


def _category_axis(chart: EditableChart, side: str) -> str:
    """The axis of categories: of dates one that knows what lies between them."""
    slots, theme = chart.slots, chart.theme
    ink = rgba_of(theme.color("slate"))
    parts = [
        node("c:axId", val=CATEGORY_AXIS),
        # The first bar of a list is the topmost.
        _scaling(np.nan, np.nan, backwards=chart.horizontal),
        node("c:delete", val=False),
        node("c:axPos", val=side),
        _axis_title(chart, slots.title) if slots.title else None,
        node("c:numFmt", formatCode=date_code(slots) if is_dated(slots) else "General",
             sourceLinked=False),
        node("c:majorTickMark", val="none"),
        node("c:minorTickMark", val="none"),
        node("c:tickLblPos", val="low"),
        node("c:spPr", line_node(LineLook(ink, ZERO_PT))),
        default_text(theme.color("ink"), name_size(chart), theme.fonts),
        node("c:crossAx", val=VALUE_AXIS),
        node("c:crosses", val="autoZero"),
    ]  # fmt: skip
    if slots.spaced and not chart.horizontal:
        parts += [
            node("c:auto", val=False),
            node("c:lblOffset", val=100),
            node("c:baseTimeUnit", val=TIME_UNITS[slots.unit]),
            *_named_dates(slots),
        ]
        return node("c:dateAx", *parts)
    every = node("c:tickLblSkip", val=1) if len(slots) <= ALL_NAMES and chart.horizontal else None
    parts += [
        node("c:auto", val=False),
        node("c:lblAlgn", val="ctr"),
        node("c:lblOffset", val=100),
        every,
        node("c:noMultiLvlLbl", val=True),
    ]
    return node("c:catAx", *parts)


def _named_dates(slots: Slots) -> list[str]:
    """How far the named dates of an axis are apart, so that they have room beside one another."""
    assert slots.dates is not None  # noqa: S101 - asked of dates alone
    unit = "M" if slots.unit == "month" else "D"
    whole = slots.dates.astype(f"datetime64[{unit}]").astype(np.int64)
    step = int(np.ceil((int(whole.max()) - int(whole.min()) + 1) / NAMED_DATES))
    time = node("c:majorTimeUnit", val=TIME_UNITS[slots.unit])
    return [node("c:majorUnit", val=max(step, 1)), time] if step > 1 else []


class AxisPlace(Value):
    """How a value axis stands: the words of CT_ValAx for its side, its labels and its crossing.

    number, other: of the axis itself, and of the one that it crosses.
    """

    number: int
    other: int
    side: str
    labels: str
    crosses: str
    between: str
    grid: bool = True
    lined: bool = False


def _value_axis(chart: EditableChart, axis: NumberAxis, at: AxisPlace) -> str:
    """An axis of values, with hairlines, or hidden where every mark has its number."""
    theme = chart.theme
    hairline = LineLook(rgba_of(theme.color("hairline")), HAIRLINE_PT)
    grid = node("c:majorGridlines", node("c:spPr", line_node(hairline)))
    return node(
        "c:valAx",
        node("c:axId", val=at.number),
        _scaling(axis.low, axis.high),
        node("c:delete", val=not axis.shown),
        node("c:axPos", val=at.side),
        grid if axis.shown and at.grid else None,
        _axis_title(chart, axis.title) if axis.title and axis.shown else None,
        node("c:numFmt", formatCode=axis.code, sourceLinked=False),
        node("c:majorTickMark", val="none"),
        node("c:minorTickMark", val="none"),
        node("c:tickLblPos", val=at.labels),
        node("c:spPr", line_node(hairline if at.lined else None)),
        default_text(theme.color("slate"), theme.sizes["footer"] * LABEL_SCALE, theme.fonts),
        node("c:crossAx", val=at.other),
        node("c:crosses", val=at.crosses),
        node("c:crossBetween", val=at.between),
    )


def _has_bars(chart: EditableChart) -> bool:
    return any(group.kind == "bar" for group in chart.groups)


def _hidden_categories(chart: EditableChart, side: str) -> str:
    """The categories of groups with a value axis of their own, which are named once.

    Over horizontal bars the line of this axis is the line at a value.
    """
    dated = chart.slots.spaced and not chart.horizontal
    # The axis is seen only where it is a line over the bars.
    crossed = np.isfinite(chart.crossing)
    line = LineLook(rgba_of(chart.theme.color("ink")), ZERO_PT)
    parts = [
        node("c:axId", val=SECOND_CATEGORY),
        _scaling(np.nan, np.nan, backwards=chart.horizontal),
        node("c:delete", val=not crossed),
        node("c:axPos", val=side),
        node("c:majorTickMark", val="none"),
        node("c:minorTickMark", val="none"),
        node("c:tickLblPos", val="none"),
        node("c:spPr", line_node(line)) if crossed else None,
        node("c:crossAx", val=SECOND_VALUE),
        node("c:crossesAt", val=repr(chart.crossing))
        if crossed
        else node("c:crosses", val="autoZero"),
        node("c:auto", val=False),
    ]
    if dated:
        unit = node("c:baseTimeUnit", val=TIME_UNITS[chart.slots.unit])
        return node("c:dateAx", *parts, node("c:lblOffset", val=100), unit)
    tail = [node("c:lblOffset", val=100), node("c:noMultiLvlLbl", val=True)]
    return node("c:catAx", *parts, node("c:lblAlgn", val="ctr"), *tail)


def _scatter_axes(chart: EditableChart) -> list[str]:
    """The two axes of points, or of rows of dots, whose names are labels of points."""
    assert chart.second is not None  # noqa: S101 - a scatter has an axis across
    across = AxisPlace(CATEGORY_AXIS, VALUE_AXIS, "b", "low", "min", "midCat", lined=True)
    upright = AxisPlace(VALUE_AXIS, CATEGORY_AXIS, "l", "low", "min", "midCat", lined=True)
    return [
        _value_axis(chart, chart.second, across),
        _value_axis(chart, chart.upright, upright),
    ]


def _axis_title(chart: EditableChart, title: str) -> str:
    """What an axis is of."""
    theme = chart.theme
    run = TextRun(title, theme.color("slate"))
    text = rich_text([run], theme.sizes["footer"] * LABEL_SCALE, theme.fonts)
    return node("c:title", node("c:tx", text), node("c:overlay", val=False))


def _middle(chart: EditableChart) -> str:
    """What stands in the middle of a ring, as a title that lies over it."""
    text = rich_text(chart.middle, MIDDLE_PT, chart.theme.fonts, lines=True)
    letters = max(len(run.text) for run in chart.middle)
    # A title begins at its left end, so it is moved back by half of its width, about.
    left = 0.5 - letters * MIDDLE_LETTER / 2
    place = _place(left=left, top=0.43)
    return node("c:title", node("c:tx", text), place, node("c:overlay", val=True))
