"""Columns of rows as their source has them: numbers, truths, dates, or cells of any kind."""

from __future__ import annotations

import datetime as dt
from collections.abc import Iterable, Mapping, Sequence
from decimal import Decimal
from typing import Any, Final, TypeAlias

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Codes, Floats, Text
from yuzen.errors import make_error
from yuzen.value import Value

LARGEST_EXACT_INT: Final = 2**53  # beyond which a float need not be the whole number that was meant
PROBED_CELLS: Final = 50  # values that show whether a column holds words
SEARCHED_TIMES: Final = 50  # times as many rows are searched for them before all rows are
TYPE_WORDS: Final = {
    "list": "lists",
    "dict": "objects with keys of their own",
    "ndarray": "lists",
    "set": "sets",
}
REMEDY: Final = "A column of a chart holds names, numbers or dates; make one of these of it first."


class Cells(Value, eq=False):
    """A column of texts or mixed cells: for each row an index into `distinct`, −1 for none.

    distinct: the different cells as they are, in the order in which they first turn up.
    """

    codes: Codes
    distinct: Sequence[Any]

    @classmethod
    def of(cls, cells: Iterable[Any]) -> Cells:
        """A column of these cells; None and NaN are missing.

        >>> Cells.of(["b", 7, None, "b"])
        Cells(codes=array([ 0,  1, -1,  0]), distinct=['b', 7])
        """
        index: dict[Any, int] = {}
        kinds = set(map(type, cells := list(cells)))
        # Texts alone are the common case, and need no type beside them in the index.
        if kinds <= {str, type(None)}:
            codes = [-1 if cell is None else index.setdefault(cell, len(index)) for cell in cells]
            return cls(np.array(codes, dtype=np.intp), list(index))
        # True is 1 to Python, and 1 is 1.0; in a column they are three words.
        keyed = ((type(cell), cell) for cell in cells)
        codes = [-1 if is_missing(key[1]) else index.setdefault(key, len(index)) for key in keyed]
        return cls(np.array(codes, dtype=np.intp), [cell for _, cell in index])

    def __len__(self) -> int:
        return len(self.codes)

    def __getitem__(self, at: Any) -> Cells:  # noqa: ANN401 - whatever NumPy takes as an index
        return Cells(self.codes[at], self.distinct)

    @property
    def is_whole(self) -> bool:
        """Whether all cells are whole numbers, and there are some."""
        return bool(self.distinct) and all(type(cell) is int for cell in self.distinct)

    def first(self, count: int) -> list[Any]:
        """The first cells that are not missing, found without looking at all of a long column."""
        # The beginning nearly always shows enough; only a column that begins empty is searched
        # whole.
        for rows in (self.codes[: SEARCHED_TIMES * count], self.codes):
            known = rows[rows >= 0][:count]
            if len(known) == count:
                break
        return [self.distinct[code] for code in known.tolist()]

    def spread(self, numbers: Sequence[float] | Floats) -> Floats:
        """A number for each row from those of the distinct cells, NaN where the cell is missing."""
        # Code −1 indexes the last place, which is NaN.
        return np.append(np.asarray(numbers, dtype=float), np.nan)[self.codes]

    def row(self, place: int) -> int:
        """The first row that has a cell, from 0."""
        return int(np.argmax(self.codes == place))


Plain: TypeAlias = (
    NDArray[np.float64]
    | NDArray[np.int64]
    | NDArray[np.bool_]
    | NDArray[np.datetime64]  # in seconds
)
RowColumn: TypeAlias = Plain | Text | Cells  # Text: words that have an order


def is_missing(cell: Any) -> bool:  # noqa: ANN401 - a cell of any kind
    """Whether a cell holds nothing: None, or what is not itself, such as NaN."""
    return cell is None or bool(cell != cell)  # noqa: PLR0124 - NaN and its like


