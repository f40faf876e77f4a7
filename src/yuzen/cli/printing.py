"""What the commands print: for people as tables, for programs as JSON or CSV."""

from __future__ import annotations

import json
import sys
from typing import TYPE_CHECKING

import click
import numpy as np
import pandas as pd

from yuzen.cli.terminal import printable
from yuzen.draw.files import write_whole
from yuzen.errors import wrong
from yuzen.rules.telling import tell

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable
    from pathlib import Path

    from yuzen.charts import Chart
    from yuzen.color.themes import Theme
    from yuzen.editions import Edition

FIRST_IN_CELL = ("=", "+", "-", "@", "\t", "\r")  # what makes a spreadsheet run a cell
MOST_NAMED = 4


def print_summary(path: Path, chart: Chart) -> None:
    """Say what was drawn: the picture, its marks, and for each rule how many it flagged and which."""
    marks, verdict = chart.marks, chart.verdict
    names = marks.names()
    click.echo(f"{path}: {len(marks):,} mark{'' if len(marks) == 1 else 's'}")
    for index, rule in enumerate(verdict.rules):
        target = "" if rule.on == "mark" else f" on {rule.on}"
        won = np.flatnonzero(verdict.won(index))
        named = ", ".join(names[mark] for mark in won[:MOST_NAMED])
        more = ", …" if len(won) > MOST_NAMED else ""
        said = f"{len(won):,} flagged ({printable(named)}{more})" if len(won) else "none flagged"
        asked = chart.spec.rules[index].said
        about = "" if rule.name == asked else f": {asked}"
        click.echo(f'  rule {index + 1} "{printable(rule.name)}"{target}{about}: {said}')
    for note in chart.notes():
        click.echo(f"  note: {note}", err=True)


def print_editions(editions: Iterable[Edition], count: int) -> None:
    """Say which pictures were drawn, with a bar of progress where somebody watches."""
    if sys.stderr.isatty():
        with click.progressbar(editions, length=count, label="drawing", file=sys.stderr) as drawn:
            told = list(drawn)
    else:
        told = list(editions)
    for edition in told:
        marks = f"{edition.marks:,} mark{'' if edition.marks == 1 else 's'}"
        click.echo(f"{edition.path}: {printable(edition.value)}, {marks}, {edition.flagged:,} flagged")
        for note in edition.notes:
            click.echo(f"  note: {note}", err=True)


def print_themes(themes: Iterable[Theme]) -> None:
    """Print the roles of each theme with their colours, a line for each role."""
    shown = list(themes)
    roles = list(dict.fromkeys(role for theme in shown for role in theme.roles))
    click.echo(f"{'':<12}" + "".join(f"{theme.name:<22}" for theme in shown).rstrip())
    for role in roles:
        told = [f"{theme.roles[role]} {theme.patterns.get(role, '')}" for theme in shown]
        click.echo(f"{role:<12}" + "".join(f"{text:<22}" for text in told).rstrip())
    for place in range(max(len(theme.series) for theme in shown)):
        told = [theme.series[place] if place < len(theme.series) else "" for theme in shown]
        click.echo(f"{f'series {place + 1}':<12}" + "".join(f"{text:<22}" for text in told).rstrip())


def print_json(value: object) -> None:
    """Print plain values as JSON."""
    click.echo(json.dumps(value, ensure_ascii=False, indent=2))


def print_flags(table: pd.DataFrame, form: str) -> None:
    """Print the flags table."""
    click.echo(FORMS[form](table), nl=False)


def write_flags(table: pd.DataFrame, form: str | None, path: Path) -> None:
    """Write the flags table into a file, whole or not at all."""
    chosen = form or path.suffix.casefold().lstrip(".")
    if chosen not in {"csv", "json"}:
        message = f"I cannot write flags into '{path.name}'; end it in .csv or .json, or say --format."
        raise wrong("call-format", message)
    write_whole(path, FORMS[chosen](table).encode())


def _as_csv(table: pd.DataFrame) -> str:
    return str(table.map(_harmless).to_csv(index=False, lineterminator="\n"))


def _harmless(cell: object) -> object:
    return f"'{cell}" if isinstance(cell, str) and cell.startswith(FIRST_IN_CELL) else cell


def _as_json(table: pd.DataFrame) -> str:
    return str(table.to_json(orient="records", date_format="iso", force_ascii=False, indent=2)) + "\n"


def _as_table(table: pd.DataFrame) -> str:
    import io
    import shutil
    import sys

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
    width = shutil.get_terminal_size().columns if sys.stdout.isatty() else 2_000
    Console(file=buffer, width=max(width, 60), markup=False, highlight=False).print(made)
    return buffer.getvalue()


def _cell(value: object) -> str:
    if isinstance(value, float | int):
        return tell(float(value))[0]
    return "" if value is None or value is pd.NaT else printable(str(value))


FORMS: dict[str, Callable[[pd.DataFrame], str]] = {
    "csv": _as_csv,
    "json": _as_json,
    "table": _as_table,
}
