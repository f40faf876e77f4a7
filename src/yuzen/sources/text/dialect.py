"""How a file of delimited text is laid out, and what its readers give."""

from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from yuzen.sources.text.headings import TextLine
from yuzen.sources.typed.read_columns import TextColumns


class TornError(Exception):
    """The lines of a file do not fit its heading, or a quote is left open."""


@dataclass(frozen=True, eq=False)
class TextDialect:
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
