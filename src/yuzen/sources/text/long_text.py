"""Long files of delimited text, read by pandas."""

from __future__ import annotations

import warnings
from collections.abc import Mapping, Sequence
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd

from yuzen.sources.cells import PROBED_CELLS, SEARCHED_TIMES, Cells, RowColumn
from yuzen.sources.endings import BoundedGzip, UnpackedTooLargeError, is_packed
from yuzen.sources.frames import column_in, factorized
from yuzen.sources.text.dialect import TextDialect, TornError
from yuzen.value import Value


class LongText(Value, eq=False):
    """A file as pandas reads it by itself.

    Told to take some columns only, or their types, pandas reads by one thread and passes over cells
    that are too many. So it is told nothing, and what it took for numbers or of several kinds, and
    is a name or not written plainly, is read once more.
    """

    layout: TextDialect
    frame: pd.DataFrame

    @classmethod
    def read(cls, layout: TextDialect) -> LongText:
        """All lines below the heading, none longer than it at first. Raises TornError."""
        with warnings.catch_warnings():
            warnings.simplefilter(
                "ignore", pd.errors.DtypeWarning
            )  # such columns are read once more
            frame = _read(layout)
        return cls(layout, frame.set_axis(list(layout.column_names), axis=1))

    @property
    def column_names(self) -> tuple[str, ...]:
        """The names of all columns."""
        return self.layout.column_names

    def __len__(self) -> int:
        return len(self.frame)

    @property
    def may_be_short(self) -> bool:
        """Whether some line may have too few cells."""
        # A line that ends early lacks its last cell.
        return bool(len(self.frame)) and bool(self.frame[self.column_names[-1]].hasnans)

    def first(self, name: str) -> list[Any] | None:
        """The first cells that are not empty; None of a column that holds no words."""
        series = self.frame[name]
        if series.dtype != object and not pd.api.types.is_string_dtype(series.dtype):
            return None
        begins = series.head(SEARCHED_TIMES * PROBED_CELLS).dropna()
        return list((begins if len(begins) >= PROBED_CELLS else series.dropna()).head(PROBED_CELLS))

    def plain(self, name: str) -> RowColumn:
        """The column: numbers where all its cells are plainly written ones, else cells."""
        return column_in(self.frame[name], name)

    def spelled(self, names: Sequence[str]) -> Mapping[str, Cells]:
        """Columns as they are written, the empty cells missing."""
        again = [name for name in names if not _is_text(self.frame[name])]
        as_written = dict(zip(self.column_names, _raw_names(self.layout), strict=True))
        texts = {name: self.frame[name] for name in names}
        if again:
            read = _read(self.layout, usecols=[as_written[name] for name in again], dtype=str)
            texts |= {name: read[as_written[name]] for name in again}
        return {name: _without_empty(factorized(series)) for name, series in texts.items()}


def _read(layout: TextDialect, **options: Any) -> pd.DataFrame:  # noqa: ANN401 - as pandas takes it
    if not is_packed(layout.path):
        return _parsed(layout.path, layout, options)
    with BoundedGzip(layout.path) as packed:
        try:
            return _parsed(packed, layout, options)
        except TornError:
            # pandas tells no more of what its reading of the bytes failed by.
            if packed.is_over:
                raise UnpackedTooLargeError from None
            raise


def _parsed(file: Path | BoundedGzip, layout: TextDialect, options: dict[str, Any]) -> pd.DataFrame:
    try:
        frame: pd.DataFrame = pd.read_csv(
            file,
            encoding=layout.encoding,
            sep=layout.delimiter,
            skiprows=layout.heading.number - 1,
            # "NA" is Namibia, and "None" may be a name.
            keep_default_na=False,
            na_values=[""],
            **options,
        )
    except pd.errors.ParserError:
        raise TornError from None
    return frame


def _raw_names(layout: TextDialect) -> list[str]:
    """The names of columns as pandas calls them."""
    return [name or f"Unnamed: {place}" for place, name in enumerate(layout.heading.cells)]


def _is_text(series: pd.Series) -> bool:
    return series.dtype != object and pd.api.types.is_string_dtype(series.dtype)


def _without_empty(cells: Cells) -> Cells:
    """The cells with the empty ones missing: pandas leaves them beside too long whole numbers."""
    if "" not in cells.distinct:
        return cells
    written = np.array([word != "" for word in cells.distinct] + [False])
    place = np.where(written, np.cumsum(written) - 1, -1)  # the last one is that of code −1
    return Cells(place[cells.codes], [word for word in cells.distinct if word != ""])
