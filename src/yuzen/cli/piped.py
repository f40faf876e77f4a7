"""What a call reads from standard input: rows, or a brief; each once, however often it is used."""

from __future__ import annotations

import sys
from dataclasses import replace
from typing import Final, cast

import click

from yuzen.brief.toml.document import MAX_BRIEF_BYTES
from yuzen.charts.begin import loads
from yuzen.charts.chart import Chart
from yuzen.errors import YuzenError, make_error
from yuzen.sources.inputs import RowsLike
from yuzen.sources.pipes import piped

BRIEF_CALLED: Final = "standard input"
ROWS: Final = "yuzen.rows from a pipe"
BRIEF: Final = "yuzen.brief from a pipe"


def piped_rows() -> RowsLike:
    """The rows on standard input. Raises YuzenError (call-pipe) where it holds the brief."""
    kept = click.get_current_context().meta
    if BRIEF in kept:
        message = "Standard input holds the brief, so the rows need a file: --data FILE."
        raise make_error("call-pipe", message)
    if ROWS not in kept:
        kept[ROWS] = piped()
    return cast("RowsLike", kept[ROWS])


def piped_brief() -> Chart:
    """The chart of a brief on standard input; its files are found from the current folder.

    Raises YuzenError (call-pipe, brief-…) where nothing is piped in, or no brief.
    """
    kept = click.get_current_context().meta
    if BRIEF not in kept:
        kept[BRIEF] = _loaded(_text())
    chart = cast("Chart", kept[BRIEF])
    if chart.stages.brief.data.file == "-":
        message = "Standard input holds the brief, and its [data] file is standard input too."
        raise make_error("call-pipe", f"{message} Name a file of rows.")
    return chart


def _loaded(text: str) -> Chart:
    """The chart of a brief. Raises YuzenError, of what is no TOML with the way to draw rows."""
    try:
        return loads(text, folder=".", called=BRIEF_CALLED)
    except YuzenError as error:
        if error.code != "brief-toml":
            raise
        remedy = " A brief is expected here; to draw rows, set --category and --value."
        fault = error.faults[0]
        raise YuzenError(replace(fault, message=fault.message + remedy)) from None


def _text() -> str:
    """The text on standard input. Raises YuzenError (call-pipe, brief-text)."""
    if sys.stdin is None or sys.stdin.isatty():
        message = "Nothing comes in. Pipe a brief into the command, or name its file."
        raise make_error("call-pipe", message)
    # One byte more than a brief may have tells that it is too long, however much comes in.
    data = sys.stdin.buffer.read(MAX_BRIEF_BYTES + 1)
    if len(data) > MAX_BRIEF_BYTES:
        message = f"More than {MAX_BRIEF_BYTES / 1e6:.0f} MB come in, and no brief is as long."
        raise make_error("brief-file", message, where=BRIEF_CALLED)
    try:
        return data.decode("utf-8-sig")
    except UnicodeDecodeError:
        message = "This is no text in UTF-8."
        raise make_error("brief-text", message, where=BRIEF_CALLED) from None
