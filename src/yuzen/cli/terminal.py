"""Text for a terminal: data and briefs may hold characters that a terminal would obey."""

from __future__ import annotations

import os
import sys

import click


def printable(text: str) -> str:
    r"""A line without what a terminal would obey or a reader could not see.

    >>> printable("a\x1b[31mb")
    'a�[31mb'
    """
    return "".join(char if char.isprintable() else "\N{REPLACEMENT CHARACTER}" for char in text)


def printable_lines(text: str) -> str:
    """The same for a text of several lines."""
    return "\n".join(map(printable, text.split("\n")))


def swatch(color: str) -> str:
    """A sample of '#RRGGBB' where a terminal shows colours, else nothing.

    A user who sets NO_COLOR wants none (no-color.org), and a file or a program never does.
    """
    if not sys.stdout.isatty() or os.environ.get("NO_COLOR"):
        return ""
    red, green, blue = (int(color[i : i + 2], 16) for i in (1, 3, 5))
    return click.style("■", fg=(red, green, blue)) + " "
