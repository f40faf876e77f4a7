"""The record inside a picture: the brief, the theme, the marks and the source's name, both ways.

A record stands as one stretch of plain letters in the file's metadata: its version, then base64 of
a checksum, a head in JSON and the bytes of arrays, each compressed once where that makes it
shorter.
"""

from __future__ import annotations

import base64
import json
import struct
import zlib
from collections.abc import Mapping
from dataclasses import asdict, field
from typing import TYPE_CHECKING, Any, Final

import numpy as np
from numpy.typing import NDArray

from yuzen.arrays import Column, Text, kind_of
from yuzen.color.themes import Theme
from yuzen.errors import make_error
from yuzen.formats.periods import Calendar, Grain, Times
from yuzen.rules.grammar.parser import parse_quantity
from yuzen.rules.lineage import BinPieces, Origin, Pooled, Remark
from yuzen.rules.marks import Marks, Past
from yuzen.value import Value

if TYPE_CHECKING:
    from yuzen.files.records.head import Head, PackedColumn, PackedMarks, PackedPieces

FORMAT_VERSION: Final = 8
MOST_MARKS: Final = 100_000  # that a record keeps; a picture of more draws some of them
TOO_MANY: Final = "marks."  # what the record of a picture of more begins with
MOST_RECORD: Final = 50_000_000  # bytes of a record when it is unpacked
PROBED_BYTES: Final = 20_000  # bytes of an array that show whether it shrinks


class Record(Value, eq=False):
    """What a picture holds, so that it can answer alone.

    brief:  the chart's brief as TOML.
    marks:  the marks as they were drawn.
    theme:  the theme as it was, which may have come from a file.
    source: what the footer calls the rows.
    trends: the marks of the small lines in a table's columns, by the columns' names.
    name:   what the chart is called in a document of several; '' in a picture of its own.
    """

    brief: str
    marks: Marks
    theme: Theme
    source: str
    trends: Mapping[str, Marks] = field(default_factory=dict)
    name: str = ""

    def packed(self) -> str:
        """The record as it stands in a picture; of very many marks only how many there are."""
        if len(self.marks) > MOST_MARKS:
            return f"yuzen-record:{FORMAT_VERSION}:{TOO_MANY}{len(self.marks)}:end"
        arrays = _Arrays()
        head = {
            "brief": self.brief,
            "theme": {
                name: part for name, part in asdict(self.theme).items() if name != "font_files"
            },
            "source": self.source,
            **({"name": self.name} if self.name else {}),
            "marks": _packed(self.marks, arrays),
            "trends": {name: _packed(marks, arrays) for name, marks in self.trends.items()},
        }
        return f"yuzen-record:{FORMAT_VERSION}:{arrays.joined(head)}:end"


def _packed(marks: Marks, arrays: _Arrays) -> dict[str, Any]:
    """Marks as the head tells of them, their arrays kept among the others."""
    return {
        "category": marks.category,
        "value": marks.value,
        "series": marks.series,
        "panel": marks.panel,
        "among": marks.peer_columns,
        "grains": {name: grain.unit for name, grain in marks.grains.items()},
        "calendar": asdict(marks.calendar),
        "bins": marks.bins,
        "joined": marks.joined,
        "rest": marks.rest,
        "remarks": [[r.code, r.message, r.remedy] for r in marks.origin.remarks],
        "types": dict(marks.origin.types),
        "several": dict(marks.ambiguous_columns),
        "offered": marks.column_names,
        "formulas": dict(marks.origin.formulas),
        "spans": dict(marks.origin.spans),
        "order": arrays.kept(marks.order, "<i4"),
        "standing": arrays.kept(marks.role, "<i1"),
        "behind": arrays.kept(marks.origin.row_counts, "<i4"),
        "numbered": {n: arrays.kept(c, "<i4") for n, c in marks.origin.value_counts.items()},
        "columns": {name: arrays.column(column) for name, column in marks.columns.items()},
        **_packed_pieces(marks.pieces, arrays),
        **_packed_past(marks.past, arrays),
        "overall": [
            [key.measure, sorted(key.within), key.reach, arrays.kept(numbers, "<f8")]
            for key, numbers in marks.origin.overall.items()
        ],
    }


def unpacked(text: bytes) -> Record:
    """The record of a text. Raises one of several errors where it is damaged or too large."""
    head, arrays = _opened(base64.b64decode(text, validate=True))
    trends = {name: _marks(packed, arrays) for name, packed in head.trends.items()}
    marks, theme = _marks(head.marks, arrays), head.theme.theme()
    return Record(head.brief, marks, theme, head.source, trends, head.name)


