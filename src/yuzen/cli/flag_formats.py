"""The flags table in each of its formats: a table for people, CSV, JSON and Parquet for programs."""

from __future__ import annotations

import json
import sys
from math import isfinite
from typing import TYPE_CHECKING, Any, Final

import numpy as np
import pandas as pd

from yuzen.cli.terminal import hand_over, is_terminal, printable, say
from yuzen.errors import wrong
from yuzen.files.whole import made_folder, write_whole
from yuzen.number_text import tell
from yuzen.shape.extras import extra

if TYPE_CHECKING:
    from collections.abc import Callable
    from pathlib import Path

FIRST_IN_CELL: Final = ("=", "+", "-", "@", "\t", "\r")  # what makes a spreadsheet run a cell


def print_flags(table: pd.DataFrame, form: str) -> None:
    """Print the flags table; Parquet, which is no text, as its bytes."""
    told = FORMS[form](table)
    if form == "table":
        say(str(told).removesuffix("\n"))
    else:
        hand_over(told)


def write_flags(table: pd.DataFrame, form: str | None, path: Path) -> None:
    """Write the flags table into a file, whole or not at all."""
    chosen = form or path.suffix.casefold().lstrip(".")
    if chosen not in FORMS:
        message = (
            f"I cannot write flags into '{path.name}'; end it in .csv, .json or .parquet, or say --format."
        )
        raise wrong("call-format", message)
    told = FORMS[chosen](table)
    made_folder(path.parent)
    write_whole(path, told if isinstance(told, bytes) else told.encode())


def _as_csv(table: pd.DataFrame) -> str:
    safe = _whole_again(table).map(_harmless).set_axis([_harmless(name) for name in table.columns], axis=1)
    return str(safe.to_csv(index=False, lineterminator="\n"))


def _harmless(cell: object) -> object:
    if isinstance(cell, str) and cell.startswith(FIRST_IN_CELL):
        return f"'{cell}"
    return cell


def _as_json(table: pd.DataFrame) -> str:
    """Records; dates without a time as dates, and numbers with every digit that they have."""
    dates = [name for name in table.columns if table[name].dtype.kind == "M"]
    plain = _whole_again(table).assign(**{name: _as_days(table[name]) for name in dates})
    records = plain.astype(object).where(plain.notna(), None).to_dict("records")
    return json.dumps([*map(_finite, records)], ensure_ascii=False, indent=2, default=str) + "\n"


def _as_days(dates: pd.Series) -> pd.Series:
    """Dates as texts: days alone where no date has a time."""
    whole = bool((dates.dropna() == dates.dropna().dt.normalize()).all())
    if whole:
        form = "%Y-%m-%d"
    else:
        form = "%Y-%m-%dT%H:%M:%S"
    texts: pd.Series = dates.dt.strftime(form)
    return texts


def _finite(record: dict[Any, Any]) -> dict[Any, Any]:
    """A record without numbers that JSON has no words for."""
    return {
        name: None if isinstance(value, float) and not isfinite(value) else value
        for name, value in record.items()
    }


def _as_parquet(table: pd.DataFrame) -> bytes:
    with extra("parquet", "or write Parquet files"):
        return bytes(_whole_again(table).to_parquet(index=False))


def _whole_again(table: pd.DataFrame) -> pd.DataFrame:
    """The table with whole numbers of which some are missing as whole numbers, not as floats."""
    holed = [name for name in table.columns if table[name].dtype.kind == "f" and table[name].hasnans]
    whole = [name for name in holed if _all_whole(table[name].dropna().to_numpy())]
    return table.astype(dict.fromkeys(whole, "Int64"))


def _all_whole(numbers: np.ndarray[Any, np.dtype[np.float64]]) -> bool:
    return bool(len(numbers)) and bool(np.all((numbers == np.rint(numbers)) & (np.abs(numbers) < 2**53)))


def _as_table(table: pd.DataFrame) -> str:
    import io
    import shutil

    from rich import box
    from rich.console import Console
    from rich.table import Table

    made = Table(box=box.SIMPLE_HEAD, pad_edge=False)
    for name in table.columns:
        number = pd.api.types.is_numeric_dtype(table[name].dtype)
        made.add_column(printable(str(name)), justify="right" if number else "left", no_wrap=number)
    for row in table.itertuples(index=False):
        made.add_row(*(_cell(value) for value in row))
    buffer = io.StringIO()
    # A program that reads the table gets each row on one line; a person, what the terminal holds.
    if is_terminal(sys.stdout):
        width = shutil.get_terminal_size().columns
    else:
        width = 2_000
    Console(file=buffer, width=max(width, 60), markup=False, highlight=False).print(made)
    return buffer.getvalue()


def _cell(value: object) -> str:
    if isinstance(value, bool):
        return str(value)
    if isinstance(value, float | int):
        return tell(float(value))[0]
    if value is None or pd.isna(value):  # type: ignore[call-overload]  # a single value
        return ""
    if isinstance(value, pd.Timestamp) and value == value.normalize():
        return str(value.date())
    return printable(str(value))


FORMS: dict[str, Callable[[pd.DataFrame], str | bytes]] = {
    "csv": _as_csv,
    "json": _as_json,
    "parquet": _as_parquet,
    "table": _as_table,
}
