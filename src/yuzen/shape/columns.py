"""Columns of a DataFrame as the rules know them: numbers, dates or words."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING

import numpy as np
import pandas as pd

from yuzen.errors import wrong
from yuzen.rules.arrays import Text
from yuzen.shape.dates import first_values

if TYPE_CHECKING:
    from collections.abc import Set as AbstractSet

    from yuzen.rules.arrays import Column, Dates, Floats

ODD_BLANKS = re.compile(r"^\s|[^\S\n]$|\s\s|[^\S\n ]|\Z(?<=\n)", re.MULTILINE)
ISO_DATE = r"\d{4}-\d\d(-\d\d([ T]\d\d:\d\d(:\d\d(\.\d+)?)?)?)?"


class Columns(Mapping[str, "Column"]):
    """The columns of a table, each converted when it is first asked for.

    `numbers` names those that have to be numbers; the others are what their values are.
    """

    def __init__(self, frame: pd.DataFrame, numbers: AbstractSet[str] = frozenset()) -> None:
        self._frame = frame
        self._numbers = {name.casefold() for name in numbers}
        self._made: dict[str, Column] = {}

    def __getitem__(self, name: str) -> Column:
        if name not in self._made:
            series = self._frame[name]
            wanted = name.casefold() in self._numbers
            if wanted:
                self._made[name] = numbers_of(series)
            else:
                self._made[name] = column_of(series)
        return self._made[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._frame.columns)

    def __len__(self) -> int:
        return len(self._frame.columns)


def column_of(series: pd.Series) -> Column:
    """Numbers as floats, dates as datetime64[s], all else as words."""
    if pd.api.types.is_numeric_dtype(series.dtype) or pd.api.types.is_bool_dtype(series.dtype):
        return numbers_of(series)
    if pd.api.types.is_datetime64_any_dtype(series.dtype):
        return dates_of(series)
    if isinstance(series.dtype, pd.PeriodDtype):
        return dates_of(series.dt.to_timestamp())
    if _look_like_dates(series):
        return _dates_in_words(series)
    return words_of(series)


def numbers_of(series: pd.Series) -> Floats:
    """The column as floats, NaN where missing. Raises YuzenError with the first row of words."""
    if pd.api.types.is_numeric_dtype(series.dtype) or pd.api.types.is_bool_dtype(series.dtype):
        return series.to_numpy(dtype=float, na_value=np.nan)
    found = pd.to_numeric(series, errors="coerce")
    bad = np.flatnonzero(found.isna() & series.notna())
    if len(bad):
        row = int(bad[0])
        if len(bad) > 1:
            more = f" ({len(bad):,} rows hold none)"
        else:
            more = ""
        message = (
            f"{series.name} must hold numbers, but row {row + 1} (line {row + 2} of a file with a "
            f"heading) holds '{str(series.iloc[row])[:40]}'{more}."
        )
        raise wrong("data-number", message)
    return found.to_numpy(dtype=float, na_value=np.nan)


def dates_of(series: pd.Series) -> Dates:
    """The column as datetime64[s] without a time zone, NaT where missing."""
    if getattr(series.dt, "tz", None) is not None:
        series = series.dt.tz_localize(None)
    return series.to_numpy().astype("datetime64[s]")


def words_of(series: pd.Series) -> Text:
    """The column as words, −1 where missing; words that differ only in blanks are one."""
    codes, words = pd.factorize(series)
    told = [word if isinstance(word, str) else str(word) for word in words]
    if not ODD_BLANKS.search("\n".join(told)):
        return Text(codes.astype(np.intp, copy=False), tuple(told))
    told = [" ".join(word.split()) for word in told]
    index = {word: i for i, word in enumerate(dict.fromkeys(told))}
    merged = np.array([*(index[word] for word in told), -1], dtype=np.intp)
    return Text(merged[codes], tuple(index))


def _look_like_dates(series: pd.Series) -> bool:
    first = first_values(series, 20).astype(str)
    return len(first) > 0 and bool(first.str.fullmatch(ISO_DATE).all())


def _dates_in_words(series: pd.Series) -> Dates | Text:
    codes, words = pd.factorize(series)
    try:
        dates = pd.to_datetime(pd.Series(words, dtype=object).astype(str), format="ISO8601")
    except ValueError:
        return words_of(series)
    each = np.append(dates_of(dates), np.datetime64("NaT", "s"))
    return each[codes]