def _marks(packed: PackedMarks, arrays: list[NDArray[Any]]) -> Marks:
    """Marks as they were."""
    calendar = Calendar(packed.calendar.year_starts, packed.calendar.week_starts)
    marks = Marks(
        {name: _column(column, arrays) for name, column in packed.columns.items()},
        packed.category,
        packed.value,
        series=packed.series,
        panel=packed.panel,
        peer_columns=packed.peer_columns,
        order=_whole(packed.order, arrays, np.intp),
        role=_whole(packed.role, arrays, np.int8),
        rest=packed.rest,
        ambiguous_columns=packed.ambiguous_columns,
        column_names=packed.column_names,
        joined=packed.joined,
        times=Times(
            {name: Grain(unit, calendar) for name, unit in packed.grains.items()}, calendar
        ),
        bins=packed.bins,
        origin=Origin(
            _whole(packed.row_counts, arrays, np.intp),
            {name: arrays[place].astype(np.intp) for name, place in packed.value_counts.items()},
            packed.types,
            tuple(Remark(*remark) for remark in packed.remarks),
            packed.formulas,
            packed.spans,
            pieces=_pieces(packed.pieces, arrays),
            overall={
                Pooled(measure, frozenset(within), reach): arrays[place].astype(np.float64)
                for measure, within, reach, place in packed.overall
            },
        ),
        past=_past(packed, arrays),
    )
    _refuse_unlike(marks)
    return marks


def _packed_past(past: Past | None, arrays: _Arrays) -> dict[str, Any]:
    """The marks that are not shown, among all, under their key; nothing where all are shown."""
    if past is None:
        return {}
    places = arrays.kept(past.places, "<i4")
    return {"past": _packed(past.marks, arrays), "places": places}


def _past(packed: PackedMarks, arrays: list[NDArray[Any]]) -> Past | None:
    if packed.past is None or packed.places is None:
        return None
    return Past(_marks(packed.past, arrays), arrays[packed.places].astype(np.intp))


class _Arrays(Value, eq=False):
    """The arrays of a record in order, and how each is packed: byte count, kind, and way."""

    parts: list[bytes] = field(default_factory=list)
    ways: list[tuple[int, str, bool]] = field(default_factory=list)

    def kept(self, values: NDArray[Any] | None, kind: str) -> int | None:
        """Keep an array; its place among them, None for none.

        Whole numbers are kept as the steps between them, which are mostly alike and take next to no
        room.
        """
        if values is None:
            return None
        numbers = values.astype(kind)
        if numbers.dtype.kind == "i":
            # Codes and dates run upwards in steps: differences shrink to a tenth of the bytes.
            numbers[1:] -= numbers[:-1].copy()
        data = numbers.tobytes()
        # Random decimals do not shrink, and packing a megabyte of them costs as much as drawing the
        # line.
        shrinks = len(zlib.compress(data[:PROBED_BYTES], 1)) < 0.8 * len(data[:PROBED_BYTES])
        self.parts.append(zlib.compress(data, 1) if shrinks else data)
        self.ways.append((len(self.parts[-1]), kind, shrinks))
        return len(self.parts) - 1

    def column(self, column: Column) -> dict[str, Any]:
        """A column as the head tells of it."""
        if isinstance(column, Text):
            kept = self.kept(column.codes, "<i4")
            return {
                "kind": "text",
                "values": kept,
                "words": column.words,
                "ordered": column.ordered,
            }
        if kind_of(column) == "date":
            return {"kind": "date", "values": self.kept(column.astype("datetime64[s]"), "<i8")}
        return {"kind": "number", "values": self.kept(column, "<f8")}

    def joined(self, head: dict[str, Any]) -> str:
        """The head and the arrays as letters."""
        head_bytes = zlib.compress(json.dumps({**head, "arrays": self.ways}).encode(), 6)
        body = b"".join([struct.pack("<I", len(head_bytes)), head_bytes, *self.parts])
        return base64.b64encode(struct.pack("<I", zlib.crc32(body)) + body).decode()


def _opened(data: bytes) -> tuple[Head, list[NDArray[Any]]]:
    """The head, valid as a whole, and the arrays."""
    from yuzen.files.records.head import Head  # noqa: PLC0415 - only pictures that are asked have one

    kept_sum, size = struct.unpack_from("<II", data)
    # Told first: a single flipped bit would otherwise be any of a hundred errors.
    if zlib.crc32(data[4:]) != kept_sum:
        raise ValueError("other bytes than were written")
    head_bytes, left = _inflated(data[8 : 8 + size], MOST_RECORD)
    head = Head.model_validate(json.loads(head_bytes))
    arrays, place = [], 8 + size
    for count, kind, shrunk in head.arrays:
        part = data[place : place + count]
        place += count
        if shrunk:
            # What is left goes down from array to array, so that many small ones cannot add up to
            # too much.
            part, left = _inflated(part, left)
        numbers = np.frombuffer(part, dtype=kind)
        arrays.append(np.cumsum(numbers, dtype=kind) if numbers.dtype.kind == "i" else numbers)
    return head, arrays


