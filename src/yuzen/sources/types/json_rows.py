"""Rows in JSON: a list of records, or a record on each line."""

import json
from collections.abc import Mapping
from pathlib import Path
from typing import Any, Final

from yuzen.errors import make_error
from yuzen.sources.file_format import Format

CONTEXT_CHARACTERS: Final = 40  # characters around what cannot be read
MAX_JSON_BYTES: Final = 500_000_000  # of a file, which takes ten times as much memory
# What the reader of JSON misses, in the words of an analyst; all else it says is that a value is
# missing.
MEANT: Final = {
    "Expecting ',' delimiter": "A comma or a closing bracket is missing",
    "Expecting ':' delimiter": "A colon is missing",
    "Expecting property name enclosed in double quotes": "A name in double quotes is missing",
    "Unterminated string starting at": "A quote opens and nothing closes it",
    "Extra data": "Something follows where the file should end",
    "Invalid control character at": "A text goes on in the next line",
    "Invalid \\escape": "A backslash is before a letter that has no meaning",
    "Illegal trailing comma before end of object": "A comma is before the closing bracket",
    "Illegal trailing comma before end of array": "A comma is before the closing bracket",
}


def read_json(path: Path, format: Format) -> Mapping[str, list[Any]]:  # noqa: A002 - as [data] calls it
    """The cells of all columns, None where a record has none.

    Raises YuzenError (data-row, data-file) with the line of what cannot be read.
    """
    if (size := path.stat().st_size) > MAX_JSON_BYTES:
        message = (
            f"The file has {size / 1e6:,.0f} MB, and I read JSON of up to "
            f"{MAX_JSON_BYTES / 1e6:,.0f} MB."
        )
        raise make_error(
            "data-size", f"{message} Save its rows as CSV or Parquet.", where=str(path)
        )
    text = path.read_text(encoding=format.encoding or "utf-8-sig")
    try:
        whole = json.loads(text, parse_int=_whole)
    except json.JSONDecodeError as error:
        if not _is_of_lines(text):
            raise _torn(error, text, error.lineno, path) from None
        records = _lines(text, path)
    else:
        records = whole if isinstance(whole, list) else [whole]
    for place, record in enumerate(records, start=1):
        if not isinstance(record, dict):
            message = (
                f"Record {place} is {json.dumps(record)[:CONTEXT_CHARACTERS]}, and each has to be "
                f"{{name: value}}."
            )
            raise make_error("data-row", message, where=str(path))
    # Later records may have names that the first has not.
    names = dict.fromkeys(str(name) for record in records for name in record)
    return {name: [record.get(name) for record in records] for name in names}


def _whole(digits: str) -> int | float:
    """A whole number of any length: as an infinite float where Python refuses it."""
    try:
        return int(digits)
    except ValueError:
        return float(digits)


def _is_of_lines(text: str) -> bool:
    """Whether the first line that is not empty is a record of its own."""
    first = text.lstrip().partition("\n")[0].strip()
    return first.startswith("{") and first.endswith("}")


def _lines(text: str, path: Path) -> list[Any]:
    records = []
    for number, line in enumerate(text.split("\n"), start=1):
        if line.strip():
            try:
                records.append(json.loads(line, parse_int=_whole))
            except json.JSONDecodeError as error:
                raise _torn(error, line, number, path) from None
    return records


def _torn(error: json.JSONDecodeError, text: str, line: int, path: Path) -> Exception:
    """What is wrong with JSON that cannot be read, with its line and what stands there."""
    near = text[
        max(0, error.pos - CONTEXT_CHARACTERS) : error.pos + CONTEXT_CHARACTERS // 2
    ].splitlines()
    if error.pos >= len(text.rstrip()):
        message = (
            f"The JSON ends in the middle, on line {line}: a value or a closing bracket is missing."
        )
    else:
        meant = MEANT.get(error.msg, "A value is missing or is none")
        message = (
            f"{meant} on line {line}, near '{(near or [''])[-1].strip()[:CONTEXT_CHARACTERS]}'."
        )
    return make_error("data-row", message, where=str(path))
