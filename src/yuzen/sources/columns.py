"""Columns of rows as the rules know them: numbers, dates or words."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Iterator, Mapping, Sequence
from collections.abc import Set as AbstractSet
from typing import Any, Final

import numpy as np

from yuzen.arrays import Bools, Column, Dates, Floats, Text, kind_of, missing_in
from yuzen.errors import make_error
from yuzen.regex import regex
from yuzen.rules.lineage import ColumnType, Remark
from yuzen.rules.quantities.fields import Field
from yuzen.sources.cells import LARGEST_EXACT_INT, PROBED_CELLS, Cells, RowColumn, number_in

ODD_BLANKS: Final = tuple("\t\r\v\f\x1c\x1d\x1e\x1f")
FOREIGN_BLANKS: Final = (
    *"\x85\xa0\u1680\u2000\u2001\u2002\u2003\u2004\u2005\u2006\u2007\u2008\u2009\u200a",
    *"\u2028\u2029\u202f\u205f\u3000",
)
ISO_DATE: Final = regex(r"\d{4}-\d\d(-\d\d([ T]\d\d:\d\d(:\d\d(\.\d+)?)?)?)?")
# What holds no numbers, each type before those that it is one of.
TIMES: Final = {dt.date: "dates", dt.time: "times of day", dt.timedelta: "durations"}
WHOLE_NUMBER: Final = regex(r"[-+]?\d{16,300}")  # of so many digits that some may be lost
TEXTUAL_SHARE: Final = 0.5  # of the first values that are no numbers where a column holds words


class Columns(Mapping[str, "Column"]):
    """The columns of rows, each converted when first needed.

    `numbers` names those that have to be numbers; the others are what their values are. `merged`
    holds, for columns of words that were asked for, two spellings that became one name, if there
    are such.
    """

    def __init__(
        self, given: Mapping[str, RowColumn], numbers: AbstractSet[str] = frozenset()
    ) -> None:
        self._given = given
        self._numbers = {name.casefold() for name in numbers}
        self._made: dict[str, Column] = {}
        self._plain: Columns | None = None
        self.merged: dict[str, tuple[str, str]] = {}

    def __getitem__(self, name: str) -> Column:
        if name not in self._made:
            column = self._given[name]
            wanted = name.casefold() in self._numbers
            if wanted:
                self._made[name] = numbers_of(column, name)
            elif self._plain is not None:
                self._made[name] = self._plain[name]
            else:
                self._made[name], twins = _meant(column)
                if twins is not None:
                    self.merged[name] = twins
        return self._made[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._given)

    def __len__(self) -> int:
        return len(self._given)

    def with_numbers(self, numbers: AbstractSet[str]) -> Columns:
        """The columns with some as numbers; the others are shared and made once."""
        others = Columns(self._given, numbers)
        # Converting a column of a million texts twice would cost more than all grouping.
        others._plain = self
        return others


def column_of(column: RowColumn) -> Column:
    """Numbers as floats, dates as datetime64[s], all else as words: true and false too."""
    return _meant(column)[0]


def _meant(column: RowColumn) -> tuple[Column, tuple[str, str] | None]:
    """The converted column, and two spellings that became one name."""
    if isinstance(column, Text):
        return column, None
    if isinstance(column, Cells):
        dates = _dates_in_words(column)
        if dates is not None:
            return dates, None
        return _words(column)
    if column.dtype.kind == "b":
        return _truth_words(column.astype(bool, copy=False)), None
    if column.dtype.kind == "M":
        return column.astype("datetime64[s]", copy=False), None
    return column.astype(np.float64, copy=False), None


def _truth_words(column: Bools) -> Text:
    """True and false as words, in the order in which they first turn up."""
    if not len(column):
        return Text(np.zeros(0, dtype=np.intp), ())
    other = column != column[0]
    words = (str(bool(column[0])), str(not column[0]))
    # A word that no row has would be a category without marks.
    return Text(other.astype(np.intp), words if other.any() else words[:1])


def dated_columns(given: Mapping[str, RowColumn]) -> tuple[str, ...]:
    """The columns whose first values are dates."""
    return tuple(
        name for name, column in given.items() if kind_of(column_of(_begun(column))) == "date"
    )


def _begun(column: RowColumn) -> RowColumn:
    """The first values of a column that are not missing."""
    if isinstance(column, Cells):
        return Cells.of(column.first(PROBED_CELLS))
    return column[:PROBED_CELLS]


def whole_columns(given: Mapping[str, RowColumn], names: Iterable[str]) -> frozenset[str]:
    """The columns that hold whole numbers."""
    return frozenset(name for name in names if name in given and _is_whole(given[name]))


def types_of(
    given: Mapping[str, RowColumn], names: Iterable[str], whole: AbstractSet[str]
) -> dict[str, ColumnType]:
    """The types of columns with truths or, by `whole`, whole numbers."""
    types: dict[str, ColumnType] = {}
    for name in names:
        if name in given and _is_truth(given[name]):
            types[name] = "boolean"
        elif name in whole:
            types[name] = "whole"
    return types


def _is_truth(column: RowColumn) -> bool:
    if isinstance(column, Cells):
        # True and false of two types are four cells at the most.
        few = 0 < len(column.distinct) <= 4
        return few and set(map(type, column.distinct)) <= {bool, np.bool_}
    return isinstance(column, np.ndarray) and column.dtype.kind == "b"


def _is_whole(column: RowColumn) -> bool:
    """Of whole numbers, which are floats where some are missing."""
    if isinstance(column, Text):
        return False
    if isinstance(column, Cells):  # those that are too long for floats
        return column.is_whole
    if column.dtype.kind != "f":
        return column.dtype.kind == "i"
    numbers = np.asarray(column, dtype=float)
    missing = missing_in(numbers)
    # Floats without gaps were written as floats; gaps alone say nothing of a type.
    if not missing.any() or missing.all():
        return False
    known = numbers[~missing]
    return bool(np.array_equal(known, np.rint(known)))


def numbers_of(column: RowColumn, name: str) -> Floats:
    """The column as floats, NaN where missing. Raises YuzenError with the first row of words."""
    if isinstance(column, np.ndarray) and column.dtype.kind != "M":
        return column.astype(np.float64, copy=False)
    _refuse_times(column, name)
    assert not isinstance(column, np.ndarray)  # noqa: S101 - those have been refused
    values: Sequence[Any] = column.words if isinstance(column, Text) else column.distinct
    numbers = np.array([number_in(value) for value in values], dtype=float)
    missing = np.array([value != value for value in values], dtype=bool)  # noqa: PLR0124 - NaN
    # The extra place is for code −1: a missing cell is no bad one.
    words = np.append(np.isnan(numbers) & ~missing, False)
    bad = np.flatnonzero(words[column.codes])
    if len(bad):
        row = int(bad[0])
        if len(bad) > 1:
            more = f" ({len(bad):,} rows hold none)"
        else:
            more = ""
        message = (
            f"{name} must hold numbers, but row {row + 1} (line {row + 2} of a file with a "
            f"heading) holds '{str(values[column.codes[row]])[:40]}'{more}."
        )
        raise make_error("data-number", message)
    return np.append(numbers, np.nan)[column.codes]


def digits_lost(name: str, cells: Iterable[object]) -> list[Remark]:
    """A remark on a number of more digits than a float keeps, if there is one among the cells."""
    for cell in cells:
        if isinstance(cell, str) and WHOLE_NUMBER.fullmatch(cell):
            whole = int(cell)
        elif isinstance(cell, int):
            whole = cell
        else:
            continue
        if (
            abs(whole) > LARGEST_EXACT_INT
            and np.isfinite(used := number_in(whole))
            and int(used) != whole
        ):
            message = f"{name} holds {whole}, more digits than a number keeps; I use {int(used)}."
            remedy = "If these are names, such as account numbers, do not add them up."
            return [Remark("digits-lost", message, remedy)]
    return []


def holds_words(column: RowColumn) -> bool:
    """Whether a column holds texts or dates: most of its first values are no numbers."""
    if isinstance(column, np.ndarray):
        return column.dtype.kind == "M"
    if isinstance(column, Text):
        first: list[Any] = list(column.words[:PROBED_CELLS])
    else:
        first = column.first(PROBED_CELLS)
    numbers = sum(not np.isnan(number_in(value)) for value in first)
    # A few notes among numbers ("n/a", "see below") do not make a column of words.
    return len(first) > 0 and 1 - numbers / len(first) > TEXTUAL_SHARE


def _refuse_times(column: RowColumn, name: str) -> None:
    """Raise YuzenError (data-number) for dates, times and durations, which are no numbers."""
    if isinstance(column, np.ndarray):
        what = "dates"
    elif isinstance(column, Text) or not column.distinct:
        return
    else:
        kinds = [
            kind_name
            for kind, kind_name in TIMES.items()
            if all(isinstance(v, kind) for v in column.distinct)
        ]
        if not kinds:
            return
        what = kinds[0]
    if what == "durations":
        remedy = "Make numbers of them first, in hours or in days."
    else:
        remedy = f"They can be counted, as in count of {Field(name)}, or be the category."
    raise make_error("data-number", f"{name} holds {what}, and a number is needed. {remedy}")


def words_of(column: Cells) -> Text:
    """The column as words, −1 where missing; words that differ only in blanks are one."""
    return _words(column)[0]


def ordered_words(codes: np.ndarray[Any, Any], words: Sequence[object]) -> RowColumn:
    """A column of ordered categories; of texts as they come, where two are one name."""
    plain = tuple(" ".join(str(word).split()) for word in words)
    category_codes = codes.astype(np.intp, copy=False)
    if len(set(plain)) < len(plain):
        return Cells(category_codes, list(words))
    return Text(category_codes, plain, ordered=True)


def _words(column: Cells) -> tuple[Text, tuple[str, str] | None]:
    """A column of texts, and two spellings that became one."""
    # `str()` of a text subclass may say something else, so only plain ones pass as they are.
    texts = set(map(type, column.distinct)) <= {str}
    spelled: Sequence[str] = column.distinct if texts else [str(value) for value in column.distinct]
    if not _has_odd_blanks(spelled) and (texts or len(set(spelled)) == len(spelled)):
        return Text(column.codes, tuple(spelled)), None
    plain = [" ".join(word.split()) for word in spelled]
    index = {word: i for i, word in enumerate(dict.fromkeys(plain))}
    place = np.array([*(index[word] for word in plain), -1], dtype=np.intp)
    return Text(place[column.codes], tuple(index)), _twins(spelled, plain)


def _has_odd_blanks(words: Sequence[str]) -> bool:
    """Whether some word has more than single spaces between its parts, or is empty.

    All words together are searched for each kind of blank, as that is many times as fast as looking
    at each word.
    """
    whole = "\n".join(words)
    if whole.count("\n") != max(0, len(words) - 1) or whole[:1].isspace() or whole[-1:].isspace():
        return True
    odd = ODD_BLANKS if whole.isascii() else ODD_BLANKS + FOREIGN_BLANKS
    return not whole or any(blank in whole for blank in odd) or _has_blanks_in_a_row(whole)


def _has_blanks_in_a_row(text: str) -> bool:
    """Whether two spaces or ends of lines, or a control character and one of them, are neighbours.

    Bytes are compared, which is eight times as fast as four searches for two characters.
    """
    # A half of a surrogate pair is no text, and none of the blanks.
    blanks = np.frombuffer(text.encode(errors="replace"), np.uint8) <= ord(" ")
    return bool((blanks[1:] & blanks[:-1]).any())


def _twins(spelled: Sequence[str], plain: list[str]) -> tuple[str, str] | None:
    """The first two spellings of one word."""
    first: dict[str, str] = {}
    for spelling, word in zip(spelled, plain, strict=True):
        if word in first:
            return first[word], spelling
        first[word] = spelling
    return None


def is_iso(column: RowColumn) -> bool:
    """Whether the first texts of a column are ISO 8601 dates, which sort as they are."""
    if not isinstance(column, Cells):
        return False
    first = column.first(20)
    return bool(first) and all(ISO_DATE.fullmatch(str(value)) for value in first)


def _dates_in_words(column: Cells) -> Dates | None:
    """The dates of a column of words; None where some word is none."""
    if not is_iso(column):
        return None
    dates = iso_dates([str(value) for value in column.distinct])
    if dates is None:
        return None
    return np.append(dates, np.datetime64("NaT", "s"))[column.codes]


def iso_dates(texts: Sequence[str]) -> Dates | None:
    """Dates as ISO 8601 writes them, to the second; None where some text is none.

    >>> iso_dates(["2026-01", "2026-02-03 10:30"])
    array(['2026-01-01T00:00:00', '2026-02-03T10:30:00'],
          dtype='datetime64[s]')
    """
    if not all(map(ISO_DATE.fullmatch, texts)):
        return None
    try:
        # Parsed with microseconds, as fractions of a second would be refused otherwise.
        return np.array(texts, dtype="datetime64[us]").astype("datetime64[s]")
    except ValueError:
        return None
