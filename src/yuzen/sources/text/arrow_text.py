"""Long files whose cells are written plainly, read by PyArrow where that is installed.

PyArrow parses the wanted columns alone, and makes no text of a cell that stood above already. It is
asked where it reads what pandas reads, to the last digit; any doubt leaves the file to pandas.
"""

from __future__ import annotations

from codecs import getincrementaldecoder
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from typing import IO, TYPE_CHECKING, Any, Final, Literal, TypeAlias

import numpy as np

from yuzen.arrays import Floats, size_bound
from yuzen.locks import cached_property
from yuzen.regex import regex
from yuzen.sources.cells import PROBED_CELLS, Cells, RowColumn, array_column
from yuzen.sources.endings import is_packed
from yuzen.sources.extras import is_installed
from yuzen.sources.text.dialect import TextDialect
from yuzen.sources.text.long_text import LongText
from yuzen.value import Value

if TYPE_CHECKING:
    import pyarrow as pa

CellType: TypeAlias = Literal["whole", "float", "words"]

MAX_HEADING_BYTES: Final = 200_000  # of each line down to the heading
ENCODINGS: Final = frozenset({"utf-8", "utf-8-sig", "ascii"})
LARGEST_WHOLE: Final = 2.0**63
_WHOLE: Final = regex(r"-?\d{1,18}")
_NUMBER: Final = regex(r"-?(\d+\.?\d*|\.\d+)([eE][-+]?\d+)?")
_NOT_WHOLE: Final = regex(r"[.eE]")


class UnlikeError(Exception):
    """Some cell may be read in another way than pandas reads it."""


