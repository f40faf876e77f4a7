"""The marks of an Axes as a table, with further columns from other rows."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import pandas as pd
from matplotlib.axes import Axes
from matplotlib.axis import Axis
from matplotlib.dates import date2num

from yuzen.arrays import Column, Text
from yuzen.artists.axes_content import AxesContent
from yuzen.artists.categories import categories_of
from yuzen.brief.sections.rule import RuleSection
from yuzen.charts.judging import free_name, spec_of
from yuzen.charts.stages import Stages
from yuzen.errors import make_error, suggestion
from yuzen.formats.display import shown
from yuzen.formats.name_lists import listed
from yuzen.sources.columns import column_of
from yuzen.sources.frames import column_in
from yuzen.sources.inputs import RowsLike, frame_of

MAX_MESSAGE_NAMES = 5  # names that a message lists


@dataclass(frozen=True, eq=False)
class MarkTable:
    """The marks of an Axes, one a row, series after series.

    settings: which of the columns is the category, the value, and the like of a brief's [chart].
    remarks:  notes on how the marks were put together.
    column_names: the names of all columns of the data.
    """

    frame: pd.DataFrame
    settings: dict[str, str]
    remarks: tuple[str, ...] = ()
    column_names: tuple[str, ...] = ()


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
    joint = None if rows is None else _joint(rows, names, taken, _axis_label(category_axis))
    settings["category"] = free_name(_axis_label(category_axis) or joint or "category", taken)
    frame[settings["category"]] = names.to_numpy()
    if rows is None or joint is None:
        return MarkTable(frame, settings)
    return _with_rows(MarkTable(frame, settings), rows, joint, rules)


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


def _with_rows(
    table: MarkTable, rows: pd.DataFrame, joint: str, rules: Sequence[RuleSection]
) -> MarkTable:
    """The marks with the columns of their row, or of their rows grouped as charts group them."""
    frame, settings = table.frame, table.settings
    series, column_names = (
        _series_column(rows, frame, settings, joint),
        tuple(map(str, rows.columns)),
    )
    apart = {settings["category"]: joint}
    if series:
        apart[settings["series"]] = series
    index = pd.MultiIndex.from_arrays([_keys(rows[name]) for name in apart.values()])
    if index.has_duplicates:
        rows = _grouped(rows, apart, settings, rules)
        index = pd.MultiIndex.from_arrays([_keys(rows[name]) for name in apart.values()])
    keys = [_keys(frame[name]) for name in apart]
    where = index.get_indexer(pd.MultiIndex.from_arrays(keys))
    if (where < 0).any():
        missing = list(dict.fromkeys(_shown(frame[settings["category"]][where < 0])))
        hint = suggestion(missing[0], list(dict.fromkeys(_shown(rows[joint]))))
        message = f"data has no row of {_some(missing)}, which the axes show.{hint}"
        raise make_error("paint-data", f"{message} Add it, or leave data out.")
    further = [name for name in rows.columns if name not in {joint, series, *settings.values()}]
    joined = pd.concat([frame, rows[further].iloc[where].reset_index(drop=True)], axis=1)
    left = len(rows) - len(set(where.tolist()))
    notes = [f"{left:,} of {len(rows):,} in data have no mark on the axes."] * bool(left)
    return MarkTable(joined, settings, tuple(notes), column_names)


def _grouped(
    rows: pd.DataFrame,
    apart: dict[str, str],
    settings: dict[str, str],
    rules: Sequence[RuleSection],
) -> pd.DataFrame:
    """One row for each mark: numbers are totalled, and texts kept where a mark has one.

    apart: the columns that tell marks apart, as the axes call them and as the data does.
    """
    value = free_name(
        settings["value"], [name for name in rows.columns if name != settings["value"]]
    )
    chart = {"category": apart[settings["category"]], "value": value, "order": "as given"}
    if len(apart) > 1:
        chart["series"] = apart[settings["series"]]
    spec = spec_of(chart, rules, None, measures={value: "count of rows"})
    marks = Stages(spec, rows).marks
    if marks.ambiguous_columns:
        name, example = next(iter(marks.ambiguous_columns.items()))
        raise make_error("paint-data", f"{name} of data differs inside one mark: {example}.")
    columns = {name: column for name, column in marks.columns.items() if name != value}
    return pd.DataFrame(
        {
            name: column.values() if isinstance(column, Text) else column
            for name, column in columns.items()
        }
    )


def _joint(rows: pd.DataFrame, names: pd.Series, taken: Sequence[str], called: str) -> str:
    """The column of the data that holds the categories: the one with most of their names.

    called: what the axis is called; of several with as many, the column of that name is meant.

    Raises YuzenError (paint-data) where none has any.
    """
    wanted = set(_keys(names))
    shares = {
        name: len(wanted & set(_keys(rows[name])))
        for name in rows.columns
        if name not in taken or len(rows.columns) == 1
    }
    # Of columns that match equally well the one that the axis is called by.
    best = max(shares, key=lambda name: (shares[name], name == called), default="")
    if not best or not shares[best]:
        message = (
            f"No column of data holds what the axes show: "
            f"{_some(list(dict.fromkeys(_shown(names))))}."
        )
        raise make_error(
            "paint-data", f"{message} It has {listed(list(map(str, rows.columns))[:8])}."
        )
    return best


def _series_column(
    rows: pd.DataFrame, frame: pd.DataFrame, settings: dict[str, str], joint: str
) -> str:
    """The column of the data that holds the series names; '' where no column has them all."""
    if "series" not in settings:
        return ""
    wanted = set(_keys(frame[settings["series"]]))
    words = {name: set(_keys(rows[name])) for name in rows.columns if name != joint}
    able = [name for name in words if wanted <= words[name]]
    return min(able, key=lambda name: (name != settings["series"], len(words[name])), default="")


def _keys(column: pd.Series) -> list[str]:
    """The values of a column as texts by which rows are matched, whatever their spelling."""
    values = _meant(column)
    if isinstance(values, Text):
        return [str(word) for word in values.values()]
    if values.dtype.kind == "M":
        return [str(moment) for moment in values.astype("datetime64[s]")]
    # Fifteen digits: 0.1 + 0.2 on the axes is the 0.3 of the rows.
    return [f"{number:.15g}" for number in values.tolist()]


def _meant(column: pd.Series) -> Column:
    """The values of a column as the rules know them."""
    return column_of(column_in(column, str(column.name)))


def _shown(column: pd.Series) -> list[str]:
    """The values of a column as Yuzen writes them."""
    return shown(_meant(column))


def _some(names: Sequence[object]) -> str:
    """The first of some names."""
    shown_names = listed([str(name) for name in names[:MAX_MESSAGE_NAMES]])
    if len(names) > MAX_MESSAGE_NAMES:
        return f"{shown_names} and {len(names) - MAX_MESSAGE_NAMES:,} more"
    return shown_names


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
    naming_columns = [n for n in further if rows[n].is_unique and isinstance(_meant(rows[n]), Text)]
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
