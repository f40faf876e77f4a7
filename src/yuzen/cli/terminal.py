"""Writing to the terminal, which obeys some characters in data, and may be closed."""

import io
import os
import sys
from contextlib import suppress
from typing import TextIO
from unicodedata import category

import click

from yuzen.errors import make_error
from yuzen.secrets import without_secrets


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
    """A sample of '#RRGGBB' where a terminal shows colours, else nothing.

    A user who sets NO_COLOR wants none (no-color.org), and a file or a program never does.
    """
    if not is_terminal(sys.stdout) or os.environ.get("NO_COLOR"):
        return ""
    red, green, blue = (int(color[i : i + 2], 16) for i in (1, 3, 5))
    return click.style("■", fg=(red, green, blue)) + " "


def prepare_streams() -> None:
    """Let no letter that the terminal lacks end a call: it is shown as a question mark."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="replace")


def print_message(text: str) -> None:
    """Print lines for people on standard output."""
    click.echo(printable_lines(without_secrets(text)))


def print_error(text: str) -> None:
    """Print lines on standard error, whatever has become of it."""
    with suppress(OSError, ValueError):
        click.echo(printable_lines(without_secrets(text)), err=True)


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
