"""A chart as slides and workbooks hold it: groups of series over categories, every look decided."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Bools, Codes, Dates, Floats
from yuzen.color.themes import Theme
from yuzen.value import Value

GroupKind: TypeAlias = Literal["bar", "line", "area", "scatter", "ring"]
LabelPlace: TypeAlias = Literal["end", "inside", "base", "above", "right", "left", "middle"]
NO_COLOR: Final = (0.0, 0.0, 0.0, 0.0)


class TextRun(Value):
    """A piece of a text: its ink as '#RRGGBB', and whether it is bold."""

    text: str
    ink: str
    bold: bool = False


class PointLabels(Value, eq=False):
    """What is written at the points of a series.

    runs:  of each point, () for none.
    where: at its end, inside it, ...; each: the same of each point, where they differ.
    code:  the format by which a program writes the values themselves, so that a text follows its
           value; '' where texts are what they are.
    """

    runs: tuple[tuple[TextRun, ...], ...]
    where: LabelPlace
    code: str = ""
    each: tuple[LabelPlace, ...] = ()


class LineLook(Value):
    """A line: its colour as RGBA, its width in points, and its dashes by their name."""

    color: tuple[float, ...]
    width: float
    pattern: str = ""


class PointLooks(Value, eq=False):
    """What the points of a series look like, as many as it has values (n).

    fill, outline: RGBA, shape (n, 4); an opacity of 0 is none.
    patterns:      by their names, '' for none.
    """

    fill: Floats
    outline: Floats
    patterns: tuple[str, ...]


class MarkerLooks(Value, eq=False):
    """The markers of a line or a scatter: which points have one, the sizes in points, the forms."""

    shown: Bools
    sizes: Floats
    forms: tuple[str, ...]


class Notch(Value):
    """A short line across the end of each horizontal bar of a series.

    half: half of its thickness, in units of the axis.
    """

    half: float
    ink: str


class ChartSeries(Value, eq=False):
    """Numbers that a chart shows in one way, one for each slot, shape (k,).

    values:  NaN where there is nothing.
    marks:   which of the chart's marks each is, −1 for none; ordered as the values.
    across:  the numbers across of a scatter; None where the categories say where points stand.
    looks:   None: nothing is seen of the series itself.
    line:    the line through its points; None for none.
    """

    name: str
    values: Floats
    marks: Codes
    looks: PointLooks | None = None
    across: Floats | None = None
    line: LineLook | None = None
    markers: MarkerLooks | None = None
    labels: PointLabels | None = None
    notch: Notch | None = None
    smooth: bool = False


class ChartGroup(Value, eq=False):
    """Series that are drawn in one way.

    secondary: whether it has axes of its own; gap: between bars, in percent of their width.
    stacked, side_by_side: how bars of several series share a slot, else they lie over one another.
    """

    kind: GroupKind
    series: tuple[ChartSeries, ...]
    secondary: bool = False
    stacked: bool = False
    side_by_side: bool = False
    gap: int = 45


class Slots(Value, eq=False):
    """The categories: what each is called, and of dates their dates and the unit they stand for.

    spaced: whether they stand as far apart as their dates are, so that an axis of dates has them in
            their places.
    """

    names: tuple[str, ...]
    dates: Dates | None = None
    unit: str = ""
    title: str = ""
    spaced: bool = False

    def __len__(self) -> int:
        return len(self.names)


class NumberAxis(Value):
    """An axis of values: its ends, NaN where the program chooses; its format, title and colour."""

    low: float = np.nan
    high: float = np.nan
    code: str = "General"
    title: str = ""
    shown: bool = True


class EditableChart(Value, eq=False):
    """One chart of a slide or a sheet.

    upright:   the axis of values; second: that of the groups with axes of their own, or the axis
               across of a scatter.
    zero_line: whether a line stands at zero, as values have both signs.
    height_pt: how high it is, by which the letters of many rows are as small as they need.
    crossing:  the value at which a line stands over horizontal bars; NaN for none.
    middle:    what stands in the middle of a ring.
    notes:     what such a chart does not show, and need not.
    """

    groups: tuple[ChartGroup, ...]
    slots: Slots
    theme: Theme
    upright: NumberAxis
    second: NumberAxis | None = None
    horizontal: bool = False
    crossing: float = np.nan
    height_pt: float = 380.0
    middle: tuple[TextRun, ...] = ()
    notes: tuple[str, ...] = ()

    @property
    def series(self) -> list[ChartSeries]:
        """All series, in the order in which they are numbered."""
        return [series for group in self.groups for series in group.series]

    def as_high(self, points: float) -> EditableChart:
        """A copy that is so many points high."""
        return replace(self, height_pt=points)

    def named(self, value: str) -> EditableChart:
        """A copy whose series without a name have that of the value."""
        groups = tuple(
            replace(
                group,
                series=tuple(replace(series, name=series.name or value) for series in group.series),
            )
            for group in self.groups
        )
        return replace(self, groups=groups)


@dataclass(frozen=True)
class NotEditable(Exception):  # noqa: N818 - no fault of anybody's, so never shown as an error
    """Why a chart can only be a picture: what such charts cannot show, as the end of a sentence."""

    what: str


class ChartCells(Value, eq=False):
    """Where the numbers of a chart stand in a sheet, as references of its series; '' for none."""

    names: tuple[str, ...]
    values: tuple[str, ...]
    across: tuple[str, ...]
    categories: str = ""


def no_marks(count: int) -> Codes:
    """For numbers that are no marks."""
    return np.full(count, -1, dtype=np.intp)


def plain_looks(color: tuple[float, ...], count: int) -> PointLooks:
    """Points of one fill without outlines and patterns."""
    return PointLooks(np.tile(color, (count, 1)), np.zeros((count, 4)), ("",) * count)
