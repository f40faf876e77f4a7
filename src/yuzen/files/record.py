"""The record inside a picture: the brief, the theme, the marks and the source's name, both ways.

A record stands as one stretch of plain letters in the file's metadata: its version, then base64 of a
checksum, a head in JSON and the bytes of arrays, each compressed once where that makes it shorter.
"""

from __future__ import annotations

import base64
import json
import re
import struct
import zlib
from dataclasses import asdict, dataclass, field
from typing import TYPE_CHECKING, Any, Final

import numpy as np

from yuzen.color.themes import Theme
from yuzen.errors import wrong
from yuzen.rules.arrays import Text, kind_of
from yuzen.rules.marks import Marks, Pooled
from yuzen.rules.origin import KEPT, Origin, Remark

if TYPE_CHECKING:
    from collections.abc import Mapping
    from pathlib import Path

    from numpy.typing import NDArray

    from yuzen.rules.arrays import Column

VERSION: Final = 4
MOST_FILE: Final = 200_000_000  # bytes of a picture that is read
MOST_RECORD: Final = 50_000_000  # bytes of a record when it is unpacked
SAMPLE: Final = 20_000  # bytes of an array that show whether it shrinks
_RECORD: Final = re.compile(rb"yuzen-record:(?:(\d{1,4}):)?([A-Za-z0-9+/=.]*):end")
DAMAGED: Final = "The record in this picture is damaged."


@dataclass(frozen=True, eq=False)
class Record:
    """What a picture holds, so that it can be asked alone.

    brief:  the chart's brief as TOML.
    marks:  the marks as they were drawn.
    theme:  the theme as it was, which may have come from a file.
    source: what the footer calls the rows.
    """

    brief: str
    marks: Marks
    theme: Theme
    source: str

    def packed(self) -> str:
        """The record as it stands in a picture."""
        arrays = _Arrays()
        marks = self.marks
        head = {
            "brief": self.brief,
            "theme": asdict(self.theme),
            "source": self.source,
            "marks": {
                "category": marks.category,
                "value": marks.value,
                "series": marks.series,
                "panel": marks.panel,
                "among": marks.among,
                "grain": marks.grain,
                "remarks": [[r.code, r.message, r.remedy] for r in marks.origin.remarks],
                "types": dict(marks.origin.types),
                "several": dict(marks.several),
                "offered": marks.offered,
                "formulas": dict(marks.formulas),
                "order": arrays.kept(marks.order, "<i4"),
                "standing": arrays.kept(marks.standing, "<i1"),
                "behind": arrays.kept(marks.origin.behind, "<i4"),
                "numbered": {n: arrays.kept(c, "<i4") for n, c in marks.origin.numbered.items()},
                "columns": {name: arrays.column(column) for name, column in marks.columns.items()},
                "overall": [
                    [key.measure, sorted(key.within), key.reach, arrays.kept(numbers, "<f8")]
                    for key, numbers in marks.overall.items()
                ],
            },
        }
        return f"yuzen-record:{VERSION}:{arrays.joined(head)}:end"


def record_in(path: Path) -> Record:
    """The record inside a picture that Yuzen drew. Raises YuzenError (data-…)."""
    try:
        size = path.stat().st_size
        if size > MOST_FILE:
            message = f"A picture has at most {MOST_FILE // 1_000_000:,} MB, and this file has more."
            raise wrong("data-picture", message, where=str(path))
        data = path.read_bytes()
    except FileNotFoundError:
        raise wrong("data-file", f"There is no picture {path}.") from None
    except OSError as error:
        message = f"The picture cannot be read: {error.strerror}."
        raise wrong("data-file", message, where=str(path)) from None
    match = _RECORD.search(data)
    if match is None:
        message = "This picture holds no record; only pictures that Yuzen drew can be asked why."
        raise wrong("data-picture", message, where=str(path))
    if int(match[1] or 0) != VERSION:
        message = "Another version of Yuzen drew this picture, and this one cannot read its record."
        raise wrong("data-picture", f"{message} Draw it again from its brief.", where=str(path))
    try:
        return unpacked(match[2])
    except (ArithmeticError, AttributeError, LookupError, RecursionError, TypeError, ValueError,
            struct.error, zlib.error):  # fmt: skip
        raise wrong("data-picture", DAMAGED, where=str(path)) from None


def unpacked(text: bytes) -> Record:
    """The record of its letters. Raises one of several errors where they are damaged or too large."""
    head, arrays = _opened(base64.b64decode(text, validate=True))
    packed_marks = head["marks"]
    columns = {str(name): _column(packed, arrays) for name, packed in packed_marks["columns"].items()}
    marks = Marks(
        columns,
        str(packed_marks["category"]),
        str(packed_marks["value"]),
        series=_texts(packed_marks["series"]),
        panel=str(packed_marks["panel"]),
        among=_texts(packed_marks["among"]),
        order=_whole(packed_marks["order"], arrays, np.intp),
        standing=_whole(packed_marks["standing"], arrays, np.int8),
        several={str(name): str(mark) for name, mark in packed_marks["several"].items()},
        offered=_texts(packed_marks["offered"]),
        formulas={str(name): str(formula) for name, formula in packed_marks["formulas"].items()},
        overall={
            Pooled(str(measure), frozenset(_texts(within)), reach): arrays[place].astype(np.float64)
            for measure, within, reach, place in packed_marks["overall"]
        },
        grain=None if packed_marks["grain"] is None else str(packed_marks["grain"]),
        origin=_origin(packed_marks, arrays),
    )
    _refuse_unlike(marks)
    theme = head["theme"]
    known = Theme(
        str(theme["name"]),
        {str(role): str(color) for role, color in theme["roles"].items()},
        _texts(theme["series"]),
        {str(role): str(pattern) for role, pattern in theme["patterns"].items()},
        _texts(theme["fonts"]),
        {str(use): float(size) for use, size in theme["sizes"].items()},
    )
    return Record(str(head["brief"]), marks, known, str(head["source"]))


