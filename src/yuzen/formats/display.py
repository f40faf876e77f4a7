"""Values as a reader sees them: names, numbers, dates by their grain, bins by their edges."""

from collections.abc import Sequence
from math import isnan
from typing import overload

import numpy as np

from yuzen.arrays import Column, Dates, Floats, Text
from yuzen.formats.periods import Grain
from yuzen.locks import cached_property

MISSING_NAME = "(no name)"
MAX_NAME_DECIMALS = 15
PROBED_DATES = 1_000  # dates that are looked at before all of them


class Shown(Sequence[str]):
    """The values of a column as a reader sees them, each made when needed."""

    def __init__(self, column: Column, grain: Grain | None = None) -> None:
        self._column = column
        self._said = grain

    @cached_property
    def _grain(self) -> Grain | str | None:
        return self._said or (None if isinstance(self._column, Text) else unit_of(self._column))

    def __len__(self) -> int:
        return len(self._column)

    @overload
    def __getitem__(self, place: int) -> str: ...

    @overload
    def __getitem__(self, place: slice) -> Sequence[str]: ...

    def __getitem__(self, place: int | slice) -> str | Sequence[str]:
        if isinstance(place, slice):
            return shown(self._column[place], self._grain)
        if not -len(self) <= place < len(self):
            raise IndexError(place)
        return shown(self._column[np.array([place])], self._grain)[0]


def shown(column: Column, grain: Grain | str | None = None) -> list[str]:
    """Each value of a column as a reader sees it: dates by their grain, or as short as can be."""
    if isinstance(column, Text):
        return [MISSING_NAME if word is None else str(word) for word in column.values()]
    if column.dtype.kind == "M":
        texts = _dates(column, grain or unit_of(column))  # type: ignore[arg-type]  # by its kind
        return [MISSING_NAME if text == "NaT" else text.replace("T", " ") for text in texts]
    # Fifteen digits are what every float keeps of a decimal.
    return [
        MISSING_NAME if isnan(number) else f"{number:.15g}".replace("-", "−")
        for number in column.tolist()  # plain numbers, which are written five times as fast
    ]


def _dates(column: Dates, grain: Grain | str) -> list[str]:
    if isinstance(grain, Grain):
        if grain.unit in {"quarter", "year"}:
            return _years(column, grain)
        grain = grain.unit
    unit = {"month": "M", "minute": "m"}.get(grain, "D")
    texts: list[str] = column.astype(f"datetime64[{unit}]").astype(str).tolist()
    return texts


def _years(column: Dates, grain: Grain) -> list[str]:
    """What years and quarters are called: 2026, 2026-Q2, 2026/27-Q2."""
    there = np.where(np.isnat(column), np.datetime64(0, "s"), column)
    calendar = grain.calendar
    names = [calendar.year_name(year) for year in calendar.years(there).tolist()]
    if grain.unit == "quarter":
        quarters = (grain.numbers(there) % 4 + 1).tolist()
        names = [f"{name}-Q{quarter}" for name, quarter in zip(names, quarters, strict=True)]
    return [
        "NaT" if missing else name for name, missing in zip(names, np.isnat(column), strict=True)
    ]


def bin_names(lower: Column, upper: Column) -> list[str]:
    """What bins are called: '10 to 20'."""
    low, high = edge_texts(lower, upper)
    return [
        one if one == MISSING_NAME else f"{one} to {other}"
        for one, other in zip(low, high, strict=True)
    ]


def edge_texts(lower: Column, upper: Column) -> tuple[list[str], list[str]]:
    """The edges of bins as texts: numbers with enough decimals, dates by their unit."""
    assert not isinstance(lower, Text)  # noqa: S101 - edges are none
    assert not isinstance(upper, Text)  # noqa: S101
    if lower.dtype.kind == "M":
        texts = shown(np.concatenate([lower, upper]))
    else:
        texts = shown(_short(np.concatenate([lower, upper]), np.asarray(upper - lower)))  # type: ignore[operator]
    return texts[: len(lower)], texts[len(lower) :]


def _short(edges: Floats, widths: Floats) -> Floats:
    """Edges with as few decimals as keep each within a hundredth of its bin."""
    known = widths[widths > 0]
    if not len(known):
        return edges
    narrowest = float(np.min(known))
    for decimals in range(MAX_NAME_DECIMALS):
        rounded = np.round(edges, decimals)
        if np.all(np.abs(rounded - edges)[~np.isnan(edges)] <= narrowest / 100):
            return rounded
    return edges


def unit_of(column: Floats | Dates) -> str:
    """The largest of month, day and minute that tells all dates apart from one another."""
    # One moment within a day tells already, and most often it is among the first.
    if len(column) > PROBED_DATES and unit_of(column[:PROBED_DATES]) == "minute":
        return "minute"
    moments = column.astype("datetime64[s]")
    missing = np.isnat(moments)
    if np.any((moments.astype(np.int64) % 86_400 != 0) & ~missing):
        return "minute"
    if np.all((moments.astype("datetime64[M]") == moments) | missing):
        return "month"
    return "day"
