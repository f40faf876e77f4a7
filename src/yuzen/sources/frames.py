"""DataFrames of pandas in and out: the only place that knows their types."""

import datetime as dt
from collections.abc import Iterable, Mapping
from contextlib import suppress
from typing import Any, Final

import numpy as np
import pandas as pd

from yuzen.arrays import Dates, Text
from yuzen.errors import YuzenError, external_call
from yuzen.sources.cells import (
    REMEDY,
    Cells,
    RowColumn,
    array_column,
    cell_list,
    column_from,
    plain_cell,
    refuse_halves,
    refuse_kinds,
    refused,
)
from yuzen.sources.columns import ordered_words

# What pandas calls columns of objects that are plain already, which is seen without a look at each
# cell.
PLAIN_TYPES: Final = {
    "string", "empty", "boolean", "integer", "floating", "mixed-integer-float",
    "datetime64", "datetime", "date", "timedelta64", "timedelta", "time", "period",
}  # fmt: skip
NUMBER_TYPES: Final = {"integer", "floating", "mixed-integer-float", "decimal"}  # such of numbers
PLAIN_PYTHON_TYPES: Final = {
    str,
    int,
    float,
    bool,
    type(None),
    np.str_,
    np.float64,
    np.int64,
    np.bool_,
}


def columns_from(frame: pd.DataFrame, names: Iterable[str]) -> dict[str, RowColumn]:
    """Some columns of a DataFrame.

    Raises YuzenError (data-type) for lists, objects, bytes that are no text, complex numbers.
    """
    return {name: column_in(frame[name], name) for name in names}


def readable_columns(frame: pd.DataFrame) -> dict[str, RowColumn]:
    """The columns that can be read; the error of another is raised when it is used."""
    columns: dict[str, RowColumn] = {}
    for name in frame.columns:
        with suppress(YuzenError):
            columns[name] = column_in(frame[name], str(name))
    return columns


def frame_from(columns: Mapping[str, RowColumn]) -> pd.DataFrame:
    """Columns of rows as a DataFrame, counted from 0."""
    return pd.DataFrame({name: _series(column) for name, column in columns.items()})


def column_in(series: pd.Series, name: str) -> RowColumn:  # noqa: PLR0911 - one for each kind
    """A column of a DataFrame by what pandas knows of it."""
    dtype = series.dtype
    if isinstance(dtype, pd.ArrowDtype) and dtype.kind == "O":
        series = series.astype(object)
    if series.dtype.kind == "c":
        raise refused(name, "complex numbers")
    # Truths come before numbers, as pandas counts them among those.
    if pd.api.types.is_bool_dtype(dtype) and series.dtype != object:
        return _truths(series)
    if pd.api.types.is_numeric_dtype(dtype):
        return _numbers(series)
    if pd.api.types.is_datetime64_any_dtype(dtype) or getattr(dtype, "type", None) is dt.date:
        return _dates(series)
    if isinstance(dtype, pd.PeriodDtype):
        return _dates(series.dt.to_timestamp())
    if isinstance(dtype, pd.CategoricalDtype) and dtype.ordered:
        # An order that somebody has given to categories is kept, as their order in time or size.
        return ordered_words(series.cat.codes.to_numpy(), list(series.cat.categories))
    if series.dtype == object:
        if _inferred(series) in NUMBER_TYPES:
            return column_from([_own_number(cell) for cell in series.tolist()], name)
        with external_call("data-type", f"{name} holds what I cannot read ({{reason}}). {REMEDY}"):
            return factorized(_plain(series, name))
    return factorized(series)


def factorized(series: pd.Series) -> Cells:
    """A column's different cells, and which of them each row has."""
    codes, values = pd.factorize(series)
    # As an array of Python's own objects, since a column of Arrow makes a new one whenever it is
    # asked.
    each = pd.Series(values).to_numpy(dtype=object).tolist()
    return Cells(codes.astype(np.intp, copy=False), each)


def _truths(series: pd.Series) -> RowColumn:
    if series.isna().any():
        return Cells.of([None if pd.isna(cell) else bool(cell) for cell in series.tolist()])
    return series.to_numpy(dtype=bool)


