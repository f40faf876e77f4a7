"""References on an Axes made elsewhere: lines, bands, dividers, ticks; its limits stay."""

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np
from matplotlib.artist import Artist
from matplotlib.axes import Axes
from matplotlib.collections import LineCollection
from matplotlib.lines import Line2D
from matplotlib.patches import Rectangle
from matplotlib.text import Annotation

from yuzen.arrays import Floats
from yuzen.artists.axes_content import AxesContent
from yuzen.artists.label_room import free_place
from yuzen.brief.sections.references import ReferenceSection
from yuzen.color.themes import Theme
from yuzen.compose.axes.references import ReferenceValues
from yuzen.compose.judged_chart import JudgedChart
from yuzen.errors import error_at, make_error

REFERENCE_WIDTH_PT, GROUP_TICK_WIDTH_PT = 1.0, 1.6  # points
UNDER_MARKS_ZORDER, OVER_MARKS_ZORDER = (
    0.5,
    2.4,
)  # the order in which Matplotlib draws: below the marks, above bars and lines


def references_of(
    axes: Axes, drawn: AxesContent, judged: JudgedChart
) -> tuple[list[Artist], list[str]]:
    """The artists of a brief's references, and the references outside the limits of the axes.

    Raises YuzenError with the place of one that cannot be told.
    """
    artists: list[Artist] = []
    outside: list[str] = []
    for place, section in enumerate(judged.design.brief.reference):
        if section.within and section.label is not None:
            outside.append(
                f"The label of reference {place + 1} is not shown, as paint writes none at ticks."
            )
        with error_at(f"reference {place + 1}", "reference", place):
            for artist, text, value in _of(axes, drawn, judged, section):
                artists.append(artist)
                low, high = sorted(_limits(axes, drawn, across=section.across is not None))
                if np.isfinite(value) and not low <= value <= high:
                    outside.append(f"The reference {text} lies outside the limits of the axes.")
    return artists, outside


def _of(
    axes: Axes, drawn: AxesContent, judged: JudgedChart, section: ReferenceSection
) -> Iterator[tuple[Artist, str, float]]:
    """The artists of one reference, each with its name and value; NaN where it has none."""
    theme, horizontal = judged.verdict.theme, drawn.horizontal
    values = ReferenceValues(judged.design, judged.context, judged.verdict)
    if section.after is not None:
        divided = values.divider(section)
        if divided is not None:
            mark, text = divided
            between = _between(drawn.all("places"), mark)
            yield from _line(axes, drawn, between, text, theme, level=horizontal)
    elif section.across is not None:
        if drawn.shape != "points":
            raise make_error(
                "paint-reference", "Only points have two measures; say at for a line at a value."
            )
        about = judged.context.about(str(judged.design.chart.across))
        line = replace(values, context=about).line(section.across, section.label)
        yield from _line(axes, drawn, line.value, line.text, theme, level=False)
    elif (band := values.band(section)) is not None:
        yield (
            _band(axes, band.low, band.high, theme, horizontal=horizontal),
            band.text or "band",
            np.nan,
        )
        if band.text:
            yield (
                _text(axes, drawn, band.high, band.text, theme, level=not horizontal),
                band.text,
                np.nan,
            )
    elif section.at is not None and section.within:
        levels = judged.context.scope("items").values(section.at.tree, section.within)
        text = f"{section.at} within {', '.join(section.within)}"
        yield _ticks(drawn, levels, theme.color("ink")), text, np.nan
    elif section.at is not None:
        line = values.line(section.at, section.label)
        yield from _line(axes, drawn, line.value, line.text, theme, level=not horizontal)


def _line(
    axes: Axes, drawn: AxesContent, value: float, text: str, theme: Theme, *, level: bool
) -> Iterator[tuple[Artist, str, float]]:
    """A line through the whole axes, with its text."""
    if not np.isfinite(value):
        return
    style: dict[str, Any] = {
        "color": theme.color("ink"),
        "linewidth": REFERENCE_WIDTH_PT,
        "zorder": OVER_MARKS_ZORDER,
    }
    if level:
        yield (
            Line2D([0, 1], [value, value], transform=axes.get_yaxis_transform(), **style),
            text,
            value,
        )
    else:
        yield (
            Line2D([value, value], [0, 1], transform=axes.get_xaxis_transform(), **style),
            text,
            value,
        )
    if text:
        yield _text(axes, drawn, value, text, theme, level=level), text, np.nan


def _text(
    axes: Axes, drawn: AxesContent, value: float, text: str, theme: Theme, *, level: bool
) -> Artist:
    """A label at a level line where no mark is, right-aligned, or beside an upright line."""
    align: dict[str, Any]
    if level:
        end, above = free_place(axes, drawn, theme, text, value)
        place, where = (end, value), axes.get_yaxis_transform()
        moved, align = (-3, 2), {"ha": "right", "va": "bottom"}
        if not above:
            moved, align = (-3, -2), {"ha": "right", "va": "top"}
    else:
        place, moved, where = (value, 1.0), (3, -3), axes.get_xaxis_transform()
        align = {"ha": "left", "va": "top"}
    return Annotation(
        text,
        place,
        moved,
        xycoords=where,
        textcoords="offset points",
        fontsize=theme.sizes["reference"],
        color=theme.color("ink"),
        zorder=OVER_MARKS_ZORDER + 1,
        annotation_clip=True,
        **align,
        bbox={"facecolor": axes.get_facecolor(), "edgecolor": "none", "alpha": 0.8, "pad": 1.0},
    )


def _band(axes: Axes, low: float, high: float, theme: Theme, *, horizontal: bool) -> Artist:
    """A pale ground between two values."""
    style: dict[str, Any] = {
        "facecolor": theme.color("pale"),
        "linewidth": 0,
        "zorder": UNDER_MARKS_ZORDER,
    }
    if horizontal:
        return Rectangle((low, 0), high - low, 1, transform=axes.get_xaxis_transform(), **style)
    return Rectangle((0, low), 1, high - low, transform=axes.get_yaxis_transform(), **style)


def _ticks(drawn: AxesContent, values: Floats, color: str) -> Artist:
    """A short line over each bar, or from half a step before each mark to half a step after it."""
    places, widths = drawn.all("places"), drawn.all("widths")
    if not widths.any():
        distinct = np.unique(places[~np.isnan(places)])
        widths = np.full(len(places), np.diff(distinct).min() if len(distinct) > 1 else 1.0)
    ends = np.stack([places - widths / 2, places + widths / 2], axis=1)
    levels = np.stack([values, values], axis=1)
    there = ~np.isnan(levels).any(axis=1) & ~np.isnan(ends).any(axis=1)
    corners = np.stack([levels, ends] if drawn.horizontal else [ends, levels], axis=2)[there]
    return LineCollection(
        list(corners),
        colors=color,
        linewidths=GROUP_TICK_WIDTH_PT,
        capstyle="butt",
        zorder=OVER_MARKS_ZORDER,
    )


def _between(places: Floats, mark: int) -> float:
    """Half way from a mark to the next place after it; half a step after the last one."""
    distinct = np.unique(places[~np.isnan(places)])
    at = int(np.searchsorted(distinct, places[mark]))
    if at + 1 < len(distinct):
        return float(distinct[at] + distinct[at + 1]) / 2
    return float(distinct[at] + (np.diff(distinct).min() / 2 if len(distinct) > 1 else 0.5))


def _limits(axes: Axes, drawn: AxesContent, *, across: bool) -> tuple[float, float]:
    """The ends of the axis that a reference is on."""
    return axes.get_xlim() if drawn.horizontal or across else axes.get_ylim()
