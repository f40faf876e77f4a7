"""What a file is by the ending of its name, and how it is opened: as it is, or packed by gzip."""

import gzip
from io import TextIOWrapper
from pathlib import Path, PurePath
from typing import IO, Final

from yuzen.sources.bounds import MAX_FILE_BYTES, MAX_ROWS

GZIP: Final = ".gz"
TEXTS: Final = frozenset({".csv", ".tsv", ".csv.gz", ".tsv.gz"})


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


class UnpackedTooLargeError(Exception):
    """What is unpacked has more bytes or lines than are read."""


class BoundedGzip(gzip.GzipFile):
    """A packed file that is read up to the bounds of all files, whatever it would unpack to."""

    unpacked_bytes: int = 0
    unpacked_lines: int = 0

    @property
    def is_over(self) -> bool:
        """Whether more was read than a file may have."""
        return self.unpacked_bytes > MAX_FILE_BYTES or self.unpacked_lines > MAX_ROWS

    def read(self, size: int | None = -1) -> bytes:
        """Some bytes. Raises UnpackedTooLargeError beyond the bounds."""
        if size is None or size < 0:
            size = MAX_FILE_BYTES + 1
        return self._counted(super().read(size))

    def read1(self, size: int = -1) -> bytes:
        """Some bytes. Raises UnpackedTooLargeError beyond the bounds."""
        return self._counted(super().read1(size))

    def _counted(self, data: bytes) -> bytes:
        self.unpacked_bytes += len(data)
        self.unpacked_lines += data.count(b"\n")
        if self.is_over:
            raise UnpackedTooLargeError
        return data


def unpacked_size(path: Path, most: int) -> int:
    """How many bytes a file has when it is unpacked; one more than `most` where it has more."""
    if not is_packed(path):
        return path.stat().st_size
    with gzip.open(path) as file:
        return len(file.read(most + 1))


def open_bytes(path: Path) -> IO[bytes]:
    """A file of text as its bytes."""
    if is_packed(path):
        return BoundedGzip(path, "rb")  # type: ignore[return-value]  # which reads as a file does
    return path.open("rb")


def open_text(path: Path, encoding: str) -> IO[str]:
    """A file of text, its line ends as they are."""
    if is_packed(path):
        return TextIOWrapper(BoundedGzip(path, "rb"), encoding=encoding, newline="")
    return path.open(encoding=encoding, newline="")