def _numbers(series: pd.Series) -> RowColumn:
    missing = bool(series.isna().any())
    if not pd.api.types.is_integer_dtype(series.dtype):
        return series.to_numpy(dtype=float, na_value=np.nan)
    if not missing:
        return array_column(
            series.to_numpy(dtype=np.uint64 if series.dtype.kind == "u" else np.int64)
        )
    # Nullable integers may be longer than a float is exact for; then each stays what it is.
    kind = np.uint64 if pd.api.types.is_unsigned_integer_dtype(series.dtype) else np.int64
    known = array_column(series.dropna().to_numpy(dtype=kind))
    if isinstance(known, Cells):
        return Cells.of([None if pd.isna(cell) else int(cell) for cell in series.tolist()])
    return series.to_numpy(dtype=float, na_value=np.nan)


def _dates(series: pd.Series) -> Dates:
    """Without a time zone, NaT where missing."""
    if series.dtype.type is dt.date:  # Arrow's dates, which have no clock
        series = series.astype("datetime64[s]")
    if getattr(series.dt, "tz", None) is not None:
        series = series.dt.tz_localize(None)
    return series.to_numpy().astype("datetime64[s]")


def _plain(series: pd.Series, name: str) -> pd.Series:
    """A column of objects with texts in bytes as texts. Raises YuzenError (data-type)."""
    cells = series.to_numpy(dtype=object)
    refuse_halves(_letters(cells), name)
    if _inferred(series) in PLAIN_TYPES:
        return series
    types = set(map(type, cells)) - PLAIN_PYTHON_TYPES
    if not types:
        return series
    refuse_kinds(types, name)
    try:
        plain = np.array([plain_cell(cell) for cell in cells], dtype=object)
    except UnicodeDecodeError:
        raise refused(name, "bytes that are no text in UTF-8") from None
    return pd.Series(plain, index=series.index, name=series.name, dtype=object)


def _letters(cells: np.ndarray[Any, Any]) -> str:
    """All texts among the cells as one; where all cells are texts, without a look at each."""
    try:
        # Joining fails at the first cell that is no text, which is quicker than asking each.
        return "".join(cells)
    except TypeError:
        return "".join(cell for cell in cells if isinstance(cell, str))


def _inferred(series: pd.Series) -> str:
    """What pandas takes the objects of a column for."""
    try:
        return pd.api.types.infer_dtype(series, skipna=True)
    except ArithmeticError:  # a decimal that signals when it is compared
        return "mixed"


def _own_number(cell: Any) -> Any:  # noqa: ANN401 - a number of NumPy's, or one of Python's
    """A number as Python has it; None where it is missing."""
    if cell is None or cell is pd.NA or cell is pd.NaT:
        return None
    return cell.item() if isinstance(cell, np.generic) else cell


def _whole_series(column: Cells) -> pd.Series:
    """Whole numbers as pandas has them where some are missing, or where they are long."""
    cells = pd.Series(cell_list(column), dtype=object)
    known = column.distinct
    if min(known) >= -(2**63) and max(known) < 2**63:
        return cells.astype("Int64" if (column.codes < 0).any() else "int64")
    if min(known) >= 0 and max(known) < 2**64:
        return cells.astype("UInt64" if (column.codes < 0).any() else "uint64")
    return cells


def _series(column: RowColumn) -> pd.Series:
    if isinstance(column, Text):
        words = pd.Index(column.words)
        return pd.Series(pd.Categorical.from_codes(column.codes, words, ordered=column.ordered))
    if isinstance(column, Cells):
        if column.distinct and all(type(cell) is bool for cell in column.distinct):
            missing = column.codes < 0
            return pd.Series(cell_list(column), dtype="boolean" if missing.any() else "bool")
        if column.is_whole:
            return _whole_series(column)
        each = np.empty(len(column.distinct) + 1, dtype=object)
        each[:-1] = column.distinct
        return pd.Series(
            each[column.codes]
        )  # texts as pandas has them, which it finds out by itself
    return pd.Series(column)
