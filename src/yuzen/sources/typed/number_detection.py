"""Columns of typed texts: which are numbers, and what was guessed of their notation."""

from collections.abc import Iterable, Mapping, Sequence
from typing import Final

import numpy as np

from yuzen.errors import make_error, suggestion
from yuzen.formats.name_lists import listed
from yuzen.formats.number_text import MINUS
from yuzen.locks import cached_property
from yuzen.regex import regex
from yuzen.rules.lineage import Remark
from yuzen.sources.cells import LARGEST_EXACT_INT, Cells, RowColumn
from yuzen.sources.columns import digits_lost
from yuzen.sources.file_format import Format
from yuzen.sources.typed.numerals import (
    BLANKS,
    Reading,
    Style,
    is_plain,
    numeral,
    read_numerals,
    style_of,
)
from yuzen.sources.typed.read_columns import TextColumns
from yuzen.sources.wanted import Wanted
from yuzen.value import Value

SAMPLE_CELLS: Final = 50  # different cells that show whether a column holds numbers
MOST_NUMBERS: Final = 0.5  # of them that have to be
WHOLE_NUMBER: Final = regex(r"[-+]?\d+")


class FilePart(Value):
    """The rows of one file among several: its name, the line of its first row, how many."""

    name: str
    first_line: int
    rows: int


class RowPlaces(Value):
    """Where rows stand that were read from one file, or from several one below the other."""

    files: tuple[FilePart, ...]

    def named(self, row: int) -> str:
        """The place of a row, counted from 0 over all files.

        >>> RowPlaces((FilePart("a.csv", 2, 3), FilePart("b.csv", 2, 3))).named(4)
        'row 2 of b.csv (line 3)'
        """
        for file in self.files:
            if row < file.rows:
                break
            row -= file.rows
        of_file = f" of {file.name}" if len(self.files) > 1 else ""
        return f"row {row + 1}{of_file} (line {row + file.first_line})"


class NumberDetection(Value, eq=False):
    """How the columns of a file are read: settings, what columns show, where rows begin.

    file:       all its columns, by which it is found out how numbers are written.
    places:     where the rows stand in their files.
    semicolons: whether cells are parted by them.
    """

    format: Format
    file: TextColumns
    places: RowPlaces
    semicolons: bool

    @cached_property
    def elsewhere(self) -> Style:
        """What all columns of words show of how numbers are written."""
        bodies = []
        for name in self.file.column_names:
            first = None if name in self.format.text else self.file.first(name)
            if first is None or not _mostly_numbers(first):
                continue
            column = self.file.plain(name)
            if isinstance(column, Cells):
                read = (numeral(word.strip()) for word in column.distinct if isinstance(word, str))
                bodies += [one.body for one in read if one is not None]
        return style_of(bodies)[0]

    @property
    def style(self) -> Style:
        """What the brief tells of how numbers are written."""
        thousands = self.format.thousands or ""
        if thousands in BLANKS:
            # All kinds of blanks are one separator.
            thousands = thousands and " "
        return Style(self.format.decimal or "", "'" if thousands == "’" else thousands)

    def read(self, words: Sequence[str]) -> Reading:
        """What a column's different cells mean as numbers."""
        return read_numerals(words, self.style, lambda: self.elsewhere, semicolons=self.semicolons)


def detect_numbers(
    given: Mapping[str, RowColumn], wanted: Wanted, typing: NumberDetection
) -> tuple[Mapping[str, RowColumn], list[Remark]]:
    """The columns with their numbers as numbers, and what was guessed of how these are written.

    A column that is asked for by its names stays words where a number would lose one: 007, 7 and
    7.0. Raises YuzenError (data-number) where numbers are asked for and some cell is none.
    """
    for name in typing.format.text:
        if name not in typing.file.column_names:
            hint = suggestion(name, list(typing.file.column_names))
            message = f"text names {name}, and there is no such column.{hint}"
            raise make_error("brief-column", message, key=("data", "text"))
    columns: dict[str, RowColumn] = {}
    remarks: list[Remark] = []
    for name in wanted.names:
        cells = given[name]
        if name in typing.format.text or not isinstance(cells, Cells):
            continue
        asked = name in wanted.numbers or name in wanted.counted
        if not asked and not _all_plain(cells.first(SAMPLE_CELLS)):
            # names that are no numbers, which is seen without a look at all of a long column
            continue
        if asked:
            reading = _numbers(cells, typing)
            if reading.bad is None:
                columns[name] = cells.spread(reading.numbers)
                remarks += [*_remarks(name, reading), *_digits_lost(name, cells, reading)]
            elif name in wanted.numbers and not (
                name in wanted.auto_totals and not _mostly_numbers(cells.first(SAMPLE_CELLS))
            ):
                raise _refusal(name, cells, reading, typing.places)
        elif (numbers := _names_as_numbers(cells, typing)) is not None:
            columns[name] = numbers
    return {**given, **columns}, remarks