def _origin(packed_marks: Mapping[str, Any], arrays: list[NDArray[Any]]) -> Origin:
    """What the marks were made of."""
    numbered = packed_marks["numbered"].items()
    return Origin(
        _whole(packed_marks["behind"], arrays, np.intp),
        {str(name): arrays[place].astype(np.intp) for name, place in numbered},
        {str(name): KEPT[KEPT.index(kept)] for name, kept in packed_marks["types"].items()},
        tuple(Remark(*_texts(remark)) for remark in packed_marks["remarks"]),
    )


@dataclass(frozen=True, eq=False)
class _Arrays:
    """The arrays of a record, one after the other, and how each is packed: its bytes' count, kind and way."""

    parts: list[bytes] = field(default_factory=list)
    ways: list[tuple[int, str, bool]] = field(default_factory=list)

    def kept(self, values: NDArray[Any] | None, kind: str) -> int | None:
        """Keep an array; its place among them, None for none.

        Whole numbers are kept as the steps between them, which are mostly alike and take next to no room.
        """
        if values is None:
            return None
        numbers = values.astype(kind)
        if numbers.dtype.kind == "i":
            numbers[1:] -= numbers[:-1].copy()
        data = numbers.tobytes()
        # Random decimals do not shrink, and packing a megabyte of them costs as much as drawing the line.
        shrinks = len(zlib.compress(data[:SAMPLE], 1)) < 0.8 * len(data[:SAMPLE])
        self.parts.append(zlib.compress(data, 1) if shrinks else data)
        self.ways.append((len(self.parts[-1]), kind, shrinks))
        return len(self.parts) - 1

    def column(self, column: Column) -> dict[str, Any]:
        """A column as the head tells of it."""
        if isinstance(column, Text):
            return {"kind": "text", "values": self.kept(column.codes, "<i4"), "words": column.words}
        if kind_of(column) == "date":
            return {"kind": "date", "values": self.kept(column.astype("datetime64[s]"), "<i8")}
        return {"kind": "number", "values": self.kept(column, "<f8")}

    def joined(self, head: dict[str, Any]) -> str:
        """The head and the arrays as letters."""
        head_bytes = zlib.compress(json.dumps({**head, "arrays": self.ways}).encode(), 6)
        body = b"".join([struct.pack("<I", len(head_bytes)), head_bytes, *self.parts])
        return base64.b64encode(struct.pack("<I", zlib.crc32(body)) + body).decode()


def _opened(data: bytes) -> tuple[dict[str, Any], list[NDArray[Any]]]:
    """The head and the arrays."""
    kept_sum, size = struct.unpack_from("<II", data)
    if zlib.crc32(data[4:]) != kept_sum:
        raise ValueError("other bytes than were written")
    head_bytes, left = _inflated(data[8 : 8 + size], MOST_RECORD)
    head = json.loads(head_bytes)
    arrays, place = [], 8 + size
    for count, kind, shrunk in head["arrays"]:
        part = data[place : place + count]
        place += count
        if shrunk:
            part, left = _inflated(part, left)
        if kind not in {"<i1", "<i4", "<i8", "<f8"} or len(part) > MOST_RECORD:
            raise ValueError("no array of ours")
        numbers = np.frombuffer(part, dtype=kind)
        arrays.append(np.cumsum(numbers, dtype=kind) if numbers.dtype.kind == "i" else numbers)
    return head, arrays


def _inflated(data: bytes, most: int) -> tuple[bytes, int]:
    """The bytes as they were, and how many more may come. Raises ValueError where they are too many."""
    unpacker = zlib.decompressobj()
    inflated = unpacker.decompress(data, max(1, most))
    if unpacker.unconsumed_tail or not unpacker.eof:
        raise ValueError("too large, or cut short")
    return inflated, most - len(inflated)


def _column(packed: dict[str, Any], arrays: list[NDArray[Any]]) -> Column:
    values = arrays[packed["values"]]
    if packed["kind"] == "text":
        words = tuple(map(str, packed["words"]))
        if values.size and not -1 <= values.min() <= values.max() < len(words):
            raise ValueError("a code without a word")
        return Text(values.astype(np.intp), words)
    if packed["kind"] == "date":
        return np.asarray(values.astype("datetime64[s]"))
    return np.asarray(values.astype(np.float64))


def _whole(place: int | None, arrays: list[NDArray[Any]], kind: type[Any]) -> NDArray[Any] | None:
    if place is None:
        return None
    return arrays[place].astype(kind)


def _texts(values: list[Any]) -> tuple[str, ...]:
    if not isinstance(values, list):
        raise TypeError("a list of texts is meant")
    return tuple(map(str, values))


def _refuse_unlike(marks: Marks) -> None:
    """Raise where columns are of several lengths, or speak of marks that are not there."""
    count = len(marks)
    arrays = [*marks.columns.values(), marks.order, marks.standing, marks.origin.behind]
    arrays += [*marks.overall.values(), *marks.origin.numbered.values()]
    lengths = {len(column) for column in arrays if column is not None}
    if lengths != {count} or marks.value not in marks.columns:
        raise ValueError("columns of several lengths")
    if marks.order is not None and sorted(marks.order.tolist()) != list(range(count)):
        raise ValueError("an order of other marks")
