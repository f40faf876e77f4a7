"""Delimited text: its encoding, delimiter and way of writing numbers, told or found out of its beginning."""

from __future__ import annotations

import codecs
import csv
import re
from collections import Counter
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING, Final

import pandas as pd

from yuzen.shape.dates import looks_dated

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence
    from pathlib import Path

    from yuzen.shape.formats import Format

SAMPLE: Final = 200_000  # bytes that are looked at before a file is read
LINES: Final = 120
DELIMITERS: Final = (",", ";", "\t", "|")
ODD_SEPARATORS: Final = "\u00a0\u202f\u2009’"  # which pandas' parser does not take between thousands
MARKS: Final = (  # of byte order
    (codecs.BOM_UTF8, "utf-8-sig"),
    (codecs.BOM_UTF16_LE, "utf-16"),
    (codecs.BOM_UTF16_BE, "utf-16"),
)

NO_UTF8: Final = (
    "It is no UTF-8, so I read it as Windows text (cp1252); if accents look wrong, say its encoding under "
    "[data]."
)

_GROUPED = re.compile(
    r"[-+−]?[1-9]\d{0,2}(?P<by>[ '.,\u00a0\u202f\u2009’])\d{3}(?:(?P=by)\d{3})*(?:(?P<point>[.,])\d+)?"
)
_DECIMAL = re.compile(r"[-+−]?(?P<whole>\d*)(?P<point>[.,])(?P<after>\d+)")


@dataclass(frozen=True)
class Numbers:
    """How numbers are written: the decimal sign, what stands between thousands ('' for nothing)."""

    decimal: str = "."
    thousands: str = ""


@dataclass(frozen=True, eq=False)
class Delimited:
    """A file of delimited text. `format` holds what was told of it; the rest is found out."""

    path: Path
    format: Format

    @cached_property
    def offered(self) -> tuple[str, ...]:
        """The names of its columns."""
        head = next((row for row in _split(self._lines, self.delimiter) if row), None)
        if head is None:
            raise pd.errors.EmptyDataError
        return tuple(name.strip() or f"column {place}" for place, name in enumerate(head, start=1))

    def read(self, names: Sequence[str]) -> tuple[pd.DataFrame, list[str]]:
        """All columns, these among them, and what was guessed of how these are written."""
        numbers, doubts = self._written(names)
        try:
            frame, guessed = self._frame(numbers, self.encoding), self._guesses(self.encoding)
        except UnicodeDecodeError:
            if self.format.encoding is not None:
                raise
            frame, guessed = self._frame(numbers, "cp1252"), self._guesses("cp1252")
        return frame, [*guessed, *doubts]

    def _frame(self, numbers: Numbers, encoding: str) -> pd.DataFrame:
        """All columns: told to take some of them only, pandas passes over lines that have too many cells.

        And it reads by several threads only where it is told nothing of the kind.
        """
        odd = numbers.thousands in ODD_SEPARATORS and numbers.thousands
        frame = pd.read_csv(
            self.path,
            encoding=encoding,
            sep=self.delimiter,
            decimal=numbers.decimal,
            thousands=None if odd else numbers.thousands or None,
            dtype=dict.fromkeys(self._dated, str),
        )
        if not isinstance(frame.index, pd.RangeIndex) or len(frame.columns) != len(self.offered):
            raise ValueError("its rows have more cells than the heading has names")
        frame.columns = list(self.offered)
        if odd:
            return _without(frame, odd, numbers.decimal)
        return frame

    @cached_property
    def encoding(self) -> str:
        """What was told, or by the mark of byte order, or UTF-8 where the beginning can be read so."""
        if self.format.encoding is not None:
            return codecs.lookup(self.format.encoding).name
        for mark, name in MARKS:
            if self._begins.startswith(mark):
                return name
        try:
            codecs.getincrementaldecoder("utf-8")().decode(self._begins)
        except UnicodeDecodeError:
            return "cp1252"
        return "utf-8"

    @cached_property
    def delimiter(self) -> str:
        """What was told, or what splits the first lines into equally many columns, most of them."""
        if self.format.delimiter is not None:
            return self.format.delimiter
        if self.path.suffix.casefold() == ".tsv":
            return "\t"

        def regular(delimiter: str) -> tuple[int, int]:
            widths = Counter(len(row) for row in _split(self._lines, delimiter) if row)
            width, often = widths.most_common(1)[0] if widths else (1, 0)
            return (often if width > 1 else 0), width

        return max(DELIMITERS, key=regular)

    @cached_property
    def _begins(self) -> bytes:
        with self.path.open("rb") as file:
            return file.read(SAMPLE)

    @cached_property
    def _lines(self) -> list[str]:
        text = self._begins.decode(self.encoding, errors="replace")
        if "\0" in text:
            raise ValueError("it is no text")
        lines = text.splitlines()
        return lines[: -1 if len(self._begins) == SAMPLE else None][:LINES]

    @cached_property
    def _cells(self) -> dict[str, list[str]]:
        """The first cells of every column."""
        rows = [row for row in _split(self._lines[1:], self.delimiter) if len(row) == len(self.offered)]
        return {name: [row[i].strip() for row in rows] for i, name in enumerate(self.offered)}

    @cached_property
    def _dated(self) -> set[str]:
        return {name for name, cells in self._cells.items() if looks_dated(cells)}

    def _written(self, names: Sequence[str]) -> tuple[Numbers, list[str]]:
        """How the numbers of these columns are written, and what could be meant otherwise."""
        told = Numbers(self.format.decimal or "", self.format.thousands or "")
        plain = [name for name in self.offered if name not in self._dated]
        cells = [
            (n, c)
            for n in plain
            for c in dict.fromkeys(self._cells[n])
            if c[-1:].isdigit() and not c.isdigit()
        ]
        found = _clear(cell for _, cell in cells)
        decimal = told.decimal or found.decimal or ("," if (told.thousands or found.thousands) == "." else "")
        thousands = told.thousands or found.thousands
        doubtful = next(((n, c) for n, c in cells if _either(c)), None)
        if doubtful is None or (thousands and decimal):
            return Numbers(decimal or ".", thousands), []
        sign = next(char for char in doubtful[1] if char in ".,")
        if decimal:
            return Numbers(decimal, thousands if sign == decimal else sign), []
        if thousands:
            return Numbers("." if thousands != "." else ",", thousands), []
        means_decimal = sign == "." or self.delimiter == ";"
        if means_decimal:
            numbers = Numbers(sign)
        else:
            numbers = Numbers(".", sign)
        if (sign == "." and self.delimiter != ";") or doubtful[0] not in names:
            return numbers, []
        return numbers, [_doubt(*doubtful, sign, means_decimal=means_decimal)]

    def _guesses(self, encoding: str) -> list[str]:
        if self.format.encoding is not None or encoding != "cp1252":
            return []
        return [NO_UTF8]


