"""What a file is by the ending of its name, and how it is opened: as it is, or packed by gzip."""

import gzip
from pathlib import Path, PurePath
from typing import IO, Final

GZIP: Final = ".gz"
TEXTS: Final = frozenset({".csv", ".tsv", ".csv.gz", ".tsv.gz"})
PACKED_TIMES: Final = 10  # as large as what is packed is taken to be


def ending_of(path: PurePath) -> str:
    """The ending in small letters, with that of what is packed before it.

    >>> ending_of(PurePath("June.CSV")), ending_of(PurePath("june.csv.gz"))
    ('.csv', '.csv.gz')
    """
    ending = path.suffix.casefold()
    if ending == GZIP:
        return PurePath(path.stem).suffix.casefold() + ending
    return ending


def is_packed(path: PurePath) -> bool:
    """Whether a file is packed by gzip."""
    return path.suffix.casefold() == GZIP


def open_bytes(path: Path) -> IO[bytes]:
    """A file of text as its bytes."""
    if is_packed(path):
        return gzip.open(path, "rb")  # type: ignore[return-value]  # which reads as a file does
    return path.open("rb")


def open_text(path: Path, encoding: str) -> IO[str]:
    """A file of text, its line ends as they are."""
    if is_packed(path):
        return gzip.open(path, "rt", encoding=encoding, newline="")
    return path.open(encoding=encoding, newline="")
