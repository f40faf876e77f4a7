"""The flags table in its formats: for people, CSV, JSON and Parquet."""

import csv
import datetime as dt
import io
import json
import sys
from collections.abc import Callable, Mapping, Sequence
from math import isfinite
from pathlib import Path
from typing import Any, Final, TypeAlias

import numpy as np

from yuzen.arrays import Floats
from yuzen.cli.printing.terminal import is_terminal, print_message, printable, write_stdout
from yuzen.cli.printing.text_table import text_table
from yuzen.errors import make_error
from yuzen.files.whole import made_folder, write_whole
from yuzen.formats.number_text import tell
from yuzen.regex import regex
from yuzen.sources.cells import LARGEST_EXACT_INT, Cells, RowColumn, cell_list, whole_cells
from yuzen.sources.extras import extra

# What a spreadsheet runs when it opens the file: a sign of a formula with something to work out.
RUN_BY_SPREADSHEETS: Final = regex(r"""[\t\r]|[=@+-][=@+\-\s]*[\w("'$.{#]""")
NUMBER: Final = regex(r"[-+]?\d+(?:[.,]\d+)?%?")
PLAIN_CSV: Final = "plain csv"
FlagTables: TypeAlias = Mapping[str, Mapping[str, RowColumn]]  # of charts, by their briefs


def print_flags(tables: FlagTables, form: str) -> None:
    """Print the flags of charts; Parquet and workbooks, which are no text, as their bytes."""
    data = _as_form(tables, form)
    if form == "table":
        print_message(str(data).removesuffix("\n"))
    else:
        write_stdout(data)


def write_flags(tables: FlagTables, form: str | None, path: Path) -> None:
    """Write the flags of charts into a file, whole or not at all."""
    chosen = form or path.suffix.casefold().lstrip(".")
    if chosen not in FORMS and chosen not in FORMS_OF_SEVERAL:
        message = (
            f"I cannot write flags into '{path.name}'; end it in .csv, .json, .parquet or .xlsx, "
            "or say --format."
        )
        raise make_error("call-format", message)
    data = _as_form(tables, chosen)
    made_folder(path.parent)
    write_whole(path, data if isinstance(data, bytes) else data.encode())


def _as_form(tables: FlagTables, form: str) -> str | bytes:
    """The flags in a form. Raises YuzenError (call-format) for several charts in one of one."""
    if form == "xlsx" or (len(tables) > 1 and form in FORMS_OF_SEVERAL):
        return FORMS_OF_SEVERAL[form](tables)
    if len(tables) > 1:
        message = f"{form} holds the flags of one chart, and these are of {len(tables)}."
        raise make_error("call-format", f"{message} Write a workbook: -o flags.xlsx.")
    (table,) = tables.values()
    return FORMS[form](table)


def csv_form(form: str | None, path: Path | None) -> str:
    """The form of CSV whose names join with the table that they came from, for `--plain`.

    Raises YuzenError (call-format) where the flags are written in another format.
    """
    if (form or (path and path.suffix.casefold().lstrip("."))) not in {"csv", None}:
        message = (
            "--plain leaves apostrophes out of CSV, and other formats have none. Leave it out."
        )
        raise make_error("call-format", message)
    return PLAIN_CSV


def _as_csv(table: Mapping[str, RowColumn]) -> str:
    """CSV in which no name is run by a spreadsheet."""
    harmless = {_harmless(name): _of_csv(column) for name, column in table.items()}
    return _csv_of({name: [*map(_harmless, cells)] for name, cells in harmless.items()})


def _as_plain_csv(table: Mapping[str, RowColumn]) -> str:
    """CSV with every name as it is."""
    return _csv_of({name: _of_csv(column) for name, column in table.items()})


def _csv_of(columns: Mapping[Any, list[object]]) -> str:
    buffer = io.StringIO()
    writer = csv.writer(buffer, lineterminator="\n")
    writer.writerow(columns)
    writer.writerows(zip(*columns.values(), strict=True))
    return buffer.getvalue()


def _of_csv(column: RowColumn) -> list[object]:
    """The cells of a column as a file of text has them."""
    column = _whole_again(column)
    if isinstance(column, Cells):
        return cell_list(column)
    if _kind(column) == "M":
        return [text and text.replace("T", " ") for text in _as_days(column)]
    return ["" if cell != cell else cell for cell in cell_list(column)]  # noqa: PLR0124 - NaN


def _harmless(cell: object) -> object:
    """A cell with an apostrophe before it where a spreadsheet would run it: `=2+3`, not `-->`."""
    if not isinstance(cell, str) or not RUN_BY_SPREADSHEETS.match(cell) or NUMBER.fullmatch(cell):
        return cell
    return f"'{cell}"


def _as_json(table: Mapping[str, RowColumn]) -> str:
    """Records; dates without a time as dates, and numbers with every digit that they have."""
    columns = [_of_json(column) for column in map(_whole_again, table.values())]
    records = [dict(zip(table, cells, strict=True)) for cells in zip(*columns, strict=True)]
    return json.dumps(records, ensure_ascii=False, indent=2, default=str) + "\n"