def _split(lines: Sequence[str], delimiter: str) -> list[list[str]]:
    try:
        return list(csv.reader(lines, delimiter=delimiter))
    except csv.Error:
        return []


def _clear(cells: Iterable[str]) -> Numbers:
    """What cells that can mean one thing only tell: the decimal sign and the sign between thousands."""
    found = Numbers("", "")
    for cell in cells:
        if (grouped := _GROUPED.fullmatch(cell)) and not _either(cell):
            by, point = grouped["by"], grouped["point"]
            if point != by:
                found = replace(found, thousands=by, decimal=point or found.decimal)
        elif (plain := _DECIMAL.fullmatch(cell)) and not _either(cell) and found.decimal != ".":
            found = replace(found, decimal=plain["point"])
    return found


def _either(cell: str) -> bool:
    """Whether 1,234 may be a thousand and more, or one and some.

    >>> _either("1,234"), _either("0,234"), _either("1,23"), _either("1,234,567")
    (True, False, False, False)
    """
    plain = _DECIMAL.fullmatch(cell)
    return (
        plain is not None
        and len(plain["after"]) == 3
        and 1 <= len(plain["whole"]) <= 3
        and plain["whole"][0] != "0"
    )


def _doubt(column: str, cell: str, sign: str, *, means_decimal: bool) -> str:
    if means_decimal:
        read = cell.replace(sign, ".")
    else:
        read = cell.replace(sign, "")
    if means_decimal:
        other = f'thousands = "{sign}"'
    else:
        other = f'decimal = "{sign}"'
    if means_decimal:
        meant = cell.replace(sign, "")
    else:
        meant = cell.replace(sign, ".")
    return f"I read {cell} in {column} as {read}; if it means {meant}, say {other} under [data]."


def _without(frame: pd.DataFrame, separator: str, decimal: str) -> pd.DataFrame:
    """Columns of words that are numbers with this sign between thousands, as numbers."""
    made = {}
    for name in frame.columns:
        if pd.api.types.is_string_dtype(frame[name].dtype):
            plain = frame[name].str.replace(separator, "", regex=False).str.replace(decimal, ".", regex=False)
            numbers = pd.to_numeric(plain, errors="coerce")
            if numbers.notna().eq(frame[name].notna()).all():
                made[name] = numbers
    return frame.assign(**made)