def number_in(cell: object) -> float:
    """The number that a cell is, or that its text is; NaN where it is none.

    A whole number that is too large for a float has no end.
    """
    if isinstance(cell, str) and "_" in cell:  # which Python reads and nobody writes
        return float("nan")
    # `float()` would take anything with __float__, arrays of one number among them.
    if not isinstance(cell, str | int | float | Decimal | np.number | np.bool_):
        return float("nan")
    try:
        return float(cell)
    except OverflowError:
        # A whole number of 400 digits overflows; its digits read as infinity.
        return float(str(cell))
    except ValueError:
        return float("nan")


def column_from(cells: Sequence[Any], name: str) -> RowColumn:
    """A column of Python's values: of numbers, truths or dates where all are such.

    Raises YuzenError (data-type) for lists, objects, bytes that are no text.

    >>> column_from([1, None, 2.5], "v"), column_from([1, 2], "v")
    (array([1. , nan, 2.5]), array([1, 2]))
    """
    kinds = set(map(type, cells)) - {type(None)}
    if kinds == {int, float} and all(cell != cell for cell in cells if type(cell) is float):  # noqa: PLR0124
        # NaN where a whole number is missing, which may be too long to be a float itself.
        cells, kinds = [None if type(cell) is float else cell for cell in cells], {int}
    if not kinds or kinds == {str}:
        return _words(cells, name)
    # NumPy's booleans have no missing value, so truths with gaps stay cells.
    if kinds == {bool} and None not in cells:
        return np.array(cells, dtype=bool)
    if kinds == {int}:
        return _whole_numbers(cells)
    if kinds <= {int, float, Decimal}:
        return np.array([number_in(cell) for cell in cells])
    if kinds <= {dt.datetime, dt.date}:
        return np.array([_moment(cell) for cell in cells], dtype="datetime64[s]")
    return _words(_plain_cells(cells, kinds, name), name)


def array_column(numbers: NDArray[Any]) -> RowColumn:
    """Whole numbers, or cells where they are too long for floats; other numbers as floats."""
    if numbers.dtype.kind not in "iu":
        return numbers.astype(np.float64, copy=False)
    if len(numbers) and (
        int(numbers.max()) > LARGEST_EXACT_INT or int(numbers.min()) < -LARGEST_EXACT_INT
    ):
        return Cells.of(numbers.tolist())
    return numbers.astype(np.int64, copy=False)


def whole_cells(numbers: Floats) -> Cells:
    """Floats that are whole as whole numbers, those that are missing as missing cells.

    >>> whole_cells(np.array([7.0, np.nan]))
    Cells(codes=array([ 0, -1]), distinct=[7])
    """
    return Cells.of([None if number != number else int(number) for number in numbers.tolist()])  # noqa: PLR0124


def cells_of(column: RowColumn) -> Cells:
    """The column as cells, each its own."""
    if isinstance(column, Cells):
        return column
    if isinstance(column, Text):
        return Cells(column.codes, column.words)
    return Cells.of(column.tolist())


def cell_list(column: RowColumn) -> list[Any]:
    """The cell of each row, None where it is missing."""
    if isinstance(column, np.ndarray):
        cells: list[Any] = column.tolist()
        return cells
    each = [*(column.words if isinstance(column, Text) else column.distinct), None]
    return [each[code] for code in column.codes.tolist()]


def concatenated(columns: Sequence[RowColumn], name: str) -> RowColumn:
    """Columns below one another: numbers where all are, else cells."""
    arrays = [column for column in columns if isinstance(column, np.ndarray)]
    kinds = {column.dtype.kind for column in arrays}
    if len(arrays) == len(columns) and (kinds <= {"i", "f"} or len(kinds) == 1):
        return np.concatenate(arrays)  # type: ignore[return-value]  # of one kind, or numbers
    return column_from([cell for column in columns for cell in cell_list(column)], name)


