"""Where rows come from: a file or a table in memory, as one pandas DataFrame."""

from __future__ import annotations

import json
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeAlias

import pandas as pd

from yuzen.errors import wrong

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    RowsLike: TypeAlias = pd.DataFrame | Mapping[str, Any] | str | Path

MAX_ROWS = 50_000_000


def rows_from(source: RowsLike) -> pd.DataFrame:
    """The rows of a DataFrame, of a mapping of columns, of an Arrow table, or of a file.

    Raises YuzenError (data-…) for what cannot be read.
    """
    if isinstance(source, str | Path):
        return read(Path(source))
    frame = source if isinstance(source, pd.DataFrame) else _converted(source)
    return _checked(frame, "the rows")


def read(path: Path) -> pd.DataFrame:
    """The rows of a file, by its ending. Raises YuzenError (data-…)."""
    reader = READERS.get(path.suffix.casefold())
    if reader is None:
        known = ", ".join(sorted(READERS))
        raise wrong("data-type", f"I cannot read files of the type '{path.suffix}'. I read {known}.",
                    where=str(path))  # fmt: skip
    try:
        return _checked(reader(path), str(path))
    except FileNotFoundError:
        raise wrong("data-file", _not_found(path)) from None
    except pd.errors.EmptyDataError:
        raise wrong("data-empty", "The file is empty.", where=str(path)) from None
    except (OSError, UnicodeError, ValueError) as error:
        reason = getattr(error, "strerror", None) or str(error).splitlines()[0]
        raise wrong("data-file", f"The file cannot be read: {reason}.", where=str(path)) from None


def _read_csv(path: Path, delimiter: str = ",") -> pd.DataFrame:
    if path.is_dir():
        raise IsADirectoryError(21, "it is a folder")
    frame = pd.read_csv(path, encoding="utf-8-sig", sep=delimiter)
    frame.columns = [str(name).strip() for name in frame.columns]
    return frame


def _read_tsv(path: Path) -> pd.DataFrame:
    return _read_csv(path, "\t")


def _read_json(path: Path) -> pd.DataFrame:
    """A list of records, or a record on each line."""
    text = path.read_text(encoding="utf-8-sig")
    try:
        whole = json.loads(text)
        records = whole if isinstance(whole, list) else [whole]
    except json.JSONDecodeError:
        records = [json.loads(line) for line in text.splitlines() if line.strip()]
    except RecursionError:
        raise ValueError("it is nested too deep") from None
    if not all(isinstance(record, dict) for record in records):
        raise ValueError("it is no list of records")
    return pd.DataFrame(records)


READERS: dict[str, Callable[[Path], pd.DataFrame]] = {
    ".csv": _read_csv,
    ".json": _read_json,
    ".jsonl": _read_json,
    ".tsv": _read_tsv,
}


def _converted(source: Any) -> pd.DataFrame:  # noqa: ANN401 - whatever a caller hands in
    try:
        if hasattr(source, "to_pandas"):
            frame: pd.DataFrame = source.to_pandas()
        elif hasattr(source, "__dataframe__"):
            frame = pd.api.interchange.from_dataframe(source)
        else:
            frame = pd.DataFrame(source)
    except (TypeError, ValueError) as error:
        message = f"I cannot make a table of a {type(source).__name__}: {error}."
        raise wrong("data-type", message) from None
    return frame


def _checked(frame: pd.DataFrame, where: str) -> pd.DataFrame:
    if len(frame.columns) == 0:
        raise wrong("data-empty", "There are no columns.", where=where)
    names = [str(name) for name in frame.columns]
    twice = sorted({name for name in names if names.count(name) > 1})
    if twice:
        raise wrong("data-columns", f"Two columns are called {twice[0]}.", where=where)
    if len(frame) > MAX_ROWS:
        raise wrong("data-size", f"{len(frame):,} rows are more than {MAX_ROWS:,}.", where=where)
    return frame if names == list(frame.columns) else frame.set_axis(names, axis=1)


def _not_found(path: Path) -> str:
    from yuzen.errors import suggestion  # noqa: PLC0415 - only when something is wrong

    if not path.parent.is_dir():
        return f"There is no folder {path.parent}."
    files = [other.name for other in path.parent.iterdir() if other.suffix.casefold() in READERS]
    return f"There is no file {path}.{suggestion(path.name, files)}"
