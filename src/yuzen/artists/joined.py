"""The marks of an Axes as a table, with further columns from other rows."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

import numpy as np
import pandas as pd
from matplotlib.axes import Axes
from matplotlib.axis import Axis
from matplotlib.dates import date2num

from yuzen.arrays import Text
from yuzen.artists.axes_content import AxesContent
from yuzen.artists.categories import categories_of
from yuzen.brief.sections.rule import RuleSection
from yuzen.charts.judging import free_name
from yuzen.charts.mark_table import MarkTable, joint_column, meant_column, with_rows
from yuzen.errors import make_error
from yuzen.sources.inputs import RowsLike, frame_of


def mark_table(
    axes: Axes, drawn: AxesContent, data: RowsLike | None, rules: Sequence[RuleSection]
) -> MarkTable:
    """The marks with their categories, as the axes call them, and what the data tells of each.

    rules: by what they speak of, columns of several rows for a mark are put together.
    Raises YuzenError (paint-…) for data that does not fit what the axes show.
    """
    rows = None
    if isinstance(data, pd.DataFrame) and data.index.dtype.kind == "O" and data.index.name is None:
        # An index of names is a column too; pandas calls one without a name so.
        data = data.rename_axis(free_name("index", list(map(str, data.columns))))
    if data is not None:
        rows = frame_of(data)
    if drawn.shape == "points":
        return _of_points(axes, drawn, rows)
    value_axis, category_axis = (
        (axes.xaxis, axes.yaxis) if drawn.horizontal else (axes.yaxis, axes.xaxis)
    )
    names = categories_of(axes, drawn)
    value = _value_name(drawn, value_axis)
    frame, settings = _with_series(
        axes, drawn, pd.DataFrame({value: drawn.all("heights")}), {"value": value}
    )
    taken = list(frame.columns)
    joint = None if rows is None else joint_column(rows, names, taken, _axis_label(category_axis))
    settings["category"] = free_name(_axis_label(category_axis) or joint or "category", taken)
    frame[settings["category"]] = names.to_numpy()
    if rows is None or joint is None:
        return MarkTable(frame, settings)
    return with_rows(MarkTable(frame, settings), rows, joint, rules)


def _with_series(
    axes: Axes, drawn: AxesContent, frame: pd.DataFrame, settings: dict[str, str]
) -> tuple[pd.DataFrame, dict[str, str]]:
    """The marks with the name of the series of each, where there are several."""
    if len(drawn.series) == 1:
        return frame, settings
    name = free_name(_legend_title(axes) or "series", list(frame.columns))
    labels = np.array(_labels(drawn), dtype=object)
    each = np.repeat(labels, [len(series) for series in drawn.series])
    return frame.assign(**{name: each}), {**settings, "series": name}


def _of_points(axes: Axes, drawn: AxesContent, rows: pd.DataFrame | None) -> MarkTable:
    """The table of points, which have two measures; rows of the data at a place name them."""
    value, across = _axis_label(axes.yaxis) or "value", _axis_label(axes.xaxis) or "across"
    across = free_name(across, [value])
    frame = pd.DataFrame({value: drawn.all("heights"), across: drawn.all("places")})
    frame, settings = _with_series(axes, drawn, frame, {"value": value, "across": across})
    if rows is None:
        settings["category"] = free_name("point", list(frame.columns))
        frame[settings["category"]] = np.arange(1, len(frame) + 1)
        return MarkTable(frame, settings)
    if len(rows) != len(frame):
        message = (
            f"data has {len(rows):,} rows, and the axes have {len(frame):,} points; each is of one "
            "row."
        )
        raise make_error("paint-data", message)
    for name, way in ((value, "up"), (across, "across")):
        if not any(_alike(rows[column], frame[name]) for column in rows.columns):
            message = (
                f"No column of data holds how far {way} the points are, "
                "so none can be matched to a row."
            )
            raise make_error(
                "paint-data", f"{message} Give the rows that they were drawn from, in their order."
            )
    further = [name for name in rows.columns if name not in frame.columns]
    joined = pd.concat([frame, rows[further]], axis=1)
    naming_columns = [
        n for n in further if rows[n].is_unique and isinstance(meant_column(rows[n]), Text)
    ]
    settings["category"] = next(iter(naming_columns), free_name("point", list(joined.columns)))
    if not naming_columns:
        joined[settings["category"]] = np.arange(1, len(frame) + 1)
    return MarkTable(joined, settings)


def _alike(one: pd.Series, other: pd.Series) -> bool:
    """Whether two columns hold the same numbers."""
    if pd.api.types.is_datetime64_any_dtype(one.dtype):
        numbers: Any = date2num(one)  # type: ignore[no-untyped-call]  # as axes have dates
    else:
        numbers = pd.to_numeric(one, errors="coerce").to_numpy(dtype=float, na_value=np.nan)
    return bool(np.allclose(numbers, other.to_numpy(dtype=float), equal_nan=True))


def _labels(drawn: AxesContent) -> list[str]:
    """What the series are called, each by a name of its own."""
    labels: list[str] = []
    for place, series in enumerate(drawn.series, start=1):
        labels.append(free_name(series.label or f"series {place}", labels))
    return labels


def _value_name(drawn: AxesContent, axis: Axis) -> str:
    """What the numbers are called: as the only series, else as their axis."""
    if len(drawn.series) == 1 and drawn.series[0].label:
        return drawn.series[0].label
    return _axis_label(axis) or "value"


def _axis_label(axis: Axis) -> str:
    return " ".join(str(axis.get_label_text()).split())


def _legend_title(axes: Axes) -> str:
    legend = axes.get_legend()
    return "" if legend is None else " ".join(legend.get_title().get_text().split())
