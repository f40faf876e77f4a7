"""How a file of delimited text is laid out, and what its readers give."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Protocol

from yuzen.sources.cells import Cells
from yuzen.sources.text.headings import TextLine
from yuzen.sources.typed.number_detection import TextColumns


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


class ReadColumns(TextColumns, Protocol):
    """The columns of a file of text, read as far as its cells are written plainly."""

    @property
    def may_be_short(self) -> bool:
        """Whether some line may have too few cells."""

    def spelled(self, names: Sequence[str]) -> Mapping[str, Cells]:
        """Columns as they are written, the empty cells missing."""
