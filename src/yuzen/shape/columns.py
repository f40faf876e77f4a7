"""Columns of a DataFrame as the rules know them: numbers, dates or words."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import TYPE_CHECKING

import numpy as np
import pandas as pd

from yuzen.errors import wrong
from yuzen.rules.arrays import Text, kind_of
from yuzen.rules.quantities import Field
from yuzen.shape.dates import first_values

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence
    from collections.abc import Set as AbstractSet

    from yuzen.rules.arrays import Column, Dates, Floats
    from yuzen.rules.origin import Kept

ODD_BLANKS = re.compile(r"^\s|[^\S\n]$|\s\s|[^\S\n ]|\Z(?<=\n)", re.MULTILINE)
TIMES = {
    "datetime64": "dates",
    "datetime": "dates",
    "date": "dates",
    "period": "dates",
    "time": "times of day",
    "timedelta64": "durations",
    "timedelta": "durations",
}
EXACT = 2**53  # beyond which a float need not be the whole number that was meant
FIRST = 50  # values that show whether a column holds words
ISO_DATE = r"\d{4}-\d\d(-\d\d([ T]\d\d:\d\d(:\d\d(\.\d+)?)?)?)?"


class Columns(Mapping[str, "Column"]):
    """The columns of a table, each converted when it is first asked for.

    `numbers` names those that have to be numbers; the others are what their values are. `merged` holds, for
    columns of words that were asked for, two spellings that became one name, if there are such.
    """

    def __init__(self, frame: pd.DataFrame, numbers: AbstractSet[str] = frozenset()) -> None:
        self._frame = frame
        self._numbers = {name.casefold() for name in numbers}
        self._made: dict[str, Column] = {}
        self._plain: Columns | None = None
        self.merged: dict[str, tuple[str, str]] = {}

    def __getitem__(self, name: str) -> Column:
        if name not in self._made:
            series = self._frame[name]
            wanted = name.casefold() in self._numbers
            if wanted:
                self._made[name] = numbers_of(series)
            elif self._plain is not None:
                self._made[name] = self._plain[name]
            else:
                self._made[name] = column_of(series, self.merged)
        return self._made[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._frame.columns)

    def __len__(self) -> int:
        return len(self._frame.columns)

    def with_numbers(self, numbers: AbstractSet[str]) -> Columns:
        """The same columns, these as numbers; what is made of the others is made once for both."""
        others = Columns(self._frame, numbers)
        others._plain = self
        return others


def column_of(series: pd.Series, merged: dict[str, tuple[str, str]] | None = None) -> Column:
    """Numbers as floats, dates as datetime64[s], all else as words: true and false too.

    merged: takes two spellings of the column that became one name.
    """
    if pd.api.types.is_numeric_dtype(series.dtype) and not pd.api.types.is_bool_dtype(series.dtype):
        return words_of(series.astype("string")) if _has_long_numbers(series) else numbers_of(series)
    if pd.api.types.is_datetime64_any_dtype(series.dtype):
        return dates_of(series)
    if isinstance(series.dtype, pd.PeriodDtype):
        return dates_of(series.dt.to_timestamp())
    if isinstance(series.dtype, pd.CategoricalDtype) and series.cat.ordered:
        return _ordered_words(series)
    if is_iso(series):
        dates = _dates_in_words(series)
        if dates is not None:
            return dates
    words, twins = _words(series)
    if twins is not None and merged is not None:
        merged[str(series.name)] = twins
    return words


def _has_long_numbers(series: pd.Series) -> bool:
    """Whether whole numbers are so long, as those of accounts, that two of them would be one as floats."""
    if not pd.api.types.is_integer_dtype(series.dtype) or not len(series):
        return False
    ends = series.max(), series.min()
    return any(pd.notna(end) and abs(int(end)) > EXACT for end in ends)


def dated_columns(frame: pd.DataFrame) -> tuple[str, ...]:
    """Those of the columns whose first values are dates."""
    first = {str(name): first_values(frame[name], FIRST) for name in frame.columns}
    return tuple(name for name, values in first.items() if kind_of(column_of(values)) == "date")


def whole_columns(frame: pd.DataFrame, names: Sequence[str]) -> frozenset[str]:
    """Those of the columns that hold whole numbers."""
    return frozenset(name for name in names if name in frame.columns and _is_whole(frame[name]))


def types_of(frame: pd.DataFrame, names: Iterable[str], whole: AbstractSet[str]) -> dict[str, Kept]:
    """Those of the columns that hold true and false, or, as `whole` tells, whole numbers."""
    types: dict[str, Kept] = {}
    for name in names:
        if name in frame.columns and pd.api.types.is_bool_dtype(frame[name].dtype):
            types[name] = "boolean"
        elif name in whole:
            types[name] = "whole"
    return types


def _is_whole(series: pd.Series) -> bool:
    """Of whole numbers, which pandas keeps as floats where some are missing."""
    if pd.api.types.is_integer_dtype(series.dtype):
        return True
    if not pd.api.types.is_float_dtype(series.dtype) or not series.hasnans:
        return False
    numbers = series.dropna().to_numpy(dtype=float)
    return bool(len(numbers)) and bool(np.array_equal(numbers, np.rint(numbers)))


def numbers_of(series: pd.Series) -> Floats:
    """The column as floats, NaN where missing. Raises YuzenError with the first row of words."""
    if pd.api.types.is_numeric_dtype(series.dtype) or pd.api.types.is_bool_dtype(series.dtype):
        return series.to_numpy(dtype=float, na_value=np.nan)
    _refuse_times(series)
    found = numeric(series)
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


def holds_words(series: pd.Series) -> bool:
    """Whether a column holds words or dates rather than numbers: most of its first values are none."""
    if pd.api.types.is_numeric_dtype(series.dtype) or pd.api.types.is_bool_dtype(series.dtype):
        return False
    if series.dtype.kind in "mM":
        return True
    first = first_values(series, FIRST)
    return len(first) > 0 and float(numeric(first).isna().mean()) > 0.5


def numeric(series: pd.Series) -> pd.Series:
    """The cells as floats, NaN for what is none; a whole number too large for a float has no end."""
    try:
        found: pd.Series = pd.to_numeric(series, errors="coerce")
    except OverflowError:
        ended = [float(str(cell)) if isinstance(cell, int) else cell for cell in series]
        found = pd.to_numeric(pd.Series(ended, index=series.index, dtype=object), errors="coerce")
    return found


def _refuse_times(series: pd.Series) -> None:
    """Raise YuzenError (data-number) for dates, times and durations, which are no numbers of anything."""
    held = pd.api.types.infer_dtype(series, skipna=True)
    what = TIMES.get(held) or ("dates" if isinstance(series.dtype, pd.PeriodDtype) else "")
    if not what:
        return
    if what == "durations":
        remedy = "Make numbers of them first, in hours or in days."
    else:
        remedy = f"They can be counted, as in count of {Field(str(series.name))}, or be the category."
    raise wrong("data-number", f"{series.name} holds {what}, and a number is needed. {remedy}")


def dates_of(series: pd.Series) -> Dates:
    """The column as datetime64[s] without a time zone, NaT where missing."""
    if getattr(series.dt, "tz", None) is not None:
        series = series.dt.tz_localize(None)
    return series.to_numpy().astype("datetime64[s]")


def words_of(series: pd.Series) -> Text:
    """The column as words, −1 where missing; words that differ only in blanks are one."""
    return _words(series)[0]


def _ordered_words(series: pd.Series) -> Text:
    """A column of categories that have an order."""
    words = tuple(" ".join(str(word).split()) for word in series.cat.categories)
    if len(set(words)) < len(words):
        return words_of(series)  # two of them are one name
    return Text(series.cat.codes.to_numpy().astype(np.intp), words, ordered=True)


def _words(series: pd.Series) -> tuple[Text, tuple[str, str] | None]:
    """The same, and two spellings that became one word."""
    codes, words = pd.factorize(series)
    # As an array of Python's own texts, since a column of Arrow makes a new one whenever it is asked.
    each = pd.Series(words).to_numpy(dtype=object).tolist()
    if set(map(type, each)) <= {str}:
        spelled = each
    else:
        spelled = [word if isinstance(word, str) else str(word) for word in each]
    whole = "\n".join(spelled)
    plainly = whole.split() == spelled or not ODD_BLANKS.search(
        whole
    )  # words without any blank are seen fast
    if plainly and len(set(spelled)) == len(spelled):
        return Text(codes.astype(np.intp, copy=False), tuple(spelled)), None
    plain = [" ".join(word.split()) for word in spelled]
    index = {word: i for i, word in enumerate(dict.fromkeys(plain))}
    place = np.array([*(index[word] for word in plain), -1], dtype=np.intp)
    return Text(place[codes], tuple(index)), _twins(spelled, plain)


def _twins(spelled: list[str], plain: list[str]) -> tuple[str, str] | None:
    """The first two spellings of one word."""
    first: dict[str, str] = {}
    for spelling, word in zip(spelled, plain, strict=True):
        if word in first:
            return first[word], spelling
        first[word] = spelling
    return None


def is_iso(series: pd.Series) -> bool:
    """Whether the first texts of a column are dates as ISO 8601 writes them, which sort as they are."""
    first = first_values(series, 20).astype(str)
    return len(first) > 0 and bool(first.str.fullmatch(ISO_DATE).all())


def _dates_in_words(series: pd.Series) -> Dates | None:
    """The dates of a column of words; None where some word is none."""
    codes, words = pd.factorize(series)
    try:
        dates = pd.to_datetime(pd.Series(words, dtype=object).astype(str), format="ISO8601")
    except ValueError:
        return None
    each = np.append(dates_of(dates), np.datetime64("NaT", "s"))
    return each[codes]
