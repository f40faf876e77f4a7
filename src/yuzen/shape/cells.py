"""Cells of somebody else's tables as plain values: names, numbers, dates; all else is refused."""

from __future__ import annotations

from contextlib import suppress
from decimal import Decimal
from typing import TYPE_CHECKING, Any, Final

import numpy as np
import pandas as pd

from yuzen.errors import YuzenError, outside, wrong

if TYPE_CHECKING:
    from collections.abc import Sequence

# What pandas calls columns of objects that are plain already, which is seen without a look at each cell.
PLAIN: Final = {
    "string", "empty", "boolean", "integer", "floating", "mixed-integer-float",
    "datetime64", "datetime", "date", "timedelta64", "timedelta", "time", "period",
}  # fmt: skip
PLAIN_TYPES: Final = {str, int, float, bool, type(None), np.str_, np.float64, np.int64, np.bool_}
CALLED: Final = {"list": "lists", "dict": "objects with keys of their own", "ndarray": "lists", "set": "sets"}
REMEDY: Final = "A column of a chart holds names, numbers or dates; make one of these of it first."


def plain_cells(frame: pd.DataFrame, names: Sequence[str]) -> pd.DataFrame:
    """The table with the cells of these columns as plain values: texts in bytes as texts.

    Raises YuzenError (data-type) for lists, objects, bytes that are no text, complex numbers.
    """
    made = {}
    for name in names:
        held = series = frame[name]
        if isinstance(series.dtype, pd.ArrowDtype) and series.dtype.kind == "O":
            series = series.astype(object)
        if series.dtype.kind == "c":
            raise _refusal(name, "complex numbers")
        if series.dtype != object:
            continue
        with outside("data-type", f"{name} holds what I cannot read ({{reason}}). {REMEDY}"):
            plain = _plain(series, name)
        if plain is not held:
            made[name] = plain
    if made:
        return frame.assign(**made)
    return frame


def readable_cells(frame: pd.DataFrame) -> pd.DataFrame:
    """The table without columns that cannot be read; only who asks for those is told."""
    kept = {}
    for name in frame.columns:
        with suppress(YuzenError):
            kept[name] = plain_cells(frame, [name])[name]
    return pd.DataFrame(kept)


def _plain(series: pd.Series, name: str) -> pd.Series:
    cells = series.to_numpy(dtype=object)
    try:
        _letters(cells).encode()
    except UnicodeEncodeError:
        raise _refusal(name, "texts with halves of letters, which no file can hold") from None
    if not _is_odd(series):
        return series
    types = set(map(type, cells)) - PLAIN_TYPES
    if not types:
        return series
    for kind in sorted(types, key=lambda kind: kind.__name__):
        if kind.__hash__ is None or issubclass(kind, complex | np.complexfloating):
            raise _refusal(name, CALLED.get(kind.__name__, f"cells of the type {kind.__name__}"))
    try:
        plain = np.array([_changed(cell) for cell in cells], dtype=object)
    except UnicodeDecodeError:
        raise _refusal(name, "bytes that are no text in UTF-8") from None
    pd.factorize(plain)  # which asks each of somebody's objects whether it is another
    return pd.Series(plain, index=series.index, name=series.name, dtype=object)


def _letters(cells: np.ndarray[Any, Any]) -> str:
    """All texts among the cells as one; where all cells are texts, without a look at each."""
    try:
        return "".join(cells)
    except TypeError:
        return "".join(cell for cell in cells if isinstance(cell, str))


def _is_odd(series: pd.Series) -> bool:
    """Whether a column of objects may hold some that are not plain."""
    try:
        return pd.api.types.infer_dtype(series, skipna=True) not in PLAIN
    except ArithmeticError:  # a decimal that signals when it is compared
        return True


def _changed(cell: object) -> object:
    """A text in bytes, as some programs write texts, as text; a decimal that is no number as missing."""
    if isinstance(cell, bytes):
        return cell.decode()
    if isinstance(cell, Decimal) and cell.is_nan():
        return None
    return cell


def _refusal(name: str, what: str) -> Exception:
    return wrong("data-type", f"{name} holds {what}. {REMEDY}")