def _of_json(column: RowColumn) -> list[Any]:
    """The cells of a column without numbers that JSON has no words for."""
    if _kind(column) == "M":
        return [*_as_days(column)]
    cells = cell_list(column)
    return [None if isinstance(cell, float) and not isfinite(cell) else cell for cell in cells]


def _as_days(column: RowColumn) -> list[str | None]:
    """Dates as texts: days alone where no date has a time."""
    dates = np.asarray(column)
    days = dates.astype("datetime64[D]")
    if np.array_equal(days[~np.isnat(days)], dates[~np.isnat(dates)]):
        dates = days
    return [
        None if missing else str(date) for date, missing in zip(dates, np.isnat(dates), strict=True)
    ]


def _as_parquet(table: Mapping[str, RowColumn]) -> bytes:
    with extra("parquet", "or write Parquet files"):
        import pyarrow as pa  # noqa: F401 - an extra, which pandas uses
    from yuzen.sources.frames import frame_from

    frame = frame_from({name: _whole_again(column) for name, column in table.items()})
    return bytes(frame.to_parquet(index=False))


def _whole_again(column: RowColumn) -> RowColumn:
    """A column of whole numbers of which some are missing as whole numbers, not as floats."""
    if _kind(column) != "f":
        return column
    numbers = np.asarray(column, dtype=float)
    known = numbers[~np.isnan(numbers)]
    if not 0 < len(known) < len(numbers) or not _all_whole(known):
        return column
    return whole_cells(numbers)


def _all_whole(numbers: Floats) -> bool:
    return bool(np.all((numbers == np.rint(numbers)) & (np.abs(numbers) < 2**53)))


def _as_table(table: Mapping[str, RowColumn]) -> str:
    head = [*map(printable, table)]
    right = [
        _kind(column) in "bif" or (isinstance(column, Cells) and column.is_whole)
        for column in table.values()
    ]
    cells = zip(*map(cell_list, table.values()), strict=True)
    rows = [[_cell(value) for value in row] for row in cells]
    # A program that reads the table gets each row on one line; a person, what the terminal holds.
    if is_terminal(sys.stdout):
        return _on_terminal(head, rows, right)
    return text_table(head, rows, right)


def _on_terminal(head: Sequence[str], rows: Sequence[Sequence[str]], right: Sequence[bool]) -> str:
    """A table whose words are wrapped where the terminal is too narrow."""
    import shutil

    from rich import box
    from rich.console import Console
    from rich.table import Table

    printed = Table(box=box.SIMPLE_HEAD, pad_edge=False)
    for name, number in zip(head, right, strict=True):
        printed.add_column(name, justify="right" if number else "left", no_wrap=number)
    for row in rows:
        printed.add_row(*row)
    buffer, width = io.StringIO(), max(shutil.get_terminal_size().columns, 60)
    # Nothing in names is obeyed: ":star:" is no picture of a star.
    Console(file=buffer, width=width, markup=False, highlight=False, emoji=False).print(printed)
    return buffer.getvalue()


def _cell(value: object) -> str:
    if isinstance(value, bool):
        return str(value)
    if isinstance(value, int) and abs(value) > LARGEST_EXACT_INT:
        return str(value)
    if isinstance(value, float | int):
        return tell(float(value))[0]
    if value is None:
        return ""
    if isinstance(value, dt.datetime) and value.time() == dt.time():
        return str(value.date())
    return printable(str(value))


def _kind(column: RowColumn) -> str:
    """NumPy's letter for what an array holds; O for words."""
    return column.dtype.kind if isinstance(column, np.ndarray) else "O"


FORMS: dict[str, Callable[[Mapping[str, RowColumn]], str | bytes]] = {
    "csv": _as_csv,
    PLAIN_CSV: _as_plain_csv,
    "json": _as_json,
    "parquet": _as_parquet,
    "table": _as_table,
}


def _tables_below(tables: FlagTables) -> str:
    """The table of each chart under its name."""
    return "\n".join(f"{name}\n{_as_table(table)}" for name, table in tables.items())


def _json_by_name(tables: FlagTables) -> str:
    """The records of each chart, by its name."""
    of_charts = {name: json.loads(_as_json(table)) for name, table in tables.items()}
    return json.dumps(of_charts, ensure_ascii=False, indent=2) + "\n"


def _as_workbook(tables: FlagTables) -> bytes:
    """A sheet for each chart, called like its brief's file."""
    from yuzen.documents.flag_book import flag_book

    return flag_book([(Path(name).stem, table) for name, table in tables.items()])


FORMS_OF_SEVERAL: dict[str, Callable[[FlagTables], str | bytes]] = {
    "table": _tables_below,
    "json": _json_by_name,
    "xlsx": _as_workbook,
}