def _inflated(data: bytes, most: int) -> tuple[bytes, int]:
    """The unpacked bytes, and how many more may come. Raises YuzenError (data-size)."""
    unpacker = zlib.decompressobj()
    inflated = unpacker.decompress(data, max(1, most))
    if unpacker.unconsumed_tail:
        message = (
            f"Unpacked, the record has more than {MOST_RECORD // 1_000_000} MB, which is not read."
        )
        raise make_error("data-size", message)
    if not unpacker.eof:
        raise ValueError("cut short")
    return inflated, most - len(inflated)


def _column(packed: PackedColumn, arrays: list[NDArray[Any]]) -> Column:
    values = arrays[packed.values]
    if packed.kind == "text":
        # A record may be made by hand, and a code beyond the words would read another's memory in
        # silence.
        if values.size and not -1 <= values.min() <= values.max() < len(packed.words):
            raise ValueError("a code without a word")
        return Text(values.astype(np.intp), packed.words, packed.ordered)
    if packed.kind == "date":
        return np.asarray(values.astype("datetime64[s]"))
    return np.asarray(values.astype(np.float64))


def _whole(place: int | None, arrays: list[NDArray[Any]], kind: type[Any]) -> NDArray[Any] | None:
    if place is None:
        return None
    return arrays[place].astype(kind)


def _packed_pieces(pieces: BinPieces | None, arrays: _Arrays) -> dict[str, Any]:
    """The pieces of cut bins under their key; nothing where no bin is cut."""
    if pieces is None:
        return {}
    whole = {name: arrays.kept(getattr(pieces, name), "<i4") for name in ("mark", "rows")}
    numbers = {
        name: arrays.kept(getattr(pieces, name), "<f8") for name in ("low", "high", "values")
    }
    return {"pieces": {**whole, **numbers, "add_up": pieces.add_up}}


def _pieces(packed: PackedPieces | None, arrays: list[NDArray[Any]]) -> BinPieces | None:
    if packed is None:
        return None
    low, high, values = (
        arrays[place].astype(np.float64) for place in (packed.low, packed.high, packed.values)
    )
    mark, rows = (arrays[place].astype(np.intp) for place in (packed.mark, packed.rows))
    return BinPieces(mark, low, high, rows, values, packed.add_up)


def _refuse_other_past(marks: Marks) -> None:
    """Raise where the marks that are not shown are none of this chart's."""
    past = marks.past
    if past is None:
        return
    if len(past.places) != len(marks) or not past.marks.columns.keys() >= marks.columns.keys():
        raise ValueError("a past of other marks")
    if not (-1 <= past.places.min(initial=0) <= past.places.max(initial=0) < len(past.marks)):
        raise ValueError("a mark that is not among all")


def _refuse_unlike(marks: Marks) -> None:
    """Raise where columns differ in length or kind, or refer to marks that do not exist."""
    count = len(marks)
    arrays = [*marks.columns.values(), marks.order, marks.role, marks.origin.row_counts]
    arrays += [*marks.origin.overall.values(), *marks.origin.value_counts.values()]
    if {len(column) for column in arrays if column is not None} != {count}:
        raise ValueError("columns of several lengths")
    measures = [
        marks.value,
        *marks.origin.formulas,
        *marks.origin.value_counts,
        *(key.measure for key in marks.origin.overall),
    ]
    if any(kind_of(marks.columns[name]) != "number" for name in measures):
        raise ValueError("a measure without numbers")
    if marks.bins and {
        kind_of(marks.columns[name]) for name in (marks.category, marks.bins)
    } not in (
        {"number"},
        {"date"},
    ):
        raise ValueError("bins without edges")
    _refuse_other_past(marks)
    if marks.order is not None and sorted(marks.order.tolist()) != list(range(count)):
        raise ValueError("an order of other marks")
    if marks.role is not None and (marks.role < 0).any():
        raise ValueError("a mark that is neither an item nor a sum")
    pieces = marks.pieces
    if pieces is not None:
        arrays_of_pieces = (pieces.mark, pieces.low, pieces.high, pieces.rows, pieces.values)
        if len({len(array) for array in arrays_of_pieces}) > 1 or not marks.bins:
            raise ValueError("pieces of no bins")
        if len(pieces) and not (0 <= pieces.mark.min() <= pieces.mark.max() < count):
            raise ValueError("a piece of another mark")
    for formula in marks.origin.formulas.values():
        # A formula that cannot be read would fail only when somebody asks why.
        parse_quantity(formula)
