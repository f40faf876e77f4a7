"""Array types of the rules, and the two kinds of column that hold no numbers."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any, Final, TypeAlias

import numpy as np
from numpy.typing import NDArray

from yuzen.locks import cached_property
from yuzen.value import Value

Floats: TypeAlias = NDArray[np.float64]
Bools: TypeAlias = NDArray[np.bool_]
Codes: TypeAlias = NDArray[np.intp]
Truth: TypeAlias = NDArray[np.int8]
Dates: TypeAlias = NDArray[np.datetime64]

SQUARED: Final = 1e-140  # numbers that are not smaller can be squared


def missing_in(values: Floats) -> Bools:
    """Whether each number is missing, shape (n,); a finite sum of squares shows that none is.

    >>> missing_in(np.array([3.0, -4.0])), missing_in(np.array([1.0, np.nan]))
    (array([False, False]), array([False,  True]))
    """
    if np.isfinite(_length(values)):
        return np.zeros(len(values), dtype=bool)
    return np.isnan(values)


def size_bound(values: Floats) -> float:
    """A number that no value exceeds in size; it may be larger than all of them.

    >>> size_bound(np.array([3.0, -4.0])), size_bound(np.array([1e-200, -2e-200]))
    (10.0, 2e-200)
    """
    length = 2 * _length(values)  # twice, so that its own rounding does not matter
    if SQUARED < length < np.inf:
        return length
    return float(np.abs(values).max(initial=0.0))


def polynomials_at(factors: Floats, t: Floats) -> Floats:
    """The values of polynomials, each at its own t, shape (m,), by Horner's scheme.

    factors: of 1, t, t², ..., at least of 1, shape (m, d).

    >>> polynomials_at(np.array([[1.0, 2.0], [0.0, 4.0]]), np.array([0.25, 1.0]))
    array([1.5, 4. ])
    """
    values: Floats = factors[:, -1]
    for factor in factors.T[-2::-1]:
        values = values * t + factor
    return values


def _length(values: Floats) -> float:
    """The root of the sum of squares, the fastest look at all numbers that there is."""
    with np.errstate(all="ignore"):
        return float(np.sqrt(np.dot(values, values)))


class Text(Value, eq=False):
    """A column of words: for each mark the index of its word in `words`, −1 where it is missing.

    ordered: whether the words follow one another as `words` lists them, as days of the week do.
    """

    codes: Codes
    words: tuple[str, ...]
    ordered: bool = False

    @classmethod
    def of(cls, values: Iterable[str | None]) -> Text:
        """A text column of these values; None is missing.

        >>> Text.of(["b", "a", None, "b"])
        Text(codes=array([ 0,  1, -1,  0]), words=('b', 'a'), ordered=False)
        """
        index: dict[str, int] = {}
        codes = [-1 if v is None else index.setdefault(v, len(index)) for v in values]
        return cls(np.array(codes, dtype=np.intp), tuple(index))

    def __len__(self) -> int:
        return len(self.codes)

    def __getitem__(self, at: Any) -> Text:  # noqa: ANN401 - whatever NumPy takes as an index
        return Text(np.atleast_1d(self.codes[at]), self.words, self.ordered)

    @cached_property
    def _array(self) -> NDArray[np.object_]:
        return np.array([*self.words, None], dtype=object)

    def values(self) -> NDArray[np.object_]:
        """The words themselves, None where missing."""
        words: NDArray[np.object_] = self._array[self.codes]
        return words

    def test(self, holds: Callable[[str], bool]) -> Truth:
        """Where `holds` is true of the text; called once for each text, unknown where missing."""
        answers = np.array([1 if holds(word) else -1 for word in self.words] + [0], dtype=np.int8)
        truth: Truth = answers[self.codes]
        return truth


Column: TypeAlias = Floats | Dates | Text


def sequence_of(column: Column) -> NDArray[Any] | None:
    """Sort keys of a column, missing ones last; None for texts, which have no order."""
    if not isinstance(column, Text):
        return column
    if not column.ordered:
        return None
    return np.where(column.codes < 0, len(column.words), column.codes)


def kind_of(column: Column) -> str:
    """'text', 'date' or 'number'."""
    if isinstance(column, Text):
        return "text"
    if column.dtype.kind == "M":
        return "date"
    return "number"


def codes_of(column: Column) -> tuple[Codes, int]:
    """An integer for each distinct value, and how many there are; missing is a value of its own.

    >>> codes_of(np.array([5.0, 2.0, np.nan, 5.0]))
    (array([1, 0, 2, 1]), 3)
    """
    if isinstance(column, Text):
        missing = column.codes < 0
        if not missing.any():
            return column.codes, max(1, len(column.words))
        return np.where(missing, len(column.words), column.codes), len(column.words) + 1
    if rises(column):
        return np.arange(len(column)), len(column)
    distinct, codes = np.unique(column, return_inverse=True)
    return codes.astype(np.intp, copy=False), max(1, len(distinct))


def are_counted(codes: Codes, count: int) -> bool:
    """Whether codes below `count` are 0, 1, 2, ..., as those of rows are that are marks."""
    return len(codes) == count and rises(codes)


def rises(column: NDArray[Any]) -> bool:
    """Whether each value is above the one before, as moments and numbers of rows mostly are.

    That is told in a hundredth of the time that sorting takes.
    """
    return len(column) > 1 and bool((column[1:] > column[:-1]).all())
