"""How a file of delimited text is laid out, and what its readers give."""

from pathlib import Path
from typing import Protocol

from yuzen.sources.text.headings import TextLine
from yuzen.sources.typed.read_columns import TextColumns
from yuzen.value import Value


class TornError(Exception):
    """The lines of a file do not fit its heading, or a quote is left open."""


class TextDialect(Value, eq=False):
    """A file of delimited text: its encoding, delimiter, heading and column names."""

    path: Path
    encoding: str
    delimiter: str
    heading: TextLine
    column_names: tuple[str, ...]


class ReadText(TextColumns, Protocol):
    """The columns of a file of text, read as far as its cells are written plainly."""

    @property
    def may_be_short(self) -> bool:
        """Whether some line may have too few cells."""