def _mostly_numbers(first: Sequence[object]) -> bool:
    """Whether most of the first cells that are not empty are numbers."""
    cells = [str(cell).strip() for cell in first]
    numbers = sum(numeral(cell) is not None for cell in cells)
    return bool(cells) and numbers >= MOST_NUMBERS * len(cells)


def _all_plain(words: Iterable[object]) -> bool:
    return all(isinstance(word, str) and is_plain(word.strip()) for word in words)


def _numbers(cells: Cells, typing: NumberDetection) -> Reading:
    """The numbers of cells, of which a workbook has some as numbers already."""
    words = cells.distinct
    texts = [(place, word) for place, word in enumerate(words) if isinstance(word, str)]
    reading = typing.read([word for _, word in texts])
    if len(texts) == len(words):
        return reading
    numbers = [_number(word) if _is_number(word) else np.nan for word in words]
    for (place, _), number in zip(texts, reading.numbers, strict=False):
        numbers[place] = number
    if reading.bad is None:
        bad = None
    else:
        bad = texts[reading.bad][0]
    others = [
        p for p, word in enumerate(words) if not isinstance(word, str) and not _is_number(word)
    ]
    if others and bad is None:
        bad = others[0]
    return Reading(numbers, reading.style, bad, reading.why, reading.examples, reading.doubt)


def _is_number(word: object) -> bool:
    return isinstance(word, int | float | np.integer | np.floating | bool | np.bool_)


def _number(word: float) -> float:
    """A cell that is a number; a whole one that is too large for a float has no end."""
    try:
        return float(word)
    except OverflowError:
        return float(str(word))


def _names_as_numbers(cells: Cells, typing: NumberDetection) -> RowColumn | None:
    """Names that are numbers: as whole numbers where all are; None: they are texts."""
    words = cells.distinct
    if not words or not _all_plain(words):
        return None
    reading = typing.read(words)
    if (
        reading.bad is not None
        or reading.doubt is not None
        # "7" and "07" would become one name.
        or len(set(reading.numbers)) < len(words)
    ):
        return None
    if all(map(WHOLE_NUMBER.fullmatch, words)):
        return _whole_names(cells)
    numbers = cells.spread(reading.numbers)
    if np.array_equal(numbers, np.rint(numbers)) and np.abs(numbers).max(initial=0.0) < 2**53:
        return numbers.astype(np.int64)
    return numbers


def _whole_names(cells: Cells) -> RowColumn:
    """Names that are whole numbers, to the last digit however long they are."""
    wholes = [int(word) for word in cells.distinct]
    if max(map(abs, wholes)) > LARGEST_EXACT_INT:
        return Cells(cells.codes, wholes)
    numbers = cells.spread(wholes)
    if np.isnan(numbers).any():
        return numbers
    return numbers.astype(np.int64)


def _refusal(name: str, cells: Cells, reading: Reading, places: RowPlaces) -> Exception:
    assert reading.bad is not None  # noqa: S101 - the caller has asked
    if reading.why:
        why = f", and {reading.why}"
    else:
        why = ""
    message = (
        f"{name} must hold numbers, but {places.named(cells.row(reading.bad))} holds "
        f"'{str(cells.distinct[reading.bad])[:40]}'{why}."
    )
    return make_error("data-number", message)


def _remarks(name: str, reading: Reading) -> list[Remark]:
    """One line on what was not written plainly, and one on what can mean two things."""
    remarks = []
    if reading.examples:
        read = [f"{cell} as {_plainly(number)}" for cell, number in reading.examples.values()]
        message = f"I read {listed(read, most=6)} in {name}."
        remarks.append(
            Remark("guess", message, f'If these are words, say text = ["{name}"] under [data].')
        )
    if reading.doubt is not None:
        remarks.append(_doubt(name, reading))
    return remarks


def _digits_lost(name: str, cells: Cells, reading: Reading) -> list[Remark]:
    if np.nanmax(np.abs(reading.numbers), initial=0.0) < LARGEST_EXACT_INT:
        return []
    return digits_lost(name, cells.distinct)


def _plainly(number: float) -> str:
    """A number with all its digits."""
    if np.isnan(number):
        return "missing"
    return f"{number:.15g}".replace("-", MINUS)


def _doubt(name: str, reading: Reading) -> Remark:
    assert reading.doubt is not None  # noqa: S101 - the caller has asked
    cell, sign = reading.doubt
    pointed, joined = cell.replace(sign, "."), cell.replace(sign, "")
    if reading.style.decimal == sign:
        read, meant, other = pointed, joined, f'thousands = "{sign}"'
    else:
        read, meant, other = joined, pointed, f'decimal = "{sign}"'
    remedy = f"If it means {meant}, say {other} under [data]."
    return Remark("guess", f"I read {cell} in {name} as {read}.", remedy)
