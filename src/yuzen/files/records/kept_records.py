"""The records inside files: in a picture one, in a report one for each chart."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Final

from yuzen.errors import YuzenError, external_call, make_error, suggestion
from yuzen.files.picture_types import TYPES
from yuzen.files.records.record import FORMAT_VERSION, TOO_MANY, Record, unpacked
from yuzen.office.parts.records import PAINTED_PART, RECORD_PART
from yuzen.paths import read_file
from yuzen.regex import regex

MOST_FILE: Final = 200_000_000  # bytes of a picture that is read
REPORT_TYPES: Final = frozenset({"docx", "pptx", "xlsx"})  # of reports, besides pictures
_RECORD: Final = regex(rb"yuzen-record:(?:(\d{1,4}):)?([A-Za-z0-9+/=.]*):end")
_UNKEPT: Final = regex(re.escape(TOO_MANY).encode() + rb"(\d{1,12})")
DAMAGED: Final = "The record in this picture is damaged. Draw the picture again from its brief."


def may_hold_records(path: Path) -> bool:
    """Whether a path is that of a picture, or of a report that was written, by its ending."""
    return path.suffix.casefold().lstrip(".") in {*TYPES, *REPORT_TYPES}


def holds_rows(path: Path) -> bool:
    """Whether a file that may hold records holds plain rows instead: a workbook of anybody's."""
    if path.suffix.casefold() != ".xlsx":
        return False
    from zipfile import BadZipFile, ZipFile  # noqa: PLC0415 - most commands read no such file

    try:
        with ZipFile(path) as archive:
            return not {RECORD_PART, PAINTED_PART} & set(archive.namelist())
    except (OSError, ValueError, BadZipFile):
        return True  # what is wrong with it is reported when it is read


def is_picture(path: Path) -> bool:
    """Whether a file is a picture or a report, and not a table of rows, which may end alike."""
    return may_hold_records(path) and not holds_rows(path)


def record_in(path: Path, chart: str = "") -> Record:
    """The record inside a picture that Yuzen drew, or of one chart of a report.

    chart: its name in the report. Raises YuzenError (data-…), and (call-chart) where a report has
    several charts and none is named, or none is called so.
    """
    records = records_in(path)
    if len(records) == 1 and not chart:
        return next(iter(records.values()))
    if chart and chart in records:
        return records[chart]
    names = ", ".join(name for name in records if name)
    if not names:
        raise make_error("call-chart", "This is a picture of one chart; leave --chart out.")
    if not chart:
        message = f"This report has several charts. Name one of them with --chart: {names}."
    else:
        hint = suggestion(chart, records)
        message = f"The report has no chart '{chart[:60]}'.{hint} It has {names}."
    raise make_error("call-chart", message, where=str(path))


def records_in(path: Path) -> dict[str, Record]:
    """The records of all charts of a file by their names; of a picture one, whose name is ''.

    Raises YuzenError (data-…).
    """
    texts = _packed_records(path)
    with damage_errors(path):
        records: dict[str, Record] = {}
        for record in map(unpacked, texts):
            records.setdefault(record.name, record)
    # The chart of a deck of one slide has no name; when it is painted, it is known by its slide.
    if len(records) > 1:
        records.pop("", None)
    return records


def _packed_records(path: Path) -> list[bytes]:
    """The packed records inside a file. Raises YuzenError (data-…)."""
    data = read_file(path, MOST_FILE, "data-file", "picture")
    found = [*_RECORD.finditer(_in_archive(data, path) if data[:2] == b"PK" else data)]
    if not found:
        message = "This picture holds no record; only pictures that Yuzen drew can answer why."
        raise make_error("data-picture", message, where=str(path))
    # Records before the first numbered one have no version at all, which counts as none.
    if any(int(match[1] or 0) != FORMAT_VERSION for match in found):
        message = "Another version of Yuzen drew this picture, and this one cannot read its record."
        raise make_error(
            "data-picture", f"{message} Draw it again from its brief.", where=str(path)
        )
    for match in found:
        if uncounted := _UNKEPT.fullmatch(match[2]):
            count = int(uncounted[1])
            message = f"This picture is of {count:,} marks, which are too many to be kept in it."
            raise make_error("data-picture", f"{message} Ask its brief instead.", where=str(path))
    # A document may hold one and the same record in two places.
    return list(dict.fromkeys(match[2] for match in found))


def _in_archive(data: bytes, path: Path) -> bytes:
    """The parts of a document of several files that hold records; nothing where it has none."""
    message = "The document cannot be read: {reason}."
    from zipfile import ZipFile  # noqa: PLC0415 - as above

    with external_call("data-file", message, str(path)), ZipFile(io.BytesIO(data)) as archive:
        held = [name for name in (PAINTED_PART, RECORD_PART) if name in archive.namelist()]
        read = []
        for name in held:
            with archive.open(name) as part:
                read.append(part.read(MOST_FILE))
        return b" ".join(read)


@contextmanager
def damage_errors(path: Path) -> Iterator[None]:
    """Report a damaged record as one: nobody wrote it by hand, so nobody can mend it."""
    with external_call("data-picture", DAMAGED, str(path)):
        try:
            yield
        except YuzenError as error:
            if error.code == "data-size":
                raise error.at(str(path)) from None
            raise ValueError("damaged") from error