class ArrowText(Value, eq=False):
    """The wanted columns of a file as PyArrow reads them; others are asked of pandas.

    numbers, words: the columns that were read as such.
    """

    layout: TextDialect
    row_count: int
    numbers: Mapping[str, RowColumn]
    words: Mapping[str, Cells]

    @classmethod
    def read(cls, layout: TextDialect, types: Mapping[str, CellType | None]) -> ArrowText | None:
        """The columns of these types; None where pandas has to read the file."""
        sure = {name: cell_type for name, cell_type in types.items() if cell_type is not None}
        if not sure or len(sure) < len(types) or not _is_readable(layout):
            return None
        import pyarrow as pa  # noqa: PLC0415 - an extra

        try:
            with _below_heading(layout) as file:
                table = _parsed(PlainBytes(file), layout, sure)
            words = {name for name, cell_type in sure.items() if cell_type == "words"}
            return cls(
                layout,
                table.num_rows,
                {name: _numbers(table[name]) for name in sure if name not in words},
                {name: _cells(table[name]) for name in words},
            )
        except (UnlikeError, UnicodeDecodeError, pa.ArrowInvalid):
            return None

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of all columns."""
        return self.layout.column_names

    def __len__(self) -> int:
        return self.row_count

    @property
    def may_be_short(self) -> bool:
        """Whether some line may have too few cells, which PyArrow refuses."""
        return False

    def first(self, name: str) -> list[Any] | None:
        """The first cells that are not empty; None of a column that holds no words."""
        if name in self.numbers:
            return None
        if name in self.words:
            return self.words[name].first(PROBED_CELLS)
        return self._by_pandas.first(name)

    def plain(self, name: str) -> RowColumn:
        """The column: numbers where all its cells are plainly written ones, else cells."""
        if name in self.numbers:
            return self.numbers[name]
        return self._by_pandas.plain(name)

    def spelled(self, names: Sequence[str]) -> Mapping[str, Cells]:
        """Columns as they are written, the empty cells missing."""
        words = {name: self.words[name] for name in names if name in self.words}
        others = [name for name in names if name not in words]
        return words | dict(self._by_pandas.spelled(others)) if others else words

    @cached_property
    def _by_pandas(self) -> LongText:
        return LongText.read(self.layout)


class PlainBytes:
    """A file for PyArrow whose bytes are looked at before it has them.

    Raises UnlikeError for quotes and for what only PyArrow takes for a line's end or a number, and
    UnicodeDecodeError for what is no UTF-8.
    """

    def __init__(self, file: IO[bytes]) -> None:
        self._file = file
        self._decoder = getincrementaldecoder("utf-8")()
        self._last = b""  # of what was read before, as a number may be cut in two
        self.closed = False

    def read(self, size: int) -> bytes:
        """The next bytes."""
        read = self._file.read(size)
        if read.endswith(b"\r"):
            read += self._file.read(1)  # so that no line's end is cut in two
        # One sign is found ten times as fast as two, and most files have none of these.
        if b'"' in read or b"\0" in read:
            raise UnlikeError
        if b"\r" in read and read.count(b"\r") != read.count(b"\r\n"):
            raise UnlikeError
        # 0x1F is a number for PyArrow, and a word for everybody else.
        for letter in (b"x", b"X"):
            if letter in read and b"0" + letter in self._last + read:
                raise UnlikeError
        self._last = read[-1:]
        if not read.isascii() or self._decoder.getstate()[0]:
            self._decoder.decode(read, final=not read)
        return read

    def close(self) -> None:
        """Nothing, as the file is closed by who opened it."""


def type_of(first: Sequence[str], *, is_number: bool) -> CellType | None:
    """How a column is read that begins with these cells; None where they leave a doubt."""
    if not is_number:
        return "words"
    cells = [cell for cell in first if cell]
    if cells and all(map(_WHOLE.fullmatch, cells)):
        return "whole"
    # One that is not whole makes all floats; whole numbers of more digits are left to pandas.
    if all(map(_NUMBER.fullmatch, cells)) and any(map(_NOT_WHOLE.search, cells)):
        return "float"
    return None


def _is_readable(layout: TextDialect) -> bool:
    """Whether PyArrow is there, and reads text of this encoding in columns."""
    plain = layout.encoding in ENCODINGS and not is_packed(layout.path)
    # An empty line of a single column is an empty cell, which pandas passes over.
    return plain and len(layout.column_names) > 1 and is_installed("pyarrow")


@contextmanager
def _below_heading(layout: TextDialect) -> Iterator[IO[bytes]]:
    """The lines below the heading. Raises UnlikeError where it does not stand on its line."""
    with layout.path.open("rb") as file:
        for _ in range(layout.heading.number):
            line = file.readline(MAX_HEADING_BYTES)
        cells = line.decode(layout.encoding).rstrip("\r\n").split(layout.delimiter)
        if cells != list(layout.heading.cells):
            raise UnlikeError
        yield file


def _parsed(file: PlainBytes, layout: TextDialect, types: Mapping[str, CellType]) -> pa.Table:
    """The columns of these types. Raises ArrowInvalid, and what the file raises."""
    import pyarrow as pa  # noqa: PLC0415 - an extra
    from pyarrow import csv  # noqa: PLC0415 - an extra

    arrow_types = {
        "whole": pa.int64(),
        "float": pa.float64(),
        "words": pa.dictionary(pa.int32(), pa.string()),
    }
    return csv.read_csv(
        file,
        read_options=csv.ReadOptions(column_names=list(layout.column_names)),
        parse_options=csv.ParseOptions(delimiter=layout.delimiter, quote_char=False),
        convert_options=csv.ConvertOptions(
            column_types={name: arrow_types[cell_type] for name, cell_type in types.items()},
            include_columns=list(types),
            null_values=[""],
            strings_can_be_null=True,
        ),
    )


def _numbers(column: pa.ChunkedArray) -> RowColumn:
    """A column of numbers. Raises UnlikeError for one that pandas may take for something else."""
    numbers = column.to_numpy()
    # Of a long whole number pandas keeps the digits, and "nan" is a word.
    if column.type == "double" and not _is_sure(numbers, column.null_count):
        raise UnlikeError
    return array_column(numbers)


def _is_sure(numbers: Floats, missing: int) -> bool:
    """Whether all numbers are of a size that pandas takes for a float too, and none is NaN."""
    # Most often one look at all of them shows it; NaN has no bound.
    if not missing and size_bound(numbers) < LARGEST_WHOLE:
        return True
    if np.count_nonzero(np.isnan(numbers)) != missing:
        return False
    most = np.fmax.reduce(numbers, initial=0.0)
    least = np.fmin.reduce(numbers, initial=0.0)
    return bool(least > -LARGEST_WHOLE and most < LARGEST_WHOLE)


def _cells(column: pa.ChunkedArray) -> Cells:
    """A column of words: the different ones, in the order in which they first turn up."""
    chunks = column.unify_dictionaries().chunks
    if not chunks:
        return Cells.of([])
    codes = [
        (chunk.indices.fill_null(-1) if chunk.null_count else chunk.indices).to_numpy()
        for chunk in chunks
    ]
    return Cells(np.concatenate(codes, dtype=np.intp), chunks[-1].dictionary.to_pylist())
