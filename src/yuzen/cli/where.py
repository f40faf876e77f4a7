"""The command that says where the value of each key of a chart comes from."""

from __future__ import annotations

import json
import os
import tomllib
from collections.abc import Iterable, Mapping
from contextlib import suppress
from pathlib import Path
from typing import TYPE_CHECKING

import click

from yuzen.brief.keys.key_help import KeyHelp, keys_of
from yuzen.cli.choices import complete_sources
from yuzen.cli.options import as_json, example
from yuzen.cli.printing.output import print_json
from yuzen.cli.printing.terminal import print_message
from yuzen.cli.stored_pages import page

if TYPE_CHECKING:
    from yuzen.stages.origins import KeyOrigin

MAX_VALUE_CHARACTERS = 60  # of a value in the table


@click.command(epilog=example("where"))
@click.argument(
    "source", metavar="BRIEF", type=click.Path(path_type=Path), shell_complete=complete_sources
)
@as_json
def where(*, source: Path, as_json: bool) -> None:
    """Show the value of each key of a BRIEF, and the file and line that set it.

    A yuzen.toml in the folder of the brief or above it sets defaults for all briefs there.
    """
    from yuzen.cli.calls import brief_chart
    from yuzen.stages.origins import KeyOrigin, key_origins

    chart = brief_chart(source, None, {})
    origins = key_origins(chart.stages)
    known = {origin.key for origin in origins}
    keys = keys_of(json.loads(page("schema")))
    unset = [
        KeyOrigin(key.path, tomllib.loads(f"value = {key.default}")["value"], "default")
        for key in keys.values()
        if key.default and key.path not in known and not _of_entries(key, keys)
    ]
    if as_json:
        print_json([_data(origin) for origin in (*origins, *unset)])
        return
    print_message(_table(origins))
    print_message(f"\nLeft out, so as Yuzen has it:\n{_table(unset)}")


def _of_entries(key: KeyHelp, keys: Mapping[str, KeyHelp]) -> bool:
    """Whether a key belongs to entries of a list, such as rules, of which each has its own."""
    return key.several or (bool(key.section) and _of_entries(keys[key.section], keys))


def _table(origins: Iterable[KeyOrigin]) -> str:
    """Keys, values and places in columns."""
    rows = [(origin.key, _value(origin.value), _place(origin)) for origin in origins]
    if not rows:
        return "  nothing"
    wide = [max(len(row[place]) for row in rows) for place in (0, 1)]
    return "\n".join(
        f"  {key:<{wide[0]}}  {value:<{wide[1]}}  {place}".rstrip() for key, value, place in rows
    )


def _value(value: object) -> str:
    """A value as a table shows it: a text without quotes, all else as JSON."""
    if isinstance(value, float) and value.is_integer():
        value = int(value)
    text = value if isinstance(value, str) else json.dumps(value, ensure_ascii=False)
    if len(text) > MAX_VALUE_CHARACTERS:
        return f"{text[: MAX_VALUE_CHARACTERS - 1]}…"
    return text


def _place(origin: KeyOrigin) -> str:
    """The file and the line that set a key."""
    if origin.file is None:
        return ""
    file = _from_here(origin.file)
    return file if origin.line is None else f"{file}, line {origin.line}"


def _from_here(file: str) -> str:
    """A file as it is named from the current folder, where that is shorter."""
    with suppress(ValueError):  # on another drive
        return min(os.path.relpath(file), file, key=len) if Path(file).is_absolute() else file
    return file


def _data(origin: KeyOrigin) -> dict[str, object]:
    """A key as plain values."""
    return {
        "key": origin.key,
        "value": origin.value,
        "from": origin.source,
        "file": origin.file,
        "line": origin.line,
    }
