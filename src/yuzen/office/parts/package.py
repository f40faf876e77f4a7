"""Packages of parts: the zip files that decks and workbooks are (ISO/IEC 29500-2).

They come from elsewhere, so their sizes are bounded before anything is unpacked, and what would be
run or followed is never touched.
"""

from __future__ import annotations

import io
from collections.abc import Mapping
from dataclasses import field
from typing import Final
from zipfile import BadZipFile, ZipFile, ZipInfo
from zlib import error as ZlibError  # noqa: N812 - the name of an exception

from yuzen.errors import make_error
from yuzen.locks import cached_property
from yuzen.value import Value

ENCRYPTED: Final = b"\xd0\xcf\x11\xe0"  # the older container, which holds what a password locks
MOST_PARTS: Final = 20_000
MOST_UNPACKED: Final = 1_000_000_000  # bytes of all parts together
MOST_PART: Final = 200_000_000
MOST_RATIO: Final = 200  # times that a large package may grow when it is unpacked
SMALL: Final = 50_000_000  # bytes that may come of any package
MACROS: Final = "vbaProject.bin"  # ends the names of the parts that hold them
FORBIDDEN: Final = b"<!DOCTYPE"  # no part of a deck has one, and entities could grow without end


class Package(Value, eq=False):
    """The parts of a file by their names, as they stand in it.

    where: the file, for messages.
    """

    data: bytes = field(repr=False)
    where: str
    code: str = "paint-file"

    @cached_property
    def names(self) -> frozenset[str]:
        """The names of all parts."""
        return frozenset(self._archive.namelist())

    @property
    def has_macros(self) -> bool:
        """Whether a part would run when the file is opened."""
        return any(name.endswith(MACROS) for name in self.names)

    def part(self, name: str) -> bytes:
        """A part. Raises YuzenError for one that is not there, too large, or damaged."""
        try:
            info = self._archive.getinfo(name)
        except KeyError:
            message = f"The file is damaged: it has no part {name[:80]}."
            raise make_error(self.code, message, where=self.where) from None
        if info.file_size > MOST_PART:
            message = f"{name[:80]} has more than {MOST_PART // 1_000_000} MB."
            raise make_error(self.code, message, where=self.where)
        try:
            data = self._archive.read(info)
        except (BadZipFile, ZlibError, NotImplementedError, RuntimeError, OSError) as error:
            message = f"The file is damaged: {name[:80]} cannot be unpacked ({error})."
            raise make_error(self.code, message, where=self.where) from None
        if FORBIDDEN in data[:2000]:
            message = f"{name[:80]} declares a document type, which files of this kind never do."
            raise make_error(self.code, message, where=self.where)
        return data

    def having(self, parts: Mapping[str, bytes], without: frozenset[str] = frozenset()) -> bytes:
        """The file with other or further parts; all else stays as it is, byte for byte."""
        buffer, archive = io.BytesIO(), self._archive
        with ZipFile(buffer, "w") as output:
            # Parts keep their order, their dates and how they are packed.
            for info in archive.infolist():
                if info.filename in without:
                    continue
                data = parts.get(info.filename)
                output.writestr(info, archive.read(info) if data is None else data)
            for name in parts.keys() - self.names:
                added = ZipInfo(name)
                added.compress_type = 8
                output.writestr(added, parts[name])
        return buffer.getvalue()

    @cached_property
    def _archive(self) -> ZipFile:
        """The file, whose list of parts is read once."""
        return ZipFile(io.BytesIO(self.data))


def checked(data: bytes, where: str, code: str = "paint-file") -> Package:
    """A package whose sizes are within bounds. Raises YuzenError with a code.

    Nothing is unpacked here: a small file may hold gigabytes.
    """
    if data.startswith(ENCRYPTED):
        message = "The file is locked by a password, or of the older format. Save it anew without."
        raise make_error(code, message, where=where)
    try:
        with ZipFile(io.BytesIO(data)) as archive:
            infos = archive.infolist()
    except (BadZipFile, ValueError, OSError, NotImplementedError):
        message = "This is no .pptx or .xlsx file, or it is damaged."
        raise make_error(code, message, where=where) from None
    # The head of the file says how large its parts are before one is unpacked.
    total = sum(info.file_size for info in infos)
    too_dense = total > max(SMALL, MOST_RATIO * len(data))
    if len(infos) > MOST_PARTS or total > MOST_UNPACKED or too_dense:
        message = f"The file would unpack into {total / 1e6:,.0f} MB, which is refused."
        raise make_error(code, message, where=where)
    if any(info.flag_bits & 1 for info in infos):
        message = "Parts of the file are locked by a password. Save it anew without."
        raise make_error(code, message, where=where)
    # Programs differ in which of two parts of one name they read.
    names = [info.filename for info in infos]
    if len(set(names)) < len(names):
        message = "The file holds two parts of one name, so it cannot be read for certain."
        raise make_error(code, message, where=where)
    return Package(data, where, code)
