"""Writing to the terminal, which obeys some characters in data, and may be closed."""

import io
import os
import sys
from contextlib import suppress
from typing import Final, TextIO
from unicodedata import category

import click

from yuzen.cli.printing.verbosity import current
from yuzen.errors import make_error
from yuzen.secrets import without_secrets

HEADS: Final = {"yuzen:": "red", "note:": "yellow"}  # what messages begin with, and its colour


def printable(text: str) -> str:
    r"""A line without what a terminal would obey or a reader could not see.

    The blanks that a locale writes between digits stay as they are.

    >>> printable("a\x1b[31mb"), printable("1\u202f234") == "1\u202f234"
    ('a�[31mb', True)
    """
    if text.isprintable():
        return text
    return "".join(
        char if char.isprintable() or category(char) == "Zs" else "\N{REPLACEMENT CHARACTER}"
        for char in text
    )


def printable_lines(text: str) -> str:
    """Like `printable`, for a text of several lines."""
    return "\n".join(map(printable, text.split("\n")))


def swatch(color: str) -> str:
    """A sample of '#RRGGBB' where standard output has colours, else nothing."""
    if not current().colors(sys.stdout):
        return ""
    red, green, blue = (int(color[i : i + 2], 16) for i in (1, 3, 5))
    return click.style("■", fg=(red, green, blue)) + " "


def prepare_streams() -> None:
    """Let no letter that the terminal lacks end a call: it is shown as a question mark."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")


def print_message(text: str) -> None:
    """Print an answer for people on standard output; nothing in it is obeyed by a terminal."""
    click.echo(printable_lines(without_secrets(text)))


def print_samples(text: str) -> None:
    """Print lines of ours that hold samples of colours."""
    click.echo(text, color=current().colors(sys.stdout))


def print_report(text: str) -> None:
    """Print for people what was done; with -q nothing."""
    if not current().quiet:
        print_message(text)


def print_note(text: str) -> None:
    """Print on standard error what was guessed or left out; with -q nothing."""
    if not current().quiet:
        print_error(text)


def print_error(text: str) -> None:
    """Print lines on standard error, whatever has become of it."""
    colored = current().colors(sys.stderr)
    safe = printable_lines(without_secrets(text))
    with suppress(OSError, ValueError):
        click.echo(_with_head(safe) if colored else safe, err=True, color=colored)


def _with_head(text: str) -> str:
    """A message whose first word, which says what it is, stands out."""
    for head, color in HEADS.items():
        before, found, after = text.partition(head)
        if found and not before.strip():
            return before + click.style(head, fg=color, bold=True) + after
    return text


def write_stdout(data: str | bytes) -> None:
    """Write what programs read to standard output, as UTF-8 wherever we are.

    Raises YuzenError (call-output) where nobody can read it.
    """
    if sys.stdout is None:
        raise make_error("call-output", "Standard output is closed; name a file with -o.")
    if is_terminal(sys.stdout):
        if isinstance(data, bytes):
            raise make_error(
                "call-output", "A terminal shows no such file; pipe it on, or name a file with -o."
            )
        print_message(data.removesuffix("\n"))
        return
    sys.stdout.flush()
    sys.stdout.buffer.write(data.encode(errors="replace") if isinstance(data, str) else data)
    sys.stdout.buffer.flush()


def is_terminal(stream: TextIO | None) -> bool:
    """Whether somebody watches a stream, which may be closed."""
    return stream is not None and stream.isatty()


def close_stdout() -> None:
    """Close standard output, so that nothing left in it is written again at the end."""
    with suppress(OSError):
        nowhere = os.open(os.devnull, os.O_WRONLY)
        # Python flushes standard output once more at its end, which would raise again.
        os.dup2(nowhere, 1)
        os.close(nowhere)
