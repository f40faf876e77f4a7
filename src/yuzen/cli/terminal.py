"""Text for a terminal: data and briefs may hold characters that a terminal would obey."""

from __future__ import annotations


def printable(text: str) -> str:
    r"""A line without what a terminal would obey or a reader could not see.

    >>> printable("a\x1b[31mb")
    'a�[31mb'
    """
    return "".join(char if char.isprintable() else "\N{REPLACEMENT CHARACTER}" for char in text)


def printable_lines(text: str) -> str:
    """The same for a text of several lines."""
    return "\n".join(map(printable, text.split("\n")))
