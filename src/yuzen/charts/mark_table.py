"""The marks of a chart made elsewhere as a table, with further columns from other rows."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Final

import pandas as pd

from yuzen.arrays import Column, Text
from yuzen.brief.sections.rule import RuleSection
from yuzen.charts.judging import free_name, spec_of
from yuzen.errors import make_error, suggestion
from yuzen.formats.display import shown
from yuzen.formats.name_lists import listed
from yuzen.sources.columns import column_of
from yuzen.sources.frames import column_in
from yuzen.stages.stages import Stages
from yuzen.value import Value

MAX_MESSAGE_NAMES: Final = 5  # names that a message lists


class MarkTable(Value, eq=False):
    """The marks of a chart, one a row, series after series.

    settings: which of the columns is the category, the value, and the like of a brief's [chart].
    remarks:  notes on how the marks were put together.
    column_names: the names of all columns of the data.
    """

    frame: pd.DataFrame
    settings: dict[str, str]
    remarks: tuple[str, ...] = ()
    column_names: tuple[str, ...] = ()


def with_rows(
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
        message = f"data has no row of {_some(missing)}, which the chart shows.{hint}"
        raise make_error("paint-data", f"{message} Add it, or leave data out.")
    further = [name for name in rows.columns if name not in {joint, series, *settings.values()}]
    joined = pd.concat([frame, rows[further].iloc[where].reset_index(drop=True)], axis=1)
    left = len(rows) - len(set(where.tolist()))
    notes = [f"{left:,} of {len(rows):,} in data have no mark in the chart."] * bool(left)
    return MarkTable(joined, settings, tuple(notes), column_names)


def _grouped(
    rows: pd.DataFrame,
    apart: dict[str, str],
    settings: dict[str, str],
    rules: Sequence[RuleSection],
) -> pd.DataFrame:
    """One row for each mark: numbers are totalled, and texts kept where a mark has one.

    apart: the columns that tell marks apart, as the chart calls them and as the data does.
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


def joint_column(rows: pd.DataFrame, names: pd.Series, taken: Sequence[str], called: str) -> str:
    """The column of the data that holds the categories: the one with most of their names.

    called: what the categories are called; of several with as many, that of this name is meant.

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
            f"No column of data holds what the chart shows: "
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
    values = meant_column(column)
    if isinstance(values, Text):
        return [str(word) for word in values.values()]
    if values.dtype.kind == "M":
        return [str(moment) for moment in values.astype("datetime64[s]")]
    # Fifteen digits: 0.1 + 0.2 in a chart is the 0.3 of the rows.
    return [f"{number:.15g}" for number in values.tolist()]


def meant_column(column: pd.Series) -> Column:
    """The values of a column as the rules know them."""
    return column_of(column_in(column, str(column.name)))


def _shown(column: pd.Series) -> list[str]:
    """The values of a column as Yuzen writes them."""
    return shown(meant_column(column))


def _some(names: Sequence[object]) -> str:
    """The first of some names."""
    shown_names = listed([str(name) for name in names[:MAX_MESSAGE_NAMES]])
    if len(names) > MAX_MESSAGE_NAMES:
        return f"{shown_names} and {len(names) - MAX_MESSAGE_NAMES:,} more"
    return shown_names