def row_ranks(column: RowColumn) -> NDArray[Any]:
    """Sort keys of a column's rows in its own order: numbers, dates, texts.

    What is missing comes last.
    """
    if isinstance(column, np.ndarray):
        return column
    words = [str(word) for word in (column.words if isinstance(column, Text) else column.distinct)]
    ranks = (
        # As Python compares texts: NumPy's own texts drop zero bytes at the end.
        np.argsort(np.argsort(np.array(words, dtype=object)))
        if words
        else np.zeros(0, dtype=np.intp)
    )
    return np.append(ranks, len(words))[column.codes]


def in_own_order(columns: Mapping[str, RowColumn], keys: Sequence[str]) -> dict[str, RowColumn]:
    """The rows in the order of what these of their columns hold, whatever order they came in."""
    order = np.lexsort([row_ranks(columns[name]) for name in reversed(keys)])
    return {name: _numbered_anew(column[order]) for name, column in columns.items()}


def _numbered_anew(column: RowColumn) -> RowColumn:
    """Cells in the order in which they turn up now."""
    if not isinstance(column, Cells):
        return column
    used, first, place = np.unique(column.codes, return_index=True, return_inverse=True)
    order = np.argsort(first)
    order = order[used[order] >= 0]
    ranks = np.full(len(used), -1, dtype=np.intp)
    ranks[order] = np.arange(len(order))
    return Cells(ranks[place], [column.distinct[code] for code in used[order].tolist()])


def refused(name: str, what: str) -> Exception:
    """What to raise for a column that holds what none may."""
    return make_error("data-type", f"{name} holds {what}. {REMEDY}")


def plain_cell(cell: object) -> object:
    """Bytes as text, and a decimal that is no number as missing."""
    if isinstance(cell, bytes):
        return cell.decode()
    if isinstance(cell, Decimal) and cell.is_nan():
        return None
    return cell


def refuse_kinds(kinds: Iterable[type], name: str) -> None:
    """Raise YuzenError (data-type) for types of cells that are no names, numbers or dates."""
    for kind in sorted(kinds, key=lambda kind: kind.__name__):
        # What cannot be hashed cannot be a name: lists, sets, dictionaries.
        if kind.__hash__ is None or issubclass(kind, complex | np.complexfloating):
            raise refused(name, TYPE_WORDS.get(kind.__name__, f"cells of the type {kind.__name__}"))


def refuse_halves(letters: str, name: str) -> None:
    """Raise YuzenError (data-type) for texts with halves of letters."""
    try:
        # One attempt on all texts together finds a lone surrogate without a loop.
        letters.encode()
    except UnicodeEncodeError:
        raise refused(name, "texts with halves of letters, which no file can hold") from None


def _words(cells: Sequence[Any], name: str) -> Cells:
    cells_made = Cells.of(cells)
    refuse_halves("".join(cell for cell in cells_made.distinct if isinstance(cell, str)), name)
    return cells_made


def _plain_cells(cells: Sequence[Any], kinds: set[type], name: str) -> list[Any]:
    """Cells of several kinds, texts in bytes as texts."""
    refuse_kinds(kinds, name)
    try:
        return [plain_cell(cell) for cell in cells]
    except UnicodeDecodeError:
        raise refused(name, "bytes that are no text in UTF-8") from None


def _whole_numbers(cells: Sequence[Any]) -> RowColumn:
    if _is_long(cells):
        return Cells.of(cells)
    if None in cells:
        return np.array([number_in(cell) for cell in cells])
    return np.array(cells, dtype=np.int64)


def _is_long(cells: Sequence[Any]) -> bool:
    """Whether some whole number is too long for a float."""
    return any(isinstance(cell, int) and abs(cell) > LARGEST_EXACT_INT for cell in cells)


def _moment(cell: dt.datetime | dt.date | None) -> np.datetime64:
    """A date without its time zone."""
    if cell is None:
        return np.datetime64("NaT", "s")
    if isinstance(cell, dt.datetime):
        # The wall clock is what an analyst reads in the table.
        cell = cell.replace(tzinfo=None)
    return np.datetime64(cell, "s")
